//! Glide: thrust against drag, coming to rest below a threshold.
//!
//! The velocity obeys `v' = a - k v` with thrust `a` and drag `k`. With `x = k t`:
//! `v(t) = v e^-x + a t p(x)` and the displacement is `v t p(x) + a t² q(x)`, where
//! `p(x) = (1 - e^-x) / x` and `q(x) = (1 - p(x)) / x`; both have limits at zero drag. When nothing
//! is asked for, the speed falls to the threshold `r` at `t = ln(|v| / r) / k` and is zero from then.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::drag::Drag;
use super::motion::{Drive, Momentum, Motion, TAP};
use super::response::Response;
use super::surface::Surface;
use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::intent::Intent;
use crate::saved::restored;
use crate::time::seconds;
use crate::warning::Warning;

/// Up to this, the motion is a sum of a few terms: at 60 ticks per second, for drags of up to 7.5 per second.
const SMALL: f64 = 0.125;
const LAST_EVEN: f64 = 1.0 / 3_628_800.0;
const LAST_ODD: f64 = 1.0 / 362_880.0;

/// Floating and drifting: thrust against drag, with an exact stop.
///
/// To apply an impulse or a flick, add it to the velocity.
///
/// ```
/// use ambulant::prelude::*;
///
/// let glide = Glide::new(200.0, Drag::half_life(0.5)?, 2.0)?; // thrust, drag, rest below 2 units/s
/// assert!((glide.top_speed() - 144.27).abs() < 0.01); // thrust over drag
///
/// let flicked = Momentum::from(vec2(64.0, 0.0)); // halves five times to the threshold: 2.5 s
/// assert_ne!(glide.advance(flicked, Intent::NONE, &Surface::PLAIN, 2.49).velocity, Vec2::ZERO);
/// assert_eq!(glide.advance(flicked, Intent::NONE, &Surface::PLAIN, 2.51).velocity, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Glide {
    thrust: f32,
    drag: Drag,
    rest_speed: f32,
}

restored!(
    Glide { thrust: f32, drag: Drag, rest_speed: f32 } as saved => {
        Ok(Glide::new(saved.thrust, saved.drag, saved.rest_speed)?)
    }
);

impl Glide {
    /// A glide from its thrust (units/s²), its drag, and the speed below which it rests (units/s).
    ///
    /// # Errors
    /// Thrust and rest speed must be finite and at least 0.
    pub fn new(thrust: f32, drag: Drag, rest_speed: f32) -> Result<Self, InvalidNumber> {
        Ok(Self {
            thrust: at_least_zero("thrust", thrust, "a finite number of at least 0 (units/s²)")?,
            drag,
            rest_speed: at_least_zero("rest_speed", rest_speed, "a finite number of at least 0 (units/s)")?,
        })
    }

    /// A glide from its feel: a top speed (units/s), 90 % of it within so many seconds from rest, and the speed below
    /// which it rests.
    ///
    /// # Errors
    /// Top speed and seconds must be finite and above 0, the rest speed finite and at least 0.
    pub fn reaching(top_speed: f32, seconds: f32, rest_speed: f32) -> Result<Self, InvalidNumber> {
        above_zero("top_speed", top_speed, "a finite number above 0 (units/s)")?;
        let wanted = "a finite number above 0 (seconds to nine tenths of top speed)";
        let seconds = above_zero("seconds", seconds, wanted)?;
        // 1 - e^(-k t) = 0.9
        let drag = Drag::per_second(core::f32::consts::LN_10 / seconds)?;
        Self::new(top_speed * drag.rate(), drag, rest_speed)
    }

    /// The thrust, in units/s².
    #[must_use]
    pub const fn thrust(&self) -> f32 {
        self.thrust
    }

    /// The drag.
    #[must_use]
    pub const fn drag(&self) -> Drag {
        self.drag
    }

    /// The speed below which it rests, in units/s.
    #[must_use]
    pub const fn rest_speed(&self) -> f32 {
        self.rest_speed
    }

    /// Valid values that are probably mistakes.
    #[must_use]
    pub fn warnings(&self) -> Vec<Warning> {
        let full = Intent::new(Vec2::X);
        let tap_speed = self.advance(Momentum::default(), full, &Surface::PLAIN, TAP).velocity.length();
        let above = tap_speed > 0.0 && self.rest_speed > tap_speed;
        let warning = Warning::RestAboveTap { rest_speed: self.rest_speed, tap_speed };
        above.then_some(warning).into_iter().collect()
    }

    /// After how many seconds a velocity without an intent is at rest, at a drag per second.
    fn seconds_to_rest(&self, speed: f64, drag: f64) -> f64 {
        let threshold = f64::from(self.rest_speed);
        if speed <= threshold {
            return 0.0;
        }
        libm::log(speed / threshold) / drag
    }
}

impl Drive for Glide {
    #[inline]
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let (velocity, heading) = (from.exact_velocity(), from.heading);
        let (whole, intent) = (dt, on.slowed(intent));
        let dt = f64::from(seconds(dt));
        let drag = f64::from(self.drag.rate()) * f64::from(on.grip());
        let fading = Fading::after(drag * dt);
        let rest_speed = f64::from(self.rest_speed);
        let slows_to = velocity.length_squared() * fading.kept * fading.kept;
        // In no time nothing rests: what a drive does at once decides whether it leads off a wall.
        if dt > 0.0 && intent.is_none() && rest_speed > 0.0 && slows_to <= rest_speed * rest_speed {
            let rest = self.seconds_to_rest(velocity.length(), drag).min(dt);
            let displacement = velocity * (rest * Fading::after(drag * rest).p);
            return Motion::exact(displacement, DVec2::ZERO, heading).carried(on, whole);
        }
        let thrust = intent.vector().as_dvec2() * (f64::from(self.thrust) * f64::from(on.grip()));
        let displacement = velocity * (dt * fading.p) + thrust * (dt * dt * fading.q);
        let velocity = velocity * fading.kept + thrust * (dt * fading.p);
        Motion::exact(displacement, velocity, heading).carried(on, whole)
    }

    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let intent = on.slowed(intent);
        let rest_speed = if intent.is_none() { self.rest_speed } else { 0.0 };
        let push = intent.vector() * (self.thrust * on.grip()).min(f32::MAX);
        Some(Response {
            push,
            drag: (self.drag.rate() * on.grip()).min(f32::MAX),
            rest_speed,
            ..Response::default()
        })
    }

    fn top_speed(&self) -> f32 {
        let rate = self.drag.rate();
        if rate > 0.0 { self.thrust / rate } else { f32::INFINITY }
    }
}

/// The parts of the motion against drag after `x = k t`.
#[derive(Debug, Clone, Copy)]
struct Fading {
    /// `e^-x`.
    kept: f64,
    /// `(1 - e^-x) / x`, 1 at 0.
    p: f64,
    /// `(1 - p) / x`, 1/2 at 0.
    q: f64,
}

impl Fading {
    #[inline]
    fn after(x: f64) -> Self {
        // The sum of (-x)^n / (n + 2)!, even and odd terms apart, so that the processor computes both at once; the
        // first term left out is below 2e-16. It is computed before the test whether it applies, so that a compiler
        // can move the test out of a loop over movers: a tick then costs a third.
        let square = x * x;
        let even =
            square * (1.0 / 24.0 + square * (1.0 / 720.0 + square * (1.0 / 40_320.0 + square * LAST_EVEN)));
        let odd = 1.0 / 6.0 + square * (1.0 / 120.0 + square * (1.0 / 5_040.0 + square * LAST_ODD));
        let q = 1.0 / 2.0 + even - x * odd;
        let p = 1.0 - x * q;
        if x <= SMALL { Self { kept: 1.0 - x * p, p, q } } else { Self::after_long(x) }
    }

    #[cold]
    fn after_long(x: f64) -> Self {
        let p = -libm::expm1(-x) / x;
        Self { kept: 1.0 - x * p, p, q: (1.0 - p) / x }
    }
}
