//! A world as a terrain: its parts answer together.

use glam::Vec2;

use super::combine::questions_passed_on;
use super::filter::WallFilter;
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
}

impl Terrain for World {
    questions_passed_on!(|this, filter| this.parts(), filter);

    /// That of its only part, if it has only one.
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        if let Some(moving) = self.in_motion() {
            if self.moving.may_reach(&swept_area(footprint, from, displacement), filter) {
                return (moving, self.standing()).sweep(footprint, from, displacement, filter);
            }
        }
        match (&self.maps[..], &self.play_area) {
            ([], None) => self.obstacles.sweep(footprint, from, displacement, filter),
            ([map], None) if self.obstacles.is_empty() => map.sweep(footprint, from, displacement, filter),
            _ => self.standing().sweep(footprint, from, displacement, filter),
        }
    }

    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        let clear = |terrain: &dyn Terrain| terrain.is_clear(footprint, from, displacement, filter);
        let passes = |moving: InMotion<'_>| {
            !self.moving.may_reach(&swept_area(footprint, from, displacement), filter) || clear(&moving)
        };
        self.in_motion().is_none_or(passes)
            && (self.obstacles.is_empty() || clear(&*self.obstacles))
            && self.maps.iter().all(|map| map.is_clear(footprint, from, displacement, filter))
            && self.play_area.as_ref().is_none_or(|area| clear(area))
    }
}
