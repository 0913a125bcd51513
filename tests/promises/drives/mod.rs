//! The promises of drives: over random numbers, and against an independent integration.

mod closed_form;
mod feel;
mod numbers;
mod reference;

use ambulant::direction::YAxis;
use ambulant::drive::{AnyDrive, Drag, Gait, Glide, Helm, Pace, Steering, Surface};
use glam::{Vec2, vec2};
use proptest::prelude::*;

fn vector(reach: f32) -> impl Strategy<Value = Vec2> {
    (-reach..reach, -reach..reach).prop_map(|(x, y)| vec2(x, y))
}

/// A wish of any length up to beyond full, or none.
fn wish() -> impl Strategy<Value = Vec2> {
    prop_oneof![1 => Just(Vec2::ZERO), 3 => vector(1.5)]
}

/// A rate per second: zero, next to zero, usual, or huge.
fn rate() -> impl Strategy<Value = f32> {
    prop_oneof![Just(0.0f32), Just(1e-7f32), 0.01f32..10.0, 10.0f32..2000.0]
}

fn drag() -> impl Strategy<Value = Drag> {
    rate().prop_map(|rate| Drag::per_second(rate).unwrap())
}

fn gait() -> impl Strategy<Value = Gait> {
    (1.0f32..1000.0, 1.0f32..5000.0, 1.0f32..5000.0, prop::option::of(1.0f32..10_000.0)).prop_map(
        |(top, acceleration, friction, turning)| {
            let gait = Gait::new(top, acceleration, friction).unwrap();
            turning.map_or(gait, |turning| gait.with_turning(turning).unwrap())
        },
    )
}

fn glide() -> impl Strategy<Value = Glide> {
    // Thrusts that keep within the promised 1,000 units/s.
    (0.0f32..1.0, drag(), prop_oneof![Just(0.0f32), 0.1f32..20.0])
        .prop_map(|(part, drag, rest)| Glide::new(part * 1000.0 * drag.rate().max(1.0), drag, rest).unwrap())
}

fn helm() -> impl Strategy<Value = Helm> {
    let grip = prop_oneof![rate(), Just(f32::INFINITY)];
    (
        prop_oneof![Just(0.0f32), 1e-6f32..1e-4, 0.1f32..12.0],
        0.0f32..1.0,
        drag(),
        grip,
        any::<bool>(),
        0.0f32..5.0,
    )
        .prop_map(|(turn, part, drag, grip, wheel, rest)| {
            let steering = if wheel { Steering::Wheel(YAxis::Down) } else { Steering::Toward };
            let helm = Helm::new(turn, part * 1000.0 * drag.rate().max(1.0), drag, steering).unwrap();
            let helm = if grip.is_finite() { helm.with_grip(grip).unwrap() } else { helm.on_rails() };
            if rest > 1.0 { helm.with_rest_speed(rest).unwrap() } else { helm }
        })
}

fn any_drive() -> impl Strategy<Value = AnyDrive> {
    prop_oneof![
        (1.0f32..1000.0).prop_map(|speed| Pace::new(speed).unwrap().into()),
        gait().prop_map(AnyDrive::from),
        glide().prop_map(AnyDrive::from),
        helm().prop_map(AnyDrive::from),
    ]
}

/// Mud, ice and belts, each in a third of all.
fn surface() -> impl Strategy<Value = Surface> {
    (0usize..3, 0.0f32..1.0, 0.1f32..3.0, vector(50.0)).prop_map(|(kind, factor, grip, belt)| {
        let plain = Surface::PLAIN;
        [plain.with_speed_factor(factor), plain.with_grip(grip), plain.with_belt(belt)][kind].unwrap()
    })
}
