//! What blocks in a scenario: its map and its free-standing obstacles, each with its name.

use ambulant::drive::Surface;
use ambulant::shape::Solid;
use ambulant::terrain::{Course, Layers, TileKind, Wall, World};
use glam::Vec2;

use super::Scenario;

/// What tiles outside the map are called.
const EDGE: &str = "the map's edge";

/// Free-standing obstacles with their names.
#[derive(Debug, Clone, Default)]
pub(crate) struct Standing {
    store: World,
    items: Vec<Item>,
}

/// An obstacle as it is written.
#[derive(Debug, Clone)]
pub(super) struct Obstacle {
    pub(super) name: String,
    pub(super) layers: Layers,
    pub(super) solid: Solid,
    pub(super) kind: Kind,
    pub(super) moves: Option<Moves>,
    pub(super) breaks: Option<u32>,
}

/// Whether an obstacle blocks.
#[derive(Debug, Clone, Copy)]
pub(super) enum Kind {
    /// It blocks; it may take along what touches it.
    Wall { carries: bool },
    /// It does not, and is a floor.
    Floor(Surface),
}

/// A free-standing obstacle.
#[derive(Debug, Clone)]
pub(crate) struct Item {
    pub(crate) name: String,
    pub(crate) id: Wall,
    pub(crate) layers: Layers,
    /// Its shape at the start.
    pub(crate) solid: Solid,
    /// How many hits it takes, if it breaks.
    pub(crate) breaks: Option<u32>,
    /// How it moves, if it does.
    pub(crate) moves: Option<Moves>,
    /// Whether it is a floor, which blocks nothing and carries what stands on it.
    pub(crate) is_floor: bool,
}

/// How an obstacle moves.
#[derive(Debug, Clone, Default)]
pub(crate) struct Moves {
    /// Each displacement, in order.
    pub(crate) legs: Vec<Vec2>,
    pub(crate) course: Course,
    /// Whether it waits where it would squeeze an actor.
    pub(crate) waits: bool,
}

impl Standing {
    /// Adds an obstacle; none is ever removed.
    pub(super) fn add(&mut self, obstacle: Obstacle) {
        let Obstacle { name, layers, solid, kind, moves, breaks } = obstacle;
        let (id, is_floor) = match kind {
            Kind::Wall { carries } => {
                let id = self.store.add_on(layers, solid);
                self.store.set_carries(id, carries);
                (id, false)
            }
            Kind::Floor(surface) => match self.store.add_floor(solid.bounds(), surface) {
                Ok(id) => (id, true),
                // Its shape was checked when it was read.
                Err(_) => return,
            },
        };
        self.items.push(Item { name, id, layers, solid, breaks, moves, is_floor });
    }

    /// The obstacles alone, as they stand at the start.
    pub(crate) fn store(&self) -> &World {
        &self.store
    }

    /// The obstacles alone, each so far from its start.
    pub(crate) fn store_moved(&self, offsets: &[(Wall, Vec2)]) -> World {
        let mut store = self.store.clone();
        for item in &self.items {
            if let Some((_, offset)) = offsets.iter().find(|(id, _)| *id == item.id) {
                store.place(item.id, item.solid.moved(*offset));
            }
        }
        store
    }

    /// Every obstacle, in the order of the file.
    pub(crate) fn iter(&self) -> impl Iterator<Item = &Item> {
        self.items.iter()
    }

    /// The names, each once, in the order in which they first appear.
    pub(crate) fn kinds(&self) -> Vec<&str> {
        let mut kinds: Vec<&str> = Vec::new();
        for item in &self.items {
            if !kinds.contains(&item.name.as_str()) {
                kinds.push(&item.name);
            }
        }
        kinds
    }
}

impl Scenario {
    /// What a wall is called.
    pub(crate) fn wall_name(&self, wall: Wall) -> &str {
        match wall {
            Wall::Tile(_, tile) => self.map.kind(tile).map_or(EDGE, TileKind::name),
            Wall::Obstacle(_) => {
                let item = self.standing.items.iter().find(|item| item.id == wall);
                item.map_or(EDGE, |item| item.name.as_str())
            }
            _ => EDGE,
        }
    }
}
