//! Where walls end, and where nothing decides but rounding: the same path at any tick rate.

use ambulant::direction::Angle;
use ambulant::drive::{AnyDrive, Drag, Drive, Helm, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::{Terrain, Wall, WallFilter, World};
use glam::DVec2;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// How far the places after some seconds at different tick rates are apart. `play` is called with the ticks and the length of
/// one of them.
fn apart_at_rates(seconds: f32, mut play: impl FnMut(u32, f32) -> Vec2) -> f32 {
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a few hundred ticks")]
    let ends = [7.0, 30.0, 60.0, 144.0, 1000.0].map(|rate: f32| {
        let ticks = (seconds * rate).ceil().max(1.0) as u32;
        play(ticks, seconds / ticks as f32)
    });
    ends.iter().map(|end| end.distance(ends[4])).fold(0.0, f32::max)
}

/// A place at which an `f32` rounds as in a game.
fn anywhere(dice: &mut Dice) -> Vec2 {
    vec2(dice.number(20.0, 900.0), dice.number(20.0, 900.0))
}

/// The end of a segment is a half-circle: just before one of its ends, the other is half a turn away, and rounding must not take
/// one for the other.
#[rstest]
fn a_vehicle_rolls_round_the_end_of_a_segment(#[values(0.0, 3.0, f32::INFINITY)] grip: f32) {
    let mut rolled = 0;
    for seed in some_of(1..=120) {
        let mut dice = Dice::new(seed);
        let (end, radius) = (anywhere(&mut dice), dice.number(2.0, 7.0));
        let along = Vec2::from_angle(dice.number(-3.1, 3.1));
        let mut walls = World::new();
        walls.add(Solid::segment(end - along * 40.0, end).unwrap());
        let drag = Drag::per_second(dice.number(1.0, 5.0)).unwrap();
        let helm =
            Helm::new(dice.number(1.0, 4.0), dice.number(100.0, 900.0), drag, Steering::Toward).unwrap();
        let helm = if grip.is_finite() { helm.with_grip(grip).unwrap() } else { helm.on_rails() };
        let start = end - along * dice.number(0.5, 6.0) - along.perp() * radius;
        let heading = along.rotate(Vec2::from_angle(dice.number(0.4, 1.4)));
        let speed = dice.number(5.0, 60.0);
        let mut is_round = false;
        let apart = apart_at_rates(0.4, |ticks, dt| {
            let mut walker = Walker::new(start, Footprint::circle(radius).unwrap(), helm);
            (walker.velocity, walker.heading) = (along * speed, Angle::of(heading).unwrap());
            for _ in 0..ticks {
                let result = walker.tick(Intent::new(heading), dt, &walls);
                is_round |= result.contacts.iter().any(|contact| contact.normal.dot(along) > 0.05);
            }
            walker.position
        });
        rolled += u32::from(is_round);
        assert!(apart < 0.01, "seed {seed}: {apart} apart");
    }
    println!("{rolled} of 120 rolled round the end");
    // With little grip, a fast one flies on.
    assert!(rolled > share(if grip.is_finite() { 30 } else { 100 }), "{rolled}");
}

/// A vehicle that coasts along a wall and points straight into it, or straight away: nothing presses and nothing pulls, so the
/// wall goes on to hold it, and drag alone slows it down. With `v' = -k v` it gets `v (1 - e^(-k t)) / k` far.
#[rstest]
fn a_vehicle_that_coasts_along_a_wall_with_its_heading_across_is_held(#[values(1.0, -1.0)] facing: f32) {
    for seed in some_of(1..=200) {
        let mut dice = Dice::new(seed);
        let inward = [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y][dice.pick(4)];
        let (at, half) = (anywhere(&mut dice), dice.number(2.0, 8.0));
        let corners = [at - inward.perp() * 300.0, at + inward.perp() * 300.0 + inward * 9.0];
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(corners[0].min(corners[1]), corners[0].max(corners[1])).unwrap());
        let drag = dice.number(0.5, 6.0);
        let helm = Helm::new(3.0, 300.0, Drag::per_second(drag).unwrap(), Steering::Toward).unwrap();
        let helm = helm.with_grip(dice.number(0.5, 8.0)).unwrap();
        let footprint = Footprint::rect(2.0 * half, 2.0 * half).unwrap();
        let speed = dice.number(5.0, 60.0);
        let start = at - inward * half;
        let apart = apart_at_rates(0.4, |ticks, dt| {
            let mut walker = Walker::new(start, footprint, helm);
            walker.velocity = inward.perp() * speed;
            walker.heading = Angle::of(inward * facing).unwrap();
            for _ in 0..ticks {
                let _ = walker.tick(Intent::NONE, dt, &walls);
            }
            let gone = (walker.position - start).dot(inward.perp());
            let expected = speed * -(-drag * 0.4).exp_m1() / drag;
            assert!(
                (gone - expected).abs() < 2e-3,
                "seed {seed}: {gone} instead of {expected} in {ticks} ticks"
            );
            walker.position
        });
        assert!(apart < 1e-3, "seed {seed}: {apart} apart");
    }
}

/// A box that moves flush along a row of tiles, or of boxes, with gaps: what its direction is off by rounding leads into none of
/// their sides.
#[rstest]
fn a_box_that_moves_flush_past_corners_meets_none(#[values(0, 1, 2)] walls_of: usize) {
    let kinds = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let grid = TileGrid::from_rows(&["..#..##.", "........", "#..#...#"], &kinds).unwrap();
    let mut near = 0;
    for seed in 1..=2000 {
        let mut dice = Dice::new(seed);
        let (tile, origin) = (dice.number(8.0, 20.0), anywhere(&mut dice));
        let tiles = grid.clone().with_tile_size(tile).unwrap().with_origin(origin).unwrap();
        let mut boxes = World::new();
        for (column, row) in [(2, 0), (5, 0), (6, 0), (0, 2), (3, 2), (7, 2)] {
            let corner = origin + vec2(column as f32, row as f32) * tile;
            boxes.add(Solid::box_from_corners(corner, corner + tile).unwrap());
        }
        let both = (&tiles, &boxes);
        let walls: [&dyn Terrain; 3] = [&tiles, &boxes, &both];
        let half = vec2(dice.number(0.1, 0.4), dice.number(0.1, 0.49)) * tile;
        let footprint = Footprint::rect(2.0 * half.x, 2.0 * half.y).unwrap();
        // Against the row above or the one below.
        let [above, below] = [origin.y + tile + half.y, origin.y + 2.0 * tile - half.y];
        let is_above = dice.pick(2) == 0;
        let [from, to] = [0, 1].map(|_| origin.x + tile * dice.number(0.5, 7.5));
        let start = vec2(from, if is_above { above } else { below });
        let way = (to - from) * 10f32.powf(dice.number(-3.0, 0.0));
        let toward = if is_above { -1.0 } else { 1.0 };
        let tilt = way.abs() * 10f32.powf(dice.number(-20.0, -8.0)) * toward;
        let hit = walls[walls_of].sweep(&footprint, start, vec2(way, tilt), &WallFilter::ALL);
        near += u32::from(hit.is_some());
        // What lies against it all along is not in its way.
        assert!(
            hit.is_none_or(|hit| hit.normal.x == 0.0),
            "seed {seed}: {hit:?} from {start} by {way}, {tilt}"
        );
    }
    println!("{near} of 2000 report the side that they move along");
}

/// A circle that presses on a wall falls past the end of the wall as fast as along it: a pace that leads into the wall is no
/// friction against the fall.
#[rstest]
fn a_circle_that_falls_along_a_wall_falls_past_its_end(#[values(true, false)] is_pace: bool) {
    for seed in some_of(1..=100) {
        let mut dice = Dice::new(seed);
        let (corner, radius) = (anywhere(&mut dice), dice.number(2.0, 8.0));
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(corner - vec2(60.0, 40.0), corner).unwrap());
        let speed = dice.number(30.0, 150.0);
        let drive: AnyDrive = if is_pace {
            Pace::new(speed).unwrap().into()
        } else {
            Gait::new(speed, dice.number(5.0, 9.0) * speed, 900.0).unwrap().into()
        };
        let drive = drive.falling(vec2(0.0, 3.0 * speed), speed).unwrap();
        let start = corner + vec2(radius, -dice.number(5.0, 30.0));
        let wish = Intent::new(vec2(-1.0, 0.0));
        let mut slowest = f32::INFINITY;
        let apart = apart_at_rates(0.6, |ticks, dt| {
            let mut walker = Walker::new(start, Footprint::circle(radius).unwrap(), drive);
            walker.velocity = vec2(0.0, speed);
            for _ in 0..ticks {
                let _ = walker.tick(wish, dt, &walls);
                // Within ten degrees of the side.
                if (walker.position.y - corner.y) < 0.17 * radius {
                    slowest = slowest.min(walker.velocity.y / speed);
                }
            }
            walker.position
        });
        assert!(slowest > 0.95, "seed {seed}: slowed to {slowest} of its fall");
        assert!(apart < 0.01, "seed {seed}: {apart} apart");
    }
}

/// A circle on a belt that leads away from a wall and along it, and a gait that holds against it: it rolls on from the side to the
/// corner without a stop.
#[test]
fn on_a_belt_a_circle_rolls_on_from_a_side_to_its_corner() {
    let mut rolled = 0;
    for seed in some_of(1..=150) {
        let mut dice = Dice::new(seed);
        let (corner, radius) = (anywhere(&mut dice), dice.number(2.0, 8.0));
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(corner - vec2(60.0, 40.0), corner).unwrap());
        let gait = Gait::new(dice.number(120.0, 200.0), dice.number(500.0, 900.0), 900.0).unwrap();
        let belt = vec2(dice.number(10.0, 40.0), dice.number(20.0, 90.0));
        let surface = Surface::PLAIN.with_belt(belt).unwrap();
        let start = corner + vec2(-dice.number(2.0, 10.0), radius);
        let mut is_round = false;
        let apart = apart_at_rates(0.5, |ticks, dt| {
            let mut walker = Walker::new(start, Footprint::circle(radius).unwrap(), gait);
            walker.velocity = vec2(0.0, -belt.y);
            for _ in 0..ticks {
                let result = walker.tick(Intent::new(vec2(0.0, -1.0)), dt, &(&walls, surface));
                is_round |= result.contacts.iter().any(|contact| contact.normal.x > 0.05);
            }
            walker.position
        });
        rolled += u32::from(is_round);
        assert!(apart < 0.01, "seed {seed}: {apart} apart");
    }
    println!("{rolled} of 150 rolled round the corner");
    assert!(rolled > share(100), "{rolled}");
}

/// A gait that keeps up with a curve at first, falls behind where the curve asks for more, and catches up again: one long tick is
/// as many short ones, and the slowest of belts, where there is no closed form, changes nothing. The belt leads away from the post:
/// one that presses on it holds up to the tolerance of leaving.
#[rstest]
#[case::in_any_tick([(1, 0.0), (64, 0.0)])]
#[case::on_a_slow_belt([(8, 0.0), (8, 1e-5)])]
fn a_gait_falls_behind_on_a_curve_at_the_same_instant(#[case] plays: [(u8, f32); 2]) {
    let (mut fell_behind, mut most) = (0, 0.0f32);
    for seed in 1..=400 {
        let mut dice = Dice::new(seed);
        let (radius, gait, start, velocity) = that_falls_behind(&mut dice);
        let speed = gait.top_speed();
        let away = start.rotate(Vec2::from_angle(dice.number(-1.0, 1.0)));
        let ends = plays.map(|(ticks, belt)| {
            let belt = away * (belt * speed);
            let surface = Surface::PLAIN.with_belt(belt).unwrap();
            let mut walker = on_a_post(start, radius, gait);
            // As fast along the wall as its intent, but for rounding; it walks against the belt.
            walker.velocity = velocity * (1.0 - 1e-6) - start * belt.dot(start);
            for _ in 0..ticks {
                let dt = 0.4 * radius / speed / f32::from(ticks);
                let _ = walker.tick(Intent::new(Vec2::X), dt, &(&post(radius), surface));
            }
            let place = walker.position;
            let wanted = speed * place.normalize().perp().x.abs();
            (place, walker.velocity.length() < 0.999 * wanted)
        });
        fell_behind += u32::from(ends[1].1);
        most = most.max(ends[0].0.distance(ends[1].0) / radius);
    }
    println!("{fell_behind} of 400 fell behind, at most {most} radii apart");
    assert!(most < 1e-5 && fell_behind > 100, "{most} radii apart, {fell_behind}");
}

/// A gait that walks into a slanted wall against a belt that leads away from it: it slides along the wall at every tick rate, and
/// rounding never takes it off.
#[rstest]
fn a_gait_against_a_belt_stays_on_a_slanted_wall(#[values(true, false)] is_round: bool) {
    let (mut slid, mut most, mut off) = (0, 0.0f32, 0.0f32);
    for seed in some_of(1..=300) {
        let mut dice = Dice::new(seed);
        let foot = anywhere(&mut dice);
        let normal = Vec2::from_angle(dice.number(-3.1, 3.1));
        let mut walls = World::new();
        walls.add(Solid::segment(foot - normal.perp() * 90.0, foot + normal.perp() * 90.0).unwrap());
        let half = vec2(dice.number(1.0, 5.0), dice.number(1.0, 5.0));
        let (footprint, reach) = if is_round {
            (Footprint::circle(half.x).unwrap(), half.x)
        } else {
            (Footprint::rect(2.0 * half.x, 2.0 * half.y).unwrap(), half.dot(normal.abs()))
        };
        let speed = dice.number(20.0, 150.0);
        let gait = Gait::new(speed, dice.number(5.0, 30.0) * speed, 500.0).unwrap();
        let belt = normal.rotate(Vec2::from_angle(dice.number(-1.2, 1.2))) * (speed * dice.number(0.1, 0.6));
        let surface = Surface::PLAIN.with_belt(belt).unwrap();
        let wish = Intent::new(-normal.rotate(Vec2::from_angle(dice.number(-0.6, 0.6))));
        let start = foot + normal * (reach + dice.number(0.1, 3.0));
        let mut end = Vec2::ZERO;
        let apart = apart_at_rates(0.4, |ticks, dt| {
            let mut walker = Walker::new(start, footprint, gait);
            for _ in 0..ticks {
                let _ = walker.tick(wish, dt, &(&walls, surface));
            }
            end = walker.position;
            end
        });
        let gap = (end - foot).dot(normal) - reach;
        slid += u32::from(gap < 1e-3 && (end - start).dot(normal.perp()).abs() > 0.5);
        (most, off) = (most.max(apart), off.max(gap));
    }
    println!("{slid} of 300 slid, at most {most} apart, {off} off the wall");
    assert!(most < 2e-3, "{most} apart");
    assert!(off < 1e-3, "{off} off the wall");
    assert!(slid > share(200), "{slid}");
}

/// A gait or pace that falls, and slides along a post faster or slower than its fall and its intent want: each acts once, not
/// once in each step, and none holds against a stronger one.
#[rstest]
fn what_falls_changes_its_speed_on_a_post_as_fast_in_any_tick(#[values(true, false)] is_pace: bool) {
    let (mut changed, mut most) = (0, 0.0f32);
    for seed in some_of(1..=300) {
        let mut dice = Dice::new(seed);
        let (radius, gait, ..) = that_falls_behind(&mut dice);
        let speed = gait.top_speed();
        let start = Vec2::from_angle(dice.number(-3.0, -0.2));
        let fall = vec2(0.0, dice.number(0.5, 3.0) * speed * speed / radius);
        let drive: AnyDrive = if is_pace { Pace::new(speed).unwrap().into() } else { gait.into() };
        let drive = drive.falling(fall, speed).unwrap();
        let intent = Intent::new(vec2(if seed % 2 == 0 { 1.0 } else { -1.0 }, 0.0) * dice.number(0.0, 1.0));
        let velocity = start.perp() * (dice.number(-1.2, 1.2) * speed);
        let ends = [1, 64].map(|ticks| {
            let mut walker = on_a_post(start, radius, drive);
            walker.velocity = velocity;
            for _ in 0..ticks {
                let _ = walker.tick(intent, 0.3 * radius / speed / ticks as f32, &post(radius));
            }
            (walker.position, walker.velocity.length())
        });
        changed += u32::from((ends[1].1 / velocity.length() - 1.0).abs() > 0.05);
        most = most.max(ends[0].0.distance(ends[1].0) / radius);
    }
    println!("{changed} of 300 became faster or slower, at most {most} radii apart");
    assert!(most < 5e-6, "{most} radii apart");
    assert!(changed > share(150), "{changed}");
}

/// What is pulled rolls along a rock that drifts at any tick rate: it is pressed across the path that the rock sees, which has nothing
/// to do with its path over the ground.
#[test]
fn along_a_rock_that_drifts_what_is_pulled_rolls_on_in_any_tick() {
    let (mut rolled, mut most) = (0, 0.0f32);
    for seed in some_of(1..=150) {
        let mut dice = Dice::new(seed);
        let (middle, radius) = (anywhere(&mut dice), dice.number(3.0, 12.0));
        let drift = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(5.0, 40.0);
        let out = Vec2::from_angle(dice.number(0.0, 6.3));
        let past = out.perp() * dice.number(-15.0, 15.0);
        let drag = Drag::half_life(dice.number(0.2, 1.0)).unwrap();
        // More than holds it on the curve, against the drag of the whole velocity.
        let holds = past.length_squared() / radius + drag.rate() * (drift + past).length();
        let glide = Glide::new(2.0 * holds, drag, 0.5).unwrap();
        let wish = Intent::new(-out.rotate(Vec2::from_angle(dice.number(-0.5, 0.5))));
        let (mut gap, seconds) = (0.0, 0.25);
        let apart = apart_at_rates(seconds, |ticks, dt| {
            let mut world = World::new();
            let rock = world.add(Solid::circle(middle, 0.5 * radius).unwrap());
            let feet = Footprint::circle(0.5 * radius).unwrap();
            let mut walker = Walker::new(middle + out * radius, feet, glide);
            walker.set_exact_position(middle.as_dvec2() + out.as_dvec2().normalize() * f64::from(radius));
            walker.velocity = drift + past;
            for _ in 0..ticks {
                world.move_at(rock, drift);
                let _ = walker.tick(wish, dt, &world);
                world.advance(dt);
            }
            gap = (walker.position - middle - drift * seconds).length() - radius;
            walker.position
        });
        rolled += u32::from(gap < 1e-3);
        most = most.max(apart);
    }
    println!("{rolled} of 150 rolled on, at most {most} apart");
    assert!(most < 2e-3, "{most} apart");
    assert!(rolled > share(100), "{rolled}");
}

/// A rock that goes away lets a mover through between it and the floor, and takes it off the floor where it turns faster than the
/// drive speeds up: at the same instant in any tick.
#[test]
fn between_the_floor_and_a_rock_that_goes_away_a_mover_is_let_go_at_the_same_instant() {
    let (mut held, mut off, mut most) = (0, 0, 0.0f32);
    for seed in some_of(1..=150) {
        let mut dice = Dice::new(seed);
        let (at, radius) = (anywhere(&mut dice), dice.number(2.0, 6.0));
        let rock_radius = dice.number(1.0, 4.0) * radius;
        let out = Vec2::from_angle(-dice.number(0.4, 1.1));
        let away = vec2(dice.number(-0.3, 0.3), -1.0) * dice.number(10.0, 40.0);
        let speeds_up = dice.number(500.0, 1500.0);
        let gait = Gait::new(150.0, speeds_up, speeds_up).unwrap();
        let (mut by_both, mut is_off) = (false, false);
        let apart = apart_at_rates(0.25, |ticks, dt| {
            let mut world = World::new();
            let floor = Solid::box_from_corners(at + vec2(-900.0, radius), at + vec2(900.0, radius + 50.0));
            let floor = world.add(floor.unwrap());
            let middle = at + out * (radius + rock_radius);
            let rock = world.add(Solid::circle(middle, rock_radius).unwrap());
            let mut walker = Walker::new(at, Footprint::circle(radius).unwrap(), gait);
            for _ in 0..ticks {
                world.move_at(rock, away);
                let result = walker.tick(Intent::new(vec2(1.0, 0.0)), dt, &world);
                world.advance(dt);
                let met = |wall: &Wall| result.contacts.iter().any(|met| met.wall == *wall);
                by_both |= [floor, rock].iter().all(met);
                is_off |= by_both && walker.velocity.y < -1e-3;
            }
            walker.position
        });
        held += u32::from(by_both);
        off += u32::from(is_off);
        most = most.max(apart);
    }
    println!("{held} of 150 held by both, {off} of them taken off the floor, at most {most} apart");
    assert!(most < 2e-3, "{most} apart");
    assert!(held > share(80) && off > share(40), "{held} {off}");
}

/// A belt that presses a gait on a post takes it back for a while where it would leave the post by itself: the velocity with which
/// it leaves the post grows until it is that of the belt.
#[test]
fn on_a_belt_that_presses_a_gait_leaves_a_curve_when_it_outruns_the_belt() {
    let (mut left, mut most) = (0, 0.0f64);
    for seed in 1..=100 {
        let mut dice = Dice::new(seed);
        let (radius, gait, start, velocity) = that_falls_behind(&mut dice);
        let speed = gait.top_speed();
        let belt = vec2(dice.number(0.01, 0.1), dice.number(0.002, 0.03)) * speed;
        let surface = Surface::PLAIN.with_belt(belt).unwrap();
        let seconds = dice.number(0.4, 2.4) * radius / speed;
        let expected = {
            let [radius, speed] = [radius, speed].map(f64::from);
            let rate = f64::from(gait.acceleration());
            on_belt_round_a_post(start, radius, (speed, rate), belt, velocity, f64::from(seconds))
        };
        left += u32::from(expected.length() > 1.001 * f64::from(radius));
        for ticks in [1, 5, 64] {
            let mut walker = on_a_post(start, radius, gait);
            walker.velocity = velocity;
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(Vec2::X), seconds / ticks as f32, &(&post(radius), surface));
            }
            let apart = walker.exact_position().distance(expected) / f64::from(radius);
            most = most.max(apart);
        }
    }
    println!("{left} of 100 left the post, at most {most} radii apart");
    assert!(most < 1e-4, "{most} radii apart");
    assert!(left > 30, "{left}");
}

/// The radius of a post and a footprint together, and a gait that keeps up with its target along the post, but soon falls behind: the
/// direction in which it stands, and its velocity.
fn that_falls_behind(dice: &mut Dice) -> (f32, Gait, Vec2, Vec2) {
    let radius = dice.number(1.0, 12.0);
    let speed = radius * dice.number(3.0, 30.0);
    let part = dice.number(0.6, 0.95);
    // The target along the post is the speed times the sine of the angle `off` from head-on. It grows by `S^2 sin(2 off) / (2 R)`.
    let rate = 0.5 * speed * speed / radius * part;
    let gait = Gait::new(speed, rate, rate).unwrap();
    let off = 0.5 * part.asin() - dice.number(0.01, 0.08);
    let start = Vec2::from_angle(off + core::f32::consts::PI);
    (radius, gait, start, start.perp() * (speed * off.sin()))
}

fn post(radius: f32) -> World {
    let mut posts = World::new();
    posts.add(Solid::circle(Vec2::ZERO, 0.5 * radius).unwrap());
    posts
}

fn on_a_post<D: Drive>(start: Vec2, radius: f32, drive: D) -> Walker<D> {
    let mut walker = Walker::new(start * radius, Footprint::circle(0.5 * radius).unwrap(), drive);
    walker.set_exact_position(start.as_dvec2().normalize() * f64::from(radius));
    walker
}

/// Where a gait that wants to go along +x gets round a post at the origin, on a belt that presses it on the post: in tiny steps.
fn on_belt_round_a_post(
    start: Vec2,
    radius: f64,
    (speed, rate): (f64, f64),
    belt: Vec2,
    velocity: Vec2,
    seconds: f64,
) -> DVec2 {
    const STEPS: i32 = 40_000;
    let (belt, target, step) = (belt.as_dvec2(), DVec2::X * speed, seconds / f64::from(STEPS));
    let (mut place, mut velocity) = (start.as_dvec2().normalize() * radius, velocity.as_dvec2());
    let mut is_on_post = true;
    for _ in 0..STEPS {
        let normal = place.normalize();
        let tangent = normal.perp();
        let gap = target - velocity;
        let pull = gap.normalize_or_zero() * rate.min(gap.length() / step);
        if !is_on_post {
            place += (velocity + belt + pull * (0.5 * step)) * step;
            velocity += pull * step;
            continue;
        }
        let along = velocity.dot(tangent);
        let turns = (along + belt.dot(tangent)) / radius;
        let outward = velocity.dot(normal);
        place = DVec2::from_angle(turns * step).rotate(place);
        if outward > 1e-9 * speed || pull.dot(normal) + along * turns > 0.0 {
            velocity += pull * step;
            let normal = place.normalize();
            velocity -= normal * velocity.dot(normal).min(0.0);
            is_on_post = (velocity + belt).dot(normal) <= 0.0;
        } else {
            // The wall turns it, and its pull acts along the wall.
            let wanted = target.dot(place.normalize().perp());
            velocity = place.normalize().perp() * (along + (wanted - along).clamp(-rate * step, rate * step));
        }
    }
    place
}

/// A glide that falls does not rest on a slope: below the speed at which it rests on a floor, it turns round as fast in any tick.
#[test]
fn a_falling_glide_turns_round_on_a_slope_below_its_rest_speed() {
    let (mut turned, mut most) = (0, 0.0f32);
    for seed in 1..=150 {
        let mut dice = Dice::new(seed);
        let (foot, radius) = (anywhere(&mut dice), dice.number(2.0, 7.0));
        let slope = Vec2::from_angle(dice.number(0.01, 0.2) * if seed % 2 == 0 { 1.0 } else { -1.0 });
        let mut walls = World::new();
        walls.add(Solid::segment(foot - slope * 60.0, foot + slope * 60.0).unwrap());
        let rest_speed = dice.number(0.5, 3.0);
        let glide = Glide::new(100.0, Drag::per_second(dice.number(0.5, 3.0)).unwrap(), rest_speed).unwrap();
        let drive = AnyDrive::from(glide).falling(vec2(0.0, dice.number(100.0, 400.0)), 90.0).unwrap();
        let (up, normal) = (slope * -slope.y.signum(), slope.perp() * -1.0);
        let fast = dice.number(1.1, 4.0) * rest_speed;
        let mut end = 0.0;
        let apart = apart_at_rates(0.4, |ticks, dt| {
            let mut walker = Walker::new(foot + normal * radius, Footprint::circle(radius).unwrap(), drive);
            walker.velocity = up * fast;
            for _ in 0..ticks {
                let _ = walker.tick(Intent::NONE, dt, &walls);
            }
            end = walker.velocity.dot(up);
            walker.position
        });
        turned += u32::from(end < 0.0);
        most = most.max(apart);
    }
    println!("{turned} of 150 turned round, at most {most} apart");
    assert!(most < 1e-3, "{most} apart");
    assert!(turned > 75, "{turned}");
}

/// A vehicle that slides backward along a wall and turns away from it: where its grip would take it off the wall and its thrust bring
/// it back at once, the wall holds it without pressing, and its speed follows its heading. In any tick, and as integrated in tiny steps.
#[rstest]
fn a_vehicle_between_its_grip_and_its_thrust_slides_on_evenly(#[values(true, false)] is_round: bool) {
    let (mut slid, mut most_apart, mut most_off) = (0, 0.0f32, 0.0f64);
    for seed in some_of(1..=300) {
        let mut dice = Dice::new(seed);
        let (foot, radius) = (anywhere(&mut dice), dice.number(2.0, 7.0));
        let normal = Vec2::from_angle(dice.number(-3.1, 3.1));
        let post = dice.number(20.0, 60.0);
        let mut walls = World::new();
        walls.add(if is_round {
            Solid::circle(foot - normal * post, post).unwrap()
        } else {
            Solid::segment(foot - normal.perp() * 90.0, foot + normal.perp() * 90.0).unwrap()
        });
        let middle = foot - normal * post;
        let curve = if is_round { 1.0 / (post + radius) } else { 0.0 };
        let (drag, grip) = (dice.number(0.5, 2.0), dice.number(1.0, 8.0));
        let (turn, thrust) = (dice.number(1.5, 5.0), dice.number(40.0, 200.0));
        let helm = Helm::new(turn, thrust, Drag::per_second(drag).unwrap(), Steering::Toward).unwrap();
        let helm = helm.with_grip(grip).unwrap();
        // From the way along the wall: into the wall at first, and along it in the end.
        let from = -dice.number(0.6, 1.4);
        let heading = normal.perp().rotate(Vec2::from_angle(-from));
        let speed = thrust / grip / from.cos() * dice.number(0.8, 1.0);
        let seconds = -dice.number(0.3, 0.8) * from / turn;
        let mut places = Vec::new();
        let apart = apart_at_rates(seconds, |ticks, dt| {
            let mut walker = Walker::new(foot + normal * radius, Footprint::circle(radius).unwrap(), helm);
            walker.velocity = normal.perp() * -speed;
            walker.heading = Angle::of(heading).unwrap();
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(normal.perp()), dt, &walls);
            }
            places.push(if is_round {
                normal.angle_to(walker.position - middle) / curve
            } else {
                (walker.position - foot).dot(normal.perp())
            });
            walker.position
        });
        let Some((expected, between)) =
            slid_backward([from, turn, thrust, drag, grip, speed, seconds, curve].map(f64::from))
        else {
            continue;
        };
        slid += u32::from(between > 0.1);
        if is_round && between < 0.1 {
            // It only hops; see below.
            continue;
        }
        most_apart = most_apart.max(apart);
        let off = places.iter().map(|place| (f64::from(*place) - expected).abs()).fold(0.0, f64::max);
        most_off = most_off.max(off);
    }
    println!("{is_round}: {slid} of 300 slid so, at most {most_apart} apart and {most_off} off");
    // Where it leaves the wall by less than a position can show, it comes back late.
    assert!(most_apart < 0.02, "{most_apart} apart");
    assert!(most_off < 0.03, "{most_off} off");
    assert!(slid > share(if is_round { 15 } else { 100 }), "{slid}");
}

/// The way of such a vehicle along the wall, and for which part of the time its grip acted. `heading`: from the way along the wall,
/// below 0 into it. `curve`: one over the radius of the way. `None` if it leaves the wall for good. In tiny steps: the wall takes the place of the grip while the vehicle presses on it.
fn slid_backward([heading, turn, thrust, drag, grip, speed, seconds, curve]: [f64; 8]) -> Option<(f64, f64)> {
    const STEPS: i32 = 200_000;
    let step = seconds / f64::from(STEPS);
    let (mut heading, mut way, mut gap, mut velocity) = (heading, 0.0, 0.0, DVec2::new(-speed, 0.0));
    let mut gripped = 0;
    for _ in 0..STEPS {
        let ahead = DVec2::from_angle(heading);
        let slips = ahead.perp() * (grip * velocity.dot(ahead.perp()));
        let free = ahead * thrust - velocity * drag - slips + DVec2::Y * (velocity.x * velocity.x * curve);
        let is_held = gap <= 0.0 && velocity.y <= 0.0 && free.y < 0.0;
        way += velocity.x * step;
        gap = (gap + velocity.y * step).max(0.0);
        velocity += if is_held { DVec2::X * (free + slips).x * step } else { free * step };
        if curve > 0.0 && gap > 1e-3 {
            return None;
        }
        if gap <= 0.0 {
            velocity.y = velocity.y.max(0.0);
        }
        gripped += i32::from(!is_held);
        heading += (turn + velocity.x * curve) * step;
    }
    Some((way, f64::from(gripped) / f64::from(STEPS)))
}

/// A vehicle that stands in a wedge, on one wall and hardly off the other, and turns: whichever wall holds it, it drives off at the
/// instant at which its heading leads out of the wedge.
#[rstest]
fn a_vehicle_leaves_a_wedge_at_the_same_instant(#[values(0.0, 3.0, f32::INFINITY)] grip: f32) {
    let (mut drove_off, mut most) = (0, 0.0f32);
    for seed in some_of(1..=150) {
        let mut dice = Dice::new(seed);
        let (place, radius) = (anywhere(&mut dice), dice.number(2.0, 7.0));
        let one = Vec2::from_angle(dice.number(-3.1, 3.1));
        let other =
            -one.rotate(Vec2::from_angle(dice.number(0.15, 0.7) * if seed % 2 == 0 { 1.0 } else { -1.0 }));
        let mut walls = World::new();
        for normal in [one, other] {
            let (foot, along) = (place - normal * radius, normal.perp() * 60.0);
            walls.add(Solid::segment(foot - along, foot + along).unwrap());
        }
        let out = (one + other).normalize();
        let along = (out - one * out.dot(one)).normalize();
        let drag = Drag::per_second(dice.number(1.0, 3.0)).unwrap();
        let helm =
            Helm::new(dice.number(1.0, 4.0), dice.number(100.0, 600.0), drag, Steering::Toward).unwrap();
        let helm = if grip.is_finite() { helm.with_grip(grip).unwrap() } else { helm.on_rails() };
        let [from, to] =
            [-dice.number(0.02, 0.3), 0.5].map(|turn: f32| along * turn.sin() - one * turn.cos());
        // It may have to back up first, by less than it comes forward in the same tick.
        let start = place + along * if seed % 2 == 0 { dice.number(1e-5, 5e-3) } else { 0.0 };
        let mut gone = 0.0;
        let apart = apart_at_rates(0.5, |ticks, dt| {
            let mut walker = Walker::new(start, Footprint::circle(radius).unwrap(), helm);
            walker.heading = Angle::of(from).unwrap();
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(to), dt, &walls);
            }
            gone = walker.position.distance(place);
            walker.position
        });
        drove_off += u32::from(gone > 0.5);
        most = most.max(apart);
    }
    println!("{drove_off} of 150 drove off, at most {most} apart");
    // On rails, the wall may let go some milliseconds later.
    assert!(most < if grip.is_finite() { 5e-3 } else { 0.05 }, "{most} apart");
    assert!(drove_off > share(120), "{drove_off}");
}

/// A mover that wants through a gap between two posts that is too narrow, on a belt that would take it out again more slowly than it
/// walks, comes to stand in it, at the same place at every tick rate: it walks against what the posts leave of the belt.
#[test]
fn on_a_belt_a_mover_stands_in_a_gap_between_posts() {
    let (mut wedged, mut walking) = (0, 0);
    for seed in some_of(0..150) {
        let mut dice = Dice::new(seed);
        let (radius, gap) = (dice.number(4.0, 20.0), dice.number(0.2, 0.95));
        let mut posts = World::new();
        for side in [-1.0, 1.0] {
            let post = dice.number(5.0, 40.0);
            let middle = vec2(dice.number(95.0, 105.0), side * (gap * radius + post));
            posts.add(Solid::circle(middle, post).unwrap());
        }
        let belt = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 50.0);
        let surface = Surface::PLAIN.with_belt(belt).unwrap();
        let gait = Gait::new(60.0, dice.number(100.0, 900.0), 400.0).unwrap();
        let start = vec2(100.0 - 3.0 * radius, 0.0);
        if posts.overlaps(&Footprint::circle(radius).unwrap(), start, &WallFilter::ALL) {
            continue;
        }
        let ends = [1u16, 7, 60].map(|ticks| {
            let mut mover = Walker::new(start, Footprint::circle(radius).unwrap(), gait);
            let dt = 1.0 / f32::from(ticks);
            let mut play = |seconds: u16| {
                for _ in 0..seconds * ticks {
                    let result = mover.tick(Intent::new(Vec2::X), dt, &(&posts, surface));
                    assert_eq!(result.stalled, 0.0, "seed {seed} at {ticks} per second: {result}");
                }
                mover
            };
            let before = play(8);
            let after = play(1);
            (after, before.position.distance(after.position))
        });
        let [(one, moved), ..] = ends;
        let is_wedged = (one.position.x - 100.0).abs() < 2.0 * radius && one.velocity.x < 59.0;
        if !is_wedged || moved > 1.0 {
            continue;
        }
        wedged += 1;
        walking += u32::from(one.velocity.length() > 0.1);
        for (mover, moved) in ends {
            let apart = mover.position.distance(one.position);
            assert!(moved < 1e-3 && apart < 5e-3, "seed {seed}: {moved} moved, {apart} apart");
        }
    }
    println!("{wedged} of 150 wedged, {walking} of them walking against the belt");
    assert!(wedged > share(80) && walking > share(40), "{wedged} wedged, {walking} walking");
}
