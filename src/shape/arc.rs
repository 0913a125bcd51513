//! The round part of an outline: the path of a mover's middle while it rolls over a corner or along a round wall.

use crate::tolerance::ARC_END;
use glam::DVec2;

/// A part of a circle, seen from outside.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Arc {
    pub(crate) center: DVec2,
    pub(crate) radius: f64,
    /// The normals at its ends, anticlockwise from the first to the second; `None` for a whole circle.
    pub(crate) ends: Option<[DVec2; 2]>,
}

impl Arc {
    /// The outward normal at a point on it.
    pub(crate) fn normal(&self, point: DVec2) -> DVec2 {
        (point - self.center).normalize_or(DVec2::X)
    }

    /// The point with this normal.
    pub(crate) fn point(&self, normal: DVec2) -> DVec2 {
        self.center + normal * self.radius
    }

    /// The normal at its end: the anticlockwise one, or the clockwise one where `turn` is below 0.
    pub(crate) fn normal_at_end(&self, turn: f64) -> Option<DVec2> {
        self.ends.map(|[first, last]| if turn < 0.0 { first } else { last })
    }

    /// Whether a normal lies past one of its ends, by more than rounding and a distance in units along the arc.
    pub(crate) fn is_past_end(&self, normal: DVec2, distance: f64) -> bool {
        self.ends.is_some_and(|ends| {
            let [to_first, to_last] = angles_to(ends, normal);
            to_first.min(to_last) < -ARC_END.max(distance / self.radius)
        })
    }

    /// The angle from a normal to the end of the arc, in radians: anticlockwise, or clockwise if `turn` is below 0.
    /// Infinite on a whole circle.
    pub(crate) fn angle_to_end(&self, normal: DVec2, turn: f64) -> f64 {
        let Some(ends) = self.ends else { return f64::INFINITY };
        let [to_first, to_last] = angles_to(ends, normal);
        let angle = if turn < 0.0 { to_first } else { to_last };
        if angle < ARC_END { 0.0 } else { angle }
    }
}

/// The angles from a normal to the ends of an arc of at most half a circle, clockwise and anticlockwise: below 0 past an end.
/// Measured from the middle of the arc, so that a normal just before one end of a half-circle is not taken for one past the
/// other end, half a turn away.
fn angles_to([first, last]: [DVec2; 2], normal: DVec2) -> [f64; 2] {
    // With half its angle h, the sum is 2 (cos h + sin h) times the middle.
    let middle = first + last - (last - first).perp();
    let (half, angle) = (angle_between(middle, last), angle_between(middle, normal));
    [half + angle, half - angle]
}

/// The angle anticlockwise from one vector to another, above -π and at most π.
fn angle_between(from: DVec2, to: DVec2) -> f64 {
    libm::atan2(from.perp_dot(to), from.dot(to))
}
