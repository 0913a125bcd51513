//! Where a tick is divided: pieces of path that are straight enough, and instants on the path.
//!
//! A drive gives the position at any instant in closed form, so an instant is found by bisection
//! on the true path and not on its chord.

use glam::Vec2;

use crate::drive::Momentum;
use crate::tolerance::{PATH_BOW, TOUCH_SEARCH};

/// The halvings after which a bisection has used up what `f32` holds.
const MOST_HALVINGS: usize = 40;

/// How far a path may bow away from its chord, at most, in units.
///
/// With velocity changing steadily between two values over `t` seconds, the path stays within
/// `|change| t / 4` of the chord. A heading that turns may come back to where it was, so a turning
/// path is looked at in its middle, too.
pub(super) fn bow(from: Momentum, to: Momentum, piece: f32, at: impl FnOnce(f32) -> Momentum) -> f32 {
    let mut change = (to.velocity - from.velocity).length();
    if to.heading != from.heading {
        let middle = at(0.5 * piece).velocity;
        change = change.max((middle - from.velocity).length()).max((to.velocity - middle).length());
    }
    change * piece * 0.25
}

/// Whether a path this bowed counts as straight.
pub(super) fn is_straight(bow: f32) -> bool {
    bow <= PATH_BOW
}

/// Whether a path that ends at `reached` is at its target or past it by no more than what counts.
pub(super) fn is_reached(target: f32, reached: f32, chord: Vec2) -> bool {
    target - reached <= search_depth(chord)
}

/// The first instant of a piece at which `progress` has fallen to `target` (both zero or below), on
/// the far side by no more than [`TOUCH_SEARCH`] or the rounding of the displacement.
pub(super) fn instant(piece: f32, target: f32, chord: Vec2, progress: impl Fn(f32) -> f32) -> f32 {
    let (mut before, mut after) = (0.0, piece);
    if target >= 0.0 {
        return before;
    }
    if is_reached(target, progress(after), chord) {
        return after;
    }
    for _ in 0..MOST_HALVINGS {
        let middle = 0.5 * (before + after);
        if middle <= before || middle >= after {
            break;
        }
        let reached = progress(middle);
        if reached > target {
            before = middle;
        } else {
            after = middle;
            if is_reached(target, reached, chord) {
                break;
            }
        }
    }
    after
}

fn search_depth(chord: Vec2) -> f32 {
    TOUCH_SEARCH.max(chord.length() * TOUCH_SEARCH)
}
