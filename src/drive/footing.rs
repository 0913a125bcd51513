//! A drive on a surface that slows or slips: mud, ice.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion};
use super::response::Response;
use crate::direction::Axis;
use crate::intent::Intent;

/// A drive on a surface that slows it or has less grip.
///
/// ```
/// use ambulant::drive::{Drive, Footing, Gait};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let mud = Footing { drive: Gait::new(60.0, 240.0, 240.0)?, speed_factor: 0.5, grip: 1.0 };
/// let right = Intent::new(vec2(1.0, 0.0));
/// assert_eq!(mud.advance(Vec2::ZERO, right, 9.0).velocity, vec2(30.0, 0.0));
///
/// let ice = Footing { speed_factor: 1.0, grip: 0.25, ..mud };
/// assert_eq!(ice.advance(vec2(60.0, 0.0), Intent::NONE, 0.5).velocity, vec2(30.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Footing<D> {
    /// The drive.
    pub drive: D,
    /// A factor for the intent, from 0: the part of its speed that is left.
    pub speed_factor: f32,
    /// A factor for accelerations and frictions, above 0.
    pub grip: f32,
}

impl<D: Drive> Footing<D> {
    /// The drive with the grip of the surface.
    fn held(&self) -> D {
        self.drive.gripping(self.grip)
    }

    /// The intent with the speed factor of the surface.
    fn let_go(&self, intent: Intent) -> Intent {
        Intent::new(intent.vector() * self.speed_factor)
    }
}

impl<D: Drive> Drive for Footing<D> {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        self.held().advance(from, self.let_go(intent), dt)
    }

    fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
        self.held().momentum_after(from, self.let_go(intent), dt)
    }

    fn response(&self, intent: Intent) -> Option<Response> {
        self.held().response(self.let_go(intent))
    }

    fn acceleration_of(&self, from: impl Into<Momentum>, intent: Intent) -> Vec2 {
        self.held().acceleration_of(from, self.let_go(intent))
    }

    fn advance_along(&self, from: impl Into<Momentum>, intent: Intent, normal: Vec2, dt: f32) -> Motion {
        self.held().advance_along(from, self.let_go(intent), normal, dt)
    }

    fn gripping(&self, factor: f32) -> Self {
        Self { grip: self.grip * factor, ..self.clone() }
    }

    fn top_speed(&self) -> f32 {
        // An intent is never longer than 1, so a factor above 1 adds nothing at full strength.
        self.drive.top_speed() * self.speed_factor.min(1.0)
    }

    fn ground(&self) -> Vec2 {
        self.drive.ground()
    }

    fn steers(&self) -> bool {
        self.drive.steers()
    }

    fn pushes(&self) -> bool {
        self.drive.pushes()
    }

    fn axis(&self) -> Option<Axis> {
        self.drive.axis()
    }

    fn turning_circle(&self) -> Option<f32> {
        self.drive.turning_circle()
    }
}
