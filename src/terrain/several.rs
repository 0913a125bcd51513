//! Several terrains as one: references, slices and tuples. Of walls met at once, the one of the first
//! terrain is told.

use glam::Vec2;

use super::hit::{Hit, Terrain};
use crate::shape::Footprint;

impl<T: Terrain + ?Sized> Terrain for &T {
    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Option<Hit> {
        (**self).sweep(footprint, from, displacement)
    }

    fn support(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, normal: Vec2) -> f32 {
        (**self).support(footprint, from, displacement, normal)
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2) -> bool {
        (**self).overlaps(footprint, at)
    }
}

impl<T: Terrain> Terrain for [T] {
    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Option<Hit> {
        self.iter().fold(None, |first, terrain| earlier(first, terrain.sweep(footprint, from, displacement)))
    }

    fn support(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, normal: Vec2) -> f32 {
        let each = self.iter().map(|terrain| terrain.support(footprint, from, displacement, normal));
        each.fold(0.0, f32::max)
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2) -> bool {
        self.iter().any(|terrain| terrain.overlaps(footprint, at))
    }
}

impl<A: Terrain, B: Terrain> Terrain for (A, B) {
    fn sweep(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Option<Hit> {
        earlier(self.0.sweep(footprint, from, displacement), self.1.sweep(footprint, from, displacement))
    }

    fn support(&self, footprint: &Footprint, from: Vec2, displacement: Vec2, normal: Vec2) -> f32 {
        let first = self.0.support(footprint, from, displacement, normal);
        first.max(self.1.support(footprint, from, displacement, normal))
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2) -> bool {
        self.0.overlaps(footprint, at) || self.1.overlaps(footprint, at)
    }
}

fn earlier(first: Option<Hit>, second: Option<Hit>) -> Option<Hit> {
    match (first, second) {
        (Some(first), Some(second)) if second.fraction < first.fraction => Some(second),
        (first, second) => first.or(second),
    }
}
