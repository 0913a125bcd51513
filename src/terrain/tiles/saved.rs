//! Saving and restoring a map: its kinds, its tiles and where it lies. The bit tables are rebuilt.

use alloc::vec::Vec;

use glam::Vec2;
use serde::de::{Deserialize, Deserializer};
use serde::ser::{Serialize, Serializer};

use super::grid::TileGrid;
use super::legend::{MAX_TILES, Outside, TileKind};
use crate::direction::YAxis;
use crate::saved::{Invalid, Version, ensure};
use crate::terrain::MapId;

/// The fields that are saved; `L` is a list, borrowed for saving.
#[derive(serde::Serialize, serde::Deserialize)]
#[serde(rename = "TileGrid")]
struct Saved<K, T, G> {
    version: Version<1>,
    id: MapId,
    columns: i32,
    rows: i32,
    kinds: K,
    tiles: T,
    tags: G,
    tile_size: Vec2,
    origin: Vec2,
    y_axis: YAxis,
    outside: Outside,
}

type Restored = Saved<Vec<TileKind>, Vec<u16>, Vec<(usize, u32)>>;

impl Serialize for TileGrid {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let &Self { id, columns, rows, tile_size, origin, y_axis, outside, .. } = self;
        let (kinds, tiles, tags) = (&self.kinds[..], &self.tiles[..], &self.tags[..]);
        let version = Version;
        Saved { version, id, columns, rows, kinds, tiles, tags, tile_size, origin, y_axis, outside }
            .serialize(serializer)
    }
}

impl<'de> Deserialize<'de> for TileGrid {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        Restored::deserialize(deserializer)?.checked().map_err(Invalid::refuse)
    }
}

impl Restored {
    fn checked(self) -> Result<TileGrid, Invalid> {
        let Self { id, columns, rows, kinds, tiles, tags, tile_size, origin, y_axis, outside, .. } = self;
        ensure(columns > 0 && rows > 0, "columns and rows must be above 0")?;
        let count = u64::from(columns.unsigned_abs()) * u64::from(rows.unsigned_abs());
        ensure(count == tiles.len() as u64, "tiles must be as many as columns times rows")?;
        ensure(tiles.len() <= MAX_TILES, "tiles must be at most 16777216")?;
        ensure(
            tiles.iter().all(|kind| usize::from(*kind) < kinds.len()),
            "tiles must name one of the kinds",
        )?;
        let in_order = tags.windows(2).all(|pair| pair[0].0 < pair[1].0);
        let on_map = tags.iter().all(|(index, tag)| *index < tiles.len() && *tag != 0);
        ensure(in_order && on_map, "tags must name tiles in their order, none with the tag 0")?;
        let grid = TileGrid::from_tiles(columns.unsigned_abs() as usize, tiles, kinds)?;
        let grid = grid.with_tile_dimensions(tile_size.x, tile_size.y)?.with_origin(origin)?;
        let mut grid = grid.with_y_axis(y_axis).with_outside(outside);
        (grid.id, grid.tags) = (id, tags);
        Ok(grid)
    }
}
