//! A wall that a terrain shows: what it is, its layers and its shape.

use super::hit::Hit;
use super::layers::Layers;
use super::wall::Wall;
use crate::direction::{Side, YAxis};
use crate::shape::{Footprint, Met, Solid};

/// A wall: what it is, its layers and its shape.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct FoundWall {
    /// Which wall.
    pub wall: Wall,
    /// The layers that it is on.
    pub layers: Layers,
    /// Its shape.
    pub solid: Solid,
}

impl FoundWall {
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
            exact: met.into(),
        }
    }
}
