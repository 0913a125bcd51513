//! The way of a ball through one tick, from wall to wall, each where it is at that instant.

use glam::{DVec2, Vec2};

use super::ball::{Ball, BallState};
use super::decision::BallDoes;
use super::flight::{Flight, MAX_BOUNCES, Next, Pusher, Reached, WallPace};
use crate::contact::Tolerance;
use crate::place::Place;
use crate::terrain::{Crossing, Hit, PlayArea, Terrain, World};
use crate::tolerance::{LEAST_BOUNCE, PUSHED_CLEAR};

impl Ball {
    /// Flies through a tick of so many seconds if nothing can happen to it on the way; returns whether it did.
    #[inline]
    pub(super) fn fly_free(&mut self, whole: f64, world: &World) -> bool {
        if self.is_in_play() {
            let displacement = self.velocity.as_dvec2() * whole;
            let rounded = displacement.as_vec2();
            #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
            let lasts = whole as f32;
            if !rounded.is_finite() || !world.is_open(&self.footprint, self.position, rounded, lasts) {
                return false;
            }
            self.carry(displacement);
        }
        self.flight.rest();
        true
    }

    /// What it comes to next in the time that is left; nothing once it has reached [`MAX_BOUNCES`] walls.
    pub(super) fn next(&self, terrain: &(impl Terrain + ?Sized)) -> Option<Next> {
        let flight = &self.flight;
        if !self.is_in_play() || flight.is_over() || flight.count >= MAX_BOUNCES {
            return None;
        }
        let displacement = self.displacement(flight.left);
        let filter = flight.filter(self.mask);
        let stands = displacement == Vec2::ZERO && !terrain.has_moving_walls();
        let hit = match stands {
            true => None,
            false => terrain.sweep(&self.footprint, self.position, displacement, &filter),
        };
        let edges = terrain.edges();
        let edge = edges.and_then(|edges| edges.leaves_at(&self.footprint, self.position, displacement));
        if hit.is_none() && edge.is_none() && flight.lasts > flight.left && flight.range.is_infinite() {
            return None;
        }
        let wall = hit.map(|hit| (hit, self.part_to(&hit, displacement)));
        let mut next = wall.map(|(hit, part)| Next::Wall(hit, part));
        let mut first = wall.map_or(f64::INFINITY, |(_, part)| part);
        if let Some(at) = edge.filter(|at| *at < first) {
            (next, first) = (Some(Next::Edge(at)), at);
        }
        let ends = self.ends_in();
        if ends <= flight.left && ends < first * flight.left {
            next = Some(Next::End(if flight.left > 0.0 { ends / flight.left } else { 0.0 }));
        }
        next
    }

    /// When its flight ends by its range or its time, in seconds from now.
    fn ends_in(&self) -> f64 {
        let Flight { lasts, range, .. } = self.flight;
        if range.is_finite() { lasts.min(range / f64::from(self.velocity.length())) } else { lasts }
    }

    /// Notes when it comes to what.
    pub(super) fn look(&mut self, terrain: &(impl Terrain + ?Sized)) {
        let flight = &self.flight;
        let (next, wall) = match self.next(terrain) {
            None => (f64::INFINITY, None),
            Some(Next::Wall(hit, part)) => (flight.time_of(part), Some(hit.wall)),
            Some(Next::Edge(part) | Next::End(part)) => (flight.time_of(part), None),
        };
        (self.flight.next, self.flight.wall) = (next, wall);
    }

    /// Goes there; `None` if it is a wall that it only comes to lie against.
    pub(super) fn go_to(
        &mut self,
        next: Next,
        pace: Option<WallPace>,
        terrain: &(impl Terrain + ?Sized),
    ) -> Option<Reached> {
        self.flight.count += 1;
        match next {
            Next::Wall(hit, part) => {
                self.touch(&hit, part, terrain);
                self.reach(&hit, pace)
            }
            Next::Edge(part) => {
                self.go(part);
                terrain.edges().and_then(|edges| self.cross(edges))
            }
            Next::End(part) => {
                self.go(part);
                Some(Reached::End)
            }
        }
    }

    /// Flies on to the end of the tick, where nothing is any more.
    pub(super) fn fly_out(&mut self) {
        self.go(1.0);
    }

    /// What a wall is to it that it has just touched.
    fn reach(&mut self, hit: &Hit, pace: Option<WallPace>) -> Option<Reached> {
        let now = self.flight.exact_now();
        if let Some(before) = pace.and_then(|pace| pace.before) {
            self.speed_up(before, hit.normal);
        }
        // It is slow if it is as fast as the wall is then, or as the mean of the piece that begins.
        let inward = |of_wall: Vec2| (of_wall - self.velocity).dot(hit.normal);
        let comes = inward(hit.velocity).min(pace.map_or(f32::INFINITY, |pace| inward(pace.now)));
        let is_slow = comes <= LEAST_BOUNCE && (hit.velocity != Vec2::ZERO || self.flight.rattle.is_on());
        self.flight.pusher =
            pace.map(|pace| Pusher { wall: hit.wall, normal: hit.normal, until: pace.until });
        if is_slow {
            // Too slow for a bounce: from now on, it moves with the wall.
            self.push(hit);
            self.flight.rattle.touch(hit, now);
            return None;
        }
        self.flight.rattle.touch(hit, now);
        match self.flight.rattle.ends(self.velocity) {
            None => Some(Reached::Wall(*hit)),
            Some(Some(velocity)) => {
                self.velocity = velocity;
                None
            }
            Some(None) => {
                self.take_out(BallState::Squeezed);
                Some(Reached::Squeezed(self.flight.rattle.squeeze(self.flight.now())))
            }
        }
    }

    /// A wall that moves on pushes it, so that no rounding of its way leads it into the wall.
    fn push(&mut self, hit: &Hit) {
        let clear = hit.normal * (hit.velocity.length() * PUSHED_CLEAR);
        self.speed_up(hit.velocity + clear, hit.normal);
    }

    /// Takes on what a velocity has more along a normal.
    pub(super) fn speed_up(&mut self, to: Vec2, normal: Vec2) {
        self.velocity += normal * (to - self.velocity).dot(normal).max(0.0);
    }

    /// What it does at a wall.
    pub(super) fn respond(&mut self, does: BallDoes, hit: &Hit, is_gone: bool) {
        match does {
            BallDoes::Bounce(restitution) => self.bounce(restitution, hit),
            BallDoes::Deflect(velocity) => self.velocity = velocity,
            BallDoes::Stop => self.velocity = Vec2::ZERO,
            BallDoes::Remove => self.take_out(BallState::Removed),
            BallDoes::PassThrough => {}
        }
        if matches!(does, BallDoes::PassThrough) {
            self.flight.passed.add(hit.wall);
            self.flight.pusher = None;
            return;
        }
        self.flight.passed.clear();
        if hit.velocity != Vec2::ZERO && self.is_in_play() && !is_gone {
            self.push(hit);
        }
    }

    fn bounce(&mut self, restitution: f32, hit: &Hit) {
        let Hit { normal, velocity: of_wall, .. } = *hit;
        let inward = (self.velocity - of_wall).dot(normal).min(0.0);
        let mut velocity = self.velocity - normal * (inward * (1.0 + restitution));
        if restitution == 1.0 && of_wall == Vec2::ZERO {
            if normal.x == 0.0 || normal.y == 0.0 {
                // At an axis-aligned wall, one component changes its sign and nothing else changes.
                let turned = normal.abs() * -2.0 + Vec2::ONE;
                velocity = if inward < 0.0 { self.velocity * turned } else { self.velocity };
            } else {
                // A slanted normal is rounded: scale, so that the speed does not drift.
                velocity = velocity.normalize_or_zero() * self.velocity.length();
            }
        }
        let kept = self.angle_limits.kept(velocity);
        self.velocity = if (kept - of_wall).dot(normal) >= 0.0 { kept } else { velocity };
    }

    /// Its displacement in some seconds; zero for a velocity that is not finite.
    fn displacement(&self, seconds: f64) -> Vec2 {
        let displacement = (self.velocity.as_dvec2() * seconds).as_vec2();
        if displacement.is_finite() { displacement } else { Vec2::ZERO }
    }

    /// The part of a displacement up to a hit, from the exact position of the ball: time and position advance
    /// together.
    fn part_to(&self, hit: &Hit, displacement: Vec2) -> f64 {
        if hit.velocity != Vec2::ZERO {
            return hit.exact.at;
        }
        let (normal, surface) = hit.surface();
        let outward = displacement.as_dvec2().dot(normal.as_dvec2());
        let part = self.place().depth(normal, surface) / outward;
        // The sweep starts from the rounded position; the two can differ by no more than this rounding.
        let rounding = Tolerance::near(surface).least_gap();
        let is_finer = ((part - hit.exact.at) * outward).abs() <= rounding && hit.exact.at > 0.0;
        if is_finer { part.clamp(0.0, 1.0) } else { hit.exact.at }
    }

    /// Moves by a part of what is left, up to a hit, and sets it against the wall.
    fn touch(&mut self, hit: &Hit, part: f64, terrain: &(impl Terrain + ?Sized)) {
        self.go(part);
        let flight = self.flight;
        let filter = flight.filter(self.mask).after_part(0.0);
        let mut place = self.place();
        place.settle(hit.surface(), terrain, &self.footprint, &filter);
        (self.position, self.rounding) = place.parts();
    }

    /// Flies on by a part of what is left.
    fn go(&mut self, part: f64) {
        let seconds = self.flight.left * part;
        let displacement = self.velocity.as_dvec2() * seconds;
        self.carry(if displacement.as_vec2().is_finite() { displacement } else { DVec2::ZERO });
        let flight = &mut self.flight;
        flight.left *= 1.0 - part;
        flight.lasts = (flight.lasts - seconds).max(0.0);
        if flight.range.is_finite() {
            flight.range = (flight.range - seconds * f64::from(self.velocity.length())).max(0.0);
        }
    }

    /// Moves without rounding, so that many short ticks end where few long ones do.
    #[inline]
    fn carry(&mut self, displacement: DVec2) {
        let mut place = self.place();
        place.carry(displacement);
        (self.position, self.rounding) = place.parts();
    }

    fn place(&self) -> Place {
        Place::of(self.position, self.rounding)
    }

    /// Wraps at the edges, or leaves the play area.
    fn cross(&mut self, edges: &PlayArea) -> Option<Reached> {
        match edges.crossing(&self.footprint, self.position) {
            Crossing::Wrapped { side, position } => {
                self.position = position;
                Some(Reached::Wrapped(side))
            }
            Crossing::Left { side } => {
                self.take_out(BallState::Left(side));
                Some(Reached::Left(side))
            }
            Crossing::Inside => None,
        }
    }
}
