//! An actor's drive with what goes round it: held to an axis, falling.

use ambulant::drive::{AnyDrive, Axis, Drive, Falling, Momentum, Motion, OneAxis};
use ambulant::intent::Intent;

/// A drive, held to one axis or not.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Guided {
    Free(AnyDrive),
    Held(OneAxis<AnyDrive>),
}

/// A drive, held or not, falling or not.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Pulled {
    Level(Guided),
    Falling(Falling<Guided>),
}

impl Pulled {
    /// The drive itself.
    pub(crate) fn any(&self) -> &AnyDrive {
        let guided = match self {
            Self::Level(guided) => guided,
            Self::Falling(falling) => falling.drive(),
        };
        match guided {
            Guided::Free(drive) => drive,
            Guided::Held(held) => &held.drive,
        }
    }
}

macro_rules! pass_on {
    ($name:ident: $first:ident, $second:ident) => {
        impl Drive for $name {
            fn advance(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Motion {
                match self {
                    Self::$first(drive) => drive.advance(from, intent, dt),
                    Self::$second(drive) => drive.advance(from, intent, dt),
                }
            }

            fn momentum_after(&self, from: impl Into<Momentum>, intent: Intent, dt: f32) -> Momentum {
                match self {
                    Self::$first(drive) => drive.momentum_after(from, intent, dt),
                    Self::$second(drive) => drive.momentum_after(from, intent, dt),
                }
            }

            fn gripping(&self, factor: f32) -> Self {
                match self {
                    Self::$first(drive) => Self::$first(drive.gripping(factor)),
                    Self::$second(drive) => Self::$second(drive.gripping(factor)),
                }
            }

            fn top_speed(&self) -> f32 {
                match self {
                    Self::$first(drive) => drive.top_speed(),
                    Self::$second(drive) => drive.top_speed(),
                }
            }

            fn steers(&self) -> bool {
                match self {
                    Self::$first(drive) => drive.steers(),
                    Self::$second(drive) => drive.steers(),
                }
            }

            fn axis(&self) -> Option<Axis> {
                match self {
                    Self::$first(drive) => drive.axis(),
                    Self::$second(drive) => drive.axis(),
                }
            }

            fn turning_circle(&self) -> Option<f32> {
                match self {
                    Self::$first(drive) => drive.turning_circle(),
                    Self::$second(drive) => drive.turning_circle(),
                }
            }
        }
    };
}

pass_on!(Guided: Free, Held);
pass_on!(Pulled: Level, Falling);
