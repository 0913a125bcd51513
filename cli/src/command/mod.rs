//! The commands: each takes its checked arguments and writes its results.

mod check;
mod compare;
mod demo;
mod draw;
mod play;
mod probe;
mod report;
mod run;

use std::path::{Path, PathBuf};

use clap::{Parser, Subcommand};

use crate::scenario::{MAX_TICK_RATE, Problems, Scenario, check_length};
use crate::text::{BOLD, styled};

/// Run, draw and check movement from files.
#[derive(Debug, Parser)]
#[command(name = "ambulant", version, max_term_width = 100)]
pub(crate) struct Call {
    #[command(subcommand)]
    command: Command,
}

#[derive(Debug, Subcommand)]
enum Command {
    Run(run::Run),
    Draw(draw::Draw),
    Compare(compare::Compare),
    Play(play::Play),
    Report(report::Report),
    Probe(probe::Probe),
    Check(check::Check),
    Demo(demo::Demo),
}

/// How a call ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Outcome {
    Fine,
    /// An expectation did not hold, something was found or a question was wrong; the rest was done.
    NotHeld,
}

/// Why a call could not be carried out.
#[derive(Debug)]
pub(crate) enum Failure {
    /// A scenario is wrong.
    Problems(Problems),
    /// The result cannot be printed.
    Printing(std::io::Error),
    Other(anyhow::Error),
}

impl From<Problems> for Failure {
    fn from(problems: Problems) -> Self {
        Self::Problems(problems)
    }
}

// Only printing gives plain errors of this kind: files name themselves.
impl From<std::io::Error> for Failure {
    fn from(error: std::io::Error) -> Self {
        Self::Printing(error)
    }
}

impl From<serde_json::Error> for Failure {
    fn from(error: serde_json::Error) -> Self {
        Self::Printing(error.into())
    }
}

impl From<anyhow::Error> for Failure {
    fn from(error: anyhow::Error) -> Self {
        Self::Other(error)
    }
}

impl Call {
    /// Carries out the command.
    ///
    /// # Errors
    /// When the input or the call is wrong, or an output cannot be written.
    pub(crate) fn carry_out(self) -> Result<Outcome, Failure> {
        let out = &mut std::io::BufWriter::new(anstream::stdout().lock());
        match self.command {
            Command::Run(run) => run.carry_out(out),
            Command::Draw(draw) => draw.carry_out(out),
            Command::Compare(compare) => compare.carry_out(out),
            Command::Play(play) => play.carry_out(out),
            Command::Report(report) => report.carry_out(out),
            Command::Probe(probe) => probe.carry_out(out),
            Command::Check(check) => check.carry_out(out),
            Command::Demo(demo) => demo.carry_out(out),
        }
    }
}

/// The scenario and the tick rate that several commands take.
#[derive(Debug, clap::Args)]
struct Source {
    /// The scenario to play (TOML)
    file: PathBuf,

    /// Ticks per second, instead of the scenario's own
    #[arg(long, value_name = "HZ", value_parser = tick_rate)]
    tick_rate: Option<f64>,
}

impl Source {
    /// The checked scenario and its tick rate.
    fn read(&self) -> Result<(Scenario, f64), Failure> {
        let scenario = Scenario::read(&self.file)?;
        let tick_rate = self.tick_rate.unwrap_or(scenario.tick_rate);
        check_length(scenario.seconds, tick_rate, scenario.actors.len()).map_err(anyhow::Error::msg)?;
        warn(&scenario).iter().for_each(|warning| anstream::eprintln!("{warning}"));
        Ok((scenario, tick_rate))
    }

    fn name(&self) -> String {
        self.file.display().to_string()
    }
}

/// Valid values that are probably mistakes, as lines of text.
fn warn(scenario: &Scenario) -> Vec<String> {
    let of = |actor: &crate::scenario::Actor| {
        let name = actor.name.clone();
        actor.warnings().map(move |warning| format!("warning: {name}: {warning}")).collect::<Vec<_>>()
    };
    scenario.actors.iter().flat_map(of).collect()
}

fn tick_rate(text: &str) -> Result<f64, String> {
    let rate: f64 = text.parse().map_err(|_| "not a number; try 60".to_owned())?;
    if rate > 0.0 && rate <= MAX_TICK_RATE {
        return Ok(rate);
    }
    Err(format!("must be above 0 and at most {MAX_TICK_RATE}; try 60"))
}

/// Parses a path whose ending must be one that `form` knows.
fn with_ending<T>(
    form: fn(&Path) -> Option<T>,
    endings: &'static str,
) -> impl Fn(&str) -> Result<PathBuf, String> + Clone {
    move |text| {
        let path = PathBuf::from(text);
        if form(&path).is_some() { Ok(path) } else { Err(format!("the name must end in {endings}")) }
    }
}

/// A table whose first line is a heading.
fn with_heading(table: &comfy_table::Table) -> String {
    let text = table.trim_fmt();
    let (heading, rest) = text.split_once('\n').unwrap_or((&text, ""));
    format!("{}\n{rest}", styled(BOLD, heading))
}
