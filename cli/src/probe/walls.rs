//! What a question is put to: a scenario's walls, or walls of its own.

use ambulant::direction::YAxis;
use ambulant::terrain::{TileGrid, Wall, World};

use crate::scenario::{LayerNames, Scenario};

/// Walls with their names.
#[derive(Debug, Clone)]
pub(crate) struct Walls {
    pub(super) map: Option<TileGrid>,
    pub(super) store: World,
    /// Of the free-standing walls, in their order.
    pub(super) names: Vec<String>,
    pub(crate) layers: LayerNames,
}

impl Walls {
    /// No walls, to be added to.
    pub(super) fn none() -> Self {
        Self { map: None, store: World::new(), names: Vec::new(), layers: LayerNames::default() }
    }

    /// The walls of a scenario, as they stand at the start.
    pub(crate) fn of(scenario: &Scenario) -> Self {
        Self {
            map: Some(scenario.map.clone()),
            store: scenario.standing.store().clone(),
            names: scenario.standing.iter().map(|item| item.name.clone()).collect(),
            layers: scenario.layers.clone(),
        }
    }

    /// All that blocks: a map is a list of none or one.
    pub(super) fn terrain(&self) -> (&[TileGrid], &World) {
        (self.map.as_slice(), &self.store)
    }

    pub(super) fn y_axis(&self) -> YAxis {
        self.map.as_ref().map_or(YAxis::Down, TileGrid::y_axis)
    }

    /// What a wall is called, with its place among tiles.
    pub(super) fn name(&self, wall: Wall) -> String {
        match wall {
            Wall::Tile(_, tile) => {
                let kind = self.map.as_ref().and_then(|map| map.kind(tile));
                kind.map_or("the map's edge".to_owned(), |kind| {
                    format!("{} {},{}", kind.name(), tile.x, tile.y)
                })
            }
            Wall::Obstacle(_) => {
                let place = self.store.walls().position(|(known, _)| known == wall).unwrap_or_default();
                self.names.get(place).cloned().unwrap_or_default()
            }
            other => other.to_string(),
        }
    }
}
