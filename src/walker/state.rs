//! The walker: a position, a velocity, a footprint and a drive, in one plain struct.

use glam::{DVec2, Vec2};

use super::along_walls::AlongWalls;
use crate::arcade::Hover;
use crate::direction::Angle;
use crate::drive::{Drive, Momentum, Surface};
use crate::place::Place;
use crate::rounding::Rounding;
use crate::saved::Version;
use crate::shape::Footprint;
use crate::terrain::{Layers, Terrain, Wall};

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
    version: Version<1>,
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
    /// Its own wall, if it is a wall to others: it does not collide with that.
    pub own_wall: Option<Wall>,
    /// What it does at walls that it presses on.
    pub along_walls: AlongWalls,
    /// How it hovers over the ground, if it does.
    pub hover: Option<Hover>,
    /// The rounding error of the position. It is added to the next tick; without it, many short ticks would drift
    /// from few long ones.
    pub(super) rounding: Rounding,
    /// The rounding error of the velocity, likewise.
    pub(super) velocity_rounding: Rounding,
}

impl<D> Walker<D> {
    /// The same walker with another drive.
    pub(crate) fn with_drive<E>(&self, drive: E) -> Walker<E> {
        let Self {
            version,
            position,
            velocity,
            heading,
            footprint,
            mask,
            own_wall,
            along_walls,
            hover,
            rounding,
            velocity_rounding,
            ..
        } = *self;
        Walker {
            version,
            position,
            velocity,
            heading,
            footprint,
            drive,
            mask,
            own_wall,
            along_walls,
            hover,
            rounding,
            velocity_rounding,
        }
    }
}

impl<D: Drive> Walker<D> {
    /// A walker at rest.
    #[must_use]
    pub const fn new(position: Vec2, footprint: Footprint, drive: D) -> Self {
        Self {
            version: Version,
            position,
            velocity: Vec2::ZERO,
            heading: Angle::ZERO,
            footprint,
            drive,
            mask: Layers::ALL,
            own_wall: None,
            along_walls: AlongWalls::PLAIN,
            hover: None,
            rounding: Rounding::NONE,
            velocity_rounding: Rounding::NONE,
        }
    }

    /// Velocity and heading together.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading, rounding: self.velocity_rounding }
    }

    /// Goes on with this velocity and heading.
    #[inline]
    pub(super) const fn set_momentum(&mut self, momentum: Momentum) {
        Momentum { velocity: self.velocity, heading: self.heading, rounding: self.velocity_rounding } =
            momentum;
    }

    /// Its position without the rounding of [`position`](Self::position). The difference is added to the next tick; a
    /// mover that is placed elsewhere loses it.
    #[must_use]
    pub fn exact_position(&self) -> DVec2 {
        self.place().exact()
    }

    /// Places it, with the rounding error of its position.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use glam::dvec2;
    ///
    /// let mut gardener = Walker::new(Vec2::ZERO, Footprint::circle(1.0)?, Pace::new(1.0)?);
    /// gardener.set_exact_position(dvec2(1.0 / 3.0, 0.0));
    /// assert!((gardener.exact_position().x - 1.0 / 3.0).abs() < 1e-15);
    /// gardener.position = vec2(2.0, 0.0); // without a rounding error
    /// assert_eq!(gardener.exact_position(), dvec2(2.0, 0.0));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn set_exact_position(&mut self, position: DVec2) {
        let mut place = self.place();
        place.set(position);
        (self.position, self.rounding) = place.parts();
    }

    /// Position and residue together.
    pub(crate) fn place(&self) -> Place {
        Place::of(self.position, self.rounding)
    }

    /// Moves it without rounding.
    pub(crate) fn carry(&mut self, displacement: DVec2) {
        let mut place = self.place();
        place.carry(displacement);
        self.put(place);
    }

    /// Puts it at a place.
    pub(crate) fn put(&mut self, place: Place) {
        (self.position, self.rounding) = place.parts();
    }

    /// Puts it where another one is, in the same motion.
    pub(crate) fn go_on_as<E>(&mut self, other: &Walker<E>) {
        (self.position, self.rounding) = (other.position, other.rounding);
        (self.velocity, self.heading) = (other.velocity, other.heading);
        self.velocity_rounding = other.velocity_rounding;
    }

    /// The surface under the middle of its footprint, at the start of the tick.
    #[must_use]
    pub fn surface(&self, terrain: &(impl Terrain + ?Sized)) -> Surface {
        terrain.surface_at(self.place().middle(&self.footprint), 0.0)
    }
}
