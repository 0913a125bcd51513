//! The rules of walls, one at a time: tolerances at their borders, ties, corner help, pushes, touches, and what follows a walker.

use ambulant::arcade::{Ball, FlightEnd, Projectile};
use ambulant::direction::Angle;
use ambulant::drive::{Drag, Falling, Feel, Glide, Helm, Motion, Pace, Steering, Surface};
use ambulant::intent::Directions;
use ambulant::pose::{DiagonalRule, Lean, Pose, Sectors, Stance, WalkCycle};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Anchor, Solid, overlap};
use ambulant::steps::{Claims, StepGround, StepInput, StepMode, StepRules, Stepper, StrideEvent};
use ambulant::terrain::{FoundWall, Terrain, Wall, WallFilter, World};
use ambulant::travel::{Response, TouchPhase, Touching, resolve};
use ambulant::view::{Follow, View};
use ambulant::walker::{AtWalls, Character};
use glam::{DVec2, ivec2};
use proptest::prelude::*;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, map, some_of};

/// At the origin the tolerance is 2^-22 units: so deep still touches, the next number that `f32` knows overlaps.
#[rstest]
#[case::as_deep_as_the_tolerance(-22, false)]
#[case::twice_as_deep(-21, true)]
fn what_is_deeper_than_the_tolerance_overlaps(#[case] power: i32, #[case] overlaps: bool) {
    let wall = Solid::box_from_corners(vec2(0.0, -1.0), vec2(0.75, 1.0)).unwrap();
    let at = vec2(-0.25 + 2.0f32.powi(power), 0.0);
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    assert_eq!(overlap(&footprint, at, &wall).is_some(), overlaps);
}

/// Of two walls hit at one fraction the more head-on one counts, whatever their order and their bounds.
#[rstest]
fn of_two_round_walls_hit_at_once_the_more_head_on_one_counts(
    #[values(false, true)] first: bool,
    #[values(1.0, -1.0)] mirror: f32,
) {
    // A 3-4-5 triangle each: a circle of 2 units at 9 touches both exactly.
    let head_on = Solid::circle(vec2(13.0, 3.0 * mirror), 3.0).unwrap();
    let aside = Solid::circle(vec2(12.0, -4.0 * mirror), 3.0).unwrap();
    let mut walls = World::new();
    let ids = if first { [head_on, aside] } else { [aside, head_on] }.map(|solid| walls.add(solid));
    let footprint = Footprint::circle(2.0).unwrap();
    let hit = walls.sweep(&footprint, Vec2::ZERO, vec2(12.0, 0.0), &WallFilter::ALL).unwrap();
    assert_eq!((hit.fraction, hit.wall), (0.75, ids[usize::from(!first)]));
}

properties! {
    256;

    /// A footprint that is off its position moves as one on it does that stands so much further.
    #[test]
    fn an_offset_is_a_shift_of_the_position(
        touched >= 120;
        [x, y] in prop::array::uniform2(-3.0f32..3.0), corner in any::<bool>(), degrees in 0.0f32..360.0,
    ) {
        let mut walls = World::new();
        walls.add(Solid::circle(vec2(9.0, 1.0), 3.0).unwrap());
        walls.add(Solid::box_from_corners(vec2(-20.0, -9.0), vec2(20.0, -7.0)).unwrap());
        walls.add(Solid::segment(vec2(-9.0, 2.0), vec2(-5.0, 9.0)).unwrap());
        let plain = Footprint::rect(2.0, 1.0).unwrap();
        let (off, shift) = if corner {
            (plain.with_anchor(Anchor::TopLeft), vec2(1.0, 0.5))
        } else {
            (plain.with_offset(vec2(x, y)).unwrap(), vec2(x, y))
        };
        let gait = Gait::new(20.0, 90.0, 60.0).unwrap();
        let [mut one, mut other] = [(Vec2::ZERO, plain), (-shift, off)].map(|(at, shape)| Walker::new(at, shape, gait));
        let mut touches = 0;
        for tick in 0u8..90 {
            let intent = Intent::new(Angle::from_degrees(degrees + f32::from(tick)).vector());
            touches += one.tick(intent, 1.0 / 60.0, &walls).contacts.len();
            let _ = other.tick(intent, 1.0 / 60.0, &walls);
        }
        touched.when(touches > 0);
        prop_assert!(one.position.distance(other.position + shift) < 1e-3, "{one:?} {other:?} {touches}");
    }

    /// Corner help spends the way that it takes: to the corner, and what is left beyond.
    #[test]
    fn round_a_corner_the_way_is_as_long_as_it_was(beyond >= 150; clip in 0.05f32..0.9, length in 0.2f32..6.0, mirror in any::<bool>()) {
        let mirror = if mirror { -1.0 } else { 1.0 };
        let mut walls = World::new();
        // A mover of 2 by 2 at the origin clips the box by so much.
        let corner = vec2(1.0, (1.0 - clip) * mirror);
        walls.add(Solid::box_from_corners(corner, vec2(3.0, 20.0 * mirror)).unwrap());
        let footprint = Footprint::rect(2.0, 2.0).unwrap();
        let motion = Motion::new(vec2(length, 0.0), vec2(5.0, 0.0), Angle::ZERO);
        let result = resolve(&walls, &footprint, Vec2::ZERO, motion, &WallFilter::ALL, |_| Response::round_corner(1.0));
        let (aside, ahead) = (length.min(clip), (length - clip).max(0.0));
        beyond.when(ahead > 0.0);
        let wanted = vec2(ahead, -aside * mirror);
        prop_assert!(result.position.distance(wanted) < 1e-4, "{} {wanted}", result.position);
        prop_assert!((result.velocity.length() - 5.0).abs() < 1e-4);
        // Nothing is led round what ends too far off.
        let plain = resolve(&walls, &footprint, Vec2::ZERO, motion, &WallFilter::ALL, |_| Response::round_corner(clip * 0.9));
        prop_assert_eq!((plain.position, plain.velocity), (Vec2::ZERO, Vec2::ZERO));
    }

    /// A door that waits goes as far as there is room.
    #[test]
    fn a_door_may_go_as_far_as_there_is_room(room in 0.0f32..5.0, gap in 0.01f32..5.0, further in 0.1f32..9.0) {
        let mut world = World::new();
        world.add(Solid::box_from_corners(vec2(1.0 + room, -5.0), vec2(9.0, 5.0)).unwrap());
        let door = world.add(Solid::box_from_corners(vec2(-9.0, -5.0), vec2(-1.0 - gap, 5.0)).unwrap());
        let way = gap + room + further;
        world.move_at(door, vec2(way, 0.0));
        let mover = Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0).unwrap(), Pace::new(1.0).unwrap());
        let free = world.free_time(door, [&mover], 1.0);
        prop_assert!((free - (gap + room) / way).abs() < 1e-4, "{} {}", free, (gap + room) / way);
    }

    /// Range or time, whichever is over first, at any length of a tick.
    #[test]
    fn a_projectile_ends_by_what_is_over_first(
        by_range >= 85, by_time >= 75;
        range in 1.0f32..40.0, time in 0.1f32..4.0, speed in 5.0f32..20.0, dt in 0.01f32..6.0,
    ) {
        prop_assume!((range / speed - time).abs() > 1e-3);
        let footprint = Footprint::circle(0.5).unwrap();
        let shot = Projectile::aimed(Vec2::ZERO, vec2(1.0, 0.0), speed, footprint).unwrap();
        let mut shot = shot.with_range(range).unwrap().with_time(time).unwrap();
        let (mut end, mut ended) = (None, 0.0);
        for tick in 0..1000u16 {
            // A flight that is over stays over, where it ended.
            let over = shot.tick(dt, &World::new());
            ended = if end.is_none() { f32::from(tick) * dt + over.map_or(0.0, |over| over.seconds()) } else { ended };
            end = end.or(over);
        }
        let at = if range / speed < time { range } else { time * speed };
        let ends_by_range = matches!(end, Some(FlightEnd::OutOfRange { .. }));
        by_range.when(ends_by_range);
        by_time.when(!ends_by_range);
        prop_assert!(ends_by_range == (range / speed < time) && end.is_some(), "{end:?}");
        prop_assert!((shot.position().x - at).abs() < 1e-3 && (ended - at / speed).abs() < 1e-3, "{ended}");
    }

    /// Left alone, a helm that drifts straight on covers (v - rest) / k and stands.
    #[test]
    fn a_helm_comes_to_rest_where_its_closed_form_does(
        speed in 20.0f32..90.0, rest in 1.0f32..9.0, rate in 0.3f32..3.0, ticks in 1u8..40,
    ) {
        let drag = Drag::per_second(rate).unwrap();
        let helm = Helm::new(2.0, 9.0, drag, Steering::Toward).unwrap().with_rest_speed(rest).unwrap();
        let mut mover = Walker::new(Vec2::ZERO, Footprint::circle(1.0).unwrap(), helm);
        mover.velocity = vec2(speed, 0.0);
        for _ in 0..ticks {
            let _ = mover.tick(Intent::NONE, 20.0 / f32::from(ticks), &World::new());
        }
        prop_assert_eq!(mover.velocity, Vec2::ZERO);
        let way = (speed - rest) / rate;
        prop_assert!((mover.position.x - way).abs() < 1e-3 + 1e-5 * way, "{} {way}", mover.position.x);
    }

    /// The sums that stand for exponentials are as good as these.
    #[test]
    fn a_glide_that_starts_is_its_closed_form(k in 0.2f64..6.0, x in 0.01f64..0.12) {
        let dt = x / k;
        #[expect(clippy::cast_possible_truncation, reason = "numbers of a test")]
        let (rate, seconds) = (k as f32, dt as f32);
        let glide = Glide::new(100.0, Drag::per_second(rate).unwrap(), 0.0).unwrap();
        let motion = glide.advance(Momentum::default(), Intent::new(vec2(1.0, 0.0)), &Surface::PLAIN, seconds);
        let (k, t) = (f64::from(rate), f64::from(seconds));
        let way = 100.0 / k * (t - (1.0 - (-k * t).exp()) / k);
        prop_assert!((f64::from(motion.displacement.x) / way - 1.0).abs() < 1.5e-7 + 1e-13 / (k * t).powi(2));
    }
}

/// With half of what leads into the wall along it, an intent goes its own way; with a hair less it is led round the corner.
#[rstest]
#[case::as_much_as_half(0.5, false)]
#[case::a_little_less(0.49, true)]
fn what_leads_along_a_wall_needs_no_corner_help(#[case] along: f32, #[case] led: bool) {
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(1.0, 0.5), vec2(3.0, 20.0)).unwrap());
    let pace = Pace::new(8.0).unwrap();
    let mut mover = Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0).unwrap(), pace);
    mover.along_walls = mover.along_walls.with_corner_help(1.0).unwrap();
    let _ = mover.tick(Intent::new(vec2(0.8, -0.8 * along)), 0.05, &walls);
    // A slide has the part of the intent along the wall, 0.16 units; corner help goes aside at full speed.
    let way = if led { 8.0 * 0.05 * 0.8 * (1.0 + along * along).sqrt() } else { 8.0 * 0.05 * 0.8 * along };
    assert!((mover.position.y + way).abs() < 1e-4, "{} {way}", mover.position);
}

/// A wall that is left and met again within a tick is an end and a start.
#[rstest]
fn a_wall_that_is_left_and_met_again_within_a_tick_ends_and_starts(#[values(1.0, 0.01)] pace: f32) {
    let bench = map(&["."]).with_tile_size(1.0).unwrap().with_origin(Vec2::ZERO).unwrap();
    let gait = Gait::new(9.0 * pace, 0.01 * pace, 0.01 * pace).unwrap();
    let mut pebble = Walker::new(vec2(0.1, 0.5), Footprint::circle(0.1).unwrap(), gait);
    pebble.along_walls.at_walls = AtWalls::bounce(1.0, 0.1 * pace).unwrap();
    let mut touching = Touching::default();
    pebble.velocity = vec2(-pace, 0.0);
    let mut phases = Vec::new();
    for speed in [-0.05, 4.0] {
        // First it lies against the left wall, then it goes to the right one and back again.
        pebble.velocity = vec2(speed * pace, 0.0);
        let result = pebble.tick(Intent::NONE, 0.5 / pace, &bench);
        touching.after(&result, &pebble.footprint, &bench, &WallFilter::ALL, |change| {
            phases.push((change.wall, change.phase));
        });
    }
    let left = Wall::tile(ivec2(-1, 0));
    let of_left: Vec<_> = phases.iter().filter(|(wall, _)| *wall == left).map(|(_, phase)| *phase).collect();
    let again = [TouchPhase::Started, TouchPhase::Ended, TouchPhase::Started, TouchPhase::Ended];
    assert_eq!(of_left, again, "{phases:?}");
}

/// So is one that is left and met again with nothing between.
#[test]
fn a_hop_off_a_wall_within_a_tick_is_an_end_and_a_start() {
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(-2.0, -2.0), vec2(0.0, 2.0)).unwrap());
    let gait = Gait::new(9.0, 40.0, 40.0).unwrap();
    let mut moth = Walker::new(vec2(0.5, 0.0), Footprint::circle(0.5).unwrap(), gait);
    let mut touching = Touching::default();
    let mut phases = Vec::new();
    for speed in [0.0, 1.0, 0.0] {
        moth.velocity.x = speed;
        let result = moth.tick(Intent::new(vec2(-1.0, 0.0)), 0.2, &walls);
        touching
            .after(&result, &moth.footprint, &walls, &WallFilter::ALL, |change| phases.push(change.phase));
    }
    let (start, end, lasts) = (TouchPhase::Started, TouchPhase::Ended, TouchPhase::Lasting);
    assert_eq!(phases, [start, end, start, lasts]);
    assert!(!touching.is_empty() && Touching::default().is_empty());
}

#[test]
fn a_character_walks_by_the_distance_that_it_covers() {
    let walker = Walker::new(vec2(30.0, 20.0), Footprint::circle(1.0).unwrap(), Pace::new(10.0).unwrap());
    let pose = Pose::new(
        Sectors::new(Directions::Four, DiagonalRule::Sideways, 0.1).unwrap(),
        Stance::new(5.0, 1.0, 3.0).unwrap(),
        WalkCycle::by_distance(8.0, 4).unwrap(),
        Lean::new(0.0, 0.0, 0.1).unwrap(),
    );
    let mut gardener = Character::new(walker, pose);
    let mut frames = Vec::new();
    for _ in 0..8 {
        let _ = gardener.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &World::new(), |_| {});
        frames.push(gardener.pose.walk.frame());
    }
    // One unit a tick, two units a frame: a frame that is missing by rounding only is there.
    assert_eq!(frames, [0, 1, 1, 2, 2, 3, 3, 0]);
}

#[rstest]
#[case::at_once(0.0, 0.0, 240.0)]
#[case::not_in_no_time(0.1, 0.0, 200.0)]
#[case::half_of_the_way(0.1, 0.1, 220.0)]
fn a_view_follows_by_its_half_life(#[case] half_life: f32, #[case] dt: f32, #[case] x: f32) {
    let view = View::new(vec2(320.0, 180.0), 1.0).unwrap().at(vec2(200.0, 100.0));
    let follow = Follow::new(vec2(20.0, 20.0), half_life).unwrap();
    let limits = Aabb::from_corners(Vec2::ZERO, vec2(1000.0, 200.0));
    assert_eq!(follow.tick(&view, vec2(260.0, 100.0), Some(limits), dt), vec2(x, 100.0));
}

#[test]
fn only_centres_of_tiles_are_on_the_centre() {
    let grid = map(&["...", "..."]).with_tile_size(16.0).unwrap().with_origin(vec2(3.0, -5.0)).unwrap();
    for tile in [ivec2(0, 0), ivec2(2, 1)] {
        assert!(grid.is_on_center(grid.center_of(tile)));
        assert!(!grid.is_on_center(grid.center_of(tile) + vec2(0.0, 0.001)));
    }
}

/// What falls goes nowhere straight ahead: it has no figures.
#[test]
fn a_fall_has_no_feel() {
    let fall = Falling::new(Gait::new(60.0, 400.0, 500.0).unwrap(), vec2(0.0, 300.0), 200.0).unwrap();
    let feel = Feel::of(&fall);
    assert_eq!((feel.seconds_to_speed, feel.seconds_to_stop, feel.tap_distance), (None, None, None));
}

/// A press toward a wall is remembered by a stepper that runs on: when the way opens in time, it goes.
#[rstest]
#[case::in_time(0.2, true)]
#[case::at_the_very_end(0.3, true)]
#[case::too_late(0.5, false)]
fn a_press_toward_a_wall_waits_while_it_is_remembered(#[case] opens: f32, #[case] goes: bool) {
    let mut grid = map(&[".#."]);
    let path = grid.kind_id(ivec2(0, 0)).unwrap();
    let mut claims = Claims::new();
    let rules = StepRules::new(4.0).unwrap().with_input_buffer(0.3).unwrap();
    let mut gardener = Stepper::on(ivec2(0, 0), rules, &StepGround::new(&grid), &mut claims).unwrap();
    let tap = StepInput { held: Intent::NONE, tapped: Intent::new(vec2(1.0, 0.0)) };
    let _ = gardener.tick(tap, opens, &StepGround::new(&grid), &mut claims);
    grid.set(ivec2(1, 0), path).unwrap();
    let _ = gardener.tick(StepInput::default(), 0.1, &StepGround::new(&grid), &mut claims);
    assert_eq!(gardener.stride_to() == Some(ivec2(1, 0)), goes);
}

/// A held direction beside the one it runs in is reported once, not at every tile.
#[test]
fn a_direction_that_stays_blocked_is_reported_once() {
    let grid = map(&["......", "######"]);
    let (ground, mut claims) = (StepGround::new(&grid), Claims::new());
    let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0).unwrap(), &ground, &mut claims).unwrap();
    let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &ground, &mut claims);
    let mut blocked = 0;
    for _ in 0..60 {
        let events = cart.tick(Intent::new(vec2(0.0, 1.0)), 0.02, &ground, &mut claims);
        blocked += events
            .iter()
            .filter(|event| matches!(event.what, StrideEvent::Blocked { direction, .. } if direction == Facing::Down))
            .count();
    }
    assert_eq!((blocked, cart.tile()), (1, ivec2(5, 0)));
}

/// Of both keys of a diagonal, a stepper with four directions takes the horizontal one, pushes what is there, and says how far it is.
#[test]
fn a_stepper_pushes_a_thing_and_says_how_far_it_is() {
    let grid = map(&["....", "....", "...."]).with_tile_size(16.0).unwrap();
    let (ground, mut claims) = (StepGround::new(&grid), Claims::new());
    let things = [ivec2(0, 2), ivec2(1, 0)].map(|tile| claims.put_thing(tile, &ground).unwrap());
    assert_eq!(things.map(|thing| thing.number()), [0, 1]);
    let rules = StepRules::new(4.0).unwrap().pushing().with_mode(StepMode::Tap);
    let mut gardener = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
    let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
    let _ = gardener.tick(keys.intent(YAxis::Down), 0.0625, &ground, &mut claims);
    // A quarter of a stride is done: three quarters of a tile are left.
    assert_eq!(gardener.pushing(&grid), Some((things[1], vec2(-12.0, 0.0))));
    assert_eq!((gardener.stride_to(), claims.thing(things[1])), (Some(ivec2(1, 0)), Some(ivec2(2, 0))));
    let _ = gardener.tick(Intent::NONE, 0.25, &ground, &mut claims);
    assert_eq!(gardener.pushing(&grid), None);
}

/// A bench further off than it feels for is none of its business.
#[rstest]
#[case::far(-3.0, 6.0)]
#[case::near(-1.2, 4.0)]
fn what_hovers_feels_only_as_far_ahead_as_it_is_to(#[case] edge: f32, #[case] y: f32) {
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(-50.0, 9.0), vec2(50.0, 20.0)).unwrap());
    walls.add(Solid::box_from_corners(vec2(-50.0, 7.0), vec2(edge, 20.0)).unwrap());
    let hover = ambulant::arcade::Hover::new(2.0, 100.0, 100.0).unwrap().with_ahead(1.0, 3.0).unwrap();
    let feet = Footprint::rect(1.0, 2.0).unwrap();
    let mut lamp = Walker::new(vec2(0.0, 6.0), feet, Pace::new(1.0).unwrap());
    lamp.hover = Some(hover);
    let _ = lamp.tick(Intent::NONE, 3.0, &walls);
    assert!((lamp.position.y - y).abs() < 1e-3, "{}", lamp.position);
}

#[test]
fn a_ball_that_is_faster_than_all_numbers_stays_where_it_is() {
    let mut ball = Ball::new(vec2(1.0, 2.0), vec2(f32::MAX, 0.0), Footprint::circle(1.0).unwrap());
    let bounces = crate::scene::bounce(&mut ball, 10.0, &mut World::new());
    assert_eq!((bounces.count, ball.is_in_play(), ball.position), (0, true, vec2(1.0, 2.0)));
}

/// A terrain that counts how often it is asked.
struct Counted<'a>(&'a dyn Terrain, std::cell::Cell<usize>);

impl<'a> Counted<'a> {
    fn new(terrain: &'a dyn Terrain) -> Self {
        Self(terrain, std::cell::Cell::new(0))
    }

    fn count(&self) -> &'a dyn Terrain {
        self.1.set(self.1.get() + 1);
        self.0
    }
}

impl Terrain for Counted<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.count().walls_in(area, filter, see);
    }

    fn meets_moving_wall(&self, feet: &Footprint, from: Vec2, by: Vec2, filter: &WallFilter<'_>) -> bool {
        self.0.meets_moving_wall(feet, from, by, filter)
    }

    fn has_surfaces(&self) -> bool {
        self.0.has_surfaces()
    }

    fn surface_at(&self, point: DVec2, time: f64) -> Surface {
        self.count().surface_at(point, time)
    }

    fn has_one_surface(&self, way: [DVec2; 2], reach: Vec2, times: [f64; 2]) -> bool {
        self.count().has_one_surface(way, reach, times)
    }
}

/// A wall that a mover starts in is ignored, so a curved path through it costs hardly more than one in the open.
#[rstest]
fn inside_a_wall_a_curved_path_asks_no_more_than_a_few_questions(#[values(true, false)] round: bool) {
    let mut world = World::new();
    world.add(Solid::box_from_corners(Vec2::splat(-50.0), Vec2::splat(50.0)).unwrap());
    let footprint = if round { Footprint::circle(3.0) } else { Footprint::rect(6.0, 6.0) }.unwrap();
    let mut gardener = Walker::new(vec2(20.0, 10.0), footprint, Gait::new(60.0, 400.0, 500.0).unwrap());
    gardener.velocity = vec2(0.0, 60.0);
    for turn in 0..30u8 {
        let counted = Counted::new(&world);
        let _ = gardener.tick(Intent::new(Vec2::from_angle(f32::from(turn) * 0.3)), 1.0 / 60.0, &counted);
        assert!(counted.1.get() < 200, "{} questions in turn {turn}", counted.1.get());
    }
}

/// Pressed straight onto the tip of a wall, where a round part begins, a circle stands in balance. That costs no more
/// than to stand at any wall.
#[test]
fn in_balance_on_a_tip_a_tick_asks_no_more_than_a_few_questions() {
    let in_balance = std::cell::Cell::new(0);
    proptest::test_runner::TestRunner::new(crate::properties::cases(300))
        .run(&(crate::scene::random_slopes(), 0usize..144, 0u8..4), |(slopes, place, turn)| {
            let size = slopes.size();
            let place = i32::try_from(place).unwrap();
            // Toward a crossing of tiles, from one and a half tiles away.
            let tip = ivec2(place % size.x, (place / size.x) % size.y).as_vec2() - size.as_vec2() * 0.5;
            let ahead = Vec2::from_angle(std::f32::consts::FRAC_PI_4 * (2.0 * f32::from(turn) + 1.0));
            let glide = Glide::new(200.0, Drag::half_life(0.5).unwrap(), 0.0).unwrap();
            let mut lamp = Walker::new(tip - ahead * 0.75, Footprint::circle(0.25).unwrap(), glide);
            for tick in 0..20 {
                let counted = Counted::new(&slopes);
                let result = lamp.tick(Intent::new(ahead), 1.0 / 60.0, &counted);
                let asked = counted.1.get();
                let balances = |at: &ambulant::travel::Contact| at.normal.dot(ahead) < -0.999_99;
                let stands = lamp.velocity == Vec2::ZERO && result.contacts.iter().any(balances);
                in_balance.set(in_balance.get() + usize::from(stands));
                prop_assert!(!stands || asked < 800, "{asked} questions in tick {tick} at {}", lamp.position);
            }
            Ok(())
        })
        .unwrap();
    assert!(in_balance.get() > 300, "{} ticks in balance", in_balance.get());
}

/// A floor whose surface changes every ten-thousandth of a unit.
struct Stripes;

impl Terrain for Stripes {
    fn walls_in(&self, _: Aabb, _: &WallFilter<'_>, _: &mut dyn FnMut(FoundWall)) {}

    fn has_surfaces(&self) -> bool {
        true
    }

    fn surface_at(&self, point: DVec2, _: f64) -> Surface {
        let is_moss = (point.x * 1e4).rem_euclid(2.0) < 1.0;
        Surface::PLAIN.with_grip(if is_moss { 0.5 } else { 2.0 }).unwrap()
    }

    fn has_one_surface(&self, _: [DVec2; 2], _: Vec2, _: [f64; 2]) -> bool {
        false
    }
}

/// If a path crosses more borders than can be looked at, the rest of the tick is moved in one.
#[test]
fn a_tick_over_thousands_of_borders_asks_a_limited_number_of_questions() {
    let gait = Gait::new(10.0, 60.0, 60.0).unwrap();
    for turn in 0..8u8 {
        let mut lamp = Walker::new(Vec2::ONE, Footprint::circle(0.3).unwrap(), gait);
        lamp.velocity = Vec2::from_angle(f32::from(turn)) * 9.0;
        let counted = Counted::new(&Stripes);
        let _ = lamp.tick(Intent::new(lamp.velocity), 1.0 / 30.0, &counted);
        let went = lamp.position.distance(Vec2::ONE);
        assert!((0.29..0.34).contains(&went), "{went}");
        assert!(counted.1.get() < 100_000, "{} questions in turn {turn}", counted.1.get());
    }
}

/// A round vehicle that lifts off a tile by a little and comes down in the same tick, beyond the seam with the next one, is held there.
#[rstest]
fn what_comes_down_beyond_a_seam_is_held_there() {
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let floor = TileGrid::from_rows(&["##########", ".........."], &legend).unwrap();
    let floor = floor.with_tile_size(4.0).unwrap();
    let mut beyond = 0;
    for seed in some_of(0..20_000) {
        let mut dice = Dice::new(seed);
        let radius = dice.number(0.3, 1.5);
        let helm = Helm::new(3.0, 40.0, Drag::per_second(1.2).unwrap(), Steering::Toward).unwrap();
        let start = vec2(20.0 + dice.number(0.0, 0.3), 4.0 + radius + dice.number(0.0, 4e-6));
        let footprint = Footprint::circle(radius).unwrap();
        let mut roller = Walker::new(start, footprint, helm.with_grip(dice.number(2.0, 8.0)).unwrap());
        roller.velocity = vec2(-dice.number(4.0, 12.0), dice.number(0.0, 0.01));
        roller.heading = Angle::from_radians(std::f32::consts::PI - dice.number(0.0, 0.03));
        let intent = Intent::new(vec2(dice.number(0.0, 0.3), -dice.number(0.0, 0.3)));
        let _ = roller.tick(intent, 1.0 / 30.0, &floor);
        assert!(
            !floor.overlaps(&footprint, roller.position, &WallFilter::ALL),
            "{seed}: {}",
            roller.position
        );
        beyond += usize::from(roller.position.x < 20.0 && (roller.position.y - 4.0 - radius).abs() < 1e-5);
    }
    assert!(beyond > share(5_000), "{beyond}");
}
