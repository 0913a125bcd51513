//! The work of a tick: how many steps its searches have taken so far, which bounds how long a tick can take.

use core::cell::Cell;

use crate::tolerance::MOST_EFFORT;

/// The steps of all searches in a tick so far.
#[derive(Debug, Clone, Default)]
pub(super) struct Effort(Cell<u32>);

impl Effort {
    /// Counts a step of a search.
    pub(super) fn count_step(&self) {
        self.0.set(self.0.get().saturating_add(1));
    }

    /// Counts a sweep, which costs as much as some steps, and among many tiles far more.
    pub(super) fn count_sweep(&self) {
        self.0.set(self.0.get().saturating_add(16));
    }

    /// Whether these are more steps than a tick may take.
    pub(super) fn is_exhausted(&self) -> bool {
        self.0.get() > MOST_EFFORT
    }
}
