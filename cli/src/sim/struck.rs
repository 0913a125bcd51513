//! What something that flies does to a wall, in words.

use ambulant::arcade::Impact;
use ambulant::terrain::Wall;

use crate::record::{EventKind, Touch};
use crate::scenario::Scenario;

pub(super) fn struck(scenario: &Scenario, impact: &Impact, broke: bool) -> (String, EventKind) {
    let hit = &impact.hit;
    let what = match hit.wall {
        Wall::Edge(side) => format!("the {side} edge"),
        wall => Touch::new(scenario, wall, hit.side).what(),
    };
    match (broke, impact.hits_left) {
        (true, _) => (format!("broke {what}"), EventKind::Broke),
        (false, Some(left)) => (format!("hit {what}, {} to go", left - 1), EventKind::Struck),
        (false, None) if matches!(hit.wall, Wall::Edge(_)) => {
            (format!("bounced off {what}"), EventKind::Bounced)
        }
        (false, None) => (format!("bounced off {what} on its {} side", hit.side), EventKind::Bounced),
    }
}
