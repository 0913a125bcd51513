//! Where a footprint can get to, and where it can get back from: the places of a lattice, joined where a
//! straight step between neighbours is free.

use ambulant::shape::Footprint;
use ambulant::terrain::{Terrain, WallFilter};
use glam::{IVec2, Vec2};

/// A lattice of places for the middle of a footprint, column by row from a map's lower corner.
pub(super) struct Lattice {
    corner: Vec2,
    spacing: Vec2,
    columns: usize,
    rows: usize,
    /// From the footprint's middle to the position that calls take.
    offset: Vec2,
}

/// The most places of a lattice; a large map gets a coarser one.
const MOST_PLACES: f32 = 400_000.0;
/// Places for each tile on each axis, with one in its middle: as even divisions of the tile.
const FINE: [u8; 3] = [8, 4, 2];

impl Lattice {
    /// The finest lattice that a map has room for.
    pub(super) fn over(size: IVec2, tile: Vec2, corner: Vec2, footprint: &Footprint) -> Self {
        let area = size.x as f32 * size.y as f32;
        let fits = |parts: &u8| area * f32::from(*parts) * f32::from(*parts) <= MOST_PLACES;
        let parts = FINE.into_iter().find(fits).unwrap_or(FINE[2]);
        let number = |tiles: i32| (tiles.unsigned_abs() as usize) * usize::from(parts) + 1;
        Self {
            corner,
            spacing: tile / f32::from(parts),
            columns: number(size.x),
            rows: number(size.y),
            offset: -footprint.at(Vec2::ZERO).center(),
        }
    }

    /// How many places there are.
    pub(super) fn len(&self) -> usize {
        self.columns * self.rows
    }

    /// The position for a place.
    pub(super) fn position(&self, place: usize) -> Vec2 {
        self.middle(place) + self.offset
    }

    /// The footprint's middle at a place.
    pub(super) fn middle(&self, place: usize) -> Vec2 {
        let (column, row) = (place % self.columns, place / self.columns);
        self.corner + Vec2::new(column as f32, row as f32) * self.spacing
    }

    /// The places round a position, the nearest first.
    fn round(&self, position: Vec2) -> Vec<usize> {
        let off = (position - self.offset - self.corner) / self.spacing;
        #[expect(clippy::cast_possible_truncation, reason = "`as` saturates")]
        let (column, row) = (off.x.floor() as i64, off.y.floor() as i64);
        let mut places: Vec<usize> = (-1..=2)
            .flat_map(|down| (-1..=2).map(move |right| (column + right, row + down)))
            .filter_map(|(column, row)| {
                let (column, row) = (usize::try_from(column).ok()?, usize::try_from(row).ok()?);
                (column < self.columns && row < self.rows).then_some(row * self.columns + column)
            })
            .collect();
        let far = |place: &usize| self.position(*place).distance_squared(position);
        places.sort_by(|a, b| far(a).total_cmp(&far(b)));
        places
    }

    fn neighbours(&self, place: usize) -> impl Iterator<Item = usize> {
        let (column, row) = (place % self.columns, place / self.columns);
        [
            (column > 0).then(|| place - 1),
            (column + 1 < self.columns).then(|| place + 1),
            (row > 0).then(|| place - self.columns),
            (row + 1 < self.rows).then(|| place + self.columns),
        ]
        .into_iter()
        .flatten()
    }
}

/// The places where a mover overlaps nothing, those that it can get to, and those from which it can come back.
pub(super) struct Reach {
    pub(super) clear: Vec<bool>,
    pub(super) there: Vec<bool>,
    pub(super) back: Vec<bool>,
}

/// Walks from a start over all of a lattice.
pub(super) fn reach(lattice: &Lattice, terrain: &impl Terrain, footprint: &Footprint, start: Vec2) -> Reach {
    // A step that ends against a wall is a free one.
    let free = |from: Vec2, to: Vec2| {
        let hit = terrain.sweep(footprint, from, to - from, &WallFilter::ALL);
        hit.is_none_or(|hit| hit.fraction >= 1.0)
    };
    let clear: Vec<bool> = (0..lattice.len())
        .map(|place| !terrain.overlaps(footprint, lattice.position(place), &WallFilter::ALL))
        .collect();
    let near = lattice.round(start);
    let first: Vec<usize> =
        near.iter().copied().filter(|place| clear[*place] && free(start, lattice.position(*place))).collect();
    // From a place whose neighbours can be got to, one gets home by one of them.
    let there = flood(lattice, &clear, &first, |from, to| free(lattice.position(from), lattice.position(to)));
    let last: Vec<usize> =
        near.into_iter().filter(|place| clear[*place] && free(lattice.position(*place), start)).collect();
    let back = flood(lattice, &clear, &last, |to, from| free(lattice.position(from), lattice.position(to)));
    Reach { clear, there, back }
}

fn flood(
    lattice: &Lattice,
    clear: &[bool],
    first: &[usize],
    joined: impl Fn(usize, usize) -> bool,
) -> Vec<bool> {
    let mut reached = vec![false; clear.len()];
    let mut open: Vec<usize> = first.to_vec();
    first.iter().for_each(|place| reached[*place] = true);
    while let Some(place) = open.pop() {
        for next in lattice.neighbours(place) {
            if clear[next] && !reached[next] && joined(place, next) {
                reached[next] = true;
                open.push(next);
            }
        }
    }
    reached
}
