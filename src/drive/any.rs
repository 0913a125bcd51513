//! Any of the drives, for games that choose it by data.

use super::motion::{Drive, Momentum, Motion};
use super::response::Response;
use super::{Gait, Glide, Helm, Pace};
use crate::intent::Intent;
use crate::warning::Warning;
use alloc::vec::Vec;
use glam::Vec2;

/// Any of the drives.
///
/// ```
/// use ambulant::drive::{AnyDrive, Drive, Pace};
///
/// let drive = AnyDrive::from(Pace::new(10.0)?);
/// assert_eq!(drive.top_speed(), 10.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum AnyDrive {
    /// Immediate.
    Pace(Pace),
    /// Acceleration and friction.
    Gait(Gait),
    /// Thrust against drag.
    Glide(Glide),
    /// A heading that is steered.
    Helm(Helm),
}

impl AnyDrive {
    /// Valid values that are probably mistakes.
    #[must_use]
    pub fn warnings(&self) -> Vec<Warning> {
        match self {
            Self::Gait(gait) => gait.warnings(),
            Self::Glide(glide) => glide.warnings(),
            Self::Pace(_) | Self::Helm(_) => Vec::new(),
        }
    }
}

macro_rules! each {
    ($any:expr, $drive:ident => $call:expr) => {
        match $any {
            AnyDrive::Pace($drive) => $call,
            AnyDrive::Gait($drive) => $call,
            AnyDrive::Glide($drive) => $call,
            AnyDrive::Helm($drive) => $call,
        }
    };
}

impl Drive for AnyDrive {
    fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
        each!(self, drive => drive.advance(from, intent, dt))
    }

    fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
        each!(self, drive => drive.momentum_after(from, intent, dt))
    }

    fn response(&self, intent: Intent) -> Option<Response> {
        each!(self, drive => drive.response(intent))
    }

    fn acceleration_of(&self, from: impl Into<Momentum>, intent: Intent) -> Vec2 {
        each!(self, drive => drive.acceleration_of(from, intent))
    }

    fn advance_along(&self, from: impl Into<Momentum>, intent: Intent, normal: Vec2, dt: f32) -> Motion {
        each!(self, drive => drive.advance_along(from, intent, normal, dt))
    }

    fn gripping(&self, factor: f32) -> Self {
        match self {
            Self::Pace(pace) => Self::Pace(pace.gripping(factor)),
            Self::Gait(gait) => Self::Gait(gait.gripping(factor)),
            Self::Glide(glide) => Self::Glide(glide.gripping(factor)),
            Self::Helm(helm) => Self::Helm(helm.gripping(factor)),
        }
    }

    fn top_speed(&self) -> f32 {
        each!(self, drive => drive.top_speed())
    }

    fn steers(&self) -> bool {
        each!(self, drive => drive.steers())
    }

    fn turning_circle(&self) -> Option<f32> {
        each!(self, drive => drive.turning_circle())
    }
}

impl From<Pace> for AnyDrive {
    fn from(drive: Pace) -> Self {
        Self::Pace(drive)
    }
}

impl From<Gait> for AnyDrive {
    fn from(drive: Gait) -> Self {
        Self::Gait(drive)
    }
}

impl From<Glide> for AnyDrive {
    fn from(drive: Glide) -> Self {
        Self::Glide(drive)
    }
}

impl From<Helm> for AnyDrive {
    fn from(drive: Helm) -> Self {
        Self::Helm(drive)
    }
}
