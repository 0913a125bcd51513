//! What a step adds to the recording.

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
