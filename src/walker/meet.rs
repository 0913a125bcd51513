//! Meeting walls: what a touch leaves of the velocity, and which walls are touched besides.

use glam::Vec2;

use super::mover::Mover;
use super::tick::Tick;
use super::touched::Touched;
use crate::shape::Feature;
use crate::terrain::{Exact, Hit, Terrain};
use crate::tolerance::{COMES_BACK, HEAD_ON, LIES_AGAINST, MOST_BESIDE, SAME_NOW, SAME_TOUCH};
use crate::travel::{Constraint, Contact, Passed, at_full_speed};

impl Mover<'_> {
    /// Adds a wall to those in contact and removes the velocity that they do not allow.
    pub(super) fn meet(&mut self, hit: &Hit, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let before = self.velocity;
        let over_ground = before + self.drive.ground();
        let round = self.round_met(hit, terrain);
        let hit = &self.here_on(round.as_ref(), hit);
        // As the wall sees it.
        let seen = over_ground - self.seen(hit.velocity);
        // A hop off the wall that counts as straight is none.
        let outward =
            (tick.touched.walls.displacement(over_ground) - self.seen(hit.velocity)).dot(hit.normal);
        let ended = tick.touched.ended;
        // Unless it has ended or is left.
        let holds_too = |known: &Hit| {
            known.wall != hit.wall
                && ended != Some(known.normal)
                && !self.leaves_moving(known.normal, over_ground, self.seen(known.velocity))
        };
        if let Some(known) = tick.touched.met_now.replace(*hit).filter(holds_too) {
            tick.touched.add(&known, None);
        }
        tick.touched.add(hit, round);
        // How fast a mover may walk against a belt depends on all walls that it touches.
        let beside = self.carried_into(&mut tick.touched, terrain);
        let hops = outward > 0.0 && !self.drive.steers();
        let hop = if hops { self.way_off(hit.normal).unwrap_or_default() * outward } else { Vec2::ZERO };
        // What was met at this instant acts together, whichever was found first.
        let is_unchanged = |slid: Vec2| slid.distance(before) <= SAME_NOW * before.length();
        let known =
            tick.touched.slid_now.filter(|[_, slid]| is_unchanged(*slid) && tick.touched.walls.any_moves());
        let at_once = known.map_or(before, |[first, _]| first);
        let slid = tick.touched.walls.velocity(at_once - hop);
        self.velocity = if self.along_walls.full_speed { at_full_speed(before, slid) } else { slid };
        tick.touched.slid_now = Some([at_once, self.velocity]);
        let has_left = tick.touched.left_wall == Some(hit.wall);
        let comes_back = has_left && -seen.dot(hit.normal) <= COMES_BACK * before.length();
        for (hit, comes_back) in [(Some(*hit), comes_back), (beside, false)] {
            let Some(hit) = hit else { continue };
            let is_along = comes_back || tick.touched.apart < SAME_TOUCH || !self.leaves(-hit.normal, seen);
            let contact = Contact::new(&hit, tick.at(tick.remaining), before, self.velocity);
            if !tick.goes_on(&contact, is_along) {
                tick.report(contact);
            }
        }
        tick.touched.apart = 0.0;
    }

    /// Adds the wall into which a belt carries the mover along those that are known, if it is touched; returns it.
    fn carried_into(&self, touched: &mut Touched, terrain: &dyn Terrain) -> Option<Hit> {
        let carried = touched.walls.displacement(self.drive.ground());
        let probe = carried.normalize_or_zero() * LIES_AGAINST;
        if probe == Vec2::ZERO {
            return None;
        }
        let hit = terrain.sweep(self.footprint, self.position, probe, &self.walls_now())?;
        let round = self.round_met(&hit, terrain);
        let hit = self.here_on(round.as_ref(), &hit);
        // As touched as the wall that was met: the mover may have begun to leave it.
        if hit.exact.at > 0.0 || !self.leaves_moving(-hit.normal, carried, self.seen(hit.velocity)) {
            return None;
        }
        touched.add(&hit, round);
        Some(hit)
    }

    /// Finds the walls that already hold the mover. A drive that presses on a wall at the start of a tick may have
    /// turned away by its end, and in a short tick the chord may only graze the wall.
    pub(super) fn meet_beside(&mut self, tick: &mut Tick<'_>, beside_moving: bool, terrain: &dyn Terrain) {
        let is_held = self.drive.axis().is_some();
        let is_even = !self.drive.pushes() && terrain.is_flat_to(self.footprint);
        if is_even || is_held && !self.has_moving_walls {
            return;
        }
        if beside_moving && !is_held {
            self.meet_moving_beside(tick, terrain);
        }
        // A moving mover is pressed across its path, a standing one in any direction: mostly by two walls. One that a vehicle
        // leaves may lie before them.
        let mut left = Passed::<MOST_BESIDE>::none();
        for _ in 0..MOST_BESIDE {
            let over_ground = tick.touched.walls.displacement(self.velocity + self.drive.ground());
            let from = self.momentum();
            let pull = tick.touched.walls.displacement(self.drive.acceleration_of(from, tick.intent));
            // On an axis, it is pressed along its path.
            let across = if is_held { Vec2::ZERO } else { over_ground.perp().normalize_or_zero() };
            let press = if across == Vec2::ZERO { pull } else { across * pull.dot(across) };
            // In balance, what presses is rounding: a wall on either side holds.
            let is_balanced = self.slips(over_ground) && press.length() <= HEAD_ON * pull.length();
            let press = if is_balanced { across } else { press };
            let probe = press.normalize_or_zero() * LIES_AGAINST;
            if probe == Vec2::ZERO {
                return;
            }
            let sweep = |probe: Vec2| {
                terrain.sweep(self.footprint, self.position, probe, &left.beside(self.walls_now()))
            };
            let found = sweep(probe).or_else(|| if is_balanced { sweep(-probe) } else { None });
            let Some(hit) = found else {
                return;
            };
            if tick.touched.walls.iter().any(|known| known.wall == hit.wall) && tick.touched.walls.any_moves()
            {
                // Between walls that move differently, what presses on one can press on another, too.
                left.add(hit.wall);
                continue;
            }
            if is_held && hit.velocity == Vec2::ZERO
                || self.gap(&hit, 0.0) != 0.0
                || !self.is_held_beside(&hit, over_ground, tick, terrain)
            {
                if !self.drive.steers() {
                    return;
                }
                left.add(hit.wall);
                continue;
            }
            self.meet(&hit, tick, terrain);
        }
    }

    /// The same for walls that move. Such a wall is pressed on across the path that it sees, not across that over the ground.
    fn meet_moving_beside(&mut self, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let (mut sides, mut count) = ([None; MOST_BESIDE], 0);
        terrain.walls_in(self.near(), &self.walls_now(), &mut |found| {
            let side = found.moves().then(|| self.touched_side(&found)).flatten();
            if let (Some(side), Some(slot)) = (side, sides.get_mut(count)) {
                *slot = Some(side);
                count += 1;
            }
        });
        for hit in sides.into_iter().flatten() {
            if tick.touched.walls.iter().any(|known| known.wall == hit.wall) {
                continue;
            }
            let over_ground = tick.touched.walls.displacement(self.velocity + self.drive.ground());
            let pull = self.drive.acceleration_of(self.momentum(), tick.intent);
            let here = self.here_on(self.round_met(&hit, terrain).as_ref(), &hit);
            if tick.touched.walls.displacement(pull).dot(here.normal) < 0.0
                && self.is_held_beside(&hit, over_ground, tick, terrain)
            {
                self.meet(&hit, tick, terrain);
            }
        }
    }

    /// Whether a wall that is touched holds a mover with this velocity over the ground from the start, so that no chord need find it.
    fn is_held_beside(&self, hit: &Hit, over_ground: Vec2, tick: &Tick<'_>, terrain: &dyn Terrain) -> bool {
        let here = self.here_on(self.round_met(hit, terrain).as_ref(), hit);
        (hit.exact.feature == Feature::Round || self.drive.pushes())
            && !self.leaves_moving(here.normal, over_ground, self.seen(hit.velocity))
            && !self.has_left(self.momentum(), tick.intent, hit, &tick.touched, terrain)
    }

    /// Whether a velocity is not along the heading.
    fn slips(&self, velocity: Vec2) -> bool {
        self.drive.steers() && velocity.perp_dot(self.heading.vector()).abs() > HEAD_ON * velocity.length()
    }

    /// The velocity of the mover as a wall in contact with this normal sees it.
    pub(super) fn moves_past(&self, normal: Vec2, touched: &Touched) -> Vec2 {
        let (ground, frame) = (self.drive.ground(), self.drive.frame());
        let wall = touched.walls.iter().find(|wall| wall.normal == normal);
        let is_moved = |wall: &&Constraint| [ground, frame, wall.velocity] != [Vec2::ZERO; 3];
        match wall.filter(is_moved) {
            Some(wall) => touched.walls.displacement(self.velocity + ground) - self.seen(wall.velocity),
            None => self.velocity + ground,
        }
    }

    /// Where a flat side ends, looks for the round part that begins there. `moves` is the velocity past it.
    pub(super) fn look_round(&self, normal: Vec2, moves: Vec2, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let ahead = moves.normalize_or_zero() * LIES_AGAINST;
        let found =
            terrain.sweep(self.footprint, self.position + ahead, normal * -LIES_AGAINST, &self.walls_now());
        let Some(hit) = found else { return };
        if let Some(round) = self.round_met(&hit, terrain) {
            let here = Hit { normal, exact: Exact { position: self.place().exact(), ..hit.exact }, ..hit };
            tick.touched.add(&here, Some(round));
        }
    }
}
