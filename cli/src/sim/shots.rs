//! Shots: fired by the script, and under way until they hit something or are over.

use ambulant::arcade::{FlightEnd, Projectile};
use glam::Vec2;

use super::field::Field;
use super::output::StepOutput;
use super::player::Player;
use super::time::seconds;
use crate::record::{Event, EventKind, Happening, Touch};
use crate::scenario::{Scenario, Shot};
use crate::text::fixed;

/// The shots of a run.
#[derive(Clone)]
pub(super) struct Shots<'a> {
    scenario: &'a Scenario,
    /// Those that are still to come, the first one last.
    waiting: Vec<(usize, Shot)>,
    under_way: Vec<Flight>,
}

/// A shot on its way.
#[derive(Clone)]
struct Flight {
    actor: usize,
    from: Vec2,
    puff: Projectile,
}

impl<'a> Shots<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let shots = scenario.actors.iter().enumerate();
        let mut waiting: Vec<(usize, Shot)> =
            shots.flat_map(|(actor, found)| found.shots.iter().map(move |shot| (actor, *shot))).collect();
        waiting.sort_by(|a, b| b.1.at.total_cmp(&a.1.at));
        Self { scenario, waiting, under_way: Vec::new() }
    }

    /// Whether none is under way or still to come.
    pub(super) fn is_empty(&self) -> bool {
        self.waiting.is_empty() && self.under_way.is_empty()
    }

    /// Fires shots and moves those under way.
    pub(super) fn tick(
        &mut self,
        from: f64,
        to: f64,
        players: &[Player<'_>],
        field: &Field,
        output: &mut StepOutput,
    ) {
        while let Some((actor, shot)) = self.waiting.last().copied().filter(|(_, shot)| shot.at < to - 1e-9) {
            self.waiting.pop();
            let Some(player) = players.iter().find(|player| player.actor() == actor) else { continue };
            let place = player.position();
            let Ok(mut puff) = Projectile::aimed(place, shot.toward, shot.speed, shot.footprint) else {
                continue;
            };
            puff = puff.with_bounces(shot.bounces);
            // The scenario was checked: both are in range.
            puff = shot.range.and_then(|range| puff.with_range(range).ok()).unwrap_or(puff);
            puff = shot.seconds.and_then(|seconds| puff.with_time(seconds).ok()).unwrap_or(puff);
            let text = format!("fired a shot toward {}, {}", shot.toward.x, shot.toward.y);
            output.events.push(Event {
                time: shot.at.max(from),
                actor,
                what: Happening::flew(EventKind::Shot, text),
            });
            self.under_way.push(Flight { actor, from: place, puff });
        }
        let dt = seconds(to - from);
        let scenario = self.scenario;
        self.under_way.retain_mut(|flight| {
            let end = flight.puff.tick(dt, &field.world);
            let Some(end) = end else { return true };
            let place = flight.puff.position();
            let text = match end {
                FlightEnd::Hit(hit) => {
                    format!("the shot hit {}", Touch::new(scenario, hit.wall, hit.side).what())
                }
                FlightEnd::OutOfRange => "the shot is out of range".to_owned(),
                _ => "the shot expired".to_owned(),
            };
            let text = format!("{text} at {}, {}", fixed(place.x, 1), fixed(place.y, 1));
            output.events.push(Event {
                time: to,
                actor: flight.actor,
                what: Happening::flew(EventKind::ShotOver, text),
            });
            output.shots.push((flight.from, place));
            false
        });
    }
}
