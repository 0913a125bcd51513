//! Borders between surfaces, and what a mover near one has to know: the surfaces beside it, and how they move it.

use glam::{DVec2, Vec2};

use super::effort::Effort;
use super::mover::{DriveOn, Mover};
use crate::drive::{Motion, Surface};
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::tolerance::{BESIDE_BORDER, BORDER_STEP, MOST_BORDER_STEPS, MOST_HALVINGS_TO_BORDER, MOST_LOOKS};

/// A border between two surfaces.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Border {
    /// The direction across it, from behind to ahead.
    pub(super) normal: Vec2,
    /// A point on it, along the normal.
    pub(super) place: f64,
    /// The velocity at which it moves, with a floor.
    pub(super) velocity: Vec2,
    pub(super) behind: Surface,
    pub(super) ahead: Surface,
}

/// Whether both sides push a mover back onto a border, from the speeds behind and ahead of it along its normal.
pub(super) fn holds([behind, ahead]: [f32; 2]) -> bool {
    behind > 0.0 && ahead < 0.0
}

/// For how many seconds a mixture of two surfaces is good enough.
pub(super) fn border_step(remaining: f32) -> f32 {
    remaining.min(BORDER_STEP.max(remaining / MOST_BORDER_STEPS))
}

impl Mover<'_> {
    /// The middle of the footprint, which decides the surface.
    pub(super) fn middle(&self) -> DVec2 {
        self.place().middle(self.footprint)
    }

    /// The surface under the mover.
    pub(super) fn surface_here(&self, terrain: &dyn Terrain) -> Surface {
        terrain.surface_at(self.middle(), self.now)
    }

    /// The surface slightly to one side of a point.
    pub(super) fn surface_beside(
        &self,
        point: DVec2,
        side: Vec2,
        time: f64,
        terrain: &dyn Terrain,
    ) -> Surface {
        terrain.surface_at(point + side.as_dvec2() * f64::from(self.beside(point)), time)
    }

    /// The distance at which two points are on different sides of a border, in units.
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    pub(super) fn beside(&self, point: DVec2) -> f32 {
        (point.abs().max_element().max(1.0) * BESIDE_BORDER) as f32
    }

    /// The middle along a direction.
    pub(super) fn along(&self, normal: Vec2) -> f64 {
        self.middle().dot(normal.as_dvec2())
    }

    /// The velocity in the world after some seconds on a surface.
    pub(super) fn moves(&self, drive: &DriveOn<'_>, intent: Intent, lasts: f32) -> Vec2 {
        drive.momentum_after(self.momentum(), intent, lasts).velocity + drive.ground()
    }

    /// The first instant of a path at which `is_changed` is true of the middle. Parts of the path in an area where
    /// `is_even` is true are not searched: there, all points have the same answer. `bow` is by how much the path can bow
    /// along x and y in a second, from how much its velocity changes: at most by as much where it follows its velocity.
    pub(super) fn first_change(
        &self,
        lasts: f32,
        at: &dyn Fn(f32) -> Motion,
        effort: &Effort,
        bow: impl Fn(Vec2) -> Vec2,
        is_even: impl Fn([DVec2; 2], Vec2, [f64; 2]) -> bool,
        is_changed: impl Fn(DVec2, f64) -> bool,
    ) -> Option<f32> {
        let start = self.middle();
        // Surfaces lie in the world, not in the frame.
        let frame = self.drive.frame();
        let place = |motion: &Motion, lasts: f32| {
            start + motion.displacement.as_dvec2() + (frame.as_dvec2() * f64::from(lasts))
        };
        // Parts of the path, the first one on top; a part is halved at most so often.
        let mut parts = [(0.0f32, lasts); MOST_HALVINGS_TO_BORDER + 1];
        let mut count = 1;
        let mut looks = 0;
        while count > 0 {
            (count, looks) = (count - 1, looks + 1);
            effort.count_step();
            let (from, to) = parts[count];
            let middle = 0.5 * (from + to);
            let [first, half, last] = [from, middle, to].map(at);
            let changes = (half.velocity - first.velocity).abs().max((last.velocity - half.velocity).abs());
            let reach = bow(changes) * (to - from);
            let (one, other) = (place(&first, from), place(&last, to));
            let [since, until] = [from, to].map(|lasts| self.now + f64::from(lasts));
            if is_even([one, other], reach, [since, until]) {
                if is_changed(one, since) {
                    return Some(from);
                }
            } else if count == MOST_HALVINGS_TO_BORDER || looks > MOST_LOOKS || effort.is_exhausted() {
                if is_changed(other, until) {
                    return Some(to);
                }
            } else {
                parts[count] = (middle, to);
                parts[count + 1] = (from, middle);
                count += 2;
            }
        }
        None
    }
}
