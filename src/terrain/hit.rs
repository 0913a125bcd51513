//! A hit: which wall, on which side, where and when.

use glam::{DVec2, Vec2};

use super::layers::Layers;
use super::wall::Wall;
use crate::contact::Tolerance;
use crate::direction::Side;
use crate::shape::{Feature, Met};

/// The first touch of a footprint moved along a displacement.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let bed = world.add(Solid::box_from_corners(vec2(10.0, -5.0), vec2(20.0, 5.0))?);
/// world.set_tag(bed, 7);
/// let hit = world.sweep(&Footprint::rect(2.0, 2.0)?, Vec2::ZERO, vec2(18.0, 0.0), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.wall, hit.tag, hit.side, hit.fraction), (bed, 7, Side::Left, 0.5));
/// assert_eq!((hit.position, hit.point, hit.normal), (vec2(9.0, 0.0), vec2(10.0, 0.0), vec2(-1.0, 0.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Hit {
    /// How much of the displacement was free, 0 to 1: 0 for a wall that is touched at the start.
    pub fraction: f32,
    /// The mover's position at the touch: exactly against the wall, rounded once.
    pub position: Vec2,
    /// The point of the touch: the middle of the part of the wall that the footprint lies against.
    pub point: Vec2,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
    /// The side of the wall; for a slanted or round wall, the one that faces the mover most.
    pub side: Side,
    /// The wall.
    pub wall: Wall,
    /// The layers that it is on.
    pub layers: Layers,
    /// Its tag, a number of the game's own; 0 by default.
    pub tag: u32,
    /// Its velocity at the touch, in units/s; zero for a wall that stands.
    pub velocity: Vec2,
    /// Whether the wall takes along what touches it while it moves.
    #[cfg_attr(feature = "serde", serde(skip))]
    pub(crate) carries: bool,
    pub(crate) exact: Exact,
    /// For how many seconds the wall keeps its velocity, from the start of the query.
    #[cfg_attr(feature = "serde", serde(skip, default = "forever"))]
    pub(crate) steady: f32,
}

#[cfg(feature = "serde")]
const fn forever() -> f32 {
    f32::INFINITY
}

/// A hit before rounding, and what decides between hits at one position.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) struct Exact {
    /// The fraction.
    pub(crate) at: f64,
    /// The mover's position.
    pub(crate) position: DVec2,
    pub(crate) feature: Feature,
}

impl From<&Met> for Exact {
    fn from(met: &Met) -> Self {
        Self { at: met.at, position: met.position, feature: met.feature }
    }
}

impl Hit {
    /// The surface that was hit: its normal, and a position of the mover against it.
    pub(crate) const fn surface(&self) -> (Vec2, DVec2) {
        (self.normal, self.exact.position)
    }

    /// The same hit elsewhere.
    pub(crate) fn moved(self, by: DVec2) -> Self {
        let position = self.exact.position + by;
        let exact = Exact { position, ..self.exact };
        Self { position: position.as_vec2(), point: (self.point.as_dvec2() + by).as_vec2(), exact, ..self }
    }

    /// The same hit with its surface where a velocity takes it in some seconds.
    pub(crate) fn moved_with(&self, velocity: Vec2, seconds: f64) -> Self {
        if velocity == Vec2::ZERO { *self } else { self.moved(velocity.as_dvec2() * seconds) }
    }

    /// The same hit as seen from a frame of some velocity, which coincides with the world at the start of a displacement
    /// of so many seconds; the wall keeps its velocity in the world.
    pub(crate) fn seen_from(self, frame: Vec2, seconds: f32) -> Self {
        self.moved_with(frame, -f64::from(seconds) * self.exact.at)
    }

    /// A hit of a part of a displacement as one of the whole: the part begins after a fraction of it and takes a
    /// fraction of it, and starts so many seconds later.
    #[expect(clippy::cast_possible_truncation, reason = "a fraction of the displacement, rounded once")]
    pub(super) fn later(self, begins: f64, takes: f64, seconds: f64) -> Self {
        let at = begins + self.exact.at * takes;
        let exact = Exact { at, ..self.exact };
        Self { fraction: at as f32, exact, steady: self.steady + seconds as f32, ..self }
    }

    /// The displacement, which takes so many seconds, as the wall sees it.
    pub(super) fn relative(&self, displacement: Vec2, seconds: f32) -> Vec2 {
        if self.velocity == Vec2::ZERO { displacement } else { displacement - self.velocity * seconds }
    }

    /// The first of two hits of one displacement that takes so many seconds. If they are less than a graze apart, a flat
    /// side counts before a corner, since between flush walls there is no corner. If they are at the same fraction, the
    /// more head-on one counts.
    pub(super) fn first(self, other: Self, displacement: Vec2, seconds: f32) -> Self {
        let inward = |hit: &Self| -hit.relative(displacement, seconds).dot(hit.normal);
        if (self.exact.feature == Feature::Side) != (other.exact.feature == Feature::Side) {
            let (side, corner) =
                if self.exact.feature == Feature::Side { (self, other) } else { (other, self) };
            // Up to the side, the mover gets no deeper into the other wall than a graze.
            let into = f64::from(inward(&side).max(inward(&corner)));
            let deep = (side.exact.at - corner.exact.at) * into;
            let touch = Tolerance::near(side.exact.position);
            return if deep <= touch.graze() { side } else { corner };
        }
        let (one, two) = (self.exact.at, other.exact.at);
        if two < one || two == one && inward(&other) > inward(&self) { other } else { self }
    }
}
