//! Pace: the velocity is the intent times a speed, immediately.

use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use super::surface::Surface;
use crate::error::{InvalidNumber, above_zero};
use crate::intent::Intent;
use crate::saved::restored;
use crate::time::seconds;
use crate::tolerance::AT_ONCE;

/// Moves at a speed and stops, both immediately.
///
/// ```
/// use ambulant::prelude::*;
///
/// let pace = Pace::new(80.0)?; // units/s
/// let motion = pace.advance(Momentum::default(), Intent::new(vec2(0.0, -1.0)), &Surface::PLAIN, 0.5);
/// assert_eq!(motion.displacement, vec2(0.0, -40.0));
/// let stopped = pace.advance(motion.momentum(), Intent::NONE, &Surface::PLAIN, 0.5);
/// assert_eq!(stopped.displacement, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Pace {
    speed: f32,
}

restored!(Pace { speed: f32 } as saved => Ok(Pace::new(saved.speed)?));

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
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let velocity = on.slowed(intent).vector() * self.speed;
        let displacement = velocity.as_dvec2() * f64::from(seconds(dt));
        Motion::exact(displacement, velocity.as_dvec2(), from.heading).carried(on, dt)
    }

    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let pull = Pull::toward(on.slowed(intent).vector() * self.speed, AT_ONCE);
        Some(Response { pulls: [Some(pull), None], ..Response::default() })
    }

    fn top_speed(&self) -> f32 {
        self.speed
    }
}
