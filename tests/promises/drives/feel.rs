//! Feel figures against what their drives were built to do.

use ambulant::direction::YAxis;
use ambulant::drive::{Drag, Drive, Feel, Gait, Glide, Helm, Momentum, Pace, Steering, Surface};
use rstest::rstest;

#[track_caller]
fn assert_near(found: Option<f32>, expected: f32) {
    let found = found.unwrap();
    assert!((found - expected).abs() < 1e-3 * expected.max(1.0), "{found}, not {expected}");
}

#[test]
fn of_a_gait_built_from_an_outcome() {
    let feel = Feel::of(&Gait::reaching(90.0, 0.3, 12.0).unwrap());
    assert_near(feel.top_speed, 90.0);
    assert_near(feel.seconds_to_speed, 0.9 * 0.3);
    assert_near(feel.stop_distance, 12.0);
    assert_near(feel.seconds_to_stop, 2.0 * 12.0 / 90.0);
    assert_near(feel.seconds_to_turn_back, 1.9 * 0.3);
    // A tap reaches a third of the top speed over 1.5 units, then stops in a ninth of 12.
    assert_near(feel.tap_distance, 1.5 + 12.0 / 9.0);
    assert_eq!(feel.turning_circle, None);
}

#[test]
fn of_a_glide_built_from_an_outcome() {
    let feel = Feel::of(&Glide::reaching(100.0, 0.8, 1.0).unwrap());
    assert_near(feel.top_speed, 100.0);
    assert_near(feel.seconds_to_speed, 0.8);
    // From 100 to 1 is twice from 100 to 10; the drag is ln 10 / 0.8 a second.
    assert_near(feel.seconds_to_stop, 1.6);
    assert_near(feel.stop_distance, 99.0 / (10f32.ln() / 0.8));
}

#[test]
fn of_a_pace_and_of_what_never_ends() {
    let feel = Feel::of(&Pace::new(50.0).unwrap());
    assert_near(feel.tap_distance, 5.0);
    assert!(feel.seconds_to_speed.unwrap() < 1e-6 && feel.stop_distance.unwrap() == 0.0);
    let endless = Feel::of(&Glide::new(10.0, Drag::NONE, 0.0).unwrap());
    assert_eq!((endless.top_speed, endless.seconds_to_stop), (None, None));
}

#[rstest]
#[case::drifting(0.0)]
#[case::gripping(3.0)]
#[case::on_rails(f32::INFINITY)]
fn the_turning_circle_is_the_one_that_is_driven(#[case] grip: f32, #[values(true, false)] wheel: bool) {
    let steering = if wheel { Steering::Wheel(YAxis::Down) } else { Steering::Toward };
    let helm = Helm::new(2.0, 100.0, Drag::per_second(1.0).unwrap(), steering).unwrap();
    let helm = if grip.is_finite() { helm.with_grip(grip).unwrap() } else { helm.on_rails() };
    let feel = Feel::of(&helm);
    assert_near(feel.top_speed, 100.0);
    // Let it settle, then measure half a turn: its ends are a diameter apart.
    let wheel_helm =
        Helm::new(2.0, 100.0, Drag::per_second(1.0).unwrap(), Steering::Wheel(YAxis::Down)).unwrap();
    let wheel_helm =
        if grip.is_finite() { wheel_helm.with_grip(grip).unwrap() } else { wheel_helm.on_rails() };
    let hard_right = ambulant::intent::Intent::new(glam::vec2(1.0, -1.0));
    let settled = wheel_helm.advance(Momentum::default(), hard_right, &Surface::PLAIN, 30.0);
    let half_turn =
        wheel_helm.advance(settled.momentum(), hard_right, &Surface::PLAIN, std::f32::consts::FRAC_PI_2);
    assert_near(feel.turning_circle, half_turn.displacement.length());
}
