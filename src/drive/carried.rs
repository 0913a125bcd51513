//! A drive on a moving floor: a belt, a current, wind.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion};
use super::response::Response;
use crate::direction::Axis;
use crate::exact::along;
use crate::intent::Intent;
use crate::time::seconds;

/// A drive on a floor that moves.
///
/// The velocity is relative to the floor, so stepping off a belt leaves no speed. The displacement is that of both.
///
/// ```
/// use ambulant::drive::{Carried, Drive, Pace};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let belt = Carried { drive: Pace::new(10.0)?, ground: vec2(0.0, 4.0) };
/// let motion = belt.advance(Vec2::ZERO, Intent::new(vec2(1.0, 0.0)), 0.5);
/// assert_eq!(motion.displacement, vec2(5.0, 2.0));
/// assert_eq!(motion.velocity, vec2(10.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Carried<D> {
    /// The drive.
    pub drive: D,
    /// The velocity of the floor, in units/s.
    pub ground: Vec2,
}

impl<D: Drive> Drive for Carried<D> {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        let motion = self.drive.advance(from, intent, dt);
        Motion { displacement: motion.displacement + self.ground * seconds(dt), ..motion }
    }

    fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
        self.drive.momentum_after(from, intent, dt)
    }

    fn response(&self, intent: Intent) -> Option<Response> {
        self.drive.response(intent)
    }

    fn acceleration_of(&self, from: impl Into<Momentum>, intent: Intent) -> Vec2 {
        self.drive.acceleration_of(from, intent)
    }

    fn advance_along(&self, from: impl Into<Momentum>, intent: Intent, normal: Vec2, dt: f32) -> Motion {
        let motion = self.drive.advance_along(from, intent, normal, dt);
        let carried = along(self.ground, normal) * seconds(dt);
        Motion { displacement: motion.displacement + carried, ..motion }
    }

    fn gripping(&self, factor: f32) -> Self {
        Self { drive: self.drive.gripping(factor), ..self.clone() }
    }

    fn top_speed(&self) -> f32 {
        self.drive.top_speed()
    }

    fn ground(&self) -> Vec2 {
        self.ground + self.drive.ground()
    }

    fn steers(&self) -> bool {
        self.drive.steers()
    }

    fn pushes(&self) -> bool {
        self.drive.pushes()
    }

    /// That of the drive, unless the floor moves away from the wall.
    fn axis(&self) -> Option<Axis> {
        self.drive.axis().filter(|axis| axis.only(self.ground) == self.ground)
    }

    fn turning_circle(&self) -> Option<f32> {
        self.drive.turning_circle()
    }
}
