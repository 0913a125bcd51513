//! One bit per tile of a map: whether anything about it blocks.
//!
//! Most movers touch nothing in most ticks, and a few bits are enough to know. They take an eighth of the memory of
//! the tiles.

use alloc::sync::Arc;
use alloc::vec;

use glam::{IVec2, Vec2, Vec4, Vec4Swizzles};

use super::blocking::Blocking;
use super::legend::Outside;
use crate::direction::YAxis;
use crate::shape::Footprint;

/// Wider and higher areas are looked at tile by tile.
const MOST_ACROSS: usize = 64;
/// Columns of a strip, and rows of it that are read at once: each row of a strip is one byte.
const WIDTH: usize = 8;
/// How many columns after the one before a strip begins. It is half the width, so that anything up to five tiles wide
/// lies in one strip; otherwise that would be a branch that the processor cannot predict.
const STRIDE: usize = 4;
/// The bits of some columns in all rows of a strip: by the first of them, and by how many more there are.
const COLUMNS: [[u64; WIDTH]; STRIDE] = {
    let mut columns = [[0; WIDTH]; STRIDE];
    let mut first = 0;
    while first < STRIDE {
        let mut more = 0;
        while more < WIDTH {
            columns[first][more] = u64::from_le_bytes([(0xFF >> (WIDTH - 1 - more)) << first; WIDTH]);
            more += 1;
        }
        first += 1;
    }
    columns
};
/// The bits of a first row and of so many more.
const ROWS: [u64; WIDTH] = {
    let mut rows = [u64::MAX; WIDTH];
    let mut more = 0;
    while more < WIDTH {
        rows[more] >>= WIDTH * (WIDTH - 1 - more);
        more += 1;
    }
    rows
};
/// Room around a path, in units: many times the touch tolerance near the origin. With more, movers close beside a
/// wall that they do not touch would take the slow path.
const ROOM: f32 = 1e-5;
/// Room per unit of what is added: a touch is a quarter of a millionth, and rounding here at most twice that.
const ROOM_PER_UNIT: f32 = 2e-6;

/// Added to a number from -1/2 to [`MOST_WHOLE`], it leaves the nearest whole number in the lower bits: 3 * 2^22,
/// where `f32` has only whole numbers. A plain cast would handle numbers out of range too.
const WHOLE: f32 = 12_582_912.0;
const WHOLE_BITS: u32 = (1 << 22) - 1;
const MOST_WHOLE: i32 = 1 << 22;

/// Away from the middle, for the lower and the upper edges.
const OUTWARD: Vec4 = Vec4::new(-1.0, -1.0, 1.0, 1.0);
const OUTWARD_PER_UNIT: Vec4 = Vec4::new(-ROOM_PER_UNIT, -ROOM_PER_UNIT, ROOM_PER_UNIT, ROOM_PER_UNIT);

/// The bits of a map in strips from its upper to its lower edge, which overlap by half; one byte per row.
#[derive(Debug, Clone, PartialEq)]
pub(in crate::terrain) struct Occupied {
    /// Shared by copies of a map until one of them changes.
    strips: Arc<[u8]>,
    rows: usize,
    lie: BitPlacement,
}

/// Where the bits lie in the world, for x and y, of lower and upper edges, side by side.
#[derive(Debug, Clone, Copy, PartialEq)]
struct BitPlacement {
    /// Half a tile from the map's corner, so that the nearest whole number of tiles is the one below, minus the room.
    zero: Vec4,
    /// Columns and rows per unit; below zero if rows and y run in opposite directions.
    per_unit: Vec4,
    /// Columns and rows, minus a half; zero if there are too many for [`WHOLE`].
    size: Vec4,
    upward: bool,
}

impl Occupied {
    /// The bits of tiles whose kinds have these forms.
    pub(in crate::terrain) fn new(
        columns: usize,
        tiles: &[u16],
        forms: &[Blocking],
        occupies: impl Fn(&Blocking) -> bool,
    ) -> Self {
        let rows = tiles.len() / columns;
        // With room to read several rows at once from any row.
        let mut strips = vec![0; columns.div_ceil(STRIDE) * rows + WIDTH];
        for (index, kind) in tiles.iter().enumerate() {
            if occupies(&forms[usize::from(*kind)]) {
                set(&mut strips, rows, [index % columns, index / columns], true);
            }
        }
        let lie = BitPlacement { zero: Vec4::ZERO, per_unit: Vec4::ONE, size: Vec4::ZERO, upward: false };
        Self { strips: strips.into(), rows, lie }
    }

    /// Sets where the map lies.
    pub(in crate::terrain) fn lay(&mut self, origin: Vec2, tile_size: Vec2, y_axis: YAxis, size: IVec2) {
        let down = Vec2::new(1.0, y_axis.downward());
        let (first, per_unit) = (origin + down * (tile_size * 0.5), down / tile_size);
        let size = if size.max_element() < MOST_WHOLE { size.as_vec2() - 0.5 } else { Vec2::ZERO };
        self.lie = BitPlacement {
            zero: both(first, first) - OUTWARD * ROOM,
            per_unit: both(per_unit, per_unit),
            size: both(size, size),
            upward: y_axis == YAxis::Up,
        };
    }

    pub(in crate::terrain) fn set(&mut self, column: usize, row: usize, occupied: bool) {
        // Copies of the map share the bits; they are copied only if one changes.
        if self.is_set_at(column, row) != occupied {
            set(Arc::make_mut(&mut self.strips), self.rows, [column, row], occupied);
        }
    }

    #[inline]
    fn is_set_at(&self, column: usize, row: usize) -> bool {
        self.strips[column / STRIDE * self.rows + row] >> (column % STRIDE) & 1 != 0
    }

    /// Whether a tile of the map is occupied.
    #[inline]
    pub(in crate::terrain) fn is_set(&self, tile: IVec2) -> bool {
        self.is_set_at(tile.x.unsigned_abs() as usize, tile.y.unsigned_abs() as usize)
    }

    /// Whether no such tile is on a footprint's path; `None` if that needs a closer look.
    #[inline]
    pub(in crate::terrain) fn quick_check(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> Option<bool> {
        let places = self.lie.places(footprint, from, displacement);
        let on_map = places.cmpge(Vec4::splat(-0.5)) & places.cmplt(self.lie.size);
        if !on_map.all() {
            return None;
        }
        let [left, upper, right, lower] = (places + WHOLE).to_array().map(f32::to_bits);
        let top = if self.lie.upward { lower } else { upper };
        let [left, top, columns, rows] =
            [left & WHOLE_BITS, top & WHOLE_BITS, right.wrapping_sub(left), upper.abs_diff(lower)]
                .map(|tiles| tiles as usize);
        let in_one_strip = left % STRIDE + columns < WIDTH && rows < WIDTH;
        in_one_strip.then(|| self.is_strip_free(left, top, columns, rows))
    }

    /// Whether no such tile, and nothing outside the map, is on a footprint's path; `false` also for large areas.
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within the map")]
    pub(in crate::terrain) fn is_way_free(
        &self,
        outside: Outside,
        size: IVec2,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        let places = self.lie.places(footprint, from, displacement) + 0.5;
        let (low, high) = (places.xy().min(places.zw()), places.xy().max(places.zw()));
        let size = size.as_vec2();
        let is_outside = low.cmplt(Vec2::ZERO).any() || high.cmpge(size).any();
        if places.is_nan() || (is_outside && outside == Outside::Block) {
            return false;
        }
        if high.cmplt(Vec2::ZERO).any() || low.cmpge(size).any() {
            return true;
        }
        let cut = |at: Vec2| at.clamp(Vec2::ZERO, size - 1.0).to_array().map(|place| place as usize);
        self.is_free(cut(low), cut(high))
    }

    /// Whether no tile of one strip is occupied, from a first one so many columns and rows on.
    #[inline]
    fn is_strip_free(&self, left: usize, top: usize, right: usize, down: usize) -> bool {
        let at = left / STRIDE * self.rows + top;
        let Some(rows) = self.strips.get(at..).and_then(|rest| rest.first_chunk()) else { return false };
        u64::from_le_bytes(*rows) & COLUMNS[left % STRIDE][right] & ROWS[down] == 0
    }

    /// Whether no tile in a range is occupied; `false` also if they are many.
    fn is_free(&self, [left, top]: [usize; 2], [right, bottom]: [usize; 2]) -> bool {
        if right - left >= MOST_ACROSS || bottom - top >= MOST_ACROSS {
            return false;
        }
        (top..=bottom).step_by(WIDTH).all(|top| {
            let down = (bottom - top).min(WIDTH - 1);
            // As far as the first strip reaches, then one width at a time.
            let first = left / STRIDE * STRIDE;
            (first..=right).step_by(WIDTH).all(|strip| {
                let left = left.max(strip);
                self.is_strip_free(left, top, right.min(strip + WIDTH - 1) - left, down)
            })
        })
    }
}

impl BitPlacement {
    /// The edges of a footprint's path in tiles, minus half a tile, with some room.
    ///
    /// All four are computed side by side, in `f32`: the room is many times their rounding.
    #[inline]
    fn places(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Vec4 {
        let [start, end] = footprint.extent();
        let (from, longest, extent) =
            (both(from, from), both(displacement, displacement).abs(), both(start, end));
        // Each sum waits for the one before: hence the brackets, and a sum where the largest would do.
        let summed_up = (from.abs() + longest) + (extent.abs() + self.zero.abs());
        let spread = both(displacement.min(Vec2::ZERO), displacement.max(Vec2::ZERO));
        let reach = ((from - self.zero) + (spread + extent)) + summed_up * OUTWARD_PER_UNIT;
        reach * self.per_unit
    }
}

/// Two vectors side by side.
#[inline]
fn both(low: Vec2, high: Vec2) -> Vec4 {
    Vec4::new(low.x, low.y, high.x, high.y)
}

/// Sets the bit of a tile in each strip that has its column.
fn set(strips: &mut [u8], rows: usize, [column, row]: [usize; 2], occupied: bool) {
    let last = column / STRIDE;
    for strip in last.saturating_sub(WIDTH / STRIDE - 1)..=last {
        let bit = 1 << (column - strip * STRIDE);
        let byte = &mut strips[strip * rows + row];
        *byte = if occupied { *byte | bit } else { *byte & !bit };
    }
}
