//! A map of square tiles, and the conversions between world, tile and index.
//!
//! Columns count to the right and rows down the screen, both from 0 at the map's upper left corner,
//! which lies at the origin. Inside, y always grows downwards; where the world's y grows upwards it
//! is turned over on the way in and out.

use glam::{DVec2, IVec2, Vec2};

use super::legend::{GridError, Legend, MAX_TILES, TileKind};
use crate::error::{InvalidNumber, above_zero, finite};
use crate::intent::YAxis;
use crate::shape::Aabb;

/// What lies outside the map.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub enum Beyond {
    /// The outside is one wall.
    #[default]
    Blocks,
    /// The outside is free.
    Free,
}

/// A map of square tiles that block or let pass.
///
/// ```
/// use ambulant::terrain::{Legend, TileGrid, TileKind};
/// use glam::{ivec2, vec2};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let grid = TileGrid::from_rows(&["...", ".#."], &legend)?.with_tile_size(16.0)?;
///
/// assert_eq!(grid.tile_at(vec2(20.0, 17.0)), ivec2(1, 1));
/// assert_eq!(grid.center_of(ivec2(1, 1)), vec2(24.0, 24.0));
/// assert_eq!(grid.index_of(ivec2(1, 1)), Some(4));
/// assert_eq!(grid.tile_of_index(4), Some(ivec2(1, 1)));
/// assert!(grid.blocks(ivec2(1, 1)) && !grid.contains(ivec2(3, 0)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq)]
pub struct TileGrid {
    columns: i32,
    rows: i32,
    kinds: Vec<TileKind>,
    tiles: Vec<u16>,
    tile_size: f32,
    origin: Vec2,
    y_axis: YAxis,
    beyond: Beyond,
}

impl TileGrid {
    /// A map from rows of glyphs, the upper row first, with tiles of one unit and its upper left
    /// corner at the world's origin.
    ///
    /// # Errors
    /// When there is no tile, a row differs in length, a glyph is not in the legend, or there are
    /// more than [`MAX_TILES`].
    pub fn from_rows(rows: &[impl AsRef<str>], legend: &Legend) -> Result<Self, GridError> {
        let columns = rows.first().map_or(0, |row| row.as_ref().chars().count());
        if columns == 0 {
            return Err(GridError::Empty);
        }
        let count = columns.saturating_mul(rows.len());
        if count > MAX_TILES {
            return Err(GridError::TooLarge { tiles: count });
        }
        let mut tiles = Vec::with_capacity(count);
        for (row, glyphs) in rows.iter().enumerate() {
            let found = glyphs.as_ref().chars().count();
            if found != columns {
                return Err(GridError::UnevenRow { row, expected: columns, found });
            }
            for (column, glyph) in glyphs.as_ref().chars().enumerate() {
                tiles.push(legend.index(glyph).ok_or(GridError::UnknownGlyph { glyph, column, row })?);
            }
        }
        let too_large = GridError::TooLarge { tiles: count };
        Ok(Self {
            columns: i32::try_from(columns).map_err(|_| too_large.clone())?,
            rows: i32::try_from(rows.len()).map_err(|_| too_large)?,
            kinds: legend.clone().into_kinds(),
            tiles,
            tile_size: 1.0,
            origin: Vec2::ZERO,
            y_axis: YAxis::Down,
            beyond: Beyond::Blocks,
        })
    }

    /// The same map with tiles of another width and height, in units.
    ///
    /// # Errors
    /// The size must be finite and above 0.
    pub fn with_tile_size(mut self, size: f32) -> Result<Self, InvalidNumber> {
        self.tile_size = above_zero("tile_size", size, "a finite number above 0 (units)")?;
        Ok(self)
    }

    /// The same map with its upper left corner elsewhere in the world.
    ///
    /// # Errors
    /// Both parts must be finite.
    pub fn with_origin(mut self, origin: Vec2) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number (units)";
        self.origin = Vec2::new(finite("origin.x", origin.x, wanted)?, finite("origin.y", origin.y, wanted)?);
        Ok(self)
    }

    /// The same map in a world where y grows the other way; the first row stays the upper one.
    #[must_use]
    pub const fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self
    }

    /// The same map with another outside.
    #[must_use]
    pub const fn with_beyond(mut self, beyond: Beyond) -> Self {
        self.beyond = beyond;
        self
    }

    /// How many columns and rows there are.
    #[must_use]
    pub const fn size(&self) -> IVec2 {
        IVec2::new(self.columns, self.rows)
    }

    /// Width and height of a tile, in units.
    #[must_use]
    pub const fn tile_size(&self) -> f32 {
        self.tile_size
    }

    /// Which way y grows.
    #[must_use]
    pub const fn y_axis(&self) -> YAxis {
        self.y_axis
    }

    /// What lies outside.
    #[must_use]
    pub const fn beyond(&self) -> Beyond {
        self.beyond
    }

    /// The ground that the whole map covers.
    #[must_use]
    pub fn area(&self) -> Aabb {
        Aabb::from_corners(self.corner(IVec2::ZERO), self.corner(self.size()))
    }

    /// The tile that a point lies on. A point on a border belongs to the tile to the right of it or
    /// below it; the tile may lie outside the map.
    #[must_use]
    pub fn tile_at(&self, point: Vec2) -> IVec2 {
        let local = self.to_local(point.as_dvec2()) / f64::from(self.tile_size);
        local.floor().as_ivec2()
    }

    /// The middle of a tile, which may lie outside the map.
    #[must_use]
    pub fn center_of(&self, tile: IVec2) -> Vec2 {
        self.to_world((tile.as_dvec2() + 0.5) * f64::from(self.tile_size)).as_vec2()
    }

    /// The ground that a tile covers; the tile may lie outside the map.
    #[must_use]
    pub fn tile_area(&self, tile: IVec2) -> Aabb {
        Aabb::from_corners(self.corner(tile), self.corner(tile.saturating_add(IVec2::ONE)))
    }

    /// Whether a tile lies on the map.
    #[must_use]
    pub const fn contains(&self, tile: IVec2) -> bool {
        tile.x >= 0 && tile.y >= 0 && tile.x < self.columns && tile.y < self.rows
    }

    /// The index of a tile, row by row from the upper left one, or `None` outside the map.
    #[must_use]
    pub fn index_of(&self, tile: IVec2) -> Option<usize> {
        let (column, row) = (usize::try_from(tile.x).ok()?, usize::try_from(tile.y).ok()?);
        self.contains(tile).then_some(row * self.columns.unsigned_abs() as usize + column)
    }

    /// The tile with an index, or `None` past the last one.
    #[must_use]
    pub fn tile_of_index(&self, index: usize) -> Option<IVec2> {
        if index >= self.tiles.len() {
            return None;
        }
        let index = i32::try_from(index).ok()?;
        Some(IVec2::new(index % self.columns, index / self.columns))
    }

    /// Every kind of tile that the legend named, in its order.
    #[must_use]
    pub fn kinds(&self) -> &[TileKind] {
        &self.kinds
    }

    /// What kind of tile this is, or `None` outside the map.
    #[must_use]
    pub fn kind(&self, tile: IVec2) -> Option<&TileKind> {
        self.index_of(tile).map(|index| &self.kinds[usize::from(self.tiles[index])])
    }

    /// Whether a tile blocks; outside the map, what [`Beyond`] says.
    #[must_use]
    pub fn blocks(&self, tile: IVec2) -> bool {
        self.kind(tile).map_or(self.beyond == Beyond::Blocks, TileKind::blocks)
    }

    fn corner(&self, tile: IVec2) -> Vec2 {
        self.to_world(tile.as_dvec2() * f64::from(self.tile_size)).as_vec2()
    }

    /// From the world to distances right of and below the map's upper left corner.
    pub(super) fn to_local(&self, point: DVec2) -> DVec2 {
        self.turned(point - self.origin.as_dvec2())
    }

    pub(super) fn to_world(&self, local: DVec2) -> DVec2 {
        self.turned(local) + self.origin.as_dvec2()
    }

    /// Turns a direction between the world's y and the map's, which grows down the screen.
    pub(super) fn turned(&self, direction: DVec2) -> DVec2 {
        DVec2::new(direction.x, direction.y * f64::from(self.y_axis.downward()))
    }
}
