//! The moving walls of a scenario, and the actors that they push.
//!
//! While a wall moves, or if there are a ball and a paddle, a run is played in steps of a fixed length at any tick
//! rate, walls before actors, so that the tick rate does not decide where an actor is when a door closes.

use ambulant::terrain::Wall;
use ambulant::travel::MovingWall;
use glam::Vec2;

use super::field::Field;
use super::flight::Flyers;
use super::player::Player;
use crate::record::Event;
use crate::scenario::{Course, FINE_STEPS, Item, Scenario};

/// The walls, and those of them that move.
#[derive(Clone)]
pub(super) struct World<'a> {
    field: Field,
    movers: Vec<Moving<'a>>,
    /// Whether time is divided finely throughout.
    fine: bool,
}

#[derive(Clone)]
struct Moving<'a> {
    item: &'a Item,
    course: &'a Course,
    /// How far behind its course it is because it waited, in seconds.
    lag: f64,
    offset: Vec2,
}

impl<'a> World<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let moving = scenario.standing.iter().filter_map(|item| {
            let course = item.course.as_ref()?;
            Some(Moving { item, course, lag: 0.0, offset: Vec2::ZERO })
        });
        Self {
            field: Field::new(scenario),
            movers: moving.collect(),
            fine: Flyers::needs_fine_steps(scenario),
        }
    }

    pub(super) fn field(&self) -> &Field {
        &self.field
    }

    pub(super) fn field_mut(&mut self) -> &mut Field {
        &mut self.field
    }

    /// The ends of the steps of a stretch of time: one where nothing moves.
    pub(super) fn steps(&self, from: f64, to: f64) -> Vec<f64> {
        let moves = |moving: &Moving<'_>| moving.course.moves_within(from - moving.lag, to - moving.lag);
        let mut steps = Vec::new();
        if self.fine || self.movers.iter().any(moves) {
            let mut number = (from * FINE_STEPS).floor() + 1.0;
            while number / FINE_STEPS < to - SAME_STEP {
                if number / FINE_STEPS > from + SAME_STEP {
                    steps.push(number / FINE_STEPS);
                }
                number += 1.0;
            }
        }
        steps.push(to);
        steps
    }

    /// Moves the walls on, against the actors.
    pub(super) fn advance(
        &mut self,
        from: f64,
        to: f64,
        players: &mut [Player<'_>],
        events: &mut Vec<Event>,
    ) {
        for moving in &mut self.movers {
            let target = moving.course.offset(to - moving.lag);
            let displacement = target - moving.offset;
            if displacement == Vec2::ZERO {
                continue;
            }
            let solid = moving.item.solid.moved(moving.offset);
            let wall = moving.item.id;
            let mut step = MovingWall { wall, solid, displacement, carries: moving.course.carries };
            let filtered = |player: &&mut Player<'_>| player.mask().meets(moving.item.layers);
            if moving.course.waits {
                let room = players.iter_mut().filter(filtered).map(|player| player.room(&step, &self.field));
                let free = room.fold(1.0, f32::min);
                moving.lag += (1.0 - f64::from(free)) * (to - from);
                step.displacement = displacement * free;
            }
            for player in players.iter_mut().filter(filtered) {
                player.pushed(&step, &self.field, from, events);
            }
            moving.offset += step.displacement;
            self.field.world.place(moving.item.id, moving.item.solid.moved(moving.offset));
        }
    }

    /// Where an obstacle is now, from its start.
    pub(super) fn offsets(&self) -> Vec<(Wall, Vec2)> {
        self.movers.iter().map(|moving| (moving.item.id, moving.offset)).collect()
    }
}

/// Times this close are one, in seconds.
const SAME_STEP: f64 = 1e-9;
