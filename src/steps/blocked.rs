//! Ids of movers and things on a map of steps, and what blocks a stepper.

use core::fmt;

use glam::IVec2;

use crate::direction::Side;

/// The id of a mover. If two movers want one tile at one instant, the lower id gets it.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let cart = Stepper::on(ivec2(1, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// assert_eq!(claims.mover_at(ivec2(1, 0)), Some(cart.id()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct MoverId(pub(super) u32);

impl MoverId {
    /// Its number: 0 for the first mover that entered its claims, then 1, and so on.
    #[must_use]
    pub const fn number(self) -> u32 {
        self.0
    }
}

impl fmt::Display for MoverId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "mover {}", self.0)
    }
}

/// The id of a thing that can be pushed.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let crate_id = claims.put_thing(ivec2(2, 0), &ground)?;
/// assert_eq!((claims.thing_at(ivec2(2, 0)), claims.thing(crate_id)), (Some(crate_id), Some(ivec2(2, 0))));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct ThingId(pub(super) u32);

impl ThingId {
    /// Its number: 0 for the first thing that was put down, then 1, and so on.
    #[must_use]
    pub const fn number(self) -> u32 {
        self.0
    }
}

impl fmt::Display for ThingId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "thing {}", self.0)
    }
}

/// What blocks a stepper.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::BlockedBy;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..#"], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(1, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let events = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &ground, &mut claims);
/// let by = BlockedBy::Tile(ivec2(2, 0));
/// assert_eq!(events.iter().next().unwrap().what, StrideEvent::Blocked { direction: Facing::Right, by });
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub enum BlockedBy {
    /// A tile that blocks.
    Tile(IVec2),
    /// A side of a tile that is closed from outside.
    ClosedSide {
        /// The tile.
        tile: IVec2,
        /// Its side.
        side: Side,
    },
    /// A corner that a diagonal step must not cut.
    Corner(IVec2),
    /// Another mover that stands on the tile, strides to it, or has not left it yet.
    Mover(MoverId),
    /// A thing that cannot be pushed further.
    Thing(ThingId),
    /// The edge of the map.
    Edge,
}

impl fmt::Display for BlockedBy {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Tile(tile) => write!(f, "tile {},{}", tile.x, tile.y),
            Self::ClosedSide { tile, side } => write!(f, "the closed {side} of tile {},{}", tile.x, tile.y),
            Self::Corner(tile) => write!(f, "the corner of tile {},{}", tile.x, tile.y),
            Self::Mover(id) => write!(f, "{id}"),
            Self::Thing(id) => write!(f, "{id}"),
            Self::Edge => f.write_str("the map's edge"),
        }
    }
}

/// Why a stepper cannot be put somewhere.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{BlockedBy, StepError};
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..#"], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let rules = StepRules::new(4.0)?;
/// let mut at = |x: i32| Stepper::on(ivec2(x, 0), rules, &ground, &mut claims);
/// let tile = ivec2(2, 0);
/// assert_eq!(at(2).unwrap_err(), StepError::Blocked { tile, by: BlockedBy::Tile(tile) });
/// assert!(matches!(at(7).unwrap_err(), StepError::Outside { .. }));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub enum StepError {
    /// The tile lies outside the map.
    Outside {
        /// The tile.
        tile: IVec2,
        /// Columns and rows of the map.
        size: IVec2,
    },
    /// The tile is occupied.
    Blocked {
        /// The tile.
        tile: IVec2,
        /// What is there.
        by: BlockedBy,
    },
}

impl fmt::Display for StepError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Outside { tile, size } => {
                write!(
                    f,
                    "tile {},{} lies outside the map of {} columns and {} rows",
                    tile.x, tile.y, size.x, size.y
                )
            }
            Self::Blocked { tile, by: BlockedBy::Tile(wall) } if wall == tile => {
                write!(f, "tile {},{} blocks; choose a free one", tile.x, tile.y)
            }
            Self::Blocked { tile, by } => {
                write!(f, "tile {},{} is taken by {by}; choose a free one", tile.x, tile.y)
            }
        }
    }
}

impl core::error::Error for StepError {}
