//! World to screen and back: positions go in, pixels come out.
//!
//! [`View`] has a centre in the world, a scale, a rotation and a size in pixels; [`Follow`] moves it after a target.
//! Nothing here rounds a position of the world.

mod follow;
mod screen;

pub use follow::Follow;
pub use screen::View;
