//! The questions that travel asks of anything that can block.

use glam::Vec2;

use super::exposed::exposed;
use super::hit::{Hit, Wall};
use super::support::joined_support;
use super::{Layers, WallFilter};
use crate::direction::{Side, YAxis};
use crate::shape::{Aabb, Feature, Footprint, Met, Solid, outline_of, overlap, sweep_exactly, tolerance};

/// A wall that stands somewhere: what it is, its layers and its shape.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct FoundWall {
    /// Which wall.
    pub wall: Wall,
    /// The layers that it lies on.
    pub layers: Layers,
    /// Its shape.
    pub solid: Solid,
}

/// Anything that can block a footprint.
///
/// The rules that travel relies on: touching is not overlapping; touching and moving along or away
/// is no hit; touching and moving in is a hit at fraction 0; a wall that the footprint overlaps at
/// the start does not hold it back. Every question says which walls count.
///
/// A map of your own only tells which walls reach into an area; the other questions are answered from
/// that, and may be answered faster.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::{Aabb, Solid};
/// use ambulant::direction::Side;
/// use ambulant::terrain::{FoundWall, Layers, WallFilter, Terrain, Wall};
///
/// /// A pond in the middle of the world.
/// struct Pond;
///
/// impl Terrain for Pond {
///     fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
///         let solid = Solid::Circle { center: Vec2::ZERO, radius: 3.0 };
///         let found = FoundWall { wall: Wall::Tile(IVec2::ZERO), layers: Layers::FIRST, solid };
///         if filter.wall(found.wall, found.layers) && solid.bounds().overlaps(&area) {
///             see(found);
///         }
///     }
/// }
///
/// let hit = Pond.sweep(&Footprint::circle(1.0)?, vec2(-10.0, 0.0), vec2(12.0, 0.0), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.position, hit.side), (vec2(-4.0, 0.0), Side::Left));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub trait Terrain {
    /// Shows every wall that counts whose box reaches into an area, and perhaps some near it, always in the
    /// same order.
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall));

    /// Which way y grows; only the names of sides depend on it.
    fn y_axis(&self) -> YAxis {
        YAxis::Down
    }

    /// The first wall that a footprint would enter on its way from `from` along `displacement`.
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let mut first = FirstHit::default();
        self.walls_in(ground(footprint, from, displacement), filter, &mut |found| {
            first.consider(footprint, from, displacement, &found);
        });
        first.hit(self, footprint, displacement, filter)
    }

    /// For a footprint that touches a wall with this normal: the fraction of a displacement along
    /// the wall, 0 to 1, for which it goes on touching that flat side or one flush with it.
    fn support(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let area = ground(footprint, from, displacement);
        let walls = |see: &mut dyn FnMut(crate::shape::Outline)| {
            self.walls_in(area, filter, &mut |found| see(outline_of(footprint, &found.solid)));
        };
        let middle = footprint.middle(from);
        joined_support(walls, middle, displacement, normal, tolerance(footprint, middle))
    }

    /// Whether nothing here is round to a footprint, neither a wall nor the footprint itself. A terrain that does not know
    /// answers `false`, which only takes longer.
    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        let _ = footprint;
        false
    }

    /// Whether a footprint at a position overlaps a wall by more than the touch tolerance.
    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        let mut overlaps = false;
        self.walls_in(ground(footprint, at, Vec2::ZERO), filter, &mut |found| {
            overlaps = overlaps || overlap(footprint, at, &found.solid).is_some();
        });
        overlaps
    }

    /// Whether nothing is on a footprint's way, and nothing where it starts, so that none of what the footprint holds
    /// meets anything either.
    ///
    /// Walls that may be left where they cannot be entered are no hit for whom they hold already, but for what lies inside of
    /// it they are: a terrain that has some answers `false` near them. So may any terrain that would take long to find out.
    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        !self.overlaps(footprint, from, filter) && self.sweep(footprint, from, displacement, filter).is_none()
    }
}

/// One wall alone is a terrain, too.
impl Terrain for FoundWall {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        if self.solid.bounds().overlaps(&area) && filter.wall(self.wall, self.layers) {
            see(*self);
        }
    }
}

/// The ground that a footprint passes over, with room for what counts as touching and for what holds.
pub(crate) fn ground(footprint: &Footprint, from: Vec2, displacement: Vec2) -> Aabb {
    ground_between(footprint, from, from + displacement)
}

fn ground_between(footprint: &Footprint, from: Vec2, to: Vec2) -> Aabb {
    let (start, end) = (footprint.at(from), footprint.at(to));
    let way = Aabb { min: start.min.min(end.min), max: start.max.max(end.max) };
    let room = Vec2::splat(0.01) + way.min.abs().max(way.max.abs()) * 1e-6;
    Aabb { min: way.min - room, max: way.max + room }
}

/// The first of several walls to be met: a flat side and a corner apart, since which of them counts is decided when all
/// walls are known.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct FirstHit {
    side: Option<(Met, FoundWall)>,
    corner: Option<(Met, FoundWall)>,
}

impl FirstHit {
    /// Takes a wall into account. The result does not depend on the order: of two walls met at the same fraction the more
    /// head-on one is kept, then the one whose bounds come first.
    pub(super) fn consider(
        &mut self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        found: &FoundWall,
    ) {
        let outline = outline_of(footprint, &found.solid);
        let Some(met) = sweep_exactly(footprint, from, displacement, &outline) else { return };
        let slot = if met.feature == Feature::Side { &mut self.side } else { &mut self.corner };
        if slot.as_ref().is_none_or(|(known, wall)| {
            met.at < known.at || met.at == known.at && precedes((&met, found), (known, wall), displacement)
        }) {
            *slot = Some((met, *found));
        }
    }

    /// How much of the displacement is free so far.
    pub(super) fn fraction(&self) -> f64 {
        let free = |met: &Option<(Met, FoundWall)>| met.map_or(1.0, |(met, _)| met.at);
        free(&self.side).min(free(&self.corner))
    }

    /// The first hit; a sharp corner is decided by all walls near it, which `terrain` shows.
    pub(super) fn hit(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let hit = |(met, found): (Met, FoundWall)| found.hit(footprint, &met, terrain.y_axis());
        let first = match (self.side.map(hit), self.corner.map(hit)) {
            (Some(side), Some(corner)) => side.first(corner, displacement),
            (side, corner) => side.or(corner)?,
        };
        Some(exposed(terrain, footprint, displacement, filter, first))
    }
}

/// Which of two walls met at the same fraction counts.
fn precedes(one: (&Met, &FoundWall), other: (&Met, &FoundWall), displacement: Vec2) -> bool {
    let inward = |met: &Met| -displacement.as_dvec2().dot(met.normal);
    let (first, second) = (inward(one.0), inward(other.0));
    let bounds = |wall: &FoundWall| {
        let Aabb { min, max } = wall.solid.bounds();
        [min.x, min.y, max.x, max.y]
    };
    first > second || first == second && bounds(one.1) < bounds(other.1)
}

impl FoundWall {
    /// A touch with this wall as a hit.
    pub(super) fn hit(&self, footprint: &Footprint, met: &Met, y_axis: YAxis) -> Hit {
        let touch = met.rounded(footprint, &self.solid);
        Hit {
            fraction: touch.fraction,
            position: touch.position,
            point: touch.point,
            normal: touch.normal,
            side: Side::facing(touch.normal, y_axis),
            wall: self.wall,
            layers: self.layers,
            exact: met.into(),
        }
    }
}

/// Sweeps a long way in stretches, so that only walls near it are looked at; the way is cut to where it
/// comes near an area.
pub(super) fn sweep_in_stretches(
    footprint: &Footprint,
    from: Vec2,
    way: Vec2,
    stretch: f32,
    area: Aabb,
    walls: impl Fn(Aabb, &mut dyn FnMut(FoundWall)),
) -> FirstHit {
    let mut first = FirstHit::default();
    let Some((mut start, last)) = part_near(area, footprint, from, way) else { return first };
    // Nothing is won by stretches shorter than what goes along them, nor by more of them than anybody waits for.
    let stretch = f64::from(stretch.max(footprint.size().max_element()));
    let part = (stretch / way.as_dvec2().length().max(stretch)).max((last - start) / MOST_STRETCHES);
    let at = |part: f64| (from.as_dvec2() + way.as_dvec2() * part).as_vec2();
    loop {
        let end = (start + part).min(last);
        walls(ground_between(footprint, at(start), at(end)), &mut |found| {
            first.consider(footprint, from, way, &found);
        });
        // From far away a stretch may be lost in the rounding of the way.
        if first.fraction() <= end || end >= last || end <= start {
            return first;
        }
        start = end;
    }
}

/// The part of a way, from and to, on which a footprint may touch what lies in an area.
fn part_near(area: Aabb, footprint: &Footprint, from: Vec2, way: Vec2) -> Option<(f64, f64)> {
    if !from.is_finite() || !way.is_finite() {
        return None;
    }
    let here = ground(footprint, from, Vec2::ZERO);
    let (low, high) = ((area.min - here.max).as_dvec2(), (area.max - here.min).as_dvec2());
    let (mut first, mut last) = (0.0f64, 1.0f64);
    for axis in 0..2 {
        let along = f64::from(way[axis]);
        if along == 0.0 {
            if low[axis] > 0.0 || high[axis] < 0.0 {
                return None;
            }
            continue;
        }
        let (a, b) = (low[axis] / along, high[axis] / along);
        (first, last) = (first.max(a.min(b)), last.min(a.max(b)));
    }
    // A hair more on both ends for the rounding of the two differences.
    let (first, last) = ((first - SOONER).max(0.0), (last + SOONER).min(1.0));
    (first <= last).then_some((first, last))
}

/// The most stretches of one way.
pub(super) const MOST_STRETCHES: f64 = 4096.0;

/// How much sooner than necessary a way is looked at, as a part of it.
const SOONER: f64 = 1e-6;
