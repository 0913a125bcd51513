//! The play area, as a wall round everything.

use super::hit::Wall;
use super::terrain_trait::{FoundWall, Terrain};
use super::{Layers, WallFilter};
use crate::direction::{Side, YAxis};
use crate::error::InvalidNumber;
use crate::shape::{Aabb, Footprint, Solid};

/// How thick the walls round an area are, in units: far beyond any coordinate that sweeps are exact for.
const THICK: f32 = 1e7;

/// An area that movers are held in: its four edges block from inside.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Side;
/// use ambulant::terrain::{Bounds, WallFilter, Terrain, Wall};
///
/// let bench = Bounds::new(vec2(0.0, 0.0), vec2(40.0, 30.0))?;
/// let hit = bench.sweep(&Footprint::circle(1.0)?, vec2(5.0, 5.0), vec2(0.0, -80.0), &WallFilter::ALL).unwrap();
/// assert_eq!((hit.wall, hit.position), (Wall::Edge(Side::Top), vec2(5.0, 1.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Bounds {
    area: Aabb,
    layers: Layers,
    y_axis: YAxis,
}

impl Bounds {
    /// The area between two opposite corners, in units.
    ///
    /// # Errors
    /// Both must be finite, and the area must have a width and a height.
    pub fn new(a: glam::Vec2, b: glam::Vec2) -> Result<Self, InvalidNumber> {
        let area = Solid::box_from_corners(a, b)?.bounds();
        Ok(Self { area, layers: Layers::FIRST, y_axis: YAxis::Down })
    }

    /// The same edges on other layers.
    #[must_use]
    pub const fn with_layers(mut self, layers: Layers) -> Self {
        self.layers = layers;
        self
    }

    /// The same edges in a world where y grows the other way; only the names of sides depend on it.
    #[must_use]
    pub const fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self
    }

    /// The area inside.
    #[must_use]
    pub const fn area(&self) -> Aabb {
        self.area
    }
}

impl Terrain for Bounds {
    fn is_flat_to(&self, _: &Footprint) -> bool {
        true
    }

    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        for (side, solid) in outside(self.area, self.y_axis) {
            let found = FoundWall { wall: Wall::Edge(side), layers: self.layers, solid };
            if solid.bounds().overlaps(&area) && filter.wall(found.wall, found.layers) {
                see(found);
            }
        }
    }

    fn y_axis(&self) -> YAxis {
        self.y_axis
    }
}

/// What lies round an area, as one thick box on each side, named by where it lies.
pub(crate) fn outside(area: Aabb, y_axis: YAxis) -> [(Side, Solid); 4] {
    let (min, max) = (area.min - THICK, area.max + THICK);
    let solid = |from: (f32, f32), to: (f32, f32)| Solid::Box(Aabb { min: from.into(), max: to.into() });
    let (lower, upper) = match y_axis {
        YAxis::Down => (Side::Top, Side::Bottom),
        YAxis::Up => (Side::Bottom, Side::Top),
    };
    [
        (Side::Left, solid((min.x, min.y), (area.min.x, max.y))),
        (Side::Right, solid((area.max.x, min.y), (max.x, max.y))),
        (lower, solid((min.x, min.y), (max.x, area.min.y))),
        (upper, solid((min.x, area.max.y), (max.x, max.y))),
    ]
}
