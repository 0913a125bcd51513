//! The promises of drives, over random numbers.

use ambulant::drive::{Drive, Gait};
use ambulant::intent::{Direction, HeldKeys, Intent, YAxis};
use glam::{DVec2, Vec2, vec2};
use proptest::prelude::*;
use rstest::rstest;

fn gait() -> impl Strategy<Value = Gait> {
    (1.0f32..1000.0, 1.0f32..5000.0, 1.0f32..5000.0).prop_map(|(v, a, f)| Gait::new(v, a, f).unwrap())
}

fn vector(reach: f32) -> impl Strategy<Value = Vec2> {
    (-reach..reach, -reach..reach).prop_map(|(x, y)| vec2(x, y))
}

/// The gait by its definition, integrated in small steps of `f64`: an independent reference.
fn integrated(gait: &Gait, mut velocity: DVec2, intent: Intent, dt: f64) -> (DVec2, DVec2) {
    const STEPS: u32 = 20_000;
    let wanted = intent.vector().as_dvec2() * f64::from(gait.top_speed());
    let rate = f64::from(if intent.is_none() { gait.friction() } else { gait.acceleration() });
    let step = dt / f64::from(STEPS);
    let mut moved = DVec2::ZERO;
    for _ in 0..STEPS {
        let before = velocity;
        velocity = before.move_towards(wanted, rate * step);
        moved += (before + velocity) * 0.5 * step;
    }
    (moved, velocity)
}

proptest! {
    #[test]
    fn a_gait_split_into_parts_goes_the_same_way(
        gait in gait(), velocity in vector(1000.0), wish in vector(1.5), asked in any::<bool>(),
        dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        let intent = if asked { Intent::new(wish) } else { Intent::NONE };
        let whole = gait.advance(velocity, intent, dt);
        let total: f32 = cuts.iter().sum();
        let (mut moved, mut now) = (Vec2::ZERO, velocity);
        for cut in &cuts {
            let part = gait.advance(now, intent, dt * cut / total);
            moved += part.displacement;
            now = part.velocity;
        }
        prop_assert!((moved - whole.displacement).length() < 1e-3, "{moved} against {}", whole.displacement);
        prop_assert!((now - whole.velocity).length() < 1e-3, "{now} against {}", whole.velocity);
    }

    #[test]
    fn a_gait_is_mirrored_and_turned_bit_for_bit(
        gait in gait(), velocity in vector(1000.0), wish in vector(1.0), dt in 0.0f32..0.25,
    ) {
        let plain = gait.advance(velocity, Intent::new(wish), dt);
        for turn in [|v: Vec2| vec2(-v.x, v.y), |v: Vec2| vec2(v.x, -v.y), |v: Vec2| v.perp()] {
            let turned = gait.advance(turn(velocity), Intent::new(turn(wish)), dt);
            prop_assert_eq!(turned.displacement, turn(plain.displacement));
            prop_assert_eq!(turned.velocity, turn(plain.velocity));
        }
    }

    #[test]
    fn a_gait_never_passes_its_top_speed_and_friction_never_turns_back(
        gait in gait(), wish in vector(1.5), velocity in vector(500.0), dt in 0.0f32..0.5,
    ) {
        let mut now = Vec2::ZERO;
        for _ in 0..20 {
            now = gait.advance(now, Intent::new(wish), dt).velocity;
            prop_assert!(now.length() <= gait.top_speed() * 1.000_001);
        }
        let braked = gait.advance(velocity, Intent::NONE, dt);
        prop_assert!(braked.velocity.dot(velocity) >= 0.0);
        prop_assert!(braked.displacement.dot(velocity) >= 0.0);
        let long_enough = velocity.length() / gait.friction() * 1.001 + 1e-3;
        prop_assert_eq!(gait.advance(velocity, Intent::NONE, long_enough).velocity, Vec2::ZERO);
    }
}

#[rstest]
#[case::from_rest(vec2(0.0, 0.0), vec2(1.0, 0.0), 0.2)]
#[case::reached_on_the_way(vec2(50.0, 0.0), vec2(0.6, 0.8), 1.0)]
#[case::turning_round(vec2(-60.0, 10.0), vec2(1.0, 0.0), 0.3)]
#[case::braking_left_and_up(vec2(-40.0, -30.0), vec2(0.0, 0.0), 0.5)]
#[case::faster_than_asked(vec2(300.0, 0.0), vec2(0.5, 0.0), 0.4)]
fn a_gait_agrees_with_fine_integration(#[case] velocity: Vec2, #[case] wish: Vec2, #[case] dt: f32) {
    let gait = Gait::new(60.0, 400.0, 200.0).unwrap();
    let motion = gait.advance(velocity, Intent::new(wish), dt);
    let (moved, reached) = integrated(&gait, velocity.as_dvec2(), Intent::new(wish), f64::from(dt));
    assert!((motion.displacement.as_dvec2() - moved).length() < 1e-3, "{motion:?} against {moved}");
    assert!((motion.velocity.as_dvec2() - reached).length() < 1e-3, "{motion:?} against {reached}");
}

#[rstest]
fn one_long_tick_equals_eight_short_ones() {
    let gait = Gait::new(60.0, 400.0, 500.0).unwrap();
    let right = Intent::new(Vec2::X);
    let long = gait.advance(Vec2::ZERO, right, 1.0 / 30.0);
    let (mut moved, mut velocity) = (Vec2::ZERO, Vec2::ZERO);
    for _ in 0..8 {
        let short = gait.advance(velocity, right, 1.0 / 240.0);
        moved += short.displacement;
        velocity = short.velocity;
    }
    assert!((moved - long.displacement).length() < 1e-6);
    assert!((velocity - long.velocity).length() < 1e-5);
}

#[rstest]
fn a_bad_time_moves_nothing(#[values(0.0, -0.0, -1.0, f32::NAN, f32::INFINITY, f32::NEG_INFINITY)] dt: f32) {
    let gait = Gait::new(60.0, 400.0, 500.0).unwrap();
    let motion = gait.advance(vec2(10.0, -5.0), Intent::new(Vec2::X), dt);
    assert_eq!((motion.displacement, motion.velocity), (Vec2::ZERO, vec2(10.0, -5.0)));
}

#[rstest]
#[case::top_speed(0.0, 1.0, 1.0, "top_speed")]
#[case::acceleration(1.0, f32::NAN, 1.0, "acceleration")]
#[case::friction(1.0, 1.0, f32::INFINITY, "friction")]
#[case::negative(-0.0, 1.0, 1.0, "top_speed")]
fn a_bad_gait_names_its_field(#[case] v: f32, #[case] a: f32, #[case] f: f32, #[case] field: &str) {
    assert_eq!(Gait::new(v, a, f).unwrap_err().field(), field);
}

#[rstest]
#[case::nothing(&[], 0.0, 0.0)]
#[case::right(&[Direction::Right], 1.0, 0.0)]
#[case::left(&[Direction::Left], -1.0, 0.0)]
#[case::up(&[Direction::Up], 0.0, -1.0)]
#[case::opposites(&[Direction::Left, Direction::Right], 0.0, 0.0)]
#[case::three(&[Direction::Left, Direction::Right, Direction::Down], 0.0, 1.0)]
#[case::diagonal(&[Direction::Left, Direction::Up], -0.5f32.sqrt(), -0.5f32.sqrt())]
fn keys_make_an_intent(#[case] held: &[Direction], #[case] x: f32, #[case] y: f32) {
    let mut keys = HeldKeys::NONE;
    held.iter().for_each(|key| keys.press(*key));
    assert_eq!(keys.intent(YAxis::Down).vector(), vec2(x, y));
    assert_eq!(keys.intent(YAxis::Up).vector(), vec2(x, -y));
    held.iter().for_each(|key| keys.release(*key));
    assert!(keys.intent(YAxis::Down).is_none());
}
