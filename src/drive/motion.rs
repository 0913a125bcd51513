//! The input and output of every drive.

use glam::Vec2;

use super::response::Response;
use crate::direction::{Angle, Axis};
use crate::exact::along;
use crate::intent::Intent;
use crate::time::seconds;

/// What a mover keeps from one tick to the next: velocity, and a heading for drives that steer.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Momentum {
    /// Units per second.
    pub velocity: Vec2,
    /// The direction in which the mover points. Drives that do not steer leave it alone.
    pub heading: Angle,
}

impl From<Vec2> for Momentum {
    /// A velocity with the heading along it, or toward +x for zero.
    fn from(velocity: Vec2) -> Self {
        Self { velocity, heading: Angle::of(velocity).unwrap_or_default() }
    }
}

/// What a drive returns for one tick.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[must_use]
pub struct Motion {
    /// The displacement of this tick, in units.
    pub displacement: Vec2,
    /// Velocity at the end of the tick, in units per second.
    pub velocity: Vec2,
    /// Heading at the end of the tick.
    pub heading: Angle,
}

impl Motion {
    /// The start of the next tick.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading }
    }
}

/// A rule by which velocity follows intent.
pub trait Drive: Clone {
    /// Advances by `dt` seconds under one intent.
    ///
    /// Takes a plain velocity or a [`Momentum`]. A `dt` that is zero, negative or not finite moves nothing. Never
    /// panics.
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion;

    /// What [`advance`](Self::advance) leaves for the next tick, without the displacement: for some drives that is
    /// much cheaper.
    #[must_use]
    fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
        self.advance(from, intent, dt).momentum()
    }

    /// What one intent does to a velocity, as plain numbers, so that walls and curves can be solved exactly. `None`
    /// for drives that steer and for drives that no such numbers describe.
    fn response(&self, intent: Intent) -> Option<Response> {
        let _ = intent;
        None
    }

    /// The acceleration under an intent at one instant, without walls, in units/s²; very large if the velocity
    /// responds immediately.
    ///
    /// ```
    /// use ambulant::drive::{Drive, Gait};
    /// use ambulant::intent::Intent;
    /// use glam::{Vec2, vec2};
    ///
    /// let gait = Gait::new(60.0, 240.0, 480.0)?;
    /// let up = Intent::new(vec2(0.0, -1.0));
    /// assert_eq!(gait.acceleration_of(Vec2::ZERO, up), vec2(0.0, -240.0));
    /// assert_eq!(gait.acceleration_of(vec2(60.0, 0.0), Intent::NONE), vec2(-480.0, 0.0));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    fn acceleration_of(&self, from: impl Into<Momentum>, intent: Intent) -> Vec2 {
        let from = from.into();
        if let Some(response) = self.response(intent) {
            return response.acceleration(from.velocity);
        }
        (self.momentum_after(from, intent, INSTANT).velocity - from.velocity) / INSTANT
    }

    /// Advances by `dt` seconds along a wall with this unit normal that holds the mover; only the velocity along the
    /// wall counts.
    ///
    /// ```
    /// use ambulant::drive::{Drive, Falling, Pace};
    /// use ambulant::intent::Intent;
    /// use glam::{Vec2, vec2};
    ///
    /// // Down a slope of 3 in 4, without friction: the pull counts with the sine of the slope.
    /// let falling = Falling::new(Gait::new(9.0, 1e-3, 1e-3)?, vec2(0.0, 100.0), 500.0)?;
    /// let motion = falling.advance_along(Vec2::ZERO, Intent::NONE, vec2(0.6, -0.8), 1.0);
    /// assert!(motion.velocity.distance(vec2(0.8, 0.6) * 60.0) < 0.01);
    /// assert!(motion.displacement.distance(vec2(0.8, 0.6) * 30.0) < 0.01);
    /// # use ambulant::drive::Gait;
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    fn advance_along(&self, from: impl Into<Momentum>, intent: Intent, normal: Vec2, dt: f32) -> Motion {
        let from = from.into();
        if let Some(response) = self.response(intent) {
            let tangent = normal.as_dvec2().perp();
            let speed = from.velocity.as_dvec2().dot(tangent);
            let (distance, speed) = response.run_along(normal.as_dvec2(), speed, f64::from(seconds(dt)));
            let [displacement, velocity] = [distance, speed].map(|length| (tangent * length).as_vec2());
            return Motion { displacement, velocity, heading: from.heading };
        }
        let asked = along(intent.vector(), normal);
        let wish =
            if asked == Vec2::ZERO && !intent.is_none() { Intent::BLOCKED } else { Intent::new(asked) };
        let motion = self.advance(Momentum { velocity: along(from.velocity, normal), ..from }, wish, dt);
        let [displacement, velocity] =
            [motion.displacement, motion.velocity].map(|vector| along(vector, normal));
        Motion { displacement, velocity, ..motion }
    }

    /// The speed at full strength, in units/s; infinite if nothing limits it.
    fn top_speed(&self) -> f32;

    /// The drive with another grip of the floor: accelerations, frictions and the grip across a heading are
    /// multiplied by this factor, which is above 0. A drive without any of them stays the same.
    #[must_use]
    fn gripping(&self, factor: f32) -> Self {
        let _ = factor;
        self.clone()
    }

    /// The velocity of the floor, in units/s; the velocity of a [`Motion`] is relative to it.
    fn ground(&self) -> Vec2 {
        Vec2::ZERO
    }

    /// Whether the intent steers a heading instead of a velocity: then a wall removes nothing from the intent, only
    /// from the motion.
    fn steers(&self) -> bool {
        false
    }

    /// Whether it pushes without an intent, like a pull or a thrust along a heading: then what the drive does decides
    /// whether it presses on a wall, not the intent.
    fn pushes(&self) -> bool {
        self.steers()
    }

    /// The axis that the drive is held to, if any: then a wall that is not parallel to it stops the mover.
    fn axis(&self) -> Option<Axis> {
        None
    }

    /// The diameter of the circle at full strength and full turn, in units; `None` for drives that do not steer or
    /// whose speed is not limited.
    fn turning_circle(&self) -> Option<f32> {
        None
    }
}

/// The time over which the acceleration of a drive without a [`Response`] is measured, in seconds.
const INSTANT: f32 = 1.0 / 4096.0;

/// The tap of a key in figures and warnings, in seconds.
pub(super) const TAP: f32 = 0.1;
