//! Walls and floors of a world that move during a tick.

use alloc::sync::Arc;

use glam::{DVec2, Vec2};

use super::floors::FloorsInTime;
use super::layers::Layers;
use super::moving::{InMotion, WallMotion};
use super::wall::Wall;
use super::world::World;
use crate::InvalidNumber;
use crate::drive::Surface;
use crate::shape::{Aabb, Solid};
use crate::tolerance::JUST_BEFORE;

impl World {
    /// Moves a free-standing wall during this tick, at a velocity in units/s, until [`advance`](Self::advance). Movers
    /// that are ticked meanwhile meet it where it is at each instant.
    ///
    /// Returns `false` and changes nothing if it is not a free-standing wall of this world, or if the velocity is not
    /// finite or has more than a million units/s along an axis.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let mut world = World::new();
    /// let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0))?);
    /// let mut gardener = Walker::new(vec2(6.0, 0.0), Footprint::rect(2.0, 2.0)?, Gait::new(60.0, 400.0, 500.0)?);
    ///
    /// world.move_at(door, vec2(30.0, 0.0));
    /// let result = gardener.tick(Intent::NONE, 0.2, &world);
    /// world.advance(0.2);
    /// assert_eq!(world.solid(door).unwrap().bounds().max.x, 8.0);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn move_at(&mut self, wall: Wall, velocity: Vec2) -> bool {
        self.move_in(wall, [WallMotion::new(velocity, f32::INFINITY)])
    }

    /// The same in straight pieces, one after the other; after the last one, the wall stands.
    ///
    /// Returns `false` and changes nothing if it is not a free-standing wall of this world, or if a velocity is not
    /// finite or has more than a million units/s along an axis, or if a time is negative or not a number.
    pub fn move_in(&mut self, wall: Wall, pieces: impl IntoIterator<Item = WallMotion>) -> bool {
        self.move_beside(wall, DVec2::ZERO, pieces)
    }

    /// The same for a wall that is so far beside where it was put, if it has not moved since: it was put at a rounded position.
    pub(crate) fn move_beside(
        &mut self,
        wall: Wall,
        beside: DVec2,
        pieces: impl IntoIterator<Item = WallMotion>,
    ) -> bool {
        let Wall::Obstacle(id) = wall else { return false };
        self.moving.set(Arc::make_mut(&mut self.obstacles), id, beside, pieces.into_iter())
    }

    /// Adds a wall with an id that no other world has.
    pub(crate) fn add_apart(&mut self, layers: Layers, solid: Solid) -> Wall {
        Wall::Obstacle(Arc::make_mut(&mut self.obstacles).add_apart(layers, solid))
    }

    /// Lets a wall that moves in this tick stop after some seconds of it; `false` if it does not move.
    pub fn stop_after(&mut self, wall: Wall, seconds: f32) -> bool {
        matches!(wall, Wall::Obstacle(id) if self.moving.stop_after(id, crate::time::seconds(seconds)))
    }

    /// How fast a wall moves at an instant of the tick, in units/s; 0 if it stands.
    pub(crate) fn speed_at(&self, wall: Wall, time: f64) -> f32 {
        let Wall::Obstacle(id) = wall else { return 0.0 };
        // Just before, since a motion can end at that instant.
        let now = self.moving.now(id, (time - JUST_BEFORE).max(0.0));
        now.map_or(0.0, |now| now.velocity.length())
    }

    /// A wall at an instant of the tick, on the path of what it follows: its shape at some place, and how far it is from there,
    /// without rounding; `None` for one that is not there.
    pub(crate) fn placed_at(&self, wall: Wall, time: f64) -> Option<(Solid, DVec2)> {
        let stands = |area: Aabb| (Solid::Box { area }, DVec2::ZERO);
        match wall {
            Wall::Tile(map, tile) => self.map_by_id(map).map(|map| stands(map.tile_area(tile))),
            Wall::Obstacle(id) => self.obstacles.placed(id).map(|(solid, offset)| {
                let offset = self.moving.now(id, time).map_or(offset, |now| now.offset + now.beside);
                (solid, offset)
            }),
            Wall::Edge(_) => self.play_area.map(|area| stands(area.area())),
            Wall::Own(_) => None,
        }
    }

    /// The bounding box of a wall at an instant of the tick; empty at the origin for one that is not there.
    pub(crate) fn bounds_at(&self, wall: Wall, time: f64) -> Aabb {
        let placed = self.placed_at(wall, time);
        let bounds = placed.map(|(solid, offset)| solid.moved(offset.as_vec2()).bounds());
        bounds.unwrap_or(Aabb { min: Vec2::ZERO, max: Vec2::ZERO })
    }

    /// The velocity of what a wall follows at an instant of the tick, without the steps of its pieces, and its acceleration
    /// then or just before, in units/s²; `None` if it does not move.
    pub(crate) fn even_velocity_at(&self, wall: Wall, time: f64) -> Option<(Vec2, f32)> {
        let Wall::Obstacle(id) = wall else { return None };
        let now = self.moving.now(id, time)?;
        Some((now.velocity + now.gained, self.moving.acceleration(id, time)))
    }

    /// Ends a tick of `dt` seconds: walls that move are from now on where their motion has taken them, and stand. A `dt`
    /// that is zero, negative or not finite takes them nowhere.
    pub fn advance(&mut self, dt: f32) {
        if !self.moving.is_empty() {
            self.moving.advance(Arc::make_mut(&mut self.obstacles), crate::time::seconds(dt));
        }
    }

    /// Sets whether a free-standing wall takes along what touches it while it moves; `false` if it was removed, and for
    /// tiles and edges. The mover moves on it as on a wall that stands; one that walks away from it is let go.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let mut world = World::new();
    /// let cart = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(8.0, 2.0))?);
    /// assert!(world.set_carries(cart, true));
    /// let mut snail = Walker::new(vec2(4.0, 3.0), Footprint::rect(2.0, 2.0)?, Pace::new(1.0)?); // beside it
    /// world.move_at(cart, vec2(10.0, -5.0));
    /// let result = snail.tick(Intent::NONE, 0.5, &world);
    /// assert_eq!((snail.position, result.pushed), (vec2(9.0, 0.5), vec2(5.0, -2.5)));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn set_carries(&mut self, wall: Wall, carries: bool) -> bool {
        matches!(wall, Wall::Obstacle(id) if Arc::make_mut(&mut self.obstacles).set_carries(id, carries))
    }

    /// Adds a floor: an area that carries what stands on it and blocks nothing, such as a raft or a lift seen from above.
    /// It moves, is placed and is removed like a free-standing wall; on it, its velocity is added to the belt of
    /// `surface`. A mover is on it if the middle of its footprint is.
    ///
    /// A floor covers the surfaces of tiles. Where floors lie over each other, the one that was added last counts.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::drive::Surface;
    /// use ambulant::shape::Aabb;
    ///
    /// let mut world = World::new();
    /// let raft = world.add_floor(Aabb::from_corners(vec2(0.0, 0.0), vec2(8.0, 8.0)), Surface::PLAIN)?;
    /// let mut snail = Walker::new(vec2(4.0, 4.0), Footprint::circle(1.0)?, Pace::new(1.0)?);
    ///
    /// world.move_at(raft, vec2(10.0, 0.0));
    /// let _ = snail.tick(Intent::new(vec2(0.0, 1.0)), 0.5, &world);
    /// world.advance(0.5);
    /// assert_eq!((snail.position, snail.velocity), (vec2(9.0, 4.5), vec2(0.0, 1.0)));
    /// assert_eq!(world.solid(raft).unwrap().bounds().min, vec2(5.0, 0.0));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    ///
    /// # Errors
    /// The corners must be finite, with at most 1e12 units.
    ///
    /// # Panics
    /// When there are already 4,294,967,294 walls and floors.
    pub fn add_floor(&mut self, area: Aabb, surface: Surface) -> Result<Wall, InvalidNumber> {
        let solid = Solid::from_area(area)?;
        let id = Arc::make_mut(&mut self.obstacles).add_on(Layers::NONE, solid);
        self.floors.add(id, surface);
        Ok(Wall::Obstacle(id))
    }

    /// The floors, each with its surface as it stands, in the order in which they were added.
    pub fn floors(&self) -> impl Iterator<Item = (Wall, &Surface)> {
        self.floors.iter().map(|(id, surface)| (Wall::Obstacle(*id), surface))
    }

    /// The floors, with where they are in this tick; `None` if there are none.
    #[inline]
    pub(super) fn floors_in_time(&self) -> Option<FloorsInTime<'_>> {
        let Self { floors, obstacles, moving, .. } = self;
        (!floors.is_empty()).then_some(FloorsInTime { floors, obstacles, moving })
    }

    /// The walls that move in this tick, as a terrain.
    #[inline]
    pub(super) fn in_motion(&self) -> Option<InMotion<'_>> {
        (!self.moving.is_empty()).then(|| InMotion { obstacles: &self.obstacles, moving: &self.moving })
    }
}
