//! What movement looks like and where it is on a screen: pose, view, ticks.

use ambulant::direction::{Angle, Facing, YAxis};
use ambulant::drive::{Drag, Glide};
use ambulant::intent::Directions;
use ambulant::pose::{DiagonalRule, Lean, Pose, Sectors, Stance, WalkCycle};
use ambulant::prelude::*;
use ambulant::shape::Aabb;
use ambulant::time::Ticks;
use ambulant::view::{Follow, View};
use ambulant::walker::{Character, Faces};
use core::f32::consts::TAU;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::map;

#[rstest]
#[case::four(Directions::Four, 4)]
#[case::eight(Directions::Eight, 8)]
fn a_stick_turned_slowly_changes_the_facing_exactly_once_a_sector(
    #[case] ways: Directions,
    #[case] changes: usize,
    #[values(1.0, -1.0)] turning: f32,
    #[values(DiagonalRule::Sideways, DiagonalRule::Upright, DiagonalRule::Keep)] rule: DiagonalRule,
    #[values(0.0, 0.05, 0.3)] hysteresis: f32,
) {
    let sectors = Sectors::new(ways, rule, hysteresis).unwrap();
    let mut facing = Facing::Right;
    let mut changed = 0;
    // Three turns with a trembling hand; the first one only gets going.
    for step in 0..30_000u16 {
        let tremble = if hysteresis > 0.02 { 0.006 * f32::from(step % 7) } else { 0.0 };
        let angle = turning * (f32::from(step) / 10_000.0 * TAU - tremble);
        let next = sectors.facing(facing, Vec2::from_angle(angle), YAxis::Down);
        changed += usize::from(next != facing && step >= 10_000);
        facing = next;
    }
    assert_eq!(changed, 2 * changes);
}

#[rstest]
#[case::sideways(DiagonalRule::Sideways, Facing::Down, Facing::Right)]
#[case::upright(DiagonalRule::Upright, Facing::Right, Facing::Down)]
#[case::keep_down(DiagonalRule::Keep, Facing::Down, Facing::Down)]
#[case::keep_right(DiagonalRule::Keep, Facing::Right, Facing::Right)]
fn a_diagonal_goes_by_its_rule(#[case] rule: DiagonalRule, #[case] last: Facing, #[case] facing: Facing) {
    for (y_axis, y) in [(YAxis::Down, 1.0), (YAxis::Up, -1.0)] {
        let sectors = Sectors::new(Directions::Four, rule, 0.1).unwrap();
        assert_eq!(sectors.facing(last, vec2(1.0, y), y_axis), facing);
    }
}

/// A figure that walks to a wall and on pressing, for two seconds.
fn walked(rate: f32, walk: WalkCycle) -> Character<Gait> {
    let sectors = Sectors::new(Directions::Four, DiagonalRule::Sideways, 0.1).unwrap();
    let lean = Lean::new(0.002, 0.1, 0.2).unwrap();
    let stance = Stance::new(0.5, 0.1, 0.5).unwrap();
    let walker =
        Walker::new(vec2(-3.0, 0.0), Footprint::rect(0.5, 0.5).unwrap(), Gait::new(4.0, 16.0, 16.0).unwrap());
    let mut figure = Character::new(walker, Pose::new(sectors, stance, walk, lean));
    let room = map(&["........"]);
    let mut left = 2.0f32;
    while left > 1e-4 {
        let _ = figure.tick(to_right(), 1.0 / rate, &room, |_| {});
        left -= 1.0 / rate;
    }
    figure
}

fn to_right() -> Intent {
    Intent::new(vec2(1.0, 0.0))
}

#[rstest]
fn feet_do_not_slide_whatever_the_tick_rate(#[values(30.0, 60.0, 144.0, 240.0)] rate: f32) {
    // However the way is cut, and with whatever ticks, the phase is that of the whole of it.
    let mut cycle = WalkCycle::by_distance(0.7, 4).unwrap();
    let parts = [0.01f32, 0.3, 0.002, 0.2];
    let mut total = 0.0f64;
    for step in 0..4000usize {
        let way = parts[step % 4] / rate * 60.0;
        cycle.tick(way, 1.0 / rate, true);
        total += f64::from(way);
    }
    let exact = total / f64::from(0.7f32);
    let off = (f64::from(cycle.phase()) - (exact - exact.floor())).abs();
    assert!(off.min(1.0 - off) < 1e-5, "{off}");
}

#[test]
fn a_phase_that_rounds_to_a_whole_cycle_is_below_it() {
    let mut cycle = WalkCycle::by_distance(1.0, 4).unwrap();
    [0.5, 0.499_999_97].into_iter().for_each(|way| cycle.tick(way, 0.1, true));
    assert!((0.999..1.0).contains(&cycle.phase()), "{}", cycle.phase());
}

#[test]
fn a_walk_stops_where_the_wall_stops_it_and_starts_over() {
    let figure = walked(60.0, WalkCycle::by_distance(0.7, 4).unwrap());
    assert_eq!((figure.pose.walk.frame(), figure.pose.facing()), (0, Facing::Right));
    // At rest against the wall from 1.81 s on: a top speed of 4 is reached in half a unit, 6.75 are gone.
    assert!(
        !figure.pose.stance.is_moving() && (figure.pose.stance.lasts() - 0.19).abs() < 0.02,
        "{:?}",
        figure.pose.stance
    );
    assert!(!figure.pose.stance.is_idle());
    assert_eq!(figure.touching.iter().count(), 1);
    assert!(!figure.pose.is_mirrored());
}

properties! {
    400;

    /// A figure has just started when it moves and did not before, and is idle when it has stood long enough.
    #[test]
    fn a_figure_starts_when_it_moves_and_idles_when_it_stands(
        started >= 400, idle >= 400;
        ticks in prop::collection::vec((0.0f32..2.0, 1u8..9), 1..30),
    ) {
        let sectors = Sectors::new(Directions::Four, DiagonalRule::Keep, 0.0).unwrap();
        let stance = Stance::new(1.0, 0.5, 1.0).unwrap();
        let (walk, lean) = (WalkCycle::by_time(1.0, 4).unwrap(), Lean::new(0.1, 0.5, 0.2).unwrap());
        let mut pose = Pose::new(sectors, stance, walk, lean);
        let (mut moved, mut eighths) = (false, 0);
        for (speed, lasts) in ticks {
            let dt = f32::from(lasts) / 8.0;
            pose.tick(Vec2::X, Vec2::X * speed, Vec2::X * speed * dt, dt, YAxis::Down);
            let moves = speed > if moved { 0.5 } else { 1.0 };
            eighths = if moves == moved { eighths + u32::from(lasts) } else { 0 };
            prop_assert_eq!(pose.just_started(), moves && !moved);
            prop_assert_eq!(pose.stance.is_idle(), !moves && eighths >= 8);
            started.when(pose.just_started());
            idle.when(pose.stance.is_idle());
            moved = moves;
        }
    }

    #[test]
    fn a_pixel_comes_back_to_its_place(
        on_screen >= 35;
        center in (-1e3f32..1e3, -1e3f32..1e3), size in (10.0f32..4e3, 10.0f32..4e3), scale in 0.05f32..40.0,
        turn in -7.0f32..7.0, up in any::<bool>(), pixel in (-500.0f32..4e3, -500.0f32..4e3),
    ) {
        let axis = if up { YAxis::Up } else { YAxis::Down };
        let view = View::new(size.into(), scale).unwrap().with_y_axis(axis).turned(turn).unwrap().at(center.into());
        let place = view.to_world(pixel.into());
        let rounding = 1e-3 + (place.abs().max_element() + 1e3) * 4e-6 * scale;
        prop_assert!(view.to_screen(place).distance(pixel.into()) < rounding + 4e3 * 2e-6);
        // What is on the screen is in what the view shows.
        let shown = view.shows();
        let inside = Vec2::from(pixel).cmpge(Vec2::ZERO).all() && Vec2::from(pixel).cmple(size.into()).all();
        on_screen.when(inside);
        let room = 1e-2 + place.abs().max_element() * 1e-5;
        prop_assert!(!inside || place.cmpge(shown.min - room).all() && place.cmple(shown.max + room).all());
    }

    #[test]
    fn following_shows_no_frame_rate_and_nothing_beyond_the_map(
        kept_back >= 45;
        x in -400.0f32..400.0, y in -400.0f32..400.0, half_life in 0.0f32..1.0, dead in 0.0f32..50.0,
        frames in prop::collection::vec(0.001f32..0.2, 1..8),
    ) {
        let follow = Follow::new(Vec2::splat(dead), half_life).unwrap();
        let limits = Aabb::from_corners(vec2(-300.0, -200.0), vec2(300.0, 200.0));
        let start = View::new(vec2(160.0, 90.0), 1.0).unwrap();
        let total: f32 = frames.iter().sum();
        let many = frames.iter().fold(start, |view, dt| view.at(follow.tick(&view, vec2(x, y), None, *dt)));
        let once = start.at(follow.tick(&start, vec2(x, y), None, total));
        prop_assert!(many.center.distance(once.center) < 0.02, "{} {}", many.center, once.center);
        let kept = frames.iter().fold(start, |view, dt| view.at(follow.tick(&view, vec2(x, y), Some(limits), *dt)));
        kept_back.when(kept.center != many.center);
        let shown = kept.shows();
        prop_assert!(shown.min.cmpge(limits.min - 1e-2).all() && shown.max.cmple(limits.max + 1e-2).all());
    }

    #[test]
    fn frames_of_any_length_bring_every_tick_once(
        rate in 10.0f32..300.0, frames in prop::collection::vec(0.0f32..0.05, 1..300), pace in 0.1f32..3.0,
    ) {
        let mut ticks = Ticks::new(rate).unwrap().with_most(1000);
        ticks.set_time_scale(pace).unwrap();
        let played: u32 = frames.iter().map(|seconds| ticks.advance(*seconds)).sum();
        let exact: f64 = frames.iter().map(|seconds| f64::from(*seconds)).sum::<f64>() * f64::from(rate) * f64::from(pace);
        prop_assert!((f64::from(played) + f64::from(ticks.fraction()) - exact).abs() < 1e-3);
        prop_assert!((0.0..=1.0).contains(&ticks.fraction()) && ticks.dropped() == 0.0);
    }

    #[test]
    fn a_lean_shows_no_tick_length(
        limited >= 95;
        speed in -500.0f32..500.0, parts in prop::collection::vec(0.001f32..0.1, 1..20), half_life in 0.01f32..1.0,
    ) {
        let mut many = Lean::new(0.001, 0.3, half_life).unwrap();
        let mut once = many;
        parts.iter().for_each(|dt| many.tick(speed, *dt));
        once.tick(speed, parts.iter().sum());
        prop_assert!((many.radians() - once.radians()).abs() < 1e-5);
        prop_assert!(many.radians().abs() <= 0.3);
        limited.when(speed.abs() > 300.0);
        // Half of what is left in every half-life.
        let seconds: f32 = parts.iter().sum();
        let expected = (speed * 0.001).clamp(-0.3, 0.3) * (1.0 - 0.5f32.powf(seconds / half_life));
        prop_assert!((many.radians() - expected).abs() < 1e-5, "{} and not {expected}", many.radians());
    }
}

#[test]
fn a_long_frame_is_cut_and_a_pause_steps_singly() {
    let mut ticks = Ticks::new(60.0).unwrap().with_most(4);
    assert_eq!((ticks.advance(1.0), ticks.dropped()), (4, 56.0));
    assert_eq!((ticks.advance(f32::NAN), ticks.advance(-1.0)), (0, 0));
    ticks.set_paused(true);
    assert_eq!(ticks.advance(1.0), 0);
    ticks.step();
    assert_eq!((ticks.advance(0.1), ticks.advance(0.1)), (1, 0));
    ticks.set_paused(false);
    assert_eq!(ticks.advance(2.0 / 60.0), 2);
}

#[rstest]
fn a_view_shows_its_tiles_at_their_corners(#[values(YAxis::Down, YAxis::Up)] y_axis: YAxis) {
    let grid = map(&["....", "....", "...."]).with_y_axis(y_axis).with_origin(Vec2::ZERO).unwrap();
    let middle = grid.center_of(ivec2(1, 1));
    let view = View::new(vec2(20.0, 20.0), 10.0).unwrap().with_y_axis(y_axis).at(middle);
    let tiles: Vec<(IVec2, Vec2)> = view.tiles(&grid).collect();
    assert_eq!(tiles.len(), 9);
    assert_eq!(tiles.iter().find(|(tile, _)| *tile == ivec2(1, 1)).unwrap().1, vec2(5.0, 5.0));
    assert_eq!(view.to_pixel(middle), ivec2(10, 10));
    assert_eq!(view.to_pixel(middle + vec2(0.049, 0.0)), ivec2(10, 10));
}

#[rstest]
#[case::wider_than_the_map(vec2(2000.0, 90.0), vec2(0.0, 50.0), 0.0)]
#[case::narrower(vec2(100.0, 90.0), vec2(500.0, 50.0), 250.0)]
fn a_view_stays_on_the_map_or_in_its_middle(#[case] size: Vec2, #[case] place: Vec2, #[case] x: f32) {
    let follow = Follow::default();
    let limits = Aabb::from_corners(vec2(-300.0, -200.0), vec2(300.0, 200.0));
    let view = View::new(size, 1.0).unwrap();
    assert_eq!(follow.tick(&view, place, Some(limits), 0.1).x, x);
}

#[test]
fn a_stance_changes_once_although_the_speed_trembles() {
    let mut stance = Stance::new(4.0, 2.0, 1.0).unwrap();
    let changes = (0..200u8).filter(|step| stance.tick(3.0 + f32::from(step % 3) * 0.9, 0.1)).count();
    assert_eq!((changes, stance.is_moving()), (1, true));
    assert!(Stance::new(1.0, 2.0, 1.0).is_err());
}

#[test]
fn a_glide_faces_where_it_goes_and_keeps_it_at_rest() {
    let glide = Glide::new(20.0, Drag::half_life(0.2).unwrap(), 0.5).unwrap();
    let mut drone = Walker::new(Vec2::ZERO, Footprint::circle(0.4).unwrap(), glide);
    let sectors = Sectors::new(Directions::Eight, DiagonalRule::Sideways, 0.1).unwrap();
    let stance = Stance::new(1.0, 0.5, 2.0).unwrap();
    let mut pose =
        Pose::new(sectors, stance, WalkCycle::by_time(0.5, 8).unwrap(), Lean::new(0.0, 0.0, 1.0).unwrap());
    let mut stopped = 0;
    for tick in 0..240 {
        let wish = if tick < 60 { Intent::new(vec2(-1.0, 1.0)) } else { Intent::NONE };
        let before = drone.position;
        let _ = drone.tick(wish, 1.0 / 60.0, &ambulant::terrain::World::new());
        pose.tick(drone.velocity, drone.velocity, drone.position - before, 1.0 / 60.0, YAxis::Down);
        stopped += usize::from(pose.just_stopped());
    }
    assert_eq!((pose.facing(), stopped, pose.is_mirrored()), (Facing::DownLeft, 1, true));
    assert_eq!(pose.walk.frame(), 0);
    let upright = Pose::picture_angle(Angle::from_degrees(90.0), Angle::from_degrees(90.0));
    assert!(upright.radians().abs() < 1e-6);
}

/// Toward a target a mover gets there and stays, without going past it.
#[rstest]
#[case::near(0.3)]
#[case::far(170.0)]
fn toward_a_target_a_mover_gets_there_and_stays(
    #[case] distance: f32,
    #[values(7.0, 60.0, 1000.0)] rate: f32,
) {
    let target = Angle::from_degrees(200.0).vector() * distance;
    let mut moth = Walker::new(Vec2::ZERO, Footprint::circle(1.0).unwrap(), Pace::new(50.0).unwrap());
    let mut furthest = 0.0f32;
    for _ in 0..400 {
        let slow = 50.0 / rate;
        let _ = moth.tick(Intent::toward(moth.position, target, slow), 1.0 / rate, &World::new());
        furthest = furthest.max(moth.position.dot(target) / distance);
        if rate < 60.0 && moth.position.distance(target) < 1e-4 {
            break;
        }
    }
    let reached = 50.0 * 400.0 / rate > distance;
    assert!(
        furthest <= distance * 1.000_01 && (!reached || moth.position.distance(target) < 1e-3),
        "{moth:?}"
    );
}

#[rstest]
#[case::right(Facing::Right, Facing::Left)]
#[case::up_left(Facing::UpLeft, Facing::DownRight)]
fn a_facing_has_an_opposite_and_an_intent(#[case] facing: Facing, #[case] opposite: Facing) {
    assert_eq!((facing.opposite(), opposite.opposite()), (opposite, facing));
    for y_axis in [YAxis::Down, YAxis::Up] {
        let [one, other] = [facing, opposite].map(|facing| Intent::facing(facing, y_axis).vector());
        assert!((one.length() - 1.0).abs() < 1e-6 && (one + other).length() < 1e-6);
        assert_eq!(Facing::toward(one, y_axis), Some(facing));
    }
    assert!(Facing::STRAIGHT.iter().all(|facing| !facing.is_diagonal()));
}

/// Pressed on a wall at a slant, a character faces where the player wants to go, or where it slides.
#[rstest]
#[case::intent(Faces::Intent, Facing::Right)]
#[case::velocity(Faces::Velocity, Facing::Down)]
fn a_character_faces_its_intent_or_its_velocity(#[case] faces: Faces, #[case] facing: Facing) {
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(1.0, -90.0), vec2(9.0, 90.0)).unwrap());
    let walker = Walker::new(Vec2::ZERO, Footprint::circle(1.0).unwrap(), Pace::new(10.0).unwrap());
    let mut gardener = Character::new(walker, Pose::four_way(16.0, 4).unwrap());
    gardener.faces = faces;
    for _ in 0..30 {
        let _ = gardener.tick(Intent::new(vec2(0.8, 0.5)), 1.0 / 60.0, &walls, |_| {});
    }
    assert_eq!(gardener.pose.facing(), facing);
}

#[test]
fn a_refused_zoom_leaves_the_view_as_it_was() {
    let mut view = View::new(vec2(320.0, 180.0), 2.0).unwrap().turned(0.5).unwrap();
    view.set_scale(3.0).unwrap();
    for scale in [0.0, -1.0, f32::NAN, f32::INFINITY] {
        assert!(view.set_scale(scale).is_err());
    }
    assert_eq!((view.scale(), view.rotation().radians()), (3.0, 0.5));
}
