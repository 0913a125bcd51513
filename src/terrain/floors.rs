//! Moving floors: areas that carry what stands on them and block nothing, such as a raft or a lift seen from above.
//!
//! A floor is stored like a free-standing wall on no layer, so that it moves, is placed and is removed like one. Where
//! floors lie over each other, the one that was added last counts; it also covers the surfaces of tiles.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::moving::MovingWalls;
use super::obstacles::Obstacles;
use super::wall::ObstacleId;
use crate::drive::Surface;

/// The floors of a world, each with what it does beside moving; the last one is on top.
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize), serde(transparent))]
pub(super) struct Floors {
    list: Vec<(ObstacleId, Surface)>,
}

impl Floors {
    pub(super) fn is_empty(&self) -> bool {
        self.list.is_empty()
    }

    pub(super) fn iter(&self) -> impl Iterator<Item = &(ObstacleId, Surface)> {
        self.list.iter()
    }

    /// Adds a floor on top of all others.
    pub(super) fn add(&mut self, id: ObstacleId, surface: Surface) {
        self.list.push((id, surface));
    }

    pub(super) fn remove(&mut self, id: ObstacleId) {
        self.list.retain(|(known, _)| *known != id);
    }

    /// Whether an obstacle is a floor.
    pub(super) fn is_floor(&self, id: ObstacleId) -> bool {
        self.iter().any(|(known, _)| *known == id)
    }
}

/// The floors of a world with where they are in this tick.
#[derive(Debug, Clone, Copy)]
pub(super) struct FloorsInTime<'a> {
    pub(super) floors: &'a Floors,
    pub(super) obstacles: &'a Obstacles,
    pub(super) moving: &'a MovingWalls,
}

/// A floor at an instant.
struct FloorNow {
    min: DVec2,
    max: DVec2,
    velocity: Vec2,
    /// For how many seconds it keeps its velocity.
    steady: f32,
    surface: Surface,
}

impl FloorNow {
    /// Half-open, like a tile.
    fn contains(&self, point: DVec2) -> bool {
        point.cmpge(self.min).all() && point.cmplt(self.max).all()
    }

    /// Its surface, including its velocity.
    fn surface(&self) -> Surface {
        let belt = self.surface.belt() + self.velocity;
        self.surface.moving(belt.clamp(Vec2::MIN, Vec2::MAX))
    }
}

impl FloorsInTime<'_> {
    /// The floors at an instant, the top one first.
    fn floors_at(&self, time: f64) -> impl Iterator<Item = FloorNow> {
        self.floors.list.iter().rev().filter_map(move |(id, surface)| {
            let (solid, offset) = self.obstacles.placed(*id)?;
            let bounds = solid.bounds();
            let at = |offset: DVec2, velocity, steady| {
                let [min, max] = [bounds.min, bounds.max].map(|corner| corner.as_dvec2() + offset);
                FloorNow { min, max, velocity, steady, surface: *surface }
            };
            let now = self.moving.now(*id, time);
            Some(now.map_or_else(
                || at(offset, Vec2::ZERO, f32::INFINITY),
                |now| at(now.offset, now.velocity, now.steady),
            ))
        })
    }

    /// The surface of the floor at a point, if there is one.
    pub(super) fn surface_at(&self, point: DVec2, time: f64) -> Option<Surface> {
        self.floors_at(time).find(|floor| floor.contains(point)).map(|floor| floor.surface())
    }

    /// The velocity of the floor at a point; zero if there is none.
    pub(super) fn velocity_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.floors_at(time).find(|floor| floor.contains(point)).map_or(Vec2::ZERO, |floor| floor.velocity)
    }

    /// Whether one floor covers all that is within a reach of a point that moves from one place to another between two instants,
    /// or none touches it: `Some` of whether one does. `None` if neither is known.
    pub(super) fn is_one_in(
        &self,
        [from, to]: [DVec2; 2],
        reach: Vec2,
        [since, until]: [f64; 2],
    ) -> Option<bool> {
        let (reach, lasts) = (reach.as_dvec2(), until - since);
        for floor in self.floors_at(since) {
            // As the floor sees it.
            let to = to - floor.velocity.as_dvec2() * lasts;
            let (min, max) = (from.min(to) - reach, from.max(to) + reach);
            let is_apart = floor.min.cmpgt(max).any() || floor.max.cmplt(min).any();
            let covers = floor.min.cmple(min).all() && floor.max.cmpgt(max).all();
            if f64::from(floor.steady) < lasts || !is_apart && !covers {
                return None;
            }
            if covers {
                return Some(true);
            }
        }
        Some(false)
    }
}
