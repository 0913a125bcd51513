//! What blocks: a footprint and a displacement go in, the first [`Hit`] comes out.
//!
//! [`Terrain`] is anything that can block. [`World`] holds everything that blocks in a game: a [`TileGrid`],
//! free-standing shapes and the sides of a [`PlayArea`]. A tuple adds a terrain of the game's own. [`Layers`] decide
//! which movers collide with which walls.

mod combine;
mod continues;
mod course;
mod edges;
mod exposed;
mod filter;
mod first_hit;
mod floors;
mod found;
mod hit;
mod hits;
mod layers;
mod moving;
mod obstacles;
mod outside;
mod play_area;
mod queries;
mod rounds;
mod surfaces;
mod swept_area;
mod terrain_trait;
mod tiles;
mod wall;
mod world;
mod world_motion;
mod world_parts;

pub use combine::Filtered;
pub use course::Course;
pub use filter::WallFilter;
pub use found::FoundWall;
pub(crate) use hit::Exact;
pub use hit::Hit;
pub use hits::Strike;
pub use layers::Layers;
pub use moving::WallMotion;
pub use play_area::{Crossing, EdgeRule, PlayArea};
pub use queries::{ray, walls_at, walls_under};
pub(crate) use rounds::{Round, is_clear_of, round_of};
pub use terrain_trait::Terrain;
pub use tiles::{GridError, KindId, Legend, MAX_TILES, Outside, TileForm, TileGrid, TileKind};
pub use wall::{MapId, ObstacleId, Wall};
pub use world::World;
