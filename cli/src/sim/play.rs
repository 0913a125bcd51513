//! The run itself: every actor, tick after tick.

use ambulant::shape::Aabb;

use super::company::Company;
use super::expect::Watch;
use super::flight::Air;
use super::player::Player;
use super::world::World;
use crate::record::Recording;
use crate::scenario::Scenario;

/// How far the last tick may reach past the end before it is shortened, as a part of a tick.
const SLACK: f64 = 1e-6;

/// Plays a scenario at a tick rate, from tick 0 (the start) to its last second.
pub(crate) fn play(scenario: &Scenario, tick_rate: f64) -> Recording {
    let mut recording = Recording::new(scenario, tick_rate);
    let mut watch = Watch::new(scenario);
    let free = scenario.actors.iter().enumerate();
    let mut players: Vec<Player<'_>> = free
        .filter_map(|(index, actor)| Some(Player::new(index, actor, *actor.drive()?, scenario)))
        .collect();
    let mut company = Company::new(scenario);
    let mut world = World::new(scenario);
    let mut air = Air::new(scenario);
    let stepping: Vec<usize> = company.actors().collect();
    let flying: Vec<usize> = air.actors().collect();
    record(&mut recording, &players, &company, &air, &world, (0, 0.0));
    for player in &players {
        watch.judge_at(0.0, player.actor(), || player.row(0, 0.0, world.field()));
    }
    for actor in stepping.iter().chain(&flying) {
        if let Some(row) = company.row(*actor, 0, 0.0).or_else(|| air.row(*actor, 0, 0.0)) {
            watch.judge_at(0.0, *actor, || row.clone());
        }
    }

    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "the run's length is limited"
    )]
    let ticks = (scenario.seconds * tick_rate - SLACK).ceil().max(1.0) as u32;
    let mut from = 0.0;
    for tick in 1..=ticks {
        let to = (f64::from(tick) / tick_rate).min(scenario.seconds);
        for step in world.steps(from, to) {
            let before: Vec<(usize, Aabb)> =
                players.iter().map(|player| (player.actor(), player.lies())).collect();
            world.advance(from, step, &mut players, &mut recording.events);
            for player in &mut players {
                // An expectation between two steps is checked on a copy that stops there.
                for at in watch.due(player.actor(), step) {
                    let mut copy = player.clone();
                    copy.tick(from, at, world.field(), &mut Vec::new());
                    watch.judge_at(at, player.actor(), || copy.row(tick, at, world.field()));
                }
                player.tick(from, step, world.field(), &mut recording.events);
            }
            for actor in &stepping {
                for at in watch.due(*actor, step) {
                    let mut copy = company.clone();
                    copy.tick(from, at, &mut Vec::new());
                    if let Some(row) = copy.row(*actor, tick, at) {
                        watch.judge_at(at, *actor, || row.clone());
                    }
                }
            }
            company.tick(from, step, &mut recording.events);
            for actor in &flying {
                for at in watch.due(*actor, step) {
                    let (mut copy, mut field) = (air.clone(), world.field().clone());
                    let _ = copy.tick(from, at, &players, &before, &mut field);
                    if let Some(row) = copy.row(*actor, tick, at) {
                        watch.judge_at(at, *actor, || row.clone());
                    }
                }
            }
            let told = air.tick(from, step, &players, &before, world.field_mut());
            recording.events.extend(told.events);
            recording.bends.extend(told.bends);
            recording.broken.extend(told.broken);
            recording.shots.extend(told.shots);
            from = step;
        }
        record(&mut recording, &players, &company, &air, &world, (tick, to));
    }
    // The order of actors within a tick must not show where the events differ in time; a touch comes
    // before the rest that it brings.
    #[expect(clippy::cast_possible_truncation, reason = "microseconds of a run of a day at most")]
    recording.events.sort_by_key(|event| ((event.time * 1e6).round() as i64, event.what.rank()));
    recording.moved = world.offsets();
    recording.crates = company.crates();
    recording.tallies = (0..scenario.actors.len())
        .map(|actor| {
            let player = players.iter().find(|player| player.actor() == actor);
            player
                .map(|player| player.tally)
                .or(company.tally(actor))
                .or(air.tally(actor))
                .unwrap_or_default()
        })
        .collect();
    recording.verdicts = watch.into_verdicts();
    recording
}

/// Adds a row for each actor, in the order of the scenario.
fn record(
    recording: &mut Recording,
    players: &[Player<'_>],
    company: &Company<'_>,
    air: &Air<'_>,
    world: &World<'_>,
    (tick, time): (u32, f64),
) {
    for actor in 0..recording.actors.len() {
        let player = players.iter().find(|player| player.actor() == actor);
        let row = player.map(|player| player.row(tick, time, world.field()));
        recording
            .rows
            .extend(row.or_else(|| company.row(actor, tick, time)).or_else(|| air.row(actor, tick, time)));
    }
    let claimed = company.claimed();
    if !claimed.is_empty() {
        recording.claims.push((time, claimed));
    }
}
