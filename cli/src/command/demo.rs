//! `ambulant demo`: plays and draws every scenario that ships.

use std::io::Write;
use std::path::PathBuf;

use anyhow::Context;
use clap::Args;
use comfy_table::presets::NOTHING;
use comfy_table::{CellAlignment, Table};

use super::{Failure, Outcome, with_heading};
use crate::output::Output;
use crate::picture::{Form, Marks, run_sheet};
use crate::record::fingerprint;
use crate::scenario::ScenarioText;
use crate::sim::play;

/// The scenarios that ship: file name and text.
const SHIPPED: [(&str, &str); 16] = [
    ("gardener.toml", include_str!("../../demo/gardener.toml")),
    ("three_gaits.toml", include_str!("../../demo/three_gaits.toml")),
    ("moth.toml", include_str!("../../demo/moth.toml")),
    ("bench_lamp.toml", include_str!("../../demo/bench_lamp.toml")),
    ("lawn_roller.toml", include_str!("../../demo/lawn_roller.toml")),
    ("mist_drone.toml", include_str!("../../demo/mist_drone.toml")),
    ("gate.toml", include_str!("../../demo/gate.toml")),
    ("pond.toml", include_str!("../../demo/pond.toml")),
    ("flicked_pebble.toml", include_str!("../../demo/flicked_pebble.toml")),
    ("glasshouse.toml", include_str!("../../demo/glasshouse.toml")),
    ("rail_cart.toml", include_str!("../../demo/rail_cart.toml")),
    ("three_step_modes.toml", include_str!("../../demo/three_step_modes.toml")),
    ("dewdrop.toml", include_str!("../../demo/dewdrop.toml")),
    ("night_field.toml", include_str!("../../demo/night_field.toml")),
    ("lamp_over_benches.toml", include_str!("../../demo/lamp_over_benches.toml")),
    ("door_and_net.toml", include_str!("../../demo/door_and_net.toml")),
];

/// Play and draw every scenario that ships
///
/// Writes each scenario and its picture into a folder and prints a line for each.
#[derive(Debug, Args)]
pub(super) struct Demo {
    /// The folder to write to; created if missing
    #[arg(long, value_name = "DIR", default_value = "glasshouse")]
    out: PathBuf,

    /// Print only the fingerprint of each run: one number for all its bits
    #[arg(long, conflicts_with = "out")]
    fingerprints: bool,
}

impl Demo {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        if self.fingerprints {
            for (name, text) in SHIPPED {
                let scenario = ScenarioText::new(name, text).parse()?;
                let recording = play(&scenario, scenario.tick_rate);
                writeln!(out, "{}  {name}", fingerprint(&recording))?;
            }
            out.flush()?;
            return Ok(Outcome::Fine);
        }
        let folder = self.out.display();
        std::fs::create_dir_all(&self.out).with_context(|| format!("cannot create the folder {folder}"))?;
        let mut table = Table::new();
        table.load_style(NOTHING);
        table.set_header(["scenario", "actor", "walked", "top speed", "touches", "expected", "picture"]);
        for column in 2..5 {
            table
                .column_mut(column)
                .into_iter()
                .for_each(|column| column.set_cell_alignment(CellAlignment::Right));
        }
        let mut outcome = Outcome::Fine;
        for (name, text) in SHIPPED {
            let scenario = ScenarioText::new(name, text).parse()?;
            let picture = self.out.join(name).with_extension("png");
            let mut copy = Output::open(&self.out.join(name))?;
            let mut drawing = Output::open(&picture)?;
            let recording = play(&scenario, scenario.tick_rate);
            copy.put(text.as_bytes())?;
            drawing.put(&Form::Png.encode(run_sheet(&scenario, &recording, name, &Marks::default())?)?)?;
            copy.finish()?;
            drawing.finish()?;
            if !recording.all_held() {
                outcome = Outcome::NotHeld;
            }
            for (actor, tally) in recording.tallies.iter().enumerate() {
                let row = |text: String| if actor == 0 { text } else { String::new() };
                table.add_row([
                    row(name.to_owned()),
                    recording.actors[actor].clone(),
                    format!("{:.1} units", tally.distance),
                    format!("{:.1} units/s", tally.top_speed),
                    recording.touches(actor).count().to_string(),
                    row(recording.verdict_line()),
                    row(picture.display().to_string()),
                ]);
            }
        }
        writeln!(out, "{}", with_heading(&table))?;
        writeln!(out, "\nThe scenarios and their pictures are in {folder}. Change one and draw it again:")?;
        let example = self.out.join(SHIPPED[0].0);
        let drawn = example.with_extension("png");
        writeln!(out, "  ambulant draw {} -o {}", example.display(), drawn.display())?;
        out.flush()?;
        Ok(outcome)
    }
}
