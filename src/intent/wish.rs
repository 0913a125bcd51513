//! The intent itself: a vector no longer than 1.

use glam::Vec2;

use crate::direction::Angle;

/// What the player asks for: a direction and a strength from 0 (nothing) to 1 (all of it).
///
/// The length never exceeds 1, whatever it was made from, so that no drive can be made faster
/// by a diagonal or by two devices at once.
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
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Intent(Vec2);

impl Intent {
    /// Nothing is asked for.
    pub const NONE: Self = Self(Vec2::ZERO);

    /// Something is asked for of which the walls leave nothing: as long as [`NONE`](Self::NONE), and yet a key is held. So a
    /// press exactly into a wall brakes as one a hair beside it does. The sign of the zeros tells it from `NONE`; no other
    /// intent has a negative zero.
    pub(crate) const BLOCKED: Self = Self(Vec2::splat(-0.0));

    /// Takes a vector as it is up to length 1 and shortens a longer one to length 1.
    ///
    /// A vector with a part that is not a number or not finite asks for nothing, since its
    /// direction is not known.
    #[must_use]
    pub fn new(wanted: Vec2) -> Self {
        if !wanted.is_finite() {
            return Self::NONE;
        }
        if wanted.length_squared() <= 1.0 {
            // Adding zero turns a negative zero into a plain one.
            return Self(wanted + Vec2::ZERO);
        }
        // Scaled first, so that the square of a huge part does not overflow.
        let scaled = wanted / wanted.abs().max_element();
        Self(scaled / scaled.length())
    }

    /// A vector whose length is known to be at most 1, up to rounding.
    pub(crate) const fn from_bounded(vector: Vec2) -> Self {
        Self(vector)
    }

    /// The wanted direction times the strength; length 0 to 1.
    #[must_use]
    pub const fn vector(self) -> Vec2 {
        self.0
    }

    /// The same intent turned by some radians, from +x toward +y: for a view that is rotated
    /// against the world, by the view's angle, so that "up" is up on the screen.
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

    /// The intent as two independent axes, each from -1 to 1: a full diagonal asks for all of both.
    ///
    /// For controls that do not share one speed, such as a wheel and a throttle.
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

    /// True when nothing is asked for.
    #[must_use]
    #[inline]
    pub fn is_none(self) -> bool {
        self.0 == Vec2::ZERO && !self.0.x.is_sign_negative()
    }
}
