//! A position and its rounding error: the exact position of a mover.
//!
//! A position in `f32` cannot hold the sum of a million short displacements. The residue holds the rest, so that many
//! short ticks end where few long ones do, and a mover against a slanted wall is closer to it than its position can
//! show.

use glam::{DVec2, Vec2};

use crate::saved::restored;
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};

/// A position and its residue.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Place {
    pub(crate) position: Vec2,
    pub(crate) residue: Vec2,
}

/// The residue of a mover's position, with the position that it belongs to: a mover that a game places elsewhere has
/// none. On an axis on which it stays, it keeps its residue.
#[derive(Debug, Clone, Copy, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(crate) struct Rounding {
    of: Vec2,
    residue: Vec2,
}

restored!(
    Rounding { of: Vec2, residue: Vec2 } as saved => {
        // Half a step of an `f32` at most.
        let most = saved.of.abs().max_element() * f32::EPSILON + f32::MIN_POSITIVE;
        ensure(
            saved.residue == Vec2::ZERO || saved.residue.abs().max_element() <= most,
            "residue must be a rounding error",
        )?;
        Ok(Rounding { of: saved.of, residue: saved.residue })
    }
);

impl PartialEq for Rounding {
    /// Without a residue, all are alike.
    fn eq(&self, other: &Self) -> bool {
        self.residue == other.residue && (self.of == other.of || self.residue == Vec2::ZERO)
    }
}

impl Rounding {
    pub(crate) const NONE: Self = Self { of: Vec2::ZERO, residue: Vec2::ZERO };

    /// A position with its residue, on each axis on which it is still the same.
    #[inline]
    pub(crate) fn place(self, position: Vec2) -> Place {
        Place { position, residue: Vec2::select(self.of.cmpeq(position), self.residue, Vec2::ZERO) }
    }
}

impl Place {
    /// The position, and its residue as it is stored.
    #[inline]
    pub(crate) const fn parts(&self) -> (Vec2, Rounding) {
        (self.position, Rounding { of: self.position, residue: self.residue })
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
    pub(crate) fn shift(&mut self, displacement: Vec2) {
        // An axis without motion keeps its position and its residue: a mover at rest must not drift.
        let still = displacement.cmpeq(Vec2::ZERO);
        let kept = *self;
        let residue = Vec2::select(still, Vec2::ZERO, self.residue);
        self.set(self.position.as_dvec2() + residue.as_dvec2() + displacement.as_dvec2());
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
