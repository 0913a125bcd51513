//! Free-standing walls in a store, added, moved and removed at run time.
//!
//! Every obstacle has an id that never comes to mean another one: it holds the slot's number and how
//! often the slot was used. Of two obstacles met at once, the one in the lower slot is told.

use core::fmt;

use glam::Vec2;

use super::hit::{Hit, Side, Terrain, Wall};
use super::support::joined_support;
use crate::intent::YAxis;
use crate::shape::{Aabb, Footprint, Solid, outline_of, overlap, sweep_with_side};
use crate::tolerance::HELD_GAP;

/// Which obstacle of a store; ids of removed obstacles are never used again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ObstacleId {
    slot: u32,
    generation: u32,
}

impl fmt::Display for ObstacleId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}.{}", self.slot, self.generation)
    }
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Slot {
    generation: u32,
    solid: Option<Solid>,
}

/// Free-standing walls.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::Solid;
/// use ambulant::terrain::Obstacles;
///
/// let mut posts = Obstacles::new();
/// let post = posts.add(Solid::circle(vec2(10.0, 0.0), 2.0)?);
/// let mut moth = Walker::new(vec2(0.0, 0.5), Footprint::circle(1.0)?, Gait::new(8.0, 60.0, 60.0)?);
/// for _ in 0..180 {
///     let _ = moth.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &posts);
/// }
/// assert!(moth.position.x > 12.0); // led round the post
/// assert!(posts.remove(post).is_some() && posts.is_empty());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Obstacles {
    slots: Vec<Slot>,
    free: Vec<u32>,
    y_axis: YAxis,
}

impl Obstacles {
    /// A store without obstacles.
    #[must_use]
    pub const fn new() -> Self {
        Self { slots: Vec::new(), free: Vec::new(), y_axis: YAxis::Down }
    }

    /// The same store in a world where y grows the other way; only the names of sides depend on it.
    #[must_use]
    pub const fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self
    }

    /// Adds an obstacle.
    ///
    /// # Panics
    /// When there are already 4,294,967,295 of them.
    pub fn add(&mut self, solid: Solid) -> ObstacleId {
        if let Some(slot) = self.free.pop() {
            let place = &mut self.slots[slot as usize];
            place.solid = Some(solid);
            return ObstacleId { slot, generation: place.generation };
        }
        let slot = u32::try_from(self.slots.len()).expect("fewer obstacles than a u32 can count");
        self.slots.push(Slot { generation: 0, solid: Some(solid) });
        ObstacleId { slot, generation: 0 }
    }

    /// Takes an obstacle out; `None` when it is not there any more.
    pub fn remove(&mut self, id: ObstacleId) -> Option<Solid> {
        let slot = self.slots.get_mut(id.slot as usize).filter(|slot| slot.generation == id.generation)?;
        let solid = slot.solid.take()?;
        slot.generation += 1;
        self.free.push(id.slot);
        Some(solid)
    }

    /// Gives an obstacle another shape or place; `false` when it is not there any more.
    pub fn set(&mut self, id: ObstacleId, solid: Solid) -> bool {
        let slot = self.slots.get_mut(id.slot as usize).filter(|slot| slot.generation == id.generation);
        let Some(found) = slot.and_then(|slot| slot.solid.as_mut()) else { return false };
        *found = solid;
        true
    }

    /// An obstacle's shape; `None` when it is not there any more.
    #[must_use]
    pub fn get(&self, id: ObstacleId) -> Option<&Solid> {
        self.slots.get(id.slot as usize).filter(|slot| slot.generation == id.generation)?.solid.as_ref()
    }

    /// Every obstacle with its id, in the order of their slots.
    pub fn iter(&self) -> impl Iterator<Item = (ObstacleId, &Solid)> {
        self.slots.iter().zip(0u32..).filter_map(|(slot, number)| {
            let id = ObstacleId { slot: number, generation: slot.generation };
            slot.solid.as_ref().map(|solid| (id, solid))
        })
    }

    /// How many obstacles there are.
    #[must_use]
    pub fn len(&self) -> usize {
        self.slots.len() - self.free.len()
    }

    /// Whether there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// The obstacles whose boxes come near the ground that a footprint passes over.
    fn near(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> impl Iterator<Item = (ObstacleId, &Solid)> {
        let (start, end) = (footprint.at(from), footprint.at(from + displacement));
        let way = Aabb { min: start.min.min(end.min), max: start.max.max(end.max) };
        // Room for what counts as touching and for what holds a mover.
        let room = Vec2::splat(0.01) + way.min.abs().max(way.max.abs()) * 1e-6;
        let wide = Aabb { min: way.min - room, max: way.max + room };
        self.iter().filter(move |(_, solid)| {
            let bounds = solid.bounds();
            bounds.min.cmple(wide.max).all() && wide.min.cmple(bounds.max).all()
        })
    }
}

impl Terrain for Obstacles {
    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Option<Hit> {
        let mut first: Option<(Hit, bool)> = None;
        for (id, solid) in self.near(footprint, from, displacement) {
            let Some((touch, flat)) = sweep_with_side(footprint, from, displacement, solid) else { continue };
            // Of two walls met at once a flat side counts before a corner: between flush walls the
            // corner is not there.
            let earlier = first.is_none_or(|(known, known_flat)| {
                touch.fraction < known.fraction || (touch.fraction == known.fraction && flat && !known_flat)
            });
            if earlier {
                let hit = Hit {
                    fraction: touch.fraction,
                    position: touch.position,
                    point: touch.point,
                    normal: touch.normal,
                    side: Side::facing(touch.normal, self.y_axis),
                    wall: Wall::Obstacle(id),
                };
                first = Some((hit, flat));
            }
        }
        first.map(|(hit, _)| hit)
    }

    fn support(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, normal: Vec2) -> f32 {
        let outlines = || {
            let near = self.near(footprint, from, displacement);
            near.map(|(_, solid)| outline_of(footprint, solid).wider(HELD_GAP))
        };
        joined_support(outlines, footprint.middle(from), displacement, normal)
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2) -> bool {
        self.near(footprint, at, Vec2::ZERO).any(|(_, solid)| overlap(footprint, at, solid).is_some())
    }
}
