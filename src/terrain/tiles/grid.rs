//! A map of square tiles, and the conversions between world, tile and index.
//!
//! Columns count to the right and rows down the screen, both from 0 at the map's upper left corner,
//! which lies at the origin. Inside, y always grows downwards; where the world's y grows upwards it
//! is turned over on the way in and out.

use alloc::vec::Vec;

use glam::{DVec2, IVec2, Vec2};

use super::blocking::{Blocking, blocks_at_all, blocks_on};
use super::legend::{GridError, Outside, Surface, TileKind};
use super::occupied::Occupied;
use crate::direction::YAxis;
use crate::error::{InvalidNumber, above_zero, finite};
use crate::shape::Aabb;
use crate::terrain::Layers;

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
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct TileGrid {
    pub(in crate::terrain) columns: i32,
    pub(in crate::terrain) rows: i32,
    pub(super) kinds: Vec<TileKind>,
    /// What sweeps ask of each kind, close together.
    pub(in crate::terrain) forms: Vec<Blocking>,
    /// How a tile blocks, if all that do block alike; of a large map only the bits need be at hand then.
    pub(in crate::terrain) uniform: Option<Blocking>,
    pub(in crate::terrain) tiles: Vec<u16>,
    /// The tiles that can be in anybody's way.
    pub(in crate::terrain) occupied: Occupied,
    /// The half-tiles among them, where some kind is one.
    pub(in crate::terrain) halves: Option<Occupied>,
    /// Those that are closed from some sides only, where some kind is.
    pub(in crate::terrain) ledges: Option<Occupied>,
    /// Those on each layer, where some kind lies on another than the first.
    pub(in crate::terrain) layered: Vec<(Layers, Occupied)>,
    pub(super) tile_size: f32,
    /// One by the tile size, since a division takes as long as many multiplications.
    pub(in crate::terrain) per_tile: f64,
    pub(in crate::terrain) origin: Vec2,
    pub(in crate::terrain) y_axis: YAxis,
    pub(in crate::terrain) outside: Outside,
}

impl TileGrid {
    /// The same map with its bits where its tiles are.
    pub(super) fn laid(mut self) -> Self {
        let size = self.size();
        let layered = self.layered.iter_mut().map(|(_, bits)| bits);
        let some = self.halves.iter_mut().chain(&mut self.ledges).chain(layered);
        for bits in some.chain([&mut self.occupied]) {
            bits.lay(self.origin, self.tile_size, self.y_axis, size);
        }
        self
    }

    /// Makes a tile one of another kind, by the kind's place in [`TileGrid::kinds`].
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
    pub fn set(&mut self, tile: IVec2, kind: usize) -> Result<(), GridError> {
        let place = self.index_of(tile).ok_or(GridError::Outside { tile, size: self.size() })?;
        let unknown = GridError::UnknownIndex {
            index: kind,
            kinds: self.kinds.len(),
            column: tile.x.unsigned_abs() as usize,
            row: tile.y.unsigned_abs() as usize,
        };
        let number = u16::try_from(kind).ok().filter(|_| kind < self.kinds.len());
        self.tiles[place] = number.ok_or(unknown)?;
        let (column, row) = (tile.x.unsigned_abs() as usize, tile.y.unsigned_abs() as usize);
        let form = &self.forms[kind];
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

    /// Makes all tiles of a rectangle, both corners included, tiles of one kind.
    ///
    /// # Errors
    /// When a corner lies outside the map or there is no such kind; then nothing is changed.
    pub fn fill(&mut self, from: IVec2, to: IVec2, kind: usize) -> Result<(), GridError> {
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

    /// The place of a tile's kind in [`TileGrid::kinds`], or `None` outside the map.
    #[must_use]
    pub fn kind_index(&self, tile: IVec2) -> Option<usize> {
        self.index_of(tile).map(|index| usize::from(self.tiles[index]))
    }

    /// The place of the kind with this name in [`TileGrid::kinds`].
    #[must_use]
    pub fn kind_named(&self, name: &str) -> Option<usize> {
        self.kinds.iter().position(|kind| kind.name() == name)
    }

    /// The same map with tiles of another width and height, in units.
    ///
    /// # Errors
    /// The size must be finite and above 0.
    pub fn with_tile_size(mut self, size: f32) -> Result<Self, InvalidNumber> {
        self.tile_size = above_zero("tile_size", size, "a finite number above 0 (units)")?;
        self.per_tile = 1.0 / f64::from(size);
        Ok(self.laid())
    }

    /// The same map with its upper left corner elsewhere in the world.
    ///
    /// # Errors
    /// Both parts must be finite.
    pub fn with_origin(mut self, origin: Vec2) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number (units)";
        self.origin = Vec2::new(finite("origin.x", origin.x, wanted)?, finite("origin.y", origin.y, wanted)?);
        Ok(self.laid())
    }

    /// The same map, placed so that the centre of its upper left tile is the world's origin: with tiles of one
    /// unit, centres lie at whole numbers.
    #[must_use]
    pub fn with_centers_on_whole_numbers(mut self) -> Self {
        let half = self.tile_size * 0.5;
        self.origin = Vec2::new(-half, -half * self.y_axis.downward());
        self.laid()
    }

    /// The same map in a world where y grows the other way; the first row stays the upper one.
    #[must_use]
    pub fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self.laid()
    }

    /// The same map with another outside.
    #[must_use]
    pub const fn with_outside(mut self, outside: Outside) -> Self {
        self.outside = outside;
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
    pub const fn outside(&self) -> Outside {
        self.outside
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

    /// The tile of the map nearest to a point: for putting something down.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let legend = Legend::new().with('.', TileKind::floor("path"));
    /// let map = TileGrid::from_rows(&["...", "..."], &legend)?.with_centers_on_whole_numbers();
    /// assert_eq!(map.nearest_tile(vec2(1.2, 7.0)), ivec2(1, 1));
    /// assert_eq!(map.center_of(ivec2(1, 1)), vec2(1.0, 1.0));
    /// assert!(map.is_on_center(vec2(1.0, 1.0)) && !map.is_on_center(vec2(1.2, 1.0)));
    /// # Ok::<(), ambulant::terrain::GridError>(())
    /// ```
    #[must_use]
    pub fn nearest_tile(&self, point: Vec2) -> IVec2 {
        self.tile_at(point).clamp(IVec2::ZERO, self.size() - 1)
    }

    /// Whether a point is exactly the middle of a tile.
    #[must_use]
    pub fn is_on_center(&self, point: Vec2) -> bool {
        self.center_of(self.tile_at(point)) == point
    }

    /// The tiles of the map that an area reaches into, row by row: those that a view shows.
    pub fn tiles_in(&self, area: Aabb) -> impl Iterator<Item = IVec2> + use<> {
        let local = |corner: Vec2| self.to_local(corner.as_dvec2()) / f64::from(self.tile_size);
        let (a, b) = (local(area.min), local(area.max));
        let first = a.min(b).floor().as_ivec2().max(IVec2::ZERO);
        // A tile whose border the area only reaches shows nothing.
        let last = a.max(b).ceil().as_ivec2().saturating_sub(IVec2::ONE).min(self.size() - 1);
        (first.y..=last.y).flat_map(move |row| (first.x..=last.x).map(move |column| IVec2::new(column, row)))
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

    /// What walking on the ground at a point is like; outside the map nothing special.
    #[must_use]
    pub fn surface_at(&self, point: Vec2) -> Surface {
        self.kind(self.tile_at(point)).map_or(Surface::PLAIN, TileKind::surface)
    }

    /// Whether a tile blocks, wholly or by half; outside the map, what [`Outside`] says.
    #[must_use]
    pub fn blocks(&self, tile: IVec2) -> bool {
        self.kind(tile).map_or(self.outside == Outside::Block, TileKind::blocks)
    }

    pub(in crate::terrain) fn corner(&self, tile: IVec2) -> Vec2 {
        self.to_world(tile.as_dvec2() * f64::from(self.tile_size)).as_vec2()
    }

    /// From the world to distances right of and below the map's upper left corner.
    pub(in crate::terrain) fn to_local(&self, point: DVec2) -> DVec2 {
        self.turned(point - self.origin.as_dvec2())
    }

    pub(in crate::terrain) fn to_world(&self, local: DVec2) -> DVec2 {
        self.turned(local) + self.origin.as_dvec2()
    }

    /// Turns a direction between the world's y and the map's, which grows down the screen.
    pub(in crate::terrain) fn turned(&self, direction: DVec2) -> DVec2 {
        DVec2::new(direction.x, direction.y * f64::from(self.y_axis.downward()))
    }
}
