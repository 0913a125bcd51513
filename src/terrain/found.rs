//! A wall that a terrain shows: what it is, its layers and its shape.

use super::hit::Hit;
use super::layers::Layers;
use super::wall::Wall;
use crate::direction::{Side, YAxis};
use crate::shape::{Footprint, Met, Solid};

/// A wall: what it is, its layers, its tag and its shape.
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
    /// Its shape.
    pub solid: Solid,
}

impl FoundWall {
    /// A wall on the first layer, with tag 0.
    #[must_use]
    pub const fn new(wall: Wall, solid: Solid) -> Self {
        Self { wall, layers: Layers::FIRST, tag: 0, solid }
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

    /// A touch with this wall as a hit.
    pub(super) fn hit(&self, footprint: &Footprint, met: &Met, y_axis: YAxis) -> Hit {
        let touch = met.rounded(footprint, &self.solid);
        Hit {
            fraction: touch.fraction,
            position: touch.position,
            point: touch.point,
            normal: touch.normal,
            side: Side::facing(touch.normal, y_axis),
            wall: self.wall,
            layers: self.layers,
            tag: self.tag,
            exact: met.into(),
        }
    }
}
