//! Maps from rows of glyphs or of numbers, checked.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::blocking::{Blocking, blocks_at_all, blocks_on, layers_of, uniform};
use super::grid::TileGrid;
use super::legend::{GridError, Legend, MAX_TILES, Outside, TileKind};
use super::occupied::Occupied;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::terrain::MapId;

impl TileGrid {
    /// A map from rows of glyphs, the upper row first. Tiles are one unit wide; the upper left corner is at the
    /// origin.
    ///
    /// # Errors
    /// When there is no tile, a row differs in length, a glyph is not in the legend, or there are
    /// more than [`MAX_TILES`].
    pub fn from_rows(rows: &[impl AsRef<str>], legend: &Legend) -> Result<Self, GridError> {
        let glyphs = rows.iter().map(|row| row.as_ref().chars().collect());
        let (columns, tiles) = gather(glyphs, |glyph, column, row| {
            legend.index(glyph).ok_or(GridError::UnknownGlyph { glyph, column, row })
        })?;
        Self::from_tiles(columns, tiles, legend.clone().into_kinds())
    }

    /// A map from the index of each tile's kind, row by row, the upper row first. Tiles are one unit wide; the upper
    /// left corner is at the origin.
    ///
    /// ```
    /// use ambulant::terrain::{TileGrid, TileKind};
    /// use glam::ivec2;
    ///
    /// let kinds = [TileKind::floor("path"), TileKind::wall("bed")];
    /// let grid = TileGrid::from_indices(&[vec![0, 0, 1], vec![0, 1, 1]], &kinds)?;
    /// assert!(grid.blocks(ivec2(1, 1)) && !grid.blocks(ivec2(1, 0)));
    /// # Ok::<(), ambulant::terrain::GridError>(())
    /// ```
    ///
    /// # Errors
    /// When there is no tile, a row differs in length, an index has no kind, or there are more than
    /// [`MAX_TILES`].
    pub fn from_indices(rows: &[impl AsRef<[usize]>], kinds: &[TileKind]) -> Result<Self, GridError> {
        let indices = rows.iter().map(|row| row.as_ref().to_vec());
        let (columns, tiles) = gather(indices, |index, column, row| {
            let number = u16::try_from(index).ok().filter(|_| index < kinds.len());
            number.ok_or(GridError::UnknownIndex { index, kinds: kinds.len(), column, row })
        })?;
        Self::from_tiles(columns, tiles, kinds.to_vec())
    }

    /// A map from checked tiles; there are no more than [`MAX_TILES`].
    pub(super) fn from_tiles(
        columns: usize,
        tiles: Vec<u16>,
        kinds: Vec<TileKind>,
    ) -> Result<Self, GridError> {
        let too_large = || GridError::TooLarge { tiles: tiles.len() };
        let forms: Vec<Blocking> = kinds.iter().map(Blocking::of).collect();
        let all = |of: &dyn Fn(&Blocking) -> bool| Occupied::new(columns, &tiles, &forms, of);
        let some = |of: fn(&Blocking) -> bool| forms.iter().any(of).then(|| all(&of));
        let grid = Self {
            id: MapId::FIRST,
            occupied: all(&blocks_at_all),
            halves: some(Blocking::is_half),
            ledges: some(Blocking::is_ledge),
            layered: layers_of(&forms).map(|layer| (layer, all(&|form| blocks_on(layer, form)))).collect(),
            columns: i32::try_from(columns).map_err(|_| too_large())?,
            rows: i32::try_from(tiles.len() / columns).map_err(|_| too_large())?,
            uniform: uniform(&forms),
            has_surfaces: kinds.iter().any(|kind| kind.surface() != Surface::PLAIN),
            forms: forms.into(),
            kinds: kinds.into(),
            tiles: tiles.into(),
            tags: Vec::new(),
            tile_size: Vec2::ONE,
            per_tile: DVec2::ONE,
            origin: Vec2::ZERO,
            y_axis: YAxis::Down,
            outside: Outside::Block,
        };
        Ok(grid.laid())
    }
}

/// Rows of equal length as indices of kinds, and the number of columns.
fn gather<T>(
    rows: impl ExactSizeIterator<Item = Vec<T>>,
    number: impl Fn(T, usize, usize) -> Result<u16, GridError>,
) -> Result<(usize, Vec<u16>), GridError> {
    let (height, mut expected, mut tiles) = (rows.len(), 0, Vec::new());
    for (row, given) in rows.enumerate() {
        let found = given.len();
        if row == 0 {
            expected = found;
            let count = expected.saturating_mul(height);
            if count > MAX_TILES {
                return Err(GridError::TooLarge { tiles: count });
            }
            tiles.reserve(count);
        }
        if found != expected {
            return Err(GridError::UnevenRow { row, expected, found });
        }
        for (column, given) in given.into_iter().enumerate() {
            tiles.push(number(given, column, row)?);
        }
    }
    if tiles.is_empty() { Err(GridError::Empty) } else { Ok((expected, tiles)) }
}
