//! How much of a path can be swept as a straight line: drives give curves, and sweeps take chords.
//!
//! A piece is halved until it bows less than a position can show, or until no wall is within its bow. A piece that
//! goes straight there and back again is cut where it turns. Drives that steer have a coarser rule, since their
//! displacement is an integral.

use glam::Vec2;

use super::cut::is_on_side_of;
use super::instants::first_instant;
use super::mover::Mover;
use super::state::Walker;
use super::touched::{Touched, slid};
use crate::contact::Tolerance;
use crate::drive::{Drive, Momentum, Motion, Surface};
use crate::exact::length;
use crate::intent::Intent;
use crate::shape::Feature;
use crate::terrain::{Hit, Terrain, WallFilter};
use crate::tolerance::{BOW_AT_LEDGES, FINEST_STEERED, MOST_CONSTRAINTS, MOST_HALVINGS, STEADY, STEERED_BOW};
use crate::travel::Passed;

/// A piece whose path counts as straight, and its end without walls.
#[derive(Debug, Clone, Copy)]
pub(super) struct Straight {
    pub(super) lasts: f32,
    pub(super) motion: Motion,
    pub(super) near: Near,
}

/// What is known about walls near a piece.
#[derive(Debug, Clone, Copy)]
pub(super) enum Near {
    /// There are none.
    Nothing,
    /// There may be some.
    Something,
    /// This one is touched at the start and pressed on.
    Pressed(Hit),
}

impl<D: Drive> Walker<D> {
    /// The motion of a whole tick on a surface, if no wall is near its path.
    #[expect(
        clippy::inline_always,
        reason = "also behind pointers, so it would be left out of line: a sixth of a tick"
    )]
    #[inline(always)]
    pub(super) fn free_motion(
        &self,
        intent: Intent,
        dt: f32,
        on: &Surface,
        terrain: &(impl Terrain + ?Sized),
        filter: &WallFilter<'_>,
    ) -> Option<Motion> {
        let from = self.momentum();
        let motion = self.drive.advance(from, intent, on, dt);
        let is_free = if motion.velocity == from.velocity && motion.heading == from.heading {
            terrain.sweep(&self.footprint, self.position, motion.displacement, filter).is_none()
        } else {
            let bow = self.bow(&motion, intent, dt, on);
            // Nor beside a wall that may hold the mover.
            let is_flat = !self.drive.pushes() && terrain.is_flat_to(&self.footprint);
            let wide = self.footprint.grown(if is_flat { bow } else { bow + self.touch() });
            terrain.is_clear(&wide, self.position, motion.displacement, filter)
        };
        // It may be inside a wall that moves, which a sweep ignores, or beside one that takes it along.
        let is_moved = || {
            terrain.has_moving_walls()
                && terrain.meets_moving_wall(&self.footprint, self.position, Vec2::ZERO, filter)
        };
        (is_free && !is_moved()).then_some(motion)
    }

    /// The same where surfaces differ: the path must stay on this one.
    #[inline(never)]
    pub(super) fn free_motion_on(
        &self,
        intent: Intent,
        dt: f32,
        on: &Surface,
        terrain: &(impl Terrain + ?Sized),
        filter: &WallFilter<'_>,
    ) -> Option<Motion> {
        let motion = self.free_motion(intent, dt, on, terrain, filter)?;
        let middle = self.place().middle(&self.footprint);
        let way = [middle, middle + motion.displacement.as_dvec2()];
        let reach = Vec2::splat(self.bow(&motion, intent, dt, on));
        terrain.has_one_surface(way, reach, [0.0, f64::from(dt)]).then_some(motion)
    }

    /// How far the path of a motion from here can bow from its chord, at most, in units.
    #[inline]
    fn bow(&self, motion: &Motion, intent: Intent, dt: f32, on: &Surface) -> f32 {
        let from = self.momentum();
        let at = |part: f32| self.drive.momentum_after(from, intent, on, part);
        steered_bow(from, motion.momentum(), dt, at)
    }

    /// The distance at which a wall may be touched, in units.
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    fn touch(&self) -> f32 {
        let furthest = self.position.abs().max_element() + self.footprint.size().max_element();
        2.0 * Tolerance::at(f64::from(furthest)).least_gap() as f32
    }
}

impl Mover<'_> {
    /// How much of the path from here counts as straight; all of it if no wall is within its bow.
    pub(super) fn straight_piece(
        &self,
        remaining: f32,
        start: Vec2,
        from: Momentum,
        wish: Intent,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Straight {
        let ground = self.drive.ground();
        // The part of a velocity that moves the mover: while walls block it, the path runs along them.
        let moves = |velocity: Vec2| touched.walls.displacement(velocity + ground);
        let mut lasts = remaining;
        for halved in 0.. {
            let motion = slid(touched, self.drive.advance(from, wish, lasts), lasts);
            let last = moves(motion.velocity);
            let change = last - start;
            if change == Vec2::ZERO || halved >= MOST_HALVINGS {
                return Straight { lasts, motion, near: Near::Something };
            }
            let mut bow = length(change) * lasts * BOW_PER_CHANGE;
            let is_clear = |bow: f32| {
                let wide = self.footprint.grown(bow);
                terrain.is_clear(&wide, self.position, motion.displacement, &self.walls_for(lasts))
            };
            if !(halved == 0 && touched.is_near) && is_clear(bow) {
                return Straight { lasts, motion, near: Near::Nothing };
            }
            if let Some(hit) = (halved == 0)
                .then(|| self.pressed(start, (&motion, lasts), from, wish, touched, terrain))
                .flatten()
            {
                return Straight { lasts, motion, near: Near::Pressed(hit) };
            }
            let middle = || moves(self.drive.momentum_after(from, wish, 0.5 * lasts).velocity);
            if turns_round(start, last) {
                // On a straight line, but there and back again: up to where it turns.
                let on = |lasts: f32| moves(self.drive.momentum_after(from, wish, lasts).velocity).dot(start);
                lasts = first_instant(lasts, 0.0, start.length_squared(), on);
                continue;
            }
            let is_steady = is_forward(start, last, motion.displacement) && is_between(start, middle(), last);
            // Where walls move, it also matters when the mover is where on its line.
            if is_steady
                && !(self.has_moving_walls && self.is_near_moving(bow, &motion, lasts, touched, terrain))
            {
                let across = change.perp_dot(motion.displacement) / length(motion.displacement);
                bow = across.abs() * lasts * BOW_PER_CHANGE;
            }
            // Inside a wall, which does not count, something is always near.
            let is_straight = self.is_within_rounding(bow)
                || bow <= BOW_AT_LEDGES
                    && (!self.is_near_solid(bow, &motion, lasts, terrain) || self.is_inside(terrain));
            if is_straight {
                return Straight { lasts, motion, near: Near::Something };
            }
            lasts *= 0.5;
        }
        unreachable!("the loop returns after its last halving")
    }

    /// A part of some seconds in which a mover that gets faster or slower is, at each instant, where its chord is if a wall that
    /// moves is near: such a wall can come and go where the chord is not.
    pub(super) fn even_beside_moving(
        &self,
        mut lasts: f32,
        at: impl Fn(f32) -> Motion,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> f32 {
        if !self.has_moving_walls {
            return lasts;
        }
        let first = at(0.0).velocity;
        for _ in 0..MOST_HALVINGS {
            let motion = at(lasts);
            let bow = length(motion.velocity - first) * lasts * BOW_PER_CHANGE;
            if self.is_within_rounding(bow) || !self.is_near_moving(bow, &motion, lasts, touched, terrain) {
                break;
            }
            lasts *= 0.5;
        }
        lasts
    }

    /// The wall that a motion presses on from its start. A path that starts away from a wall, or past its corner, has
    /// left that wall before it comes back.
    fn pressed(
        &self,
        start: Vec2,
        (motion, lasts): (&Motion, f32),
        from: Momentum,
        intent: Intent,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Option<Hit> {
        let hit = match self.drive.axis() {
            None => terrain.sweep(self.footprint, self.position, motion.displacement, &self.walls_for(lasts)),
            Some(_) => self.sweep_on_axis((motion.displacement, lasts), touched, terrain),
        }?;
        // What is pressed on already changes nothing by being met.
        let ends = hit.exact.feature == Feature::Corner
            || is_on_side_of(&hit, touched, |_| true)
            || self.leaves_moving(hit.normal, start, self.seen(hit.velocity))
            || self.has_left(from, intent, &hit, touched, terrain);
        (!ends && self.gap(&hit, lasts) == 0.0).then_some(hit)
    }

    /// Whether a path with this bow is straight as far as positions here can show.
    fn is_within_rounding(&self, bow: f32) -> bool {
        let furthest = self.position.abs().max_element() + self.footprint.size().max_element();
        f64::from(bow) <= Tolerance::at(f64::from(furthest)).straight()
    }

    /// Whether anything but a closed side of a tile is within the bow of a path. Near closed sides, no path is called
    /// clear; one that bows through such a side by less than [`BOW_AT_LEDGES`] comes out again within the piece,
    /// whose end is swept.
    fn is_near_solid(&self, bow: f32, motion: &Motion, lasts: f32, terrain: &dyn Terrain) -> bool {
        let wide = self.footprint.grown(bow);
        terrain.overlaps(&wide, self.position, &self.walls_now())
            || terrain.sweep(&wide, self.position, motion.displacement, &self.walls_for(lasts)).is_some()
    }

    /// Whether a wall that moves, and is not touched, is within the bow of a path.
    fn is_near_moving(
        &self,
        bow: f32,
        motion: &Motion,
        lasts: f32,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> bool {
        let (wide, walls) = (self.footprint.grown(bow), self.walls_for(lasts));
        let meets = |walls: &WallFilter<'_>| {
            terrain.meets_moving_wall(&wide, self.position, motion.displacement, walls)
        };
        if !touched.walls.has_moving() {
            return meets(&walls);
        }
        let mut known = Passed::<MOST_CONSTRAINTS>::none();
        touched.walls.iter().for_each(|wall| known.add(wall.wall));
        meets(&known.others(walls))
    }

    /// Whether it overlaps a wall: such a wall is ignored.
    pub(super) fn is_inside(&self, terrain: &dyn Terrain) -> bool {
        terrain.overlaps(self.footprint, self.position, &self.walls_now())
    }

    /// The same for a drive that steers: its velocity turns with its heading.
    pub(super) fn steered_piece(
        &self,
        remaining: f32,
        from: Momentum,
        wish: Intent,
        terrain: &dyn Terrain,
    ) -> Straight {
        let mut lasts = remaining;
        let after = |part: f32| self.drive.momentum_after(from, wish, part);
        // The displacement of a steered drive is an integral, its velocity is not. Among walls, the displacement of a
        // path that bows into them is not needed.
        while lasts > FINEST_STEERED {
            let bow = steered_bow(from, after(lasts), lasts, after);
            if bow <= STEERED_BOW
                || !terrain.overlaps(&self.footprint.grown(bow), self.position, &self.walls_now())
            {
                break;
            }
            lasts *= 0.5;
        }
        let mut motion = self.drive.advance(from, wish, lasts);
        while lasts > FINEST_STEERED {
            let bow = steered_bow(from, motion.momentum(), lasts, after);
            if bow <= STEERED_BOW {
                break;
            }
            let wide = self.footprint.grown(bow);
            if terrain.is_clear(&wide, self.position, motion.displacement, &self.walls_for(lasts)) {
                return Straight { lasts, motion, near: Near::Nothing };
            }
            lasts *= 0.5;
            motion = self.drive.advance(from, wish, lasts);
        }
        Straight { lasts, motion, near: Near::Something }
    }
}

/// A path whose velocity changes steadily by `change` bows at most `change * seconds / 4` from its chord: as far as
/// one whose velocity changes all at once, in the middle.
const BOW_PER_CHANGE: f32 = 0.25;

/// Whether a path with these velocities at its ends moves forward along its chord throughout; a rounding back counts.
fn is_forward(first: Vec2, last: Vec2, chord: Vec2) -> bool {
    let back = -STEADY * (first.length() + last.length()) * chord.length();
    first.dot(chord) >= 0.0 && last.dot(chord) >= back && chord != Vec2::ZERO
}

/// Whether a velocity turns into one that leads straight back.
fn turns_round(first: Vec2, last: Vec2) -> bool {
    let size = first.length() * last.length();
    last.length() > STEADY * first.length()
        && first.dot(last) < 0.0
        && first.perp_dot(last).abs() <= STEADY * size
}

/// Whether a velocity lies on the straight line between two others: then it changes in one direction only, and a
/// change along the chord bends nothing.
fn is_between(first: Vec2, middle: Vec2, last: Vec2) -> bool {
    let (whole, part) = (last - first, middle - first);
    whole.perp_dot(part).abs() <= STEADY * whole.length_squared()
}

/// How far a steered path can bow from its chord, at most, in units. A heading that turns can come back to where it
/// was, so the middle of a turning path is checked too.
fn steered_bow(from: Momentum, to: Momentum, piece: f32, at: impl FnOnce(f32) -> Momentum) -> f32 {
    let mut change = (to.velocity - from.velocity).length();
    if to.heading != from.heading {
        let middle = at(0.5 * piece).velocity;
        change = change.max((middle - from.velocity).length()).max((to.velocity - middle).length());
    }
    change * piece * BOW_PER_CHANGE
}
