//! The way of a ball through one tick, from wall to wall, each where it is at that instant.

use glam::{DVec2, Vec2};

use super::ball::{Ball, BallState};
use super::decision::BallDoes;
use super::flight::{Flight, Held, MAX_BOUNCES, Next, Pusher, Reached, WallPace};
use super::rattle::Rattles;
use crate::contact::Tolerance;
use crate::place::Place;
use crate::shape::{Aabb, Feature, Solid, touching_point};
use crate::terrain::{Crossing, Hit, PlayArea, Terrain, Wall, World};
use crate::tolerance::{JUST, LEAST_BOUNCE, PUSHED_CLEAR};

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
        let stands = displacement == DVec2::ZERO && !terrain.has_moving_walls();
        let wall = if stands { None } else { self.next_wall(displacement, terrain) };
        let edges = terrain.edges();
        let edge =
            edges.and_then(|edges| edges.leaves_at(&self.footprint, self.position, displacement.as_vec2()));
        let is_pushed = flight.pusher.is_some();
        if wall.is_none()
            && edge.is_none()
            && !is_pushed
            && flight.lasts > flight.left
            && flight.range.is_infinite()
        {
            return None;
        }
        let mut next = wall.map(|(hit, part)| Next::Wall(hit, part));
        let mut first = wall.map_or(f64::INFINITY, |(_, part)| part);
        if let Some(at) = edge.filter(|at| *at < first) {
            (next, first) = (Some(Next::Edge(at)), at);
        }
        let ends = self.ends_in();
        if ends <= flight.left && ends < first * flight.left {
            first = if flight.left > 0.0 { ends / flight.left } else { 0.0 };
            next = Some(Next::End(first));
        }
        let push_ends = flight.pusher.map(|pusher| (pusher.until - flight.exact_now()) / flight.left);
        match push_ends.filter(|part| *part < 1.0 && *part <= first) {
            Some(part) => Some(Next::PushEnds(part.max(0.0))),
            None => next,
        }
    }

    /// The first wall that it meets, and after which part of a displacement.
    fn next_wall(&self, displacement: DVec2, terrain: &(impl Terrain + ?Sized)) -> Option<(Hit, f64)> {
        let (place, hit) = (self.place(), self.sweep(displacement, terrain)?);
        let (normal, surface) = hit.surface();
        let inward = -displacement.dot(normal.as_dvec2());
        let is_level = normal.x == 0.0 || normal.y == 0.0;
        if hit.velocity != Vec2::ZERO || hit.exact.at > 0.0 && !(is_level && inward > 0.0) {
            return Some((hit, hit.exact.at));
        }
        // A tile or an edge is found with the rounded displacement, and what is as near as a touch counts as touched, but is met a
        // moment later: a round wall with another normal.
        let gap = -place.depth(normal, surface);
        let part = if inward > 0.0 { (gap / inward).clamp(0.0, 1.0) } else { 0.0 };
        if hit.exact.at > 0.0 || hit.exact.feature != Feature::Round || part == 0.0 {
            // Along a side it moves on until then.
            let (way, normal) = (displacement * (part - hit.exact.at), normal.as_dvec2());
            return Some((hit.moved(way - normal * way.dot(normal)), part));
        }
        let mut there = *self;
        there.go(part);
        let seen = there.sweep(there.displacement(there.flight.left), terrain);
        Some((seen.filter(|seen| seen.wall == hit.wall).unwrap_or(hit), part))
    }

    /// The first wall on a displacement in the time that is left.
    fn sweep(&self, displacement: DVec2, terrain: &(impl Terrain + ?Sized)) -> Option<Hit> {
        let rounded = displacement.as_vec2();
        let filter = self.flight.filter(self.mask).beside_by(self.place().residue);
        let filter = filter.in_flight(displacement - rounded.as_dvec2());
        // It moves with a straight piece of the wall that pushes it, whose path may bow into it.
        let pusher = self.flight.pusher.as_ref().map(|pusher| core::slice::from_ref(&pusher.wall));
        let filter = filter.beside(pusher.unwrap_or_default());
        terrain.sweep(&self.footprint, self.position, rounded, &filter)
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
            Some(other) => (flight.time_of(other.part()), None),
        };
        (self.flight.next, self.flight.wall) = (next, wall);
    }

    /// Goes there, where a wall that pushes it has a velocity; `None` if nothing happens there, as at a wall that it only comes to
    /// lie against.
    pub(super) fn go_to(
        &mut self,
        next: Next,
        pace: Option<WallPace>,
        pusher_velocity: Option<Vec2>,
        terrain: &(impl Terrain + ?Sized),
    ) -> Option<Reached> {
        self.flight.count += usize::from(!matches!(next, Next::PushEnds(_)));
        match next {
            Next::Wall(hit, part) => self.touch(&hit, part, terrain),
            other => self.go(other.part()),
        }
        self.let_go(pusher_velocity);
        match next {
            Next::Wall(hit, _) => self.reach(&hit, pace),
            Next::Edge(_) => terrain.edges().and_then(|edges| self.cross(edges)),
            Next::End(_) => Some(Reached::End),
            Next::PushEnds(_) => None,
        }
    }

    /// Flies on to the end of the tick, where nothing is any more.
    pub(super) fn fly_out(&mut self) {
        self.go(1.0);
    }

    /// What a wall is to it that it has just touched.
    fn reach(&mut self, hit: &Hit, pace: Option<WallPace>) -> Option<Reached> {
        let now = self.flight.exact_now();
        // It is slow if it is as fast as the wall is then, or as the mean of the piece.
        let inward = |of_wall: Vec2| (of_wall - self.velocity).dot(hit.normal);
        let comes = inward(hit.velocity).min(pace.map_or(f32::INFINITY, |pace| inward(pace.now)));
        // From what it touches it may be a touch away, and a wall that speeds up comes to it with v² = 2as.
        #[expect(clippy::cast_possible_truncation, reason = "a short distance, rounded once")]
        let touch = Tolerance::near(self.place().exact()).least_gap() as f32;
        let again = pace.map_or(0.0, |pace| 2.0 * pace.acceleration * touch);
        let least = LEAST_BOUNCE + libm::sqrtf(again);
        let is_slow = comes <= least && (hit.velocity != Vec2::ZERO || self.flight.rattle.is_on());
        self.flight.rattle.touch(hit, self.place().exact(), now);
        match self.flight.rattle.ends(self.velocity) {
            Rattles::No if !is_slow => return Some(Reached::Wall(*hit)),
            // Too slow for a bounce, too: from now on, it moves with the wall.
            Rattles::No | Rattles::WithWall => self.push(hit, pace),
            Rattles::Out(velocity) => self.velocity = velocity,
            Rattles::Squeezed => {
                self.take_out(BallState::Squeezed);
                return Some(Reached::Squeezed(self.flight.rattle.squeeze(self.flight.now())));
            }
        }
        None
    }

    /// A wall that moves on pushes it, unless it is faster.
    fn push(&mut self, hit: &Hit, pace: Option<WallPace>) {
        let (normal, own) = (hit.normal, self.velocity.dot(hit.normal));
        let pushed = pushed(hit.velocity, normal);
        if own < pushed {
            self.velocity += normal * (pushed - own);
            self.flight.pusher = pace.map(|pace| Pusher {
                wall: hit.wall,
                normal,
                own: own.max(pace.now.dot(normal)),
                until: pace.until.min(self.flight.exact_now() + self.leaves_in(hit, pace.lies)),
            });
        }
    }

    /// When it gets past the end of the wall along which it slides, in seconds from now.
    fn leaves_in(&self, hit: &Hit, lies: Aabb) -> f64 {
        let Some(along) = [Vec2::X, Vec2::Y].into_iter().find(|axis| axis.dot(hit.normal) == 0.0) else {
            return f64::INFINITY;
        };
        let slides = (self.velocity - hit.velocity).dot(along);
        let own = self.footprint.at(self.position);
        let left = if slides > 0.0 { lies.max - own.min } else { own.max - lies.min }.dot(along);
        let seconds = f64::from(left) / f64::from(slides.abs());
        if seconds > JUST { seconds } else { f64::INFINITY }
    }

    /// The wall that pushes it, which has a velocity now, lets it go: it keeps that one, or its own if that is faster.
    pub(super) fn let_go(&mut self, of_wall: Option<Vec2>) {
        self.flight.held = None;
        if let Some((by, of_wall)) = self.flight.pusher.take().zip(of_wall) {
            let (before, now) = (self.velocity.dot(by.normal), by.own.max(pushed(of_wall, by.normal)));
            self.velocity += by.normal * (now - before);
            self.flight.held = Some(Held { by, pushed: before, now });
        }
    }

    /// The wall that has just let it go pushes on, if another wall was touched, which has not turned it off the first.
    pub(super) fn push_on(&mut self, touched: Wall) {
        let held = self.flight.held.take().filter(|held| held.by.wall != touched);
        let Some(Held { by, pushed, now }) = held.filter(|_| self.flight.pusher.is_none()) else { return };
        if self.is_in_play()
            && (self.velocity.dot(by.normal) - now).abs() <= PUSHED_CLEAR * self.velocity.length()
        {
            self.velocity += by.normal * (pushed - now);
            self.flight.pusher = Some(by);
        }
    }

    /// Where it touches a wall with this normal, from -1 to 1 within the wall's bounding box; the wall is a shape at some place, and
    /// moved from there.
    pub(super) fn offset_on(&self, (solid, moved): (Solid, DVec2), normal: Vec2) -> Vec2 {
        let (middle, normal) = (self.place().middle(&self.footprint), normal.as_dvec2());
        let point = touching_point(&self.footprint, middle - moved, normal, &solid);
        let Aabb { min, max } = solid.bounds();
        let (twice, size) = (2.0 * point - min.as_dvec2() - max.as_dvec2(), (max - min).as_dvec2());
        DVec2::select(size.cmpgt(DVec2::ZERO), twice / size, DVec2::ZERO).as_vec2()
    }

    /// What it does at a wall.
    pub(super) fn respond(&mut self, does: BallDoes, hit: &Hit, pace: Option<WallPace>, is_gone: bool) {
        match does {
            BallDoes::Bounce(restitution) => {
                let then = pace.map_or(hit.velocity, |pace| pace.now);
                self.bounce(restitution, hit.normal, then);
            }
            BallDoes::Deflect(velocity) => self.velocity = velocity,
            BallDoes::Stop => self.velocity = Vec2::ZERO,
            BallDoes::Remove => self.take_out(BallState::Removed),
            BallDoes::PassThrough => {}
        }
        if matches!(does, BallDoes::PassThrough) {
            self.flight.passed.add(hit.wall);
            return;
        }
        self.flight.passed.clear();
        if hit.velocity != Vec2::ZERO && self.is_in_play() && !is_gone {
            self.push(hit, pace);
        }
    }

    fn bounce(&mut self, restitution: f32, normal: Vec2, of_wall: Vec2) {
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
    fn displacement(&self, seconds: f64) -> DVec2 {
        let displacement = self.velocity.as_dvec2() * seconds;
        if displacement.as_vec2().is_finite() { displacement } else { DVec2::ZERO }
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
        self.carry(self.displacement(seconds));
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

/// How fast a wall with a velocity pushes along a normal, in units/s: a little faster than it is, so that no rounding of the way leads
/// into the wall.
fn pushed(of_wall: Vec2, normal: Vec2) -> f32 {
    of_wall.dot(normal) + of_wall.length() * PUSHED_CLEAR
}
