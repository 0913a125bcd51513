//! Shapes on the ground: boxes as plain geometry, and the footprint a mover carries.

mod aabb;
mod footprint;

pub use aabb::Aabb;
pub use footprint::{Anchor, Footprint};
