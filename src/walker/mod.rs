//! A mover in one plain struct: intent, time and terrain go in once per tick, a result comes out.
//!
//! Only the walker knows both drive and terrain. It divides a tick where the path touches a wall and where a wall
//! that it presses on ends, removes the part of velocity and intent into the wall, and continues from there.

mod along_walls;
mod among_moving;
mod at_touch;
mod between;
mod border;
mod carried;
mod character;
mod course;
mod crossing;
mod crowd;
mod cut;
mod effort;
mod follow;
mod framed;
mod free_time;
mod held;
mod hold;
mod hovering;
mod instants;
mod later;
mod meet;
mod mover;
mod next_piece;
mod on_axis;
mod on_border;
mod path;
mod path_pieces;
mod piece;
mod squeezed;
mod state;
mod straight;
mod tick;
mod touched;
mod tracking;

pub use along_walls::{AlongWalls, AtWalls};
pub use character::{Character, Faces};
pub use crowd::tick_all;
#[cfg(feature = "rayon")]
pub use crowd::tick_all_parallel;
pub(crate) use instants::first_time;
pub(crate) use later::Later;
pub use path::{Path, PathPiece};
pub use state::Walker;
