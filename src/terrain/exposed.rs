//! Which side of a corner is exposed: one decision for all walls near a hit, whatever terrain they belong to.
//!
//! A corner that is hit exactly has two sides, and a sweep of its wall alone cannot know which of them another wall
//! covers. So all walls that the footprint touches at the hit are shown again. Each of them, grown by the footprint,
//! closes a cone of directions; overlapping cones are joined. The two rays at the ends of the cone that the
//! displacement leads into are the only ways on. The one that keeps more of the motion counts; at exactly 45 degrees,
//! the one along x.

use glam::{DVec2, Vec2};

use super::found::FoundWall;
use super::hit::{Exact, Hit};
use super::swept_area::swept_area;
use crate::contact::SAME_SHARE;
use crate::direction::{Side, YAxis};
use crate::shape::{Aabb, Cone, Feature, Footprint, tolerance};
use crate::tolerance::MOST_AT_CORNER;

/// A hit when all walls are known, which `walls` shows as they are after a part of the displacement; only a sharp corner
/// can change. The displacement is as the wall sees it.
#[inline]
pub(super) fn exposed(
    walls: impl FnOnce(Aabb, f64, &mut dyn FnMut(FoundWall)),
    y_axis: YAxis,
    footprint: &Footprint,
    displacement: Vec2,
    hit: Hit,
) -> Hit {
    if hit.exact.feature == Feature::Corner {
        exposed_at_corner(walls, y_axis, footprint, displacement, hit)
    } else {
        hit
    }
}

#[inline(never)]
fn exposed_at_corner(
    walls: impl FnOnce(Aabb, f64, &mut dyn FnMut(FoundWall)),
    y_axis: YAxis,
    footprint: &Footprint,
    displacement: Vec2,
    hit: Hit,
) -> Hit {
    let middle = footprint.middle(Vec2::ZERO) + hit.exact.position;
    let touch = tolerance(footprint, middle);
    let mut closed: [Option<(Cone, FoundWall)>; MOST_AT_CORNER] = [None; MOST_AT_CORNER];
    let mut count = 0;
    walls(swept_area(footprint, hit.position, Vec2::ZERO), hit.exact.at, &mut |found| {
        let past = (found.velocity - hit.velocity).as_dvec2();
        let cone = found.outline(footprint).cone(middle, touch).filter(|cone| !recedes(cone, past));
        if let (Some(cone), Some(slot)) = (cone, closed.get_mut(count)) {
            *slot = Some((cone, found));
            count += 1;
        }
    });
    let closed = &closed[..count];
    let way = displacement.as_dvec2().normalize_or_zero();
    let Some([from, to]) = joined(closed, way) else { return hit };
    // The free side of the first ray lies clockwise of it, that of the last anticlockwise.
    let sides = [(from.0, -from.0.perp(), from.1), (to.0, to.0.perp(), to.1)];
    let [first, last] = sides.map(|(ray, _, _)| way.dot(ray));
    let same = (first - last).abs() <= SAME_SHARE;
    let last_counts = if same { to.0.x.abs() > from.0.x.abs() } else { last > first };
    let (_, normal, found) = sides[usize::from(last_counts)];
    let unchanged = normal.distance_squared(hit.normal.as_dvec2()) < SAME_SHARE * SAME_SHARE;
    if unchanged {
        return hit;
    }
    let rounded = normal.as_vec2() + Vec2::ZERO;
    // Both sides are touched, but it was set against the other one.
    let position =
        hit.exact.position + normal * (found.outline(footprint).reach(normal) - middle.dot(normal));
    let middle = footprint.middle(Vec2::ZERO) + position;
    Hit {
        position: position.as_vec2(),
        normal: rounded,
        side: Side::facing(rounded, y_axis),
        point: found.touching_point(footprint, middle, normal),
        wall: found.wall,
        layers: found.layers,
        tag: found.tag,
        velocity: found.velocity,
        carries: found.carries,
        steady: found.steady,
        exact: Exact { feature: Feature::Corner, position, ..hit.exact },
        ..hit
    }
}

/// Whether a wall that moves past the one that was hit leaves open what it closes at this instant.
fn recedes(cone: &Cone, past: DVec2) -> bool {
    let least = -SAME_SHARE * past.length();
    cone.normals().into_iter().any(|normal| past.dot(normal) < least)
}

/// The ends of the joined cones that a direction of length 1 leads into, or along; each with its wall. `None` if it leads into
/// none, or if they close all directions.
fn joined(closed: &[Option<(Cone, FoundWall)>], way: DVec2) -> Option<[(DVec2, FoundWall); 2]> {
    let cones = || closed.iter().flatten();
    let (first, wall) = cones()
        .find(|(cone, _)| cone.holds(way))
        .or_else(|| cones().find(|(cone, _)| cone.is_along_a_ray(way)))?;
    let mut ends = [(first.from, *wall), (first.to, *wall)];
    // Each pass moves an end past at least one cone, and once round there is no way on.
    for _ in 0..=2 * closed.len() {
        let mut moved = false;
        for (cone, wall) in cones() {
            if cone.holds(ends[0].0) {
                ends[0] = (cone.from, *wall);
                moved = true;
            }
            if cone.holds(ends[1].0) {
                ends[1] = (cone.to, *wall);
                moved = true;
            }
        }
        if !moved {
            return Some(ends);
        }
    }
    None
}
