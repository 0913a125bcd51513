//! Keys, sticks, snapping and aiming.

use std::f32::consts::{PI, TAU};

use ambulant::direction::{Angle, YAxis};
use ambulant::intent::{
    Direction, DirectionSnap, Directions, HeldKeys, Intent, KeyLayout, Opposites, PressOrder, Stick,
};
use glam::{Vec2, vec2};
use proptest::prelude::*;
use rstest::rstest;

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
    // A zero has no sign: otherwise, equal inputs would have different bits.
    for y_axis in [YAxis::Down, YAxis::Up] {
        let intent = keys.intent(y_axis).vector().to_array();
        assert!(intent.into_iter().all(|part| part != 0.0 || part.is_sign_positive()), "{intent:?}");
    }
    held.iter().for_each(|key| keys.release(*key));
    assert!(keys.intent(YAxis::Down).is_none());
}

fn key() -> impl Strategy<Value = Direction> {
    prop::sample::select(Direction::ALL.to_vec())
}

properties! {
    500;

    /// Without a direction before, it is the one at the least angle, as strong as the intent.
    #[test]
    fn a_first_snap_is_the_nearest_direction(angle in -PI..PI, strength in 0.01f32..1.0, is_four in any::<bool>()) {
        let (ways, number) = if is_four { (Directions::Four, 4u8) } else { (Directions::Eight, 8) };
        let intent = Vec2::from_angle(angle) * strength;
        let snapped = DirectionSnap::new(ways, 0.1).unwrap().snap(Intent::new(intent)).vector();
        let directions = (0..number).map(|place| Vec2::from_angle(f32::from(place) * TAU / f32::from(number)) * strength);
        let nearest = directions.min_by(|a, b| a.distance(intent).total_cmp(&b.distance(intent))).unwrap();
        prop_assert!(snapped.distance(intent) <= nearest.distance(intent) + 1e-5, "{intent}: {snapped}, not {nearest}");
        prop_assert!((snapped.length() - strength).abs() < 1e-5);
    }

    /// Inside its dead zone a stick asks for nothing, whatever its curve; outside, for its own direction.
    #[test]
    fn a_stick_rests_in_its_dead_zone(
        dead_zone in 0.01f32..0.5, curve in prop::sample::select(vec![0.5f32, 1.0, 2.0, 3.0]),
        angle in 0.0f32..6.3, part in 0.0f32..0.99,
    ) {
        let stick = Stick::new(dead_zone, 0.9, curve).unwrap();
        let way = Vec2::from_angle(angle);
        prop_assert_eq!(stick.intent(way * dead_zone * part), Intent::NONE);
        prop_assert!(stick.intent(way * (dead_zone + 0.05)).vector().dot(way) > 0.0);
    }

    /// A layout gives what its keys give, turned with the view.
    #[test]
    fn a_layout_gives_what_its_keys_give(
        keys in prop::collection::vec(0usize..4, 1..4), turned in -3.0f32..3.0, four in any::<bool>(),
    ) {
        let all = [Direction::Left, Direction::Right, Direction::Up, Direction::Down];
        let mut held = PressOrder::default();
        keys.iter().for_each(|key| held.press(all[*key]));
        let layout = KeyLayout::new(if four { Directions::Four } else { Directions::Eight }, YAxis::Down);
        let plain = if four { held.four_way(YAxis::Down) } else { held.eight_way(Opposites::Cancel, YAxis::Down) };
        prop_assert_eq!(layout.intent(&held), plain);
        let turned_view = layout.with_view_rotation(turned).unwrap().intent(&held).vector();
        prop_assert!(turned_view.distance(Vec2::from_angle(turned).rotate(plain.vector())) < 1e-5);
    }

    /// A plain list of what is held, in order of pressing, as the model.
    #[test]
    fn press_order_follows_any_hand(events in prop::collection::vec((key(), any::<bool>()), 0..40)) {
        let (mut order, mut model) = (PressOrder::default(), Vec::new());
        for (key, down) in events {
            model.retain(|held| down || *held != key);
            if down && !model.contains(&key) { model.push(key) }
            if down { order.press(key) } else { order.release(key) }
            prop_assert_eq!(order.newest(), model.last().copied());
            prop_assert!(Direction::ALL.iter().all(|key| order.held().is_held(*key) == model.contains(key)));
            prop_assert_eq!(order.eight_way(Opposites::Cancel, YAxis::Down), order.held().intent(YAxis::Down));
            prop_assert_eq!(order.four_way(YAxis::Down).is_none(), model.is_empty());
            // With the newest of two opposites, any held key leads somewhere.
            prop_assert_eq!(order.eight_way(Opposites::Newest, YAxis::Down).is_none(), model.is_empty());
            let mut from_sets = PressOrder::default();
            from_sets.set_held(order.held());
            prop_assert_eq!(from_sets.held(), order.held());
        }
    }

    #[test]
    fn a_stick_asks_for_its_own_direction_without_a_jump(
        asks >= 260;
        angle in -PI..PI, distance in 0.0f32..1.5, dead in 0.0f32..0.5, limit in 0.6f32..1.0, curve in 0.5f32..3.0,
    ) {
        let stick = Stick::new(dead, limit, curve).unwrap();
        let intent = stick.intent(Vec2::from_angle(angle) * distance);
        prop_assert!(intent.strength() <= 1.000_001);
        prop_assert_eq!(intent.is_none(), distance <= dead || intent.strength() == 0.0);
        if intent.strength() > 1e-3 {
            asks.when(true);
            prop_assert!(Angle::of(intent.vector()).unwrap().turn_to(Angle::from_radians(angle)).abs() < 1e-4);
        }
        let at = |distance: f32| stick.intent(Vec2::from_angle(angle) * distance).strength();
        prop_assert!(at(dead + 1e-6) < 0.01, "strength rises from 0");
        prop_assert!(at(distance) <= at(distance + 0.01) + 1e-6, "and never falls");
        prop_assert!((at(limit) - 1.0).abs() < 1e-3);
    }

    #[test]
    fn an_angle_turns_the_short_way_and_arrives(from in -10.0f32..10.0, to in -10.0f32..10.0, most in 0.001f32..1.0) {
        let (from, to) = (Angle::from_radians(from), Angle::from_radians(to));
        let way = from.turn_to(to);
        prop_assert!(way.abs() <= PI);
        prop_assert!(from.turned_by(way).turn_to(to).abs() < 1e-5);
        let (a, b) = (from.vector(), to.vector());
        let between = a.perp_dot(b).atan2(a.dot(b));
        prop_assert!((between - way).abs() < 1e-4 || (way.abs() - PI).abs() < 1e-4);
        let turned = from.turned_toward(to, most);
        prop_assert!((turned.turn_to(to).abs() - (way.abs() - most).max(0.0)).abs() < 1e-5);
        let mut now = from;
        for _ in 0..4000 { now = now.turned_toward(to, most) }
        prop_assert_eq!(now, to);
    }

    #[test]
    fn an_angle_and_its_vector_are_one(vector in (-100.0f32..100.0, -100.0f32..100.0)) {
        let vector = vec2(vector.0, vector.1);
        prop_assume!(vector.length() > 1e-3);
        let angle = Angle::of(vector).unwrap();
        prop_assert!(angle.vector().distance(vector.normalize()) < 1e-5);
        prop_assert!((Angle::from_degrees(angle.degrees()).turn_to(angle)).abs() < 1e-5);
        let turned = Intent::new(vector).turned(1.0).vector();
        prop_assert!(Angle::of(turned).unwrap().turn_to(angle.turned_by(1.0)).abs() < 1e-5);
    }
}

#[rstest]
#[case::four(Directions::Four, 4)]
#[case::eight(Directions::Eight, 8)]
fn a_stick_turned_slowly_changes_direction_once_a_sector(
    #[case] ways: Directions,
    #[case] changes: usize,
    #[values(1.0, -1.0)] way: f32,
) {
    let mut snap = DirectionSnap::new(ways, 0.1).unwrap();
    let mut direction = |vector: Vec2| (snap.snap(Intent::new(vector)).vector() * 2.0).round();
    let mut last = direction(Vec2::X);
    let mut seen = 0;
    for step in 0..7200u16 {
        // A hand that trembles by a degree and a half.
        let tremble = if step % 2 == 0 { 0.026 } else { -0.026 };
        let now = direction(Vec2::from_angle(way * f32::from(step) * TAU / 7200.0 + tremble));
        seen += usize::from(now != last);
        last = now;
    }
    assert_eq!(seen + usize::from(last != vec2(2.0, 0.0)), changes);
}

#[rstest]
fn bad_sticks_and_angles_ask_for_nothing(#[values(f32::NAN, f32::INFINITY)] bad: f32) {
    let stick = Stick::new(0.1, 1.0, 1.0).unwrap();
    assert!(stick.intent(vec2(bad, 0.0)).is_none());
    assert_eq!(Angle::from_radians(bad), Angle::ZERO);
    assert_eq!((Angle::of(vec2(bad, 0.0)), Angle::of(Vec2::ZERO)), (None, None));
    assert!(Intent::new(vec2(1.0, bad)).is_none());
}

#[test]
fn straight_back_is_one_angle() {
    assert_eq!(Angle::of(vec2(-1.0, 0.0)), Angle::of(vec2(-1.0, -0.0)));
    for turns in -4i8..4 {
        assert_eq!(Angle::from_degrees(180.0 + 360.0 * f32::from(turns)).degrees(), 180.0);
    }
}
