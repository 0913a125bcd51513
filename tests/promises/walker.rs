//! Walkers: the tick length does not show, no seam is felt, a corner is left the way it was entered.

use crate::scene::{any_footprint, map, random_map};
use ambulant::direction::{Corner, Side};
use ambulant::drive::{AnyDrive, Drag, Falling, Glide, Helm, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::{Layers, Outside, Terrain, WallFilter, World};
use proptest::prelude::*;
use rstest::rstest;

fn gardener(at: Vec2, size: Vec2) -> Walker<Gait> {
    Walker::new(at, Footprint::rect(size.x, size.y).unwrap(), Gait::new(4.0, 30.0, 40.0).unwrap())
}

pub(crate) fn wish() -> impl Strategy<Value = Vec2> {
    (-1i8..=1, -1i8..=1).prop_map(|(x, y)| vec2(f32::from(x), f32::from(y)))
}

properties! {
    256;

    #[test]
    fn random_maps_are_walked_without_overlap_and_turn_over_with_the_world(
        met >= 120;
        grid in random_map(), place in (0.0f32..1.0, 0.0f32..1.0),
        wishes in prop::collection::vec((wish(), 1u16..40), 1..8),
    ) {
        let from = grid.center_of(grid.tile_at(grid.area().min + grid.area().size() * vec2(place.0, place.1)));
        let Walker { footprint, drive, .. } = gardener(from, vec2(0.6, 0.5));
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        let (end, contacts) = play_any(drive, footprint, from, &wishes, 2, &grid);
        met.when(contacts > 0);

        let up = grid.clone().with_y_axis(YAxis::Up).with_origin(grid.area().min * vec2(1.0, -1.0)).unwrap();
        let flip = |v: Vec2| vec2(v.x, -v.y);
        let wishes: Vec<_> = wishes.iter().map(|(wish, ticks)| (flip(*wish), *ticks)).collect();
        prop_assert_eq!(flip(play_any(drive, footprint, flip(from), &wishes, 2, &up).0), end);
    }
}

/// Every kind of drive, and what goes round one, in the size of a small map.
pub(crate) fn all_drives() -> Vec<AnyDrive> {
    let drag = Drag::per_second(4.0).unwrap();
    let helm = |steering| Helm::new(3.0, 16.0, drag, steering).unwrap();
    vec![
        Pace::new(4.0).unwrap().into(),
        Gait::new(4.0, 30.0, 40.0).unwrap().with_turning(60.0).unwrap().into(),
        Glide::new(16.0, drag, 0.1).unwrap().into(),
        helm(Steering::Toward).into(),
        helm(Steering::Wheel(YAxis::Down)).with_grip(5.0).unwrap().into(),
        helm(Steering::Toward).on_rails().into(),
    ]
}

/// Plays wishes, each for a number of 30ths of a second, with so many ticks in each of them, and checks every tick; returns the end
/// and the number of contacts.
pub(crate) fn play_any<D: Drive + Copy>(
    drive: D,
    footprint: Footprint,
    from: Vec2,
    wishes: &[(Vec2, u16)],
    ticks: u16,
    grid: &impl Terrain,
) -> (Vec2, usize) {
    let mut contacts = 0;
    let mut walker = Walker::new(from, footprint, drive);
    for (wish, thirtieths) in wishes {
        for _ in 0..thirtieths * ticks {
            let result = walker.tick(Intent::new(*wish), 1.0 / (30.0 * f32::from(ticks)), grid);
            assert!(walker.position.is_finite() && walker.velocity.is_finite(), "{result:?}");
            assert!(!grid.overlaps(&walker.footprint, walker.position, &WallFilter::ALL), "{result:?}");
            assert!(!result.contacts.is_cut_short(), "{result:?}");
            contacts += result.contacts.total();
        }
    }
    (walker.position, contacts)
}

properties! {
    32;

    #[test]
    fn any_drive_walks_any_map_and_those_that_do_not_steer_show_no_tick_length(
        met >= 170, compared >= 25;
        grid in random_map(), place in (0.0f32..1.0, 0.0f32..1.0), ground in (-2.0f32..2.0, -2.0f32..2.0),
        round in any::<bool>(),
        wishes in prop::collection::vec((wish(), 1u16..20), 1..5),
    ) {
        let from = grid.center_of(grid.tile_at(grid.area().min + grid.area().size() * vec2(place.0, place.1)));
        let footprint = if round { Footprint::circle(0.3).unwrap() } else { Footprint::rect(0.6, 0.5).unwrap() };
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        for drive in all_drives() {
            let wind = Surface::PLAIN.with_belt(vec2(ground.0, ground.1)).unwrap();
            let ends = [1, 4].map(|ticks| {
                let (end, contacts) = play_any(drive, footprint, from, &wishes, ticks, &(&grid, wind));
                met.when(contacts > 0);
                end
            });
            let falling = Falling::new(drive, vec2(0.0, 20.0), 6.0).unwrap();
            let falls = [1, 4].map(|ticks| play_any(falling, footprint, from, &wishes, ticks, &grid).0);
            // A circle may balance on a corner, where the last bit of the start decides.
            if !drive.steers() && !round {
                compared.when(true);
                prop_assert!(ends[0].distance(ends[1]) < 0.02, "{drive:?} carried: {ends:?}");
                prop_assert!(falls[0].distance(falls[1]) < 0.02, "{drive:?} falling: {falls:?}");
            }
        }
    }
}

/// A corridor of one free row (or column) between two long flush walls.
fn corridor(along_x: bool) -> TileGrid {
    let (wall, floor) = ("#".repeat(600), ".".repeat(600));
    if along_x { map(&[&wall, &floor, &wall]) } else { map(&vec!["#.#"; 600]) }
}

#[rstest]
fn a_wall_of_flush_tiles_is_one_wall(
    #[values(true, false)] along_x: bool,
    #[values(-1.0, 1.0)] way: f32,
    #[values(-1.0, 0.0, 1.0)] press: f32,
    #[values(0.3, 1.0)] width: f32,
) {
    let grid = corridor(along_x);
    let turned = |along: f32, across: f32| if along_x { vec2(along, across) } else { vec2(across, along) };
    let mut walker = gardener(turned(-299.0 * way, 0.0), turned(0.7, width));
    for _ in 0..10_000 {
        let result = walker.tick(Intent::new(turned(way, press)), 1.0 / 60.0, &grid);
        for contact in result.contacts.iter() {
            assert_eq!(contact.normal * turned(1.0, 0.0), Vec2::ZERO, "{contact}");
        }
        if walker.position.dot(turned(way, 0.0)) > 298.0 {
            walker.position = turned(-299.0 * way, walker.position.dot(turned(0.0, 1.0)));
        }
    }
}

#[rstest]
fn a_corner_is_left_the_way_it_was_entered(
    #[values(vec2(1.0, 1.0), vec2(-1.0, 1.0), vec2(1.0, -1.0), vec2(-1.0, -1.0))] into: Vec2,
) {
    let grid = map(&["....", "....", "....", "...."]);
    let mut walker = gardener(Vec2::ZERO, vec2(0.5, 0.5));
    for _ in 0..120 {
        let _ = walker.tick(Intent::new(into), 1.0 / 60.0, &grid);
    }
    assert_eq!((walker.position, walker.velocity), (into * 1.75, Vec2::ZERO));
    let result = walker.tick(Intent::new(-into), 1.0 / 60.0, &grid);
    assert!(result.contacts.is_empty());
    assert!((walker.position - into * 1.75).dot(-into) > 0.0);
}

#[test]
fn a_corridor_as_wide_as_the_footprint_is_walked() {
    let grid = map(&["#.#", "#.#", "#.#"]);
    let mut walker = gardener(vec2(0.0, -1.0), vec2(1.0, 1.0));
    for _ in 0..60 {
        let _ = walker.tick(Intent::new(vec2(0.3, 1.0)), 1.0 / 60.0, &grid);
    }
    assert_eq!(walker.position, vec2(0.0, 1.0));
}

#[rstest]
fn a_bad_time_or_wish_moves_nothing(#[values(0.0, -1.0, f32::NAN, f32::INFINITY)] dt: f32) {
    let mut walker = gardener(vec2(0.0, -1.0), vec2(0.5, 0.5));
    let before = walker;
    let _ = walker.tick(Intent::new(Vec2::X), dt, &corridor(false));
    assert_eq!(walker, before);
    let _ = walker.tick(Intent::new(vec2(f32::NAN, 1.0)), 0.1, &corridor(false));
    assert_eq!(walker, before);
}

#[rstest]
fn a_speed_beyond_all_numbers_is_no_panic(
    #[values(f32::MAX, f32::INFINITY, f32::NAN)] speed: f32,
    #[values(0, 1, 2, 3, 4, 5)] drive: usize,
    #[values(true, false)] round: bool,
) {
    let legend = crate::scene::legend().with('h', TileKind::half("frame", Corner::TopRight));
    let grid = TileGrid::from_rows(&[".h.", "..h", "h.."], &legend).unwrap().with_outside(Outside::Open);
    let mut posts = World::new();
    posts.add(Solid::segment(vec2(0.0, 1.0), vec2(3.0, 1.4)).unwrap());
    let footprint = if round { Footprint::circle(0.2) } else { Footprint::rect(0.4, 0.3) }.unwrap();
    let mut walker = Walker::new(vec2(1.5, 1.6), footprint, all_drives()[drive]);
    walker.velocity = vec2(speed, -speed);
    for _ in 0..3 {
        let result = walker.tick(Intent::new(vec2(1.0, -0.3)), 0.1, &(&grid, &posts));
        assert_eq!(result.position.is_finite(), walker.position.is_finite());
    }
}

#[test]
fn who_falls_back_and_forth_between_two_corners_sinks_into_neither() {
    // A circle between a bed's corner and a post's, that falls one way and is wished the other: the touch is looked for in
    // more steps than there are.
    let mut rows = vec![".".repeat(14); 14];
    rows[12].replace_range(11..12, "#");
    let grid = TileGrid::from_rows(&rows, &crate::scene::legend()).unwrap().with_tile_size(4.0).unwrap();
    let mut post = World::new();
    post.add(Solid::box_from_corners(vec2(48.429_966, 47.644_066), vec2(51.688_637, 49.925_137)).unwrap());
    let walls = (grid, post);
    let gait = Gait::new(452.4283, 3619.4265, 4524.283).unwrap();
    let falling = Falling::new(gait, vec2(0.0, 2262.1416), 452.4283).unwrap();
    let round = Footprint::circle(0.484_501_12).unwrap();
    let mut walker = Walker::new(vec2(47.96284, 47.515_472), round, falling);
    walker.velocity = vec2(0.105_470_054, -0.383_127_6);
    let residue = glam::dvec2(-6.691_321e-7, 1.413_562_1e-6);
    walker.set_exact_position(walker.position.as_dvec2() + residue);
    let result = walker.tick(Intent::new(vec2(0.129_769_38, -0.991_544_25)), 1.0 / 144.0, &walls);
    assert!(!walls.overlaps(&round, walker.position, &WallFilter::ALL), "{result}");
}

properties! {
    512;

    #[test]
    fn nobody_gets_in_through_a_closed_side(
        held >= 240;
        side in prop::sample::select(vec![Side::Left, Side::Right, Side::Top, Side::Bottom]),
        drive in 0usize..6, footprint in any_footprint(), off in 0.0f32..1.0, ticks in 1u16..8,
        wishes in prop::collection::vec((wish(), 1u16..20), 1..8),
    ) {
        // A row of ledges across the middle; out of them to any side, into them from the others only.
        let legend = crate::scene::legend().with('^', TileKind::floor("ledge").closed_from(side));
        let across = matches!(side, Side::Top | Side::Bottom);
        let glyph = |x: usize, y: usize| if (if across { y } else { x }) == 4 { '^' } else { '.' };
        let rows: Vec<String> = (0..9).map(|y| (0..9).map(|x| glyph(x, y)).collect()).collect();
        let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_origin(Vec2::splat(-4.5)).unwrap();
        let outward = match side {
            Side::Left => Vec2::NEG_X,
            Side::Right => Vec2::X,
            Side::Top => Vec2::NEG_Y,
            Side::Bottom => Vec2::Y,
        };
        let reach = (footprint.size() * 0.5).dot(outward.abs());
        let mut walker = Walker::new(outward * (0.5 + reach + off), footprint, all_drives()[drive]);
        let mut was_held = false;
        for (wish, thirtieths) in wishes {
            for _ in 0..thirtieths * ticks {
                // Toward the ledges, more often than not.
                let intent = Intent::new(wish - outward);
                let result = walker.tick(intent, 1.0 / (30.0 * f32::from(ticks)), &grid);
                was_held |= !result.contacts.is_empty();
                let gap = f64::from(walker.position.dot(outward) - reach - 0.5);
                prop_assert!(gap >= -ambulant::touch_tolerance(4.0), "{gap} at {}", walker.position);
            }
        }
        held.when(was_held);
    }
}

/// The demo's room with a net, a step, mud and slanted frames, and a few round things in it.
fn glasshouse() -> (TileGrid, World) {
    let demo = include_str!("../../demo/door_and_net.toml");
    let rows: Vec<String> = demo
        .lines()
        .skip_while(|line| !line.starts_with("rows"))
        .filter_map(|line| Some(line.trim().strip_prefix('"')?.strip_suffix("\",")?.replace("\\\\", "\\")))
        .take_while(|row| !row.is_empty())
        .collect();
    let half = |corner| TileKind::half("cold frame", corner);
    let legend = crate::scene::legend()
        .with('n', TileKind::wall("net").with_layers(Layers::bit(1)))
        .with('v', TileKind::floor("step").closed_from(Side::Bottom))
        .with('m', TileKind::floor("mud"))
        .with('/', half(Corner::TopLeft))
        .with('\\', half(Corner::TopRight))
        .with('L', half(Corner::BottomLeft))
        .with('J', half(Corner::BottomRight));
    let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(16.0).unwrap();
    let mut things = World::new();
    for (x, y, radius) in [(60.0, 60.0, 14.0), (260.0, 60.0, 9.0), (400.0, 120.0, 18.0)] {
        things.add(Solid::circle(vec2(x, y), radius).unwrap());
    }
    (grid, things)
}

#[rstest]
fn a_long_walk_among_everything_never_overlaps_and_never_sticks(#[values(true, false)] round: bool) {
    let (grid, things) = glasshouse();
    let terrain = (&grid, &things);
    let feet = if round { Footprint::circle(5.0) } else { Footprint::rect(12.0, 8.0) }.unwrap();
    let mut walker = Walker::new(vec2(100.0, 84.0), feet, Gait::new(90.0, 600.0, 600.0).unwrap());
    walker.mask = Layers::FIRST;
    let (mut word, mut wish, mut stood) = (0x2545_f491_u32, Intent::NONE, 0);
    let mut rooms = [0u32; 3];
    for tick in 0..500_000u32 {
        if tick % 23 == 0 {
            // A small generator of our own: the walk is the same on every machine.
            word = word.wrapping_mul(747_796_405).wrapping_add(2_891_336_453);
            let way = [vec2(1.0, 0.0), vec2(-1.0, 0.0), vec2(0.0, 1.0), vec2(0.0, -1.0)];
            let (one, other) = ((word >> 28) as usize % 4, (word >> 20) as usize % 4);
            wish = Intent::new(way[one] + way[other]);
        }
        let before = walker.position;
        let _ = walker.tick(wish, 1.0 / 60.0, &terrain);
        assert!(walker.position.is_finite() && walker.velocity.is_finite());
        assert!(
            !terrain.overlaps(&feet, walker.position, &WallFilter::on(walker.mask)),
            "{}",
            walker.position
        );
        stood = if walker.position == before { stood + 1 } else { 0 };
        assert!(stood < 4000, "stuck at {}", walker.position);
        // Left of the wall, between wall and net, right of the net: it comes back to each again and again.
        rooms[if walker.position.x < 160.0 {
            0
        } else if walker.position.x < 320.0 {
            1
        } else {
            2
        }] += 1;
    }
    assert!(rooms.iter().all(|ticks| *ticks > 5_000), "{rooms:?}");
}
