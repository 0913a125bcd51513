//! Projectiles: aimed once, swept, and over at the first wall, or after some bounces, a range or a time.

use glam::Vec2;

use super::ball::{Ball, Flight, Next};
use super::decision::BallDoes;
use super::tick_balls::MAX_BOUNCES;
use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::{Version, restored};
use crate::shape::Footprint;
use crate::terrain::{Hit, Layers, Terrain};
use crate::time::seconds;

/// Why a projectile's flight ended.
///
/// ```
/// use ambulant::arcade::FlightEnd;
/// use ambulant::prelude::*;
///
/// let puff = Projectile::aimed(Vec2::ZERO, vec2(5.0, 0.0), 10.0, Footprint::circle(1.0)?)?;
/// assert_eq!(puff.with_range(3.0)?.tick(1.0, &World::new()), Some(FlightEnd::OutOfRange));
/// assert_eq!(puff.with_time(0.5)?.tick(1.0, &World::new()), Some(FlightEnd::Expired));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum FlightEnd {
    /// It hit a wall and had no bounces left.
    Hit(Hit),
    /// It reached its range.
    OutOfRange,
    /// Its time was over.
    Expired,
}

/// Something that was fired or thrown.
///
/// ```
/// use ambulant::arcade::{FlightEnd, Projectile};
/// use ambulant::prelude::*;
///
/// let mut posts = World::new();
/// let post = posts.add(Solid::circle(vec2(60.0, 0.0), 5.0)?);
/// // Aimed at where the pointer was: the direction is computed once.
/// let mut puff = Projectile::aimed(Vec2::ZERO, vec2(30.0, 0.0), 400.0, Footprint::circle(1.0)?)?;
/// assert_eq!(puff.tick(0.1, &posts), None);
/// let Some(FlightEnd::Hit(hit)) = puff.tick(0.1, &posts) else { panic!("it flies into the post") };
/// assert_eq!((hit.wall, hit.point), (post, vec2(55.0, 0.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Projectile {
    version: Version<1>,
    ball: Ball,
    bounces: u32,
    #[cfg_attr(feature = "serde", serde(serialize_with = "crate::saved::endless"))]
    range: f32,
    #[cfg_attr(feature = "serde", serde(serialize_with = "crate::saved::endless"))]
    lasts: f32,
    ended: Option<FlightEnd>,
}

restored!(
    Projectile {
        version: Version<1>,
        ball: Ball,
        bounces: u32,
        range: Endless,
        lasts: Endless,
        ended: Option<FlightEnd>,
    } as saved => {
        ensure(saved.range.0 >= 0.0, "range must be at least 0 (units)")?;
        ensure(saved.lasts.0 >= 0.0, "lasts must be at least 0 (seconds)")?;
        let fields::Projectile { version, ball, bounces, range: Endless(range), lasts: Endless(lasts), ended } = saved;
        Ok(Projectile { version, ball, bounces, range, lasts, ended })
    }
);

impl Projectile {
    /// A projectile from a position toward another at a speed in units/s; the first wall ends its flight.
    ///
    /// # Errors
    /// The speed must be finite and above 0, and the positions finite and apart.
    pub fn aimed(from: Vec2, at: Vec2, speed: f32, footprint: Footprint) -> Result<Self, InvalidNumber> {
        let speed = above_zero("speed", speed, "a finite number above 0 (units/s)")?;
        let displacement = at.as_dvec2() - from.as_dvec2();
        #[expect(clippy::cast_possible_truncation, reason = "a distance, rounded once")]
        let distance = displacement.length() as f32;
        above_zero("distance", distance, "a finite number above 0 (units): aim at another place")?;
        let velocity = (displacement.normalize() * f64::from(speed)).as_vec2();
        let ball = Ball::new(from, velocity, footprint);
        Ok(Self {
            version: Version,
            ball,
            bounces: 0,
            range: f32::INFINITY,
            lasts: f32::INFINITY,
            ended: None,
        })
    }

    /// Sets how many walls it bounces off before one ends its flight.
    #[must_use]
    pub const fn with_bounces(mut self, bounces: u32) -> Self {
        self.bounces = bounces;
        self
    }

    /// Sets its range, in units.
    ///
    /// # Errors
    /// The distance must be finite and at least 0.
    pub fn with_range(mut self, range: f32) -> Result<Self, InvalidNumber> {
        self.range = at_least_zero("range", range, "a finite number of at least 0 (units)")?;
        Ok(self)
    }

    /// Sets its time, in seconds.
    ///
    /// # Errors
    /// The time must be finite and at least 0.
    pub fn with_time(mut self, lasts: f32) -> Result<Self, InvalidNumber> {
        self.lasts = at_least_zero("lasts", lasts, "a finite number of at least 0 (seconds)")?;
        Ok(self)
    }

    /// Sets its mask.
    #[must_use]
    pub const fn with_mask(mut self, layers: Layers) -> Self {
        self.ball.mask = layers;
        self
    }

    /// Its position, in world units.
    #[must_use]
    pub const fn position(&self) -> Vec2 {
        self.ball.position
    }

    /// Its velocity, in units/s.
    #[must_use]
    pub const fn velocity(&self) -> Vec2 {
        self.ball.velocity
    }

    /// How many more times it bounces before a wall ends its flight.
    #[must_use]
    pub const fn bounces_left(&self) -> u32 {
        self.bounces
    }

    /// How far it still flies, in units.
    #[must_use]
    pub const fn range_left(&self) -> f32 {
        self.range
    }

    /// How long it still flies, in seconds.
    #[must_use]
    pub const fn seconds_left(&self) -> f32 {
        self.lasts
    }

    /// Moves for `dt` seconds. Returns why the flight ended, also at every later call: it stays where it ended.
    pub fn tick(&mut self, dt: f32, terrain: &(impl Terrain + ?Sized)) -> Option<FlightEnd> {
        if self.ended.is_some() {
            return self.ended;
        }
        let speed = self.ball.velocity.length();
        let spent = self.range / speed;
        let whole = seconds(dt);
        let flies = whole.min(self.lasts).min(spent);
        let mut ended = None;
        self.ball.flight = Flight::new(f64::from(flies));
        while let Some(hit) = self.next_wall(terrain) {
            if self.bounces == 0 {
                self.ball.respond(BallDoes::Stop, &hit);
                ended = Some(FlightEnd::Hit(hit));
                break;
            }
            self.bounces -= 1;
            self.ball.respond(BallDoes::Bounce(1.0), &hit);
        }
        self.ball.shift(self.ball.displacement(self.ball.flight.left));
        self.ball.flight = Flight::NONE;
        // Rounding must not leave less than nothing.
        self.lasts = (self.lasts - flies).max(0.0);
        self.range = (self.range - flies * speed).max(0.0);
        if ended.is_none() && flies < whole {
            ended =
                Some(if spent <= self.lasts + flies { FlightEnd::OutOfRange } else { FlightEnd::Expired });
        }
        self.ended = ended;
        ended
    }

    /// Moves to the next wall in the time that is left, if there is one.
    fn next_wall(&mut self, terrain: &(impl Terrain + ?Sized)) -> Option<Hit> {
        let Flight { left, passed, count, .. } = self.ball.flight;
        let displacement = self.ball.displacement(left);
        let next = self.ball.next(displacement, terrain, None, &passed).filter(|_| count < MAX_BOUNCES);
        let Some(Next::Wall(hit, part)) = next else { return None };
        self.ball.touch(&hit, displacement, part, terrain);
        self.ball.flight = Flight { left: left * (1.0 - part), count: count + 1, ..self.ball.flight };
        Some(hit)
    }
}
