//! The walker: a position, a velocity, a footprint and a drive moved through terrain.
//!
//! A tick is played piece by piece. At each instant the walls in contact are constraints on velocity; the drive advances
//! under the allowed wish until a wall is touched, a wall ends or the tick is over, and the mover is set where its path is at
//! that instant. Nothing of this is kept between ticks.

use glam::Vec2;

use super::along_walls::{AlongWalls, AtWalls};
use super::pieces::{End, Piece};
use crate::direction::Angle;
use crate::drive::{Drive, Momentum};
use crate::intent::Intent;
use crate::place::Place;
use crate::shape::{Feature, Footprint};
use crate::terrain::{Exact, Filtered, Hit, Layers, Round, Terrain, Wall, WallFilter};
use crate::time::seconds;
use crate::tolerance::{
    LIES_AGAINST, MOST_AT_ONCE, MOST_PIECES, MOST_SHORT_PIECES, SAME_CONTACT, SHORT_PIECE, STALLED,
};
use crate::travel::{Constraint, Contact, MoveResult, WallConstraints, at_full_speed, slide, way_round};

/// A mover that walks through terrain, one call a tick.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "...#", "...#", "...#", "...#"], &legend)?;
/// let mut gardener =
///     Walker::new(vec2(0.5, 0.5), Footprint::rect(0.5, 0.5)?, Gait::new(3.0, 20.0, 30.0)?);
///
/// let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
/// for _ in 0..90 {
///     let result = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
///     for contact in result.contacts.iter() {
///         assert_eq!(contact.normal, vec2(-1.0, 0.0)); // stopped on one axis...
///     }
/// }
/// assert_eq!(gardener.position.x, 2.75);
/// assert!(gardener.position.y > 3.0); // ...and walking on along the other
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Walker<D> {
    /// Where it is, in world units.
    pub position: Vec2,
    /// Its velocity, in units/s.
    pub velocity: Vec2,
    /// Which way it points, for drives that steer.
    pub heading: Angle,
    /// The ground it covers.
    pub footprint: Footprint,
    /// The rule by which it moves.
    pub drive: D,
    /// The layers whose walls it meets: all of them where nothing else is said.
    pub mask: Layers,
    /// How it goes along walls that it presses on.
    pub along_walls: AlongWalls,
    /// What rounding the position left over, added to the next tick: without it, many short ticks
    /// would drift away from few long ones.
    pub residue: Vec2,
}

impl<D: Drive> Walker<D> {
    /// A walker at rest.
    #[must_use]
    pub const fn new(position: Vec2, footprint: Footprint, drive: D) -> Self {
        Self {
            position,
            velocity: Vec2::ZERO,
            heading: Angle::ZERO,
            footprint,
            drive,
            mask: Layers::ALL,
            along_walls: AlongWalls::PLAIN,
            residue: Vec2::ZERO,
        }
    }

    /// Advances by one tick of `dt` seconds: drives, and slides along the walls it meets.
    ///
    /// Pressing into a wall takes nothing from the acceleration along it. A `dt` that is zero,
    /// negative or not finite moves nothing; a velocity that is not finite counts as zero.
    pub fn tick(&mut self, intent: Intent, dt: f32, terrain: &(impl Terrain + ?Sized)) -> MoveResult {
        self.tick_with(intent, dt, terrain, |_| {})
    }

    /// The same, calling `on_contact` for every contact, in order of time: a result lists only the first
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
    /// pebble.along_walls.at_walls = AtWalls::Bounce { restitution: 1.0, least_speed: 0.1 };
    /// let mut met = 0;
    /// let result = pebble.tick_with(Intent::NONE, 1.0, &bench, |_| met += 1);
    /// assert_eq!((met, result.contacts.len()), (12, 12));
    /// assert!(result.contacts.is_cut_short() && result.contacts.iter().count() == 8);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn tick_with(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        mut on_contact: impl FnMut(&Contact),
    ) -> MoveResult {
        let terrain = &Filtered::new(terrain, self.mask);
        let dt = seconds(dt);
        if dt <= 0.0 {
            return MoveResult::free(self.position, self.velocity);
        }
        // Only of what is finite, nothing is left of nothing times it.
        if self.velocity.dot(Vec2::ZERO) != 0.0 {
            self.velocity = Vec2::ZERO;
        }
        if let Some(motion) = self.free_motion(intent, dt, terrain) {
            // Most ticks of most walkers, with nothing to set up for contacts.
            (self.velocity, self.heading) = (motion.velocity, motion.heading);
            self.moved(|place| place.shift(motion.displacement));
            return MoveResult::free(self.position, self.velocity);
        }
        self.tick_among_walls(intent, dt, terrain, &mut on_contact)
    }

    /// A tick in several pieces.
    #[inline(never)]
    fn tick_among_walls(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        on_contact: &mut dyn FnMut(&Contact),
    ) -> MoveResult {
        let result = MoveResult::free(self.position, self.velocity);
        let touched = Touched::none(&self.drive);
        let mut tick = Tick { intent, dt, left: dt, touched, result, on_contact };
        self.meet_beside(&mut tick, terrain);
        let (mut at_once, mut short) = (0, 0);
        for _ in 0..MOST_PIECES {
            let piece = self.next_piece(intent, tick.left, &mut tick.touched, terrain);
            at_once = if piece.lasts > 0.0 { 0 } else { at_once + 1 };
            short += usize::from(piece.lasts < SHORT_PIECE);
            if at_once > MOST_AT_ONCE || short > MOST_SHORT_PIECES {
                self.slide_on(&mut tick, STALLED, terrain);
                (at_once, short) = (0, 0);
            } else {
                self.play(&mut tick, &piece, terrain);
            }
            if tick.left <= 0.0 {
                break;
            }
        }
        if tick.left > 0.0 {
            self.slide_on(&mut tick, f32::INFINITY, terrain);
        }
        MoveResult { position: self.position, velocity: self.velocity, ..tick.result }
    }

    /// Where pieces get nowhere: slides along the chord of so many seconds, at most to the end of the tick.
    #[inline(never)]
    fn slide_on(&mut self, tick: &mut Tick<'_>, seconds: f32, terrain: &(impl Terrain + ?Sized)) {
        let lasts = seconds.min(tick.left);
        let motion = self.drive.advance(self.momentum(), tick.intent, lasts);
        let rest = slide(terrain, &self.footprint, self.position, motion);
        (self.position, self.velocity, self.heading) = (rest.position, rest.velocity, motion.heading);
        tick.result.remaining = rest.remaining;
        for contact in rest.contacts.iter() {
            let fraction = tick.at(tick.left - lasts * contact.fraction);
            tick.report(Contact { fraction, ..*contact });
        }
        tick.left -= lasts;
        tick.touched = Touched::none(&self.drive);
    }

    /// Moves on by one piece, and does what its end asks for.
    #[inline]
    fn play(&mut self, tick: &mut Tick<'_>, piece: &Piece, terrain: &(impl Terrain + ?Sized)) {
        tick.left -= piece.lasts;
        tick.touched.is_near = false;
        (self.velocity, self.heading) = (piece.motion.velocity, piece.motion.heading);
        let footprint = self.footprint;
        if piece.lasts > 0.0 {
            tick.touched.stays = None;
            tick.touched.apart = if piece.presses_any() { 0.0 } else { tick.touched.apart + piece.lasts };
            self.moved(|place| match piece.rolled {
                Some((exact, _)) => place.set(exact),
                None => place.shift(piece.motion.displacement),
            });
            self.moved(|place| {
                let is_pressed = |wall: &&Constraint| piece.rolled.is_none() && piece.presses(wall.normal);
                for wall in tick.touched.walls.iter().filter(is_pressed) {
                    place.settle(wall.surface(), terrain, &footprint, &WallFilter::ALL);
                }
            });
            // What is not pressed on is met again if it matters.
            tick.touched.walls.retain(|wall| piece.presses(wall.normal));
            if let Some((surface, normal)) = piece.rolled {
                tick.touched.walls.roll(normal.as_vec2(), surface);
            }
        }
        if let End::Touch(hit) = &piece.end {
            // A drive held to an axis is not set off it by the normal of a slanted wall.
            if self.drive.axis().is_none() || hit.normal.x == 0.0 || hit.normal.y == 0.0 {
                self.moved(|place| place.settle(hit.surface(), terrain, &footprint, &WallFilter::ALL));
            }
        }
        match piece.end {
            End::Free => {}
            End::WallEnded(normal) => {
                tick.touched.walls.retain(|wall| wall.normal != normal);
                tick.touched.ended = Some(normal);
                match tick.touched.lead.take() {
                    // Round the corner, on as it came.
                    Some(aside) => self.velocity = normal * -self.velocity.dot(aside).max(0.0),
                    None => self.look_round(normal, tick, terrain),
                }
            }
            End::Left(left) => {
                tick.touched.walls.retain(|wall| wall.wall != left);
                tick.touched.left = Some(left);
            }
            End::Touch(hit) if self.bounces(&hit, tick) => {}
            End::Touch(hit) => {
                let before = self.velocity;
                self.meet(&hit, tick, terrain);
                if self.along_walls.at_walls == AtWalls::Stop {
                    (self.velocity, tick.left) = (Vec2::ZERO, 0.0);
                }
                self.lead(before, &hit, tick, terrain);
            }
        }
    }

    /// Bounces off a wall, if it is to and fast enough.
    fn bounces(&mut self, hit: &Hit, tick: &mut Tick<'_>) -> bool {
        let AtWalls::Bounce { restitution, least_speed } = self.along_walls.at_walls else { return false };
        let (before, inward) = (self.velocity, -self.velocity.dot(hit.normal));
        if inward <= least_speed.max(0.0) {
            return false;
        }
        self.velocity += hit.normal * (inward * (1.0 + restitution));
        tick.report(Contact::new(hit, tick.at(tick.left), before, self.velocity));
        true
    }

    /// Adds a wall to those in contact, and loses the velocity that they do not allow.
    fn meet(&mut self, hit: &Hit, tick: &mut Tick<'_>, terrain: &(impl Terrain + ?Sized)) {
        let round = self.round_met(hit, terrain);
        let hit = &self.here_on(round.as_ref(), hit);
        let before = self.velocity;
        // A hop off the wall that is lower than what counts as straight is none.
        let outward = tick.touched.walls.displacement(before + self.drive.ground()).dot(hit.normal);
        tick.touched.add(hit, round);
        let hops = outward > 0.0 && !self.drive.steers();
        let slid = tick.touched.walls.velocity(if hops { before - hit.normal * outward } else { before });
        self.velocity = if self.along_walls.full_speed { at_full_speed(before, slid) } else { slid };
        let contact = Contact::new(hit, tick.at(tick.left), before, self.velocity);
        let over_ground = before + self.drive.ground();
        let has_left = tick.touched.left == Some(hit.wall);
        let comes_back = has_left && -over_ground.dot(hit.normal) <= COMES_BACK * before.length();
        let is_along =
            comes_back || tick.touched.apart < SAME_TOUCH || !self.leaves(-hit.normal, over_ground);
        tick.touched.apart = 0.0;
        if comes_back {
            tick.touched.stays = Some(hit.wall);
        }
        if !tick.goes_on(&contact, is_along) {
            tick.report(contact);
        }
    }

    /// Where corner help is asked for and the wall ends nearby, turns to go round it; `before` is the velocity at the touch.
    fn lead(&mut self, before: Vec2, hit: &Hit, tick: &mut Tick<'_>, terrain: &(impl Terrain + ?Sized)) {
        let reach = self.along_walls.corner_help;
        if reach <= 0.0 || self.drive.steers() {
            return;
        }
        let wish = tick.intent.vector();
        let round = way_round(terrain, &self.footprint, self.position, wish, hit.normal, reach);
        let aside = round.unwrap_or_default().normalize_or_zero();
        if aside != Vec2::ZERO {
            // Into the wall and along it, but not away from the way round.
            let (inward, along) = (before.dot(hit.normal).min(0.0), before.dot(aside).max(0.0));
            self.velocity = aside * libm::hypotf(inward, along);
            tick.touched.lead = Some(aside);
        }
    }

    /// The walls that hold the mover already: what presses on one at the start of a tick may have turned away from it at the end,
    /// and in a short tick the chord may not lead into a wall by more than what only grazes.
    fn meet_beside(&mut self, tick: &mut Tick<'_>, terrain: &(impl Terrain + ?Sized)) {
        if self.drive.axis().is_some() || !self.drive.pushes() && terrain.is_flat_to(&self.footprint) {
            return;
        }
        // Who moves is pressed across its way, who stands any way: at most against two walls.
        for _ in 0..2 {
            let over_ground = tick.touched.walls.displacement(self.velocity + self.drive.ground());
            let from = self.momentum();
            let pull = tick.touched.walls.displacement(self.drive.acceleration_of(from, tick.intent));
            let across = over_ground.perp().normalize_or_zero();
            let press = if across == Vec2::ZERO { pull } else { across * pull.dot(across) };
            let probe = press.normalize_or_zero() * LIES_AGAINST;
            if probe == Vec2::ZERO {
                return;
            }
            let Some(hit) = terrain.sweep(&self.footprint, self.position, probe, &WallFilter::ALL) else {
                return;
            };
            let here = self.here_on(self.round_met(&hit, terrain).as_ref(), &hit);
            if !(hit.exact.feature == Feature::Round || self.drive.pushes())
                || self.gap(&hit) != 0.0
                || self.leaves(here.normal, over_ground)
                || self.has_left(from, tick.intent, &hit, &tick.touched, terrain)
            {
                return;
            }
            self.meet(&hit, tick, terrain);
        }
    }

    /// Where a flat side ends, looks for the round that begins there.
    fn look_round(&self, normal: Vec2, tick: &mut Tick<'_>, terrain: &(impl Terrain + ?Sized)) {
        let ahead = self.velocity.normalize_or_zero() * LIES_AGAINST;
        let found =
            terrain.sweep(&self.footprint, self.position + ahead, normal * -LIES_AGAINST, &WallFilter::ALL);
        let Some(hit) = found else { return };
        if let Some(round) = self.round_met(&hit, terrain) {
            let here = Hit { normal, exact: Exact { position: self.place().exact(), ..hit.exact }, ..hit };
            tick.touched.add(&here, Some(round));
        }
    }

    /// Velocity and heading together.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading }
    }

    /// Position and residue together.
    pub(super) const fn place(&self) -> Place {
        Place { position: self.position, residue: self.residue }
    }

    fn moved(&mut self, change: impl FnOnce(&mut Place)) {
        let mut place = self.place();
        change(&mut place);
        (self.position, self.residue) = (place.position, place.residue);
    }
}

/// What a mover is in contact with, and the way round the end of a wall where it is led there.
#[derive(Debug)]
pub(super) struct Touched {
    /// Whether walls are known to be near the whole rest of the tick.
    pub(super) is_near: bool,
    pub(super) walls: WallConstraints,
    pub(super) lead: Option<Vec2>,
    /// For how long nothing was touched, in seconds.
    apart: f32,
    /// The wall that the drive led away from last in this tick.
    left: Option<Wall>,
    /// The one that it came back to at once: what it does on the wall and what it does off it would take turns without end, so
    /// it stays for a while.
    pub(super) stays: Option<Wall>,
    /// The normal of the flat wall that ended last in this tick: it is not pressed on there, though rounding may still call it
    /// touched.
    pub(super) ended: Option<Vec2>,
    /// The rounds of the walls in contact that were met last; more than two hold nobody.
    rounds: [Option<Round>; 2],
}

impl Touched {
    /// Nothing yet, for a mover with this drive.
    fn none(drive: &impl Drive) -> Self {
        Self {
            is_near: true,
            walls: WallConstraints::none(drive.ground(), drive.axis()),
            lead: None,
            apart: f32::INFINITY,
            left: None,
            stays: None,
            ended: None,
            rounds: [None; 2],
        }
    }
}

impl Touched {
    /// Adds a wall, with its round if it is round there.
    fn add(&mut self, hit: &Hit, round: Option<Round>) {
        self.walls.add(hit);
        if let Some(round) = round {
            let known = |known: &Option<Round>| known.is_none_or(|known| known.belongs_to(hit.wall));
            let place = self.rounds.iter().position(known).unwrap_or_else(|| {
                self.rounds.swap(0, 1);
                1
            });
            self.rounds[place] = Some(round);
        }
    }

    /// The round of a wall in contact, if it is round.
    pub(super) fn round(&self, wall: &Constraint) -> Option<&Round> {
        self.rounds.iter().flatten().filter(|_| wall.is_round).find(|round| round.belongs_to(wall.wall))
    }
}

/// A tick that is being played.
struct Tick<'a> {
    intent: Intent,
    dt: f32,
    /// How much of it is still to be played, in seconds.
    left: f32,
    touched: Touched,
    result: MoveResult,
    on_contact: &'a mut dyn FnMut(&Contact),
}

impl Tick<'_> {
    /// The instant with so many seconds left, as a fraction of the tick.
    fn at(&self, left: f32) -> f32 {
        1.0 - left / self.dt
    }

    fn report(&mut self, contact: Contact) {
        (self.on_contact)(&contact);
        self.result.contacts.push(contact);
    }

    /// Whether a contact is one of this tick that goes on: the mover comes to the same surface again with no
    /// speed into it.
    /// A round wall is followed in short steps and met again with the little speed that a step leaves.
    fn goes_on(&self, contact: &Contact, is_along: bool) -> bool {
        let Some(last) = self.result.contacts.last() else { return false };
        let same = |known: &Contact| known.normal.dot(contact.normal) > SAME_CONTACT;
        if last.wall == contact.wall && same(last) {
            return is_along
                || -contact.velocity_before.dot(contact.normal)
                    <= contact.velocity_before.length() * (1.0 - SAME_CONTACT);
        }
        let rests =
            contact.velocity_before.dot(contact.normal) >= -ALMOST_ALONG * contact.velocity_before.length();
        rests && self.result.contacts.iter().any(same)
    }
}

/// A wall that was left for less than this is the same contact, in seconds.
const SAME_TOUCH: f32 = 1e-3;

/// A mover that was led away from a wall has not left it if it comes back with less than this part of its speed into it.
const COMES_BACK: f32 = 0.01;

/// A mover that comes to a wall with less than this part of its speed into it lay against it before.
const ALMOST_ALONG: f32 = 1e-5;
