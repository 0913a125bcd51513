//! The scenario file as it is written: every value with its place.

mod actor;
mod drive;
mod script;
mod steps;

use std::collections::BTreeMap;

use serde::Deserialize;
use toml::Spanned;

use crate::tile_size::TileSize;

pub(in crate::scenario) use actor::{Actor, Anchor, AtWalls, Away, Ball, Footprint, Hover, Paddle};
pub(in crate::scenario) use drive::{Axis, Drag, Falling, Gait, Glide, Helm, Pace, Steering};
pub(in crate::scenario) use script::{
    Directions, Flick, FlickDrag, KeyStep, Keys, Opposites, Stick, StickMove,
};
pub(in crate::scenario) use steps::{Corners8, Crate, Easing, Edge, Portal, StepMode, Steps};

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct File {
    pub(in crate::scenario) format: Spanned<i64>,
    #[serde(default)]
    pub(in crate::scenario) title: String,
    pub(in crate::scenario) seconds: Spanned<f64>,
    pub(in crate::scenario) tick_rate: Option<Spanned<f64>>,
    pub(in crate::scenario) map: Spanned<Map>,
    #[serde(default)]
    pub(in crate::scenario) actor: Vec<Spanned<Actor>>,
    #[serde(default)]
    pub(in crate::scenario) obstacle: Vec<Spanned<Obstacle>>,
    #[serde(default)]
    pub(in crate::scenario) portal: Vec<Spanned<Portal>>,
    #[serde(default, rename = "crate")]
    pub(in crate::scenario) crates: Vec<Spanned<Crate>>,
    #[serde(default)]
    pub(in crate::scenario) expect: Vec<Spanned<Expect>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Obstacle {
    pub(in crate::scenario) name: String,
    pub(in crate::scenario) layers: Option<Vec<Spanned<String>>>,
    #[serde(default)]
    pub(in crate::scenario) moves: Vec<Spanned<Move>>,
    #[serde(default)]
    pub(in crate::scenario) carries: bool,
    #[serde(default)]
    pub(in crate::scenario) waits: bool,
    #[serde(default)]
    pub(in crate::scenario) loops: bool,
    pub(in crate::scenario) floor: Option<Spanned<Floor>>,
    pub(in crate::scenario) breaks: Option<u32>,
    #[serde(rename = "box")]
    pub(in crate::scenario) boxed: Option<Spanned<Corners>>,
    pub(in crate::scenario) circle: Option<Spanned<Circle>>,
    pub(in crate::scenario) segment: Option<Spanned<Corners>>,
    pub(in crate::scenario) polygon: Option<Spanned<Vec<[f32; 2]>>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Floor {
    pub(in crate::scenario) speed_factor: Option<Spanned<f32>>,
    pub(in crate::scenario) grip: Option<Spanned<f32>>,
    pub(in crate::scenario) belt: Option<Spanned<[f32; 2]>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Move {
    pub(in crate::scenario) at: f64,
    pub(in crate::scenario) by: [f32; 2],
    pub(in crate::scenario) seconds: f64,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Corners {
    pub(in crate::scenario) from: [f32; 2],
    pub(in crate::scenario) to: [f32; 2],
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Circle {
    pub(in crate::scenario) center: [f32; 2],
    pub(in crate::scenario) radius: f32,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Map {
    pub(in crate::scenario) rows: Option<Spanned<Vec<Spanned<String>>>>,
    pub(in crate::scenario) csv: Option<Spanned<String>>,
    pub(in crate::scenario) png: Option<Spanned<String>>,
    pub(in crate::scenario) legend: Spanned<BTreeMap<Spanned<String>, Kind>>,
    pub(in crate::scenario) tile_size: Option<Spanned<TileSize>>,
    pub(in crate::scenario) origin: Option<Spanned<[f32; 2]>>,
    pub(in crate::scenario) wind: Option<Spanned<[f32; 2]>>,
    #[serde(default)]
    pub(in crate::scenario) y_axis: YAxis,
    #[serde(default)]
    pub(in crate::scenario) outside: Outside,
    #[serde(default)]
    pub(in crate::scenario) edge: Edge,
    pub(in crate::scenario) edges: Option<PlayArea>,
}

/// The edge rules of the four sides.
#[derive(Debug, Deserialize, Default)]
#[serde(deny_unknown_fields, default)]
pub(in crate::scenario) struct PlayArea {
    pub(in crate::scenario) left: EdgeRule,
    pub(in crate::scenario) right: EdgeRule,
    pub(in crate::scenario) top: EdgeRule,
    pub(in crate::scenario) bottom: EdgeRule,
}

#[derive(Debug, Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum EdgeRule {
    #[default]
    Block,
    Bounce,
    Wrap,
    Open,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Kind {
    pub(in crate::scenario) name: String,
    pub(in crate::scenario) blocks: bool,
    pub(in crate::scenario) breaks: Option<u32>,
    pub(in crate::scenario) half: Option<Corner>,
    pub(in crate::scenario) layers: Option<Vec<Spanned<String>>>,
    #[serde(default)]
    pub(in crate::scenario) closed_from: Vec<Side>,
    pub(in crate::scenario) speed_factor: Option<Spanned<f32>>,
    pub(in crate::scenario) grip: Option<Spanned<f32>>,
    pub(in crate::scenario) belt: Option<Spanned<[f32; 2]>>,
}

#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "kebab-case")]
pub(in crate::scenario) enum Corner {
    TopLeft,
    TopRight,
    BottomRight,
    BottomLeft,
}

#[derive(Debug, Deserialize, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Side {
    Left,
    Right,
    Top,
    Bottom,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum YAxis {
    #[default]
    Down,
    Up,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Outside {
    #[default]
    Block,
    Open,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Expect {
    pub(in crate::scenario) at: Spanned<f64>,
    pub(in crate::scenario) actor: Spanned<String>,
    pub(in crate::scenario) position: Option<Spanned<[f32; 2]>>,
    pub(in crate::scenario) speed: Option<Spanned<f32>>,
    pub(in crate::scenario) within: Option<Spanned<f32>>,
    pub(in crate::scenario) tile: Option<Spanned<[i32; 2]>>,
    pub(in crate::scenario) at_rest: Option<bool>,
    pub(in crate::scenario) facing: Option<Spanned<String>>,
    pub(in crate::scenario) touching: Option<Spanned<String>>,
}
