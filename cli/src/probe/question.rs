//! A question, from the command line or from one line of JSON, which may bring its own walls.

use std::collections::BTreeMap;

use ambulant::direction::{Corner, Side};
use ambulant::shape::{Footprint, Polygon, Solid};
use ambulant::terrain::{Layers, Legend, TileGrid, TileKind};
use glam::Vec2;
use serde::Deserialize;
use serde_json::Value;

use super::parse::{Reaction, footprint, reaction};
use super::walls::Walls;
use crate::tile_size::TileSize;

/// What is asked.
#[derive(Debug, Clone)]
pub(crate) struct Question {
    pub(crate) footprint: Footprint,
    /// The footprint as it was written.
    pub(crate) shape: String,
    pub(crate) at: Vec2,
    pub(crate) way: Vec2,
    pub(crate) responses: Vec<Reaction>,
    pub(crate) mask: Layers,
}

/// A question of its own and what it is put to.
#[derive(Debug)]
pub(crate) struct Asked {
    /// Whatever the question calls itself.
    pub(crate) id: Option<Value>,
    pub(crate) question: Question,
    /// The walls that it brings; otherwise those of the file.
    pub(crate) walls: Option<Walls>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Line {
    #[serde(default)]
    id: Option<Value>,
    footprint: String,
    at: [f32; 2],
    #[serde(rename = "move", default)]
    way: [f32; 2],
    #[serde(default)]
    response: Responses,
    layers: Option<Vec<String>>,
    walls: Option<Vec<WrittenWall>>,
    rows: Option<Vec<String>>,
    #[serde(default)]
    legend: BTreeMap<char, WrittenKind>,
    tile_size: Option<TileSize>,
    origin: Option<[f32; 2]>,
}

#[derive(Debug, Deserialize, Default)]
#[serde(untagged)]
enum Responses {
    #[default]
    Usual,
    One(String),
    Some(Vec<String>),
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenWall {
    name: Option<String>,
    layers: Option<Vec<String>>,
    #[serde(rename = "box")]
    boxed: Option<Ends>,
    circle: Option<Circle>,
    segment: Option<Ends>,
    polygon: Option<Vec<[f32; 2]>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Ends {
    from: [f32; 2],
    to: [f32; 2],
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Circle {
    center: [f32; 2],
    radius: f32,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenKind {
    name: String,
    blocks: bool,
    half: Option<String>,
    layers: Option<Vec<String>>,
    #[serde(default)]
    closed_from: Vec<String>,
}

/// Reads one line of JSON.
///
/// # Errors
/// What is wrong with it, in words.
pub(crate) fn asked_in_json(text: &str, file: Option<&Walls>) -> Result<Asked, (Option<Value>, String)> {
    let line: Line = serde_json::from_str(text).map_err(|error| {
        // A question with an error is answered with its id too.
        let id = serde_json::from_str::<Value>(text).ok().and_then(|value| value.get("id").cloned());
        (id, error.to_string().replace(" at line 1 column", ", at column"))
    })?;
    let id = line.id.clone();
    asked(line, file).map_err(|why| (id, why))
}

fn asked(line: Line, file: Option<&Walls>) -> Result<Asked, String> {
    let own = line.walls.is_some() || line.rows.is_some();
    let mut walls = match (own, file) {
        (false, Some(file)) => file.clone(),
        (true, _) => Walls::none(),
        (false, None) => return Err("there are no walls: name a FILE, or give walls or rows".to_owned()),
    };
    if let Some(rows) = &line.rows {
        walls.map = Some(map(rows, &line, &mut walls)?);
    }
    for (number, wall) in line.walls.iter().flatten().enumerate() {
        let solid = solid(wall).map_err(|why| format!("wall {}: {why}", number + 1))?;
        let on = layers(wall.layers.as_ref(), Layers::FIRST, &mut walls)?;
        walls.store.add_on(on, solid);
        walls.names.push(wall.name.clone().unwrap_or_else(|| format!("wall {}", number + 1)));
    }
    let words = match line.response {
        Responses::Usual => vec!["slide".to_owned()],
        Responses::One(word) => vec![word],
        Responses::Some(words) => words,
    };
    let question = Question {
        footprint: footprint(&line.footprint)?,
        shape: line.footprint,
        at: place("at", line.at)?,
        way: place("move", line.way)?,
        responses: words.iter().map(|word| reaction(word)).collect::<Result<_, _>>()?,
        mask: layers(line.layers.as_ref(), Layers::ALL, &mut walls)?,
    };
    Ok(Asked { id: line.id, question, walls: own.then_some(walls) })
}

fn place(field: &str, [x, y]: [f32; 2]) -> Result<Vec2, String> {
    let place = Vec2::new(x, y);
    if place.is_finite() { Ok(place) } else { Err(format!("{field} must be two finite numbers (units)")) }
}

fn layers(names: Option<&Vec<String>>, plain: Layers, walls: &mut Walls) -> Result<Layers, String> {
    let Some(names) = names else { return Ok(plain) };
    names.iter().try_fold(Layers::NONE, |all, name| Ok(all | walls.layers.layer(name)?))
}

fn solid(wall: &WrittenWall) -> Result<Solid, String> {
    let number = |error: ambulant::InvalidNumber| error.to_string();
    let shapes = [
        wall.boxed
            .as_ref()
            .map(|ends| Solid::box_from_corners(ends.from.into(), ends.to.into()).map_err(number)),
        wall.circle.as_ref().map(|circle| Solid::circle(circle.center.into(), circle.radius).map_err(number)),
        wall.segment.as_ref().map(|ends| Solid::segment(ends.from.into(), ends.to.into()).map_err(number)),
        wall.polygon.as_ref().map(|corners| {
            let corners: Vec<Vec2> = corners.iter().copied().map(Vec2::from).collect();
            Polygon::new(&corners).map(Solid::from).map_err(|error| error.to_string())
        }),
    ];
    let mut shapes = shapes.into_iter().flatten();
    match (shapes.next(), shapes.next()) {
        (Some(shape), None) => shape,
        _ => Err("a wall has exactly one of box, circle, segment and polygon".to_owned()),
    }
}

fn map(rows: &[String], line: &Line, walls: &mut Walls) -> Result<TileGrid, String> {
    let mut legend = Legend::new().with('#', TileKind::wall("wall")).with('.', TileKind::floor("floor"));
    for (glyph, written) in &line.legend {
        legend = legend.with(*glyph, kind(written, walls)?);
    }
    let mut grid = TileGrid::from_rows(rows, &legend).map_err(|error| error.to_string())?;
    if let Some(size) = line.tile_size {
        grid = size.apply_to(grid).map_err(|error| error.to_string())?;
    }
    if let Some(origin) = line.origin {
        grid = grid.with_origin(origin.into()).map_err(|error| error.to_string())?;
    }
    // What lies outside the rows of a question is free: it shows a detail, not a room.
    Ok(grid.with_outside(ambulant::terrain::Outside::Open))
}

fn kind(written: &WrittenKind, walls: &mut Walls) -> Result<TileKind, String> {
    let mut kind = match (written.half.as_deref(), written.blocks) {
        (Some(corner), _) => TileKind::half(&written.name, corner_named(corner)?),
        (None, true) => TileKind::wall(&written.name),
        (None, false) => TileKind::floor(&written.name),
    };
    for side in &written.closed_from {
        let sides = [Side::Left, Side::Right, Side::Top, Side::Bottom];
        let side = sides.into_iter().find(|known| known.to_string() == *side);
        kind = kind.closed_from(side.ok_or("closed_from takes left, right, top and bottom")?);
    }
    Ok(kind.with_layers(layers(written.layers.as_ref(), Layers::FIRST, walls)?))
}

fn corner_named(name: &str) -> Result<Corner, String> {
    match name {
        "top-left" => Ok(Corner::TopLeft),
        "top-right" => Ok(Corner::TopRight),
        "bottom-right" => Ok(Corner::BottomRight),
        "bottom-left" => Ok(Corner::BottomLeft),
        _ => Err(format!("{name:?} is no corner; write top-left, top-right, bottom-right or bottom-left")),
    }
}
