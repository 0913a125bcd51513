//! What of a tile map blocks: tile by tile, side by side, and as shapes.

use glam::IVec2;

use super::blocking::Blocking;
use super::grid::TileGrid;
use super::legend::{Outside, TileForm};
use crate::direction::{Corner, Side};
use crate::shape::{Aabb, Polygon, Solid};
use crate::terrain::filter::WallFilter;
use crate::terrain::found::FoundWall;
use crate::terrain::layers::Layers;
use crate::terrain::outside::outside;
use crate::terrain::wall::Wall;

impl TileGrid {
    /// How a tile blocks; outside the map, as [`Outside`] says.
    pub(crate) fn blocking(&self, tile: IVec2) -> Blocking {
        if !self.contains(tile) {
            return if self.outside == Outside::Block { Blocking::OUTSIDE } else { Blocking::NOTHING };
        }
        // Most tiles are open.
        if !self.occupied.is_set(tile) {
            return Blocking::NOTHING;
        }
        let own = || self.index_of(tile).map(|index| self.forms[usize::from(self.tiles[index])]);
        self.uniform.or_else(own).unwrap_or(Blocking::NOTHING)
    }

    /// Whether the outside of the map blocks.
    pub(in crate::terrain) fn is_walled(&self, filter: &WallFilter<'_>) -> bool {
        self.outside == Outside::Block && filter.layers(Blocking::OUTSIDE.layers)
    }

    /// Whether all of a tile blocks.
    pub(in crate::terrain) fn is_wall(&self, tile: IVec2, filter: &WallFilter<'_>) -> bool {
        let blocking = self.blocking(tile);
        blocking.form == TileForm::Full && filter.wall(Wall::Tile(self.id, tile), blocking.layers)
    }

    /// Whether a tile cannot be entered through a side.
    pub(in crate::terrain) fn is_shut(&self, tile: IVec2, side: Side, filter: &WallFilter<'_>) -> bool {
        let blocking = self.blocking(tile);
        (blocking.form == TileForm::Full || blocking.closed[side as usize])
            && filter.wall(Wall::Tile(self.id, tile), blocking.layers)
    }

    /// Shows the walls of some forms in an area, and the outside if it blocks.
    pub(in crate::terrain) fn show_walls(
        &self,
        area: Aabb,
        filter: &WallFilter<'_>,
        wanted: impl Fn(TileForm) -> bool,
        see: &mut dyn FnMut(FoundWall),
    ) {
        let (a, b) = (self.tile_at(area.min), self.tile_at(area.max));
        let last = self.size() - 1;
        // A wall whose border only touches the area counts too.
        let (first, end) = (
            a.min(b).saturating_sub(IVec2::ONE).max(IVec2::ZERO),
            a.max(b).saturating_add(IVec2::ONE).min(last),
        );
        for row in first.y..=end.y {
            for column in first.x..=end.x {
                let tile = IVec2::new(column, row);
                let blocking = self.blocking(tile);
                if blocking.form != TileForm::Open
                    && wanted(blocking.form)
                    && filter.wall(Wall::Tile(self.id, tile), blocking.layers)
                {
                    let solid = self.solid_of(tile, blocking.form);
                    see(self.found(tile, solid).on(blocking.layers));
                }
            }
        }
        if self.outside == Outside::Block && wanted(TileForm::Full) {
            let nearest = self.tile_at(area.center()).clamp(IVec2::NEG_ONE, self.size());
            for (side, solid) in outside(self.area(), self.y_axis) {
                let tile = match side {
                    Side::Left => IVec2::new(-1, nearest.y),
                    Side::Right => IVec2::new(self.columns, nearest.y),
                    Side::Top => IVec2::new(nearest.x, -1),
                    Side::Bottom => IVec2::new(nearest.x, self.rows),
                };
                let wall = Wall::Tile(self.id, tile);
                if solid.bounds().overlaps(&area) && filter.wall(wall, Layers::FIRST) {
                    see(self.found(tile, solid));
                }
            }
        }
    }

    fn found(&self, tile: IVec2, solid: Solid) -> FoundWall {
        FoundWall::new(Wall::Tile(self.id, tile), solid).with_tag(self.tag(tile))
    }

    /// The shape of what blocks of a tile.
    pub(super) fn solid_of(&self, tile: IVec2, form: TileForm) -> Solid {
        let TileForm::Half(corner) = form else { return Solid::Box { area: self.tile_area(tile) } };
        let at = |x: i32, y: i32| self.corner(tile + IVec2::new(x, y));
        let [left_top, right_top, right_bottom, left_bottom] = [at(0, 0), at(1, 0), at(1, 1), at(0, 1)];
        let corners = match corner {
            Corner::TopLeft => [left_bottom, left_top, right_top],
            Corner::TopRight => [left_top, right_top, right_bottom],
            Corner::BottomRight => [right_top, right_bottom, left_bottom],
            Corner::BottomLeft => [right_bottom, left_bottom, left_top],
        };
        // A triangle so far out that its corners coincide blocks like its box.
        Polygon::new(&corners).map_or_else(|_| Solid::Box { area: self.tile_area(tile) }, Solid::from)
    }
}
