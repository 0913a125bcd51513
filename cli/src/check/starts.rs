//! Actors that touch walls before they have moved.

use ambulant::terrain::{Minded, Minds, Terrain};
use ambulant::touch_tolerance;
use glam::Vec2;

use super::Finding;
use crate::record::Touch;
use crate::scenario::Scenario;

pub(super) fn touching(scenario: &Scenario) -> Vec<Finding> {
    let terrain = (&scenario.map, scenario.standing.store());
    let mut findings = Vec::new();
    for actor in scenario.actors.iter().filter(|actor| actor.drive().is_some()) {
        let minded = Minded::new(&terrain, actor.minds);
        let area = actor.footprint.at(actor.start);
        let furthest = f64::from(area.min.abs().max(area.max.abs()).max_element());
        #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
        let reach = 4.0 * touch_tolerance(furthest) as f32;
        for way in [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y] {
            let hit = minded.sweep(&actor.footprint, actor.start, way * reach, &Minds::ALL);
            findings.extend(hit.map(|hit| {
                let touch = Touch::new(scenario, hit.wall, hit.side);
                let text = format!("`{}` starts against {} on its {}", actor.name, touch.what(), touch.side);
                Finding::new("start at a wall", text)
            }));
        }
    }
    findings
}
