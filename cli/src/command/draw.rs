//! `ambulant draw`: plays a scenario and draws its map, path and speed.

use std::io::Write;
use std::path::PathBuf;

use clap::Args;
use glam::Vec2;

use super::{Failure, Outcome, Source, with_ending};
use crate::output::Output;
use crate::picture::{Form, Marks, run_sheet};
use crate::probe::two_numbers;
use crate::sim::play;

/// Play a scenario and draw its map, paths, touches and speeds
#[derive(Debug, Args)]
pub(super) struct Draw {
    #[command(flatten)]
    source: Source,

    /// The picture to write, as PNG or SVG
    #[arg(short, long, value_name = "OUT.png|OUT.svg", value_parser = with_ending(Form::of, ".png or .svg"))]
    out: PathBuf,

    /// Draw a line of sight between two positions and where it is blocked, in units; can be repeated
    #[arg(long, value_name = "X,Y:X,Y", value_parser = line_of_sight, allow_hyphen_values = true)]
    ray: Vec<(Vec2, Vec2)>,

    /// Draw the free distance of each actor on four sides at this time
    #[arg(long, value_name = "SECONDS")]
    feelers: Option<f64>,

    /// Draw the tiles that are claimed by steppers at this time
    #[arg(long, value_name = "SECONDS")]
    claims: Option<f64>,
}

fn line_of_sight(text: &str) -> Result<(Vec2, Vec2), String> {
    let (from, to) =
        text.split_once(':').ok_or_else(|| format!("{text:?} is not two positions; try 10,20:90,20"))?;
    Ok((two_numbers(from)?, two_numbers(to)?))
}

impl Draw {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let (scenario, tick_rate) = self.source.read()?;
        let mut file = Output::open(&self.out)?;
        let recording = play(&scenario, tick_rate);
        let svg = {
            let marks = Marks { rays: self.ray, feelers_at: self.feelers, claims_at: self.claims };
            run_sheet(&scenario, &recording, &self.source.name(), &marks)?
        };
        let form = Form::of(&self.out).unwrap_or(Form::Png);
        file.put(&form.encode(svg)?)?;
        file.finish()?;
        writeln!(out, "drew {}", self.out.display())?;
        out.flush()?;
        Ok(Outcome::Fine)
    }
}
