//! Fixed ticks from uneven frames.
//!
//! A game draws as often as it can and moves in even ticks. [`Ticks`] says how many ticks a frame is worth, and
//! how far between the last two the picture is.

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::tolerance::TICK_ROUNDING;

/// The most ticks that one frame makes up for where nothing else is said.
const USUAL_MOST: u32 = 8;

/// Fixed ticks from uneven frames.
///
/// ```
/// use ambulant::time::Ticks;
/// use glam::{Vec2, vec2};
///
/// let mut ticks = Ticks::new(60.0)?;
/// let (mut last, mut now) = (Vec2::ZERO, Vec2::ZERO);
/// // A frame of 40 ms is worth two ticks, and the picture is two fifths on to the next one.
/// for _ in 0..ticks.advance(0.04) {
///     (last, now) = (now, now + vec2(3.0, 0.0) * ticks.seconds());
/// }
/// assert!((ticks.fraction() - 0.4).abs() < 1e-4);
/// let drawn = last.lerp(now, ticks.fraction());
/// assert!((drawn.x - 0.07).abs() < 1e-4);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Ticks {
    rate: f32,
    most: u32,
    time_scale: f32,
    paused: bool,
    /// Ticks asked for while paused.
    single: u32,
    /// In ticks: what frames have brought and no tick has used yet.
    saved: f64,
    dropped: f64,
}

impl Ticks {
    /// So many ticks a second, at full speed; a long frame makes up for at most eight of them.
    ///
    /// # Errors
    /// The rate must be finite and above 0.
    pub fn new(rate: f32) -> Result<Self, InvalidNumber> {
        let rate = above_zero("rate", rate, "a finite number above 0 (ticks per second)")?;
        Ok(Self {
            rate,
            most: USUAL_MOST,
            time_scale: 1.0,
            paused: false,
            single: 0,
            saved: 0.0,
            dropped: 0.0,
        })
    }

    /// The same, with another limit on the ticks of one frame; what a longer frame brings is dropped, so that a
    /// slow machine plays slowly instead of never catching up. A limit of 0 counts as 1.
    #[must_use]
    pub const fn with_most(mut self, most: u32) -> Self {
        self.most = if most == 0 { 1 } else { most };
        self
    }

    /// Plays at a part of full speed from now on: 0.25 is slow motion, 2 is twice as fast.
    ///
    /// # Errors
    /// The time scale must be finite and at least 0.
    pub fn set_time_scale(&mut self, time_scale: f32) -> Result<(), InvalidNumber> {
        self.time_scale = at_least_zero("time_scale", time_scale, "a finite factor of at least 0")?;
        Ok(())
    }

    /// Stops or goes on; the picture stays where it is between two ticks.
    pub const fn set_paused(&mut self, paused: bool) {
        self.paused = paused;
        self.single = 0;
    }

    /// Asks for one tick in the next frame although it is paused.
    pub const fn step(&mut self) {
        if self.paused {
            self.single += 1;
        }
    }

    /// Whether it is paused.
    #[must_use]
    pub const fn is_paused(&self) -> bool {
        self.paused
    }

    /// How many ticks a frame of so many seconds is worth. A time that is negative or not finite is worth none.
    #[must_use]
    pub fn advance(&mut self, seconds: f32) -> u32 {
        if self.paused {
            return core::mem::take(&mut self.single);
        }
        if seconds.is_finite() && seconds > 0.0 {
            self.saved += f64::from(seconds) * f64::from(self.rate) * f64::from(self.time_scale);
        }
        // A tick that is due but for rounding is due.
        let due = libm::floor(self.saved + TICK_ROUNDING).max(0.0);
        let played = due.min(f64::from(self.most));
        self.saved -= due;
        self.dropped += due - played;
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "at most the limit, and not negative"
        )]
        let played = played as u32;
        played
    }

    /// How long a tick lasts, in seconds.
    #[must_use]
    pub fn seconds(&self) -> f32 {
        1.0 / self.rate
    }

    /// How far the picture is from the last but one tick to the last one, 0 to 1.
    #[must_use]
    pub fn fraction(&self) -> f32 {
        #[expect(clippy::cast_possible_truncation, reason = "a fraction, rounded once")]
        let fraction = self.saved.clamp(0.0, 1.0) as f32;
        fraction
    }

    /// How many ticks were dropped so far because frames were too long.
    #[must_use]
    pub const fn dropped(&self) -> f64 {
        self.dropped
    }
}
