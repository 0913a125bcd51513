//! Which cells share a chain of the table.

use super::sizes::number;
use crate::shape::Aabb;

/// A table is never laid out for fewer obstacles.
pub(super) const FEWEST: usize = 16;
/// The most chains per obstacle: empty ones take memory but no time.
const HEADS_PER_OBSTACLE: usize = 8;
/// The most chains, as a power of two.
const MOST_POWERS: u32 = 28;

/// Which cells share a chain: none of the smallest size among the first columns and rows, so that neighbours lie side
/// by side. All others are scattered over the same table.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Layout {
    /// The first column and row, of the smallest size.
    pub(super) first: (i32, i32),
    /// Columns and rows, as powers of two.
    pub(super) across: u32,
    pub(super) down: u32,
}

impl Layout {
    /// For a number of obstacles within a box.
    pub(super) fn of(bounds: &Aabb, least: u8, count: usize) -> Self {
        let (first, last) = (number(bounds.min, least), number(bounds.max, least));
        let powers = |first: i32, last: i32, most: u32| {
            (first.abs_diff(last).checked_ilog2().map_or(0, |power| power + 1)).min(most)
        };
        let most = (HEADS_PER_OBSTACLE * count.max(FEWEST)).ilog2().min(MOST_POWERS);
        let across = powers(first.0, last.0, most);
        Self { first, across, down: powers(first.1, last.1, most - across) }
    }

    /// Where the columns of a row begin, for cells this many sizes above the smallest.
    pub(super) fn row(&self, row: i32, above: u8) -> usize {
        let row = from_first(row, self.first.1, above);
        let beyond = u64::from(row >> self.down ^ u32::from(above) << 24);
        let scattered = beyond.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 32;
        ((row as usize & ((1 << self.down) - 1)) << self.across).wrapping_add(scattered as usize)
    }

    /// How far from there a column is.
    pub(super) fn column(&self, column: i32, above: u8) -> usize {
        from_first(column, self.first.0, above) as usize
    }
}

/// The number of a column or row counted from the first one, which is given in cells of the smallest size.
fn from_first(number: i32, first: i32, above: u8) -> u32 {
    bits(number.wrapping_sub(first >> above.min(31)))
}

fn bits(number: i32) -> u32 {
    u32::from_ne_bytes(number.to_ne_bytes())
}
