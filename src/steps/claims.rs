//! Which tile is claimed by which stepper: each tile by one at most.
//!
//! A stepper claims the tile that it stands on and, from the start of a stride, the tile that it strides to. A
//! follower may claim the tile that is being left if its own stride lasts at least as long, since it arrives no
//! sooner than the other is gone. So a train moves as one, and two steppers never swap, since each claims the tile
//! that the other wants.

use alloc::vec::Vec;
use core::hash::{BuildHasherDefault, Hasher};

use glam::IVec2;
use hashbrown::HashMap;
use hashbrown::hash_map::Entry;

use super::agenda::Agenda;
use super::blocked::{BlockedBy, MoverId, StepError, ThingId};
#[cfg(feature = "serde")]
use super::ground::may_be_on_a_map;
use super::ground::{StepGround, Target};
use super::rules::{Diagonals, StepRules};
use crate::direction::Facing;
use crate::saved::{Version, restored};

#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum Holder {
    Mover(MoverId),
    Thing(ThingId),
}

impl Holder {
    const fn blocks(self) -> BlockedBy {
        match self {
            Self::Mover(id) => BlockedBy::Mover(id),
            Self::Thing(id) => BlockedBy::Thing(id),
        }
    }
}

/// One claimed tile.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Slot {
    holder: Option<Holder>,
    /// The stepper that is leaving it, and how long its stride lasts, in seconds.
    leaver: Option<(MoverId, f64)>,
}

/// Hashes the two numbers of a tile: the same everywhere, and fast.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
struct TileHasher(u64);

impl Hasher for TileHasher {
    fn finish(&self) -> u64 {
        self.0 ^ (self.0 >> 29)
    }

    fn write(&mut self, bytes: &[u8]) {
        bytes.iter().for_each(|byte| self.write_i32(i32::from(*byte)));
    }

    fn write_i32(&mut self, number: i32) {
        // The bits of the golden ratio: neighbouring tiles land far apart.
        const SPREAD: u64 = 0x9E37_79B9_7F4A_7C15;
        self.0 = (self.0.rotate_left(32) ^ u64::from(number as u32)).wrapping_mul(SPREAD);
    }
}

/// The tiles that steppers and things are on.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{Claims, StepGround, StepRules, Stepper};
///
/// let legend = Legend::new().with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["...."], &legend)?;
/// let ground = StepGround::new(&map);
/// let mut claims = Claims::new();
/// let cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let refused = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims).unwrap_err();
/// assert_eq!(refused.to_string(), "tile 0,0 is taken by mover 0; choose a free one");
/// assert_eq!(claims.mover_at(ivec2(0, 0)), Some(cart.id()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Claims {
    version: Version<1>,
    // A table that does not depend on the machine and does not allocate while tiles are claimed and released.
    #[cfg_attr(feature = "serde", serde(serialize_with = "sorted"))]
    tiles: HashMap<(i32, i32), Slot, BuildHasherDefault<TileHasher>>,
    things: Vec<IVec2>,
    movers: u32,
    #[cfg_attr(feature = "serde", serde(skip))]
    pub(super) agenda: Agenda,
}

restored!(
    Claims { version: Version<1>, tiles: Vec<((i32, i32), Slot)>, things: Vec<IVec2>, movers: u32 } as saved => {
        ensure(saved.movers < u32::MAX / 2, "movers must be below 2147483647")?;
        ensure(saved.tiles.windows(2).all(|pair| pair[0].0 < pair[1].0), "tiles must be in order")?;
        let is_known = |id: MoverId| id.0 < saved.movers;
        let mut things = 0;
        for ((row, column), Slot { holder, leaver }) in &saved.tiles {
            let tile = IVec2::new(*column, *row);
            ensure(may_be_on_a_map(tile), "tiles must be on a map")?;
            ensure(holder.is_some() || leaver.is_some(), "tiles must be claimed")?;
            match holder {
                Some(Holder::Mover(id)) => ensure(is_known(*id), "tiles must be claimed by known movers")?,
                Some(Holder::Thing(id)) => {
                    things += 1;
                    let is_here = saved.things.get(id.0 as usize) == Some(&tile);
                    ensure(is_here, "things must be where tiles say")?;
                }
                None => {}
            }
            let is_fine = |(id, lasts): &(MoverId, f64)| is_known(*id) && lasts.is_finite() && *lasts >= 0.0;
            ensure(leaver.as_ref().is_none_or(is_fine), "tiles must be left by known movers in finite time")?;
        }
        ensure(things == saved.things.len(), "things must each be on a tile")?;
        let tiles = saved.tiles.into_iter().collect();
        Ok(Claims { version: saved.version, tiles, things: saved.things, movers: saved.movers, agenda: Agenda::new() })
    }
);

/// Saves claims in the order of their tiles, so that equal claims are saved as equal bytes.
#[cfg(feature = "serde")]
fn sorted<S: serde::Serializer>(
    tiles: &HashMap<(i32, i32), Slot, BuildHasherDefault<TileHasher>>,
    serializer: S,
) -> Result<S::Ok, S::Error> {
    let mut sorted: Vec<_> = tiles.iter().collect();
    sorted.sort_unstable_by_key(|(tile, _)| **tile);
    serializer.collect_seq(sorted)
}

impl Claims {
    /// No claims.
    #[must_use]
    pub const fn new() -> Self {
        let tiles = HashMap::with_hasher(BuildHasherDefault::new());
        Self { version: Version, tiles, things: Vec::new(), movers: 0, agenda: Agenda::new() }
    }

    /// Whether there are things that can be pushed.
    pub(super) fn has_things(&self) -> bool {
        !self.things.is_empty()
    }

    /// The mover that stands on a tile or strides to it.
    #[must_use]
    pub fn mover_at(&self, tile: IVec2) -> Option<MoverId> {
        match self.slot(tile).holder {
            Some(Holder::Mover(id)) => Some(id),
            _ => None,
        }
    }

    /// The thing on a tile.
    #[must_use]
    pub fn thing_at(&self, tile: IVec2) -> Option<ThingId> {
        match self.slot(tile).holder {
            Some(Holder::Thing(id)) => Some(id),
            _ => None,
        }
    }

    /// Where a thing is; while it is pushed, the tile that it is pushed to.
    #[must_use]
    pub fn thing(&self, id: ThingId) -> Option<IVec2> {
        self.things.get(id.0 as usize).copied()
    }

    /// Every claimed tile, by row and column, and whether it is only being left.
    pub fn iter(&self) -> impl Iterator<Item = (IVec2, bool)> {
        // Sorted, so that nothing depends on the order of hashes.
        let mut tiles: Vec<((i32, i32), bool)> =
            self.tiles.iter().map(|(tile, slot)| (*tile, slot.holder.is_none())).collect();
        tiles.sort_unstable();
        tiles.into_iter().map(|((row, column), leaving)| (IVec2::new(column, row), leaving))
    }

    /// Puts a thing that can be pushed on a tile.
    ///
    /// # Errors
    /// When the tile lies outside the map, blocks, or is taken.
    pub fn put_thing(&mut self, tile: IVec2, ground: &StepGround<'_>) -> Result<ThingId, StepError> {
        ground.standing(tile, crate::terrain::Layers::ALL)?;
        self.unclaimed(tile)?;
        let id = ThingId(u32::try_from(self.things.len()).unwrap_or(u32::MAX));
        self.things.push(tile);
        self.slot_mut(tile).holder = Some(Holder::Thing(id));
        Ok(id)
    }

    /// Claims a tile for a stepper that enters the map.
    pub(super) fn enter(&mut self, tile: IVec2) -> Result<MoverId, StepError> {
        self.unclaimed(tile)?;
        let id = MoverId(self.movers);
        self.movers += 1;
        self.slot_mut(tile).holder = Some(Holder::Mover(id));
        Ok(id)
    }

    /// Releases a tile that a stepper stands on or strides to.
    pub(super) fn release(&mut self, id: MoverId, tile: IVec2) {
        self.change(tile, |slot| {
            if slot.holder == Some(Holder::Mover(id)) {
                slot.holder = None;
            }
        });
    }

    /// Claims a tile again for a stepper on the map.
    pub(super) fn hold(&mut self, id: MoverId, tile: IVec2) -> Result<(), StepError> {
        let Slot { holder, leaver } = self.slot(tile);
        let other = holder.filter(|holder| *holder != Holder::Mover(id)).map(Holder::blocks);
        let going = leaver.filter(|(leaver, _)| *leaver != id).map(|(leaver, _)| BlockedBy::Mover(leaver));
        if let Some(by) = other.or(going) {
            return Err(StepError::Blocked { tile, by });
        }
        *self.slot_mut(tile) = Slot { holder: Some(Holder::Mover(id)), leaver: None };
        Ok(())
    }

    /// Whether a stepper may claim the tiles of a step now, and what it pushes; changes nothing.
    pub(super) fn may_start(
        &self,
        ground: &StepGround<'_>,
        rules: &StepRules,
        from: IVec2,
        direction: Facing,
        target: Target,
    ) -> Result<Option<(ThingId, IVec2)>, BlockedBy> {
        let lasts = rules.stride(direction.is_diagonal());
        let mut pushed = None;
        if let Some(Holder::Thing(thing)) = self.slot(target.tile).holder {
            pushed = Some((thing, self.room_behind(ground, rules, target.tile, direction, thing)?));
        } else {
            self.open(target.tile, lasts)?;
        }
        if target.landing != target.tile {
            self.open(target.landing, lasts)?;
        }
        if direction.is_diagonal() {
            self.crossing(ground.beside(from, direction.step()))?;
        }
        Ok(pushed)
    }

    /// Claims the tiles of a step that may start.
    pub(super) fn start(
        &mut self,
        id: MoverId,
        from: IVec2,
        target: Target,
        lasts: f64,
        pushed: Option<(ThingId, IVec2)>,
    ) {
        if let Some((thing, to)) = pushed {
            self.slot_mut(to).holder = Some(Holder::Thing(thing));
            self.things[thing.0 as usize] = to;
        }
        let leaving = self.slot_mut(from);
        leaving.holder = None;
        leaving.leaver = Some((id, lasts));
        self.slot_mut(target.tile).holder = Some(Holder::Mover(id));
        if target.landing != target.tile {
            self.slot_mut(target.landing).holder = Some(Holder::Mover(id));
        }
    }

    /// Releases what a stride leaves behind when it ends.
    pub(super) fn land(&mut self, id: MoverId, from: IVec2, target: Target) {
        self.change(from, |slot| slot.leaver = slot.leaver.filter(|(leaver, _)| *leaver != id));
        if target.tile != target.landing {
            self.release(id, target.tile);
        }
    }

    /// Whether a tile may be strided to: it is not claimed, and a stepper that leaves it is gone in time.
    fn open(&self, tile: IVec2, lasts: f64) -> Result<(), BlockedBy> {
        let slot = self.slot(tile);
        if let Some(holder) = slot.holder {
            return Err(holder.blocks());
        }
        match slot.leaver {
            Some((leaver, theirs)) if lasts < theirs => Err(BlockedBy::Mover(leaver)),
            _ => Ok(()),
        }
    }

    /// Whether another stepper moves diagonally between the two tiles beside a diagonal step.
    fn crossing(&self, beside: [Option<IVec2>; 2]) -> Result<(), BlockedBy> {
        let [Some(one), Some(other)] = beside else { return Ok(()) };
        for (left, entered) in [(one, other), (other, one)] {
            let leaver = self.slot(left).leaver.map(|(leaver, _)| leaver);
            if let Some(leaver) = leaver.filter(|leaver| self.mover_at(entered) == Some(*leaver)) {
                return Err(BlockedBy::Mover(leaver));
            }
        }
        Ok(())
    }

    fn room_behind(
        &self,
        ground: &StepGround<'_>,
        rules: &StepRules,
        tile: IVec2,
        direction: Facing,
        thing: ThingId,
    ) -> Result<IVec2, BlockedBy> {
        let blocked = BlockedBy::Thing(thing);
        if !rules.pushes || direction.is_diagonal() {
            return Err(blocked);
        }
        let behind = ground.look(tile, direction, crate::terrain::Layers::ALL, Diagonals::Off);
        let behind = behind.map_err(|_| blocked)?;
        let slot = self.slot(behind.tile);
        // A thing is pushed neither into a portal nor onto a tile that is not entirely free.
        let free = behind.tile == behind.landing && slot == Slot::default();
        if free { Ok(behind.tile) } else { Err(blocked) }
    }

    fn unclaimed(&self, tile: IVec2) -> Result<(), StepError> {
        let slot = self.slot(tile);
        let by = slot.holder.map(Holder::blocks).or(slot.leaver.map(|(id, _)| BlockedBy::Mover(id)));
        by.map_or(Ok(()), |by| Err(StepError::Blocked { tile, by }))
    }

    fn slot(&self, tile: IVec2) -> Slot {
        self.tiles.get(&(tile.y, tile.x)).copied().unwrap_or_default()
    }

    fn slot_mut(&mut self, tile: IVec2) -> &mut Slot {
        self.tiles.entry((tile.y, tile.x)).or_default()
    }

    /// Changes the entry of a tile and removes it when empty; one look into the table.
    fn change(&mut self, tile: IVec2, change: impl FnOnce(&mut Slot)) {
        if let Entry::Occupied(mut slot) = self.tiles.entry((tile.y, tile.x)) {
            change(slot.get_mut());
            if slot.get().holder.is_none() && slot.get().leaver.is_none() {
                slot.remove();
            }
        }
    }
}
