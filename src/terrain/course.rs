//! A long motion of a wall: open, wait, close, as often as needed, with a clock of its own.
//!
//! A world knows how its walls move in one tick only. A course knows the rest and yields the pieces of each tick.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::moving::WallMotion;
use crate::InvalidNumber;
use crate::error::finite_vector;
use crate::saved::{Version, restored};
use crate::time::seconds;
use crate::tolerance::{FASTEST_WALL, MOST_LEGS_IN_TICK, SAME_PLACE, SAME_TIME, SHORTEST_LEG};

/// How a wall or a floor moves for a longer time: even motions and waits, one after the other, once or for ever.
///
/// A course has its own clock, in seconds. Each tick it yields the pieces for [`World::move_in`](super::World::move_in).
/// A wall that had to wait goes on later: advance the course by the time for which the wall did move. The game keeps and
/// saves it.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::Course;
///
/// let mut world = World::new();
/// let door = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(2.0, 8.0))?);
/// let mut opens_and_closes = Course::new().moves(vec2(0.0, -8.0), 1.0)?.waits(2.0)?.moves(vec2(0.0, 8.0), 0.5)?;
/// for _ in 0..150 {
///     world.move_in(door, opens_and_closes.pieces(0.01));
///     // ...all movers tick here...
///     world.advance(0.01);
///     opens_and_closes.advance(0.01);
/// }
/// assert!((world.solid(door).unwrap().bounds().min.y + 8.0).abs() < 1e-5); // it waits, open
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Course {
    version: Version<1>,
    /// Each with its displacement and how long it takes.
    legs: Vec<(Vec2, f32)>,
    loops: bool,
    clock: f64,
}

restored!(Course { version: Version<1>, legs: Vec<(Vec2, f32)>, loops: bool, clock: f64 } as saved => {
    let fields::Course { version: Version, legs, loops, clock } = saved;
    let legs = legs.into_iter();
    let mut course = legs.into_iter().try_fold(Course::new(), |course, (by, lasts)| course.moves(by, lasts))?;
    if loops {
        course = course.looping()?;
    }
    ensure(clock.is_finite() && clock >= 0.0, "clock must be finite and not below 0")?;
    Ok(Course { clock, ..course })
});

impl Course {
    /// A course without motions.
    #[must_use]
    pub const fn new() -> Self {
        Self { version: Version, legs: Vec::new(), loops: false, clock: 0.0 }
    }

    /// Adds an even motion: a displacement in units, and how long it takes in seconds.
    ///
    /// # Errors
    /// The displacement must be finite, with at most a million units/s along each axis. It must last for at least a
    /// millionth of a second, and for a finite time.
    pub fn moves(mut self, displacement: Vec2, lasts: f32) -> Result<Self, InvalidNumber> {
        if !(lasts >= SHORTEST_LEG && lasts.is_finite()) {
            return Err(InvalidNumber::new(
                "seconds",
                lasts,
                "a finite number of at least 0.000001 (seconds)",
            ));
        }
        let displacement = finite_vector("displacement", displacement, "a vector of finite numbers (units)")?;
        let speed = (displacement / lasts).abs().max_element();
        if speed > FASTEST_WALL {
            return Err(InvalidNumber::new("speed", speed, "at most 1000000 along each axis (units/s)"));
        }
        self.legs.push((displacement, lasts));
        Ok(self)
    }

    /// Adds a wait of some seconds.
    ///
    /// # Errors
    /// As for [`moves`](Self::moves).
    pub fn waits(self, lasts: f32) -> Result<Self, InvalidNumber> {
        self.moves(Vec2::ZERO, lasts)
    }

    /// Begins again at its end, for ever.
    ///
    /// # Errors
    /// It must end where it began, and must not be empty.
    pub fn looping(mut self) -> Result<Self, InvalidNumber> {
        if self.legs.is_empty() {
            return Err(InvalidNumber::new("legs", 0.0, "at least one, so that the course can loop"));
        }
        let (sum, scale) = (self.offset_at(self.seconds()), self.legs.iter());
        let furthest = scale.fold(0.0f64, |most, (by, _)| most.max(f64::from(by.abs().max_element())));
        let apart = sum.abs().max_element();
        if apart > furthest * SAME_PLACE {
            let (vector, wanted) =
                (sum.as_vec2(), "zero in sum, so that the course ends where it began (units)");
            let value = if sum.x.abs() == apart { vector.x } else { vector.y };
            return Err(InvalidNumber::vector("displacement", vector, value, wanted));
        }
        self.loops = true;
        Ok(self)
    }

    /// How long it takes once, in seconds.
    #[must_use]
    pub fn seconds(&self) -> f64 {
        self.legs.iter().map(|(_, lasts)| f64::from(*lasts)).sum()
    }

    /// Its clock: for how many seconds it has moved.
    #[must_use]
    pub const fn clock(&self) -> f64 {
        self.clock
    }

    /// How far the wall is from where it was at first, in units.
    #[must_use]
    pub fn offset(&self) -> Vec2 {
        self.offset_at(self.clock).as_vec2()
    }

    /// How far from its start the course is at a time on its clock, in units.
    #[must_use]
    pub fn offset_at(&self, clock: f64) -> DVec2 {
        let mut rest = self.within(clock);
        self.legs.iter().fold(DVec2::ZERO, |sum, (by, lasts)| {
            let part = (rest / f64::from(*lasts)).clamp(0.0, 1.0);
            rest -= f64::from(*lasts);
            sum + by.as_dvec2() * part
        })
    }

    /// Whether it has ended; one that loops never does.
    #[must_use]
    pub fn has_ended(&self) -> bool {
        !self.loops && self.clock >= self.seconds() - SAME_TIME
    }

    /// The pieces of the next `dt` seconds, one after the other; one that lasts to their end has no end. After the last one
    /// the wall stands.
    ///
    /// A tick has at most 4,096 of them; a longer one moves the wall, and the clock, no further. A `dt` that is zero,
    /// negative or not finite has none.
    pub fn pieces(&self, dt: f32) -> impl Iterator<Item = WallMotion> + '_ {
        let mut rest = f64::from(seconds(dt));
        self.parts(dt).map(move |(velocity, lasts)| {
            rest -= lasts;
            // It must not stand for what rounding leaves of the tick.
            WallMotion::new(velocity, if rest > 0.0 { rounded(lasts) } else { f32::INFINITY })
        })
    }

    /// Advances the clock by `dt` seconds, or by the time for which the wall could move. A `dt` that is zero, negative or
    /// not finite does not.
    pub fn advance(&mut self, dt: f32) {
        let lasts: f64 = self.parts(dt).map(|(_, lasts)| lasts).sum();
        self.clock += lasts;
    }

    /// The velocity and the seconds of each piece.
    fn parts(&self, dt: f32) -> impl Iterator<Item = (Vec2, f64)> + '_ {
        let (mut into, mut next) = (self.within(self.clock), 0);
        while let Some((_, lasts)) = self.legs.get(next).filter(|(_, lasts)| into >= f64::from(*lasts)) {
            into -= f64::from(*lasts);
            next += 1;
        }
        let mut rest = f64::from(seconds(dt));
        let parts = core::iter::from_fn(move || {
            if rest <= 0.0 {
                return None;
            }
            if next == self.legs.len() && self.loops {
                next = 0;
            }
            let &(by, whole) = self.legs.get(next)?;
            let lasts = (f64::from(whole) - into).min(rest);
            (rest, into, next) = if lasts < rest { (rest - lasts, 0.0, next + 1) } else { (0.0, into, next) };
            Some((by / whole, lasts))
        });
        parts.filter(|(_, lasts)| *lasts > 0.0).take(MOST_LEGS_IN_TICK)
    }

    /// A time on the clock within the first round.
    fn within(&self, clock: f64) -> f64 {
        if self.loops { libm::fmod(clock, self.seconds()) } else { clock }
    }
}

#[expect(clippy::cast_possible_truncation, reason = "a part of a tick, rounded once")]
const fn rounded(lasts: f64) -> f32 {
    lasts as f32
}
