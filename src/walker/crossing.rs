//! Crossing from one surface to another: a piece ends where the surface under the mover's middle changes.
//!
//! The velocity of a mover is relative to the floor, so at a border only the floor changes.

use glam::{DVec2, Vec2};

use super::border::{Border, holds};
use super::effort::Effort;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::touched::Touched;
use crate::drive::{Motion, Surface};
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::tolerance::LOOK_AHEAD;

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
            piece.cut(lasts, at(lasts), End::Border);
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
            |changes| changes,
            |way, reach, times| terrain.has_one_surface(way, reach, times),
            |point, time| terrain.surface_at(point, time) != on,
        )
    }

    /// Goes on to the surface ahead, or stays on the border if both sides push the mover back onto it.
    pub(super) fn cross(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let (behind, ahead) = (self.drive.surface(), self.surface_here(terrain));
        touched.border = None;
        if behind == ahead {
            return;
        }
        let before = touched.walls.displacement(self.moves(&self.drive, intent, 0.0));
        let normal = self.normal_of_border(before, [behind, ahead], terrain);
        let frame = self.drive.frame();
        if frame != Vec2::ZERO && normal.is_none_or(|normal| frame.dot(normal) != 0.0) {
            // What moves it across is a wall; one that moves along the border holds it there.
            self.stand_on(ahead, touched);
            return;
        }
        if let Some(normal) = normal {
            let border = self.border(normal, [behind, ahead], intent, touched, terrain);
            touched.border = border.filter(|border| frame == Vec2::ZERO || border.velocity == Vec2::ZERO);
        }
        self.stand_on(ahead, touched);
        if let Some(normal) = normal.filter(|_| touched.border.is_none() && frame == Vec2::ZERO) {
            self.step_onto(normal, [behind, ahead], intent, touched, terrain);
        }
    }

    /// A floor whose edge has reached a mover that goes along with it from then on: the mover is put slightly beyond the edge, so that
    /// rounding does not decide whether the floor takes it back with it.
    pub(super) fn step_onto(
        &mut self,
        normal: Vec2,
        [behind, ahead]: [Surface; 2],
        intent: Intent,
        touched: &mut Touched,
        terrain: &dyn Terrain,
    ) {
        let velocity = self.velocity_of_border(normal, [behind, ahead], terrain);
        let Some(velocity) = velocity.filter(|_| self.way_off(normal) == Some(normal)) else { return };
        let edge = Border { normal, place: self.along(normal), velocity, behind, ahead };
        if velocity != Vec2::ZERO && self.is_still(self.across(&edge, intent, touched)[1]) {
            let beyond = normal * self.beside(self.middle());
            if touched.walls.displacement(beyond) == beyond {
                self.moved(|place| place.shift(beyond.as_dvec2()));
            }
        }
    }

    /// A border between two surfaces, if the mover stays on it.
    pub(super) fn border(
        &self,
        normal: Vec2,
        [behind, ahead]: [Surface; 2],
        intent: Intent,
        touched: &mut Touched,
        terrain: &dyn Terrain,
    ) -> Option<Border> {
        let velocity = self.velocity_of_border(normal, [behind, ahead], terrain)?;
        let border = Border { normal, place: self.along(normal), velocity, behind, ahead };
        holds(self.across(&border, intent, touched)).then_some(border)
    }

    /// The velocity of a border, which moves with the floor on one of its sides. `None` if it is not known: if both sides are floors
    /// that move, and change at once.
    fn velocity_of_border(
        &self,
        normal: Vec2,
        [behind, ahead]: [Surface; 2],
        terrain: &dyn Terrain,
    ) -> Option<Vec2> {
        let aside = normal.as_dvec2() * f64::from(self.beside(self.middle()));
        let floor = |side: DVec2| terrain.floor_moves_at(self.middle() + side, self.now);
        let sides = [floor(aside), floor(-aside)];
        // Where only one side is a floor that moves, it is the edge of that one.
        if let [velocity, Vec2::ZERO] | [Vec2::ZERO, velocity] = sides {
            return Some(velocity);
        }
        let later = self.now + LOOK_AHEAD;
        let goes_with = |velocity: &Vec2| {
            let point = self.middle() + velocity.as_dvec2() * LOOK_AHEAD;
            self.surface_beside(point, normal, later, terrain) == ahead
                && self.surface_beside(point, -normal, later, terrain) == behind
        };
        [sides[0], sides[1], Vec2::ZERO].into_iter().find(goes_with)
    }

    /// At the start of a tick: whether the mover is on a border that it stays on. That must be known before any wall is
    /// met, since it decides which belt takes the mover along.
    #[inline(never)]
    pub(super) fn find_border(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let middle = self.middle();
        for normal in [Vec2::X, Vec2::Y] {
            let [behind, ahead] =
                [-normal, normal].map(|side| self.surface_beside(middle, side, self.now, terrain));
            if behind == ahead {
                continue;
            }
            touched.border = self.border(normal, [behind, ahead], intent, touched, terrain);
            if touched.border.is_some() {
                self.stand_between(intent, touched);
                return;
            }
        }
    }

    /// The direction across the border that a velocity has just crossed, along x or y.
    fn normal_of_border(
        &self,
        velocity: Vec2,
        [behind, ahead]: [Surface; 2],
        terrain: &dyn Terrain,
    ) -> Option<Vec2> {
        let middle = self.middle();
        let beside = |side: Vec2| self.surface_beside(middle, side, self.now, terrain);
        let across = [Vec2::X * velocity.x.signum(), Vec2::Y * velocity.y.signum()];
        let crossed = across.into_iter().find(|normal| beside(-*normal) == behind);
        // A floor that moves can pass a mover in any direction.
        let passed = || across.into_iter().map(|normal| -normal);
        crossed.or_else(|| passed().find(|normal| beside(-*normal) == behind && beside(*normal) == ahead))
    }

    /// Sets the surface.
    pub(super) fn stand_on(&mut self, surface: Surface, touched: &mut Touched) {
        self.drive = self.drive.on(surface);
        touched.walls.carry(self.drive.ground());
    }
}
