//! What was met: which wall, on which side, where and when.

use core::fmt;

use glam::{IVec2, Vec2};

use super::{Layers, Minds, ObstacleId, Terrain};
use crate::intent::YAxis;
use crate::shape::Footprint;

/// Which wall was met.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Wall {
    /// A tile, by column and row; it may lie outside the map where the outside blocks.
    Tile(IVec2),
    /// A free-standing obstacle.
    Obstacle(ObstacleId),
    /// An edge of the play area, named by where it lies: the left edge faces right.
    Edge(Side),
}

impl fmt::Display for Wall {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Tile(tile) => write!(f, "tile {},{}", tile.x, tile.y),
            Self::Obstacle(id) => write!(f, "obstacle {id}"),
            Self::Edge(side) => write!(f, "{side} edge"),
        }
    }
}

/// A side of a wall, as the player sees it: [`Side::Top`] is the upper one on the screen.
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
    /// The side of a wall that a normal points away from; of a slanted or round wall the one that it
    /// points away from most.
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

/// The first touch of a footprint carried along a displacement.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Hit {
    /// How much of the displacement was free, 0 to 1.
    pub fraction: f32,
    /// The mover's position at the touch: exactly against the wall, rounded once.
    pub position: Vec2,
    /// Where the touch is: the middle of the part of the wall that the footprint lies against.
    pub point: Vec2,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
    /// The side of the wall that was met; of a slanted or round wall the one that faces the mover most.
    pub side: Side,
    /// What was met.
    pub wall: Wall,
    /// The layers that it lies on.
    pub layers: Layers,
}

impl Hit {
    /// Where a mover comes to lie that meets this on its way from `at`: against the wall. Whoever touches the wall
    /// already stays where it is if the hair to the wall would set it into another one.
    pub(crate) fn settled(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        minds: &Minds<'_>,
    ) -> Vec2 {
        let stays =
            self.fraction == 0.0 && self.position != at && terrain.overlaps(footprint, self.position, minds);
        if stays { at } else { self.position }
    }
}
