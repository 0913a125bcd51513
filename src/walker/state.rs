//! The walker: a position, a velocity, a footprint and a drive, in one plain struct.

use glam::Vec2;

use super::along_walls::AlongWalls;
use crate::direction::Angle;
use crate::drive::{Drive, Momentum, Surface};
use crate::place::Place;
use crate::shape::Footprint;
use crate::terrain::{Layers, Terrain};

/// A mover that moves through terrain with one call per tick.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "...#", "...#", "...#", "...#"], &legend)?;
/// let mut gardener =
///     Walker::new(vec2(0.5, 0.5), Footprint::rect(0.5, 0.5)?, Gait::new(3.0, 20.0, 30.0)?);
///
/// let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
/// for _ in 0..90 {
///     let result = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
///     for contact in result.contacts.iter() {
///         assert_eq!(contact.normal, vec2(-1.0, 0.0)); // stopped on one axis...
///     }
/// }
/// assert_eq!(gardener.position.x, 2.75);
/// assert!(gardener.position.y > 3.0); // ...and walking on along the other
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Walker<D> {
    /// Its position, in world units.
    pub position: Vec2,
    /// Its velocity, in units/s.
    pub velocity: Vec2,
    /// The direction in which it points, for drives that steer.
    pub heading: Angle,
    /// Its shape.
    pub footprint: Footprint,
    /// The rule by which it moves.
    pub drive: D,
    /// The layers that it collides with; all by default.
    pub mask: Layers,
    /// What it does at walls that it presses on.
    pub along_walls: AlongWalls,
    /// The rounding error of the position. It is added to the next tick; without it, many short ticks would drift
    /// from few long ones.
    pub residue: Vec2,
}

impl<D: Drive> Walker<D> {
    /// A walker at rest.
    #[must_use]
    pub const fn new(position: Vec2, footprint: Footprint, drive: D) -> Self {
        Self {
            position,
            velocity: Vec2::ZERO,
            heading: Angle::ZERO,
            footprint,
            drive,
            mask: Layers::ALL,
            along_walls: AlongWalls::PLAIN,
            residue: Vec2::ZERO,
        }
    }

    /// Velocity and heading together.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading }
    }

    /// Position and residue together.
    pub(super) const fn place(&self) -> Place {
        Place { position: self.position, residue: self.residue }
    }

    /// The surface under the middle of its footprint.
    #[must_use]
    pub fn surface(&self, terrain: &(impl Terrain + ?Sized)) -> Surface {
        let middle = self.footprint.middle(Vec2::ZERO) + self.place().exact();
        terrain.surface_at(middle.as_vec2())
    }
}
