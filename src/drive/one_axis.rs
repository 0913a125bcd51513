//! A drive held to one axis, as in a game seen from the side.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion};
use super::response::{Pull, Response};
use super::surface::Surface;
use crate::direction::Axis;
use crate::intent::Intent;

/// A drive that moves along one axis only.
///
/// A diagonal intent counts in full on the axis: also holding up does not slow a walk to the right. A
/// belt moves it along the axis only, and a wall that is
/// not parallel to the axis stops the mover.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Axis;
/// use ambulant::drive::OneAxis;
///
/// let rail = OneAxis { drive: Pace::new(10.0)?, axis: Axis::X };
/// let motion = rail.advance(Momentum::default(), Intent::new(vec2(1.0, 1.0)), &Surface::PLAIN, 1.0);
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

impl<D: Drive> OneAxis<D> {
    fn held(&self, momentum: Momentum) -> Momentum {
        Momentum { velocity: self.axis.only(momentum.velocity), ..momentum }
    }

    fn intent(&self, intent: Intent) -> Intent {
        Intent::new(self.axis.only(intent.spread()))
    }
}

impl<D: Drive> Drive for OneAxis<D> {
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let motion = self.drive.advance(self.held(from), self.intent(intent), on, dt);
        let (displacement, velocity) = (self.axis.only(motion.displacement), self.axis.only(motion.velocity));
        Motion { displacement, velocity, ..motion }
    }

    fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
        self.held(self.drive.momentum_after(self.held(from), self.intent(intent), on, dt))
    }

    /// That of its drive along the axis; `None` if the drive has an axis of its own.
    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let axis = Some(self.axis.only(Vec2::ONE));
        let response = self.drive.response(self.intent(intent), on)?;
        let has_axis = |pull: &Pull| pull.axis.is_some();
        if response.axis.is_some() || response.pulls.iter().flatten().any(has_axis) {
            return None;
        }
        let pulls = response.pulls.map(|pull| Some(Pull { axis, ..pull? }));
        Some(Response { pulls, axis, ..response })
    }

    fn inner(&self) -> Option<&dyn Drive> {
        Some(&self.drive)
    }

    fn axis(&self) -> Option<Axis> {
        Some(self.axis)
    }
}
