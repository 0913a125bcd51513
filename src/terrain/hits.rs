//! How many hits walls still take before they break.

use alloc::vec::Vec;

use super::tiles::KindId;
use super::wall::{MapId, Wall};
use crate::saved::restored;

/// What one hit did to a wall.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let pot = world.add(Solid::circle(Vec2::ZERO, 1.0)?);
/// assert_eq!(world.strike(pot).hits_left, None); // it does not break
/// world.set_wall_hits(pot, 1);
/// let strike = world.strike(pot);
/// assert_eq!((strike.wall, strike.hits_left, strike.broke), (pot, Some(0), true));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub struct Strike {
    /// The wall that was hit.
    pub wall: Wall,
    /// How many hits it still takes; `None` if it does not break.
    pub hits_left: Option<u32>,
    /// Whether this hit broke it.
    pub broke: bool,
}

/// The hits that walls still take, by wall and by kind of tile.
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(super) struct Hits {
    /// By map and kind, in their order.
    kinds: Vec<((MapId, KindId), u32)>,
    /// Walls that were hit, or that have hits of their own, in their order.
    walls: Vec<WallHits>,
}

restored!(Hits { kinds: Vec<((MapId, KindId), u32)>, walls: Vec<WallHits> } as saved => {
    ensure(saved.kinds.windows(2).all(|pair| pair[0].0 < pair[1].0), "kinds must be in order")?;
    ensure(saved.walls.windows(2).all(|pair| pair[0].wall < pair[1].wall), "walls must be in order")?;
    Ok(Hits { kinds: saved.kinds, walls: saved.walls })
});

#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct WallHits {
    wall: Wall,
    /// What kind of tile it was; a tile that became another one starts anew.
    kind: Option<KindId>,
    left: u32,
}

impl Hits {
    pub(super) const fn new() -> Self {
        Self { kinds: Vec::new(), walls: Vec::new() }
    }

    fn find(&self, wall: Wall) -> Result<usize, usize> {
        self.walls.binary_search_by_key(&wall, |known| known.wall)
    }

    fn find_kind(&self, map: MapId, kind: KindId) -> Result<usize, usize> {
        self.kinds.binary_search_by_key(&(map, kind), |(known, _)| *known)
    }

    pub(super) fn set_kind(&mut self, map: MapId, kind: KindId, hits: u32) {
        match self.find_kind(map, kind) {
            Ok(place) => self.kinds[place].1 = hits,
            Err(place) => self.kinds.insert(place, ((map, kind), hits)),
        }
    }

    pub(super) fn set_wall(&mut self, wall: Wall, kind: Option<KindId>, left: u32) {
        let hits = WallHits { wall, kind, left };
        match self.find(wall) {
            Ok(place) => self.walls[place] = hits,
            Err(place) => self.walls.insert(place, hits),
        }
    }

    pub(super) fn forget(&mut self, wall: Wall) {
        if let Ok(place) = self.find(wall) {
            self.walls.remove(place);
        }
    }

    /// How many hits a wall of a kind still takes; `None` if it does not break.
    pub(super) fn left(&self, wall: Wall, kind: Option<KindId>) -> Option<u32> {
        let own = self.find(wall).ok().map(|place| self.walls[place]).filter(|known| known.kind == kind);
        let of_kind = || {
            let (Wall::Tile(map, _), Some(kind)) = (wall, kind) else { return None };
            self.find_kind(map, kind).ok().map(|place| self.kinds[place].1)
        };
        own.map(|known| known.left).or_else(of_kind).filter(|left| *left > 0)
    }
}
