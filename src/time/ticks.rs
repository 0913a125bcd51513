//! Fixed ticks from uneven frames.
//!
//! A game draws as often as it can and moves in fixed ticks. [`Ticks`] returns how many ticks to play in a frame and
//! the interpolation factor for drawing.

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::restored;
use crate::tolerance::TICK_ROUNDING;

/// The default limit of ticks per frame.
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
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Ticks {
    rate: f32,
    most: u32,
    time_scale: f32,
    paused: bool,
    /// Ticks requested while paused.
    single: u32,
    /// Time from frames that no tick has used yet, in ticks.
    saved: f64,
    dropped: f64,
}

restored!(
    Ticks { rate: f32, most: u32, time_scale: f32, paused: bool, single: u32, saved: f64, dropped: f64 } as ticks => {
            ensure(ticks.most > 0, "most must be above 0 (ticks)")?;
            // A tick that is missing only by rounding is played, so a little below 0.
            ensure((-1.0..1.0).contains(&ticks.saved), "saved must be a part of a tick")?;
            ensure(ticks.dropped >= 0.0, "dropped must be at least 0 (ticks)")?;
            let mut restored = Ticks::new(ticks.rate)?.with_most(ticks.most);
            restored.set_time_scale(ticks.time_scale)?;
            let fields::Ticks { paused, single, saved, dropped, .. } = ticks;
            Ok(Ticks { paused, single, saved, dropped, ..restored })
        }
);

impl Ticks {
    /// A number of ticks per second at full speed, with at most eight ticks per frame.
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

    /// Sets the limit of ticks per frame. Time beyond it is dropped, so that a slow machine plays slowly instead of
    /// never catching up. A limit of 0 counts as 1.
    #[must_use]
    pub const fn with_most(mut self, most: u32) -> Self {
        self.most = if most == 0 { 1 } else { most };
        self
    }

    /// Sets the time scale: 0.25 is slow motion, 2 is double speed.
    ///
    /// # Errors
    /// The time scale must be finite and at least 0.
    pub fn set_time_scale(&mut self, time_scale: f32) -> Result<(), InvalidNumber> {
        self.time_scale = at_least_zero("time_scale", time_scale, "a finite factor of at least 0")?;
        Ok(())
    }

    /// Pauses or continues; the interpolation factor stays the same.
    pub const fn set_paused(&mut self, paused: bool) {
        self.paused = paused;
        self.single = 0;
    }

    /// Plays one tick in the next frame even if paused.
    pub const fn step(&mut self) {
        if self.paused {
            self.single = self.single.saturating_add(1);
        }
    }

    /// Whether it is paused.
    #[must_use]
    pub const fn is_paused(&self) -> bool {
        self.paused
    }

    /// How many ticks to play in a frame of this many seconds. Negative and non-finite times count as none.
    #[must_use]
    pub fn advance(&mut self, seconds: f32) -> u32 {
        if self.paused {
            return core::mem::take(&mut self.single);
        }
        if seconds.is_finite() && seconds > 0.0 {
            self.saved += f64::from(seconds) * f64::from(self.rate) * f64::from(self.time_scale);
        }
        // A tick that is missing only by rounding is due.
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

    /// The length of a tick, in seconds.
    #[must_use]
    pub fn seconds(&self) -> f32 {
        1.0 / self.rate
    }

    /// The interpolation factor for drawing: 0 at the tick before the last one, 1 at the last one.
    #[must_use]
    pub fn fraction(&self) -> f32 {
        #[expect(clippy::cast_possible_truncation, reason = "a fraction, rounded once")]
        let fraction = self.saved.clamp(0.0, 1.0) as f32;
        fraction
    }

    /// How many ticks were dropped because frames were too long.
    #[must_use]
    pub const fn dropped(&self) -> f64 {
        self.dropped
    }
}
