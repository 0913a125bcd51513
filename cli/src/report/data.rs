//! The recording as the page's script reads it.

use glam::Vec2;
use serde_json::{Value, json};

use crate::picture::PagePictures;
use crate::record::{Event, Happening, Recording, Row, Touch};
use crate::scenario::Scenario;

/// All that moves and happens; places in units, times in seconds.
pub(super) fn data(scenario: &Scenario, recording: &Recording, pictures: &PagePictures) -> Value {
    let mut touches = Touches::default();
    let rows = |actor: usize, touches: &mut Touches| -> Vec<Value> {
        recording.track(actor).map(|row| row_of(row, scenario, touches)).collect()
    };
    let actors: Vec<Value> = scenario
        .actors
        .iter()
        .enumerate()
        .map(|(place, actor)| {
            // From its place to the corners of the ground that it covers.
            let ground = actor.footprint.at(Vec2::ZERO);
            json!({
                "name": actor.name,
                "colour": pictures.colours[place],
                "ground": [ground.min.x, ground.min.y, ground.max.x, ground.max.y],
                "round": actor.footprint.radius().is_some(),
                "face": actor.has_face(),
                "rows": rows(place, &mut touches),
            })
        })
        .collect();
    let number = |id| scenario.standing.iter().position(|item| item.id == id);
    let walls: Vec<Value> = recording
        .moved
        .iter()
        .map(|(time, moved)| {
            let moved: Vec<Value> = moved.iter().map(|(id, by)| json!([number(*id), by.x, by.y])).collect();
            json!([time, moved])
        })
        .collect();
    let broken = recording.broken.iter().map(|(time, tile)| {
        let area = scenario.map.tile_area(*tile);
        json!([time, area.min.x, area.min.y, area.max.x, area.max.y])
    });
    let crates = recording.crates.iter().map(|(time, tiles)| {
        let areas: Vec<[f32; 4]> = tiles
            .iter()
            .map(|tile| scenario.map.tile_area(*tile))
            .map(|area| [area.min.x, area.min.y, area.max.x, area.max.y])
            .collect();
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
        "touches": touches.0.iter().map(|(text, normal)| json!([text, normal.x, normal.y])).collect::<Vec<_>>(),
        "events": recording.events.iter().map(event_of).collect::<Vec<_>>(),
        "kinds": pictures.kinds,
        "walls": walls,
        "broken": broken.collect::<Vec<_>>(),
        "shattered": recording.shattered.iter().map(|(time, id)| json!([time, number(*id)])).collect::<Vec<_>>(),
        "crates": crates.collect::<Vec<_>>(),
        "expected": verdicts.collect::<Vec<_>>(),
        "origin": pictures.origin.to_array(),
        "scale": pictures.scale.to_array(),
        "chart": pictures.times,
    })
}

/// Place, velocity, intent, facing, tile, and the numbers of what it touches.
fn row_of(row: &Row, scenario: &Scenario, touches: &mut Touches) -> Value {
    let touching: Vec<usize> = row.touching.iter().map(|touch| touches.number(touch, scenario)).collect();
    let Row { position, velocity, intent, tile, .. } = row;
    json!([
        position.x,
        position.y,
        velocity.x,
        velocity.y,
        intent.x,
        intent.y,
        row.facing.name(),
        tile.x,
        tile.y,
        touching
    ])
}

fn event_of(event: &Event) -> Value {
    let mut found = json!({
        "time": event.time,
        "actor": event.actor,
        "kind": event.what.kind().word(),
        "text": event.what.to_string(),
    });
    if let Happening::Touched { contact, .. } = &event.what {
        found["point"] = json!(contact.point.to_array());
        found["normal"] = json!(contact.normal.to_array());
    }
    found
}

/// What was touched, each once, with the normal of the side.
#[derive(Debug, Default)]
struct Touches(Vec<(String, Vec2)>);

impl Touches {
    fn number(&mut self, touch: &Touch, scenario: &Scenario) -> usize {
        use ambulant::direction::Side;
        let text = touch.to_string();
        if let Some(known) = self.0.iter().position(|(known, _)| *known == text) {
            return known;
        }
        let down = scenario.map.y_axis().downward();
        let normal = match touch.side {
            Side::Left => Vec2::NEG_X,
            Side::Right => Vec2::X,
            Side::Top => Vec2::new(0.0, -down),
            Side::Bottom => Vec2::new(0.0, down),
        };
        self.0.push((text, normal));
        self.0.len() - 1
    }
}
