//! What the player wants. Keys, a stick, a drag or a pointer go in; an [`Intent`] of length 0 to 1 comes out (or a
//! launch velocity, or an [`Angle`](crate::direction::Angle) to aim at).
//!
//! An intent has a direction and a strength but no speed; a [drive](crate::drive) turns it into motion.

mod flick;
mod key_layout;
mod keys;
mod press_order;
mod snap;
mod stick;
mod wish;

pub use flick::Flick;
pub use key_layout::KeyLayout;
pub use keys::{Direction, HeldKeys};
pub use press_order::{Opposites, PressOrder};
pub use snap::{DirectionSnap, Directions};
pub use stick::Stick;
pub use wish::Intent;
