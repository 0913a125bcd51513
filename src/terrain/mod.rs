//! What blocks: a footprint and a displacement go in, the first [`Hit`] comes out.
//!
//! [`Terrain`] is the question that travel asks; [`TileGrid`] answers it for maps of tiles.

mod grid;
mod grid_sweep;
mod hit;
mod legend;

pub use grid::{Beyond, TileGrid};
pub use hit::{Hit, Side, Terrain, Wall};
pub use legend::{GridError, Legend, MAX_TILES, TileKind};
