//! Movement by tiles: steps, portals, and things that are pushed.

use serde::Deserialize;
use toml::Spanned;

/// Two tiles that steppers treat as one place.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Portal {
    pub(in crate::scenario) tiles: Vec<[i32; 2]>,
}

/// A thing that steppers can push.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Crate {
    pub(in crate::scenario) name: String,
    pub(in crate::scenario) tile: [i32; 2],
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Steps {
    pub(in crate::scenario) speed: Spanned<f32>,
    #[serde(default)]
    pub(in crate::scenario) mode: StepMode,
    pub(in crate::scenario) delay: Option<Spanned<f32>>,
    pub(in crate::scenario) pause: Option<Spanned<f32>>,
    pub(in crate::scenario) input_buffer: Option<Spanned<f32>>,
    pub(in crate::scenario) diagonals: Option<Corners8>,
    pub(in crate::scenario) diagonal_lasts: Option<Spanned<f32>>,
    #[serde(default)]
    pub(in crate::scenario) pushes: bool,
    #[serde(default)]
    pub(in crate::scenario) easing: Easing,
}

#[derive(Debug, Deserialize, Default, Clone, Copy, PartialEq, Eq)]
#[serde(rename_all = "kebab-case")]
pub(in crate::scenario) enum StepMode {
    Tap,
    Hold,
    #[default]
    RunOn,
}

/// What a diagonal step may do at corners.
#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "kebab-case")]
pub(in crate::scenario) enum Corners8 {
    NeverCut,
    OneFree,
    AlwaysCut,
}

#[derive(Debug, Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Easing {
    #[default]
    Linear,
    Smooth,
}

#[derive(Debug, Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Edge {
    #[default]
    Block,
    Wrap,
}
