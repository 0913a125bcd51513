//! What movement looks like: directions, speeds and distances go in, the picture to show comes out.
//!
//! [`Sectors`] say which of four or eight ways a mover faces, [`Stance`] whether it stands or moves,
//! [`WalkCycle`] which frame of its walk is shown, [`Lean`] how far it leans; [`Pose`] is all of them together.

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
