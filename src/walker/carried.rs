//! Walls that take along what touches them.
//!
//! On such a wall, a mover moves as on one that stands, since the velocity of the wall counts as that of its floor. A
//! mover that walks away from the wall is let go, even if the wall comes after it: then it is only pushed.

use glam::Vec2;

use super::instants::first_time;
use super::mover::Mover;
use super::piece::Piece;
use super::tick::Tick;
use super::touched::Touched;
use crate::contact::Tolerance;
use crate::drive::Momentum;
use crate::intent::Intent;
use crate::shape::Aabb;
use crate::terrain::{FoundWall, Hit, Terrain, WallFilter};
use crate::tolerance::{INSTANT, LIES_AGAINST};
use crate::travel::{Constraint, Contact, WallConstraints, without_inward};

impl Mover<'_> {
    /// Finds the moving walls that are touched and take the mover along: at the start of a tick, and when one changes its motion.
    /// It need not run into the mover for that, so the contact begins here.
    pub(super) fn find_carriers(&self, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        terrain.walls_in(self.near(), &self.walls_now(), &mut |found| {
            if !found.carries {
                return;
            }
            if let Some(hit) = self.touched_side(&found) {
                // One that waits holds nothing yet.
                tick.touched.carriers_steady = tick.touched.carriers_steady.min(hit.steady);
                if found.moves() {
                    let round = self.round_met(&hit, terrain);
                    let hit = self.here_on(round.as_ref(), &hit);
                    tick.touched.add(&hit, round);
                    self.report_carrier(&hit, tick);
                }
            }
        });
    }

    /// Whether a wall that moves is near enough to be touched, or takes the mover along.
    pub(super) fn is_beside_moving(&self, terrain: &dyn Terrain) -> bool {
        #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
        let touch = Tolerance::near(self.place().exact()).least_gap() as f32;
        // Wider by more than counts as an overlap.
        let wide = self.footprint.grown(LIES_AGAINST + 2.0 * touch);
        terrain.meets_moving_wall(&wide, self.position, Vec2::ZERO, &self.walls_now())
    }

    /// What a mover can touch where it is.
    pub(super) fn near(&self) -> Aabb {
        self.footprint.grown(LIES_AGAINST).at(self.position)
    }

    /// The side of a wall that a mover touches, if it touches one; one that it overlaps does not count.
    pub(super) fn touched_side(&self, found: &FoundWall) -> Option<Hit> {
        let (_, normal) = found.outline(self.footprint).depth(self.footprint.middle(self.position));
        let onto = normal.as_vec2() * -LIES_AGAINST;
        let hit = found.sweep(self.footprint, self.position, onto, &WallFilter::ALL);
        hit.filter(|hit| self.gap(hit, 0.0) == 0.0)
    }

    /// Reports a wall that takes the mover along as a contact of this instant, unless the drive leads off it.
    fn report_carrier(&self, hit: &Hit, tick: &mut Tick<'_>) {
        let way = &self.way_on(tick);
        let holds = |wall: &Constraint| wall.wall == hit.wall && !self.walks_off(wall, way, 0.0);
        let contact = Contact::new(hit, tick.at(tick.remaining), self.velocity, way.0.velocity);
        let contact = Contact { pushed: true, ..contact };
        if tick.touched.walls.iter().any(holds) && !tick.goes_on(&contact, true) {
            tick.report(contact);
        }
    }

    /// What the drive does among the walls in contact, not what it would do without them: from where, and what it wants.
    fn way_on(&self, tick: &Tick<'_>) -> (Momentum, Intent) {
        let steers = self.drive.steers();
        let intent = if steers { tick.intent } else { self.wish(tick.intent, &tick.touched) };
        (self.allowed_momentum(&tick.touched), intent)
    }

    /// Rides on the fastest wall in contact that takes the mover along and that the drive does not lead away from.
    /// Returns for how many seconds that stays so.
    pub(super) fn ride(&mut self, tick: &mut Tick<'_>) -> f32 {
        let walls = tick.touched.walls;
        let way = &self.way_on(tick);
        let carriers = || walls.iter().filter(|wall| wall.carries);
        let carrier = carriers().filter(|wall| !self.walks_off(wall, way, 0.0)).max_by(|one, other| {
            let order = |wall: &Constraint| [wall.velocity.length(), wall.velocity.x, wall.velocity.y];
            let pairs = order(one).into_iter().zip(order(other));
            pairs.fold(core::cmp::Ordering::Equal, |known, (one, other)| known.then(one.total_cmp(&other)))
        });
        let velocity = carrier.map_or(Vec2::ZERO, |wall| wall.velocity);
        let share = carrier.map_or(1.0, |wall| self.share_of(wall, way, &tick.touched.walls));
        tick.result.carried_by = carrier.map(|wall| wall.wall).or(tick.result.carried_by);
        let carried = self.drive.carried_at(velocity, share);
        if (carried.carrier(), carried.carried()) != (self.drive.carrier(), self.drive.carried()) {
            self.drive = carried;
            tick.touched.walls.carry(self.drive.ground());
        }
        carriers().fold(tick.remaining, |lasts, wall| {
            let now = self.walks_off(wall, way, 0.0);
            lasts.min(first_time(lasts, |later| self.walks_off(wall, way, later) != now))
        })
    }

    /// The share of its velocity by which a wall takes the mover along.
    ///
    /// Mostly all of it. But another wall can push the mover off the carrier while it is taken along, although the carrier comes
    /// after it at once if it is not. Then it stays between both, as in the limit of ever shorter turns. Any share that presses it
    /// on both gives this velocity.
    fn share_of(
        &self,
        carrier: &Constraint,
        (from, intent): &(Momentum, Intent),
        walls: &WallConstraints,
    ) -> f32 {
        if walls.count() < 2 || self.drive.axis().is_some() {
            return 1.0;
        }
        let mut others = *walls;
        others.retain(|other| other.normal != carrier.normal);
        let seen = self.seen(carrier.velocity);
        let own = self.drive.momentum_after(*from, *intent, INSTANT).velocity + self.drive.belt();
        let moves = |walls: &WallConstraints, share: f32| {
            walls.displacement(self.seen(own + carrier.velocity * share))
        };
        let is_off = |share: f32| self.leaves_moving(carrier.normal, moves(&others, share), seen);
        if !is_off(1.0) || is_off(0.0) {
            return 1.0;
        }
        let most = first_time(1.0, is_off);
        let is_left = |wall: &Constraint, share: f32| self.leaves_wall(wall, moves(walls, share));
        let pressed = |share: f32| others.iter().filter(|wall| !is_left(wall, share)).count();
        let least = most - first_time(most, |less| pressed(most - less) != pressed(most));
        0.5 * (least + most)
    }

    /// The frame in which the wall stands that takes the mover along, or else the one that matters most.
    pub(super) fn frame_among(&self, touched: &Touched) -> Vec2 {
        match self.drive.carrier() {
            Vec2::ZERO => touched.walls.best_frame(),
            carrier if self.drive.axis().is_none() => carrier,
            _ => Vec2::ZERO,
        }
    }

    /// Whether the wall that takes the mover along is not touched any more.
    pub(super) fn has_lost_carrier(&self, touched: &Touched) -> bool {
        let carrier = self.drive.carrier();
        let is_carrier = |wall: &Constraint| wall.carries && wall.velocity == carrier;
        carrier != Vec2::ZERO && !touched.walls.iter().any(is_carrier)
    }

    /// How far walls that are touched push the mover in a piece or take it along, in units.
    pub(super) fn pushed(&self, walls: &WallConstraints, piece: &Piece) -> Vec2 {
        let mut walls = *walls;
        let first = self.push(&walls);
        let Some((at, last)) = piece.rolled else { return first * piece.lasts };
        // On a round wall, by Simpson's rule.
        let Some(start) = walls.iter().next().map(|wall| wall.normal) else { return Vec2::ZERO };
        let [middle, last] = [start + last.as_vec2(), last.as_vec2()].map(|normal| {
            walls.roll(normal.normalize(), at);
            self.push(&walls)
        });
        (first + middle * 4.0 + last) * (piece.lasts / 6.0)
    }

    /// The velocity that walls in contact give a mover that wants nothing, in units/s.
    fn push(&self, walls: &WallConstraints) -> Vec2 {
        let (carried, frame) = (self.drive.carried(), self.drive.frame());
        frame + walls.displacement(carried - frame)
    }

    /// Whether the drive leads away from a wall after some seconds, or at once then.
    fn walks_off(&self, wall: &Constraint, way: &(Momentum, Intent), later: f32) -> bool {
        [later, later + INSTANT].into_iter().any(|later| self.leads_off(wall, way, later))
    }

    /// Whether the drive leads away from a wall after some seconds, as on a wall that stands.
    fn leads_off(&self, wall: &Constraint, (from, intent): &(Momentum, Intent), later: f32) -> bool {
        // As on a wall that stands, nothing is left of the velocity into it.
        let is_free = self.drive.axis().is_none();
        let stopped = if is_free { without_inward(from.velocity, wall.normal) } else { from.velocity };
        let from = Momentum { velocity: stopped, ..*from };
        let velocity = self.drive.momentum_after(from, *intent, later).velocity;
        self.leaves(wall.normal, velocity + self.drive.belt())
    }
}
