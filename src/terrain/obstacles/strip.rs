//! The strip that a footprint sweeps on a straight path.
//!
//! Most boxes in the bounding box of a slanted path lie beside the strip. Their bounds are enough to know, so the
//! obstacles themselves are not read: among 100,000 that is what takes longest.

use glam::Vec2;

use crate::shape::{Aabb, Footprint};
use crate::tolerance::{STRIP_ROOM, STRIP_ROOM_PER_UNIT};

/// A strip: all that lies no further than `half` from a line.
#[derive(Debug, Clone, Copy)]
pub(in crate::terrain) struct Strip {
    /// A vector across the line, about as long as 1; zero without a displacement.
    across: Vec2,
    /// A point of the line.
    on_line: Vec2,
    half: f32,
}

impl Strip {
    pub(in crate::terrain) fn of(footprint: &Footprint, from: Vec2, displacement: Vec2) -> Self {
        let length = crate::exact::length(displacement);
        let across =
            if length > 0.0 && length.is_finite() { displacement.perp() / length } else { Vec2::ZERO };
        let ground = footprint.at(from);
        let half = match footprint.radius() {
            Some(radius) => radius,
            None => (ground.size() * 0.5).dot(across.abs()),
        };
        let on_line = ground.center();
        let reach = on_line.abs().max_element() + length;
        Self { across, on_line, half: half + STRIP_ROOM + reach * STRIP_ROOM_PER_UNIT }
    }

    /// Whether a box reaches into the strip, or nearly.
    #[inline]
    pub(in crate::terrain) fn reaches(&self, bounds: &Aabb) -> bool {
        let (half, off) = (bounds.size() * 0.5, bounds.center() - self.on_line);
        let room = (half + off.abs()).max_element() * STRIP_ROOM_PER_UNIT;
        // NaN counts as near.
        let beside = off.dot(self.across).abs() > self.half + half.dot(self.across.abs()) + room;
        !beside
    }
}
