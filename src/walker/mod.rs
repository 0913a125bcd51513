//! A mover in one plain struct: intent, time and terrain go in once a tick, a result comes out.
//!
//! The walker is the one room that holds both drive and terrain. It divides a tick where the path
//! meets a wall and where a wall it presses on ends, takes away the part of velocity and wish that
//! points into the wall, and drives on from there.

mod along_walls;
mod character;
mod course;
mod crowd;
mod cut;
mod held;
mod hold;
mod instants;
mod next_piece;
mod piece;
mod state;
mod straight;
mod tick;
mod touched;

pub use along_walls::{AlongWalls, AtWalls};
pub use character::Character;
pub use crowd::tick_all;
#[cfg(feature = "rayon")]
pub use crowd::tick_all_parallel;
pub use state::Walker;
