//! What the player wants: held keys go in, an [`Intent`] of length 0 to 1 comes out.
//!
//! An intent has a direction and a strength and knows nothing of speed; a [drive](crate::drive)
//! turns it into motion.

mod axis;
mod keys;
mod wish;

pub use axis::YAxis;
pub use keys::{Direction, HeldKeys};
pub use wish::Intent;
