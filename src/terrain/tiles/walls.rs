//! The tile map as a terrain: full tiles, closed sides and half-tiles.
//!
//! Full tiles and closed sides are swept border by border (for a box) or feature by feature (for a circle);
//! half-tiles are swept as triangles, in stretches of a few tiles.

use glam::{DVec2, Vec2};

use super::grid::TileGrid;
use super::legend::TileForm;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};
use crate::terrain::WallFilter;
use crate::terrain::combine::{continues_across, first_of};
use crate::terrain::first_hit::sweep_in_stretches;
use crate::terrain::found::FoundWall;
use crate::terrain::hit::Hit;
use crate::terrain::terrain_trait::Terrain;
use crate::tolerance::{LIES_AGAINST, STRETCH};

impl Terrain for TileGrid {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.show_walls(area, filter, |_| true, see);
    }

    fn y_axis(&self) -> YAxis {
        Self::y_axis(self)
    }

    fn has_moving_walls(&self) -> bool {
        false
    }

    fn meets_moving_wall(&self, _: &Footprint, _: Vec2, _: Vec2, _: &WallFilter<'_>) -> bool {
        false
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        footprint.radius().is_none()
    }

    #[inline]
    fn has_surfaces(&self) -> bool {
        self.has_surfaces
    }

    fn surface_at(&self, point: DVec2, _: f64) -> Surface {
        self.surface(self.tile_at_exact(point))
    }

    fn has_one_surface(&self, [from, to]: [DVec2; 2], reach: Vec2, _: [f64; 2]) -> bool {
        let reach = reach.as_dvec2();
        !self.has_surfaces || self.has_one_surface_in(from.min(to) - reach, from.max(to) + reach)
    }

    #[inline]
    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        match self.quick_check(footprint, from, displacement) {
            Some(true) => None,
            Some(false) => self.sweep_near(footprint, from, displacement, filter),
            None => self.sweep_far(footprint, from, displacement, filter),
        }
    }

    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let full = |from: Vec2, displacement: Vec2| {
            if footprint.radius().is_some() {
                self.continues_round(footprint, from, displacement, normal, filter)
            } else {
                self.continues_box(footprint, from, displacement, normal, filter)
            }
        };
        if self.halves.is_none() {
            return full(from, displacement);
        }
        // Within the touch tolerance.
        let touching = footprint.grown(LIES_AGAINST);
        continues_across(from, displacement, |from, displacement| {
            let full = full(from, displacement);
            if self.is_without_halves(&touching, from, displacement) {
                return full;
            }
            full.max(Halves(self).wall_continues(footprint, from, displacement, normal, filter))
        })
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        if self.is_open(footprint, at, Vec2::ZERO) || self.is_open_to(filter, footprint, at, Vec2::ZERO) {
            return false;
        }
        let full = if footprint.radius().is_some() {
            self.overlaps_round(footprint, at, filter)
        } else {
            self.overlaps_box(footprint, at, filter)
        };
        full || !self.is_without_halves(footprint, at, Vec2::ZERO)
            && Halves(self).overlaps(footprint, at, filter)
    }

    #[inline]
    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.is_open(footprint, from, displacement)
            || self.is_clear_near(footprint, from, displacement, filter)
    }
}

impl TileGrid {
    /// The first wall on a displacement that is long, or leaves the map.
    #[inline(never)]
    fn sweep_far(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        // NaN fails the quick check too.
        if !from.is_finite() || !displacement.is_finite() || self.is_open_far(footprint, from, displacement) {
            None
        } else {
            self.sweep_near(footprint, from, displacement, filter)
        }
    }

    /// Whether a path with something near it is clear.
    #[inline(never)]
    fn is_clear_near(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.is_open_to(filter, footprint, from, displacement)
            || self.is_without_ledges(footprint, from, displacement)
                && !self.overlaps(footprint, from, filter)
                && self.sweep(footprint, from, displacement, filter).is_none()
    }

    /// The first wall on a path with something near it; a separate call, so that open ground costs none of it.
    #[inline(never)]
    fn sweep_near(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        if self.is_open_to(filter, footprint, from, displacement) {
            return None;
        }
        let full = if footprint.radius().is_some() {
            self.sweep_round(footprint, from, displacement, filter)
        } else {
            self.sweep_box(footprint, from, displacement, filter)
        };
        if self.is_without_halves(footprint, from, displacement) {
            return full;
        }
        let halves = Halves(self).sweep(footprint, from, displacement, filter);
        first_of(self, footprint, displacement, filter, [full, halves])
    }
}

/// The half-tiles of a grid alone.
struct Halves<'a>(&'a TileGrid);

impl Terrain for Halves<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.0.show_walls(area, filter, |form| matches!(form, TileForm::Half(_)), see);
    }

    fn y_axis(&self) -> YAxis {
        self.0.y_axis()
    }

    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let stretch = STRETCH * self.0.tile_size().min_element();
        let area = self.0.area();
        let first = sweep_in_stretches(footprint, from, displacement, filter, stretch, area, |area, see| {
            self.walls_in(area, filter, see);
        });
        let surface = filter.of_surface();
        first.hit(|area, _, see| self.walls_in(area, &surface, see), self.y_axis(), footprint, displacement)
    }
}
