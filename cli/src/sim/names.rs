//! What walls are called, those that are actors among them.

use std::rc::Rc;

use ambulant::direction::Side;
use ambulant::terrain::Wall;

use crate::record::Touch;
use crate::scenario::Scenario;

/// What walls are called.
#[derive(Clone)]
pub(super) struct Names<'a> {
    scenario: &'a Scenario,
    /// Actors that block others, as walls.
    actors: Rc<[(Wall, usize)]>,
}

impl<'a> Names<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        Self { scenario, actors: Rc::new([]) }
    }

    /// The same with actors that are walls.
    pub(super) fn with_actors(mut self, actors: impl Iterator<Item = (Wall, usize)>) -> Self {
        self.actors = actors.collect();
        self
    }

    /// Whether no actor is a wall.
    pub(super) fn is_empty(&self) -> bool {
        self.actors.is_empty()
    }

    pub(super) fn of(&self, wall: Wall) -> &'a str {
        let actor = self.actors.iter().find(|(known, _)| *known == wall);
        actor.map_or_else(|| self.scenario.wall_name(wall), |(_, actor)| &self.scenario.actors[*actor].name)
    }

    pub(super) fn is_actor(&self, wall: Wall) -> bool {
        self.actors.iter().any(|(known, _)| *known == wall)
    }

    pub(super) fn touch(&self, wall: Wall, side: Side) -> Touch {
        Touch { wall: self.of(wall).to_owned(), ..Touch::new(self.scenario, wall, side) }
    }
}
