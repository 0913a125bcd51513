//! The intent itself: a vector no longer than 1.

use glam::Vec2;

use crate::direction::{Angle, Facing, YAxis};

/// What the player asks for: a direction and a strength from 0 to 1.
///
/// The length never exceeds 1, so neither diagonals nor two devices at once are faster.
///
/// ```
/// use ambulant::intent::Intent;
/// use glam::vec2;
///
/// assert_eq!(Intent::new(vec2(3.0, -4.0)).vector(), vec2(0.6, -0.8));
/// assert_eq!(Intent::new(vec2(0.5, 0.0)).strength(), 0.5);
/// assert!(Intent::new(vec2(f32::NAN, 1.0)).is_none());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Intent(Vec2);

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Intent {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let vector = Vec2::deserialize(deserializer)?;
        // A unit vector may be longer by its rounding.
        if vector.length() <= 1.0 + 4.0 * f32::EPSILON {
            Ok(Self(vector))
        } else {
            Err(serde::de::Error::custom("an intent must be a vector of length 0 to 1"))
        }
    }
}

impl Intent {
    /// No intent.
    pub const NONE: Self = Self(Vec2::ZERO);

    /// There is an intent, but walls leave nothing of it. It has the length of [`NONE`](Self::NONE), but a press into
    /// a wall brakes at the same rate whether it is exact or slightly aside. The sign of its zeros distinguishes it
    /// from `NONE`; no other intent has a negative zero.
    pub(crate) const BLOCKED: Self = Self(Vec2::splat(-0.0));

    /// A vector up to length 1; a longer one is shortened to length 1.
    ///
    /// A vector with a component that is not finite gives no intent, since its direction is unknown.
    #[must_use]
    pub fn new(wanted: Vec2) -> Self {
        if !wanted.is_finite() {
            return Self::NONE;
        }
        if wanted.length_squared() <= 1.0 {
            // Adding zero removes the sign of a negative zero.
            return Self(wanted + Vec2::ZERO);
        }
        // Scaled first, so that the square of a large component does not overflow.
        let scaled = wanted / wanted.abs().max_element();
        Self(scaled / scaled.length())
    }

    /// At full strength in a direction, such as for a mover that walks by itself.
    ///
    /// ```
    /// use ambulant::direction::{Facing, YAxis};
    /// use ambulant::intent::Intent;
    /// use glam::vec2;
    ///
    /// assert_eq!(Intent::facing(Facing::Up, YAxis::Down).vector(), vec2(0.0, -1.0));
    /// ```
    #[must_use]
    pub fn facing(facing: Facing, y_axis: YAxis) -> Self {
        Self::from_bounded(facing.vector(y_axis))
    }

    /// At full strength from one position toward another, such as toward a pointer. Within `slow` units the strength
    /// falls with the distance, so that the mover does not overshoot and turn back; 0 for full strength up to the end.
    /// None at the target itself, and for positions that are not finite.
    ///
    /// ```
    /// use ambulant::intent::Intent;
    /// use glam::{Vec2, vec2};
    ///
    /// assert_eq!(Intent::toward(Vec2::ZERO, vec2(30.0, 40.0), 10.0).vector(), vec2(0.6, 0.8));
    /// assert_eq!(Intent::toward(Vec2::ZERO, vec2(3.0, 4.0), 10.0).strength(), 0.5);
    /// assert!(Intent::toward(Vec2::ZERO, Vec2::ZERO, 10.0).is_none());
    /// ```
    #[must_use]
    pub fn toward(from: Vec2, to: Vec2, slow: f32) -> Self {
        let way = to.as_dvec2() - from.as_dvec2();
        let distance = way.length();
        if !distance.is_finite() || distance == 0.0 {
            return Self::NONE;
        }
        let slow = f64::from(slow);
        let strength = if slow > 0.0 { (distance / slow).min(1.0) } else { 1.0 };
        Self::new((way * (strength / distance)).as_vec2())
    }

    /// A vector whose length is known to be at most 1, up to rounding.
    pub(crate) const fn from_bounded(vector: Vec2) -> Self {
        Self(vector)
    }

    /// Direction times strength; length 0 to 1.
    #[must_use]
    pub const fn vector(self) -> Vec2 {
        self.0
    }

    /// The intent turned by some radians, from +x toward +y. For a rotated view, turn it by the view's angle, so that
    /// "up" is up on the screen.
    ///
    /// ```
    /// use ambulant::intent::Intent;
    /// use glam::vec2;
    /// use std::f32::consts::FRAC_PI_2;
    ///
    /// let turned = Intent::new(vec2(1.0, 0.0)).turned(FRAC_PI_2);
    /// assert!(turned.vector().distance(vec2(0.0, 1.0)) < 1e-6);
    /// ```
    #[must_use]
    pub fn turned(self, radians: f32) -> Self {
        Self::new(Angle::from_radians(radians).vector().rotate(self.0))
    }

    /// The intent as two independent axes, each from -1 to 1: a full diagonal gives 1 on both.
    ///
    /// For controls with separate axes, such as a wheel and a throttle.
    #[must_use]
    pub fn spread(self) -> Vec2 {
        let longest = self.0.abs().max_element();
        if longest > 0.0 {
            (self.0 * (self.strength() / longest)).clamp(Vec2::NEG_ONE, Vec2::ONE)
        } else {
            Vec2::ZERO
        }
    }

    /// The strength, 0 to 1.
    #[must_use]
    pub fn strength(self) -> f32 {
        self.0.length()
    }

    /// Whether there is no intent.
    #[must_use]
    #[inline]
    pub fn is_none(self) -> bool {
        self.0 == Vec2::ZERO && !self.0.x.is_sign_negative()
    }
}
