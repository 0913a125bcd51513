//! What a drive does to a velocity under one intent, as plain numbers, for walls that hold a mover on a line or a
//! curve.
//!
//! The velocity obeys `v' = push - drag v + Σ pulls`. Each pull moves it toward a target at a constant rate and keeps
//! it there while nothing is stronger. A pace is an immediate pull, a gait a pull at its acceleration, a glide a push
//! against drag; a fall is a second pull along its own axis.
//!
//! Along a wall with unit tangent `t` the velocity is `w t`, which leaves one equation for the speed `w`. Between the
//! speeds at which a pull has reached its target, its right side is linear, so [`Line::run`] goes from one to the
//! next in closed form. At a target, the pull withstands everything weaker, like dry friction.

use crate::tolerance::{ANSWERS_AT_ONCE, AT_TARGET};
use glam::{DVec2, Vec2};

/// The most changes of the equation in one call: two targets, zero and rest, each left and met again.
const MOST_CHANGES: usize = 16;

/// What a drive does to a velocity under one intent.
///
/// ```
/// use ambulant::prelude::*;
///
/// // Without an intent, its friction moves a gait toward rest.
/// let gait = Gait::new(60.0, 400.0, 500.0)?;
/// let response = gait.response(Intent::NONE, &Surface::PLAIN).unwrap();
/// assert_eq!((response.pulls[0].unwrap().rate, response.drag), (500.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Response {
    /// What moves the velocity toward a target at a constant rate.
    pub pulls: [Option<Pull>; 2],
    /// A constant acceleration, in units/s².
    pub push: Vec2,
    /// What slows all motion, per second.
    pub drag: f32,
    /// Below this speed the mover rests, in units/s; 0 for never.
    pub rest_speed: f32,
    /// The only direction in which push and drag act, of length 1; `None` for all.
    pub axis: Option<Vec2>,
}

/// Moves a velocity toward a target and holds it there.
///
/// ```
/// use ambulant::prelude::*;
///
/// let gait = Gait::new(60.0, 400.0, 500.0)?;
/// let right = Intent::new(vec2(1.0, 0.0));
/// let pull = gait.response(right, &Surface::PLAIN).unwrap().pulls[0].unwrap();
/// assert_eq!((pull.target, pull.rate), (vec2(60.0, 0.0), 400.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pull {
    /// The target, in units/s.
    pub target: Vec2,
    /// How fast the velocity changes, in units/s².
    pub rate: f32,
    /// The same while the velocity points away from the target.
    pub turning: f32,
    /// The direction along which it acts, of length 1; `None` for straight toward the target.
    pub axis: Option<Vec2>,
    /// Whether the target is that of the intent. If such a target leads into a wall, the pull moves the mover along the wall
    /// up to the target's part along it, and slows it down only where its speed along the axis is beyond the target's. Any
    /// other pull moves the mover along the wall until its speed along the axis is the target's.
    pub is_wished: bool,
}

impl Pull {
    /// A pull straight toward a velocity that the intent names.
    pub(super) const fn toward(target: Vec2, rate: f32) -> Self {
        Self { target, rate, turning: rate, axis: None, is_wished: true }
    }

    fn acceleration(&self, velocity: DVec2) -> DVec2 {
        let target = self.target.as_dvec2();
        let mut gap = target - velocity;
        if let Some(axis) = self.axis {
            gap = axis.as_dvec2() * axis.as_dvec2().dot(gap);
        }
        let rate = f64::from(if velocity.dot(target) < 0.0 { self.turning } else { self.rate });
        // At the target it is as strong as needed, which the others decide; slightly beside it is rounding.
        if gap.length() <= AT_TARGET * (target.length() + velocity.length()) {
            return DVec2::ZERO;
        }
        gap * (rate / gap.length())
    }
}

impl Response {
    /// The acceleration of a velocity, in units/s².
    pub(super) fn acceleration(&self, velocity: Vec2) -> Vec2 {
        let velocity = velocity.as_dvec2();
        let mut even = self.push.as_dvec2() - velocity * f64::from(self.drag);
        if let Some(axis) = self.axis {
            even = axis.as_dvec2() * axis.as_dvec2().dot(even);
        }
        let pulls = self.pulls.iter().flatten();
        pulls.fold(even, |sum, pull| sum + pull.acceleration(velocity)).as_vec2()
    }

    /// The distance and the speed along `normal.perp()` after some seconds at a wall with a normal of length 1.
    pub(crate) fn run_along(&self, normal: DVec2, speed: f64, seconds: f64) -> (f64, f64) {
        self.along(normal).run(speed, seconds)
    }

    /// The distance along `middle.perp()` and the speed after some seconds in which a round wall turns a mover from one normal to
    /// another, with `middle` half-way. What the pulls want along the wall turns with it, evenly. Also the end of the range of a
    /// pull that holds the mover then.
    pub(crate) fn run_turning(
        &self,
        [from, middle, to]: [DVec2; 3],
        speed: f64,
        seconds: f64,
    ) -> (f64, f64, Option<HeldEnd>) {
        let mut line = self.along(middle);
        if seconds > 0.0 {
            let (first, last) = (self.along(from), self.along(to));
            for ((pull, first), last) in line.pulls.iter_mut().zip(first.pulls).zip(last.pulls) {
                let (Some(pull), Some(first), Some(last)) = (pull.as_mut(), first, last) else { continue };
                *pull = LinePull { rate: pull.rate, turning: pull.turning, ..first };
                pull.drift = (last.target - first.target) / seconds;
                pull.most_drift = (last.most - first.most) / seconds;
            }
        }
        let (distance, mut speed) = line.run(speed, seconds);
        let held = line.held_end(&mut speed);
        (distance, speed, held)
    }

    /// The speed of a mover that the end of the range of a pull holds at a wall with a normal of length 1.
    pub(crate) fn speed_at(&self, held: HeldEnd, normal: DVec2) -> Option<f64> {
        Some(self.along(normal).pulls[held.pull]?.ends()[held.end].0)
    }

    /// What is left of it along a wall with a normal of length 1: on a line along `normal.perp()`.
    fn along(&self, normal: DVec2) -> Line {
        let tangent = normal.perp();
        // A velocity w t has the speed w (t · axis) along an axis, and a force along that axis counts t · axis along t.
        let share = |axis: Option<Vec2>| axis.map_or(1.0, |axis| axis.as_dvec2().dot(tangent));
        let part = share(self.axis);
        let pulls = self.pulls.map(|pull| {
            let Pull { target, rate, turning, axis, is_wished } = pull?;
            let (target, part) = (target.as_dvec2(), share(axis));
            let wanted = axis.map(|axis| target.dot(axis.as_dvec2()));
            let presses = is_wished
                && axis.is_some_and(|axis| target.dot(axis.as_dvec2()) * axis.as_dvec2().dot(normal) <= 0.0);
            let most = wanted.map_or(target.dot(tangent), |wanted| wanted / part);
            // If the intent presses on the wall, its part along the wall counts: what falls along the wall may be faster.
            let along = wanted.filter(|_| presses).map_or(most, |wanted| wanted * part);
            // Too narrow a range is none.
            let most = if (most - along).abs() <= 2.0 * AT_TARGET * along.abs() { along } else { most };
            let part = part.abs();
            let (rate, turning) = (f64::from(rate) * part, f64::from(turning) * part);
            (part > AT_TARGET).then_some(LinePull {
                target: along,
                most,
                rate,
                turning,
                drift: 0.0,
                most_drift: 0.0,
            })
        });
        Line {
            pulls,
            push: self.push.as_dvec2().dot(tangent) * part * part,
            drag: f64::from(self.drag) * part * part,
            rest_speed: f64::from(self.rest_speed),
        }
    }

    /// The pull, if there is only one, in all directions.
    pub(crate) fn only_pull(&self) -> Option<Pull> {
        let is_even = self.push != Vec2::ZERO || self.drag != 0.0;
        match self.pulls {
            [Some(pull), None] if pull.axis.is_none() && !is_even => Some(pull),
            _ => None,
        }
    }
}

/// An end of the range of a pull, as long as it holds a mover there.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct HeldEnd {
    pull: usize,
    end: usize,
}

/// A pull on a line.
#[derive(Debug, Clone, Copy, PartialEq)]
struct LinePull {
    target: f64,
    /// From its target up to this speed, it does nothing. Mostly the same as the target.
    most: f64,
    rate: f64,
    turning: f64,
    /// How fast the target moves, in units/s².
    drift: f64,
    /// The same of the other end.
    most_drift: f64,
}

impl LinePull {
    fn rate_at(&self, speed: f64) -> f64 {
        if speed * self.target < 0.0 { self.turning } else { self.rate }
    }

    /// Whether its rate changes at zero, and a speed is that up to rounding.
    fn turns_at(&self, speed: f64) -> bool {
        self.turning != self.rate && speed.abs() <= AT_TARGET * self.target.abs()
    }

    /// Its target, and the end of the range in which it does nothing, each with how fast it moves.
    fn ends(&self) -> [(f64, f64); 2] {
        [(self.target, self.drift), (self.most, self.most_drift)]
    }

    /// Which of its ends a speed equals up to rounding.
    fn end_at(&self, speed: f64) -> Option<usize> {
        self.ends().iter().position(|(end, _)| (speed - end).abs() <= AT_TARGET * end.abs())
    }

    /// Which of its ends holds a speed that changes at this rate: the speed is there and moves with it.
    fn end_that_holds(&self, speed: f64, acceleration: f64) -> Option<usize> {
        self.end_at(speed).filter(|end| self.ends()[*end].1 == acceleration)
    }

    /// The slowest and the fastest speed that it does not change.
    fn range(&self) -> (f64, f64) {
        (self.target.min(self.most), self.target.max(self.most))
    }
}

/// What a drive does to the speed along a line.
#[derive(Debug, Clone, Copy)]
struct Line {
    pulls: [Option<LinePull>; 2],
    push: f64,
    drag: f64,
    rest_speed: f64,
}

impl Line {
    /// The way and the speed after some seconds; the ends of the pulls are where they are then.
    fn run(&mut self, mut speed: f64, seconds: f64) -> (f64, f64) {
        let (mut distance, mut left) = (0.0, seconds);
        if let Some(at_once) = self.pulls.iter().flatten().find(|pull| pull.rate >= ANSWERS_AT_ONCE) {
            let ((least, fastest), drift) = (at_once.range(), at_once.drift);
            if least == fastest && drift == at_once.most_drift {
                return ((least + 0.5 * drift * seconds) * seconds, least + drift * seconds);
            }
            speed = speed.clamp(least, fastest);
        }
        for _ in 0..MOST_CHANGES {
            if self.pulls == [None, None] && self.push == 0.0 && speed.abs() <= self.rest_speed {
                return (distance, 0.0);
            }
            let acceleration = self.acceleration(&mut speed);
            if acceleration == 0.0 && !self.drifts() {
                return (distance + speed * left, speed);
            }
            let (after, next) = self.next_change(speed, acceleration);
            let lasts = after.min(left);
            let holds = |pull: &LinePull| pull.end_that_holds(speed, acceleration).is_some();
            let is_held = self.pulls.iter().flatten().any(holds);
            // Held at an end, it moves with that, whatever drag does.
            let (on, reached) = if is_held && acceleration != 0.0 {
                ((speed + 0.5 * acceleration * lasts) * lasts, speed + acceleration * lasts)
            } else {
                self.free(speed, acceleration, lasts)
            };
            distance += on;
            left -= lasts;
            speed = if after <= lasts { next } else { reached };
            for pull in self.pulls.iter_mut().flatten() {
                pull.target += pull.drift * lasts;
                pull.most += pull.most_drift * lasts;
            }
            if left <= 0.0 {
                return (distance, speed);
            }
        }
        (distance + speed * left, speed)
    }

    /// Whether the end of a pull moves.
    fn drifts(&self) -> bool {
        self.pulls.iter().flatten().any(|pull| pull.drift != 0.0 || pull.most_drift != 0.0)
    }

    /// The end that holds a mover at a speed.
    fn held_end(&self, speed: &mut f64) -> Option<HeldEnd> {
        let acceleration = self.acceleration(speed);
        self.pulls.iter().enumerate().find_map(|(number, pull)| {
            let end = pull.as_ref()?.end_that_holds(*speed, acceleration)?;
            Some(HeldEnd { pull: number, end })
        })
    }

    /// The acceleration at a speed; a speed at an end of a pull, or at a zero that matters, within rounding is set to it.
    fn acceleration(&self, speed: &mut f64) -> f64 {
        if self.pulls.iter().flatten().any(|pull| pull.turns_at(*speed)) {
            *speed = 0.0;
            // A pull that turns the mover faster than it speeds it up can hold it at rest: each side leads back.
            let forward = self.acceleration_toward(speed, 1.0);
            let back = self.acceleration_toward(speed, -1.0);
            match (forward > 0.0, back < 0.0) {
                (true, false) => return forward,
                (false, true) => return back,
                (false, false) => return 0.0,
                (true, true) => {}
            }
        }
        let side = *speed;
        self.acceleration_toward(speed, side)
    }

    /// The same; `side` is the sign that the speed has, or is about to have.
    fn acceleration_toward(&self, speed: &mut f64, side: f64) -> f64 {
        let mut moving = self.push;
        // What withstands a lower speed, and a higher one, and how fast the speed changes at which it does.
        let (mut below, mut above, mut drift) = (0.0, 0.0, None);
        for pull in self.pulls.iter().flatten() {
            let (least, most) = pull.range();
            if let Some(end) = pull.end_at(*speed) {
                let (end, moves) = pull.ends()[end];
                *speed = end;
                below += if end == least { pull.rate } else { 0.0 };
                above += if end == most { pull.rate } else { 0.0 };
                drift = drift.or(Some(moves));
            } else if *speed < least || *speed > most {
                moving += pull.rate_at(side).copysign(pull.target - *speed);
            }
        }
        moving -= self.drag * *speed;
        match drift {
            Some(drift) if moving - above > drift => moving - above,
            Some(drift) if moving + below < drift => moving + below,
            Some(drift) => drift,
            None => moving,
        }
    }

    /// After how many seconds the equation changes, and the speed then.
    fn next_change(&self, speed: f64, acceleration: f64) -> (f64, f64) {
        let turns = |pull: &LinePull| pull.turning != pull.rate && pull.target != 0.0;
        let ends = self.pulls.iter().flatten().flat_map(LinePull::ends);
        let zero = self.pulls.iter().flatten().any(turns).then_some((0.0, 0.0));
        let rests = self.pulls == [None, None] && self.push == 0.0 && self.rest_speed > 0.0;
        let rest = rests.then(|| (self.rest_speed.copysign(speed), 0.0));
        let changes = ends.chain(zero).chain(rest).map(|(end, drift)| {
            let after = self.time_to_moving(speed, acceleration, end, drift);
            (after, if drift == 0.0 { end } else { end + drift * after })
        });
        changes
            .filter(|(after, _)| *after > 0.0)
            .fold((f64::INFINITY, speed), |first, next| if next.0 < first.0 { next } else { first })
    }

    /// After how many seconds a speed is reached that changes evenly; infinite if never.
    fn time_to_moving(&self, speed: f64, acceleration: f64, target: f64, drift: f64) -> f64 {
        if drift == 0.0 {
            return self.time_to(speed, acceleration, target);
        }
        let (gap, closing) = (target - speed, acceleration - drift);
        let comes_nearer = gap * closing > 0.0;
        if self.drag == 0.0 {
            return if comes_nearer { gap / closing } else { f64::INFINITY };
        }
        let missing = |after: f64| target + drift * after - self.free(speed, acceleration, after).1;
        // Where both change equally fast, they turn towards each other, or away.
        let turns = -libm::log(drift / acceleration) / self.drag;
        let turns = (turns > 0.0).then_some(turns);
        let mut after = match turns {
            Some(turns) if comes_nearer && missing(turns) * gap > 0.0 => return f64::INFINITY,
            _ if comes_nearer => gap / closing,
            // What is met in the end is the speed that drag leaves.
            Some(_) if gap != 0.0 => (speed + acceleration / self.drag - target) / drift,
            _ => return f64::INFINITY,
        };
        // Newton's method from the time without drag, or from the end.
        for _ in 0..NEWTON_STEPS {
            let step = missing(after) / (acceleration * libm::exp(-self.drag * after) - drift);
            after += step;
            if step.abs() <= NEWTON_STEP * after {
                break;
            }
        }
        if after > 0.0 { after } else { f64::INFINITY }
    }

    /// After how many seconds a speed is reached; infinite if never.
    fn time_to(&self, speed: f64, acceleration: f64, target: f64) -> f64 {
        let gap = target - speed;
        if gap * acceleration <= 0.0 {
            return f64::INFINITY;
        }
        if self.drag == 0.0 {
            return gap / acceleration;
        }
        // w(t) = w + a (1 - e^(-k t)) / k
        let part = gap * self.drag / acceleration;
        if part < 1.0 { -libm::log1p(-part) / self.drag } else { f64::INFINITY }
    }

    /// The way and the speed after some seconds of unchanging equation, from this acceleration.
    fn free(&self, speed: f64, acceleration: f64, seconds: f64) -> (f64, f64) {
        let x = self.drag * seconds;
        // (1 - e^-x) / x and (1 - that) / x; for small x from their series.
        let (p, q) = if x < SMALL {
            (
                1.0 - x * (0.5 - x * (1.0 / 6.0 - x / 24.0)),
                0.5 - x * (1.0 / 6.0 - x * (1.0 / 24.0 - x / 120.0)),
            )
        } else {
            let p = -libm::expm1(-x) / x;
            (p, (1.0 - p) / x)
        };
        (seconds * (speed + acceleration * seconds * q), speed + acceleration * seconds * p)
    }
}

/// The most steps that find an instant against drag: mostly, each doubles the digits, but where two speeds hardly meet, it adds one.
const NEWTON_STEPS: usize = 64;

/// A step of this part of the time does not change it any more.
const NEWTON_STEP: f64 = 1e-15;

/// Below this the parts of a motion against drag come from their series: the first term left out is below 1e-14.
const SMALL: f64 = 1e-3;

#[cfg(test)]
mod tests {
    use core::cell::Cell;

    use crate::random::random;
    use proptest::prelude::*;

    use super::*;

    #[test]
    fn a_speed_meets_one_that_changes_evenly_when_both_are_there() {
        let (met, missed) = (Cell::new(0), Cell::new(0));
        proptest!(random(4000), |(
            drag in 0.2f64..4.2, speed in -20.0f64..20.0, acceleration in -30.0f64..30.0,
            target in -20.0f64..20.0, drifts in -1.0f64..1.0,
        )| {
            let line = Line { pulls: [None, None], push: 0.0, drag, rest_speed: 0.0 };
            let drift = acceleration * drifts;
            let found = line.time_to_moving(speed, acceleration, target, drift);
            let is_below = |after: f64| line.free(speed, acceleration, after).1 < target + drift * after;
            let (step, most) = (0.005, 5.0);
            let looks = (1..=1000).map(|look| step * f64::from(look));
            match looks.into_iter().find(|at| is_below(*at) != is_below(0.0)) {
                Some(first) => {
                    met.set(met.get() + 1);
                    prop_assert!(found <= first && found >= first - step, "{found} for {first}");
                }
                None => {
                    missed.set(missed.get() + 1);
                    prop_assert!(found > most - step, "{found}");
                }
            }
        });
        assert!(met.get() > 1000 && missed.get() > 500, "{met:?} {missed:?}");
    }
}
