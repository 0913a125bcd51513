//! Staying on a border, where both sides push the mover back onto it: for a part of the time it is on one side and for
//! the rest on the other, such that it neither leaves nor crosses (A. F. Filippov, 1960).

use glam::Vec2;

use super::border::{Border, border_step, holds};
use super::instants::first_time;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::touched::{Touched, slid};
use crate::drive::Motion;
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::travel::Passed;

impl Mover<'_> {
    /// For a mover at a wall on a border: puts it on the mixture of both sides that keeps it there, and returns for how
    /// long that may last.
    pub(super) fn mix_surfaces(&mut self, intent: Intent, remaining: f32, touched: &mut Touched) -> f32 {
        let lasts = border_step(remaining);
        // In the middle of the step, the mixture is that of its mean, up to the third power of its length.
        self.stand_between(intent, touched);
        let mut half_way = *self;
        half_way.velocity =
            touched.walls.velocity(self.drive.momentum_after(self.momentum(), intent, 0.5 * lasts).velocity);
        half_way.stand_between(intent, touched);
        self.stand_on(half_way.drive.surface(), touched);
        lasts
    }

    /// On a border: sets the mixture of both sides that keeps the mover there now.
    pub(super) fn stand_between(&mut self, intent: Intent, touched: &mut Touched) {
        let Some(border) = touched.border else { return };
        let Border { behind, ahead, .. } = border;
        let [one, other] = self.across(&border, intent, touched);
        self.stand_on(behind.mixed(&ahead, share(-other, one)), touched);
    }

    /// After a step on a mixture of both sides: puts the mover on the border again, unless one side takes it away.
    pub(super) fn stay_on_border(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let Some(border) = touched.border else { return };
        let Border { normal, place, behind, ahead, .. } = border;
        let middle = self.middle();
        let speeds = self.across(&border, intent, touched);
        let is_border = self.surface_beside(middle, normal, self.now, terrain) == ahead
            && self.surface_beside(middle, -normal, self.now, terrain) == behind;
        if holds(speeds) && is_border {
            let back = normal.as_dvec2() * (place - self.along(normal));
            self.moved(|place| place.shift(back));
        } else {
            self.leave_border(intent, touched, terrain);
        }
    }

    /// A piece on a border: it ends where one side does not push back any more, where the border ends, or at a wall.
    pub(super) fn border_piece(
        &self,
        border: &Border,
        intent: Intent,
        remaining: f32,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Piece {
        let Border { normal, behind, ahead, .. } = *border;
        let sides = [behind, ahead].map(|surface| self.drive.on(surface));
        let from = self.momentum();
        // If only the belts differ, the mean of both sides is exact. Otherwise it is, up to the third power of the time.
        let only_belts = behind.moving(Vec2::ZERO) == ahead.moving(Vec2::ZERO);
        let remaining = if only_belts { remaining } else { border_step(remaining) };
        let at = |lasts: f32| {
            let [one, other] = sides.map(|side| side.advance(from, intent, lasts));
            // Then nothing is left of the motion across it.
            let part = share(-other.displacement.dot(normal), one.displacement.dot(normal));
            let mixed = |one: Vec2, other: Vec2| one * part + other * (1.0 - part);
            let displacement = mixed(one.displacement, other.displacement);
            let across = normal * displacement.dot(normal);
            let velocity = mixed(one.velocity, other.velocity);
            slid(touched, Motion { displacement: displacement - across, velocity, ..one }, lasts)
        };
        let remaining = self.even_beside_moving(remaining, at, touched, terrain);
        let leaves =
            |lasts: f32| !holds([0, 1].map(|side| self.moves(&sides[side], intent, lasts).dot(normal)));
        let mut piece = Piece::new(remaining, at(remaining), End::Free);
        let until = first_time(remaining, leaves);
        if until < remaining {
            piece = Piece { lasts: until, motion: at(until), end: End::LeftBorder, ..piece };
        }
        let aside = normal.as_dvec2() * f64::from(self.beside(self.middle()));
        // Across the border it does not move. Along it, it also turns as the share of both belts changes.
        let apart = behind.belt() - ahead.belt();
        let turn = (apart.dot(normal.perp()) / apart.dot(normal)).abs();
        let turn = if turn.is_finite() { turn } else { 0.0 };
        let along = normal.perp().abs();
        let ended = self.first_change(
            piece.lasts,
            &at,
            &touched.effort,
            |changes| along * (changes.dot(along) + changes.dot(normal.abs()) * turn),
            |way, reach, times| {
                [aside, -aside]
                    .into_iter()
                    .all(|by| terrain.has_one_surface(way.map(|place| place + by), reach, times))
            },
            |point, time| {
                self.surface_beside(point, normal, time, terrain) != ahead
                    || self.surface_beside(point, -normal, time, terrain) != behind
            },
        );
        if let Some(lasts) = ended {
            piece = Piece { lasts, motion: at(lasts), end: End::LeftBorder, ..piece };
        }
        self.find_touch(&mut piece, at, |_| false, &mut Passed::none(), touched, terrain);
        piece
    }

    /// Goes on from where a mover does not stay on a border any more: on the side to which it is taken. If both sides
    /// take it away, the faster one does.
    pub(super) fn leave_border(&mut self, intent: Intent, touched: &mut Touched, terrain: &dyn Terrain) {
        let Some(left) = touched.border.take() else { return };
        let (normal, middle) = (left.normal, self.middle());
        let [behind, ahead] =
            [-normal, normal].map(|side| self.surface_beside(middle, side, self.now, terrain));
        touched.border = self.border(normal, [behind, ahead], intent, touched, terrain);
        let velocity = touched.border.map_or(left.velocity, |border| border.velocity);
        let here = Border { normal, place: self.along(normal), velocity, behind, ahead };
        let [one, other] = self.across(&here, intent, touched);
        let (side, sides) =
            if one + other > 0.0 { (normal, [behind, ahead]) } else { (-normal, [ahead, behind]) };
        self.stand_on(sides[1], touched);
        // Rounding must not decide on which side it is.
        if self.surface_here(terrain) != sides[1] {
            let aside = side * self.beside(middle);
            self.moved(|place| place.shift(aside.as_dvec2()));
        } else if touched.border.is_none() {
            self.step_onto(side, sides, intent, touched, terrain);
        }
    }

    /// How fast both sides of a border take the mover along its normal, as seen from the border, in units/s.
    pub(super) fn across(&self, border: &Border, intent: Intent, touched: &mut Touched) -> [f32; 2] {
        let seen = self.seen(border.velocity);
        let across = [border.behind, border.ahead].map(|side| {
            let drive = self.drive.on(side);
            touched.walls.carry(drive.ground());
            (touched.walls.displacement(self.moves(&drive, intent, 0.0)) - seen).dot(border.normal)
        });
        touched.walls.carry(self.drive.ground());
        across
    }
}

/// The part of the time behind a border, from the speeds toward it from ahead and from behind.
fn share(back: f32, on: f32) -> f32 {
    let part = back / (back + on);
    if part.is_finite() { part.clamp(0.0, 1.0) } else { 0.5 }
}
