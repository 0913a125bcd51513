//! Finds probable mistakes: a [`Scenario`] goes in, a list of [`Finding`]s comes out.
//!
//! [`Scenario`]: crate::scenario::Scenario

mod floor;
mod names;
mod reach;
mod starts;

use crate::scenario::Scenario;

/// Something that is valid and probably a mistake.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Finding {
    /// A word for the kind of finding.
    pub(crate) kind: &'static str,
    pub(crate) text: String,
}

impl Finding {
    fn new(kind: &'static str, text: impl Into<String>) -> Self {
        Self { kind, text: text.into() }
    }
}

/// All findings, in the order in which to fix them.
pub(crate) fn suspicious(scenario: &Scenario) -> Vec<Finding> {
    let mut findings = names::unused(scenario);
    findings.extend(starts::touching(scenario));
    findings.extend(floor::findings(scenario));
    findings
}
