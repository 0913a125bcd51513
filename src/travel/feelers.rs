//! Feelers: the free distance to the nearest wall.

use glam::Vec2;

use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};

/// The free distance of a footprint along a displacement, in units; its whole length if there is no wall.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::free_distance;
///
/// let mut posts = World::new();
/// posts.add(Solid::circle(vec2(10.0, 0.0), 2.0)?);
/// assert_eq!(free_distance(&posts, &Footprint::circle(1.0)?, Vec2::ZERO, vec2(50.0, 0.0), &WallFilter::ALL), 7.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[must_use]
pub fn free_distance(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    displacement: Vec2,
    filter: &WallFilter<'_>,
) -> f32 {
    terrain
        .sweep(footprint, at, displacement, filter)
        .map_or(displacement.length(), |hit| hit.position.distance(at))
}

/// The free distance on each of four sides, up to a reach, in units.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::Feelers;
///
/// let mut world = World::new();
/// world.add(Solid::circle(vec2(10.0, 0.0), 2.0)?);
/// let free = Feelers::of(&world, &Footprint::circle(1.0)?, Vec2::ZERO, 50.0, &WallFilter::ALL);
/// assert_eq!((free.right, free.left), (7.0, 50.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Feelers {
    /// Toward smaller x.
    pub left: f32,
    /// Toward larger x.
    pub right: f32,
    /// Toward smaller y: up the screen, where y grows downwards.
    pub lower_y: f32,
    /// Toward larger y: down the screen, where y grows downwards.
    pub higher_y: f32,
}

impl Feelers {
    /// Measures on all four sides, up to `reach`.
    #[must_use]
    pub fn of(
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        reach: f32,
        filter: &WallFilter<'_>,
    ) -> Self {
        let free = |displacement: Vec2| free_distance(terrain, footprint, at, displacement * reach, filter);
        Self {
            left: free(Vec2::NEG_X),
            right: free(Vec2::X),
            lower_y: free(Vec2::NEG_Y),
            higher_y: free(Vec2::Y),
        }
    }
}
