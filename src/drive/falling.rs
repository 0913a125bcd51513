//! A drive under a constant pull with a greatest speed: falling while walking across it.
//!
//! Along the pull, the velocity grows at a constant rate up to the limit, and the drive does nothing; across it, the
//! drive acts as usual. A velocity against the pull (a jump) is slowed by the pull.

use glam::{DVec2, Vec2};

use super::gait::close_in;
use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use super::surface::Surface;
use crate::direction::Axis;
use crate::error::{InvalidNumber, above_zero};
use crate::exact::unit;
use crate::intent::Intent;
use crate::saved::restored;
use crate::time::seconds;

/// A drive under a constant pull.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::drive::Falling;
///
/// let falling = Falling::new(Pace::new(10.0)?, vec2(0.0, 100.0), 50.0)?; // pull, fastest fall
/// let motion = falling.advance(Momentum::default(), Intent::new(vec2(1.0, 0.0)), &Surface::PLAIN, 1.0);
/// assert_eq!(motion.velocity, vec2(10.0, 50.0)); // the limit, after half a second
/// assert_eq!(motion.displacement, vec2(10.0, 12.5 + 25.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Falling<D> {
    drive: D,
    fall: Fall,
}

/// A constant pull up to a speed.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(super) struct Fall {
    toward: Vec2,
    rate: f32,
    limit: f32,
}

restored!(
    Fall { toward: Vec2, rate: f32, limit: f32 } as saved => {
        let rate = above_zero("rate", saved.rate, "a finite number above 0 (units/s²)")?;
        let limit = above_zero("limit", saved.limit, LIMIT)?;
        let toward = saved.toward;
        // As it was: dividing by the length again would round again.
        let is_unit = toward.is_finite() && (toward.length() - 1.0).abs() < 1e-3;
        ensure(is_unit, "toward must be a vector of length 1")?;
        Ok(Fall { toward, rate, limit })
    }
);

const LIMIT: &str = "a finite number above 0 (units/s)";

impl Fall {
    pub(super) fn new(pull: Vec2, limit: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a vector of finite length above 0 (units/s²)";
        let rate = pull.length();
        if !(rate.is_finite() && rate > 0.0) {
            return Err(InvalidNumber::vector(
                "pull",
                pull,
                if pull.x.is_finite() { pull.y } else { pull.x },
                wanted,
            ));
        }
        let limit = above_zero("limit", limit, LIMIT)?;
        Ok(Self { toward: pull / rate, rate, limit })
    }

    pub(super) fn pull(&self) -> Vec2 {
        self.toward * self.rate
    }

    pub(super) const fn limit(&self) -> f32 {
        self.limit
    }

    /// Its direction, whose length in `f32` is 1 up to rounding only.
    fn exactly_toward(&self) -> DVec2 {
        unit(self.toward.as_dvec2())
    }

    fn across(&self, vector: Vec2) -> Vec2 {
        vector - self.toward * vector.dot(self.toward)
    }
}

impl<D> Falling<D> {
    /// A drive under a pull (units/s², in any direction), up to a speed along it (units/s).
    ///
    /// # Errors
    /// The pull must be finite and not zero, the limit finite and above 0.
    pub fn new(drive: D, pull: Vec2, limit: f32) -> Result<Self, InvalidNumber> {
        Ok(Self { drive, fall: Fall::new(pull, limit)? })
    }

    pub(super) const fn under(drive: D, fall: Fall) -> Self {
        Self { drive, fall }
    }

    pub(super) const fn fall(&self) -> Fall {
        self.fall
    }

    /// The drive that acts across the pull.
    #[must_use]
    pub const fn drive(&self) -> &D {
        &self.drive
    }

    /// The greatest speed along the pull, in units/s.
    #[must_use]
    pub const fn limit(&self) -> f32 {
        self.fall.limit
    }

    /// The pull, in units/s².
    #[must_use]
    pub fn pull(&self) -> Vec2 {
        self.fall.pull()
    }

    fn level(&self, momentum: Momentum) -> Momentum {
        let (velocity, toward) = (momentum.exact_velocity(), self.fall.exactly_toward());
        momentum.with_velocity(velocity - toward * velocity.dot(toward))
    }

    /// Displacement and speed along the pull.
    fn fallen(&self, from: Momentum, dt: f32) -> (DVec2, DVec2) {
        let Fall { rate, limit, .. } = self.fall;
        let (dt, limit, rate) = (f64::from(seconds(dt)), f64::from(limit), f64::from(rate));
        let toward = self.fall.exactly_toward();
        close_in(toward * from.exact_velocity().dot(toward), toward * limit, rate, dt)
    }
}

impl<D: Drive> Drive for Falling<D> {
    /// A surface that moves takes it along in every direction, whatever its drive is held to.
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let still = on.moving(Vec2::ZERO);
        let motion = self.drive.advance(self.level(from), self.heeded(intent), &still, dt);
        let (dropped, fall) = self.fallen(from, dt);
        let velocity = motion.momentum().exact_velocity() + fall;
        Motion::exact(motion.exact_displacement() + dropped, velocity, motion.heading).carried(on, dt)
    }

    fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
        let level = self.drive.momentum_after(self.level(from), self.heeded(intent), on, dt);
        level.with_velocity(level.exact_velocity() + self.fallen(from, dt).1)
    }

    /// That of its drive across the pull, and the pull; `None` if the drive steers or has another axis.
    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let response = self.drive.response(self.heeded(intent), on)?;
        let Fall { toward, rate, limit } = self.fall;
        let across = toward.perp();
        let [own, None] = response.pulls else { return None };
        let leads_aside = |axis: Option<Vec2>| axis.is_some_and(|axis| axis.perp_dot(across) != 0.0);
        if leads_aside(response.axis) || leads_aside(own.and_then(|own| own.axis)) {
            return None;
        }
        let across = Some(across);
        let own = own.map(|own| Pull { axis: across, ..own });
        let fall = Pull { axis: Some(toward), is_wished: false, ..Pull::toward(toward * limit, rate) };
        Some(Response { pulls: [Some(fall), own], axis: across, ..response })
    }

    fn inner(&self) -> Option<&dyn Drive> {
        Some(&self.drive)
    }

    fn pushes(&self) -> bool {
        true
    }

    /// Only what is across the pull.
    fn heeded(&self, intent: Intent) -> Intent {
        self.drive.heeded(Intent::new(self.fall.across(intent.vector())))
    }

    /// None: it falls off the axis of its drive.
    fn axis(&self) -> Option<Axis> {
        None
    }

    fn belt_of(&self, on: &Surface) -> Vec2 {
        on.belt()
    }
}
