//! `ambulant check`: valid values in a scenario that are probably mistakes.

use std::io::Write;
use std::path::PathBuf;

use clap::Args;
use serde_json::{Value, json};

use super::{Failure, Outcome};
use crate::check::suspicious;
use crate::scenario::Scenario;
use crate::text::{BAD, GOOD, NOTED, styled};

/// Find what is valid in a scenario but probably a mistake
///
/// Finds floor that no actor can reach, gaps narrower than a footprint, starts against walls, legend entries
/// and layers that nothing uses, and places without a way back. Moving walls are left out. The exit status
/// is 1 if something was found.
#[derive(Debug, Args)]
pub(super) struct Check {
    /// The scenario to check (TOML)
    file: PathBuf,

    /// Print one JSON document instead of text
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
            writeln!(out, "{name}: {}", styled(GOOD, "nothing found"))?;
        } else {
            writeln!(out, "{name}: {} found\n", styled(BAD, findings.len()))?;
            for finding in &findings {
                let kind = styled(NOTED, format_args!("{:<17}", finding.kind));
                writeln!(out, "  {kind} {}", finding.text)?;
            }
        }
        out.flush()?;
        Ok(if findings.is_empty() { Outcome::Fine } else { Outcome::NotHeld })
    }
}
