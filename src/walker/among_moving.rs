//! Pieces of a tick in contact with walls that move.
//!
//! Such a piece is seen from a frame in which the wall that matters most stands: there, everything else is as it is
//! among walls that stand, on a belt that runs the other way.

use glam::Vec2;

use super::border::border_step;
use super::framed::Framed;
use super::mover::Mover;
use super::piece::End;
use super::squeezed::squeezed_step;
use super::tick::Tick;
use super::touched::Touched;
use crate::place::Place;
use crate::terrain::{Filtered, Terrain, WallFilter};
use crate::tolerance::{LEAST_ACROSS, LIES_AGAINST, MOST_TO_CROSSING};
use crate::travel::Constraint;

impl Mover<'_> {
    /// Plays the next piece of at most so many seconds; `false` if pieces get nowhere.
    #[inline(never)]
    pub(super) fn step_among_moving(
        &mut self,
        tick: &mut Tick<'_>,
        remaining: f32,
        terrain: &dyn Terrain,
    ) -> bool {
        self.find_squeeze(tick);
        let world = terrain;
        let passing = tick.squeezing;
        let others = &Filtered::new(terrain, WallFilter::ALL.except(passing.as_slice()));
        let terrain: &dyn Terrain = if passing.is_some() { others } else { terrain };
        let changes = self.ride(tick);
        let border = tick.touched.moving_border();
        let frame = border.map_or_else(|| self.frame_among(&tick.touched), |border| border.velocity);
        self.see_from(frame, &mut tick.touched);
        tick.touched.border = border.or(tick.touched.border);
        let seen = &Framed { terrain, frame: self.drive.frame() };
        let seen: &dyn Terrain = if self.drive.frame() == Vec2::ZERO { terrain } else { seen };
        let until = tick.touched.walls.until().min(tick.touched.carriers_steady);
        let remaining = remaining.min(until.max(0.0)).min(changes);
        let is_short = tick.touched.turns_apart();
        let remaining = match self.drive.axis() {
            _ if !is_short => remaining,
            Some(axis) => self.turn_on_axis(axis, tick.intent, &mut tick.touched, remaining),
            None => border_step(remaining),
        };
        let remaining = if tick.squeezing.is_some() { squeezed_step(remaining, tick.dt) } else { remaining };
        let piece = self.next_piece_in(tick, remaining, seen);
        if self.has_lost_carrier(&tick.touched) {
            return true;
        }
        let (before, from) = (self.position, self.allowed_momentum(&tick.touched));
        let are_held = |velocity: &Vec2| self.is_held_both_ways(*velocity, &tick.touched);
        let was_held = is_short && [from.velocity, piece.motion.velocity].iter().any(are_held);
        let goes_on = self.play_or_slide(tick, &piece, terrain);
        if tick.squeezing.is_some() && piece.lasts > 0.0 {
            self.leave_moving_wall(tick, world, (self.position - before, piece.lasts));
        }
        if goes_on && is_short {
            self.turn_rounds(tick, terrain);
            if matches!(piece.end, End::Free) && tick.touched.turns_apart() {
                // As fast as the walls are there, not as they were at the start. One that they let go meanwhile is as fast as
                // its drive makes it.
                let free = self.drive.momentum_after(from, tick.intent, piece.lasts);
                let turned = tick.touched.walls.velocity(free.velocity);
                let is_held = self.is_held_both_ways(turned, &tick.touched);
                if self.drive.axis().is_some() || was_held || is_held {
                    self.velocity = turned;
                }
                if is_held {
                    self.stand_at_crossing(tick, terrain);
                }
            }
        }
        // A wall whose motion has changed is found again.
        tick.touched.walls.retain(|wall| wall.until > 0.0);
        if tick.touched.carriers_steady <= 0.0 {
            // A carrier that goes away takes the mover along, though it does not run into it.
            tick.touched.carriers_steady = f32::INFINITY;
            self.find_carriers(tick, world);
        }
        goes_on
    }

    /// Sees motions from a frame that moves like a wall.
    pub(super) fn see_from(&mut self, frame: Vec2, touched: &mut Touched) {
        if frame != self.drive.frame() {
            self.drive = self.drive.seen_from(frame);
            touched.walls.see_from(frame, self.drive.ground());
            touched.border = None;
        }
    }

    /// After a short piece between a round wall and one that moves differently: finds the normals of the round ones anew,
    /// and puts the mover against all of them.
    fn turn_rounds(&mut self, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        // Across an axis, the mover is not put at the end of a round part.
        let units = if self.drive.axis().is_some() { f64::from(LIES_AGAINST) } else { 0.0 };
        tick.touched.turn_rounds(self.place().exact(), units, |_, normal, _| normal);
        let before = self.place();
        tick.touched.walls.iter().for_each(|wall| self.settle(wall.surface(), terrain));
        self.count_push(before, tick);
        // One that is left slowly is touched no more once it is not near: the mover would be put against it from afar.
        let here = self.place();
        let gap = |wall: &Constraint| -here.depth(wall.surface().0, wall.surface().1);
        tick.touched.walls.retain(|wall| gap(wall) <= f64::from(LIES_AGAINST));
    }

    /// Puts a mover that two walls hold against both. Taken out of each of them only, it would be a little off one at the start of a
    /// tick, and meet it again with a part of its velocity.
    fn stand_at_crossing(&mut self, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let walls = tick.touched.walls;
        let mut each = walls.iter();
        let (Some(one), Some(other), None) = (each.next(), each.next(), each.next()) else { return };
        let place = self.place();
        let depths = [one, other].map(|wall| place.depth(wall.surface().0, wall.surface().1));
        let (first, second) = (one.normal.as_dvec2(), other.normal.as_dvec2());
        let across = first.perp_dot(second);
        let way = (second.perp() * -depths[0] + first.perp() * depths[1]) / across;
        if across.abs() < LEAST_ACROSS || way.length() > MOST_TO_CROSSING {
            return;
        }
        let mut there = place;
        there.carry(way);
        if !terrain.overlaps(self.footprint, there.position, &self.walls_now()) {
            self.moved(|place| *place = there);
            self.count_push(place, tick);
        }
    }

    /// Whether a velocity leads away from none of two or more walls: then it is that of their crossing, whatever the drive gives.
    fn is_held_both_ways(&self, velocity: Vec2, touched: &Touched) -> bool {
        let moves = touched.walls.displacement(velocity + self.drive.ground());
        touched.walls.iter().filter(|wall| !self.leaves_wall(wall, moves)).count() > 1
    }

    /// Where walls move, being put against them is being pushed.
    pub(super) fn count_push(&self, before: Place, tick: &mut Tick<'_>) {
        tick.result.pushed += (self.place().exact() - before.exact()).as_vec2();
    }

    /// Moves on with the clock and with the frame, and the walls with their motions.
    #[expect(clippy::cast_possible_truncation, reason = "what is left of a tick, rounded once")]
    pub(super) fn move_on(&mut self, lasts: f32, tick: &mut Tick<'_>) {
        self.now += f64::from(lasts);
        // Not what was left before without this piece: that would add up what rounding takes, and a wall moves on in the whole tick.
        tick.remaining = (f64::from(tick.dt) - self.now) as f32;
        if tick.meets_moving {
            let frame = self.drive.frame().as_dvec2() * f64::from(lasts);
            self.moved(|place| place.carry(frame));
            tick.touched.move_on(lasts);
        }
    }
}
