//! Queries without a mover: a line of sight, and the walls at a point or in a region.

use glam::Vec2;

use super::filter::WallFilter;
use super::found::FoundWall;
use super::hit::Hit;
use super::terrain_trait::Terrain;
use crate::shape::{Aabb, Footprint};
use crate::tolerance::RAY;

/// The first wall on the straight line between two points; `None` if the line is free.
///
/// A ray is as thin as rounding allows: it passes through a gap between two walls, but not between two that touch
/// along a side. A wall that contains the start is ignored.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::{WallFilter, ray};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "..#.", "...."], &legend)?;
/// assert!(ray(&map, vec2(0.5, 0.5), vec2(3.5, 0.5), &WallFilter::ALL).is_none());
/// let hit = ray(&map, vec2(0.5, 1.5), vec2(3.5, 1.5), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.point, hit.normal), (vec2(2.0, 1.5), vec2(-1.0, 0.0)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[must_use]
pub fn ray(terrain: &(impl Terrain + ?Sized), from: Vec2, to: Vec2, filter: &WallFilter<'_>) -> Option<Hit> {
    terrain.sweep(&Footprint::point(RAY), from, to - from, filter)
}

/// Shows the walls that contain a point or have it on their border.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::Solid;
/// use ambulant::terrain::{WallFilter, World, Wall, walls_at};
///
/// let mut posts = World::new();
/// let post = posts.add(Solid::circle(vec2(4.0, 4.0), 1.0)?);
/// let mut under_the_pointer = None;
/// walls_at(&posts, vec2(4.2, 4.1), &WallFilter::ALL, |found| under_the_pointer = Some(found.wall));
/// assert_eq!(under_the_pointer, Some(post));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub fn walls_at(
    terrain: &(impl Terrain + ?Sized),
    point: Vec2,
    filter: &WallFilter<'_>,
    see: impl FnMut(FoundWall),
) {
    walls_under(terrain, &Footprint::point(RAY), point, filter, see);
}

/// Shows the walls that a footprint at a position overlaps or touches: what is in a region, for a box or a circle.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::{WallFilter, walls_under};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "..#.", "..#."], &legend)?;
/// let mut found = Vec::new();
/// walls_under(&map, &Footprint::circle(0.9)?, vec2(2.5, 0.95), &WallFilter::ALL, |wall| found.push(wall.wall.to_string()));
/// assert_eq!(found, ["tile 2,1"]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn walls_under(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    filter: &WallFilter<'_>,
    mut see: impl FnMut(FoundWall),
) {
    let area: Aabb = super::swept_area::swept_area(footprint, at, Vec2::ZERO);
    terrain.walls_in(area, filter, &mut |found| {
        if found.touches(footprint, at) {
            see(found);
        }
    });
}
