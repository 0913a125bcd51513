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

/// The steps along an arc that are known, in order of time.
#[derive(Debug, Default)]
pub(super) struct KeptSteps([Cell<Option<KeptStep>>; MOST_KEPT_STEPS]);

impl KeptSteps {
    /// The last one that ended not after an instant.
    fn before(&self, seconds: f64) -> Option<KeptStep> {
        self.0.iter().map_while(Cell::get).take_while(|step| step.ended <= seconds).last()
    }

    /// Keeps a step, if it ended after all known ones and there is room.
    fn keep(&self, step: KeptStep) {
        let Some(free) = self.0.iter().position(|kept| kept.get().is_none()) else { return };
        let last = free.checked_sub(1).and_then(|last| self.0[last].get());
        if last.is_none_or(|last| last.ended < step.ended) {
            self.0[free].set(Some(step));
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
        let flat = Course::Line(wall.normal);
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

    /// The same with the steps that are known of it.
    pub(super) fn on_known_course(
        &self,
        course: &Course,
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        (lasts, kept): (f32, Option<&KeptSteps>),
    ) -> Motion {
        match course {
            Course::Line(normal) => {
                let asked = self.asked_along(intent, *normal, touched);
                let motion = self.drive.advance_along(from, asked, *normal, lasts);
                Motion { velocity: motion.velocity + self.against_ground(*normal), ..motion }
            }
            Course::Round(arc) => {
                let rolled = self.rolled(arc, from, intent, touched, (lasts, kept));
                // Measured from the point on the arc: its rounding is no path into another wall.
                let start = arc.point(arc.normal(self.place().exact()));
                let displacement = (arc.point(rolled.normal) - start).as_vec2();
                let velocity = rolled.velocity().as_vec2();
                let against = self.against_ground(rolled.normal.as_vec2());
                Motion { displacement, velocity: velocity + against, heading: rolled.heading }
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
        (lasts, kept): (f32, Option<&KeptSteps>),
    ) -> Rolled {
        let normal = arc.normal(self.place().exact());
        let velocity = from.velocity.as_dvec2();
        let (speed, outward) = (velocity.dot(normal.perp()), 0.0);
        let mut start = Rolled { normal, turned: 0.0, speed, outward, heading: from.heading };
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
        self.stepped(arc, start, intent, touched, (seconds, kept))
    }

    /// Integrates in steps, each as long as allowed.
    fn stepped(
        &self,
        arc: &Arc,
        start: Rolled,
        intent: Intent,
        touched: &Touched,
        (seconds, kept): (f64, Option<&KeptSteps>),
    ) -> Rolled {
        let known = kept.and_then(|kept| kept.before(seconds));
        let KeptStep { ended: mut done, rolled: mut now, mut longest } =
            known.unwrap_or(KeptStep { ended: 0.0, rolled: start, longest: seconds });
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
            let error = apart.abs() * arc.radius + (both.speed - whole.speed).abs() * length;
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
            if error < 0.1 * (ROLL_STEP + rounding) {
                longest = longest.max(2.0 * length);
            }
            if let Some(kept) = kept {
                kept.keep(KeptStep { ended: done, rolled: now, longest });
            }
        }
        now
    }

    /// One step along the tangent in its middle.
    fn step(&self, arc: &Arc, from: Rolled, intent: Intent, touched: &Touched, seconds: f64) -> Rolled {
        let (half_way, ..) = self.along_tangent(from.normal, from, intent, touched, 0.5 * seconds);
        let middle = from.turned_by(half_way / arc.radius).normal;
        let (distance, then, free) = self.along_tangent(middle, from, intent, touched, seconds);
        let mut then = then.turned_by(distance / arc.radius);
        if let Some(velocity) = free {
            return Rolled {
                speed: velocity.dot(then.normal.perp()),
                outward: velocity.dot(then.normal).max(0.0),
                ..then
            };
        }
        if let Some(response) = self.drive.response(self.asked_along(intent, then.normal.as_vec2(), touched))
        {
            then.speed = response.turned(middle, then.normal, then.speed, (from.speed, seconds));
        }
        then
    }

    /// The distance along the tangent at a normal, and the speed and heading after some seconds; the velocity, where the wall
    /// does not turn it.
    fn along_tangent(
        &self,
        normal: DVec2,
        from: Rolled,
        intent: Intent,
        touched: &Touched,
        seconds: f64,
    ) -> (f64, Rolled, Option<DVec2>) {
        let asked = self.asked_along(intent, normal.as_vec2(), touched);
        let (tangent, ground) = (normal.perp(), self.drive.ground().as_dvec2());
        #[expect(clippy::cast_possible_truncation, reason = "a part of a tick, rounded once")]
        let dt = seconds as f32;
        let along = |vector: Vec2| vector.as_dvec2().dot(tangent);
        if ground.dot(normal) < 0.0 && intent.vector().as_dvec2().dot(normal) > 0.0 {
            // It walks away from the wall, and the floor takes it back: the wall turns only where it goes.
            let velocity = from.velocity().as_vec2();
            let motion = self.drive.advance(Momentum { velocity, heading: from.heading }, intent, dt);
            let then = Rolled { heading: motion.heading, ..from };
            return (along(motion.displacement), then, Some(motion.velocity.as_dvec2()));
        }
        if let Some(response) = self.drive.response(asked) {
            // Held at its target, it has the one of the tangent all along: it does not lag behind it in each step.
            let speed = response.turned(from.normal, normal, from.speed, (from.speed, 0.5 * seconds));
            let (distance, speed) = response.run_along(normal, speed, seconds);
            return (distance + ground.dot(tangent) * seconds, Rolled { speed, outward: 0.0, ..from }, None);
        }
        let momentum = Momentum { velocity: (tangent * from.speed).as_vec2(), heading: from.heading };
        let motion = self.drive.advance_along(momentum, asked, normal.as_vec2(), dt);
        // The displacement already includes that of the floor.
        let then = Rolled { speed: along(motion.velocity), outward: 0.0, heading: motion.heading, ..from };
        (along(motion.displacement), then, None)
    }
}
