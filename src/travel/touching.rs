//! Contact tracking over ticks: started, ongoing, ended.

use alloc::vec::Vec;

use glam::{IVec2, Vec2};

use super::move_result::{Contact, MoveResult};
use crate::direction::Side;
use crate::shape::Footprint;
use crate::terrain::{Hit, Terrain, Wall, WallFilter};
use crate::tolerance::{HEAD_ON, LIES_AGAINST, SAME_CONTACT};
use crate::touch_tolerance;

/// The phase of a touch.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum TouchPhase {
    /// It began in this tick.
    Started,
    /// It began earlier and continues.
    Lasting,
    /// It ended in this tick.
    Ended,
}

/// A touch in one tick.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct TouchChange {
    /// The wall; for a row of flush tiles, the one that is touched now.
    pub wall: Wall,
    /// Its side.
    pub side: Side,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
    /// Its phase.
    pub phase: TouchPhase,
    /// When, in seconds into the tick: exact for a start; for an end, the instant at which it was detected.
    pub seconds: f32,
    /// The tag of the wall, a number of the game's own; 0 by default.
    pub tag: u32,
}

/// The walls that one mover touches, tracked from tick to tick.
///
/// A touch starts with a contact and lasts while the mover lies against the wall, pressing or not. A row of flush
/// tiles is one touch. A wall that is left and touched again within one tick is reported as ended and started.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{TouchPhase, Touching};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....#"], &legend)?;
/// let mut gardener = Walker::new(vec2(2.0, 0.5), Footprint::rect(0.5, 0.5)?, Gait::new(3.0, 20.0, 30.0)?);
/// let mut touching = Touching::default();
/// let mut told = Vec::new();
/// for tick in 0..120 {
///     let keys = HeldKeys { right: tick < 60, left: tick >= 60, ..HeldKeys::NONE };
///     let result = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
///     touching.after(&result, &gardener.footprint, &map, |change| {
///         if change.phase != TouchPhase::Lasting {
///             told.push((change.wall.to_string(), change.phase));
///         }
///     });
/// }
/// let bed = "tile 4,0".to_owned();
/// assert_eq!(told[..2], [(bed.clone(), TouchPhase::Started), (bed, TouchPhase::Ended)]);
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
    fresh: bool,
}

impl Touching {
    /// The walls that are touched now, with their normals, in the order in which they were touched.
    pub fn iter(&self) -> impl Iterator<Item = (Wall, Vec2)> {
        self.known.iter().map(|known| (known.wall, known.normal))
    }

    /// Whether nothing is touched.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.known.is_empty()
    }

    /// Takes in the result of a tick and calls `on_touch` for each touch, in order.
    pub fn after(
        &mut self,
        result: &MoveResult,
        footprint: &Footprint,
        terrain: &(impl Terrain + ?Sized),
        mut on_event: impl FnMut(TouchChange),
    ) {
        self.known.iter_mut().for_each(|known| known.fresh = false);
        for contact in result.contacts.iter() {
            self.look(contact.position, contact.seconds, footprint, terrain, &mut on_event);
            self.meet(contact, &mut on_event);
        }
        self.look(result.position, result.seconds, footprint, terrain, &mut on_event);
        for known in self.known.iter().filter(|known| !known.fresh) {
            on_event(known.change(TouchPhase::Lasting, result.seconds));
        }
    }

    /// Drops what is not touched any more at a position.
    fn look(
        &mut self,
        at: Vec2,
        seconds: f32,
        footprint: &Footprint,
        terrain: &(impl Terrain + ?Sized),
        on_event: &mut impl FnMut(TouchChange),
    ) {
        self.known.retain_mut(|known| {
            let found = lies_against(known.normal, at, footprint, terrain);
            let same = found.filter(|hit| {
                known.is_same(hit.wall, hit.normal) || hit.normal.dot(known.normal) > SAME_CONTACT
            });
            match same {
                Some(hit) => {
                    *known =
                        Known { wall: hit.wall, side: hit.side, normal: hit.normal, tag: hit.tag, ..*known }
                }
                None => on_event(known.change(TouchPhase::Ended, seconds)),
            }
            same.is_some()
        });
    }

    /// Notes a contact: a new touch, or an ongoing one.
    fn meet(&mut self, contact: &Contact, on_event: &mut impl FnMut(TouchChange)) {
        let met = Known {
            wall: contact.wall,
            side: contact.side,
            normal: contact.normal,
            tag: contact.tag,
            fresh: true,
        };
        let known = self.known.iter_mut().find(|known| known.is_same(met.wall, met.normal));
        let Some(known) = known else {
            on_event(met.change(TouchPhase::Started, contact.seconds));
            self.known.push(met);
            return;
        };
        // A mover that arrives with some speed has been away.
        let inward = -contact.velocity_before.dot(contact.normal);
        let was_away = contact.seconds > 0.0 && inward > HEAD_ON * contact.velocity_before.length();
        if was_away || known.fresh {
            on_event(known.change(TouchPhase::Ended, contact.seconds));
            on_event(met.change(TouchPhase::Started, contact.seconds));
            *known = met;
        } else {
            *known = Known { fresh: false, ..met };
        }
    }
}

impl Known {
    fn change(&self, phase: TouchPhase, seconds: f32) -> TouchChange {
        let Self { wall, side, normal, tag, .. } = *self;
        TouchChange { wall, side, normal, phase, seconds, tag }
    }

    fn is_same(&self, wall: Wall, normal: Vec2) -> bool {
        normal.dot(self.normal) > SAME_CONTACT && (wall == self.wall || in_a_row(wall, self.wall, normal))
    }
}

/// Whether two tiles lie in one row or column along the side with this normal.
fn in_a_row(one: Wall, other: Wall, normal: Vec2) -> bool {
    let (Wall::Tile(one_map, one), Wall::Tile(other_map, other)) = (one, other) else { return false };
    let apart: IVec2 = one - other;
    one_map == other_map && if normal.x != 0.0 { apart.x == 0 } else { apart.y == 0 }
}

/// What a footprint lies against on the side that a normal points away from, if anything.
fn lies_against(
    normal: Vec2,
    at: Vec2,
    footprint: &Footprint,
    terrain: &(impl Terrain + ?Sized),
) -> Option<Hit> {
    let area = footprint.at(at);
    let furthest = f64::from(area.min.abs().max(area.max.abs()).max_element());
    // Far enough for a wall that counts as touched, whichever way its position was rounded.
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let reach = (4.0 * touch_tolerance(furthest) as f32).max(LIES_AGAINST);
    terrain.sweep(footprint, at, normal * -reach, &WallFilter::ALL)
}
