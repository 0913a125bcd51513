//! Any of the drives as one type, for games that choose it by data.

use alloc::vec::Vec;

use glam::Vec2;

use super::falling::{Fall, Falling};
use super::forward::forwarded;
use super::motion::{Drive, Momentum, Motion};
use super::one_axis::OneAxis;
use super::response::Response;
use super::surface::Surface;
use super::{Gait, Glide, Helm, Pace};
use crate::direction::Axis;
use crate::error::InvalidNumber;
use crate::intent::Intent;
use crate::warning::Warning;

/// Any of the drives, held to one axis or not, falling or not.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Axis;
/// use ambulant::drive::{AnyDrive, DriveKind};
///
/// let lamp = AnyDrive::from(Pace::new(10.0)?).on_axis(Axis::X).falling(vec2(0.0, 100.0), 50.0)?;
/// let motion = lamp.advance(Momentum::default(), Intent::new(vec2(1.0, 0.0)), &Surface::PLAIN, 1.0);
/// assert!(motion.displacement.distance(vec2(10.0, 12.5 + 25.0)) < 1e-4);
/// assert!(matches!(lamp.kind(), DriveKind::Pace(_)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct AnyDrive(Composed);

/// One of the drives of this library.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::drive::{AnyDrive, DriveKind};
///
/// let drive = AnyDrive::from(Pace::new(60.0)?);
/// assert!(matches!(drive.kind(), DriveKind::Pace(pace) if pace.top_speed() == 60.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum DriveKind {
    /// Immediate.
    Pace(Pace),
    /// Acceleration and friction.
    Gait(Gait),
    /// Thrust against drag.
    Glide(Glide),
    /// A heading that is steered.
    Helm(Helm),
}

/// A drive with what is round it.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum Composed {
    Plain(DriveKind),
    OnAxis(OneAxis<DriveKind>),
    Falling(Falling<DriveKind>),
    FallingOnAxis(Falling<OneAxis<DriveKind>>),
}

impl AnyDrive {
    fn compose(kind: DriveKind, axis: Option<Axis>, fall: Option<Fall>) -> Self {
        Self(match (axis, fall) {
            (None, None) => Composed::Plain(kind),
            (Some(axis), None) => Composed::OnAxis(OneAxis { drive: kind, axis }),
            (None, Some(fall)) => Composed::Falling(Falling::under(kind, fall)),
            (Some(axis), Some(fall)) => {
                Composed::FallingOnAxis(Falling::under(OneAxis { drive: kind, axis }, fall))
            }
        })
    }

    /// Holds it to an axis; see [`OneAxis`].
    #[must_use]
    pub fn on_axis(self, axis: Axis) -> Self {
        Self::compose(*self.kind(), Some(axis), self.fall())
    }

    /// Lets it fall under a pull (units/s²) up to a speed along it (units/s); see [`Falling`].
    ///
    /// # Errors
    /// The pull must be finite and not zero, the limit finite and above 0.
    pub fn falling(self, pull: Vec2, limit: f32) -> Result<Self, InvalidNumber> {
        Ok(Self::compose(*self.kind(), self.held_to(), Some(Fall::new(pull, limit)?)))
    }

    /// The drive itself.
    #[must_use]
    pub const fn kind(&self) -> &DriveKind {
        match &self.0 {
            Composed::Plain(kind) => kind,
            Composed::OnAxis(held) => &held.drive,
            Composed::Falling(falling) => falling.drive(),
            Composed::FallingOnAxis(falling) => &falling.drive().drive,
        }
    }

    /// The axis that it is held to, if any.
    #[must_use]
    pub const fn held_to(&self) -> Option<Axis> {
        match &self.0 {
            Composed::Plain(_) | Composed::Falling(_) => None,
            Composed::OnAxis(held) => Some(held.axis),
            Composed::FallingOnAxis(falling) => Some(falling.drive().axis),
        }
    }

    const fn fall(&self) -> Option<Fall> {
        match &self.0 {
            Composed::Plain(_) | Composed::OnAxis(_) => None,
            Composed::Falling(falling) => Some(falling.fall()),
            Composed::FallingOnAxis(falling) => Some(falling.fall()),
        }
    }

    /// Its pull (units/s²) and the greatest speed along it (units/s), if it falls.
    #[must_use]
    pub fn pull(&self) -> Option<(Vec2, f32)> {
        self.fall().map(|fall| (fall.pull(), fall.limit()))
    }

    /// Valid values that are probably mistakes.
    #[must_use]
    pub fn warnings(&self) -> Vec<Warning> {
        match self.kind() {
            DriveKind::Gait(gait) => gait.warnings(),
            DriveKind::Glide(glide) => glide.warnings(),
            DriveKind::Pace(_) | DriveKind::Helm(_) => Vec::new(),
        }
    }

    const fn composed(&self) -> &dyn Drive {
        match &self.0 {
            Composed::Plain(kind) => kind.drive(),
            Composed::OnAxis(held) => held,
            Composed::Falling(falling) => falling,
            Composed::FallingOnAxis(falling) => falling,
        }
    }
}

impl DriveKind {
    const fn drive(&self) -> &dyn Drive {
        match self {
            Self::Pace(pace) => pace,
            Self::Gait(gait) => gait,
            Self::Glide(glide) => glide,
            Self::Helm(helm) => helm,
        }
    }
}

impl Drive for AnyDrive {
    forwarded!(|this| this.composed());
}

impl Drive for DriveKind {
    forwarded!(|this| this.drive());
}

/// Each kind of drive as any drive.
macro_rules! from_kind {
    ($($kind:ident),*) => {
        $(impl From<$kind> for AnyDrive {
            fn from(drive: $kind) -> Self {
                Self(Composed::Plain(DriveKind::$kind(drive)))
            }
        })*
    };
}

from_kind!(Pace, Gait, Glide, Helm);
