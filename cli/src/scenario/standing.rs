//! What blocks in a scenario: its map and its free-standing obstacles, each with its name.

use ambulant::shape::Solid;
use ambulant::terrain::{Layers, TileKind, Wall, World};
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
    pub(crate) course: Option<Course>,
}

/// How an obstacle moves.
#[derive(Debug, Clone, Default)]
pub(crate) struct Course {
    pub(crate) moves: Vec<Move>,
    /// Whether it takes along what touches it.
    pub(crate) carries: bool,
    /// Whether it waits where it would squeeze an actor.
    pub(crate) waits: bool,
}

/// One even motion.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Move {
    pub(crate) at: f64,
    pub(crate) by: Vec2,
    pub(crate) seconds: f64,
}

impl Course {
    /// How far from its start it is at a time.
    pub(crate) fn offset(&self, time: f64) -> Vec2 {
        let parts = self.moves.iter().map(|leg| {
            let part = ((time - leg.at) / leg.seconds).clamp(0.0, 1.0);
            leg.by.as_dvec2() * part
        });
        parts.sum::<glam::DVec2>().as_vec2()
    }

    /// Whether it moves at all between two times.
    pub(crate) fn moves_within(&self, from: f64, to: f64) -> bool {
        self.moves.iter().any(|leg| leg.at < to && from < leg.at + leg.seconds)
    }
}

impl Standing {
    /// Adds an obstacle; none is ever removed.
    pub(super) fn add(
        &mut self,
        name: String,
        layers: Layers,
        solid: Solid,
        course: Option<Course>,
        breaks: Option<u32>,
    ) {
        let id = self.store.add_on(layers, solid);
        self.items.push(Item { name, id, layers, solid, breaks, course });
    }

    /// The obstacles alone, as they stand at the start.
    pub(crate) fn store(&self) -> &World {
        &self.store
    }

    /// The obstacles alone, as their courses have them at a time.
    pub(crate) fn store_at(&self, time: f64) -> World {
        let mut store = self.store.clone();
        for item in &self.items {
            if let Some(course) = &item.course {
                store.place(item.id, item.solid.moved(course.offset(time)));
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
