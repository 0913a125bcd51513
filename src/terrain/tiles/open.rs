//! Quick answers of a tile map from its bits: whether a path is open.

use glam::Vec2;

use super::grid::TileGrid;
use super::legend::Outside;
use super::occupied::Occupied;
use crate::shape::Footprint;
use crate::terrain::filter::WallFilter;
use crate::terrain::layers::Layers;

impl TileGrid {
    /// Whether nothing on a footprint's path blocks; `None` if that needs a closer look.
    #[inline]
    pub(in crate::terrain) fn quick_check(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> Option<bool> {
        self.occupied.quick_check(footprint, from, displacement)
    }

    /// Whether nothing on a footprint's path blocks; `false` also if that would take long to find out.
    #[inline]
    pub(in crate::terrain) fn is_open(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> bool {
        self.quick_check(footprint, from, displacement)
            .unwrap_or_else(|| self.is_open_far(footprint, from, displacement))
    }

    /// The same for a path that is long, or leaves the map.
    #[inline(never)]
    pub(in crate::terrain) fn is_open_far(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        self.occupied.is_way_free(self.outside, self.size(), footprint, from, displacement)
    }

    /// Whether nothing on a footprint's path blocks on the layers of a filter: a moth above water looks at none of
    /// it.
    #[inline]
    pub(in crate::terrain) fn is_open_to(
        &self,
        filter: &WallFilter<'_>,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        let is_free = |(layer, tiles): &(Layers, Occupied)| {
            !filter.layers(*layer) || tiles.quick_check(footprint, from, displacement) == Some(true)
        };
        self.layered.iter().any(|(layer, _)| !filter.layers(*layer))
            // On the map.
            && self.quick_check(footprint, from, displacement).is_some()
            && self.layered.iter().all(is_free)
    }

    /// Whether there is no half-tile on a footprint's path; `false` also if that would take long to find out.
    #[inline]
    pub(in crate::terrain) fn is_without_halves(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        self.is_without(self.halves.as_ref(), footprint, from, displacement)
    }

    /// Whether there is no ledge on a footprint's path; `false` also if that would take long to find out.
    #[inline]
    pub(in crate::terrain) fn is_without_ledges(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        self.is_without(self.ledges.as_ref(), footprint, from, displacement)
    }

    #[inline]
    fn is_without(
        &self,
        some: Option<&Occupied>,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
    ) -> bool {
        some.is_none_or(|tiles| tiles.is_way_free(Outside::Open, self.size(), footprint, from, displacement))
    }
}
