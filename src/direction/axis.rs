//! The two axes of the world.

use glam::Vec2;

/// One of the two axes of the world.
///
/// ```
/// use ambulant::direction::Axis;
/// use glam::vec2;
///
/// assert_eq!(Axis::Y.only(vec2(3.0, 4.0)), vec2(0.0, 4.0));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Axis {
    /// Left and right.
    X,
    /// Up and down.
    Y,
}

impl Axis {
    /// The part of a vector along this axis.
    #[must_use]
    pub const fn only(self, vector: Vec2) -> Vec2 {
        match self {
            Self::X => Vec2::new(vector.x, 0.0),
            Self::Y => Vec2::new(0.0, vector.y),
        }
    }
}
