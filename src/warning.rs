//! What is allowed and yet hardly meant: values, not errors.

use core::fmt;

/// Numbers that are valid and still likely to feel wrong.
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum Warning {
    /// A gait stops more slowly than it starts.
    FrictionBelowAcceleration {
        /// Units/s².
        friction: f32,
        /// Units/s².
        acceleration: f32,
    },
    /// A tap of a tenth of a second does not get over the speed at which a drive comes to rest.
    RestAboveTap {
        /// The speed below which it rests, in units/s.
        rest_speed: f32,
        /// The speed after a tap, in units/s.
        tap_speed: f32,
    },
    /// A stick has hardly any way left outside its dead zone.
    WideDeadZone {
        /// Distance from the middle, 0 to 1.
        dead_zone: f32,
    },
}

impl fmt::Display for Warning {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::FrictionBelowAcceleration { friction, acceleration } => write!(
                f,
                "friction {friction} is weaker than acceleration {acceleration}: it slides longer than it takes to start"
            ),
            Self::RestAboveTap { rest_speed, tap_speed } => write!(
                f,
                "rest_speed {rest_speed} is above the {tap_speed} units/s that a tap of 0.1 s gives: a tap stops at once"
            ),
            Self::WideDeadZone { dead_zone } => {
                write!(f, "dead_zone {dead_zone} leaves less than a tenth of the stick's way to steer with")
            }
        }
    }
}
