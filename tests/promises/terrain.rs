//! Walls and which movers collide with them: layers, closed sides, half-tiles, play areas, cells, rays.

use ambulant::direction::{Angle, Corner, Side};
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Polygon, Solid};
use ambulant::terrain::{
    Filtered, FoundWall, GridError, Layers, Outside, PlayArea, Terrain, Wall, WallFilter, World, ray,
    walls_at,
};
use ambulant::travel::slide;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{any_footprint, map, random_map, random_slopes};

fn still(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement, Angle::ZERO)
}

/// World from a hundredth of a unit to a hundred units, near and far, some of them moved or removed.
fn crowd() -> impl Strategy<Value = Vec<(u8, f32, f32, f32, u8)>> {
    let wall = (0u8..4, -2.0f32..2.0, -40.0f32..40.0, -40.0f32..40.0, 0u8..6);
    prop::collection::vec(wall, 1..120)
}

fn solid(kind: u8, size: f32, at: Vec2) -> Solid {
    let solid = match kind {
        0 => Solid::box_from_corners(at - size, at + size * 0.5),
        1 => Solid::circle(at, size),
        2 => Solid::segment(at - size, at + vec2(size, 0.3 * size)),
        _ => Ok(Polygon::new(&[at, at + vec2(size, 0.0), at + vec2(0.2 * size, size)]).unwrap().into()),
    };
    solid.unwrap()
}

properties! {
    300;

    #[test]
    fn cells_find_what_a_look_at_every_wall_finds(
        hits >= 65, overlaps >= 140;
        crowd in crowd(), footprint in any_footprint(), x in -60.0f32..60.0, y in -60.0f32..60.0,
        angle in 0.0f32..6.3, power in -2.0f32..4.0,
    ) {
        let mut store = World::new();
        let mut ids: Vec<Wall> = Vec::new();
        for &(kind, power, x, y, fate) in &crowd {
            ids.push(store.add(solid(kind, 10f32.powf(power), vec2(x, y))));
            let chosen = ids[usize::from(fate) * ids.len() / 6];
            match fate {
                1 => { store.remove(chosen); }
                2 => { store.place(chosen, solid(kind, 10f32.powf(-power), vec2(y, x))); }
                _ => {}
            }
        }
        let all: Vec<FoundWall> = store
            .walls()
            .map(|(id, solid)| FoundWall::new(id, *solid))
            .collect();
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * 10f32.powf(power));
        let found = store.sweep(&footprint, from, way, &WallFilter::ALL);
        let looked = all[..].sweep(&footprint, from, way, &WallFilter::ALL);
        prop_assert_eq!(found.map(|hit| hit.fraction), looked.map(|hit| hit.fraction));
        hits.when(found.is_some());
        let is_inside = all[..].overlaps(&footprint, from, &WallFilter::ALL);
        prop_assert_eq!(store.overlaps(&footprint, from, &WallFilter::ALL), is_inside);
        overlaps.when(is_inside);
    }

    #[test]
    fn a_mover_without_layers_goes_through_and_meets_nothing(
        walls >= 120;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, angle in 0.0f32..6.3,
    ) {
        let way = Vec2::from_angle(angle) * 7.0;
        walls.when(!slide(&grid, &footprint, vec2(x, x), still(way), &WallFilter::ALL).contacts.is_empty());
        let ghost = Filtered::new(&grid, Layers::NONE);
        let result = slide(&ghost, &footprint, vec2(x, x), still(way), &WallFilter::ALL);
        prop_assert!(result.contacts.is_empty());
        prop_assert_eq!(result.position, vec2(x, x) + way);
    }

    #[test]
    fn a_ray_agrees_with_points_along_it(
        hits >= 35;
        grid in random_map(), x in -5.0f32..5.0, y in -5.0f32..5.0, angle in 0.0f32..6.3, far in 0.5f32..8.0,
    ) {
        let grid = grid.with_outside(Outside::Open);
        let (from, to) = (vec2(x, y), vec2(x, y) + Vec2::from_angle(angle) * far);
        prop_assume!(!grid.blocks(grid.tile_at(from)));
        let hit = ray(&grid, from, to, &WallFilter::ALL);
        hits.when(hit.is_some());
        let clear = hit.map_or(1.0, |hit| hit.fraction);
        // Just before the hit there is no wall, and just behind there is one.
        for step in 0u8..200 {
            let part = f32::from(step) / 200.0 * clear;
            let point = from.lerp(to, part);
            let tile = grid.tile_area(grid.tile_at(point));
            let rim = (point - tile.min).min(tile.max - point).min_element();
            prop_assert!(!grid.blocks(grid.tile_at(point)) || rim < 1e-4, "{point} of {hit:?}");
        }
        if let Some(hit) = hit {
            let mut walls = Vec::new();
            walls_at(&grid, hit.point - hit.normal * 1e-3, &WallFilter::ALL, |found| walls.push(found.wall));
            prop_assert!(walls.contains(&hit.wall), "{hit:?} {walls:?}");
        }
    }
}

/// A legend with a kind for each special glyph.
fn legend() -> Legend {
    Legend::new()
        .with('#', TileKind::wall("bed"))
        .with('.', TileKind::floor("path"))
        .with('^', TileKind::floor("ledge").closed_from(Side::Top))
        .with('>', TileKind::floor("turnstile").closed_from(Side::Right))
        .with('/', TileKind::half("frame", Corner::BottomRight))
        .with('\\', TileKind::half("frame", Corner::BottomLeft))
        .with('n', TileKind::wall("net").with_layers(Layers::bit(3)))
}

#[rstest]
#[case::onto_a_ledge_from_above(&["...", "^^^", "..."], (1.5, 0.5), (0.0, 2.0), (1.5, 0.7))]
#[case::up_through_a_ledge(&["...", "^^^", "..."], (1.5, 2.5), (0.0, -2.0), (1.5, 0.5))]
#[case::along_a_ledge(&["...", "^^^", "..."], (0.5, 0.7), (2.0, 1.0), (2.5, 0.7))]
#[case::through_a_turnstile(&[".>."], (0.5, 0.5), (2.0, 0.0), (2.5, 0.5))]
#[case::back_against_a_turnstile(&[".>."], (2.5, 0.5), (-2.0, 0.0), (2.3, 0.5))]
fn a_closed_side_lets_out_and_not_in(
    #[case] rows: &[&str],
    #[case] from: (f32, f32),
    #[case] way: (f32, f32),
    #[case] end: (f32, f32),
    #[values(true, false)] round: bool,
) {
    let grid = TileGrid::from_rows(rows, &legend()).unwrap();
    let mover = if round { Footprint::circle(0.3) } else { Footprint::rect(0.6, 0.6) }.unwrap();
    let result = slide(&grid, &mover, from.into(), still(way.into()), &WallFilter::ALL);
    assert!(result.position.distance(end.into()) < 1e-5, "{result}");
    assert!(!grid.overlaps(&mover, result.position, &WallFilter::ALL));
}

#[rstest]
fn a_slope_of_half_tiles_is_one_wall(
    #[values(true, false)] round: bool,
    #[values(0.0, 0.13, 0.5, 0.77)] start: f32,
) {
    // Up a staircase of halves, over the top, down again: one slanted side each way.
    let rows = ["..........", "..........", "..../\\....", ".../##\\...", "../####\\..", "##########"];
    let grid = TileGrid::from_rows(&rows, &legend()).unwrap();
    let mover = if round { Footprint::circle(0.3) } else { Footprint::rect(0.6, 0.6) }.unwrap();
    let mut walker = Walker::new(vec2(0.5 + start, 4.7), mover, Gait::new(4.0, 50.0, 50.0).unwrap());
    let mut normals: Vec<Vec2> = Vec::new();
    while walker.position.x < 8.5 && normals.len() < 40 {
        let wish = Intent::new(vec2(1.0, if walker.position.x < 5.0 { 0.0 } else { 1.0 }));
        let result = walker.tick(wish, 1.0 / 60.0, &grid);
        for contact in result.contacts.iter() {
            if normals.last().is_none_or(|last| last.distance(contact.normal) > 1e-3) {
                normals.push(contact.normal);
            }
        }
        assert!(!grid.overlaps(&mover, walker.position, &WallFilter::ALL), "{result}");
    }
    assert!(normals.iter().all(|normal| normal.y < -0.5), "a seam was felt: {normals:?}");
}

#[rstest]
#[case::left(vec2(-40.0, 1.0), Side::Left)]
#[case::right(vec2(40.0, 1.0), Side::Right)]
#[case::top(vec2(1.0, -40.0), Side::Top)]
#[case::bottom(vec2(1.0, 40.0), Side::Bottom)]
fn bounds_hold_from_inside_at_any_distance(
    #[case] way: Vec2,
    #[case] side: Side,
    #[values(1.0, 1e3, 1e5)] at: f32,
) {
    let bounds = PlayArea::new(Vec2::splat(at - 10.0), Vec2::splat(at + 10.0)).unwrap();
    let ball = Footprint::circle(1.0).unwrap();
    let hit = bounds.sweep(&ball, Vec2::splat(at), way, &WallFilter::ALL).unwrap();
    assert_eq!(hit.wall, Wall::Edge(side));
    let off = (hit.position - Vec2::splat(at)).abs().max_element();
    assert!((off - 9.0).abs() <= 9.0 / 40.0 + 1e-2 * at / 1e5, "{hit:?}");
    assert!(!bounds.overlaps(&ball, hit.position, &WallFilter::ALL));
}

#[test]
fn tiles_change_at_run_time_or_are_refused_whole() {
    let mut grid = map(&["...", "...", "..."]);
    let bed = grid.kind_named("bed").unwrap();
    grid.fill(ivec2(0, 0), ivec2(1, 1), bed).unwrap();
    assert_eq!((0..9).filter(|index| grid.blocks(grid.tile_of_index(*index).unwrap())).count(), 4);
    let before = grid.clone();
    assert!(matches!(grid.fill(ivec2(1, 1), ivec2(3, 1), bed), Err(GridError::Outside { .. })));
    let other = TileGrid::from_indices(&[[0]], &every_kind()).unwrap();
    let (foreign, _) = other.kind_ids().last().unwrap();
    assert!(matches!(grid.set(ivec2(0, 0), foreign), Err(GridError::UnknownIndex { index: 6, .. })));
    assert_eq!(grid, before);
}

/// A map with tiles of every kind: which of these each tile is.
fn every_kind() -> Vec<TileKind> {
    vec![
        TileKind::floor("path"),
        TileKind::floor("moss"),
        TileKind::wall("bed"),
        TileKind::half("frame", Corner::BottomLeft),
        TileKind::floor("ledge").closed_from(Side::Top),
        TileKind::floor("turnstile").closed_from(Side::Right),
        TileKind::wall("pond").with_layers(Layers::bit(3)),
    ]
}

/// Rows of such tiles, most of them open.
fn any_tiles() -> impl Strategy<Value = Vec<Vec<usize>>> {
    let tile = prop::sample::select(vec![0usize, 0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 3, 4, 5, 6]);
    (2usize..14, 2usize..14).prop_flat_map(move |(columns, rows)| {
        prop::collection::vec(prop::collection::vec(tile.clone(), columns), rows)
    })
}

properties! {
    1000;

    #[test]
    fn a_map_changed_tile_by_tile_is_the_map_that_is_built_so(
        before in any_tiles(), changes in prop::collection::vec((0usize..14, 0usize..14, 0usize..7), 1..40),
    ) {
        let mut tiles = before;
        let mut grid = TileGrid::from_indices(&tiles, &every_kind()).unwrap();
        for (column, row, kind) in changes {
            let (column, row) = (column % tiles[0].len(), row % tiles.len());
            tiles[row][column] = kind;
            let id = grid.kind_ids().nth(kind).unwrap().0;
            grid.set(IVec2::new(column.try_into().unwrap(), row.try_into().unwrap()), id).unwrap();
        }
        prop_assert_eq!(grid, TileGrid::from_indices(&tiles, &every_kind()).unwrap());
    }

    #[test]
    fn what_is_clear_for_a_wide_footprint_is_clear_for_all_inside_it(
        close >= 140;
        tiles in any_tiles(), place in (0.0f32..1.0, 0.0f32..1.0), round in any::<bool>(), filter in 0u32..10,
        size in 0.05f32..1.2, wider in 0.0f32..0.6, aside in (-1.0f32..1.0, -1.0f32..1.0),
        angle in 0.0f32..6.3, far in 0.0f32..3.0, posts in prop::collection::vec((0.0f32..14.0, 0.0f32..14.0), 0..4),
    ) {
        let grid = TileGrid::from_indices(&tiles, &every_kind()).unwrap();
        let mut store = World::new();
        for (x, y) in posts {
            store.add(Solid::circle(vec2(x, y), 0.2).unwrap());
        }
        let made = |size: f32| if round { Footprint::circle(size * 0.5) } else { Footprint::rect(size, size) };
        let (wide, narrow) = (made(size + 2.0 * wider).unwrap(), made(size).unwrap());
        let from = grid.area().size() * vec2(place.0, place.1);
        let way = Vec2::from_angle(angle) * far;
        let (walls, filter) = ((&grid, &store), WallFilter::on(Layers::from_bits(filter)));
        prop_assume!(walls.is_clear(&wide, from, way, &filter));
        close.when(!walls.is_clear(&made(size + 2.0 * wider + 0.5).unwrap(), from, way, &filter));
        // Anywhere inside: for a circle as far as it may be off in any direction.
        let aside = Vec2::from(aside) * wider * if round { 0.7 } else { 1.0 };
        prop_assert!(!walls.overlaps(&narrow, from + aside, &filter));
        let hit = walls.sweep(&narrow, from + aside, way, &filter);
        // What only touches is no more than touched.
        prop_assert!(hit.is_none_or(|hit| hit.fraction * far > far - 1e-4 || wider < 1e-4), "{:?}", hit);
    }
}

/// A terrain of one's own implements only `walls_in`.
struct Stones([Solid; 2]);

impl Terrain for Stones {
    fn walls_in(&self, _: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        for (number, solid) in self.0.into_iter().enumerate() {
            let wall = Wall::Own(u32::try_from(number).unwrap());
            if filter.wall(wall, Layers::FIRST) {
                see(FoundWall::new(wall, solid));
            }
        }
    }
}

#[test]
fn a_terrain_of_ones_own_is_walked_like_obstacles() {
    let solids = [Solid::circle(vec2(3.0, 0.2), 1.0).unwrap(), Solid::circle(vec2(6.0, -0.2), 1.0).unwrap()];
    let mut store = World::new();
    for solid in solids {
        store.add(solid);
    }
    let mut walkers =
        [Walker::new(Vec2::ZERO, Footprint::circle(0.5).unwrap(), Gait::new(5.0, 50.0, 50.0).unwrap()); 2];
    for _ in 0..200 {
        let _ = walkers[0].tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &Stones(solids));
        let _ = walkers[1].tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &store);
    }
    assert_eq!(walkers[0].position, walkers[1].position);
    assert!(walkers[0].position.x > 7.5);
}

#[rstest]
#[case::full('#')]
#[case::half('h')]
fn a_wall_holds_whoever_is_a_hair_away(#[case] glyph: char) {
    let legend = crate::scene::legend().with('h', TileKind::half("frame", Corner::BottomLeft));
    let grid = TileGrid::from_rows(&["...", &format!(".{glyph}."), "..."], &legend).unwrap();
    let (ball, gap) = (Footprint::circle(0.3).unwrap(), 2e-7);
    let held = |gap: f32| {
        grid.wall_continues(&ball, vec2(0.7 - gap, 1.4), vec2(0.0, 0.2), Vec2::NEG_X, &WallFilter::ALL)
    };
    assert_eq!((held(0.0), held(gap), held(4.0 * gap)), (1.0, 1.0, 0.0));
}

#[rstest]
#[case::nobody_minds_what_is_outside(1e-6, vec2(106.0, 106.0), vec2(67.0, 106.0), Layers::NONE)]
#[case::no_number(0.57, vec2(1.0, -1.7e38), vec2(f32::NAN, 0.57), Layers::ALL)]
fn a_way_past_more_tiles_than_can_be_counted_is_soon_at_its_end(
    #[case] tile: f32,
    #[case] origin: Vec2,
    #[case] way: Vec2,
    #[case] mask: Layers,
) {
    let grid = map(&["##.", "..."]).with_tile_size(tile).unwrap().with_origin(origin).unwrap();
    let table = Footprint::rect(120.0, 0.57).unwrap().with_offset(vec2(1.0, 127.0)).unwrap();
    assert_eq!(grid.sweep(&table, vec2(0.2, 0.1), way, &WallFilter::on(mask)), None);
}

/// Numbers as they come from anywhere: ordinary, huge, tiny, and those that are none.
fn any_number() -> impl Strategy<Value = f32> {
    prop_oneof![
        -10.0f32..10.0,
        any::<f32>(),
        prop::sample::select(vec![
            f32::MAX,
            f32::MIN,
            1e9,
            -3e9,
            1e-40,
            0.0,
            f32::NAN,
            f32::INFINITY,
            f32::NEG_INFINITY
        ])
    ]
}

properties! {
    4000;

    #[test]
    fn no_number_makes_a_question_panic(
        asked >= 780, finite >= 460;
        grid in random_slopes(),
        free in any::<bool>(),
        tile in (any_number(), any_number()),
        origin in (any_number(), any_number()),
        filter in any::<bool>(),
        size in (any_number(), any_number()),
        round in any::<bool>(),
        at in (any_number(), any_number()),
        way in (any_number(), any_number()),
        reach in any_number(),
    ) {
        let made = if round { Footprint::circle(size.0) } else { Footprint::rect(size.0, size.1) };
        let Ok(footprint) = made else { return Ok(()) };
        asked.when(true);
        let grid = grid.with_outside(if free { Outside::Open } else { Outside::Block });
        let sized = grid.clone().with_tile_dimensions(tile.0, tile.1).unwrap_or(grid);
        let grid = sized.clone().with_origin(origin.into()).unwrap_or(sized);
        let filter = WallFilter::on(if filter { Layers::FIRST } else { Layers::NONE });
        let mut store = World::new();
        store.add(Solid::circle(vec2(1.0, 1.0), 0.5).unwrap());
        let walls = (grid, store);
        let (at, way) = (Vec2::from(at), Vec2::from(way));
        finite.when(at.is_finite() && (at + way).is_finite());
        let result = slide(&Filtered::new(&walls, filter), &footprint, at, still(way), &WallFilter::ALL);
        prop_assert!(result.position.is_finite() || !at.is_finite() || !(at + way).is_finite(), "{result}");
        let _ = walls.overlaps(&footprint, at, &filter);
        let _ = walls.wall_continues(&footprint, at, way, Vec2::Y, &filter);
        let _ = ambulant::travel::push_out(&walls, &footprint, at, reach, &WallFilter::ALL);
        let _ = walls.0.tiles_in(footprint.at(at)).next();
    }
}

/// A circle on a floor of so many tiles: it is held up to the floor's end, or as far as a grid looks, and never for more than
/// the whole way.
#[rstest]
fn a_floor_holds_a_circle_to_its_end(
    #[values(3u8, 20, 33, 60)] tiles: u8,
    #[values(0.5, 2.0, 5.0, 31.0, 40.0, 70.0)] way: f32,
    #[values(1.0, 7.3)] tile: f32,
) {
    let floor: String = (0..100).map(|place| if place < tiles { '#' } else { '.' }).collect();
    let above = ".".repeat(100);
    let grid =
        map(&[above.as_str(), floor.as_str()]).with_tile_size(tile).unwrap().with_origin(Vec2::ZERO).unwrap();
    let ball = Footprint::circle(0.4 * tile).unwrap();
    let from = vec2(0.5, 0.6) * tile;
    let held = grid.wall_continues(&ball, from, vec2(way, 0.0) * tile, vec2(0.0, -1.0), &WallFilter::ALL);
    let end = f32::from(tiles) - 0.5;
    assert!((0.0..=1.0).contains(&held), "{held}");
    let reached = held * way;
    if way <= 32.0 {
        assert!((reached - end.min(way)).abs() < 1e-3, "{reached} of {end}");
    } else {
        assert!(reached <= end.min(way) + 1e-3 && reached >= end.min(32.0) - 1e-3, "{reached} of {end}");
    }
}

/// Where tiles are finer than what an `f32` distinguishes, a sweep that leaves out the tile that it meets ends all the same.
#[rstest]
fn a_sweep_that_leaves_out_a_tile_ends_anywhere(#[values(1e9, 1e15, 1e30, -1e30)] place: f32) {
    let kinds = Legend::new().with('.', TileKind::floor("path"));
    let grid = TileGrid::from_rows(&["...", "..."], &kinds).unwrap();
    let moth = Footprint::rect(0.5, 0.5).unwrap();
    let mut meets = 0;
    for way in [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y, vec2(0.5, -0.5)] {
        for at in [vec2(place, 1.0), vec2(1.0, place), Vec2::splat(place)] {
            let Some(met) = grid.sweep(&moth, at, way, &WallFilter::ALL) else { continue };
            meets += 1;
            let known = [met.wall];
            let others = grid.sweep(&moth, at, way, &WallFilter::ALL.except(&known));
            assert!(others.is_none_or(|other| other.wall != met.wall), "{met:?}");
        }
    }
    assert!(meets > 0);
}
