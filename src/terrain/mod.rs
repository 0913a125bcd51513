//! What blocks: a footprint and a displacement go in, the first [`Hit`] comes out.
//!
//! [`Terrain`] is the question that travel asks; [`TileGrid`] answers it for maps of tiles,
//! [`Obstacles`] for free-standing shapes, [`Bounds`] for the edge of the play area, and slices and
//! tuples for several of them together. [`Layers`] say who collides with which walls.

mod bounds;
mod combine;
mod exposed;
mod hit;
mod layers;
mod obstacles;
mod queries;
mod rounds;
mod support;
mod terrain_trait;
mod tiles;

pub use bounds::Bounds;
pub(crate) use bounds::outside;
pub use combine::Filtered;
pub(crate) use hit::Exact;
pub use hit::{Hit, Wall};
pub use layers::{Layers, WallFilter};
pub use obstacles::{ObstacleId, Obstacles};
pub use queries::{ray, walls_at, walls_under};
pub(crate) use rounds::{Round, round_of};
pub use terrain_trait::{FoundWall, Terrain};
pub use tiles::{GridError, Legend, MAX_TILES, Outside, Surface, TileForm, TileGrid, TileKind};
