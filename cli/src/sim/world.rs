//! What moves by itself: the walls of a scenario on their courses, and whom they push.
//!
//! While a wall moves, a run is played in steps of a fixed length whatever the tick rate, walls first and
//! then the actors, so that the tick rate does not decide who is in a door when it closes.

use ambulant::terrain::{ObstacleId, Obstacles, Wall};
use ambulant::travel::MovingWall;
use glam::Vec2;

use super::player::Player;
use crate::record::Event;
use crate::scenario::{Course, Item, Scenario};

/// Steps a second while a wall moves: the usual tick rates divide it.
const STEPS: f64 = 720.0;

/// The obstacles as they stand now.
pub(super) struct World<'a> {
    store: Obstacles,
    movers: Vec<Moving<'a>>,
}

struct Moving<'a> {
    item: &'a Item,
    course: &'a Course,
    /// How far behind its course it is because it gave way, in seconds.
    lag: f64,
    offset: Vec2,
}

impl<'a> World<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let moving = scenario.standing.iter().filter_map(|item| {
            let course = item.course.as_ref()?;
            Some(Moving { item, course, lag: 0.0, offset: Vec2::ZERO })
        });
        Self { store: scenario.standing.store().clone(), movers: moving.collect() }
    }

    pub(super) fn store(&self) -> &Obstacles {
        &self.store
    }

    /// The ends of the steps of a stretch of time: one where nothing moves.
    pub(super) fn steps(&self, from: f64, to: f64) -> Vec<f64> {
        let moves = |moving: &Moving<'_>| moving.course.moves_within(from - moving.lag, to - moving.lag);
        let mut steps = Vec::new();
        if self.movers.iter().any(moves) {
            let mut number = (from * STEPS).floor() + 1.0;
            while number / STEPS < to - SAME_STEP {
                if number / STEPS > from + SAME_STEP {
                    steps.push(number / STEPS);
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
            let wall = Wall::Obstacle(moving.item.id);
            let mut step = MovingWall { wall, solid, displacement, carries: moving.course.carries };
            let minded = |player: &&mut Player<'_>| player.minds().meets(moving.item.layers);
            if moving.course.gives_way {
                let room = players.iter_mut().filter(minded).map(|player| player.room(&step, &self.store));
                let free = room.fold(1.0, f32::min);
                moving.lag += (1.0 - f64::from(free)) * (to - from);
                step.displacement = displacement * free;
            }
            for player in players.iter_mut().filter(minded) {
                player.pushed(&step, &self.store, from, events);
            }
            moving.offset += step.displacement;
            self.store.set(moving.item.id, moving.item.solid.moved(moving.offset));
        }
    }

    /// Where an obstacle is now, from its start.
    pub(super) fn offsets(&self) -> Vec<(ObstacleId, Vec2)> {
        self.movers.iter().map(|moving| (moving.item.id, moving.offset)).collect()
    }
}

/// Times this close are one, in seconds.
const SAME_STEP: f64 = 1e-9;
