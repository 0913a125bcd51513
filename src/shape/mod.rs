//! Shapes on the ground: boxes as plain geometry, the footprint a mover carries, the shapes of
//! free-standing walls, and the exact sweep of one against another.

mod aabb;
mod arc;
mod footprint;
mod outline;
mod polygon;
mod solid;
mod sweep;

pub use aabb::Aabb;
pub(crate) use arc::Arc;
pub use footprint::{Anchor, Footprint};
pub(crate) use outline::{Cone, Feature, Outline};
pub use polygon::{MAX_CORNERS, Polygon, PolygonError};
pub use solid::Solid;
pub(crate) use sweep::{Met, outline_of, sweep_exactly, tolerance, touching_point};
pub use sweep::{Overlap, Touch, overlap, sweep};
