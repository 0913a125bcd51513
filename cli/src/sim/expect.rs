//! What a scenario expects, held against what came out.
//!
//! An expectation is checked at the first tick at or after its time.

use crate::record::{Recording, Row, Verdict};
use crate::scenario::{Claim, Expectation, Scenario};

/// Times this close count as the same, in seconds.
const SAME_TIME: f64 = 1e-9;

/// The expectations that are still to be checked, and what came of the others.
pub(super) struct Watch<'a> {
    waiting: Vec<&'a Expectation>,
    names: Vec<&'a str>,
    pub(super) verdicts: Vec<Verdict>,
}

impl<'a> Watch<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let mut waiting: Vec<&Expectation> = scenario.expectations.iter().collect();
        waiting.sort_by(|a, b| a.at.total_cmp(&b.at));
        let names = scenario.actors.iter().map(|actor| actor.name.as_str()).collect();
        Self { waiting, names, verdicts: Vec::new() }
    }

    /// Checks what is due at the recording's last tick.
    pub(super) fn look(&mut self, recording: &Recording, now: f64) {
        let due = self.waiting.partition_point(|expectation| expectation.at <= now + SAME_TIME);
        for expectation in self.waiting.drain(..due) {
            let row = &recording.rows[recording.rows.len() - self.names.len() + expectation.actor];
            let actor = self.names[expectation.actor];
            self.verdicts
                .extend(expectation.claims.iter().map(|claim| judge(expectation.at, actor, claim, row)));
        }
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
