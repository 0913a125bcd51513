//! Finds obstacles near an area: a table of square cells of several sizes.
//!
//! Each obstacle is in one cell: of the smallest size that is not smaller than the obstacle, the cell of its lower
//! corner. A query looks at the cells that its area reaches, for each size in use. The smallest size follows from how
//! densely the obstacles stand and is found anew when their number doubles, so there is nothing to tune.

use alloc::vec::Vec;

use glam::Vec2;

use super::layout::{FEWEST, Layout};
use super::sizes::{SIZES, natural_size, number, range, size_for, width};
use crate::shape::Aabb;
use crate::terrain::layers::Layers;

/// The end of a chain.
const NONE: u32 = u32::MAX;
/// A cell: which size, column and row.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
struct Cell {
    size: u8,
    column: i32,
    row: i32,
}

/// The entry of an obstacle.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Leaf {
    bounds: Aabb,
    layers: Layers,
    cell: Cell,
    slot: u32,
    /// The next leaf of the chain.
    next: u32,
}

/// The obstacles by cell, as numbers of their slots.
#[derive(Debug, Clone, PartialEq)]
pub(in crate::terrain) struct Cells {
    /// The first entry of each chain.
    heads: Vec<u32>,
    layout: Layout,
    /// In the order of their cells when the smallest size was found: neighbours lie together.
    leaves: Vec<Leaf>,
    /// The leaf of each slot.
    places: Vec<u32>,
    /// How many obstacles there are of each size; empty until there is one.
    counts: Vec<u32>,
    /// One bit for each size in use.
    in_use: u64,
    /// The number of obstacles that the smallest size was found for.
    found_for: usize,
    least: u8,
    /// A box around all obstacles; it shrinks only when the smallest size is found anew.
    bounds: Aabb,
}

/// An empty box.
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

    /// Adds an obstacle or moves it.
    pub(in crate::terrain) fn put(&mut self, slot: u32, bounds: Aabb, layers: Layers) {
        self.counts.resize(SIZES, 0);
        let cell = self.cell_of(&bounds);
        self.bounds = self.bounds.joined(&bounds);
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

    /// Removes an obstacle.
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

    /// The slots whose boxes reach into an area and that `wanted` accepts.
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
        if !self.may_reach(area) {
            return;
        }
        // NaN counts as many.
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

    /// Whether some of them may reach into an area; one that only touches it counts.
    #[inline]
    pub(in crate::terrain) fn may_reach(&self, area: &Aabb) -> bool {
        self.bounds.min.cmple(area.max).all() && area.min.cmple(self.bounds.max).all()
    }

    /// A box around all obstacles.
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

    /// About how many cells an area reaches, over all sizes; NaN if the area is not a box.
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

    /// Finds the smallest size anew, sorts all entries and links them again.
    fn rebuild(&mut self) {
        self.found_for = self.len();
        self.least = natural_size(self.leaves.iter().map(|leaf| &leaf.bounds.min));
        self.bounds = self.leaves.iter().fold(EMPTY, |all, leaf| all.joined(&leaf.bounds));
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
