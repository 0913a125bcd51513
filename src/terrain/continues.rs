//! How far a mover can follow a flat wall, for walls of any shape.
//!
//! A side holds a mover while the footprint's middle stays against it, within the touch tolerance. The parts of the
//! path for which sides do so are joined, so that flush walls count as one. It ends where a side curves away.

use glam::{DVec2, Vec2};

use crate::contact::Tolerance;
use crate::exact::unit;
use crate::shape::Outline;
use crate::tolerance::{FACING, JOINED};

/// The fraction of a displacement for which walls on the side opposite to `normal` continue. `walls` shows the walls
/// near it, each grown by the footprint.
pub(super) fn joined(
    walls: impl Fn(&mut dyn FnMut(Outline)),
    middle: DVec2,
    displacement: Vec2,
    normal: Vec2,
    touch: Tolerance,
) -> f32 {
    let (displacement, normal) = (displacement.as_dvec2(), normal.as_dvec2());
    let mut held = 0.0f64;
    // Within the rounding of its position a mover at the end of a side still lies against it.
    let mut room = touch.least_gap() / displacement.length().max(f64::MIN_POSITIVE);
    loop {
        let mut furthest = f64::NEG_INFINITY;
        walls(&mut |outline| {
            for side in outline.edges() {
                let Some((start, end)) = beside(side, middle, displacement, normal, touch) else { continue };
                if start <= held + room.max(JOINED) {
                    furthest = furthest.max(end);
                }
            }
        });
        if furthest <= held + JOINED {
            #[expect(clippy::cast_possible_truncation, reason = "a fraction of the way, 0 to 1, rounded")]
            return held.clamp(0.0, 1.0) as f32;
        }
        held = furthest;
        room = 0.0;
        if held >= 1.0 {
            return 1.0;
        }
    }
}

/// The part of a displacement, from and to, for which a point lies against a side that faces along a normal.
fn beside(
    (from, to): (DVec2, DVec2),
    point: DVec2,
    displacement: DVec2,
    normal: DVec2,
    touch: Tolerance,
) -> Option<(f64, f64)> {
    let edge = to - from;
    let outward = unit(-edge.perp());
    if outward.dot(normal) < FACING {
        return None;
    }
    let along = |point: DVec2| (point - from).dot(edge) / edge.length_squared();
    let (start, end) = within(along(point), along(point + displacement), 0.0, 1.0)?;
    let (out, then) = ((point - from).dot(outward), (point + displacement - from).dot(outward));
    let (near, far) = within(out, then, -touch.least_gap(), touch.least_gap())?;
    let (start, end) = (start.max(near), end.min(far));
    (start <= end).then_some((start, end))
}

/// For which part, from and to, a value that changes linearly lies between two bounds.
fn within(from: f64, to: f64, low: f64, high: f64) -> Option<(f64, f64)> {
    if from == to {
        return (low <= from && from <= high).then_some((0.0, 1.0));
    }
    let (a, b) = ((low - from) / (to - from), (high - from) / (to - from));
    let (start, end) = (a.min(b).max(0.0), a.max(b).min(1.0));
    (start <= end).then_some((start, end))
}
