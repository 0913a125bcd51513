//! The walls of a run as they are now.

use ambulant::terrain::{TileGrid, World};

use crate::scenario::Scenario;

/// The walls as they stand now.
#[derive(Debug, Clone)]
pub(crate) struct Field {
    pub(crate) world: World,
}

impl Field {
    /// The walls of a scenario at its start.
    pub(super) fn new(scenario: &Scenario) -> Self {
        let y_axis = scenario.map.y_axis();
        let mut world = scenario.standing.store().clone().with_y_axis(y_axis);
        world = world.with_map(scenario.map.clone()).with_surface(scenario.wind);
        if let Some(edges) = scenario.edges {
            world = world.with_play_area(edges);
        }
        for (name, hits) in &scenario.breaking {
            for (kind, _) in scenario.map.kind_ids().filter(|(_, kind)| kind.name() == name) {
                world.set_kind_hits(kind, *hits);
            }
        }
        for item in scenario.standing.iter() {
            if let Some(hits) = item.breaks {
                world.set_wall_hits(item.id, hits);
            }
        }
        Self { world }
    }

    /// The map as it is now.
    pub(crate) fn grid(&self) -> &TileGrid {
        self.world.map().expect("a scenario has a map")
    }
}
