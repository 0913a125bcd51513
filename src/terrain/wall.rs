//! Ids of walls.

use core::cmp::Ordering;
use core::fmt;

use glam::IVec2;

use crate::direction::Side;

/// The id of a free-standing wall of a world; it is never used again.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let (first, second) = (world.add(Solid::circle(Vec2::ZERO, 1.0)?), world.add(Solid::circle(Vec2::ONE, 1.0)?));
/// let (Wall::Obstacle(one), Wall::Obstacle(other)) = (first, second) else { unreachable!() };
/// assert!(one < other && one.to_string() == "0.0");
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
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

/// The id of a tile map of a world: its maps are counted from 0, in the order in which they were added.
///
/// ```
/// use ambulant::prelude::*;
///
/// let map = TileGrid::from_rows(&["."], &Legend::new().with('.', TileKind::floor("path")))?;
/// let mut world = World::new();
/// let (first, second) = (world.add_map(map.clone()), world.add_map(map));
/// assert_eq!((first, second.to_string()), (MapId::FIRST, "1".to_owned()));
/// # Ok::<(), ambulant::terrain::GridError>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct MapId(pub(super) u16);

impl MapId {
    /// The first map of a world, and every map that is in no world.
    pub const FIRST: Self = Self(0);
}

impl fmt::Display for MapId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

/// Which wall.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let post = world.add(Solid::circle(vec2(4.0, 4.0), 1.0)?);
/// assert_ne!(post, Wall::tile(ivec2(0, 0)));
/// assert_eq!(Wall::tile(ivec2(3, 1)).to_string(), "tile 3,1");
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Wall {
    /// A tile of a map, by column and row; it may lie outside the map if the outside blocks.
    Tile(MapId, IVec2),
    /// A free-standing obstacle.
    Obstacle(ObstacleId),
    /// A side of the play area, by its position: the left edge faces right.
    Edge(Side),
    /// A wall of a terrain of the game's own, by a number of its choice.
    Own(u32),
}

impl Wall {
    /// A tile of the first map, or of a map that is in no world.
    #[must_use]
    pub const fn tile(tile: IVec2) -> Self {
        Self::Tile(MapId::FIRST, tile)
    }
}

/// Tiles by map, row and column, then obstacles, edges and walls of the game's own.
impl Ord for Wall {
    fn cmp(&self, other: &Self) -> Ordering {
        let key = |wall: &Self| -> (u8, i64, i64, i32) {
            match *wall {
                Self::Tile(map, tile) => (0, map.0.into(), tile.y.into(), tile.x),
                Self::Obstacle(id) => (1, id.slot.into(), id.generation.into(), 0),
                Self::Edge(side) => (2, side as i64, 0, 0),
                Self::Own(number) => (3, number.into(), 0, 0),
            }
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
            Self::Tile(MapId::FIRST, tile) => write!(f, "tile {},{}", tile.x, tile.y),
            Self::Tile(map, tile) => write!(f, "tile {},{} of map {map}", tile.x, tile.y),
            Self::Obstacle(id) => write!(f, "obstacle {id}"),
            Self::Edge(side) => write!(f, "{side} edge"),
            Self::Own(number) => write!(f, "own wall {number}"),
        }
    }
}
