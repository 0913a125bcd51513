//! `ambulant report`: a scenario played into a page that replays it.

use std::io::Write;
use std::path::{Path, PathBuf};

use clap::Args;

use super::{Failure, Outcome, Source, with_ending};
use crate::output::Output;
use crate::report::{check_length, page};
use crate::sim::play;

/// Write one page that replays a scenario in a browser
///
/// The page is a single file: a map with a time slider, what each actor does and touches at each tick,
/// speeds, held keys, and a list of events to click on. Attach it to a report of what went wrong.
#[derive(Debug, Args)]
pub(super) struct Report {
    #[command(flatten)]
    source: Source,

    /// The page to write
    #[arg(short, long, value_name = "OUT.html", value_parser = with_ending(is_page, ".html"))]
    out: PathBuf,
}

fn is_page(path: &Path) -> Option<()> {
    (path.extension()? == "html").then_some(())
}

impl Report {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let (scenario, tick_rate) = self.source.read()?;
        check_length(&scenario, tick_rate)?;
        let mut file = Output::open(&self.out)?;
        let recording = play(&scenario, tick_rate);
        file.put(page(&scenario, &recording, &self.source.name())?.as_bytes())?;
        file.finish()?;
        writeln!(out, "wrote {}; open it in a browser", self.out.display())?;
        out.flush()?;
        Ok(Outcome::Fine)
    }
}
