//! Times: a run counts in `f64`, a tick of the library takes `f32`.

/// Seconds of a step, as the library takes them.
#[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
pub(super) const fn seconds(lasts: f64) -> f32 {
    lasts as f32
}
