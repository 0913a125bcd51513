//! The walker: a position, a velocity, a footprint and a drive carried through terrain.

use glam::Vec2;

use super::along_walls::{AlongWalls, AtWalls};
use super::division::{bow, instant, is_reached, is_straight};
use super::held::Held;
use crate::drive::{Drive, Momentum, Motion, seconds};
use crate::intent::{Angle, Intent};
use crate::shape::Footprint;
use crate::terrain::{Hit, Layers, Minded, Minds, Terrain};
use crate::tolerance::CURVES_AWAY;
use crate::travel::{Contact, MAX_CONTACTS, Passage, at_pace, slide, way_round};

/// Into how many pieces a tick is cut at most to follow a curved path along walls.
const FINEST: f32 = 1.0 / 256.0;

/// A wall met again in the same tick is the same contact while its normals lie within 25 degrees.
const SAME_CONTACT: f32 = 0.9;

/// How often a chord is swept again on the way to one touch.
const MOST_SWEEPS: usize = 8;

/// So many pieces in a row may last no time: two walls touched at once, and one of them again.
const MOST_STANDSTILLS: usize = 6;

/// After so many pieces the rest of a tick is slid along its chord.
const MOST_PIECES: usize = 1024;

/// A mover that walks through terrain, one call a tick.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", "...#", "...#", "...#", "...#"], &legend)?;
/// let mut gardener =
///     Walker::new(vec2(0.5, 0.5), Footprint::boxed(0.5, 0.5)?, Gait::new(3.0, 20.0, 30.0)?);
///
/// let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
/// for _ in 0..90 {
///     let passage = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
///     for contact in passage.contacts.iter() {
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
    pub minds: Layers,
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
            minds: Layers::ALL,
            along_walls: AlongWalls::PLAIN,
            residue: Vec2::ZERO,
        }
    }

    /// Advances by one tick of `dt` seconds: drives, and slides along the walls it meets.
    ///
    /// Pressing into a wall takes nothing from the acceleration along it. A `dt` that is zero,
    /// negative or not finite moves nothing.
    pub fn tick(&mut self, intent: Intent, dt: f32, terrain: &(impl Terrain + ?Sized)) -> Passage {
        let terrain = &Minded::new(terrain, self.minds);
        let (dt, held) = (seconds(dt), Held::none(self.drive.ground()));
        if dt <= 0.0 {
            return Passage::free(self.position, self.velocity);
        }
        let first = self.next_piece(intent, dt, dt * FINEST, &held, terrain);
        if matches!(first.end, End::Free) && first.lasts >= dt {
            // Most ticks of most walkers, with nothing to set up for contacts.
            (self.velocity, self.heading) = (first.motion.velocity, first.motion.heading);
            self.shift(first.motion.displacement);
            return Passage::free(self.position, self.velocity);
        }
        self.tick_among_walls(intent, dt, first, held, terrain)
    }

    /// A tick in several pieces.
    #[inline(never)]
    fn tick_among_walls(
        &mut self,
        intent: Intent,
        dt: f32,
        first: Piece,
        mut held: Held,
        terrain: &(impl Terrain + ?Sized),
    ) -> Passage {
        let (mut left, mut first) = (dt, Some(first));
        let mut standstills = 0;
        let mut passage = Passage::free(self.position, self.velocity);
        for _ in 0..MOST_PIECES {
            if left <= 0.0 {
                break;
            }
            let piece =
                first.take().unwrap_or_else(|| self.next_piece(intent, left, dt * FINEST, &held, terrain));
            standstills = if piece.lasts > 0.0 { 0 } else { standstills + 1 };
            if standstills > MOST_STANDSTILLS {
                break;
            }
            left -= piece.lasts;
            self.velocity = piece.motion.velocity;
            self.heading = piece.motion.heading;
            match piece.end {
                End::Free => {
                    self.shift(piece.motion.displacement);
                    // So that the next piece starts against the wall and not a hair away from it.
                    if let Some(normal) = piece.pressed {
                        self.follow(normal, &mut held, terrain);
                    }
                }
                End::Lost(normal) => {
                    self.shift(piece.motion.displacement);
                    held.let_go(normal);
                    match held.end_lead() {
                        // Round the corner, on as it came.
                        Some(aside) => self.velocity = normal * -self.velocity.dot(aside).max(0.0),
                        None => self.follow(normal, &mut held, terrain),
                    }
                }
                End::Touch(hit) if self.bounces(&hit, 1.0 - left / dt, &mut passage, terrain) => {}
                End::Touch(hit) => {
                    self.meet(&hit, 1.0 - left / dt, &mut held, &mut passage, terrain);
                    if self.along_walls.at_walls == AtWalls::Stop {
                        self.velocity = Vec2::ZERO;
                        left = 0.0;
                    }
                    self.lead(intent, &hit, passage.contacts.iter().last(), &mut held, terrain);
                }
            }
        }
        if left > 0.0 {
            let motion = self.drive.advance(self.momentum(), intent, left);
            let rest = slide(terrain, &self.footprint, self.position, motion);
            (self.position, self.velocity, self.heading) = (rest.position, rest.velocity, motion.heading);
            rest.contacts.iter().for_each(|contact| passage.contacts.push(*contact));
        }
        passage.position = self.position;
        passage.velocity = self.velocity;
        passage
    }

    /// Bounces off a wall, if it is to and fast enough.
    fn bounces(
        &mut self,
        hit: &Hit,
        fraction: f32,
        passage: &mut Passage,
        terrain: &(impl Terrain + ?Sized),
    ) -> bool {
        let AtWalls::Bounce { restitution, least_speed } = self.along_walls.at_walls else { return false };
        let inward = -self.velocity.dot(hit.normal);
        if inward <= least_speed.max(0.0) || passage.contacts.len() >= MAX_CONTACTS {
            return false;
        }
        let kept = self.velocity + hit.normal * (inward * (1.0 + restitution));
        passage.contacts.push(Contact::new(hit, fraction, self.velocity, kept));
        self.position = hit.settled(terrain, &self.footprint, self.position, &Minds::ALL);
        self.residue = Vec2::select(hit.normal.cmpeq(Vec2::ZERO), self.residue, Vec2::ZERO);
        self.velocity = kept;
        true
    }

    /// Comes to lie against a wall and loses the velocity that leads into it.
    fn meet(
        &mut self,
        hit: &Hit,
        fraction: f32,
        held: &mut Held,
        passage: &mut Passage,
        terrain: &(impl Terrain + ?Sized),
    ) {
        held.hold(hit.normal);
        let slid = held.velocity(self.velocity);
        let kept = if self.along_walls.full_pace { at_pace(self.velocity, slid) } else { slid };
        let contact = Contact::new(hit, fraction, self.velocity, kept);
        let gap = (self.position - hit.position).dot(hit.normal);
        self.position = hit.settled(terrain, &self.footprint, self.position, &Minds::ALL);
        self.residue = Vec2::select(hit.normal.cmpeq(Vec2::ZERO), self.residue, Vec2::ZERO);
        self.velocity = kept;
        // A round wall is followed in short steps: meeting it again from nearby is the same contact.
        let again = gap <= CURVES_AWAY
            && passage.contacts.iter().last().is_some_and(|last| {
                last.wall == contact.wall && last.normal.dot(contact.normal) > SAME_CONTACT
            });
        if !again {
            passage.contacts.push(contact);
        }
    }

    /// Where corner help is asked for and the wall ends nearby, turns to go round it.
    fn lead(
        &mut self,
        intent: Intent,
        hit: &Hit,
        contact: Option<&Contact>,
        held: &mut Held,
        terrain: &(impl Terrain + ?Sized),
    ) {
        let reach = self.along_walls.corner_help;
        if reach <= 0.0 || self.drive.steers() {
            return;
        }
        let round = way_round(terrain, &self.footprint, self.position, intent.vector(), hit.normal, reach);
        let aside = round.unwrap_or_default().normalize_or_zero();
        if aside != Vec2::ZERO {
            let before = contact.map_or(self.velocity, |contact| contact.before);
            // Into the wall and along it, but not away from the way round.
            let (inward, along) = (before.dot(hit.normal).min(0.0), before.dot(aside).max(0.0));
            let toward = libm::hypotf(inward, along);
            self.velocity = aside * toward;
            held.lead(aside);
        }
    }

    /// Where a wall that was pressed on only curves away, goes on along the curve: against the wall
    /// again, the velocity turned with it.
    fn follow(&mut self, normal: Vec2, held: &mut Held, terrain: &(impl Terrain + ?Sized)) {
        let Some(hit) = terrain.sweep(&self.footprint, self.position, normal * -CURVES_AWAY, &Minds::ALL)
        else {
            return;
        };
        if hit.normal.dot(normal) < SAME_CONTACT || hit.normal == normal {
            return;
        }
        // Turned as the wall turns: what already leads away from it stays, and so does the speed.
        let turn = Vec2::new(normal.dot(hit.normal), normal.perp_dot(hit.normal));
        self.velocity = turn.rotate(self.velocity);
        self.position = hit.settled(terrain, &self.footprint, self.position, &Minds::ALL);
        held.hold(hit.normal);
    }

    /// Velocity and heading together.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading }
    }

    /// The longest stretch of the tick from here on in which nothing changes.
    fn next_piece(
        &self,
        intent: Intent,
        left: f32,
        finest: f32,
        held: &Held,
        terrain: &(impl Terrain + ?Sized),
    ) -> Piece {
        // A steered drive keeps its intent and loses what comes of it; for the others both are one.
        let steers = self.drive.steers();
        let wish = if steers { intent } else { self.wish(intent, held) };
        let from = Momentum { velocity: held.velocity(self.velocity), ..self.momentum() };
        let driven = |lasts: f32| self.drive.advance(from, wish, lasts);
        let at = |lasts: f32| held.slid(driven(lasts));
        let Straight { lasts, motion: straight, is_clear } =
            self.straight_piece(left, finest, from, wish, held, terrain);
        let mut piece = Piece { lasts, motion: held.slid(straight), end: End::Free, pressed: None };
        if is_clear && held.is_empty() {
            return piece;
        }

        // A wall is pressed on when without it the mover would go in; only then its end matters.
        let unhindered =
            if held.is_empty() || steers { straight } else { self.drive.advance(from, intent, lasts) };
        let unhindered = unhindered.displacement;
        for normal in held.iter().filter(|normal| unhindered.dot(*normal) < 0.0) {
            let whole = piece.motion.displacement;
            let course = whole.normalize_or_zero();
            let fraction = terrain.support(&self.footprint, self.position, whole, normal, &Minds::ALL);
            if fraction < 1.0 {
                let target = -whole.length() * fraction;
                let lasts = instant(piece.lasts, target, whole, |lasts| -at(lasts).displacement.dot(course));
                piece = Piece { lasts, motion: at(lasts), end: End::Lost(normal), pressed: None };
            } else {
                piece.pressed = Some(normal);
            }
        }
        // The chord to the instant of a touch may meet another wall first, so it is swept again.
        for sweeps in 1..=MOST_SWEEPS {
            let chord = piece.motion.displacement;
            let Some(hit) = terrain.sweep(&self.footprint, self.position, chord, &Minds::ALL) else {
                return piece;
            };
            // What is touched already is met now, even where settling against it moves a hair.
            let way = if hit.fraction > 0.0 { hit.position - self.position } else { Vec2::ZERO };
            let target = way.dot(hit.normal).min(0.0);
            let lasts = instant(piece.lasts, target, chord, |lasts| at(lasts).displacement.dot(hit.normal));
            let touch = Piece { lasts, motion: at(lasts), end: End::Touch(hit), pressed: piece.pressed };
            // Who is nearly there after so many looks is there: what is left of the chord was never looked at.
            if is_reached(target, chord.dot(hit.normal), chord) || lasts == 0.0 || sweeps == MOST_SWEEPS {
                return touch;
            }
            piece = Piece { end: End::Free, ..touch };
        }
        piece
    }

    /// What is left of an intent at the walls that are pressed on.
    fn wish(&self, intent: Intent, held: &Held) -> Intent {
        if let Some(aside) = held.leads() {
            return Intent::new(aside * intent.vector().length());
        }
        let wish = held.wish(intent, self.drive.top_speed());
        if self.along_walls.full_pace && !held.is_empty() {
            return Intent::new(at_pace(intent.vector(), wish.vector()));
        }
        wish
    }

    /// How long from here the path may be taken as straight, all of it where no wall is near.
    fn straight_piece(
        &self,
        left: f32,
        finest: f32,
        from: Momentum,
        wish: Intent,
        held: &Held,
        terrain: &(impl Terrain + ?Sized),
    ) -> Straight {
        let (mut lasts, mut is_clear) = (left, false);
        let after = |part: f32| self.drive.momentum_after(from, wish, part);
        let steers = self.drive.steers();
        // Where a steered drive leads is an integral, and how fast it is then is not: among walls nobody needs to know where a
        // path leads that bows into them at once.
        while steers && lasts > finest {
            let bow = bow(from, after(lasts), lasts, after);
            if is_straight(bow) || !terrain.overlaps(&self.footprint.grown(bow), self.position, &Minds::ALL) {
                break;
            }
            lasts *= 0.5;
        }
        let mut motion = self.drive.advance(from, wish, lasts);
        while lasts > finest {
            // What a wall takes from a steered drive would change its course: it is taken in little bits.
            let taken = motion.displacement - held.displacement(motion.displacement);
            let taken = if steers { taken.length() } else { 0.0 };
            let bow = bow(from, motion.momentum(), lasts, after) + taken;
            if is_straight(bow) {
                break;
            }
            let wide = self.footprint.grown(bow);
            is_clear = terrain.is_clear(&wide, self.position, motion.displacement, &Minds::ALL);
            if is_clear {
                break;
            }
            lasts *= 0.5;
            motion = self.drive.advance(from, wish, lasts);
        }
        Straight { lasts, motion, is_clear }
    }

    /// Moves through free space and keeps what rounding leaves over.
    fn shift(&mut self, displacement: Vec2) {
        // An axis without motion keeps its residue: a mover at rest must not creep.
        let residue = Vec2::select(displacement.cmpeq(Vec2::ZERO), Vec2::ZERO, self.residue);
        let exact = self.position.as_dvec2() + residue.as_dvec2() + displacement.as_dvec2();
        self.position = exact.as_vec2();
        let left_over = (exact - self.position.as_dvec2()).as_vec2();
        self.residue = Vec2::select(displacement.cmpeq(Vec2::ZERO), self.residue, left_over);
    }
}

/// A stretch of a tick whose path may be taken as straight, where it leads unheld, and whether no wall is near it.
#[derive(Debug, Clone, Copy)]
struct Straight {
    lasts: f32,
    motion: Motion,
    is_clear: bool,
}

/// A stretch of a tick and how it ends.
#[derive(Debug, Clone, Copy)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Piece {
    lasts: f32,
    motion: Motion,
    end: End,
    /// A wall that is pressed on all the way.
    pressed: Option<Vec2>,
}

#[derive(Debug, Clone, Copy)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
enum End {
    /// By itself.
    Free,
    /// The wall with this normal has ended.
    Lost(Vec2),
    /// A wall is touched.
    Touch(Hit),
}
