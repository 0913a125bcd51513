//! What movement looks like: which way a mover faces.

mod facing;

pub use facing::Facing;
