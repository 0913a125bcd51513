//! `ambulant probe`: one question to a map, or many.

use std::io::{BufRead, Write};
use std::path::{Path, PathBuf};

use ambulant::shape::Footprint;
use ambulant::terrain::Layers;
use clap::Args;
use glam::Vec2;
use serde_json::json;

use super::{Failure, Outcome, with_ending};
use crate::output::Output;
use crate::picture::{Form, Shown, probe_sheet};
use crate::probe::{Answer, Question, Reaction, Walls, asked_in_json, footprint, reaction, two_numbers};
use crate::scenario::Scenario;

/// The responses that are tried where none is asked for.
const USUAL: [&str; 3] = ["slide", "bounce", "stop"];
/// The longest question, in bytes.
const LONGEST: u64 = 1 << 20;

/// Find what a footprint hits on its path, and where it ends
///
/// Prints the first hit, where each response leads, the free distance on four sides at start and end,
/// and inside a wall the shortest way out. With --batch, questions are read as JSON Lines from standard
/// input and can bring their own walls; docs/probe.md lists the fields.
#[derive(Debug, Args)]
pub(super) struct Probe {
    /// The scenario whose walls count (TOML)
    #[arg(required_unless_present = "batch")]
    file: Option<PathBuf>,

    /// Where the footprint is, in units
    #[arg(long, value_name = "X,Y", value_parser = two_numbers, allow_hyphen_values = true,
          required_unless_present = "batch")]
    at: Option<Vec2>,

    /// The shape of the mover, in units
    #[arg(long, value_name = "box:W,H|circle:R", value_parser = shape, required_unless_present = "batch")]
    footprint: Option<(String, Footprint)>,

    /// The displacement to try, in units
    #[arg(long = "move", value_name = "DX,DY", value_parser = two_numbers, allow_hyphen_values = true,
          default_value = "0,0")]
    way: Vec2,

    /// What walls do: slide, slide-full-speed, round-corner:REACH, bounce:RESTITUTION, stop or pass-through; separate several with commas
    #[arg(long, value_name = "WORD", value_parser = reaction, value_delimiter = ',')]
    response: Vec<Reaction>,

    /// The names of the layers in its mask, separated by commas; all if left out
    #[arg(long, value_name = "NAMES", value_delimiter = ',')]
    layers: Option<Vec<String>>,

    /// Print one JSON document instead of text
    #[arg(long)]
    json: bool,

    /// Draw the question and the answer, as PNG or SVG
    #[arg(short, long, value_name = "OUT.png|OUT.svg", value_parser = with_ending(Form::of, ".png or .svg"))]
    out: Option<PathBuf>,

    /// Read questions as JSON Lines from standard input and answer them in order
    #[arg(long, conflicts_with_all = ["at", "footprint", "way", "response", "layers", "json", "out"])]
    batch: bool,
}

fn shape(text: &str) -> Result<(String, Footprint), String> {
    footprint(text).map(|found| (text.to_owned(), found))
}

impl Probe {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let scenario = match &self.file {
            Some(file) => Some(Scenario::read(file)?),
            None => None,
        };
        let walls = scenario.as_ref().map(Walls::of);
        let (Some(scenario), Some(walls), Some((shape, footprint)), Some(at)) =
            (&scenario, &walls, self.footprint, self.at)
        else {
            return batch(walls.as_ref(), out);
        };
        let usual = || USUAL.iter().filter_map(|word| reaction(word).ok()).collect();
        let question = Question {
            footprint,
            shape,
            at,
            way: self.way,
            responses: if self.response.is_empty() { usual() } else { self.response },
            mask: mask(self.layers.as_deref(), walls)?,
        };
        let drawing = match &self.out {
            Some(place) => Some((place, Output::open(place)?)),
            None => None,
        };
        let answer = Answer::find(&question, walls);
        if let Some((place, mut file)) = drawing {
            let (hit, passages) = &answer.found;
            let svg = probe_sheet(&Shown {
                file: &scenario_name(self.file.as_deref()),
                scenario,
                footprint,
                at,
                way: self.way,
                hit: *hit,
                passages,
                hit_words: answer.hit_words(),
            });
            file.put(&Form::of(place).unwrap_or(Form::Png).encode(svg)?)?;
            file.finish()?;
        }
        if self.json {
            serde_json::to_writer_pretty(&mut *out, &answer)?;
            writeln!(out)?;
        } else {
            write!(out, "{answer}")?;
        }
        out.flush()?;
        Ok(Outcome::Fine)
    }
}

fn scenario_name(file: Option<&Path>) -> String {
    file.map(|file| file.display().to_string()).unwrap_or_default()
}

fn mask(names: Option<&[String]>, walls: &Walls) -> Result<Layers, Failure> {
    let Some(names) = names else { return Ok(Layers::ALL) };
    let mut mask = Layers::NONE;
    for name in names.iter().filter(|name| !name.is_empty()) {
        let known: Vec<&str> = walls.layers.iter().map(|(name, _)| name).collect();
        let layer = walls.layers.known(name).ok_or_else(|| {
            anyhow::anyhow!("no layer is called {name:?}; the layers here are {}", known.join(", "))
        })?;
        mask = mask | layer;
    }
    Ok(mask)
}

/// Answers line by line; a bad line gets an error, and the rest go on.
fn batch(file: Option<&Walls>, out: &mut dyn Write) -> Result<Outcome, Failure> {
    let mut input = std::io::stdin().lock();
    let mut outcome = Outcome::Fine;
    for number in 1u64.. {
        let mut line = Vec::new();
        let read = std::io::Read::take(&mut input, LONGEST).read_until(b'\n', &mut line)?;
        if read == 0 {
            break;
        }
        let whole = line.ends_with(b"\n") || (read as u64) < LONGEST;
        if !whole {
            skip_line(&mut input)?;
        }
        let text = std::str::from_utf8(&line).map(str::trim).map_err(|_| "the line is not UTF-8".to_owned());
        let asked = match text {
            Ok("") => continue,
            _ if !whole => Err((
                None,
                format!("the line is longer than {LONGEST} bytes; put what does not change into a FILE"),
            )),
            Ok(text) => asked_in_json(text, file),
            Err(why) => Err((None, why)),
        };
        match asked {
            Ok(asked) => {
                // A question without walls is refused, so that there are some.
                let Some(walls) = asked.walls.as_ref().or(file) else { continue };
                let mut answer = Answer::find(&asked.question, walls);
                answer.id = asked.id;
                serde_json::to_writer(&mut *out, &answer)?;
            }
            Err((id, why)) => {
                outcome = Outcome::NotHeld;
                let mut error = json!({ "line": number, "error": why });
                if let Some(id) = id {
                    error["id"] = id;
                }
                serde_json::to_writer(&mut *out, &error)?;
            }
        }
        out.write_all(b"\n")?;
        out.flush()?;
    }
    Ok(outcome)
}

/// Passes over the rest of a line that is too long, without keeping it.
fn skip_line(input: &mut impl BufRead) -> std::io::Result<()> {
    loop {
        let chunk = input.fill_buf()?;
        let (used, ended) = match chunk.iter().position(|byte| *byte == b'\n') {
            Some(place) => (place + 1, true),
            None => (chunk.len(), chunk.is_empty()),
        };
        input.consume(used);
        if ended {
            return Ok(());
        }
    }
}
