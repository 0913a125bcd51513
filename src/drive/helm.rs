//! Helm: a heading that turns, thrust along it, grip across it.
//!
//! Drag slows all motion, grip only the part across the heading: without grip it drifts like a ship, with much grip
//! it moves where it points. The closed form is in `helm_motion`.

use glam::{DVec2, Vec2};

use super::drag::Drag;
use super::helm_motion::{AlongWall, Stretch, pointing};
use super::motion::{Drive, Momentum, Motion};
use super::surface::Surface;
use crate::direction::{Angle, YAxis};
use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::exact::{along, unit};
use crate::intent::Intent;
use crate::saved::restored;
use crate::time::seconds;
use crate::tolerance::{GRIPS_AT_ONCE, ROUNDED_ASIDE};

/// How an intent steers a helm.
///
/// ```
/// use ambulant::prelude::*;
///
/// let right = Intent::new(vec2(1.0, 0.0));
/// let turned = |steering| {
///     let helm = Helm::new(2.0, 40.0, Drag::half_life(0.5)?, steering)?;
///     let motion = helm.advance(Momentum::default(), right, &Surface::PLAIN, 0.5);
///     Ok::<_, ambulant::InvalidNumber>((motion.heading.radians(), motion.velocity.x > 0.0))
/// };
/// // The wheel turns to the right on the spot; toward the intent it is ahead already.
/// assert_eq!(turned(Steering::Wheel(YAxis::Down))?, (1.0, false));
/// assert_eq!(turned(Steering::Toward)?, (0.0, true));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Steering {
    /// Left and right turn the wheel, up is thrust, down is reverse; a diagonal counts in full for both. `y_axis`
    /// says which way is up, and right turns clockwise on the screen.
    Wheel(YAxis),
    /// The heading turns toward the intent by the shorter way, and the strength of the intent is the thrust. From
    /// exactly the opposite direction it turns from +x toward +y.
    Toward,
}

/// Driving, sailing and drifting: a heading, thrust along it, grip across it.
///
/// ```
/// use ambulant::prelude::*;
///
/// // Half a turn a second, 90 units/s² against a drag of 1.5 a second, on rails.
/// let roller = Helm::new(std::f32::consts::PI, 90.0, Drag::per_second(1.5)?, Steering::Toward)?.on_rails();
/// assert_eq!(roller.top_speed(), 60.0);
///
/// let motion = roller.advance(vec2(60.0, 0.0).into(), Intent::new(vec2(0.0, 1.0)), &Surface::PLAIN, 0.5);
/// assert_eq!(motion.heading.degrees(), 90.0);
/// assert!(motion.velocity.distance(vec2(0.0, 60.0)) < 1e-3); // where it points, at full speed
/// // A quarter of a circle of radius 60 / π: an arc, not a polygon.
/// assert!(motion.displacement.distance(Vec2::splat(60.0 / std::f32::consts::PI)) < 1e-3);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Helm {
    turn_rate: f32,
    thrust: f32,
    reverse: f32,
    drag: Drag,
    #[cfg_attr(feature = "serde", serde(serialize_with = "crate::saved::endless"))]
    grip: f32,
    rest_speed: f32,
    steering: Steering,
}

restored!(
    Helm {
        turn_rate: f32,
        thrust: f32,
        reverse: f32,
        drag: Drag,
        grip: Endless,
        rest_speed: f32,
        steering: Steering,
    } as saved => {
            let helm = Helm::new(saved.turn_rate, saved.thrust, saved.drag, saved.steering)?
                .with_reverse(saved.reverse)?;
            let helm =
                if saved.grip.0 == f32::INFINITY { helm.on_rails() } else { helm.with_grip(saved.grip.0)? };
            if saved.rest_speed == 0.0 { Ok(helm) } else { Ok(helm.with_rest_speed(saved.rest_speed)?) }
        }
);

impl Helm {
    /// A helm without grip from its turn rate (radians/s), thrust (units/s²), drag and steering. Its reverse thrust
    /// is half of the thrust, and it never rests by itself.
    ///
    /// # Errors
    /// Turn rate and thrust must be finite and at least 0.
    pub fn new(turn_rate: f32, thrust: f32, drag: Drag, steering: Steering) -> Result<Self, InvalidNumber> {
        let turn_rate = at_least_zero("turn_rate", turn_rate, "a finite number of at least 0 (radians/s)")?;
        let thrust = at_least_zero("thrust", thrust, "a finite number of at least 0 (units/s²)")?;
        Ok(Self { turn_rate, thrust, reverse: thrust * 0.5, drag, grip: 0.0, rest_speed: 0.0, steering })
    }

    /// Sets the grip: how fast motion across the heading fades, per second.
    ///
    /// # Errors
    /// The grip must be finite and at least 0; for infinite grip there is [`on_rails`](Self::on_rails).
    pub fn with_grip(mut self, grip: f32) -> Result<Self, InvalidNumber> {
        self.grip = at_least_zero("grip", grip, "a finite number of at least 0 (per second)")?;
        Ok(self)
    }

    /// Infinite grip: the velocity is always along the heading.
    #[must_use]
    pub const fn on_rails(mut self) -> Self {
        self.grip = f32::INFINITY;
        self
    }

    /// Sets the reverse thrust, in units/s².
    ///
    /// # Errors
    /// It must be finite and at least 0.
    pub fn with_reverse(mut self, reverse: f32) -> Result<Self, InvalidNumber> {
        self.reverse = at_least_zero("reverse", reverse, "a finite number of at least 0 (units/s²)")?;
        Ok(self)
    }

    /// Sets the speed below which it rests without thrust, in units/s.
    ///
    /// # Errors
    /// It must be finite and above 0.
    pub fn with_rest_speed(mut self, rest_speed: f32) -> Result<Self, InvalidNumber> {
        self.rest_speed = above_zero("rest_speed", rest_speed, "a finite number above 0 (units/s)")?;
        Ok(self)
    }

    /// The turn rate, in radians/s.
    #[must_use]
    pub const fn turn_rate(&self) -> f32 {
        self.turn_rate
    }

    /// The thrust ahead, in units/s².
    #[must_use]
    pub const fn thrust(&self) -> f32 {
        self.thrust
    }

    /// The reverse thrust, in units/s².
    #[must_use]
    pub const fn reverse(&self) -> f32 {
        self.reverse
    }

    /// The drag along the heading.
    #[must_use]
    pub const fn drag(&self) -> Drag {
        self.drag
    }

    /// How fast motion across the heading fades, per second; infinity on rails.
    #[must_use]
    pub const fn grip(&self) -> f32 {
        self.grip
    }

    /// The speed below which it rests, in units/s; 0 for never.
    #[must_use]
    pub const fn rest_speed(&self) -> f32 {
        self.rest_speed
    }

    /// How the intent steers.
    #[must_use]
    pub const fn steering(&self) -> Steering {
        self.steering
    }

    /// The wheel, -1 to 1, and the thrust along the heading in units/s².
    fn controls(&self, intent: Intent, y_axis: YAxis) -> (f32, f32) {
        let axes = intent.spread() * Vec2::new(y_axis.downward(), -y_axis.downward());
        (axes.x, axes.y * if axes.y < 0.0 { self.reverse } else { self.thrust })
    }

    /// The thrust along the heading, in units/s².
    fn thrust_of(&self, intent: Intent) -> f32 {
        match self.steering {
            Steering::Wheel(y_axis) => self.controls(intent, y_axis).1,
            Steering::Toward => intent.strength() * self.thrust,
        }
    }

    /// The stretches of constant turn and thrust in `dt` seconds: when a wanted heading is reached, the rest is
    /// straight.
    fn legs(&self, heading: Angle, intent: Intent, dt: f32) -> [Option<Leg>; 2] {
        let dt = f64::from(seconds(dt));
        if dt == 0.0 {
            return [None; 2];
        }
        match self.steering {
            Steering::Wheel(y_axis) => {
                let (wheel, thrust) = self.controls(intent, y_axis);
                let turn = f64::from(wheel * self.turn_rate);
                let turned = heading.turned_exactly(turn * dt);
                [Some(Leg { turn, thrust: f64::from(thrust), lasts: dt, turned }), None]
            }
            Steering::Toward => {
                let thrust = f64::from(intent.strength() * self.thrust);
                let target = Angle::of(intent.vector()).unwrap_or(heading);
                let distance = heading.turn_to_exactly(target);
                if distance == 0.0 {
                    return [None, Some(Leg { turn: 0.0, thrust, lasts: dt, turned: heading })];
                }
                let rate = f64::from(self.turn_rate).copysign(distance);
                let turning = distance / rate;
                if turning > dt || self.turn_rate == 0.0 {
                    let turned = heading.turned_exactly(rate * dt);
                    return [Some(Leg { turn: rate, thrust, lasts: dt, turned }), None];
                }
                let turn = Leg { turn: rate, thrust, lasts: turning, turned: target };
                [Some(turn), Some(Leg { turn: 0.0, thrust, lasts: dt - turning, turned: target })]
            }
        }
    }

    /// One stretch from a start: its end, and the stretch with the time for which it moves.
    fn run(&self, from: Momentum, leg: Leg, on: &Surface) -> (Momentum, Stretch, f64) {
        let Leg { turn, thrust, lasts, turned } = leg;
        let heading = from.heading.exact();
        let ahead = pointing(heading);
        let start = DVec2::new(ahead.x, -ahead.y).rotate(from.exact_velocity());
        let (drag, grip) = (f64::from(self.drag.rate()), f64::from(self.grip * on.grip()));
        let start = if grip.is_infinite() {
            DVec2::new(beyond_rounding(start.x, start.length()), 0.0)
        } else {
            start
        };
        let stretch = Stretch { start, heading, ahead, turn, thrust, drag, grip };

        let rest_speed = f64::from(self.rest_speed);
        let end = stretch.velocity(lasts);
        let rests = thrust == 0.0 && rest_speed > 0.0 && end.length() <= rest_speed;
        let (moves, end) =
            if rests { (stretch.slowed_to(rest_speed, lasts), DVec2::ZERO) } else { (lasts, end) };
        (Momentum::exact(stretch.in_world(lasts, end) + DVec2::ZERO, turned), stretch, moves)
    }
}

/// A component of a velocity, or 0 if it may be rounding only.
fn beyond_rounding(part: f64, speed: f64) -> f64 {
    if part.abs() > f64::from(ROUNDED_ASIDE) * speed { part } else { 0.0 }
}

/// A stretch of constant turn (radians/s) and thrust (units/s²).
#[derive(Debug, Clone, Copy)]
struct Leg {
    turn: f64,
    thrust: f64,
    lasts: f64,
    /// The heading at its end.
    turned: Angle,
}

impl Drive for Helm {
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let mut now = from;
        let mut displacement = DVec2::ZERO;
        for leg in self.legs(now.heading, on.slowed(intent), dt).into_iter().flatten() {
            let (then, stretch, moves) = self.run(now, leg, on);
            displacement += stretch.displacement(moves);
            now = then;
        }
        Motion::exact(displacement, now.exact_velocity(), now.heading).carried(on, dt)
    }

    fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
        let legs = self.legs(from.heading, on.slowed(intent), dt).into_iter().flatten();
        legs.fold(from, |now, leg| self.run(now, leg, on).0)
    }

    fn acceleration_of(&self, from: Momentum, intent: Intent, on: &Surface) -> Vec2 {
        let Momentum { velocity, heading, .. } = from;
        let ahead = pointing(heading.exact()).as_vec2();
        // With infinite grip, the rounding of a velocity or a heading must not count as motion.
        let speed = f64::from(velocity.length());
        #[expect(clippy::cast_possible_truncation, reason = "what was an f32 before")]
        let [onward, aside] =
            [ahead, ahead.perp()].map(|axis| beyond_rounding(f64::from(velocity.dot(axis)), speed) as f32);
        let slips = if onward == 0.0 { velocity } else { ahead.perp() * aside };
        let grip = (self.grip * on.grip()).min(GRIPS_AT_ONCE);
        ahead * self.thrust_of(on.slowed(intent)) - velocity * self.drag.rate() - slips * grip
    }

    /// At a wall, the wall replaces the grip: the speed along it follows `w' = a cos α - k w`, where α is the angle
    /// between heading and wall.
    fn advance_along(&self, from: Momentum, intent: Intent, on: &Surface, normal: Vec2, dt: f32) -> Motion {
        let tangent = unit(normal.as_dvec2()).perp();
        let (mut distance, mut speed, mut heading) = (0.0, from.exact_velocity().dot(tangent), from.heading);
        for leg in self.legs(heading, on.slowed(intent), dt).into_iter().flatten() {
            let ahead = pointing(heading.exact());
            let stretch = AlongWall {
                speed,
                ahead: DVec2::new(tangent.dot(ahead), tangent.perp_dot(ahead)),
                turn: leg.turn,
                thrust: leg.thrust,
                drag: f64::from(self.drag.rate()),
            };
            let rest_speed = f64::from(self.rest_speed);
            let end = stretch.speed_after(leg.lasts);
            let rests = leg.thrust == 0.0 && rest_speed > 0.0 && end.abs() <= rest_speed;
            let moves = if rests { stretch.seconds_to(rest_speed).min(leg.lasts) } else { leg.lasts };
            distance += stretch.way_after(moves);
            (speed, heading) = (if rests { 0.0 } else { end }, leg.turned);
        }
        let carried = along(self.belt_of(on), normal).as_dvec2() * f64::from(seconds(dt));
        Motion::exact(tangent * distance + carried, tangent * speed, heading)
    }

    fn top_speed(&self) -> f32 {
        let rate = self.drag.rate();
        if rate > 0.0 { self.thrust / rate } else { f32::INFINITY }
    }

    fn steers(&self) -> bool {
        true
    }

    /// At full thrust and full turn the velocity in the turning frame is steady; its length over the
    /// turn rate is the radius.
    fn turning_circle(&self) -> Option<f32> {
        let (k, w) = (self.drag.rate(), self.turn_rate);
        if w == 0.0 || k == 0.0 {
            return None;
        }
        let speed = if self.grip.is_infinite() {
            self.thrust / k
        } else {
            // From M v = -(a, 0).
            let across = k + self.grip;
            self.thrust * Vec2::new(across, w).length() / (k * across + w * w)
        };
        Some(2.0 * speed / w)
    }
}
