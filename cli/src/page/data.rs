//! Actors, rows and events as the script of a page reads them.

use ambulant::direction::Side;
use ambulant::shape::Aabb;
use ambulant::terrain::Wall;
use glam::Vec2;
use serde_json::{Value, json};

use crate::picture::PageMap;
use crate::record::{Event, Happening, Row};
use crate::scenario::Scenario;

/// Each actor with what of it does not change.
pub(crate) fn actors(scenario: &Scenario, map: &PageMap) -> Vec<Value> {
    let actors = scenario.actors.iter().enumerate();
    actors
        .map(|(place, actor)| {
            // From its place to the corners of the ground that it covers.
            let ground = actor.footprint.at(Vec2::ZERO);
            json!({
                "name": actor.name,
                "colour": map.colours[place],
                "ground": area(&ground),
                "round": actor.footprint.radius().is_some(),
                "face": actor.has_face(),
            })
        })
        .collect()
}

/// The place of an obstacle in the scenario.
pub(crate) fn wall_number(scenario: &Scenario, wall: Wall) -> Option<usize> {
    scenario.standing.iter().position(|item| item.id == wall)
}

/// The corners of an area: x and y of the one with the smaller numbers, then of the other one.
pub(crate) fn area(area: &Aabb) -> [f32; 4] {
    [area.min.x, area.min.y, area.max.x, area.max.y]
}

/// Place, velocity, intent, facing, tile, and what it touches: the text and the wall's normal.
pub(crate) fn row_of(row: &Row, scenario: &Scenario) -> Value {
    let down = scenario.map.y_axis().downward();
    let touching: Vec<Value> = row
        .touching
        .iter()
        .map(|touch| {
            let [x, y] = match touch.side {
                Side::Left => [-1.0, 0.0],
                Side::Right => [1.0, 0.0],
                Side::Top => [0.0, -down],
                Side::Bottom => [0.0, down],
            };
            json!([touch.to_string(), x, y])
        })
        .collect();
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

/// What happened, and for a touch the place and the wall's normal.
pub(crate) fn event_of(event: &Event) -> Value {
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
