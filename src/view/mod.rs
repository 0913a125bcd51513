//! Where the world is on a screen: world positions go in, pixels come out, and back.
//!
//! [`View`] is a place in the world with a scale, a rotation and a size in pixels; [`Follow`] moves it after
//! something. Nothing here ever rounds a position of the world.

mod follow;
mod screen;

pub use follow::Follow;
pub use screen::View;
