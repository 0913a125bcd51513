//! The walls of a run as they are now.

use ambulant::drive::Surface;
use ambulant::terrain::{Obstacles, PlayArea, TileGrid, TileKind};
use glam::Vec2;

use crate::scenario::Scenario;

/// The walls as they stand now.
#[derive(Debug, Clone)]
pub(crate) struct Field {
    pub(crate) grid: TileGrid,
    pub(crate) store: Obstacles,
    /// The edges; far outside if the scenario has none.
    pub(super) edges: PlayArea,
    wind: Surface,
}

/// All that blocks movers that do not step by tiles.
pub(crate) type Walls<'a> = ((&'a TileGrid, &'a Obstacles, &'a PlayArea), Surface);

impl Field {
    /// The walls of a scenario at its start.
    pub(super) fn new(scenario: &Scenario) -> Self {
        Self {
            grid: scenario.map.clone(),
            store: scenario.standing.store().clone(),
            edges: edges_of(scenario),
            wind: scenario.wind,
        }
    }

    pub(crate) fn walls(&self) -> Walls<'_> {
        ((&self.grid, &self.store, &self.edges), self.wind)
    }

    /// Lends the map to a world that may change it.
    pub(super) fn take_grid(&mut self) -> TileGrid {
        std::mem::replace(&mut self.grid, stand_in())
    }

    /// Takes the map back.
    pub(super) fn put_back(&mut self, grid: TileGrid) {
        self.grid = grid;
    }
}

/// Far outside of everything.
const NOWHERE: f32 = 1e7;

/// The smallest possible map, in place of one that is lent.
fn stand_in() -> TileGrid {
    TileGrid::from_indices(&[vec![0]], &[TileKind::floor("")]).expect("one tile of one kind")
}

/// The edges of a scenario, or edges far outside.
fn edges_of(scenario: &Scenario) -> PlayArea {
    let nowhere = || PlayArea::new(Vec2::splat(-NOWHERE), Vec2::splat(NOWHERE)).expect("a finite area");
    scenario.edges.unwrap_or_else(nowhere)
}
