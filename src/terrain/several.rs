//! Several terrains as one, and a part of one: references, slices, pairs, and what a mover minds of a
//! terrain.

use glam::Vec2;

use super::Minds;
use super::exposed::exposed;
use super::hit::Hit;
use super::question::{FoundWall, Terrain};
use crate::intent::YAxis;
use crate::shape::{Aabb, Footprint};
use crate::tolerance::HEAD_ON;

/// Every question passed on to another terrain, with what is minded there.
macro_rules! passed_on {
    (|$this:ident, $minds:ident| $terrain:expr, $minded:expr) => {
        fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall)) {
            let ($this, $minds) = (self, minds);
            $terrain.walls_in(area, $minded, see);
        }

        fn y_axis(&self) -> YAxis {
            let $this = self;
            $terrain.y_axis()
        }

        fn is_flat_to(&self, footprint: &Footprint) -> bool {
            let $this = self;
            $terrain.is_flat_to(footprint)
        }

        fn sweep(&self, footprint: &Footprint, from: Vec2, way: Vec2, minds: &Minds<'_>) -> Option<Hit> {
            let ($this, $minds) = (self, minds);
            $terrain.sweep(footprint, from, way, $minded)
        }

        fn support(
            &self,
            footprint: &Footprint,
            from: Vec2,
            way: Vec2,
            normal: Vec2,
            minds: &Minds<'_>,
        ) -> f32 {
            let ($this, $minds) = (self, minds);
            $terrain.support(footprint, from, way, normal, $minded)
        }

        fn overlaps(&self, footprint: &Footprint, at: Vec2, minds: &Minds<'_>) -> bool {
            let ($this, $minds) = (self, minds);
            $terrain.overlaps(footprint, at, $minded)
        }

        fn is_clear(&self, footprint: &Footprint, from: Vec2, way: Vec2, minds: &Minds<'_>) -> bool {
            let ($this, $minds) = (self, minds);
            $terrain.is_clear(footprint, from, way, $minded)
        }
    };
}

impl<T: Terrain + ?Sized> Terrain for &T {
    passed_on!(|this, minds| **this, minds);
}

impl<T: Terrain> Terrain for [T] {
    fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.iter().for_each(|terrain| terrain.walls_in(area, minds, see));
    }

    fn y_axis(&self) -> YAxis {
        self.first().map_or(YAxis::Down, Terrain::y_axis)
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.iter().all(|terrain| terrain.is_flat_to(footprint))
    }

    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, minds: &Minds<'_>) -> Option<Hit> {
        let hits = self.iter().map(|terrain| terrain.sweep(footprint, from, displacement, minds));
        first_of(self, footprint, displacement, minds, hits)
    }

    fn support(&self, footprint: &Footprint, from: Vec2, way: Vec2, normal: Vec2, minds: &Minds<'_>) -> f32 {
        hand_in_hand(from, way, |from, way| {
            let each = self.iter().map(|terrain| terrain.support(footprint, from, way, normal, minds));
            each.fold(0.0, f32::max)
        })
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, minds: &Minds<'_>) -> bool {
        self.iter().any(|terrain| terrain.overlaps(footprint, at, minds))
    }

    fn is_clear(&self, footprint: &Footprint, from: Vec2, way: Vec2, minds: &Minds<'_>) -> bool {
        self.iter().all(|terrain| terrain.is_clear(footprint, from, way, minds))
    }
}

impl<A: Terrain, B: Terrain> Terrain for (A, B) {
    fn walls_in(&self, area: Aabb, minds: &Minds<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.0.walls_in(area, minds, see);
        self.1.walls_in(area, minds, see);
    }

    fn y_axis(&self) -> YAxis {
        self.0.y_axis()
    }

    fn is_flat_to(&self, footprint: &Footprint) -> bool {
        self.0.is_flat_to(footprint) && self.1.is_flat_to(footprint)
    }

    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, minds: &Minds<'_>) -> Option<Hit> {
        let first = self.0.sweep(footprint, from, displacement, minds);
        let second = self.1.sweep(footprint, from, displacement, minds);
        if first.is_none() && second.is_none() {
            return None;
        }
        first_of(self, footprint, displacement, minds, [first, second])
    }

    fn support(&self, footprint: &Footprint, from: Vec2, way: Vec2, normal: Vec2, minds: &Minds<'_>) -> f32 {
        hand_in_hand(from, way, |from, way| {
            let first = self.0.support(footprint, from, way, normal, minds);
            first.max(self.1.support(footprint, from, way, normal, minds))
        })
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, minds: &Minds<'_>) -> bool {
        self.0.overlaps(footprint, at, minds) || self.1.overlaps(footprint, at, minds)
    }

    fn is_clear(&self, footprint: &Footprint, from: Vec2, way: Vec2, minds: &Minds<'_>) -> bool {
        self.0.is_clear(footprint, from, way, minds) && self.1.is_clear(footprint, from, way, minds)
    }
}

impl<A: Terrain, B: Terrain, C: Terrain> Terrain for (A, B, C) {
    passed_on!(|this, minds| (&this.0, (&this.1, &this.2)), minds);
}

/// A terrain of which only some walls count, for calls that do not ask which ones do.
#[derive(Debug, Clone, Copy)]
pub struct Minded<'a, T: ?Sized> {
    terrain: &'a T,
    minds: Minds<'a>,
}

impl<'a, T: Terrain + ?Sized> Minded<'a, T> {
    /// The walls of a terrain that count.
    pub fn new(terrain: &'a T, minds: impl Into<Minds<'a>>) -> Self {
        Self { terrain, minds: minds.into() }
    }
}

impl<T: Terrain + ?Sized> Terrain for Minded<'_, T> {
    passed_on!(|this, minds| this.terrain, &this.minds.and(minds));
}

/// The first of the hits of several terrains; a corner is decided by the walls of all of them.
pub(super) fn first_of(
    all: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    displacement: Vec2,
    minds: &Minds<'_>,
    hits: impl IntoIterator<Item = Option<Hit>>,
) -> Option<Hit> {
    let first = hits.into_iter().flatten().reduce(|first, hit| first.first(hit, displacement))?;
    Some(exposed(all, footprint, displacement, minds, first))
}

/// Support by walls of several terrains in turn: where one ends, another may go on.
pub(super) fn hand_in_hand(from: Vec2, way: Vec2, support: impl Fn(Vec2, Vec2) -> f32) -> f32 {
    let mut held = 0.0f32;
    for _ in 0..MOST_HANDS {
        let rest = 1.0 - held;
        let further = support(from + way * held, way * rest);
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

/// After so many walls in turn support is asked for again.
const MOST_HANDS: usize = 64;
