//! Moving through terrain: a displacement goes in, a [`Passage`] comes out.
//!
//! The passage says where the mover ended, what velocity is left and every wall it met on the way.
//! [`slide`] is what walking needs; [`carry`] lets the caller choose a [`Response`] for each contact.
//! [`push_out`] helps one that starts inside a wall, [`push`] moves a wall against one, [`Touching`] follows
//! touches over ticks, and [`Feelers`] tell how much room there is.

mod axes;
mod carry;
mod constraints;
mod corner;
mod feelers;
mod passage;
mod passed;
mod push;
mod push_out;
mod touching;

pub use axes::{MAX_PROBES, step_axes};
pub(crate) use carry::at_pace;
pub use carry::{MAX_HITS, Response, carry, slide};
pub(crate) use constraints::{Constraint, WallConstraints};
pub(crate) use corner::way_round;
pub use feelers::{Feelers, free_distance};
pub use passage::{Contact, Contacts, MAX_CONTACTS, Passage};
pub(crate) use passed::Passed;
pub use push::{MovingWall, Push, push};
pub use push_out::{PushOut, push_out};
pub use touching::{TouchChange, TouchPhase, Touching};
