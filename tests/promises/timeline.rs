//! One timeline: walls and movers that move at the same time.

use std::cell::Cell;

use ambulant::direction::{Angle, Axis};
use ambulant::drive::{AnyDrive, Drag, Drive, Falling, Glide, Helm, OneAxis, Pace, Steering, Surface};
use ambulant::prelude::*;
use ambulant::shape::{Polygon, overlap};
use ambulant::terrain::{Course, WallMotion};
use ambulant::travel::{Contact, MoveResult, TouchPhase, Touching};
use ambulant::walker::{AlongWalls, AtWalls, Path};
use proptest::prelude::*;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// A random wall of any kind near a place.
pub(crate) fn any_wall(dice: &mut Dice, near: Vec2) -> Solid {
    let kind = dice.pick(4);
    let mut spot = |reach: f32| near + vec2(dice.number(-reach, reach), dice.number(-reach, reach));
    match kind {
        0 => Solid::box_from_corners(spot(4.0), spot(4.0)),
        1 => Solid::circle(spot(2.0), 0.3 + (spot(1.0) - near).length()),
        2 => Solid::segment(spot(4.0), spot(4.0)),
        _ => {
            let corners = [spot(3.0), spot(3.0), spot(3.0)];
            return Polygon::new(&corners).map_or_else(|_| Solid::circle(near, 1.0).unwrap(), Into::into);
        }
    }
    .unwrap()
}

/// A footprint and a wall that both move are first together at the instant that a hit reports, however fast they are:
/// before it they are apart in each of many moments, after it they overlap, unless they only graze.
#[test]
fn a_moving_wall_is_hit_where_both_are_then() {
    let (hits, clean, fast, in_pieces) = (Cell::new(0), Cell::new(0), Cell::new(0), Cell::new(0));
    proptest::test_runner::TestRunner::new(crate::properties::cases(4000))
        .run(&(any::<u64>(), crate::scene::any_footprint()), |(seed, footprint)| {
            let mut dice = Dice::new(seed);
            let speed = [3.0, 30.0, 300.0][dice.pick(3)];
            let from = vec2(dice.number(-8.0, 8.0), dice.number(-8.0, 8.0));
            let mut velocity = || vec2(dice.number(-speed, speed), dice.number(-speed, speed));
            let velocities = [velocity(), velocity(), Vec2::ZERO];
            let near = vec2(dice.number(-5.0, 5.0), dice.number(-5.0, 5.0));
            let solid = any_wall(&mut dice, near);
            let pieces = 1 + dice.pick(3);
            let lasts = 1.0 / [1.0, 2.0, 3.0][pieces - 1];
            let start = dice.number(0.0, 0.2);
            let motion = velocities.map(|velocity| WallMotion::new(velocity, lasts));
            let mut world = World::new();
            let wall = world.add(solid);
            prop_assert!(world.move_in(wall, motion.into_iter().take(pieces)));
            // The same path by hand.
            let wall_at = |time: f64| {
                let piece =
                    |number: usize| (time - number as f64 * f64::from(lasts)).clamp(0.0, f64::from(lasts));
                (0..pieces).map(|number| velocities[number].as_dvec2() * piece(number)).sum::<glam::DVec2>()
            };
            // Towards where the wall is in the middle, more or less.
            let meets = near.as_dvec2() + wall_at(f64::from(start) + 0.35) - from.as_dvec2();
            let displacement = (meets * 2.0).as_vec2() + vec2(dice.number(-2.0, 2.0), dice.number(-2.0, 2.0));
            // As the wall sees it, which keeps the rounding small.
            let depth_at = |part: f64| {
                let moved = displacement.as_dvec2() * part - wall_at(f64::from(start) + part * 0.7);
                overlap(&footprint, (from.as_dvec2() + moved).as_vec2(), &solid)
                    .map_or(0.0, |inside| inside.depth)
            };
            let hit = world.sweep(&footprint, from, displacement, &WallFilter::ALL.during(start, 0.7));
            let end = hit.map_or(1.0, |hit| f64::from(hit.fraction));
            if depth_at(0.0) > 0.0 {
                return Ok(());
            }
            for moment in 0..2000 {
                let part = end * f64::from(moment) / 2000.0;
                prop_assert!(depth_at(part) < 2e-4, "{} deep at {part} before {hit:?}", depth_at(part));
            }
            let Some(hit) = hit else {
                clean.set(clean.get() + 1);
                return Ok(());
            };
            hits.set(hits.get() + 1);
            fast.set(fast.get() + usize::from(speed > 100.0));
            in_pieces.set(in_pieces.get() + usize::from(pieces > 1));
            let at = (from.as_dvec2() + displacement.as_dvec2() * end).as_vec2();
            prop_assert!(hit.position.distance(at) < 2e-4 * speed.max(1.0), "{} and {at}", hit.position);
            let relative = displacement - hit.velocity * 0.7;
            if relative.dot(hit.normal) < -0.05 * relative.length() {
                // On by a thousandth of a unit, it is inside.
                let inside = depth_at(end + 1e-3 / f64::from(-relative.dot(hit.normal)));
                let is_late = end + 1e-3 / f64::from(-relative.dot(hit.normal)) > 1.0;
                prop_assert!(is_late || inside > 1e-4, "{inside} deep after {hit:?}");
            }
            Ok(())
        })
        .unwrap();
    let counts = [&hits, &clean, &fast, &in_pieces].map(Cell::get);
    assert!(counts[0] > 500 && counts[1] > 500 && counts[2] > 150 && counts[3] > 300, "{counts:?}");
}

/// Of several walls that move, the first one is met, and named as the game's y axis has it. In how many worlds they are makes no
/// difference, to a sweep and to a walker.
#[test]
fn of_several_moving_walls_the_first_one_is_met() {
    let (mut met, mut of_many, mut walked) = (0, 0, 0);
    for seed in some_of(0..2000u64) {
        let mut dice = Dice::new(seed);
        let footprint = match dice.pick(2) {
            0 => Footprint::circle(dice.number(0.2, 0.8)).unwrap(),
            _ => Footprint::rect(dice.number(0.3, 1.2), dice.number(0.3, 1.2)).unwrap(),
        };
        let (mut all, mut worlds) = (World::new().with_y_axis(YAxis::Up), Vec::new());
        for _ in 0..3 {
            let near = vec2(dice.number(-4.0, 4.0), dice.number(-4.0, 4.0));
            let (solid, velocity) = (any_wall(&mut dice, near), -near * dice.number(0.0, 3.0));
            let mut alone = World::new().with_y_axis(YAxis::Up);
            for world in [&mut all, &mut alone] {
                let wall = world.add(solid);
                assert!(world.move_at(wall, velocity));
            }
            worlds.push(alone);
        }
        let by = vec2(dice.number(-2.0, 2.0), dice.number(-2.0, 2.0)) * dice.number(0.0, 1.0).round();
        let filter = WallFilter::ALL.during(0.0, 0.7);
        if all.overlaps(&footprint, Vec2::ZERO, &WallFilter::ALL) {
            continue;
        }
        let hit_in = |terrain: &dyn Terrain| terrain.sweep(&footprint, Vec2::ZERO, by, &filter);
        let hits: Vec<_> = worlds.iter().filter_map(|world| hit_in(world)).collect();
        let first = hits.iter().copied().min_by(|one, other| one.fraction.total_cmp(&other.fraction));
        let (pair, slice) = ((&worlds[0], (&worlds[1], &worlds[2])), &worlds[..]);
        for hit in [hit_in(&all), hit_in(&pair), hit_in(&slice)] {
            assert_eq!(hit.is_some(), first.is_some(), "seed {seed}");
            let Some((hit, first)) = hit.zip(first) else { continue };
            let deeper = (by - hit.velocity * 0.7).dot(hit.normal).abs() * (hit.fraction - first.fraction);
            assert!(deeper.abs() < 1e-4, "seed {seed}: {hit:?} is not {first:?}");
            assert_eq!(hit.side, Side::facing(hit.normal, YAxis::Up));
        }
        met += u32::from(first.is_some());
        of_many += u32::from(hits.len() > 1);
        // A walker has to look around itself for walls that come to it.
        let mut gardener = Walker::new(Vec2::ZERO, footprint, Gait::new(4.0, 40.0, 40.0).unwrap());
        let mut others = gardener;
        let ends = [gardener.tick(Intent::new(by), 0.7, &pair), others.tick(Intent::new(by), 0.7, &slice)];
        assert_eq!(ends[0].position, ends[1].position, "seed {seed}");
        walked += u32::from(ends[0].pushed != Vec2::ZERO);
    }
    assert!(met > share(600) && of_many > share(200) && walked > share(200), "{met} {of_many} {walked}");
}

/// At most 1 in 200 scenes differs.
#[track_caller]
fn assert_seldom<T: std::fmt::Debug>(apart: &[T], compared: usize) {
    let first = &apart[..apart.len().min(9)];
    assert!(apart.len() * 200 <= compared, "{} of {compared}: {first:?}", apart.len());
}

/// Drives that move in different ways: immediately, with acceleration, with drag, and with a heading.
fn any_drives() -> [Box<dyn Drive>; 5] {
    let drag = Drag::half_life(0.4).unwrap();
    let helm = Helm::new(3.0, 60.0, drag, Steering::Toward).unwrap();
    [
        Box::new(Pace::new(12.0).unwrap()),
        Box::new(Gait::new(10.0, 90.0, 40.0).unwrap()),
        Box::new(Glide::new(60.0, drag, 0.5).unwrap()),
        Box::new(helm),
        Box::new(helm.on_rails()),
    ]
}

/// The velocity of one of the walls of a scene.
fn velocity_in(moving: &[(Wall, Vec2)], wall: Wall) -> Vec2 {
    moving.iter().find(|(known, _)| *known == wall).map_or(Vec2::ZERO, |known| known.1)
}

/// Walls of some kinds, some of which move evenly, and a walker among them.
fn moving_scene(dice: &mut Dice, round_walls: bool) -> (World, Vec<(Wall, Vec2)>, Walker<Gait>) {
    let (mut world, mut moving) = (World::new(), Vec::new());
    for number in 0..6 {
        let near = vec2(dice.number(-12.0, 12.0), dice.number(-12.0, 12.0));
        let solid = if round_walls && number % 2 == 0 {
            Solid::circle(near, dice.number(0.5, 3.0)).unwrap()
        } else {
            let size = vec2(dice.number(1.0, 6.0), dice.number(1.0, 6.0));
            Solid::box_around(near, size).unwrap()
        };
        let wall = world.add(solid);
        if number < 3 {
            // Toward the middle, more or less.
            moving
                .push((wall, near * -dice.number(0.1, 2.0) + Vec2::from_angle(dice.number(0.0, 6.3)) * 4.0));
        }
    }
    let size = dice.number(0.5, 2.0);
    let footprint =
        if dice.pick(2) == 0 { Footprint::rect(size, size) } else { Footprint::circle(0.5 * size) };
    let gait = Gait::new(dice.number(2.0, 20.0), dice.number(20.0, 200.0), dice.number(20.0, 200.0)).unwrap();
    let mut walker = Walker::new(Vec2::ZERO, footprint.unwrap(), gait);
    walker.velocity = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 10.0);
    (world, moving, walker)
}

/// Plays a tick in so many parts; returns whether it was squeezed, and how many contacts pushed.
fn in_parts<D: Drive>(
    world: &World,
    moving: &[(Wall, Vec2)],
    walker: &mut Walker<D>,
    intent: Intent,
    dt: f32,
    parts: u16,
) -> (bool, usize) {
    let mut world = world.clone();
    let (mut squeezed, mut pushed) = (false, 0);
    let dt = dt / f32::from(parts);
    for _ in 0..parts {
        for (wall, velocity) in moving {
            assert!(world.move_at(*wall, *velocity));
        }
        let result = walker.tick(intent, dt, &world);
        squeezed |= result.squeezed.is_some();
        pushed += result.contacts.iter().filter(|contact| contact.pushed).count();
        world.advance(dt);
        let depth = |(_, solid)| {
            overlap(&walker.footprint, walker.position, solid).map_or(0.0, |inside| inside.depth)
        };
        let deepest = world.walls().map(depth).fold(0.0, f32::max);
        assert!(squeezed || deepest < 1e-3, "{deepest} deep in a wall without a report: {result:?}");
    }
    (squeezed, pushed)
}

/// One long tick beside many short ones, in many scenes.
#[derive(Default)]
struct LongAndShort {
    pushed: usize,
    squeezed: usize,
    compared: usize,
    apart: Vec<(u64, Vec2, Vec2)>,
    /// How many of them end elsewhere, too, where the mover starts by a touch beside.
    balanced: usize,
}

impl LongAndShort {
    /// Where the mover ends in the long tick.
    fn compare<D: Drive + Copy>(
        &mut self,
        seed: u64,
        (world, moving): (&World, &[(Wall, Vec2)]),
        mover: Walker<D>,
        (intent, dt): (Intent, f32),
    ) -> Vec2 {
        let (mut one, mut many) = (mover, mover);
        let (once, _) = in_parts(world, moving, &mut one, intent, dt, 1);
        let (often, pushes) = in_parts(world, moving, &mut many, intent, dt, 24);
        self.pushed += usize::from(pushes > 0);
        if once || often {
            self.squeezed += 1;
            return one.position;
        }
        self.compared += 1;
        if one.position.distance(many.position) > 0.02 {
            self.apart.push((seed, one.position, many.position));
            let nudged = |by: f32, parts: u16| {
                let mut nudged = mover;
                nudged.position.x += by;
                let _ = in_parts(world, moving, &mut nudged, intent, dt, parts);
                nudged.position
            };
            let turns = |by: f32| {
                nudged(by, 1).distance(one.position).max(nudged(by, 24).distance(many.position)) > 0.02
            };
            self.balanced += usize::from([1e-6, -1e-6, 1e-5, -1e-5].into_iter().any(turns));
        }
        one.position
    }
}

/// Among walls that move, one long tick ends where many short ones do, also for a mover that is held to an axis or falls, and where
/// walls take along what touches them.
#[rstest::rstest]
#[case::flat(false, None, false, false)]
#[case::round(true, None, false, false)]
#[case::on_an_axis(true, Some(Axis::X), false, false)]
#[case::falling(false, None, true, false)]
#[case::falling_round(true, None, true, false)]
#[case::on_carriers(false, None, false, true)]
#[case::on_round_carriers(true, None, false, true)]
fn among_moving_walls_one_tick_ends_where_many_short_ones_do(
    #[case] round_walls: bool,
    #[case] axis: Option<Axis>,
    #[case] falls: bool,
    #[case] carries: bool,
) {
    let (mut found, mut carried) = (LongAndShort::default(), 0);
    for seed in some_of(0..2000) {
        let mut dice = Dice::new(seed);
        let (mut world, moving, mut walker) = moving_scene(&mut dice, round_walls);
        moving.iter().for_each(|(wall, _)| assert!(world.set_carries(*wall, carries)));
        // Of those among carriers, half start beside one of the walls.
        if carries && dice.pick(2) == 0 {
            let onto = world.solid(moving[0].0).unwrap().bounds().center();
            let toward = onto - walker.position;
            if let Some(hit) = world.sweep(&walker.footprint, walker.position, toward, &WallFilter::ALL) {
                (walker.position, walker.velocity) = (hit.position, Vec2::ZERO);
            }
        }
        if world.overlaps(&walker.footprint, walker.position, &WallFilter::ALL) {
            continue;
        }
        let on_axis = axis.map(|axis| OneAxis { drive: walker.drive, axis });
        let drive = on_axis.as_ref().map_or(&walker.drive as &dyn Drive, |drive| drive);
        let pulled = Falling::new(drive, Vec2::from_angle(dice.number(0.0, 6.3)) * 200.0, 100.0).unwrap();
        let drive = if falls { &pulled as &dyn Drive } else { drive };
        let mut mover = Walker::new(walker.position, walker.footprint, drive);
        mover.velocity = drive.axis().map_or(walker.velocity, |axis| axis.only(walker.velocity));
        let wish = if carries && dice.pick(3) == 0 { 0.0 } else { dice.number(0.0, 1.5) };
        let tick = (Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * wish), dice.number(0.05, 0.6));
        let mut alone = mover;
        let _ = alone.tick(tick.0, tick.1, &world);
        let end = found.compare(seed, (&world, &moving), mover, tick);
        carried += usize::from(alone.position.distance(end) > 0.1);
    }
    let LongAndShort { pushed, squeezed, compared, apart, .. } = found;
    println!(
        "{pushed} pushed, {carried} elsewhere, {squeezed} squeezed, {} of {compared} apart",
        apart.len()
    );
    assert!(
        pushed > share(300) && squeezed >= share(8) && carried > share(300),
        "{pushed}, {squeezed}, {carried}"
    );
    assert_seldom(&apart, compared);
}

/// Along the border between two belts that face each other, a door from behind pushes a mover that gets faster as far in one tick
/// as in many.
#[test]
fn on_a_border_a_door_from_behind_pushes_in_one_tick_as_in_many() {
    let mut pushed = 0;
    for seed in 0..200 {
        let mut dice = Dice::new(seed);
        let belt = |x: f32| Surface::PLAIN.with_belt(vec2(x, 0.0)).unwrap();
        let speed = dice.number(1.0, 20.0);
        let gait = Gait::new(40.0, dice.number(20.0, 200.0), 200.0).unwrap();
        let (behind, back) = (dice.number(0.0, 1.0), dice.number(0.0, 4.0));
        let play = |parts: u8| {
            let mut world = World::new();
            for (x, push) in [(-60.0, speed), (0.0, -speed)] {
                let side = [vec2(x, -60.0), vec2(x + 60.0, 60.0)];
                world.add_floor(Aabb { min: side[0], max: side[1] }, belt(push)).unwrap();
            }
            let corners = [vec2(-3.0, -9.0), vec2(3.0, -0.5 - behind)];
            let door = world.add(Solid::box_from_corners(corners[0], corners[1]).unwrap());
            let mut snail = Walker::new(Vec2::ZERO, Footprint::rect(1.0, 1.0).unwrap(), gait);
            snail.velocity = vec2(0.0, -back);
            let mut is_pushed = false;
            for _ in 0..parts {
                assert!(world.move_at(door, vec2(0.0, speed)));
                let dt = 0.4 / f32::from(parts);
                is_pushed |= snail.tick(Intent::new(Vec2::Y), dt, &world).pushed.y > 0.01;
                world.advance(dt);
            }
            (snail.position, is_pushed)
        };
        let [(one, is_pushed), (many, _)] = [1, 100].map(play);
        assert!(one.distance(many) < 5e-3, "seed {seed}: {one} and {many}");
        pushed += u32::from(is_pushed);
    }
    assert!(pushed > 40, "{pushed}");
}

/// A door that closes on a mover squeezes it, with both walls and the instant, and once the mover is nearer to the back
/// of the door, it is moved out there in one step, to where the back of the door was at that instant.
#[rstest::rstest]
fn a_squeezed_mover_comes_out_behind_the_door(#[values(1, 7, 100)] ticks: u8) {
    let mut world = World::new();
    let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(1.5, 5.0)).unwrap());
    let post = world.add(Solid::box_from_corners(vec2(8.0, -5.0), vec2(20.0, 5.0)).unwrap());
    let mut gardener =
        Walker::new(vec2(6.0, 0.0), Footprint::rect(2.0, 2.0).unwrap(), Pace::new(10.0).unwrap());
    let (mut squeezes, mut out) = (Vec::new(), Vec::new());
    for _ in 0..ticks {
        world.move_at(door, vec2(8.0, 0.0));
        let result = gardener.tick(Intent::NONE, 2.0 / f32::from(ticks), &world);
        world.advance(2.0 / f32::from(ticks));
        squeezes.extend(result.squeezed);
        out.extend((result.moved_out != Vec2::ZERO).then_some(result.moved_out));
        assert!(overlap(&gardener.footprint, gardener.position, world.solid(post).unwrap()).is_none());
    }
    assert!(squeezes.iter().all(|squeeze| (squeeze.by, squeeze.against) == (door, post)), "{squeezes:?}");
    // The middle of the door passes that of the gardener: from there, both ways out are as long.
    let [moved] = out[..] else { panic!("{out:?}") };
    assert!(moved.distance(vec2(-0.5 * (1.5 + 2.0), 0.0)) < 0.01, "{moved}");
    assert!(gardener.position.distance(vec2(7.0 - 1.75, 0.0)) < 0.01, "{}", gardener.position);
}

/// What falls into a corner and is squeezed there stands in it: both walls go on holding it, each is met once, and nothing of the tick
/// is played along a chord.
#[test]
fn squeezed_in_a_corner_what_falls_is_still_held_by_both_walls() {
    for seed in some_of(0..300) {
        let mut dice = Dice::new(seed);
        let half = vec2(dice.number(2.0, 6.0), dice.number(2.0, 6.0));
        let mut world = World::new();
        let corner = [[vec2(-50.0, -90.0), vec2(0.0, 90.0)], [vec2(-50.0, 0.0), vec2(90.0, 50.0)]]
            .map(|[from, to]| world.add(Solid::box_from_corners(from, to).unwrap()));
        let edge = -2.0 * half.y - dice.number(1.0, 5.0);
        let door = world.add(Solid::box_from_corners(vec2(-5.0, edge - 40.0), vec2(60.0, edge)).unwrap());
        let moves = vec2(dice.number(-20.0, 20.0), dice.number(30.0, 60.0));
        let gait = Gait::new(dice.number(20.0, 90.0), dice.number(90.0, 400.0), 400.0).unwrap();
        let falling = Falling::new(gait, vec2(0.0, dice.number(100.0, 900.0)), 200.0).unwrap();
        let start = vec2(half.x, -half.y);
        let mut mover = Walker::new(start, Footprint::rect(2.0 * half.x, 2.0 * half.y).unwrap(), falling);
        let wish = Intent::new(vec2(-1.0, dice.number(0.0, 1.0)));
        let mut squeezed = 0;
        for tick in 0..10 {
            world.move_at(door, moves);
            let result = mover.tick(wish, 0.02, &world);
            world.advance(0.02);
            squeezed += usize::from(result.squeezed.is_some());
            let met = corner.map(|wall| result.contacts.iter().filter(|met| met.wall == wall).count());
            assert_eq!(
                (met, result.stalled, mover.position),
                ([1, 1], 0.0, start),
                "seed {seed}, tick {tick}: {result}"
            );
        }
        assert!(squeezed > 0, "seed {seed}");
    }
}

/// A wall that moves along itself, and carries nothing, holds a mover like one that stands: also a vehicle, which leads along it.
#[test]
fn a_wall_that_slides_along_itself_is_like_one_that_stands() {
    let drag = Drag::half_life(0.4).unwrap();
    let slides = Helm::new(3.0, 60.0, drag, Steering::Toward).unwrap().with_grip(4.0).unwrap();
    let mut drives: Vec<Box<dyn Drive>> = any_drives().into();
    drives.push(Box::new(slides));
    let mut pressed = 0;
    for (kind, drive) in drives.iter().enumerate() {
        for seed in 0..60 {
            let mut dice = Dice::new(seed);
            let along = Vec2::from_angle(dice.number(0.0, 6.3));
            let wall = Solid::segment(along * -150.0, along * 150.0).unwrap();
            let slide = dice.number(-15.0, 15.0);
            let start = along.perp() * dice.number(1.0, 3.0);
            let wish = Intent::new((-along.perp()).rotate(Vec2::from_angle(dice.number(-1.2, 1.2))));
            let seconds = dice.number(0.1, 0.8);
            let play = |slide: f32| {
                let mut world = World::new();
                let wall = world.add(wall);
                let mut mover = Walker::new(start, Footprint::circle(0.8).unwrap(), &**drive);
                mover.heading = Angle::of(along).unwrap();
                let mut met = 0;
                for _ in 0..4 {
                    world.move_at(wall, along * slide);
                    met += mover.tick(wish, seconds, &world).contacts.len();
                    world.advance(seconds);
                }
                (mover.position, met)
            };
            let ((stands, met), (slid, _)) = (play(0.0), play(slide));
            assert!(
                stands.distance(slid) < 0.02,
                "{kind} {seed}: {stands} and {slid}, the wall slides at {slide}"
            );
            pressed += usize::from(met > 1);
        }
    }
    assert!(pressed > 200, "{pressed}");
}

/// A mover whose drive is held to an axis stays on its line when a door pushes it across: the squeeze is reported, the door passes
/// over it, and it ends at the same place at any tick rate.
#[rstest::rstest]
#[case::a_door(false)]
#[case::that_carries(true)]
fn across_its_axis_no_door_pushes_a_mover(#[case] carries: bool) {
    let (mut squeezed, mut let_out) = (0, 0);
    for seed in some_of(0..300) {
        let mut dice = Dice::new(seed);
        let size = vec2(dice.number(1.0, 6.0), dice.number(1.0, 6.0));
        let door = Solid::box_around(vec2(dice.number(-6.0, 6.0), 8.0), vec2(dice.number(2.0, 8.0), 4.0));
        let by = vec2(0.0, -dice.number(5.0, 20.0));
        let (lasts, seconds) = (dice.number(0.3, 2.0), dice.number(0.5, 4.0));
        let rail = OneAxis { drive: Gait::new(dice.number(1.0, 12.0), 90.0, 60.0).unwrap(), axis: Axis::X };
        let intent = Intent::new(vec2(dice.number(-1.0, 1.0), dice.number(-1.0, 1.0)));
        let play = |rate: u32| {
            let mut world = World::new();
            let door = world.add(door.unwrap());
            world.set_carries(door, carries);
            let mut course = Course::new().moves(by, lasts).unwrap().moves(-by, lasts).unwrap();
            let mut cart = Walker::new(vec2(0.0, 0.3), Footprint::rect(size.x, size.y).unwrap(), rail);
            let (mut is_squeezed, mut is_let_out, dt) = (false, false, seconds / rate as f32);
            for _ in 0..rate {
                world.move_in(door, course.pieces(dt));
                let result = cart.tick(intent, dt, &world);
                course.advance(dt);
                world.advance(dt);
                assert_eq!(cart.position.y, 0.3, "seed {seed} at {rate} ticks: {result:?}");
                is_squeezed |= result.squeezed.is_some();
                is_let_out |= result.moved_out != Vec2::ZERO;
                let depth = overlap(&cart.footprint, cart.position, world.solid(door).unwrap());
                assert!(
                    is_squeezed || depth.is_none_or(|inside| inside.depth < 1e-3),
                    "seed {seed}: {depth:?}"
                );
            }
            (cart.position.x, is_squeezed, is_let_out)
        };
        let ends = [3, 17, 120, 700].map(play);
        let apart = ends.iter().map(|end| (end.0 - ends[3].0).abs()).fold(0.0, f32::max);
        assert!(apart < 0.02, "seed {seed}: {ends:?}");
        squeezed += u32::from(ends[3].1);
        let_out += u32::from(ends[3].2);
    }
    assert!(squeezed > share(150) && let_out > share(20), "{squeezed} squeezed, {let_out} let out");
}

/// On its axis, a mover is as far as a wall that moves at any slant has let it come: beside the wall, or as far after it as its drive
/// goes since. It may press on the wall or flee from it, at one pace or faster and faster.
#[rstest::rstest]
#[case::round(true, false)]
#[case::a_box(true, true)]
#[case::slanted(false, false)]
fn a_wall_that_moves_at_a_slant_lets_a_mover_come_as_far_on_its_axis(
    #[case] is_round: bool,
    #[case] is_box: bool,
) {
    let (mut pushed, mut left) = (0, 0);
    for seed in some_of(0..1000) {
        let mut dice = Dice::new(seed);
        let (own, other) = (dice.number(0.5, 2.0), dice.number(0.5, 3.0));
        let (half, slant) = (if is_box { 0.5 * other } else { 0.0 }, dice.number(-0.8, 0.8));
        let radius = if is_box { own } else { own + other };
        let [from, to] = [(); 2].map(|()| dice.number(-0.8, 0.8) * (radius + half));
        let ahead = (radius * radius - (from.abs() - half).max(0.0).powi(2)).sqrt();
        let wall = vec2(dice.number(0.0, 2.0) + half + ahead, from);
        // One in four hardly moves by itself.
        let slow = [1.0, 1.0, 1.0, 0.005][dice.pick(4)];
        let (pace, seconds) = (dice.number(-6.0, 12.0) * slow, dice.number(0.3, 2.0));
        // Half of the walls get away about as fast as the mover comes after them.
        let away = if dice.pick(2) == 0 { pace + dice.number(-3.0, 1.0) } else { dice.number(-8.0, 8.0) };
        let by = vec2(away, (to - from) / seconds);
        let axis = [Axis::X, Axis::Y][dice.pick(2)];
        let gains = [f32::INFINITY, dice.number(3.0, 60.0)][dice.pick(2)];
        let turned = |vector: Vec2| if axis == Axis::X { vector } else { vec2(vector.y, vector.x) };
        let solid = if is_box {
            Solid::box_around(turned(wall), Vec2::splat(2.0 * half))
        } else if is_round {
            Solid::circle(turned(wall), other)
        } else {
            Solid::segment(turned(wall - vec2(slant, 1.0) * 40.0), turned(wall + vec2(slant, 1.0) * 40.0))
        };
        // Where the mover is that touches the wall.
        let touches = |time: f64| {
            let [own, radius, slant, half] = [own, radius, slant, half].map(f64::from);
            let wall = wall.as_dvec2() + by.as_dvec2() * time;
            let ahead = if is_round {
                half + (radius * radius - (wall.y.abs() - half).max(0.0).powi(2)).sqrt()
            } else {
                wall.y * slant + own * (1.0 + slant * slant).sqrt()
            };
            wall.x - ahead
        };
        let start = glam::dvec2(touches(0.0).min(0.0), 0.0);
        let play = |rate: u32| {
            let mut world = World::new();
            let wall = world.add(solid.unwrap());
            let gait = Gait::new(pace.abs(), gains.min(1e6), gains.min(1e6)).unwrap();
            let drive = if gains.is_finite() { gait.into() } else { Pace::new(pace.abs()).unwrap().into() };
            let rail = AnyDrive::on_axis(drive, axis);
            let mut cart = Walker::new(turned(start.as_vec2()), Footprint::circle(own).unwrap(), rail);
            let (mut expected, dt, parts) = (start.x, seconds / rate as f32, 4200 / rate);
            let (mut push, mut back, mut touched, mut left, mut last) =
                (Vec2::ZERO, 0.0, false, false, start.x);
            let (mut speed, top) = (0.0, f64::from(pace));
            for tick in 0..rate {
                world.move_at(wall, turned(by));
                let result = cart.tick(Intent::new(turned(vec2(pace.signum(), 0.3))), dt, &world);
                world.advance(dt);
                let [at, velocity] = [cart.position, cart.velocity].map(turned);
                push += turned(result.pushed);
                assert_eq!((at.y, velocity.y), (0.0, 0.0), "seed {seed} at {rate} ticks: {result:?}");
                assert!(
                    result.squeezed.is_none() && result.contacts.total() <= if is_box { 4 } else { 2 },
                    "seed {seed}: {result:?}"
                );
                for part in 1..=parts {
                    let step = f64::from(dt) / f64::from(parts);
                    let wall = touches(step * f64::from(tick * parts + part));
                    let change = (f64::from(gains) * step).min((top - speed).abs()).copysign(top - speed);
                    // At once, or evenly.
                    let went = if gains.is_finite() { speed + 0.5 * change } else { top };
                    (expected, speed) = (expected + step * went, speed + change);
                    if expected >= wall {
                        (expected, speed) = (wall, speed.min(((wall - last) / step).max(0.0)));
                    }
                    back += if wall == expected { (wall - last).min(0.0) } else { 0.0 };
                    touched |= wall == expected;
                    left |= wall > expected && touched;
                    last = wall;
                }
                let apart = (f64::from(at.x) - expected).abs();
                assert!(apart < 5e-4, "seed {seed} at {rate} ticks: {} not {expected}", at.x);
            }
            let apart = push.as_dvec2().distance(glam::dvec2(back, 0.0));
            assert!(apart < 0.02, "seed {seed} at {rate} ticks: pushed by {push}, not {back}");
            [back < 0.0, left].map(u32::from)
        };
        let [.., kinds] = [1, 3, 17, 120, 700].map(play);
        (pushed, left) = (pushed + kinds[0], left + kinds[1]);
    }
    assert!(pushed > share(150) && (left > share(10) || !is_round), "{pushed} pushed, {left} left");
}

/// On an axis, the touch of a barrel that rolls across ends once, where the barrel gets away as fast as the drive speeds up: also in
/// ticks in which the mover comes nearer by no more than a graze.
#[rstest::rstest]
fn on_an_axis_a_touch_ends_once(#[values(60, 144, 1000)] rate: u16) {
    let mut world = World::new();
    let barrel = world.add(Solid::circle(vec2(160.0, 30.0), 22.0).unwrap());
    let rail = OneAxis { drive: Gait::new(40.0, 120.0, 200.0).unwrap(), axis: Axis::X };
    let mut cart = Walker::new(vec2(88.0, 64.0), Footprint::circle(10.0).unwrap(), rail);
    let (mut touched, mut changes, dt) = (false, Vec::new(), 1.0 / f32::from(rate));
    for tick in 0..5 * rate {
        world.move_at(barrel, vec2(-16.0, 14.0));
        let result = cart.tick(Intent::new(Vec2::X), dt, &world);
        world.advance(dt);
        if result.contacts.is_empty() == touched {
            touched = !touched;
            changes.push(f32::from(tick) * dt);
        }
    }
    // At (y / 32)² = s², the surface speeds up by 14² / (32 (1 - s²)^1.5) units/s², and the gait by 120.
    let s = (1.0 - (14.0f32 * 14.0 / (32.0 * 120.0)).powf(2.0 / 3.0)).sqrt();
    let ends = (34.0 + 32.0 * s) / 14.0;
    assert!(changes.len() == 2 && (changes[1] - ends).abs() < 0.02, "{changes:?}, not {ends}");
}

/// On an axis, any drive comes up to a slanted wall that stands and stays there on its line, with corner help and bounces, too.
#[test]
fn on_an_axis_any_drive_stops_on_its_line_at_a_slanted_wall() {
    for drive in &any_drives() {
        let (mut stopped, mut helped, mut bounced) = (0, 0, 0);
        for seed in 0..200 {
            let mut dice = Dice::new(seed);
            let slope = dice.number(-3.0, 3.0);
            let (ahead, own) = (dice.number(3.0, 6.0), dice.number(0.3, 1.0));
            let half = vec2(slope, 1.0) * dice.number(0.5, 9.0);
            let mut world = World::new();
            world.add(Solid::segment(vec2(ahead, 0.0) - half, vec2(ahead, 0.0) + half).unwrap());
            let rail = OneAxis { drive: &**drive, axis: Axis::X };
            let mut cart = Walker::new(vec2(0.0, 0.0), Footprint::circle(own).unwrap(), rail);
            cart.along_walls = AlongWalls::PLAIN.with_corner_help([0.0, 2.0][dice.pick(2)]).unwrap();
            if dice.pick(3) == 0 {
                cart.along_walls.at_walls = AtWalls::bounce(0.5, 3.0).unwrap();
            }
            for _ in 0..120 {
                let result = cart.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 40.0, &world);
                assert_eq!((cart.position.y, cart.velocity.y), (0.0, 0.0), "seed {seed}: {result:?}");
                helped += usize::from(!result.contacts.is_empty() && cart.along_walls.corner_help() > 0.0);
                let bounces = cart.along_walls.at_walls != AtWalls::Slide;
                for contact in
                    result.contacts.iter().filter(|contact| bounces && contact.velocity_after.x < 0.0)
                {
                    let expected = contact.velocity_before * -0.5;
                    assert!(contact.velocity_after.distance(expected) < 1e-4, "seed {seed}: {contact:?}");
                    bounced += 1;
                }
            }
            let most = world.sweep(&cart.footprint, Vec2::ZERO, vec2(20.0, 0.0), &WallFilter::ALL).unwrap();
            assert!(
                cart.position.x <= most.position.x + 1e-5,
                "seed {seed}: {} past {}",
                cart.position,
                most.position
            );
            stopped += usize::from(cart.position.x > most.position.x - 1e-3);
        }
        assert!(
            stopped > 150 && helped > 150 && bounced > 40,
            "{stopped} stopped, {helped} helped, {bounced}"
        );
    }
}

/// On an axis, a wall that is almost level pushes a mover along at most 64 times as fast as the wall moves. One that would have to
/// push it faster squeezes it, says so, and passes.
#[test]
fn on_an_axis_no_wall_throws_a_mover_far_off() {
    let (mut pushed, mut squeezed, mut passed) = (0, 0, 0);
    for seed in some_of(0..1000) {
        let mut dice = Dice::new(seed);
        let slant = 10.0f32.powf(dice.number(-7.0, 0.0));
        let (along, radius) = (vec2(1.0, slant).normalize(), dice.number(0.3, 2.0));
        let by = vec2(0.0, dice.number(1.0, 30.0)) + along * dice.number(-5.0, 5.0);
        let mut world = World::new();
        let below = vec2(0.0, -dice.number(1.01, 1.3) * radius / along.x);
        let wall =
            world.add(Solid::segment(below - along * 3.0 * radius, below + along * 3.0 * radius).unwrap());
        let rail = OneAxis { drive: Pace::new(dice.number(0.0, 4.0)).unwrap(), axis: Axis::X };
        let mut cart = Walker::new(Vec2::ZERO, Footprint::circle(radius).unwrap(), rail);
        let rate = [30, 144, 1000][dice.pick(3)];
        let dt = 1.0 / rate as f32;
        let most = 64.0 * by.length();
        let (mut push, mut squeeze) = (0.0f32, false);
        for _ in 0..rate {
            world.move_at(wall, by);
            let before = cart.position;
            let result = cart.tick(Intent::new(vec2(dice.pick(3) as f32 - 1.0, 0.0)), dt, &world);
            world.advance(dt);
            assert_eq!(cart.position.y, 0.0, "seed {seed}: {result:?}");
            push = push.max(result.pushed.length() / dt);
            squeeze |= result.squeezed.is_some();
            let most_far = (most + rail.drive.top_speed()) * dt + result.moved_out.length();
            let far = cart.position.distance(before);
            assert!(far <= most_far * 1.001, "seed {seed}: {far} is more than {most_far}: {result:?}");
            passed +=
                usize::from(squeeze && !world.overlaps(&cart.footprint, cart.position, &WallFilter::ALL));
        }
        let across = by.perp_dot(along).abs() / along.y;
        // As fast as the surface crosses the axis where that is not too fast, and on its round end slower.
        assert!(push <= across.min(most) * 1.001, "seed {seed}: {push} is more than {across} or {most}");
        assert!(!squeeze || across > 0.99 * most, "seed {seed}: squeezed, slant {slant}");
        pushed += usize::from(push > 0.5 * across);
        squeezed += usize::from(squeeze);
    }
    assert!(
        pushed > share(100) && squeezed > share(300) && passed > share(1000),
        "{pushed} pushed, {squeezed} squeezed, {passed}"
    );
}

/// A mover that wants nothing moves only as far as walls push it, take it along or let it out of them: also past the end of a wall.
#[rstest::rstest]
#[case::free(None)]
#[case::on_an_axis(Some(Axis::X))]
fn what_stands_is_moved_by_walls_only(#[case] axis: Option<Axis>) {
    let (mut pushed, mut by_several, mut compared, mut far) = (0, 0, 0, Vec::new());
    for seed in 0..1000 {
        let mut dice = Dice::new(seed);
        let (mut world, moving, walker) = moving_scene(&mut dice, seed % 2 == 0);
        if world.overlaps(&walker.footprint, Vec2::ZERO, &WallFilter::ALL) {
            continue;
        }
        let on_axis = axis.map(|axis| OneAxis { drive: walker.drive, axis });
        let drive = on_axis.as_ref().map_or(&walker.drive as &dyn Drive, |drive| drive);
        let mut mover = Walker::new(Vec2::ZERO, walker.footprint, drive);
        let carries = dice.pick(3) == 0;
        for (wall, velocity) in &moving {
            world.set_carries(*wall, carries);
            world.move_at(*wall, *velocity);
        }
        let result = mover.tick(Intent::NONE, dice.number(0.1, 0.8), &world);
        let by_walls = result.pushed + result.moved_out;
        let apart = mover.position.distance(by_walls);
        assert!(apart < 0.02, "seed {seed}: {by_walls} {result:?}");
        compared += 1;
        if apart > 2e-3 {
            far.push((seed, apart));
        }
        pushed += usize::from(result.pushed != Vec2::ZERO);
        by_several += usize::from(result.pushed != Vec2::ZERO && result.contacts.total() > 1);
    }
    assert!(pushed > 200 && by_several > 30, "{pushed} pushed, {by_several} by several");
    assert_seldom(&far, compared);
}

/// A mover that is moved out of a door has nothing to do any more with the wall that it was squeezed against: in the rest of the tick,
/// it walks on as if it had been placed there.
#[test]
fn moved_out_of_a_door_a_mover_walks_on_at_once() {
    let mut out = 0;
    for seed in some_of(0..200) {
        let mut dice = Dice::new(seed);
        let width = dice.number(0.5, 3.0);
        let door = Solid::box_around(vec2(2.5 + width, 0.0), vec2(width, 9.0)).unwrap();
        let speed = dice.number(5.0, 20.0);
        let gait = Gait::new(dice.number(2.0, 12.0), dice.number(20.0, 200.0), 90.0).unwrap();
        let wish = Intent::new(vec2(-1.0, 0.0));
        let seconds = (dice.number(2.5, 5.0) + width) / speed;
        let play = |rate: u32| {
            let mut world = World::new();
            world.add(Solid::box_from_corners(vec2(-9.0, -90.0), vec2(0.0, 90.0)).unwrap());
            let door = world.add(door);
            let mut snail = Walker::new(vec2(1.0, 0.0), Footprint::rect(2.0, 2.0).unwrap(), gait);
            let (mut is_out, dt) = (false, seconds / rate as f32);
            for _ in 0..rate {
                world.move_at(door, vec2(-speed, 0.0));
                is_out |= snail.tick(wish, dt, &world).moved_out != Vec2::ZERO;
                world.advance(dt);
            }
            (snail.position, is_out)
        };
        let ends = [2, 9, 60, 400].map(play);
        let apart = ends.iter().map(|end| end.0.distance(ends[3].0)).fold(0.0, f32::max);
        assert!(apart < 0.01, "seed {seed}: {ends:?}");
        out += u32::from(ends[3].1);
    }
    assert!(out > share(120), "{out}");
}

/// What hovers is squeezed at its instant, too, though it is moved in short parts.
#[test]
fn a_lamp_is_squeezed_when_the_door_has_no_room_left() {
    let mut world = World::new();
    world.add(Solid::box_from_corners(vec2(-50.0, 2.0), vec2(50.0, 9.0)).unwrap());
    let door = world.add(Solid::box_from_corners(vec2(-9.0, -9.0), vec2(-5.0, 1.9)).unwrap());
    let post = world.add(Solid::box_from_corners(vec2(3.0, -9.0), vec2(7.0, 1.9)).unwrap());
    let mut lamp = Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0).unwrap(), Pace::new(1.0).unwrap());
    lamp.hover = Some(ambulant::arcade::Hover::new(0.5, 3.0, 3.0).unwrap());
    world.move_at(door, vec2(10.0, 0.0));
    let squeeze = lamp.tick(Intent::NONE, 0.9, &world).squeezed.unwrap();
    // Eight units between the door and the post, less two.
    assert!(
        (squeeze.by, squeeze.against) == (door, post) && (squeeze.seconds - 0.6).abs() < 1e-3,
        "{squeeze:?}"
    );
}

/// A door comes, pushes for a while and goes again: one touch, with the instants at which it starts and ends, whatever
/// the tick.
#[rstest::rstest]
#[case::one_tick(1)]
#[case::many_ticks(60)]
fn a_touch_with_a_door_starts_and_ends_when_it_does(#[case] ticks: u16) {
    let mut world = World::new();
    let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0)).unwrap());
    let gait = Gait::new(60.0, 400.0, 500.0).unwrap();
    let mut gardener = Walker::new(vec2(6.0, 0.0), Footprint::rect(2.0, 2.0).unwrap(), gait);
    let (mut touching, mut changes, dt) = (Touching::default(), Vec::new(), 0.9 / f32::from(ticks));
    let course = [WallMotion::new(vec2(10.0, 0.0), 0.5), WallMotion::new(vec2(-10.0, 0.0), 0.5)];
    for tick in 0..ticks {
        let begins = f32::from(tick) * dt;
        let rest = |piece: usize| WallMotion::new(course[piece].velocity, (0.5 - begins).max(0.0));
        let pieces = if begins < 0.5 { [rest(0), course[1]] } else { [course[1]; 2] };
        assert!(world.move_in(door, pieces));
        let _ = gardener.tick_tracking(Intent::NONE, dt, &world, &mut touching, |change| {
            if change.phase != TouchPhase::Lasting {
                changes.push((change.phase, ((begins + change.seconds) * 1000.0).round()));
            }
        });
        world.advance(dt);
    }
    // Three units to the gardener, and two more until the door turns back.
    assert_eq!(changes, [(TouchPhase::Started, 300.0), (TouchPhase::Ended, 500.0)]);
    assert!(gardener.position.distance(vec2(8.0, 0.0)) < 1e-4, "{}", gardener.position);
}

/// If every wall and the floor get the same velocity, everything happens as before, only elsewhere: the walls meet the
/// mover in the same order, on the same sides. For boxes among flat walls.
#[test]
fn a_moving_world_is_like_one_that_stands() {
    let (mut met, mut apart, mut compared) = (0, Vec::new(), 0);
    for seed in 0..2000u64 {
        let mut dice = Dice::new(seed);
        let (world, moving, walker) = moving_scene(&mut dice, false);
        let is_round = walker.footprint.radius().is_some();
        if is_round || world.overlaps(&walker.footprint, walker.position, &WallFilter::ALL) {
            continue;
        }
        let intent = Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)));
        let (drift, dt) =
            (Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 30.0), dice.number(0.05, 0.6));
        let play = |drift: Vec2| {
            let mut world = world.clone().with_surface(Surface::PLAIN.with_belt(drift).unwrap());
            let walls: Vec<Wall> = world.walls().map(|(wall, _)| wall).collect();
            for wall in walls {
                assert!(world.move_at(wall, velocity_in(&moving, wall) + drift));
            }
            let mut walker = walker;
            let result = walker.tick(intent, dt, &world);
            (walker, result)
        };
        let ((here, one), (there, other)) = (play(Vec2::ZERO), play(drift));
        if one.squeezed.is_some() || other.squeezed.is_some() {
            continue;
        }
        compared += 1;
        let sides = |result: &MoveResult| -> Vec<(Wall, Vec2)> {
            result.contacts.iter().map(|contact| (contact.wall, contact.normal)).collect()
        };
        let (first, second) = (sides(&one), sides(&other));
        met += usize::from(!first.is_empty());
        let same = first.len() == second.len()
            && first.iter().zip(&second).all(|(a, b)| a.0 == b.0 && a.1.distance(b.1) < 1e-3);
        if !same || here.position.distance(there.position - drift * dt) > 1e-3 {
            apart.push((seed, here.position, there.position - drift * dt));
        }
    }
    println!("{met} met walls, {} of {compared} differ", apart.len());
    assert!(met > 200, "{met}");
    assert_seldom(&apart, compared);
}

/// Walls in front of a mover at the origin, one on each of these sides of its way: circles, or slanted segments.
fn notch_of(sides: &[f32], is_round: bool, dice: &mut Dice) -> World {
    let mut notch = World::new();
    for &side in sides {
        let (near, size) = (vec2(4.0, side * dice.number(1.2, 3.0)), dice.number(1.5, 3.0));
        notch.add(if is_round {
            Solid::circle(near, size).unwrap()
        } else {
            let slant = vec2(dice.number(1.0, 4.0), side * dice.number(-4.0, 4.0));
            Solid::segment(near - slant, near + slant).unwrap()
        });
    }
    notch
}

/// How often a wall was met again at once, with another contact in between.
fn met_in_turns(result: &MoveResult) -> usize {
    let listed: Vec<&Contact> = result.contacts.iter().collect();
    let again =
        |three: &&[&Contact]| three[0].wall == three[2].wall && three[2].seconds - three[0].seconds < 1e-5;
    listed.windows(3).filter(again).count()
}

/// The same for many ticks, in a notch between two walls or, with drives that do not steer, against one that moves over the
/// floor: which wall holds the mover, and when it lets go, depends neither on how fast everything moves nor on the tick. What both
/// walls hold is not met and left by turns. Between two walls that move differently, that is so with a pace, a gait or a glide in
/// 39 of 40 scenes between round ones, and in 99 of 100 between slanted ones.
#[rstest::rstest]
#[case::between_round_walls(true, &[-1.0, 1.0], 0.0, 5, 1000)]
#[case::between_slanted_walls(false, &[-1.0, 1.0], 0.0, 5, 250)]
#[case::a_round_wall_over_the_floor(true, &[0.2], 3.0, 3, 1100)]
#[case::a_slanted_wall_over_the_floor(false, &[0.2], 3.0, 3, 650)]
#[case::round_walls_that_move_differently(true, &[-1.0, 1.0], 3.0, 3, 250)]
#[case::slanted_walls_that_move_differently(false, &[-1.0, 1.0], 3.0, 3, 200)]
fn walls_that_move_hold_a_mover_like_those_that_stand(
    #[case] is_round: bool,
    #[case] sides: &[f32],
    #[case] speed: f32,
    #[case] drives: usize,
    #[case] least_held: usize,
) {
    let may_squeeze = sides.len() == 2 && speed > 0.0;
    let (mut held_by_all, mut in_turns, mut apart, mut compared) = (0, 0, Vec::new(), 0);
    // Round walls that move differently take most of the time.
    // Where few scenes may part, all of them are played.
    let seeds: Vec<u64> =
        if may_squeeze && is_round { (0..400).collect() } else { some_of(0..1200).collect() };
    for seed in seeds {
        let mut dice = Dice::new(seed);
        let any_drives = any_drives();
        let kind = dice.pick(drives);
        let drive = &*any_drives[kind];
        let footprint = Footprint::circle(dice.number(0.4, 1.0)).unwrap();
        let notch = notch_of(sides, is_round, &mut dice);
        if notch.overlaps(&footprint, Vec2::ZERO, &WallFilter::ALL) {
            continue;
        }
        let drift = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 30.0);
        let own = [0; 2].map(|_| Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, speed));
        let ticks = [0; 2].map(|_| 5 + dice.pick(80));
        let turns = [dice.number(-0.5, 0.5), dice.number(-2.0, 2.0), dice.number(-2.0, 2.0)];
        let play = |drift: Vec2, ticks: usize| {
            let dt = 0.7 / ticks as f32;
            let mut world = notch.clone().with_surface(Surface::PLAIN.with_belt(drift).unwrap());
            let walls: Vec<Wall> = world.walls().map(|(wall, _)| wall).collect();
            let mut walker = Walker::new(Vec2::ZERO, footprint, drive);
            let (mut by_all, mut passed, mut again, mut squeezed) = (false, 0.0, 0, false);
            for turn in turns {
                let intent = Intent::new(Vec2::from_angle(turn));
                for _ in 0..ticks {
                    walls.iter().zip(own).for_each(|(wall, own)| assert!(world.move_at(*wall, own + drift)));
                    let result = walker.tick(intent, dt, &world);
                    world.advance(dt);
                    passed += dt;
                    squeezed |= result.squeezed.is_some();
                    again += met_in_turns(&result);
                    by_all |=
                        walls.iter().all(|wall| result.contacts.iter().any(|contact| contact.wall == *wall));
                }
            }
            (walker.position - drift * passed, by_all, again, squeezed)
        };
        let ((here, by_all, once, squeezes), (there, _, twice, squeezes_too)) =
            (play(Vec2::ZERO, ticks[0]), play(drift, ticks[1]));
        if may_squeeze && (squeezes || squeezes_too) {
            continue;
        }
        in_turns += once + twice;
        compared += 1;
        held_by_all += usize::from(by_all);
        if here.distance(there) > 3e-3 {
            apart.push((seed, kind, here.distance(there), drift.length(), ticks));
        }
    }
    println!("{held_by_all} met all, {in_turns} times in turns, {} of {compared} differ", apart.len());
    assert!(
        held_by_all > if may_squeeze && is_round { least_held } else { share(least_held) },
        "{held_by_all}"
    );
    if may_squeeze {
        let share = if is_round { 40 } else { 100 };
        assert!(apart.len() * share < compared, "{} of {compared}", apart.len());
        assert!(in_turns * 2 < compared, "{in_turns}");
        return;
    }
    assert!(in_turns * 20 < compared, "{in_turns}");
    assert_seldom(&apart, compared);
}

/// With any drive, a mover among moving walls is never inside a wall without a report; `in_parts` asserts it.
#[test]
fn with_any_drive_no_wall_is_entered_without_a_report() {
    let gait = Gait::new(10.0, 90.0, 90.0).unwrap();
    let held: [Box<dyn Drive>; 2] = [
        Box::new(Falling::new(gait, vec2(0.0, 60.0), 30.0).unwrap()),
        Box::new(OneAxis { drive: gait, axis: Axis::X }),
    ];
    for drive in any_drives().iter().chain(&held) {
        let (mut pushed, mut squeezed) = (0, 0);
        for seed in 0..400u64 {
            let mut dice = Dice::new(seed);
            let (world, moving, walker) = moving_scene(&mut dice, seed % 2 == 0);
            if world.overlaps(&walker.footprint, walker.position, &WallFilter::ALL) {
                continue;
            }
            let intent = Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 1.5));
            let dt = dice.number(0.05, 0.6);
            for parts in [1, 24] {
                let mut mover = Walker::new(walker.position, walker.footprint, &**drive);
                mover.velocity = drive.axis().map_or(walker.velocity, |axis| axis.only(walker.velocity));
                let (squeezes, pushes) = in_parts(&world, &moving, &mut mover, intent, dt, parts);
                (pushed, squeezed) = (pushed + usize::from(pushes > 0), squeezed + usize::from(squeezes));
                if drive.axis().is_some() {
                    assert_eq!(
                        (mover.position.y, mover.velocity.y),
                        (walker.position.y, 0.0),
                        "seed {seed} in {parts}"
                    );
                }
            }
        }
        assert!(pushed > 100 && squeezed > 2, "{pushed} pushed, {squeezed} squeezed");
    }
}

/// However often walls change their motion within one sweep, the last one is met.
#[test]
fn a_sweep_past_many_changes_of_motion_meets_the_last_wall() {
    let mut world = World::new();
    for column in 0..10u8 {
        let at = vec2(4.0 + f32::from(column), 6.0);
        let beam = world.add(Solid::box_around(at, vec2(0.5, 2.0)).unwrap());
        // Each one shakes at a rate of its own; the last one comes down in the end.
        let shakes = (0..12).map(|number| {
            let side = if number % 2 == 0 { 1.0 } else { -1.0 };
            WallMotion::new(vec2(0.0, side), 0.03 + f32::from(column) * 0.001)
        });
        let down = WallMotion::new(vec2(0.0, if column == 9 { -40.0 } else { 0.0 }), 1.0);
        assert!(world.move_in(beam, shakes.chain([down])));
    }
    let along = WallFilter::ALL.during(0.0, 0.6);
    // Past all of them, and at the end under the last one.
    let hit = world.sweep(&Footprint::rect(1.0, 1.0).unwrap(), Vec2::ZERO, vec2(13.0, 0.0), &along).unwrap();
    // Down from 5 to 0.5 after 12 * 0.039 s.
    let seconds = 12.0 * 0.039 + 4.5 / 40.0;
    assert!((hit.fraction - seconds / 0.6).abs() < 1e-4, "{hit:?}");
}

/// A cart takes along what touches its side, also while it moves away; what walks off is let go.
#[rstest::rstest]
#[case::stands(Vec2::ZERO, vec2(6.0, 2.0), vec2(2.0, -3.0))]
#[case::walks_along_it(vec2(1.0, 0.0), vec2(8.0, 2.0), vec2(2.0, -3.0))]
#[case::walks_into_it(vec2(0.0, -1.0), vec2(6.0, 2.0), vec2(2.0, -3.0))]
#[case::walks_off(vec2(0.0, 1.0), vec2(4.0, 7.0), Vec2::ZERO)]
fn a_cart_takes_along_what_touches_it(#[case] wish: Vec2, #[case] end: Vec2, #[case] carried: Vec2) {
    for parts in [1u8, 7] {
        let mut world = World::new();
        let cart = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(8.0, 4.0)).unwrap());
        assert!(world.set_carries(cart, true));
        let pace = Pace::new(2.0).unwrap();
        let mut snail = Walker::new(vec2(4.0, 5.0), Footprint::rect(2.0, 2.0).unwrap(), pace);
        let (mut pushed, dt) = (Vec2::ZERO, 1.0 / f32::from(parts));
        for _ in 0..parts {
            world.move_at(cart, vec2(2.0, -3.0));
            let result = snail.tick(Intent::new(wish), dt, &world);
            pushed += result.pushed;
            // Being taken along is a contact, also with a wall that goes away.
            let touches = result.contacts.iter().any(|contact| contact.pushed && contact.seconds == 0.0);
            assert_eq!(touches, carried != Vec2::ZERO, "in {parts} parts: {result:?}");
            world.advance(dt);
        }
        assert!(snail.position.distance(end) < 1e-4, "{} in {parts} parts", snail.position);
        assert!(pushed.distance(carried) < 1e-4, "{pushed} in {parts} parts");
    }
}

/// A mover that falls on a floor beside a hoist that takes it up stays on the floor at any tick rate: what it falls at counts against
/// the hoist in the first instant of a tick, too.
#[test]
fn beside_a_hoist_a_floor_holds_what_falls() {
    let mut landed = 0;
    for seed in some_of(0..200) {
        let mut dice = Dice::new(seed);
        let (up, aside) = (dice.number(2.0, 30.0), dice.number(0.0, 5.0));
        let pace = Pace::new(dice.number(5.0, 60.0)).unwrap();
        let falls = Falling::new(pace, vec2(0.0, dice.number(50.0, 400.0)), dice.number(10.0, 90.0)).unwrap();
        let height = dice.number(0.0, 3.0);
        let play = |rate: u32| {
            let mut world = World::new();
            let hoist = world.add(Solid::box_from_corners(vec2(-4.0, -90.0), vec2(0.0, 90.0)).unwrap());
            world.set_carries(hoist, true);
            world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(9.0, 9.0)).unwrap());
            let footprint = Footprint::rect(2.0, 2.0).unwrap();
            let mut moth = Walker::new(vec2(1.0, -1.0 - height), footprint, falls);
            let dt = 1.0 / rate as f32;
            let (mut first, mut has_landed) = (None, false);
            for _ in 0..rate {
                world.move_at(hoist, vec2(aside, -up));
                let _ = moth.tick(Intent::new(vec2(-1.0, 0.0)), dt, &world);
                world.advance(dt);
                has_landed = moth.position.y > -1.0 - 1e-4;
                first = first.or(has_landed.then_some(moth.velocity.y));
            }
            (moth.position.y, first.filter(|_| has_landed))
        };
        let ends = [7, 60, 1000].map(play);
        let apart = ends.iter().map(|end| (end.0 - ends[2].0).abs()).fold(0.0, f32::max);
        assert!(apart < 0.01, "seed {seed}: {ends:?}");
        landed += u32::from(ends[2].1.is_some());
    }
    assert!(landed > share(80), "{landed} landed");
}

/// A wall that pushes a mover off a carrier, which would come after it at once, leaves it between both at any tick rate.
#[test]
fn between_a_hoist_and_a_slope_a_mover_stays_with_both() {
    let (mut between, mut apart) = (0, Vec::new());
    for seed in some_of(0..300) {
        let mut dice = Dice::new(seed);
        let ride = vec2(dice.number(5.0, 30.0), -dice.number(10.0, 40.0));
        let normal = Vec2::from_angle(dice.number(0.9, 1.5));
        let size = vec2(dice.number(1.0, 4.0), dice.number(1.0, 4.0));
        // Above its upper left corner.
        let above = vec2(0.0, -0.5 * size.y - dice.number(0.2, 3.0));
        let speed = dice.number(0.0, 12.0);
        let gait = Gait::new(12.0, dice.number(20.0, 200.0), dice.number(20.0, 200.0)).unwrap();
        // Against the hoist, and not against the slope.
        let press = -speed / 12.0;
        let wish = Intent::new(vec2(press, -press * normal.x / normal.y + dice.number(0.0, 0.2)));
        let play = |rate: u32| {
            let mut world = World::new();
            let hoist = world.add(Solid::box_from_corners(vec2(-9.0, -60.0), vec2(0.0, 60.0)).unwrap());
            world.set_carries(hoist, true);
            let slope = [above - normal.perp() * 50.0, above + normal.perp() * 50.0];
            let slope = world.add(Solid::segment(slope[0], slope[1]).unwrap());
            let footprint = Footprint::rect(size.x, size.y).unwrap();
            let mut snail = Walker::new(vec2(0.5 * size.x, 0.0), footprint, gait);
            let dt = 0.4 / rate as f32;
            let mut with_both = 0;
            for _ in 0..rate {
                world.move_at(hoist, ride);
                let result = snail.tick(wish, dt, &world);
                world.advance(dt);
                let touches = result.contacts.iter().any(|contact| contact.wall == slope);
                let edge = world.solid(hoist).unwrap().bounds().max.x;
                let gap = snail.position.x - 0.5 * size.x - edge;
                assert!(
                    gap > -2e-3,
                    "seed {seed} {rate}: {gap} inside {ride} {normal} {wish:?} {gait:?} {result:?}"
                );
                with_both += u32::from(touches && gap < 2e-3);
            }
            (snail.position, with_both)
        };
        let [(slow, _), (usual, _), (fast, with_both)] = [3, 24, 400].map(play);
        if slow.distance(fast).max(usual.distance(fast)) > 0.01 {
            apart.push((seed, slow, usual, fast));
        }
        between += u32::from(with_both > 20);
    }
    println!("{between} between both, {} of 300 apart", apart.len());
    assert!(between > share(100), "{between}");
    assert!(apart.is_empty(), "{} of 300: {:?}", apart.len(), &apart[..apart.len().min(4)]);
}

/// On rafts that drift, one long tick ends where many short ones do.
#[rstest::rstest]
#[case::plain(false)]
#[case::of_different_grip(true)]
fn on_rafts_one_tick_ends_where_many_short_ones_do(#[case] differ: bool) {
    let (mut changed, mut found) = (0, LongAndShort::default());
    for seed in some_of(0..2000) {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        let mut rafts = Vec::new();
        for _ in 0..3 {
            let middle = vec2(dice.number(-4.0, 4.0), dice.number(-4.0, 4.0));
            let half = vec2(dice.number(1.0, 4.0), dice.number(1.0, 4.0));
            let mut surface = Surface::PLAIN.with_belt(vec2(0.0, dice.number(-2.0, 2.0))).unwrap();
            if differ {
                surface = surface.with_grip(dice.number(0.1, 2.0)).unwrap();
                surface = surface.with_speed_factor(dice.number(0.3, 1.0)).unwrap();
            }
            let area = ambulant::shape::Aabb { min: middle - half, max: middle + half };
            let velocity = vec2(dice.number(-20.0, 20.0), dice.number(-20.0, 20.0));
            rafts.push((world.add_floor(area, surface).unwrap(), velocity));
        }
        let speed = dice.number(2.0, 20.0);
        let gait = Gait::new(speed, dice.number(20.0, 200.0), dice.number(20.0, 200.0)).unwrap();
        let walker = Walker::new(Vec2::ZERO, Footprint::circle(0.5).unwrap(), gait);
        let intent = Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 1.5));
        let dt = dice.number(0.05, 0.6);
        let mut alone = walker;
        let _ = alone.tick(intent, dt, &World::new());
        let end = found.compare(seed, (&world, &rafts), walker, (intent, dt));
        changed += usize::from(alone.position.distance(end) > 0.1);
    }
    let LongAndShort { compared, apart, balanced, .. } = found;
    println!("{changed} moved by rafts, {} of {compared} apart, {balanced} of them balanced", apart.len());
    assert!(changed > share(500), "{changed} moved by rafts");
    // Where three edges meet, a touch decides.
    assert!((apart.len() - balanced) * 200 <= compared && apart.len() * 100 <= compared, "{apart:?}");
}

/// The edge of a raft takes up a mover: one that stands in the open or against a wall, or one that rode on the edge and lets go of its
/// keys. From then on it stays on the raft, whenever the raft turns.
#[rstest::rstest]
#[case::in_the_open(false, false)]
#[case::against_a_wall(true, false)]
#[case::after_a_ride_on_the_edge(false, true)]
fn at_the_edge_of_a_raft_that_turns_a_mover_stays_on_it(#[case] wall: bool, #[case] rides: bool) {
    let (mut turns, mut off) = (0.0, Vec::new());
    for seed in some_of(0..500) {
        let mut dice = Dice::new(seed);
        let turned = [vec2(1.0, 0.0), vec2(0.0, 1.0), vec2(-1.0, 0.0), vec2(0.0, -1.0)][dice.pick(4)];
        let place = |along: f32, across: f32| vec2(along, across).rotate(turned);
        let start = vec2(dice.number(-900.0, 900.0), dice.number(-900.0, 900.0));
        let (speed, ahead) = (dice.number(5.0, 50.0), dice.number(0.3, 2.0));
        let aside = if wall { 0.0 } else { dice.number(-2.0, 2.0) };
        // One that rides has come to rest before the raft turns.
        let lasts = ahead / speed + if rides { 1.2 } else { dice.number(0.3, 1.0) };
        let mut world = World::new();
        let [near, far] = [place(-ahead, 4.0), place(-ahead - 6.0, -4.0)].map(|corner| start + corner);
        let grip = Surface::PLAIN.with_grip(dice.number(0.3, 1.5)).unwrap();
        let raft = world.add_floor(ambulant::shape::Aabb::from_corners(near, far), grip).unwrap();
        if wall {
            let [near, far] = [place(-90.0, 1.0), place(90.0, 2.0)].map(|corner| start + corner);
            world.add(Solid::box_from_corners(near, far).unwrap());
        }
        let there = place(speed * lasts, aside * lasts);
        let course = Course::new().moves(there, lasts).and_then(|course| course.moves(-there, lasts));
        let mut course = course.and_then(Course::looping).unwrap();
        let gait = Gait::new(0.6 * speed, dice.number(20.0, 200.0), dice.number(60.0, 300.0)).unwrap();
        let mut snail = Walker::new(start, Footprint::rect(2.0, 2.0).unwrap(), gait);
        let rate = [7, 30, 144, 1000][dice.pick(4)];
        let (mut now, mut since, mut keys) = (0.0, None, true);
        for _ in 0..5 * rate {
            let dt = 1.0 / rate as f32;
            world.move_in(raft, course.pieces(dt));
            course.advance(dt);
            keys &= rides && now < f64::from(ahead / speed) + 0.4;
            let wish = if keys { place(1.0, 0.0) } else { place(0.0, if wall { 1.0 } else { 0.0 }) };
            let _ = snail.tick(Intent::new(wish), dt, &world);
            world.advance(dt);
            now += f64::from(dt);
            let phase = now % (2.0 * f64::from(lasts));
            let part = phase.min(2.0 * f64::from(lasts) - phase) / f64::from(lasts);
            let on_raft = snail.position.as_dvec2() - there.as_dvec2() * part;
            let is_on = now > f64::from(ahead / speed) && !keys && (wall || snail.velocity == Vec2::ZERO);
            if !is_on {
                since = None;
                continue;
            }
            let (_, known) = *since.get_or_insert((now, on_raft));
            if known.distance(on_raft) > 4e-3 {
                off.push((seed, rate, now, known, on_raft));
                break;
            }
        }
        turns += since.map_or(0.0, |(at, _)| (now - at) / f64::from(lasts));
    }
    println!("{turns:.0} turns on a raft, {} of 500 off", off.len());
    assert!(turns > share(1000.0), "{turns} turns");
    assert!(off.is_empty(), "{} of 500: {:?}", off.len(), &off[..off.len().min(4)]);
}

/// A raft whose front edge a mover rides gets faster right after a tick has begun: the mover stays on the edge.
#[test]
fn on_the_edge_of_a_raft_that_gets_faster_a_mover_stays() {
    let mut world = World::new();
    let area = ambulant::shape::Aabb::from_corners(vec2(-60.0, 30.0), vec2(0.0, 90.0));
    let raft = world.add_floor(area, Surface::PLAIN).unwrap();
    let until = 1.00005;
    let course = Course::new().moves(vec2(20.0, 0.0) * until, until);
    let mut course = course.and_then(|course| course.moves(vec2(22.0, 0.0), 1.0)).unwrap();
    let mut snail = Walker::new(vec2(0.0, 60.0), Footprint::circle(1.0).unwrap(), Pace::new(10.0).unwrap());
    for tick in 1..=1500u16 {
        world.move_in(raft, course.pieces(0.001));
        course.advance(0.001);
        let _ = snail.tick(Intent::new(vec2(1.0, 0.0)), 0.001, &world);
        world.advance(0.001);
        let now = 0.001 * f32::from(tick);
        let expected = 20.0 * now.min(until) + 22.0 * (now - until).max(0.0);
        assert!(
            (snail.position.x - expected).abs() < 1e-3,
            "{} after {now} s, not {expected}",
            snail.position
        );
    }
}

/// A path has the mover where a shorter tick leaves it, and a wall that follows the path ends where the mover does. With
/// any drive, among walls that stand and walls that move.
#[test]
fn a_path_is_where_the_mover_is_at_each_instant() {
    let (mut path, mut curved, mut met, mut compared, mut far) = (Path::default(), 0, 0, 0, Vec::new());
    for (kind, drive) in any_drives().iter().enumerate() {
        for seed in 0..300u64 {
            let mut dice = Dice::new(seed);
            let (mut world, moving, walker) = moving_scene(&mut dice, seed % 2 == 0);
            if world.overlaps(&walker.footprint, walker.position, &WallFilter::ALL) {
                continue;
            }
            let own = world.add(Solid::circle(vec2(500.0, 0.0), 1.0).unwrap());
            for (wall, velocity) in moving {
                assert!(world.move_at(wall, velocity));
            }
            let intent = Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 1.5));
            let dt = dice.number(0.02, 0.5);
            let mut start = Walker::new(walker.position, walker.footprint, &**drive);
            start.velocity = walker.velocity;
            let (mut mover, mut plain) = (start, start);
            let result = mover.tick_with_path(intent, dt, &world, &mut path);
            let squeezed = plain.tick(intent, dt, &world).squeezed.is_some();
            if squeezed || result.squeezed.is_some() {
                continue;
            }
            compared += 1;
            curved += usize::from(path.pieces().len() > 3);
            met += usize::from(!result.contacts.is_empty());
            assert_eq!(path.end(), mover.position);
            let mut apart = plain.position.distance(mover.position);
            for part in [0.13, 0.31, 0.57, 0.83] {
                let mut early = start;
                let _ = early.tick(intent, dt * part, &world);
                apart = apart.max(path.at(dt * part).distance(early.position));
            }
            if apart > 2e-3 {
                far.push((kind, seed, apart));
            }
            let pieces = path.pieces();
            assert!(pieces.windows(2).all(|pair| pair[0].end == pair[1].start && pair[0].to == pair[1].from));
            assert!(world.follow(own, &path));
            world.advance(dt);
            let moved =
                0.5 * (world.solid(own).unwrap().bounds().min + world.solid(own).unwrap().bounds().max);
            let gap = moved.distance(vec2(500.0, 0.0) + mover.position - start.position);
            assert!(gap < 1e-4, "{gap} away from the mover");
        }
    }
    println!("{curved} curved, {met} met walls, {} of {compared} apart: {far:?}", far.len());
    assert!(curved > 300 && met > 200, "{curved} curved, {met} met walls");
    assert!(far.len() * 100 <= compared, "{} of {compared}: {far:?}", far.len());
}

/// A course played in random ticks takes a wall where the course says, and ends exactly when it does.
#[test]
fn a_course_takes_a_wall_along_whatever_the_ticks() {
    let mut looped = 0;
    for seed in 0..300u64 {
        let mut dice = Dice::new(seed);
        let (mut course, mut home) = (Course::new(), Vec2::ZERO);
        for _ in 0..1 + dice.pick(4) {
            let by = vec2(dice.number(-20.0, 20.0), dice.number(-20.0, 20.0)) * [0.0, 1.0, 1.0][dice.pick(3)];
            course = course.moves(by, dice.number(0.002, 1.5)).unwrap();
            home -= by;
        }
        let loops = dice.pick(2) == 0;
        course = course.moves(home, dice.number(0.1, 1.0)).unwrap();
        course = if loops { course.looping().unwrap() } else { course };
        looped += usize::from(loops);
        let whole = course.seconds();
        let mut world = World::new();
        let door = world.add(Solid::circle(vec2(3.0, 4.0), 1.0).unwrap());
        let mut time = 0.0;
        while time < 2.5 * whole {
            let dt = dice.number(0.001, 0.7);
            assert!(world.move_in(door, course.pieces(dt)));
            // The last piece of a tick has no end, unless the course ends in it.
            let last = course.pieces(dt).last().map(|piece| piece.seconds);
            let ends = !loops && time + f64::from(dt) > whole;
            assert!(ends || last == Some(f32::INFINITY), "{last:?} at {time} s of {course:?}");
            world.advance(dt);
            course.advance(dt);
            time += f64::from(dt);
            let at =
                0.5 * (world.solid(door).unwrap().bounds().min + world.solid(door).unwrap().bounds().max);
            let due = course.offset_at(if loops { time } else { time.min(whole) }).as_vec2();
            assert!(at.distance(vec2(3.0, 4.0) + due) < 1e-4, "{at} at {time} s of {course:?}");
            assert!(course.offset().distance(due) < 1e-4 && course.has_ended() == (!loops && time >= whole));
        }
    }
    assert!((100..200).contains(&looped), "{looped}");
}

/// A course that cannot be is refused with its field.
#[rstest::rstest]
#[case::no_time(Course::new().moves(Vec2::X, 0.0), "seconds is 0, but must be a finite number of at least 0.000001")]
#[case::backwards(Course::new().waits(-1.0), "seconds is -1")]
#[case::endless(Course::new().waits(f32::INFINITY), "seconds is inf")]
#[case::no_number(Course::new().moves(vec2(f32::NAN, 0.0), 1.0), "displacement")]
#[case::too_fast(Course::new().moves(vec2(2e4, 0.0), 0.01), "speed is 2000000")]
#[case::jumps(Course::new().moves(Vec2::Y, 1.0).unwrap().looping(), "displacement is (0, 1)")]
#[case::empty(Course::new().looping(), "legs is 0, but must be at least one")]
fn a_course_that_cannot_be_is_refused(
    #[case] course: Result<Course, ambulant::InvalidNumber>,
    #[case] part: &str,
) {
    let message = course.unwrap_err().to_string();
    assert!(message.contains(part), "{message}");
}

/// A raft that passes under a mover pressed into a corner takes it out of there at the instant at which it arrives.
#[rstest::rstest]
#[case::one_tick(1)]
#[case::many_ticks(25)]
fn a_raft_takes_a_mover_out_of_a_corner(#[case] ticks: u16) {
    let mut world = World::new();
    world.add(Solid::box_from_corners(vec2(0.0, 10.0), vec2(10.0, 12.0)).unwrap());
    world.add(Solid::box_from_corners(vec2(10.0, 0.0), vec2(12.0, 12.0)).unwrap());
    let area = ambulant::shape::Aabb::from_corners(vec2(8.0, 20.0), vec2(9.5, 40.0));
    let raft = world.add_floor(area, Surface::PLAIN).unwrap();
    let gait = Gait::new(4.0, 100.0, 100.0).unwrap();
    let gait = Falling::new(gait, vec2(1.0, 0.0), 1.0).unwrap(); // a slight pull into the corner
    let mut snail = Walker::new(vec2(9.0, 9.0), Footprint::rect(2.0, 2.0).unwrap(), gait);
    let dt = 1.0 / f32::from(ticks);
    for _ in 0..ticks {
        world.move_at(raft, vec2(0.0, -20.0));
        let _ = snail.tick(Intent::new(vec2(1.0, 1.0)), dt, &world);
        world.advance(dt);
    }
    // The raft comes after 0.55 s; on it, the mover gets to 4 / √2 units/s up within 0.03 s, against 20 down.
    let own = 4.0 * 0.5f32.sqrt();
    let up = own * (0.45 - 0.5 * own / 100.0);
    let carried = 20.0 * 0.45;
    assert!(snail.position.distance(vec2(9.0, 9.0 - carried + up)) < 0.01, "{}", snail.position);
}

/// Mirrored, with x and y exchanged, or with its walls in another order, a scene plays the same.
#[rstest::rstest]
#[case::mirrored(|at: Vec2| vec2(-at.x, at.y), false)]
#[case::upside_down(|at: Vec2| vec2(at.x, -at.y), false)]
#[case::exchanged(|at: Vec2| vec2(at.y, at.x), false)]
#[case::in_another_order(|at: Vec2| at, true)]
fn seen_otherwise_a_scene_plays_the_same(#[case] seen: fn(Vec2) -> Vec2, #[case] reversed: bool) {
    let (mut pushed, mut compared, mut apart) = (0, 0, Vec::new());
    for seed in some_of(0..1200) {
        let mut dice = Dice::new(seed);
        let (world, moving, walker) = moving_scene(&mut dice, seed % 2 == 0);
        if world.overlaps(&walker.footprint, walker.position, &WallFilter::ALL) {
            continue;
        }
        let carries = dice.pick(2) == 0;
        let mut walls: Vec<(Solid, Vec2)> =
            world.walls().map(|(wall, solid)| (*solid, velocity_in(&moving, wall))).collect();
        let intent = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 1.5);
        let dt = dice.number(0.05, 0.6);
        let play = |walls: &[(Solid, Vec2)], seen: fn(Vec2) -> Vec2| {
            let mut world = World::new();
            for (solid, velocity) in walls {
                let solid = match solid {
                    Solid::Circle { center, radius, .. } => Solid::circle(seen(*center), *radius),
                    other => Solid::box_from_corners(seen(other.bounds().min), seen(other.bounds().max)),
                };
                let wall = world.add(solid.unwrap());
                assert!(world.move_at(wall, seen(*velocity)) && world.set_carries(wall, carries));
            }
            let mut walker = walker;
            walker.velocity = seen(walker.velocity);
            let result = walker.tick(Intent::new(seen(intent)), dt, &world);
            let normals: Vec<Vec2> = result.contacts.iter().map(|contact| contact.normal).collect();
            (walker.position, walker.velocity, normals, result)
        };
        let (position, velocity, normals, result) = play(&walls, |at| at);
        if reversed {
            walls.reverse();
        }
        let (other_position, other_velocity, others, other_result) = play(&walls, seen);
        pushed += usize::from(result.contacts.iter().any(|contact| contact.pushed));
        compared += 1;
        let same_normals = normals.len() == others.len()
            && normals.iter().zip(&others).all(|(one, other)| seen(*one).distance(*other) < 1e-3);
        let same = seen(position).distance(other_position) < 1e-3
            && seen(velocity).distance(other_velocity) < 1e-2
            && result.squeezed.is_some() == other_result.squeezed.is_some();
        if !same || !same_normals {
            apart.push((seed, position, seen(other_position), normals.len(), others.len()));
        }
    }
    println!("{pushed} pushed, {} of {compared} differ: {apart:?}", apart.len());
    assert!(pushed > share(200), "{pushed} pushed");
    assert_seldom(&apart, compared);
}

/// A wall pushes a mover that bounces off it: the bounces get slower and end in contact, after a number of contacts that
/// does not depend on the tick.
#[rstest::rstest]
#[case::one_tick(1)]
#[case::many_ticks(60)]
fn bounces_off_a_wall_that_pushes_come_to_an_end(#[case] ticks: u16) {
    for seed in 0..50 {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0)).unwrap());
        let pace = Gait::new(30.0, dice.number(100.0, 400.0), dice.number(100.0, 400.0)).unwrap();
        let mut moth = Walker::new(vec2(6.0, 0.0), Footprint::rect(2.0, 2.0).unwrap(), pace);
        moth.along_walls.at_walls = AtWalls::bounce(dice.number(0.1, 0.8), 0.5).unwrap();
        let speed = dice.number(2.0, 10.0);
        let (mut met, dt) = (0, 2.0 / f32::from(ticks));
        for _ in 0..ticks {
            world.move_at(door, vec2(speed, 0.0));
            // It flies against the door all the time.
            let result = moth.tick_with(Intent::new(vec2(-1.0, 0.0)), dt, &world, |contact| {
                met += usize::from(contact.velocity_after.x > contact.velocity_before.x + 0.5);
            });
            world.advance(dt);
            assert!(result.squeezed.is_none());
        }
        assert!((1..200).contains(&met), "{met} bounces");
        let face = 2.0 + 2.0 * speed;
        assert!((moth.position.x - 1.0 - face).abs() < 1e-3, "{} beside {face}", moth.position.x);
    }
}

/// Between walls that close, a mover that bounces without loss meets them more and more often, until it is squeezed.
#[test]
fn between_walls_that_close_bounces_end_with_a_squeeze() {
    let mut world = World::new();
    let left = world.add(Solid::box_from_corners(vec2(-4.0, -5.0), vec2(-2.0, 5.0)).unwrap());
    let right = world.add(Solid::box_from_corners(vec2(2.0, -5.0), vec2(4.0, 5.0)).unwrap());
    let mut moth =
        Walker::new(Vec2::ZERO, Footprint::circle(0.5).unwrap(), Gait::new(1.0, 0.01, 0.01).unwrap());
    moth.velocity = vec2(7.0, 0.0);
    moth.along_walls.at_walls = AtWalls::bounce(1.0, 0.1).unwrap();
    world.move_at(left, vec2(1.0, 0.0));
    world.move_at(right, vec2(-1.0, 0.0));
    let mut met = 0;
    let result = moth.tick_with(Intent::NONE, 1.7, &world, |_| met += 1);
    // Each wall has 1.5 units to go.
    let squeeze = result.squeezed.unwrap();
    assert!((squeeze.seconds - 1.5).abs() < 1e-3 && squeeze.by != squeeze.against, "{squeeze:?}");
    assert!((10..1100).contains(&met), "{met} contacts");
}

/// A mover that walks off the front of a raft more slowly than the raft follows stays on its edge.
#[rstest::rstest]
#[case::one_tick(1)]
#[case::many_ticks(40)]
fn at_the_front_of_a_raft_a_slow_mover_stays_on_its_edge(#[case] ticks: u16) {
    let mut world = World::new();
    let area = ambulant::shape::Aabb::from_corners(vec2(0.0, 0.0), vec2(8.0, 8.0));
    let raft = world.add_floor(area, Surface::PLAIN).unwrap();
    let mut snail = Walker::new(vec2(7.0, 4.0), Footprint::rect(1.0, 1.0).unwrap(), Pace::new(2.0).unwrap());
    let dt = 4.0 / f32::from(ticks);
    for _ in 0..ticks {
        world.move_at(raft, vec2(5.0, 0.0));
        let _ = snail.tick(Intent::new(vec2(1.0, 0.0)), dt, &world);
        world.advance(dt);
    }
    // At the edge after half a second, and with it from then on.
    assert!((snail.position.x - (8.0 + 5.0 * 4.0)).abs() < 1e-3, "{}", snail.position);
    assert_eq!(snail.velocity, vec2(2.0, 0.0));
}

/// What cannot move or be moved so is refused, and nothing changes.
#[test]
fn what_cannot_move_so_is_refused() {
    let mut world = World::new();
    let door = world.add(Solid::circle(Vec2::ZERO, 1.0).unwrap());
    let gone = world.add(Solid::circle(Vec2::ZERO, 1.0).unwrap());
    world.remove(gone);
    let mut path = Path::default();
    let mut snail = Walker::new(Vec2::ZERO, Footprint::circle(1.0).unwrap(), Pace::new(1.0).unwrap());
    let _ = snail.tick_with_path(Intent::new(Vec2::X), 1.0, &World::new(), &mut path);
    for wall in [gone, Wall::tile(glam::IVec2::ZERO), Wall::Edge(Side::Top), Wall::Own(3)] {
        assert!(!world.move_at(wall, Vec2::X) && !world.move_in(wall, []) && !world.stop_after(wall, 1.0));
        assert!(!world.set_carries(wall, true) && !world.follow(wall, &path));
    }
    for velocity in [vec2(f32::NAN, 0.0), vec2(0.0, f32::INFINITY), vec2(2e6, 0.0)] {
        assert!(!world.move_at(door, velocity));
    }
    assert!(!world.move_in(door, [WallMotion::new(Vec2::X, 1.0), WallMotion::new(Vec2::X, -1.0)]));
    assert!(!world.move_in(door, [WallMotion::new(Vec2::X, f32::NAN)]));
    let nowhere = ambulant::shape::Aabb { min: vec2(f32::NAN, 0.0), max: Vec2::ONE };
    assert_eq!(world.add_floor(nowhere, Surface::PLAIN).unwrap_err().field(), "corner");
    let raft =
        world.add_floor(ambulant::shape::Aabb { min: Vec2::ZERO, max: Vec2::ONE }, Surface::PLAIN).unwrap();
    assert!(!world.set_layers(raft, ambulant::terrain::Layers::ALL) && world.walls().count() == 1);
    world.remove(raft);
    assert!(world.floors().next().is_none() && !world.has_surfaces());
    world.advance(1.0);
    assert_eq!(world.solid(door).unwrap().bounds().min, Vec2::NEG_ONE);
}

/// On a hoist, the legs of a character walk as on one that stands.
#[test]
fn on_a_hoist_a_character_walks_as_on_one_that_stands() {
    let phase = |velocity: Vec2| {
        let mut world = World::new();
        let hoist = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(40.0, 4.0)).unwrap());
        assert!(world.set_carries(hoist, true));
        let pace = Pace::new(20.0).unwrap();
        let walker = Walker::new(vec2(4.0, 5.0), Footprint::rect(2.0, 2.0).unwrap(), pace);
        let mut snail = Character::new(walker, Pose::four_way(30.0, 4).unwrap());
        for _ in 0..5 {
            world.move_at(hoist, velocity);
            let _ = snail.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &world, |_| {});
            world.advance(0.1);
        }
        (snail.walker.position - velocity * 0.5, snail.pose.walk.phase())
    };
    let ((stands, one), (carried, other)) = (phase(Vec2::ZERO), phase(vec2(3.0, -7.0)));
    assert!(stands.distance(carried) < 1e-4 && (one - other).abs() < 1e-5, "{one} and {other}");
    assert!(one > 0.1, "{one}");
}

/// Pressed by a moving wall along one that stands, past another one, a mover does not get into those that stand: it would
/// ignore them from then on, and walk through them. Where it is squeezed, it says so; and every tick ends.
#[test]
fn a_mover_that_is_pressed_along_a_wall_stays_outside_of_it() {
    let (mut pressed, mut squeezed, mut inside) = (0, 0, Vec::new());
    // In the last one, a corner of the moving box lies behind the surface of the wall: a sweep names the wall for it.
    for seed in some_of(0..200).chain([370]) {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        world.add(Solid::box_from_corners(vec2(0.0, -40.0), vec2(4.0, 40.0)).unwrap());
        let slope = Vec2::from_angle(dice.number(-0.4, 0.4)) * 3.5;
        let from = vec2(dice.number(3.2, 4.0), -2.0);
        let rail = world.add(match dice.pick(3) {
            0 => Solid::segment(from, from + slope).unwrap(),
            1 => Solid::circle(from + slope * 0.5, dice.number(0.5, 2.0)).unwrap(),
            _ => Solid::box_from_corners(from, from + vec2(3.0, 1.0)).unwrap(),
        });
        let post = vec2(dice.number(3.0, 6.0), dice.number(3.0, 8.0));
        world.add(Solid::circle(post, dice.number(0.5, 2.0)).unwrap());
        world.set_carries(rail, dice.pick(2) == 0);
        let size = dice.number(0.5, 1.3);
        let shape = match dice.pick(3) {
            0 => Footprint::rect(size * 2.0, size * dice.number(0.5, 2.0)).unwrap(),
            _ => Footprint::circle(size).unwrap(),
        };
        let gait = Gait::new(dice.number(5.0, 60.0), 200.0, 200.0).unwrap();
        let mut walker = Walker::new(vec2(4.01 + size, 0.0), shape, gait);
        let (wish, push) =
            (vec2(-1.0, dice.number(-1.0, 0.0)), vec2(dice.number(-2.0, 2.0), dice.number(0.2, 3.0)));
        if world.overlaps(&shape, walker.position, &WallFilter::ALL) {
            continue;
        }
        for _ in 0..120 {
            let dt = [1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0][dice.pick(3)];
            world.move_at(rail, push);
            let result = walker.tick(Intent::new(wish), dt, &world);
            world.advance(dt);
            pressed += u32::from(result.contacts.iter().any(|contact| contact.pushed));
            squeezed += u32::from(result.squeezed.is_some());
            let other = [rail];
            let standing = WallFilter::ALL.except(&other);
            if result.squeezed.is_none() && world.overlaps(&shape, walker.position, &standing) {
                inside.push((seed, walker.position));
            }
            if result.squeezed.is_some() {
                break;
            }
        }
    }
    assert!(pressed > share(4_000), "{pressed}");
    assert!(squeezed < 100, "{squeezed}");
    assert!(inside.is_empty(), "{} of {pressed}: {:?}", inside.len(), &inside[..inside.len().min(4)]);
}

/// A circle that rolls round the corner of a moving box ends at the same place at any tick rate: at a low one, too, the work of
/// a tick suffices.
#[test]
fn a_circle_rolls_round_a_moving_corner_at_any_tick_rate() {
    let (mut rolled, mut apart) = (0, Vec::new());
    for seed in some_of(0..150) {
        let mut dice = Dice::new(seed);
        let size = vec2(dice.number(8.0, 30.0), dice.number(8.0, 30.0));
        let way = Vec2::from_angle(dice.number(0.0, core::f32::consts::TAU));
        let push = way * dice.number(10.0, 60.0);
        let shape = Footprint::circle(dice.number(4.0, 14.0)).unwrap();
        let gait = Gait::new(dice.number(60.0, 200.0), 1200.0, 1500.0).unwrap();
        // Ahead of the box, a little aside, and on its way to it.
        let start = way * dice.number(32.0, 40.0) + way.perp() * dice.number(-16.0, 16.0);
        let wish = Intent::new(Vec2::from_angle(dice.number(-0.9, 0.9)).rotate(-way));
        let play = |rate: u32| {
            let mut world = World::new();
            let walker = &mut Walker::new(start, shape, gait);
            let wall = world.add(Solid::box_from_corners(size * -0.5, size * 0.5).unwrap());
            let mut is_round = false;
            for _ in 0..rate {
                world.move_at(wall, push);
                let result = walker.tick(wish, 1.0 / rate as f32, &world);
                world.advance(1.0 / rate as f32);
                is_round |= result.contacts.iter().any(|contact| contact.normal.abs().min_element() > 0.05);
            }
            (walker.position, is_round)
        };
        let [(slow, is_round), (usual, _), (fast, _)] = [7, 30, 240].map(play);
        rolled += u32::from(is_round);
        if slow.distance(fast).max(usual.distance(fast)) > 0.01 {
            apart.push((seed, slow, usual, fast));
        }
    }
    assert!(rolled > share(60), "{rolled}");
    assert!(apart.is_empty(), "{} of 150: {:?}", apart.len(), &apart[..apart.len().min(4)]);
}

/// On a floor, against a round rock that goes away: an intent along the pull changes nothing, though the rock is slanted there.
#[test]
fn what_falls_takes_no_intent_along_its_pull() {
    let mut met = 0;
    for seed in 0..100 {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        let _ = world.add(Solid::box_from_corners(vec2(-90.0, 20.0), vec2(90.0, 40.0)).unwrap());
        let rock = world.add(Solid::circle(vec2(-12.0, 18.0 + dice.number(-0.5, 0.5)), 10.0).unwrap());
        assert!(world.move_at(rock, vec2(dice.number(-10.0, -2.0), dice.number(-20.0, -5.0))));
        let gait = AnyDrive::from(Gait::new(30.0, 400.0, 400.0).unwrap());
        let drive = gait.falling(vec2(0.0, 300.0), 200.0).unwrap();
        let start = Walker::new(vec2(0.0, 18.0), Footprint::circle(2.0).unwrap(), drive);
        let along = dice.number(-0.7, 0.7);
        let [level, both] = [vec2(-0.7, 0.0), vec2(-0.7, along)].map(|intent| {
            let (mut walker, mut world) = (start, world.clone());
            for _ in 0..15 {
                let result = walker.tick(Intent::new(intent), 1.0 / 30.0, &world);
                met += u32::from(result.contacts.iter().any(|contact| contact.wall == rock));
                world.advance(1.0 / 30.0);
            }
            (walker.position, walker.velocity)
        });
        assert_eq!(level, both, "{seed}: {along}");
    }
    assert!(met > 300, "{met}");
}

/// To ask for the path of a mover does not change where it ends: not in a tick of a second either, in which a fast one that turns
/// all the time has a path of some thousand pieces.
#[test]
fn to_ask_for_a_path_moves_no_mover() {
    let (mut path, mut long, mut compared) = (Path::default(), 0, 0);
    for seed in some_of(0..300u64) {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        for _ in 0..5 {
            let near = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(100.0, 900.0);
            world.add(Solid::circle(near, dice.number(20.0, 60.0)).unwrap());
        }
        let gait = Gait::new(2000.0, dice.number(4e3, 4e4), 5000.0).unwrap();
        let mut mover = Walker::new(Vec2::ZERO, Footprint::circle(16.0).unwrap(), gait);
        mover.velocity = Vec2::from_angle(dice.number(0.0, 6.3)) * 2000.0;
        let intent = Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)));
        let mut plain = mover;
        let stalled = plain.tick(intent, 1.0, &world).stalled;
        let _ = mover.tick_with_path(intent, 1.0, &world, &mut path);
        let apart = mover.position.distance(plain.position);
        assert!(stalled > 0.0 || apart < 2e-3, "seed {seed}: {apart} units apart");
        compared += usize::from(stalled == 0.0);
        long += usize::from(path.pieces().len() > 500);
    }
    assert!(compared >= share(290) && long >= share(200), "{compared} compared, {long} of them long");
}
