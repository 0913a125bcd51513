//! Gait: acceleration and friction in units per second squared.
//!
//! The velocity moves in a straight line toward the wanted velocity at a constant rate and stays
//! there. With `v` the velocity, `w` the wanted one, `r` the rate and `u` the unit vector from `v`
//! to `w`: `v(t) = v + u r t` until `t = |w - v| / r`, and `w` after that. The displacement is its
//! integral, so that no step length enters.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion, seconds};
use crate::error::{InvalidNumber, above_zero};
use crate::intent::Intent;

/// Walking and running: speeds up at one rate, comes to an exact stop at another.
///
/// The acceleration rules as long as anything is asked for, the friction when nothing is. Both act
/// along the straight line between the velocity and the wanted velocity, so that no direction is
/// special and friction never turns a velocity round.
///
/// ```
/// use ambulant::drive::{Drive, Gait};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let gait = Gait::new(60.0, 240.0, 480.0)?;
/// let right = Intent::new(vec2(1.0, 0.0));
///
/// // A quarter of a second to top speed, over 7.5 units; then a quarter at top speed.
/// let motion = gait.advance(Vec2::ZERO, right, 0.5);
/// assert_eq!(motion.velocity, vec2(60.0, 0.0));
/// assert_eq!(motion.displacement, vec2(7.5 + 15.0, 0.0));
///
/// // Friction: at rest after an eighth of a second, exactly.
/// let motion = gait.advance(motion.velocity, Intent::NONE, 0.2);
/// assert_eq!(motion.velocity, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Gait {
    top_speed: f32,
    acceleration: f32,
    friction: f32,
}

impl Gait {
    /// A gait from its top speed (units/s), acceleration and friction (units/s²).
    ///
    /// # Errors
    /// Each must be a finite number above 0.
    pub fn new(top_speed: f32, acceleration: f32, friction: f32) -> Result<Self, InvalidNumber> {
        let rate = "a finite number above 0 (units/s²)";
        Ok(Self {
            top_speed: above_zero("top_speed", top_speed, "a finite number above 0 (units/s)")?,
            acceleration: above_zero("acceleration", acceleration, rate)?,
            friction: above_zero("friction", friction, rate)?,
        })
    }

    /// The speed that full strength leads to, in units/s.
    #[must_use]
    pub const fn top_speed(&self) -> f32 {
        self.top_speed
    }

    /// How fast velocity changes while anything is asked for, in units/s².
    #[must_use]
    pub const fn acceleration(&self) -> f32 {
        self.acceleration
    }

    /// How fast velocity falls while nothing is asked for, in units/s².
    #[must_use]
    pub const fn friction(&self) -> f32 {
        self.friction
    }
}

impl Drive for Gait {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        let Momentum { velocity, heading } = from.into();
        let rate = if intent.is_none() { self.friction } else { self.acceleration };
        let (displacement, velocity) =
            close_in(velocity, intent.vector() * self.top_speed, rate, seconds(dt));
        Motion { displacement, velocity, heading }
    }
}

/// Moves `velocity` toward `wanted` at `rate` for `dt`; returns the displacement and the new velocity.
fn close_in(velocity: Vec2, wanted: Vec2, rate: f32, dt: f32) -> (Vec2, Vec2) {
    let gap = wanted - velocity;
    let change = rate * dt;
    let distance = gap.length();
    if distance <= change {
        let arrival = distance / rate;
        return ((velocity + wanted) * (0.5 * arrival) + wanted * (dt - arrival), wanted);
    }
    let reached = velocity + gap * (change / distance);
    ((velocity + reached) * (0.5 * dt), reached)
}
