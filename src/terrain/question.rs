//! The questions that travel asks of anything that can block.

use glam::Vec2;

use super::hit::{Hit, Side, Wall};
use super::support::joined_support;
use super::{Layers, Minds};
use crate::intent::YAxis;
use crate::shape::{Aabb, Footprint, Solid, outline_of, overlap, sweep_with_side};
use crate::tolerance::HELD_GAP;

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
/// the start does not hold it back. Every question says which walls are minded.
///
/// A map of your own only tells which walls reach into an area; the other questions are answered from
/// that, and may be answered faster.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::{Aabb, Solid};
/// use ambulant::terrain::{FoundWall, Layers, Minds, Side, Terrain, Wall};
///
/// /// A pond in the middle of the world.
/// struct Pond;
///
/// impl Terrain for Pond {
///     fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall)) {
///         let solid = Solid::Circle { center: Vec2::ZERO, radius: 3.0 };
///         let found = FoundWall { wall: Wall::Tile(IVec2::ZERO), layers: Layers::FIRST, solid };
///         if minds.wall(found.wall, found.layers) && solid.bounds().overlaps(&area) {
///             see(found);
///         }
///     }
/// }
///
/// let hit = Pond.sweep(&Footprint::circle(1.0)?, vec2(-10.0, 0.0), vec2(12.0, 0.0), &Minds::ALL).unwrap();
/// assert_eq!((hit.position, hit.side), (vec2(-4.0, 0.0), Side::Left));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub trait Terrain {
    /// Shows every minded wall whose box reaches into an area, and perhaps some near it, always in the
    /// same order.
    fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall));

    /// Which way y grows; only the names of sides depend on it.
    fn y_axis(&self) -> YAxis {
        YAxis::Down
    }

    /// The first wall that a footprint would enter on its way from `from` along `displacement`.
    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, minds: &Minds<'_>) -> Option<Hit> {
        let mut first = Foremost::default();
        self.walls_in(ground(footprint, from, displacement), minds, &mut |found| {
            first.consider(footprint, from, displacement, &found);
        });
        first.hit(self.y_axis())
    }

    /// For a footprint that touches a wall with this normal: the fraction of a displacement along
    /// the wall, 0 to 1, for which it goes on touching that wall or one flush with it.
    fn support(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        minds: &Minds<'_>,
    ) -> f32 {
        let area = ground(footprint, from, displacement);
        let walls = |see: &mut dyn FnMut(crate::shape::Outline)| {
            self.walls_in(area, minds, &mut |found| see(outline_of(footprint, &found.solid).wider(HELD_GAP)));
        };
        joined_support(walls, footprint.middle(from), displacement, normal)
    }

    /// Whether a footprint at a position overlaps a wall by more than the touch tolerance.
    fn overlaps(&self, footprint: &Footprint, at: Vec2, minds: &Minds<'_>) -> bool {
        let mut overlaps = false;
        self.walls_in(ground(footprint, at, Vec2::ZERO), minds, &mut |found| {
            overlaps = overlaps || overlap(footprint, at, &found.solid).is_some();
        });
        overlaps
    }

    /// Whether nothing is on a footprint's way, and nothing where it starts, so that none of what the footprint holds
    /// meets anything either.
    ///
    /// Walls that may be left where they cannot be entered are no hit for whom they hold already, but for what lies inside of
    /// it they are: a terrain that has some answers `false` near them. So may any terrain that would take long to find out.
    fn is_clear(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, minds: &Minds<'_>) -> bool {
        !self.overlaps(footprint, from, minds) && self.sweep(footprint, from, displacement, minds).is_none()
    }
}

/// One wall alone is a terrain, too.
impl Terrain for FoundWall {
    fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall)) {
        if self.solid.bounds().overlaps(&area) && minds.wall(self.wall, self.layers) {
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

/// The first of several walls to be met.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Foremost(Option<(crate::shape::Touch, bool, Wall, Layers)>);

impl Foremost {
    /// Takes a wall into account; of walls met at once the one that was considered first is kept.
    pub(super) fn consider(
        &mut self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        found: &FoundWall,
    ) {
        let Some((touch, flat)) = sweep_with_side(footprint, from, displacement, &found.solid) else {
            return;
        };
        // Of two walls met at once a flat side counts before a corner: between flush walls the
        // corner is not there.
        let earlier = self.0.is_none_or(|(known, known_flat, wall, _)| {
            let before = (touch.fraction, !flat) < (known.fraction, !known_flat);
            let same = (touch.fraction, flat) == (known.fraction, known_flat);
            before || same && in_order(found.wall, wall)
        });
        if earlier {
            self.0 = Some((touch, flat, found.wall, found.layers));
        }
    }

    /// How much of the way is free so far.
    pub(super) fn fraction(&self) -> f32 {
        self.0.map_or(1.0, |(touch, ..)| touch.fraction)
    }

    pub(super) fn hit(&self, y_axis: YAxis) -> Option<Hit> {
        self.0.map(|(touch, _, wall, layers)| Hit {
            fraction: touch.fraction,
            position: touch.position,
            point: touch.point,
            normal: touch.normal,
            side: Side::facing(touch.normal, y_axis),
            wall,
            layers,
        })
    }
}

/// Whether the first of two walls met at once is the one to tell, whatever order they were found in:
/// of obstacles the one in the lower slot.
fn in_order(first: Wall, second: Wall) -> bool {
    match (first, second) {
        (Wall::Obstacle(first), Wall::Obstacle(second)) => first < second,
        _ => false,
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
) -> Foremost {
    let mut first = Foremost::default();
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
        if f64::from(first.fraction()) <= end || end >= last || end <= start {
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
