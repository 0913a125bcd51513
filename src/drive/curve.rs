//! A single pull on a curve: the speed along a round wall, in closed form.
//!
//! With φ the angle from the way into the wall to the target and `S` the target's speed, the part of the target along the wall
//! is `S sin φ`, and φ changes by the angle that the mover turns: `φ' = w / R`.
//!
//! - An immediate pull has `w = S sin φ`, so `tan(φ / 2)` grows as `e^(S t / R)`: a mover rolls off the top ever
//!   faster.
//! - A pull at a rate has `w' = ± rate` until `w` is `S sin φ`, and then stays with it as long as that changes no
//!   faster than the rate: `S² |sin φ cos φ| / R <= rate`. The instants of the changes are searched.

use glam::DVec2;

use super::response::Pull;
use crate::tolerance::{ANSWERS_AT_ONCE, HALVINGS_OF_CURVE, ON_CURVE_TARGET};

/// The most changes in one call.
const MOST_CHANGES: usize = 8;

/// A mover on a curve under a pull.
#[derive(Debug, Clone, Copy)]
struct Turning {
    /// The angle from the way into the wall to the target, in radians.
    angle: f64,
    /// Along the wall, in units/s.
    speed: f64,
}

/// A pull on a curve.
#[derive(Debug, Clone, Copy)]
struct Curve {
    radius: f64,
    target: f64,
    rate: f64,
    turning: f64,
}

impl Pull {
    /// The angle that a mover turns on a curve within some seconds, in radians, and its speed then.
    ///
    /// `normal` points out of the wall; the speed is along `normal.perp()`, in units/s.
    pub(crate) fn on_curve(&self, radius: f64, normal: DVec2, speed: f64, seconds: f64) -> (f64, f64) {
        let target = self.target.as_dvec2();
        let angle = libm::atan2(target.dot(normal.perp()), -target.dot(normal));
        let (rate, turning) = (f64::from(self.rate), f64::from(self.turning));
        let curve = Curve { radius, target: target.length(), rate, turning };
        let end = curve.run(Turning { angle, speed }, seconds);
        (end.angle - angle, end.speed)
    }
}

impl Curve {
    fn run(&self, mut now: Turning, seconds: f64) -> Turning {
        if self.rate >= ANSWERS_AT_ONCE {
            return self.along_target(now, seconds);
        }
        let mut left = seconds;
        for _ in 0..MOST_CHANGES {
            let gap = self.wanted(now.angle) - now.speed;
            let (lasts, then) = if gap.abs() <= ON_CURVE_TARGET * self.target {
                self.stay_at_target(now, left)
            } else {
                self.change_at_rate(now, gap.signum(), false, left)
            };
            (now, left) = (then, left - lasts);
            if left <= 0.0 {
                break;
            }
        }
        now
    }

    /// The part of the target along the wall.
    fn wanted(&self, angle: f64) -> f64 {
        self.target * libm::sin(angle)
    }

    /// While the speed is that of the target along the wall.
    fn along_target(&self, from: Turning, seconds: f64) -> Turning {
        let half = libm::tan(0.5 * from.angle) * libm::exp(self.target * seconds / self.radius);
        let angle = 2.0 * libm::atan(half);
        Turning { angle, speed: self.wanted(angle) }
    }

    /// The same for as long as the rate allows it, or a first bit of falling behind.
    fn stay_at_target(&self, from: Turning, seconds: f64) -> (f64, Turning) {
        let grows =
            |angle: f64| self.target * self.target * libm::sin(angle) * libm::cos(angle) / self.radius;
        let too_fast = |angle: f64| grows(angle).abs() > self.rate;
        if too_fast(from.angle) {
            return self.change_at_rate(from, grows(from.angle).signum(), true, seconds);
        }
        let lasts = first_instant(seconds, |lasts| too_fast(self.along_target(from, lasts).angle));
        (lasts, self.along_target(from, lasts))
    }

    /// While the speed changes at the rate, in a direction, until it is that of the target along the wall; `falls_behind`: that is
    /// where it starts, and the target changes faster.
    fn change_at_rate(
        &self,
        from: Turning,
        direction: f64,
        falls_behind: bool,
        seconds: f64,
    ) -> (f64, Turning) {
        let turns_back = from.speed * self.wanted(from.angle) < 0.0;
        let rate = direction * if turns_back { self.turning } else { self.rate };
        let at = |lasts: f64| {
            let turned = (from.speed + 0.5 * rate * lasts) * lasts / self.radius;
            Turning { angle: from.angle + turned, speed: from.speed + rate * lasts }
        };
        let changes = |lasts: f64| {
            let now = at(lasts);
            let wanted = self.wanted(now.angle);
            (wanted - now.speed) * direction <= 0.0 || turns_back != (now.speed * wanted < 0.0)
        };
        // The gap may close and open again: it is smallest where both change equally fast.
        let opens = |lasts: f64| {
            let now = at(lasts);
            direction * (self.target * libm::cos(now.angle) * now.speed / self.radius - rate) > 0.0
        };
        let smallest = if falls_behind || opens(0.0) { seconds } else { first_instant(seconds, opens) };
        let lasts = first_instant(if changes(smallest) { smallest } else { seconds }, changes);
        (lasts, at(lasts))
    }
}

/// The first instant from which on something holds, if it holds at the end; all of the time if not.
fn first_instant(seconds: f64, holds: impl Fn(f64) -> bool) -> f64 {
    if !holds(seconds) {
        return seconds;
    }
    let (mut before, mut after) = (0.0, seconds);
    for _ in 0..HALVINGS_OF_CURVE {
        let middle = 0.5 * (before + after);
        if holds(middle) { after = middle } else { before = middle }
    }
    after
}
