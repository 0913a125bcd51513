//! The path along a wall that holds a mover: a line along a flat side, an arc along a round one.
//!
//! On an arc the position is a function of the angle alone, so rounding cannot take it off the surface. The speed
//! along it is a closed form for a single pull; everything else is integrated in steps along the tangent in the
//! middle of each step. Two half steps are compared with a whole one: the difference decides how long a step may be,
//! and cancels the first term of its error. A piece asks for many instants of one path, so its steps are kept.

use core::cell::Cell;

use glam::{DVec2, Vec2};

use super::mover::Mover;
use super::touched::Touched;
use crate::direction::Angle;
use crate::drive::{Momentum, Motion};
use crate::exact::along;
use crate::intent::Intent;
use crate::shape::Arc;
use crate::tolerance::{
    MOST_KEPT_STEPS, MOST_ROLL_STEPS, MOST_TURN, ROLL_ROUNDING, ROLL_STEP, SHORTEST_ROLL_STEP,
};
use crate::travel::{Constraint, at_full_speed};

/// The path along a wall.
#[derive(Debug, Clone, Copy)]
pub(super) enum Course {
    /// Along a flat side with this normal.
    Line(Vec2),
    /// Along a round one.
    Round(Arc),
}

/// A mover on an arc.
#[derive(Debug, Clone, Copy)]
pub(super) struct Rolled {
    pub(super) normal: DVec2,
    /// How far it has turned, in radians, anticlockwise.
    pub(super) turned: f64,
    /// Along `normal.perp()`, relative to the floor, in units/s.
    speed: f64,
    /// Away from the wall, while the floor presses the mover on it, in units/s.
    outward: f64,
    heading: Angle,
}

/// A step along an arc that is known.
#[derive(Debug, Clone, Copy)]
struct KeptStep {
    /// When it ended, in seconds from the start.
    ended: f64,
    /// Where the mover was then.
    rolled: Rolled,
    /// How long the next one may be, in seconds.
    longest: f64,
}

/// What is known of a course while a piece along it is searched for its end.
#[derive(Debug, Default)]
pub(super) struct Known {
    /// Whether it is that of a vehicle between its grip and its thrust.
    is_between: bool,
    /// The steps along an arc, in order of time.
    steps: [Cell<Option<KeptStep>>; MOST_KEPT_STEPS],
}

impl Known {
    /// No steps yet.
    pub(super) fn new(is_between: bool) -> Self {
        Self { is_between, ..Self::default() }
    }

    /// The last one that ended not after an instant.
    fn before(&self, seconds: f64) -> Option<KeptStep> {
        self.steps.iter().map_while(Cell::get).take_while(|step| step.ended <= seconds).last()
    }

    /// Keeps a step, if it ended after all known ones and there is room.
    fn keep(&self, step: KeptStep) {
        let Some(free) = self.steps.iter().position(|kept| kept.get().is_none()) else { return };
        let last = free.checked_sub(1).and_then(|last| self.steps[last].get());
        if last.is_none_or(|last| last.ended < step.ended) {
            self.steps[free].set(Some(step));
        }
    }
}

impl Rolled {
    fn turned_by(self, angle: f64) -> Self {
        let (sin, cos) = libm::sincos(angle);
        Self { normal: DVec2::new(cos, sin).rotate(self.normal), turned: self.turned + angle, ..self }
    }

    fn velocity(&self) -> DVec2 {
        self.normal.perp() * self.speed + self.normal * self.outward
    }
}

impl Mover<'_> {
    /// The course along a wall. At the end of a round part, the flat side beyond counts.
    pub(super) fn course_along(&self, wall: &Constraint, intent: Intent, touched: &Touched) -> Course {
        let flat = Course::Line(self.stops_at(wall.normal));
        let Some(arc) = touched.round(wall).map(|round| round.arc) else { return flat };
        let from = self.allowed_momentum(touched);
        let tangent = wall.normal.perp();
        let moves = (from.velocity + self.drive.ground()).dot(tangent);
        let course = Course::Round(arc);
        let direction = if self.is_still(moves) {
            let at_once = self.on_course(&course, from, intent, touched, 0.0).velocity + self.drive.ground();
            let speeds_up = self.drive.acceleration_of(from, intent).dot(tangent);
            if self.is_still(at_once.dot(tangent)) { speeds_up } else { at_once.dot(tangent) }
        } else {
            moves
        };
        let normal = arc.normal(self.place().exact());
        let direction = f64::from(direction);
        let at_end = direction != 0.0 && arc.angle_to_end(normal, direction) * arc.radius <= self.rounding();
        match arc.normal_at_end(direction) {
            Some(end) if at_end => Course::Line(end.as_vec2()),
            _ => course,
        }
    }

    /// Two positions closer than this cannot be distinguished here, in units.
    fn rounding(&self) -> f64 {
        f64::from(self.position.abs().max_element()) * f64::from(f32::EPSILON)
    }

    /// Whether a speed is no more than rounding.
    pub(super) fn is_still(&self, speed: f32) -> bool {
        !self.leaves(Vec2::X, Vec2::X * speed.abs())
    }

    /// The outward normal at the start of a course.
    pub(super) fn normal_on(&self, course: &Course) -> Vec2 {
        match course {
            Course::Line(normal) => *normal,
            Course::Round(arc) => arc.normal(self.place().exact()).as_vec2(),
        }
    }

    /// The motion on a course after some seconds.
    pub(super) fn on_course(
        &self,
        course: &Course,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        lasts: f32,
    ) -> Motion {
        self.on_known_course(course, from, intent, touched, (lasts, None))
    }

    /// The same with what is known of it.
    pub(super) fn on_known_course(
        &self,
        course: &Course,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        (lasts, known): (f32, Option<&Known>),
    ) -> Motion {
        match course {
            Course::Line(normal) if known.is_some_and(|known| known.is_between) => {
                self.slide_between(*normal, from, intent, lasts)
            }
            Course::Line(normal) => {
                let asked = self.asked_along(intent, *normal, touched);
                let motion = self.drive.advance_along(from, asked, *normal, lasts);
                Motion { velocity: motion.velocity + self.against_ground(*normal), ..motion }
            }
            Course::Round(arc) => {
                let rolled = self.rolled(arc, from, intent, touched, (lasts, known));
                // Measured from the point on the arc: its rounding is no path into another wall.
                let start = arc.point(arc.normal(self.place().exact()));
                let displacement = arc.point(rolled.normal) - start;
                let against = self.against_ground(rolled.normal.as_vec2()).as_dvec2();
                Motion::exact(displacement, rolled.velocity() + against, rolled.heading)
            }
        }
    }

    /// On a floor that moves it away, a mover that presses on a wall walks against the floor.
    fn against_ground(&self, normal: Vec2) -> Vec2 {
        normal * -self.drive.ground().dot(normal).max(0.0)
    }

    /// The intent along a wall.
    fn asked_along(&self, intent: Intent, normal: Vec2, touched: &Touched) -> Intent {
        if let Some(aside) = touched.lead {
            return Intent::new(aside * intent.vector().length());
        }
        if self.along_walls.full_speed && !self.drive.steers() {
            return Intent::new(at_full_speed(intent.vector(), along(intent.vector(), normal)));
        }
        intent
    }

    /// A mover on an arc after some seconds.
    pub(super) fn rolled(
        &self,
        arc: &Arc,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        (lasts, known): (f32, Option<&Known>),
    ) -> Rolled {
        let normal = arc.normal(self.place().exact());
        let velocity = from.exact_velocity();
        let (speed, outward) = (velocity.dot(normal.perp()), 0.0);
        let mut start = Rolled { normal, turned: 0.0, speed, outward, heading: from.heading };
        if known.is_some_and(|known| known.is_between) {
            let (turned, speed, heading) = self.roll_between(arc, normal, from, intent, lasts);
            return Rolled { speed: f64::from(speed), heading, ..start.turned_by(turned) };
        }
        let seconds = f64::from(lasts);
        let is_plain =
            self.drive.ground() == Vec2::ZERO && !self.along_walls.full_speed && touched.lead.is_none();
        if is_plain {
            if let Some(pull) = self.drive.response(intent).and_then(|response| response.only_pull()) {
                let (angle, speed) = pull.on_curve(arc.radius, normal, speed, seconds);
                return Rolled { speed, ..start.turned_by(angle) };
            }
        }
        if self.drive.ground() != Vec2::ZERO {
            start.outward = velocity.dot(normal).max(0.0);
        }
        if lasts == 0.0 {
            return self.step(arc, start, intent, touched, 0.0);
        }
        self.stepped(arc, start, intent, touched, (seconds, known))
    }

    /// Integrates in steps, each as long as allowed.
    fn stepped(
        &self,
        arc: &Arc,
        start: Rolled,
        intent: Intent,
        touched: &Touched,
        (seconds, known): (f64, Option<&Known>),
    ) -> Rolled {
        let last_step = known.and_then(|known| known.before(seconds));
        let KeptStep { ended: mut done, rolled: mut now, mut longest } =
            last_step.unwrap_or(KeptStep { ended: 0.0, rolled: start, longest: seconds });
        for _ in 0..MOST_ROLL_STEPS {
            let remaining = seconds - done;
            if remaining <= 0.0 {
                break;
            }
            touched.effort.count_step();
            if touched.effort.is_exhausted() {
                return self.step(arc, now, intent, touched, remaining);
            }
            let length = longest.min(remaining);
            let whole = self.step(arc, now, intent, touched, length);
            let half = self.step(arc, now, intent, touched, 0.5 * length);
            let both = self.step(arc, half, intent, touched, 0.5 * length);
            let apart = both.turned - whole.turned;
            let faster = (both.speed - whole.speed).abs() + (both.outward - whole.outward).abs();
            let error = apart.abs() * arc.radius + faster * length;
            let turned = (both.turned - now.turned).abs();
            // Drives without a response round their results.
            let rounding = ROLL_ROUNDING * both.speed.abs() * length;
            if (error > ROLL_STEP + rounding || turned > MOST_TURN) && length > SHORTEST_ROLL_STEP {
                longest = 0.5 * length;
                continue;
            }
            // The error falls with the square of the step, so the error of the halves is a third of their difference.
            let speed = both.speed + (both.speed - whole.speed) / 3.0;
            now = Rolled { speed, ..both.turned_by(apart / 3.0) };
            done = if length < remaining { done + length } else { seconds };
            if error < rounding.max(0.1 * ROLL_STEP) {
                longest = longest.max(2.0 * length);
            }
            if let Some(known) = known {
                known.keep(KeptStep { ended: done, rolled: now, longest });
            }
        }
        now
    }

    /// One step along the tangent in its middle.
    fn step(&self, arc: &Arc, from: Rolled, intent: Intent, touched: &Touched, seconds: f64) -> Rolled {
        let (half_way, ..) = self.along_tangent(arc, from.normal, from, intent, touched, 0.5 * seconds);
        let middle = from.turned_by(half_way / arc.radius).normal;
        let (distance, then, free) = self.along_tangent(arc, middle, from, intent, touched, seconds);
        let then = then.turned_by(distance / arc.radius);
        let Some(velocity) = free else { return then };
        Rolled {
            speed: velocity.dot(then.normal.perp()),
            outward: velocity.dot(then.normal).max(0.0),
            ..then
        }
    }

    /// The distance along the tangent at a normal, half-way through a step, and the speed and heading after some seconds; the
    /// velocity, where the wall does not turn it.
    fn along_tangent(
        &self,
        arc: &Arc,
        normal: DVec2,
        from: Rolled,
        intent: Intent,
        touched: &Touched,
        seconds: f64,
    ) -> (f64, Rolled, Option<DVec2>) {
        let start = (from, from.velocity());
        let is_vehicle = self.drive.response(intent).is_none();
        if self.drive.ground().as_dvec2().dot(normal) >= 0.0
            || is_vehicle && intent.vector().as_dvec2().dot(normal) <= 0.0
        {
            let (distance, then) = self.turned_along(arc, normal, from, intent, touched, seconds);
            return (distance, then, None);
        }
        if is_vehicle {
            let (distance, then, velocity) = self.free_along(normal, start, intent, seconds);
            return (distance, then, Some(velocity));
        }
        let pulled = self.outward_by_itself(arc, from.normal, from, intent);
        if from.outward > 0.0 || pulled > 0.0 {
            return self.taken_back_along(arc, normal, start, intent, touched, seconds);
        }
        let (distance, then) = self.turned_along(arc, normal, from, intent, touched, seconds);
        let pulled_then = self.outward_by_itself(arc, beyond(from.normal, normal), then, intent);
        if pulled_then <= 0.0 {
            return (distance, then, None);
        }
        // Up to where the wall no longer turns it.
        let first = seconds * pulled / (pulled - pulled_then);
        let (distance, then) = self.turned_along(arc, normal, from, intent, touched, first);
        let start = (then, then.turned_by(distance / arc.radius).velocity());
        let (on, then, velocity) =
            self.taken_back_along(arc, normal, start, intent, touched, seconds - first);
        (distance + on, then, velocity)
    }

    /// How fast a mover that follows an arc would get away from it by itself, in units/s²; below 0 if the wall turns it.
    fn outward_by_itself(&self, arc: &Arc, normal: DVec2, now: Rolled, intent: Intent) -> f64 {
        let (tangent, ground) = (normal.perp(), self.drive.ground().as_dvec2());
        let momentum = Momentum::exact(tangent * now.speed, now.heading);
        let acceleration = self.drive.acceleration_of(momentum, intent).as_dvec2();
        acceleration.dot(normal) + now.speed * (now.speed + ground.dot(tangent)) / arc.radius
    }

    /// The same where by itself the mover moves away from the wall, and the floor takes it back: the wall turns only where it goes.
    fn taken_back_along(
        &self,
        arc: &Arc,
        normal: DVec2,
        start: (Rolled, DVec2),
        intent: Intent,
        touched: &Touched,
        seconds: f64,
    ) -> (f64, Rolled, Option<DVec2>) {
        let (from, _) = start;
        let (distance, then, velocity) = self.free_along(normal, start, intent, seconds);
        let inward = -velocity.dot(beyond(from.normal, normal));
        // Where it starts to get away, an inward velocity is rounding.
        if inward <= 0.0 || from.outward == 0.0 {
            return (distance, then, Some(velocity));
        }
        // Until it moves into the wall.
        let first = seconds * from.outward / (from.outward + inward);
        let (distance, then, velocity) = self.free_along(normal, start, intent, first);
        let met = Rolled { speed: velocity.dot(normal.perp()), outward: 0.0, ..then };
        let (on, then) = self.turned_along(arc, normal, met, intent, touched, seconds - first);
        (distance + on, then, None)
    }

    /// The same where no wall turns the mover.
    fn free_along(
        &self,
        normal: DVec2,
        (from, velocity): (Rolled, DVec2),
        intent: Intent,
        seconds: f64,
    ) -> (f64, Rolled, DVec2) {
        let momentum = Momentum::exact(velocity, from.heading);
        #[expect(clippy::cast_possible_truncation, reason = "a part of a tick, rounded once")]
        let motion = self.drive.advance(momentum, intent, seconds as f32);
        let distance = motion.displacement.as_dvec2().dot(normal.perp());
        (distance, Rolled { heading: motion.heading, ..from }, motion.momentum().exact_velocity())
    }

    /// The distance along the tangent at a normal, and the speed and heading after some seconds in which the wall turns the mover.
    fn turned_along(
        &self,
        arc: &Arc,
        normal: DVec2,
        from: Rolled,
        intent: Intent,
        touched: &Touched,
        seconds: f64,
    ) -> (f64, Rolled) {
        let asked = self.asked_along(intent, normal.as_vec2(), touched);
        let (tangent, ground) = (normal.perp(), self.drive.ground().as_dvec2());
        if let Some(response) = self.drive.response(asked) {
            let normals = [from.normal, normal, beyond(from.normal, normal)];
            let (distance, speed, held) = response.run_turning(normals, from.speed, seconds);
            let distance = distance + ground.dot(tangent) * seconds;
            // Set to the end that holds it, it does not lag behind it by the rounding of each step.
            let end = from.turned_by(distance / arc.radius).normal;
            let speed = held.and_then(|held| response.speed_at(held, end)).unwrap_or(speed);
            return (distance, Rolled { speed, outward: 0.0, ..from });
        }
        let momentum = Momentum::exact(tangent * from.speed, from.heading);
        #[expect(clippy::cast_possible_truncation, reason = "a part of a tick, rounded once")]
        let motion = self.drive.advance_along(momentum, asked, normal.as_vec2(), seconds as f32);
        let speed = motion.momentum().exact_velocity().dot(tangent);
        // The displacement already includes that of the floor.
        (
            motion.displacement.as_dvec2().dot(tangent),
            Rolled { speed, outward: 0.0, heading: motion.heading, ..from },
        )
    }
}

/// The normal as far beyond one half-way as the first is before it.
fn beyond(first: DVec2, half_way: DVec2) -> DVec2 {
    half_way * (2.0 * first.dot(half_way)) - first
}
