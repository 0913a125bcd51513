//! Time: valid tick lengths, and fixed ticks from uneven frames.

mod ticks;

pub use ticks::Ticks;

/// A `dt` as every call uses it: seconds above zero, or zero.
#[inline]
pub(crate) fn seconds(dt: f32) -> f32 {
    if dt.is_finite() && dt > 0.0 { dt } else { 0.0 }
}
