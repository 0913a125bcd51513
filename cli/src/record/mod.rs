//! What came out of a run: a row for each actor and tick, the events between, the sums and the
//! verdicts; and its forms as CSV, JSON Lines and one JSON document.

mod document;
mod event;
mod fingerprint;
mod kind;
mod table;

use ambulant::direction::Facing;
use ambulant::terrain::Wall;
use glam::{IVec2, Vec2};

use crate::scenario::Scenario;

pub(crate) use document::document;
pub(crate) use event::{Event, Happening, Touch};
pub(crate) use fingerprint::fingerprint;
pub(crate) use kind::EventKind;
pub(crate) use table::{Form, write_rows};

/// A run, tick by tick.
#[derive(Debug, Clone)]
pub(crate) struct Recording {
    pub(crate) title: String,
    pub(crate) tick_rate: f64,
    pub(crate) seconds: f64,
    /// The actors' names; rows and events refer to them by place.
    pub(crate) actors: Vec<String>,
    /// By tick, and within a tick by actor.
    pub(crate) rows: Vec<Row>,
    /// In order of time.
    pub(crate) events: Vec<Event>,
    /// One for each actor.
    pub(crate) tallies: Vec<Tally>,
    pub(crate) verdicts: Vec<Verdict>,
    /// Where something that flies changed its direction between two rows, in order of time.
    pub(crate) bends: Vec<Bend>,
    /// The shots that are over: where each started and ended.
    pub(crate) shots: Vec<(Vec2, Vec2)>,
    /// The tiles that broke, and when.
    pub(crate) broken: Vec<(f64, IVec2)>,
    /// The claimed tiles, by time.
    pub(crate) claims: Vec<(f64, Vec<IVec2>)>,
    /// The obstacles that broke, and when.
    pub(crate) shattered: Vec<(f64, Wall)>,
    /// Where the things that can be pushed are, from each time on.
    pub(crate) crates: Changes<IVec2>,
    /// How far from their start the walls that move are, from each time on.
    pub(crate) moved: Changes<(Wall, Vec2)>,
}

/// A list that changes now and then: all of it, from each time on at which it changed.
#[derive(Debug, Clone)]
pub(crate) struct Changes<T>(Vec<(f64, Vec<T>)>);

impl<T: PartialEq> Changes<T> {
    /// Notes what it is at a time.
    pub(crate) fn note(&mut self, time: f64, now: Vec<T>) {
        if self.last() != now {
            self.0.push((time, now));
        }
    }
}

impl<T> Changes<T> {
    /// What it is in the end.
    pub(crate) fn last(&self) -> &[T] {
        self.0.last().map_or(&[], |(_, last)| last)
    }

    /// What it is at a time; nothing before it was noted first.
    pub(crate) fn at(&self, time: f64) -> &[T] {
        let known = self.0.iter().rev().find(|(since, _)| *since <= time);
        known.map_or(&[], |(_, state)| state)
    }

    /// Each of its states, in order of time.
    pub(crate) fn iter(&self) -> impl Iterator<Item = (f64, &[T])> {
        self.0.iter().map(|(time, state)| (*time, state.as_slice()))
    }
}

/// One actor at the end of one tick.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Row {
    pub(crate) tick: u32,
    pub(crate) time: f64,
    pub(crate) actor: usize,
    pub(crate) position: Vec2,
    pub(crate) velocity: Vec2,
    /// In radians, for drives that steer.
    pub(crate) heading: f32,
    pub(crate) intent: Vec2,
    pub(crate) facing: Facing,
    /// The tile under the middle of the footprint.
    pub(crate) tile: IVec2,
    pub(crate) touching: Vec<Touch>,
}

/// A place between two rows where something that flies changed its direction.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Bend {
    pub(crate) actor: usize,
    pub(crate) time: f64,
    pub(crate) position: Vec2,
    pub(crate) normal: Vec2,
    /// The angle at which a paddle sent it off, in degrees.
    pub(crate) degrees: Option<f32>,
}

/// What one actor's run adds up to.
#[derive(Debug, Clone, Copy, Default, PartialEq)]
pub(crate) struct Tally {
    /// Length of the path, in units.
    pub(crate) distance: f64,
    /// The greatest speed reached, in units/s.
    pub(crate) top_speed: f32,
    pub(crate) seconds_moving: f64,
    pub(crate) seconds_standing: f64,
}

impl Tally {
    pub(crate) fn add(&mut self, distance: f32, speed: f32, moving: f64, lasts: f64) {
        self.distance += f64::from(distance);
        self.top_speed = self.top_speed.max(speed);
        // The instant of a rest is rounded, and may lie just after the tick.
        let moving = moving.min(lasts);
        self.seconds_moving += moving;
        self.seconds_standing += lasts - moving;
    }
}

/// What came of one claim of an expectation.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Verdict {
    pub(crate) at: f64,
    pub(crate) actor: String,
    pub(crate) expected: String,
    pub(crate) found: String,
    pub(crate) held: bool,
}

impl Recording {
    /// An empty recording of a scenario.
    pub(crate) fn new(scenario: &Scenario, tick_rate: f64) -> Self {
        Self {
            title: scenario.title.clone(),
            tick_rate,
            seconds: scenario.seconds,
            actors: scenario.actors.iter().map(|actor| actor.name.clone()).collect(),
            rows: Vec::new(),
            events: Vec::new(),
            tallies: Vec::new(),
            verdicts: Vec::new(),
            bends: Vec::new(),
            shots: Vec::new(),
            broken: Vec::new(),
            claims: Vec::new(),
            shattered: Vec::new(),
            crates: Changes(Vec::new()),
            moved: Changes(Vec::new()),
        }
    }

    /// The rows of one actor, in order of time.
    pub(crate) fn track(&self, actor: usize) -> impl Iterator<Item = &Row> + Clone {
        self.rows.iter().skip(actor).step_by(self.actors.len().max(1))
    }

    /// The touches that one actor began, in order of time.
    pub(crate) fn touches(&self, actor: usize) -> impl Iterator<Item = &Event> {
        let begun = |event: &&Event| matches!(event.what, Happening::Touched { .. });
        self.events.iter().filter(move |event| event.actor == actor).filter(begun)
    }

    /// The last row of one actor.
    pub(crate) fn last(&self, actor: usize) -> Option<&Row> {
        self.track(actor).last()
    }

    /// How many of the expected things held, in words.
    pub(crate) fn verdict_line(&self) -> String {
        let held = self.verdicts.iter().filter(|verdict| verdict.held).count();
        if self.verdicts.is_empty() {
            "nothing".to_owned()
        } else {
            format!("{held} of {} held", self.verdicts.len())
        }
    }

    /// Whether every expectation held.
    pub(crate) fn all_held(&self) -> bool {
        self.verdicts.iter().all(|verdict| verdict.held)
    }
}

#[cfg(test)]
mod tests {
    use super::Tally;

    /// An actor that moves all the time stands for 0 s, though the instants of its pieces are rounded.
    #[test]
    fn rounding_adds_nothing_to_the_time_of_a_tick() {
        let mut tally = Tally::default();
        for _ in 0..100 {
            tally.add(1.0, 30.0, f64::from(1.0f32 / 30.0) + 1e-9, 1.0 / 30.0);
        }
        assert_eq!(tally.seconds_standing.to_bits(), 0.0f64.to_bits());
        assert!((tally.seconds_moving - 100.0 / 30.0).abs() < 1e-9);
    }
}
