//! The outside of an area, as walls.

use crate::direction::{Side, YAxis};
use crate::shape::{Aabb, Solid};
use crate::tolerance::THICK;

/// The outside of an area, as one thick box on each side, named by its side.
pub(super) fn outside(area: Aabb, y_axis: YAxis) -> [(Side, Solid); 4] {
    let (min, max) = (area.min - THICK, area.max + THICK);
    let solid =
        |from: (f32, f32), to: (f32, f32)| Solid::Box { area: Aabb { min: from.into(), max: to.into() } };
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
