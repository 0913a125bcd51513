//! A terrain as seen from a frame that moves evenly: from a wall that moves, so that this wall stands and all others
//! move.
//!
//! At the start of a query, the frame and the world coincide. So only displacements and velocities differ, and what a
//! hit says about later.

use glam::{DVec2, Vec2};

use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};
use crate::terrain::{FoundWall, Hit, Terrain, WallFilter};
use crate::tolerance::MOST_AT_ROUND;
use crate::travel::{ALONG_F32, Passed};

/// A terrain seen from a frame.
pub(super) struct Framed<'a> {
    pub(super) terrain: &'a dyn Terrain,
    /// The velocity of the frame, in units/s.
    pub(super) frame: Vec2,
}

impl Framed<'_> {
    /// A displacement in the frame as one in the world.
    fn in_world(&self, displacement: Vec2, filter: &WallFilter<'_>) -> Vec2 {
        displacement + self.frame * filter.seconds()
    }
}

impl Terrain for Framed<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        let by = self.in_world(Vec2::ZERO, filter);
        let area = Aabb { min: area.min + by.min(Vec2::ZERO), max: area.max + by.max(Vec2::ZERO) };
        self.terrain.walls_in(area, filter, &mut |found| {
            let velocity = found.velocity - self.frame;
            see(found.with_velocity(velocity));
        });
    }

    fn y_axis(&self) -> YAxis {
        self.terrain.y_axis()
    }

    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let in_world = self.in_world(displacement, filter);
        let mut passed = Passed::<MOST_AT_ROUND>::none();
        loop {
            let others =
                passed.others(WallFilter::ALL.exactly_during(filter.exact_start(), filter.exact_seconds()));
            let others = &filter.and(&others);
            let counts = if passed.is_empty() { filter } else { others };
            let hit = self.terrain.sweep(footprint, from, in_world, counts)?;
            // Along a wall that stands in the frame, only the displacement in the frame is free of rounding.
            let stands = hit.velocity == self.frame && hit.exact.at == 0.0;
            let runs_along = || displacement.dot(hit.normal) >= -ALONG_F32 * displacement.length();
            if !stands || !runs_along() || passed.is_full() {
                return Some(hit.seen_from(self.frame, filter.seconds()));
            }
            passed.add(hit.wall);
        }
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.terrain.is_flat_to(footprint)
    }

    fn has_surfaces(&self) -> bool {
        self.terrain.has_surfaces()
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        self.terrain.surface_at(point, time)
    }

    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.terrain.floor_moves_at(point, time)
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        self.terrain.has_one_surface(way, reach, times)
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        self.terrain.overlaps(footprint, at, filter)
    }

    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.terrain.is_clear(footprint, from, self.in_world(displacement, filter), filter)
    }
}
