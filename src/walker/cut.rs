//! Ends a piece early: at a wall that is touched, and where a wall that is pressed on ends.

use glam::Vec2;

use super::framed::Framed;
use super::instants::first_instant;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::touched::Touched;
use crate::contact::Tolerance;
use crate::drive::Motion;
use crate::exact::{along, length};
use crate::shape::Feature;
use crate::terrain::{Hit, Terrain, is_clear_of};
use crate::tolerance::{LIES_AGAINST, MOST_HALVINGS, MOST_PASSED_IN_PIECE, MOST_SWEEPS, SAME_SIDE};
use crate::travel::{Constraint, Passed};

impl Mover<'_> {
    /// Ends a piece where the wall with a normal, which is pressed on, ends. `velocity` is that of the wall.
    pub(super) fn cut_at_end_of(
        &self,
        normal: Vec2,
        velocity: Vec2,
        piece: &mut Piece,
        at: impl Fn(f32) -> Motion,
        terrain: &dyn Terrain,
    ) {
        // As the wall sees it.
        let velocity = velocity - self.drive.frame();
        let seen = &Framed { terrain, frame: velocity };
        let terrain: &dyn Terrain = if velocity == Vec2::ZERO { terrain } else { seen };
        let whole = piece.motion.displacement - velocity * piece.lasts;
        // A mover that stands does not reach the end of a wall, nor one that moves by less than a position can show.
        let furthest = f64::from(self.position.abs().max_element());
        let stands = f64::from(length(whole)) <= Tolerance::at(furthest).straight();
        let continues = || {
            terrain.wall_continues(self.footprint, self.position, whole, normal, &self.walls_for(piece.lasts))
        };
        let fraction = if stands { 1.0 } else { continues() };
        if fraction < 1.0 {
            let course = whole.normalize_or_zero();
            // The end of the wall is measured from the position; the exact position is a residue further.
            let target = (course.dot(self.residue) - whole.length() * fraction).min(0.0);
            let reached = |lasts: f32| -(at(lasts).displacement - velocity * lasts).dot(course);
            let lasts = first_instant(piece.lasts, target, 0.0, reached);
            piece.cut(lasts, at(lasts), End::WallEnded(normal));
        } else {
            piece.press(normal);
        }
    }

    /// Ends a piece where a wall is touched.
    pub(super) fn find_touch(
        &self,
        piece: &mut Piece,
        at: impl Fn(f32) -> Motion,
        is_left: impl Fn(&Hit) -> bool,
        // Walls that do not count, including those that a sweep calls touched but that are slightly away. The others
        // count up to the instant of the touch.
        passed: &mut Passed<MOST_PASSED_IN_PIECE>,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) {
        let mut halvings = 0;
        let mut sweeps = 0;
        loop {
            let chord = piece.motion.displacement;
            touched.effort.count_sweep();
            let others = passed.beside(self.walls_for(piece.lasts));
            let Some(hit) = terrain.sweep(self.footprint, self.position, chord, &others) else { return };
            let hit = self.past_the_end(hit, (chord, piece.lasts), touched, terrain);
            let (normal, target) = (hit.normal, -self.gap(&hit, piece.lasts));
            // Along the normal, as the wall sees it.
            let velocity = self.seen(hit.velocity);
            let along = |lasts: f32, moved: Vec2| (moved - velocity * lasts).dot(normal);
            let reached = along(piece.lasts, chord);
            let is_touched = hit.exact.at == 0.0;
            if is_touched && reached > target {
                // A short chord does not reach it.
                passed.add(hit.wall);
                sweeps += 1;
                if sweeps == MOST_SWEEPS {
                    return;
                }
                continue;
            }
            // Between walls that move differently, the motion keeps to all of them, up to rounding.
            let keeps_to = |wall: &Constraint| touched.walls.any_moves() || piece.presses(wall.normal);
            // A wall that was passed and is hit again covers a corner of another one, which no list can name: that is a touch.
            let is_new = !passed.holds(hit.wall);
            // As it lies at the start. What rounding leaves may lead into it, later on, too.
            let lies = || hit.seen_from(velocity, piece.lasts);
            let may_be_along = is_touched || target == 0.0 && self.is_rounding(&hit, reached / piece.lasts);
            if may_be_along && is_new && is_on_side_of(&lies(), touched, keeps_to) {
                // A motion along a side does not lead into the round part beside it.
                passed.add(hit.wall);
                continue;
            }
            if is_touched && target == 0.0 && halvings < MOST_HALVINGS && is_left(&hit) {
                if self.drive.frame() != Vec2::ZERO || hit.velocity != Vec2::ZERO {
                    touched.grazed.set(Some((normal, hit.exact.position, hit.velocity)));
                }
                if is_new && self.stays_outside(&hit, (piece.lasts, reached), &at, terrain) {
                    passed.add(hit.wall);
                    continue;
                }
                halvings += 1;
                let lasts = 0.5 * piece.lasts;
                piece.cut(lasts, at(lasts), End::Free);
                continue;
            }
            sweeps += 1;
            let after = |lasts: f32| along(lasts, at(lasts).displacement);
            let lasts = first_instant(piece.lasts, target, 0.0, after);
            let is_straight = !self.drive.steers();
            let later = f64::from(lasts) - f64::from(piece.lasts) * hit.exact.at;
            piece.cut(lasts, at(lasts), End::Touch(hit));
            if velocity != Vec2::ZERO {
                piece.end = End::Touch(hit.moved_with(velocity, later));
            }
            // If a steered path bows, the chord to the instant of a touch may hit another wall first, so it is swept
            // again. Out of iterations: accept the touch, since the rest of the chord was never swept.
            if lasts == 0.0 || is_straight && !is_touched || sweeps == MOST_SWEEPS {
                return;
            }
            if is_touched {
                passed.add(hit.wall);
            } else {
                piece.end = End::Free;
            }
        }
    }

    /// A mover that a wall takes along can go off at its end, and then be overtaken by the wall at its very corner. It meets the side
    /// round the corner: back on the one that has ended, it would be at its end again at once.
    fn past_the_end(
        &self,
        hit: Hit,
        (chord, lasts): (Vec2, f32),
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Hit {
        let moves = hit.velocity != Vec2::ZERO && hit.exact.at == 0.0;
        if !moves || hit.exact.feature != Feature::Corner || touched.ended != Some(hit.normal) {
            return hit;
        }
        let past = along(chord - self.seen(hit.velocity) * lasts, hit.normal);
        let (aside, onto) = (hit.normal * -LIES_AGAINST, past.normalize_or_zero() * LIES_AGAINST);
        let next = terrain.sweep(self.footprint, self.position + aside, onto, &self.walls_now());
        let is_next = |next: &Hit| next.wall == hit.wall && next.normal.dot(hit.normal) < SAME_SIDE;
        next.filter(is_next).map_or(hit, |next| next.moved(-aside.as_dvec2()))
    }

    /// Whether a path does not lead into a wall that it leaves: its chord, which comes back so far, may, where the wall is round and
    /// the path falls away from it only little. Where walls move, what the velocities have in common is rounded.
    fn stays_outside(
        &self,
        hit: &Hit,
        (lasts, back): (f32, f32),
        at: impl Fn(f32) -> Motion,
        terrain: &dyn Terrain,
    ) -> bool {
        if hit.velocity != Vec2::ZERO || self.drive.frame() != Vec2::ZERO {
            return self.is_rounding(hit, back / lasts);
        }
        let start = self.place().exact();
        let places = [1.0, 0.5, 0.25].map(|part| start + at(part * lasts).displacement.as_dvec2());
        // Past its end, another one may go on where it ends.
        let walls = self.walls_for(lasts);
        let comes_back = || terrain.overlaps(self.footprint, places[0].as_vec2(), &walls);
        is_clear_of(terrain, self.footprint, hit.wall, (self.position, places), &walls)
            && (!comes_back() || self.is_inside(terrain))
    }
}

/// Whether a wall is one of those touched that `counts`, on the side that was hit, or flush with it.
pub(super) fn is_on_side_of(hit: &Hit, touched: &Touched, counts: impl Fn(&Constraint) -> bool) -> bool {
    let is_same = |wall: &Constraint| wall.wall == hit.wall && wall.normal.dot(hit.normal) > SAME_SIDE;
    let is_flush = |wall: &Constraint| {
        let (normal, surface) = wall.surface();
        let apart = (hit.exact.position - surface).dot(normal.as_dvec2());
        let touch = Tolerance::near(surface);
        normal == hit.normal && wall.velocity == hit.velocity && touch.is_contact(apart.abs())
    };
    touched.walls.iter().any(|wall| (is_same(wall) || is_flush(wall)) && counts(wall))
}
