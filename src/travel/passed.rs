//! Walls that a mover has passed since the last one that stopped it.

use glam::IVec2;

use crate::terrain::{Wall, WallFilter};
use crate::tolerance::MOST_PASSED;

/// The walls that were passed, at most so many.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Passed<const MOST: usize = MOST_PASSED> {
    walls: [Wall; MOST],
    count: usize,
}

impl<const MOST: usize> Passed<MOST> {
    /// None yet.
    pub(crate) const fn none() -> Self {
        Self { walls: [Wall::tile(IVec2::ZERO); MOST], count: 0 }
    }

    /// Adds a wall; if there are too many, the oldest is dropped, since it lies behind.
    pub(crate) fn add(&mut self, wall: Wall) {
        if self.count == MOST {
            self.walls.rotate_left(1);
            self.count -= 1;
        }
        self.walls[self.count] = wall;
        self.count += 1;
    }

    /// Whether a wall is among them.
    pub(crate) fn holds(&self, wall: Wall) -> bool {
        self.walls[..self.count].contains(&wall)
    }

    /// Whether there are none.
    pub(crate) const fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// Whether another one would displace the oldest.
    pub(crate) const fn is_full(&self) -> bool {
        self.count == MOST
    }

    /// Drops all of them.
    pub(crate) const fn clear(&mut self) {
        self.count = 0;
    }

    /// The same for walls that are touched: they still cover corners of others.
    pub(crate) fn beside<'a>(&'a self, filter: WallFilter<'a>) -> WallFilter<'a> {
        filter.beside(&self.walls[..self.count])
    }

    /// A filter for everything but these walls.
    pub(crate) fn others<'a>(&'a self, filter: WallFilter<'a>) -> WallFilter<'a> {
        filter.except(&self.walls[..self.count])
    }
}
