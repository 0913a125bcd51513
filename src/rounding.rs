//! What rounding takes from the exact position and velocity of a mover.
//!
//! A position in `f32` cannot hold the sum of a million short displacements, nor a velocity a thousand small changes.
//! The residue holds the rest, so that many short ticks end where few long ones do, and a mover against a slanted wall
//! is closer to it than its position can show.

use glam::{DVec2, Vec2};

use crate::saved::restored;

/// The residue of a mover's position or velocity, with the value that it belongs to: a mover that a game places
/// elsewhere, or whose velocity it sets, has none. On an axis on which the value stays, it keeps its residue.
#[derive(Debug, Clone, Copy, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(crate) struct Rounding {
    of: Vec2,
    residue: Vec2,
}

restored!(
    Rounding { of: Vec2, residue: Vec2 } as saved => {
        // What has grown beyond all numbers has no rounding error.
        let residue = if saved.of.is_finite() { saved.residue } else { Vec2::ZERO };
        // Half a step of an `f32` at most.
        let most = saved.of.abs().max_element() * f32::EPSILON + f32::MIN_POSITIVE;
        ensure(
            residue == Vec2::ZERO || residue.abs().max_element() <= most,
            "residue must be a rounding error",
        )?;
        Ok(Rounding { of: saved.of, residue })
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

    pub(crate) const fn new(of: Vec2, residue: Vec2) -> Self {
        Self { of, residue }
    }

    /// An exact value in `f32`, and what is left of it.
    #[inline]
    pub(crate) fn split(exact: DVec2) -> (Vec2, Self) {
        let of = exact.as_vec2();
        (of, Self { of, residue: (exact - of.as_dvec2()).as_vec2() })
    }

    /// A value without rounding, on each axis on which it is still the same.
    #[inline]
    pub(crate) fn exact(self, value: Vec2) -> DVec2 {
        value.as_dvec2() + self.residue_of(value).as_dvec2()
    }

    /// What is left of a value, on each axis on which it is still the same.
    #[inline]
    pub(crate) fn residue_of(self, value: Vec2) -> Vec2 {
        Vec2::select(self.of.cmpeq(value), self.residue, Vec2::ZERO)
    }
}
