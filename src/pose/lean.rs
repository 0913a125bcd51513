//! A lean toward the motion.
//!
//! The lean approaches its target as `a(t) = target + (a(0) - target) 2^(-t / h)` for a half-life `h`, so the length
//! of a tick does not matter.

#[cfg(feature = "serde")]
use crate::error::finite;
use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::restored;
use crate::time::seconds;

/// A lean toward the motion, with a limit and a settling time.
///
/// ```
/// use ambulant::pose::Lean;
///
/// // A tenth of a radian at 100 units/s, at most a quarter, half-way there every 0.1 s.
/// let mut lean = Lean::new(0.001, 0.25, 0.1)?;
/// lean.tick(100.0, 0.1);
/// assert!((lean.radians() - 0.05).abs() < 1e-6);
/// lean.tick(-9000.0, 10.0);
/// assert!((lean.radians() + 0.25).abs() < 1e-6);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Lean {
    per_speed: f32,
    limit: f32,
    half_life: f32,
    radians: f32,
}

restored!(
    Lean { per_speed: f32, limit: f32, half_life: f32, radians: f32 } as saved => {
        let radians = finite("radians", saved.radians, "a finite number (radians)")?;
        Ok(Lean { radians, ..Lean::new(saved.per_speed, saved.limit, saved.half_life)? })
    }
);

impl Lean {
    /// Leans by this many radians per unit/s sideways, up to a limit in radians. Half of the remaining lean is made
    /// in each half-life, in seconds.
    ///
    /// # Errors
    /// The first two must be finite and at least 0, the half-life finite and above 0.
    pub fn new(per_speed: f32, limit: f32, half_life: f32) -> Result<Self, InvalidNumber> {
        Ok(Self {
            per_speed: at_least_zero(
                "per_speed",
                per_speed,
                "a finite number of at least 0 (radians s/unit)",
            )?,
            limit: at_least_zero("limit", limit, "a finite number of at least 0 (radians)")?,
            half_life: above_zero("half_life", half_life, "a finite number above 0 (seconds)")?,
            radians: 0.0,
        })
    }

    /// Approaches the lean for a sideways speed, in units/s: positive to the right.
    pub fn tick(&mut self, speed: f32, dt: f32) {
        let aim = (speed * self.per_speed).clamp(-self.limit, self.limit);
        if aim.is_finite() {
            let kept = libm::exp2f(-seconds(dt) / self.half_life);
            self.radians = aim + (self.radians - aim) * kept;
        }
    }

    /// The lean in radians: positive to the right.
    #[must_use]
    pub const fn radians(&self) -> f32 {
        self.radians
    }
}
