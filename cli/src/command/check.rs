//! `ambulant check`: what is suspicious about a scenario.

use std::io::Write;
use std::path::PathBuf;

use clap::Args;
use serde_json::{Value, json};

use super::{Failure, Outcome};
use crate::check::suspicious;
use crate::scenario::Scenario;

/// Look for what is allowed in a scenario and hardly meant
///
/// Finds floor that nobody gets to, gaps narrower than a footprint, starts against walls, legend entries and
/// layers that nothing uses, and places without return. Walls that move are taken as out of the way. Exit
/// status 1 when something was found.
#[derive(Debug, Args)]
pub(super) struct Check {
    /// The scenario to look at (TOML)
    file: PathBuf,

    /// Print one JSON document instead of words
    #[arg(long)]
    json: bool,
}

impl Check {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let scenario = Scenario::read(&self.file)?;
        let findings = suspicious(&scenario);
        let name = self.file.display();
        if self.json {
            let list: Vec<Value> = findings
                .iter()
                .map(|finding| json!({ "kind": finding.kind, "text": finding.text }))
                .collect();
            serde_json::to_writer_pretty(
                &mut *out,
                &json!({ "scenario": name.to_string(), "findings": list }),
            )?;
            writeln!(out)?;
        } else if findings.is_empty() {
            writeln!(out, "{name}: nothing suspicious")?;
        } else {
            writeln!(out, "{name}: {} found\n", findings.len())?;
            findings.iter().try_for_each(|finding| writeln!(out, "  {finding}"))?;
        }
        out.flush()?;
        Ok(if findings.is_empty() { Outcome::Fine } else { Outcome::NotHeld })
    }
}
