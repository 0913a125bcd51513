//! Splitting, mirroring, limits and rest of every drive.

use ambulant::direction::{Angle, Axis};
use ambulant::drive::{Carried, Drag, Drive, Falling, Footing, Glide, Momentum, Motion, OneAxis};
use ambulant::intent::Intent;
use glam::{Vec2, vec2};
use proptest::prelude::*;

use super::{any_drive, gait, vector, wish};

/// Speed and position may differ by this much between one advance and many.
const CLOSE: f32 = 1e-3;

fn split(drive: &impl Drive, from: Momentum, intent: Intent, dt: f32, cuts: &[f32]) -> Motion {
    let total: f32 = cuts.iter().sum();
    let mut moved = Vec2::ZERO;
    let mut now = Motion { displacement: Vec2::ZERO, velocity: from.velocity, heading: from.heading };
    for cut in cuts {
        now = drive.advance(now.momentum(), intent, dt * cut / total);
        moved += now.displacement;
    }
    Motion { displacement: moved, ..now }
}

fn assert_close(whole: &Motion, parts: &Motion) -> Result<(), TestCaseError> {
    let apart = (whole.displacement - parts.displacement).length();
    prop_assert!(apart < CLOSE, "{apart} apart: {whole:?} against {parts:?}");
    let apart = (whole.velocity - parts.velocity).length();
    prop_assert!(apart < CLOSE, "{apart} units/s apart: {whole:?} against {parts:?}");
    prop_assert!(whole.heading.turn_to(parts.heading).abs() < 1e-4);
    Ok(())
}

proptest! {
    #![proptest_config(crate::cases(3000))]

    #[test]
    fn a_split_tick_goes_the_same_way(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(),
        dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        let from = Momentum { velocity, heading: Angle::from_radians(heading) };
        let intent = Intent::new(wish);
        // Thrust without drag may pass the 1,000 units/s up to which the promise is made.
        let whole = drive.advance(from, intent, dt);
        prop_assume!(whole.velocity.length() <= 1000.0);
        assert_close(&whole, &split(&drive, from, intent, dt, &cuts))?;
    }

    #[test]
    fn what_a_drive_leaves_is_the_same_with_and_without_its_way(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), dt in -0.1f32..0.5,
        ground in vector(50.0), pace in 0.1f32..2.0, grip in 0.1f32..2.0,
    ) {
        let from = Momentum { velocity, heading: Angle::from_radians(heading) };
        let intent = Intent::new(wish);
        prop_assert_eq!(drive.momentum_after(from, intent, dt), drive.advance(from, intent, dt).momentum());
        let placed = Carried { drive: Footing { drive, speed_factor: pace, grip }, ground };
        prop_assert_eq!(placed.momentum_after(from, intent, dt), placed.advance(from, intent, dt).momentum());
    }

    #[test]
    fn a_split_tick_goes_the_same_way_round_a_drive_too(
        drive in any_drive(), velocity in vector(500.0), wish in wish(), push in vector(100.0),
        dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        prop_assume!(!drive.steers());
        let (from, intent) = (Momentum::from(velocity), Intent::new(wish));
        let one = OneAxis { drive, axis: Axis::Y };
        assert_close(&one.advance(from, intent, dt), &split(&one, from, intent, dt, &cuts))?;
        prop_assert_eq!(one.advance(from, intent, dt).displacement.x, 0.0);
        let carried = Carried { drive, ground: push };
        assert_close(&carried.advance(from, intent, dt), &split(&carried, from, intent, dt, &cuts))?;
        let falling = Falling::new(drive, vec2(0.0, 900.0), 400.0).unwrap();
        assert_close(&falling.advance(from, intent, dt), &split(&falling, from, intent, dt, &cuts))?;
    }

    #[test]
    fn mirrored_and_turned_input_gives_mirrored_and_turned_output(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), dt in 0.0f32..0.25,
    ) {
        let wheel = format!("{drive:?}").contains("Wheel");
        let aim = Angle::from_radians(heading);
        let plain = drive.advance(Momentum { velocity, heading: aim }, Intent::new(wish), dt);
        for turn in [|v: Vec2| vec2(-v.x, v.y), |v: Vec2| vec2(v.x, -v.y), Vec2::perp] {
            let turned_heading = Angle::of(turn(aim.vector())).unwrap();
            // A wheel turns with the mover; a mirror only changes its sides.
            let mirror = turn(Vec2::X).perp_dot(turn(Vec2::Y)) < 0.0;
            let asked = match (wheel, mirror) {
                (true, true) => vec2(-wish.x, wish.y),
                (true, false) => wish,
                (false, _) => turn(wish),
            };
            let turned = drive.advance(Momentum { velocity: turn(velocity), heading: turned_heading }, Intent::new(asked), dt);
            if drive.steers() {
                // The heading itself is rounded: a few ten-millionths of the speed, on top of 1e-4.
                let near = |a: Vec2, b: Vec2| (a - b).length() < 1e-4 + 1e-6 * (velocity.length() + b.length());
                prop_assert!(near(turned.displacement, turn(plain.displacement)));
                prop_assert!(near(turned.velocity, turn(plain.velocity)), "{turned:?} against {plain:?}");
            } else {
                prop_assert_eq!(turned.displacement, turn(plain.displacement));
                prop_assert_eq!(turned.velocity, turn(plain.velocity));
            }
        }
    }

    #[test]
    fn no_drive_passes_its_top_speed(drive in any_drive(), wish in wish(), dt in 0.0f32..0.5) {
        let mut now = Momentum::from(Vec2::ZERO);
        for _ in 0..20 {
            now = drive.advance(now, Intent::new(wish), dt).momentum();
            prop_assert!(now.velocity.length() <= drive.top_speed() * 1.000_01, "{now:?}");
        }
    }

    #[test]
    fn left_alone_nothing_turns_back_and_rest_is_exact(
        drive in any_drive(), velocity in vector(500.0), dt in 0.0f32..0.5,
    ) {
        let left_alone = drive.advance(velocity, Intent::NONE, dt);
        prop_assert!(left_alone.velocity.dot(velocity) >= 0.0);
        prop_assert!(left_alone.displacement.dot(velocity) >= 0.0);
        prop_assert!(left_alone.velocity.length() <= velocity.length() * 1.000_001);
        let rested = drive.advance(Vec2::ZERO, Intent::NONE, dt);
        prop_assert_eq!((rested.velocity, rested.displacement), (Vec2::ZERO, Vec2::ZERO));
    }

    #[test]
    fn friction_ends_in_exactly_nothing(gait in gait(), velocity in vector(700.0)) {
        let long_enough = velocity.length() / gait.friction() * 1.001 + 1e-3;
        prop_assert_eq!(gait.advance(velocity, Intent::NONE, long_enough).velocity, Vec2::ZERO);
    }

    #[test]
    fn a_glide_rests_at_the_instant_its_speed_falls_to_the_threshold(
        thrust in 0.0f32..100.0, rate in 0.5f32..100.0, rest in 0.1f32..20.0, velocity in vector(500.0),
    ) {
        prop_assume!(velocity.length() > 1.01 * rest);
        let glide = Glide::new(thrust, Drag::per_second(rate).unwrap(), rest).unwrap();
        let speed = |t: f32| glide.advance(velocity, Intent::NONE, t).velocity.length();
        let (mut moving, mut resting) = (0.0f32, 20.0f32);
        for _ in 0..40 {
            let middle = 0.5 * (moving + resting);
            if speed(middle) > 0.0 { moving = middle } else { resting = middle }
        }
        prop_assert!((speed(moving) - rest).abs() < 1e-3 * rest, "{} and not {rest}", speed(moving));
        let (stopped, later) = (glide.advance(velocity, Intent::NONE, resting), glide.advance(velocity, Intent::NONE, 30.0));
        prop_assert_eq!(stopped.displacement, later.displacement, "nothing moves after the rest");
    }
}
