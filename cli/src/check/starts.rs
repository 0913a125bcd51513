//! Actors that touch walls before they have moved.

use ambulant::terrain::WallFilter;

use super::Finding;
use crate::record::Touch;
use crate::scenario::Scenario;
use crate::sim::touched;

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
