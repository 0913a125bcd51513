//! Free-standing walls, and circles among tiles.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Polygon, Solid};
use ambulant::terrain::{Layers, Terrain, WallFilter, World};
use ambulant::travel::{Response, resolve, slide};
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{map, random_map, random_slopes};
use crate::walker::{all_drives, play_any, wish};

/// A scene of walls of every kind that do not touch each other, each in a square of its own.
fn scene() -> impl Strategy<Value = World> {
    prop::collection::vec((0u8..5, 0.3f32..1.1, 0.0f32..6.0), 16).prop_map(|walls| {
        let mut scene = World::new();
        for (place, (kind, size, turn)) in walls.into_iter().enumerate() {
            let (column, row) = (place % 4, place / 4);
            let at = vec2(column as f32 * 4.0 - 6.0, row as f32 * 4.0 - 6.0);
            let along = Vec2::from_angle(turn) * size;
            let solid = match kind {
                0 => Solid::box_from_corners(at - size, at + size),
                1 => Solid::circle(at, size),
                2 => Solid::segment(at - along, at + along),
                3 => Ok(Polygon::new(&[at + along, at + along.perp(), at - along]).unwrap().into()),
                _ => continue,
            };
            scene.add(solid.unwrap());
        }
        scene
    })
}

fn footprint() -> impl Strategy<Value = Footprint> {
    prop_oneof![
        (0.3f32..1.2, 0.3f32..1.2).prop_map(|(w, h)| Footprint::rect(w, h).unwrap()),
        (0.2f32..0.6).prop_map(|radius| Footprint::circle(radius).unwrap()),
    ]
}

fn motion(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement * 60.0, Angle::ZERO)
}

/// Whether a footprint overlaps a wall anywhere on its straight way, looked at in short steps.
fn is_clear(terrain: &impl Terrain, footprint: &Footprint, from: Vec2, to: Vec2) -> bool {
    let steps = (from.distance(to) / 0.02).ceil().clamp(1.0, 1e6);
    #[expect(clippy::cast_possible_truncation, reason = "a small count")]
    let steps = steps as u32;
    let smaller = match footprint.radius() {
        Some(radius) => Footprint::circle(radius - 1e-3).unwrap(),
        None => Footprint::rect(footprint.size().x - 2e-3, footprint.size().y - 2e-3).unwrap(),
    };
    (0..=steps)
        .all(|step| !terrain.overlaps(&smaller, from.lerp(to, step as f32 / steps as f32), &WallFilter::ALL))
}

properties! {
    400;

    #[test]
    fn a_slide_among_obstacles_or_tiles_stays_clear(
        met >= 75;
        scene in scene(), grid in random_map(), slopes in random_slopes(), which in 0usize..3,
        footprint in footprint(), x in -8.0f32..8.0, y in -8.0f32..8.0, angle in 0.0f32..6.3, power in -0.5f32..1.5,
    ) {
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * 10f32.powf(power));
        let both = [&scene as &dyn Terrain, &grid, &slopes][which];
        prop_assume!(!both.overlaps(&footprint, from, &WallFilter::ALL));
        let result = slide(&both, &footprint, from, motion(way), &WallFilter::ALL);
        met.when(!result.contacts.is_empty());
        let mut stops: Vec<Vec2> = result.contacts.iter().map(|contact| contact.position).collect();
        stops.insert(0, from);
        stops.push(result.position);
        for leg in stops.windows(2) {
            prop_assert!(is_clear(&both, &footprint, leg[0], leg[1]), "{leg:?} of {result:?}");
        }
        prop_assert!(!both.overlaps(&footprint, result.position, &WallFilter::ALL), "{result:?}");
        prop_assert!(result.velocity.length() <= way.length() * 60.0 * 1.000_01);
        prop_assert_eq!(slide(&both, &footprint, from, motion(way), &WallFilter::ALL), result);
    }
}

/// The same scene with its walls in another order, or each of them changed.
fn rebuilt<'a>(walls: impl Iterator<Item = &'a Solid>, change: impl Fn(Vec2) -> Vec2) -> World {
    let mut scene = World::new();
    for wall in walls {
        scene.add(match wall {
            Solid::Box { area, .. } => Solid::box_from_corners(change(area.min), change(area.max)).unwrap(),
            Solid::Circle { center, radius, .. } => Solid::circle(change(*center), *radius).unwrap(),
            Solid::Segment { from, to, .. } => Solid::segment(change(*from), change(*to)).unwrap(),
            Solid::Polygon(polygon) => {
                let corners: Vec<Vec2> = polygon.corners().iter().map(|corner| change(*corner)).collect();
                Polygon::new(&corners).unwrap().into()
            }
            other => *other,
        });
    }
    scene
}

properties! {
    400;

    #[test]
    fn the_order_of_walls_does_not_show_and_a_mirror_only_mirrors(
        met >= 120;
        scene in scene(), footprint in footprint(), x in -8.0f32..8.0, y in -8.0f32..8.0,
        angle in 0.0f32..6.3, bounces in any::<bool>(),
    ) {
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * 6.0);
        prop_assume!(!scene.overlaps(&footprint, from, &WallFilter::ALL));
        let response = if bounces { Response::bounce(1.0) } else { Response::Slide };
        let plain = resolve(&scene, &footprint, from, motion(way), &WallFilter::ALL, |_| response);
        met.when(!plain.contacts.is_empty());
        let walls: Vec<Solid> = scene.walls().map(|(_, solid)| *solid).collect();
        let backwards = rebuilt(walls.iter().rev(), |place| place);
        let other = resolve(&backwards, &footprint, from, motion(way), &WallFilter::ALL, |_| response);
        prop_assert_eq!((other.position, other.velocity), (plain.position, plain.velocity));

        let mirror = |v: Vec2| vec2(v.x, -v.y);
        let mirrored = rebuilt(walls.iter(), mirror);
        let other = resolve(&mirrored, &footprint, mirror(from), motion(mirror(way)), &WallFilter::ALL, |_| response);
        // A rebound off a curve multiplies the last bit of where it was met.
        prop_assert!(mirror(other.position).distance(plain.position) < 1e-3, "{other:?} against {plain:?}");
        if bounces {
            prop_assert!((plain.velocity.length() - way.length() * 60.0).abs() < 0.01, "the speed is kept: {plain:?}");
        }
    }
}

properties! {
    24;

    #[test]
    fn any_drive_walks_among_obstacles_and_gets_into_none(
        met >= 20;
        scene in scene(), round in any::<bool>(), x in -4i8..=4,
        wishes in prop::collection::vec((wish(), 1u16..30), 1..5),
    ) {
        let footprint = if round { Footprint::circle(0.3).unwrap() } else { Footprint::rect(0.6, 0.5).unwrap() };
        let from = vec2(f32::from(x), 0.0);
        prop_assume!(!scene.overlaps(&footprint, from, &WallFilter::ALL));
        // Every tick is checked there; that its length does not show is a property of its own.
        for drive in all_drives() {
            let (end, contacts) = play_any(drive, footprint, from, &wishes, 4, &scene);
            met.when(contacts > 0);
            prop_assert!(!scene.overlaps(&footprint, end, &WallFilter::ALL), "{drive:?}: {end}");
        }
    }
}

#[test]
fn ids_of_removed_obstacles_never_come_back() {
    let mut scene = World::new();
    let post = Solid::circle(Vec2::ZERO, 1.0).unwrap();
    let first = scene.add(post);
    assert_eq!(scene.remove(first), Some(post));
    let second = scene.add(post);
    assert_ne!(first, second);
    assert_eq!((scene.remove(first), scene.place(first, post)), (None, false));
    assert_eq!(scene.solid(first), None);
    assert_eq!((scene.solid(second), scene.walls().count()), (Some(&post), 1));
    assert!(scene.place(second, Solid::circle(Vec2::ONE, 2.0).unwrap()));
    assert_eq!(scene.walls().count(), 1);
}

/// A wall on other layers is hit by movers with these layers in their mask, and by no others, from either store of
/// cells.
#[test]
fn a_wall_on_other_layers_is_met_by_those_whose_mask_has_them() {
    let mut scene = World::new();
    let far = (0..40u8).map(|place| vec2(f32::from(place) * 20.0, 500.0));
    far.for_each(|at| {
        scene.add(Solid::circle(at, 1.0).unwrap());
    });
    let gate = scene.add(Solid::box_from_corners(vec2(4.0, -5.0), vec2(6.0, 5.0)).unwrap());
    let cart = Footprint::rect(2.0, 2.0).unwrap();
    let meets = |scene: &World, layers: Layers| {
        let filter = WallFilter::on(layers);
        let met = scene.sweep(&cart, Vec2::ZERO, vec2(9.0, 0.0), &filter).is_some();
        assert_eq!(met, scene.overlaps(&cart, vec2(5.0, 0.0), &filter));
        let mut found = 0;
        scene.walls_in(Aabb::from_corners(vec2(3.0, -1.0), vec2(7.0, 1.0)), &filter, &mut |_| found += 1);
        assert_eq!(met, found == 1);
        met
    };
    assert!(meets(&scene, Layers::FIRST) && !meets(&scene, Layers::bit(3)));
    assert!(scene.set_layers(gate, Layers::bit(3)));
    assert!(!meets(&scene, Layers::FIRST) && meets(&scene, Layers::bit(3)));
    assert!(meets(&scene, Layers::ALL));
    scene.remove(gate);
    assert!(!scene.set_layers(gate, Layers::FIRST) && !meets(&scene, Layers::ALL));
}

/// Nothing here is a sensible question; none may panic or take long.
#[rstest]
fn senseless_places_and_speeds_do_no_harm(
    #[values(f32::NAN, f32::INFINITY, 1e30, -1e9)] place: f32,
    #[values(f32::NAN, f32::NEG_INFINITY, 1e30, 1e-40, 5.0)] speed: f32,
    #[values(true, false)] round: bool,
    #[values(true, false)] free: bool,
) {
    use ambulant::terrain::Outside;
    let grid = map(&["....", ".##.", "...."]).with_outside(if free { Outside::Open } else { Outside::Block });
    let mut posts = World::new();
    posts.add(Solid::circle(vec2(1.0, 0.0), 0.5).unwrap());
    posts.add(Polygon::new(&[vec2(3.0, 0.0), vec2(4.0, 0.0), vec2(3.0, 1.0)]).unwrap().into());
    let footprint = if round { Footprint::circle(0.3).unwrap() } else { Footprint::rect(0.5, 0.5).unwrap() };
    for at in [vec2(place, 0.0), vec2(0.0, place), vec2(place, place), vec2(-1.5, -1.2)] {
        let velocity = vec2(speed, -speed);
        let both = (&grid, &posts);
        let end = slide(&both, &footprint, at, motion(velocity), &WallFilter::ALL).position;
        // What is no number ends nowhere; a walker, below, never takes such a way.
        assert!(end.is_finite() || !(at + velocity).is_finite(), "from {at} by {velocity} to {end}");
        // Whether a place that is no number lies in a wall is not promised, only that the question is answered.
        let _ = both.overlaps(&footprint, at, &WallFilter::ALL);
        let support = both.wall_continues(&footprint, at, velocity, Vec2::X, &WallFilter::ALL);
        assert!((0.0..=1.0).contains(&support), "{support}");
        let mut walker = Walker::new(at, footprint, Gait::new(4.0, 30.0, 40.0).unwrap());
        walker.velocity = velocity;
        for _ in 0..3 {
            let before = walker.position;
            let result = walker.tick(Intent::new(vec2(1.0, 1.0)), 0.1, &both);
            let bits = |place: Vec2| place.to_array().map(f32::to_bits);
            assert_eq!(bits(result.position), bits(walker.position));
            assert!(!before.is_finite() || !walker.position.is_nan(), "from {before} to {}", walker.position);
        }
    }
}

#[rstest]
fn a_mover_leaves_a_curve_when_its_wish_leads_away(#[values(-1.0, 0.0)] belt: f32) {
    let mut posts = World::new();
    posts.add(Solid::circle(Vec2::ZERO, 3.0).unwrap());
    let gait = Gait::new(10.0, 140.0, 140.0).unwrap();
    let world = (posts, Surface::PLAIN.with_belt(vec2(0.0, -belt)).unwrap());
    let mut moth = Walker::new(vec2(-6.0, -1.0), Footprint::circle(1.5).unwrap(), gait);
    for _ in 0..180 {
        let _ = moth.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &world);
        // Over the top it is pressed on by the belt at most, and never led down round the far side.
        assert!(moth.position.x < 0.5 || moth.position.y < -3.0 || belt != 0.0, "{}", moth.position);
    }
    // The grown post ends at 4.5; what was led round it would still be pressed against it.
    assert!(moth.position.x > 10.0, "{}", moth.position);
}

#[rstest]
#[case::settling_on_a_tile_beside_a_post(
    Footprint::circle(1.371_337_3), vec2(33.371_35, 71.391_55), vec2(-0.000_011_444_092, 0.002_685_546_9),
    Solid::circle(vec2(32.784_83, 74.602_23), 1.892_49),
)]
#[case::along_a_slant_within_its_tolerance(
    Footprint::rect(0.545_549_6, 1.805_200_5),
    vec2(6.903_495, 87.616_59),
    vec2(0.006_345_429_5, 0.000_180_855_4),
    Solid::segment(vec2(6.631_524, 88.519_196), vec2(7.970_738, 88.557_365))
)]
fn who_lies_between_two_walls_is_held_by_both(
    #[case] footprint: Result<Footprint, ambulant::InvalidNumber>,
    #[case] from: Vec2,
    #[case] way: Vec2,
    #[case] wall: Result<Solid, ambulant::InvalidNumber>,
) {
    let mut rows = vec![".".repeat(12); 30];
    rows[17].replace_range(7..8, "#");
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(4.0).unwrap();
    let mut store = World::new();
    store.add(wall.unwrap());
    let (walls, footprint) = ((grid, store), footprint.unwrap());
    assert!(!walls.overlaps(&footprint, from, &WallFilter::ALL));
    let end = slide(&walls, &footprint, from, motion(way), &WallFilter::ALL).position;
    assert!(!walls.overlaps(&footprint, end, &WallFilter::ALL), "it ends in a wall at {end}");
}
