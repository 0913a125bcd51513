//! The walls of a scenario, and how those that move do so while the actors play.
//!
//! A step ends wherever an actor's keys change, and where something is served or fired, so that all actors see the same
//! walls at the same time.

use ambulant::terrain::{Course, Wall};
use glam::Vec2;

use super::field::Field;
use super::flight::Flyers;
use super::player::Player;
use crate::scenario::{Item, Scenario};

/// The walls, and those of them that move.
#[derive(Clone)]
pub(crate) struct World<'a> {
    field: Field,
    movers: Vec<Moving<'a>>,
    /// Whether something flies, or some actors block each other.
    meets: bool,
}

#[derive(Clone)]
struct Moving<'a> {
    item: &'a Item,
    /// Its course, which is late if it waited.
    course: Course,
    waits: bool,
    /// For how long it moves in this step, in seconds.
    moves_for: f32,
}

impl<'a> World<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let moving = scenario.standing.iter().filter_map(|item| {
            let moves = item.moves.as_ref()?;
            Some(Moving { item, course: moves.course.clone(), waits: moves.waits, moves_for: 0.0 })
        });
        let meets = Flyers::any(scenario) || scenario.actors.iter().any(|actor| actor.blocks);
        Self { field: Field::new(scenario), movers: moving.collect(), meets }
    }

    pub(super) fn field(&self) -> &Field {
        &self.field
    }

    pub(super) fn field_mut(&mut self) -> &mut Field {
        &mut self.field
    }

    /// The ends of the steps of a stretch of time: one where nothing moves. `moments` are the times at which keys change, and at which something is served or fired.
    pub(super) fn steps(&self, from: f64, to: f64, moments: impl Iterator<Item = f64>) -> Vec<f64> {
        let mut steps = Vec::new();
        if self.meets || self.movers.iter().any(|moving| !moving.course.has_ended()) {
            steps.extend(moments.filter(|at| *at > from + SAME_STEP && *at < to - SAME_STEP));
            steps.sort_by(f64::total_cmp);
            steps.dedup_by(|later, earlier| *later - *earlier <= SAME_STEP);
        }
        steps.push(to);
        steps
    }

    /// Lets the walls move during the next `dt` seconds; those that wait stop where they would squeeze an actor.
    pub(super) fn begin(&mut self, dt: f32, players: &[Player<'_>]) {
        let world = &mut self.field.world;
        for moving in &mut self.movers {
            // A wall that has been broken does not move.
            world.move_in(moving.item.id, moving.course.pieces(dt));
        }
        for moving in &mut self.movers {
            moving.moves_for = dt;
            if moving.waits {
                let walkers = players.iter().filter_map(Player::walker);
                moving.moves_for = world.free_time(moving.item.id, walkers, dt);
                world.stop_after(moving.item.id, moving.moves_for);
            }
        }
    }

    /// Puts the walls where they have moved to.
    pub(super) fn advance(&mut self, dt: f32) {
        self.field.world.advance(dt);
        for moving in &mut self.movers {
            moving.course.advance(moving.moves_for);
        }
    }

    /// Where an obstacle is now, from its start.
    pub(crate) fn offsets(&self) -> Vec<(Wall, Vec2)> {
        self.movers.iter().map(|moving| (moving.item.id, moving.course.offset())).collect()
    }
}

/// Times this close are one, in seconds.
const SAME_STEP: f64 = 1e-9;
