//! Instants on a path: when a quantity that a drive gives at any instant reaches a target.

use glam::Vec2;

use crate::tolerance::{MOST_STEPS_TO_INSTANT, TOUCH_SEARCH};

/// Whether a path that ends at `reached` is at its target or past it by no more than what counts.
pub(super) fn is_reached(target: f32, reached: f32, chord: Vec2) -> bool {
    target - reached <= TOUCH_SEARCH.max(chord.length() * TOUCH_SEARCH)
}

/// The first instant of a piece at which `value` has got from `start` to `target`, on the far side of it by no more than the
/// rounding of a value; all of the piece if it does not get there.
///
/// The chord between the two ends is followed to the target, again and again; the end that stays is weighed less each time
/// (the Illinois form of regula falsi, M. Dowell and P. Jarratt, 1971). On a path that is nearly straight in time that takes two or
/// three steps where halving takes twenty.
pub(super) fn first_instant(piece: f32, target: f32, start: f32, value: impl Fn(f32) -> f32) -> f32 {
    let way = if target >= start { 1.0 } else { -1.0 };
    // How far it still is to the target: above 0 before, 0 or below after.
    let missing = |instant: f32| (target - value(instant)) * way;
    let (mut before, mut before_is) = (0.0f32, (target - start) * way);
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
        // Far from straight, halving gains more.
        let part = if step % 8 == 7 { 0.5 } else { before_is / (before_is - after_is) };
        // At least one rounding step on, so that the search also ends where one side is there already.
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

/// The first instant of a piece from which on something holds, if it holds at the end and begins to once; all of the piece
/// if it does not hold then.
pub(super) fn first_time(piece: f32, holds: impl Fn(f32) -> bool) -> f32 {
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
