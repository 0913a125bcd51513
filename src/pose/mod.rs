//! What movement looks like: directions, speeds and distances go in; the picture to draw comes out.
//!
//! [`Sectors`] choose one of four or eight facings, [`Stance`] whether a mover stands or moves, [`WalkCycle`] the
//! frame of its walk, [`Lean`] how far it leans; [`Pose`] combines them.

mod body;
mod lean;
mod sectors;
mod stance;
mod walk_cycle;

pub use body::Pose;
pub use lean::Lean;
pub use sectors::{DiagonalRule, Sectors};
pub use stance::Stance;
pub use walk_cycle::WalkCycle;
