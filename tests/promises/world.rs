//! The world: the same answers as its parts, one id for each wall, and what a game says about them.

use std::collections::BTreeSet;

use ambulant::direction::Corner;
use ambulant::prelude::*;
use ambulant::terrain::Filtered;
use glam::IVec2;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{Dice, any_footprint, map, random_slopes};

/// A world of a map, some walls and a play area, each there or not, and the same parts apart.
fn parts(grid: &TileGrid, seed: u64, with: [bool; 3]) -> (World, TileGrid, World, Option<PlayArea>) {
    let mut dice = Dice::new(seed);
    let empty = map(&["."]).with_outside(Outside::Open).with_origin(Vec2::splat(1e6)).unwrap();
    let mut world = World::new();
    let mut walls = World::new();
    if with[0] {
        world = world.with_map(grid.clone());
    }
    for _ in 0..if with[1] { 6 } else { 0 } {
        let at = vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0));
        let solid = match dice.pick(3) {
            0 => Solid::circle(at, dice.number(0.2, 1.0)).unwrap(),
            1 => Solid::segment(at, at + vec2(dice.number(0.5, 2.0), dice.number(-2.0, 2.0))).unwrap(),
            _ => Solid::box_from_corners(at, at + vec2(dice.number(0.2, 2.0), 1.0)).unwrap(),
        };
        let layers = Layers::bit(u32::from(dice.pick(2) == 1));
        walls.add_on(layers, solid);
        world.add_on(layers, solid);
    }
    let area = with[2]
        .then(|| PlayArea::new(Vec2::splat(-7.0), Vec2::splat(7.0)).unwrap().with(Side::Top, EdgeRule::Open));
    if let Some(area) = area {
        world = world.with_play_area(area);
    }
    (world, if with[0] { grid.clone() } else { empty }, walls, area)
}

properties! {
    300;

    /// A world answers every question as a tuple of its parts does.
    #[test]
    fn a_world_is_met_like_its_parts(
        hits >= 820;
        grid in random_slopes(), footprint in any_footprint(), seed in any::<u64>(), with in any::<[bool; 3]>(),
    ) {
        let (world, grid, walls, area) = parts(&grid, seed, with);
        let open = PlayArea::new(Vec2::splat(-1e5), Vec2::splat(1e5)).unwrap().with_all(EdgeRule::Open);
        prop_assert_eq!(world.play_area(), area.as_ref());
        let tuple = (&grid, &walls, &area.unwrap_or(open));
        let mut dice = Dice::new(seed ^ 1);
        for _ in 0..8 {
            let at = vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0));
            let by = vec2(dice.number(-5.0, 5.0), dice.number(-5.0, 5.0));
            let mask = WallFilter::on([Layers::ALL, Layers::FIRST][dice.pick(2)]);
            let hit = world.sweep(&footprint, at, by, &mask);
            prop_assert_eq!(hit, tuple.sweep(&footprint, at, by, &mask));
            prop_assert_eq!(world.overlaps(&footprint, at, &mask), tuple.overlaps(&footprint, at, &mask));
            prop_assert_eq!(world.is_clear(&footprint, at, by, &mask), tuple.is_clear(&footprint, at, by, &mask));
            hits.when(hit.is_some());
            if let Some(hit) = hit {
                let along = hit.normal.perp() * 3.0;
                prop_assert_eq!(
                    world.wall_continues(&footprint, hit.position, along, hit.normal, &mask),
                    tuple.wall_continues(&footprint, hit.position, along, hit.normal, &mask)
                );
            }
        }
    }

    /// A map that is cut in two blocks like the whole one: the cut is no seam, and every tile has an id of its own.
    #[test]
    fn two_maps_side_by_side_are_met_like_one(
        found >= 460, walks >= 410;
        grid in random_slopes(), footprint in any_footprint(), seed in any::<u64>(), cut in 1i32..9,
    ) {
        let whole = World::new().with_map(grid.clone().with_outside(Outside::Open));
        let part = |columns: std::ops::Range<i32>| {
            let kind = |column: i32, row: i32| grid.kind_id(IVec2::new(column, row)).unwrap().index();
            let rows: Vec<Vec<usize>> =
                (0..10).map(|row| columns.clone().map(|column| kind(column, row)).collect()).collect();
            let map = TileGrid::from_indices(&rows, grid.kinds()).unwrap().with_outside(Outside::Open);
            map.with_origin(vec2(-5.0 + columns.start as f32, -5.0)).unwrap()
        };
        let mut cut_up = World::new();
        let left = cut_up.add_map(part(0..cut));
        let right = cut_up.add_map(part(cut..10));
        let in_whole = |wall: Wall| match wall {
            Wall::Tile(map, tile) if map == right => Wall::tile(tile + IVec2::new(cut, 0)),
            Wall::Tile(map, tile) if map == left => Wall::tile(tile),
            other => other,
        };
        let mut dice = Dice::new(seed);
        let mut mover = Walker::new(Vec2::ZERO, footprint, Gait::new(20.0, 300.0, 300.0).unwrap());
        for _ in 0..8 {
            let at = vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0));
            let by = vec2(dice.number(-5.0, 5.0), dice.number(-5.0, 5.0));
            prop_assert_eq!(
                cut_up.overlaps(&footprint, at, &WallFilter::ALL),
                whole.overlaps(&footprint, at, &WallFilter::ALL)
            );
            // What a mover that starts inside a wall meets depends on what it ignores.
            if whole.overlaps(&footprint, at, &WallFilter::ALL) {
                continue;
            }
            let hits = [&whole, &cut_up].map(|world| world.sweep(&footprint, at, by, &WallFilter::ALL));
            prop_assert_eq!(hits[0].is_some(), hits[1].is_some(), "{:?}", hits);
            found.when(hits[0].is_some());
            if let [Some(one), Some(two)] = hits {
                prop_assert!((one.fraction - two.fraction).abs() * by.length() < 1e-5, "{one:?} {two:?}");
                prop_assert!(one.normal.distance(two.normal) < 1e-5, "{one:?} {two:?}");
                // At a corner of two tiles, either may be named.
                let Wall::Tile(_, tile) = in_whole(two.wall) else { return Err(TestCaseError::fail("no tile")) };
                prop_assert!(grid.blocks(tile), "{two:?}");
                let touched = grid.tile_area(tile).center().distance(two.point);
                prop_assert!(touched < 0.8, "{two:?} is not at its tile");
            }
            // Whether a circle stays on a corner can hang on its last bit.
            if footprint.radius().is_some() {
                continue;
            }
            (mover.position, mover.velocity) = (at, Vec2::ZERO);
            let mut other = mover;
            walks.when(true);
            for _ in 0..10 {
                let (one, two) = (mover.tick(Intent::new(by), 0.1, &whole), other.tick(Intent::new(by), 0.1, &cut_up));
                prop_assert!(one.position.distance(two.position) < 1e-4, "{one} {two}");
            }
        }
    }

    /// The game's tag of a wall comes with every hit on it, with every contact and in every list of walls.
    #[test]
    fn every_hit_reports_the_tag_of_its_wall(
        hits >= 1000, contacts >= 1500;
        grid in random_slopes(), footprint in any_footprint(), seed in any::<u64>(),
    ) {
        let (mut world, ..) = parts(&grid, seed, [true; 3]);
        let mut dice = Dice::new(seed ^ 2);
        let tag = |dice: &mut Dice| u32::try_from(1 + dice.pick(99)).unwrap();
        let standing: Vec<Wall> = world.walls().map(|(wall, _)| wall).collect();
        let tiles = (0..10).flat_map(|y| (0..10).map(move |x| Wall::tile(IVec2::new(x, y))));
        let edges = [Side::Left, Side::Right, Side::Bottom].map(Wall::Edge);
        for wall in standing.into_iter().chain(tiles).chain(edges) {
            prop_assert!(world.set_tag(wall, tag(&mut dice)));
        }
        let mut mover = Walker::new(Vec2::ZERO, footprint, Pace::new(20.0).unwrap());
        for _ in 0..8 {
            let at = vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0));
            let by = vec2(dice.number(-5.0, 5.0), dice.number(-5.0, 5.0));
            let tags = |wall: Wall, tag: u32| world.tag(wall) == tag && (tag != 0 || matches!(wall, Wall::Tile(..)));
            if let Some(hit) = world.sweep(&footprint, at, by, &WallFilter::ALL) {
                hits.when(hit.tag != 0);
                prop_assert!(tags(hit.wall, hit.tag), "{hit:?}");
            }
            mover.position = at;
            let result = mover.tick(Intent::new(by), 0.3, &world);
            contacts.when(!result.contacts.is_empty());
            prop_assert!(result.contacts.iter().all(|contact| tags(contact.wall, contact.tag)), "{result}");
            let mut wrong = 0;
            world.walls_in(Aabb::from_corners(at, at + by), &WallFilter::ALL, &mut |found| {
                wrong += usize::from(!tags(found.wall, found.tag));
            });
            prop_assert_eq!(wrong, 0);
        }
    }

    /// A mover that a game places elsewhere, with another velocity, goes on like one that was made there: nothing of its past
    /// is left.
    #[test]
    fn a_mover_that_is_placed_elsewhere_is_like_a_new_one(
        placed >= 590, met >= 380;
        grid in random_slopes(), footprint in any_footprint(), seed in any::<u64>(),
    ) {
        let (world, ..) = parts(&grid, seed, [true; 3]);
        let mut dice = Dice::new(seed ^ 3);
        let drive = Gait::new(20.0, 90.0, 90.0).unwrap();
        let free = |at: &Vec2| !world.overlaps(&footprint, *at, &WallFilter::ALL);
        let start = (0..50).map(|_| vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0))).find(free);
        prop_assume!(start.is_some());
        let mut mover = Walker::new(start.unwrap(), footprint, drive);
        let mut residues = 0;
        for _ in 0..16 {
            let intent = Intent::new(vec2(dice.number(-1.0, 1.0), dice.number(-1.0, 1.0)));
            let _ = mover.tick(intent, 0.1, &world);
            let is_rounded = mover.exact_position() != mover.position.as_dvec2()
                && mover.momentum().exact_velocity() != mover.velocity.as_dvec2();
            residues += usize::from(is_rounded);
            let elsewhere = vec2(dice.number(-6.0, 6.0), dice.number(-6.0, 6.0));
            if world.overlaps(&footprint, elsewhere, &WallFilter::ALL) {
                continue;
            }
            mover.position = elsewhere;
            mover.velocity = vec2(dice.number(-20.0, 20.0), 0.0);
            let mut fresh = Walker::new(mover.position, footprint, drive);
            fresh.velocity = mover.velocity;
            let mut moved = mover;
            let result = moved.tick(intent, 0.1, &world);
            placed.when(true);
            met.when(!result.contacts.is_empty());
            prop_assert_eq!(&result, &fresh.tick(intent, 0.1, &world));
            prop_assert_eq!(moved.exact_position(), fresh.exact_position());
        }
        prop_assert!(residues > 0, "it never had a rounding error");
    }

    /// A mover passes through its own wall and no other.
    #[test]
    fn a_mover_ignores_its_own_wall_only(
        footprint in any_footprint(), way in 0.0f32..6.3, distance in 3.0f32..9.0, own in any::<bool>(),
    ) {
        let mut world = World::new();
        let mut mover = Walker::new(Vec2::ZERO, footprint, Pace::new(60.0).unwrap());
        let body = world.add(footprint.solid_at(mover.position));
        let post = world.add(Solid::circle(Vec2::from_angle(way) * distance, 0.5).unwrap());
        mover.own_wall = Some(if own { body } else { post });
        let result = mover.tick(Intent::new(Vec2::from_angle(way)), 0.5, &world);
        let met: Vec<Wall> = result.contacts.iter().map(|contact| contact.wall).collect();
        prop_assert!(!met.contains(&mover.own_wall.unwrap()), "{met:?}");
        prop_assert!(!own || met.contains(&post), "{result}");
    }

    /// No id of a world names another wall, also after walls were removed, and ids sort as numbers do.
    #[test]
    fn an_id_of_a_world_never_names_another_wall(removed >= 1500; steps in prop::collection::vec(0usize..6, 1..40)) {
        let mut world = World::new().with_map(map(&["#.", ".#"]));
        let solid = |place: usize| Solid::circle(vec2(place as f32, 0.0), 1.0).unwrap();
        let (mut all, mut standing) = (BTreeSet::new(), Vec::new());
        for (place, step) in steps.iter().enumerate() {
            if *step > 2 && !standing.is_empty() {
                let (wall, was) = standing.swap_remove(step % standing.len());
                removed.when(true);
                prop_assert_eq!(world.remove(wall), Some(solid(was)));
                prop_assert_eq!((world.remove(wall), world.solid(wall).copied(), world.place(wall, solid(0))), (None, None, false));
            } else {
                let wall = world.add(solid(place));
                prop_assert!(all.insert(wall), "{wall} was there before");
                standing.push((wall, place));
            }
        }
        prop_assert!(standing.iter().all(|(wall, place)| world.solid(*wall) == Some(&solid(*place))));
        prop_assert_eq!(world.walls().count(), standing.len());
    }
}

#[test]
fn a_tag_is_that_of_the_wall_or_of_its_kind() {
    let legend = Legend::new()
        .with('#', TileKind::wall("bed").with_tag(3))
        .with('/', TileKind::half("frame", Corner::TopLeft))
        .with('.', TileKind::floor("path"));
    let grid = TileGrid::from_rows(&["#/.", "#.."], &legend).unwrap();
    let mut world = World::new().with_map(grid).with_y_axis(YAxis::Up);
    let (bed, other) = (Wall::tile(IVec2::ZERO), Wall::tile(IVec2::Y));
    world.set_tag(other, 9);
    let post = world.add(Solid::circle(Vec2::ZERO, 1.0).unwrap());
    assert_eq!(
        [bed, other, post, Wall::Edge(Side::Top), Wall::tile(IVec2::X)].map(|wall| world.tag(wall)),
        [3, 9, 0, 0, 0]
    );
    world.set_tag(post, 5);
    world.set_tag(other, 0);
    assert_eq!([bed, other, post].map(|wall| world.tag(wall)), [3, 3, 5]);
    world.remove(post);
    assert_eq!((world.tag(post), world.map().unwrap().y_axis()), (0, YAxis::Up));
}

#[rstest]
#[case::all_of_it(Aabb::from_corners(vec2(-9.0, -9.0), vec2(9.0, 9.0)), 4)]
#[case::a_corner(Aabb::from_corners(vec2(0.2, 0.2), vec2(0.8, 0.8)), 1)]
fn outlines_in_an_area_are_those_of_walls_there(#[case] area: Aabb, #[case] number: usize) {
    let grid = map(&["#."]).with_origin(Vec2::ZERO).unwrap().with_tile_size(1.0).unwrap();
    let mut world = World::new().with_map(grid.with_outside(Outside::Open));
    for x in [4.0, 6.0, 8.0] {
        world.add(Solid::circle(vec2(x, 0.0), 0.5).unwrap());
    }
    let mut found = 0;
    world.outlines_in(area, |_| found += 1);
    assert_eq!(found, number);
}

#[test]
fn movers_that_block_each_other_meet_and_are_gone_when_removed() {
    let (mut world, feet) = (World::new(), Footprint::rect(1.0, 1.0).unwrap());
    let [own, other] = [vec2(0.0, 0.0), vec2(3.0, 0.0)].map(|at| world.add(feet.solid_at(at)));
    let mut walker = Walker::new(Vec2::ZERO, feet, Gait::new(4.0, 1e3, 1e3).unwrap());
    let right = Intent::new(vec2(1.0, 0.0));
    let own = [own];
    let others = WallFilter::ALL.except(&own);
    let result = walker.tick(right, 1.0, &Filtered::new(&world, others));
    assert_eq!((walker.position.x, result.contacts.iter().next().unwrap().wall), (2.0, other));
    world.remove(other);
    assert!(walker.tick(right, 1.0, &Filtered::new(&world, others)).contacts.is_empty());
}

#[test]
fn each_map_has_its_own_tiles_tags_and_hits() {
    let pots = map(&["#."]).with_origin(vec2(10.0, 0.0)).unwrap();
    let mut world = World::new().with_map(map(&["#."]));
    let pots = world.add_map(pots);
    let (bed, pot) = (Wall::tile(IVec2::ZERO), Wall::Tile(pots, IVec2::ZERO));
    let kind = world.map().unwrap().kind_id(IVec2::ZERO).unwrap();
    assert!(world.set_tag(pot, 5) && (world.tag(bed), world.tag(pot)) == (0, 5));
    world.set_kind_hits_on(pots, kind, 2);
    assert_eq!((world.hits_left(bed), world.hits_left(pot)), (None, Some(2)));
    assert!(!world.strike(pot).broke && world.strike(pot).broke);
    let blocks = world.maps().map(|(_, map)| map.blocks(IVec2::ZERO));
    assert!(blocks.eq([true, false]));
    assert_eq!((pot.to_string().as_str(), bed.to_string().as_str()), ("tile 0,0 of map 1", "tile 0,0"));
    // Only the first map is walled outside.
    assert_eq!(world.map_by_id(pots).map(TileGrid::outside), Some(Outside::Open));
    assert!(world.map_by_id_mut(pots).is_some_and(|map| map.set(IVec2::ZERO, kind).is_ok()));
}

/// A ledge only has closed sides; it is removed like a bed, and what is left is a kind that closes nothing.
#[test]
fn a_ledge_is_removed_like_a_bed() {
    let ledge = TileKind::floor("ledge").closed_from(Side::Top);
    let legend = Legend::new().with('^', ledge).with('.', TileKind::floor("path"));
    let mut world = World::new().with_map(TileGrid::from_rows(&["^."], &legend).unwrap());
    assert!(world.remove(Wall::tile(IVec2::ZERO)).is_some());
    assert_eq!(world.map().unwrap().kind(IVec2::ZERO).unwrap().name(), "path");
    assert_eq!(world.remove(Wall::tile(IVec2::ZERO)), None);
}
