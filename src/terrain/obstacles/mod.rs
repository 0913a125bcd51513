//! The free-standing walls of a world, which are added, moved and removed at run time.
//!
//! An id consists of a slot and how often the slot was used, so it is never used again.

mod cells;
mod layout;
mod sizes;
mod strip;

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use crate::direction::YAxis;
use crate::saved::restored;
use crate::shape::{Aabb, Footprint, Solid};
use crate::terrain::filter::WallFilter;
use crate::terrain::first_hit::{FirstHit, sweep_in_stretches};
use crate::terrain::found::FoundWall;
use crate::terrain::hit::Hit;
use crate::terrain::layers::Layers;
use crate::terrain::swept_area::swept_area;
use crate::terrain::terrain_trait::Terrain;
use crate::terrain::wall::{ObstacleId, Wall};
use crate::tolerance::STRETCH;
use cells::Cells;
use strip::Strip;

#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Slot {
    generation: u32,
    standing: Option<Standing>,
}

/// An obstacle that stands.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Standing {
    solid: Solid,
    layers: Layers,
    tag: u32,
    /// Whether it takes along what touches it.
    carries: bool,
}

/// The free-standing walls of a world.
#[derive(Debug, Clone)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(super) struct Obstacles {
    slots: Vec<Slot>,
    free: Vec<u32>,
    /// Obstacles that have moved, in the order of slots: each by its slot, with its original shape and how far it has
    /// moved from there.
    moved: Vec<(u32, Solid, DVec2)>,
    #[cfg_attr(feature = "serde", serde(skip))]
    cells: Cells,
    /// The slots of obstacles that move in this tick, which are met elsewhere.
    #[cfg_attr(feature = "serde", serde(skip))]
    lifted: Vec<bool>,
    y_axis: YAxis,
}

restored!(Obstacles { slots: Vec<Slot>, free: Vec<u32>, moved: Vec<(u32, Solid, DVec2)>, y_axis: YAxis } as saved => {
    let mut is_free = alloc::vec![false; saved.slots.len()];
    for number in &saved.free {
        let known = is_free.get_mut(*number as usize);
        let is_new = known.is_some_and(|known| !core::mem::replace(known, true));
        ensure(is_new, "free must name each slot at most once")?;
    }
    ensure(saved.moved.is_sorted_by(|(one, ..), (other, ..)| one < other), "moved must be in the order of slots")?;
    for (number, solid, offset) in &saved.moved {
        let standing = saved.slots.get(*number as usize).and_then(|slot| slot.standing);
        let is_there = standing.is_some_and(|standing| standing.solid == solid.moved(offset.as_vec2()));
        ensure(is_there, "moved must lead to where an obstacle stands")?;
    }
    let mut obstacles = Obstacles { slots: saved.slots, free: saved.free, moved: saved.moved, ..Obstacles::new() };
    for ((number, slot), is_free) in (0u32..).zip(&obstacles.slots).zip(is_free) {
        let is_used_up = slot.generation == u32::MAX;
        ensure(slot.standing.is_some() != (is_free || is_used_up), "free must name the slots without an obstacle")?;
        if let Some(Standing { solid, layers, .. }) = slot.standing {
            obstacles.cells.put(number, solid.bounds(), layers);
        }
    }
    obstacles.set_y_axis(saved.y_axis);
    Ok(obstacles)
});

/// The cells do not count: they follow from the obstacles and from how they came about.
impl PartialEq for Obstacles {
    fn eq(&self, other: &Self) -> bool {
        (&self.slots, &self.free, &self.moved, self.y_axis)
            == (&other.slots, &other.free, &other.moved, other.y_axis)
    }
}

impl Default for Obstacles {
    fn default() -> Self {
        Self::new()
    }
}

impl Obstacles {
    /// None yet.
    pub(super) const fn new() -> Self {
        Self {
            slots: Vec::new(),
            free: Vec::new(),
            moved: Vec::new(),
            cells: Cells::new(),
            lifted: Vec::new(),
            y_axis: YAxis::Down,
        }
    }

    /// The direction in which y grows.
    pub(super) const fn y_axis(&self) -> YAxis {
        self.y_axis
    }

    /// Sets the direction in which y grows; only the names of sides depend on it.
    pub(super) const fn set_y_axis(&mut self, y_axis: YAxis) {
        self.y_axis = y_axis;
    }

    /// Adds an obstacle on some layers.
    ///
    /// # Panics
    /// When there are already 4,294,967,294 of them.
    pub(super) fn add_on(&mut self, layers: Layers, solid: Solid) -> ObstacleId {
        let slot = self.free.pop().unwrap_or_else(|| self.new_slot(0));
        self.fill(slot, layers, solid)
    }

    /// The same with an id that no world uses.
    pub(super) fn add_apart(&mut self, layers: Layers, solid: Solid) -> ObstacleId {
        let slot = self.new_slot(u32::MAX);
        self.fill(slot, layers, solid)
    }

    fn new_slot(&mut self, generation: u32) -> u32 {
        let slot = u32::try_from(self.slots.len()).ok().filter(|slot| *slot < u32::MAX);
        self.slots.push(Slot { generation, standing: None });
        slot.expect("fewer obstacles than a u32 can count")
    }

    fn fill(&mut self, slot: u32, layers: Layers, solid: Solid) -> ObstacleId {
        let place = &mut self.slots[slot as usize];
        place.standing = Some(Standing { solid, layers, tag: 0, carries: false });
        self.cells.put(slot, solid.bounds(), layers);
        ObstacleId { slot, generation: place.generation }
    }

    /// Removes an obstacle; `None` if it was removed before.
    pub(super) fn remove(&mut self, id: ObstacleId) -> Option<Solid> {
        let Standing { solid, .. } = self.slot_mut(id)?.take()?;
        let slot = &mut self.slots[id.slot as usize];
        slot.generation = slot.generation.saturating_add(1);
        // Ids of a slot are used once; after the last one the slot stays empty.
        if slot.generation < u32::MAX {
            self.free.push(id.slot);
        }
        self.cells.take(id.slot);
        self.stays_put(id.slot);
        Some(solid)
    }

    /// Changes the shape or position of an obstacle; `false` if it was removed.
    pub(super) fn set(&mut self, id: ObstacleId, solid: Solid) -> bool {
        let Some(standing) = self.slot_mut(id).and_then(Option::as_mut) else { return false };
        standing.solid = solid;
        let layers = standing.layers;
        self.cells.put(id.slot, solid.bounds(), layers);
        self.stays_put(id.slot);
        true
    }

    /// Where an obstacle was put, and how far it has moved from there; `None` if it was removed.
    pub(super) fn placed(&self, id: ObstacleId) -> Option<(Solid, DVec2)> {
        let standing = self.slot(id)?;
        let known = self.moved.binary_search_by_key(&id.slot, |(slot, ..)| *slot);
        let moved = known.map(|place| (self.moved[place].1, self.moved[place].2));
        Some(moved.unwrap_or((standing.solid, DVec2::ZERO)))
    }

    /// Leaves an obstacle out of all queries until it is put down, since it moves.
    pub(super) fn lift(&mut self, id: ObstacleId) {
        let slot = id.slot as usize;
        if self.lifted.len() <= slot {
            self.lifted.resize(slot + 1, false);
        }
        self.lifted[slot] = true;
    }

    /// Puts an obstacle down, moved from where it was put first.
    pub(super) fn put_down(&mut self, id: ObstacleId, solid: Solid, offset: DVec2) {
        let Some(standing) = self.slot_mut(id).and_then(Option::as_mut) else { return };
        let moved = solid.moved(offset.as_vec2());
        standing.solid = moved;
        let layers = standing.layers;
        self.cells.put(id.slot, moved.bounds(), layers);
        self.lifted[id.slot as usize] = false;
        match self.moved.binary_search_by_key(&id.slot, |(slot, ..)| *slot) {
            Ok(place) => self.moved[place].2 = offset,
            Err(place) => self.moved.insert(place, (id.slot, solid, offset)),
        }
    }

    /// Shows the slots of obstacles that move in this tick, pass a filter and are in an area at its start.
    pub(super) fn lifted_in(&self, area: &Aabb, filter: &WallFilter<'_>, mut see: impl FnMut(u32)) {
        self.cells.near(
            area,
            |layers, _| filter.layers(layers),
            |slot| {
                if self.lifted.get(slot as usize) == Some(&true) {
                    see(slot);
                }
            },
        );
    }

    /// Forgets that an obstacle has moved.
    fn stays_put(&mut self, slot: u32) {
        if let Some(lifted) = self.lifted.get_mut(slot as usize) {
            *lifted = false;
        }
        if let Ok(place) = self.moved.binary_search_by_key(&slot, |(slot, ..)| *slot) {
            self.moved.remove(place);
        }
    }

    /// Changes the layers of an obstacle; `false` if it was removed.
    pub(super) fn set_layers(&mut self, id: ObstacleId, layers: Layers) -> bool {
        let Some(standing) = self.slot_mut(id).and_then(Option::as_mut) else { return false };
        standing.layers = layers;
        let bounds = standing.solid.bounds();
        self.cells.put(id.slot, bounds, layers);
        true
    }

    /// Gives an obstacle a number of the game's own; `false` if it was removed.
    pub(super) fn set_tag(&mut self, id: ObstacleId, tag: u32) -> bool {
        let standing = self.slot_mut(id).and_then(Option::as_mut);
        standing.map(|standing| standing.tag = tag).is_some()
    }

    /// The tag of an obstacle; 0 by default, and if it was removed.
    pub(super) fn tag(&self, id: ObstacleId) -> u32 {
        self.slot(id).map_or(0, |standing| standing.tag)
    }

    /// Sets whether an obstacle takes along what touches it; `false` if it was removed.
    pub(super) fn set_carries(&mut self, id: ObstacleId, carries: bool) -> bool {
        let standing = self.slot_mut(id).and_then(Option::as_mut);
        standing.map(|standing| standing.carries = carries).is_some()
    }

    /// Whether an obstacle takes along what touches it.
    pub(super) fn carries(&self, id: ObstacleId) -> bool {
        self.slot(id).is_some_and(|standing| standing.carries)
    }

    /// The shape of an obstacle; `None` if it was removed.
    pub(super) fn get(&self, id: ObstacleId) -> Option<&Solid> {
        self.slot(id).map(|standing| &standing.solid)
    }

    /// The layers of an obstacle; `None` if it was removed.
    pub(super) fn layers(&self, id: ObstacleId) -> Option<Layers> {
        self.slot(id).map(|standing| standing.layers)
    }

    /// Every obstacle with its id, in the order of slots.
    pub(super) fn iter(&self) -> impl Iterator<Item = (ObstacleId, &Solid)> {
        self.slots.iter().zip(0u32..).filter_map(|(slot, number)| {
            let id = ObstacleId { slot: number, generation: slot.generation };
            slot.standing.as_ref().map(|standing| (id, &standing.solid))
        })
    }

    /// How many obstacles there are.
    pub(super) fn len(&self) -> usize {
        self.cells.len()
    }

    /// Whether some of them may reach into an area.
    #[inline]
    pub(super) fn may_reach(&self, area: &Aabb) -> bool {
        self.cells.may_reach(area)
    }

    /// Whether there is none.
    pub(super) fn is_empty(&self) -> bool {
        self.len() == 0
    }

    fn slot(&self, id: ObstacleId) -> Option<&Standing> {
        let slot = self.slots.get(id.slot as usize).filter(|slot| slot.generation == id.generation)?;
        slot.standing.as_ref()
    }

    fn slot_mut(&mut self, id: ObstacleId) -> Option<&mut Option<Standing>> {
        let slot = self.slots.get_mut(id.slot as usize).filter(|slot| slot.generation == id.generation);
        slot.map(|slot| &mut slot.standing)
    }
}

impl Obstacles {
    /// Shows the obstacles in an area that pass the filter and whose bounds `wanted` accepts.
    fn show(
        &self,
        area: &Aabb,
        filter: &WallFilter<'_>,
        wanted: impl Fn(&Aabb) -> bool,
        mut see: impl FnMut(&FoundWall),
    ) {
        self.cells.near(
            area,
            |layers, bounds| filter.layers(layers) && wanted(bounds),
            |number| {
                let slot = &self.slots[number as usize];
                let wall = Wall::Obstacle(ObstacleId { slot: number, generation: slot.generation });
                let Some(Standing { solid, layers, tag, .. }) = slot.standing else { return };
                if filter.wall(wall, layers) && self.lifted.get(number as usize) != Some(&true) {
                    see(&FoundWall::new(wall, solid).on(layers).with_tag(tag));
                }
            },
        );
    }
}

impl Terrain for Obstacles {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.show(&area, filter, |_| true, |found| see(*found));
    }

    fn y_axis(&self) -> YAxis {
        self.y_axis
    }

    fn has_moving_walls(&self) -> bool {
        false
    }

    fn meets_moving_wall(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> bool {
        false
    }

    /// None are; of others it is not known.
    fn is_flat_to(&self, _: &Footprint) -> bool {
        self.is_empty()
    }

    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        if self.is_empty() {
            return None;
        }
        let surface = filter.of_surface();
        let all = |area: Aabb, _: f64, see: &mut dyn FnMut(FoundWall)| self.walls_in(area, &surface, see);
        let strip = Strip::of(footprint, from, displacement);
        let stretch = STRETCH * self.cells.spacing();
        let stretches = displacement.length() / stretch;
        if stretches <= 1.0 || stretches > self.len() as f32 {
            let mut first = FirstHit::during(filter);
            self.show(
                &swept_area(footprint, from, displacement),
                filter,
                |bounds| strip.reaches(bounds),
                |found| first.consider(footprint, from, displacement, found),
            );
            return first.hit(all, self.y_axis, footprint, displacement);
        }
        let bounds = self.cells.bounds();
        let first =
            sweep_in_stretches(footprint, from, displacement, filter, stretch, bounds, |area, see| {
                self.show(&area, filter, |bounds| strip.reaches(bounds), |found| see(*found));
            });
        first.hit(all, self.y_axis, footprint, displacement)
    }
}
