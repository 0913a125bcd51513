//! Divides a tick: the longest piece from here on in which nothing changes.
//!
//! A drive gives velocity and displacement at any instant in closed form. A piece whose path is almost straight is
//! swept along its chord; one that bows more is halved, unless no wall is near. So the division depends on the path
//! and the walls, not on the length of the tick, and the instants of touches and of walls' ends are searched on the
//! path itself.

use glam::Vec2;

use super::course::Course;
use super::hold::Hold;
use super::instants::first_instant;
use super::mover::Mover;
use super::piece::{End, Piece};
use super::straight::{Near, Straight};
use super::touched::{Touched, slid};
use crate::drive::Momentum;
use crate::intent::Intent;
use crate::terrain::{Hit, Terrain};
use crate::tolerance::{INSTANT, LINGERS};
use crate::travel::{Constraint, Passed, WallConstraints, at_full_speed};

impl Mover<'_> {
    /// The longest piece of the `left` seconds of a tick in which nothing changes.
    pub(super) fn next_piece(
        &self,
        intent: Intent,
        remaining: f32,
        touched: &mut Touched,
        terrain: &dyn Terrain,
    ) -> Piece {
        if let Some(border) = touched.border.filter(|_| touched.walls.is_empty()) {
            return self.border_piece(&border, intent, remaining, touched, terrain);
        }
        let follows = touched.walls.any_round() || self.drive.pushes() && !touched.walls.is_empty();
        // Between walls that move differently, what they leave does not stay the same along one of them.
        let moved_apart = touched.walls.any_moves();
        if follows && !moved_apart {
            match self.hold(intent, touched) {
                // Past the end of a round part, a flat side is like any other.
                Some(Hold::On(_, Course::Line(_))) if !self.drive.pushes() => {}
                Some(hold) => return self.held_piece(&hold, intent, remaining, touched, terrain),
                None => {}
            }
        }
        // A drive that steers keeps its intent, and walls change only the motion; for the others, both are the same.
        let steers = self.drive.steers();
        let (wish, start) = if steers { (intent, Vec2::ZERO) } else { self.start(intent, touched) };
        let from = self.allowed_momentum(touched);
        if follows && touched.walls.any_round() && !touched.walls.any_moves() && moved_apart {
            // Of the walls that move differently, only one is left, which may be followed.
            return Piece::new(0.0, self.drive.advance(from, wish, 0.0), End::Free);
        }
        let touched = &*touched;
        let walls = &touched.walls;
        let Straight { lasts, motion: straight, near } = if steers {
            self.steered_piece(remaining, from, wish, terrain)
        } else {
            let remaining = self.until_released(from, wish, remaining, touched);
            self.straight_piece(remaining, start, from, wish, touched, terrain)
        };
        let mut piece = Piece::new(lasts, slid(touched, straight, lasts), End::Free);
        if let Near::Pressed(hit) = near {
            let motion = self.drive.advance(from, wish, 0.0);
            return Piece { lasts: 0.0, motion, end: End::Touch(hit), ..piece };
        }
        if walls.is_empty() {
            if matches!(near, Near::Nothing) {
                let at = |lasts: f32| self.drive.advance(from, wish, lasts);
                self.cut_at_border(&mut piece, at, touched, terrain);
                return piece;
            }
        } else {
            self.find_ends(&mut piece, from, wish, intent, touched, terrain);
        }
        let at = |lasts: f32| slid(touched, self.drive.advance(from, wish, lasts), lasts);
        self.cut_at_border(&mut piece, at, touched, terrain);
        let is_left = |hit: &Hit| self.has_left(from, intent, hit, touched, terrain);
        self.find_touch(&mut piece, at, is_left, &mut Passed::none(), touched, terrain);
        piece
    }

    /// What is left of the intent, and the velocity at the start: a drive may respond immediately.
    ///
    /// Drops the walls that the mover moves away from: it has left them, and they affect neither its intent nor its
    /// speed.
    fn start(&self, intent: Intent, touched: &mut Touched) -> (Intent, Vec2) {
        let ground = self.drive.ground();
        loop {
            let from = self.allowed_momentum(touched);
            let wish = self.wish(intent, touched);
            let velocity = self.drive.momentum_after(from, wish, 0.0).velocity;
            let moves = touched.walls.displacement(velocity + ground);
            let known = touched.walls.count();
            let soon = || self.drive.momentum_after(from, wish, INSTANT).velocity + ground;
            // On a belt, one wall can release what another one presses on.
            let moves_along = ground != Vec2::ZERO || touched.walls.any_moves();
            let turns_apart = touched.turns_apart();
            let carried = (moves_along && known > 1).then_some(touched.walls);
            let is_turned_off = |wall: &&Constraint| self.is_turned_off(wall, from, intent, touched);
            let turned_off = turns_apart.then(|| touched.walls.iter().find(is_turned_off)).flatten();
            let turned_off = turned_off.map(|wall| wall.normal);
            touched.drop_unless(|wall| {
                let is_released =
                    |walls: &WallConstraints| self.is_released(walls, wall, velocity + ground, soon());
                (!self.leaves_wall(wall, moves) || turns_apart && self.lingers(wall, moves))
                    && !carried.as_ref().is_some_and(is_released)
                    && turned_off != Some(wall.normal)
            });
            if touched.walls.count() == known {
                // At the instant at which a belt loses against the drive, what is left of the speed is rounding. It
                // must not lead back into the wall that was just left.
                let is_rounding = ground != Vec2::ZERO && self.is_still(moves.length());
                return (wish, if is_rounding { Vec2::ZERO } else { moves });
            }
        }
    }

    /// Whether a velocity leads away from a wall so slowly that the other walls, which turn within a short piece, press the mover
    /// on it again at once. On an axis, the piece takes as long as the round wall is not left.
    fn lingers(&self, wall: &Constraint, moves: Vec2) -> bool {
        if self.drive.axis().is_some() {
            return wall.is_round;
        }
        (moves - self.seen(wall.velocity)).dot(wall.normal) < LINGERS
    }

    /// Whether what the other walls leave of a motion does not press on a wall and is about to lead away from it.
    fn is_released(&self, walls: &WallConstraints, wall: &Constraint, now: Vec2, soon: Vec2) -> bool {
        let mut others = *walls;
        others.retain(|other| other.normal != wall.normal);
        let seen = self.seen(wall.velocity);
        !self.leaves_moving(-wall.normal, others.displacement(now), seen)
            && self.leaves_moving(wall.normal, others.displacement(soon), seen)
    }

    /// What the walls in contact leave of an intent.
    pub(super) fn wish(&self, intent: Intent, touched: &Touched) -> Intent {
        if let Some(aside) = touched.lead {
            return Intent::new(aside * intent.vector().length());
        }
        if touched.walls.is_empty() {
            return intent;
        }
        let top_speed = self.drive.top_speed();
        let moves = self.drive.ground() != Vec2::ZERO || touched.walls.any_moves();
        let is_carried = moves && top_speed.is_finite() && top_speed > 0.0;
        let wish = if is_carried {
            touched.walls.velocity(intent.vector() * top_speed) / top_speed
        } else {
            touched.walls.displacement(intent.vector())
        };
        if wish == Vec2::ZERO && !intent.is_none() {
            return Intent::BLOCKED;
        }
        Intent::new(if self.along_walls.full_speed { at_full_speed(intent.vector(), wish) } else { wish })
    }

    /// How long the floor presses a mover on a wall that its drive takes it away from.
    fn until_released(&self, from: Momentum, wish: Intent, lasts: f32, touched: &Touched) -> f32 {
        let ground = self.drive.ground();
        if ground == Vec2::ZERO && !touched.walls.any_moves() {
            return lasts;
        }
        touched.walls.iter().fold(lasts, |lasts, wall| {
            // In a corner, a mover leaves one wall along the other.
            let mut others = touched.walls;
            others.retain(|other| other.normal != wall.normal);
            let seen = self.seen(wall.velocity);
            let moves = |velocity: Vec2| others.displacement(velocity + ground) - seen;
            let after = |lasts: f32| moves(self.drive.momentum_after(from, wish, lasts).velocity);
            let first = moves(from.velocity);
            // A mover that holds against a belt presses on no wall, and leaves none, by rounding.
            if self.leaves(-wall.normal, first) && self.leaves(wall.normal, after(lasts)) {
                first_instant(lasts, 0.0, first.dot(wall.normal), |lasts| after(lasts).dot(wall.normal))
            } else {
                lasts
            }
        })
    }

    /// Ends a piece where a wall that is pressed on ends. Without that wall the mover would move in; otherwise its
    /// end does not matter.
    fn find_ends(
        &self,
        piece: &mut Piece,
        from: Momentum,
        wish: Intent,
        intent: Intent,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) {
        let unhindered = self.drive.advance(from, intent, piece.lasts).displacement;
        let lasts = piece.lasts;
        let (moves, along) = (touched.walls.any_moves(), piece.motion.displacement);
        // What another wall does can press on a wall, too.
        let counts = |wall: &Constraint| {
            let lingers = touched.turns_apart() && lasts > 0.0 && self.lingers(wall, along / lasts);
            let is_kept = moves || wall.carries && (!wall.is_round || along == Vec2::ZERO);
            lingers || wall.is_entered(unhindered, lasts) || is_kept && wall.is_kept_to(along, lasts)
        };
        for wall in touched.walls.iter().filter(|wall| counts(wall)) {
            if wall.is_round && moves {
                // Where a round part ends is known only on a course along it; such a piece is short.
                piece.press(wall.normal);
                continue;
            }
            let at = |lasts: f32| slid(touched, self.drive.advance(from, wish, lasts), lasts);
            self.cut_at_end_of(wall.normal, wall.velocity, piece, at, terrain);
        }
    }
}
