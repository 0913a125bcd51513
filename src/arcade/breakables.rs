//! Walls that break after a number of hits; each contact hits one of them.

use alloc::collections::BTreeMap;

use crate::terrain::{GridError, Obstacles, TileGrid, Wall};

/// What one hit did to a wall.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[must_use]
pub struct Strike {
    /// The wall that was hit.
    pub wall: Wall,
    /// How many hits it still takes; `None` if it does not break.
    pub hits_left: Option<u32>,
    /// Whether this hit broke it.
    pub broke: bool,
}

/// How many hits walls take, by kind of tile or by wall.
///
/// It only counts. [`Breakables::clear`] removes a broken wall from the map or the store.
///
/// ```
/// use ambulant::arcade::Breakables;
/// use ambulant::prelude::*;
/// use ambulant::terrain::{Obstacles, Wall};
///
/// let legend = Legend::new().with('.', TileKind::floor("air")).with('o', TileKind::wall("thick pane"));
/// let mut panes = TileGrid::from_rows(&["oo"], &legend)?;
/// let mut breakables = Breakables::new();
/// breakables.set_kind_hits(panes.kind_named("thick pane").unwrap(), 2);
///
/// let pane = Wall::Tile(ivec2(1, 0));
/// assert_eq!(breakables.strike(pane, &panes).hits_left, Some(1));
/// let strike = breakables.strike(pane, &panes);
/// assert!(strike.broke);
/// breakables.clear(strike, &mut panes, 0, &mut Obstacles::new())?; // kind 0: air
/// assert!(!panes.blocks(ivec2(1, 0)) && panes.blocks(ivec2(0, 0)));
/// # Ok::<(), ambulant::terrain::GridError>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Breakables {
    kinds: BTreeMap<usize, u32>,
    // Walls that were hit, or that have a number of hits of their own.
    left: BTreeMap<Key, u32>,
}

/// A wall as a sortable key.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum Key {
    Tile(i32, i32),
    Obstacle(crate::terrain::ObstacleId),
    Other,
}

impl From<Wall> for Key {
    fn from(wall: Wall) -> Self {
        match wall {
            Wall::Tile(tile) => Self::Tile(tile.y, tile.x),
            Wall::Obstacle(id) => Self::Obstacle(id),
            _ => Self::Other,
        }
    }
}

impl Breakables {
    /// Nothing breaks.
    #[must_use]
    pub const fn new() -> Self {
        Self { kinds: BTreeMap::new(), left: BTreeMap::new() }
    }

    /// Sets the hits for a kind of tile, by its index in [`TileGrid::kinds`]; 0 means that it never breaks.
    pub fn set_kind_hits(&mut self, kind: usize, hits: u32) {
        self.kinds.insert(kind, hits);
    }

    /// Sets the hits for one wall; 0 means that it never breaks.
    pub fn set_wall_hits(&mut self, wall: Wall, hits: u32) {
        self.left.insert(wall.into(), hits);
    }

    /// How many hits a wall still takes; `None` if it does not break.
    #[must_use]
    pub fn hits_left(&self, wall: Wall, grid: &TileGrid) -> Option<u32> {
        let of_kind = || match wall {
            Wall::Tile(tile) => self.kinds.get(&grid.kind_index(tile)?).copied(),
            _ => None,
        };
        self.left.get(&wall.into()).copied().or_else(of_kind).filter(|left| *left > 0)
    }

    /// Counts one hit on a wall.
    pub fn strike(&mut self, wall: Wall, grid: &TileGrid) -> Strike {
        let Some(left) = self.hits_left(wall, grid) else {
            return Strike { wall, hits_left: None, broke: false };
        };
        let left = left - 1;
        if left > 0 {
            self.left.insert(wall.into(), left);
        } else {
            self.left.remove(&wall.into());
        }
        Strike { wall, hits_left: Some(left), broke: left == 0 }
    }

    /// Removes a broken wall: a tile becomes another kind, an obstacle is removed.
    ///
    /// # Errors
    /// When the tile lies outside the map or the kind does not exist.
    pub fn clear(
        &self,
        strike: Strike,
        grid: &mut TileGrid,
        becomes: usize,
        obstacles: &mut Obstacles,
    ) -> Result<(), GridError> {
        match strike.wall {
            Wall::Tile(tile) if strike.broke => grid.set(tile, becomes),
            Wall::Obstacle(id) if strike.broke => {
                obstacles.remove(id);
                Ok(())
            }
            _ => Ok(()),
        }
    }
}
