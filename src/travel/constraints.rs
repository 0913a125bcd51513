//! What walls in contact allow: half-planes of velocities, and the allowed velocity nearest to a given one.
//!
//! A wall with normal `n` that moves at `w` allows the velocities `v` with `v · n >= w · n`. Everything here is
//! seen from a frame that moves like one of the walls, so that this wall stands. The allowed set of several walls
//! is convex, so it has one nearest point, which does not depend on the order of the walls: the velocity itself,
//! or its projection onto one wall if all others allow that, or the point where the borders of two walls cross.
//! If no velocity is allowed, the mover is squeezed.
//!
//! On a belt, or where walls move, a mover's own velocity is only a part of how it moves, and the walls take from it no more than
//! they take from the whole: what they would take of the belt's alone stays the mover's. So the own velocity becomes the shortest
//! one for which the walls still leave the same of the whole. Walking against a belt is standing still; a push leaves no speed
//! behind; a mover that presses on a wall loses what it presses with, wherever the belt goes.
//!
//! A mover that is held to an axis has velocities along a line only. There, a wall bounds the speed by the speed of its surface along
//! the normal, divided by the share of the normal along the line.
//!
//! A projection is built from the tangent, `t (t · v)`, never as a difference: what rounding lets point into the wall
//! is a fraction of the slid vector's own length, even if the wall is met head-on. So "along" has one meaning
//! everywhere ([`ALONG`]), and no other tolerance is needed to decide when two walls wedge a mover: the nearest point
//! is zero then.

use glam::{DVec2, Vec2};

use crate::contact::ALONG;
use crate::direction::Axis;
use crate::drive::Momentum;
use crate::exact::along;
use crate::shape::Feature;
use crate::terrain::{Hit, Wall};
use crate::tolerance::{HEAD_ON, LEAST_SHARE, MOST_CONSTRAINTS, SAME_CONTACT};

/// A wall in contact.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Constraint {
    pub(crate) wall: Wall,
    pub(crate) normal: Vec2,
    /// A position of the mover against the surface.
    surface: DVec2,
    /// Whether the surface is round there.
    pub(crate) is_round: bool,
    /// Its velocity, in units/s.
    pub(crate) velocity: Vec2,
    /// Whether it takes the mover along.
    pub(crate) carries: bool,
    /// In how many seconds its velocity changes.
    pub(crate) until: f32,
    /// Its speed along the normal, as seen from the frame: the least that a mover in contact has.
    speed: f32,
}

/// The walls that a mover is in contact with at one instant.
#[derive(Debug, Clone, Copy)]
pub(crate) struct WallConstraints {
    walls: [Constraint; MOST_CONSTRAINTS],
    count: usize,
    /// The velocity of the belt that the mover is on, as seen from the frame, in units/s.
    ground: Vec2,
    /// The velocity of the frame, in units/s.
    frame: Vec2,
    /// The axis that the mover is held to.
    axis: Option<Axis>,
    /// Whether one of the walls moves, or has moved.
    has_moving: bool,
}

impl WallConstraints {
    /// No walls yet, for a mover on a belt of this velocity (units/s), held to an axis if given.
    pub(crate) const fn none(ground: Vec2, axis: Option<Axis>) -> Self {
        let empty = Constraint {
            wall: Wall::tile(glam::IVec2::ZERO),
            normal: Vec2::ZERO,
            surface: DVec2::ZERO,
            is_round: false,
            velocity: Vec2::ZERO,
            carries: false,
            until: f32::INFINITY,
            speed: 0.0,
        };
        Self {
            walls: [empty; MOST_CONSTRAINTS],
            count: 0,
            ground,
            frame: Vec2::ZERO,
            axis,
            has_moving: false,
        }
    }

    #[inline]
    pub(crate) const fn is_empty(&self) -> bool {
        self.count == 0
    }

    #[inline]
    pub(crate) const fn count(&self) -> usize {
        self.count
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = &Constraint> {
        self.walls[..self.count].iter()
    }

    /// Whether one of the walls is round.
    pub(crate) fn any_round(&self) -> bool {
        self.iter().any(|wall| wall.is_round)
    }

    /// Adds a wall. A convex wall gives one constraint: where its surface turns, the new normal replaces the old one.
    pub(crate) fn add(&mut self, hit: &Hit) {
        let wall = hit.wall;
        let (normal, velocity, until) = (hit.normal, hit.velocity, hit.steady);
        let is_round = is_round(hit, self.axis);
        let surface = hit.exact.position;
        let carries = hit.carries && velocity != Vec2::ZERO;
        let added = Constraint { wall, normal, surface, is_round, velocity, carries, until, speed: 0.0 };
        let same = |known: &&mut Constraint| {
            known.normal == normal || known.wall == wall && known.normal.dot(normal) > SAME_CONTACT
        };
        if let Some(known) = self.walls[..self.count].iter_mut().find(same) {
            *known = added;
        } else {
            if self.count == MOST_CONSTRAINTS {
                self.walls.rotate_left(1);
                self.count -= 1;
            }
            self.walls[self.count] = added;
            self.count += 1;
        }
        self.has_moving |= velocity != Vec2::ZERO;
        self.find_speeds();
    }

    /// Sets the normal of the one wall that the mover rolls along, and its position against it.
    pub(crate) fn roll(&mut self, normal: Vec2, surface: DVec2) {
        self.walls[0] = Constraint { normal, surface, ..self.walls[0] };
        self.find_speeds();
    }

    /// Sets the normal of each round wall, and a position against it; without one, the wall is dropped.
    pub(crate) fn turn(&mut self, to: impl Fn(&Constraint) -> Option<(Vec2, DVec2)>) {
        self.retain(|wall| !wall.is_round || to(wall).is_some());
        for wall in self.walls[..self.count].iter_mut().filter(|wall| wall.is_round) {
            if let Some((normal, surface)) = to(wall) {
                (wall.normal, wall.surface) = (normal, surface);
            }
        }
        self.find_speeds();
    }

    /// Makes walls flat that have a normal and a position against it for that.
    pub(crate) fn flatten(&mut self, to: impl Fn(&Constraint) -> Option<(Vec2, DVec2)>) {
        for wall in &mut self.walls[..self.count] {
            if let Some((normal, surface)) = to(wall) {
                *wall = wall.at(normal, surface, false);
            }
        }
        self.find_speeds();
    }

    /// Drops all walls but one.
    pub(crate) fn only(&mut self, wall: Constraint) {
        self.walls[0] = wall;
        self.count = 1;
        self.find_speeds();
    }

    /// Sets the velocity of the belt that the mover is on.
    pub(crate) const fn carry(&mut self, ground: Vec2) {
        self.ground = ground;
    }

    /// Sets the frame from which everything is seen, with the velocity of the belt as seen from it.
    pub(crate) fn see_from(&mut self, frame: Vec2, ground: Vec2) {
        self.frame = frame;
        self.carry(ground);
        self.find_speeds();
    }

    /// The frame in which the wall that matters most stands: a round one, or the last one that was touched. A mover that
    /// is held to an axis stays in the frame of the world.
    pub(crate) fn best_frame(&self) -> Vec2 {
        let round = self.iter().find(|wall| wall.is_round);
        let wall = round.or(self.iter().last()).filter(|_| self.axis.is_none());
        wall.map_or(Vec2::ZERO, |wall| wall.velocity)
    }

    /// In how many seconds one of them changes its velocity first.
    pub(crate) fn until(&self) -> f32 {
        self.iter().fold(f32::INFINITY, |until, wall| until.min(wall.until))
    }

    /// The velocity of the wall that pushes the mover most; zero if none pushes.
    pub(crate) fn fastest(&self) -> Vec2 {
        let push = |wall: &&Constraint| wall.velocity.dot(wall.normal);
        let pushing = self.iter().filter(|wall| push(wall) > 0.0 && self.axis.is_none());
        pushing
            .max_by(|one, other| push(one).total_cmp(&push(other)))
            .map_or(Vec2::ZERO, |wall| wall.velocity)
    }

    /// Whether one of the walls moves, or has moved.
    #[inline]
    pub(crate) const fn has_moving(&self) -> bool {
        self.has_moving
    }

    /// Whether some wall moves, as seen from the frame.
    #[inline]
    pub(crate) fn any_moves(&self) -> bool {
        self.has_moving && self.iter().any(|wall| wall.velocity != self.frame)
    }

    /// The walls have moved on for some seconds; `frame` has been added to the mover's position already.
    pub(crate) fn move_on(&mut self, seconds: f32) {
        for wall in &mut self.walls[..self.count] {
            wall.surface += wall.velocity.as_dvec2() * f64::from(seconds);
            wall.until -= seconds;
        }
    }

    /// Finds how fast each wall moves along its normal.
    fn find_speeds(&mut self) {
        if self.has_moving {
            let frame = self.frame;
            for wall in &mut self.walls[..self.count] {
                wall.speed = (wall.velocity - frame).dot(wall.normal);
            }
        }
    }

    /// If no velocity is allowed: the moving wall that is pushed on most, and one that it is pushed against.
    pub(crate) fn squeeze(&self) -> Option<(Wall, Wall)> {
        if self.count == 0 || !self.any_moves() && self.axis.is_none() {
            return None;
        }
        // It would have to push the mover along its axis out of proportion.
        let off_axis = |wall: &&Constraint| {
            let most = |axis: Axis| wall.velocity.length() * axis.only(wall.normal).length();
            self.axis.is_some_and(|axis| wall.speed * LEAST_SHARE > most(axis))
        };
        if let Some(wall) = self.iter().find(off_axis) {
            return Some((wall.wall, wall.wall));
        }
        if self.count < 2 || self.nearest_of(Vec2::ZERO, |wall| wall.speed).is_some() {
            return None;
        }
        let speed = |wall: &&Constraint| wall.velocity.dot(wall.normal);
        let by = self.iter().filter(|wall| wall.velocity != Vec2::ZERO);
        let by = by.max_by(|one, other| speed(one).total_cmp(&speed(other)))?;
        let against = self.iter().filter(|wall| wall.wall != by.wall);
        let against =
            against.min_by(|one, other| one.normal.dot(by.normal).total_cmp(&other.normal.dot(by.normal)));
        Some((by.wall, against.map_or(by.wall, |wall| wall.wall)))
    }

    /// Keeps the walls for which a condition holds.
    pub(crate) fn retain(&mut self, mut keep: impl FnMut(&Constraint) -> bool) {
        let mut kept = 0;
        for place in 0..self.count {
            if keep(&self.walls[place]) {
                if kept != place {
                    self.walls[kept] = self.walls[place];
                }
                kept += 1;
            }
        }
        if self.count != kept {
            self.count = kept;
            self.find_speeds();
        }
    }

    /// What the walls leave of the mover's own velocity, which is relative to the belt.
    #[inline]
    pub(crate) fn velocity(&self, velocity: Vec2) -> Vec2 {
        match self.count {
            0 => velocity,
            1 if self.axis.is_none() => self.walls[0].nearest(velocity, self.least(&self.walls[0])),
            _ => self.left_of(velocity),
        }
    }

    /// The same without rounding, with a heading.
    #[inline]
    pub(crate) fn momentum(&self, from: Momentum) -> Momentum {
        match self.count {
            0 => from,
            1 if self.axis.is_none() => self.walls[0].nearest_momentum(from, self.least(&self.walls[0])),
            _ => Momentum { velocity: self.velocity(from.velocity), ..from },
        }
    }

    /// The least speed along the normal of a wall that a mover has relative to the belt, if no other wall turns the belt, or on an axis:
    /// 0, or as fast as the belt moves the mover away or the wall recedes.
    #[inline]
    fn least(&self, wall: &Constraint) -> f32 {
        let ground = self.axis.map_or(self.ground, |axis| axis.only(self.ground));
        (wall.speed - ground.dot(wall.normal)).min(0.0)
    }

    /// What several walls leave of the mover's own velocity; see the module.
    #[inline(never)]
    fn left_of(&self, own: Vec2) -> Vec2 {
        if let Some(axis) = self.axis {
            return self.nearest_on(axis.only(Vec2::ONE), own, |wall| self.least(wall)).unwrap_or(Vec2::ZERO);
        }
        if self.ground == Vec2::ZERO && !self.any_moves() {
            return self.nearest(own, |wall| wall.speed);
        }
        let whole = own + self.ground;
        match self.held(whole, |wall| wall.speed) {
            Some(Held::Nothing) => own + Vec2::ZERO,
            Some(Held::By(wall, _)) => wall.nearest(own, self.least(wall)),
            Some(Held::Between(walls, crossing)) => {
                let taken = shares(crossing - whole, walls);
                let [one, other] = [0, 1].map(|place| walls[place].normal * taken[place].max(0.0));
                shortest(own, one, other)
            }
            None => Vec2::ZERO,
        }
    }

    /// The nearest allowed velocity, including that of the belt.
    #[inline]
    pub(crate) fn displacement(&self, velocity: Vec2) -> Vec2 {
        self.displacement_in(velocity, 1.0)
    }

    /// The nearest allowed displacement in some seconds, including that of the belt.
    #[inline]
    pub(crate) fn displacement_in(&self, displacement: Vec2, seconds: f32) -> Vec2 {
        match self.count {
            0 => displacement,
            1 if self.axis.is_none() => self.walls[0].nearest(displacement, self.walls[0].speed * seconds),
            _ => self.nearest(displacement, |wall| wall.speed * seconds),
        }
    }

    /// The nearest allowed vector; zero if none is.
    fn nearest(&self, wanted: Vec2, least: impl Fn(&Constraint) -> f32) -> Vec2 {
        self.nearest_of(wanted, least).unwrap_or(Vec2::ZERO)
    }

    #[inline(never)]
    fn nearest_of(&self, wanted: Vec2, least: impl Fn(&Constraint) -> f32) -> Option<Vec2> {
        if let Some(axis) = self.axis {
            return self.nearest_on(axis.only(Vec2::ONE), wanted, least);
        }
        Some(match self.held(wanted, least)? {
            Held::Nothing => wanted + Vec2::ZERO,
            Held::By(_, nearest) | Held::Between(_, nearest) => nearest,
        })
    }

    /// Which walls hold a vector, and the nearest allowed one; `None` if no vector is allowed.
    #[inline]
    fn held(&self, wanted: Vec2, least: impl Fn(&Constraint) -> f32) -> Option<Held<'_>> {
        let allowed = |vector: Vec2, but: [usize; 2]| {
            let slack = vector.length() * ALONG_F32;
            let mut others = (0..self.count).filter(|place| !but.contains(place));
            others.all(|place| {
                let wall = &self.walls[place];
                vector.dot(wall.normal) >= least(wall) - slack
            })
        };
        let mut is_free = true;
        for (place, wall) in self.iter().enumerate() {
            if wanted.dot(wall.normal) < least(wall) {
                is_free = false;
                // If all walls allow a projection, it is the nearest point.
                let slid = wall.nearest(wanted, least(wall));
                if allowed(slid, [place, place]) {
                    return Some(Held::By(wall, slid));
                }
            }
        }
        if is_free {
            return Some(Held::Nothing);
        }
        let mut best: Option<([&Constraint; 2], Vec2)> = None;
        for (first, one) in self.iter().enumerate() {
            for (second, other) in self.iter().enumerate().skip(first + 1) {
                let crossing = crossing((one.normal, least(one)), (other.normal, least(other)));
                let nearer = |(walls, known): ([&Constraint; 2], Vec2)| {
                    let far = [crossing, known].map(|crossing| crossing.distance_squared(wanted));
                    // Of three walls through one point, the two furthest apart hold it that do.
                    let rank = |walls: [&Constraint; 2], crossing: Vec2| {
                        let holds = shares(crossing - wanted, walls).into_iter().all(|share| share >= 0.0);
                        (!holds, walls[0].normal.dot(walls[1].normal))
                    };
                    far[0] < far[1] || far[0] == far[1] && rank([one, other], crossing) < rank(walls, known)
                };
                if crossing.is_finite() && allowed(crossing, [first, second]) && best.is_none_or(nearer) {
                    best = Some(([one, other], crossing));
                }
            }
        }
        best.map(|(walls, crossing)| Held::Between(walls, crossing))
    }

    /// The same for a mover that moves along a unit vector only: what is across it stays.
    fn nearest_on(&self, unit: Vec2, wanted: Vec2, least: impl Fn(&Constraint) -> f32) -> Option<Vec2> {
        let (mut from, mut to) = (f32::NEG_INFINITY, f32::INFINITY);
        for wall in self.iter() {
            let share = wall.normal.dot(unit);
            if share > HEAD_ON {
                from = from.max(least(wall) / share);
            } else if share < -HEAD_ON {
                to = to.min(least(wall) / share);
            }
        }
        let along = wanted.dot(unit);
        (from <= to).then(|| wanted + unit * (along.clamp(from, to) - along))
    }
}

/// What holds a vector.
enum Held<'a> {
    Nothing,
    /// One wall, and what it leaves.
    By(&'a Constraint, Vec2),
    /// Two walls, and where their borders cross.
    Between([&'a Constraint; 2], Vec2),
}

/// How far along the normals of two walls a vector leads.
fn shares(vector: Vec2, [one, other]: [&Constraint; 2]) -> [f32; 2] {
    let across = one.normal.perp_dot(other.normal);
    [vector.perp_dot(other.normal) / across, one.normal.perp_dot(vector) / across]
}

/// The shortest vector of a parallelogram with a corner and two sides.
fn shortest(corner: Vec2, one: Vec2, other: Vec2) -> Vec2 {
    let (back, across) = (-corner, one.perp_dot(other));
    let parts = [back.perp_dot(other) / across, one.perp_dot(back) / across];
    if parts.into_iter().all(|part| (0.0..=1.0).contains(&part)) {
        return Vec2::ZERO;
    }
    let on = |from: Vec2, side: Vec2| {
        let Some(normal) = side.try_normalize() else { return from };
        let part = -from.dot(side) / side.length_squared();
        if (0.0..=1.0).contains(&part) { along(from, normal) } else { from + side * part.clamp(0.0, 1.0) }
    };
    let sides = [on(corner, one), on(corner, other), on(corner + one, other), on(corner + other, one)];
    let shorter = |one: &Vec2, other: &Vec2| one.length_squared().total_cmp(&other.length_squared());
    sides.into_iter().min_by(shorter).unwrap_or(corner) + Vec2::ZERO
}

/// Whether the normal of a hit turns as a mover goes on. To one that is held to an axis, a round wall is only turned by its own motion.
pub(crate) fn is_round(hit: &Hit, axis: Option<Axis>) -> bool {
    let turns = axis.is_none_or(|axis| axis.only(hit.velocity) != hit.velocity);
    hit.exact.feature == Feature::Round && turns
}

/// [`ALONG`] for `f32` vectors.
#[expect(clippy::cast_possible_truncation, reason = "a named constant, rounded once")]
pub(crate) const ALONG_F32: f32 = ALONG as f32;

/// A vector without its part into a wall; what points along or away stays the same.
pub(crate) fn without_inward(vector: Vec2, normal: Vec2) -> Vec2 {
    if vector.dot(normal) >= 0.0 { vector } else { along(vector, normal) }
}

/// Where the borders of two half-planes cross; not finite where they are parallel.
fn crossing((normal, least): (Vec2, f32), (other, other_least): (Vec2, f32)) -> Vec2 {
    let across = normal.perp_dot(other);
    if least == 0.0 && other_least == 0.0 && across != 0.0 {
        return Vec2::ZERO;
    }
    (other.perp() * -least + normal.perp() * other_least) / across
}

impl Constraint {
    /// The nearest vector that this wall alone allows.
    #[inline]
    fn nearest(&self, wanted: Vec2, least: f32) -> Vec2 {
        if wanted.dot(self.normal) >= least {
            // A drive turns a blocked intent into negative zeros; adding zero makes them plain.
            return wanted + Vec2::ZERO;
        }
        let slid = along(wanted, self.normal);
        if least == 0.0 { slid } else { slid + self.normal * least + Vec2::ZERO }
    }

    /// The nearest momentum that it alone allows.
    fn nearest_momentum(&self, from: Momentum, least: f32) -> Momentum {
        if from.velocity.dot(self.normal) >= least {
            return Momentum { velocity: from.velocity + Vec2::ZERO, ..from };
        }
        // A normal in `f32` has a length of 1 up to rounding, which adds up.
        let tangent = self.normal.as_dvec2().perp();
        let along = tangent.dot(from.exact_velocity()) / tangent.length_squared();
        let least = self.normal.as_dvec2() * f64::from(least);
        Momentum::exact(tangent * along + least + DVec2::ZERO, from.heading)
    }

    /// Whether a displacement of some seconds leads into it.
    pub(crate) fn is_entered(&self, displacement: Vec2, seconds: f32) -> bool {
        displacement.dot(self.normal) < self.speed * seconds
    }

    /// Whether a displacement of some seconds leads along it or into it, up to rounding.
    pub(crate) fn is_kept_to(&self, displacement: Vec2, seconds: f32) -> bool {
        let apart = displacement.dot(self.normal) - self.speed * seconds;
        apart <= (displacement.length() + self.speed.abs() * seconds) * HEAD_ON
    }

    /// The same wall at another place of it: its normal there, a position of the mover against it, and whether it is round.
    pub(crate) const fn at(&self, normal: Vec2, surface: DVec2, is_round: bool) -> Self {
        Self { normal, surface, is_round, ..*self }
    }

    /// A hit of this wall as it was found, for setting a mover against its surface again.
    pub(crate) const fn surface(&self) -> (Vec2, DVec2) {
        (self.normal, self.surface)
    }
}

#[cfg(test)]
mod tests {
    use alloc::vec;
    use alloc::vec::Vec;
    use core::cell::Cell;
    use core::f32::consts::FRAC_PI_2;

    use crate::random::random;
    use glam::{DVec2, vec2};
    use proptest::prelude::*;

    use super::*;
    use crate::direction::Side;
    use crate::terrain::Layers;

    fn hit(angle: f32, tile: i32) -> Hit {
        let normal = Vec2::from_angle(angle);
        let exact = crate::terrain::Exact { at: 0.0, position: DVec2::ZERO, feature: Feature::Side };
        let wall = Wall::tile(glam::ivec2(tile, 0));
        let (position, point, side) = (Vec2::ZERO, Vec2::ZERO, Side::Top);
        let (velocity, steady) = (Vec2::ZERO, f32::INFINITY);
        let layers = Layers::FIRST;
        Hit {
            fraction: 0.0,
            position,
            point,
            normal,
            side,
            wall,
            layers,
            tag: 0,
            velocity,
            carries: false,
            exact,
            steady,
        }
    }

    #[test]
    fn a_wall_whose_surface_turns_gives_one_constraint() {
        let mut walls = WallConstraints::none(Vec2::ZERO, None);
        for angle in [1.0, 1.2, 1.5] {
            walls.add(&hit(angle, 0));
        }
        assert!(
            walls.iter().map(|wall| wall.normal).eq([Vec2::from_angle(1.5)]),
            "the last one replaces the others"
        );
        // Another side of it, and the same normal of another wall.
        walls.add(&hit(3.0, 0));
        walls.add(&hit(1.6, 1));
        assert_eq!(walls.count(), 3);
    }

    #[test]
    fn the_fastest_wall_is_the_one_that_pushes_most() {
        let pushed_by = |speeds: &[f32]| {
            let mut walls = WallConstraints::none(Vec2::ZERO, None);
            for (place, speed) in speeds.iter().enumerate() {
                let hit = hit(place as f32, i32::try_from(place).unwrap());
                walls.add(&Hit { velocity: hit.normal * *speed + hit.normal.perp(), ..hit });
            }
            walls.fastest()
        };
        let of = |place: f32, speed: f32| Vec2::from_angle(place) * speed + Vec2::from_angle(place).perp();
        assert_eq!(pushed_by(&[1.0, 3.0, 2.0]), of(1.0, 3.0));
        assert_eq!(pushed_by(&[-5.0, 2.0]), of(1.0, 2.0));
        assert_eq!(pushed_by(&[-5.0, -2.0]), Vec2::ZERO);
    }

    /// Walls with these normals, of which every other one moves if some do; from one of them on, and backwards.
    fn walls_at(
        angles: &[f32],
        (ground, axis): (Vec2, Option<Axis>),
        speeds: &[f32],
        (from, reversed): (usize, bool),
    ) -> WallConstraints {
        let mut walls = WallConstraints::none(ground, axis);
        let count = angles.len();
        for place in 0..count {
            let place = if reversed { count - 1 - place } else { place };
            let place = (place + from) % count;
            let hit = hit(angles[place], i32::try_from(place).unwrap());
            let speed = speeds.get(place).filter(|_| place % 2 == 0).map_or(0.0, |speed| *speed);
            walls.add(&Hit { velocity: hit.normal * speed + hit.normal.perp() * (0.5 * speed), ..hit });
        }
        walls
    }

    #[test]
    fn the_nearest_allowed_velocity_depends_on_no_order_and_nothing_allowed_is_nearer() {
        let held = Cell::new(0);
        proptest!(random(2000), |(
            angles in prop::collection::vec(0.0f32..6.3, 1..5), turn in 0usize..5, toward in 0.0f32..6.3,
            speed in 0.01f32..100.0,
        )| {
            let wanted = Vec2::from_angle(toward) * speed;
            let walls = walls_at(&angles, (Vec2::ZERO, None), &[], (0, false));
            let found = walls.displacement(wanted);
            held.set(held.get() + u32::from(found != wanted));
            for reversed in [false, true] {
                let other = walls_at(&angles, (Vec2::ZERO, None), &[], (turn, reversed)).displacement(wanted);
                prop_assert!(found.distance(other) <= 1e-5 * speed, "{found} and {other}");
            }
            prop_assert_eq!(walls.velocity(wanted), found, "on a floor that stands, the whole is its own");
            let allows = |velocity: Vec2, slack: f32| {
                walls.iter().all(|wall| velocity.dot(wall.normal) >= wall.speed - slack)
            };
            prop_assert!(allows(found, 1e-5 * speed), "{found} is not allowed");
            // No position on a ring of positions nearer to the wanted one is allowed.
            let distance = found.distance(wanted) - 1e-3 * speed;
            for spoke in 0u8..64 {
                let near = wanted + Vec2::from_angle(f32::from(spoke) * 0.098_17) * distance.max(0.0);
                prop_assert!(distance <= 0.0 || !allows(near, 0.0), "{near} is nearer than {found} to {wanted}");
            }
        });
        assert!(held.get() > 1000, "{held:?}");
    }

    #[test]
    fn the_shortest_of_a_parallelogram_is_found_if_a_side_is_zero() {
        let corner = vec2(4.0, 2.0);
        assert_eq!(shortest(corner, vec2(-3.0, 0.0), vec2(0.0, -1.0)), vec2(1.0, 1.0));
        assert_eq!(shortest(corner, Vec2::ZERO, vec2(0.0, -3.0)), vec2(4.0, 0.0));
        assert_eq!(shortest(corner, vec2(-1.0, 0.0), Vec2::ZERO), vec2(3.0, 2.0));
        assert_eq!(shortest(corner, Vec2::ZERO, Vec2::ZERO), corner);
    }

    /// Two walls that face each other share nothing: the end of the corridor takes what presses on it.
    #[test]
    fn at_the_end_of_a_corridor_a_belt_leaves_a_mover_no_speed() {
        for order in [[0, 1, 2], [2, 1, 0], [1, 2, 0]] {
            for [along, across] in
                [[Vec2::X, Vec2::Y], [Vec2::NEG_X, Vec2::Y], [Vec2::Y, Vec2::X], [Vec2::NEG_Y, Vec2::X]]
            {
                let mut walls = WallConstraints::none(along * 30.0, None);
                for (place, wall) in order.into_iter().enumerate() {
                    let normal = [across, -across, -along][wall];
                    walls.add(&Hit { normal, ..hit(0.0, i32::try_from(place).unwrap()) });
                }
                let own = along * 50.0 + across * 10.0;
                assert_eq!(
                    (walls.displacement(own), walls.velocity(own)),
                    (Vec2::ZERO, Vec2::ZERO),
                    "{order:?}"
                );
            }
        }
    }

    #[test]
    fn on_a_belt_walls_take_of_a_mover_s_own_velocity_only_what_they_take_of_the_whole() {
        let [held, between, kept, on_an_axis] = [const { Cell::new(0) }; 4];
        let count = |counter: &Cell<u32>, counts: bool| counter.set(counter.get() + u32::from(counts));
        // Now and then one of four directions, so that walls face each other.
        let angle =
            prop_oneof![3 => 0.0f32..6.3, 1 => (0u8..4).prop_map(|turns| f32::from(turns) * FRAC_PI_2)];
        proptest!(random(4000), |(
            angles in prop::collection::vec(angle, 1..5), turn in 0usize..5, toward in 0.0f32..6.3,
            belt in 0.0f32..6.3, belt_speed in 0.01f32..100.0, speed in 0.01f32..100.0,
            speeds in prop::collection::vec(-50.0f32..50.0, 0..5), on_axis in 0u8..4,
        )| {
            let axis = (on_axis == 0).then_some(Axis::X);
            let (own, ground) = (Vec2::from_angle(toward) * speed, Vec2::from_angle(belt) * belt_speed);
            let own = axis.map_or(own, |axis| axis.only(own));
            let whole = own + ground;
            let walls = walls_at(&angles, (ground, axis), &speeds, (0, false));
            let is_sharp = |one: &Constraint, other: &Constraint| {
                one.normal != other.normal && one.normal.perp_dot(other.normal).abs() < 0.3
            };
            // Where walls all but face each other, rounding is multiplied; of two with one normal, the last one counts.
            let are_sharp = walls.iter().any(|one| walls.iter().any(|other| is_sharp(one, other)));
            let (left, moves) = (walls.velocity(own), walls.displacement(whole));
            prop_assert!(left.length() <= own.length() * 1.001 && left.is_finite(), "{left} is more than {own}");
            if walls.squeeze().is_some() || are_sharp || walls.count() < angles.len() {
                return Ok(());
            }
            let slack = 1e-4 * (speed + belt_speed + moves.length());
            let same = |own: Vec2| walls.displacement(own + ground).distance(moves) <= slack;
            for reversed in [false, true] {
                let other = walls_at(&angles, (ground, axis), &speeds, (turn, reversed)).velocity(own);
                prop_assert!(left.distance(other) <= slack, "{left} and {other}");
            }
            prop_assert!(same(left), "with {left} of {own} on {ground}, it does not move at {moves}");
            // The walls that hold can take no more without a change of the whole: twice that would be one. Three walls
            // that leave no way at all can share it in many ways.
            let is_way = |way: Vec2| walls.iter().all(|wall| way.dot(wall.normal) >= 0.0);
            let has_way = (0u8..64).any(|spoke| is_way(Vec2::from_angle(f32::from(spoke) * 0.098_17)));
            let holds = |wall: &&Constraint| (moves.dot(wall.normal) - wall.speed).abs() <= slack;
            let ways: Vec<Vec2> = match axis {
                // Another wall of an axis may hold where this one lets go.
                Some(_) if walls.count() > 1 => Vec::new(),
                Some(_) => vec![Vec2::X * (moves.x - whole.x).signum()],
                None => walls.iter().filter(|wall| has_way && holds(wall)).map(|wall| wall.normal).collect(),
            };
            for way in ways {
                let less = |times: f32| left + way * (0.02 * speed * times);
                let shortens = less(1.0).length() < left.length() - slack;
                prop_assert!(!shortens || !same(less(2.0)), "{} is left of {own}, not {left}", less(1.0));
            }
            let held_by = walls.held(whole, |wall| wall.speed);
            let is_between = axis.is_none() && matches!(held_by, Some(Held::Between(..)));
            count(&held, left != own);
            count(&between, left != own && is_between);
            count(&kept, left == own && moves != whole);
            count(&on_an_axis, axis.is_some() && left != own);
        });
        let reached = [&held, &between, &kept, &on_an_axis].map(Cell::get);
        assert!(
            reached.into_iter().zip([1000, 300, 300, 200]).all(|(count, least)| count > least),
            "{reached:?}"
        );
    }
}
