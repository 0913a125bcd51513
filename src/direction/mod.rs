//! Directions: angles, axes, sides, corners and the eight facings.
//!
//! This module is below all others and knows nothing of movement.

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
