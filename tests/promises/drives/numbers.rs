//! What constructors refuse, what they warn of, and the bad values that calls shrug off.

use ambulant::arcade::{AngleLimits, Decision, Hover, Paddle, Projectile};
use ambulant::direction::{Axis, Facing, YAxis};
use ambulant::drive::{AnyDrive, Drag, Drive, Falling, Gait, Glide, Helm, OneAxis, Pace, Steering, Surface};
use ambulant::intent::{DirectionSnap, Directions, Flick, Intent, KeyLayout, Stick};
use ambulant::pose::{DiagonalRule, Lean, Pose, Sectors, Stance, WalkCycle};
use ambulant::shape::{Aabb, Footprint, Solid};
use ambulant::steps::{CornerRule, Diagonals, StepRules};
use ambulant::terrain::{Course, Legend, TileGrid, TileKind, WallFilter, World};
use ambulant::time::Ticks;
use ambulant::travel::{Response, step_axes};
use ambulant::view::{Follow, View};
use ambulant::walker::{AlongWalls, AtWalls};
use ambulant::{InvalidNumber, Warning};
use glam::{Vec2, vec2};
use rstest::rstest;

/// The smallest that is not 0 without losing digits, and the largest.
const LEAST: f32 = f32::MIN_POSITIVE;
const MOST: f32 = f32::MAX;

type Make = fn(f32) -> Result<(), InvalidNumber>;

/// Every number of every constructor, with the bad values that it must refuse by name.
#[rstest]
#[case("speed", &[0.0, -1.0], |n| Pace::new(n).map(drop))]
#[case("top_speed", &[0.0, -0.0, -1.0], |n| Gait::new(n, 1.0, 1.0).map(drop))]
#[case("acceleration", &[0.0, -1.0], |n| Gait::new(1.0, n, 1.0).map(drop))]
#[case("friction", &[0.0, -1.0], |n| Gait::new(1.0, 1.0, n).map(drop))]
#[case("turning", &[0.0, -1.0], |n| Gait::new(1.0, 1.0, 1.0).unwrap().with_turning(n).map(drop))]
#[case("seconds", &[0.0, -1.0], |n| Gait::reaching(1.0, n, 1.0).map(drop))]
#[case("stop_distance", &[0.0, -1.0], |n| Gait::reaching(1.0, 1.0, n).map(drop))]
#[case("thrust", &[-1.0], |n| Glide::new(n, Drag::NONE, 0.0).map(drop))]
#[case("rest_speed", &[-1.0], |n| Glide::new(1.0, Drag::NONE, n).map(drop))]
#[case("seconds", &[0.0, -1.0], |n| Glide::reaching(1.0, n, 0.0).map(drop))]
#[case("drag", &[-1.0], |n| Drag::per_second(n).map(drop))]
#[case("half_life", &[0.0, -1.0], |n| Drag::half_life(n).map(drop))]
#[case("kept_per_second", &[0.0, 1.1, -1.0], |n| Drag::kept_per_second(n).map(drop))]
#[case("kept_per_frame", &[0.0, 1.1], |n| Drag::kept_per_frame(n, 60.0).map(drop))]
#[case("frame_rate", &[0.0, -1.0], |n| Drag::kept_per_frame(0.9, n).map(drop))]
#[case("turn_rate", &[-1.0], |n| Helm::new(n, 1.0, Drag::NONE, Steering::Toward).map(drop))]
#[case("thrust", &[-1.0], |n| Helm::new(1.0, n, Drag::NONE, Steering::Toward).map(drop))]
#[case("grip", &[-1.0], |n| Helm::new(1.0, 1.0, Drag::NONE, Steering::Toward).unwrap().with_grip(n).map(drop))]
#[case("reverse", &[-1.0], |n| Helm::new(1.0, 1.0, Drag::NONE, Steering::Toward).unwrap().with_reverse(n).map(drop))]
#[case("rest_speed", &[0.0], |n| Helm::new(1.0, 1.0, Drag::NONE, Steering::Toward).unwrap().with_rest_speed(n).map(drop))]
#[case("pull", &[0.0], |n| Falling::new(Pace::new(1.0).unwrap(), vec2(n, 0.0), 1.0).map(drop))]
#[case("limit", &[0.0, -1.0], |n| Falling::new(Pace::new(1.0).unwrap(), Vec2::X, n).map(drop))]
#[case("gain", &[0.0, -1.0], |n| Flick::new(n, 1.0, 1.0).map(drop))]
#[case("limit", &[0.0, -1.0], |n| Flick::new(1.0, n, 1.0).map(drop))]
#[case("min_drag", &[-1.0], |n| Flick::new(1.0, 1.0, n).map(drop))]
#[case("dead_zone", &[-0.1, 0.9, 1.0], |n| Stick::new(n, 0.9, 1.0).map(drop))]
#[case("limit", &[0.0, 1.1], |n| Stick::new(0.0, n, 1.0).map(drop))]
#[case("curve", &[0.0, -1.0], |n| Stick::new(0.1, 1.0, n).map(drop))]
#[case("hysteresis", &[-0.1, 0.8], |n| DirectionSnap::new(Directions::Four, n).map(drop))]
fn a_bad_number_is_refused_by_name(#[case] field: &str, #[case] bad: &[f32], #[case] make: Make) {
    for number in bad.iter().copied().chain([f32::NAN, f32::INFINITY, f32::NEG_INFINITY]) {
        let error = make(number).unwrap_err();
        assert_eq!(error.field(), field, "{error}");
        assert!(!error.wanted().is_empty());
    }
}

fn paddle() -> Paddle {
    Paddle::facing(Vec2::Y, 1.0).unwrap()
}

fn pebble() -> Projectile {
    Projectile::aimed(Vec2::ZERO, Vec2::X, 5.0, Footprint::circle(1.0).unwrap()).unwrap()
}

fn a_map() -> TileGrid {
    TileGrid::from_rows(&["."], &Legend::new().with('.', TileKind::floor("path"))).unwrap()
}

/// The same for everything else that takes a number: first what it refuses, then edge values that it takes.
#[rstest]
#[case("rate", &[0.0, -1.0], &[LEAST, 1e30], |n| Ticks::new(n).map(drop))]
#[case("time_scale", &[-1.0], &[0.0, 1e30], |n| Ticks::new(60.0).unwrap().set_time_scale(n))]
#[case("corner", &[], &[LEAST, -1e30], |n| Solid::box_from_corners(Vec2::ZERO, vec2(n, 1.0)).map(drop))]
#[case("corner", &[], &[LEAST, -1e30], |n| Solid::box_from_corners(Vec2::ZERO, vec2(1.0, n)).map(drop))]
#[case("radius", &[0.0, -0.0, -1.0], &[LEAST, MOST], |n| Solid::circle(Vec2::ZERO, n).map(drop))]
#[case("center", &[], &[0.0, -MOST, MOST], |n| Solid::circle(vec2(n, 0.0), 1.0).map(drop))]
#[case("center", &[], &[0.0, -MOST, MOST], |n| Solid::circle(vec2(0.0, n), 1.0).map(drop))]
#[case("end", &[], &[1.0, -1.0], |n| Solid::segment(Vec2::ZERO, vec2(n, 0.0)).map(drop))]
#[case("end", &[], &[1.0, -1.0], |n| Solid::segment(Vec2::ZERO, vec2(0.0, n)).map(drop))]
#[case("width", &[0.0, -0.0, -1.0], &[LEAST, MOST], |n| Footprint::rect(n, 1.0).map(drop))]
#[case("height", &[0.0, -0.0, -1.0], &[LEAST, MOST], |n| Footprint::rect(1.0, n).map(drop))]
#[case("radius", &[0.0, -0.0, -1.0], &[LEAST, 1e30], |n| Footprint::circle(n).map(drop))]
#[case("offset", &[], &[0.0, -1e30], |n| Footprint::circle(1.0).unwrap().with_offset(vec2(n, 0.0)).map(drop))]
#[case("offset", &[], &[0.0, -1e30], |n| Footprint::circle(1.0).unwrap().with_offset(vec2(0.0, n)).map(drop))]
#[case("speed_factor", &[-0.1, 1.1], &[0.0, 1.0], |n| Surface::PLAIN.with_speed_factor(n).map(drop))]
#[case("belt", &[], &[0.0, -1e30], |n| Surface::PLAIN.with_belt(vec2(0.0, n)).map(drop))]
#[case("pull", &[], &[1e-15, -1e15], |n| AnyDrive::from(Pace::new(1.0).unwrap()).falling(vec2(0.0, n), 1.0).map(drop))]
#[case("limit", &[0.0, -1.0], &[LEAST, 1e30],
    |n| AnyDrive::from(Pace::new(1.0).unwrap()).falling(Vec2::Y, n).map(drop))]
#[case("corner_help", &[-0.1], &[0.0, 1e30], |n| AlongWalls::PLAIN.with_corner_help(n).map(drop))]
#[case("restitution", &[-0.1], &[0.0, 2.0], |n| AtWalls::bounce(n, 0.0).map(drop))]
#[case("least_speed", &[-0.1], &[0.0, 1e30], |n| AtWalls::bounce(1.0, n).map(drop))]
#[case("corner", &[], &[LEAST, 1e30], |n| Solid::from_area(Aabb { min: Vec2::ZERO, max: vec2(1.0, n) }).map(drop))]
#[case("grip", &[0.0, -1.0], &[LEAST, 1.0], |n| Surface::PLAIN.with_grip(n).map(drop))]
#[case("tile_size", &[0.0, -1.0, LEAST, 9e-7], &[1e-6, 1e30], |n| a_map().with_tile_size(n).map(drop))]
#[case("tile_width", &[0.0, -1.0, LEAST], &[1e-6, 1e30], |n| a_map().with_tile_dimensions(n, 1.0).map(drop))]
#[case("tile_height", &[0.0, -1.0, LEAST], &[1e-6, 1e30], |n| a_map().with_tile_dimensions(1.0, n).map(drop))]
#[case("origin", &[], &[0.0, -1e30], |n| a_map().with_origin(vec2(n, 0.0)).map(drop))]
#[case("origin", &[], &[0.0, -1e30], |n| a_map().with_origin(vec2(0.0, n)).map(drop))]
#[case("speed", &[0.0, -1.0], &[LEAST, 1e30], |n| StepRules::new(n).map(drop))]
#[case("speed", &[0.0, -1.0], &[LEAST, 1e30], |n| StepRules::new(1.0).unwrap().with_speed(n).map(drop))]
#[case("dead", &[-1.0], &[0.0, 1e30], |n| Follow::new(vec2(n, 0.0), 1.0).map(drop))]
#[case("dead", &[-1.0], &[0.0, 1e30], |n| Follow::new(vec2(0.0, n), 1.0).map(drop))]
#[case("half_life", &[-1.0], &[0.0, 1e30], |n| Follow::new(Vec2::ZERO, n).map(drop))]
#[case("size", &[0.0, -1.0], &[LEAST, 1e30], |n| View::new(vec2(n, 1.0), 1.0).map(drop))]
#[case("size", &[0.0, -1.0], &[LEAST, 1e30], |n| View::new(vec2(1.0, n), 1.0).map(drop))]
#[case("scale", &[0.0, -1.0], &[LEAST, 1e30], |n| View::new(Vec2::ONE, n).map(drop))]
#[case("radians", &[], &[0.0, -1e30], |n| View::new(Vec2::ONE, 1.0).unwrap().turned(n).map(drop))]
#[case("units", &[0.0, -1.0], &[LEAST, 1e30], |n| WalkCycle::by_distance(n, 4).map(drop))]
#[case("seconds", &[0.0, -1.0], &[LEAST, 1e30], |n| WalkCycle::by_time(n, 4).map(drop))]
#[case("starts_at", &[-1.0], &[0.0, 1e30], |n| Stance::new(n, 0.0, 1.0).map(drop))]
#[case("stops_at", &[-1.0, 5.1], &[0.0, 5.0], |n| Stance::new(5.0, n, 1.0).map(drop))]
#[case("idle_after", &[-1.0], &[0.0, 1e30], |n| Stance::new(5.0, 1.0, n).map(drop))]
#[case("per_speed", &[-1.0], &[0.0, 1e30], |n| Lean::new(n, 1.0, 1.0).map(drop))]
#[case("limit", &[-1.0], &[0.0, 1e30], |n| Lean::new(1.0, n, 1.0).map(drop))]
#[case("half_life", &[0.0, -1.0], &[LEAST, 1e30], |n| Lean::new(1.0, 1.0, n).map(drop))]
#[case("velocity_transfer", &[-1.0], &[0.0, 1e30], |n| paddle().with_velocity_transfer(n).map(drop))]
#[case("radius", &[], &[0.0, 1e30], |n| paddle().serve_from(Aabb::from_corners(Vec2::ZERO, Vec2::ONE), n, 0.0).map(drop))]
#[case("offset", &[], &[-1.0, 1e30], |n| paddle().serve_from(Aabb::from_corners(Vec2::ZERO, Vec2::ONE), 1.0, n).map(drop))]
#[case("speed", &[0.0, -1.0], &[LEAST, 1e30],
    |n| Projectile::aimed(Vec2::ZERO, Vec2::X, n, Footprint::circle(1.0).unwrap()).map(drop))]
#[case("range", &[-1.0], &[0.0, 1e30], |n| pebble().with_range(n).map(drop))]
#[case("lasts", &[-1.0], &[0.0, 1e30], |n| pebble().with_time(n).map(drop))]
#[case("height", &[-1.0], &[0.0, 1e30], |n| Hover::new(n, 1.0, 1.0).map(drop))]
#[case("rise", &[0.0, -1.0], &[LEAST, 1e30], |n| Hover::new(1.0, n, 1.0).map(drop))]
#[case("fall", &[0.0, -1.0], &[LEAST, 1e30], |n| Hover::new(1.0, 1.0, n).map(drop))]
#[case("to_level", &[-0.1, 0.8], &[0.0, 0.785], |n| AngleLimits::new(n, 0.0).map(drop))]
#[case("to_upright", &[-0.1, 0.8], &[0.0, 0.785], |n| AngleLimits::new(0.0, n).map(drop))]
#[case("ahead", &[-1.0], &[0.0, 1e30], |n| Hover::new(1.0, 1.0, 1.0).unwrap().with_ahead(n, 1.0).map(drop))]
#[case("step", &[-1.0], &[0.0, 1e30], |n| Hover::new(1.0, 1.0, 1.0).unwrap().with_ahead(1.0, n).map(drop))]
#[case("gain", &[0.0, -1.0], &[LEAST, 1e30], |n| paddle().with_gain(n, 1.0).map(drop))]
#[case("limit", &[0.0, -1.0], &[LEAST, 1e30], |n| paddle().with_gain(1.0, n).map(drop))]
#[case("radians", &[], &[0.0, -1e30], |n| KeyLayout::new(Directions::Four, YAxis::Down).with_view_rotation(n).map(drop))]
#[case("units", &[0.0, -1.0], &[LEAST, 1e30], |n| Pose::four_way(n, 4).map(drop))]
#[case("units", &[0.0, -1.0], &[LEAST, 1e30], |n| Pose::eight_way(n, 4).map(drop))]
#[case("width", &[0.0, -1.0], &[LEAST, 1e30],
    |n| Sectors::new(Directions::Four, DiagonalRule::Sideways, 0.1).unwrap().with_width(Facing::Up, n).map(drop))]
#[case("width", &[0.0, -0.0, -1.0], &[LEAST, 1e30], |n| Solid::box_around(Vec2::ZERO, vec2(n, 1.0)).map(drop))]
#[case("height", &[0.0, -0.0, -1.0], &[LEAST, 1e30], |n| Solid::box_around(Vec2::ZERO, vec2(1.0, n)).map(drop))]
#[case("lasts", &[0.0, -1.0], &[LEAST, 1e30], |n| {
    let diagonals = Diagonals::On { corners: CornerRule::NeverCut, lasts: n };
    StepRules::new(1.0).unwrap().with_diagonals(diagonals).map(drop)
})]
#[case("seconds", &[0.0, -1.0, 9e-7], &[1e-6, 1e30], |n| Course::new().moves(Vec2::ZERO, n).map(drop))]
#[case("seconds", &[0.0, -1.0, 9e-7], &[1e-6, 1e30], |n| Course::new().waits(n).map(drop))]
#[case("scale", &[0.0, -1.0], &[LEAST, 1e30], |n| View::new(Vec2::ONE, 1.0).unwrap().set_scale(n))]
#[case("probe", &[0.0, -1.0], &[1.0, 1e30], |n| {
    let (world, feet) = (World::new(), Footprint::circle(1.0).unwrap());
    step_axes(&world, &feet, Vec2::ZERO, Vec2::X, Vec2::X, n, &WallFilter::ALL).map(drop)
})]
fn every_other_number_is_checked_where_it_enters(
    #[case] field: &str,
    #[case] bad: &[f32],
    #[case] good: &[f32],
    #[case] make: Make,
) {
    for number in bad.iter().copied().chain([f32::NAN, f32::INFINITY, f32::NEG_INFINITY]) {
        let error = make(number).unwrap_err();
        assert_eq!(error.field(), field, "{error}");
        assert!(error.value().to_bits() == number.to_bits(), "{error}");
    }
    for number in good {
        assert_eq!(make(*number), Ok(()), "{field} {number}");
    }
}

/// How long a press is remembered may be for ever, and where a floor lies is a place: both refuse what is none.
#[test]
fn a_time_without_an_end_and_a_place_are_checked_too() {
    let rules = StepRules::new(1.0).unwrap();
    assert_eq!(rules.with_input_buffer(f32::INFINITY).unwrap().input_buffer(), f32::INFINITY);
    for bad in [-1.0, -LEAST, f32::NAN, f32::NEG_INFINITY] {
        assert_eq!(rules.with_input_buffer(bad).unwrap_err().field(), "input_buffer");
    }
    for bad in [f32::NAN, f32::INFINITY] {
        let area = Aabb { min: Vec2::ZERO, max: vec2(bad, 1.0) };
        assert_eq!(World::new().add_floor(area, Surface::PLAIN).unwrap_err().field(), "corner");
    }
    assert_eq!(Course::new().moves(Vec2::X, 1.0).unwrap().looping().unwrap_err().field(), "displacement");
}

/// What is decided in a callback cannot fail: a bad number there counts as none.
#[rstest]
fn a_bad_number_in_a_decision_counts_as_none(
    #[values(-1.0, f32::NAN, f32::INFINITY, f32::NEG_INFINITY)] bad: f32,
) {
    assert_eq!(Decision::bounce(bad), Decision::bounce(0.0));
    assert_eq!(Response::bounce(bad), Response::bounce(0.0));
    assert_eq!(Response::round_corner(bad), Response::round_corner(0.0));
    if !bad.is_finite() {
        assert_eq!(Decision::deflect(vec2(bad, 1.0)), Decision::deflect(Vec2::ZERO));
        let pot = Solid::circle(Vec2::ONE, 2.0).unwrap();
        assert_eq!(pot.moved(vec2(0.0, bad)), pot);
    }
}

/// No surface, in any number of layers, leaves a drive with numbers that are none.
#[rstest]
fn surfaces_at_the_edge_of_numbers_do_no_harm(
    #[values(LEAST, 1.0, MOST)] grip: f32,
    #[values(0.0, 1.0)] factor: f32,
) {
    let surface = Surface::PLAIN.with_grip(grip).unwrap().with_speed_factor(factor).unwrap();
    let surface = surface.with_belt(Vec2::splat(1e30)).unwrap();
    for drive in one_of_each() {
        for on in [surface, surface.and(&surface), surface.and(&Surface::PLAIN.with_grip(MOST).unwrap())] {
            for velocity in [Vec2::ZERO, vec2(50.0, -3.0)] {
                for intent in [Intent::NONE, Intent::new(Vec2::X)] {
                    let motion = drive.advance(velocity.into(), intent, &on, 1.0 / 60.0);
                    assert!(
                        !motion.velocity.is_nan() && !motion.displacement.is_nan(),
                        "{drive:?} {on:?}: {motion:?}"
                    );
                }
            }
        }
    }
}

/// A shape without extent is named by what it lacks.
#[test]
fn a_shape_of_no_extent_is_refused() {
    let field = |made: Result<Solid, InvalidNumber>| made.unwrap_err().field();
    assert_eq!(field(Solid::box_from_corners(Vec2::ONE, vec2(1.0, 2.0))), "width");
    assert_eq!(field(Solid::box_from_corners(Vec2::ONE, vec2(2.0, 1.0))), "height");
    assert_eq!(field(Solid::segment(Vec2::ONE, Vec2::ONE)), "length");
}

fn one_of_each() -> [AnyDrive; 4] {
    let drag = Drag::per_second(1.0).unwrap();
    [
        Pace::new(60.0).unwrap().into(),
        Gait::new(60.0, 400.0, 500.0).unwrap().into(),
        Glide::new(60.0, drag, 1.0).unwrap().into(),
        Helm::new(2.0, 60.0, drag, Steering::Toward).unwrap().with_grip(3.0).unwrap().into(),
    ]
}

#[rstest]
fn a_bad_time_moves_nothing(#[values(0.0, -0.0, -1.0, f32::NAN, f32::INFINITY, f32::NEG_INFINITY)] dt: f32) {
    for drive in one_of_each() {
        let motion = drive.advance(vec2(10.0, -5.0).into(), Intent::NONE, &Surface::PLAIN, dt);
        assert_eq!(motion.displacement, Vec2::ZERO, "{drive:?}");
    }
}

#[rstest]
fn the_smallest_and_largest_numbers_do_no_harm(
    #[values(f32::MIN_POSITIVE, 1e-40, 1e20, 1e38)] speed: f32,
    #[values(f32::MIN_POSITIVE, 1e-10, 1.0, 1e30)] dt: f32,
) {
    for drive in one_of_each() {
        for wish in [Vec2::ZERO, Vec2::X, vec2(f32::MAX, -f32::MAX)] {
            let motion = drive.advance(vec2(speed, -speed).into(), Intent::new(wish), &Surface::PLAIN, dt);
            let (way, then) = (motion.displacement, motion.velocity);
            assert!(!way.is_nan() && !then.is_nan(), "{drive:?} at {speed} for {dt} s: {motion:?}");
            // Nothing here gets faster than both what it was and what its drive gives.
            let most = drive.top_speed().max(2.0 * speed) * 1.001;
            assert!(then.length() <= most || !then.length().is_finite(), "{drive:?} at {speed}: {motion:?}");
        }
    }
}

/// Properties that a wrapper does not change are those of its drive.
#[test]
fn a_wrapped_drive_keeps_the_turning_circle_of_its_own() {
    let helm = Helm::new(2.0, 60.0, Drag::per_second(1.5).unwrap(), Steering::Toward).unwrap();
    // Without grip: the steady velocity in the turning frame is 60 / sqrt(1.5² + 2²) = 24 units/s, round once in half a turn's
    // distance to the side: 2 * 24 / 2 units.
    assert!((helm.turning_circle().unwrap() - 24.0).abs() < 1e-3);
    let falling = Falling::new(helm, vec2(0.0, 9.0), 5.0).unwrap();
    let drives: [&dyn Drive; 3] = [&falling, &OneAxis { drive: helm, axis: Axis::X }, &AnyDrive::from(helm)];
    for drive in drives {
        assert_eq!((drive.turning_circle(), drive.top_speed()), (helm.turning_circle(), helm.top_speed()));
        assert!(drive.steers());
    }
    assert_eq!(OneAxis { drive: Pace::new(3.0).unwrap(), axis: Axis::X }.turning_circle(), None);
}

#[test]
fn what_is_hardly_meant_is_said() {
    let sliding = Gait::new(60.0, 400.0, 100.0).unwrap().warnings();
    assert_eq!(sliding, [Warning::FrictionBelowAcceleration { friction: 100.0, acceleration: 400.0 }]);
    let sticky = Glide::new(60.0, Drag::NONE, 7.0).unwrap().warnings();
    assert_eq!(sticky, [Warning::RestAboveTap { rest_speed: 7.0, tap_speed: 6.0 }]);
    let dead = Stick::new(0.95, 1.0, 1.0).unwrap().warnings();
    assert_eq!(dead, [Warning::WideDeadZone { dead_zone: 0.95 }]);
    assert!(Gait::new(60.0, 400.0, 400.0).unwrap().warnings().is_empty());
}
