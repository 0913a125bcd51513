//! Where a tick is divided: the longest stretch from here on in which nothing changes.
//!
//! A drive gives velocity and displacement at any instant in closed form. A stretch whose path bows less than what counts
//! as straight is swept along its chord; one that bows more is halved, unless no wall is within its bow. So how a path is
//! divided follows from the path and the walls, never from the length of the tick, and the instant of a touch or of a
//! wall's end is searched on the path itself.

use glam::{DVec2, Vec2};

use super::Walker;
use super::course::Course;
use super::held::Hold;
use super::instants::{first_instant, is_reached};
use super::straight::{Near, Straight};
use super::walk::Touched;
use crate::contact::Tolerance;
use crate::drive::{Drive, Momentum, Motion};
use crate::exact::length;
use crate::intent::Intent;
use crate::terrain::{Hit, Terrain, Wall, WallFilter};
use crate::tolerance::{INSTANT, MOST_HALVINGS, MOST_SWEEPS};
use crate::travel::{Constraint, Passed, WallConstraints, at_full_speed};

/// A stretch of a tick and how it ends.
#[derive(Debug, Clone, Copy)]
pub(super) struct Piece {
    /// In seconds.
    pub(super) lasts: f32,
    pub(super) motion: Motion,
    pub(super) end: End,
    /// The normals of walls that are pressed on all the way.
    pub(super) pressed: [Option<Vec2>; 2],
    /// Whether all walls in contact are, since the mover stands between them.
    pub(super) presses_all: bool,
    /// Along a round wall: where the mover is then, and the normal there.
    pub(super) rolled: Option<(DVec2, DVec2)>,
}

impl Piece {
    pub(super) const fn new(lasts: f32, motion: Motion, end: End) -> Self {
        Self { lasts, motion, end, pressed: [None; 2], presses_all: false, rolled: None }
    }

    /// Notes a wall that is pressed on; in the plane two hold a mover.
    pub(super) fn press(&mut self, normal: Vec2) {
        if let Some(slot) = self.pressed.iter_mut().find(|slot| slot.is_none()) {
            *slot = Some(normal);
        }
    }

    /// Whether any wall is pressed on all the way, or up to its end.
    pub(super) fn presses_any(&self) -> bool {
        self.presses_all || self.pressed != [None; 2] || matches!(self.end, End::WallEnded(_))
    }

    /// Whether a wall with this normal is pressed on all the way.
    pub(super) fn presses(&self, normal: Vec2) -> bool {
        self.presses_all || self.pressed.contains(&Some(normal))
    }
}

/// How a piece ends.
#[derive(Debug, Clone, Copy)]
pub(super) enum End {
    /// By itself.
    Free,
    /// The wall with this normal has ended.
    WallEnded(Vec2),
    /// The drive leads away from this wall.
    Left(Wall),
    /// A wall is touched.
    Touch(Hit),
}

impl<D: Drive> Walker<D> {
    /// The longest stretch of the `left` seconds of a tick in which nothing changes.
    pub(super) fn next_piece(
        &self,
        intent: Intent,
        left: f32,
        touched: &mut Touched,
        terrain: &(impl Terrain + ?Sized),
    ) -> Piece {
        if touched.walls.any_round() || self.drive.pushes() && !touched.walls.is_empty() {
            match self.hold(intent, touched) {
                // Past the end of a round, a flat side is like any other.
                Some(Hold::On(_, Course::Line(_))) if !self.drive.pushes() => {}
                Some(hold) => return self.held_piece(&hold, intent, left, touched, terrain),
                None => {}
            }
        }
        // A steered drive keeps its intent and loses what comes of it; for the others both are one.
        let steers = self.drive.steers();
        let (wish, start) = if steers { (intent, Vec2::ZERO) } else { self.start(intent, touched) };
        let from = self.allowed_momentum(touched);
        let touched = &*touched;
        let walls = &touched.walls;
        let Straight { lasts, motion: straight, near } = if steers {
            self.steered_piece(left, from, wish, terrain)
        } else {
            let left = self.until_released(from, wish, left, touched);
            self.straight_piece(left, start, from, wish, touched, terrain)
        };
        let mut piece = Piece::new(lasts, slid(touched, straight), End::Free);
        if let Near::Pressed(hit) = near {
            let motion = self.drive.advance(from, wish, 0.0);
            return Piece { lasts: 0.0, motion, end: End::Touch(hit), ..piece };
        }
        if walls.is_empty() {
            if matches!(near, Near::Nothing) {
                return piece;
            }
        } else {
            self.find_ends(&mut piece, from, wish, intent, touched, terrain);
        }
        let at = |lasts: f32| slid(touched, self.drive.advance(from, wish, lasts));
        let is_left = |hit: &Hit| self.has_left(from, intent, hit, touched, terrain);
        self.find_touch(&mut piece, at, is_left, &mut Passed::none(), touched, terrain);
        piece
    }

    /// What is left of the intent, and the velocity that moves the mover at first: a drive may answer at once.
    ///
    /// Drops the walls that the mover moves away from: it has left them, and they have no say in what it can wish for, nor in
    /// how fast it is.
    fn start(&self, intent: Intent, touched: &mut Touched) -> (Intent, Vec2) {
        let ground = self.drive.ground();
        loop {
            let from = self.allowed_momentum(touched);
            let wish = self.wish(intent, touched);
            let velocity = self.drive.momentum_after(from, wish, 0.0).velocity;
            let moves = touched.walls.displacement(velocity + ground);
            let (known, walls) = (touched.walls.count(), touched.walls);
            let soon = || self.drive.momentum_after(from, wish, INSTANT).velocity + ground;
            let is_carried = ground != Vec2::ZERO && known > 1;
            touched.walls.retain(|wall| {
                let left = self.leaves(wall.normal, moves)
                    || is_carried && self.is_released(&walls, wall.normal, velocity + ground, soon());
                !left
            });
            if touched.walls.count() == known {
                return (wish, moves);
            }
        }
    }

    /// Whether what the other walls leave of a motion does not press on a wall, and is about to lead away from it.
    fn is_released(&self, walls: &WallConstraints, normal: Vec2, now: Vec2, soon: Vec2) -> bool {
        let mut others = *walls;
        others.retain(|other| other.normal != normal);
        !self.leaves(-normal, others.displacement(now)) && self.leaves(normal, others.displacement(soon))
    }

    /// Whether a velocity leads away from a wall by more than rounding leaves of one that was along it, and of the faster ones
    /// that it came from.
    pub(super) fn leaves(&self, normal: Vec2, velocity: Vec2) -> bool {
        let top_speed = self.drive.top_speed();
        let scale = length(velocity) + if top_speed.is_finite() { top_speed } else { 0.0 };
        velocity.dot(normal) > ALMOST_ALONG * scale
    }

    /// What is left of an intent at the walls that are pressed on.
    fn wish(&self, intent: Intent, touched: &Touched) -> Intent {
        if let Some(aside) = touched.lead {
            return Intent::new(aside * intent.vector().length());
        }
        if touched.walls.is_empty() {
            return intent;
        }
        let top_speed = self.drive.top_speed();
        let is_carried = self.drive.ground() != Vec2::ZERO && top_speed.is_finite() && top_speed > 0.0;
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

    /// How long the ground keeps pressing a mover on a wall that its drive takes it away from.
    fn until_released(&self, from: Momentum, wish: Intent, lasts: f32, touched: &Touched) -> f32 {
        let ground = self.drive.ground();
        if ground == Vec2::ZERO {
            return lasts;
        }
        touched.walls.iter().fold(lasts, |lasts, wall| {
            // In a corner, a mover leaves one wall along the other.
            let mut others = touched.walls;
            others.retain(|other| other.normal != wall.normal);
            let outward = |velocity: Vec2| others.displacement(velocity + ground).dot(wall.normal);
            let after = |lasts: f32| outward(self.drive.momentum_after(from, wish, lasts).velocity);
            if outward(from.velocity) < 0.0 && after(lasts) > 0.0 {
                first_instant(lasts, 0.0, outward(from.velocity), after)
            } else {
                lasts
            }
        })
    }

    /// Cuts a piece where a wall that is pressed on ends. A wall is pressed on when without it the mover would go in; only
    /// then its end matters.
    fn find_ends(
        &self,
        piece: &mut Piece,
        from: Momentum,
        wish: Intent,
        intent: Intent,
        touched: &Touched,
        terrain: &(impl Terrain + ?Sized),
    ) {
        let unhindered = self.drive.advance(from, intent, piece.lasts).displacement;
        for wall in touched.walls.iter().filter(|wall| unhindered.dot(wall.normal) < 0.0) {
            let at = |lasts: f32| slid(touched, self.drive.advance(from, wish, lasts));
            self.cut_at_end_of(wall.normal, piece, at, terrain);
        }
    }

    /// Cuts a piece where the wall with a normal, which is pressed on, ends.
    pub(super) fn cut_at_end_of(
        &self,
        normal: Vec2,
        piece: &mut Piece,
        at: impl Fn(f32) -> Motion,
        terrain: &(impl Terrain + ?Sized),
    ) {
        let whole = piece.motion.displacement;
        // Who stands does not get to the end of a wall, nor does who moves by less than a position can tell.
        let furthest = f64::from(self.position.abs().max_element());
        let stands = f64::from(length(whole)) <= Tolerance::at(furthest).straight();
        let support = || terrain.support(&self.footprint, self.position, whole, normal, &WallFilter::ALL);
        let fraction = if stands { 1.0 } else { support() };
        if fraction < 1.0 {
            let course = whole.normalize_or_zero();
            // The wall's end is asked for from the position; the place itself is a residue further on.
            let target = (course.dot(self.residue) - whole.length() * fraction).min(0.0);
            let reached = |lasts: f32| -at(lasts).displacement.dot(course);
            let lasts = first_instant(piece.lasts, target, 0.0, reached);
            *piece = Piece { lasts, motion: at(lasts), end: End::WallEnded(normal), ..*piece };
        } else {
            piece.press(normal);
        }
    }

    /// How far it still is to a surface that a sweep has hit: 0 in contact. A sweep calls everything touched that lies within
    /// the rounding of the position; the place itself is known better.
    pub(super) fn gap(&self, hit: &Hit) -> f32 {
        let (normal, surface) = hit.surface();
        let gap = -self.place().depth(normal, surface);
        let touch = Tolerance::at(surface.abs().max_element());
        #[expect(clippy::cast_possible_truncation, reason = "a distance within a tick, rounded once")]
        let gap = gap as f32;
        if touch.is_contact(f64::from(gap)) { 0.0 } else { gap }
    }

    /// Cuts a piece where a wall is touched.
    pub(super) fn find_touch(
        &self,
        piece: &mut Piece,
        at: impl Fn(f32) -> Motion,
        is_left: impl Fn(&Hit) -> bool,
        // Walls that do not count: those, too, that a sweep calls touched and that are a hair away yet. The others count up to
        // the instant of the touch.
        passed: &mut Passed,
        touched: &Touched,
        terrain: &(impl Terrain + ?Sized),
    ) {
        let mut halvings = 0;
        let mut sweeps = 0;
        loop {
            let chord = piece.motion.displacement;
            let others = passed.others(WallFilter::ALL);
            let Some(hit) = terrain.sweep(&self.footprint, self.position, chord, &others) else { return };
            let (normal, target) = (hit.normal, -self.gap(&hit));
            let is_touched = hit.exact.at == 0.0;
            if is_touched && chord.dot(normal) > target {
                // A short chord does not get there.
                passed.add(hit.wall);
                sweeps += 1;
                if sweeps == MOST_SWEEPS {
                    return;
                }
                continue;
            }
            let is_pressed = |wall: &Constraint| {
                wall.wall == hit.wall && wall.normal.dot(normal) > SAME_SIDE && piece.presses(wall.normal)
            };
            if is_touched && touched.walls.iter().any(is_pressed) {
                // No way along a side leads into the round beside it.
                passed.add(hit.wall);
                continue;
            }
            if is_touched && target == 0.0 && halvings < MOST_HALVINGS && is_left(&hit) {
                halvings += 1;
                let lasts = 0.5 * piece.lasts;
                *piece = Piece { lasts, motion: at(lasts), end: End::Free, ..*piece };
                continue;
            }
            sweeps += 1;
            let lasts = first_instant(piece.lasts, target, 0.0, |lasts| at(lasts).displacement.dot(normal));
            if let End::WallEnded(held) = piece.end {
                // It holds up to its end, and this is before it.
                piece.press(held);
            }
            let is_straight = is_reached(target, chord.dot(normal), chord) || !self.drive.steers();
            *piece = Piece { lasts, motion: at(lasts), end: End::Touch(hit), ..*piece };
            // Where a steered path bows, the chord to the instant of a touch may meet another wall first, so it is swept again.
            // Out of sweeps: what is left of the chord was never looked at, so the touch is accepted.
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
}

/// A motion without what the walls in contact do not allow: a belt or a thrust may push where no wish does.
pub(super) fn slid(touched: &Touched, motion: Motion) -> Motion {
    let walls = &touched.walls;
    if walls.is_empty() {
        return motion;
    }
    let (displacement, velocity) = (walls.displacement(motion.displacement), walls.velocity(motion.velocity));
    Motion { displacement, velocity, ..motion }
}

/// The cosine of an angle so small that two normals of one wall belong to a side and to the round beside it.
const SAME_SIDE: f32 = 0.9999;

/// A velocity along a surface leads away from it by less than this part of itself and of the drive's top speed.
const ALMOST_ALONG: f32 = 1e-6;
