//! The work of a tick: how many steps its searches have taken so far, which bounds how long a tick can take.

use core::cell::Cell;

use crate::tolerance::{EFFORT_OF_PIECE, MOST_PIECES};

/// The steps that all searches in a tick may still take.
#[derive(Debug, Clone)]
pub(super) struct Effort(Cell<usize>);

impl Default for Effort {
    fn default() -> Self {
        Self::of(MOST_PIECES)
    }
}

impl Effort {
    /// That of a tick with so many pieces at most: a path that is asked for has more of them, and each is looked for.
    pub(super) const fn of(pieces: usize) -> Self {
        Self(Cell::new(pieces * EFFORT_OF_PIECE))
    }

    /// Counts a step of a search.
    pub(super) fn count_step(&self) {
        self.0.set(self.0.get().saturating_sub(1));
    }

    /// Counts a sweep, which costs as much as some steps, and among many tiles far more.
    pub(super) fn count_sweep(&self) {
        self.0.set(self.0.get().saturating_sub(16));
    }

    /// Whether none are left.
    pub(super) fn is_exhausted(&self) -> bool {
        self.0.get() == 0
    }
}
