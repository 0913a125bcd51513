//! Projectiles: aimed once, swept, and over at the first wall, or after some bounces, a range or a time.

use glam::Vec2;

use super::ball::{Ball, BallState};
use super::decision::{BallDoes, Decision};
use super::flight::{Flight, Reached};
use super::queue::Flier;
use crate::direction::Side;
use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::{Version, restored};
use crate::shape::Footprint;
use crate::terrain::{Hit, Layers, Terrain, World};
use crate::time::seconds;
use crate::travel::Squeeze;

/// Why and when a projectile's flight ended; the instants are in seconds into the tick in which it did.
///
/// ```
/// use ambulant::arcade::FlightEnd;
/// use ambulant::prelude::*;
///
/// let puff = Projectile::aimed(Vec2::ZERO, vec2(5.0, 0.0), 10.0, Footprint::circle(1.0)?)?;
/// let end = puff.with_range(2.5)?.tick(1.0, &World::new());
/// assert_eq!(end, Some(FlightEnd::OutOfRange { seconds: 0.25 }));
/// let end = puff.with_time(0.5)?.tick(1.0, &World::new());
/// assert_eq!(end, Some(FlightEnd::Expired { seconds: 0.5 }));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum FlightEnd {
    /// It hit a wall and had no bounces left, or a wall came and hit it.
    Hit {
        /// The hit: the wall, its tag, its velocity, the point and the normal.
        hit: Hit,
        /// When.
        seconds: f32,
    },
    /// It reached its range.
    OutOfRange {
        /// When.
        seconds: f32,
    },
    /// Its time was over.
    Expired {
        /// When.
        seconds: f32,
    },
    /// It left the play area on an open side.
    Left {
        /// The side.
        side: Side,
        /// When.
        seconds: f32,
    },
    /// It was squeezed between walls that close.
    Squeezed(Squeeze),
}

impl FlightEnd {
    /// When, in seconds into the tick in which it ended.
    #[must_use]
    pub const fn seconds(&self) -> f32 {
        match *self {
            Self::Hit { seconds, .. }
            | Self::OutOfRange { seconds }
            | Self::Expired { seconds }
            | Self::Left { seconds, .. } => seconds,
            Self::Squeezed(squeeze) => squeeze.seconds,
        }
    }
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
/// let Some(FlightEnd::Hit { hit, seconds }) = puff.tick(0.1, &posts) else { panic!("it flies into the post") };
/// assert_eq!((hit.wall, hit.point), (post, vec2(55.0, 0.0)));
/// assert!((seconds - 0.035).abs() < 1e-6); // into the second tick
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

    /// What it does at a wall by itself: it bounces while it has bounces left, and then stops, which ends its flight.
    pub fn decision(&self) -> Decision {
        if self.bounces > 0 { Decision::bounce(1.0) } else { Decision::STOP }
    }

    /// Moves for `dt` seconds. Walls that move are met where they are at that instant, also if they come to a projectile
    /// that is slower. On open and wrapping sides of the terrain's play area it leaves or enters on the other side.
    ///
    /// Returns why and when the flight ended, also at every later call: it stays where it ended. For walls that break, see
    /// [`tick_projectiles`](super::tick_projectiles).
    pub fn tick(&mut self, dt: f32, terrain: &(impl Terrain + ?Sized)) -> Option<FlightEnd> {
        self.begin(f64::from(seconds(dt)));
        while let Some(next) = self.ball.next(terrain) {
            match self.ball.go_to(next, None, None, terrain) {
                Some(Reached::Wall(hit)) => {
                    let does = self.decision().ball;
                    self.ball.respond(does, &hit, None, false);
                    self.met(does, &hit);
                }
                Some(Reached::Squeezed(squeeze)) => self.squeezed(squeeze),
                Some(Reached::Left(side)) => self.left(side),
                Some(Reached::End) => self.is_over(),
                Some(Reached::Wrapped(_)) | None => {}
            }
        }
        if self.ball.is_in_play() {
            self.ball.fly_out();
        }
        self.end();
        self.ended
    }

    /// Why and when its flight ended; `None` while it flies.
    #[must_use]
    pub const fn ended(&self) -> Option<FlightEnd> {
        self.ended
    }

    fn end_with(&mut self, end: FlightEnd) {
        self.ball.take_out(BallState::Removed);
        self.ended = Some(end);
    }

    /// After it has done something at a wall.
    pub(super) fn met(&mut self, does: BallDoes, hit: &Hit) {
        match does {
            BallDoes::Stop | BallDoes::Remove => {
                self.end_with(FlightEnd::Hit { hit: *hit, seconds: self.ball.flight.now() });
            }
            BallDoes::Bounce(_) | BallDoes::Deflect(_) => self.bounces = self.bounces.saturating_sub(1),
            BallDoes::PassThrough => {}
        }
    }

    /// After its ball has left the play area.
    pub(super) fn left(&mut self, side: Side) {
        self.end_with(FlightEnd::Left { side, seconds: self.ball.flight.now() });
    }

    /// After its ball was squeezed.
    pub(super) fn squeezed(&mut self, squeeze: Squeeze) {
        self.end_with(FlightEnd::Squeezed(squeeze));
    }

    /// After its range or its time has run out.
    pub(super) fn is_over(&mut self) {
        let Flight { lasts, range, .. } = self.ball.flight;
        let (seconds, speed) = (self.ball.flight.now(), f64::from(self.ball.velocity.length()));
        let by_time = lasts * speed <= range;
        self.end_with(if by_time {
            FlightEnd::Expired { seconds }
        } else {
            FlightEnd::OutOfRange { seconds }
        });
        let flight = &mut self.ball.flight;
        *(if by_time { &mut flight.lasts } else { &mut flight.range }) = 0.0;
    }
}

impl Flier for Projectile {
    fn ball(&self) -> &Ball {
        &self.ball
    }

    fn ball_mut(&mut self) -> &mut Ball {
        &mut self.ball
    }

    #[expect(clippy::cast_possible_truncation, reason = "what is left, rounded once")]
    fn fly_free(&mut self, whole: f64, world: &World) -> bool {
        let lasts = f64::from(self.lasts) - whole;
        let range = match self.range.is_finite() {
            true => f64::from(self.range) - whole * f64::from(self.ball.velocity.length()),
            false => f64::INFINITY,
        };
        let flies = !self.ball.is_in_play() || lasts > 0.0 && range > 0.0;
        let is_free = flies && self.ball.fly_free(whole, world);
        if is_free && self.ball.is_in_play() {
            (self.lasts, self.range) = (lasts as f32, range as f32);
        }
        is_free
    }

    fn begin(&mut self, whole: f64) {
        self.ball.flight.begin(whole);
        (self.ball.flight.lasts, self.ball.flight.range) = (self.lasts.into(), self.range.into());
    }

    #[expect(clippy::cast_possible_truncation, reason = "what is left, rounded once")]
    fn end(&mut self) {
        (self.lasts, self.range) = (self.ball.flight.lasts as f32, self.ball.flight.range as f32);
    }
}
