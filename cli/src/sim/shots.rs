//! Shots: fired by the script, and under way until they hit something or are over.

use ambulant::arcade::{FlightEnd, Impact, Projectile, ProjectileEvent, tick_projectiles};
use glam::Vec2;

use super::field::Field;
use super::output::StepOutput;
use super::player::Player;
use super::struck::struck;
use crate::record::{Event, EventKind, Happening, Touch};
use crate::scenario::{Scenario, Shot};
use crate::text::fixed;

/// The shots of a run.
#[derive(Clone)]
pub(super) struct Shots<'a> {
    scenario: &'a Scenario,
    /// Those that are still to come, the first one last.
    waiting: Vec<(usize, Shot)>,
    /// The shots that are flying, and for each its actor and where it was fired.
    puffs: Vec<Projectile>,
    fliers: Vec<(usize, Vec2)>,
}

impl<'a> Shots<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let shots = scenario.actors.iter().enumerate();
        let waiting =
            shots.flat_map(|(actor, found)| found.shots.iter().map(move |shot| (actor, *shot))).collect();
        let mut shots = Self { scenario, waiting, puffs: Vec::new(), fliers: Vec::new() };
        shots.sort();
        shots
    }

    fn sort(&mut self) {
        self.waiting.sort_by(|a, b| b.1.at.total_cmp(&a.1.at).then(a.0.cmp(&b.0)));
    }

    /// Takes away what an actor would fire by its script.
    pub(super) fn take_control(&mut self, actor: usize) {
        self.waiting.retain(|(by, _)| *by != actor);
    }

    /// Adds a shot that is still to come.
    pub(super) fn add(&mut self, actor: usize, shot: Shot) {
        self.waiting.push((actor, shot));
        self.sort();
    }

    /// Where those are that are under way.
    pub(super) fn positions(&self) -> impl Iterator<Item = Vec2> {
        self.puffs.iter().map(|puff| puff.position())
    }

    /// The instants at which one is fired, from now on.
    pub(super) fn moments(&self) -> impl Iterator<Item = f64> {
        self.waiting.iter().map(|(_, shot)| shot.at)
    }

    /// Fires those that are due.
    pub(super) fn fire(&mut self, now: f64, players: &[Player<'_>], output: &mut StepOutput) {
        while let Some((actor, shot)) = self.waiting.last().copied().filter(|(_, shot)| shot.at <= now + 1e-9)
        {
            self.waiting.pop();
            let Some(player) = players.iter().find(|player| player.actor() == actor) else { continue };
            let from = player.position();
            let Ok(mut puff) = Projectile::aimed(from, shot.toward, shot.speed, shot.footprint) else {
                continue;
            };
            puff = puff.with_bounces(shot.bounces);
            // The scenario was checked: both are in range.
            puff = shot.range.and_then(|range| puff.with_range(range).ok()).unwrap_or(puff);
            puff = shot.seconds.and_then(|seconds| puff.with_time(seconds).ok()).unwrap_or(puff);
            let text = format!("fired a shot toward {}, {}", shot.toward.x, shot.toward.y);
            let what = Happening::flew(EventKind::Shot, text);
            output.events.push(Event { time: shot.at, actor, what });
            self.fliers.push((actor, from));
            self.puffs.push(puff);
        }
    }

    /// Moves those under way.
    pub(super) fn tick(&mut self, from: f64, dt: f32, field: &mut Field, output: &mut StepOutput) {
        let Self { scenario, fliers, puffs, .. } = self;
        let decide = |puff: &Projectile, _: &Impact| puff.decision().hitting_wall();
        let (mut ended, mut last) = (Vec::new(), None);
        tick_projectiles(puffs, dt, &mut field.world, decide, |event| match event {
            ProjectileEvent::Met { impact, after, broke } => {
                output.note_broken(from, &impact, broke);
                let (text, kind) = struck(scenario, &impact, broke);
                if after == Vec2::ZERO {
                    last = impact.hits_left.map(|_| text);
                } else if impact.hits_left.is_some() {
                    let (time, what) = (from + f64::from(impact.seconds), format!("the shot {text}"));
                    let what = Happening::flew(kind, what);
                    output.events.push(Event { time, actor: fliers[impact.ball].0, what });
                }
            }
            ProjectileEvent::Wrapped { projectile, side, seconds } => {
                let text = format!("the shot left at the {side} and entered on the other side");
                let (time, what) = (from + f64::from(seconds), Happening::flew(EventKind::Wrapped, text));
                output.events.push(Event { time, actor: fliers[projectile].0, what });
            }
            ProjectileEvent::Ended { projectile, end } => ended.push((projectile, end, last.take())),
            _ => {}
        });
        for (number, end, struck) in &ended {
            let ((actor, start), place) = (fliers[*number], puffs[*number].position());
            let text = match (end, struck) {
                (FlightEnd::Hit { hit, .. }, None) => {
                    format!("hit {}", Touch::new(scenario, hit.wall, hit.side).what())
                }
                (FlightEnd::Hit { .. }, Some(text)) => text.clone(),
                (FlightEnd::OutOfRange { .. }, _) => "is out of range".to_owned(),
                (FlightEnd::Left { side, .. }, _) => format!("went out at the {side}"),
                (FlightEnd::Squeezed(_), _) => "was squeezed".to_owned(),
                _ => "expired".to_owned(),
            };
            let text = format!("the shot {text} at {}, {}", fixed(place.x, 1), fixed(place.y, 1));
            let (time, what) = (from + f64::from(end.seconds()), Happening::flew(EventKind::ShotOver, text));
            output.events.push(Event { time, actor, what });
            output.shots.push((start, place));
        }
        let mut flies = puffs.iter().map(|puff| puff.ended().is_none()).collect::<Vec<_>>().into_iter();
        fliers.retain(|_| flies.next() == Some(true));
        puffs.retain(|puff| puff.ended().is_none());
    }
}
