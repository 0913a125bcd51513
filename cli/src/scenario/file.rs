//! The scenario file as it is written: every value with its place.

use std::collections::BTreeMap;
use std::fmt;

use serde::Deserialize;
use serde::de::{Deserializer, SeqAccess, Visitor};
use toml::Spanned;

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct File {
    pub(super) format: Spanned<i64>,
    #[serde(default)]
    pub(super) title: String,
    pub(super) seconds: Spanned<f64>,
    pub(super) tick_rate: Option<Spanned<f64>>,
    pub(super) map: Spanned<Map>,
    #[serde(default)]
    pub(super) actor: Vec<Spanned<Actor>>,
    #[serde(default)]
    pub(super) expect: Vec<Spanned<Expect>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Map {
    pub(super) rows: Spanned<Vec<Spanned<String>>>,
    pub(super) legend: Spanned<BTreeMap<Spanned<String>, Kind>>,
    pub(super) tile_size: Option<Spanned<f32>>,
    pub(super) origin: Option<Spanned<[f32; 2]>>,
    #[serde(default)]
    pub(super) y_axis: YAxis,
    #[serde(default)]
    pub(super) beyond: Beyond,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Kind {
    pub(super) name: String,
    pub(super) blocks: bool,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "lowercase")]
pub(super) enum YAxis {
    #[default]
    Down,
    Up,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "lowercase")]
pub(super) enum Beyond {
    #[default]
    Blocks,
    Free,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Actor {
    pub(super) name: Spanned<String>,
    pub(super) start: Spanned<[f32; 2]>,
    pub(super) footprint: Spanned<Footprint>,
    pub(super) gait: Spanned<Gait>,
    #[serde(default)]
    pub(super) keys: Vec<Spanned<KeyStep>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Footprint {
    #[serde(rename = "box")]
    pub(super) size: Spanned<[f32; 2]>,
    #[serde(default)]
    pub(super) anchor: Anchor,
    pub(super) offset: Option<Spanned<[f32; 2]>>,
}

#[derive(Debug, Deserialize, Default)]
#[serde(rename_all = "kebab-case")]
pub(super) enum Anchor {
    #[default]
    Center,
    TopLeft,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Gait {
    pub(super) top_speed: Spanned<f32>,
    pub(super) acceleration: Spanned<f32>,
    pub(super) friction: Spanned<f32>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct KeyStep {
    pub(super) at: Spanned<f64>,
    pub(super) press: Option<Spanned<Keys>>,
    pub(super) release: Option<Spanned<Keys>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Expect {
    pub(super) at: Spanned<f64>,
    pub(super) actor: Spanned<String>,
    pub(super) position: Option<Spanned<[f32; 2]>>,
    pub(super) speed: Option<Spanned<f32>>,
    pub(super) within: Option<Spanned<f32>>,
    pub(super) tile: Option<Spanned<[i32; 2]>>,
    pub(super) at_rest: Option<bool>,
    pub(super) facing: Option<Spanned<String>>,
    pub(super) touching: Option<Spanned<String>>,
}

/// One key's name, or a list of them.
#[derive(Debug)]
pub(super) struct Keys(pub(super) Vec<String>);

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
