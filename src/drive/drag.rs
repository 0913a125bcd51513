//! Drag: how fast a speed fades, from any of its usual forms.
//!
//! All are forms of the one rate `k` in `v(t) = v(0) exp(-k t)`: a half-life `h` is `k = ln 2 / h`, a
//! fraction `f` kept in `s` seconds is `k = -ln f / s`.

use core::f32::consts::LN_2;

use crate::error::{InvalidNumber, above_zero, at_least_zero};

/// How fast a speed fades.
///
/// ```
/// use ambulant::drive::Drag;
///
/// // A game that multiplied by 0.95 in each of its 60 frames a second keeps 4.6 % a second.
/// let drag = Drag::kept_per_frame(0.95, 60.0)?;
/// assert!((drag.rate() - 3.0776).abs() < 1e-4);
/// assert!((drag.rate() - Drag::kept_per_second(0.95f32.powi(60))?.rate()).abs() < 1e-4);
/// assert!((Drag::half_life(0.5)?.rate() - 1.3863).abs() < 1e-4);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Drag(f32);

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Drag {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Self::per_second(f32::deserialize(deserializer)?).map_err(serde::de::Error::custom)
    }
}

impl Drag {
    /// No drag: a speed lasts for ever.
    pub const NONE: Self = Self(0.0);

    /// From the rate, per second.
    ///
    /// # Errors
    /// The rate must be finite and at least 0.
    pub fn per_second(rate: f32) -> Result<Self, InvalidNumber> {
        Ok(Self(at_least_zero("drag", rate, "a finite number of at least 0 (per second)")?))
    }

    /// From the seconds in which a speed halves.
    ///
    /// # Errors
    /// They must be finite and above 0.
    pub fn half_life(seconds: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number above 0 (seconds)";
        Self::per_second(LN_2 / above_zero("half_life", seconds, wanted)?)
    }

    /// From the fraction of a speed that is left after a second.
    ///
    /// # Errors
    /// It must be above 0 and at most 1.
    pub fn kept_per_second(fraction: f32) -> Result<Self, InvalidNumber> {
        Ok(Self(-libm::logf(kept("kept_per_second", fraction)?) + 0.0))
    }

    /// From the fraction that each frame of an existing game keeps, at its frames per second.
    ///
    /// # Errors
    /// The fraction must be above 0 and at most 1, the frame rate finite and above 0.
    pub fn kept_per_frame(fraction: f32, frame_rate: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number above 0 (frames per second)";
        let frame_rate = above_zero("frame_rate", frame_rate, wanted)?;
        Self::per_second(-libm::logf(kept("kept_per_frame", fraction)?) * frame_rate + 0.0)
    }

    /// The rate, per second.
    #[must_use]
    pub const fn rate(self) -> f32 {
        self.0
    }
}

fn kept(field: &'static str, fraction: f32) -> Result<f32, InvalidNumber> {
    if fraction > 0.0 && fraction <= 1.0 {
        return Ok(fraction);
    }
    Err(InvalidNumber::new(field, fraction, "above 0 and at most 1 (fraction kept)"))
}
