//! What blocks: a footprint and a displacement go in, the first [`Hit`] comes out.
//!
//! [`Terrain`] is anything that can block. [`World`] holds everything that blocks in a game. [`TileGrid`] is a map of tiles, [`Obstacles`] a store of free-standing
//! shapes, [`PlayArea`] the four sides of the play area; slices and tuples combine them. [`Layers`] decide which
//! movers collide with which walls.

mod combine;
mod continues;
mod exposed;
mod filter;
mod first_hit;
mod found;
mod hit;
mod layers;
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

pub use combine::Filtered;
pub use filter::WallFilter;
pub use found::FoundWall;
pub(crate) use hit::Exact;
pub use hit::Hit;
pub use layers::Layers;
pub use obstacles::Obstacles;
pub use play_area::{Crossing, EdgeRule, PlayArea};
pub use queries::{ray, walls_at, walls_under};
pub(crate) use rounds::{Round, round_of};
pub use terrain_trait::Terrain;
pub use tiles::{GridError, Legend, MAX_TILES, Outside, TileForm, TileGrid, TileKind};
pub use wall::{ObstacleId, Wall};
pub use world::World;
