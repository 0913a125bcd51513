//! The result of a move: end position, velocity left, contacts.
//!
//! Contacts are stored in the result itself, up to [`MAX_CONTACTS`], so that a tick does not allocate.

use core::fmt;

use glam::Vec2;

use crate::direction::Side;
use crate::terrain::{Hit, Wall};

/// The most contacts that a result lists. More are counted, and all of them reach a callback: that of
/// [`Walker::tick_with`](crate::walker::Walker::tick_with), or the one that returns the response in
/// [`resolve`](super::resolve).
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MAX_CONTACTS, Response, resolve};
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(4.0, 4.0))?;
/// let (moth, far) = (Footprint::circle(1.0)?, vec2(99.0, 0.0));
/// let result = resolve(&room, &moth, vec2(2.0, 2.0), far, &WallFilter::ALL, |_| Response::bounce(1.0));
/// assert_eq!((result.contacts.len(), result.contacts.total()), (MAX_CONTACTS, 49));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub const MAX_CONTACTS: usize = 8;

/// One wall that was hit in one tick.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let bed = world.add(Solid::box_from_corners(vec2(6.0, -5.0), vec2(9.0, 5.0))?);
/// let mut gardener = Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0)?, Pace::new(10.0)?);
/// let result = gardener.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &world);
/// let contact = result.contacts.iter().next().unwrap();
/// assert_eq!((contact.wall, contact.side, contact.seconds), (bed, Side::Left, 0.5));
/// assert_eq!((contact.velocity_before, contact.taken()), (vec2(10.0, 0.0), vec2(10.0, 0.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct Contact {
    /// The wall that was hit.
    pub wall: Wall,
    /// The side of the wall.
    pub side: Side,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
    /// The point of the touch.
    pub point: Vec2,
    /// The mover's position at the touch.
    pub position: Vec2,
    /// When, in seconds into the tick; 0 for a wall that was pressed on from the start. A displacement without a time, as in
    /// [`slide`](super::slide), counts as one second.
    pub seconds: f32,
    /// The tag of the wall, a number of the game's own; 0 by default.
    pub tag: u32,
    /// The mover's velocity just before, in units/s.
    pub velocity_before: Vec2,
    /// The velocity after the wall, in units/s.
    pub velocity_after: Vec2,
    /// Whether the wall moves the mover: it runs into it, or takes it along.
    pub pushed: bool,
}

impl Contact {
    /// A contact from a hit, with the velocities before and after.
    pub(crate) fn new(hit: &Hit, seconds: f32, velocity_before: Vec2, velocity_after: Vec2) -> Self {
        let Hit { wall, side, normal, point, position, tag, velocity, .. } = *hit;
        let pushed = velocity.dot(normal) > 0.0;
        Self { wall, side, normal, point, position, seconds, tag, velocity_before, velocity_after, pushed }
    }

    /// The velocity that the wall removed, in units/s.
    #[must_use]
    pub fn taken(&self) -> Vec2 {
        self.velocity_before - self.velocity_after
    }
}

impl fmt::Display for Contact {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (kept, taken) = (self.velocity_after, self.taken());
        write!(f, "{} met on its {} after {:.4} s, ", self.wall, self.side, self.seconds)?;
        write!(f, "took ({:.2}, {:.2}) and left ({:.2}, {:.2}) units/s", taken.x, taken.y, kept.x, kept.y)
    }
}

/// The contacts of one result, in order of time.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::slide;
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?;
/// let result = slide(&room, &Footprint::rect(2.0, 2.0)?, vec2(5.0, 5.0), vec2(20.0, 9.0), &WallFilter::ALL);
/// let sides: Vec<Side> = result.contacts.iter().map(|contact| contact.side).collect();
/// assert_eq!((sides, result.contacts.is_cut_short()), (vec![Side::Left, Side::Top], false));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Contacts {
    slots: [Option<Contact>; MAX_CONTACTS],
    met: usize,
}

impl Contacts {
    /// Adds a contact, or only counts it if there is no room.
    pub(crate) fn push(&mut self, contact: Contact) {
        if let Some(slot) = self.slots.get_mut(self.met) {
            *slot = Some(contact);
        }
        self.met += 1;
    }

    /// The listed contacts, in order of time.
    pub fn iter(&self) -> impl Iterator<Item = &Contact> {
        self.slots.iter().flatten()
    }

    /// The last listed contact.
    pub(crate) fn last(&self) -> Option<&Contact> {
        self.slots.get(self.met.min(MAX_CONTACTS).checked_sub(1)?)?.as_ref()
    }

    /// How many contacts are listed: as many as [`iter`](Self::iter) yields.
    #[must_use]
    pub const fn len(&self) -> usize {
        if self.met < MAX_CONTACTS { self.met } else { MAX_CONTACTS }
    }

    /// How many contacts there were, listed or not.
    #[must_use]
    pub const fn total(&self) -> usize {
        self.met
    }

    /// Whether there was none.
    #[must_use]
    pub const fn is_empty(&self) -> bool {
        self.met == 0
    }

    /// Whether there were more contacts than are listed.
    #[must_use]
    pub const fn is_cut_short(&self) -> bool {
        self.met > MAX_CONTACTS
    }
}

/// The result of moving through terrain for one tick.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::slide;
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?;
/// let result = slide(&room, &Footprint::rect(2.0, 2.0)?, vec2(5.0, 5.0), vec2(8.0, 2.0), &WallFilter::ALL);
/// assert_eq!((result.position, result.velocity), (vec2(9.0, 7.0), vec2(0.0, 2.0)));
/// assert_eq!(result.contacts.iter().next().unwrap().seconds, 0.5); // of one second
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[must_use]
#[non_exhaustive]
pub struct MoveResult {
    /// The end position.
    pub position: Vec2,
    /// The velocity that is left, in units/s.
    pub velocity: Vec2,
    /// Every contact, in order of time.
    pub contacts: Contacts,
    /// The displacement left over: after a stop, between two walls, or past [`MAX_HITS`](super::MAX_HITS) walls. What
    /// a wall removed does not count.
    pub remaining: Vec2,
    /// How long it lasted, in seconds: the tick. A displacement without a time counts as one second.
    pub seconds: f32,
    /// How far walls that move pushed it or took it along, in units. This is part of the motion, but not of the velocity.
    pub pushed: Vec2,
    /// The last wall that took it along, if one did ([`World::set_carries`](crate::terrain::World::set_carries)).
    pub carried_by: Option<Wall>,
    /// The first squeeze, if it was squeezed.
    pub squeezed: Option<Squeeze>,
    /// How far it was moved out of a moving wall that it overlapped, in units; zero if it was not.
    pub moved_out: Vec2,
    /// For how many seconds of the tick it slid along a chord instead of its path, since what the walls leave of the path
    /// changed at once again and again: there, the tick rate shows. Zero but for some places between walls that move.
    pub stalled: f32,
}

/// A mover that a moving wall squeezed: for as long as there is no room, it overlaps that wall.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0))?);
/// let post = world.add(Solid::box_from_corners(vec2(8.0, -5.0), vec2(9.0, 5.0))?);
/// let mut gardener = Walker::new(vec2(4.0, 0.0), Footprint::rect(2.0, 2.0)?, Pace::new(10.0)?);
/// world.move_at(door, vec2(8.0, 0.0));
/// let squeezed = gardener.tick(Intent::NONE, 0.7, &world).squeezed.unwrap();
/// assert_eq!((squeezed.by, squeezed.against, squeezed.seconds), (door, post, 0.5));
/// assert_eq!(gardener.position, vec2(7.0, 0.0)); // against the post
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Squeeze {
    /// The wall that moves.
    pub by: Wall,
    /// The wall on the other side; the same wall for a mover that is held to an axis and pushed across it.
    pub against: Wall,
    /// When, in seconds into the tick.
    pub seconds: f32,
}

impl MoveResult {
    /// Goes on with the result of a later part of the same tick, which started after so many seconds.
    pub(crate) fn go_on_with(&mut self, later: Self, since: f32) {
        for contact in later.contacts.iter() {
            self.contacts.push(Contact { seconds: contact.seconds + since, ..*contact });
        }
        self.contacts.met += later.contacts.total() - later.contacts.len();
        let squeezed = later.squeezed.map(|squeeze| Squeeze { seconds: squeeze.seconds + since, ..squeeze });
        (self.position, self.velocity, self.remaining) = (later.position, later.velocity, later.remaining);
        self.pushed += later.pushed;
        self.moved_out += later.moved_out;
        self.stalled += later.stalled;
        (self.carried_by, self.squeezed) = (later.carried_by.or(self.carried_by), self.squeezed.or(squeezed));
    }

    /// The same without pushes.
    pub(crate) fn forget_pushes(&mut self) {
        (self.pushed, self.moved_out) = (Vec2::ZERO, Vec2::ZERO);
        (self.carried_by, self.squeezed) = (None, None);
        self.contacts.slots.iter_mut().flatten().for_each(|contact| contact.pushed = false);
    }

    /// Whether nothing happened on the way.
    pub(crate) fn is_free(&self) -> bool {
        self.contacts.is_empty()
            && self.remaining == Vec2::ZERO
            && self.pushed == Vec2::ZERO
            && self.moved_out == Vec2::ZERO
            && self.carried_by.is_none()
            && self.squeezed.is_none()
            && self.stalled == 0.0
    }

    /// A move without contacts.
    #[inline]
    pub(crate) fn free(position: Vec2, velocity: Vec2, seconds: f32) -> Self {
        // Written out, so that no missing contact is copied.
        let contacts = Contacts { slots: [None; MAX_CONTACTS], met: 0 };
        let (remaining, pushed) = (Vec2::ZERO, Vec2::ZERO);
        Self {
            position,
            velocity,
            contacts,
            remaining,
            seconds,
            pushed,
            carried_by: None,
            squeezed: None,
            moved_out: Vec2::ZERO,
            stalled: 0.0,
        }
    }
}

impl fmt::Display for MoveResult {
    /// One line: where it ended, its velocity, each contact, and what did not go as usual.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    /// let map = TileGrid::from_rows(&["..#"], &legend)?;
    /// let mut gardener = Walker::new(vec2(1.5, 0.5), Footprint::rect(0.5, 0.5)?, Gait::new(4.0, 1e4, 1e4)?);
    /// let result = gardener.tick(Intent::new(vec2(1.0, 0.0)), 0.25, &map);
    /// let line = result.to_string();
    /// assert!(line.starts_with("ended at (1.750, 0.500) with (0.00, 0.00) units/s; tile 2,0 met on its left"));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (at, velocity) = (self.position, self.velocity);
        write!(f, "ended at ({:.3}, {:.3}) with ({:.2}, {:.2}) units/s", at.x, at.y, velocity.x, velocity.y)?;
        if self.contacts.is_empty() {
            write!(f, "; nothing met")?;
        }
        self.contacts.iter().try_for_each(|contact| write!(f, "; {contact}"))?;
        if self.contacts.is_cut_short() {
            write!(f, "; and {} more", self.contacts.total() - MAX_CONTACTS)?;
        }
        if let Some(Squeeze { by, against, seconds }) = self.squeezed {
            write!(f, "; squeezed by {by} against {against} after {seconds:.4} s")?;
        }
        if self.remaining != Vec2::ZERO {
            write!(f, "; ({:.3}, {:.3}) of the way not gone", self.remaining.x, self.remaining.y)?;
        }
        if self.stalled > 0.0 {
            write!(f, "; {:.4} s played along a chord", self.stalled)?;
        }
        Ok(())
    }
}
