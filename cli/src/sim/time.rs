//! Times: a run counts in `f64`, a tick of the library takes `f32`.

/// Seconds of a step, as the library takes them.
#[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
pub(super) const fn seconds(lasts: f64) -> f32 {
    lasts as f32
}

/// When a tick ends, in seconds: the nearest time whose distance from the one before an `f32` holds, so that the clock of a run
/// shows what is played, and no rounding adds up.
pub(crate) fn time_of(tick: u32, tick_rate: f64) -> f64 {
    let step = (-tick_rate.log2()).ceil().exp2() * 0.5 * f64::from(f32::EPSILON);
    (f64::from(tick) / tick_rate / step).round() * step
}
