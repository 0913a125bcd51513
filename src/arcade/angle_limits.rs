//! Keeps a ball from bouncing level or upright for ever.

use core::f32::consts::FRAC_PI_4;

use glam::Vec2;

use crate::error::InvalidNumber;
use crate::saved::restored;

/// The smallest angles of a ball's path to the level and to the upright, in radians.
///
/// ```
/// use ambulant::arcade::AngleLimits;
/// use glam::vec2;
///
/// let angle_limits = AngleLimits::new(10f32.to_radians(), 5f32.to_radians())?;
/// let level = angle_limits.kept(vec2(300.0, 1.0));
/// assert!((level.y.atan2(level.x).to_degrees() - 10.0).abs() < 1e-3);
/// assert!((level.length() - vec2(300.0, 1.0).length()).abs() < 1e-3); // its speed is kept
/// assert_eq!(angle_limits.kept(vec2(3.0, 4.0)), vec2(3.0, 4.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct AngleLimits {
    to_level: f32,
    to_upright: f32,
}

restored!(
    AngleLimits { to_level: f32, to_upright: f32 } as saved => Ok(AngleLimits::new(saved.to_level, saved.to_upright)?)
);

impl AngleLimits {
    /// No limits.
    pub const ANY: Self = Self { to_level: 0.0, to_upright: 0.0 };

    /// The smallest angles to the level (the x axis) and to the upright, in radians.
    ///
    /// # Errors
    /// Both must be from 0 to an eighth of a turn.
    pub fn new(to_level: f32, to_upright: f32) -> Result<Self, InvalidNumber> {
        let checked = |field, angle: f32| {
            let fine = (0.0..=FRAC_PI_4).contains(&angle);
            let wanted = "from 0 to 0.785 (radians, an eighth of a turn)";
            if fine { Ok(angle) } else { Err(InvalidNumber::new(field, angle, wanted)) }
        };
        Ok(Self { to_level: checked("to_level", to_level)?, to_upright: checked("to_upright", to_upright)? })
    }

    /// Turns a velocity away from the level and the upright where it is too near to them; speed and quadrant stay the
    /// same. If one component is zero, it turns toward the positive side of that axis.
    #[must_use]
    pub fn kept(&self, velocity: Vec2) -> Vec2 {
        let speed = velocity.length();
        if speed == 0.0 || !speed.is_finite() {
            return velocity;
        }
        let angle = libm::atan2f(velocity.y.abs(), velocity.x.abs());
        let kept = angle.clamp(self.to_level, core::f32::consts::FRAC_PI_2 - self.to_upright);
        if kept == angle {
            return velocity;
        }
        let (sin, cos) = libm::sincosf(kept);
        let side = |part: f32| if part < 0.0 { -1.0 } else { 1.0 };
        Vec2::new(cos * side(velocity.x), sin * side(velocity.y)) * speed
    }
}
