//! A map of tiles, and the conversions between world, tile and index.
//!
//! Columns count to the right and rows down the screen, both from 0 at the upper left corner. Internally y grows
//! downwards; positions are converted on the way in and out.

use alloc::sync::Arc;
use alloc::vec::Vec;

use glam::{DVec2, IVec2, Vec2};

use super::blocking::Blocking;
use super::legend::{GridError, KindId, Outside, TileKind};
use super::occupied::Occupied;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::error::{InvalidNumber, finite_vector};
use crate::shape::Aabb;
use crate::terrain::{Layers, MapId};
use crate::tolerance::SMALLEST_TILE;

/// A map of tiles of one size: square ones, or of another width than height.
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
///
/// Copies share their tiles until one of them changes, so an undo history or a rollback may keep many.
#[derive(Debug, Clone, PartialEq)]
pub struct TileGrid {
    /// Which map of a world it is.
    pub(in crate::terrain) id: MapId,
    pub(in crate::terrain) columns: i32,
    pub(in crate::terrain) rows: i32,
    pub(super) kinds: Arc<[TileKind]>,
    /// What sweeps ask of each kind, close together.
    pub(in crate::terrain) forms: Arc<[Blocking]>,
    /// How a tile blocks, if all that do are alike; then only the bits of a large map are read.
    pub(in crate::terrain) uniform: Option<Blocking>,
    /// Shared by copies until one of them changes.
    pub(in crate::terrain) tiles: Arc<[u16]>,
    /// Tags of single tiles, by index.
    pub(super) tags: Vec<(usize, u32)>,
    /// The tiles that can block anything.
    pub(in crate::terrain) occupied: Occupied,
    /// The half-tiles among them, if there is such a kind.
    pub(in crate::terrain) halves: Option<Occupied>,
    /// Those that are closed from some sides only, if there is such a kind.
    pub(in crate::terrain) ledges: Option<Occupied>,
    /// Those on each layer, if some kind is on another than the first.
    pub(in crate::terrain) layered: Vec<(Layers, Occupied)>,
    /// Whether a kind has another surface than a plain one.
    pub(in crate::terrain) has_surfaces: bool,
    pub(super) tile_size: Vec2,
    /// One divided by the tile size, since a division takes as long as many multiplications.
    pub(in crate::terrain) per_tile: DVec2,
    pub(in crate::terrain) origin: Vec2,
    pub(in crate::terrain) y_axis: YAxis,
    pub(in crate::terrain) outside: Outside,
}

impl TileGrid {
    /// Lays out the bits for the position and size of the map.
    pub(super) fn laid(mut self) -> Self {
        let size = self.size();
        let layered = self.layered.iter_mut().map(|(_, bits)| bits);
        let some = self.halves.iter_mut().chain(&mut self.ledges).chain(layered);
        for bits in some.chain([&mut self.occupied]) {
            bits.lay(self.origin, self.tile_size, self.y_axis, size);
        }
        self
    }

    /// Which kind a tile is, or `None` outside the map.
    #[must_use]
    pub fn kind_id(&self, tile: IVec2) -> Option<KindId> {
        self.index_of(tile).map(|index| KindId(self.tiles[index]))
    }

    /// The kind with this name; the first of several.
    #[must_use]
    pub fn kind_named(&self, name: &str) -> Option<KindId> {
        self.kind_ids().find(|(_, kind)| kind.name() == name).map(|(id, _)| id)
    }

    /// Every kind of tile with its id, in the order of the legend.
    pub fn kind_ids(&self) -> impl Iterator<Item = (KindId, &TileKind)> {
        (0..).map(KindId).zip(&*self.kinds)
    }

    /// Sets the width and height of square tiles, in units.
    ///
    /// # Errors
    /// The size must be finite and at least a millionth of a unit.
    pub fn with_tile_size(self, size: f32) -> Result<Self, InvalidNumber> {
        let size = tile_length("tile_size", size)?;
        Ok(self.with_tiles_of(Vec2::splat(size)))
    }

    /// Sets the width and the height of tiles that are not square, in units.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let legend = Legend::new().with('.', TileKind::floor("path"));
    /// let map = TileGrid::from_rows(&["...", "..."], &legend)?.with_tile_dimensions(24.0, 16.0)?;
    /// assert_eq!(map.area().size(), vec2(72.0, 32.0));
    /// assert_eq!(map.tile_at(vec2(30.0, 30.0)), ivec2(1, 1));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    ///
    /// # Errors
    /// Both must be finite and at least a millionth of a unit.
    pub fn with_tile_dimensions(self, width: f32, height: f32) -> Result<Self, InvalidNumber> {
        let width = tile_length("tile_width", width)?;
        let height = tile_length("tile_height", height)?;
        Ok(self.with_tiles_of(Vec2::new(width, height)))
    }

    fn with_tiles_of(mut self, size: Vec2) -> Self {
        (self.tile_size, self.per_tile) = (size, size.as_dvec2().recip());
        self.laid()
    }

    /// Sets the position of the upper left corner.
    ///
    /// # Errors
    /// Both parts must be finite.
    pub fn with_origin(mut self, origin: Vec2) -> Result<Self, InvalidNumber> {
        self.origin = finite_vector("origin", origin, "a vector of finite numbers (units)")?;
        Ok(self.laid())
    }

    /// Puts the centre of the upper left tile at the world's origin: with tiles of one unit, centres are at whole
    /// numbers.
    #[must_use]
    pub fn with_centers_on_whole_numbers(mut self) -> Self {
        let half = self.tile_size * 0.5;
        self.origin = Vec2::new(-half.x, -half.y * self.y_axis.downward());
        self.laid()
    }

    /// Sets the direction in which y grows; the first row stays the upper one.
    #[must_use]
    pub fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self.laid()
    }

    /// Sets what lies outside the map.
    #[must_use]
    pub const fn with_outside(mut self, outside: Outside) -> Self {
        self.outside = outside;
        self
    }

    /// Columns and rows.
    #[must_use]
    pub const fn size(&self) -> IVec2 {
        IVec2::new(self.columns, self.rows)
    }

    /// The width and height of a tile, in units.
    #[must_use]
    pub const fn tile_size(&self) -> Vec2 {
        self.tile_size
    }

    /// The direction in which y grows.
    #[must_use]
    pub const fn y_axis(&self) -> YAxis {
        self.y_axis
    }

    /// What lies outside the map.
    #[must_use]
    pub const fn outside(&self) -> Outside {
        self.outside
    }

    /// The area of the whole map.
    #[must_use]
    pub fn area(&self) -> Aabb {
        Aabb::from_corners(self.corner(IVec2::ZERO), self.corner(self.size()))
    }

    /// The tile that a point lies on. A point on a border belongs to the tile to the right of it or
    /// below it; the tile may lie outside the map.
    #[must_use]
    pub fn tile_at(&self, point: Vec2) -> IVec2 {
        self.tile_at_exact(point.as_dvec2())
    }

    /// The tile in which a point in `f64` lies.
    pub(in crate::terrain) fn tile_at_exact(&self, point: DVec2) -> IVec2 {
        let local = self.to_local(point) / self.tile_size.as_dvec2();
        local.floor().as_ivec2()
    }

    /// The tile of the map nearest to a point.
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

    /// Whether a point is exactly the centre of a tile.
    #[must_use]
    pub fn is_on_center(&self, point: Vec2) -> bool {
        self.center_of(self.tile_at(point)) == point
    }

    /// The tiles of the map that reach into an area, row by row: those that a view shows.
    pub fn tiles_in(&self, area: Aabb) -> impl Iterator<Item = IVec2> + use<> {
        let local = |corner: Vec2| self.to_local(corner.as_dvec2()) / self.tile_size.as_dvec2();
        let (a, b) = (local(area.min), local(area.max));
        let first = a.min(b).floor().as_ivec2().max(IVec2::ZERO);
        // A tile whose border only touches the area shows nothing.
        let last = a.max(b).ceil().as_ivec2().saturating_sub(IVec2::ONE).min(self.size() - 1);
        (first.y..=last.y).flat_map(move |row| (first.x..=last.x).map(move |column| IVec2::new(column, row)))
    }

    /// The middle of a tile, which may lie outside the map.
    #[must_use]
    pub fn center_of(&self, tile: IVec2) -> Vec2 {
        self.to_world((tile.as_dvec2() + 0.5) * self.tile_size.as_dvec2()).as_vec2()
    }

    /// The area of a tile; the tile may lie outside the map.
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

    /// Gives a tile a number of the game's own, which counts before that of its kind; 0 for that of its kind again.
    ///
    /// # Errors
    /// When the tile lies outside the map.
    pub fn set_tag(&mut self, tile: IVec2, tag: u32) -> Result<(), GridError> {
        let index = self.index_of(tile).ok_or(GridError::Outside { tile, size: self.size() })?;
        match (self.tags.binary_search_by_key(&index, |(known, _)| *known), tag) {
            (Ok(place), 0) => drop(self.tags.remove(place)),
            (Ok(place), _) => self.tags[place].1 = tag,
            (Err(_), 0) => {}
            (Err(place), _) => self.tags.insert(place, (index, tag)),
        }
        Ok(())
    }

    /// The tag of a tile: its own, or that of its kind; 0 outside the map.
    #[must_use]
    pub fn tag(&self, tile: IVec2) -> u32 {
        let Some(index) = self.index_of(tile) else { return 0 };
        let own = self.tags.binary_search_by_key(&index, |(known, _)| *known);
        own.map_or_else(|_| self.kinds[usize::from(self.tiles[index])].tag(), |place| self.tags[place].1)
    }

    /// The surface of a tile; outside the map, a plain one.
    #[must_use]
    pub fn surface(&self, tile: IVec2) -> Surface {
        self.kind(tile).map_or(Surface::PLAIN, TileKind::surface)
    }

    /// Whether a tile blocks, wholly or by half; outside the map, what [`Outside`] says.
    #[must_use]
    pub fn blocks(&self, tile: IVec2) -> bool {
        self.kind(tile).map_or(self.outside == Outside::Block, TileKind::blocks)
    }

    pub(in crate::terrain) fn corner(&self, tile: IVec2) -> Vec2 {
        self.to_world(tile.as_dvec2() * self.tile_size.as_dvec2()).as_vec2()
    }

    /// From the world to distances right of and below the upper left corner.
    pub(in crate::terrain) fn to_local(&self, point: DVec2) -> DVec2 {
        self.turned(point - self.origin.as_dvec2())
    }

    pub(in crate::terrain) fn to_world(&self, local: DVec2) -> DVec2 {
        self.turned(local) + self.origin.as_dvec2()
    }

    /// Converts a direction between the world and the map, whose y grows down the screen.
    pub(in crate::terrain) fn turned(&self, direction: DVec2) -> DVec2 {
        DVec2::new(direction.x, direction.y * f64::from(self.y_axis.downward()))
    }
}

/// Accepts a length of a tile. Among smaller ones, a mover would pass more tiles in one tick than can be looked at.
fn tile_length(field: &'static str, length: f32) -> Result<f32, InvalidNumber> {
    if length.is_finite() && length >= SMALLEST_TILE {
        return Ok(length);
    }
    Err(InvalidNumber::new(field, length, "a finite number of at least 0.000001 (units)"))
}
