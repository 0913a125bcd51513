//! How long a wall holds a mover, and where the mover is then.

use glam::Vec2;

use super::course::{Course, Known};
use super::hold::{Hold, presses};
use super::instants::first_time;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::touched::Touched;
use crate::direction::Angle;
use crate::drive::{Momentum, Motion};
use crate::exact::length;
use crate::intent::Intent;
use crate::shape::Arc;
use crate::terrain::{Hit, Round, Terrain};
use crate::tolerance::{
    BETWEEN_TURN, BOW_AT_LEDGES, HELD_TURN, INSTANT, LEAVES, MOST_PASSED_IN_PIECE, MOST_TURN,
};
use crate::travel::Passed;

impl Mover<'_> {
    /// The longest part of the `left` seconds in which the same wall holds in the same way.
    pub(super) fn held_piece(
        &self,
        hold: &Hold,
        intent: Intent,
        remaining: f32,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Piece {
        let from = self.allowed_momentum(touched);
        let (wall, course) = match hold {
            Hold::Still => return self.still_piece(from, intent, remaining, touched, terrain),
            Hold::On(wall, course) => (wall, course),
        };
        let is_between = self.is_between(course, self.normal_on(course), from, intent);
        let known = &Known::new(is_between);
        let at = |lasts: f32| self.on_known_course(course, from, intent, touched, (lasts, Some(known)));
        let rolled = |arc: &Arc, lasts: f32| self.rolled(arc, from, intent, touched, (lasts, Some(known)));
        let lasts = match course {
            Course::Line(_) => remaining,
            Course::Round(arc) => self.until_turned(arc, remaining, at),
        };
        let most_turn = if is_between { BETWEEN_TURN } else { HELD_TURN };
        let lasts = self.unturned(lasts, most_turn, from, at);
        let lasts = self.until_back(lasts, from, self.normal_on(course), at);
        let mut passed = Passed::<MOST_PASSED_IN_PIECE>::none();
        let lasts = match course {
            Course::Line(_) => lasts,
            Course::Round(arc) => {
                touched.round(wall).into_iter().flat_map(Round::walls).for_each(|wall| passed.add(wall));
                let turned = |lasts: f32| rolled(arc, lasts).turned;
                self.until_end_of(arc, lasts, turned, &passed, at, terrain)
            }
        };
        let normal_at = &|lasts: f32| match course {
            Course::Line(normal) => *normal,
            Course::Round(arc) => rolled(arc, lasts).normal.as_vec2(),
        };
        let ground = self.drive.ground();
        let lets_go = |lasts: f32| {
            let (normal, then) = (normal_at(lasts), at(lasts).momentum());
            if is_between {
                return !self.is_between(course, normal, then, intent);
            }
            !self.holds(course, normal, then, intent, ground)
        };
        let lasts = self.until_across(lasts, from, normal_at, at);
        let lasts = self.until_pressed_otherwise(lasts, normal_at);
        let lasts = self.even_beside_moving(lasts, at, touched, terrain);
        let until = until_let_go(lasts, lets_go);
        // Where the wall lets go, grip may turn it back at once.
        let stays_between = || self.is_between(course, normal_at(until), at(until).momentum(), intent);
        let is_left = until < lasts && !is_between && !stays_between();
        let end = if is_left { End::Left(wall.wall) } else { End::Free };
        let mut piece = Piece::new(until, at(until), end);
        match course {
            Course::Line(normal) => self.cut_at_end_of(*normal, wall.velocity, &mut piece, at, terrain),
            Course::Round(_) => piece.press(wall.normal),
        }
        self.cut_at_border(&mut piece, at, touched, terrain);
        let is_left = |hit: &Hit| {
            let round = self.round_met(hit, terrain);
            let hit = self.here_on(round.as_ref(), hit);
            !self.leads_into(
                from,
                intent,
                course,
                touched,
                (hit.normal, hit.velocity),
                round.map(|round| round.arc),
            )
        };
        self.find_touch(&mut piece, at, is_left, &mut passed, touched, terrain);
        if let Course::Round(arc) = course {
            let rolled = rolled(arc, piece.lasts);
            piece.rolled = Some((arc.point(rolled.normal), rolled.normal));
        }
        piece
    }

    /// Up to where the floor begins to press the mover on the wall, or to take it away: the wall may let go before.
    fn until_pressed_otherwise(&self, lasts: f32, normal_at: impl Fn(f32) -> Vec2) -> f32 {
        let ground = self.drive.ground();
        if ground == Vec2::ZERO {
            return lasts;
        }
        let is_pressed = |lasts: f32| presses(ground, normal_at(lasts));
        let at_first = is_pressed(0.0);
        first_time(lasts, |lasts| is_pressed(lasts) != at_first)
    }

    /// Up to where a heading turns past the normal of the wall: from there on, grip pulls a mover that moves the
    /// other way off the wall, until it stands.
    fn until_across(
        &self,
        lasts: f32,
        from: Momentum,
        normal_at: impl Fn(f32) -> Vec2,
        at: impl Fn(f32) -> Motion,
    ) -> f32 {
        if !self.drive.steers() || from.velocity == Vec2::ZERO {
            return lasts;
        }
        let along = |heading: Angle, normal: Vec2| heading.vector().perp_dot(normal);
        let at_first = along(from.heading, normal_at(0.0));
        first_time(lasts, |lasts| along(at(lasts).heading, normal_at(lasts)) * at_first < 0.0)
    }

    /// Standing between walls until there is a way out, or a wall or another floor comes.
    fn still_piece(
        &self,
        from: Momentum,
        intent: Intent,
        remaining: f32,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Piece {
        // On a belt, it stands as long as it walks against what the walls leave of the belt.
        let against = Vec2::ZERO - touched.walls.displacement(self.drive.ground());
        let at = |lasts: f32| {
            let Momentum { heading, .. } = self.drive.momentum_after(from, intent, lasts);
            Motion::new(Vec2::ZERO, against, heading)
        };
        let lasts = self.unturned(remaining, HELD_TURN, from, at);
        let way_out = |lasts: f32| {
            let at_rest = Momentum::new(against, at(lasts).heading);
            !matches!(self.hold_from(at_rest, intent, touched), Some(Hold::Still))
        };
        let lasts = first_time(lasts, way_out);
        let mut piece = Piece::new(lasts, at(lasts), End::Free);
        touched.walls.iter().for_each(|wall| piece.press(wall.normal));
        // A floor can pass under it.
        self.cut_at_border(&mut piece, at, touched, terrain);
        if self.has_moving_walls {
            let mut passed = Passed::none();
            touched.walls.iter().for_each(|wall| passed.add(wall.wall));
            self.find_touch(&mut piece, at, |_| false, &mut passed, touched, terrain);
        }
        piece
    }

    /// A part of some seconds in which the heading turns only a little.
    fn unturned(&self, mut lasts: f32, most: f32, from: Momentum, at: impl Fn(f32) -> Motion) -> f32 {
        while self.drive.steers() && from.heading.turn_to(at(lasts).heading).abs() > most {
            lasts *= 0.5;
        }
        lasts
    }

    /// There and back again on a course: up to where it turns.
    fn until_back(&self, lasts: f32, from: Momentum, normal: Vec2, at: impl Fn(f32) -> Motion) -> f32 {
        let along = |velocity: Vec2| (velocity + self.drive.ground()).dot(normal.perp());
        // What is left of a speed against the floor's is rounding.
        let rounding = LEAVES * (length(from.velocity) + length(self.drive.ground()));
        let start = match along(from.velocity) {
            // From a stand, it may turn as well.
            start if start.abs() <= rounding => along(at(lasts.min(INSTANT)).velocity),
            start => start,
        };
        if start == 0.0 {
            return lasts;
        }
        first_time(lasts, |lasts| along(at(lasts).velocity) * start < 0.0)
    }

    /// About as many seconds as a mover needs to turn by [`MOST_TURN`] on an arc.
    fn until_turned(&self, arc: &Arc, lasts: f32, at: impl Fn(f32) -> Motion) -> f32 {
        #[expect(clippy::cast_possible_truncation, reason = "an estimate")]
        let distance = (2.0 * MOST_TURN * arc.radius) as f32;
        let first = at(0.0).velocity;
        let speed = (first + self.drive.ground()).length();
        let gains = (at(INSTANT).velocity - first).length() / INSTANT;
        // From way = v t + a t² / 2.
        lasts.min(2.0 * distance / (speed + libm::sqrtf(speed * speed + 2.0 * gains * distance)))
    }

    /// A part of some seconds in which a mover stays on an arc and, if other walls are near, its chord is as good as
    /// its path.
    fn until_end_of(
        &self,
        arc: &Arc,
        mut lasts: f32,
        turned: impl Fn(f32) -> f64,
        passed: &Passed<MOST_PASSED_IN_PIECE>,
        at: impl Fn(f32) -> Motion,
        terrain: &dyn Terrain,
    ) -> f32 {
        loop {
            let others = passed.others(self.walls_for(lasts));
            let turn = turned(lasts).abs();
            // Between an arc and its chord, for small angles.
            let bow = arc.radius * turn * turn / 8.0;
            #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
            let wide = self.footprint.grown(bow as f32);
            let is_fine = turn <= MOST_TURN
                && (bow <= f64::from(BOW_AT_LEDGES)
                    || terrain.is_clear(&wide, self.position, at(lasts).displacement, &others));
            if is_fine || lasts < f32::MIN_POSITIVE {
                break;
            }
            lasts *= 0.5;
        }
        let whole = turned(lasts);
        if whole == 0.0 {
            // In balance on the arc, perhaps at its very end: it goes nowhere.
            return lasts;
        }
        let to_end = arc.angle_to_end(arc.normal(self.place().exact()), whole);
        first_time(lasts, |lasts| turned(lasts).abs() >= to_end)
    }
}

/// When a wall lets a mover go, if it does. What pulls the mover off may have stopped by the end of the piece, so the
/// middle is checked too.
fn until_let_go(lasts: f32, lets_go: impl Fn(f32) -> bool) -> f32 {
    let middle = 0.5 * lasts;
    if lets_go(lasts) || !lets_go(middle) { first_time(lasts, lets_go) } else { first_time(middle, lets_go) }
}
