//! A walker's tick.
//!
//! A tick is played in pieces. At each instant, the walls in contact are constraints on velocity. The drive advances
//! under the allowed intent until a wall is touched, a wall ends or the tick is over, and the mover is placed where
//! its path is at that instant. Nothing of this is kept between ticks.

use glam::Vec2;

use super::along_walls::AtWalls;
use super::effort::Effort;
use super::framed::Framed;
use super::mover::Mover;
use super::path::Path;
use super::piece::{End, Piece};
use super::state::Walker;
use super::touched::Touched;
use crate::drive::{Drive, Surface};
use crate::intent::Intent;
use crate::terrain::{Filtered, Terrain, Wall, WallFilter};
use crate::time::seconds;
use crate::tolerance::{
    LAY_AGAINST, MOST_AT_ONCE, MOST_PIECES, MOST_PIECES_OF_PATH, MOST_SHORT_PIECES, SAME_CONTACT,
    SHORT_PIECE, STALLED, TICK_IS_OVER,
};
use crate::travel::{Contact, MoveResult, Response, resolve, slide};

impl<D: Drive> Walker<D> {
    /// Advances by one tick of `dt` seconds and slides along walls.
    ///
    /// Pressing into a wall does not slow the motion along it. A `dt` that is zero, negative or not finite moves
    /// nothing; a velocity that is not finite counts as zero.
    pub fn tick(&mut self, intent: Intent, dt: f32, terrain: &(impl Terrain + ?Sized)) -> MoveResult {
        self.tick_with(intent, dt, terrain, |_| {})
    }

    /// The same; calls `on_contact` for every contact, in order of time. The result lists only the first
    /// [`MAX_CONTACTS`](crate::travel::MAX_CONTACTS).
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::drive::Pace;
    /// use ambulant::walker::AtWalls;
    ///
    /// // Twelve times from side to side of a narrow bench in one long tick.
    /// let bench = TileGrid::from_rows(&["."], &Legend::new().with('.', TileKind::floor("bench")))?;
    /// let mut pebble = Walker::new(vec2(0.5, 0.5), Footprint::circle(0.1)?, Gait::new(9.0, 0.01, 0.01)?);
    /// pebble.velocity = vec2(9.6, 0.0);
    /// pebble.along_walls.at_walls = AtWalls::bounce(1.0, 0.1)?;
    /// let mut met = 0;
    /// let result = pebble.tick_with(Intent::NONE, 1.0, &bench, |_| met += 1);
    /// assert_eq!((met, result.contacts.total(), result.contacts.len()), (12, 12, 8));
    /// assert!(result.contacts.is_cut_short());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn tick_with(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        mut on_contact: impl FnMut(&Contact),
    ) -> MoveResult {
        let own_wall = self.own_wall;
        let dt = seconds(dt);
        let filter = WallFilter::on(self.mask).except(own_wall.as_slice()).during(0.0, dt);
        if dt <= 0.0 {
            return MoveResult::free(self.position, self.velocity, dt);
        }
        // Zero times something finite is zero.
        if self.velocity.dot(Vec2::ZERO) != 0.0 {
            self.velocity = Vec2::ZERO;
        }
        if let Some(hover) = self.hover {
            return self.tick_hovering(hover, (intent, dt), &terrain, None, &mut on_contact);
        }
        let on = terrain.has_surfaces().then(|| self.surface(terrain));
        let free = match &on {
            None => self.free_motion(intent, dt, &Surface::PLAIN, terrain, &filter),
            Some(on) => self.free_motion_on(intent, dt, on, terrain, &filter),
        };
        if let Some(motion) = free {
            // The most common tick: nothing to set up for contacts.
            self.set_momentum(motion.momentum());
            let mut place = self.place();
            place.shift(motion.exact_displacement());
            (self.position, self.rounding) = place.parts();
            return MoveResult::free(self.position, self.velocity, dt);
        }
        self.tick_in_pieces(intent, dt, on, &Filtered::new(terrain, filter), None, &mut on_contact)
    }

    /// The same as [`tick`](Self::tick); fills `path` with where the walker was at each instant, for
    /// [`World::follow`](crate::terrain::World::follow). Curves are divided for it, so the tick costs more.
    pub fn tick_with_path(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        path: &mut Path,
    ) -> MoveResult {
        let dt = seconds(dt);
        path.begin(self.exact_position(), self.velocity);
        if dt <= 0.0 {
            return MoveResult::free(self.position, self.velocity, dt);
        }
        if self.velocity.dot(Vec2::ZERO) != 0.0 {
            self.velocity = Vec2::ZERO;
        }
        if let Some(hover) = self.hover {
            return self.tick_hovering(hover, (intent, dt), &terrain, Some(path), &mut |_| {});
        }
        let result = self.tick_on_path(intent, dt, terrain, path, 0.0);
        path.end_at(dt, self.exact_position());
        result
    }

    /// A tick whose path is added to one, from some time on.
    pub(super) fn tick_on_path(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        path: &mut Path,
        since: f64,
    ) -> MoveResult {
        let own_wall = self.own_wall;
        let filter = WallFilter::on(self.mask).except(own_wall.as_slice()).during(0.0, dt);
        let on = terrain.has_surfaces().then(|| self.surface(terrain));
        path.count_from(since);
        self.tick_in_pieces(intent, dt, on, &Filtered::new(terrain, filter), Some(path), &mut |_| {})
    }

    /// A tick among walls, or over a border between surfaces.
    #[inline(never)]
    fn tick_in_pieces(
        &mut self,
        intent: Intent,
        dt: f32,
        on: Option<Surface>,
        terrain: &dyn Terrain,
        path: Option<&mut Path>,
        on_contact: &mut dyn FnMut(&Contact),
    ) -> MoveResult {
        let mut result = MoveResult::free(self.position, self.velocity, dt);
        let mut mover = Mover::of(self, on);
        mover.tick(intent, dt, terrain, path, &mut result, on_contact);
        let (position, rounding) = mover.place().parts();
        let momentum = mover.momentum();
        (self.position, self.rounding) = (position, rounding);
        self.set_momentum(momentum);
        (result.position, result.velocity) = (position, momentum.velocity);
        result
    }
}

impl Mover<'_> {
    /// A tick in several pieces.
    fn tick(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &dyn Terrain,
        path: Option<&mut Path>,
        result: &mut MoveResult,
        on_contact: &mut dyn FnMut(&Contact),
    ) {
        let most = if path.is_some() { MOST_PIECES_OF_PATH } else { MOST_PIECES };
        let (intent, mut touched) = (self.drive.heeded(intent), Touched::none(&self.drive));
        touched.effort = Effort::of(most);
        let mut tick = Tick {
            intent,
            dt,
            remaining: dt,
            touched,
            at_once: 0,
            short: 0,
            squeezing: None,
            rattles: 0,
            meets_moving: false,
            last_moving: None,
            path,
            velocity_then: None,
            straight: f32::INFINITY,
            result,
            on_contact,
        };
        if self.has_surfaces {
            self.find_border(intent, &mut tick.touched, terrain);
        }
        self.has_moving_walls = terrain.has_moving_walls();
        let beside_moving = self.has_moving_walls && self.is_beside_moving(terrain);
        if beside_moving {
            self.leave_moving_wall(&mut tick, terrain, (Vec2::ZERO, 0.0));
            self.find_carriers(&mut tick, terrain);
            // A floor holds what falls on it from a carrier at the velocity that the carrier has.
            self.ride(&mut tick);
        }
        self.meet_beside(&mut tick, beside_moving, terrain);
        for _ in 0..most {
            let is_mixed = tick.touched.border.is_some() && !tick.touched.walls.is_empty();
            let remaining = if is_mixed {
                self.mix_surfaces(intent, tick.remaining, &mut tick.touched)
            } else {
                tick.remaining
            };
            tick.meets_moving |= tick.touched.walls.has_moving()
                || tick.touched.moving_border().is_some()
                || tick.touched.carriers_steady < tick.remaining
                || tick.squeezing.is_some();
            let goes_on = if tick.meets_moving {
                self.step_among_moving(&mut tick, remaining, terrain)
            } else {
                let piece = self.next_piece_in(&mut tick, remaining, terrain);
                self.play_or_slide(&mut tick, &piece, terrain)
            };
            if goes_on && is_mixed {
                self.stay_on_border(intent, &mut tick.touched, terrain);
            }
            if let Some(path) = &mut tick.path {
                path.add(self.now, self.place().exact(), tick.velocity_then.take());
            }
            // What rounding leaves of a tick is none of it: a wall may stand from its end on.
            if tick.remaining <= dt * TICK_IS_OVER {
                tick.remaining = 0.0;
            }
            if tick.remaining <= 0.0 || tick.touched.effort.is_exhausted() {
                break;
            }
        }
        if tick.remaining > 0.0 {
            self.slide_on(&mut tick, f32::INFINITY, terrain);
        }
        if let Some(path) = &mut tick.path {
            path.add(self.now, self.place().exact(), tick.velocity_then.take());
        }
        if let Some(by) = tick.last_moving.filter(|_| tick.result.squeezed.is_none()) {
            self.report_overlap(by, &mut tick, terrain);
        }
        if tick.meets_moving {
            self.leave_standing_walls(terrain);
        }
    }

    /// Plays a piece. If pieces get nowhere, slides on instead for a while and returns `false`.
    #[inline]
    pub(super) fn play_or_slide(
        &mut self,
        tick: &mut Tick<'_>,
        piece: &Piece,
        terrain: &dyn Terrain,
    ) -> bool {
        tick.at_once = if piece.lasts > 0.0 { 0 } else { tick.at_once + 1 };
        tick.short += usize::from(piece.lasts < SHORT_PIECE);
        let goes_on = tick.at_once <= MOST_AT_ONCE && tick.short <= MOST_SHORT_PIECES;
        if goes_on {
            self.play(tick, piece, terrain);
        } else {
            self.slide_on(tick, STALLED, terrain);
            (tick.at_once, tick.short) = (0, 0);
        }
        goes_on
    }

    /// If pieces get nowhere: slides along the chord of so many seconds, at most to the end of the tick.
    #[inline(never)]
    fn slide_on(&mut self, tick: &mut Tick<'_>, seconds: f32, terrain: &dyn Terrain) {
        let lasts = seconds.min(tick.remaining);
        tick.result.stalled += lasts;
        tick.velocity_then = None;
        // As seen from the wall that pushes most, which must not pass the mover.
        self.see_from(tick.touched.walls.fastest(), &mut tick.touched);
        let (world, seen) = (terrain, &Framed { terrain, frame: self.drive.frame() });
        let terrain: &dyn Terrain = if self.drive.frame() == Vec2::ZERO { terrain } else { seen };
        let motion = self.drive.advance(self.momentum(), tick.intent, lasts);
        let (from, walls) = (self.position, self.walls_for(lasts));
        let rest = match self.drive.axis() {
            Some(_) => resolve(terrain, self.footprint, from, motion, &walls, |_| Response::Stop),
            None => slide(terrain, self.footprint, from, motion, &walls),
        };
        self.position =
            self.drive.axis().map_or(rest.position, |axis| from + axis.only(rest.position - from));
        (self.velocity, self.heading) = (rest.velocity, motion.heading);
        let surface = self.surface_here(terrain);
        self.stand_on(surface, &mut tick.touched);
        tick.result.remaining = rest.remaining;
        for contact in rest.contacts.iter() {
            // A displacement counts as one second there.
            let seconds = tick.at(tick.remaining - lasts * contact.seconds);
            tick.report(Contact { seconds, ..*contact });
        }
        self.move_on(lasts, tick);
        if tick.meets_moving {
            // A chord knows no time.
            self.leave_standing_walls(world);
        }
        self.see_from(Vec2::ZERO, &mut tick.touched);
        tick.touched = tick.touched.after_slide(&self.drive);
    }

    /// Moves by one piece and does what its end requires.
    #[inline]
    fn play(&mut self, tick: &mut Tick<'_>, piece: &Piece, terrain: &dyn Terrain) {
        tick.touched.is_near = false;
        // Of this piece only: the mover may come back to the wall in the next one.
        let grazed = tick.touched.grazed.take();
        // What walls leave of a velocity at an instant is found when all of them are known.
        let momentum = if piece.lasts > 0.0 {
            piece.motion.momentum()
        } else {
            self.drive.momentum_after(self.momentum(), tick.intent, 0.0)
        };
        self.set_momentum(momentum);
        if piece.lasts > 0.0 {
            tick.touched.pass_time();
            self.moved(|place| match piece.rolled {
                Some((exact, _)) => place.set(exact),
                None => place.shift(piece.motion.exact_displacement()),
            });
            // A wall that is not pressed on is found again if it matters.
            tick.touched.walls.retain(|wall| piece.presses(wall.normal) || piece.ends_at(wall.normal));
            let is_apart = tick.touched.walls.is_empty();
            tick.touched.apart = if is_apart { tick.touched.apart + piece.lasts } else { 0.0 };
            if tick.meets_moving {
                tick.result.pushed += self.pushed(&tick.touched.walls, piece);
            }
            if let Some((surface, normal)) = piece.rolled {
                tick.touched.walls.roll(normal.as_vec2(), surface);
            }
            if tick.path.is_some() {
                let moves = tick.touched.walls.displacement(self.velocity + self.drive.ground());
                tick.velocity_then = Some(moves + self.drive.frame());
            }
            self.move_on(piece.lasts, tick);
            if let Some((normal, surface, velocity)) = grazed {
                let surface = surface + velocity.as_dvec2() * f64::from(piece.lasts);
                if self.place().depth(normal, surface) > 0.0 {
                    self.settle((normal, surface), terrain);
                }
            }
            if piece.rolled.is_none() {
                let before = self.place();
                tick.touched.walls.iter().for_each(|wall| self.settle(wall.surface(), terrain));
                if tick.meets_moving {
                    self.count_push(before, tick);
                }
            }
        }
        let mut end = piece.end;
        if let End::Touch(hit) = &mut end {
            if hit.steady.is_finite() || self.drive.frame() != Vec2::ZERO {
                *hit = self.hit_in_world(hit, piece.lasts);
            }
        }
        if let End::Touch(hit) = &end {
            // A touch that takes no time moves nothing: what is still pressed on after the next piece sets the mover against it.
            if piece.lasts > 0.0 {
                self.settle(hit.surface(), terrain);
            }
            if hit.velocity != Vec2::ZERO {
                (tick.meets_moving, tick.last_moving) = (true, Some(hit.wall));
            }
            if tick.meets_moving && self.drive.axis().is_none() {
                self.see_from(hit.velocity, &mut tick.touched);
            }
        }
        match end {
            End::Free => {}
            End::Border => self.cross(tick.intent, &mut tick.touched, terrain),
            End::LeftBorder => self.leave_border(tick.intent, &mut tick.touched, terrain),
            End::WallEnded(normal) => {
                let moves = self.moves_past(normal, &tick.touched);
                tick.touched.walls.retain(|wall| wall.normal != normal);
                tick.touched.ended = Some(normal);
                match tick.touched.lead.take() {
                    // Round the corner, on in its direction.
                    Some(aside) => self.velocity = normal * -self.velocity.dot(aside).max(0.0),
                    None => self.look_round(normal, moves, tick, terrain),
                }
            }
            End::Left(wall) => {
                tick.touched.walls.retain(|known| known.wall != wall);
                tick.touched.left_wall = Some(wall);
            }
            End::Touch(hit) if self.bounces(&hit, piece.lasts, tick) => {}
            End::Touch(hit) => {
                if tick.touched.border.is_some() {
                    self.stand_between(tick.intent, &mut tick.touched);
                }
                let before = self.velocity;
                self.meet(&hit, tick, terrain);
                if self.along_walls.at_walls == AtWalls::Stop {
                    self.velocity = Vec2::ZERO;
                    if hit.velocity == Vec2::ZERO {
                        tick.remaining = 0.0;
                    }
                }
                self.lead(before, &hit, tick, terrain);
            }
        }
    }
}

/// A tick that is being played.
pub(super) struct Tick<'a> {
    pub(super) intent: Intent,
    pub(super) dt: f32,
    /// What is left of it, in seconds.
    pub(super) remaining: f32,
    pub(super) touched: Touched,
    /// How many pieces took no time, one after the other.
    at_once: usize,
    /// How many pieces were very short.
    short: usize,
    /// How many bounces followed each other at once.
    pub(super) rattles: usize,
    /// A moving wall that squeezes the mover, which overlaps it for the rest of the tick.
    pub(super) squeezing: Option<Wall>,
    /// Whether a wall that moves was met.
    pub(super) meets_moving: bool,
    /// The last wall that moves and was met.
    last_moving: Option<Wall>,
    /// The path, if it is asked for.
    pub(super) path: Option<&'a mut Path>,
    /// The velocity over the ground at the end of the last piece.
    velocity_then: Option<Vec2>,
    /// How long its last piece could be, in seconds.
    pub(super) straight: f32,
    pub(super) result: &'a mut MoveResult,
    on_contact: &'a mut dyn FnMut(&Contact),
}

impl Tick<'_> {
    /// The instant with so many seconds left, in seconds into the tick.
    pub(super) fn at(&self, remaining: f32) -> f32 {
        self.dt - remaining
    }

    /// Reports that the mover was moved out of a wall.
    pub(super) fn moved_out(&mut self, by: Vec2) {
        self.result.moved_out += by;
    }

    pub(super) fn report(&mut self, contact: Contact) {
        (self.on_contact)(&contact);
        self.result.contacts.push(contact);
    }

    /// Whether a contact continues one of this tick: the mover comes to the same surface again with no speed into it.
    /// A round wall is followed in short steps and met again with the little speed that a step leaves.
    pub(super) fn goes_on(&self, contact: &Contact, is_along: bool) -> bool {
        let Some(last) = self.result.contacts.last() else { return false };
        let same = |known: &Contact| known.normal.dot(contact.normal) > SAME_CONTACT;
        if last.wall == contact.wall && same(last) {
            return is_along
                || -contact.velocity_before.dot(contact.normal)
                    <= contact.velocity_before.length() * (1.0 - SAME_CONTACT);
        }
        let rests =
            contact.velocity_before.dot(contact.normal) >= -LAY_AGAINST * contact.velocity_before.length();
        rests && self.result.contacts.iter().any(same)
    }
}
