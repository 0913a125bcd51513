//! Gait: acceleration and friction in units per second squared.
//!
//! The velocity moves in a straight line toward the wanted velocity at a constant rate and stays
//! there. With `v` the velocity, `w` the wanted one, `r` the rate and `u` the unit vector from `v`
//! to `w`: `v(t) = v + u r t` until `t = |w - v| / r`, and `w` after that. The displacement is its
//! integral, so that no step length enters. While the velocity still points away from the wanted
//! one (`v · w < 0`), the rate is the one for turning back; the instant at which that ends is known,
//! since `v · w` changes evenly.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use super::surface::Surface;
use crate::error::{InvalidNumber, above_zero};
use crate::exact::root_f64;
use crate::intent::Intent;
use crate::saved::restored;
use crate::time::seconds;
use crate::warning::Warning;

const SPEED: &str = "a finite number above 0 (units/s)";

/// Walking and running: speeds up at one rate and stops exactly at another.
///
/// The acceleration applies while there is an intent, the friction while there is none. Both act along the straight
/// line between the velocity and the wanted velocity, so all directions are alike and friction never reverses a
/// velocity.
///
/// ```
/// use ambulant::prelude::*;
///
/// let gait = Gait::new(60.0, 240.0, 480.0)?;
/// let right = Intent::new(vec2(1.0, 0.0));
///
/// // A quarter of a second to top speed, over 7.5 units; then a quarter at top speed.
/// let motion = gait.advance(Momentum::default(), right, &Surface::PLAIN, 0.5);
/// assert_eq!(motion.velocity, vec2(60.0, 0.0));
/// assert_eq!(motion.displacement, vec2(7.5 + 15.0, 0.0));
///
/// // Friction: at rest after an eighth of a second, exactly.
/// let motion = gait.advance(motion.momentum(), Intent::NONE, &Surface::PLAIN, 0.2);
/// assert_eq!(motion.velocity, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Gait {
    top_speed: f32,
    acceleration: f32,
    friction: f32,
    turning: f32,
}

restored!(
    Gait { top_speed: f32, acceleration: f32, friction: f32, turning: f32 } as saved => {
        Ok(Gait::new(saved.top_speed, saved.acceleration, saved.friction)?.with_turning(saved.turning)?)
    }
);

impl Gait {
    /// A gait from its top speed (units/s), acceleration and friction (units/s²).
    ///
    /// # Errors
    /// Each must be a finite number above 0.
    pub fn new(top_speed: f32, acceleration: f32, friction: f32) -> Result<Self, InvalidNumber> {
        let rate = "a finite number above 0 (units/s²)";
        let acceleration = above_zero("acceleration", acceleration, rate)?;
        Ok(Self {
            top_speed: above_zero("top_speed", top_speed, SPEED)?,
            acceleration,
            friction: above_zero("friction", friction, rate)?,
            turning: acceleration,
        })
    }

    /// A gait from its feel: this top speed (units/s) within so many seconds from rest, and a stop from it within so
    /// many units.
    ///
    /// ```
    /// use ambulant::drive::Gait;
    ///
    /// let gait = Gait::reaching(60.0, 0.25, 4.5)?;
    /// assert_eq!((gait.acceleration(), gait.friction()), (240.0, 400.0));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    ///
    /// # Errors
    /// Each must be a finite number above 0.
    pub fn reaching(top_speed: f32, seconds: f32, stop_distance: f32) -> Result<Self, InvalidNumber> {
        above_zero("top_speed", top_speed, SPEED)?;
        let seconds = above_zero("seconds", seconds, "a finite number above 0 (seconds to top speed)")?;
        let wanted = "a finite number above 0 (units to stop from top speed)";
        let stop_distance = above_zero("stop_distance", stop_distance, wanted)?;
        // From v = a t and v² = 2 f d.
        Self::new(top_speed, top_speed / seconds, top_speed * top_speed / (2.0 * stop_distance))
    }

    /// Sets the rate for turning back, in units/s²; by default, the acceleration.
    ///
    /// # Errors
    /// The rate must be a finite number above 0.
    pub fn with_turning(mut self, turning: f32) -> Result<Self, InvalidNumber> {
        self.turning = above_zero("turning", turning, "a finite number above 0 (units/s²)")?;
        Ok(self)
    }

    /// How fast velocity changes while there is an intent, in units/s².
    #[must_use]
    pub const fn acceleration(&self) -> f32 {
        self.acceleration
    }

    /// How fast velocity falls while there is no intent, in units/s².
    #[must_use]
    pub const fn friction(&self) -> f32 {
        self.friction
    }

    /// How fast velocity changes while it points away from the intent, in units/s².
    #[must_use]
    pub const fn turning(&self) -> f32 {
        self.turning
    }

    /// Valid values that are probably mistakes.
    #[must_use]
    pub fn warnings(&self) -> Vec<Warning> {
        let Self { friction, acceleration, .. } = *self;
        let weak = friction < acceleration;
        weak.then_some(Warning::FrictionBelowAcceleration { friction, acceleration }).into_iter().collect()
    }
}

impl Drive for Gait {
    #[expect(
        clippy::inline_always,
        reason = "also behind pointers, so it would be left out of line: a sixth of a tick"
    )]
    #[inline(always)]
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let (velocity, heading) = (from.exact_velocity(), from.heading);
        let (whole, dt) = (dt, f64::from(seconds(dt)));
        let intent = on.slowed(intent);
        let wanted = (intent.vector() * self.top_speed).as_dvec2();
        if self.turning != self.acceleration && velocity.dot(wanted) < 0.0 {
            let (displacement, velocity) = self.on(on).turn_back(velocity, wanted, dt);
            return Motion::exact(displacement, velocity, heading).carried(on, whole);
        }
        let rate = if intent.is_none() { self.friction } else { self.acceleration };
        let (displacement, velocity) = close_in(velocity, wanted, f64::from(on.gripped(rate)), dt);
        Motion::exact(displacement, velocity, heading).carried(on, whole)
    }

    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let (gait, intent) = (self.on(on), on.slowed(intent));
        let pull = if intent.is_none() {
            Pull::toward(Vec2::ZERO, gait.friction)
        } else {
            Pull {
                turning: gait.turning,
                ..Pull::toward(intent.vector() * gait.top_speed, gait.acceleration)
            }
        };
        Some(Response { pulls: [Some(pull), None], ..Response::default() })
    }

    fn top_speed(&self) -> f32 {
        self.top_speed
    }
}

impl Gait {
    /// The same with the grip of a surface.
    fn on(&self, surface: &Surface) -> Self {
        let Self { top_speed, acceleration, friction, turning } = *self;
        let [acceleration, friction, turning] =
            [acceleration, friction, turning].map(|rate| surface.gripped(rate));
        Self { top_speed, acceleration, friction, turning }
    }

    /// Moves a velocity that points away from the wanted one, at the turning rate until it does not any more.
    fn turn_back(&self, velocity: DVec2, wanted: DVec2, dt: f64) -> (DVec2, DVec2) {
        let away = velocity.dot(wanted);
        // The part of the gap after which `velocity · wanted` is zero, at the turning rate.
        let part = away / (away - wanted.length_squared());
        let [turning, acceleration] = [self.turning, self.acceleration].map(f64::from);
        let back = (root_f64((wanted - velocity).length_squared()) * part / turning).min(dt);
        let (first, turned) = close_in(velocity, wanted, turning, back);
        let (second, velocity) = close_in(turned, wanted, acceleration, dt - back);
        (first + second, velocity)
    }
}

/// Moves `velocity` toward `wanted` at `rate` for `dt`; returns the displacement and the new velocity.
#[inline]
pub(super) fn close_in(velocity: DVec2, wanted: DVec2, rate: f64, dt: f64) -> (DVec2, DVec2) {
    let gap = wanted - velocity;
    let change = rate * dt;
    let distance = root_f64(gap.length_squared());
    if distance <= change {
        let arrival = distance / rate;
        return ((velocity + wanted) * (0.5 * arrival) + wanted * (dt - arrival), wanted);
    }
    let reached = velocity + gap * (change / distance);
    ((velocity + reached) * (0.5 * dt), reached)
}
