//! Surfaces: what a floor does to a mover on it.

use glam::Vec2;

use crate::error::{InvalidNumber, above_zero, finite_vector};
use crate::intent::Intent;
use crate::saved::restored;

/// What a floor does to a mover on it: a speed factor (mud), a grip (ice) and a velocity of its own (a belt, a
/// current, wind).
///
/// The velocity of a mover is relative to the floor, so stepping off a belt leaves no speed.
///
/// ```
/// use ambulant::prelude::*;
///
/// let gait = Gait::new(60.0, 240.0, 240.0)?;
/// let right = Intent::new(vec2(1.0, 0.0));
///
/// let mud = Surface::PLAIN.with_speed_factor(0.5)?;
/// assert_eq!(gait.advance(Momentum::default(), right, &mud, 9.0).velocity, vec2(30.0, 0.0));
///
/// let ice = Surface::PLAIN.with_grip(0.25)?;
/// assert_eq!(gait.advance(vec2(60.0, 0.0).into(), Intent::NONE, &ice, 0.5).velocity, vec2(30.0, 0.0));
///
/// let belt = Surface::PLAIN.with_belt(vec2(0.0, 4.0))?;
/// let motion = gait.advance(Momentum::default(), Intent::NONE, &belt, 0.5);
/// assert_eq!((motion.displacement, motion.velocity), (vec2(0.0, 2.0), Vec2::ZERO));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Surface {
    speed_factor: f32,
    grip: f32,
    belt: Vec2,
}

restored!(
    Surface { speed_factor: f32, grip: f32, belt: Vec2 } as saved => {
        let slow = Surface::PLAIN.with_speed_factor(saved.speed_factor)?;
        Ok(slow.with_grip(saved.grip)?.with_belt(saved.belt)?)
    }
);

impl Surface {
    /// A surface that changes nothing.
    pub const PLAIN: Self = Self { speed_factor: 1.0, grip: 1.0, belt: Vec2::ZERO };

    /// Sets the part of a mover's speed that is left: mud has less than 1.
    ///
    /// # Errors
    /// The factor must be from 0 to 1.
    pub fn with_speed_factor(mut self, factor: f32) -> Result<Self, InvalidNumber> {
        if !(0.0..=1.0).contains(&factor) {
            return Err(InvalidNumber::new("speed_factor", factor, "from 0 to 1 (part of the usual pace)"));
        }
        self.speed_factor = factor;
        Ok(self)
    }

    /// Sets a factor for accelerations, frictions and the grip across a heading: ice has far less than 1.
    ///
    /// # Errors
    /// The factor must be finite and above 0.
    pub fn with_grip(mut self, factor: f32) -> Result<Self, InvalidNumber> {
        self.grip = above_zero("grip", factor, "a finite factor above 0")?;
        Ok(self)
    }

    /// Sets its velocity, in units/s. It takes along what is on it.
    ///
    /// # Errors
    /// Both components must be finite.
    pub fn with_belt(mut self, velocity: Vec2) -> Result<Self, InvalidNumber> {
        self.belt = finite_vector("belt", velocity, "a vector of finite numbers (units/s)")?;
        Ok(self)
    }

    /// The part of a mover's speed that is left, 0 to 1.
    #[must_use]
    pub const fn speed_factor(&self) -> f32 {
        self.speed_factor
    }

    /// The factor for accelerations and frictions.
    #[must_use]
    pub const fn grip(&self) -> f32 {
        self.grip
    }

    /// Its velocity, in units/s.
    #[must_use]
    pub const fn belt(&self) -> Vec2 {
        self.belt
    }

    /// Two surfaces at one place, such as a belt in the wind: factors are multiplied, velocities added.
    #[must_use]
    pub fn and(&self, other: &Self) -> Self {
        Self {
            speed_factor: self.speed_factor * other.speed_factor,
            grip: (self.grip * other.grip).clamp(f32::MIN_POSITIVE, f32::MAX),
            belt: (self.belt + other.belt).clamp(Vec2::MIN, Vec2::MAX),
        }
    }

    /// The same with another velocity, which is finite.
    pub(crate) const fn moving(self, belt: Vec2) -> Self {
        Self { belt, ..self }
    }

    /// A mixture of two surfaces, with this part of the first one.
    pub(crate) fn mixed(&self, other: &Self, part: f32) -> Self {
        let mixed = |one: f32, two: f32| one * part + two * (1.0 - part);
        Self {
            speed_factor: mixed(self.speed_factor, other.speed_factor),
            grip: mixed(self.grip, other.grip),
            belt: self.belt * part + other.belt * (1.0 - part),
        }
    }

    /// An acceleration or a friction on this surface; never zero or infinite.
    #[inline]
    pub(super) fn gripped(&self, rate: f32) -> f32 {
        (rate * self.grip).clamp(f32::MIN_POSITIVE, f32::MAX)
    }

    /// What the surface leaves of an intent.
    #[must_use]
    #[inline]
    pub fn slowed(&self, intent: Intent) -> Intent {
        if self.speed_factor == 1.0 { intent } else { Intent::new(intent.vector() * self.speed_factor) }
    }
}

impl Default for Surface {
    fn default() -> Self {
        Self::PLAIN
    }
}
