//! The closed form behind the helm.
//!
//! With the heading turning at a constant rate `w`, thrust `a`, drag `k` and grip `g`, the velocity
//! in the turning frame (`u` along the heading, `s` across it) obeys
//!
//! ```text
//! u' = -k u + w s + a        s' = -w u - (k + g) s
//! ```
//!
//! a linear equation `v' = M v + (a, 0)`. With `M = m I + N`, `m = -(k + g/2)` and
//! `N² = d I`, `d = g²/4 - w²`, its solution is `v(t) = C v + S N v + a (∫C + g/2 ∫S, -w ∫S)`, where
//! `C = e^(m t) cosh(√d t)` and `S = e^(m t) sinh(√d t) / √d`: hyperbolic where grip outweighs the
//! turn, circular where the turn outweighs grip, and `S = t e^(m t)` between. The displacement is the
//! integral of that velocity, turned into the world, by a Gauss-Legendre rule: its error lies far
//! below the rounding of a position, and it has no degenerate cases.

use crate::tolerance::MOST_PANELS;
use glam::DVec2;

/// Below this `|d| t²`, both kinds of solution use their common series.
const BETWEEN: f64 = 1e-8;
/// Below this, `(e^x - 1) / x` and the like use their series.
const SMALL: f64 = 1e-3;
/// Nodes and weights of the Gauss-Legendre rule of six points on 0..1.
const NODES: [(f64, f64); 6] = [
    (0.033_765_242_898_423_99, 0.085_662_246_189_585_17),
    (0.169_395_306_766_867_75, 0.180_380_786_524_069_3),
    (0.380_690_406_958_401_56, 0.233_956_967_286_345_52),
    (0.619_309_593_041_598_4, 0.233_956_967_286_345_52),
    (0.830_604_693_233_132_3, 0.180_380_786_524_069_3),
    (0.966_234_757_101_576, 0.085_662_246_189_585_17),
];

/// One stretch of time with constant controls.
#[derive(Debug, Clone, Copy)]
pub(super) struct Stretch {
    /// The velocity at its start: along the heading, and across it toward the turn's positive side.
    pub(super) start: DVec2,
    /// The heading at its start, in radians.
    pub(super) heading: f64,
    /// The direction of that heading.
    pub(super) ahead: DVec2,
    /// Radians per second.
    pub(super) turn: f64,
    /// Along the heading, in units/s².
    pub(super) thrust: f64,
    /// Per second.
    pub(super) drag: f64,
    /// Per second; infinite on rails.
    pub(super) grip: f64,
}

impl Stretch {
    /// The velocity in the turning frame after `t` seconds.
    pub(super) fn velocity(&self, t: f64) -> DVec2 {
        let Self { start, turn, thrust, drag, grip, .. } = *self;
        if grip.is_infinite() {
            let along = start.x * libm::exp(-drag * t) + thrust * t * grown(-drag * t);
            return DVec2::new(along, 0.0);
        }
        let half = 0.5 * grip;
        let kernel = Kernel::new(-(drag + half), half * half - turn * turn, t);
        let n_start = DVec2::new(half * start.x + turn * start.y, -turn * start.x - half * start.y);
        let pushed = DVec2::new(kernel.sum_c + half * kernel.sum_s, -turn * kernel.sum_s);
        start * kernel.c + n_start * kernel.s + pushed * thrust
    }

    /// The displacement in the world after `t` seconds.
    pub(super) fn displacement(&self, t: f64) -> DVec2 {
        // Short panels while the grip acts, then each twice as long, but never longer than the slow changes allow:
        // each is smooth enough for one application of the rule.
        let slow = self.drag + self.turn.abs();
        let fast = if self.grip.is_finite() { slow + self.grip } else { slow };
        let longest = (1.0 / slow.max(f64::MIN_POSITIVE)).max(t / MOST_PANELS);
        let panel = t.min(1.0 / fast.max(f64::MIN_POSITIVE));
        integral(t, panel, longest, |at| self.in_world(at, self.velocity(at)))
    }

    /// A velocity of the turning frame, `t` seconds on, in the world.
    pub(super) fn in_world(&self, t: f64, velocity: DVec2) -> DVec2 {
        // Straight ahead, the frame stays that of the start: no sine at every node of an integral.
        let ahead = if self.turn == 0.0 { self.ahead } else { pointing(self.heading + self.turn * t) };
        ahead.rotate(velocity)
    }

    /// The first instant up to `t` at which a velocity without thrust has fallen to a speed; its
    /// speed never grows, so bisection finds it.
    pub(super) fn slowed_to(&self, speed: f64, t: f64) -> f64 {
        const HALVINGS: u32 = 60;
        let (mut before, mut after) = (0.0, t);
        for _ in 0..HALVINGS {
            let middle = 0.5 * (before + after);
            if self.velocity(middle).length() <= speed { after = middle } else { before = middle }
        }
        after
    }
}

/// The integral of a velocity from 0 to `t`, in panels that grow from the first to the longest.
fn integral(t: f64, first: f64, longest: f64, velocity: impl Fn(f64) -> DVec2) -> DVec2 {
    let (mut from, mut sum, mut panel) = (0.0, DVec2::ZERO, first);
    while from < t {
        let length = panel.min(t - from);
        for (node, weight) in NODES {
            sum += velocity(from + node * length) * (weight * length);
        }
        from += length;
        // The last panel ends exactly at t, whatever the rounding.
        if t - from < 1e-12 * t {
            break;
        }
        panel = (2.0 * panel).min(longest);
    }
    sum
}

/// A stretch of time with constant controls along a wall: `w' = a cos(α + turn t) - k w`.
#[derive(Debug, Clone, Copy)]
pub(super) struct AlongWall {
    /// The speed at its start, in units/s.
    pub(super) speed: f64,
    /// The direction of the heading as seen from the tangent: cosine and sine of α.
    pub(super) ahead: DVec2,
    /// Radians per second.
    pub(super) turn: f64,
    /// Along the heading, in units/s².
    pub(super) thrust: f64,
    /// Per second.
    pub(super) drag: f64,
}

impl AlongWall {
    /// With `z = k + i turn`: `w(t) = w e^(-k t) + a Re(e^(i α) (e^(i turn t) - e^(-k t)) / z)`.
    pub(super) fn speed_after(&self, t: f64) -> f64 {
        let Self { speed, ahead, turn, thrust, drag } = *self;
        let kept = libm::exp(-drag * t);
        if thrust == 0.0 {
            return speed * kept;
        }
        if turn == 0.0 {
            return speed * kept + thrust * ahead.x * t * grown(-drag * t);
        }
        let (rate, zt) = (DVec2::new(drag, turn), DVec2::new(drag, turn) * t);
        let pushed = if zt.length_squared() < SMALL * SMALL {
            grown_turning(zt, DVec2::ONE) * (t * kept)
        } else {
            let ends = pointing(turn * t) - DVec2::new(kept, 0.0);
            ends.rotate(DVec2::new(rate.x, -rate.y)) / rate.length_squared()
        };
        speed * kept + thrust * ahead.rotate(pushed).x
    }

    /// The way after `t` seconds.
    pub(super) fn way_after(&self, t: f64) -> f64 {
        let slow = self.drag + self.turn.abs();
        let longest = (1.0 / slow.max(f64::MIN_POSITIVE)).max(t / MOST_PANELS);
        integral(t, t.min(longest), longest, |at| DVec2::new(self.speed_after(at), 0.0)).x
    }

    /// After how many seconds the speed has fallen to another without thrust.
    pub(super) fn seconds_to(&self, speed: f64) -> f64 {
        if self.speed.abs() <= speed { 0.0 } else { libm::log(self.speed.abs() / speed) / self.drag }
    }
}

/// The direction of a heading in radians.
pub(super) fn pointing(heading: f64) -> DVec2 {
    let (sin, cos) = libm::sincos(heading);
    DVec2::new(cos, sin)
}

/// `C`, `S` and their integrals from 0 to `t`.
#[derive(Debug, Clone, Copy)]
struct Kernel {
    c: f64,
    s: f64,
    sum_c: f64,
    sum_s: f64,
}

impl Kernel {
    fn new(m: f64, d: f64, t: f64) -> Self {
        if (d * t * t).abs() < BETWEEN {
            // cosh(√d t) = 1 + d t²/2 and sinh(√d t) = √d t (1 + d t²/6): the next terms are below 1e-16.
            let (x, square, between) = (m * t, t * t, d * t * t);
            let e = libm::exp(x);
            let [evenly, squared, cubed] = grown_powers(x, e);
            return Self {
                c: e * (1.0 + between / 2.0),
                s: t * e * (1.0 + between / 6.0),
                sum_c: t * (grown(x) + between / 2.0 * squared),
                sum_s: square * (evenly + between / 6.0 * cubed),
            };
        }
        let root = libm::sqrt(d.abs());
        if d > 0.0 {
            let (slow, fast) = ((m + root) * t, (m - root) * t);
            let (e_slow, e_fast) = (libm::exp(slow), libm::exp(fast));
            let (sum_slow, sum_fast) = (t * grown(slow), t * grown(fast));
            return Self {
                c: 0.5 * (e_slow + e_fast),
                s: 0.5 * (e_slow - e_fast) / root,
                sum_c: 0.5 * (sum_slow + sum_fast),
                sum_s: 0.5 * (sum_slow - sum_fast) / root,
            };
        }
        let e = libm::exp(m * t);
        let (sin, cos) = libm::sincos(root * t);
        let sum = grown_turning(DVec2::new(m * t, root * t), e * DVec2::new(cos, sin)) * t;
        Self { c: e * cos, s: e * sin / root, sum_c: sum.x, sum_s: sum.y / root }
    }
}

/// `(e^x - 1) / x`, 1 at 0: the mean of `e^x` on the way from 0.
fn grown(x: f64) -> f64 {
    if x == 0.0 { 1.0 } else { libm::expm1(x) / x }
}

/// The means of `y e^(x y)`, `y² e^(x y)` and `y³ e^(x y)` for `y` from 0 to 1, from `e^x`: the first to all digits, the
/// others to some. By parts, each follows from the one before.
fn grown_powers(x: f64, e: f64) -> [f64; 3] {
    if x.abs() < SMALL {
        return [
            1.0 / 2.0 + x * (1.0 / 3.0 + x * (1.0 / 8.0 + x * (1.0 / 30.0 + x / 144.0))),
            1.0 / 3.0 + x * (1.0 / 4.0 + x / 10.0),
            1.0 / 4.0 + x * (1.0 / 5.0 + x / 12.0),
        ];
    }
    let evenly = (e * (x - 1.0) + 1.0) / (x * x);
    let squared = (e - 2.0 * evenly) / x;
    [evenly, squared, (e - 3.0 * squared) / x]
}

/// `(e^z - 1) / z` for a complex `z` whose exponential is known.
fn grown_turning(z: DVec2, exponential: DVec2) -> DVec2 {
    if z.length_squared() < SMALL * SMALL {
        let square = z.rotate(z);
        return DVec2::X + z / 2.0 + square / 6.0 + square.rotate(z) / 24.0 + square.rotate(square) / 120.0;
    }
    // Division by z is multiplication by its conjugate over its square length.
    (exponential - DVec2::X).rotate(DVec2::new(z.x, -z.y)) / z.length_squared()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_series_of_a_growth_that_turns_meets_its_closed_form() {
        for spoke in 0..16 {
            let turned = |size: f64| {
                let z = DVec2::from_angle(f64::from(spoke) * 0.4) * (SMALL * size);
                grown_turning(z, DVec2::from_angle(z.y) * libm::exp(z.x))
            };
            // The value itself changes by some 1e-12 between the two.
            assert!(turned(1.0 - 1e-9).distance(turned(1.0 + 1e-9)) < 1e-11, "{spoke}");
        }
    }
}
