//! `ambulant run`: plays a scenario and prints what happened.

use std::io::Write;
use std::path::PathBuf;

use clap::Args;

use super::{Failure, Outcome, Source, with_ending};
use crate::output::Output;
use crate::record::{EventKind, Form, Recording, document, write_rows};
use crate::sim::play;
use crate::text::{BAD, BOLD, FAINT, GOOD, NOTED, fixed, styled};

/// Play a scenario and print what happened
///
/// Prints every event in order of time (an actor starts moving, touches a wall, comes to rest),
/// then a summary for each actor, then whether the scenario's expectations held. The exit status is 1
/// if an expectation did not hold, and 2 if the scenario or the call is wrong.
#[derive(Debug, Args)]
pub(super) struct Run {
    #[command(flatten)]
    source: Source,

    /// Write every tick to a file, as CSV or JSON Lines
    #[arg(long, value_name = "OUT.csv|OUT.jsonl", value_parser = with_ending(Form::of, ".csv or .jsonl"))]
    record: Option<PathBuf>,

    /// Print one JSON document instead of text
    #[arg(long)]
    json: bool,
}

impl Run {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let (scenario, tick_rate) = self.source.read()?;
        let record = match self.record.as_deref().zip(self.record.as_deref().and_then(Form::of)) {
            Some((path, form)) => Some((Output::open(path)?, form)),
            None => None,
        };
        let recording = play(&scenario, tick_rate);
        if let Some((mut file, form)) = record {
            write_rows(&recording, form, &mut file).map_err(anyhow::Error::new)?;
            file.finish()?;
        }
        if self.json {
            serde_json::to_writer_pretty(&mut *out, &document(&recording, &self.source.name()))?;
            writeln!(out)?;
        } else {
            tell(&recording, &self.source.name(), out)?;
        }
        out.flush()?;
        Ok(if recording.all_held() { Outcome::Fine } else { Outcome::NotHeld })
    }
}

/// The run in words.
fn tell(recording: &Recording, file: &str, out: &mut dyn Write) -> std::io::Result<()> {
    if !recording.title.is_empty() {
        writeln!(out, "{}", styled(BOLD, &recording.title))?;
    }
    writeln!(out, "{file}, {} s at {} ticks per second\n", recording.seconds, recording.tick_rate)?;
    let widest = recording.actors.iter().map(|name| name.chars().count()).max().unwrap_or(0);
    for event in &recording.events {
        let name = &recording.actors[event.actor];
        let time = styled(FAINT, format_args!("{:>9.3} s", event.time));
        let what = match event.what.kind() {
            EventKind::Touched | EventKind::Blocked => styled(NOTED, &event.what),
            EventKind::Squeezed => styled(BAD, &event.what),
            _ => event.what.to_string(),
        };
        writeln!(out, "{time}  {name:<widest$}  {what}")?;
    }
    if recording.events.is_empty() {
        writeln!(out, "  Nothing happened.")?;
    }
    writeln!(out, "\n{}", styled(BOLD, "Summary"))?;
    for (actor, tally) in recording.tallies.iter().enumerate() {
        let Some(end) = recording.last(actor) else { continue };
        let rest = if end.velocity == glam::Vec2::ZERO { "at rest" } else { "moving" };
        writeln!(
            out,
            "  {:<widest$}  walked {:.1} units, top speed {:.1} units/s, moving {:.2} s, standing {:.2} s",
            recording.actors[actor],
            tally.distance,
            tally.top_speed,
            tally.seconds_moving,
            tally.seconds_standing
        )?;
        let (x, y) = (end.position.x, end.position.y);
        let (x, y) = (fixed(x, 2), fixed(y, 2));
        writeln!(out, "  {:<widest$}  ended at {x}, {y}, {rest}, facing {}", "", end.facing)?;
    }
    if recording.verdicts.is_empty() {
        return Ok(());
    }
    writeln!(out, "\n{}", styled(BOLD, "Expected"))?;
    for verdict in &recording.verdicts {
        let word = if verdict.held { styled(GOOD, "held    ") } else { styled(BAD, "NOT HELD") };
        write!(out, "  {word}  {:>7.3} s  {:<widest$}  {}", verdict.at, verdict.actor, verdict.expected)?;
        if !verdict.held {
            write!(out, ": was {}", verdict.found)?;
        }
        writeln!(out)?;
    }
    let line = recording.verdict_line();
    writeln!(out, "  {}", styled(if recording.all_held() { GOOD } else { BAD }, line))
}
