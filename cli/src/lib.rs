//! The `ambulant` tool: runs, draws and checks movement from files.
//!
//! Arguments become one resolved call (`command`), a file becomes a checked scenario (`scenario`),
//! a scenario is played (`sim`) into a recording (`record`), and a recording becomes words, rows or
//! pictures (`picture`); a run becomes a page that replays it (`report`); a question to its walls gets an answer (`probe`), and what is
//! suspicious about it is found (`check`); a person plays it by hand (`live`). Results go to standard output, everything else to standard error.

mod check;
mod command;
#[doc(hidden)]
pub mod entrances;
mod live;
mod output;
mod picture;
mod probe;
mod record;
mod report;
mod scenario;
mod sim;

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
        Err(Failure::Other(error)) if is_closed_pipe(&error) => ExitCode::SUCCESS,
        Err(Failure::Other(error)) => {
            // Files say which they are; what is left is the answer itself.
            let unnamed = error.is::<std::io::Error>() || error.is::<serde_json::Error>();
            let told = format!("{error:#}");
            let answer = unnamed && !told.starts_with("cannot write ");
            let what = if answer { "cannot print the answer: " } else { "" };
            anstream::eprintln!("error: {what}{told}");
            ExitCode::from(WRONG)
        }
    }
}

fn is_closed_pipe(error: &anyhow::Error) -> bool {
    error.chain().any(|cause| {
        let kind = cause.downcast_ref::<std::io::Error>().map(std::io::Error::kind);
        let json = cause.downcast_ref::<serde_json::Error>().and_then(serde_json::Error::io_error_kind);
        kind.or(json) == Some(std::io::ErrorKind::BrokenPipe)
    })
}
