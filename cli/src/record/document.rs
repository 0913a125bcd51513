//! A run as one JSON document: what `run` prints as text, for programs.

use serde_json::{Value, json};

use super::{Happening, Recording, fingerprint};

/// Events, summary and expectations; positions in units, speeds in units/s, times in seconds.
pub(crate) fn document(recording: &Recording, file: &str) -> Value {
    let events: Vec<Value> = recording
        .events
        .iter()
        .map(|event| {
            let mut value = json!({
                "time": event.time,
                "actor": recording.actors[event.actor],
                "kind": event.what.kind().word(),
                "text": event.what.to_string(),
            });
            if let Happening::Touched { touch, contact } = &event.what {
                value["wall"] = json!(touch.wall);
                value["tile"] = json!(touch.tile.map(|tile| [tile.x, tile.y]));
                value["side"] = json!(touch.side.to_string());
                value["position"] = json!(contact.position.to_array());
                value["point"] = json!(contact.point.to_array());
                value["normal"] = json!(contact.normal.to_array());
                value["velocity_before"] = json!(contact.velocity_before.to_array());
                value["velocity_after"] = json!(contact.velocity_after.to_array());
            }
            value
        })
        .collect();
    let summary: Vec<Value> = recording
        .tallies
        .iter()
        .enumerate()
        .map(|(actor, tally)| {
            let end = recording.last(actor);
            json!({
                "actor": recording.actors[actor],
                "distance": tally.distance,
                "top_speed": tally.top_speed,
                "seconds_moving": tally.seconds_moving,
                "seconds_standing": tally.seconds_standing,
                "position": end.map(|row| row.position.to_array()),
                "velocity": end.map(|row| row.velocity.to_array()),
                "facing": end.map(|row| row.facing.name()),
            })
        })
        .collect();
    let expectations: Vec<Value> = recording
        .verdicts
        .iter()
        .map(|verdict| {
            json!({
                "at": verdict.at,
                "actor": verdict.actor,
                "expected": verdict.expected,
                "found": verdict.found,
                "held": verdict.held,
            })
        })
        .collect();
    json!({
        "scenario": file,
        "title": recording.title,
        "tick_rate": recording.tick_rate,
        "seconds": recording.seconds,
        "events": events,
        "summary": summary,
        "expectations": expectations,
        "all_held": recording.all_held(),
        "fingerprint": fingerprint(recording),
    })
}
