//! The run itself: every actor, tick after tick.

use super::expect::Expectations;
use super::stage::Stage;
use super::time::time_of;
use crate::record::{Event, Recording};
use crate::scenario::Scenario;

/// How far the last tick may reach past the end before it is shortened, as a part of a tick.
const SLACK: f64 = 1e-6;

/// Plays a scenario at a tick rate, from tick 0 (the start) to its last second.
pub(crate) fn play(scenario: &Scenario, tick_rate: f64) -> Recording {
    let mut recording = Recording::new(scenario, tick_rate);
    let mut watch = Expectations::new(scenario);
    let mut stage = Stage::new(scenario);
    record(&mut recording, &stage, (0, 0.0));
    stage.judge_start(&mut watch, scenario.actors.len());

    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "the run's length is limited"
    )]
    let ticks = (scenario.seconds * tick_rate - SLACK).ceil().max(1.0) as u32;
    let mut from = 0.0;
    for tick in 1..=ticks {
        let to = time_of(tick, tick_rate).min(scenario.seconds);
        stage.tick(tick, (from, to), &mut watch, &mut recording);
        record(&mut recording, &stage, (tick, to));
        from = to;
    }
    recording.events.sort_by_key(Event::order);
    recording.tallies = (0..scenario.actors.len()).map(|actor| stage.tally(actor)).collect();
    recording.verdicts = watch.into_verdicts();
    recording
}

/// Adds a row for each actor, in the order of the scenario.
fn record(recording: &mut Recording, stage: &Stage<'_>, (tick, time): (u32, f64)) {
    let rows = (0..recording.actors.len()).filter_map(|actor| stage.row(actor, tick, time));
    recording.rows.extend(rows);
    recording.moved.note(time, stage.world().offsets());
    recording.crates.note(time, stage.crates());
    let claimed = stage.claimed();
    if !claimed.is_empty() {
        recording.claims.push((time, claimed));
    }
}
