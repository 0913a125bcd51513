//! What blocks in a scenario: its map and its free-standing obstacles, each with its name.

use ambulant::shape::Solid;
use ambulant::terrain::{Obstacles, TileGrid, TileKind, Wall};

use super::Scenario;

/// What tiles outside the map are called.
const EDGE: &str = "the map's edge";

/// Free-standing obstacles with their names.
#[derive(Debug, Clone, Default)]
pub(crate) struct Standing {
    store: Obstacles,
    names: Vec<String>,
}

impl Standing {
    /// Adds an obstacle; none is ever removed, so that names and store stay in step.
    pub(super) fn add(&mut self, name: String, solid: Solid) {
        self.store.add(solid);
        self.names.push(name);
    }

    /// The obstacles alone.
    pub(crate) fn store(&self) -> &Obstacles {
        &self.store
    }

    /// Every obstacle with its name.
    pub(crate) fn iter(&self) -> impl Iterator<Item = (&str, &Solid)> {
        self.names.iter().map(String::as_str).zip(self.store.iter().map(|(_, solid)| solid))
    }

    /// The names, each once, in the order in which they first appear.
    pub(crate) fn kinds(&self) -> Vec<&str> {
        let mut kinds: Vec<&str> = Vec::new();
        for name in &self.names {
            if !kinds.contains(&name.as_str()) {
                kinds.push(name);
            }
        }
        kinds
    }
}

impl Scenario {
    /// All that blocks.
    pub(crate) fn terrain(&self) -> (&TileGrid, &Obstacles) {
        (&self.map, self.standing.store())
    }

    /// What a wall is called.
    pub(crate) fn wall_name(&self, wall: Wall) -> &str {
        match wall {
            Wall::Tile(tile) => self.map.kind(tile).map_or(EDGE, TileKind::name),
            Wall::Obstacle(id) => {
                let place = self.standing.store.iter().position(|(known, _)| known == id);
                place.map_or(EDGE, |place| self.standing.names[place].as_str())
            }
            _ => EDGE,
        }
    }
}
