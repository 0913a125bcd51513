//! The `ambulant` tool: runs, draws and checks movement from files.
//!
//! `command` parses the arguments and carries out a command. `scenario` turns a file into a checked scenario. `sim` plays it into a
//! recording (`record`). From that, `picture` draws, and `report` writes a page that replays it. `probe` answers questions about
//! walls, and `check` finds probable mistakes. `live` plays by hand; `console` shows that in a terminal, `browser` on a page. Results go
//! to standard output, everything else to standard error.

mod browser;
mod check;
mod command;
mod console;
#[doc(hidden)]
pub mod entrances;
mod feel;
mod live;
mod output;
mod page;
mod picture;
mod probe;
mod record;
mod report;
mod scenario;
mod sim;
mod text;
mod tile_size;

use std::process::ExitCode;

use clap::Parser;

use command::{Call, Failure, Outcome};

/// The call was carried out, but something did not hold, or was found.
const NOT_HELD: u8 = 1;
/// The input or the call is wrong.
const WRONG: u8 = 2;

/// Carries out the call of this process.
#[must_use]
pub fn run() -> ExitCode {
    match Call::parse().carry_out() {
        Ok(Outcome::Fine) => ExitCode::SUCCESS,
        Ok(Outcome::NotHeld) => ExitCode::from(NOT_HELD),
        Err(Failure::Problems(problems)) => {
            use std::io::IsTerminal;
            let colours = std::io::stderr().is_terminal();
            anstream::eprintln!("{}", problems.render(colours));
            ExitCode::from(WRONG)
        }
        // A reader that has seen enough is no failure.
        Err(Failure::Printing(error)) if error.kind() == std::io::ErrorKind::BrokenPipe => ExitCode::SUCCESS,
        Err(Failure::Printing(error)) => {
            anstream::eprintln!("error: cannot print the result: {error}");
            ExitCode::from(WRONG)
        }
        Err(Failure::Other(error)) => {
            anstream::eprintln!("error: {error:#}");
            ExitCode::from(WRONG)
        }
    }
}
