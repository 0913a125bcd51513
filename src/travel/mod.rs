//! Moving through terrain: a displacement goes in, a [`MoveResult`] comes out.
//!
//! The result has the end position, the velocity left and every contact. [`slide`] is what walking needs; with
//! [`resolve`] a callback chooses a [`Response`] at each wall. [`push_out`] moves a mover out of a wall, [`Touching`] tracks touches over ticks, and [`Feelers`] measure free distances.

mod axes;
mod constraints;
mod corner;
mod feelers;
mod limits;
mod move_result;
mod passed;
mod push_out;
mod resolve;
mod touching;

pub use axes::{MAX_PROBES, step_axes};
pub(crate) use constraints::{ALONG_F32, Constraint, WallConstraints, is_round, without_inward};
pub(crate) use corner::way_round;
pub use feelers::{Feelers, free_distance};
pub(crate) use limits::{Limit, nearest_velocity};
pub use move_result::{Contact, Contacts, MAX_CONTACTS, MoveResult, Squeeze};
pub(crate) use passed::Passed;
pub use push_out::{PushOut, push_out};
pub(crate) use resolve::at_full_speed;
pub use resolve::{MAX_HITS, Response, Shift, resolve, slide};
pub use touching::{TouchChange, TouchPhase, Touching};
