//! What is still to be done in a tick of many steppers: which steppers land or wait until when, and which decide
//! next.
//!
//! Two heaps, so that an instant costs as much as what happens in it, however many steppers there are. A stepper is
//! named by its rank: its index in the order of ids.

use alloc::collections::BinaryHeap;
use alloc::vec::Vec;
use core::cmp::Reverse;

/// A stepper can be noted this often at once: it lands, and a key has been held for long enough, which may be noted
/// twice.
const INSTANTS_EACH: usize = 3;

/// The agenda of a tick. It is empty between ticks and kept only so that no tick allocates.
#[derive(Debug, Clone, Default)]
pub(super) struct Agenda {
    /// How much of the tick each stepper has moved, in seconds.
    pub(super) passed: Vec<f64>,
    /// The list index of each rank; valid only within a tick.
    pub(super) order: Vec<usize>,
    /// Times as their bits, which sort like the times from 0 on.
    instants: BinaryHeap<Reverse<(u64, u32)>>,
    deciders: BinaryHeap<Reverse<(u32, u32)>>,
    /// Whether each stepper waits to decide.
    is_asked: Vec<bool>,
    /// The steppers of one instant: those that have arrived, then those that stay.
    pub(super) present: Vec<u32>,
}

/// Serialized as nothing: it is empty between two ticks.
impl PartialEq for Agenda {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Agenda {
    pub(super) const fn new() -> Self {
        Self {
            passed: Vec::new(),
            order: Vec::new(),
            instants: BinaryHeap::new(),
            deciders: BinaryHeap::new(),
            is_asked: Vec::new(),
            present: Vec::new(),
        }
    }

    /// Begins a tick of so many steppers.
    pub(super) fn begin(&mut self, count: usize) {
        self.instants.clear();
        self.deciders.clear();
        self.passed.clear();
        self.passed.resize(count, 0.0);
        self.is_asked.clear();
        self.is_asked.resize(count, false);
        self.deciders.reserve(count);
        self.instants.reserve(INSTANTS_EACH * count);
        self.present.clear();
        self.present.reserve(INSTANTS_EACH * count);
    }

    /// Notes that something happens to a stepper at a time.
    pub(super) fn note(&mut self, at: f64, rank: u32) {
        self.instants.push(Reverse((at.max(0.0).to_bits(), rank)));
    }

    /// The next time at which something happens, if there is one.
    pub(super) fn next_instant(&self) -> Option<f64> {
        self.instants.peek().map(|Reverse((at, _))| f64::from_bits(*at))
    }

    /// Takes out all steppers with something to do until a time, into `present` by rank, each once.
    pub(super) fn arrive_until(&mut self, last: f64) {
        self.present.clear();
        while self.next_instant().is_some_and(|at| at <= last) {
            self.present.extend(self.instants.pop().map(|Reverse((_, rank))| rank));
        }
        self.in_order();
    }

    /// Lets a stepper decide in a round, unless it is listed already. Rounds and ranks come in order: within a round
    /// ranks only grow, and a stepper lists those below it for the next round.
    pub(super) fn ask(&mut self, round: u32, rank: u32) {
        if !core::mem::replace(&mut self.is_asked[rank as usize], true) {
            self.deciders.push(Reverse((round, rank)));
        }
    }

    /// The next to decide, with its round.
    pub(super) fn next_decider(&mut self) -> Option<(u32, u32)> {
        let Reverse((round, rank)) = self.deciders.pop()?;
        self.is_asked[rank as usize] = false;
        Some((round, rank))
    }

    /// Sorts those present, each once.
    pub(super) fn in_order(&mut self) {
        self.present.sort_unstable();
        self.present.dedup();
    }
}
