//! The recording as the page's script reads it.

use glam::Vec2;
use serde_json::{Value, json};

use crate::page::{actors, area, event_of, row_of, wall_number};
use crate::picture::{PageChart, PageMap};
use crate::record::Recording;
use crate::scenario::Scenario;

/// All that moves and happens; places in units, times in seconds.
pub(super) fn data(scenario: &Scenario, recording: &Recording, map: &PageMap, chart: &PageChart) -> Value {
    let mut touches = Touches::default();
    let mut actors = actors(scenario, map);
    for (place, actor) in actors.iter_mut().enumerate() {
        let rows = recording.track(place).map(|row| touches.numbered(row_of(row, scenario)));
        actor["rows"] = Value::Array(rows.collect());
    }
    let number = |wall| wall_number(scenario, wall);
    let walls = recording.moved.iter().map(|(time, moved)| {
        let moved: Vec<Value> = moved.iter().map(|(id, Vec2 { x, y })| json!([number(*id), x, y])).collect();
        json!([time, moved])
    });
    let broken = recording.broken.iter().map(|(time, tile)| {
        let [x0, y0, x1, y1] = area(&scenario.map.tile_area(*tile));
        json!([time, x0, y0, x1, y1])
    });
    let crates = recording.crates.iter().map(|(time, tiles)| {
        let areas: Vec<[f32; 4]> = tiles.iter().map(|tile| area(&scenario.map.tile_area(*tile))).collect();
        json!([time, areas])
    });
    let verdicts = recording
        .verdicts
        .iter()
        .map(|verdict| json!([verdict.at, verdict.actor, verdict.expected, verdict.found, verdict.held]));
    json!({
        "seconds": recording.seconds,
        "times": recording.track(0).map(|row| row.time).collect::<Vec<_>>(),
        "actors": actors,
        "touches": touches.0,
        "events": recording.events.iter().map(event_of).collect::<Vec<_>>(),
        "kinds": map.kinds,
        "walls": walls.collect::<Vec<_>>(),
        "broken": broken.collect::<Vec<_>>(),
        "shattered": recording.shattered.iter().map(|(time, id)| json!([time, number(*id)])).collect::<Vec<_>>(),
        "crates": crates.collect::<Vec<_>>(),
        "expected": verdicts.collect::<Vec<_>>(),
        "origin": map.origin.to_array(),
        "scale": map.scale.to_array(),
        "chart": chart.times,
    })
}

/// What was touched, each once: many rows touch the same.
#[derive(Debug, Default)]
struct Touches(Vec<Value>);

impl Touches {
    /// A row with the numbers of what it touches.
    fn numbered(&mut self, mut row: Value) -> Value {
        for touch in row.as_array_mut().and_then(|row| row.last_mut()?.as_array_mut()).into_iter().flatten() {
            let known = self.0.iter().position(|known| known == touch).unwrap_or_else(|| {
                self.0.push(touch.clone());
                self.0.len() - 1
            });
            *touch = json!(known);
        }
        row
    }
}
