//! One bit for each tile of a map: whether anything about it blocks.
//!
//! Most movers meet nothing in most ticks. A few bits tell so, before any border is looked for: sliding over open
//! ground takes three fifths of the instructions that it takes without them, and a map's bits take a sixteenth of the room
//! of its tiles.

use alloc::vec;
use alloc::vec::Vec;

use glam::Vec2;

use super::grid::{Beyond, TileGrid};
use super::grid_blocking::Blocking;
use super::legend::TileForm;
use crate::intent::YAxis;
use crate::shape::Footprint;

/// Wider and higher areas are looked at tile by tile.
const MOST_ACROSS: usize = 64;
/// Room round a way, in units, and for each unit of distance from the origin: as for all questions of terrain.
const ROOM: f32 = 0.01;
const ROOM_PER_COORDINATE: f32 = 1e-6;

/// The bits of a map, row by row, each row beginning a new word.
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(super) struct Occupied {
    words: Vec<u64>,
    /// Words in a row; one more than it takes, so that a pair of words never leaves it.
    row: usize,
}

impl Occupied {
    /// The bits of tiles whose kinds have these forms.
    pub(super) fn new(columns: usize, tiles: &[u16], forms: &[Blocking]) -> Self {
        let row = columns.div_ceil(64) + 1;
        let mut occupied = Self { words: vec![0; row * (tiles.len() / columns)], row };
        for (index, kind) in tiles.iter().enumerate() {
            occupied.set(index % columns, index / columns, is_occupied(&forms[usize::from(*kind)]));
        }
        occupied
    }

    pub(super) fn set(&mut self, column: usize, row: usize, occupied: bool) {
        let word = &mut self.words[row * self.row + column / 64];
        let bit = 1 << (column % 64);
        *word = if occupied { *word | bit } else { *word & !bit };
    }

    /// Whether any of some columns of a row is occupied; `count` is 1 to 64.
    #[inline]
    fn any(&self, column: usize, row: usize, count: usize) -> bool {
        let (first, shift) = (row * self.row + column / 64, column % 64);
        let mut bits = self.words[first] >> shift;
        if shift + count > 64 {
            bits |= self.words[first + 1] << (64 - shift);
        }
        bits & (u64::MAX >> (64 - count)) != 0
    }
}

/// Whether a tile of a kind can be in anybody's way.
pub(super) fn is_occupied(blocking: &Blocking) -> bool {
    blocking.form != TileForm::Open || blocking.closed.contains(&true)
}

impl TileGrid {
    /// Whether nothing on a footprint's way blocks anybody; `false` also where that would take long to find out.
    #[inline]
    pub(super) fn is_open(&self, footprint: &Footprint, from: Vec2, way: Vec2) -> bool {
        let start = footprint.at(from);
        let (min, max) = (start.min + way.min(Vec2::ZERO), start.max + way.max(Vec2::ZERO));
        // Far more than what rounding and touching can be about.
        let room = ROOM + (min.abs().max_element()).max(max.abs().max_element()) * ROOM_PER_COORDINATE;
        let along = |from: f32, to: f32, corner: f32| {
            (f64::from(from - room) - f64::from(corner), f64::from(to + room) - f64::from(corner))
        };
        let x = self.reach(along(min.x, max.x, self.origin.x), self.columns);
        let (low, high) = along(min.y, max.y, self.origin.y);
        let y = self.reach(if self.y_axis == YAxis::Down { (low, high) } else { (-high, -low) }, self.rows);
        match (x, y) {
            (Reach::Inside(left, right), Reach::Inside(top, bottom)) => {
                right - left < MOST_ACROSS
                    && bottom - top < MOST_ACROSS
                    && (top..=bottom).all(|row| !self.occupied.any(left, row, right - left + 1))
            }
            // Whatever cannot be told stays for those who look closer.
            (Reach::Untold, _) | (_, Reach::Untold) => false,
            _ => true,
        }
    }

    /// The columns or rows from one distance to another from the map's corner.
    #[inline]
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within the map")]
    fn reach(&self, (low, high): (f64, f64), count: i32) -> Reach {
        let (low, high, count) = (low * self.per_tile, high * self.per_tile, f64::from(count));
        if low >= 0.0 && high < count {
            return Reach::Inside(low as usize, high as usize);
        }
        if self.beyond == Beyond::Blocks || low.is_nan() || high.is_nan() {
            return Reach::Untold;
        }
        if high < 0.0 || low >= count {
            return Reach::Outside;
        }
        Reach::Inside(low.max(0.0) as usize, high.min(count - 1.0) as usize)
    }
}

/// What of one axis of the map is reached.
enum Reach {
    Inside(usize, usize),
    /// Only what lies outside, where nothing blocks.
    Outside,
    Untold,
}
