//! Changing the tiles of a map.

use alloc::sync::Arc;

use glam::IVec2;

use super::blocking::{blocks_at_all, blocks_on};
use super::grid::TileGrid;
use super::legend::{GridError, KindId};
use crate::shape::Solid;

impl TileGrid {
    /// Changes the kind of a tile.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let legend = Legend::new().with('.', TileKind::floor("path")).with('g', TileKind::wall("gate"));
    /// let mut map = TileGrid::from_rows(&[".g."], &legend)?;
    /// let path = map.kind_named("path").unwrap();
    /// map.set(ivec2(1, 0), path)?; // the gate opens
    /// assert!(!map.blocks(ivec2(1, 0)));
    /// # Ok::<(), ambulant::terrain::GridError>(())
    /// ```
    ///
    /// # Errors
    /// When the tile lies outside the map or there is no such kind.
    pub fn set(&mut self, tile: IVec2, kind: KindId) -> Result<(), GridError> {
        let place = self.index_of(tile).ok_or(GridError::Outside { tile, size: self.size() })?;
        let form = self.forms.get(kind.index()).ok_or(GridError::UnknownIndex {
            index: kind.index(),
            kinds: self.kinds.len(),
            column: tile.x.unsigned_abs() as usize,
            row: tile.y.unsigned_abs() as usize,
        })?;
        if self.tiles[place] != kind.0 {
            Arc::make_mut(&mut self.tiles)[place] = kind.0;
        }
        let (column, row) = (tile.x.unsigned_abs() as usize, tile.y.unsigned_abs() as usize);
        self.occupied.set(column, row, blocks_at_all(form));
        if let Some(halves) = &mut self.halves {
            halves.set(column, row, form.is_half());
        }
        if let Some(ledges) = &mut self.ledges {
            ledges.set(column, row, form.is_ledge());
        }
        for (layer, bits) in &mut self.layered {
            bits.set(column, row, blocks_on(*layer, form));
        }
        Ok(())
    }

    /// Changes the kind of all tiles in a rectangle, both corners included.
    ///
    /// # Errors
    /// When a corner lies outside the map or there is no such kind; then nothing is changed.
    pub fn fill(&mut self, from: IVec2, to: IVec2, kind: KindId) -> Result<(), GridError> {
        let (first, last) = (from.min(to), from.max(to));
        for corner in [first, last] {
            self.index_of(corner).ok_or(GridError::Outside { tile: corner, size: self.size() })?;
        }
        for row in first.y..=last.y {
            for column in first.x..=last.x {
                self.set(IVec2::new(column, row), kind)?;
            }
        }
        Ok(())
    }

    /// Makes a tile that blocks, or only has closed sides, one of the first kind that does neither; returns its shape.
    pub(in crate::terrain) fn open(&mut self, tile: IVec2) -> Option<Solid> {
        let form = self.forms.get(self.kind_id(tile)?.index()).copied().filter(blocks_at_all)?;
        let solid = self.solid_of(tile, form.form);
        let free = |id: &KindId| self.forms.get(id.index()).is_some_and(|form| !blocks_at_all(form));
        let free = self.kind_ids().map(|(id, _)| id).find(free)?;
        self.set(tile, free).ok()?;
        Some(solid)
    }
}
