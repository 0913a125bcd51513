//! What walls do to a mover besides a plain slide: pass, full pace, corner help, push-out, moving walls, and
//! the life of a touch.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid, overlap};
use ambulant::terrain::{FoundWall, Terrain, Wall, WallFilter, World};
use ambulant::travel::{MoveResult, PushOut, Response, TouchPhase, Touching, push_out, resolve, step_axes};
use ambulant::walker::AlongWalls;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{any_footprint, map, random_map};

fn motion(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement * 60.0, Angle::ZERO)
}

/// The length of the way that a result went, from contact to contact.
fn length(from: Vec2, result: &MoveResult) -> f32 {
    let stops: Vec<Vec2> = result.contacts.iter().map(|contact| contact.position).collect();
    let ends = stops.iter().copied().chain([result.position]);
    core::iter::once(from).chain(stops.iter().copied()).zip(ends).map(|(a, b)| a.distance(b)).sum()
}

/// What moves: a box, a circle or a slanted polygon.
fn door(kind: u8) -> Solid {
    match kind {
        0 => Solid::box_from_corners(vec2(-1.0, -0.7), vec2(1.0, 0.7)).unwrap(),
        1 => Solid::circle(Vec2::ZERO, 1.1).unwrap(),
        _ => Polygon::new(&[vec2(-1.0, 0.0), vec2(0.0, -1.3), vec2(1.5, 0.4)]).unwrap().into(),
    }
}

properties! {
    400;

    #[test]
    fn no_response_gains_speed_or_enters_a_wall(
        later >= 100, met >= 340, passed >= 85;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, y in -5.0f32..5.0,
        angle in 0.0f32..6.3, far in 0.01f32..6.0, reach in 0.0f32..0.5,
    ) {
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * far);
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        let responses = [
            Response::SlideFullSpeed, Response::round_corner(reach), Response::Stop,
            Response::bounce(1.0),
        ];
        for response in responses {
            let result = resolve(&grid, &footprint, from, motion(way), &WallFilter::ALL, |_| response);
            prop_assert!(!grid.overlaps(&footprint, result.position, &WallFilter::ALL), "{response:?} {result}");
            prop_assert!(result.velocity.length() <= far * 60.0 * 1.000_01, "{response:?} {result}");
            met.when(!result.contacts.is_empty());
            prop_assert!(length(from, &result) <= far * 1.01 + 1e-4, "{response:?} {result}");
            if response == Response::bounce(1.0) {
                // Its speed stays the same, so the way up to each contact is its instant.
                let (mut last, mut way) = (from, 0.0);
                for contact in result.contacts.iter() {
                    (way, last) = (way + last.distance(contact.position), contact.position);
                    prop_assert!((way / far - contact.seconds).abs() < 1e-3, "{way} of {far}: {contact}");
                    later.when(contact.seconds > 0.0 && way > last.distance(from) + 1e-3);
                }
            }
        }
        // A mover that passes through ends as without walls, and each wall is reported once.
        let result = resolve(&grid, &footprint, from, motion(way), &WallFilter::ALL, |_| Response::PassThrough);
        if result.remaining == Vec2::ZERO {
            passed.when(!result.contacts.is_empty());
            prop_assert!(result.position.distance(from + way) < 1e-3);
        }
        let walls: Vec<Wall> = result.contacts.iter().map(|contact| contact.wall).collect();
        prop_assert!((1..walls.len()).all(|place| !walls[..place].contains(&walls[place])), "{walls:?}");
    }

    #[test]
    fn push_out_finds_the_nearest_free_place(
        moved >= 140, stuck >= 30;
        grid in random_map(), circle in any::<bool>(), footprint in any_footprint(), x in -5.0f32..5.0,
        y in -5.0f32..5.0,
    ) {
        let post = FoundWall::new(Wall::Own(0), Solid::circle(vec2(x * 0.5, y), 1.3).unwrap());
        let both = (&grid, post);
        let (terrain, at): (&dyn Terrain, Vec2) = (if circle { &both } else { &grid }, vec2(x, y));
        let reach = 2.0;
        let out = push_out(&terrain, &footprint, at, reach, &WallFilter::ALL);
        let distance = match out {
            PushOut::Free => {
                prop_assert!(!terrain.overlaps(&footprint, at, &WallFilter::ALL));
                0.0
            }
            PushOut::Moved { position, by } => {
                moved.when(true);
                prop_assert!(!terrain.overlaps(&footprint, position, &WallFilter::ALL), "{out:?}");
                prop_assert!(position.distance(at + by) < 1e-5 && by.length() <= reach);
                by.length()
            }
            PushOut::Stuck => {
                stuck.when(true);
                reach
            }
        };
        // No place on a fine ring inside of that is free.
        for ring in 1u8..16 {
            for spoke in 0u8..240 {
                let off = Vec2::from_angle(f32::from(spoke) * 0.026_18) * (distance - 2e-3) * f32::from(ring) / 16.0;
                prop_assert!(distance < 4e-3 || terrain.overlaps(&footprint, at + off, &WallFilter::ALL), "{out:?} {off}");
            }
        }
    }

    #[test]
    fn a_moving_wall_never_goes_through_a_mover(
        pushed >= 95;
        footprint in any_footprint(), kind in 0u8..3, x in -4.0f32..4.0, y in -4.0f32..4.0, aside in -1.0f32..1.0,
        power in -1.0f32..3.0,
    ) {
        let (solid, at) = (door(kind), vec2(x, y));
        // More or less toward the mover.
        let displacement = Vec2::from_angle(aside).rotate(at.normalize_or(Vec2::X)) * 10f32.powf(power);
        prop_assume!(overlap(&footprint, at, &solid).is_none());
        let mut world = World::new();
        let wall = world.add(solid);
        world.move_at(wall, displacement);
        let mut walker = Walker::new(at, footprint, Pace::new(1.0).unwrap());
        let result = walker.tick(Intent::NONE, 1.0, &world);
        world.advance(1.0);
        let inside = overlap(&footprint, walker.position, world.solid(wall).unwrap());
        prop_assert!(inside.is_none_or(|inside| inside.depth < 1e-3), "{inside:?}");
        // It is pushed ahead, never back, and no further than the wall went; nothing squeezes it.
        let way = walker.position - at;
        pushed.when(way != Vec2::ZERO);
        prop_assert!(way.dot(displacement) >= -1e-5 && way.length() <= displacement.length() * 1.001 + 1e-4);
        prop_assert!(result.squeezed.is_none() && (way == Vec2::ZERO || result.contacts.iter().any(|contact| contact.pushed)));
    }

    #[test]
    fn turning_or_shifting_the_scene_turns_or_shifts_what_comes_of_it(
        met >= 85;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, y in -5.0f32..5.0,
        angle in 0.0f32..6.3, far in 0.5f32..6.0, bounce in any::<bool>(),
    ) {
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * far);
        // At exactly 45 degrees an exact corner has to be decided by axis.
        prop_assume!((way.x.abs() - way.y.abs()).abs() > 1e-3);
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        let respond = |_: &_| if bounce { Response::bounce(1.0) } else { Response::Slide };
        let result = resolve(&grid, &footprint, from, motion(way), &WallFilter::ALL, respond);
        met.when(!result.contacts.is_empty());

        let size = grid.size();
        let glyph = |column: i32, row: i32| if grid.blocks(ivec2(column, row)) { '#' } else { '.' };
        // A quarter-turn takes column x, row y to column (rows - 1 - y), row x, and (x, y) to (-y, x).
        let rows: Vec<String> = (0..size.x)
            .map(|column| (0..size.y).rev().map(|row| glyph(column, row)).collect())
            .collect();
        let turned = map(&rows).with_outside(grid.outside());
        let round = footprint.radius().is_some();
        let other = if round { footprint } else {
            Footprint::rect(footprint.size().y, footprint.size().x).unwrap()
        };
        let by_turn = resolve(&turned, &other, from.perp(), motion(way.perp()), &WallFilter::ALL, respond);
        prop_assert!(by_turn.position.distance(result.position.perp()) < 1e-3, "{result}\n{by_turn}");
        prop_assert_eq!(by_turn.contacts.len(), result.contacts.len());

        let shift = vec2(160.0, -48.0);
        let shifted = grid.clone().with_origin(grid.area().min + shift).unwrap();
        let by_shift = resolve(&shifted, &footprint, from + shift, motion(way), &WallFilter::ALL, respond);
        prop_assert!((by_shift.position - shift).distance(result.position) < 5e-3, "{result}\n{by_shift}");
    }

    #[test]
    fn corner_help_leads_through_with_the_same_speed(
        helped >= 130;
        offset in -0.3f32..0.3, size in 0.5f32..0.95, speed in 1.0f32..40.0, rate in 30u8..200, round in any::<bool>(),
        seconds_to_full_speed in 0.001f32..0.5,
    ) {
        let grid = map(&["....#....", "....#....", ".........", "....#....", "....#...."]);
        let footprint = if round { Footprint::circle(size * 0.5) } else { Footprint::rect(size, size) }.unwrap();
        helped.when(offset.abs() + 0.5 * size > 0.5);
        let gait = Gait::new(speed, speed / seconds_to_full_speed, 1e3).unwrap();
        let mut walker = Walker::new(vec2(-3.0, offset), footprint, gait);
        walker.along_walls = AlongWalls::PLAIN.with_corner_help(0.35).unwrap();
        let (mut ticks, most) = (0.0, (8.0 / speed + 2.0) * f32::from(rate) + 20.0);
        while ticks < most {
            ticks += 1.0;
            let before = walker.velocity.length();
            let _ = walker.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / f32::from(rate), &grid);
            let after = walker.velocity.length();
            // A round one rolls off, with a part of its speed.
            prop_assert!(after <= speed * 1.001 && (round || walker.position.x > 1.0 || after >= before * 0.999), "{before} {after}");
            prop_assert!(walker.velocity.x >= 0.0, "{}", walker.velocity);
            prop_assert!(!grid.overlaps(&footprint, walker.position, &WallFilter::ALL));
        }
        prop_assert!(walker.position.x > 1.0, "{:?}", walker.position);
    }
}

/// Half an intent leads a glide round a corner with half its thrust, to either side.
#[rstest]
fn corner_help_leads_a_glide_with_its_strength(#[values(0.5, 1.0)] strength: f32) {
    let grid = map(&["....#....", "....#....", ".........", "....#....", "....#...."]);
    let play = |side: f32| {
        let glide = Glide::new(40.0, Drag::half_life(0.5).unwrap(), 20.0).unwrap();
        let mut walker = Walker::new(vec2(-0.9, side), Footprint::rect(0.8, 0.8).unwrap(), glide);
        walker.along_walls = AlongWalls::PLAIN.with_corner_help(0.35).unwrap();
        let aside: Vec<Vec2> = (0..5)
            .map(|_| {
                let _ = walker.tick(Intent::new(vec2(strength, 0.0)), 1.0 / 200.0, &grid);
                walker.position
            })
            .collect();
        (aside, walker.velocity)
    };
    let (places, velocity) = play(0.3);
    let (mirrored, other) = play(-0.3);
    assert_eq!((velocity.x, velocity.y), (other.x, -other.y));
    assert!(places.iter().zip(&mirrored).all(|(one, other)| (one.y + other.y).abs() < 1e-6), "{places:?}");
    // From a stand, the thrust for a fortieth of a second.
    let expected = -40.0 * strength / 40.0;
    assert!((velocity.y - expected).abs() < 0.03 * expected.abs(), "{velocity}, not {expected}");
}

#[rstest]
#[case::off(false, 42.4)]
#[case::on(true, 60.0)]
fn full_pace_along_a_wall(#[case] full_speed: bool, #[case] speed: f32) {
    let grid = map(&["..........", "##########"]);
    let gait = Gait::new(60.0, 1e4, 1e4).unwrap();
    let mut walker = Walker::new(vec2(-4.0, -0.5), Footprint::rect(0.5, 0.5).unwrap(), gait);
    walker.along_walls.full_speed = full_speed;
    for _ in 0..4 {
        let _ = walker.tick(Intent::new(vec2(1.0, 1.0)), 1.0 / 60.0, &grid);
    }
    assert!((walker.velocity.x - speed).abs() < 0.1, "{}", walker.velocity);
}

#[rstest]
#[case::boxes(|x: f32| Solid::box_from_corners(vec2(x, 0.0), vec2(x + 1.0, 1.0)).unwrap())]
#[case::squares(|x: f32| {
    let corners = [vec2(x, 0.0), vec2(x + 1.0, 0.0), vec2(x + 1.0, 1.0), vec2(x, 1.0)];
    Polygon::new(&corners).unwrap().into()
})]
#[case::wedges(|x: f32| {
    Polygon::new(&[vec2(x, 0.0), vec2(x + 1.0, 0.0), vec2(x + 0.5, 2.0)]).unwrap().into()
})]
#[case::segments(|x: f32| Solid::segment(vec2(x, 0.0), vec2(x + 1.0, 0.0)).unwrap())]
fn no_seam_is_felt_on_a_flush_run(
    #[case] wall: fn(f32) -> Solid,
    #[values(true, false)] round: bool,
    #[values((3.0, 0.0), (2.0, 0.4), (1.0, 5.0), (-3.0, 0.1))] wish: (f32, f32),
    #[values(0.0, 0.125, 0.31)] start: f32,
) {
    let mut run = World::new();
    for number in -20i8..20 {
        run.add(wall(f32::from(number)));
    }
    let footprint = if round { Footprint::circle(0.4) } else { Footprint::rect(0.8, 0.8) }.unwrap();
    let mut walker = Walker::new(vec2(start, -0.4), footprint, Gait::new(6.0, 90.0, 90.0).unwrap());
    for _ in 0..120 {
        let result = walker.tick(Intent::new(wish.into()), 1.0 / 60.0, &run);
        for contact in result.contacts.iter() {
            assert!(contact.normal.distance(Vec2::NEG_Y) < 1e-3, "{contact}");
        }
    }
    let along = Vec2::from(wish).normalize().x * 6.0 * 2.0;
    assert!((walker.position.x - start - along).abs() < 0.5, "{}", walker.position);
}

#[test]
fn touches_start_last_and_end_even_within_one_tick() {
    let grid = map(&["#...#"]);
    let ball = Footprint::circle(0.5).unwrap();
    let mut touching = Touching::default();
    let mut told = Vec::new();
    // From wall to wall and back in one tick: each touch ends before the next begins.
    let bounce = |_: &_| Response::bounce(1.0);
    let result = resolve(&grid, &ball, Vec2::ZERO, motion(vec2(5.5, 0.0)), &WallFilter::ALL, bounce);
    touching.after(&result, &ball, &grid, &WallFilter::ALL, |change| told.push((change.wall, change.phase)));
    let (left, right) = (Wall::tile(ivec2(0, 0)), Wall::tile(ivec2(4, 0)));
    use TouchPhase::{Ended, Lasting, Started};
    let each = [right, left, right].map(|wall| [(wall, Started), (wall, Ended)]);
    assert_eq!(told, each.concat());
    assert!(touching.is_empty());

    // Pressed on, rested against, left.
    let mut walker = Walker::new(Vec2::ZERO, ball, Gait::new(6.0, 1e3, 1e3).unwrap());
    let mut phases = Vec::new();
    for wish in [1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 0.0, 0.0, -1.0] {
        let result = walker.tick(Intent::new(vec2(wish, 0.0)), 0.05, &grid);
        touching.after(&result, &ball, &grid, &WallFilter::ALL, |change| phases.push(change.phase));
    }
    let lasting = phases.iter().filter(|phase| **phase == Lasting).count();
    assert_eq!((phases[0], lasting, phases[phases.len() - 1]), (Started, phases.len() - 2, Ended));
    assert!(lasting >= 3);
}

/// Flush walls are one wall to a touch as well: past the seams of crates and tiles it goes on, with what lies there.
#[test]
fn along_flush_crates_and_tiles_a_touch_lasts() {
    let mut crates = World::new();
    let boxed = |x: f32| Solid::box_from_corners(vec2(x, 0.0), vec2(x + 4.0, 2.0)).unwrap();
    let ids = [0.0, 4.0].map(|x| crates.add(boxed(x)));
    let tiles = map(&["...", "###"]).with_origin(vec2(8.0, -1.0)).unwrap().with_outside(Outside::Open);
    let walls = (crates, tiles);
    let feet = Footprint::rect(1.0, 1.0).unwrap();
    let mut walker = Walker::new(vec2(1.0, -0.5), feet, Gait::new(6.0, 1e3, 1e3).unwrap());
    let mut touching = Touching::default();
    let (mut phases, mut met) = (Vec::new(), Vec::new());
    for _ in 0..20 {
        let result = walker.tick(Intent::new(vec2(1.0, 1.0)), 0.1, &walls);
        touching.after(&result, &feet, &walls, &WallFilter::ALL, |change| {
            phases.push(change.phase);
            met.push(change.wall);
        });
    }
    assert!(walker.position.x > 9.0, "{}", walker.position);
    assert_eq!(phases.remove(0), TouchPhase::Started);
    assert!(phases.iter().all(|phase| *phase == TouchPhase::Lasting), "{phases:?}");
    assert_eq!((met[0], met[met.len() - 1]), (ids[0], Wall::tile(ivec2(1, 1))));
}

#[rstest]
fn axis_by_axis_stops_within_the_probe_distance(#[values(0.01, 0.25, 1.0)] probe: f32) {
    let grid = map(&["....#", "....#", "....#"]);
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    let result = step_axes(
        &grid,
        &footprint,
        vec2(-1.0, 0.0),
        vec2(9.0, 0.5),
        vec2(90.0, 5.0),
        probe,
        &WallFilter::ALL,
    )
    .unwrap();
    let gap = 1.25 - result.position.x;
    assert!((-1e-6..=probe).contains(&gap), "{gap}");
    assert!((result.position.y - 0.5).abs() < 1e-6 && result.velocity == vec2(0.0, 5.0));
    // What was not walked is left over.
    assert!((result.position + result.remaining).distance(vec2(8.0, 0.5)) < 1e-5, "{}", result.remaining);
    assert!(step_axes(&grid, &footprint, Vec2::ZERO, Vec2::X, Vec2::X, 0.0, &WallFilter::ALL).is_err());
}
