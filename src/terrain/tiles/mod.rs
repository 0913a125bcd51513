//! Tile maps: what kinds of tile there are, the map, its table of bits, and sweeps through it.

mod blocking;
mod grid;
mod legend;
mod occupied;
mod round;
mod sweep;
mod walls;

pub use grid::{Outside, TileGrid};
pub use legend::{GridError, Legend, MAX_TILES, Surface, TileForm, TileKind};
