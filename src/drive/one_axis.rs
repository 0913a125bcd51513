//! A drive held to one axis, as in a game seen from the side.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use crate::direction::Axis;
use crate::intent::Intent;

/// A drive that moves along one axis only.
///
/// A diagonal intent counts in full on the axis: also holding up does not slow a walk to the right. A wall that is
/// not parallel to the axis stops the mover.
///
/// ```
/// use ambulant::direction::Axis;
/// use ambulant::drive::{Drive, OneAxis, Pace};
/// use ambulant::intent::Intent;
/// use glam::{Vec2, vec2};
///
/// let rail = OneAxis { drive: Pace::new(10.0)?, axis: Axis::X };
/// let motion = rail.advance(Vec2::ZERO, Intent::new(vec2(1.0, 1.0)), 1.0);
/// assert!(motion.displacement.distance(vec2(10.0, 0.0)) < 1e-5);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct OneAxis<D> {
    /// The drive.
    pub drive: D,
    /// The axis it is held to.
    pub axis: Axis,
}

impl<D: Drive> Drive for OneAxis<D> {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        let from = from.into();
        let from = Momentum { velocity: self.axis.only(from.velocity), ..from };
        let intent = Intent::new(self.axis.only(intent.spread()));
        let motion = self.drive.advance(from, intent, dt);
        let (displacement, velocity) = (self.axis.only(motion.displacement), self.axis.only(motion.velocity));
        Motion { displacement, velocity, ..motion }
    }

    /// That of its drive along the axis; `None` if the drive has an axis of its own.
    fn response(&self, intent: Intent) -> Option<Response> {
        let axis = Some(self.axis.only(Vec2::ONE));
        let response = self.drive.response(Intent::new(self.axis.only(intent.spread())))?;
        let has_axis = |pull: &Pull| pull.axis.is_some();
        if response.axis.is_some() || response.pulls.iter().flatten().any(has_axis) {
            return None;
        }
        let pulls = response.pulls.map(|pull| Some(Pull { axis, ..pull? }));
        Some(Response { pulls, axis, ..response })
    }

    fn gripping(&self, factor: f32) -> Self {
        Self { drive: self.drive.gripping(factor), ..self.clone() }
    }

    fn top_speed(&self) -> f32 {
        self.drive.top_speed()
    }

    fn ground(&self) -> Vec2 {
        self.axis.only(self.drive.ground())
    }

    fn steers(&self) -> bool {
        self.drive.steers()
    }

    fn pushes(&self) -> bool {
        self.drive.pushes()
    }

    fn axis(&self) -> Option<Axis> {
        Some(self.axis)
    }
}
