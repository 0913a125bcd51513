//! The answer to a question, for programs and for people.

use std::fmt;

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::shape::overlap;
use ambulant::terrain::{Hit, Terrain, WallFilter, walls_under};
use ambulant::travel::{Contact, Feelers, MoveResult, PushOut, push_out, resolve};
use glam::Vec2;
use serde::Serialize;
use serde_json::Value;

use super::question::Question;
use super::walls::Walls;
use crate::text::fixed;

/// What one question found.
#[derive(Debug, Serialize)]
pub(crate) struct Answer {
    #[serde(skip_serializing_if = "Option::is_none")]
    pub(crate) id: Option<Value>,
    footprint: String,
    at: [f32; 2],
    #[serde(rename = "move")]
    way: [f32; 2],
    /// Every wall that the footprint lies in at the start.
    overlaps: Vec<Inside>,
    /// The nearest free place, where it lies in a wall.
    way_out: Option<WayOut>,
    hit: Option<FirstHit>,
    ends: Vec<End>,
    feelers: [Room; 2],
    /// The first hit and the passages themselves, for pictures.
    #[serde(skip)]
    pub(crate) found: (Option<Hit>, Vec<(String, MoveResult)>),
}

#[derive(Debug, Serialize)]
struct Inside {
    wall: String,
    depth: f32,
    normal: [f32; 2],
}

#[derive(Debug, Serialize)]
#[serde(untagged)]
enum WayOut {
    Moved { position: [f32; 2], by: [f32; 2] },
    Stuck { stuck: bool, reach: f32 },
}

#[derive(Debug, Serialize)]
struct FirstHit {
    wall: String,
    side: String,
    layers: String,
    fraction: f32,
    position: [f32; 2],
    point: [f32; 2],
    normal: [f32; 2],
}

/// Where one response leads.
#[derive(Debug, Serialize)]
struct End {
    response: String,
    position: [f32; 2],
    velocity: [f32; 2],
    remaining: [f32; 2],
    contacts: Vec<Met>,
}

#[derive(Debug, Serialize)]
struct Met {
    wall: String,
    side: String,
    fraction: f32,
    position: [f32; 2],
    point: [f32; 2],
    normal: [f32; 2],
    velocity_before: [f32; 2],
    velocity_after: [f32; 2],
}

/// Free distances at a place; nothing where there is no wall within reach.
#[derive(Debug, Serialize)]
struct Room {
    at: [f32; 2],
    left: Option<f32>,
    right: Option<f32>,
    up: Option<f32>,
    down: Option<f32>,
}

/// How far feelers reach and ways out lead, in units.
const REACH: f32 = 1000.0;
/// How far ways out are looked for, in sizes of the footprint.
const SIZES_OUT: f32 = 4.0;

impl Answer {
    /// Puts a question to walls. Its move is taken as the motion of one second.
    pub(crate) fn find(question: &Question, walls: &Walls) -> Self {
        let (terrain, filter) = (walls.terrain(), WallFilter::on(question.mask));
        let Question { footprint, at, way, .. } = question;
        let first = terrain.sweep(footprint, *at, *way, &filter);
        let hit = first.map(|hit| FirstHit {
            wall: walls.name(hit.wall),
            side: hit.side.to_string(),
            layers: walls.layers.describe(hit.layers),
            fraction: hit.fraction,
            position: hit.position.to_array(),
            point: hit.point.to_array(),
            normal: hit.normal.to_array(),
        });
        let mut overlaps = Vec::new();
        walls_under(&terrain, footprint, *at, &filter, |found| {
            overlaps.extend(overlap(footprint, *at, &found.solid()).map(|inside| Inside {
                wall: walls.name(found.wall),
                depth: inside.depth,
                normal: inside.normal.to_array(),
            }));
        });
        let reach = SIZES_OUT * footprint.size().max_element();
        let way_out = match push_out(&terrain, footprint, *at, reach, &filter) {
            PushOut::Free => None,
            PushOut::Moved { position, by } => {
                Some(WayOut::Moved { position: position.to_array(), by: by.to_array() })
            }
            PushOut::Stuck => Some(WayOut::Stuck { stuck: true, reach }),
        };
        let carried = question.responses.iter().map(|reaction| {
            let motion = Motion::new(*way, *way, Angle::ZERO);
            let result = resolve(&terrain, footprint, *at, motion, &filter, |_| reaction.response);
            (reaction.word.clone(), result)
        });
        let passages: Vec<(String, MoveResult)> = carried.collect();
        let ends: Vec<End> = passages.iter().map(|(word, result)| End::new(word, result, walls)).collect();
        let end = ends.first().map_or(*at, |end| Vec2::from(end.position));
        let room = |at: Vec2| Room::new(at, Feelers::of(&terrain, footprint, at, REACH, &filter), walls);
        let feelers = [room(*at), room(end)];
        let (at, way) = (at.to_array(), way.to_array());
        let found = (first, passages);
        Self {
            id: None,
            footprint: question.shape.clone(),
            at,
            way,
            overlaps,
            way_out,
            hit,
            ends,
            feelers,
            found,
        }
    }
}

impl Answer {
    /// The first hit in words: what and when, where, and which way the wall faces.
    pub(crate) fn hit_words(&self) -> Option<[String; 3]> {
        let hit = self.hit.as_ref()?;
        let (wall, side, part) = (&hit.wall, &hit.side, short(hit.fraction));
        let (position, point, normal) = (pair(hit.position), pair(hit.point), pair(hit.normal));
        Some([
            format!("{wall} ({}) on its {side}, after {part} of the path", hit.layers),
            format!("at {position}, touching at {point}"),
            format!("normal {normal}"),
        ])
    }
}

impl End {
    fn new(word: &str, result: &MoveResult, walls: &Walls) -> Self {
        let met = |contact: &Contact| Met {
            wall: walls.name(contact.wall),
            side: contact.side.to_string(),
            fraction: contact.seconds,
            position: contact.position.to_array(),
            point: contact.point.to_array(),
            normal: contact.normal.to_array(),
            velocity_before: contact.velocity_before.to_array(),
            velocity_after: contact.velocity_after.to_array(),
        };
        Self {
            response: word.to_owned(),
            position: result.position.to_array(),
            velocity: result.velocity.to_array(),
            remaining: result.remaining.to_array(),
            contacts: result.contacts.iter().map(met).collect(),
        }
    }
}

impl Room {
    fn new(at: Vec2, feelers: Feelers, walls: &Walls) -> Self {
        let within = |distance: f32| (distance < REACH).then_some(distance);
        let (up, down) = if walls.y_axis().downward() > 0.0 {
            (feelers.lower_y, feelers.higher_y)
        } else {
            (feelers.higher_y, feelers.lower_y)
        };
        Self {
            at: at.to_array(),
            left: within(feelers.left),
            right: within(feelers.right),
            up: within(up),
            down: within(down),
        }
    }
}

/// Two numbers with as many decimals as they need, up to three.
fn pair([x, y]: [f32; 2]) -> String {
    format!("{}, {}", short(x), short(y))
}

fn short(number: f32) -> String {
    fixed(number, 3).trim_end_matches('0').trim_end_matches('.').to_owned()
}

impl fmt::Display for Answer {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        writeln!(f, "{} at {}, moving by {}\n", self.footprint, pair(self.at), pair(self.way))?;
        let longest = self.ends.iter().map(|end| end.response.len()).max().unwrap_or(0);
        let wide = longest.max("first hit".len());
        let indent = wide + 4;
        for inside in &self.overlaps {
            writeln!(f, "  {:<wide$}  {}, {} deep", "inside", inside.wall, short(inside.depth))?;
        }
        match &self.way_out {
            Some(WayOut::Moved { position, by }) => {
                writeln!(f, "  {:<wide$}  {} to {}", "way out", pair(*by), pair(*position))?;
            }
            Some(WayOut::Stuck { reach, .. }) => {
                writeln!(f, "  {:<wide$}  none within {}", "way out", short(*reach))?;
            }
            None => {}
        }
        match self.hit_words() {
            Some([what, place, normal]) => {
                writeln!(f, "  {:<wide$}  {what}\n{:indent$}{place}, {normal}", "first hit", "")?;
            }
            None => writeln!(f, "  {:<wide$}  none", "first hit")?,
        }
        for end in &self.ends {
            write!(f, "  {:<wide$}  ends at {}", end.response, pair(end.position))?;
            write!(f, " with velocity {}", pair(end.velocity))?;
            if end.remaining != [0.0, 0.0] {
                write!(f, ", {} remaining", pair(end.remaining))?;
            }
            writeln!(f)?;
            for met in &end.contacts {
                let (wall, side, at) = (&met.wall, &met.side, short(met.fraction));
                let (before, kept) = (pair(met.velocity_before), pair(met.velocity_after));
                writeln!(f, "{:indent$}{at:<5} {wall}, {side}: velocity {before} became {kept}", "")?;
            }
        }
        for (place, room) in ["start", "end"].iter().zip(&self.feelers) {
            let side = |distance: Option<f32>| distance.map_or("no wall".to_owned(), short);
            let [left, right, up, down] = [room.left, room.right, room.up, room.down].map(side);
            let room = format!("left {left}, right {right}, up {up}, down {down}");
            writeln!(f, "  {:<wide$}  at the {place}: {room}", "free")?;
        }
        Ok(())
    }
}
