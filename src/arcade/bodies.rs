//! Movers that block each other.

use glam::Vec2;

use crate::shape::Footprint;
use crate::terrain::{Filtered, Layers, ObstacleId, Obstacles, Wall, WallFilter};

/// Movers as obstacles: each collides with all others but not with itself.
///
/// ```
/// use ambulant::arcade::Bodies;
/// use ambulant::prelude::*;
/// use ambulant::terrain::Layers;
///
/// let mut bodies = Bodies::new();
/// let feet = Footprint::circle(4.0)?;
/// let gait = Gait::new(60.0, 600.0, 600.0)?;
/// let mut two = [Walker::new(vec2(0.0, 1.0), feet, gait), Walker::new(vec2(40.0, 0.0), feet, gait)];
/// let ids = [0, 1].map(|mover| bodies.add(&feet, two[mover].position, Layers::FIRST));
///
/// // They walk at each other, meet, and slide on.
/// for _ in 0..120 {
///     for mover in 0..2 {
///         let ahead = Intent::new(vec2(if mover == 0 { 1.0 } else { -1.0 }, 0.0));
///         let _ = two[mover].tick(ahead, 1.0 / 60.0, &bodies.others(&ids[mover]));
///         bodies.moved(&ids[mover], &feet, two[mover].position);
///     }
/// }
/// assert!(two[0].position.x > two[1].position.x);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Bodies(Obstacles);

/// The id of a body.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct BodyId([Wall; 1], ObstacleId);

impl BodyId {
    /// The body as a wall, as contacts report it.
    #[must_use]
    pub const fn wall(&self) -> Wall {
        self.0[0]
    }
}

impl Bodies {
    /// No bodies.
    #[must_use]
    pub const fn new() -> Self {
        Self(Obstacles::new())
    }

    /// Adds a mover's body, on some layers.
    pub fn add(&mut self, footprint: &Footprint, position: Vec2, layers: Layers) -> BodyId {
        let id = self.0.add_on(layers, footprint.solid_at(position));
        BodyId([Wall::Obstacle(id)], id)
    }

    /// Moves a body to where its mover is; `false` if it was removed.
    pub fn moved(&mut self, id: &BodyId, footprint: &Footprint, position: Vec2) -> bool {
        self.0.set(id.1, footprint.solid_at(position))
    }

    /// Removes a body; `false` if it was removed before.
    pub fn remove(&mut self, id: &BodyId) -> bool {
        self.0.remove(id.1).is_some()
    }

    /// All other bodies, as a terrain.
    #[must_use]
    pub fn others<'a>(&'a self, id: &'a BodyId) -> Filtered<'a, Obstacles> {
        Filtered::new(&self.0, WallFilter::ALL.except(&id.0))
    }
}
