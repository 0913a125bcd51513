//! Standing or moving, and when it changed.

use crate::error::{InvalidNumber, at_least_zero};
use crate::saved::restored;
use crate::time::seconds;

/// Whether a mover stands or moves.
///
/// ```
/// use ambulant::pose::Stance;
///
/// // Moving from 5 units/s on, standing below 1, idle after two seconds.
/// let mut stance = Stance::new(5.0, 1.0, 2.0)?;
/// assert!(stance.tick(60.0, 0.1) && stance.is_moving());
/// assert!(!stance.tick(3.0, 0.1) && stance.is_moving()); // not slow enough to stand
/// assert!(stance.tick(0.0, 0.1) && !stance.is_moving()); // it stopped in this tick
/// assert!(!stance.tick(0.0, 2.0) && stance.is_idle());
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Stance {
    starts_at: f32,
    stops_at: f32,
    idle_after: f32,
    moving: bool,
    lasts: f64,
}

restored!(
    Stance { starts_at: f32, stops_at: f32, idle_after: f32, moving: bool, lasts: f64 } as saved => {
        ensure(
            saved.lasts.is_finite() && saved.lasts >= 0.0,
            "lasts must be finite and at least 0 (seconds)",
        )?;
        let stance = Stance::new(saved.starts_at, saved.stops_at, saved.idle_after)?;
        Ok(Stance { moving: saved.moving, lasts: saved.lasts, ..stance })
    }
);

impl Stance {
    /// Stands until its speed is above `starts`, then moves until its speed is at or below `stops`, in units/s. It is
    /// idle after standing for some seconds.
    ///
    /// # Errors
    /// All must be finite and at least 0, and `stops` no higher than `starts`.
    pub fn new(starts_at: f32, stops_at: f32, idle_after: f32) -> Result<Self, InvalidNumber> {
        let speed = "a finite number of at least 0 (units/s)";
        let starts_at = at_least_zero("starts_at", starts_at, speed)?;
        let stops_at = at_least_zero("stops_at", stops_at, speed)?;
        if stops_at > starts_at {
            return Err(InvalidNumber::new("stops_at", stops_at, "at most the speed at which it starts"));
        }
        let idle_after = at_least_zero("idle_after", idle_after, "a finite number of at least 0 (seconds)")?;
        Ok(Self { starts_at, stops_at, idle_after, moving: false, lasts: 0.0 })
    }

    /// Takes in the speed at the end of a tick of `dt` seconds, in units/s; returns whether it changed.
    pub fn tick(&mut self, speed: f32, dt: f32) -> bool {
        let moving = if self.moving { speed > self.stops_at } else { speed > self.starts_at };
        let changed = moving != self.moving;
        self.lasts = if changed { 0.0 } else { self.lasts + f64::from(seconds(dt)) };
        self.moving = moving;
        changed
    }

    /// Whether it moves.
    #[must_use]
    pub const fn is_moving(&self) -> bool {
        self.moving
    }

    /// Whether it has stood for long enough to be idle.
    #[must_use]
    pub fn is_idle(&self) -> bool {
        !self.moving && self.lasts >= f64::from(self.idle_after)
    }

    /// How long it has stood or moved, in seconds.
    #[must_use]
    pub const fn lasts(&self) -> f64 {
        self.lasts
    }
}
