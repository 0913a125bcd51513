//! The closed sides of a play area as walls.

use glam::Vec2;

use super::filter::WallFilter;
use super::found::FoundWall;
use super::outside::outside;
use super::play_area::PlayArea;
use super::terrain_trait::Terrain;
use super::wall::Wall;
use crate::direction::YAxis;
use crate::shape::{Aabb, Footprint};

impl Terrain for PlayArea {
    fn has_moving_walls(&self) -> bool {
        false
    }

    fn meets_moving_wall(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> bool {
        false
    }

    fn is_flat_to(&self, _: &Footprint) -> bool {
        true
    }

    fn edges(&self) -> Option<&PlayArea> {
        Some(self)
    }

    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        for (side, solid) in outside(self.area(), self.y_axis) {
            let found = FoundWall::new(Wall::Edge(side), solid).on(self.layers).with_tag(self.tag(side));
            let reaches = !self.is_crossed(self.rule(side)) && solid.bounds().overlaps(&area);
            if reaches && filter.wall(found.wall, found.layers) {
                see(found);
            }
        }
    }

    fn y_axis(&self) -> YAxis {
        self.y_axis
    }
}
