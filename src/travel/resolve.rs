//! Moves along a displacement, with a response at each wall.
//!
//! The sweep is continuous: nothing is too fast for it. At each wall the response decides what is left of the
//! velocity and of the displacement; the rest is swept again from there.

use glam::Vec2;

use super::constraints::{WallConstraints, without_inward};
use super::corner::way_round;
use super::move_result::{Contact, MoveResult};
use super::passed::Passed;
use crate::drive::Motion;
use crate::place::Place;
use crate::shape::Footprint;
use crate::terrain::{Hit, Terrain, WallFilter};
use crate::tolerance::{HEAD_ON, MOST_AT_ONCE};

/// The most walls that one call hits; the displacement left over is returned in [`MoveResult::remaining`].
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MAX_HITS, Response, resolve};
///
/// let room = PlayArea::new(vec2(0.0, 0.0), vec2(3.0, 3.0))?;
/// let (moth, far) = (Footprint::circle(1.0)?, vec2(5000.0, 0.0));
/// let result = resolve(&room, &moth, vec2(1.5, 1.5), far, &WallFilter::ALL, |_| Response::bounce(1.0));
/// assert!(result.contacts.total() == MAX_HITS && result.remaining.length() > 3000.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub const MAX_HITS: usize = 1024;

/// A displacement, and the velocity that belongs to it.
///
/// Made from a [`Motion`], or from a displacement alone: then that is the velocity, too.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{Shift, slide};
///
/// let mut world = World::new();
/// world.add(Solid::circle(vec2(10.0, 0.0), 2.0)?);
/// let moth = Footprint::circle(1.0)?;
/// let result = slide(&world, &moth, Vec2::ZERO, vec2(9.0, 0.0), &WallFilter::ALL);
/// assert_eq!(result.position, vec2(7.0, 0.0));
/// let fast = Shift { displacement: vec2(9.0, 0.0), velocity: vec2(540.0, 0.0) };
/// let result = slide(&world, &moth, Vec2::ZERO, fast, &WallFilter::ALL);
/// assert_eq!(result.contacts.iter().next().unwrap().velocity_before, vec2(540.0, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Shift {
    /// In units.
    pub displacement: Vec2,
    /// In units/s.
    pub velocity: Vec2,
}

impl From<Vec2> for Shift {
    fn from(displacement: Vec2) -> Self {
        Self { displacement, velocity: displacement }
    }
}

impl From<Motion> for Shift {
    fn from(Motion { displacement, velocity, .. }: Motion) -> Self {
        Self { displacement, velocity }
    }
}

/// What a wall does to the velocity and to the rest of the displacement.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{Response, resolve};
///
/// let mut world = World::new();
/// world.add(Solid::box_from_corners(vec2(6.0, -5.0), vec2(9.0, 5.0))?);
/// let feet = Footprint::rect(2.0, 2.0)?;
/// let ends = [Response::Slide, Response::Stop, Response::bounce(0.5), Response::PassThrough].map(|response| {
///     resolve(&world, &feet, Vec2::ZERO, vec2(9.0, 0.0), &WallFilter::ALL, |_| response).position.x
/// });
/// assert_eq!(ends, [5.0, 5.0, 3.0, 9.0]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum Response {
    /// The part into the wall is removed.
    Slide,
    /// As `Slide`, but along the wall at the speed before; head-on, it stops.
    SlideFullSpeed,
    /// As `Slide`; but if the wall ends within `reach` units to the side, the mover goes round the corner, no faster
    /// than before, and on in its direction.
    #[non_exhaustive]
    RoundCorner {
        /// How far the mover may be from clearing the corner, in units.
        reach: f32,
    },
    /// The part into the wall is reversed and multiplied by the restitution: 1 keeps the speed, 0 slides.
    #[non_exhaustive]
    Bounce {
        /// The restitution, usually 0 to 1.
        restitution: f32,
    },
    /// It stops for the rest of the tick, with no velocity left.
    Stop,
    /// It passes through this wall; the contact is reported all the same.
    PassThrough,
}

impl Response {
    /// Bounces with a restitution: 1 keeps the speed, 0 slides. Below 0 and what is not finite counts as 0.
    #[must_use]
    pub fn bounce(restitution: f32) -> Self {
        Self::Bounce { restitution: usable(restitution) }
    }

    /// Goes round a corner that is at most `reach` units aside. Below 0 and what is not finite counts as 0.
    #[must_use]
    pub fn round_corner(reach: f32) -> Self {
        Self::RoundCorner { reach: usable(reach) }
    }
}

fn usable(number: f32) -> f32 {
    if number.is_finite() { number.max(0.0) } else { 0.0 }
}

/// A vector whose part into a wall is reversed and multiplied by a restitution.
fn bounced(vector: Vec2, normal: Vec2, restitution: f32) -> Vec2 {
    without_inward(vector, normal) - normal * (vector.dot(normal).min(0.0) * restitution)
}

/// Moves by a displacement and slides along the walls that pass a filter.
///
/// The sweep is continuous: nothing is too fast for it. At each wall, the rest of the displacement and the velocity
/// lose the part into the wall. A mover that starts inside a wall may leave it; only other walls block it.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{Shift, slide};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["...#", "...#", "...#"], &legend)?;
/// let gardener = Footprint::rect(0.5, 0.5)?;
///
/// let shift = Shift { displacement: vec2(4.0, 1.0), velocity: vec2(40.0, 10.0) };
/// let result = slide(&map, &gardener, vec2(1.0, 1.0), shift, &WallFilter::ALL);
/// assert_eq!(result.position, vec2(2.75, 2.0));
/// assert_eq!(result.velocity, vec2(0.0, 10.0));
/// assert_eq!(result.contacts.iter().next().unwrap().normal, vec2(-1.0, 0.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn slide(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    shift: impl Into<Shift>,
    filter: &WallFilter<'_>,
) -> MoveResult {
    resolve(terrain, footprint, from, shift, filter, |_| Response::Slide)
}

/// Moves by a displacement and calls `respond` at each wall that passes a filter.
///
/// `respond` is called for every wall, in order; the result lists the first [`MAX_CONTACTS`](super::MAX_CONTACTS).
/// After [`MAX_HITS`] walls, the displacement left over is returned in [`MoveResult::remaining`]. A displacement that
/// is not finite moves nothing.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{Response, Shift, resolve};
///
/// let legend = Legend::new().with('.', TileKind::floor("air"));
/// let box_of_four = TileGrid::from_rows(&["....", "....", "....", "...."], &legend)?;
/// let dewdrop = Footprint::circle(0.5)?;
///
/// // To the right wall, to the left one and back to the start: the remainder is kept, and the speed.
/// let shift = Shift { displacement: vec2(6.0, 0.0), velocity: vec2(360.0, 0.0) };
/// let bounce = |_: &_| Response::bounce(1.0);
/// let result = resolve(&box_of_four, &dewdrop, vec2(1.5, 2.0), shift, &WallFilter::ALL, bounce);
/// assert!(result.position.distance(vec2(1.5, 2.0)) < 1e-6);
/// assert_eq!(result.velocity, vec2(360.0, 0.0));
/// assert_eq!(result.contacts.len(), 2);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn resolve(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    shift: impl Into<Shift>,
    filter: &WallFilter<'_>,
    respond: impl FnMut(&Hit) -> Response,
) -> MoveResult {
    let shift = shift.into();
    match terrain.sweep(footprint, from, shift.displacement, filter) {
        Some(first) => carry_from(terrain, footprint, from, shift, filter, first, respond),
        // The most common tick: nothing to set up for contacts.
        None => MoveResult::free(from + shift.displacement, shift.velocity, 1.0),
    }
}

/// Continues from the first wall.
#[inline(never)]
fn carry_from(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    shift: Shift,
    filter: &WallFilter<'_>,
    first: Hit,
    mut respond: impl FnMut(&Hit) -> Response,
) -> MoveResult {
    let mut result = MoveResult::free(from, shift.velocity, 1.0);
    let mut rest = shift.displacement;
    let mut elapsed = 0.0;
    let mut passed: Passed = Passed::none();
    let mut here = Here::at(rest, result.velocity);
    let mut next = Some(first);
    for _ in 0..MAX_HITS {
        let others = passed.others(*filter);
        let Some(hit) = next.take().or_else(|| terrain.sweep(footprint, result.position, rest, &others))
        else {
            result.position += rest;
            return result;
        };
        elapsed += (1.0 - elapsed) * hit.fraction;
        result.position = reached(terrain, footprint, result.position, rest, &hit, &others);
        if hit.exact.at > 0.0 {
            rest *= 1.0 - hit.fraction;
            here = Here::at(rest, result.velocity);
        } else if here.touches >= MOST_AT_ONCE {
            break;
        }
        here.touches += 1;
        let (before, response) = (result.velocity, respond(&hit));
        match response {
            Response::PassThrough => passed.add(hit.wall),
            Response::Stop => (rest, result.velocity) = (here.rest, Vec2::ZERO),
            Response::Bounce { restitution } => {
                rest = bounced(rest, hit.normal, restitution);
                result.velocity = bounced(before, hit.normal, restitution);
                here = Here { rest, velocity: result.velocity, ..here };
            }
            Response::Slide | Response::SlideFullSpeed | Response::RoundCorner { .. } => {
                (rest, result.velocity) = here.slid(&hit, response);
            }
        }
        if let Response::RoundCorner { reach } = response {
            let round =
                way_round(terrain, footprint, result.position, (here.rest, hit.normal), reach, filter);
            if let Some(round) = round {
                rest = led_round(&mut result, before, here.rest, round);
                here = Here::at(rest, result.velocity);
            }
        }
        result.contacts.push(Contact::new(&hit, elapsed, before, result.velocity));
        if response == Response::Stop || rest == Vec2::ZERO {
            break;
        }
    }
    result.remaining = rest;
    result
}

/// The position of a mover after the part of a displacement up to a hit: against the wall.
fn reached(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    displacement: Vec2,
    hit: &Hit,
    filter: &WallFilter<'_>,
) -> Vec2 {
    let mut place = Place { position: from, residue: Vec2::ZERO };
    place.shift(displacement.as_dvec2() * hit.exact.at);
    place.settle(hit.surface(), terrain, footprint, filter);
    place.position
}

/// How a mover came to a position, and the walls that it touches there: what is left depends on all of them together,
/// not on their order.
struct Here {
    rest: Vec2,
    velocity: Vec2,
    walls: WallConstraints,
    touches: usize,
}

impl Here {
    const fn at(rest: Vec2, velocity: Vec2) -> Self {
        Self { rest, velocity, walls: WallConstraints::none(Vec2::ZERO, None), touches: 0 }
    }

    /// The rest of the displacement and the velocity that one wall more leaves.
    fn slid(&mut self, hit: &Hit, response: Response) -> (Vec2, Vec2) {
        self.walls.add(hit);
        let slid = [self.rest, self.velocity].map(|vector| {
            let slid = self.walls.velocity(vector);
            if response == Response::SlideFullSpeed { at_full_speed(vector, slid) } else { slid }
        });
        slid.into()
    }
}

/// Moves sideways to the corner, as far as the displacement lasts; returns the rest, in the direction of before.
fn led_round(result: &mut MoveResult, velocity: Vec2, rest: Vec2, round: Vec2) -> Vec2 {
    let (length, aside) = (rest.length(), round.length());
    if length <= aside {
        result.position += round * (length / aside);
        result.velocity = round.normalize_or_zero() * velocity.length();
        return Vec2::ZERO;
    }
    result.position += round;
    result.velocity = velocity;
    rest * (1.0 - aside / length)
}

/// What a slide leaves of a vector, at the length of the vector.
pub(crate) fn at_full_speed(vector: Vec2, slid: Vec2) -> Vec2 {
    let (before, after) = (vector.length(), slid.length());
    if after > before * HEAD_ON { slid * (before / after) } else { Vec2::ZERO }
}
