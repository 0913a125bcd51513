//! Where walls end, and where nothing decides but rounding: the same path at any tick rate.

use ambulant::direction::Angle;
use ambulant::drive::{AnyDrive, Drag, Helm, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::{Terrain, WallFilter, World};
use rstest::rstest;

use crate::scene::Dice;

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
    for seed in 1..=120 {
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
    assert!(rolled > if grip.is_finite() { 30 } else { 100 }, "{rolled}");
}

/// A vehicle that coasts along a wall and points straight into it, or straight away: nothing presses and nothing pulls, so the
/// wall goes on to hold it, and drag alone slows it down. With `v' = -k v` it gets `v (1 - e^(-k t)) / k` far.
#[rstest]
fn a_vehicle_that_coasts_along_a_wall_with_its_heading_across_is_held(#[values(1.0, -1.0)] facing: f32) {
    for seed in 1..=200 {
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
    for seed in 1..=100 {
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
    for seed in 1..=150 {
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
    assert!(rolled > 100, "{rolled}");
}

/// A gait that keeps up with a curve at first, falls behind where the curve asks for more, and catches up again: one long tick is
/// as many short ones.
#[test]
fn a_gait_falls_behind_on_a_curve_at_the_same_instant_in_any_tick() {
    let (mut fell_behind, mut most) = (0, 0.0f32);
    for seed in 1..=400 {
        let mut dice = Dice::new(seed);
        let radius = dice.number(1.0, 12.0);
        let mut posts = World::new();
        posts.add(Solid::circle(Vec2::ZERO, 0.5 * radius).unwrap());
        let speed = radius * dice.number(3.0, 30.0);
        // Along the wall it wants `S sin(off)`, which grows by `S^2 sin(2 off) / (2 R)`: soon faster than its rate.
        let part = dice.number(0.6, 0.95);
        let rate = 0.5 * speed * speed / radius * part;
        let gait = Gait::new(speed, rate, rate).unwrap();
        let off = 0.5 * part.asin() - dice.number(0.01, 0.08);
        let start = Vec2::from_angle(off + core::f32::consts::PI);
        let ends = [1, 64].map(|ticks| {
            let mut walker = Walker::new(start * radius, Footprint::circle(0.5 * radius).unwrap(), gait);
            walker.set_exact_position(start.as_dvec2().normalize() * f64::from(radius));
            // As fast along the wall as its intent, but for rounding.
            walker.velocity = start.perp() * (speed * off.sin()) * (1.0 - 1e-6);
            let dt = 0.4 * radius / speed / ticks as f32;
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(Vec2::X), dt, &posts);
            }
            let place = walker.position;
            let wanted = speed * place.normalize().perp().x.abs();
            (place, walker.velocity.length() < 0.999 * wanted)
        });
        fell_behind += u32::from(ends[1].1);
        most = most.max(ends[0].0.distance(ends[1].0) / radius);
        assert!(most < 1e-5, "seed {seed}: {most} radii apart");
    }
    println!("{fell_behind} of 400 fell behind, at most {most} radii apart");
    assert!(fell_behind > 100, "{fell_behind}");
}

/// A vehicle that stands in a wedge, on one wall and hardly off the other, and turns: whichever wall holds it, it drives off at the
/// instant at which its heading leads out of the wedge.
#[rstest]
fn a_vehicle_leaves_a_wedge_at_the_same_instant(#[values(0.0, 3.0, f32::INFINITY)] grip: f32) {
    let mut drove_off = 0;
    for seed in 1..=150 {
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
            [-dice.number(0.05, 0.3), 0.5].map(|turn: f32| along * turn.sin() - one * turn.cos());
        let mut gone = 0.0;
        let apart = apart_at_rates(0.5, |ticks, dt| {
            let mut walker = Walker::new(place, Footprint::circle(radius).unwrap(), helm);
            walker.heading = Angle::of(from).unwrap();
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(to), dt, &walls);
            }
            gone = walker.position.distance(place);
            walker.position
        });
        drove_off += u32::from(gone > 0.5);
        assert!(apart < 0.01, "seed {seed}: {apart} apart");
    }
    println!("{drove_off} of 150 drove off");
    assert!(drove_off > 120, "{drove_off}");
}
