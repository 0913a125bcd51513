//! Crossing from one surface to another: a piece ends where the surface under the mover's middle changes.
//!
//! The velocity of a mover is relative to the floor, so at a border only the floor changes.

use glam::Vec2;

use super::border::{Border, holds};
use super::effort::Effort;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::touched::Touched;
use crate::drive::{Motion, Surface};
use crate::intent::Intent;
use crate::terrain::Terrain;

impl Mover<'_> {
    /// Ends a piece where the surface changes.
    #[inline]
    pub(super) fn cut_at_border(
        &self,
        piece: &mut Piece,
        at: impl Fn(f32) -> Motion,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) {
        if !self.has_surfaces || piece.lasts <= 0.0 || touched.border.is_some() {
            return;
        }
        if let Some(lasts) = self.until_surface_changes(piece.lasts, &at, &touched.effort, terrain) {
            if let End::WallEnded(held) = piece.end {
                // It holds up to its end, and this is before it.
                piece.press(held);
            }
            *piece = Piece { lasts, motion: at(lasts), end: End::Border, ..*piece };
        }
    }

    /// For how long the surface under the middle stays the same on a path, if it changes before the path's end.
    #[inline(never)]
    fn until_surface_changes(
        &self,
        lasts: f32,
        at: &dyn Fn(f32) -> Motion,
        effort: &Effort,
        terrain: &dyn Terrain,
    ) -> Option<f32> {
        let on = self.drive.surface();
        self.first_change(
            lasts,
            at,
            effort,
            |area| terrain.has_one_surface(area),
            |point| terrain.surface_at(point) != on,
        )
    }

    /// Goes on to the surface ahead, or stays on the border if both sides push the mover back onto it.
    pub(super) fn cross(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let (behind, ahead) = (self.drive.surface(), self.surface_here(terrain));
        touched.border = None;
        if behind == ahead {
            return;
        }
        if self.drive.frame() != Vec2::ZERO {
            // What moves it across is a wall.
            self.stand_on(ahead, touched);
            return;
        }
        let before = touched.walls.displacement(self.moves(&self.drive, intent, 0.0));
        if let Some(normal) = self.normal_of_border(before, behind, terrain) {
            if holds(self.across(normal, [behind, ahead], intent, touched)) {
                touched.border = Some(Border { normal, place: self.along(normal), behind, ahead });
            }
        }
        self.stand_on(ahead, touched);
    }

    /// At the start of a tick: whether the mover is on a border that it stays on. That must be known before any wall is
    /// met, since it decides which belt takes the mover along.
    #[inline(never)]
    pub(super) fn find_border(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let middle = self.middle();
        for normal in [Vec2::X, Vec2::Y] {
            let [behind, ahead] = [-normal, normal].map(|side| self.surface_beside(middle, side, terrain));
            let speeds = self.across(normal, [behind, ahead], intent, touched);
            if behind != ahead && holds(speeds) {
                touched.border = Some(Border { normal, place: self.along(normal), behind, ahead });
                self.stand_between(intent, touched);
                return;
            }
        }
    }

    /// The direction across the border that a velocity has just crossed, along x or y.
    fn normal_of_border(&self, velocity: Vec2, behind: Surface, terrain: &dyn Terrain) -> Option<Vec2> {
        let middle = self.middle();
        let across = [Vec2::X * velocity.x.signum(), Vec2::Y * velocity.y.signum()];
        across.into_iter().find(|normal| self.surface_beside(middle, -*normal, terrain) == behind)
    }

    /// Sets the surface.
    pub(super) fn stand_on(&mut self, surface: Surface, touched: &mut Touched) {
        self.drive = self.drive.on(surface);
        touched.walls.carry(self.drive.ground());
    }
}
