//! Names that nothing uses: legend entries, layers.

use ambulant::terrain::{Layers, TileGrid, TileKind};

use super::Finding;
use crate::scenario::Scenario;

pub(super) fn unused(scenario: &Scenario) -> Vec<Finding> {
    let map = &scenario.map;
    let mut findings: Vec<Finding> = Vec::new();
    for kind in map.kinds().iter().filter(|kind| !stands(map, kind)) {
        let text = format!("no tile is a `{}`; remove its legend entry, or put it on the map", kind.name());
        findings.push(Finding::new("unused entry", text));
    }
    let blocking = map.kinds().iter().filter(|kind| kind.blocks() || is_one_way(kind));
    let of_tiles = blocking.map(TileKind::layers);
    let on_walls = of_tiles
        .chain(scenario.standing.iter().map(|item| item.layers))
        .fold(Layers::NONE, |all, layers| all | layers);
    let in_masks = scenario.actors.iter().fold(Layers::NONE, |all, actor| all | actor.mask);
    for (name, layer) in scenario.layers.iter() {
        if on_walls.meets(layer) && !in_masks.meets(layer) {
            let text = format!("walls lie on `{name}`, but no actor has it in its `mask`");
            findings.push(Finding::new("layer in no mask", text));
        }
        let named = scenario.actors.iter().any(|actor| actor.mask != Layers::ALL && actor.mask.meets(layer));
        if named && !on_walls.meets(layer) {
            let text = format!("an actor has `{name}` in its `mask`, but no wall lies on it");
            findings.push(Finding::new("empty layer", text));
        }
    }
    findings
}

/// Whether some side of a kind is closed though it does not block.
fn is_one_way(kind: &TileKind) -> bool {
    use ambulant::direction::Side;
    [Side::Left, Side::Right, Side::Top, Side::Bottom].iter().any(|side| kind.is_closed_from(*side))
}

fn stands(map: &TileGrid, kind: &TileKind) -> bool {
    (0..).map_while(|index| map.tile_of_index(index)).any(|tile| map.kind(tile) == Some(kind))
}
