//! What a scenario expects, held against what came out.
//!
//! An expectation is checked at its own time, not at the next tick.

use crate::record::{Row, Verdict};
use crate::scenario::{Claim, Expectation, Scenario};

/// Times this close count as the same, in seconds.
const SAME_TIME: f64 = 1e-9;

/// The expectations that are still to be checked, and what came of the others.
pub(super) struct Expectations<'a> {
    waiting: Vec<&'a Expectation>,
    names: Vec<&'a str>,
    verdicts: Vec<Verdict>,
}

impl<'a> Expectations<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let names = scenario.actors.iter().map(|actor| actor.name.as_str()).collect();
        let mut waiting: Vec<&Expectation> = scenario.expectations.iter().collect();
        waiting.sort_by(|a, b| a.at.total_cmp(&b.at));
        Self { waiting, names, verdicts: Vec::new() }
    }

    /// Expects nothing.
    pub(super) fn none() -> Self {
        Self { waiting: Vec::new(), names: Vec::new(), verdicts: Vec::new() }
    }

    /// The times up to `to` at which something is expected of an actor and not yet checked.
    pub(super) fn due(&self, actor: usize, to: f64) -> Vec<f64> {
        let due = self.waiting.iter().filter(|expectation| expectation.actor == actor);
        let mut times: Vec<f64> =
            due.map(|expectation| expectation.at).filter(|at| *at <= to + SAME_TIME).collect();
        times.dedup();
        times
    }

    /// Checks what is expected of an actor at a time.
    pub(super) fn judge_at(&mut self, at: f64, actor: usize, row: impl Fn() -> Row) {
        let is_due =
            |expectation: &Expectation| expectation.actor == actor && expectation.at <= at + SAME_TIME;
        for expectation in self.waiting.extract_if(.., |expectation| is_due(expectation)) {
            let row = row();
            let name = self.names[actor];
            self.verdicts
                .extend(expectation.claims.iter().map(|claim| judge(expectation.at, name, claim, &row)));
        }
    }

    /// The verdicts in order of time.
    pub(super) fn into_verdicts(mut self) -> Vec<Verdict> {
        self.verdicts.sort_by(|a, b| a.at.total_cmp(&b.at));
        self.verdicts
    }
}

fn judge(at: f64, actor: &str, claim: &Claim, row: &Row) -> Verdict {
    let speed = row.velocity.length();
    let (held, expected, found) = match claim {
        Claim::Position { expected, within } => {
            let apart = row.position.distance(*expected);
            let found = format!("at {}, {} ({apart:.4} away)", row.position.x, row.position.y);
            (apart <= *within, format!("at {}, {} within {within}", expected.x, expected.y), found)
        }
        Claim::Speed { expected, within } => {
            let held = (speed - expected).abs() <= *within;
            (held, format!("at {expected} units/s within {within}"), format!("at {speed} units/s"))
        }
        Claim::Tile(tile) => {
            let name = |tile: glam::IVec2| format!("on tile {},{}", tile.x, tile.y);
            (row.tile == *tile, name(*tile), name(row.tile))
        }
        Claim::AtRest(rest) => {
            let name = |rest: bool| if rest { "at rest" } else { "moving" }.to_owned();
            ((speed == 0.0) == *rest, name(*rest), name(speed == 0.0))
        }
        Claim::Facing(facing) => {
            (row.facing == *facing, format!("facing {facing}"), format!("facing {}", row.facing))
        }
        Claim::Touching(wanted) => {
            let walls: Vec<&str> = row.touching.iter().map(|touch| touch.wall.as_str()).collect();
            let held = match wanted {
                Some(name) => walls.contains(&name.as_str()),
                None => walls.is_empty(),
            };
            let found = if walls.is_empty() { "nothing".to_owned() } else { walls.join(" and ") };
            let wanted = wanted.as_deref().unwrap_or("nothing");
            (held, format!("touching {wanted}"), format!("touching {found}"))
        }
    };
    Verdict { at, actor: actor.to_owned(), expected, found, held }
}
