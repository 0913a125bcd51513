//! Splitting, mirroring, limits and rest of every drive.

use ambulant::direction::{Angle, Axis};
use ambulant::drive::{AnyDrive, Drag, Drive, Falling, Glide, Momentum, Motion, OneAxis, Surface};
use ambulant::intent::Intent;
use glam::{Vec2, vec2};
use proptest::prelude::*;

use super::{any_drive, gait, surface, vector, wish};

/// Speed and position may differ by this much between one advance and many.
const CLOSE: f32 = 1e-3;

fn split(drive: &dyn Drive, from: Momentum, intent: Intent, on: &Surface, dt: f32, cuts: &[f32]) -> Motion {
    let total: f32 = cuts.iter().sum();
    let mut moved = Vec2::ZERO;
    let mut now = Motion::new(Vec2::ZERO, from.velocity, from.heading);
    for cut in cuts {
        now = drive.advance(now.momentum(), intent, on, dt * cut / total);
        moved += now.displacement;
    }
    now.displacement = moved;
    now
}

fn assert_close(whole: &Motion, parts: &Motion) -> Result<(), TestCaseError> {
    let apart = (whole.displacement - parts.displacement).length();
    prop_assert!(apart < CLOSE, "{apart} apart: {whole:?} against {parts:?}");
    let apart = (whole.velocity - parts.velocity).length();
    prop_assert!(apart < CLOSE, "{apart} units/s apart: {whole:?} against {parts:?}");
    prop_assert!(whole.heading.turn_to(parts.heading).abs() < 1e-4);
    Ok(())
}

properties! {
    3000;

    #[test]
    fn a_split_tick_goes_the_same_way(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), on in surface(),
        dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        let from = Momentum::new(velocity, Angle::from_radians(heading));
        let intent = Intent::new(wish);
        // Thrust without drag may pass the 1,000 units/s up to which the promise is made.
        let whole = drive.advance(from, intent, &on, dt);
        prop_assume!(whole.velocity.length() <= 1000.0);
        assert_close(&whole, &split(&drive, from, intent, &on, dt, &cuts))?;
    }

    /// What a thousand ticks round off adds up to nothing: the velocity is that of one tick, to far more digits than it shows.
    #[test]
    fn a_thousand_ticks_change_a_velocity_like_one(
        changes >= 1000;
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), on in surface(), slope in -3.1f32..3.1,
        along in any::<bool>(),
    ) {
        let from = Momentum::new(velocity, Angle::from_radians(heading));
        let (normal, intent) = (Vec2::from_angle(slope), Intent::new(wish));
        let after = |from: Momentum, dt: f32| match along {
            true => drive.advance_along(from, intent, &on, normal, dt).momentum(),
            false => drive.advance(from, intent, &on, dt).momentum(),
        };
        let one = after(from, 1.0);
        let many = (0..1024).fold(from, |now, _| after(now, 1.0 / 1024.0));
        let [one, many] = [one, many].map(|momentum| momentum.exact_velocity());
        prop_assume!(one.length() <= 1000.0);
        changes.when(one.length() > 1.0 && one != velocity.as_dvec2());
        let apart = one.distance(many);
        let most = 1e-9 * (one.length() + velocity.as_dvec2().length()) + 1e-9;
        prop_assert!(apart <= most, "{apart} apart: {one} against {many}");
    }

    /// Under a pull, up or down a slope: there a drive that turns faster than it speeds up may stand.
    #[test]
    fn along_a_slope_a_split_tick_goes_the_same_way(
        stands >= 350, moves >= 1500;
        gait in gait(), pull in 10.0f32..3000.0, slope in -3.1f32..-0.1, velocity in vector(100.0), wish in wish(),
        at_rest in any::<bool>(), dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        let falling = Falling::new(gait, vec2(0.0, pull), 400.0).unwrap();
        let normal = Vec2::from_angle(slope);
        let velocity = if at_rest { Vec2::ZERO } else { velocity };
        let (from, intent) = (Momentum::new(velocity, Angle::ZERO), Intent::new(wish));
        let along = |from, dt| falling.advance_along(from, intent, &Surface::PLAIN, normal, dt);
        let (whole, total) = (along(from, dt), cuts.iter().sum::<f32>());
        stands.when(whole.velocity == Vec2::ZERO);
        moves.when(whole.velocity != Vec2::ZERO);
        let mut parts = Motion::new(Vec2::ZERO, velocity, from.heading);
        for cut in &cuts {
            let part = along(parts.momentum(), dt * cut / total);
            let moved = parts.displacement + part.displacement;
            parts = part;
            parts.displacement = moved;
        }
        assert_close(&whole, &parts)?;
    }

    /// Whatever order it is put together in, a drive of any kind says what it was made of, and moves like the types in each other.
    #[test]
    fn a_drive_of_any_kind_is_what_it_was_made_of(
        drive in any_drive(), axis in any::<bool>(), falls in any::<bool>(), pull in vector(500.0), limit in 1.0f32..400.0,
        velocity in vector(200.0), wish in wish(), on in surface(), dt in 0.001f32..0.25,
    ) {
        prop_assume!(pull != Vec2::ZERO);
        let (kind, axis) = (*drive.kind(), axis.then_some(Axis::X));
        let falling = |drive: AnyDrive| if falls { drive.falling(pull, limit).unwrap() } else { drive };
        let held = |drive: AnyDrive| axis.map_or(drive, |axis| drive.on_axis(axis));
        let any = falling(held(drive));
        prop_assert_eq!(any, held(falling(drive)));
        prop_assert_eq!((*any.kind(), any.held_to(), any.pull().is_some()), (kind, axis, falls));
        if let Some((found, most)) = any.pull() {
            // It is kept as a direction and a strength.
            prop_assert!(found.distance(pull) <= 1e-6 * pull.length() && most == limit, "{found} {most}");
        }
        let typed: Box<dyn Drive> = match (axis, falls) {
            (None, false) => Box::new(kind),
            (Some(axis), false) => Box::new(OneAxis { drive: kind, axis }),
            (None, true) => Box::new(Falling::new(kind, pull, limit).unwrap()),
            (Some(axis), true) => Box::new(Falling::new(OneAxis { drive: kind, axis }, pull, limit).unwrap()),
        };
        let (from, intent) = (Momentum::new(velocity, Angle::ZERO), Intent::new(wish));
        prop_assert_eq!(any.advance(from, intent, &on, dt), typed.advance(from, intent, &on, dt));
        prop_assert_eq!(any.top_speed().to_bits(), typed.top_speed().to_bits());
        prop_assert_eq!(any.response(intent, &on), typed.response(intent, &on));
    }

    #[test]
    fn what_a_drive_leaves_is_the_same_with_and_without_its_way(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), dt in -0.1f32..0.5,
        on in surface(), axis in any::<bool>(), falls in any::<bool>(),
    ) {
        let from = Momentum::new(velocity, Angle::from_radians(heading));
        let intent = Intent::new(wish);
        let drive = if axis { drive.on_axis(Axis::Y) } else { drive };
        let drive = if falls { drive.falling(vec2(0.0, 90.0), 40.0).unwrap() } else { drive };
        prop_assert_eq!(drive.momentum_after(from, intent, &on, dt), drive.advance(from, intent, &on, dt).momentum());
    }

    #[test]
    fn a_split_tick_goes_the_same_way_round_a_drive_too(
        drive in any_drive(), velocity in vector(500.0), wish in wish(), on in surface(),
        dt in 0.001f32..0.25, cuts in prop::collection::vec(0.01f32..1.0, 2..16),
    ) {
        prop_assume!(!drive.steers());
        let (from, intent) = (Momentum::from(velocity), Intent::new(wish));
        let one = OneAxis { drive, axis: Axis::Y };
        let moved = one.advance(from, intent, &on, dt);
        assert_close(&moved, &split(&one, from, intent, &on, dt, &cuts))?;
        prop_assert_eq!(moved.displacement.x, 0.0);
        let falling = Falling::new(drive, vec2(0.0, 900.0), 400.0).unwrap();
        assert_close(&falling.advance(from, intent, &on, dt), &split(&falling, from, intent, &on, dt, &cuts))?;
        // Any drive with the same round it is the same drive.
        prop_assert_eq!(drive.on_axis(Axis::Y).advance(from, intent, &on, dt), moved);
        let any = drive.falling(vec2(0.0, 900.0), 400.0).unwrap();
        prop_assert_eq!(any.advance(from, intent, &on, dt), falling.advance(from, intent, &on, dt));
    }

    /// A belt adds its velocity and nothing else, a speed factor is a weaker intent, and grip is more or less time.
    #[test]
    fn a_surface_is_what_its_three_numbers_say(
        on_ice >= 1400;
        drive in any_drive(), velocity in vector(500.0), wish in wish(), belt in vector(100.0), factor in 0.0f32..1.0,
        grip in 0.1f32..4.0, dt in 0.001f32..0.25,
    ) {
        let (from, intent) = (Momentum::from(velocity), Intent::new(wish));
        let plain = drive.advance(from, intent, &Surface::PLAIN, dt);
        let carried = drive.advance(from, intent, &Surface::PLAIN.with_belt(belt).unwrap(), dt);
        prop_assert_eq!(carried.momentum(), plain.momentum());
        prop_assert!(carried.displacement.distance(plain.displacement + belt * dt) < 1e-4);
        let slow = drive.advance(from, intent, &Surface::PLAIN.with_speed_factor(factor).unwrap(), dt);
        prop_assert_eq!(slow, drive.advance(from, Intent::new(intent.vector() * factor), &Surface::PLAIN, dt));
        if !drive.steers() {
            on_ice.when(true);
            let icy = drive.advance(from, intent, &Surface::PLAIN.with_grip(grip).unwrap(), dt / grip);
            prop_assert!(icy.velocity.distance(plain.velocity) < 2e-3, "{icy:?} and {plain:?}");
        }
    }

    #[test]
    fn mirrored_and_turned_input_gives_mirrored_and_turned_output(
        drive in any_drive(), velocity in vector(700.0), heading in -3.0f32..3.0, wish in wish(), dt in 0.0f32..0.25,
    ) {
        let wheel = format!("{drive:?}").contains("Wheel");
        let aim = Angle::from_radians(heading);
        let plain = drive.advance(Momentum::new(velocity, aim), Intent::new(wish), &Surface::PLAIN, dt);
        for turn in [|v: Vec2| vec2(-v.x, v.y), |v: Vec2| vec2(v.x, -v.y), Vec2::perp] {
            let turned_heading = Angle::of(turn(aim.vector())).unwrap();
            // A wheel turns with the mover; a mirror only changes its sides.
            let mirror = turn(Vec2::X).perp_dot(turn(Vec2::Y)) < 0.0;
            let asked = match (wheel, mirror) {
                (true, true) => vec2(-wish.x, wish.y),
                (true, false) => wish,
                (false, _) => turn(wish),
            };
            let turned = drive.advance(Momentum::new(turn(velocity), turned_heading), Intent::new(asked), &Surface::PLAIN, dt);
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
    fn no_drive_passes_its_top_speed(at_top >= 650; drive in any_drive(), wish in wish(), dt in 0.0f32..0.5) {
        let mut now = Momentum::from(Vec2::ZERO);
        for _ in 0..20 {
            now = drive.advance(now, Intent::new(wish), &Surface::PLAIN, dt).momentum();
            prop_assert!(now.velocity.length() <= drive.top_speed() * 1.000_01, "{now:?}");
        }
        at_top.when(now.velocity.length() > 0.99 * drive.top_speed());
    }

    #[test]
    fn left_alone_nothing_turns_back_and_rest_is_exact(
        rested >= 970, moving >= 970;
        drive in any_drive(), velocity in vector(500.0), dt in 0.0f32..0.5,
    ) {
        let left_alone = drive.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, dt);
        prop_assert!(left_alone.velocity.dot(velocity) >= 0.0);
        prop_assert!(left_alone.displacement.dot(velocity) >= 0.0);
        prop_assert!(left_alone.velocity.length() <= velocity.length() * 1.000_001);
        rested.when(left_alone.velocity == Vec2::ZERO);
        moving.when(left_alone.velocity != Vec2::ZERO);
        let at_rest = drive.advance(Momentum::default(), Intent::NONE, &Surface::PLAIN, dt);
        prop_assert_eq!((at_rest.velocity, at_rest.displacement), (Vec2::ZERO, Vec2::ZERO));
    }

    #[test]
    fn friction_ends_in_exactly_nothing(gait in gait(), velocity in vector(700.0)) {
        let long_enough = velocity.length() / gait.friction() * 1.001 + 1e-3;
        prop_assert_eq!(gait.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, long_enough).velocity, Vec2::ZERO);
    }

    #[test]
    fn a_glide_rests_at_the_instant_its_speed_falls_to_the_threshold(
        thrust in 0.0f32..100.0, rate in 0.5f32..100.0, rest in 0.1f32..20.0, velocity in vector(500.0),
    ) {
        prop_assume!(velocity.length() > 1.01 * rest);
        let glide = Glide::new(thrust, Drag::per_second(rate).unwrap(), rest).unwrap();
        let speed = |t: f32| glide.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, t).velocity.length();
        let (mut moving, mut resting) = (0.0f32, 20.0f32);
        for _ in 0..40 {
            let middle = 0.5 * (moving + resting);
            if speed(middle) > 0.0 { moving = middle } else { resting = middle }
        }
        prop_assert!((speed(moving) - rest).abs() < 1e-3 * rest, "{} and not {rest}", speed(moving));
        let (stopped, later) = (glide.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, resting), glide.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, 30.0));
        prop_assert_eq!(stopped.displacement, later.displacement, "nothing moves after the rest");
    }
}
