//! Tile maps: what kinds of tile there are, the map, its table of bits, and sweeps through it.

mod blocking;
mod change;
mod from_rows;
mod grid;
mod legend;
mod occupied;
mod open;
mod round;
#[cfg(feature = "serde")]
mod saved;
mod sweep;
mod tile_walls;
mod walls;

pub use grid::TileGrid;
pub use legend::{GridError, KindId, Legend, MAX_TILES, Outside, TileForm, TileKind};
