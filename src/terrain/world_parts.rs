//! A world as a terrain: its parts answer together.

use glam::{DVec2, Vec2};

use super::combine::questions_passed_on;
use super::filter::WallFilter;
use super::floors::FloorsInTime;
use super::found::FoundWall;
use super::hit::Hit;
use super::moving::InMotion;
use super::obstacles::Obstacles;
use super::play_area::PlayArea;
use super::swept_area::swept_area;
use super::terrain_trait::Terrain;
use super::tiles::TileGrid;
use super::world::World;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};

/// The parts of a world that stand, as one terrain.
type Standing<'a> = (&'a Obstacles, (&'a [TileGrid], (&'a Option<PlayArea>, &'a Surface)));

impl World {
    fn standing(&self) -> Standing<'_> {
        (&*self.obstacles, (&self.maps, (&self.play_area, &self.surface)))
    }

    fn parts(&self) -> (Option<InMotion<'_>>, Standing<'_>) {
        (self.in_motion(), self.standing())
    }

    /// Whether obstacles that move, and obstacles that stand, may be near a path in the part of the tick that a filter states.
    #[inline]
    fn near(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> [bool; 2] {
        if self.obstacles.is_empty() {
            return [false; 2];
        }
        let area = swept_area(footprint, from, displacement);
        [self.moving.may_reach(&area, filter), self.obstacles.may_reach(&area)]
    }

    /// What the parts answer, if obstacles that move and obstacles that stand are near or not: the only one, if there is only one.
    #[inline]
    fn ask_near<T>(&self, near: [bool; 2], ask: impl FnOnce(&dyn Terrain) -> T) -> T {
        match (near, (&self.maps[..], &self.play_area)) {
            ([true, _], _) => ask(&self.parts()),
            ([false, true], _) => ask(&self.standing()),
            ([false, false], ([map], None)) => ask(map),
            ([false, false], parts) => ask(&parts),
        }
    }

    /// A separate call, so that a path that no moving wall is near costs none of it.
    #[inline(never)]
    fn meets_near(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.in_motion().is_some_and(|walls| walls.meets_moving_wall(footprint, from, displacement, filter))
    }

    /// Whether a quick look finds that a footprint stays away from everything in a tick: nothing is near its path, no side of the
    /// play area either.
    #[inline]
    pub(crate) fn is_open(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        seconds: f32,
    ) -> bool {
        (self.obstacles.is_empty() || self.obstacles_are_far(footprint, from, displacement, seconds))
            && self.play_area.as_ref().is_none_or(|area| area.surrounds(footprint, from, displacement))
            && self.maps.iter().all(|map| map.quick_check(footprint, from, displacement) == Some(true))
    }

    /// A separate call, so that a world without obstacles costs none of it.
    #[inline(never)]
    fn obstacles_are_far(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, seconds: f32) -> bool {
        self.near(footprint, from, displacement, &WallFilter::ALL.during(0.0, seconds)) == [false; 2]
    }
}

impl Terrain for World {
    questions_passed_on!(|this, filter| this.parts(), filter);

    fn edges(&self) -> Option<&PlayArea> {
        self.play_area.as_ref()
    }

    fn has_moving_walls(&self) -> bool {
        !self.moving.is_empty()
    }

    fn meets_moving_wall(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.moving.may_reach(&swept_area(footprint, from, displacement), filter)
            && self.meets_near(footprint, from, displacement, filter)
    }

    fn has_surfaces(&self) -> bool {
        !self.floors.is_empty() || self.standing().has_surfaces()
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        let floor = self.floors_in_time().and_then(|floors| floors.surface_at(point, time));
        floor.map_or_else(|| self.standing().surface_at(point, time), |floor| floor.and(&self.surface))
    }

    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.floors_in_time().map_or(Vec2::ZERO, |floors| floors.velocity_at(point, time))
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        let floor = |floors: FloorsInTime<'_>| floors.is_one_in(way, reach, times);
        match self.floors_in_time().map_or(Some(false), floor) {
            Some(false) => self.standing().has_one_surface(way, reach, times),
            covered => covered == Some(true),
        }
    }

    /// That of its only part that is near, if there is only one.
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let parts = (&self.maps[..], &self.play_area);
        if matches!(parts, ([], None)) && self.moving.is_empty() {
            return self.obstacles.sweep(footprint, from, displacement, filter);
        }
        let near = self.near(footprint, from, displacement, filter);
        self.ask_near(near, |parts| parts.sweep(footprint, from, displacement, filter))
    }

    /// That of its only part that is near, likewise.
    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let near = self.near(footprint, from, displacement, filter);
        self.ask_near(near, |parts| parts.wall_continues(footprint, from, displacement, normal, filter))
    }

    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        let clear = |terrain: &dyn Terrain| terrain.is_clear(footprint, from, displacement, filter);
        let [moving, standing] = self.near(footprint, from, displacement, filter);
        (!moving || self.in_motion().is_none_or(|walls| clear(&walls)))
            && (!standing || clear(&*self.obstacles))
            && self.maps.iter().all(|map| map.is_clear(footprint, from, displacement, filter))
            && self.play_area.as_ref().is_none_or(|area| clear(area))
    }
}
