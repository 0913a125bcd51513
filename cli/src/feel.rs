//! The figures of a drive's feel as the tool names them.

use ambulant::drive::Feel;

/// One figure of a feel.
pub(crate) type Figure = fn(&Feel) -> Option<f32>;

/// Names, figures and units.
pub(crate) const FIGURES: [(&str, Figure, &str); 7] = [
    ("top speed", |feel| feel.top_speed, "units/s"),
    ("to 90 %", |feel| feel.seconds_to_speed, "s"),
    ("to stop", |feel| feel.seconds_to_stop, "s"),
    ("stop distance", |feel| feel.stop_distance, "units"),
    ("turn back", |feel| feel.seconds_to_turn_back, "s"),
    ("0.1 s tap", |feel| feel.tap_distance, "units"),
    ("circle", |feel| feel.turning_circle, "units"),
];
