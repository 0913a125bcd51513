//! The drives as they are written.

use serde::Deserialize;
use toml::Spanned;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Pace {
    pub(in crate::scenario) speed: Spanned<f32>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Gait {
    pub(in crate::scenario) top_speed: Spanned<f32>,
    pub(in crate::scenario) acceleration: Option<Spanned<f32>>,
    pub(in crate::scenario) seconds_to_top: Option<Spanned<f32>>,
    pub(in crate::scenario) friction: Option<Spanned<f32>>,
    pub(in crate::scenario) stop_distance: Option<Spanned<f32>>,
    pub(in crate::scenario) turning: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Glide {
    pub(in crate::scenario) thrust: Option<Spanned<f32>>,
    pub(in crate::scenario) top_speed: Option<Spanned<f32>>,
    pub(in crate::scenario) rest_speed: Option<Spanned<f32>>,
    pub(in crate::scenario) drag: Option<Spanned<f32>>,
    pub(in crate::scenario) half_life: Option<Spanned<f32>>,
    pub(in crate::scenario) kept_per_second: Option<Spanned<f32>>,
    pub(in crate::scenario) kept_per_frame: Option<Spanned<f32>>,
    pub(in crate::scenario) frame_rate: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Helm {
    pub(in crate::scenario) steering: Steering,
    pub(in crate::scenario) turn_degrees: Spanned<f32>,
    pub(in crate::scenario) thrust: Option<Spanned<f32>>,
    pub(in crate::scenario) top_speed: Option<Spanned<f32>>,
    pub(in crate::scenario) reverse: Option<Spanned<f32>>,
    pub(in crate::scenario) grip: Option<Spanned<f32>>,
    #[serde(default)]
    pub(in crate::scenario) on_rails: bool,
    pub(in crate::scenario) rest_speed: Option<Spanned<f32>>,
    pub(in crate::scenario) drag: Option<Spanned<f32>>,
    pub(in crate::scenario) half_life: Option<Spanned<f32>>,
    pub(in crate::scenario) kept_per_second: Option<Spanned<f32>>,
    pub(in crate::scenario) kept_per_frame: Option<Spanned<f32>>,
    pub(in crate::scenario) frame_rate: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Steering {
    Wheel,
    Toward,
}

#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Axis {
    X,
    Y,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Falling {
    pub(in crate::scenario) pull: Spanned<[f32; 2]>,
    pub(in crate::scenario) limit: Spanned<f32>,
}

/// The forms in which a drag may be written, of which one is given.
#[derive(Debug, Clone, Copy)]
pub(in crate::scenario) struct Drag<'a> {
    pub(in crate::scenario) drag: Option<&'a Spanned<f32>>,
    pub(in crate::scenario) half_life: Option<&'a Spanned<f32>>,
    pub(in crate::scenario) kept_per_second: Option<&'a Spanned<f32>>,
    pub(in crate::scenario) kept_per_frame: Option<&'a Spanned<f32>>,
    pub(in crate::scenario) frame_rate: Option<&'a Spanned<f32>>,
}

macro_rules! drag_of {
    ($table:ty) => {
        impl $table {
            /// The forms of its drag.
            pub(in crate::scenario) fn drag_forms(&self) -> Drag<'_> {
                Drag {
                    drag: self.drag.as_ref(),
                    half_life: self.half_life.as_ref(),
                    kept_per_second: self.kept_per_second.as_ref(),
                    kept_per_frame: self.kept_per_frame.as_ref(),
                    frame_rate: self.frame_rate.as_ref(),
                }
            }
        }
    };
}

drag_of!(Glide);
drag_of!(Helm);
