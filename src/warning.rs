//! Valid values that are probably mistakes.

use core::fmt;

/// A valid number that is probably a mistake.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::Warning;
///
/// let lazy = Gait::new(60.0, 400.0, 100.0)?;
/// assert_eq!(lazy.warnings(), [Warning::FrictionBelowAcceleration { friction: 100.0, acceleration: 400.0 }]);
/// assert!(Gait::new(60.0, 400.0, 500.0)?.warnings().is_empty());
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
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
    /// The speed after a tap of a tenth of a second is below the speed at which a drive rests.
    RestAboveTap {
        /// The speed below which the drive rests, in units/s.
        rest_speed: f32,
        /// The speed after a tap, in units/s.
        tap_speed: f32,
    },
    /// A stick has almost no range left outside its dead zone.
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
                "friction {friction} is weaker than acceleration {acceleration}: stopping takes longer than starting"
            ),
            Self::RestAboveTap { rest_speed, tap_speed } => write!(
                f,
                "rest_speed {rest_speed} is above the {tap_speed} units/s of a tap of 0.1 s: such a tap stops at once"
            ),
            Self::WideDeadZone { dead_zone } => {
                write!(f, "dead_zone {dead_zone} leaves less than a tenth of the range of the stick")
            }
        }
    }
}
