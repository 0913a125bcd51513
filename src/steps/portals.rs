//! Pairs of tiles that steppers treat as one place.

use alloc::vec::Vec;
use core::fmt;

use glam::IVec2;

use crate::terrain::TileGrid;

/// Pairs of tiles: a stepper that enters one continues from the other.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{PortalError, Portals};
///
/// let legend = Legend::new().with('#', TileKind::wall("wall")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["......"], &legend)?;
/// let tunnel = Portals::new(&map, &[(ivec2(0, 0), ivec2(5, 0))])?;
/// assert_eq!(tunnel.exit(ivec2(0, 0)), Some(ivec2(5, 0)));
/// assert_eq!(Portals::new(&map, &[(ivec2(2, 0), ivec2(2, 0))]), Err(PortalError::OneEnd { tile: ivec2(2, 0) }));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq, Eq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Portals(Vec<(IVec2, IVec2)>);

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Portals {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let pairs = Vec::deserialize(deserializer)?;
        apart(&pairs).map_err(serde::de::Error::custom)?;
        Ok(Self(pairs))
    }
}

/// Why tiles cannot be portals.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{PortalError, Portals};
///
/// let map = TileGrid::from_rows(&["..."], &Legend::new().with('.', TileKind::floor("path")))?;
/// let tile = ivec2(1, 0);
/// assert_eq!(Portals::new(&map, &[(tile, tile)]), Err(PortalError::OneEnd { tile }));
/// assert!(matches!(Portals::new(&map, &[(tile, ivec2(9, 0))]), Err(PortalError::Outside { .. })));
/// # Ok::<(), ambulant::terrain::GridError>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub enum PortalError {
    /// Both ends are one tile.
    OneEnd {
        /// The tile.
        tile: IVec2,
    },
    /// A tile is an end of two portals.
    Taken {
        /// The tile.
        tile: IVec2,
    },
    /// An end lies outside the map.
    Outside {
        /// The tile.
        tile: IVec2,
    },
    /// An end lies on a tile that blocks.
    Blocked {
        /// The tile.
        tile: IVec2,
    },
}

impl fmt::Display for PortalError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::OneEnd { tile } => write!(f, "the portal at {tile} has one end; give it two tiles"),
            Self::Taken { tile } => write!(f, "two portals end at {tile}; a tile may be the end of one"),
            Self::Outside { tile } => write!(f, "the portal end {tile} lies outside the map"),
            Self::Blocked { tile } => write!(f, "the portal end {tile} blocks; choose a free tile"),
        }
    }
}

impl core::error::Error for PortalError {}

impl Portals {
    /// No portals.
    #[must_use]
    pub const fn none() -> Self {
        Self(Vec::new())
    }

    /// Portals between pairs of tiles of a map.
    ///
    /// # Errors
    /// When both ends of a pair are one tile, a tile is in two pairs, or one lies outside the map or blocks.
    pub fn new(grid: &TileGrid, pairs: &[(IVec2, IVec2)]) -> Result<Self, PortalError> {
        apart(pairs)?;
        for tile in pairs.iter().flat_map(|(one, other)| [*one, *other]) {
            if !grid.contains(tile) {
                return Err(PortalError::Outside { tile });
            }
            if grid.blocks(tile) {
                return Err(PortalError::Blocked { tile });
            }
        }
        Ok(Self(pairs.to_vec()))
    }

    /// The other end of the portal at a tile, if there is one.
    #[must_use]
    pub fn exit(&self, tile: IVec2) -> Option<IVec2> {
        self.0.iter().find_map(|(one, other)| match tile {
            tile if tile == *one => Some(*other),
            tile if tile == *other => Some(*one),
            _ => None,
        })
    }

    /// The pairs.
    pub fn iter(&self) -> impl Iterator<Item = (IVec2, IVec2)> {
        self.0.iter().copied()
    }
}

/// Whether each portal has two ends, and no tile is the end of two.
fn apart(pairs: &[(IVec2, IVec2)]) -> Result<(), PortalError> {
    let mut ends: Vec<IVec2> = Vec::new();
    for &(one, other) in pairs {
        if one == other {
            return Err(PortalError::OneEnd { tile: one });
        }
        for tile in [one, other] {
            if ends.contains(&tile) {
                return Err(PortalError::Taken { tile });
            }
            ends.push(tile);
        }
    }
    Ok(())
}
