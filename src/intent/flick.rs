//! A flick: a drag from one point to another that launches something.

use glam::Vec2;

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::restored;

/// How a drag becomes a launch velocity.
///
/// ```
/// use ambulant::intent::Flick;
/// use glam::{Vec2, vec2};
///
/// let flick = Flick::new(1.5, 300.0, 4.0)?; // gain, fastest launch, longest tap
/// let launch = flick.launch(Vec2::ZERO, vec2(20.0, 0.0), 0.1).unwrap();
/// assert!((launch - vec2(300.0, 0.0)).length() < 1e-3); // 200 units/s, times 1.5
/// assert!(flick.launch(Vec2::ZERO, vec2(3.0, 0.0), 0.1).is_none()); // a tap
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Flick {
    gain: f32,
    limit: f32,
    min_drag: f32,
}

restored!(
    Flick { gain: f32, limit: f32, min_drag: f32 } as saved => {
        Ok(Flick::new(saved.gain, saved.limit, saved.min_drag)?)
    }
);

impl Flick {
    /// A flick from its gain (launch speed divided by drag speed), the greatest launch speed (units/s), and the
    /// length up to which a drag is a tap (units).
    ///
    /// # Errors
    /// The gain and the limit must be finite and above 0, the tap length finite and at least 0.
    pub fn new(gain: f32, limit: f32, min_drag: f32) -> Result<Self, InvalidNumber> {
        Ok(Self {
            gain: above_zero("gain", gain, "a finite number above 0 (launch speed over drag speed)")?,
            limit: above_zero("limit", limit, "a finite number above 0 (units/s)")?,
            min_drag: at_least_zero("min_drag", min_drag, "a finite number of at least 0 (units)")?,
        })
    }

    /// The launch velocity of a drag that took some seconds; `None` for a tap, and for points or a time that are not
    /// finite. A drag in no time launches at the limit.
    #[must_use]
    pub fn launch(&self, from: Vec2, to: Vec2, seconds: f32) -> Option<Vec2> {
        let drag = to - from;
        let length = drag.length();
        if !length.is_finite() || !seconds.is_finite() || length <= self.min_drag || length == 0.0 {
            return None;
        }
        let speed = if seconds > 0.0 { (length / seconds * self.gain).min(self.limit) } else { self.limit };
        Some(drag * (speed / length))
    }
}
