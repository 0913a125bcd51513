//! `ambulant play`: a scenario played by hand, in the terminal or in a browser.

use std::io::{IsTerminal, Write};
use std::path::PathBuf;

use clap::Args;

use super::{Failure, Outcome, tick_rate, warn};
use crate::live::Game;
use crate::scenario::ScenarioText;
use crate::{browser, console};

/// Play a scenario by hand in the terminal, or in a browser
///
/// Arrow keys or WASD move one actor; the others follow their scripts. You can change numbers while you
/// play, save them into the file (comments and layout stay), or show them as Rust. You can also save what
/// you played as a scenario; `run` repeats it to the last bit. Press ? for all keys.
///
/// With --browser, a page on this machine shows the play and takes keys as they are pressed and
/// released, a gamepad's stick and a pointer. Its address is printed.
#[derive(Debug, Args)]
pub(super) struct Play {
    /// The scenario to play (TOML)
    file: PathBuf,

    /// The actor to control, instead of the first one with keys
    #[arg(long, value_name = "NAME")]
    actor: Option<String>,

    /// Ticks per second, instead of the scenario's own
    #[arg(long, value_name = "HZ", value_parser = tick_rate)]
    tick_rate: Option<f64>,

    /// How to detect that a key was released: ask the terminal, or go by key repeats
    #[arg(long, value_name = "HOW", default_value = "ask")]
    releases: Releases,

    /// Play on a page in a browser, with key releases, a stick and a pointer
    #[arg(long)]
    browser: bool,

    /// Open the page in the usual browser
    #[arg(long, requires = "browser")]
    open: bool,

    /// The port of the page, instead of any free one
    #[arg(long, value_name = "PORT", requires = "browser", default_value_t = 0, hide_default_value = true)]
    port: u16,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
enum Releases {
    Ask,
    Repeats,
}

impl Play {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let text = ScenarioText::read(&self.file)?;
        let scenario = text.parse()?;
        let tick_rate = self.tick_rate.unwrap_or(scenario.tick_rate);
        let mut game = Game::new(&self.file, (&text, &scenario), tick_rate, self.actor.as_deref())?;
        if self.browser {
            warn(&scenario).iter().for_each(|warning| anstream::eprintln!("{warning}"));
            browser::play(&mut game, &self.file, (self.port, self.open), out)?;
            game.farewell(out)?;
            return Ok(Outcome::Fine);
        }
        if !std::io::stdout().is_terminal() || !std::io::stdin().is_terminal() {
            return Err(anyhow::anyhow!(
                "play needs a terminal for its keys and its picture; `ambulant run {}` plays the script without one",
                self.file.display()
            )
            .into());
        }
        warn(&scenario).iter().for_each(|warning| anstream::eprintln!("{warning}"));
        console::play(&mut game, self.releases == Releases::Ask)?;
        game.farewell(out)?;
        Ok(Outcome::Fine)
    }
}
