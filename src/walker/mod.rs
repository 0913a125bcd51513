//! A mover in one plain struct: intent, time and terrain go in once a tick, a passage comes out.
//!
//! The walker is the one room that holds both drive and terrain. It divides a tick where the path
//! meets a wall and where a wall it presses on ends, takes away the part of velocity and wish that
//! points into the wall, and drives on from there.

mod along_walls;
mod course;
mod crowd;
mod figure;
mod held;
mod instants;
mod pieces;
mod straight;
mod walk;

pub use along_walls::{AlongWalls, AtWalls};
pub use crowd::tick_all;
#[cfg(feature = "rayon")]
pub use crowd::tick_all_cores;
pub use figure::Figure;
pub use walk::Walker;
