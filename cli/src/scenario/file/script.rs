//! What an actor is asked for over time: keys, a stick, flicks.

use std::fmt;

use serde::Deserialize;
use serde::de::{Deserializer, SeqAccess, Visitor};
use toml::Spanned;

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
