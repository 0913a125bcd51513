//! Actors: footprint, drive and input.

use serde::Deserialize;
use toml::Spanned;

use super::drive::{Axis, Falling, Gait, Glide, Helm, Pace};
use super::script::{Directions, Flick, KeyStep, Opposites, Stick};
use super::steps::Steps;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Ball {
    pub(in crate::scenario) velocity: Spanned<[f32; 2]>,
    pub(in crate::scenario) level_degrees: Option<Spanned<f32>>,
    pub(in crate::scenario) upright_degrees: Option<Spanned<f32>>,
    pub(in crate::scenario) held_by: Option<Spanned<String>>,
    pub(in crate::scenario) serve_at: Option<Spanned<f64>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Paddle {
    pub(in crate::scenario) away: Away,
    pub(in crate::scenario) greatest_degrees: Spanned<f32>,
    pub(in crate::scenario) gain: Option<Spanned<f32>>,
    pub(in crate::scenario) limit: Option<Spanned<f32>>,
    pub(in crate::scenario) velocity_transfer: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Away {
    Left,
    Right,
    Up,
    Down,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Hover {
    pub(in crate::scenario) height: Spanned<f32>,
    pub(in crate::scenario) rise: Spanned<f32>,
    pub(in crate::scenario) fall: Spanned<f32>,
    pub(in crate::scenario) ahead: Option<Spanned<f32>>,
    pub(in crate::scenario) step: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize, Clone, Copy, PartialEq, Eq)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum AtWalls {
    Slide,
    Stop,
    Bounce,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Shot {
    pub(in crate::scenario) at: Spanned<f64>,
    pub(in crate::scenario) toward: Spanned<[f32; 2]>,
    pub(in crate::scenario) speed: Spanned<f32>,
    pub(in crate::scenario) radius: Spanned<f32>,
    #[serde(default)]
    pub(in crate::scenario) bounces: u32,
    pub(in crate::scenario) range: Option<Spanned<f32>>,
    pub(in crate::scenario) seconds: Option<Spanned<f32>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Actor {
    pub(in crate::scenario) name: Spanned<String>,
    pub(in crate::scenario) start: Option<Spanned<[f32; 2]>>,
    pub(in crate::scenario) tile: Option<Spanned<[i32; 2]>>,
    pub(in crate::scenario) footprint: Option<Spanned<Footprint>>,
    pub(in crate::scenario) steps: Option<Spanned<Steps>>,
    pub(in crate::scenario) ball: Option<Spanned<Ball>>,
    pub(in crate::scenario) paddle: Option<Spanned<Paddle>>,
    pub(in crate::scenario) blocks: Option<Spanned<bool>>,
    pub(in crate::scenario) hover: Option<Spanned<Hover>>,
    pub(in crate::scenario) at_walls: Option<Spanned<AtWalls>>,
    pub(in crate::scenario) bounce: Option<Spanned<f32>>,
    pub(in crate::scenario) shots: Option<Vec<Spanned<Shot>>>,
    pub(in crate::scenario) heading_degrees: Option<Spanned<f32>>,
    pub(in crate::scenario) pace: Option<Spanned<Pace>>,
    pub(in crate::scenario) gait: Option<Spanned<Gait>>,
    pub(in crate::scenario) glide: Option<Spanned<Glide>>,
    pub(in crate::scenario) helm: Option<Spanned<Helm>>,
    pub(in crate::scenario) axis: Option<Axis>,
    pub(in crate::scenario) mask: Option<Vec<Spanned<String>>>,
    #[serde(default)]
    pub(in crate::scenario) full_speed: bool,
    pub(in crate::scenario) corner_help: Option<Spanned<f32>>,
    pub(in crate::scenario) falling: Option<Spanned<Falling>>,
    #[serde(default)]
    pub(in crate::scenario) directions: Directions,
    #[serde(default)]
    pub(in crate::scenario) opposites: Opposites,
    pub(in crate::scenario) view_degrees: Option<Spanned<f32>>,
    #[serde(default)]
    pub(in crate::scenario) keys: Vec<Spanned<KeyStep>>,
    pub(in crate::scenario) stick: Option<Spanned<Stick>>,
    pub(in crate::scenario) flick: Option<Spanned<Flick>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Footprint {
    #[serde(rename = "box")]
    pub(in crate::scenario) size: Option<Spanned<[f32; 2]>>,
    pub(in crate::scenario) circle: Option<Spanned<f32>>,
    #[serde(default)]
    pub(in crate::scenario) anchor: Anchor,
    pub(in crate::scenario) offset: Option<Spanned<[f32; 2]>>,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "kebab-case")]
pub(in crate::scenario) enum Anchor {
    #[default]
    Center,
    TopLeft,
}
