//! The four sides of a wall or an area, and the four corners of a tile.

use core::fmt;

use glam::Vec2;

use super::YAxis;

/// A side of a wall, as the player sees it: [`Side::Top`] is the upper one on the screen.
///
/// ```
/// use ambulant::direction::{Side, YAxis};
/// use glam::vec2;
///
/// assert_eq!(Side::facing(vec2(0.6, -0.8), YAxis::Down), Side::Top);
/// assert_eq!(Side::facing(vec2(0.6, -0.8), YAxis::Up), Side::Bottom);
/// assert_eq!(Side::Left.to_string(), "left");
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Side {
    /// The side that faces toward smaller x.
    Left,
    /// The side that faces toward larger x.
    Right,
    /// The side that faces up the screen.
    Top,
    /// The side that faces down the screen.
    Bottom,
}

impl Side {
    /// The side of a wall that a normal points away from; for a slanted or round wall, the side nearest to that.
    #[must_use]
    pub fn facing(normal: Vec2, y_axis: YAxis) -> Self {
        let down = normal.y * y_axis.downward();
        match (normal.x.abs() > down.abs(), normal.x > 0.0, down > 0.0) {
            (true, true, _) => Self::Right,
            (true, false, _) => Self::Left,
            (false, _, true) => Self::Bottom,
            (false, _, false) => Self::Top,
        }
    }
}

impl fmt::Display for Side {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Left => "left",
            Self::Right => "right",
            Self::Top => "top",
            Self::Bottom => "bottom",
        })
    }
}

/// A corner of a tile, as the player sees it.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Corner;
/// use ambulant::terrain::TileForm;
///
/// let frame = TileKind::half("frame", Corner::TopLeft); // its upper left half blocks
/// assert_eq!(frame.form(), TileForm::Half(Corner::TopLeft));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Corner {
    /// Left, up the screen.
    TopLeft,
    /// Right, up the screen.
    TopRight,
    /// Right, down the screen.
    BottomRight,
    /// Left, down the screen.
    BottomLeft,
}
