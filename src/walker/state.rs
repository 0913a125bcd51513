//! The walker: a position, a velocity, a footprint and a drive, in one plain struct.

use glam::Vec2;

use super::along_walls::AlongWalls;
use crate::contact::Tolerance;
use crate::direction::Angle;
use crate::drive::{Drive, Momentum};
use crate::exact::length;
use crate::place::Place;
use crate::shape::Footprint;
use crate::terrain::{Hit, Layers};
use crate::tolerance::LEAVES;

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

    pub(super) fn moved(&mut self, change: impl FnOnce(&mut Place)) {
        let mut place = self.place();
        change(&mut place);
        (self.position, self.residue) = (place.position, place.residue);
    }

    /// Whether a velocity leads away from a wall by more than the rounding of a velocity along it, or of a faster one
    /// that it comes from.
    pub(super) fn leaves(&self, normal: Vec2, velocity: Vec2) -> bool {
        let top_speed = self.drive.top_speed();
        let scale = length(velocity) + if top_speed.is_finite() { top_speed } else { 0.0 };
        velocity.dot(normal) > LEAVES * scale
    }

    /// The distance to a surface that a sweep has hit: 0 in contact. A sweep calls everything touched that is within
    /// the rounding of the position; the exact position is known better.
    pub(super) fn gap(&self, hit: &Hit) -> f32 {
        let (normal, surface) = hit.surface();
        let gap = -self.place().depth(normal, surface);
        let touch = Tolerance::at(surface.abs().max_element());
        #[expect(clippy::cast_possible_truncation, reason = "a distance within a tick, rounded once")]
        let gap = gap as f32;
        if touch.is_contact(f64::from(gap)) { 0.0 } else { gap }
    }
}
