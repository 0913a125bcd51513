//! How far along a wall a mover goes on touching it, for walls of any shape.
//!
//! A wall holds a mover while the footprint's middle stays within a hair of the wall's outline. The
//! stretches for which each wall near the way does so are joined end to end, so that flush walls
//! count as one, and the curve of a round wall is followed in short steps.

use glam::{DVec2, Vec2};

use crate::shape::Outline;
use crate::tolerance::JOINED;

/// A wall faces the mover when its normal lies within 45 degrees of the wall's that it leans on.
const FACING: f64 = core::f64::consts::FRAC_1_SQRT_2;

/// The fraction of a way for which walls on the side that `normal` points away from hold a mover.
/// `walls` shows the walls near the way, each grown by the footprint and by `tolerance::HELD_GAP`.
pub(super) fn joined_support(
    walls: impl Fn(&mut dyn FnMut(Outline)),
    middle: DVec2,
    way: Vec2,
    normal: Vec2,
) -> f32 {
    let (way, normal) = (way.as_dvec2(), normal.as_dvec2());
    let mut held = 0.0f64;
    loop {
        let mut furthest = f64::NEG_INFINITY;
        walls(&mut |outline| {
            let Some((start, end)) = outline.span(middle, way) else { return };
            if start > held + JOINED {
                return;
            }
            // At an end of the stretch the mover may be beside a corner, where the wall faces two ways.
            let (from, halfway) = (held.max(start), 0.5 * (held.max(start) + end));
            let faces = |at: f64| outline.depth(middle + way * at).1.dot(normal) >= FACING;
            if faces(from) || faces(halfway) {
                furthest = furthest.max(end);
            }
        });
        if furthest <= held + JOINED {
            #[expect(clippy::cast_possible_truncation, reason = "a fraction of the way, 0 to 1, rounded")]
            return held.clamp(0.0, 1.0) as f32;
        }
        held = furthest;
        if held >= 1.0 {
            return 1.0;
        }
    }
}
