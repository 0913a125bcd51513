//! Walls that hold a mover: by a pull, a thrust along a heading, or on a curve.
//!
//! A flat wall holds while the drive, for the full intent, does not accelerate the mover away from it. A round wall
//! of radius R (wall and footprint together) holds while the drive accelerates the mover into it by at least `v² /
//! R`, which it takes to turn the velocity with the surface. While a wall holds, the mover stays on its course, a
//! line or an arc. Between two walls that block both ways, it stands.

use glam::Vec2;

use super::course::Course;
use super::mover::Mover;
use super::touched::Touched;
use crate::contact::Tolerance;
use crate::drive::Momentum;
use crate::intent::Intent;
use crate::shape::{Arc, Feature};
use crate::terrain::{Exact, Hit, Round, Terrain, round_of};
use crate::tolerance::{HEAD_ON, INSTANT};
use crate::travel::{Constraint, is_round};

/// What the walls in contact leave of a motion.
#[derive(Debug, Clone, Copy)]
pub(super) enum Hold {
    /// The course along one of them.
    On(Constraint, Course),
    /// Nothing.
    Still,
}

impl Mover<'_> {
    /// What the walls in contact leave; `None` if none of them holds. Drops those that do not.
    pub(super) fn hold(&self, intent: Intent, touched: &mut Touched) -> Option<Hold> {
        let at_once = self.drive.momentum_after(self.momentum(), intent, 0.0);
        let pull = self.drive.acceleration_of(at_once, intent);
        let free = at_once.velocity + self.drive.ground();
        // On a border, what pulls changes at once.
        let on_border = touched.border.is_some();
        loop {
            // In a notch, one wall may hold what leads away from the other.
            let (known, moves) = (touched.walls.count(), touched.walls.displacement(free));
            touched
                .walls
                .retain(|wall| !self.leaves_wall(wall, moves) || !on_border && self.hops(wall, moves, pull));
            if touched.walls.count() == known {
                break;
            }
        }
        let from = self.allowed_momentum(touched);
        let hold = self.hold_from(from, intent, touched);
        match &hold {
            None => touched.walls.retain(|_| false),
            Some(Hold::On(wall, _)) => touched.walls.only(*wall),
            Some(Hold::Still) => {}
        }
        hold
    }

    pub(super) fn hold_from(&self, from: Momentum, intent: Intent, touched: &Touched) -> Option<Hold> {
        let mut any = false;
        for wall in touched.walls.iter() {
            let course = self.course_along(wall, intent, touched);
            let at_once = self.on_course(&course, from, intent, touched, 0.0).momentum();
            if !self.is_between(&course, self.normal_on(&course), from, intent)
                && !self.holds(
                    &course,
                    self.normal_on(&course),
                    at_once,
                    intent,
                    self.carried_at(Some(wall), touched),
                )
            {
                continue;
            }
            any = true;
            // Along this one, but into none of the others.
            let mut others = touched.walls.iter().filter(|other| *other != wall);
            if others.all(|other| {
                !self.leads_into(
                    from,
                    intent,
                    &course,
                    touched,
                    (other.normal, other.velocity),
                    touched.round(other).map(|round| round.arc),
                )
            }) {
                // At the end of a round part, its flat side holds.
                let is_round = matches!(course, Course::Round(_));
                let normal = self.normal_on(&course);
                let (_, surface) = wall.surface();
                let surface = touched.round(wall).map_or(surface, |round| round.arc.point(normal.as_dvec2()));
                return Some(Hold::On(wall.at(normal, surface, is_round), course));
            }
        }
        any.then_some(Hold::Still)
    }

    /// Whether the wall of a course holds at a normal. `ground` is what the other walls leave of the floor's
    /// velocity.
    pub(super) fn holds(
        &self,
        course: &Course,
        normal: Vec2,
        from: Momentum,
        intent: Intent,
        ground: Vec2,
    ) -> bool {
        match course {
            _ if presses(ground, normal) => !self.leaves(normal, from.velocity + ground),
            Course::Line(_) => !leads_away(self.drive.acceleration_of(from, intent), normal),
            Course::Round(arc) => {
                let along = (from.velocity + ground).dot(normal.perp());
                let inward = -self.drive.acceleration_of(from, intent).dot(normal);
                #[expect(clippy::cast_possible_truncation, reason = "a radius, rounded once")]
                let needed = along * along / arc.radius as f32;
                if needed == 0.0 {
                    !leads_away(self.drive.acceleration_of(from, intent), normal)
                } else {
                    inward >= needed
                }
            }
        }
    }

    /// Whether a mover that leads away from a wall comes back before it is further from it than what counts as contact.
    fn hops(&self, wall: &Constraint, moves: Vec2, pull: Vec2) -> bool {
        let outward = (moves - self.seen(wall.velocity)).dot(wall.normal);
        let inward = -pull.dot(wall.normal);
        let touch = Tolerance::near(wall.surface().1);
        inward > 0.0 && touch.is_contact(f64::from(outward * outward / (2.0 * inward)))
    }

    /// What all walls in contact but one leave of the floor's velocity.
    fn carried_at(&self, but: Option<&Constraint>, touched: &Touched) -> Vec2 {
        let mut others = touched.walls;
        others.retain(|other| Some(other) != but);
        others.displacement(self.drive.ground())
    }

    /// Whether a course leads into another wall that is touched, round or not.
    pub(super) fn leads_into(
        &self,
        from: Momentum,
        intent: Intent,
        course: &Course,
        touched: &Touched,
        (other, other_velocity): (Vec2, Vec2),
        round: Option<Arc>,
    ) -> bool {
        let past = |lasts: f32| self.past(other_velocity, course, from, intent, touched, lasts);
        let first = past(0.0);
        if self.leaves(other, first) || self.leaves(-other, first) {
            return first.dot(other) < 0.0;
        }
        turns_into(first, past(INSTANT), other, round)
    }

    /// The velocity on a course after some seconds, as another wall sees it.
    fn past(
        &self,
        other_velocity: Vec2,
        course: &Course,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        lasts: f32,
    ) -> Vec2 {
        let motion = self.on_course(course, from, intent, touched, lasts);
        let normal = match course {
            Course::Line(normal) => *normal,
            Course::Round(arc) => arc.normal(self.place().exact() + motion.displacement.as_dvec2()).as_vec2(),
        };
        let moves = motion.velocity + self.drive.ground();
        // The wall of the course removes what presses on it there.
        moves - normal * moves.dot(normal).min(0.0) - self.seen(other_velocity)
    }

    /// Whether one round wall, which stands in the frame and holds a mover, turns it off another wall that holds it, too: there
    /// a velocity that leads away is no more than what the last piece left, and only how it changes counts.
    pub(super) fn is_turned_off(
        &self,
        wall: &Constraint,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
    ) -> bool {
        let arc_of = |wall: &Constraint| touched.round(wall).map(|round| round.arc);
        let mut others = touched.walls.iter().filter(|other| other.normal != wall.normal);
        let (Some(round), None) = (others.next(), others.next()) else { return false };
        let Some(arc) = arc_of(round).filter(|_| self.seen(round.velocity) == Vec2::ZERO) else {
            return false;
        };
        let course = Course::Round(arc);
        if !self.holds(&course, round.normal, from, intent, self.drive.ground()) {
            return false;
        }
        let past = |lasts: f32| self.past(wall.velocity, &course, from, intent, touched, lasts);
        let first = past(0.0);
        !self.leaves(-wall.normal, first) && !turns_into(first, past(INSTANT), wall.normal, arc_of(wall))
    }

    /// Velocity and heading as allowed by the walls in contact.
    pub(super) fn allowed_momentum(&self, touched: &Touched) -> Momentum {
        touched.walls.momentum(self.momentum())
    }

    /// The round part of a hit, if the drive can follow one.
    pub(super) fn round_met(&self, hit: &Hit, terrain: &dyn Terrain) -> Option<Round> {
        is_round(hit, self.drive.axis())
            .then(|| round_of(terrain, self.footprint, hit, &self.walls_now()))
            .flatten()
    }

    /// A hit on a round part that is touched, with the normal at the mover's exact position: a sweep starts from the
    /// rounded one, and on a small radius that turns the normal by more than counts as along.
    pub(super) fn here_on(&self, round: Option<&Round>, hit: &Hit) -> Hit {
        let Some(arc) = round.map(|round| round.arc) else { return *hit };
        let normal = arc.normal(self.place().exact());
        let exact = Exact { position: arc.point(normal), ..hit.exact };
        Hit { normal: normal.as_vec2(), exact, ..*hit }
    }

    /// Whether a wall that is touched is left: the drive leads away from it, or does not turn the mover with its
    /// curve, even if the path comes back to it.
    pub(super) fn has_left(
        &self,
        from: Momentum,
        intent: Intent,
        hit: &Hit,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> bool {
        let moves = touched.walls.displacement(from.velocity + self.drive.ground());
        let round = self.round_met(hit, terrain);
        let hit = &self.here_on(round.as_ref(), hit);
        if self.leaves_moving(-hit.normal, moves, self.seen(hit.velocity)) {
            return false;
        }
        if hit.exact.feature != Feature::Round && touched.ended == Some(hit.normal) {
            return true;
        }
        match round {
            Some(round) => {
                // The floor, as the wall sees it.
                let ground = self.carried_at(None, touched) - self.seen(hit.velocity);
                !self.holds(&Course::Round(round.arc), hit.normal, from, intent, ground)
            }
            // In a notch, another wall may turn what leads away from this one back into it.
            None if self.drive.pushes() => {
                leads_away(touched.walls.displacement(self.drive.acceleration_of(from, intent)), hit.normal)
            }
            None => false,
        }
    }
}

/// Whether a velocity past a wall turns into it within an instant.
fn turns_into(first: Vec2, then: Vec2, normal: Vec2, round: Option<Arc>) -> bool {
    // A round wall curves away from the tangent.
    #[expect(clippy::cast_possible_truncation, reason = "a radius, rounded once")]
    let falls_back = round.map_or(0.0, |arc| first.length_squared() / arc.radius as f32);
    let nearer = (first - then).dot(normal) / INSTANT - falls_back;
    nearer > HEAD_ON * ((first - then).length() / INSTANT + falls_back)
}

/// Whether the velocity of a floor presses on a wall, by more than rounding.
pub(super) fn presses(ground: Vec2, normal: Vec2) -> bool {
    ground.dot(normal) < -HEAD_ON * ground.length()
}

/// Whether an acceleration leads away from a wall, by more than rounding.
fn leads_away(acceleration: Vec2, normal: Vec2) -> bool {
    acceleration.dot(normal) > HEAD_ON * acceleration.length()
}
