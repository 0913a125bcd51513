//! What blocks: a footprint and a displacement go in, the first [`Hit`] comes out.
//!
//! [`Terrain`] is the question that travel asks; [`TileGrid`] answers it for maps of tiles,
//! [`Obstacles`] for free-standing shapes, and slices and pairs for several of them together.

mod grid;
mod grid_round;
mod grid_sweep;
mod hit;
mod legend;
mod obstacles;
mod several;
mod support;

pub use grid::{Beyond, TileGrid};
pub use hit::{Hit, Side, Terrain, Wall};
pub use legend::{GridError, Legend, MAX_TILES, TileKind};
pub use obstacles::{ObstacleId, Obstacles};
