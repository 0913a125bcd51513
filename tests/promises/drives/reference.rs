//! Drives against their own definitions, integrated in small steps of `f64` by another method.

use ambulant::direction::{Angle, YAxis};
use ambulant::drive::{AnyDrive, Drag, Drive, Gait, Glide, Helm, Momentum, Steering, Surface};
use ambulant::intent::Intent;
use glam::{DVec2, Vec2, vec2};
use rstest::rstest;

const STEPS: u32 = 40_000;
/// Steps of the method of fourth order.
const FEW_STEPS: u32 = 4_000;

/// Position, velocity and heading as one state.
#[derive(Debug, Clone, Copy)]
struct State(DVec2, DVec2, f64);

impl State {
    fn plus(self, slope: (DVec2, DVec2, f64), by: f64) -> Self {
        Self(self.0 + slope.0 * by, self.1 + slope.1 * by, self.2 + slope.2 * by)
    }
}

/// The classic Runge-Kutta method of fourth order; the slope may depend on the time.
fn integrate(start: State, seconds: f64, slope: impl Fn(f64, State) -> (DVec2, DVec2, f64)) -> State {
    let step = seconds / f64::from(FEW_STEPS);
    (0..FEW_STEPS).fold(start, |now, number| {
        let time = f64::from(number) * step;
        let a = slope(time, now);
        let b = slope(time + step / 2.0, now.plus(a, step / 2.0));
        let c = slope(time + step / 2.0, now.plus(b, step / 2.0));
        let d = slope(time + step, now.plus(c, step));
        let mean = |a: DVec2, b: DVec2, c: DVec2, d: DVec2| (a + 2.0 * b + 2.0 * c + d) / 6.0;
        let turn = (a.2 + 2.0 * b.2 + 2.0 * c.2 + d.2) / 6.0;
        now.plus((mean(a.0, b.0, c.0, d.0), mean(a.1, b.1, c.1, d.1), turn), step)
    })
}

#[track_caller]
fn assert_agrees(drive: impl Into<AnyDrive>, from: Momentum, intent: Intent, dt: f32, end: State) {
    let motion = drive.into().advance(from, intent, &Surface::PLAIN, dt);
    let (moved, velocity) = (motion.displacement.as_dvec2(), motion.velocity.as_dvec2());
    assert!((moved - end.0).length() < 1e-3, "{motion:?}, but moved {}", end.0);
    assert!((velocity - end.1).length() < 1e-3, "{motion:?}, but moves at {}", end.1);
}

/// A gait by its definition: toward what is wanted at a constant rate, by simple small steps.
#[rstest]
#[case::from_rest(vec2(0.0, 0.0), vec2(1.0, 0.0), 0.2)]
#[case::reached_on_the_way(vec2(50.0, 0.0), vec2(0.6, 0.8), 1.0)]
#[case::turning_round(vec2(-60.0, 10.0), vec2(1.0, 0.0), 0.3)]
#[case::turning_round_and_reaching(vec2(30.0, -50.0), vec2(-0.5, 0.5), 0.9)]
#[case::braking_left_and_up(vec2(-40.0, -30.0), vec2(0.0, 0.0), 0.5)]
#[case::faster_than_asked(vec2(300.0, 0.0), vec2(0.5, 0.0), 0.4)]
fn a_gait(#[case] velocity: Vec2, #[case] wish: Vec2, #[case] dt: f32) {
    let gait = Gait::new(60.0, 400.0, 200.0).unwrap().with_turning(900.0).unwrap();
    let wanted = wish.as_dvec2() * 60.0;
    let step = f64::from(dt) / f64::from(STEPS);
    let (mut now, mut moved) = (velocity.as_dvec2(), DVec2::ZERO);
    for _ in 0..STEPS {
        let rate = match (wish == Vec2::ZERO, now.dot(wanted) < 0.0) {
            (true, _) => 200.0,
            (false, true) => 900.0,
            (false, false) => 400.0,
        };
        let before = now;
        now = before.move_towards(wanted, rate * step);
        moved += (before + now) * 0.5 * step;
    }
    assert_agrees(gait, velocity.into(), Intent::new(wish), dt, State(moved, now, 0.0));
}

#[rstest]
#[case::usual(100.0, 2.0)]
#[case::nearly_no_drag(100.0, 1e-6)]
#[case::no_drag(100.0, 0.0)]
#[case::much_drag(9000.0, 300.0)]
fn a_glide(
    #[case] thrust: f32,
    #[case] drag: f32,
    #[values(vec2(0.0, 0.0), vec2(-80.0, 45.0))] velocity: Vec2,
) {
    let glide = Glide::new(thrust, Drag::per_second(drag).unwrap(), 0.0).unwrap();
    let wish = vec2(0.3, -0.6);
    let push = wish.as_dvec2() * f64::from(thrust);
    let start = State(DVec2::ZERO, velocity.as_dvec2(), 0.0);
    let end = integrate(start, 0.4, |_, now| (now.1, push - now.1 * f64::from(drag), 0.0));
    assert_agrees(glide, velocity.into(), Intent::new(wish), 0.4, end);
}

/// Turn rate, grip and drag from none to much; the middle rows are where grip and turn balance.
#[rstest]
fn a_helm_at_the_wheel(
    #[values(0.0, 1e-12, 1e-5, 2.0, 8.0)] turn: f32,
    #[values(0.0, 4.0, 16.0, 15.999, 400.0)] grip: f32,
    #[values(0.0, 1e-12, 3e-3, 1.5)] drag: f32,
    #[values(vec2(1.0, -1.0), vec2(-0.5, 0.0), vec2(-1.0, 1.0))] wish: Vec2,
) {
    let wheel = Steering::Wheel(YAxis::Down);
    let helm =
        Helm::new(turn, 120.0, Drag::per_second(drag).unwrap(), wheel).unwrap().with_grip(grip).unwrap();
    let from = Momentum::new(vec2(50.0, -70.0), Angle::from_radians(0.4));
    let controls = Intent::new(wish).spread().as_dvec2();
    let thrust = -controls.y * if controls.y > 0.0 { 60.0 } else { 120.0 };
    let start = State(DVec2::ZERO, from.velocity.as_dvec2(), f64::from(from.heading.radians()));
    let end = integrate(start, 0.25, |_, State(_, velocity, heading)| {
        let ahead = DVec2::from_angle(heading);
        let across = ahead.perp();
        let slip = across * velocity.dot(across);
        let slowed = velocity * f64::from(drag) + slip * f64::from(grip);
        (velocity, ahead * thrust - slowed, controls.x * f64::from(turn))
    });
    assert_agrees(helm, from, Intent::new(wish), 0.25, end);
}

/// Along a wall, thrust and drag from none to much, the wall instead of the grip.
#[rstest]
fn a_helm_along_a_wall(
    #[values(0.0, 1e-12, 1e-5, 2.0)] turn: f32,
    #[values(0.0, 1e-12, 3e-3, 1.5)] drag: f32,
    #[values(vec2(1.0, -1.0), vec2(-1.0, 1.0))] wish: Vec2,
    #[values(-2.2, 0.4)] wall: f32,
) {
    let wheel = Steering::Wheel(YAxis::Down);
    let helm =
        Helm::new(turn, 120.0, Drag::per_second(drag).unwrap(), wheel).unwrap().with_grip(3.0).unwrap();
    let normal = Vec2::from_angle(wall);
    let from = Momentum::new(normal.perp() * 50.0, Angle::from_radians(0.4));
    let controls = Intent::new(wish).spread().as_dvec2();
    let thrust = -controls.y * if controls.y > 0.0 { 60.0 } else { 120.0 };
    let start = State(DVec2::ZERO, from.velocity.as_dvec2(), f64::from(from.heading.radians()));
    let tangent = normal.as_dvec2().perp();
    let end = integrate(start, 0.25, |_, State(_, velocity, heading)| {
        let pushed = tangent * tangent.dot(DVec2::from_angle(heading) * thrust);
        (velocity, pushed - velocity * f64::from(drag), controls.x * f64::from(turn))
    });
    let motion = helm.advance_along(from, Intent::new(wish), &Surface::PLAIN, normal, 0.25);
    let (moved, velocity) = (motion.displacement.as_dvec2(), motion.velocity.as_dvec2());
    assert!((moved - end.0).length() < 1e-5 && (velocity - end.1).length() < 3e-5, "{motion:?}, {end:?}");
}

#[rstest]
fn a_helm_steering_toward_a_direction(
    #[values(0.0, 6.0, 90.0)] grip: f32,
    #[values(-2.0, 0.3, 3.0)] toward: f32,
) {
    let helm = Helm::new(4.0, 120.0, Drag::per_second(1.0).unwrap(), Steering::Toward).unwrap();
    let helm = helm.with_grip(grip).unwrap();
    let from = Momentum::new(vec2(20.0, 10.0), Angle::ZERO);
    let turning = f64::from(toward.abs() / 4.0);
    let start = State(DVec2::ZERO, from.velocity.as_dvec2(), 0.0);
    let slope = |turn: f64| {
        move |_: f64, State(_, velocity, heading): State| {
            let ahead = DVec2::from_angle(heading);
            let slip = ahead.perp() * velocity.dot(ahead.perp());
            (velocity, ahead * 120.0 - velocity - slip * f64::from(grip), turn)
        }
    };
    let turned = integrate(start, turning.min(1.0), slope(4.0 * f64::from(toward.signum())));
    let end = integrate(turned, 1.0 - turning.min(1.0), slope(0.0));
    assert_agrees(helm, from, Intent::new(Vec2::from_angle(toward)), 1.0, end);
}

#[test]
fn a_helm_on_rails_draws_an_arc() {
    let helm = Helm::new(2.0, 0.0, Drag::NONE, Steering::Wheel(YAxis::Down)).unwrap().on_rails();
    let motion = helm.advance(vec2(60.0, 0.0).into(), Intent::new(Vec2::X), &Surface::PLAIN, 0.5);
    // A radian of a circle of radius 30, without losing speed.
    let arc = vec2(30.0 * 1f32.sin(), 30.0 * (1.0 - 1f32.cos()));
    assert!(motion.displacement.distance(arc) < 1e-4, "{motion:?}");
    assert!((motion.velocity.length() - 60.0).abs() < 1e-4);
}
