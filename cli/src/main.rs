//! The `ambulant` program.

use std::process::ExitCode;

fn main() -> ExitCode {
    ambulant_cli::run()
}
