//! What every drive takes and gives.

use glam::Vec2;

use super::axis::Axis;
use crate::intent::{Angle, Intent};

/// What a mover carries from one tick to the next: velocity, and a heading for drives that steer.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Momentum {
    /// Units per second.
    pub velocity: Vec2,
    /// Which way the mover points. Drives that do not steer leave it as it is.
    pub heading: Angle,
}

impl From<Vec2> for Momentum {
    /// A velocity with the heading along it, or toward +x for none.
    fn from(velocity: Vec2) -> Self {
        Self { velocity, heading: Angle::of(velocity).unwrap_or_default() }
    }
}

/// What a drive returns for one tick.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[must_use]
pub struct Motion {
    /// How far the mover wants to go in this tick, in units.
    pub displacement: Vec2,
    /// Velocity at the end of the tick, in units per second.
    pub velocity: Vec2,
    /// Heading at the end of the tick.
    pub heading: Angle,
}

impl Motion {
    /// What the next tick starts from.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading }
    }
}

/// A rule by which velocity follows intent.
pub trait Drive: Clone {
    /// Advances by `dt` seconds under one intent.
    ///
    /// Takes a plain velocity or a [`Momentum`]. A `dt` that is zero, negative or not finite moves
    /// nothing. Never panics.
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion;

    /// What [`advance`](Self::advance) leaves for the next tick, without the way there: for some drives that is far less
    /// to work out.
    #[must_use]
    fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
        self.advance(from, intent, dt).momentum()
    }

    /// The speed that full strength leads to, in units/s; infinite where nothing limits it.
    fn top_speed(&self) -> f32;

    /// The same drive where the ground holds it better or worse: accelerations, frictions and the grip across
    /// a heading are multiplied by this factor, which is above 0. A drive without any stays as it is.
    #[must_use]
    fn gripping(&self, factor: f32) -> Self {
        let _ = factor;
        self.clone()
    }

    /// The velocity of what carries the mover, in units/s; the velocity of a [`Motion`] is over it.
    fn ground(&self) -> Vec2 {
        Vec2::ZERO
    }

    /// Whether the intent steers a heading instead of naming a velocity: then a wall takes nothing
    /// from the intent, only from what comes of it.
    fn steers(&self) -> bool {
        false
    }

    /// The axis that the drive is held to, if it is: then a wall that is not parallel to it stops the mover.
    fn axis(&self) -> Option<Axis> {
        None
    }

    /// The diameter of the circle that full strength and a full turn lead to, in units; `None` for
    /// drives that do not steer and where nothing limits the speed.
    fn turning_circle(&self) -> Option<f32> {
        None
    }
}

/// The tap of a key that figures and warnings speak of, in seconds.
pub(super) const TAP: f32 = 0.1;

/// A `dt` as drives take it: seconds above zero, or zero.
#[inline]
pub(crate) fn seconds(dt: f32) -> f32 {
    if dt.is_finite() && dt > 0.0 { dt } else { 0.0 }
}
