//! Surfaces of terrains: those of tiles, and one that is everywhere.

use glam::{DVec2, IVec2, Vec2};

use super::filter::WallFilter;
use super::found::FoundWall;
use super::hit::Hit;
use super::terrain_trait::Terrain;
use super::tiles::TileGrid;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};
use crate::tolerance::MOST_TILES_OF_SURFACE;

/// A surface that is everywhere and blocks nothing: wind, or the belt under a whole game.
///
/// ```
/// use ambulant::prelude::*;
///
/// let wind = Surface::PLAIN.with_belt(vec2(5.0, 0.0))?;
/// let mut leaf = Walker::new(Vec2::ZERO, Footprint::circle(1.0)?, Gait::new(20.0, 90.0, 90.0)?);
/// let _ = leaf.tick(Intent::NONE, 2.0, &wind);
/// assert_eq!((leaf.position, leaf.velocity), (vec2(10.0, 0.0), Vec2::ZERO));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
impl Terrain for Surface {
    fn walls_in(&self, _: Aabb, _: &WallFilter<'_>, _: &mut dyn FnMut(FoundWall)) {}

    fn has_moving_walls(&self) -> bool {
        false
    }

    fn meets_moving_wall(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> bool {
        false
    }

    fn is_flat_to(&self, _: &Footprint) -> bool {
        true
    }

    fn sweep(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> Option<Hit> {
        None
    }

    fn overlaps(&self, _: &Footprint, _: Vec2, _: &WallFilter<'_>) -> bool {
        false
    }

    fn is_clear(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> bool {
        true
    }

    fn has_surfaces(&self) -> bool {
        *self != Self::PLAIN
    }

    fn surface_at(&self, _: DVec2, _: f64) -> Surface {
        *self
    }

    fn has_one_surface(&self, _: [DVec2; 2], _: Vec2, _: [f64; 2]) -> bool {
        true
    }
}

impl TileGrid {
    /// Whether all tiles between two corners have the same surface. `false` also if there are very many.
    pub(super) fn has_one_surface_in(&self, min: DVec2, max: DVec2) -> bool {
        let (one, other) = (self.tile_at_exact(min), self.tile_at_exact(max));
        // Where y grows upwards, the rows are the other way round.
        // One tile outside the map stands for all.
        let onto = |tile: IVec2| tile.clamp(IVec2::NEG_ONE, self.size());
        let (first, last) = (onto(one.min(other)), onto(one.max(other)));
        let count = |from: i32, to: i32| i64::from(to) - i64::from(from) + 1;
        let tiles = count(first.x, last.x).saturating_mul(count(first.y, last.y));
        let surface = self.surface(first);
        let is_same =
            |row: i32| (first.x..=last.x).all(|column| self.surface((column, row).into()) == surface);
        first == last || tiles <= MOST_TILES_OF_SURFACE && (first.y..=last.y).all(is_same)
    }
}
