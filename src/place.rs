//! A position and its rounding error: the exact position of a mover.

use glam::{DVec2, Vec2};

use crate::rounding::Rounding;
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};

/// A position and its residue.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Place {
    pub(crate) position: Vec2,
    pub(crate) residue: Vec2,
}

impl Place {
    /// A position with its residue, on each axis on which it is still the same.
    #[inline]
    pub(crate) fn of(position: Vec2, rounding: Rounding) -> Self {
        Self { position, residue: rounding.residue_of(position) }
    }

    /// The position, and its residue as it is stored.
    #[inline]
    pub(crate) const fn parts(&self) -> (Vec2, Rounding) {
        (self.position, Rounding::new(self.position, self.residue))
    }

    /// Without rounding.
    #[inline]
    pub(crate) fn exact(&self) -> DVec2 {
        self.position.as_dvec2() + self.residue.as_dvec2()
    }

    /// The middle of a footprint there, which decides the surface.
    pub(crate) fn middle(&self, footprint: &Footprint) -> DVec2 {
        footprint.middle(Vec2::ZERO) + self.exact()
    }

    /// Sets it.
    pub(crate) fn set(&mut self, exact: DVec2) {
        self.position = exact.as_vec2();
        self.residue = (exact - self.position.as_dvec2()).as_vec2();
    }

    /// Moves by a displacement.
    #[inline]
    pub(crate) fn shift(&mut self, displacement: DVec2) {
        // An axis without motion keeps its position and its residue: a mover at rest must not drift.
        let still = displacement.cmpeq(DVec2::ZERO);
        let kept = *self;
        let residue = Vec2::select(still, Vec2::ZERO, self.residue);
        self.set(self.position.as_dvec2() + residue.as_dvec2() + displacement);
        self.residue = Vec2::select(still, kept.residue, self.residue);
    }

    /// Moves along with something.
    pub(crate) fn carry(&mut self, displacement: DVec2) {
        if displacement != DVec2::ZERO {
            self.set(self.exact() + displacement);
        }
    }

    /// The distance along a surface's normal from here to a position against the surface: negative in front of it.
    #[inline]
    pub(crate) fn depth(&self, normal: Vec2, surface: DVec2) -> f64 {
        (surface - self.exact()).dot(normal.as_dvec2())
    }

    /// Sets it against a surface, along the normal only.
    ///
    /// It stays where it is if that would set it into another wall.
    pub(crate) fn settle(
        &mut self,
        (normal, surface): (Vec2, DVec2),
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        filter: &WallFilter<'_>,
    ) {
        let mut exact = self.exact() + normal.as_dvec2() * self.depth(normal, surface);
        // Along an axis-aligned surface, nothing needs to be rounded.
        if normal.x == 0.0 {
            exact.y = surface.y;
        } else if normal.y == 0.0 {
            exact.x = surface.x;
        }
        let mut settled = *self;
        settled.set(exact);
        if settled.position == self.position || !terrain.overlaps(footprint, settled.position, filter) {
            *self = settled;
        }
    }
}
