//! The walls of a world that move in this tick: a velocity each, or a few straight pieces with times.
//!
//! They are tested after one bounding box, so that standing worlds and distant walls cost next to nothing. A wall is
//! its original shape and an offset, so that a long course does not wear its shape down by rounding.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::filter::WallFilter;
use super::first_hit::FirstHit;
use super::found::FoundWall;
use super::hit::Hit;
use super::obstacles::Obstacles;
use super::swept_area::swept_area;
use super::terrain_trait::Terrain;
use super::wall::{ObstacleId, Wall};
use crate::direction::YAxis;
use crate::shape::{Aabb, Footprint, Solid};
use crate::tolerance::{BOW_AT_HIT, FASTEST_WALL, FEW_WALLS, MOST_PARTS_OF_PIECE, PARTS_AT_HIT};

/// A straight piece of a wall's motion: a velocity for some seconds.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::WallMotion;
///
/// let mut world = World::new();
/// let door = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(2.0, 8.0))?);
/// let opens = [WallMotion::new(vec2(0.0, -30.0), 0.1), WallMotion::new(Vec2::ZERO, 0.1)];
/// assert!(world.move_in(door, opens));
/// world.advance(0.2);
/// assert_eq!(world.solid(door).unwrap().bounds().min, vec2(0.0, -3.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct WallMotion {
    /// In units/s.
    pub velocity: Vec2,
    /// How long it lasts, in seconds.
    pub seconds: f32,
    /// By how much the velocity of what the wall follows is off `velocity`, its mean, at the start and at the end, in units/s.
    off_mean: [Vec2; 2],
}

impl WallMotion {
    /// A velocity (units/s) for some seconds.
    #[must_use]
    pub const fn new(velocity: Vec2, seconds: f32) -> Self {
        Self { velocity, seconds, off_mean: [Vec2::ZERO; 2] }
    }

    /// The same for a wall that follows something whose velocity is so much off this mean at the start and at the end.
    pub(crate) const fn off_mean(self, off_mean: [Vec2; 2]) -> Self {
        Self { off_mean, ..self }
    }

    /// Its mean velocity, and those of what it follows at the start and at the end.
    fn velocities(&self) -> [Vec2; 3] {
        let [start, end] = self.off_mean;
        [self.velocity, self.velocity + start, self.velocity + end]
    }

    /// How far what it follows is beside it after so many seconds, and by how much it is faster. Its velocity changes evenly; by what
    /// it is off the mean at both ends alike, it is set elsewhere at one instant, which bows nothing.
    fn beside(&self, after: f64) -> (DVec2, Vec2) {
        let [start, end] = self.off_mean;
        if start == Vec2::ZERO && end == Vec2::ZERO {
            return (DVec2::ZERO, Vec2::ZERO);
        }
        let done = after / f64::from(self.seconds);
        let beside = (start - end).as_dvec2() * (0.5 * after * (1.0 - done));
        #[expect(clippy::cast_possible_truncation, reason = "a part of a piece, rounded once")]
        let faster = start.lerp(end, done as f32);
        (beside, faster)
    }

    /// By how much the path of what it follows bows away from a straight piece of some seconds, in units.
    fn bow(&self, seconds: f64) -> f64 {
        0.125 * f64::from(self.acceleration()) * seconds * seconds
    }

    /// The acceleration of what it follows, in units/s².
    fn acceleration(&self) -> f32 {
        let [start, end] = self.off_mean;
        if start == end { 0.0 } else { (end - start).length() / self.seconds }
    }

    /// Whether a wall can move so.
    fn is_valid(&self) -> bool {
        self.velocity.is_finite() && self.velocity.abs().max_element() <= FASTEST_WALL && self.seconds >= 0.0
    }
}

/// The walls that move in this tick.
#[derive(Debug, Clone, Default)]
pub(super) struct MovingWalls {
    walls: Vec<Moving>,
    /// Where in this list the obstacle of each slot is.
    places: Vec<usize>,
    /// The pieces of all of them, in the order of the walls.
    pieces: Vec<WallMotion>,
    /// A box round all of them at the start of the tick, and the extremes of their velocities.
    bounds: Option<(Aabb, [Vec2; 2])>,
}

/// A wall that moves in this tick.
#[derive(Debug, Clone, Copy)]
struct Moving {
    id: ObstacleId,
    /// Where it was put, and how far it has moved from there by the start of the tick.
    solid: Solid,
    offset: DVec2,
    /// Its pieces: the first one, and how many.
    pieces: [usize; 2],
}

impl MovingWalls {
    /// Whether nothing moves.
    #[inline]
    pub(super) fn is_empty(&self) -> bool {
        self.walls.is_empty()
    }

    /// Adds a wall, or changes its motion, so far beside where it was put; `false` if it cannot move so.
    pub(super) fn set(
        &mut self,
        obstacles: &mut Obstacles,
        id: ObstacleId,
        beside: DVec2,
        motion: impl Iterator<Item = WallMotion>,
    ) -> bool {
        let Some((solid, offset)) = obstacles.placed(id) else { return false };
        let offset = if offset == DVec2::ZERO { beside } else { offset };
        let first = self.pieces.len();
        self.pieces.extend(motion);
        let count = self.pieces.len() - first;
        if !self.pieces[first..].iter().all(WallMotion::is_valid) {
            self.pieces.truncate(first);
            return false;
        }
        let moving = Moving { id, solid, offset, pieces: [first, count] };
        match self.place(id) {
            Some(place) => self.walls[place] = moving,
            None => {
                let slot = id.slot as usize;
                self.places.resize(self.places.len().max(slot + 1), usize::MAX);
                self.places[slot] = self.walls.len();
                self.walls.push(moving);
            }
        }
        obstacles.lift(id);
        let now = solid.moved(offset.as_vec2()).bounds();
        let (mut all, [mut low, mut high]) = self.bounds.unwrap_or((now, [Vec2::ZERO; 2]));
        all = all.joined(&now);
        for velocity in self.pieces[first..].iter().flat_map(WallMotion::velocities) {
            (low, high) = (low.min(velocity), high.max(velocity));
        }
        self.bounds = Some((all, [low, high]));
        true
    }

    /// Ends the motion of a wall after some seconds; `false` if it does not move.
    pub(super) fn stop_after(&mut self, id: ObstacleId, seconds: f32) -> bool {
        let Some(moving) = self.place(id).map(|place| self.walls[place]) else { return false };
        let ([first, count], mut rest) = (moving.pieces, seconds);
        for piece in &mut self.pieces[first..first + count] {
            piece.off_mean = if piece.seconds > rest { [Vec2::ZERO; 2] } else { piece.off_mean };
            piece.seconds = piece.seconds.min(rest);
            rest -= piece.seconds;
        }
        true
    }

    /// Forgets the motion of a wall, which is placed or removed.
    pub(super) fn forget(&mut self, id: ObstacleId) {
        let Some(place) = self.place(id) else { return };
        self.walls.swap_remove(place);
        self.places[id.slot as usize] = usize::MAX;
        if let Some(moved) = self.walls.get(place) {
            self.places[moved.id.slot as usize] = place;
        }
        if self.is_empty() {
            self.clear();
        }
    }

    /// Where in the list a wall is.
    fn place(&self, id: ObstacleId) -> Option<usize> {
        let place = self.places.get(id.slot as usize).copied()?;
        self.walls.get(place).filter(|moving| moving.id == id).map(|_| place)
    }

    /// Ends the tick: each wall is where its motion has taken it.
    pub(super) fn advance(&mut self, obstacles: &mut Obstacles, dt: f32) {
        for moving in &self.walls {
            let now = self.at(moving, f64::from(dt));
            obstacles.put_down(moving.id, moving.solid, now.offset);
        }
        self.clear();
    }

    fn clear(&mut self) {
        self.walls.clear();
        self.places.clear();
        self.pieces.clear();
        self.bounds = None;
    }

    /// Where a wall is at an instant of the tick; `None` if it does not move.
    pub(super) fn now(&self, id: ObstacleId, instant: f64) -> Option<Now> {
        self.place(id).map(|place| self.at(&self.walls[place], instant))
    }

    /// The acceleration of what a wall follows, in units/s²: the greater one of the piece at an instant of the tick and of the one
    /// before.
    pub(super) fn acceleration(&self, id: ObstacleId, instant: f64) -> f32 {
        let Some(moving) = self.place(id).map(|place| self.walls[place]) else { return 0.0 };
        let ([first, count], mut rest, mut before) = (moving.pieces, instant, 0.0f32);
        for piece in &self.pieces[first..first + count] {
            let now = piece.acceleration();
            if rest < f64::from(piece.seconds) {
                return now.max(before);
            }
            (before, rest) = (now, rest - f64::from(piece.seconds));
        }
        before
    }

    /// The motion of a wall at an instant of the tick.
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    fn at(&self, moving: &Moving, instant: f64) -> Now {
        let [first, count] = moving.pieces;
        let (mut offset, mut rest) = (moving.offset, instant);
        for piece in &self.pieces[first..first + count] {
            let seconds = f64::from(piece.seconds);
            if rest < seconds {
                offset += piece.velocity.as_dvec2() * rest;
                let (beside, gained) = piece.beside(rest);
                let steady = (seconds - rest) as f32;
                return Now { offset, velocity: piece.velocity, beside, gained, steady, piece: Some(*piece) };
            }
            offset += piece.velocity.as_dvec2() * seconds;
            rest -= seconds;
        }
        let (velocity, beside, gained) = (Vec2::ZERO, DVec2::ZERO, Vec2::ZERO);
        Now { offset, velocity, beside, gained, steady: f32::INFINITY, piece: None }
    }

    /// By how much the path that a wall follows bows away from a straight piece of some seconds from an instant on, in units.
    fn bow(&self, wall: Wall, instant: f64, seconds: f64) -> f64 {
        let Wall::Obstacle(id) = wall else { return 0.0 };
        let piece = self.now(id, instant).and_then(|now| now.piece);
        piece.map_or(0.0, |piece| piece.bow(seconds))
    }

    /// A hit in the query of so many seconds from an instant on, with the velocity that the wall has from then on to the end of its
    /// piece.
    fn on_path(&self, hit: Hit, start: f64, seconds: f64) -> Hit {
        let Wall::Obstacle(id) = hit.wall else { return hit };
        let after = seconds * hit.exact.at;
        let Some(now) = self.now(id, start + after) else { return hit };
        let velocity = now.on_path(0.0).velocity;
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let steady = (f64::from(now.steady) + after) as f32;
        Hit { velocity, steady, ..hit }
    }

    /// Whether one of them may reach into an area in the part of the tick that a filter states.
    #[inline]
    pub(super) fn may_reach(&self, area: &Aabb, filter: &WallFilter<'_>) -> bool {
        self.bounds.is_some_and(|(bounds, [low, high])| {
            let seconds = filter.start() + filter.seconds();
            Aabb { min: bounds.min + low * seconds, max: bounds.max + high * seconds }.overlaps(area)
        })
    }
}

/// Where a moving wall is at an instant.
#[derive(Debug, Clone, Copy)]
pub(super) struct Now {
    pub(super) offset: DVec2,
    pub(super) velocity: Vec2,
    /// How far what it follows is beside that, and by how much it is faster.
    pub(super) beside: DVec2,
    pub(super) gained: Vec2,
    /// For how many seconds it keeps its velocity.
    pub(super) steady: f32,
    /// The piece of its motion; `None` if it stands.
    piece: Option<WallMotion>,
}

impl Now {
    /// The same for a wall on the path of what it follows, which moves straight for so many seconds, or to the end of the piece.
    fn on_path(self, seconds: f64) -> Self {
        let Some(piece) = self.piece.filter(|piece| self.steady > 0.0 && piece.bow(1.0) > 0.0) else {
            return self;
        };
        let steady = f64::from(self.steady);
        let lasts = if seconds > 0.0 { seconds.min(steady) } else { steady };
        let then = piece.beside(f64::from(piece.seconds) - steady + lasts).0;
        let then = if lasts < steady { then } else { DVec2::ZERO };
        let velocity = piece.velocity + ((then - self.beside) / lasts).as_vec2();
        Self { offset: self.offset + self.beside, velocity, ..self }
    }
}

/// The moving walls of a world as a terrain.
#[derive(Debug, Clone, Copy)]
pub(super) struct InMotion<'a> {
    pub(super) obstacles: &'a Obstacles,
    pub(super) moving: &'a MovingWalls,
}

impl InMotion<'_> {
    /// Shows the walls that pass a filter, where they are at its start, if they may reach into an area meanwhile.
    fn show(&self, area: &Aabb, filter: &WallFilter<'_>, mut see: impl FnMut(&FoundWall)) {
        let Some((_, [low, high])) = self.moving.bounds.filter(|_| self.moving.may_reach(area, filter))
        else {
            return;
        };
        if self.moving.walls.len() <= FEW_WALLS {
            self.moving.walls.iter().for_each(|moving| self.show_one(moving, area, filter, &mut see));
            return;
        }
        // Where a wall must be at the start of the tick to get there.
        let seconds = filter.start() + filter.seconds();
        let from = Aabb { min: area.min - high * seconds, max: area.max - low * seconds };
        let from = from.grown_by_rounding();
        self.obstacles.lifted_in(&from, filter, |slot| {
            let place = self.moving.places.get(slot as usize);
            if let Some(moving) = place.and_then(|place| self.moving.walls.get(*place)) {
                self.show_one(moving, area, filter, &mut see);
            }
        });
    }

    fn show_one(
        &self,
        moving: &Moving,
        area: &Aabb,
        filter: &WallFilter<'_>,
        see: &mut impl FnMut(&FoundWall),
    ) {
        let wall = Wall::Obstacle(moving.id);
        let Some(layers) = self.obstacles.layers(moving.id).filter(|layers| filter.wall(wall, *layers))
        else {
            return;
        };
        let now = self.moving.at(moving, filter.exact_start());
        let now = if filter.is_in_flight() { now.on_path(filter.exact_seconds()) } else { now };
        let (bounds, offset) = (moving.solid.bounds(), now.offset.as_vec2());
        let mut all = Aabb { min: bounds.min + offset, max: bounds.max + offset };
        let [first, count] = moving.pieces;
        for velocity in self.moving.pieces[first..first + count].iter().flat_map(WallMotion::velocities) {
            all = all.swept(velocity * filter.seconds());
        }
        if all.overlaps(area) {
            let found = FoundWall::new(wall, moving.solid).on(layers);
            let found = found.with_tag(self.obstacles.tag(moving.id));
            let found = found.with_carries(self.obstacles.carries(moving.id));
            see(&found.moved(now.offset, now.velocity, now.steady));
        }
    }
}

impl Terrain for InMotion<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.show(&area, filter, |found| see(*found));
    }

    fn y_axis(&self) -> YAxis {
        self.obstacles.y_axis()
    }

    /// In parts, each up to where one of the walls changes its velocity, and shorter ones before a wall that is met on a path.
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let (start, seconds) = (filter.exact_start(), filter.exact_seconds());
        let whole = displacement.as_dvec2() + filter.further().unwrap_or(DVec2::ZERO);
        let area = swept_area(footprint, from, displacement);
        let mut done = 0.0f64;
        // How short the parts are up to a time, before a wall on a path.
        let mut fine = (f64::INFINITY, 0.0);
        // Each part but the last ends where one of the pieces does, or just before, by rounding.
        let most = if filter.is_in_flight() { MOST_PARTS_OF_PIECE } else { 2 };
        for _ in 0..=most * self.moving.pieces.len() {
            let rest = seconds - done;
            let now = filter.exactly_during(start + done, rest);
            let mut lasts = rest;
            self.show(&area, &now, |found| lasts = lasts.min(f64::from(found.steady)));
            lasts = if done < fine.1 { lasts.min(fine.0) } else { lasts };
            let now = filter.exactly_during(start + done, lasts);
            let part = |time: f64| if seconds > 0.0 { time / seconds } else { 0.0 };
            let begins = part(done);
            let takes = if lasts < rest { part(lasts) } else { 1.0 - begins };
            let (mut first, by) = (FirstHit::during(&now), (whole * takes).as_vec2());
            // In place of the mover, the walls are moved back, whose places are not rounded.
            let back = whole * -begins;
            self.show(&area, &now, |found| {
                let relative = found.relative(whole * takes, lasts);
                first.consider_as_seen(footprint, from, by, relative, &found.shifted(back));
            });
            let surface = now.of_surface();
            let walls = |area: Aabb, part: f64, see: &mut dyn FnMut(FoundWall)| {
                self.walls_in(area, &surface.after_part(part), &mut |found| see(found.shifted(back)));
            };
            if let Some(hit) = first.hit(walls, self.y_axis(), footprint, by) {
                if filter.is_in_flight() && self.moving.bow(hit.wall, start + done, lasts) > BOW_AT_HIT {
                    fine = (lasts / PARTS_AT_HIT, fine.1.max(done + lasts));
                    continue;
                }
                let hit = hit.moved(-back).later(begins, takes, done);
                return Some(if filter.is_in_flight() {
                    self.moving.on_path(hit, start, seconds)
                } else {
                    hit
                });
            }
            done += lasts;
            if lasts >= rest {
                return None;
            }
        }
        None
    }
}
