//! Actors that touch walls before they have moved.

use ambulant::shape::Footprint;
use ambulant::terrain::{Hit, Terrain, WallFilter};
use ambulant::touch_tolerance;
use glam::Vec2;

use super::Finding;
use crate::record::Touch;
use crate::scenario::Scenario;

pub(super) fn touching(scenario: &Scenario) -> Vec<Finding> {
    let terrain = (&scenario.map, scenario.standing.store());
    let mut findings = Vec::new();
    for actor in scenario.actors.iter().filter(|actor| actor.drive().is_some()) {
        let filter = WallFilter::on(actor.mask);
        let hits = touched(&terrain, &actor.footprint, actor.start, &filter);
        findings.extend(hits.into_iter().map(|hit| {
            let touch = Touch::new(scenario, hit.wall, hit.side);
            let text = format!("`{}` starts against {} on its {}", actor.name, touch.what(), touch.side);
            Finding::new("start at a wall", text)
        }));
    }
    findings
}

/// Positions in files are written with a few digits: a start this near to a wall is meant to touch it, in units.
const LEAST_REACH: f32 = 4e-4;

/// The walls that a footprint touches at a place, at most one on each side.
fn touched(terrain: &impl Terrain, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> Vec<Hit> {
    let area = footprint.at(at);
    let furthest = area.min.abs().max(area.max.abs()).max_element();
    // Far enough to reach a wall that counts as touched, whichever way its place was rounded.
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let reach = (4.0 * touch_tolerance(f64::from(furthest)) as f32).max(LEAST_REACH);
    [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y]
        .into_iter()
        .filter_map(|way| terrain.sweep(footprint, at, way * reach, filter))
        .collect()
}
