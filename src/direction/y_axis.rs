//! Which way y grows.
//!
//! On screens y usually grows downwards, in mathematics upwards. Only keys, rows of tiles and names of sides need to
//! know; everything else works on plain numbers.

/// The direction in which y grows.
///
/// ```
/// use ambulant::direction::YAxis;
///
/// assert_eq!((YAxis::Down.downward(), YAxis::Up.downward()), (1.0, -1.0));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum YAxis {
    /// Larger y is lower on the screen: the default.
    #[default]
    Down,
    /// Larger y is higher on the screen.
    Up,
}

impl YAxis {
    /// The sign of one step down the screen: `1.0` for [`YAxis::Down`], `-1.0` for [`YAxis::Up`].
    #[must_use]
    pub const fn downward(self) -> f32 {
        match self {
            Self::Down => 1.0,
            Self::Up => -1.0,
        }
    }
}
