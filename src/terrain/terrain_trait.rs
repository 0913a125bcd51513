//! The trait for anything that can block.

use glam::{DVec2, Vec2};

use super::continues::joined;
use super::filter::WallFilter;
use super::first_hit::FirstHit;
use super::found::FoundWall;
use super::hit::Hit;
use super::play_area::PlayArea;
use super::swept_area::swept_area;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint, tolerance};

/// Anything that can block a footprint.
///
/// The rules for all terrains: touching is not overlapping; touching and moving along or away is no hit; touching and
/// moving in is a hit at fraction 0; walls that overlap at the start are ignored. Every query takes a filter.
///
/// For a map of your own, implement [`walls_in`](Self::walls_in); the other queries follow from it. Override them if
/// you can answer faster.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Side;
/// use ambulant::terrain::{FoundWall, Layers, WallFilter, Terrain, Wall};
///
/// /// A pond in the middle of the world.
/// struct Pond(Solid);
///
/// impl Terrain for Pond {
///     fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
///         let found = FoundWall::new(Wall::Own(0), self.0);
///         if filter.wall(found.wall, found.layers) && self.0.bounds().overlaps(&area) {
///             see(found);
///         }
///     }
/// }
///
/// let pond = Pond(Solid::circle(Vec2::ZERO, 3.0)?);
/// let hit = pond.sweep(&Footprint::circle(1.0)?, vec2(-10.0, 0.0), vec2(12.0, 0.0), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.position, hit.side), (vec2(-4.0, 0.0), Side::Left));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub trait Terrain {
    /// Calls `see` for every wall that passes the filter and whose bounding box reaches into an area, perhaps also
    /// for walls near it, always in the same order.
    ///
    /// A wall that moves is shown with its velocity, where it is at the [start](WallFilter::start) of the query, if it
    /// reaches into the area within its [seconds](WallFilter::seconds).
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall));

    /// The direction in which y grows; only the names of sides depend on it.
    fn y_axis(&self) -> YAxis {
        YAxis::Down
    }

    /// The first wall that a footprint would enter from `from` along `displacement`.
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let mut first = FirstHit::during(filter);
        self.walls_in(swept_area(footprint, from, displacement), filter, &mut |found| {
            first.consider(footprint, from, displacement, &found);
        });
        let surface = filter.of_surface();
        let walls = |area: Aabb, part: f64, see: &mut dyn FnMut(FoundWall)| {
            self.walls_in(area, &surface.after_part(part), see);
        };
        first.hit(walls, self.y_axis(), footprint, displacement)
    }

    /// For a footprint that touches a wall with this normal: the fraction of a displacement along the wall, 0 to 1,
    /// for which that flat side, or one flush with it, continues. Walls that move do not count.
    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let area = swept_area(footprint, from, displacement);
        let walls = |see: &mut dyn FnMut(crate::shape::Outline)| {
            self.walls_in(area, filter, &mut |found| {
                if !found.moves() {
                    see(found.outline(footprint));
                }
            });
        };
        let middle = footprint.middle(from);
        joined(walls, middle, displacement, normal, tolerance(footprint, middle))
    }

    /// Whether nothing here is round to a footprint, neither a wall nor the footprint itself. `false` is always
    /// correct, but slower.
    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        let _ = footprint;
        false
    }

    /// Whether some wall may move in this tick. `true` is always correct, but slower.
    fn has_moving_walls(&self) -> bool {
        true
    }

    /// Whether a footprint meets a wall that moves, or overlaps one at its start, or touches one there that takes it along or is
    /// going to.
    /// `true` is always correct, but slower.
    fn meets_moving_wall(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        let (mut meets, mut first) = (false, FirstHit::during(filter));
        self.walls_in(swept_area(footprint, from, displacement), filter, &mut |found| {
            meets = meets || found.is_going_to_move() && found.carries && found.touches(footprint, from);
            if found.moves() {
                meets = meets || found.overlaps(footprint, from);
                first.consider(footprint, from, displacement, &found);
            }
        });
        meets || first.is_any()
    }

    /// Whether some surface is not plain. `true` is always correct, but slower.
    fn has_surfaces(&self) -> bool {
        false
    }

    /// The surface at a point after so many seconds of the tick: what the floor does to a mover whose middle is there. The point is
    /// that of the mover before rounding, so that where it crosses a border does not depend on how it is rounded.
    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        let _ = (point, time);
        Surface::PLAIN
    }

    /// The velocity of the floor at a point, in units/s, as far as its borders move with it; zero for a floor that does not
    /// move as a whole, such as a belt.
    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        let _ = (point, time);
        Vec2::ZERO
    }

    /// Whether the surface is the same everywhere within a reach, along x and y, of a point that moves evenly from one place to
    /// another between two instants, in seconds into the tick; a mover looks for borders where it is not. Borders lie along x or
    /// y. `false` is always correct, but slower.
    fn has_one_surface(&self, [from, to]: [DVec2; 2], reach: Vec2, [since, until]: [f64; 2]) -> bool {
        let _ = (from, to, reach, since, until);
        !self.has_surfaces()
    }

    /// The play area, if there is one: its sides can be crossed by balls and projectiles.
    fn edges(&self) -> Option<&PlayArea> {
        None
    }

    /// Whether a footprint at a position overlaps a wall by more than the touch tolerance.
    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        let mut overlaps = false;
        self.walls_in(swept_area(footprint, at, Vec2::ZERO), filter, &mut |found| {
            overlaps = overlaps || found.overlaps(footprint, at);
        });
        overlaps
    }

    /// Whether a footprint meets nothing on its path and overlaps nothing at its start.
    ///
    /// A wall that can be left but not entered is ignored for a footprint that overlaps it, but can block a smaller
    /// one inside; so a terrain with such walls returns `false` near them. `false` is always correct, but slower.
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

/// A single wall is a terrain too. If it moves, its shape is that at the start of the tick.
impl Terrain for FoundWall {
    fn has_moving_walls(&self) -> bool {
        self.moves()
    }

    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        let now = self.later(filter.exact_start());
        let (here, by) = (now.bounds(), self.velocity * filter.seconds());
        let passed = Aabb { min: here.min + by.min(Vec2::ZERO), max: here.max + by.max(Vec2::ZERO) };
        if passed.overlaps(&area) && filter.wall(self.wall, self.layers) {
            see(now);
        }
    }
}
