//! Ids of walls.

use core::cmp::Ordering;
use core::fmt;

use glam::IVec2;

use crate::direction::Side;

/// The id of a free-standing wall of a world; it is never used again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct ObstacleId {
    pub(super) slot: u32,
    pub(super) generation: u32,
}

impl fmt::Display for ObstacleId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}.{}", self.slot, self.generation)
    }
}

/// Which wall.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let post = world.add(Solid::circle(vec2(4.0, 4.0), 1.0)?);
/// assert_ne!(post, Wall::Tile(ivec2(0, 0)));
/// assert_eq!(Wall::Tile(ivec2(3, 1)).to_string(), "tile 3,1");
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Wall {
    /// A tile, by column and row; it may lie outside the map if the outside blocks.
    Tile(IVec2),
    /// A free-standing obstacle.
    Obstacle(ObstacleId),
    /// A side of the play area, by its position: the left edge faces right.
    Edge(Side),
    /// A wall of a terrain of the game's own, by a number of its choice.
    Own(u32),
}

/// Tiles by row and column, then obstacles, edges and walls of the game's own.
impl Ord for Wall {
    fn cmp(&self, other: &Self) -> Ordering {
        let key = |wall: &Self| match *wall {
            Self::Tile(tile) => (0, i64::from(tile.y), i64::from(tile.x)),
            Self::Obstacle(id) => (1, i64::from(id.slot), i64::from(id.generation)),
            Self::Edge(side) => (2, side as i64, 0),
            Self::Own(number) => (3, i64::from(number), 0),
        };
        key(self).cmp(&key(other))
    }
}

impl PartialOrd for Wall {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl fmt::Display for Wall {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Tile(tile) => write!(f, "tile {},{}", tile.x, tile.y),
            Self::Obstacle(id) => write!(f, "obstacle {id}"),
            Self::Edge(side) => write!(f, "{side} edge"),
            Self::Own(number) => write!(f, "own wall {number}"),
        }
    }
}
