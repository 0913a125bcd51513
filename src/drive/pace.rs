//! Pace: the velocity is the intent times a speed, immediately.

use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use crate::error::{InvalidNumber, above_zero};
use crate::intent::Intent;
use crate::time::seconds;
use crate::tolerance::AT_ONCE;

/// Moves at a speed and stops, both immediately.
///
/// ```
/// use ambulant::drive::{Drive, Pace};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let pace = Pace::new(80.0)?; // units/s
/// let motion = pace.advance(Vec2::ZERO, Intent::new(vec2(0.0, -1.0)), 0.5);
/// assert_eq!(motion.displacement, vec2(0.0, -40.0));
/// assert_eq!(pace.advance(motion.velocity, Intent::NONE, 0.5).displacement, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Pace {
    speed: f32,
}

impl Pace {
    /// A pace from its speed at full strength, in units/s.
    ///
    /// # Errors
    /// The speed must be a finite number above 0.
    pub fn new(speed: f32) -> Result<Self, InvalidNumber> {
        Ok(Self { speed: above_zero("speed", speed, "a finite number above 0 (units/s)")? })
    }
}

impl Drive for Pace {
    #[inline]
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        let heading = from.into().heading;
        let velocity = intent.vector() * self.speed;
        Motion { displacement: velocity * seconds(dt), velocity, heading }
    }

    fn response(&self, intent: Intent) -> Option<Response> {
        let pull = Pull::toward(intent.vector() * self.speed, AT_ONCE);
        Some(Response { pulls: [Some(pull), None], ..Response::default() })
    }

    fn top_speed(&self) -> f32 {
        self.speed
    }
}
