//! An actor's drive with what goes round it: held to an axis, falling.

use ambulant::direction::Axis;
use ambulant::drive::{AnyDrive, Drive, Falling, Momentum, Motion, OneAxis, Response};
use ambulant::intent::Intent;
use glam::Vec2;

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

            fn response(&self, intent: Intent) -> Option<Response> {
                match self {
                    Self::$first(drive) => drive.response(intent),
                    Self::$second(drive) => drive.response(intent),
                }
            }

            fn acceleration_of(&self, from: impl Into<Momentum>, intent: Intent) -> Vec2 {
                match self {
                    Self::$first(drive) => drive.acceleration_of(from, intent),
                    Self::$second(drive) => drive.acceleration_of(from, intent),
                }
            }

            fn advance_along(
                &self,
                from: impl Into<Momentum>,
                intent: Intent,
                normal: Vec2,
                dt: f32,
            ) -> Motion {
                match self {
                    Self::$first(drive) => drive.advance_along(from, intent, normal, dt),
                    Self::$second(drive) => drive.advance_along(from, intent, normal, dt),
                }
            }

            fn pushes(&self) -> bool {
                match self {
                    Self::$first(drive) => drive.pushes(),
                    Self::$second(drive) => drive.pushes(),
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

#[cfg(test)]
mod tests {
    use ambulant::drive::{Drag, Gait, Helm, Pace, Steering};
    use glam::vec2;
    use rstest::rstest;

    use super::*;

    #[rstest]
    #[case::gait(Gait::new(60.0, 240.0, 300.0).unwrap().into())]
    #[case::pace(Pace::new(60.0).unwrap().into())]
    #[case::helm(Helm::new(2.0, 90.0, Drag::per_second(1.5).unwrap(), Steering::Toward).unwrap().on_rails().into())]
    fn what_a_wall_asks_a_drive_is_passed_on(#[case] drive: AnyDrive) {
        let (intent, velocity, normal) = (Intent::new(vec2(0.6, 0.8)), vec2(20.0, 5.0), vec2(0.6, -0.8));
        let level = Pulled::Level(Guided::Free(drive));
        assert_eq!(level.response(intent), drive.response(intent));
        assert_eq!(level.acceleration_of(velocity, intent), drive.acceleration_of(velocity, intent));
        let wrapped = level.advance_along(velocity, intent, normal, 0.1);
        let plain = drive.advance_along(velocity, intent, normal, 0.1);
        assert_eq!((wrapped, level.pushes()), (plain, drive.pushes()));
        let falling = Pulled::Falling(Falling::new(Guided::Free(drive), vec2(0.0, 100.0), 50.0).unwrap());
        assert!(falling.pushes());
    }
}
