//! A terrain from some time of a tick on.

use glam::{DVec2, Vec2};

use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};
use crate::terrain::{FoundWall, Hit, Terrain, WallFilter};

/// A terrain whose time counts from an instant of the tick on.
pub(crate) struct Later<'a> {
    pub(crate) terrain: &'a dyn Terrain,
    /// The instant, in seconds into the tick.
    pub(crate) by: f64,
}

impl Later<'_> {
    fn in_tick<'a>(&self, filter: &WallFilter<'a>) -> WallFilter<'a> {
        filter.exactly_during(filter.exact_start() + self.by, filter.exact_seconds())
    }
}

impl Terrain for Later<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.terrain.walls_in(area, &self.in_tick(filter), see);
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
        self.terrain.sweep(footprint, from, displacement, &self.in_tick(filter))
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.terrain.is_flat_to(footprint)
    }

    fn has_moving_walls(&self) -> bool {
        self.terrain.has_moving_walls()
    }

    fn has_surfaces(&self) -> bool {
        self.terrain.has_surfaces()
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        self.terrain.surface_at(point, time + self.by)
    }

    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.terrain.floor_moves_at(point, time + self.by)
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        self.terrain.has_one_surface(way, reach, times.map(|time| time + self.by))
    }
}
