//! `ambulant compare`: one script with several values of a number, side by side.

use std::io::Write;
use std::path::PathBuf;

use ambulant::drive::Feel;
use clap::Args;
use comfy_table::presets::NOTHING;
use comfy_table::{CellAlignment, Table};
use indicatif::{ParallelProgressIterator, ProgressBar, ProgressStyle};
use rayon::prelude::*;

use super::{Failure, Outcome, warn, with_ending, with_heading};
use crate::output::Output;
use crate::picture::{Form, Variant, compare_sheet, figures};
use crate::scenario::{Scenario, ScenarioText, check_length};
use crate::sim::play;

/// The most runs of one comparison.
const MOST_RUNS: usize = 400;
/// Fewer runs than this are done before a progress bar could be read.
const SHOWS_PROGRESS: usize = 12;

/// Play one script with several values of a number and compare the feel
///
/// Prints a row for each value: how the drive feels (times and distances from its closed form) and where
/// the script ends. Draws speed, distance and paths on one sheet.
#[derive(Debug, Args)]
pub(super) struct Compare {
    /// The scenario to play (TOML)
    file: PathBuf,

    /// A number of an actor and the values to try; if given twice, all pairs are played
    #[arg(long, required = true, value_name = "ACTOR.KEY=V1,V2,...")]
    vary: Vec<Vary>,

    /// The picture to write, as PNG or SVG
    #[arg(short, long, value_name = "OUT.png|OUT.svg", value_parser = with_ending(Form::of, ".png or .svg"))]
    out: Option<PathBuf>,

    /// Ticks per second, instead of the scenario's own
    #[arg(long, value_name = "HZ", value_parser = super::tick_rate)]
    tick_rate: Option<f64>,
}

/// A number of an actor and the values to play.
#[derive(Debug, Clone)]
struct Vary {
    actor: String,
    key: String,
    values: Vec<f64>,
}

impl std::str::FromStr for Vary {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let shape = "write it as ACTOR.KEY=V1,V2, such as gardener.friction=100,400";
        let (way, values) = text.split_once('=').ok_or(shape)?;
        let (actor, key) = way.split_once('.').ok_or(shape)?;
        let number =
            |value: &str| value.trim().parse().map_err(|_| format!("{value:?} is not a number; {shape}"));
        let values = values.split(',').map(number).collect::<Result<Vec<f64>, String>>()?;
        Ok(Self { actor: actor.to_owned(), key: key.to_owned(), values })
    }
}

impl Compare {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let name = self.file.display().to_string();
        let text = ScenarioText::read(&self.file)?;
        let scenario = text.parse()?;
        let (first, second) = match self.vary.as_slice() {
            [first] => (first, None),
            [first, second] if first.actor == second.actor => (first, Some(second)),
            [_, _] => return Err(anyhow::anyhow!("both --vary must name the same actor").into()),
            _ => return Err(anyhow::anyhow!("--vary can be given once or twice, not more often").into()),
        };
        let count = first.values.len() * second.map_or(1, |second| second.values.len());
        if count > MOST_RUNS {
            return Err(anyhow::anyhow!("{count} runs are more than {MOST_RUNS}; give fewer values").into());
        }
        let variants = variants(&text, first, second)?;
        let tick_rate = self.tick_rate.unwrap_or(scenario.tick_rate);
        check_length(scenario.seconds, tick_rate, scenario.actors.len()).map_err(anyhow::Error::msg)?;
        let file = self.out.as_deref().map(Output::open).transpose()?;

        let actor = scenario.actors.iter().position(|actor| actor.name == first.actor).unwrap_or_default();
        if scenario.actors.get(actor).is_some_and(|actor| actor.drive().is_none()) {
            let name = &first.actor;
            return Err(
                anyhow::anyhow!("`{name}` has no drive; compare takes actors that move freely").into()
            );
        }
        let played: Vec<Variant> = variants
            .into_par_iter()
            .progress_with(progress(count))
            .filter_map(|(label, group, scenario)| {
                let feel = Feel::of(scenario.actors.get(actor)?.drive()?.kind());
                let recording = play(&scenario, tick_rate);
                Some(Variant { label, group, warnings: warn(&scenario), feel, recording })
            })
            .collect();
        for variant in &played {
            variant
                .warnings
                .iter()
                .for_each(|warning| anstream::eprintln!("{warning} (at {})", variant.label));
        }
        let keys: Vec<&str> = self.vary.iter().map(|vary| vary.key.as_str()).collect();
        let table = table(&format!("{} {}", first.actor, keys.join(", ")), &played, actor);
        writeln!(out, "{}", with_heading(&table))?;
        if let (Some(mut file), Some(path)) = (file, &self.out) {
            let svg = compare_sheet(&scenario, actor, &played, &format!("{name}, {}", keys.join(" and ")))?;
            file.put(&Form::of(path).unwrap_or(Form::Png).encode(svg)?)?;
            file.finish()?;
            writeln!(out, "\ndrew {}", path.display())?;
        }
        out.flush()?;
        Ok(Outcome::Fine)
    }
}

/// Every combination of values: its label, its place among the values of each number, its scenario.
type Planned = (String, [usize; 2], Scenario);

fn variants(text: &ScenarioText, first: &Vary, second: Option<&Vary>) -> Result<Vec<Planned>, Failure> {
    let mut variants = Vec::new();
    for (place, value) in first.values.iter().enumerate() {
        let changed = text.with_number(&first.actor, &first.key, *value).map_err(anyhow::Error::msg)?;
        let Some(second) = second else {
            variants.push((value.to_string(), [place, 0], changed.parse()?));
            continue;
        };
        for (other_place, other) in second.values.iter().enumerate() {
            let both = changed.with_number(&second.actor, &second.key, *other).map_err(anyhow::Error::msg)?;
            variants.push((format!("{value}, {other}"), [place, other_place], both.parse()?));
        }
    }
    Ok(variants)
}

/// A bar on standard error, for comparisons that take a while.
fn progress(runs: usize) -> ProgressBar {
    if runs < SHOWS_PROGRESS {
        return ProgressBar::hidden();
    }
    let style = ProgressStyle::with_template("{bar:40} {pos} of {len} runs")
        .unwrap_or_else(|_| ProgressStyle::default_bar());
    ProgressBar::new(runs as u64).with_style(style)
}

fn table(heading: &str, variants: &[Variant], actor: usize) -> Table {
    let mut table = Table::new();
    table.load_style(NOTHING);
    let names = figures(None, actor).map(|(name, _)| name);
    table.set_header([heading.to_owned()].into_iter().chain(names.map(str::to_owned)));
    table.column_iter_mut().skip(1).for_each(|column| column.set_cell_alignment(CellAlignment::Right));
    for variant in variants {
        let values = figures(Some(variant), actor).map(|(_, value)| value);
        table.add_row([variant.label.clone()].into_iter().chain(values));
    }
    table
}
