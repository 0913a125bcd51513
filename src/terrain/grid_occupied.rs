//! One bit for each tile of a map: whether anything about it blocks.
//!
//! Most movers meet nothing in most ticks. A few bits tell so, before any border is looked for: sliding over open
//! ground takes three fifths of the instructions that it takes without them, and a map's bits take a sixteenth of the room
//! of its tiles.

use alloc::vec;
use alloc::vec::Vec;

use glam::{IVec2, Vec2, Vec4, Vec4Swizzles};

use super::grid::{Beyond, TileGrid};
use super::grid_blocking::Blocking;
use super::legend::TileForm;
use crate::intent::YAxis;
use crate::shape::Footprint;

/// Wider and higher areas are looked at tile by tile.
const MOST_ACROSS: usize = 64;
/// Columns and rows of tiles whose bits share a word.
const BLOCK: usize = 8;
/// Room round a way, in units, and for each unit of distance from the origin: as for all questions of terrain.
const ROOM: f32 = 0.01;
const ROOM_PER_COORDINATE: f32 = 1e-6;

/// Added to a number from -1/2 to [`MOST_WHOLE`], it leaves the nearest whole one in the lower bits: 3 * 2^22, where
/// whole numbers are all that `f32` can tell. A plain cast would look after numbers that are out of range, too.
const WHOLE: f32 = 12_582_912.0;
const WHOLE_BITS: u32 = (1 << 22) - 1;
const MOST_WHOLE: i32 = 1 << 22;

/// Away from the middle, for the lower and the upper edges.
const OUTWARD: Vec4 = Vec4::new(-1.0, -1.0, 1.0, 1.0);

/// The bits of a map, in blocks of [`BLOCK`] by [`BLOCK`] tiles, each a word: what a mover is near lies in one mostly.
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(super) struct Occupied {
    words: Vec<u64>,
    /// Words side by side.
    across: usize,
    lie: Lie,
}

/// Where the bits lie in the world: what is asked of x and y, of lower and upper edges, side by side.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Lie {
    origin: Vec4,
    /// Columns and rows per unit; below zero where rows and y run against each other.
    per_unit: Vec4,
    /// Columns and rows, less a half; zero where there are too many of them for [`WHOLE`].
    size: Vec4,
    upward: bool,
}

impl Occupied {
    /// The bits of tiles whose kinds have these forms.
    pub(super) fn new(
        columns: usize,
        tiles: &[u16],
        forms: &[Blocking],
        occupies: impl Fn(&Blocking) -> bool,
    ) -> Self {
        let across = columns.div_ceil(BLOCK);
        let words = vec![0; across * (tiles.len() / columns).div_ceil(BLOCK)];
        let lie = Lie { origin: Vec4::ZERO, per_unit: Vec4::ONE, size: Vec4::ZERO, upward: false };
        let mut occupied = Self { words, across, lie };
        for (index, kind) in tiles.iter().enumerate() {
            occupied.set(index % columns, index / columns, occupies(&forms[usize::from(*kind)]));
        }
        occupied
    }

    /// Says where the map lies.
    pub(super) fn lay(&mut self, origin: Vec2, tile_size: f32, y_axis: YAxis, size: IVec2) {
        let per_unit = Vec2::new(1.0, y_axis.downward()) / tile_size;
        let size = if size.max_element() < MOST_WHOLE { size.as_vec2() - 0.5 } else { Vec2::ZERO };
        self.lie = Lie {
            origin: both(origin, origin),
            per_unit: both(per_unit, per_unit),
            size: both(size, size),
            upward: y_axis == YAxis::Up,
        };
    }

    pub(super) fn set(&mut self, column: usize, row: usize, occupied: bool) {
        let bit = 1 << (row % BLOCK * BLOCK + column % BLOCK);
        let word = &mut self.words[row / BLOCK * self.across + column / BLOCK];
        *word = if occupied { *word | bit } else { *word & !bit };
    }

    /// Whether a tile of the map is occupied.
    #[inline]
    pub(super) fn is_set(&self, tile: IVec2) -> bool {
        let (column, row) = (tile.x.unsigned_abs() as usize, tile.y.unsigned_abs() as usize);
        let word = self.words[row / BLOCK * self.across + column / BLOCK];
        word >> (row % BLOCK * BLOCK + column % BLOCK) & 1 != 0
    }

    /// Whether no tile from one to another is occupied, both as column and row; `false` also where they are many.
    #[inline]
    fn is_free(&self, first: [u32; 2], last: [u32; 2]) -> bool {
        let [left, top, right, bottom] = [first[0], first[1], last[0], last[1]].map(|tile| tile as usize);
        if left / BLOCK == right / BLOCK && top / BLOCK == bottom / BLOCK {
            let word = self.words[top / BLOCK * self.across + left / BLOCK];
            return word & bits(left % BLOCK, right % BLOCK, top % BLOCK, bottom % BLOCK) == 0;
        }
        self.is_free_across([left, top], [right, bottom])
    }

    /// The same for tiles of several blocks.
    #[inline(never)]
    fn is_free_across(&self, [left, top]: [usize; 2], [right, bottom]: [usize; 2]) -> bool {
        if right - left >= MOST_ACROSS || bottom - top >= MOST_ACROSS {
            return false;
        }
        // The part of some tiles that lies in a block, within it.
        let cut = |first: usize, last: usize, block: usize| {
            (first.max(block * BLOCK) % BLOCK, last.min(block * BLOCK + BLOCK - 1) % BLOCK)
        };
        (top / BLOCK..=bottom / BLOCK).all(|down| {
            let (upper, lower) = cut(top, bottom, down);
            (left / BLOCK..=right / BLOCK).all(|across| {
                let (first, last) = cut(left, right, across);
                self.words[down * self.across + across] & bits(first, last, upper, lower) == 0
            })
        })
    }
}

/// The bits of some columns and rows of a block, from the first to the last of each.
#[inline]
fn bits(left: usize, right: usize, top: usize, bottom: usize) -> u64 {
    const EACH_ROW: u64 = 0x0101_0101_0101_0101;
    let columns = (0xFF >> (BLOCK - 1 - (right - left))) << left;
    let rows = (u64::MAX >> (BLOCK * (BLOCK - 1 - (bottom - top)))) << (BLOCK * top);
    (columns * EACH_ROW) & rows
}

/// Whether a tile of a kind can be in anybody's way.
pub(super) fn blocks_at_all(blocking: &Blocking) -> bool {
    blocking.form != TileForm::Open || blocking.closed.contains(&true)
}

impl TileGrid {
    /// Whether nothing on a footprint's way blocks anybody; `false` also where that would take long to find out.
    #[inline]
    pub(super) fn is_open(&self, footprint: &Footprint, from: Vec2, way: Vec2) -> bool {
        self.is_without(&self.occupied, self.beyond, footprint, from, way)
    }

    /// Whether there is no half-tile on a footprint's way; `false` also where that would take long to find out.
    #[inline]
    pub(super) fn is_without_halves(&self, footprint: &Footprint, from: Vec2, way: Vec2) -> bool {
        let without = |halves| self.is_without(halves, Beyond::Free, footprint, from, way);
        self.halves.as_ref().is_none_or(without)
    }

    /// Whether no tile of some kinds, and nothing outside of the map, is on a footprint's way.
    ///
    /// All four edges are worked out side by side, in `f32`: the room round the way is many times what that rounds.
    #[inline]
    fn is_without(
        &self,
        tiles: &Occupied,
        beyond: Beyond,
        footprint: &Footprint,
        from: Vec2,
        way: Vec2,
    ) -> bool {
        let (start, end) = footprint.extent();
        let from = both(from, from);
        let edges = from + both(start, end) + both(way.min(Vec2::ZERO), way.max(Vec2::ZERO));
        let Lie { origin, per_unit, size, upward } = tiles.lie;
        // Far more than what rounding and touching can be about.
        let room = ROOM + edges.abs().max(from.abs()).max(origin.abs()) * ROOM_PER_COORDINATE;
        let reach = edges + room * OUTWARD - origin;
        // Half a tile less, so that the nearest whole number is the one below.
        let places = reach * per_unit - 0.5;
        if (places.cmpge(Vec4::splat(-0.5)) & places.cmplt(size)).all() {
            let [left, top, right, bottom] =
                (places + WHOLE).to_array().map(|place| place.to_bits() & WHOLE_BITS);
            let (top, bottom) = if upward { (bottom, top) } else { (top, bottom) };
            tiles.is_free([left, top], [right, bottom])
        } else {
            beyond == Beyond::Free && self.is_without_on_map(tiles, reach)
        }
    }

    /// The same for a way that does not stay on the map, from its edges as seen from the map's corner.
    #[inline(never)]
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within the map")]
    fn is_without_on_map(&self, tiles: &Occupied, reach: Vec4) -> bool {
        if reach.is_nan() {
            return false;
        }
        let places = reach / self.tile_size();
        let (low, high) = match self.y_axis {
            YAxis::Down => (places.xy(), places.zw()),
            YAxis::Up => (Vec2::new(places.x, -places.w), Vec2::new(places.z, -places.y)),
        };
        let size = self.size().as_vec2();
        if high.cmplt(Vec2::ZERO).any() || low.cmpge(size).any() {
            return true;
        }
        let cut = |at: Vec2| at.clamp(Vec2::ZERO, size - 1.0).to_array().map(|place| place as u32);
        tiles.is_free(cut(low), cut(high))
    }
}

/// Two vectors side by side.
#[inline]
fn both(low: Vec2, high: Vec2) -> Vec4 {
    Vec4::new(low.x, low.y, high.x, high.y)
}
