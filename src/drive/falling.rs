//! A drive under a constant pull with a greatest speed: falling while walking across it.
//!
//! Along the pull, the velocity grows at a constant rate up to the limit, and the drive does nothing; across it, the
//! drive acts as usual. A velocity against the pull (a jump) is slowed by the pull.

use glam::Vec2;

use super::gait::close_in;
use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use crate::error::{InvalidNumber, above_zero};
use crate::intent::Intent;
use crate::time::seconds;

/// A drive under a constant pull.
///
/// ```
/// use ambulant::drive::{Drive, Falling, Pace};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let falling = Falling::new(Pace::new(10.0)?, vec2(0.0, 100.0), 50.0)?; // pull, fastest fall
/// let motion = falling.advance(Vec2::ZERO, Intent::new(vec2(1.0, 0.0)), 1.0);
/// assert_eq!(motion.velocity, vec2(10.0, 50.0)); // the limit, after half a second
/// assert_eq!(motion.displacement, vec2(10.0, 12.5 + 25.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Falling<D> {
    drive: D,
    toward: Vec2,
    rate: f32,
    limit: f32,
}

impl<D: Drive> Falling<D> {
    /// A drive under a pull (units/s², in any direction), up to a speed along it (units/s).
    ///
    /// # Errors
    /// The pull must be finite and not zero, the limit finite and above 0.
    pub fn new(drive: D, pull: Vec2, limit: f32) -> Result<Self, InvalidNumber> {
        let rate = above_zero("pull", pull.length(), "a vector of finite length above 0 (units/s²)")?;
        let limit = above_zero("limit", limit, "a finite number above 0 (units/s)")?;
        Ok(Self { drive, toward: pull / rate, rate, limit })
    }

    /// The drive that acts across the pull.
    #[must_use]
    pub const fn drive(&self) -> &D {
        &self.drive
    }

    /// The greatest speed along the pull, in units/s.
    #[must_use]
    pub const fn limit(&self) -> f32 {
        self.limit
    }

    /// The pull, in units/s².
    #[must_use]
    pub fn pull(&self) -> Vec2 {
        self.toward * self.rate
    }

    fn across(&self, vector: Vec2) -> Vec2 {
        vector - self.toward * vector.dot(self.toward)
    }
}

impl<D: Drive> Drive for Falling<D> {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        let from = from.into();
        let level = Momentum { velocity: self.across(from.velocity), ..from };
        let motion = self.drive.advance(level, Intent::new(self.across(intent.vector())), dt);
        let fall = self.toward * from.velocity.dot(self.toward);
        let (dropped, fall) = close_in(fall, self.toward * self.limit, self.rate, seconds(dt));
        Motion { displacement: motion.displacement + dropped, velocity: motion.velocity + fall, ..motion }
    }

    /// That of its drive across the pull, and the pull; `None` if the drive steers or has another axis.
    fn response(&self, intent: Intent) -> Option<Response> {
        let response = self.drive.response(Intent::new(self.across(intent.vector())))?;
        let across = self.toward.perp();
        let [own, None] = response.pulls else { return None };
        let leads_aside = |axis: Option<Vec2>| axis.is_some_and(|axis| axis.perp_dot(across) != 0.0);
        if leads_aside(response.axis) || leads_aside(own.and_then(|own| own.axis)) {
            return None;
        }
        let across = Some(across);
        let own = own.map(|own| Pull { axis: across, ..own });
        let target = self.toward * self.limit;
        let fall = Pull { axis: Some(self.toward), is_wished: false, ..Pull::toward(target, self.rate) };
        Some(Response { pulls: [Some(fall), own], axis: across, ..response })
    }

    fn gripping(&self, factor: f32) -> Self {
        Self { drive: self.drive.gripping(factor), ..self.clone() }
    }

    fn top_speed(&self) -> f32 {
        self.drive.top_speed()
    }

    fn ground(&self) -> Vec2 {
        self.drive.ground()
    }

    fn steers(&self) -> bool {
        self.drive.steers()
    }

    fn pushes(&self) -> bool {
        true
    }
}
