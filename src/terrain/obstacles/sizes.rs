//! Sizes of cells: powers of two, and the size that suits how densely obstacles stand.

use alloc::vec::Vec;

use glam::Vec2;

use crate::exact::{floor, tile};
use crate::shape::Aabb;

/// The sizes of cells: powers of two from 2^-20 to 2^43 units.
pub(super) const SIZES: usize = LARGEST as usize + 1;
const SMALLEST: i32 = -20;
const SMALLEST_WIDTH: f32 = 1.0 / (1 << -SMALLEST) as f32;
const LARGEST: u8 = 63;
/// One in this many obstacles may stand far off on each side without an effect on the smallest size.
const FAR_OFF: usize = 64;
/// Sizes that a path distinguishes: a bit of the column and one of the row for each.
const PATH_SIZES: usize = 32;

/// The largest size that still has five occupied cells for every eight positions of obstacles: one cell for each, or
/// as many as are occupied if they stand at random. Neither a few obstacles far off nor the distance between groups
/// matters.
pub(super) fn natural_size<'a>(corners: impl Iterator<Item = &'a Vec2> + Clone) -> u8 {
    let middle = |axis: usize| {
        let mut places: Vec<f32> = corners.clone().map(|corner| corner[axis]).collect();
        places.sort_unstable_by(f32::total_cmp);
        let far_off = places.len() / FAR_OFF;
        let place = |at: usize| places.get(at).copied().map_or(0.0, f64::from);
        (place(far_off), place((places.len() - far_off).saturating_sub(1)))
    };
    let ((left, right), (top, bottom)) = (middle(0), middle(1));
    #[expect(clippy::cast_possible_truncation, reason = "a size to choose among powers of two")]
    let finest = size_for(((right - left).max(bottom - top) / f64::from(u32::MAX)) as f32);
    let per_cell = 1.0 / f64::from(width(finest));
    let path_to =
        |corner: &Vec2| path((f64::from(corner.x) - left) * per_cell, (f64::from(corner.y) - top) * per_cell);
    let mut paths: Vec<u64> = corners.map(path_to).collect();
    paths.sort_unstable();
    // For two neighbours on the path through all cells, the first size whose cell contains both.
    let mut shared = [0; PATH_SIZES + 1];
    for pair in paths.windows(2) {
        let apart = u64::BITS - (pair[0] ^ pair[1]).leading_zeros();
        shared[apart.div_ceil(2) as usize] += 1;
    }
    let cells = |size: usize| 1 + shared[size + 1..].iter().sum::<usize>();
    let apart = |size: &usize| cells(*size) > 1 && 8 * cells(*size) >= 5 * cells(0);
    let steps = (1..PATH_SIZES).rev().find(apart).unwrap_or(0);
    finest.saturating_add(u8::try_from(steps).unwrap_or(0)).min(LARGEST)
}

/// The path to a cell, from the largest that contains it: the bits of its column and row in turn (the order of G. M.
/// Morton, 1966). Cells whose paths begin alike are in one larger cell, and sorting puts them side by side.
#[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "cut to what a u32 holds")]
fn path(column: f64, row: f64) -> u64 {
    let strewn = |number: f64| {
        let mut bits = u64::from(number.clamp(0.0, f64::from(u32::MAX)) as u32);
        for (shift, kept) in [
            (16, 0x0000_FFFF_0000_FFFF),
            (8, 0x00FF_00FF_00FF_00FF),
            (4, 0x0F0F_0F0F_0F0F_0F0F),
            (2, 0x3333_3333_3333_3333),
            (1, 0x5555_5555_5555_5555),
        ] {
            bits = (bits | bits << shift) & kept;
        }
        bits
    };
    strewn(column) | strewn(row) << 1
}

/// The smallest size whose cells are at least this wide: one more than its exponent, unless it is a power of two.
pub(super) fn size_for(extent: f32) -> u8 {
    const MANTISSA: u32 = (1 << (f32::MANTISSA_DIGITS - 1)) - 1;
    /// The exponent of the smallest size, as it is written.
    const LEAST: u32 = (f32::MAX_EXP - 1 + SMALLEST).unsigned_abs();
    let bits = extent.max(0.0).to_bits();
    let exponent = (bits >> (f32::MANTISSA_DIGITS - 1)) + u32::from(bits & MANTISSA != 0);
    let size = exponent.saturating_sub(LEAST);
    u8::try_from(size).unwrap_or(LARGEST).min(LARGEST)
}

/// The width of each size.
const WIDTHS: [f32; SIZES] = {
    let mut widths = [0.0; SIZES];
    let (mut width, mut place) = (SMALLEST_WIDTH, 0);
    while place < SIZES {
        widths[place] = width;
        (width, place) = (2.0 * width, place + 1);
    }
    widths
};

pub(super) fn width(size: u8) -> f32 {
    WIDTHS[usize::from(size)]
}

/// The column and row of the cell of a point, limited far out.
pub(super) fn number(point: Vec2, size: u8) -> (i32, i32) {
    // One by a power of two is exact, too.
    let at = point.as_dvec2() * (1.0 / f64::from(width(size)));
    tile(floor(at.x), floor(at.y)).into()
}

/// The first and last column and row of the cells whose obstacles may reach into an area.
pub(super) fn range(size: u8, area: &Aabb) -> ((i32, i32), (i32, i32)) {
    let width = Vec2::splat(width(size));
    (number(area.min - width, size), number(area.max, size))
}
