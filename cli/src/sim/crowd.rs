//! Actors that block each other.
//!
//! They are played together; what happens to each follows from its path and its contacts.

use ambulant::crowd::Crowd;

use super::field::Field;
use super::names::Names;
use super::player::{AmongOthers, Player};
use super::time::seconds;
use crate::record::Event;
use crate::scenario::Scenario;

/// The actors that block each other.
#[derive(Clone)]
pub(super) struct Blocking<'a> {
    crowd: Crowd,
    /// Their places in the list of players.
    places: Vec<usize>,
    names: Names<'a>,
}

impl<'a> Blocking<'a> {
    pub(super) fn new(scenario: &'a Scenario, players: &[Player<'a>]) -> Self {
        let places = (0..players.len()).filter(|place| players[*place].blocks()).collect();
        Self { crowd: Crowd::new(), places, names: Names::new(scenario) }
    }

    /// Whether there are none.
    pub(super) fn is_empty(&self) -> bool {
        self.places.is_empty()
    }

    /// Plays a step of all of them; `each` gets one of them as it is at an instant at which something is expected of it.
    pub(super) fn tick(
        &mut self,
        (from, to): (f64, f64),
        players: &mut [Player<'a>],
        field: &Field,
        events: &mut Vec<Event>,
        mut expected: impl FnMut(&Player<'a>) -> Vec<f64>,
        mut each: impl FnMut(&Player<'a>, f64),
    ) {
        let (mut walkers, mut intents) = (Vec::new(), Vec::new());
        for place in &self.places {
            let (walker, intent) = players[*place].among_others(from, events);
            walkers.push(walker);
            intents.push(intent);
        }
        let (dt, world, mut results) = (seconds(to - from), &field.world, Vec::new());
        let intent = |number: usize| intents[number];
        self.crowd.tick_with_paths(&mut walkers, intent, dt, world, |_, result| results.push(result));
        if self.names.is_empty() {
            let walls = (0..walkers.len()).filter_map(|number| self.crowd.wall_of(number));
            let actors = walls.zip(&self.places).map(|(wall, place)| (wall, players[*place].actor()));
            self.names = self.names.clone().with_actors(actors);
            self.places.iter().for_each(|place| players[*place].set_names(self.names.clone()));
        }
        let terrain = (world, self.crowd.as_walls());
        for (number, ((place, walker), result)) in self.places.iter().zip(walkers).zip(results).enumerate() {
            let (Some(path), Some(wall)) = (self.crowd.path(number), self.crowd.wall_of(number)) else {
                continue;
            };
            let player = &mut players[*place];
            for at in expected(player) {
                let mut copy = player.clone();
                let seconds = seconds(at - from);
                let piece = path.pieces().iter().find(|piece| seconds < piece.end);
                let velocity = piece.map_or(walker.velocity, |piece| piece.velocity);
                let mut then = walker;
                (then.position, then.velocity) = (path.at(seconds), velocity);
                copy.put(&then);
                each(&copy, at);
            }
            player.go_along(&AmongOthers { walker, result, path, own: [wall] }, (from, to), &terrain, events);
        }
    }
}
