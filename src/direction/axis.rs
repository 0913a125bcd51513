//! The two axes of the world.

use glam::Vec2;

/// One of the two axes of the world.
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
