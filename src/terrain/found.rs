//! A wall that a terrain shows: what it is, its layers and its shape.

use glam::{DVec2, Vec2};

use super::hit::Hit;
use super::layers::Layers;
use super::wall::Wall;
use crate::direction::{Side, YAxis};
use crate::shape::{Aabb, Footprint, Met, Outline, Solid, outline_of, tolerance, touching_point};

/// A wall: what it is, its layers, its tag, its shape and its velocity.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::FoundWall;
///
/// let pond = FoundWall::new(Wall::Own(1), Solid::circle(vec2(9.0, 0.0), 3.0)?).with_tag(7);
/// let hit = pond.sweep(&Footprint::circle(1.0)?, Vec2::ZERO, vec2(9.0, 0.0), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.position, hit.tag), (vec2(5.0, 0.0), 7));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct FoundWall {
    /// Which wall.
    pub wall: Wall,
    /// The layers that it is on.
    pub layers: Layers,
    /// A number of the game's own.
    pub tag: u32,
    /// Its shape at the place where it was put.
    solid: Solid,
    /// How far it has moved from there, without rounding.
    offset: DVec2,
    /// Its velocity, in units/s; zero for a wall that stands.
    pub velocity: Vec2,
    /// Whether it takes along what touches it while it moves.
    pub carries: bool,
    /// For how many seconds it keeps its velocity.
    pub(super) steady: f32,
}

impl FoundWall {
    /// A wall on the first layer, with tag 0.
    #[must_use]
    pub const fn new(wall: Wall, solid: Solid) -> Self {
        let (velocity, offset) = (Vec2::ZERO, DVec2::ZERO);
        Self {
            wall,
            layers: Layers::FIRST,
            tag: 0,
            solid,
            offset,
            velocity,
            carries: false,
            steady: f32::INFINITY,
        }
    }

    /// Its shape, where it is at [`WallFilter::start`](super::WallFilter::start), rounded once.
    #[must_use]
    pub fn solid(&self) -> Solid {
        if self.offset == DVec2::ZERO { self.solid } else { self.solid.moved(self.offset.as_vec2()) }
    }

    /// The same wall, moved from where it was put.
    pub(super) const fn moved(mut self, offset: DVec2, velocity: Vec2, steady: f32) -> Self {
        (self.offset, self.velocity, self.steady) = (offset, velocity, steady);
        self
    }

    /// The same wall after some seconds.
    pub(super) fn later(mut self, seconds: f64) -> Self {
        if self.moves() {
            self.offset += self.velocity.as_dvec2() * seconds;
        }
        self
    }

    /// The same wall elsewhere.
    pub(crate) fn shifted(mut self, by: DVec2) -> Self {
        self.offset += by;
        self
    }

    /// Its bounding box, where it is now.
    #[inline]
    pub(super) fn bounds(&self) -> Aabb {
        self.solid().bounds()
    }

    /// Sets its layers.
    #[must_use]
    pub const fn on(mut self, layers: Layers) -> Self {
        self.layers = layers;
        self
    }

    /// Sets its tag, which is reported with every hit.
    #[must_use]
    pub const fn with_tag(mut self, tag: u32) -> Self {
        self.tag = tag;
        self
    }

    /// Sets its velocity, in units/s, for the part of the tick that a query is about. The terrain must show the wall
    /// also for an area that it reaches only while it moves.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::terrain::FoundWall;
    ///
    /// let rock = FoundWall::new(Wall::Own(1), Solid::circle(vec2(9.0, 0.0), 3.0)?).with_velocity(vec2(-5.0, 0.0));
    /// let hit = rock.sweep(&Footprint::circle(1.0)?, Vec2::ZERO, Vec2::ZERO, &WallFilter::ALL.during(0.0, 2.0));
    /// assert_eq!(hit.map(|hit| hit.fraction), Some(0.5)); // it comes to a mover that stands
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub const fn with_velocity(mut self, velocity: Vec2) -> Self {
        self.velocity = velocity;
        self
    }

    /// Sets whether it takes along what touches it while it moves.
    #[must_use]
    pub const fn with_carries(mut self, carries: bool) -> Self {
        self.carries = carries;
        self
    }

    /// Whether it moves.
    #[inline]
    pub(crate) fn moves(&self) -> bool {
        self.velocity != Vec2::ZERO
    }

    /// Whether it moves, or waits and may move later in the tick.
    #[inline]
    pub(crate) fn is_going_to_move(&self) -> bool {
        self.moves() || self.steady < f32::INFINITY
    }

    /// The wall grown by a footprint, without the rounding of its place.
    #[inline]
    pub(crate) fn outline(&self, footprint: &Footprint) -> Outline {
        let outline = outline_of(footprint, &self.solid);
        if self.offset == DVec2::ZERO { outline } else { outline.moved(self.offset) }
    }

    /// Whether a footprint at a position overlaps it by more than the touch tolerance.
    pub(super) fn overlaps(&self, footprint: &Footprint, at: Vec2) -> bool {
        let middle = footprint.middle(at);
        tolerance(footprint, middle).overlaps(self.outline(footprint).depth(middle).0)
    }

    /// Whether a footprint at a position overlaps or touches it.
    pub(super) fn touches(&self, footprint: &Footprint, at: Vec2) -> bool {
        let middle = footprint.middle(at);
        tolerance(footprint, middle).touches(-self.outline(footprint).depth(middle).0)
    }

    /// The point at which a footprint with this middle touches it.
    pub(crate) fn touching_point(&self, footprint: &Footprint, middle: DVec2, normal: DVec2) -> Vec2 {
        (touching_point(footprint, middle - self.offset, normal, &self.solid) + self.offset).as_vec2()
    }

    /// How it sees a displacement that takes so many seconds, without rounding.
    #[inline]
    pub(super) fn relative(&self, displacement: DVec2, seconds: f64) -> DVec2 {
        if self.moves() { displacement - self.velocity.as_dvec2() * seconds } else { displacement }
    }

    /// A touch with this wall as a hit. The touch is as the wall sees it, over a displacement of so many seconds.
    pub(super) fn hit(&self, footprint: &Footprint, met: &Met, seconds: f64, y_axis: YAxis) -> Hit {
        let met = &Met { position: met.position - self.offset, ..*met };
        let touch = met.rounded(footprint, &self.solid);
        let hit = Hit {
            fraction: touch.fraction,
            position: touch.position,
            point: touch.point,
            normal: touch.normal,
            side: Side::facing(touch.normal, y_axis),
            wall: self.wall,
            layers: self.layers,
            tag: self.tag,
            velocity: self.velocity,
            carries: self.carries,
            exact: met.into(),
            steady: self.steady,
        };
        let moved = self.offset + self.velocity.as_dvec2() * (seconds * met.at);
        if moved == DVec2::ZERO { hit } else { hit.moved(moved) }
    }
}
