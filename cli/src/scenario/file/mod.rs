//! The scenario file as it is written: every value with its place.

mod drive;

use std::collections::BTreeMap;
use std::fmt;

use serde::Deserialize;
use serde::de::{Deserializer, SeqAccess, Visitor};
use toml::Spanned;

pub(in crate::scenario) use drive::{Axis, Drag, Falling, Gait, Glide, Helm, Pace, Steering};

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
    pub(in crate::scenario) breaks: Option<u32>,
    #[serde(rename = "box")]
    pub(in crate::scenario) boxed: Option<Spanned<Corners>>,
    pub(in crate::scenario) circle: Option<Spanned<Circle>>,
    pub(in crate::scenario) segment: Option<Spanned<Corners>>,
    pub(in crate::scenario) polygon: Option<Spanned<Vec<[f32; 2]>>>,
}

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

/// Two tiles that are one place to whoever steps by tiles.
#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Portal {
    pub(in crate::scenario) tiles: Vec<[i32; 2]>,
}

/// A thing that is pushed by whoever steps by tiles.
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
    pub(in crate::scenario) tile_size: Option<Spanned<f32>>,
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

/// What the four sides do to balls, and to those who move freely.
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
pub(in crate::scenario) struct Actor {
    pub(in crate::scenario) name: Spanned<String>,
    pub(in crate::scenario) start: Option<Spanned<[f32; 2]>>,
    pub(in crate::scenario) tile: Option<Spanned<[i32; 2]>>,
    pub(in crate::scenario) footprint: Option<Spanned<Footprint>>,
    pub(in crate::scenario) steps: Option<Spanned<Steps>>,
    pub(in crate::scenario) ball: Option<Spanned<Ball>>,
    pub(in crate::scenario) paddle: Option<Spanned<Paddle>>,
    pub(in crate::scenario) hover: Option<Spanned<Hover>>,
    pub(in crate::scenario) at_walls: Option<Spanned<AtWalls>>,
    pub(in crate::scenario) bounce: Option<Spanned<f32>>,
    #[serde(default)]
    pub(in crate::scenario) shots: Vec<Spanned<Shot>>,
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

#[derive(Debug, Deserialize, Default, Clone, Copy)]
pub(in crate::scenario) enum Directions {
    #[serde(rename = "four")]
    Four,
    #[default]
    #[serde(rename = "eight")]
    Eight,
}

#[derive(Debug, Deserialize, Default, Clone, Copy)]
#[serde(rename_all = "lowercase")]
pub(in crate::scenario) enum Opposites {
    #[default]
    Cancel,
    Newest,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct KeyStep {
    pub(in crate::scenario) at: Spanned<f64>,
    pub(in crate::scenario) press: Option<Spanned<Keys>>,
    pub(in crate::scenario) release: Option<Spanned<Keys>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Stick {
    pub(in crate::scenario) dead_zone: Spanned<f32>,
    pub(in crate::scenario) limit: Option<Spanned<f32>>,
    pub(in crate::scenario) curve: Option<Spanned<f32>>,
    pub(in crate::scenario) moves: Vec<Spanned<StickMove>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct StickMove {
    pub(in crate::scenario) at: Spanned<f64>,
    pub(in crate::scenario) to: Spanned<[f32; 2]>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct Flick {
    pub(in crate::scenario) gain: Spanned<f32>,
    pub(in crate::scenario) limit: Spanned<f32>,
    pub(in crate::scenario) min_drag: Spanned<f32>,
    pub(in crate::scenario) drags: Vec<Spanned<FlickDrag>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(in crate::scenario) struct FlickDrag {
    pub(in crate::scenario) at: Spanned<f64>,
    pub(in crate::scenario) from: [f32; 2],
    pub(in crate::scenario) to: [f32; 2],
    pub(in crate::scenario) seconds: f32,
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

/// One key's name, or a list of them.
#[derive(Debug)]
pub(in crate::scenario) struct Keys(pub(in crate::scenario) Vec<String>);

impl<'de> Deserialize<'de> for Keys {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct OneOrMany;
        impl<'de> Visitor<'de> for OneOrMany {
            type Value = Keys;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a key's name or a list of them, such as \"right\" or [\"right\", \"down\"]")
            }

            fn visit_str<E>(self, key: &str) -> Result<Keys, E> {
                Ok(Keys(vec![key.to_owned()]))
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Keys, A::Error> {
                let mut keys = Vec::new();
                while let Some(key) = list.next_element()? {
                    keys.push(key);
                }
                Ok(Keys(keys))
            }
        }
        deserializer.deserialize_any(OneOrMany)
    }
}
