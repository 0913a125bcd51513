//! The arcade rules and the drives, one rule at a time: what each number of a call does to the result.

use ambulant::arcade::{AngleLimits, Ball, Hover, Paddle, PaddleHit, PaddlePart, Projectile};
use ambulant::direction::{Angle, Axis, Facing, Side};
use ambulant::drive::{Drag, Drive, Falling, Glide, Helm, OneAxis, Steering};
use ambulant::intent::Directions;
use ambulant::pose::{DiagonalRule, Sectors};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::steps::{Cancel, Claims, CornerRule, Diagonals, StepGround, StepRules, Stepper};
use ambulant::terrain::{EdgeRule, Layers, PlayArea, Terrain, Wall, WallFilter, World};
use ambulant::travel::slide;
use glam::IVec2;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{Dice, map};

fn open_area() -> PlayArea {
    let area = PlayArea::new(Vec2::ZERO, Vec2::splat(10.0)).unwrap();
    [Side::Left, Side::Right, Side::Top, Side::Bottom]
        .into_iter()
        .fold(area, |area, side| area.with(side, EdgeRule::Open))
}

properties! {
    256;

    /// Whether a ball leaves by an open side or meets a wall is decided by which comes first.
    #[test]
    fn an_edge_counts_before_a_wall_behind_it(left >= 65, hit >= 95; edge in 2.0f32..30.0, wall in 2.0f32..30.0, speed in 10.0f32..500.0) {
        prop_assume!((edge - wall).abs() > 0.1);
        let area = PlayArea::new(vec2(-9.0, -9.0), vec2(edge, 9.0)).unwrap().with(Side::Right, EdgeRule::Open);
        let mut walls = World::new().with_play_area(area);
        walls.add(Solid::box_from_corners(vec2(wall, -5.0), vec2(wall + 1.0, 5.0)).unwrap());
        let mut ball = Ball::new(Vec2::ZERO, vec2(speed, 0.0), Footprint::circle(0.5).unwrap());
        let mut met = 0;
        tick_balls(core::slice::from_mut(&mut ball), 31.0 / speed, &mut walls, |_, _| { met += 1; Decision::STOP });
        // The whole ball has left when its left side passes the edge; its right side meets the wall.
        let leaves_first = edge + 0.5 < wall - 0.5;
        left.when(leaves_first);
        hit.when(!leaves_first);
        prop_assert_eq!((ball.is_in_play(), met > 0), (!leaves_first, !leaves_first));
    }

    /// A round end of a paddle is its face up to 45 degrees, and its back as far on the other side.
    #[test]
    fn a_round_end_is_the_face_up_to_45_degrees(facing in 0usize..4, aside in prop::bool::ANY) {
        let away = [Vec2::X, Vec2::Y, Vec2::NEG_X, Vec2::NEG_Y][facing];
        let paddle = Paddle::facing(away, 1.0).unwrap();
        let part = |degrees: f32| {
            let turn = Angle::from_degrees(if aside { degrees } else { -degrees }).vector();
            let normal = away.rotate(turn);
            let (paddle_velocity, ball_velocity) = (Vec2::ZERO, -normal);
            paddle.deflect(&PaddleHit { offset: normal, paddle_velocity, normal, ball_velocity }).part
        };
        prop_assert_eq!([part(45.0), part(45.1)], [PaddlePart::Face, PaddlePart::End]);
        prop_assert_eq!([part(134.9), part(135.0)], [PaddlePart::End, PaddlePart::Back]);
    }

    /// The part of the relative velocity that leads into the end or the back of a paddle is turned round, and no other.
    #[test]
    fn the_end_of_a_paddle_turns_what_leads_into_it(
        turned >= 70;
        angle in -3.1f32..3.1, velocity in (-90.0f32..90.0, -90.0f32..90.0), own in (-90.0f32..90.0, -90.0f32..90.0),
    ) {
        let paddle = Paddle::facing(Vec2::NEG_Y, 1.0).unwrap();
        let (normal, velocity, own) = (Vec2::from_angle(angle), Vec2::from(velocity), Vec2::from(own));
        let hit = PaddleHit { offset: normal, paddle_velocity: own, normal, ball_velocity: velocity };
        let found = paddle.deflect(&hit);
        prop_assume!(found.part != PaddlePart::Face);
        let (before, after) = ((velocity - own).dot(normal), (found.velocity - own).dot(normal));
        turned.when(before < 0.0);
        prop_assert!((after - before.abs()).abs() < 1e-3, "{before} became {after}");
        prop_assert!((found.velocity - velocity).perp_dot(normal).abs() < 1e-3);
    }

    /// A ball off the face goes where it is aimed, with its own part added; what would lead back into the paddle is turned
    /// round, and keeps its size.
    #[test]
    fn a_ball_off_the_face_keeps_what_it_is_given(
        turned >= 50;
        offset in -1.0f32..1.0, speed in 1.0f32..90.0, own in (-300.0f32..300.0, -300.0f32..300.0), transfer in 0.0f32..2.0,
    ) {
        let paddle = Paddle::facing(Vec2::NEG_Y, 1.0).unwrap().with_velocity_transfer(transfer).unwrap();
        let own = Vec2::from(own);
        let (at, normal, ball_velocity) = (vec2(offset, -1.0), Vec2::NEG_Y, vec2(0.0, speed));
        let found = paddle.deflect(&PaddleHit { offset: at, paddle_velocity: own, normal, ball_velocity });
        let aimed = vec2(offset.sin(), -offset.cos()) * speed + own * transfer;
        turned.when(aimed.y > 0.0);
        prop_assert!((found.velocity - vec2(aimed.x, -aimed.y.abs())).length() < 2e-3, "{found:?} for {aimed}");
    }

    /// A hovering mover comes to lie at its height over the floor, or over a step beside it that it feels: one within
    /// `ahead` of its footprint and no higher than `step`.
    #[test]
    fn a_hovering_mover_keeps_its_height_over_the_highest_step_it_feels(
        felt >= 40;
        height in 0.3f32..4.0, ahead in 0.2f32..5.0, step in 0.2f32..4.0, away in 0.1f32..6.0, block in 0.1f32..3.5,
    ) {
        prop_assume!((away - ahead).abs() > 0.05 && (block - step - height).abs() > 0.05 && block < height);
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(vec2(-90.0, 0.0), vec2(90.0, 9.0)).unwrap());
        walls.add(Solid::box_from_corners(vec2(1.0 + away, -block), vec2(90.0, 1.0)).unwrap());
        let hover = Hover::new(height, 3.0, 5.0).unwrap().with_ahead(ahead, step).unwrap();
        let feet = Footprint::rect(2.0, 0.5).unwrap();
        let mut lamp = Walker::new(vec2(0.0, -height - 0.25), feet, Pace::new(1.0).unwrap());
        lamp.hover = Some(hover);
        let _ = lamp.tick(Intent::NONE, 20.0, &walls);
        let at = lamp.position;
        prop_assert_eq!(lamp.velocity, Vec2::ZERO);
        let feels = away < ahead;
        felt.when(feels && block < step);
        let wanted = if feels { height + block } else { height };
        prop_assert!((-at.y - 0.25 - wanted).abs() < 1e-3, "{} instead of {wanted} over the floor", -at.y - 0.25);
    }

    /// Between two walls that are too high for it, it comes to lie at its height over the floor between them.
    #[test]
    fn in_a_shaft_a_hovering_mover_comes_down_to_its_height(
        height in 0.3f32..4.0, above in 0.5f32..8.0, gap in 0.05f32..0.4,
    ) {
        let mut shaft = World::new();
        shaft.add(Solid::box_from_corners(vec2(-90.0, 0.0), vec2(90.0, 9.0)).unwrap());
        for side in [-1.0, 1.0] {
            shaft.add(Solid::box_around(vec2(side * (2.0 + gap), -20.0), vec2(2.0, 60.0)).unwrap());
        }
        let hover = Hover::new(height, 3.0, 5.0).unwrap().with_ahead(0.5, 0.2).unwrap();
        let mut lamp =
            Walker::new(vec2(0.0, -0.25 - height - above), Footprint::rect(2.0, 0.5).unwrap(), Pace::new(1.0).unwrap());
        lamp.hover = Some(hover);
        let _ = lamp.tick(Intent::NONE, 20.0, &shaft);
        prop_assert!((-lamp.position.y - 0.25 - height).abs() < 1e-3, "{} over the floor", -lamp.position.y - 0.25);
    }

    /// What a projectile has flown is missing from its range and its time.
    #[test]
    fn a_projectile_has_left_what_it_has_not_flown(
        speed in 1.0f32..50.0, ticks in prop::collection::vec(0.01f32..0.2, 1..9),
    ) {
        let feet = Footprint::circle(0.2).unwrap();
        let pebble = Projectile::aimed(Vec2::ZERO, vec2(3.0, 4.0), speed, feet).unwrap();
        let mut pebble = pebble.with_range(1000.0).unwrap().with_time(10.0).unwrap();
        ticks.iter().for_each(|dt| assert!(pebble.tick(*dt, &World::new()).is_none()));
        let passed: f32 = ticks.iter().sum();
        prop_assert!((pebble.range_left() - (1000.0 - speed * passed)).abs() < 1e-2, "{}", pebble.range_left());
        prop_assert!((pebble.seconds_left() - (10.0 - passed)).abs() < 1e-4, "{}", pebble.seconds_left());
    }

    /// A glide over a long tick is the closed form `v e^(-k t)` and its integral, in `f64`.
    #[test]
    fn a_glide_is_its_closed_form_to_the_last_bits(k in 0.05f32..4.0, dt in 0.01f32..0.6, speed in 1.0f32..300.0) {
        let glide = Glide::new(0.0, Drag::per_second(k).unwrap(), 0.0).unwrap();
        let motion = glide.advance(vec2(speed, 0.0).into(), Intent::NONE, &Surface::PLAIN, dt);
        let (k, dt, speed) = (f64::from(k), f64::from(dt), f64::from(speed));
        let way = speed * -(-k * dt).exp_m1() / k;
        prop_assert!((f64::from(motion.displacement.x) / way - 1.0).abs() < 2e-7, "{motion:?}, not {way}");
        prop_assert!((f64::from(motion.velocity.x) / (speed * (-k * dt).exp()) - 1.0).abs() < 2e-7);
    }

    /// What a slide gives back has no zero with a minus sign, which would print as "-0".
    #[test]
    fn a_slide_gives_back_no_negative_zero(way in (-9.0f32..9.0, -9.0f32..9.0), across in any::<bool>()) {
        let mut walls = World::new();
        let (low, high) = if across { (vec2(1.0, -90.0), vec2(2.0, 90.0)) } else { (vec2(-90.0, 1.0), vec2(90.0, 2.0)) };
        walls.add(Solid::box_from_corners(low, high).unwrap());
        let way = if across { vec2(way.0.abs() + 1.0, way.1) } else { vec2(way.0, way.1.abs() + 1.0) };
        let straight = if across { vec2(way.x, 0.0) } else { vec2(0.0, way.y) };
        for way in [way, -way, straight] {
            let motion = ambulant::drive::Motion::new(way, way, Angle::ZERO);
            let result = slide(&walls, &Footprint::circle(0.5).unwrap(), Vec2::ZERO, motion, &WallFilter::ALL);
            for part in result.velocity.to_array().into_iter().chain(result.remaining.to_array()) {
                prop_assert!(part != 0.0 || part.is_sign_positive(), "{result:?}");
            }
        }
    }

    /// A helm that coasts along a wall slows down to its rest speed and stands still from there.
    #[test]
    fn a_helm_that_coasts_along_a_wall_comes_to_rest(rest in 1.0f32..20.0, speed in 25.0f32..90.0, ticks in 1u32..60) {
        let helm = Helm::new(2.0, 50.0, Drag::per_second(1.5).unwrap(), Steering::Toward).unwrap();
        let helm = helm.with_rest_speed(rest).unwrap();
        let from = ambulant::drive::Momentum::new(vec2(speed, 0.0), Angle::ZERO);
        // After ln(v / rest) / k seconds it has come down to the speed at which it rests, on (v - rest) / k units.
        let until = (speed / rest).ln() / 1.5;
        let before = helm.advance_along(from, Intent::NONE, &Surface::PLAIN, Vec2::NEG_Y, 0.9 * until);
        prop_assert!(before.velocity.x > rest, "{before:?} too early");
        let dt = 1.5 * until / ticks as f32;
        let (mut now, mut way) = (from, 0.0);
        for _ in 0..ticks {
            let motion = helm.advance_along(now, Intent::NONE, &Surface::PLAIN, Vec2::NEG_Y, dt);
            way += motion.displacement.x;
            now = motion.momentum();
        }
        prop_assert_eq!(now.velocity, Vec2::ZERO);
        prop_assert!((way - (speed - rest) / 1.5).abs() < 1e-2, "{way}");
    }
}

#[test]
fn a_ball_passes_through_what_it_is_told_to_and_bounces_off_the_next() {
    let mut walls = World::new();
    for x in [2.0, 5.0] {
        walls.add(Solid::box_from_corners(vec2(x, -5.0), vec2(x + 1.0, 5.0)).unwrap());
    }
    let mut ball = Ball::new(Vec2::ZERO, vec2(10.0, 0.0), Footprint::circle(0.5).unwrap());
    let mut met = Vec::new();
    let bounces = tick_balls(core::slice::from_mut(&mut ball), 0.5, &mut walls, |_, impact| {
        met.push(impact.hit.position.x);
        if met.len() == 1 { Decision::PASS_THROUGH } else { Decision::bounce(1.0) }
    });
    assert_eq!((met, bounces.count), (vec![1.5, 4.5], 2));

    assert_eq!(ball.velocity, vec2(-10.0, 0.0));
}

/// A ball that was set outside of an open side stays in play while it moves along it or comes back.
#[rstest]
#[case(vec2(0.0, 3.0), true)]
#[case(vec2(3.0, 0.0), true)]
#[case(vec2(-3.0, 0.0), false)]
fn who_stands_outside_of_an_open_side_is_lost_only_on_the_way_out(
    #[case] velocity: Vec2,
    #[case] in_play: bool,
) {
    let mut ball = Ball::new(vec2(-5.0, 5.0), velocity, Footprint::circle(0.5).unwrap());
    let _ = crate::scene::bounce(&mut ball, 0.1, &mut World::new().with_play_area(open_area()));
    assert_eq!(ball.is_in_play(), in_play);
}

/// Far from the origin, where a position is rounded to a two-thousandth of a unit, a ball is in time for ten minutes.
#[test]
fn far_from_the_origin_a_ball_keeps_time_for_ten_minutes() {
    let mut walls = World::new();
    let (low, high) = (6000.0f32, 6021.7f32);
    walls.add(Solid::box_from_corners(vec2(low - 9.0, -9.0), vec2(low, 9.0)).unwrap());
    walls.add(Solid::box_from_corners(vec2(high, -9.0), vec2(high + 9.0, 9.0)).unwrap());
    let mut ball = Ball::new(vec2(6010.0, 0.0), vec2(83.3, 0.0), Footprint::circle(0.7).unwrap());
    let span = f64::from(high) - f64::from(low) - 2.0 * f64::from(0.7f32);
    let dt = 1.0f32 / 144.0;
    for _ in 0..144 * 600 {
        let _ = crate::scene::bounce(&mut ball, dt, &mut walls);
    }
    let way = 10.0 - f64::from(0.7f32) + f64::from(83.3f32) * f64::from(dt) * 144.0 * 600.0;
    let along = way.rem_euclid(2.0 * span);
    let exact = f64::from(low) + f64::from(0.7f32) + if along > span { 2.0 * span - along } else { along };
    let apart = (f64::from(ball.position.x) - exact).abs();
    assert!(apart < 0.02, "{apart} units apart after {} bounces", way / span);
}

#[test]
fn a_projectile_flies_with_the_velocity_it_was_aimed_with() {
    let mut dice = Dice::new(7);
    for _ in 0..100 {
        let (aim, speed) = (Vec2::from_angle(dice.number(0.0, 6.3)), dice.number(1.0, 500.0));
        let puff = Projectile::aimed(Vec2::ZERO, aim * 4.0, speed, Footprint::circle(0.1).unwrap()).unwrap();
        assert!(puff.velocity().distance(aim * speed) < 1e-3, "{}", puff.velocity());
    }
}

#[test]
fn angle_limits_turn_zeros_to_the_positive_side_and_leave_what_has_no_direction() {
    let limits = AngleLimits::new(0.2, 0.2).unwrap();
    assert!(limits.kept(vec2(-5.0, 0.0)).distance(vec2(-5.0 * 0.2f32.cos(), 5.0 * 0.2f32.sin())) < 1e-5);
    assert!(limits.kept(vec2(0.0, -5.0)).distance(vec2(5.0 * 0.2f32.sin(), -5.0 * 0.2f32.cos())) < 1e-5);
    assert_eq!(limits.kept(vec2(f32::INFINITY, 1.0)), vec2(f32::INFINITY, 1.0));
    assert_eq!(limits.kept(Vec2::ZERO), Vec2::ZERO);
}

/// What a wrapper says of a drive is what the drive says, but for what the wrapper changes.
#[test]
fn wrapped_drives_tell_of_themselves() {
    let gait = Gait::new(60.0, 240.0, 480.0).unwrap();
    let helm = Helm::new(2.0, 90.0, Drag::per_second(1.5).unwrap(), Steering::Toward)
        .unwrap()
        .with_grip(4.0)
        .unwrap();
    assert_eq!((helm.grip(), helm.top_speed()), (4.0, 60.0));
    let falling = Falling::new(gait, vec2(0.0, 300.0), 400.0).unwrap();
    assert!(!falling.steers() && falling.pushes());
    let rail = |helm| OneAxis { drive: helm, axis: Axis::X };
    assert!(rail(helm).steers() && rail(helm).pushes() && rail(helm).axis() == Some(Axis::X));
    // One that falls leaves its axis.
    assert_eq!(Falling::new(rail(helm), Vec2::Y, 1.0).unwrap().axis(), None);
    let rail = OneAxis { drive: gait, axis: Axis::Y };
    assert!(!rail.steers() && !rail.pushes());
    assert_eq!(rail.response(Intent::NONE, &Surface::PLAIN).unwrap().axis, Some(Vec2::Y));
    // A belt takes a cart along its rail only, and one that falls wholly.
    let belt = Surface::PLAIN.with_belt(vec2(3.0, 4.0)).unwrap();
    assert_eq!((rail.belt_of(&belt), falling.belt_of(&belt)), (vec2(0.0, 4.0), vec2(3.0, 4.0)));
}

/// Two movers whose positions differ only by their rounding errors are not equal.
#[test]
fn movers_with_different_rounding_errors_differ() {
    let at = |x: f64| {
        let mut cart = Walker::new(Vec2::ZERO, Footprint::rect(1.0, 1.0).unwrap(), Pace::new(1.0).unwrap());
        cart.set_exact_position(glam::dvec2(x, 0.0));
        cart
    };
    assert_eq!(at(8.0 + 1e-8).position, at(8.0).position);
    assert_ne!(at(8.0 + 1e-8), at(8.0 + 2e-8));
    assert_ne!(at(8.0 + 1e-8), at(9.0 + 1e-8));
}

#[test]
fn a_drag_that_keeps_everything_is_a_plain_zero() {
    assert!(Drag::kept_per_second(1.0).unwrap().rate().is_sign_positive());
    let halved = Drag::kept_per_second(0.5).unwrap().rate();
    assert!((halved - std::f32::consts::LN_2).abs() < 1e-6);
}

/// A rest speed that a tap just reaches is no cause for a warning.
#[test]
fn a_rest_speed_at_the_speed_of_a_tap_is_fine() {
    let drag = Drag::per_second(2.0).unwrap();
    let tap = match Glide::new(100.0, drag, 99.0).unwrap().warnings().as_slice() {
        [ambulant::Warning::RestAboveTap { tap_speed, .. }] => *tap_speed,
        other => panic!("{other:?}"),
    };
    assert!(Glide::new(100.0, drag, tap).unwrap().warnings().is_empty());
    assert_eq!(Glide::new(100.0, drag, tap.next_up()).unwrap().warnings().len(), 1);
}

#[test]
fn a_clock_tells_its_tick_and_whether_it_is_paused() {
    let mut ticks = ambulant::time::Ticks::new(50.0).unwrap();
    assert_eq!((ticks.seconds(), ticks.is_paused()), (0.02, false));
    ticks.set_paused(true);
    assert!(ticks.is_paused());
    ticks.set_paused(false);
    assert!(!ticks.is_paused());
}

#[test]
fn a_refused_number_says_what_was_wanted() {
    let refused = Footprint::circle(-1.0).unwrap_err();
    assert_eq!(refused.wanted(), "a finite number above 0 (units)");
}

/// Who lies deeper in a wall than a graze gets out: a way out of it meets nothing.
#[test]
fn a_way_out_of_a_wall_meets_nothing() {
    let mut walls = World::new();
    let id = walls.add(Solid::box_from_corners(vec2(-50.0, 0.0), vec2(50.0, 20.0)).unwrap());
    let mut dice = Dice::new(3);
    for _ in 0..500 {
        let deep = dice.number(1e-3, 0.4);
        let from = vec2(dice.number(-20.0, 20.0), -0.5 + deep);
        let way = Vec2::from_angle(-dice.number(0.2, 2.9)) * dice.number(0.1, 3.0);
        for feet in [Footprint::circle(0.5).unwrap(), Footprint::rect(1.0, 1.0).unwrap()] {
            let hit = walls.sweep(&feet, from, way, &WallFilter::ALL);
            assert_eq!(hit.map(|hit| hit.wall), None::<Wall>, "{deep} deep in {id:?}, by {way}");
        }
    }
}

#[test]
fn an_angle_between_points_is_the_angle_of_their_difference() {
    let mut dice = Dice::new(11);
    for _ in 0..200 {
        let (from, way) = (vec2(dice.number(-9.0, 9.0), dice.number(-9.0, 9.0)), dice.number(-3.1, 3.1));
        let to = from + Vec2::from_angle(way) * dice.number(1.0, 50.0);
        assert!((Angle::toward(from, to).unwrap().radians() - way).abs() < 1e-4);
    }
    assert_eq!(Angle::toward(Vec2::ONE, Vec2::ONE), None);
}

/// Seen by the player, an angle that grows toward +y turns clockwise where y grows down the screen, anticlockwise where up.
#[rstest]
#[case(YAxis::Down, -30.0)]
#[case(YAxis::Up, 30.0)]
fn a_picture_turns_as_the_player_sees_it(#[case] y_axis: YAxis, #[case] degrees: f32) {
    let heading = Angle::from_radians(30f32.to_radians());
    assert!((heading.for_picture(y_axis, 0.0).degrees() - degrees).abs() < 1e-3);
    assert!((heading.for_picture(y_axis, 0.5).radians() - (degrees.to_radians() - 0.5)).abs() < 1e-5);
}

/// A drag launches along itself, with its speed times the gain up to the limit; a tap and what is no number launch nothing.
#[test]
fn a_flick_launches_along_its_drag() {
    let mut dice = Dice::new(5);
    let mut limited = 0;
    for _ in 0..300 {
        let (gain, limit, shortest) =
            (dice.number(0.2, 5.0), dice.number(50.0, 300.0), dice.number(0.0, 9.0));
        let flick = ambulant::intent::Flick::new(gain, limit, shortest).unwrap();
        let (from, aim) = (vec2(dice.number(-9.0, 9.0), 3.0), Vec2::from_angle(dice.number(0.0, 6.2)));
        let (length, seconds) = (dice.number(0.5, 40.0), dice.number(0.05, 2.0));
        let launch = flick.launch(from, from + aim * length, seconds);
        if length <= shortest {
            assert_eq!(launch, None);
            continue;
        }
        let wanted = (length / seconds * gain).min(limit);
        limited += u32::from(wanted == limit);
        assert!(launch.unwrap().distance(aim * wanted) < 1e-3 * wanted);
        assert!(flick.launch(from, from + aim * length, 0.0).unwrap().distance(aim * limit) < 1e-3 * limit);
        for seconds in [f32::NAN, f32::INFINITY] {
            assert_eq!(flick.launch(from, from + aim * length, seconds), None);
        }
        assert_eq!(flick.launch(from, vec2(f32::NAN, 0.0), 1.0), None);
    }
    assert!((30..270).contains(&limited), "{limited}");
}

/// A walk cycle over a distance shows frame after frame, each for an equal part of it.
#[test]
fn a_walk_cycle_shows_each_frame_for_an_equal_part() {
    for frames in 1..9u32 {
        let mut cycle = ambulant::pose::WalkCycle::by_distance(24.0, frames).unwrap();
        let step = 24.0 / frames as f32;
        cycle.tick(0.02 * step, 0.1, true);
        for seen in 0..3 * frames {
            assert_eq!(cycle.frame(), seen % frames, "{seen} of {frames}");
            cycle.tick(0.96 * step, 0.1, true);
            assert_eq!(cycle.frame(), seen % frames, "the end of {seen} of {frames}");
            cycle.tick(0.04 * step, 0.1, true);
        }
    }
}

/// Which of two ways wins on their border: with four ways the sideways one, or the upright one; with eight the straight one,
/// or the diagonal.
#[rstest]
fn on_a_border_the_rule_decides_from_every_side(
    #[values(1.0, -1.0)] x: f32,
    #[values(1.0, -1.0)] y: f32,
    #[values(Facing::Left, Facing::Up, Facing::DownRight)] last: Facing,
) {
    let four = |rule| Sectors::new(Directions::Four, rule, 0.0).unwrap();
    let sideways = if x > 0.0 { Facing::Right } else { Facing::Left };
    let upright = if y > 0.0 { Facing::Down } else { Facing::Up };
    let diagonal = vec2(x, y);
    assert_eq!(four(DiagonalRule::Sideways).facing(last, diagonal, YAxis::Down), sideways);
    assert_eq!(four(DiagonalRule::Upright).facing(last, diagonal, YAxis::Down), upright);
    let eight = |rule| Sectors::new(Directions::Eight, rule, 0.0).unwrap();
    let border = Vec2::from_angle(std::f32::consts::FRAC_PI_8) * diagonal;
    assert_eq!(eight(DiagonalRule::Sideways).facing(last, border, YAxis::Down), sideways);
    let between = Facing::ALL.into_iter().find(|facing| facing.step().as_vec2() == diagonal);
    assert_eq!(Some(eight(DiagonalRule::Upright).facing(last, border, YAxis::Down)), between);
}

/// A wider sector takes what a narrower one beside it leaves, in the proportion of their widths.
#[test]
fn a_wide_sector_takes_more() {
    let sectors = Sectors::new(Directions::Four, DiagonalRule::Sideways, 0.0).unwrap();
    let sectors = sectors.with_width(Facing::Right, 2.0).unwrap();
    // Twice as wide as the ones above and below it: 60 of the 90 degrees between them.
    for (degrees, facing) in [
        (0.0f32, Facing::Right),
        (59.0, Facing::Right),
        (61.0, Facing::Down),
        (-59.0, Facing::Right),
        (-61.0, Facing::Up),
    ] {
        let direction = Vec2::from_angle(degrees.to_radians());
        assert_eq!(sectors.facing(Facing::Left, direction, YAxis::Down), facing, "{degrees} degrees");
    }
}

/// A closed side blocks steps through it and no others; the event names what blocked the step.
#[rstest]
#[case::left(Side::Left, Facing::Right)]
#[case::right(Side::Right, Facing::Left)]
#[case::top(Side::Top, Facing::Down)]
#[case::bottom(Side::Bottom, Facing::Up)]
fn a_closed_side_stops_steps_from_there_alone(#[case] side: Side, #[case] way: Facing) {
    let gate = TileKind::floor("gate").closed_from(side);
    let legend = Legend::new().with('.', TileKind::floor("path")).with('o', gate);
    let map = TileGrid::from_rows(&["...", ".o.", "..."], &legend).unwrap();
    let ground = StepGround::new(&map);
    for facing in Facing::ALL.into_iter().filter(|facing| !facing.is_diagonal()) {
        let mut claims = Claims::new();
        let from = ivec2(1, 1) - facing.step();
        let mut cart = Stepper::on(from, StepRules::new(4.0).unwrap(), &ground, &mut claims).unwrap();
        let _ = cart.tick(Intent::new(facing.step().as_vec2()), 0.3, &ground, &mut claims);
        assert_eq!(cart.tile() == ivec2(1, 1), facing != way, "{facing}");
    }
    let mut claims = Claims::new();
    let pot = claims.put_thing(ivec2(2, 0), &ground).unwrap();
    assert_eq!((claims.thing_at(ivec2(2, 0)), claims.thing_at(ivec2(0, 0))), (Some(pot), None));
}

/// A diagonal step may last longer than a straight one, which lasts `1 / speed` as ever.
#[test]
fn only_diagonal_steps_last_longer() {
    let diagonals = Diagonals::On { corners: CornerRule::NeverCut, lasts: 1.5 };
    let rules = StepRules::new(4.0).unwrap().with_diagonals(diagonals).unwrap();
    assert_eq!(rules.diagonals(), diagonals);
    let map = map(&["......", "......", "......"]);
    let ground = StepGround::new(&map);
    for (way, seconds) in [(Vec2::X, 0.25), (Vec2::ONE, 0.375)] {
        let mut claims = Claims::new();
        let mut cart = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
        let _ = cart.tick(Intent::new(way), 0.5 * seconds, &ground, &mut claims);
        assert!((cart.fraction() - 0.5).abs() < 1e-5, "{way}: {}", cart.fraction());
    }
}

/// A gate on a layer that is not in a stepper's mask blocks neither its steps nor the corners that it cuts.
#[rstest]
#[case(Layers::ALL, false)]
#[case(Layers::FIRST, true)]
fn a_corner_may_be_cut_at_what_the_mask_leaves_out(#[case] mask: Layers, #[case] cuts: bool) {
    let gate = TileKind::wall("gate").with_layers(Layers::bit(3));
    let legend = Legend::new().with('.', TileKind::floor("path")).with('o', gate);
    let map = TileGrid::from_rows(&[".o.", "...", "..."], &legend).unwrap();
    let ground = StepGround::new(&map);
    let diagonals = Diagonals::On { corners: CornerRule::NeverCut, lasts: 1.0 };
    let rules = StepRules::new(4.0).unwrap().with_diagonals(diagonals).unwrap().with_mask(mask);
    let mut claims = Claims::new();
    let mut cart = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
    let _ = cart.tick(Intent::new(Vec2::ONE), 0.3, &ground, &mut claims);
    assert_eq!(cart.tile() == ivec2(1, 1), cuts, "{}", cart.tile());
}

/// A stride that is cut short holds the tile that it ends on, and no other.
#[rstest]
#[case::back(Cancel::Back, ivec2(1, 0))]
#[case::on(Cancel::On, ivec2(2, 0))]
#[case::elsewhere(Cancel::To(ivec2(4, 0)), ivec2(4, 0))]
fn a_stride_that_is_cut_short_holds_one_tile(#[case] how: Cancel, #[case] stands: IVec2) {
    let map = map(&["......"]);
    let ground = StepGround::new(&map);
    let mut claims = Claims::new();
    let rules = StepRules::new(4.0).unwrap();
    let mut cart = Stepper::on(ivec2(1, 0), rules, &ground, &mut claims).unwrap();
    let _ = cart.tick(Intent::new(Vec2::X), 0.1, &ground, &mut claims);
    assert_eq!(cart.stride_to(), Some(ivec2(2, 0)));
    cart.cancel(how, &ground, &mut claims).unwrap();
    for column in 0..6 {
        let holder = claims.mover_at(ivec2(column, 0));
        assert_eq!(holder.is_some(), column == stands.x, "{holder:?} on column {column} after {how:?}");
    }
}

#[test]
fn a_map_tells_its_kinds_and_the_tile_nearest_to_a_point() {
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["#..", ".#."], &legend).unwrap().with_tile_size(8.0).unwrap();
    let mut names: Vec<&str> = map.kinds().iter().map(TileKind::name).collect();
    names.sort_unstable();
    assert_eq!(names, ["bed", "path"]);
    for (point, tile) in [
        (vec2(-50.0, -50.0), ivec2(0, 0)),
        (vec2(900.0, 4.0), ivec2(2, 0)),
        (vec2(12.0, 900.0), ivec2(1, 1)),
        (vec2(900.0, 900.0), ivec2(2, 1)),
    ] {
        assert_eq!(map.nearest_tile(point), tile, "{point}");
    }
}

properties! {
    256;

    /// The point of a hit lies on the wall and on the footprint that touches it.
    #[test]
    fn the_point_of_a_hit_lies_on_both(
        tile in 1.0f32..40.0, from in (0.0f32..1.0, 0.0f32..1.0), angle in 0.0f32..6.3, size in 0.1f32..0.9, round in any::<bool>(),
    ) {
        let map = map(&["#####", "#...#", "#.#.#", "#...#", "#####"]).with_tile_size(tile).unwrap();
        let size = size * tile;
        let feet = if round { Footprint::circle(0.5 * size) } else { Footprint::rect(size, 0.6 * size) }.unwrap();
        let from = map.area().min + tile + vec2(from.0, from.1) * 3.0 * tile;
        prop_assume!(!map.overlaps(&feet, from, &WallFilter::ALL));
        let way = Vec2::from_angle(angle) * 6.0 * tile;
        let hit = map.sweep(&feet, from, way, &WallFilter::ALL).unwrap();
        let Wall::Tile(_, tile_hit) = hit.wall else { return Err(TestCaseError::fail("no tile")) };
        for area in [map.tile_area(tile_hit), feet.at(hit.position)] {
            let outside = (area.min - hit.point).max(hit.point - area.max).max_element();
            prop_assert!(outside < 1e-4 * tile, "{} is not on {area:?}", hit.point);
        }
    }
}
