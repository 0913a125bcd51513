//! What a step adds to the recording.

use ambulant::arcade::Impact;
use ambulant::terrain::Wall;
use glam::{IVec2, Vec2};

use crate::record::{Bend, Event};

/// What a step adds to the recording.
#[derive(Debug, Default)]
pub(super) struct StepOutput {
    pub(super) events: Vec<Event>,
    pub(super) bends: Vec<Bend>,
    pub(super) broken: Vec<(f64, IVec2)>,
    pub(super) shots: Vec<(Vec2, Vec2)>,
    pub(super) shattered: Vec<(f64, Wall)>,
}

impl StepOutput {
    /// Notes a wall that an impact broke.
    pub(super) fn note_broken(&mut self, from: f64, impact: &Impact, broke: bool) {
        let time = from + f64::from(impact.seconds);
        match impact.hit.wall {
            Wall::Tile(_, tile) if broke => self.broken.push((time, tile)),
            wall if broke => self.shattered.push((time, wall)),
            _ => {}
        }
    }
}
