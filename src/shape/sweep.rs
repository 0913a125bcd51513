//! One footprint against one wall: the exact first touch, and the way out of an overlap.
//!
//! Everything is computed in closed form in `f64` from `f32` input; only the results are rounded.

use glam::{DVec2, Vec2};

use super::outline::{Entry, Feature};
use super::{Footprint, Outline, Solid};
use crate::contact::Tolerance;
use crate::tolerance::{FOREMOST, MOST_STEPS_TO_TOUCH, REACHED, SETTLED};

/// The first touch of a footprint moved along a displacement.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::sweep;
///
/// let bed = Solid::box_from_corners(vec2(10.0, -5.0), vec2(20.0, 5.0))?;
/// let touch = sweep(&Footprint::rect(4.0, 4.0)?, Vec2::ZERO, vec2(16.0, 0.0), &bed).unwrap();
/// assert_eq!((touch.fraction, touch.position, touch.normal), (0.5, vec2(8.0, 0.0), vec2(-1.0, 0.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Touch {
    /// How much of the displacement was free, 0 to 1.
    pub fraction: f32,
    /// The mover's position at the touch.
    pub position: Vec2,
    /// The point of the touch.
    pub point: Vec2,
    /// The unit normal, from the wall toward the mover.
    pub normal: Vec2,
}

/// A footprint that lies inside a wall.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::overlap;
///
/// let (feet, at) = (Footprint::rect(4.0, 4.0)?, vec2(9.0, 0.0));
/// let bed = Solid::box_from_corners(vec2(10.0, -5.0), vec2(20.0, 5.0))?;
/// let inside = overlap(&feet, at, &bed).unwrap();
/// let out = at + inside.normal * inside.depth;
/// assert_eq!((inside.depth, out, overlap(&feet, out, &bed)), (1.0, vec2(8.0, 0.0), None));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Overlap {
    /// How deep, in units.
    pub depth: f32,
    /// The direction of the shortest way out; `normal * depth` leads there.
    pub normal: Vec2,
}

/// Moves a footprint along a displacement and returns its first touch of a wall.
///
/// Touching and moving along or away is no touch; touching and moving in is a touch at fraction 0. A wall that
/// overlaps the footprint at the start is ignored; [`overlap`] reports it.
///
/// ```
/// use ambulant::shape::{Footprint, Solid, sweep};
/// use glam::{Vec2, vec2};
///
/// let water_butt = Solid::circle(vec2(10.0, 0.0), 2.0)?;
/// let moth = Footprint::circle(1.0)?;
/// let touch = sweep(&moth, Vec2::ZERO, vec2(14.0, 0.0), &water_butt).unwrap();
/// assert_eq!((touch.fraction, touch.position, touch.point), (0.5, vec2(7.0, 0.0), vec2(8.0, 0.0)));
/// assert!(sweep(&moth, vec2(0.0, 3.0), vec2(14.0, 0.0), &water_butt).is_none()); // just past it
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[must_use]
pub fn sweep(footprint: &Footprint, from: Vec2, displacement: Vec2, wall: &Solid) -> Option<Touch> {
    let outline = outline_of(footprint, wall);
    let met = sweep_exactly(footprint, from.as_dvec2(), displacement.as_dvec2(), &outline)?;
    Some(met.rounded(footprint, wall))
}

/// A touch before anything is rounded.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Met {
    /// The fraction of the displacement.
    pub(crate) at: f64,
    /// The mover's position, set against the surface.
    pub(crate) position: DVec2,
    /// The unit normal, from the wall toward the mover.
    pub(crate) normal: DVec2,
    /// The part of the wall that is touched.
    pub(crate) feature: Feature,
}

impl Met {
    /// The same of a mover that is as near as a touch at the start: when it reaches the wall, if it does on the displacement.
    ///
    /// The distance from a convex shape is a convex function of the way, so that Newton's method comes to its first zero from before.
    pub(crate) fn reached(
        self,
        footprint: &Footprint,
        from: DVec2,
        displacement: DVec2,
        outline: &Outline,
    ) -> Option<Self> {
        if self.at > 0.0 {
            return Some(self);
        }
        let (middle, mut at) = (footprint.middle(Vec2::ZERO) + from, 0.0);
        for _ in 0..MOST_STEPS_TO_TOUCH {
            let (depth, normal) = outline.depth(middle + displacement * at);
            let inward = -displacement.dot(normal);
            if inward <= 0.0 {
                // Past it, within a touch.
                return Some(self);
            }
            if depth >= -REACHED {
                return Some(Self { at, position: from + displacement * at, normal, ..self });
            }
            at -= depth / inward;
            if at > 1.0 {
                return None;
            }
        }
        Some(self)
    }

    /// The touch as it is reported.
    pub(crate) fn rounded(&self, footprint: &Footprint, wall: &Solid) -> Touch {
        let middle = footprint.middle(Vec2::ZERO) + self.position;
        #[expect(clippy::cast_possible_truncation, reason = "a fraction of the displacement, rounded once")]
        let fraction = self.at as f32;
        Touch {
            fraction,
            position: self.position.as_vec2(),
            point: touching_point(footprint, middle, self.normal, wall).as_vec2(),
            normal: self.normal.as_vec2() + Vec2::ZERO,
        }
    }
}

/// The same for a wall whose [outline](outline_of) is known, without rounding.
pub(crate) fn sweep_exactly(
    footprint: &Footprint,
    from: DVec2,
    displacement: DVec2,
    outline: &Outline,
) -> Option<Met> {
    let middle = footprint.middle(Vec2::ZERO) + from;
    let touch = tolerance(footprint, middle);
    let Entry { at, normal, surface, feature } = outline.entry(middle, displacement, touch)?;
    let moved = displacement * at;
    // Set against the surface, so that the rounding of the last touch does not add up.
    let depth = (surface - middle - moved).dot(normal);
    let settle = if depth.abs() < SETTLED { normal * depth } else { DVec2::ZERO };
    Some(Met { at, position: from + moved + settle, normal, feature })
}

/// How deep a footprint overlaps a wall, and the shortest way out; `None` if it is outside or only touches.
///
/// ```
/// use ambulant::shape::{Footprint, Solid, overlap};
/// use glam::{Vec2, vec2};
///
/// let bed = Solid::box_from_corners(vec2(0.0, 0.0), vec2(10.0, 4.0))?;
/// let inside = overlap(&Footprint::rect(2.0, 2.0)?, vec2(5.0, 4.0), &bed).unwrap();
/// assert_eq!((inside.depth, inside.normal), (1.0, vec2(0.0, 1.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[must_use]
pub fn overlap(footprint: &Footprint, at: Vec2, wall: &Solid) -> Option<Overlap> {
    let middle = footprint.middle(at);
    let (depth, normal) = outline_of(footprint, wall).depth(middle);
    #[expect(clippy::cast_possible_truncation, reason = "a depth, rounded once")]
    let found = Overlap { depth: depth as f32, normal: normal.as_vec2() };
    tolerance(footprint, middle).overlaps(depth).then_some(found)
}

/// The wall grown by the footprint: the footprint's middle cannot enter it.
pub(crate) fn outline_of(footprint: &Footprint, wall: &Solid) -> Outline {
    let half = footprint.size().as_dvec2() * 0.5;
    let round = footprint.radius().map(f64::from);
    let polygon = |corners: &[DVec2]| match round {
        Some(radius) => Outline::new(corners, radius),
        None => Outline::new(corners, 0.0).grown_by_box(half),
    };
    match wall {
        Solid::Box { area } => {
            let (middle, wall_half) = middle_and_half(area);
            let grown = if round.is_some() { DVec2::ZERO } else { half };
            Outline::boxed(middle, wall_half + grown, round.unwrap_or(0.0))
        }
        Solid::Circle { center, radius } => match round {
            Some(own) => Outline::new(&[center.as_dvec2()], own + f64::from(*radius)),
            None => Outline::boxed(center.as_dvec2(), half, f64::from(*radius)),
        },
        Solid::Segment { from, to } => polygon(&[from.as_dvec2(), to.as_dvec2()]),
        Solid::Polygon(shape) => {
            let mut corners = [DVec2::ZERO; super::MAX_CORNERS];
            let given = shape.corners();
            corners.iter_mut().zip(given).for_each(|(corner, given)| *corner = given.as_dvec2());
            polygon(&corners[..given.len()])
        }
    }
}

/// The point where a footprint with this middle touches a wall: the middle of what they share.
pub(crate) fn touching_point(footprint: &Footprint, middle: DVec2, normal: DVec2, wall: &Solid) -> DVec2 {
    if let Some(radius) = footprint.radius() {
        return middle - normal * f64::from(radius);
    }
    let half = footprint.size().as_dvec2() * 0.5;
    if let Solid::Circle { center, radius } = wall {
        return center.as_dvec2() + normal * f64::from(*radius);
    }
    // The part of the box that faces the wall: a corner, or a whole side where the normal is straight.
    let across = normal.perp();
    let reach = |corners: &[DVec2]| {
        let along = |corner: &DVec2| corner.dot(across);
        let (low, high) = corners
            .iter()
            .map(along)
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| (low.min(value), high.max(value)));
        (low, high)
    };
    let facing = |corners: &[DVec2], direction: DVec2| {
        let furthest = corners.iter().map(|corner| corner.dot(direction)).fold(f64::NEG_INFINITY, f64::max);
        let mut kept = [DVec2::ZERO; super::MAX_CORNERS];
        let mut count = 0;
        for corner in corners.iter().filter(|corner| corner.dot(direction) > furthest - FOREMOST) {
            kept[count] = *corner;
            count += 1;
        }
        reach(&kept[..count])
    };
    let own = [DVec2::new(-1.0, -1.0), DVec2::new(1.0, -1.0), DVec2::ONE, DVec2::new(-1.0, 1.0)]
        .map(|c| middle + half * c);
    let mut walls = [DVec2::ZERO; super::MAX_CORNERS];
    let count = corners_of(wall, &mut walls);
    let (own_low, own_high) = facing(&own, -normal);
    let (wall_low, wall_high) = facing(&walls[..count], normal);
    let along = 0.5 * (own_low.max(wall_low) + own_high.min(wall_high));
    let surface = own.iter().map(|corner| corner.dot(normal)).fold(f64::INFINITY, f64::min);
    normal * surface + across * along
}

fn corners_of(wall: &Solid, corners: &mut [DVec2; super::MAX_CORNERS]) -> usize {
    let mut put = |given: &[Vec2]| {
        corners.iter_mut().zip(given).for_each(|(corner, given)| *corner = given.as_dvec2());
        given.len()
    };
    match wall {
        Solid::Box { area } => {
            put(&[area.min, Vec2::new(area.max.x, area.min.y), area.max, Vec2::new(area.min.x, area.max.y)])
        }
        Solid::Circle { center, .. } => put(&[*center]),
        Solid::Segment { from, to } => put(&[*from, *to]),
        Solid::Polygon(polygon) => put(polygon.corners()),
    }
}

/// The touch tolerance of a footprint, by its largest coordinate.
pub(crate) fn tolerance(footprint: &Footprint, middle: DVec2) -> Tolerance {
    Tolerance::at(middle.abs().max_element() + f64::from(footprint.size().max_element()))
}

fn middle_and_half(area: &super::Aabb) -> (DVec2, DVec2) {
    let (min, max) = (area.min.as_dvec2(), area.max.as_dvec2());
    ((min + max) * 0.5, (max - min) * 0.5)
}
