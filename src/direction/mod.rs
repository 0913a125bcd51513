//! Directions: angles, axes, sides, corners and the eight ways to face.
//!
//! These stand below everything else and know nothing of movement.

mod angle;
mod axis;
mod facing;
mod side;
mod y_axis;

pub use angle::Angle;
pub use axis::Axis;
pub use facing::Facing;
pub use side::{Corner, Side};
pub use y_axis::YAxis;
