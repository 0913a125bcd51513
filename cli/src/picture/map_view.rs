//! How the world lies on the sheet.

use ambulant::shape::Aabb;
use ambulant::terrain::TileGrid;
use glam::Vec2;

use super::sheet::Area;

/// How the world lies on the sheet.
#[derive(Debug, Clone, Copy)]
pub(super) struct MapView {
    pub(super) area: Area,
    world: Aabb,
    scale: f32,
    flip: bool,
}

impl MapView {
    /// The largest view of a map's ground that fits, in the middle of the space for it.
    pub(super) fn fit(map: &TileGrid, space: Area) -> Self {
        Self::around(map, map.area(), space)
    }

    /// The largest view of a part of the world that fits.
    pub(super) fn around(map: &TileGrid, world: Aabb, space: Area) -> Self {
        let size = world.size();
        let scale = (space.width / size.x).min(space.height / size.y);
        let (width, height) = (size.x * scale, size.y * scale);
        let area = Area {
            x: space.x + (space.width - width) * 0.5,
            y: space.y + (space.height - height) * 0.5,
            width,
            height,
        };
        Self { area, world, scale, flip: map.y_axis().downward() < 0.0 }
    }

    /// The same view at the top of the space for it.
    pub(super) fn at_top(mut self, space: Area) -> Self {
        self.area.y = space.y;
        self
    }

    /// A world point on the sheet.
    pub(super) fn at(&self, point: Vec2) -> Vec2 {
        let down = if self.flip { self.world.max.y - point.y } else { point.y - self.world.min.y };
        Vec2::new(self.area.x + (point.x - self.world.min.x) * self.scale, self.area.y + down * self.scale)
    }

    /// A length on the sheet.
    pub(super) fn length(&self, units: f32) -> f32 {
        units * self.scale
    }

    /// A world direction on the sheet.
    pub(super) fn along(&self, direction: Vec2) -> Vec2 {
        if self.flip { Vec2::new(direction.x, -direction.y) } else { direction }
    }

    pub(super) fn on_sheet(&self, ground: &Aabb) -> Area {
        let (a, b) = (self.at(ground.min), self.at(ground.max));
        let (low, high) = (a.min(b), a.max(b));
        Area { x: low.x, y: low.y, width: high.x - low.x, height: high.y - low.y }
    }
}
