//! A paddle aims a ball: the angle depends on where on the paddle they meet.

use core::f32::consts::FRAC_PI_2;

use glam::Vec2;

use super::decision::Impact;
use crate::error::{InvalidNumber, above_zero, at_least_zero, finite};
use crate::saved::restored;
use crate::shape::Aabb;
use crate::terrain::Hit;
use crate::tolerance::ROUND_END;

/// Part of a paddle.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::{PaddleHit, PaddlePart};
///
/// let leaf = Paddle::facing(vec2(0.0, -1.0), 1.0)?;
/// let (ball_velocity, paddle_velocity) = (vec2(0.0, 5.0), Vec2::ZERO);
/// let at = |offset: Vec2, normal: Vec2| {
///     leaf.deflect(&PaddleHit { offset, paddle_velocity, normal, ball_velocity }).part
/// };
/// assert_eq!(at(vec2(0.0, -1.0), vec2(0.0, -1.0)), PaddlePart::Face);
/// assert_eq!(at(vec2(-1.0, 0.0), vec2(-1.0, 0.0)), PaddlePart::End);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum PaddlePart {
    /// The side that aims balls.
    Face,
    /// One of its two ends.
    End,
    /// The side that faces away from the field.
    Back,
}

/// A ball that hits a paddle.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::PaddleHit;
///
/// let mut world = World::new();
/// let wall = world.add(Solid::box_from_corners(vec2(-4.0, 10.0), vec2(4.0, 12.0))?);
/// world.move_at(wall, vec2(3.0, 0.0)); // half a unit to the right until the ball is there
/// let leaf = Paddle::facing(vec2(0.0, -1.0), 1.0)?;
/// let mut balls = [Ball::new(vec2(0.0, 0.0), vec2(0.0, 18.0), Footprint::circle(1.0)?)];
/// let _ = tick_balls(&mut balls, 1.0, &mut world, |_, impact| {
///     let hit = PaddleHit::of(impact);
///     assert_eq!((hit.offset, hit.paddle_velocity), (vec2(-0.375, -1.0), vec2(3.0, 0.0)));
///     Decision::deflect(leaf.deflect(&hit).velocity)
/// });
/// assert!(balls[0].velocity.x < 0.0); // the ball was to the left of the middle
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PaddleHit {
    /// Where they touch, on both axes: 0 in the middle of the paddle, -1 and 1 at the sides with smaller and larger coordinates.
    pub offset: Vec2,
    /// The paddle's velocity, in units/s.
    pub paddle_velocity: Vec2,
    /// The unit normal, from the paddle toward the ball.
    pub normal: Vec2,
    /// The ball's velocity before, in units/s.
    pub ball_velocity: Vec2,
}

impl PaddleHit {
    /// From an impact on a wall that is a paddle, with the velocity that it has at that instant.
    #[must_use]
    pub const fn of(impact: &Impact) -> Self {
        let Impact { hit, offset, velocity: ball_velocity, .. } = *impact;
        let Hit { normal, velocity: paddle_velocity, .. } = hit;
        Self { offset, paddle_velocity, normal, ball_velocity }
    }
}

/// What a paddle does to a ball.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::PaddleHit;
///
/// let leaf = Paddle::facing(vec2(0.0, -1.0), 1.0)?;
/// let (offset, normal) = (vec2(0.5, -1.0), vec2(0.0, -1.0)); // half way from its middle to its end
/// let hit = PaddleHit { offset, paddle_velocity: Vec2::ZERO, normal, ball_velocity: vec2(0.0, 5.0) };
/// let deflection = leaf.deflect(&hit);
/// assert_eq!((deflection.offset, deflection.angle), (0.5, 0.5)); // of one radian at the end
/// assert!((deflection.velocity.length() - 5.0).abs() < 1e-5);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Deflection {
    /// The ball's new velocity, in units/s.
    pub velocity: Vec2,
    /// The part that was hit. Only the face aims; at ends and back the ball bounces as off a wall.
    pub part: PaddlePart,
    /// Where on the face: 0 in the middle, -1 and 1 at the ends toward smaller and larger coordinates.
    pub offset: f32,
    /// The angle at which the ball leaves, from straight away, in radians; same sign as the offset.
    pub angle: f32,
}

/// How a paddle aims balls.
///
/// ```
/// use ambulant::arcade::{Paddle, PaddleHit, PaddlePart};
/// use ambulant::prelude::*;
///
/// // A leaf that lies below the field and sends drops up.
/// let leaf = Paddle::facing(vec2(0.0, -1.0), 60f32.to_radians())?;
/// let middle = PaddleHit {
///     offset: vec2(0.0, -1.0),
///     paddle_velocity: Vec2::ZERO,
///     normal: vec2(0.0, -1.0),
///     ball_velocity: vec2(30.0, 40.0),
/// };
/// let sent = leaf.deflect(&middle);
/// assert_eq!((sent.part, sent.offset), (PaddlePart::Face, 0.0));
/// assert!(sent.velocity.distance(vec2(0.0, -50.0)) < 1e-4); // straight back, as fast as it came
///
/// let edge = leaf.deflect(&PaddleHit { offset: vec2(1.0, -1.0), ..middle });
/// assert!((edge.angle.to_degrees() - 60.0).abs() < 1e-3 && edge.velocity.x > 0.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Paddle {
    away: Vec2,
    greatest_angle: f32,
    gain: f32,
    #[cfg_attr(feature = "serde", serde(serialize_with = "crate::saved::endless"))]
    limit: f32,
    velocity_transfer: f32,
}

restored!(
    Paddle { away: Vec2, greatest_angle: f32, gain: f32, limit: Endless, velocity_transfer: f32 } as saved => {
        let paddle = Paddle::facing(saved.away, saved.greatest_angle)?
            .with_velocity_transfer(saved.velocity_transfer)?;
        match saved.limit {
            // Without a gain there is no limit.
            Endless(f32::INFINITY) => {
                Ok(Paddle { gain: above_zero("gain", saved.gain, "a finite factor above 0")?, ..paddle })
            }
            Endless(limit) => Ok(paddle.with_gain(saved.gain, limit)?),
        }
    }
);

impl Paddle {
    /// A paddle on any side of the field. `away` is the direction straight away from it, one of the four axes;
    /// `greatest_angle` is the angle at its ends, in radians.
    ///
    /// # Errors
    /// The direction must lie along an axis; the angle must be at least 0 and below a quarter of a turn.
    pub fn facing(away: Vec2, greatest_angle: f32) -> Result<Self, InvalidNumber> {
        let straight = away.is_finite() && (away.x == 0.0) != (away.y == 0.0);
        if !straight {
            let wanted = "one of two parts, the other one 0 (a direction along an axis)";
            return Err(InvalidNumber::vector("away", away, away.x.min(away.y), wanted));
        }
        if !(0.0..FRAC_PI_2).contains(&greatest_angle) {
            let wanted = "at least 0 and below 1.571 (radians, a quarter of a turn)";
            return Err(InvalidNumber::new("greatest_angle", greatest_angle, wanted));
        }
        let away = away.normalize();
        Ok(Self { away, greatest_angle, gain: 1.0, limit: f32::INFINITY, velocity_transfer: 0.0 })
    }

    /// Multiplies the ball's speed at each hit, up to a limit in units/s. A ball that is already faster keeps its
    /// speed.
    ///
    /// # Errors
    /// Gain and limit must be finite and above 0.
    pub fn with_gain(mut self, gain: f32, limit: f32) -> Result<Self, InvalidNumber> {
        self.gain = above_zero("gain", gain, "a finite factor above 0")?;
        self.limit = above_zero("limit", limit, "a finite number above 0 (units/s)")?;
        Ok(self)
    }

    /// Adds this share of the paddle's velocity to the ball's: 0 for none, 1 for all.
    ///
    /// # Errors
    /// The factor must be finite and at least 0.
    pub fn with_velocity_transfer(mut self, factor: f32) -> Result<Self, InvalidNumber> {
        self.velocity_transfer = at_least_zero("velocity_transfer", factor, "a finite factor of at least 0")?;
        Ok(self)
    }

    /// The direction straight away from the paddle.
    #[must_use]
    pub const fn away(&self) -> Vec2 {
        self.away
    }

    /// Where a ball of this radius rests on the paddle before a serve, at an offset from -1 to 1.
    ///
    /// # Errors
    /// Radius and offset must be finite.
    pub fn serve_from(&self, lies: Aabb, radius: f32, offset: f32) -> Result<Vec2, InvalidNumber> {
        let radius = finite("radius", radius, "a finite number (units)")?;
        let offset = finite("offset", offset, "a finite number (-1 to 1)")?.clamp(-1.0, 1.0);
        let (along, half) = (self.away.perp().abs(), lies.size() * 0.5);
        Ok(lies.center() + along * (half * offset) + self.away * (half.dot(self.away.abs()) + radius))
    }

    /// What a ball does after it hits the paddle.
    #[must_use]
    pub fn deflect(&self, hit: &PaddleHit) -> Deflection {
        let PaddleHit { offset, paddle_velocity: own_velocity, normal, ball_velocity: velocity } = *hit;
        let along = self.away.perp().abs();
        let offset = offset.dot(along).clamp(-1.0, 1.0);
        let part = match normal.dot(self.away) {
            straight if straight > ROUND_END => PaddlePart::Face,
            straight if straight < -ROUND_END => PaddlePart::Back,
            _ => PaddlePart::End,
        };
        if part != PaddlePart::Face {
            let relative = velocity - own_velocity;
            let inward = relative.dot(normal).min(0.0);
            return Deflection { velocity: velocity - normal * (2.0 * inward), part, offset, angle: 0.0 };
        }
        let angle = offset * self.greatest_angle;
        let (sin, cos) = libm::sincosf(angle);
        let came = velocity.length();
        let speed = if came < self.limit { (came * self.gain).min(self.limit) } else { came };
        let aimed = (self.away * cos + along * sin) * speed + own_velocity * self.velocity_transfer;
        // The added velocity must not send the ball back into the paddle.
        let outward = aimed.dot(self.away);
        let aimed = if outward > 0.0 { aimed } else { aimed - self.away * (2.0 * outward) };
        Deflection { velocity: aimed, part, offset, angle }
    }
}
