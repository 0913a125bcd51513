//! Which obstacles are near: a table of square cells of several sizes.
//!
//! Each obstacle lies in one cell: of the smallest size that is no smaller than the obstacle, the cell that
//! holds its lower corner. A question looks, for each size in use, at the cells that its area reaches. The
//! smallest size in use follows from how densely the obstacles stand and is found anew as their number
//! doubles, so that there is nothing to tune.

use alloc::vec::Vec;

use glam::Vec2;

use crate::exact::{floor, tile};
use crate::shape::Aabb;
use crate::terrain::Layers;

/// The sizes of cells: powers of two from 2^-20 to 2^43 units.
const SIZES: usize = LARGEST as usize + 1;
const SMALLEST: i32 = -20;
const SMALLEST_WIDTH: f32 = 1.0 / (1 << -SMALLEST) as f32;
const LARGEST: u8 = 63;

/// The end of a chain.
const NONE: u32 = u32::MAX;
/// A table is never laid out for fewer obstacles.
const FEWEST: usize = 16;
/// Chains for each obstacle, at most: cells without any take room, but cost no time.
const HEADS_PER_OBSTACLE: usize = 8;
/// More chains than two to this power are never laid out.
const MOST_POWERS: u32 = 28;
/// One in so many obstacles may stand far off to each side without any say in the smallest size.
const FAR_OFF: usize = 64;
/// Sizes that a path tells apart: a bit of the column and one of the row for each.
const PATH_SIZES: usize = 32;

/// A cell: which size, column and row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Cell {
    size: u8,
    column: i32,
    row: i32,
}

/// An obstacle's place in the table.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Leaf {
    bounds: Aabb,
    layers: Layers,
    cell: Cell,
    slot: u32,
    /// The next leaf of the chain.
    next: u32,
}

/// Where obstacles are, by the numbers of their slots.
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(in crate::terrain) struct Cells {
    /// The first leaf of each chain, as the table is laid out.
    heads: Vec<u32>,
    layout: Layout,
    /// In the order of their cells when the smallest size was found: what is asked for together lies together.
    leaves: Vec<Leaf>,
    /// The leaf of each slot.
    places: Vec<u32>,
    /// How many obstacles there are of each size; empty until there is one.
    counts: Vec<u32>,
    /// One bit for each size of which there are some.
    in_use: u64,
    /// The number of obstacles that the smallest size was found for.
    found_for: usize,
    least: u8,
    /// A box that holds all obstacles; it shrinks only as the smallest size is found anew.
    bounds: Aabb,
}

/// What holds nothing.
const EMPTY: Aabb = Aabb { min: Vec2::INFINITY, max: Vec2::NEG_INFINITY };

impl Cells {
    pub(in crate::terrain) const fn new() -> Self {
        Self {
            heads: Vec::new(),
            layout: Layout { first: (0, 0), across: 0, down: 0 },
            leaves: Vec::new(),
            places: Vec::new(),
            counts: Vec::new(),
            in_use: 0,
            found_for: 0,
            least: 0,
            bounds: EMPTY,
        }
    }

    /// Puts an obstacle somewhere, or somewhere else.
    pub(in crate::terrain) fn put(&mut self, slot: u32, bounds: Aabb, layers: Layers) {
        self.counts.resize(SIZES, 0);
        let cell = self.cell_of(&bounds);
        self.bounds = together(self.bounds, bounds);
        if let Some(place) = self.place(slot) {
            let leaf = &mut self.leaves[place as usize];
            (leaf.bounds, leaf.layers) = (bounds, layers);
            if leaf.cell != cell {
                self.unlink(place);
                self.link(place, cell);
            }
            return;
        }
        if slot as usize >= self.places.len() {
            self.places.resize(slot as usize + 1, NONE);
        }
        let place = u32::try_from(self.leaves.len()).unwrap_or(NONE);
        self.leaves.push(Leaf { bounds, layers, cell, slot, next: NONE });
        self.places[slot as usize] = place;
        if self.heads.is_empty() || self.len() > 2 * self.found_for.max(FEWEST / 2) {
            self.rebuild();
        } else {
            self.link(place, cell);
        }
    }

    /// Takes an obstacle out.
    pub(in crate::terrain) fn take(&mut self, slot: u32) {
        let Some(place) = self.place(slot) else { return };
        self.unlink(place);
        self.places[slot as usize] = NONE;
        let last = u32::try_from(self.len() - 1).unwrap_or(NONE);
        if place == last {
            self.leaves.pop();
            return;
        }
        // The last one takes its place.
        self.unlink(last);
        self.leaves.swap_remove(place as usize);
        let Leaf { slot, cell, .. } = self.leaves[place as usize];
        self.places[slot as usize] = place;
        self.link(place, cell);
    }

    fn place(&self, slot: u32) -> Option<u32> {
        self.places.get(slot as usize).copied().filter(|place| *place != NONE)
    }

    /// Takes a leaf out of its chain.
    fn unlink(&mut self, place: u32) {
        let Leaf { cell, next, .. } = self.leaves[place as usize];
        let count = &mut self.counts[usize::from(cell.size)];
        *count -= 1;
        if *count == 0 {
            self.in_use &= !(1 << cell.size);
        }
        let head = self.head(cell);
        if self.heads[head] == place {
            self.heads[head] = next;
            return;
        }
        let mut at = self.heads[head];
        while let Some(other) = self.leaves.get_mut(at as usize) {
            if other.next == place {
                other.next = next;
                return;
            }
            at = other.next;
        }
    }

    /// The slots whose boxes reach into an area and that may be wanted by what is known of them here.
    pub(in crate::terrain) fn near(
        &self,
        area: &Aabb,
        wanted: impl Fn(Layers, &Aabb) -> bool,
        mut see: impl FnMut(u32),
    ) {
        let reaches = |leaf: &Leaf| {
            leaf.bounds.min.cmple(area.max).all()
                && area.min.cmple(leaf.bounds.max).all()
                && wanted(leaf.layers, &leaf.bounds)
        };
        // What is not a number is not few either.
        let few = self.cells_about(area) <= self.len() as f32;
        if !few {
            self.leaves.iter().filter(|leaf| reaches(leaf)).for_each(|leaf| see(leaf.slot));
            return;
        }
        for size in self.sizes() {
            let (first, last) = range(size, area);
            let above = size.saturating_sub(self.least);
            for row in first.1..=last.1 {
                let begins = self.layout.row(row, above);
                for column in first.0..=last.0 {
                    let cell = Cell { size, column, row };
                    let mut at = self.heads[self.head_in_row(begins, column, above)];
                    while let Some(leaf) = self.leaves.get(at as usize) {
                        if leaf.cell == cell && reaches(leaf) {
                            see(leaf.slot);
                        }
                        at = leaf.next;
                    }
                }
            }
        }
    }

    /// A box that holds all obstacles.
    pub(in crate::terrain) const fn bounds(&self) -> Aabb {
        self.bounds
    }

    /// Width and height of the smallest cells, in units: about as far as obstacles stand apart.
    pub(in crate::terrain) fn spacing(&self) -> f32 {
        width(self.least)
    }

    pub(in crate::terrain) fn len(&self) -> usize {
        self.leaves.len()
    }

    fn sizes(&self) -> impl Iterator<Item = u8> {
        let mut left = self.in_use;
        core::iter::from_fn(move || {
            let size = u8::try_from(left.trailing_zeros()).ok().filter(|_| left != 0)?;
            left &= left - 1;
            Some(size)
        })
    }

    /// About how many cells an area reaches, of all sizes; not a number where the area is none.
    fn cells_about(&self, area: &Aabb) -> f32 {
        let number = |size: u8| {
            // One more on each axis for what reaches in from before it, and one for the cell that it ends in.
            let across = area.size() * (1.0 / width(size)) + 2.0;
            across.x * across.y
        };
        self.sizes().map(number).sum()
    }

    fn cell_of(&self, bounds: &Aabb) -> Cell {
        let size = size_for(bounds.size().max_element()).max(self.least);
        let corner = number(bounds.min, size);
        Cell { size, column: corner.0, row: corner.1 }
    }

    fn link(&mut self, place: u32, cell: Cell) {
        let head = self.head(cell);
        self.counts[usize::from(cell.size)] += 1;
        self.in_use |= 1 << cell.size;
        let leaf = &mut self.leaves[place as usize];
        (leaf.cell, leaf.next) = (cell, self.heads[head]);
        self.heads[head] = place;
    }

    /// Finds the smallest size anew, and puts all leaves in order and links them again.
    fn rebuild(&mut self) {
        self.found_for = self.len();
        self.least = self.natural_size();
        self.bounds = self.leaves.iter().fold(EMPTY, |all, leaf| together(all, leaf.bounds));
        self.counts.fill(0);
        self.in_use = 0;
        self.layout = Layout::of(&self.bounds, self.least, self.len());
        self.heads.clear();
        self.heads.resize(1 << (self.layout.across + self.layout.down), NONE);
        let mut leaves = core::mem::take(&mut self.leaves);
        leaves.iter_mut().for_each(|leaf| leaf.cell = self.cell_of(&leaf.bounds));
        leaves.sort_unstable_by_key(|leaf| (leaf.cell.size, leaf.cell.row, leaf.cell.column, leaf.slot));
        self.leaves = leaves;
        // From the last on, so that each chain runs forward.
        for place in (0..u32::try_from(self.len()).unwrap_or(NONE)).rev() {
            let Leaf { slot, cell, .. } = self.leaves[place as usize];
            self.places[slot as usize] = place;
            self.link(place, cell);
        }
    }

    /// The largest size with five cells or more that hold an obstacle for each eight places where obstacles stand: one
    /// cell for each of them, or as many as are in use where they are strewn at random. A few that stand far off do not
    /// matter, nor how far crowds are from each other.
    fn natural_size(&self) -> u8 {
        let middle = |axis: usize| {
            let mut places: Vec<f32> = self.leaves.iter().map(|leaf| leaf.bounds.min[axis]).collect();
            places.sort_unstable_by(f32::total_cmp);
            let far_off = places.len() / FAR_OFF;
            let place = |at: usize| places.get(at).copied().map_or(0.0, f64::from);
            (place(far_off), place((places.len() - far_off).saturating_sub(1)))
        };
        let ((left, right), (top, bottom)) = (middle(0), middle(1));
        #[expect(clippy::cast_possible_truncation, reason = "a size to choose among powers of two")]
        let finest = size_for(((right - left).max(bottom - top) / f64::from(u32::MAX)) as f32);
        let per_cell = 1.0 / f64::from(width(finest));
        let mut paths: Vec<u64> = self
            .leaves
            .iter()
            .map(|Leaf { bounds: Aabb { min, .. }, .. }| {
                path((f64::from(min.x) - left) * per_cell, (f64::from(min.y) - top) * per_cell)
            })
            .collect();
        paths.sort_unstable();
        // Of two neighbours on the path that winds through all cells, the first size whose cell holds both.
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

    /// Which chain a cell's obstacles are in.
    fn head(&self, cell: Cell) -> usize {
        let above = cell.size.saturating_sub(self.least);
        self.head_in_row(self.layout.row(cell.row, above), cell.column, above)
    }

    /// The same for a row that is known to begin somewhere.
    fn head_in_row(&self, begins: usize, column: i32, above: u8) -> usize {
        begins.wrapping_add(self.layout.column(column, above)) & (self.heads.len() - 1)
    }
}

/// Which cells share a chain: none of the smallest size among the first columns and rows, so that neighbours lie side
/// by side and are told apart by their place alone. What lies beyond, or is larger, is scattered over the same table.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Layout {
    /// The first column and row, of the smallest size.
    first: (i32, i32),
    /// Columns and rows, as powers of two.
    across: u32,
    down: u32,
}

impl Layout {
    /// For so many obstacles that lie in a box.
    fn of(bounds: &Aabb, least: u8, count: usize) -> Self {
        let (first, last) = (number(bounds.min, least), number(bounds.max, least));
        let powers = |first: i32, last: i32, most: u32| {
            (first.abs_diff(last).checked_ilog2().map_or(0, |power| power + 1)).min(most)
        };
        let most = (HEADS_PER_OBSTACLE * count.max(FEWEST)).ilog2().min(MOST_POWERS);
        let across = powers(first.0, last.0, most);
        Self { first, across, down: powers(first.1, last.1, most - across) }
    }

    /// Where the columns of a row of cells begin whose size is so many steps above the smallest.
    fn row(&self, row: i32, above: u8) -> usize {
        let row = from_first(row, self.first.1, above);
        let beyond = u64::from(row >> self.down ^ u32::from(above) << 24);
        let scattered = beyond.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 32;
        ((row as usize & ((1 << self.down) - 1)) << self.across).wrapping_add(scattered as usize)
    }

    /// How far from there a column is.
    fn column(&self, column: i32, above: u8) -> usize {
        from_first(column, self.first.0, above) as usize
    }
}

/// The number of a column or row as counted from the first one, which is told in cells of the smallest size.
fn from_first(number: i32, first: i32, above: u8) -> u32 {
    bits(number.wrapping_sub(first >> above.min(31)))
}

/// The path to a cell, from the largest that holds it to itself: the bits of its column and row in turn (the order of
/// G. M. Morton, 1966). Cells whose paths begin alike lie in one larger cell, and a sorted list has them side by side.
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

fn together(a: Aabb, b: Aabb) -> Aabb {
    Aabb { min: a.min.min(b.min), max: a.max.max(b.max) }
}

fn bits(number: i32) -> u32 {
    u32::from_ne_bytes(number.to_ne_bytes())
}

/// The smallest size whose cells are at least this wide: one more than its exponent, unless it is a power of two.
fn size_for(extent: f32) -> u8 {
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

fn width(size: u8) -> f32 {
    WIDTHS[usize::from(size)]
}

/// The column and row of the cell that a point lies in; far out they stop to grow.
fn number(point: Vec2, size: u8) -> (i32, i32) {
    // One by a power of two is exact, too.
    let at = point.as_dvec2() * (1.0 / f64::from(width(size)));
    tile(floor(at.x), floor(at.y)).into()
}

/// The first and last column and row of the cells whose obstacles may reach into an area.
fn range(size: u8, area: &Aabb) -> ((i32, i32), (i32, i32)) {
    let width = Vec2::splat(width(size));
    (number(area.min - width, size), number(area.max, size))
}
