//! Several terrains as one (references, slices, tuples), and a terrain seen through a filter.

use glam::{DVec2, Vec2};

use super::exposed::exposed;
use super::filter::WallFilter;
use super::found::FoundWall;
use super::hit::Hit;
use super::play_area::PlayArea;
use super::terrain_trait::Terrain;
use crate::direction::YAxis;
use crate::drive::Surface;
use crate::shape::{Aabb, Footprint};
use crate::tolerance::{HEAD_ON, MOST_IN_TURN};

/// Forwards every query about walls but sweeps to another terrain, with a filter.
macro_rules! questions_passed_on {
    (|$this:ident, $filter:ident| $terrain:expr, $filtered:expr) => {
        fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
            let ($this, $filter) = (self, filter);
            $terrain.walls_in(area, $filtered, see);
        }

        fn y_axis(&self) -> YAxis {
            let $this = self;
            $terrain.y_axis()
        }

        fn is_flat_to(&self, footprint: &Footprint) -> bool {
            let $this = self;
            $terrain.is_flat_to(footprint)
        }

        fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
            let ($this, $filter) = (self, filter);
            $terrain.overlaps(footprint, at, $filtered)
        }
    };
}

/// Forwards every other query about walls to another terrain, with a filter: how far they continue, and whether they move.
macro_rules! walls_passed_on {
    (|$this:ident, $filter:ident| $terrain:expr, $filtered:expr) => {
        fn wall_continues(
            &self,
            footprint: &Footprint,
            from: Vec2,
            displacement: Vec2,
            normal: Vec2,
            filter: &WallFilter<'_>,
        ) -> f32 {
            let ($this, $filter) = (self, filter);
            $terrain.wall_continues(footprint, from, displacement, normal, $filtered)
        }

        fn has_moving_walls(&self) -> bool {
            let $this = self;
            $terrain.has_moving_walls()
        }

        fn meets_moving_wall(
            &self,
            footprint: &Footprint,
            from: Vec2,
            displacement: Vec2,
            filter: &WallFilter<'_>,
        ) -> bool {
            let ($this, $filter) = (self, filter);
            $terrain.meets_moving_wall(footprint, from, displacement, $filtered)
        }
    };
}

/// Forwards every query about surfaces to another terrain.
macro_rules! surfaces_passed_on {
    (|$this:ident| $terrain:expr) => {
        fn has_surfaces(&self) -> bool {
            let $this = self;
            $terrain.has_surfaces()
        }

        fn surface_at(&self, point: DVec2, time: f64) -> Surface {
            let $this = self;
            $terrain.surface_at(point, time)
        }

        fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
            let $this = self;
            $terrain.floor_moves_at(point, time)
        }

        fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
            let $this = self;
            $terrain.has_one_surface(way, reach, times)
        }
    };
}

/// Forwards every query to another terrain, with a filter.
macro_rules! passed_on {
    (|$this:ident, $filter:ident| $terrain:expr, $filtered:expr) => {
        questions_passed_on!(|$this, $filter| $terrain, $filtered);
        walls_passed_on!(|$this, $filter| $terrain, $filtered);
        surfaces_passed_on!(|$this| $terrain);

        fn sweep(
            &self,
            footprint: &Footprint,
            from: Vec2,
            displacement: Vec2,
            filter: &WallFilter<'_>,
        ) -> Option<Hit> {
            let ($this, $filter) = (self, filter);
            $terrain.sweep(footprint, from, displacement, $filtered)
        }

        fn is_clear(
            &self,
            footprint: &Footprint,
            from: Vec2,
            displacement: Vec2,
            filter: &WallFilter<'_>,
        ) -> bool {
            let ($this, $filter) = (self, filter);
            $terrain.is_clear(footprint, from, displacement, $filtered)
        }
    };
}

pub(super) use questions_passed_on;

impl<T: Terrain + ?Sized> Terrain for &T {
    passed_on!(|this, filter| **this, filter);

    fn edges(&self) -> Option<&PlayArea> {
        (**self).edges()
    }
}

impl<T: Terrain> Terrain for [T] {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.iter().for_each(|terrain| terrain.walls_in(area, filter, see));
    }

    fn y_axis(&self) -> YAxis {
        self.first().map_or(YAxis::Down, Terrain::y_axis)
    }

    fn edges(&self) -> Option<&PlayArea> {
        self.iter().find_map(Terrain::edges)
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.iter().all(|terrain| terrain.is_flat_to(footprint))
    }

    fn has_moving_walls(&self) -> bool {
        self.iter().any(Terrain::has_moving_walls)
    }

    fn meets_moving_wall(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.iter().any(|terrain| terrain.meets_moving_wall(footprint, from, displacement, filter))
    }

    fn has_surfaces(&self) -> bool {
        self.iter().any(Terrain::has_surfaces)
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        self.iter().fold(Surface::PLAIN, |all, terrain| all.and(&terrain.surface_at(point, time)))
    }

    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.iter().fold(Vec2::ZERO, |all, terrain| all + terrain.floor_moves_at(point, time))
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        self.iter().all(|terrain| terrain.has_one_surface(way, reach, times))
    }

    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let hits = self.iter().map(|terrain| terrain.sweep(footprint, from, displacement, filter));
        first_of(self, footprint, displacement, filter, hits)
    }

    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        continues_across(from, displacement, |from, displacement| {
            let each = self
                .iter()
                .map(|terrain| terrain.wall_continues(footprint, from, displacement, normal, filter));
            each.fold(0.0, f32::max)
        })
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        self.iter().any(|terrain| terrain.overlaps(footprint, at, filter))
    }

    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.iter().all(|terrain| terrain.is_clear(footprint, from, displacement, filter))
    }
}

/// Nothing, or a terrain.
impl<T: Terrain> Terrain for Option<T> {
    passed_on!(|this, filter| *this.as_slice(), filter);

    fn edges(&self) -> Option<&PlayArea> {
        self.as_ref().and_then(Terrain::edges)
    }
}

impl<A: Terrain, B: Terrain> Terrain for (A, B) {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.0.walls_in(area, filter, see);
        self.1.walls_in(area, filter, see);
    }

    fn y_axis(&self) -> YAxis {
        self.0.y_axis()
    }

    fn edges(&self) -> Option<&PlayArea> {
        self.0.edges().or_else(|| self.1.edges())
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.0.is_flat_to(footprint) && self.1.is_flat_to(footprint)
    }

    fn has_moving_walls(&self) -> bool {
        self.0.has_moving_walls() || self.1.has_moving_walls()
    }

    fn meets_moving_wall(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.0.meets_moving_wall(footprint, from, displacement, filter)
            || self.1.meets_moving_wall(footprint, from, displacement, filter)
    }

    fn has_surfaces(&self) -> bool {
        self.0.has_surfaces() || self.1.has_surfaces()
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        self.0.surface_at(point, time).and(&self.1.surface_at(point, time))
    }

    fn floor_moves_at(&self, point: DVec2, time: f64) -> Vec2 {
        self.0.floor_moves_at(point, time) + self.1.floor_moves_at(point, time)
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        self.0.has_one_surface(way, reach, times) && self.1.has_one_surface(way, reach, times)
    }

    fn sweep(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let first = self.0.sweep(footprint, from, displacement, filter);
        let second = self.1.sweep(footprint, from, displacement, filter);
        if first.is_none() && second.is_none() {
            return None;
        }
        first_of(self, footprint, displacement, filter, [first, second])
    }

    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        continues_across(from, displacement, |from, displacement| {
            let first = self.0.wall_continues(footprint, from, displacement, normal, filter);
            first.max(self.1.wall_continues(footprint, from, displacement, normal, filter))
        })
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        self.0.overlaps(footprint, at, filter) || self.1.overlaps(footprint, at, filter)
    }

    fn is_clear(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        self.0.is_clear(footprint, from, displacement, filter)
            && self.1.is_clear(footprint, from, displacement, filter)
    }
}

impl<A: Terrain, B: Terrain, C: Terrain> Terrain for (A, B, C) {
    passed_on!(|this, filter| (&this.0, (&this.1, &this.2)), filter);

    fn edges(&self) -> Option<&PlayArea> {
        self.0.edges().or_else(|| self.1.edges()).or_else(|| self.2.edges())
    }
}

/// A terrain seen through a filter, for calls that take none.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::Filtered;
///
/// let mut world = World::new();
/// world.add_on(Layers::bit(3), Solid::circle(vec2(5.0, 0.0), 1.0)?);
/// let mut moth = Walker::new(Vec2::ZERO, Footprint::circle(1.0)?, Pace::new(9.0)?);
/// let _ = moth.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &Filtered::new(&world, !Layers::bit(3)));
/// assert_eq!(moth.position, vec2(9.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy)]
pub struct Filtered<'a, T: ?Sized> {
    terrain: &'a T,
    filter: WallFilter<'a>,
}

impl<'a, T: Terrain + ?Sized> Filtered<'a, T> {
    /// The walls of a terrain that pass a filter.
    pub fn new(terrain: &'a T, filter: impl Into<WallFilter<'a>>) -> Self {
        Self { terrain, filter: filter.into() }
    }
}

impl<T: Terrain + ?Sized> Terrain for Filtered<'_, T> {
    passed_on!(|this, filter| this.terrain, &this.filter.and(filter));

    fn edges(&self) -> Option<&PlayArea> {
        self.terrain.edges()
    }
}

/// The first of the hits of several terrains; the walls of all of them decide a corner.
pub(super) fn first_of(
    all: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    displacement: Vec2,
    filter: &WallFilter<'_>,
    hits: impl IntoIterator<Item = Option<Hit>>,
) -> Option<Hit> {
    let first =
        hits.into_iter().flatten().reduce(|first, hit| first.first(hit, displacement, filter.seconds()))?;
    let surface = filter.of_surface();
    let walls = |area: Aabb, part: f64, see: &mut dyn FnMut(FoundWall)| {
        all.walls_in(area, &surface.after_part(part), see);
    };
    let relative = first.relative(displacement, filter.seconds());
    Some(exposed(walls, all.y_axis(), footprint, relative, first))
}

/// How far a wall continues across several terrains: where one ends, another may go on.
pub(super) fn continues_across(from: Vec2, displacement: Vec2, continues: impl Fn(Vec2, Vec2) -> f32) -> f32 {
    let mut held = 0.0f32;
    for _ in 0..MOST_IN_TURN {
        let rest = 1.0 - held;
        let further = continues(from + displacement * held, displacement * rest);
        if further <= HEAD_ON {
            return held;
        }
        held += rest * further;
        if further >= 1.0 {
            return 1.0;
        }
    }
    held
}
