//! A mover that is held to an axis, at a wall that is slanted or round there.
//!
//! Such a mover stays on its line: a wall stops it there, whichever way it is slanted, and pushes it along the line as fast as its
//! surface crosses the line. On a round wall that does not move along the axis, this speed changes. The mover goes round it on
//! chords: the normal of a chord of a circle is that of the middle of its arc.

use glam::{DVec2, Vec2};

use super::instants::first_time;
use super::mover::Mover;
use super::touched::Touched;
use crate::direction::Axis;
use crate::exact::root_f64;
use crate::intent::Intent;
use crate::shape::Arc;
use crate::terrain::{Hit, Terrain};
use crate::tolerance::{
    AT_END_OF_ROUND, HEAD_ON, INSTANT, LEAST_SHARE, LIES_AGAINST, MOST_CONSTRAINTS, TURN_ON_AXIS,
};
use crate::travel::{Constraint, Passed};

impl Mover<'_> {
    /// The way on which it is one unit further from a surface: along the normal, or along the axis that its drive is held to.
    /// `None` if it cannot get away from the surface so, or only far.
    pub(super) fn way_off(&self, normal: Vec2) -> Option<Vec2> {
        let Some(axis) = self.drive.axis() else { return Some(normal) };
        let unit = axis.only(Vec2::ONE);
        let share = normal.dot(unit);
        (share.abs() > LEAST_SHARE).then(|| unit / share)
    }

    /// A surface as it is where the axis crosses it, if the drive is held to one; `None` if the mover cannot be set against it.
    #[inline]
    pub(super) fn surface_on_axis(&self, (normal, surface): (Vec2, DVec2)) -> Option<(Vec2, DVec2)> {
        if self.drive.axis().is_none() {
            return Some((normal, surface));
        }
        let (way, place) = (self.way_off(normal)?, self.place());
        Some((way.normalize(), place.exact() + way.as_dvec2() * place.depth(normal, surface)))
    }

    /// The normal of a wall as it stops the mover: across the axis that its drive is held to, whichever way it is slanted.
    pub(super) fn stops_at(&self, normal: Vec2) -> Vec2 {
        let along = self.drive.axis().map(|axis| axis.only(normal));
        along.filter(|along| along.length() > HEAD_ON).map_or(normal, Vec2::normalize)
    }

    /// The first wall on a displacement of so many seconds, except moving ones that are touched: the chord round such a wall lies
    /// inside of it, and that along a flat one may by rounding.
    pub(super) fn sweep_on_axis(
        &self,
        (displacement, lasts): (Vec2, f32),
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Option<Hit> {
        let mut known = Passed::<MOST_CONSTRAINTS>::none();
        let moving = touched.walls.iter().filter(|wall| wall.velocity != Vec2::ZERO);
        moving.for_each(|wall| known.add(wall.wall));
        terrain.sweep(self.footprint, self.position, displacement, &known.others(self.walls_for(lasts)))
    }

    /// Sets the normals of round walls that are touched for a piece of at most so many seconds; returns how many it may take. Drops
    /// those with which the drive does not keep up: the others are touched throughout.
    pub(super) fn turn_on_axis(
        &self,
        axis: Axis,
        intent: Intent,
        touched: &mut Touched,
        remaining: f32,
    ) -> f32 {
        let (at, from) = (self.place().exact(), self.allowed_momentum(touched));
        let step = |wall: &Constraint| {
            let arc = touched.round(wall)?.arc;
            Some(step_of(&arc, arc.normal(at), across(axis, wall.velocity)))
        };
        let later = |wall: &Constraint, seconds: f32| {
            let arc = touched.round(wall)?.arc;
            let by = across(axis, wall.velocity) * -f64::from(seconds);
            turned_by(&arc, arc.normal(at), by).map(DVec2::as_vec2)
        };
        let is_left = |wall: &Constraint, seconds: f32| {
            let moves = self.drive.momentum_after(from, intent, seconds).velocity + self.drive.ground();
            later(wall, seconds).is_some_and(|then| self.leaves_moving(then, moves, self.seen(wall.velocity)))
        };
        let comes = |wall: &Constraint, seconds: f32| {
            later(wall, seconds).is_some_and(|then| wall.velocity.dot(then) > 0.0)
        };
        let mut kept = touched.walls;
        kept.retain(|wall| !is_left(wall, 0.0));
        // At its end, a round part goes on as a flat side.
        kept.flatten(|wall| {
            let arc = touched.round(wall)?.arc;
            let (end, seconds) = end_of(&arc, arc.normal(at), across(axis, wall.velocity))?;
            (seconds <= AT_END_OF_ROUND).then(|| (end.as_vec2(), arc.point(end)))
        });
        let lasts = kept.iter().filter(|wall| wall.is_round).filter_map(step).fold(remaining, f32::min);
        // Up to where one is left, or begins to get away: while it pushes the mover back, the drive gains no speed against it.
        let lasts = kept.iter().fold(lasts, |lasts, wall| {
            let came = comes(wall, 0.0);
            let changes = |seconds| is_left(wall, seconds) || comes(wall, seconds) != came;
            first_time(lasts, changes).max(INSTANT).min(lasts)
        });
        touched.walls = kept;
        touched.turn_rounds(at, f64::from(LIES_AGAINST), |arc, normal, velocity| {
            let turned = turned_by(arc, normal, across(axis, velocity) * -f64::from(lasts));
            (normal + turned.unwrap_or(normal)).normalize()
        });
        lasts
    }
}

/// The part of a velocity across an axis.
fn across(axis: Axis, velocity: Vec2) -> DVec2 {
    (velocity - axis.only(velocity)).as_dvec2()
}

/// For how many seconds one chord of a round part is good, if it moves across an axis with a velocity: at most to its end.
#[expect(clippy::cast_possible_truncation, reason = "a step, rounded once")]
fn step_of(arc: &Arc, normal: DVec2, velocity: DVec2) -> f32 {
    let (speed, unit) = (velocity.length(), velocity.normalize_or_zero());
    let share = normal.perp_dot(unit).abs().max(f64::from(LEAST_SHARE));
    let step = TURN_ON_AXIS * share * arc.radius / speed;
    end_of(arc, normal, velocity).map_or(step, |(_, seconds)| step.min(seconds)) as f32
}

/// The normal at the end of a round part that moves across an axis with a velocity, and in how many seconds it is there.
fn end_of(arc: &Arc, normal: DVec2, velocity: DVec2) -> Option<(DVec2, f64)> {
    let unit = velocity.normalize_or_zero();
    // The normal turns away from the velocity.
    let end = arc.normal_at_end(unit.perp_dot(normal))?;
    Some((end, (normal - end).dot(unit) * arc.radius / velocity.length()))
}

/// The normal of a round part after a displacement across an axis, as it sees it; `None` past the axis.
fn turned_by(arc: &Arc, normal: DVec2, by: DVec2) -> Option<DVec2> {
    let Some(unit) = by.try_normalize() else { return Some(normal) };
    let beside = unit.dot(normal) + by.length() / arc.radius;
    let along = (normal - unit * unit.dot(normal)).try_normalize()?;
    (beside < 1.0).then(|| along * root_f64(1.0 - beside * beside) + unit * beside)
}
