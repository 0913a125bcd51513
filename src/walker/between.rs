//! A vehicle between its grip and its thrust: on the wall, nothing presses it on; off the wall, grip turns it back at once.
//!
//! While a wall holds a vehicle, it takes the place of the grip. Where the acceleration into the wall falls to zero, the wall
//! lets go and grip acts again. If grip slows the vehicle down by more than what keeps it from pressing, it presses again at
//! once. The limit of ever shorter turns of both is a slide on which the acceleration across the wall stays zero: for each
//! heading, that is one speed (A. F. Filippov, Differential Equations with Discontinuous Righthand Sides, 1988).

use glam::{DVec2, Vec2};

use super::course::Course;
use super::mover::Mover;
use crate::direction::Angle;
use crate::drive::{Momentum, Motion};
use crate::intent::Intent;
use crate::shape::Arc;
use crate::tolerance::{BETWEEN, INSTANT, LET_GO_STEPS, SLIDE_STEPS};

impl Mover<'_> {
    /// Whether a vehicle that follows a course is between its grip and its thrust.
    pub(super) fn is_between(&self, course: &Course, normal: Vec2, from: Momentum, intent: Intent) -> bool {
        let speed = from.velocity.dot(normal.perp());
        if !self.drive.steers() || self.drive.ground() != Vec2::ZERO || self.is_still(speed) {
            return false;
        }
        let acceleration = self.drive.acceleration_of(from, intent);
        // On rails, or with as strong a grip, it would stop at once.
        if acceleration.dot(normal.perp()).abs() * INSTANT > speed.abs() {
            return false;
        }
        if self.outward(course, normal, from, intent).abs() > BETWEEN * acceleration.length() {
            return false;
        }
        let Some((now, slope)) = self.let_go_speed(course, normal, from.heading, intent, speed) else {
            return false;
        };
        // Whether the wall, and the grip, lead beyond the speed at which the wall lets go, or back.
        let heading = self.drive.momentum_after(from, intent, INSTANT).heading;
        let then = self.turned_on(course, normal, speed * INSTANT);
        let Some((soon, _)) = self.let_go_speed(course, then, heading, intent, speed) else { return false };
        let moves = (soon - now) / INSTANT;
        let on_wall = (self.drive.advance_along(from, intent, normal, INSTANT).velocity.dot(normal.perp())
            - speed)
            / INSTANT;
        let off_wall = acceleration.dot(normal.perp());
        (on_wall - moves) * slope >= 0.0 && (off_wall - moves) * slope <= 0.0
    }

    /// The acceleration away from the wall of a course, in units/s².
    fn outward(&self, course: &Course, normal: Vec2, from: Momentum, intent: Intent) -> f32 {
        let acceleration = self.drive.acceleration_of(from, intent).dot(normal);
        match course {
            Course::Line(_) => acceleration,
            #[expect(clippy::cast_possible_truncation, reason = "a radius, rounded once")]
            Course::Round(arc) => acceleration + from.velocity.length_squared() / arc.radius as f32,
        }
    }

    /// The speed along `normal.perp()` near another one at which nothing leads away from the wall of a course or into it, and the
    /// sign with which the acceleration away from it grows with the speed.
    fn let_go_speed(
        &self,
        course: &Course,
        normal: Vec2,
        heading: Angle,
        intent: Intent,
        near: f32,
    ) -> Option<(f32, f32)> {
        let outward =
            |speed: f32| self.outward(course, normal, Momentum::new(normal.perp() * speed, heading), intent);
        // The secant method; along a line, it is exact at once.
        let (mut one, mut other) = (near * 1.01, near);
        let (mut of_one, mut of_other) = (outward(one), outward(other));
        let slope = (of_one - of_other) / (one - other);
        for _ in 0..LET_GO_STEPS {
            if of_one == of_other || of_other == 0.0 {
                break;
            }
            (one, other) = (other, other - of_other * (other - one) / (of_other - of_one));
            (of_one, of_other) = (of_other, outward(other));
        }
        (slope != 0.0 && other.is_finite()).then_some((other, slope.signum()))
    }

    /// The normal of a course after so much way along it.
    fn turned_on(&self, course: &Course, normal: Vec2, way: f32) -> Vec2 {
        match course {
            Course::Line(_) => normal,
            #[expect(clippy::cast_possible_truncation, reason = "a small angle")]
            Course::Round(arc) => Vec2::from_angle(way / arc.radius as f32).rotate(normal),
        }
    }

    /// The speed that keeps a vehicle between its grip and its thrust after some seconds, near the speed at its start, and its heading
    /// then.
    fn speed_between(
        &self,
        course: &Course,
        normal: Vec2,
        from: Momentum,
        intent: Intent,
        (start, seconds): (f32, f32),
    ) -> (f32, Angle) {
        let heading = self.drive.momentum_after(from, intent, seconds).heading;
        let known = self.let_go_speed(course, normal, heading, intent, start);
        (known.map_or(start, |(speed, _)| speed), heading)
    }

    /// The motion along a flat wall of a vehicle that stays between its grip and its thrust.
    pub(super) fn slide_between(&self, normal: Vec2, from: Momentum, intent: Intent, lasts: f32) -> Motion {
        let course = Course::Line(normal);
        let start = from.velocity.dot(normal.perp());
        let after = |seconds: f32| self.speed_between(&course, normal, from, intent, (start, seconds));
        let (speed, heading) = after(lasts);
        // Simpson's rule.
        let step = lasts / SLIDE_STEPS as f32;
        let way: f32 = (0..SLIDE_STEPS)
            .map(|number| {
                let now = number as f32 * step;
                (after(now).0 + 4.0 * after(now + 0.5 * step).0 + after(now + step).0) * step / 6.0
            })
            .sum();
        let tangent = normal.perp();
        Motion::new(tangent * way, tangent * speed, heading)
    }

    /// The same on an arc: how far it turns, in radians, the speed and the heading at the end.
    pub(super) fn roll_between(
        &self,
        arc: &Arc,
        normal: DVec2,
        from: Momentum,
        intent: Intent,
        lasts: f32,
    ) -> (f64, f32, Angle) {
        let course = Course::Round(*arc);
        let start = from.velocity.dot(normal.as_vec2().perp());
        let at = |turned: f64, seconds: f32| {
            let there = DVec2::from_angle(turned).rotate(normal).as_vec2();
            self.speed_between(&course, there, from, intent, (start, seconds))
        };
        // The midpoint rule.
        let step = lasts / SLIDE_STEPS as f32;
        let turns = |speed: f32, seconds: f32| f64::from(speed) * f64::from(seconds) / arc.radius;
        let turned = (0..SLIDE_STEPS).fold(0.0, |turned, number| {
            let now = number as f32 * step;
            let half_way = turned + turns(at(turned, now).0, 0.5 * step);
            turned + turns(at(half_way, now + 0.5 * step).0, step)
        });
        let (speed, heading) = at(turned, lasts);
        (turned, speed, heading)
    }
}
