//! Instants on a path: when a quantity reaches a target.

use crate::tolerance::MOST_STEPS_TO_INSTANT;

/// The first instant of a piece at which `value` gets from `start` to `target`, past it by no more than the rounding
/// of a value; the end of the piece if it does not get there.
///
/// The chord between the two ends is followed to the target repeatedly; the end that stays is weighted less each time
/// (the Illinois form of regula falsi, M. Dowell and P. Jarratt, 1971). On a nearly linear path that takes two or
/// three steps instead of twenty bisections.
pub(super) fn first_instant(piece: f32, target: f32, start: f32, value: impl Fn(f32) -> f32) -> f32 {
    let sign = if target >= start { 1.0 } else { -1.0 };
    // The distance to the target: above 0 before it, 0 or below after.
    let missing = |instant: f32| (target - value(instant)) * sign;
    let (mut before, mut before_is) = (0.0f32, (target - start) * sign);
    if before_is <= 0.0 {
        return 0.0;
    }
    let (mut after, mut after_is) = (piece, missing(piece));
    if after_is >= 0.0 {
        return piece;
    }
    let near = -(after_is.abs().max(target.abs()) * f32::EPSILON);
    let mut moved_before = None;
    for step in 0..MOST_STEPS_TO_INSTANT {
        // Far from linear, bisection is faster.
        let part = if step % 8 == 7 { 0.5 } else { before_is / (before_is - after_is) };
        // At least one rounding step on, so that the search also ends if one side is there already.
        let instant = (before + (after - before) * part).max(f32::from_bits(before.to_bits() + 1));
        if instant >= after {
            break;
        }
        let is = missing(instant);
        if is > 0.0 {
            (before, before_is) = (instant, is);
            after_is *= if moved_before == Some(true) { 0.5 } else { 1.0 };
            moved_before = Some(true);
        } else {
            (after, after_is) = (instant, is);
            if is >= near {
                break;
            }
            before_is *= if moved_before == Some(false) { 0.5 } else { 1.0 };
            moved_before = Some(false);
        }
    }
    after
}

/// The first instant of a piece from which something holds, if it holds at the end and starts once; the end of the
/// piece if it does not hold there.
pub(crate) fn first_time(piece: f32, holds: impl Fn(f32) -> bool) -> f32 {
    if piece <= 0.0 || !holds(piece) {
        return piece;
    }
    let (mut before, mut after) = (0.0f32, piece);
    for _ in 0..MOST_STEPS_TO_INSTANT {
        let middle = 0.5 * (before + after);
        if middle <= before || middle >= after {
            break;
        }
        if holds(middle) { after = middle } else { before = middle }
    }
    after
}
