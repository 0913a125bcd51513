//! `ambulant draw`: plays a scenario and draws its map, path and speed.

use std::io::Write;
use std::path::PathBuf;

use clap::Args;

use super::{Failure, Outcome, Source, with_ending};
use crate::output::Output;
use crate::picture::{Form, run_sheet};
use crate::sim::play;

/// Play a scenario and draw its map, paths, touches and speeds
#[derive(Debug, Args)]
pub(super) struct Draw {
    #[command(flatten)]
    source: Source,

    /// The picture to write: PNG or SVG, by its ending
    #[arg(short, long, value_name = "OUT.png|OUT.svg", value_parser = with_ending(Form::of, ".png or .svg"))]
    out: PathBuf,
}

impl Draw {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let (scenario, tick_rate) = self.source.read()?;
        let mut file = Output::open(&self.out)?;
        let recording = play(&scenario, tick_rate);
        let svg = run_sheet(&scenario, &recording, &self.source.name())?;
        let form = Form::of(&self.out).unwrap_or(Form::Png);
        file.write_all(&form.encode(svg)?)?;
        file.finish()?;
        writeln!(out, "drew {}", self.out.display())?;
        out.flush()?;
        Ok(Outcome::Fine)
    }
}
