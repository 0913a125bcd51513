//! Shapes on the ground: boxes as plain geometry, the footprint a mover carries, the shapes of
//! free-standing walls, and the exact sweep of one against another.

mod aabb;
mod footprint;
mod outline;
mod polygon;
mod solid;
mod sweep;

pub use aabb::Aabb;
pub use footprint::{Anchor, Footprint};
pub(crate) use outline::{Outline, runs_along, side_entry};
pub use polygon::{MAX_CORNERS, Polygon, PolygonError};
pub use solid::Solid;
pub use sweep::{Overlap, Touch, overlap, sweep};
pub(crate) use sweep::{outline_of, sweep_with_side, touches};
