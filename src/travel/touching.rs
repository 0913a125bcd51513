//! Contact tracking over ticks: started, ongoing, ended.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::move_result::{Contact, MoveResult};
use crate::direction::Side;
use crate::shape::Footprint;
use crate::terrain::{Hit, Terrain, Wall, WallFilter};
use crate::tolerance::{HEAD_ON, MOST_HALVINGS, MOST_STEPS_TO_INSTANT, SAME_CONTACT, TOUCH_INSTANT};
use crate::touch_tolerance;

/// The phase of a touch.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{TouchPhase, Touching};
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?;
/// let mut gardener = Walker::new(vec2(5.0, 5.0), Footprint::rect(2.0, 2.0)?, Pace::new(8.0)?);
/// let (mut touching, mut phases) = (Touching::default(), Vec::new());
/// for ahead in [1.0, 1.0, -1.0] {
///     let intent = Intent::new(vec2(ahead, 0.0));
///     let _ = gardener.tick_tracking(intent, 1.0, &room, &mut touching, |change| phases.push(change.phase));
/// }
/// assert_eq!(phases[..3], [TouchPhase::Started, TouchPhase::Lasting, TouchPhase::Ended]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum TouchPhase {
    /// It began in this tick.
    Started,
    /// It began earlier and continues.
    Lasting,
    /// It ended in this tick.
    Ended,
}

/// A touch in one tick.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::Touching;
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?;
/// let mut gardener = Walker::new(vec2(5.0, 5.0), Footprint::rect(2.0, 2.0)?, Pace::new(8.0)?);
/// let (mut touching, mut changes) = (Touching::default(), Vec::new());
/// let right = Intent::new(vec2(1.0, 0.0));
/// let _ = gardener.tick_tracking(right, 1.0, &room, &mut touching, |change| changes.push(change));
/// assert_eq!((changes[0].wall, changes[0].seconds), (Wall::Edge(Side::Right), 0.5));
/// assert_eq!(changes[0].contact.unwrap().velocity_before, vec2(8.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct TouchChange {
    /// The wall; for a row of flush tiles, the one that is touched now.
    pub wall: Wall,
    /// Its side.
    pub side: Side,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
    /// Its phase.
    pub phase: TouchPhase,
    /// When, in seconds into the tick. A start is exact, and so is an end that
    /// [`Walker::tick_tracking`](crate::walker::Walker::tick_tracking) reports; any other end is reported where it was
    /// noticed: at the next contact, or at the end of the tick.
    pub seconds: f32,
    /// The tag of the wall, a number of the game's own; 0 by default.
    pub tag: u32,
    /// The contact that started it; `None` in the other phases.
    pub contact: Option<Contact>,
}

/// The walls that one mover touches, tracked from tick to tick.
///
/// A touch starts with a contact and lasts while the mover lies against the wall, pressing or not: until it is further
/// away than two [tolerances](crate::touch_tolerance). A row of flush tiles is one touch. A wall that is left and touched again
/// within one tick is reported as ended and started.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{TouchPhase, Touching};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....#"], &legend)?;
/// let mut gardener = Walker::new(vec2(2.0, 0.5), Footprint::rect(0.5, 0.5)?, Gait::new(3.0, 20.0, 30.0)?);
/// let mut touching = Touching::default();
/// let mut changes = Vec::new();
/// for tick in 0..120 {
///     let keys = HeldKeys { right: tick < 60, left: tick >= 60, ..HeldKeys::NONE };
///     let intent = keys.intent(YAxis::Down);
///     let _ = gardener.tick_tracking(intent, 1.0 / 60.0, &map, &mut touching, |change| {
///         if change.phase != TouchPhase::Lasting {
///             changes.push((change.wall, change.phase));
///         }
///     });
/// }
/// let bed = Wall::tile(ivec2(4, 0));
/// assert_eq!(changes[..2], [(bed, TouchPhase::Started), (bed, TouchPhase::Ended)]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Touching {
    known: Vec<Known>,
}

#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Known {
    wall: Wall,
    side: Side,
    normal: Vec2,
    tag: u32,
    /// Whether it was reported in this tick.
    #[cfg_attr(feature = "serde", serde(skip))]
    fresh: bool,
    /// The instant at which it ended, until that is reported.
    #[cfg_attr(feature = "serde", serde(skip))]
    ended: Option<f32>,
}

/// A mover during a tick, and the walls that it can touch.
struct Moves<'a> {
    footprint: &'a Footprint,
    terrain: &'a dyn Terrain,
    filter: &'a WallFilter<'a>,
    /// The position at an instant of the tick, if it is known; in seconds from its start.
    position_at: Option<&'a dyn Fn(f32) -> DVec2>,
}

impl Touching {
    /// The walls that are touched now, with their sides and normals, in the order in which they were touched.
    pub fn iter(&self) -> impl Iterator<Item = (Wall, Side, Vec2)> {
        self.known.iter().map(|known| (known.wall, known.side, known.normal))
    }

    /// Whether nothing is touched.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.known.is_empty()
    }

    /// Takes in the result of a move of any kind and calls `on_touch` for each touch, in order of time. A walker does
    /// it with [`Walker::tick_tracking`](crate::walker::Walker::tick_tracking).
    pub fn after(
        &mut self,
        result: &MoveResult,
        footprint: &Footprint,
        terrain: &(impl Terrain + ?Sized),
        filter: &WallFilter<'_>,
        mut on_touch: impl FnMut(TouchChange),
    ) {
        let terrain = &terrain;
        self.follow(result, &Moves { footprint, terrain, filter, position_at: None }, &mut on_touch);
    }

    /// The same for a mover whose position is known at every instant of the tick: then ends are exact.
    pub(crate) fn after_path(
        &mut self,
        result: &MoveResult,
        footprint: &Footprint,
        terrain: &dyn Terrain,
        filter: &WallFilter<'_>,
        position_at: &dyn Fn(f32) -> DVec2,
        on_touch: &mut dyn FnMut(TouchChange),
    ) {
        self.follow(result, &Moves { footprint, terrain, filter, position_at: Some(position_at) }, on_touch);
    }

    fn follow(&mut self, result: &MoveResult, moves: &Moves<'_>, on_touch: &mut dyn FnMut(TouchChange)) {
        let mut since = 0.0;
        for contact in result.contacts.iter() {
            self.look(contact.position, [since, contact.seconds], moves, on_touch);
            self.meet(contact, since, moves, on_touch);
            since = contact.seconds;
        }
        self.look(result.position, [since, result.seconds], moves, on_touch);
        for known in self.known.iter().filter(|known| !known.fresh) {
            on_touch(known.change(TouchPhase::Lasting, result.seconds));
        }
        // Nothing of this tick is kept: equal touches are equal values.
        self.known.iter_mut().for_each(|known| known.fresh = false);
    }

    /// Drops what is not touched any more at a position, which is reached at the end of a part of the tick.
    fn look(&mut self, at: Vec2, part: [f32; 2], moves: &Moves<'_>, on_touch: &mut dyn FnMut(TouchChange)) {
        for known in &mut self.known {
            match known.found_at(at, part[1], moves).filter(|hit| known.continues_as(hit)) {
                Some(hit) => {
                    *known =
                        Known { wall: hit.wall, side: hit.side, normal: hit.normal, tag: hit.tag, ..*known }
                }
                None => known.ended = Some(known.last_instant(part, moves)),
            }
        }
        let ended = |(place, known): (usize, &Known)| known.ended.map(|seconds| (place, seconds));
        while let Some((place, seconds)) =
            self.known.iter().enumerate().filter_map(ended).min_by(|one, other| one.1.total_cmp(&other.1))
        {
            on_touch(self.known.remove(place).change(TouchPhase::Ended, seconds));
        }
    }

    /// Notes a contact: a new touch, or an ongoing one. `since` is the instant of the contact before, in seconds.
    fn meet(
        &mut self,
        contact: &Contact,
        since: f32,
        moves: &Moves<'_>,
        on_touch: &mut dyn FnMut(TouchChange),
    ) {
        let met = Known {
            wall: contact.wall,
            side: contact.side,
            normal: contact.normal,
            tag: contact.tag,
            fresh: true,
            ended: None,
        };
        let started =
            TouchChange { contact: Some(*contact), ..met.change(TouchPhase::Started, contact.seconds) };
        let known = self.known.iter_mut().find(|known| known.is_same(met.wall, met.normal));
        let Some(known) = known else {
            on_touch(started);
            self.known.push(met);
            return;
        };
        // A mover that arrives with some speed has been away.
        let inward = -contact.velocity_before.dot(contact.normal);
        let was_away = contact.seconds > 0.0 && inward > HEAD_ON * contact.velocity_before.length();
        if was_away || known.fresh {
            on_touch(
                known.change(TouchPhase::Ended, known.last_before_return([since, contact.seconds], moves)),
            );
            on_touch(started);
            *known = met;
        } else {
            *known = Known { fresh: false, ..met };
        }
    }
}

impl Known {
    fn change(&self, phase: TouchPhase, seconds: f32) -> TouchChange {
        let Self { wall, side, normal, tag, .. } = *self;
        TouchChange { wall, side, normal, phase, seconds, tag, contact: None }
    }

    fn is_same(&self, wall: Wall, normal: Vec2) -> bool {
        normal.dot(self.normal) > SAME_CONTACT && (wall == self.wall || in_a_row(wall, self.wall, normal))
    }

    /// Whether a touch goes on with the wall that lies there now: a flush one is the same.
    fn continues_as(&self, hit: &Hit) -> bool {
        self.is_same(hit.wall, hit.normal) || hit.normal.dot(self.normal) > SAME_CONTACT
    }

    /// What the mover lies against at a position, so many seconds into the tick, on the side that the normal points away
    /// from, if anything.
    fn found_at(&self, at: Vec2, seconds: f32, moves: &Moves<'_>) -> Option<Hit> {
        let reach = 2.0 * tolerance_at(moves.footprint, at);
        moves.terrain.sweep(moves.footprint, at, self.normal * -reach, &moves.filter.during(seconds, 0.0))
    }

    /// The last instant of a part of the tick at which it lasted, if it does not at its end; that end if the path is
    /// not known.
    fn last_instant(&self, [from, to]: [f32; 2], moves: &Moves<'_>) -> f32 {
        let Some(position_at) = moves.position_at else { return to };
        let (mut before, mut after) = (from, to);
        for _ in 0..MOST_STEPS_TO_INSTANT {
            let middle = 0.5 * (before + after);
            if after - before <= TOUCH_INSTANT || middle <= before || middle >= after {
                break;
            }
            if self.lasts_at(position_at(middle), middle, moves) { before = middle } else { after = middle }
        }
        // Apart from the start on: it was left in the instant in which this part begins.
        before
    }

    /// The same for a part at whose end the mover comes back to the wall.
    fn last_before_return(&self, [from, to]: [f32; 2], moves: &Moves<'_>) -> f32 {
        let Some(position_at) = moves.position_at else { return to };
        // Nearer and nearer to the return: there it is apart for the last time.
        let halves = core::iter::successors(Some(0.5 * (to - from)), |left| Some(0.5 * left));
        let mut samples = halves.take(MOST_HALVINGS as usize).map(|left| to - left);
        let apart = samples.find(|seconds| !self.lasts_at(position_at(*seconds), *seconds, moves));
        apart.map_or(to, |apart| self.last_instant([from, apart], moves))
    }

    /// Whether a mover touches the wall at an exact position, so many seconds into the tick.
    fn lasts_at(&self, exact: DVec2, seconds: f32, moves: &Moves<'_>) -> bool {
        let at = exact.as_vec2();
        let gap = |hit: Hit| (exact - hit.exact.position).dot(hit.normal.as_dvec2());
        let found = self.found_at(at, seconds, moves).filter(|hit| self.continues_as(hit));
        found.is_some_and(|hit| gap(hit) <= f64::from(tolerance_at(moves.footprint, at)))
    }
}

/// Whether two tiles lie in one row or column along the side with this normal.
fn in_a_row(one: Wall, other: Wall, normal: Vec2) -> bool {
    let (Wall::Tile(one_map, one), Wall::Tile(other_map, other)) = (one, other) else { return false };
    one_map == other_map && if normal.x != 0.0 { one.x == other.x } else { one.y == other.y }
}

/// The touch tolerance of a footprint at a position.
fn tolerance_at(footprint: &Footprint, at: Vec2) -> f32 {
    let area = footprint.at(at);
    let furthest = f64::from(area.min.abs().max(area.max.abs()).max_element());
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let tolerance = touch_tolerance(furthest) as f32;
    tolerance
}
