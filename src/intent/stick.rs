//! An analogue stick as an intent.
//!
//! The dead zone is round: only the distance from the middle counts, so a slow diagonal is not pulled onto an axis.
//! The strength rises from 0 at the dead zone to 1 at the outer limit, as `((distance - dead zone) / (limit - dead
//! zone)) ^ curve`.

use alloc::vec::Vec;

use glam::Vec2;

use super::Intent;
use crate::error::{InvalidNumber, above_zero};
use crate::saved::restored;
use crate::warning::Warning;

/// A wider dead zone leaves little to steer with.
const WIDE_DEAD_ZONE: f32 = 0.9;

/// How a stick's position becomes an intent.
///
/// ```
/// use ambulant::intent::Stick;
/// use glam::vec2;
///
/// let stick = Stick::new(0.2, 0.9, 1.0)?;
/// assert!(stick.intent(vec2(0.12, 0.15)).is_none()); // within the dead zone
/// assert!((stick.intent(vec2(0.55, 0.0)).strength() - 0.5).abs() < 1e-6);
/// assert_eq!(stick.intent(vec2(0.0, -1.0)).vector(), vec2(0.0, -1.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Stick {
    dead_zone: f32,
    limit: f32,
    curve: f32,
}

restored!(
    Stick { dead_zone: f32, limit: f32, curve: f32 } as saved => {
        Ok(Stick::new(saved.dead_zone, saved.limit, saved.curve)?)
    }
);

impl Stick {
    /// A stick from its dead zone and outer limit (distances from the middle, 0 to 1) and the
    /// exponent of its response curve (1: straight; 2: fine at first).
    ///
    /// # Errors
    /// The dead zone must be at least 0 and below the limit, the limit at most 1, the exponent
    /// finite and above 0.
    pub fn new(dead_zone: f32, limit: f32, curve: f32) -> Result<Self, InvalidNumber> {
        if !(limit > 0.0 && limit <= 1.0) {
            return Err(InvalidNumber::new(
                "limit",
                limit,
                "above 0 and at most 1 (distance from the middle)",
            ));
        }
        if !(dead_zone >= 0.0 && dead_zone < limit) {
            return Err(InvalidNumber::new("dead_zone", dead_zone, "at least 0 and below the limit"));
        }
        Ok(Self {
            dead_zone,
            limit,
            curve: above_zero("curve", curve, "a finite number above 0 (exponent)")?,
        })
    }

    /// The intent for a stick's position, in the directions of the world's axes. A position that is not finite gives
    /// none.
    #[must_use]
    pub fn intent(&self, position: Vec2) -> Intent {
        let distance = position.length();
        if !distance.is_finite() || distance <= self.dead_zone {
            return Intent::NONE;
        }
        let part = ((distance - self.dead_zone) / (self.limit - self.dead_zone)).min(1.0);
        Intent::new(position * (libm::powf(part, self.curve) / distance))
    }

    /// Valid values that are probably mistakes.
    #[must_use]
    pub fn warnings(&self) -> Vec<Warning> {
        let wide = self.dead_zone > WIDE_DEAD_ZONE;
        wide.then_some(Warning::WideDeadZone { dead_zone: self.dead_zone }).into_iter().collect()
    }
}
