//! The walk cycle: which frame of an animation to show.

use crate::error::{InvalidNumber, above_zero};
use crate::saved::restored;
use crate::time::seconds;
use crate::tolerance::FRAME_ROUNDING;

/// What advances a walk cycle.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum DrivenBy {
    /// Distance, in units per cycle: feet do not slide.
    Distance(f32),
    /// Time, in seconds per cycle.
    Time(f32),
}

/// A walk cycle.
///
/// ```
/// use ambulant::pose::WalkCycle;
///
/// // Four frames for 32 units of way.
/// let mut cycle = WalkCycle::by_distance(32.0, 4)?;
/// cycle.tick(9.0, 0.15, true);
/// assert_eq!((cycle.frame(), cycle.phase()), (1, 9.0 / 32.0));
/// cycle.tick(0.0, 0.15, true); // against a wall it stands still
/// assert_eq!(cycle.frame(), 1);
/// cycle.tick(0.0, 0.15, false);
/// assert_eq!(cycle.frame(), 0); // standing: the first frame
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct WalkCycle {
    by: DrivenBy,
    frames: u32,
    phase: f64,
}

restored!(
    WalkCycle { by: DrivenBy, frames: u32, phase: f64 } as saved => {
        let cycle = match saved.by {
            DrivenBy::Distance(units) => WalkCycle::by_distance(units, saved.frames)?,
            DrivenBy::Time(seconds) => WalkCycle::by_time(seconds, saved.frames)?,
        };
        ensure(saved.frames > 0, "frames must be above 0")?;
        ensure((0.0..=1.0).contains(&saved.phase), "phase must be from 0 to 1")?;
        Ok(WalkCycle { phase: saved.phase, ..cycle })
    }
);

impl WalkCycle {
    /// A cycle that advances by distance: units per cycle, and number of frames.
    ///
    /// # Errors
    /// The length must be finite and above 0; no frames count as one.
    pub fn by_distance(units: f32, frames: u32) -> Result<Self, InvalidNumber> {
        let units = above_zero("units", units, "a finite number above 0 (units for a cycle)")?;
        Ok(Self { by: DrivenBy::Distance(units), frames: frames.max(1), phase: 0.0 })
    }

    /// A cycle that advances by time while the mover moves: seconds per cycle, and number of frames.
    ///
    /// # Errors
    /// The time must be finite and above 0; no frames count as one.
    pub fn by_time(seconds: f32, frames: u32) -> Result<Self, InvalidNumber> {
        let seconds = above_zero("seconds", seconds, "a finite number above 0 (seconds for a cycle)")?;
        Ok(Self { by: DrivenBy::Time(seconds), frames: frames.max(1), phase: 0.0 })
    }

    /// Advances by the distance moved in a tick, in units, or by its time in seconds; standing restarts the cycle.
    pub fn tick(&mut self, distance: f32, dt: f32, moving: bool) {
        let part = match self.by {
            DrivenBy::Distance(units) if distance.is_finite() => f64::from(distance.abs()) / f64::from(units),
            DrivenBy::Time(time) => f64::from(seconds(dt)) / f64::from(time),
            DrivenBy::Distance(_) => 0.0,
        };
        let phase = self.phase + part;
        self.phase = if moving { phase - libm::floor(phase) } else { 0.0 };
    }

    /// The phase of the cycle, from 0 up to 1.
    #[must_use]
    pub fn phase(&self) -> f32 {
        #[expect(clippy::cast_possible_truncation, reason = "a fraction, rounded once")]
        let phase = self.phase as f32;
        phase.min(1.0 - f32::EPSILON)
    }

    /// The frame to show, from 0.
    #[must_use]
    pub fn frame(&self) -> u32 {
        // A frame that is missing only by rounding is due.
        let frame = libm::floor(self.phase * f64::from(self.frames) + FRAME_ROUNDING);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "below the number of frames"
        )]
        let frame = frame as u32;
        frame % self.frames
    }
}
