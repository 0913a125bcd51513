//! The area that a moving footprint passes over: where walls are looked for.

use glam::Vec2;

use crate::shape::{Aabb, Footprint};
use crate::tolerance::SOONER;

/// The area that a footprint passes over, enlarged by more than the touch tolerance and all rounding.
#[inline]
pub(crate) fn swept_area(footprint: &Footprint, from: Vec2, displacement: Vec2) -> Aabb {
    let [low, high] = footprint.extent();
    let passed = Aabb { min: from + low, max: from + high }.swept(displacement);
    // The position counts, too: an offset can cancel most of it.
    let room = Vec2::splat(0.01) + (passed.min.abs().max(passed.max.abs()) + from.abs()) * 1e-6;
    Aabb { min: passed.min - room, max: passed.max + room }
}

/// The part of a displacement, from and to, on which a footprint may touch something in an area.
pub(super) fn part_near(
    area: Aabb,
    footprint: &Footprint,
    from: Vec2,
    displacement: Vec2,
) -> Option<(f64, f64)> {
    if !from.is_finite() || !displacement.is_finite() {
        return None;
    }
    let here = swept_area(footprint, from, Vec2::ZERO);
    let (low, high) = ((area.min - here.max).as_dvec2(), (area.max - here.min).as_dvec2());
    let (mut first, mut last) = (0.0f64, 1.0f64);
    for axis in 0..2 {
        let along = f64::from(displacement[axis]);
        if along == 0.0 {
            if low[axis] > 0.0 || high[axis] < 0.0 {
                return None;
            }
            continue;
        }
        let (a, b) = (low[axis] / along, high[axis] / along);
        (first, last) = (first.max(a.min(b)), last.min(a.max(b)));
    }
    // Slightly more on both ends, for the rounding of the two differences.
    let (first, last) = ((first - SOONER).max(0.0), (last + SOONER).min(1.0));
    (first <= last).then_some((first, last))
}
