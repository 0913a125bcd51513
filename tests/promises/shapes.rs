//! Every footprint against every kind of wall, judged by another method.

use ambulant::shape::{Footprint, MAX_CORNERS, Polygon, PolygonError, Solid, overlap, sweep};
use ambulant::terrain::{FoundWall, Legend, Terrain, TileGrid, TileKind, Wall, WallFilter};
use glam::{DVec2, Vec2, vec2};
use proptest::prelude::*;
use rstest::rstest;

/// The corners of a wall that has any.
fn corners(wall: &Solid) -> Vec<DVec2> {
    let corners = match wall {
        Solid::Box { area, .. } => {
            let (a, b) = (area.min, area.max);
            vec![a, vec2(b.x, a.y), b, vec2(a.x, b.y)]
        }
        Solid::Segment { from, to, .. } => vec![*from, *to],
        Solid::Polygon(polygon) => polygon.corners().to_vec(),
        _ => Vec::new(),
    };
    corners.into_iter().map(Vec2::as_dvec2).collect()
}

/// How far two sets of corners lie apart along the best of the given axes; below zero they overlap.
fn apart_along(a: &[DVec2], b: &[DVec2], axes: impl Iterator<Item = DVec2>) -> f64 {
    let range = |corners: &[DVec2], axis: DVec2| {
        corners
            .iter()
            .map(|c| c.dot(axis))
            .fold((f64::MAX, f64::MIN), |(low, high), v| (low.min(v), high.max(v)))
    };
    axes.fold(f64::MIN, |best, axis| {
        let ((a_low, a_high), (b_low, b_high)) = (range(a, axis), range(b, axis));
        best.max((b_low - a_high).max(a_low - b_high))
    })
}

fn edges(corners: &[DVec2]) -> impl Iterator<Item = (DVec2, DVec2)> {
    (0..corners.len()).map(|i| (corners[i], corners[(i + 1) % corners.len()]))
}

/// The distance of a point from a shape with corners; below zero inside.
fn distance(point: DVec2, corners: &[DVec2]) -> f64 {
    let to_edge = |(a, b): (DVec2, DVec2)| {
        let part = ((point - a).dot(b - a) / (b - a).length_squared()).clamp(0.0, 1.0);
        point.distance(a.lerp(b, part))
    };
    let nearest = edges(corners).map(to_edge).fold(f64::MAX, f64::min);
    let inside = corners.len() > 2 && edges(corners).all(|(a, b)| (b - a).perp_dot(point - a) > 0.0);
    if inside { -nearest } else { nearest }
}

/// How far a footprint at a place is from a wall, by separating axes and plain distances; below zero
/// it overlaps. For boxes near a corner it may be less than the true distance, never of another sign.
fn apart(footprint: &Footprint, at: DVec2, wall: &Solid) -> f64 {
    let half = footprint.size().as_dvec2() * 0.5;
    let own = [DVec2::new(-1.0, -1.0), DVec2::new(1.0, -1.0), DVec2::ONE, DVec2::new(-1.0, 1.0)]
        .map(|c| at + c * half);
    match (footprint.radius(), wall) {
        (Some(own), Solid::Circle { center, radius, .. }) => {
            at.distance(center.as_dvec2()) - f64::from(*radius) - f64::from(own)
        }
        (Some(radius), _) => distance(at, &corners(wall)) - f64::from(radius),
        (None, Solid::Circle { center, radius, .. }) => {
            distance(center.as_dvec2(), &own) - f64::from(*radius)
        }
        (None, _) => {
            let wall = corners(wall);
            let normals: Vec<DVec2> = edges(&wall).map(|(a, b)| (b - a).perp().normalize()).collect();
            apart_along(&own, &wall, normals.into_iter().chain([DVec2::X, DVec2::Y]))
        }
    }
}

fn footprint() -> impl Strategy<Value = Footprint> {
    prop_oneof![
        (0.1f32..4.0, 0.1f32..4.0).prop_map(|(w, h)| Footprint::rect(w, h).unwrap()),
        (0.1f32..2.0).prop_map(|radius| Footprint::circle(radius).unwrap()),
    ]
}

fn place(reach: f32) -> impl Strategy<Value = Vec2> {
    (-reach..reach, -reach..reach).prop_map(|(x, y)| vec2(x, y))
}

/// Corners on an ellipse, turned either way round.
fn polygon() -> impl Strategy<Value = Polygon> {
    (3..=MAX_CORNERS, place(3.0), 0.5f32..3.0, 0.5f32..3.0, 0.0f32..6.0, any::<bool>()).prop_map(
        |(n, at, a, b, turn, back)| {
            let corner = |i: usize| {
                let angle = turn + std::f32::consts::TAU * i as f32 / n as f32;
                at + vec2(a * angle.cos(), b * angle.sin())
            };
            let mut corners: Vec<Vec2> = (0..n).map(corner).collect();
            if back {
                corners.reverse()
            }
            Polygon::new(&corners).unwrap()
        },
    )
}

fn solid() -> impl Strategy<Value = Solid> {
    prop_oneof![
        (place(3.0), 0.2f32..4.0, 0.2f32..4.0).prop_map(|(at, w, h)| Solid::box_from_corners(
            at,
            at + vec2(w, h)
        )
        .unwrap()),
        (place(3.0), 0.2f32..3.0).prop_map(|(at, radius)| Solid::circle(at, radius).unwrap()),
        (place(3.0), 0.0f32..6.2, 0.2f32..5.0).prop_map(|(at, angle, length)| Solid::segment(
            at,
            at + Vec2::from_angle(angle) * length
        )
        .unwrap()),
        polygon().prop_map(Solid::from),
    ]
}

properties! {
    3000;

    #[test]
    fn a_sweep_stops_where_brute_force_does(
        touches >= 530;
        footprint in footprint(), wall in solid(), from in place(9.0), to in place(9.0),
    ) {
        const SAMPLES: u32 = 2000;
        const CLOSE: f64 = 2e-5;
        prop_assume!(apart(&footprint, from.as_dvec2(), &wall) > CLOSE);
        let way = to - from;
        let at = |t: f64| apart(&footprint, from.as_dvec2() + way.as_dvec2() * t, &wall);
        let touch = sweep(&footprint, from, way, &wall);
        let free = touch.map_or(1.0, |touch| f64::from(touch.fraction));
        for sample in 0..SAMPLES {
            let t = f64::from(sample) / f64::from(SAMPLES);
            if t < free { prop_assert!(at(t) > -CLOSE, "inside at {t}, but {touch:?}") }
        }
        touches.when(touch.is_some());
        let Some(touch) = touch else { return Ok(()) };
        prop_assert!(apart(&footprint, touch.position.as_dvec2(), &wall).abs() < CLOSE, "{touch:?}");
        prop_assert!(at(free).abs() < CLOSE);
        prop_assert!((touch.normal.length() - 1.0).abs() < 1e-5 && touch.normal.dot(way) < 0.0);
        // A hair along the normal it is clear, a hair against it inside.
        let off = |by: f64| apart(&footprint, touch.position.as_dvec2() + touch.normal.as_dvec2() * by, &wall);
        prop_assert!(off(0.01) > 0.0 && off(-1e-3) < 0.0, "{touch:?}: {} and {}", off(0.01), off(-1e-3));
        // The point belongs to both.
        let dot = Footprint::circle(1e-4).unwrap();
        prop_assert!(apart(&dot, touch.point.as_dvec2(), &wall) < 1e-4);
        let ground = footprint.at(touch.position);
        let on_box = touch.point.clamp(ground.min, ground.max).distance(touch.point) < 1e-4;
        let on_circle = footprint.radius().is_none_or(|r| (touch.point.distance(touch.position) - r).abs() < 1e-4);
        prop_assert!(on_box && on_circle, "{touch:?}");
    }

    /// A way that leads into a side by hardly more than rounding ends outside of it, however long it is. Where it has passed the
    /// corner before by less than a graze, the side stops it only when it is deeper than that.
    #[test]
    fn a_long_way_almost_along_a_side_ends_outside(
        free >= 300, stopped >= 300, grazed >= 100;
        is_round in any::<bool>(), is_before in any::<bool>(), x in 0.0f32..900.0, off in -0.9f64..0.9, far in 100.0f32..1000.0, slope in -8.0f32..-5.0,
    ) {
        let bed = Solid::box_from_corners(vec2(0.0, -4.0), vec2(3000.0, 0.0)).unwrap();
        let footprint = if is_round { Footprint::circle(0.5) } else { Footprint::rect(1.0, 1.0) }.unwrap();
        // Where it begins to lie against the side.
        let begins = if is_round { 0.0 } else { -0.5 };
        let x = if is_before { begins - 0.1 - 0.1 * x } else { x };
        let touch = ambulant::touch_tolerance(f64::from(x.abs().max(0.5)) + 1.0);
        let from = DVec2::new(x.into(), 0.5 + off * touch).as_vec2();
        // One in ten leads exactly along.
        let way = vec2(far, if slope < -7.7 { 0.0 } else { -far * 10.0f32.powf(slope) });
        let depth = |part: f64| 0.5 - f64::from(from.y) - f64::from(way.y) * part;
        let at_corner = f64::from(begins - x) / f64::from(far);
        let Some(hit) = sweep(&footprint, from, way, &bed) else {
            free.when(true);
            prop_assert!(!is_before || depth(at_corner) < 0.51 * touch, "past the corner, {} deep", depth(at_corner));
            let at_end = ambulant::touch_tolerance(f64::from(x + far));
            prop_assert!(depth(1.0) <= at_end, "{} deep, {at_end} allowed", depth(1.0));
            return Ok(());
        };
        stopped.when(true);
        let part = f64::from(hit.fraction);
        if is_before && depth(at_corner) < 0.49 * touch {
            grazed.when(true);
            prop_assert!((0.49..0.6).contains(&(depth(part) / touch)), "{} deep at {part}", depth(part));
        } else if is_before && depth(at_corner) > 0.51 * touch {
            prop_assert!((part - at_corner).abs() < 2e-3, "at {part}, not at the corner, {at_corner}");
        }
        prop_assert!(depth(part) <= touch * 1.01 || is_before && part < at_corner + 2e-3, "{} deep at {part}", depth(part));
    }

    #[test]
    fn an_overlap_is_left_by_its_way_out(overlaps >= 360; footprint in footprint(), wall in solid(), at in place(5.0)) {
        let apart_by = apart(&footprint, at.as_dvec2(), &wall);
        let Some(found) = overlap(&footprint, at, &wall) else {
            prop_assert!(apart_by > -1e-5, "{apart_by}");
            return Ok(());
        };
        overlaps.when(true);
        prop_assert!(apart_by < 0.0 && found.depth > 0.0);
        let out = at + found.normal * found.depth;
        prop_assert!(apart(&footprint, out.as_dvec2(), &wall).abs() < 1e-4, "{found:?}");
        // No other way out is shorter: from a little less far, every direction is still inside.
        for step in 0..64u8 {
            let way = Vec2::from_angle(f32::from(step) * std::f32::consts::TAU / 64.0);
            let there = at + way * found.depth * 0.99;
            prop_assert!(apart(&footprint, there.as_dvec2(), &wall) < 1e-4);
        }
    }

    #[test]
    fn who_rolls_over_a_corner_does_not_sink_into_the_side_behind_it(
        hits >= 2500;
        side in 0..3usize, back in any::<bool>(), radius in 0.3f32..3.0,
        gap in -6.0f32..-1.0, out in -0.9f64..0.9, slope in -6.0f32..-0.5, length in 0.01f32..2.0,
    ) {
        // Two sides of the triangle are those of a tile, too, so both ways to find a touch are judged.
        let ends = [vec2(4.0, 4.0), vec2(8.0, 4.0), vec2(4.0, 8.0)];
        let (a, b) = (ends[side], ends[(side + 1) % 3]);
        let outward = -(b - a).perp().normalize();
        let (corner, along) = if back { (b, (a - b).normalize()) } else { (a, (b - a).normalize()) };
        let footprint = Footprint::circle(radius).unwrap();
        #[expect(clippy::cast_possible_truncation, reason = "a hair")]
        let hair = (out * ambulant::touch_tolerance(8.0)) as f32;
        let from = corner - along * 10f32.powf(gap) + outward * (radius + hair);
        let way = along * length - outward * length * 10f32.powf(slope);
        let rows = ["...", ".#.", "..."];
        let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
        let tile = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(4.0).unwrap();
        let wedge = Solid::from(Polygon::new(&ends).unwrap());
        let wedge = FoundWall::new(Wall::Own(0), wedge);
        let walls: &[&dyn Terrain] = if side == 1 { &[&wedge] } else { &[&wedge, &tile] };
        for wall in walls.iter().filter(|wall| !wall.overlaps(&footprint, from, &WallFilter::ALL)) {
            let hit = wall.sweep(&footprint, from, way, &WallFilter::ALL);
            hits.when(hit.is_some());
            let end = hit.map_or(from + way, |hit| hit.position);
            prop_assert!(!wall.overlaps(&footprint, end, &WallFilter::ALL), "{hit:?}");
            prop_assert!(hit.is_none_or(|hit| end.distance(from + way * hit.fraction) < 1e-4), "{hit:?}");
        }
    }

    #[test]
    fn a_sweep_is_the_same_mirrored_and_far_away(
        touches >= 560, square >= 550;
        footprint in footprint(), wall in solid(), from in place(9.0), to in place(9.0), far in place(3e4),
    ) {
        let way = to - from;
        prop_assume!(apart(&footprint, from.as_dvec2(), &wall) > 0.05);
        let plain = sweep(&footprint, from, way, &wall);
        touches.when(plain.is_some());
        let mirror = |v: Vec2| vec2(-v.x, v.y);
        let mirrored = sweep(&footprint, mirror(from), mirror(way), &changed(&wall, mirror));
        prop_assert_eq!(plain.map(|t| t.fraction), mirrored.map(|t| t.fraction));
        // Shifted by whole numbers, places are rounded to 0.002 there.
        let far = far.round();
        let shifted = sweep(&footprint, from + far, way, &changed(&wall, |v| v + far));
        // Whatever is only grazed is met a little sooner or later there.
        let square_on = plain.is_some_and(|plain| plain.normal.dot(way.normalize_or_zero()).abs() > 0.2);
        if let (Some(plain), Some(shifted), true) = (plain, shifted, square_on) {
            square.when(true);
            let room = 0.02 / way.length().max(0.1) / plain.normal.dot(way.normalize_or_zero()).abs().max(0.05);
            prop_assert!((plain.fraction - shifted.fraction).abs() < room, "{plain:?} against {shifted:?}");
        }
    }
}

fn changed(wall: &Solid, change: impl Fn(Vec2) -> Vec2) -> Solid {
    match wall {
        Solid::Box { area, .. } => Solid::box_from_corners(change(area.min), change(area.max)).unwrap(),
        Solid::Circle { center, radius, .. } => Solid::circle(change(*center), *radius).unwrap(),
        Solid::Segment { from, to, .. } => Solid::segment(change(*from), change(*to)).unwrap(),
        Solid::Polygon(polygon) => {
            let corners: Vec<Vec2> = polygon.corners().iter().map(|corner| change(*corner)).collect();
            Polygon::new(&corners).map_or(*wall, Solid::from)
        }
        other => *other,
    }
}

#[rstest]
#[case::along(vec2(0.0, 1.5), vec2(9.0, 0.0))]
#[case::away(vec2(0.0, 1.5), vec2(1.0, 1.0))]
#[case::past_the_corner(vec2(1.5, 1.5), vec2(-1.0, 0.0))]
#[case::standing(vec2(0.0, 1.5), vec2(0.0, 0.0))]
fn touching_and_moving_along_or_away_is_no_touch(#[case] from: Vec2, #[case] way: Vec2) {
    let bed = Solid::box_from_corners(vec2(-1.0, -1.0), vec2(1.0, 1.0)).unwrap();
    for footprint in [Footprint::rect(1.0, 1.0).unwrap(), Footprint::circle(0.5).unwrap()] {
        assert_eq!(sweep(&footprint, from, way, &bed), None);
    }
    let inwards = sweep(&Footprint::rect(1.0, 1.0).unwrap(), vec2(0.0, 1.5), vec2(3.0, -0.1), &bed).unwrap();
    assert_eq!((inwards.fraction, inwards.normal), (0.0, vec2(0.0, 1.0)));
}

#[rstest]
#[case::two(&[vec2(0.0, 0.0), vec2(1.0, 0.0)], PolygonError::Count { count: 2 })]
#[case::straight(&[vec2(0.0, 0.0), vec2(1.0, 0.0), vec2(2.0, 0.0), vec2(1.0, 1.0)], PolygonError::NotConvex { corner: 1 })]
#[case::bent(&[vec2(0.0, 0.0), vec2(2.0, 0.0), vec2(1.0, 0.2), vec2(1.0, 2.0)], PolygonError::NotConvex { corner: 2 })]
#[case::nowhere(&[vec2(0.0, 0.0), vec2(f32::NAN, 0.0), vec2(1.0, 1.0)], PolygonError::NotFinite { corner: 1 })]
fn a_bad_polygon_says_where(#[case] corners: &[Vec2], #[case] error: PolygonError) {
    assert_eq!(Polygon::new(corners).unwrap_err(), error);
}

#[test]
fn a_star_is_no_polygon() {
    let star: Vec<Vec2> =
        (0..5u8).map(|i| Vec2::from_angle(f32::from(i) * 2.0 * std::f32::consts::TAU / 5.0)).collect();
    assert!(matches!(Polygon::new(&star), Err(PolygonError::NotConvex { .. })));
}

#[rstest]
#[case::flat_box(Solid::box_from_corners(Vec2::ZERO, Vec2::X).unwrap_err().field(), "height")]
#[case::radius(Solid::circle(Vec2::ZERO, 0.0).unwrap_err().field(), "radius")]
#[case::no_length(Solid::segment(Vec2::ONE, Vec2::ONE).unwrap_err().field(), "length")]
#[case::nowhere(Solid::circle(Vec2::NAN, 1.0).unwrap_err().field(), "center")]
#[case::footprint(Footprint::circle(-1.0).unwrap_err().field(), "radius")]
fn a_bad_shape_is_refused_by_name(#[case] found: &str, #[case] field: &str) {
    assert_eq!(found, field);
}
