//! Angles for aiming and heading, and turning by the shorter way.
//!
//! An angle is 0 toward +x and grows toward +y: clockwise on a screen whose y grows downwards, anticlockwise
//! otherwise. It is kept between -π and π, so the shorter turn between two angles is their difference, brought into
//! that range. It is stored in `f64`, so that a heading that turns a little in each of a million ticks does not
//! drift.

use glam::Vec2;

use super::YAxis;

/// A direction as an angle, above -π and at most π.
///
/// ```
/// use ambulant::direction::{Angle, YAxis};
/// use glam::{Vec2, vec2};
///
/// let aim = Angle::toward(vec2(10.0, 10.0), vec2(10.0, 30.0)).unwrap();
/// assert_eq!(aim.degrees(), 90.0);
/// assert!(aim.vector().distance(vec2(0.0, 1.0)) < 1e-6);
///
/// // From 170 to -170 degrees it is 20 degrees, not 340.
/// let (from, to) = (Angle::from_degrees(170.0), Angle::from_degrees(-170.0));
/// assert!((from.turn_to(to) - 20f32.to_radians()).abs() < 1e-6);
/// assert!((from.turned_toward(to, 15f32.to_radians()).degrees() + 175.0).abs() < 1e-3);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Angle(f64);

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Angle {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let radians = f64::deserialize(deserializer)?;
        if radians.abs() <= HALF_TURN {
            Ok(Self(radians))
        } else {
            Err(serde::de::Error::custom("an angle must be from -pi to pi (radians)"))
        }
    }
}

/// Half a turn: π in `f32`, which is slightly above the true one, so that both are in range.
const HALF_TURN: f64 = core::f32::consts::PI as f64;

impl Angle {
    /// Toward +x.
    pub const ZERO: Self = Self(0.0);

    /// From radians, brought into range; an angle that is not finite becomes 0.
    #[must_use]
    pub fn from_radians(radians: f32) -> Self {
        Self::from_exact(f64::from(radians))
    }

    /// The same without rounding.
    pub(crate) fn from_exact(radians: f64) -> Self {
        if !radians.is_finite() {
            return Self::ZERO;
        }
        if -HALF_TURN < radians && radians <= HALF_TURN {
            return Self(radians);
        }
        Self(wrapped(radians, core::f64::consts::TAU, HALF_TURN))
    }

    /// From degrees, brought into range.
    #[must_use]
    pub fn from_degrees(degrees: f32) -> Self {
        // In degrees, whole turns are exact.
        let degrees = if degrees.is_finite() { f64::from(degrees) } else { 0.0 };
        Self(wrapped(degrees, 360.0, 180.0).to_radians())
    }

    /// The angle of a vector of any length; `None` for a zero vector and one that is not finite.
    #[must_use]
    pub fn of(vector: Vec2) -> Option<Self> {
        let known = vector.is_finite() && vector != Vec2::ZERO;
        // Adding zero removes the sign of a negative zero: straight back is π and never -π.
        known.then(|| Self(f64::from(libm::atan2f(vector.y + 0.0, vector.x))))
    }

    /// The angle from one point toward another; `None` when they are the same.
    #[must_use]
    pub fn toward(from: Vec2, to: Vec2) -> Option<Self> {
        Self::of(to - from)
    }

    /// Above -π and at most π.
    #[must_use]
    #[expect(clippy::cast_possible_truncation, reason = "an angle, rounded once")]
    pub const fn radians(self) -> f32 {
        let rounded = self.0 as f32;
        // Rounded, straight back may be on the other side.
        if rounded <= -core::f32::consts::PI { core::f32::consts::PI } else { rounded }
    }

    /// The same without rounding.
    pub(crate) const fn exact(self) -> f64 {
        self.0
    }

    /// Above -180 and at most 180.
    #[must_use]
    pub fn degrees(self) -> f32 {
        self.radians().to_degrees()
    }

    /// The unit vector in this direction.
    #[must_use]
    pub fn vector(self) -> Vec2 {
        let (sin, cos) = libm::sincosf(self.radians());
        Vec2::new(cos, sin)
    }

    /// Turned by some radians; positive is from +x toward +y.
    #[must_use]
    pub fn turned_by(self, radians: f32) -> Self {
        self.turned_exactly(f64::from(radians))
    }

    /// The same without rounding.
    pub(crate) fn turned_exactly(self, radians: f64) -> Self {
        Self::from_exact(self.0 + radians)
    }

    /// The shorter turn to another angle in radians, above -π and at most π.
    #[must_use]
    pub fn turn_to(self, target: Self) -> f32 {
        Self(self.turn_to_exactly(target)).radians()
    }

    /// The same without rounding.
    pub(crate) fn turn_to_exactly(self, target: Self) -> f64 {
        Self::from_exact(target.0 - self.0).0
    }

    /// Turned toward a target by the shorter way, by at most `most` radians and never past it.
    ///
    /// Exactly opposite, it turns in the positive direction. A `most` of zero or below does not turn.
    #[must_use]
    pub fn turned_toward(self, target: Self, most: f32) -> Self {
        let turn = self.turn_to(target);
        if turn.abs() <= most {
            return target;
        }
        if most > 0.0 { self.turned_by(most.copysign(turn)) } else { self }
    }

    /// How far to rotate a picture so that it points this way, in radians anticlockwise on the screen. `drawn` is
    /// where the picture points unrotated (0: right, π/2: up).
    ///
    /// ```
    /// use ambulant::direction::{Angle, YAxis};
    /// use std::f32::consts::FRAC_PI_2;
    ///
    /// let down_the_screen = Angle::from_radians(FRAC_PI_2);
    /// // Drawn pointing up, it has to turn by half a circle to point down.
    /// assert!((down_the_screen.for_picture(YAxis::Down, FRAC_PI_2).degrees().abs() - 180.0).abs() < 1e-3);
    /// ```
    #[must_use]
    pub fn for_picture(self, y_axis: YAxis, drawn: f32) -> Self {
        Self::from_radians(-self.radians() * y_axis.downward() - drawn)
    }
}
/// An angle above minus a half turn, and at most a half turn, up to what `f32` may be above it.
fn wrapped(angle: f64, whole_turn: f64, half_turn: f64) -> f64 {
    let turned = libm::fmod(angle, whole_turn);
    if turned > half_turn {
        turned - whole_turn
    } else if turned <= -half_turn {
        turned + whole_turn
    } else {
        turned
    }
}
