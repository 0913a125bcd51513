//! Balls and projectiles among walls that move.

use ambulant::arcade::{
    BallEvent, BallState, FlightEnd, Impact, PaddleHit, ProjectileEvent, tick_balls_with, tick_projectiles,
};
use ambulant::prelude::*;
use ambulant::terrain::{Course, Layers};
use ambulant::walker::Path;
use glam::DVec2;
use proptest::prelude::*;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, any_footprint, random_map, some_of};

/// A box that goes to and fro for ever.
#[derive(Clone, Copy)]
struct Shuttle {
    min: DVec2,
    max: DVec2,
    /// How far it goes in which time, and the same way back.
    by: DVec2,
    lasts: f64,
}

/// Where one of them is at a time, and its velocity until when.
struct Now {
    offset: DVec2,
    velocity: DVec2,
    until: f64,
}

impl Shuttle {
    fn at(&self, time: f64) -> Now {
        let (round, phase) = ((time / (2.0 * self.lasts)).floor(), time.rem_euclid(2.0 * self.lasts));
        let (velocity, begins) = (self.by / self.lasts, round * 2.0 * self.lasts);
        if phase < self.lasts {
            Now { offset: velocity * phase, velocity, until: begins + self.lasts }
        } else {
            let offset = self.by - velocity * (phase - self.lasts);
            Now { offset, velocity: -velocity, until: begins + 2.0 * self.lasts }
        }
    }

    fn course(&self) -> Course {
        #[expect(clippy::cast_possible_truncation, reason = "it was an `f32`")]
        let (by, lasts) = (self.by.as_vec2(), self.lasts as f32);
        Course::new().moves(by, lasts).unwrap().moves(-by, lasts).unwrap().looping().unwrap()
    }
}

/// The time until a circle with this radius, moved from `from` at a velocity as a box sees it, touches the box, with the
/// normal. It may graze a corner by so much.
fn first_touch(
    from: DVec2,
    velocity: DVec2,
    radius: f64,
    [min, max]: [DVec2; 2],
    graze: f64,
) -> Option<(f64, DVec2)> {
    let mut first: Option<(f64, DVec2)> = None;
    let mut consider = |time: f64, normal: DVec2| {
        let inward = -velocity.dot(normal);
        // It may lie against the box already, up to the rounding of its position.
        if inward > 0.0 && time * inward > -2e-5 && first.is_none_or(|(known, _)| time < known) {
            first = Some((time.max(0.0), normal));
        }
    };
    for (normal, side) in [
        (DVec2::X, max.x + radius),
        (DVec2::NEG_X, -(min.x - radius)),
        (DVec2::Y, max.y + radius),
        (DVec2::NEG_Y, -(min.y - radius)),
    ] {
        let time = (side - from.dot(normal)) / velocity.dot(normal);
        let (at, along) = (from + velocity * time, normal.perp().abs());
        if at.dot(along) >= min.dot(along) && at.dot(along) <= max.dot(along) {
            consider(time, normal);
        }
    }
    for corner in [min, max, DVec2::new(min.x, max.y), DVec2::new(max.x, min.y)] {
        let (off, square) = (from - corner, velocity.length_squared());
        let half = off.dot(velocity);
        let root = half * half - square * (off.length_squared() - radius * radius);
        let grazes = radius - off.perp_dot(velocity).abs() / square.sqrt() < graze;
        if root > 0.0 && !grazes {
            let time = (-half - root.sqrt()) / square;
            let normal = (off + velocity * time).normalize();
            let outward = (corner - (min + max) * 0.5).signum();
            if (normal * outward).min_element() > 0.0 {
                consider(time, normal);
            }
        }
    }
    first
}

/// When a ball in a state meets one of the walls next, and at which speed.
fn next_impact(
    (mut time, mut from, velocity): (f64, DVec2, DVec2),
    radius: f64,
    area: DVec2,
    shuttles: &[Shuttle],
    graze: f64,
) -> (f64, f64) {
    loop {
        let until = shuttles.iter().map(|shuttle| shuttle.at(time + 1e-12).until).fold(time + 1.0, f64::min);
        let standing = [
            (DVec2::X, radius),
            (DVec2::NEG_X, radius - area.x),
            (DVec2::Y, radius),
            (DVec2::NEG_Y, radius - area.y),
        ];
        let edges = standing.into_iter().filter_map(|(normal, side)| {
            let inward = -velocity.dot(normal);
            (inward > 0.0).then(|| (((from.dot(normal) - side) / inward).max(0.0), inward))
        });
        let moving = shuttles.iter().filter_map(|shuttle| {
            let Now { offset, velocity: of_wall, .. } = shuttle.at(time + 1e-12);
            let seen = velocity - of_wall;
            let (at, normal) =
                first_touch(from, seen, radius, [shuttle.min + offset, shuttle.max + offset], graze)?;
            Some((at, -seen.dot(normal)))
        });
        let first = edges.chain(moving).min_by(|one, other| one.0.total_cmp(&other.0));
        match first {
            Some((at, speed)) if time + at <= until => return (time + at, speed),
            _ => (from, time) = (from + velocity * (until - time), until),
        }
    }
}

/// Three boxes that go to and fro in a closed field, each in its own third of it, and a ball between them.
fn random_field(dice: &mut Dice) -> (World, Vec<(Wall, Course)>, Vec<Shuttle>, Ball) {
    let area = vec2(72.0, 30.0);
    let mut world = World::new().with_play_area(PlayArea::new(Vec2::ZERO, area).unwrap());
    let (mut walls, mut shuttles) = (Vec::new(), Vec::new());
    for third in 0..3u8 {
        let size = vec2(dice.number(3.0, 9.0), dice.number(3.0, 9.0));
        let room = vec2(16.0, 22.0) - size;
        let from = vec2(f32::from(third) * 24.0 + 4.0, 4.0)
            + room * vec2(dice.number(0.0, 1.0), dice.number(0.0, 1.0));
        let to = vec2(f32::from(third) * 24.0 + 4.0, 4.0)
            + room * vec2(dice.number(0.0, 1.0), dice.number(0.0, 1.0));
        // Along one axis, or along both.
        let by = (to - from) * [Vec2::X, Vec2::Y, Vec2::ONE][dice.pick(3)];
        let lasts = dice.number(0.25, 2.0);
        let shuttle = Shuttle {
            min: from.as_dvec2(),
            max: (from + size).as_dvec2(),
            by: by.as_dvec2(),
            lasts: f64::from(lasts),
        };
        let wall = world.add(Solid::box_from_corners(from, from + size).unwrap());
        walls.push((wall, shuttle.course()));
        shuttles.push(shuttle);
    }
    let footprint = Footprint::circle(1.0).unwrap();
    loop {
        let at = vec2(dice.number(1.5, area.x - 1.5), dice.number(1.5, area.y - 1.5));
        if !world.overlaps(&footprint, at, &WallFilter::ALL) {
            let velocity = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(10.0, 150.0);
            return (world, walls, shuttles, Ball::new(at, velocity, footprint));
        }
    }
}

fn begin_tick(world: &mut World, walls: &[(Wall, Course)], dt: f32) {
    for (wall, course) in walls {
        assert!(world.move_in(*wall, course.pieces(dt)));
    }
}

fn end_tick(world: &mut World, walls: &mut [(Wall, Course)], dt: f32) {
    world.advance(dt);
    walls.iter_mut().for_each(|(_, course)| course.advance(dt));
}

/// `AMBULANT_STATES` asks for more random states.
fn states(few: u64) -> u64 {
    std::env::var("AMBULANT_STATES").ok().and_then(|states| states.parse().ok()).unwrap_or(few)
}

/// Each of the next 20 impacts of a ball is where a solver in `f64` finds it, which starts anew from the ball's state after
/// each one; and it leaves as the wall sees it come.
#[test]
fn a_ball_meets_moving_walls_when_it_should() {
    let (mut compared, mut late, mut bent, mut moving) = (0u32, Vec::new(), Vec::new(), 0u32);
    for seed in 0..states(600) {
        let mut dice = Dice::new(seed);
        let (mut world, mut walls, shuttles, ball) = random_field(&mut dice);
        let dt = [1.0 / 30.0, 1.0 / 60.0, 1.0 / 240.0, 0.7][dice.pick(4)];
        let mut balls = [ball];
        // What only grazes a corner, by less than twice the touch tolerance, may be a hit or none.
        let next = |state| {
            [0.0, 4e-5].map(|graze| next_impact(state, 1.0, DVec2::new(72.0, 30.0), &shuttles, graze))
        };
        let mut expected = next((0.0, ball.position.as_dvec2(), ball.velocity.as_dvec2()));
        let (mut impacts, mut begins) = (0, 0.0f64);
        while impacts < 20 {
            begin_tick(&mut world, &walls, dt);
            let bounce = |_: &Ball, _: &_| Decision::bounce(1.0);
            let tick = tick_balls_with(&mut balls, dt, &mut world, bounce, |event| {
                let BallEvent::Met { impact, after, .. } = event else { panic!("{event:?}") };
                impacts += 1;
                let (time, hit) = (begins + f64::from(impact.seconds), impact.hit);
                compared += 1;
                if expected.iter().all(|(wanted, speed)| (time - wanted).abs() > 1e-4 + 1e-4 / speed) {
                    late.push((seed, impacts, time, expected));
                }
                let (came, left) = (impact.velocity.dot(hit.normal), after.dot(hit.normal));
                let reflected = 2.0 * hit.velocity.dot(hit.normal) - came;
                if (left - reflected).abs() > 1e-5 * impact.velocity.length().max(after.length()) {
                    bent.push((seed, impact.velocity, hit.velocity, after));
                }
                moving += u32::from(hit.velocity != Vec2::ZERO);
                let state = (time, hit.position.as_dvec2(), after.as_dvec2());
                expected = next(state);
            });
            assert_eq!(tick.unplayed_seconds, 0.0, "seed {seed}");
            end_tick(&mut world, &mut walls, dt);
            begins += f64::from(dt);
            assert!(
                !world.overlaps(&balls[0].footprint, balls[0].position, &WallFilter::ALL),
                "seed {seed} at {begins}"
            );
        }
    }
    assert!(moving * 4 > compared, "{moving} of {compared} at walls that move");
    let first = (&late[..late.len().min(6)], &bent[..bent.len().min(6)]);
    assert!(
        late.is_empty() && bent.is_empty(),
        "{} late, {} bent of {compared}: {first:?}",
        late.len(),
        bent.len()
    );
}

/// For an hour of play, at changing tick rates, a ball is never inside a wall.
#[rstest]
fn a_ball_is_never_inside_a_wall(#[values(76, 77, 78)] seed: u64) {
    let mut dice = Dice::new(seed);
    let (mut world, mut walls, _, ball) = random_field(&mut dice);
    let (mut balls, mut played, mut impacts) = ([ball], 0.0f64, 0);
    while played < 3600.0 {
        let dt = dice.number(1e-3, 0.05);
        begin_tick(&mut world, &walls, dt);
        impacts += tick_balls(&mut balls, dt, &mut world, |_, _| Decision::bounce(1.0)).count;
        end_tick(&mut world, &mut walls, dt);
        let ball = &mut balls[0];
        assert!(!world.overlaps(&ball.footprint, ball.position, &WallFilter::ALL), "after {played} s");
        // Walls that move make it faster and faster.
        ball.velocity = ball.velocity.clamp_length(5.0, 200.0);
        played += f64::from(dt);
    }
    assert!(impacts > 12_000, "{impacts}");
}

/// A world with one box, and a ball that stands to its right.
fn wall_and_ball(velocity: Vec2) -> (World, Wall, [Ball; 1]) {
    let mut world = World::new();
    let wall = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0)).unwrap());
    (world, wall, [Ball::new(vec2(6.0, 0.0), velocity, Footprint::circle(1.0).unwrap())])
}

#[rstest]
#[case::it_stands(0.0, Decision::bounce(1.0), 60.0)]
#[case::it_stands_and_hardly_bounces(0.0, Decision::bounce(0.0), 30.0)]
#[case::it_comes(-20.0, Decision::bounce(1.0), 80.0)]
#[case::it_comes_and_loses_half(-20.0, Decision::bounce(0.5), 55.0)]
#[case::it_flees_too_slowly(10.0, Decision::bounce(1.0), 50.0)]
#[case::it_flees(40.0, Decision::bounce(1.0), 40.0)]
#[case::it_stops(-20.0, Decision::STOP, 30.0)]
#[case::it_is_sent_on_into_the_wall(-20.0, Decision::deflect(vec2(-9.0, 0.0)), 30.0)]
fn a_wall_that_comes_is_hit(#[case] before: f32, #[case] decision: Decision, #[case] after: f32) {
    let (mut world, wall, mut balls) = wall_and_ball(vec2(before, 0.0));
    let mut at = None;
    for tick in 0u8..12 {
        world.move_at(wall, vec2(30.0, 0.0));
        tick_balls(&mut balls, 1.0 / 30.0, &mut world, |_, impact| {
            assert!(at.is_none(), "once only");
            at = Some(f32::from(tick) / 30.0 + impact.seconds);
            decision
        });
        world.advance(1.0 / 30.0);
    }
    assert_eq!(at.is_some(), before < 30.0);
    // Three units apart.
    assert!(at.is_none_or(|at| (at - 3.0 / (30.0 - before)).abs() < 1e-5), "{at:?}");
    assert!((balls[0].velocity - vec2(after, 0.0)).length() < 1e-4, "{}", balls[0].velocity);
}

/// A leaf that walks up from a stand until its key is released, and brakes then.
#[derive(Debug, Clone, Copy)]
struct Rise {
    accelerates: f32,
    top: f32,
    /// Until when its key is held, in seconds: the end of a tick.
    held: f32,
    /// In ticks per second.
    rate: u8,
}

/// How fast it brakes, in units/s².
const BRAKES: f32 = 150.0;

fn any_rise() -> impl Strategy<Value = Rise> {
    let rates = prop::sample::select(vec![8u8, 14, 30, 60, 240]);
    (60.0f32..600.0, 20.0f32..300.0, 0.02f32..0.5, rates).prop_map(|(accelerates, top, held, rate)| {
        let held = (held * f32::from(rate)).ceil() / f32::from(rate);
        Rise { accelerates, top, held, rate }
    })
}

impl Rise {
    /// How fast it is after some seconds.
    fn speed(&self, at: f32) -> f32 {
        let fastest = self.top.min(self.accelerates * at.min(self.held));
        (fastest - BRAKES * (at - self.held).max(0.0)).max(0.0)
    }

    /// Plays a second in which a ball falls on it, beside a post or not: how the ball ends, and when it has met the leaf, how, and
    /// with which velocity after.
    fn play(
        &self,
        falls: f32,
        post: bool,
        decide: impl Fn(bool) -> Decision,
    ) -> (Ball, Vec<(f32, Impact, Vec2)>) {
        let (shape, mut world, posts) = (Footprint::rect(16.0, 2.0).unwrap(), World::new(), Layers::bit(3));
        let gait = Gait::new(self.top, self.accelerates, BRAKES).unwrap();
        let mut leaf = Walker::new(vec2(0.0, 250.0), shape, gait);
        leaf.mask = !posts;
        if post {
            world.add_on(posts, Solid::box_from_corners(vec2(7.0, 0.0), vec2(9.0, 260.0)).unwrap());
        }
        let wall = world.add(shape.solid_at(leaf.position));
        leaf.own_wall = Some(wall);
        let drop = Footprint::rect(2.0, 2.0).unwrap();
        let mut balls = [Ball::new(vec2(3.0, 245.0), vec2(0.0, falls), drop)];
        let (mut path, mut met, dt) = (Path::default(), Vec::new(), 1.0 / f32::from(self.rate));
        for tick in 0..self.rate {
            let begins = f32::from(tick) * dt;
            let up = if begins < self.held - 0.5 * dt { vec2(0.0, -1.0) } else { Vec2::ZERO };
            let _ = leaf.tick_with_path(Intent::new(up), dt, &world, &mut path);
            assert!(world.follow(wall, &path));
            let decide = |_: &Ball, impact: &Impact| decide(impact.hit.wall == wall);
            tick_balls_with(&mut balls, dt, &mut world, decide, |event| {
                if let BallEvent::Met { impact, after, .. } = event {
                    if impact.hit.wall == wall {
                        met.push((begins + impact.seconds, impact, after));
                    }
                }
            });
            world.advance(dt);
            let depth = balls[0].position.y + 2.0 - leaf.position.y;
            assert!(depth < 1e-3 || (balls[0].position.x - leaf.position.x).abs() >= 9.0, "{depth} deep");
        }
        let [ball] = balls;
        (ball, met)
    }
}

properties! {
    200;

    /// A round leaf that speeds up is met on its path: at the instant and with the normal of the exact solution.
    #[test]
    fn a_round_leaf_that_speeds_up_is_met_on_its_path(
        while_it_speeds_up >= 60, at_full_speed >= 30;
        (turn, side) in (0.0f32..6.3, 0.0f32..6.3), (top, rate_of_gain) in (60.0f32..240.0, 100.0f32..800.0), at in 0.05f64..0.8,
        comes in (-200.0f32..200.0, -200.0f32..200.0), rate in prop::sample::select(vec![7u8, 60, 240]),
    ) {
        let (intent, start, velocity) = (Intent::new(Vec2::from_angle(turn)), vec2(310.3, 205.7), vec2(comes.0, comes.1));
        let wanted = (intent.vector() * top).as_dvec2();
        let gained = wanted.length() / f64::from(rate_of_gain);
        let leaf_at = |time: f64| {
            let then = time.min(gained);
            let speed = wanted * (then / gained);
            (start.as_dvec2() + speed * (time - 0.5 * then), speed)
        };
        let normal = Vec2::from_angle(side);
        let from = (leaf_at(at).0 + (normal * 17.0).as_dvec2() - velocity.as_dvec2() * at).as_vec2();
        let seen = |time: f64| {
            let (place, speed) = leaf_at(time);
            let (apart, nears) = (from.as_dvec2() + velocity.as_dvec2() * time - place, speed - velocity.as_dvec2());
            (apart, apart.length() - 17.0, nears.dot(apart.normalize()))
        };
        // Newton's method; the place is rounded.
        let exact = (0..9).fold(at, |time, _| time + seen(time).1 / seen(time).2);
        let (apart, _, nears) = seen(exact);
        prop_assume!(nears > 20.0 && (0..999).all(|part| seen(exact * f64::from(part) / 1e3).1 > 0.0));

        let (mut world, shape) = (World::new(), Footprint::circle(14.0).unwrap());
        let mut leaf = Walker::new(start, shape, Gait::new(top, rate_of_gain, 1.0).unwrap());
        let wall = world.add(shape.solid_at(start));
        leaf.own_wall = Some(wall);
        let mut balls = [Ball::new(from, velocity, Footprint::circle(3.0).unwrap())];
        let (mut path, mut met, mut now, dt) = (Path::default(), None, 0.0, 1.0 / f32::from(rate));
        while met.is_none() && now < 1.0 {
            let _ = leaf.tick_with_path(intent, dt, &world, &mut path);
            assert!(world.follow(wall, &path));
            tick_balls(&mut balls, dt, &mut world, |_, impact| {
                met = met.or(Some((now + f64::from(impact.seconds), impact.hit.normal)));
                Decision::bounce(1.0)
            });
            world.advance(dt);
            now += f64::from(dt);
        }
        let (seconds, normal) = met.unwrap();
        let (late, turned) = ((seconds - exact) * nears, normal.as_dvec2() - apart / 17.0);
        prop_assert!(late.abs() < 4e-6 && turned.length() < 5e-7, "{late} units late, {turned} turned");
        while_it_speeds_up.when(exact < gained);
        at_full_speed.when(exact > gained);
    }

    /// A leaf pushes a ball until it brakes, or until the ball is past its end, and leaves it with the velocity that it has at that
    /// instant, also if the ball bounces off a post meanwhile. If it brakes already, that is the instant of the hit.
    #[test]
    fn what_a_paddle_has_pushed_has_its_velocity(
        slid_off >= 30, kept_until_it_brakes >= 30, off_a_post >= 15, sent_up_there >= 15, braked >= 15, at_full_speed >= 15;
        rise in any_rise(), falls in 4.0f32..20.0, aside in 2.0f32..80.0, post in prop::sample::select(vec![None, Some(false), Some(true)]),
    ) {
        let (ball, met) = rise.play(falls, post.is_some(), |is_leaf| match post {
            // Slower than the leaf.
            _ if is_leaf => Decision::deflect(vec2(aside, -0.1)),
            Some(true) => Decision::deflect(vec2(-aside, -400.0)),
            _ => Decision::bounce(1.0),
        });
        let [(at, ref impact, _)] = met[..] else { panic!("{met:?}") };
        let (speed, held) = (-impact.hit.velocity.y, rise.held);
        prop_assert!((speed - rise.speed(at)).abs() < 3e-3, "{speed} at {at}");
        prop_assert!((impact.lies.min.y - impact.hit.point.y).abs() < 2e-3, "{impact:?}");
        // To the post and back past the other end, or past the end on this side.
        let slides = if post.is_some() { 6.0 - 3.0 + 6.0 + 9.0 } else { 9.0 - 3.0 };
        let (leaves, at_the_post) = (at + slides / aside, at + 3.0 / aside);
        let pushed = rise.speed(leaves.min(held).max(at)).max(0.1);
        let is_sent_up = post == Some(true) && at_the_post < 0.98;
        let wanted = if is_sent_up { 400.0 } else { pushed };
        let left = -ball.velocity.y;
        prop_assert!((left - wanted).abs() < 6e-3, "{left} instead of {wanted}: met at {at}, left at {leaves}");
        let speeds_up = pushed < rise.top && at < held;
        slid_off.when(leaves < held && speeds_up && post != Some(true));
        kept_until_it_brakes.when(leaves > held && speeds_up);
        off_a_post.when(post == Some(false) && at_the_post < leaves.min(held) && speeds_up);
        sent_up_there.when(is_sent_up && at_the_post < leaves.min(held));
        braked.when(at > held && speed > 1.0);
        at_full_speed.when(at < held && pushed == rise.top);
    }

    /// Off a leaf that speeds up or brakes a ball bounces as off a wall with the velocity of that instant.
    #[test]
    fn a_bounce_off_a_paddle_takes_its_velocity_at_that_instant(
        speeds_up >= 60, braked >= 15; rise in any_rise(), falls in 4.0f32..20.0,
    ) {
        let (_, met) = rise.play(falls, false, |_| Decision::bounce(1.0));
        let (at, ref impact, after) = met[0];
        let wanted = -2.0 * rise.speed(at) - impact.velocity.y;
        prop_assert!((after.y - wanted).abs() < 6e-3, "{after} instead of {wanted} at {at}");
        speeds_up.when(at < rise.held && rise.speed(at) < rise.top);
        braked.when(at > rise.held && rise.speed(at) > 1.0);
    }

    /// Between walls that close a ball bounces until there is no room, however they move and whatever the tick is: it is squeezed then,
    /// and lies where they meet.
    #[test]
    fn between_walls_that_close_a_ball_is_squeezed_when_no_room_is_left(
        squeezed_late >= 150;
        comes in 5.0f32..200.0, other in -0.5f32..1.0, start in [-8.0f32..8.0, -8.0f32..8.0], flies in [-200.0f32..200.0, -20.0f32..20.0],
        restitution in 0.0f32..1.0, rate in prop::sample::select(vec![7u16, 30, 60, 240, 1000]),
    ) {
        let mut world = World::new();
        let tall = |x: f32| Solid::box_from_corners(vec2(x, -500.0), vec2(x + 2.0, 500.0)).unwrap();
        // The second one comes, too, or goes away more slowly.
        let (first, second) = (vec2(comes, 0.0), vec2(-comes * other, 0.0));
        let walls = [world.add(tall(-12.0)), world.add(tall(10.0))];
        let mut balls = [Ball::new(Vec2::from(start), Vec2::from(flies), Footprint::circle(1.0).unwrap())];
        // There is room for 18 units.
        let lasts = 18.0 / (first.x - second.x);
        let (dt, mut squeezed) = (1.0 / f32::from(rate), None);
        for tick in 0u16.. {
            let begins = f32::from(tick) * dt;
            if squeezed.is_some() || begins > lasts + 0.2 {
                break;
            }
            world.move_at(walls[0], first);
            world.move_at(walls[1], second);
            let bounce = |_: &Ball, _: &_| Decision::bounce(restitution);
            let tick = tick_balls_with(&mut balls, dt, &mut world, bounce, |event| {
                if let BallEvent::Squeezed { squeeze, .. } = event {
                    squeezed = Some(begins + squeeze.seconds);
                }
            });
            prop_assert_eq!(tick.unplayed_seconds, 0.0);
            world.advance(dt);
        }
        let at = squeezed.expect("it is squeezed");
        // A thousandth of a unit is no room.
        let slack = 2e-3 / (first.x - second.x) + 1e-5;
        prop_assert!((at - lasts).abs() < slack, "{at} instead of {lasts}");
        let wanted = vec2(-9.0 + first.x * lasts, start[1] + flies[1] * lasts);
        prop_assert!(balls[0].position.distance(wanted) < 0.01, "{} instead of {wanted}", balls[0].position);
        squeezed_late.when(rate < 1000);
    }
}

/// One that is squeezed says between which walls and when, and can be served again.
#[test]
fn between_a_door_and_a_post_a_ball_is_squeezed() {
    let (mut world, door, _) = wall_and_ball(Vec2::ZERO);
    let post = world.add(Solid::box_from_corners(vec2(20.0, -5.0), vec2(22.0, 5.0)).unwrap());
    let mut balls = [Ball::new(vec2(10.0, 0.0), vec2(40.0, 0.0), Footprint::circle(1.0).unwrap())];
    world.move_at(door, vec2(20.0, 0.0));
    let mut squeezed = None;
    tick_balls_with(
        &mut balls,
        1.2,
        &mut world,
        |_, _| Decision::bounce(0.5),
        |event| {
            if let BallEvent::Squeezed { squeeze, .. } = event {
                squeezed = Some((squeeze.by, squeeze.against, (squeeze.seconds * 1e3).round()));
            }
        },
    );
    // There is room for 16 units.
    assert_eq!(squeezed, Some((door, post, 800.0)));
    assert_eq!((balls[0].state(), balls[0].velocity), (BallState::Squeezed, Vec2::ZERO));
    balls[0].serve(vec2(30.0, 0.0), vec2(1.0, 0.0));
    assert!(balls[0].is_in_play());
}

/// A leaf that lies in a wall that moves is moved out of it at one instant, and takes a ball along that is in its way.
#[rstest]
fn a_paddle_that_is_moved_out_flings_nothing(
    #[values(7u8, 60, 240)] rate: u8,
    #[values(0.0, 1.0)] restitution: f32,
) {
    let shape = Footprint::rect(16.0, 8.0).unwrap();
    let mut world = World::new();
    let bed = Layers::bit(2);
    let door = world.add_on(bed, Solid::box_from_corners(vec2(-20.0, 10.0), vec2(20.0, 30.0)).unwrap());
    // Four units deep.
    let mut leaf = Walker::new(vec2(0.0, 10.0), shape, Pace::new(20.0).unwrap());
    let wall = world.add(shape.solid_at(leaf.position));
    leaf.own_wall = Some(wall);
    let mut balls = [Ball::new(vec2(2.0, 4.0), Vec2::ZERO, Footprint::circle(1.0).unwrap())];
    balls[0].mask = !bed;
    let (mut path, mut moved_out, dt) = (Path::default(), Vec2::ZERO, 1.0 / f32::from(rate));
    for _ in 0..2 {
        world.move_at(door, vec2(1.0, 0.0));
        moved_out += leaf.tick_with_path(Intent::new(vec2(1.0, 0.0)), dt, &world, &mut path).moved_out;
        assert!(world.follow(wall, &path));
        tick_balls(&mut balls, dt, &mut world, |_, _| Decision::bounce(restitution));
        world.advance(dt);
    }
    assert!((moved_out - vec2(0.0, -4.0)).length() < 1e-3, "{moved_out}");
    assert!(balls[0].velocity.length() < 1e-3, "{}", balls[0].velocity);
    assert!((balls[0].position.y - 1.0).abs() < 0.01, "{}", balls[0].position);
}

/// Where a wall turns before no room is left, the ball that it has pushed flies on, and lies on no wall.
#[rstest]
fn between_walls_that_turn_before_they_meet_a_ball_flies_on(#[values(0.5, 0.3, 0.1, 0.03)] room: f32) {
    let mut rattled = 0;
    for speed in (300u16..2000).step_by(37) {
        let mut world = World::new();
        let _ = world.add(Solid::box_from_corners(vec2(20.0, -5.0), vec2(22.0, 5.0)).unwrap());
        let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0)).unwrap());
        let ball = Ball::new(vec2(10.0, 0.0), vec2(f32::from(speed), 0.0), Footprint::circle(1.0).unwrap());
        let (mut balls, mut met) = ([ball], 0);
        let lasts = (16.0 - room) / 20.0;
        for way in [20.0, -20.0] {
            for _ in 0..8 {
                world.move_at(door, vec2(way, 0.0));
                tick_balls(&mut balls, lasts / 8.0, &mut world, |_, _| {
                    met += 1;
                    Decision::bounce(1.0)
                });
                world.advance(lasts / 8.0);
            }
        }
        assert!(balls[0].is_in_play() && balls[0].velocity.x.abs() > 1e-3, "{speed}: {}", balls[0].velocity);
        rattled += usize::from(balls[0].velocity.x.abs() < 30.0);
    }
    assert!(rattled > 40, "{rattled}");
}

/// Off a wall that stands a ball bounces at any speed; with one that moves it goes on when it comes more slowly than 0.01
/// units/s, without an impact.
#[rstest]
#[case::stands(0.0)]
#[case::moves(-3.0)]
fn a_ball_bounces_off_a_standing_wall_at_any_speed(
    #[case] of_wall: f32,
    #[values(1e-1, 1.1e-2, 0.9e-2, 1e-4)] inward: f32,
    #[values(0.5, 1.0)] restitution: f32,
) {
    let mut world = World::new();
    let wall = world.add(Solid::box_from_corners(vec2(-9.0, -5.0), vec2(-1.0, 5.0)).unwrap());
    world.move_at(wall, vec2(of_wall, 0.0));
    // It lies against the wall, so that rounding has no way to change the speed that is left.
    let mut balls = [Ball::new(Vec2::ZERO, vec2(of_wall - inward, 0.0), Footprint::circle(1.0).unwrap())];
    let mut impacts = 0;
    tick_balls(&mut balls, 0.1, &mut world, |_, _| {
        impacts += 1;
        Decision::bounce(restitution)
    });
    let bounces = of_wall == 0.0 || inward > 1e-2;
    let (leaves, speed) = (inward * if bounces { restitution } else { 0.0 }, balls[0].velocity.x - of_wall);
    assert!(impacts == u32::from(bounces) && (speed - leaves).abs() < 1e-5, "{impacts} {speed} {leaves}");
}

properties! {
    300;

    /// A tick in which a ball or a projectile meets nothing is like any other: two walls far away on both sides, with which every
    /// tick is played in full, since the box round them is everywhere, change not one bit.
    #[test]
    fn walls_far_away_change_no_flight(
        free_ticks >= 6000, met >= 4000, ended >= 2000;
        seed in any::<u64>(), grid in random_map(), footprint in any_footprint(),
    ) {
        let mut dice = Dice::new(seed);
        let rules = [EdgeRule::Block, EdgeRule::Wrap, EdgeRule::Open];
        let mut worlds = [(); 2].map(|()| World::new());
        if dice.pick(3) > 0 {
            worlds = worlds.map(|world| world.with_map(grid.clone()));
        }
        if dice.pick(3) > 0 {
            let area = PlayArea::new(vec2(-7.0, -6.0), vec2(6.0, 8.0)).unwrap().with_all(rules[dice.pick(3)]);
            worlds = worlds.map(|world| world.with_play_area(area));
        }
        for side in [-1.0, 1.0] {
            worlds[1].add(Solid::circle(vec2(9e3, -8e3) * side, 1.0).unwrap());
        }
        let mut place = || vec2(dice.number(-4.0, 4.0), dice.number(-4.0, 4.0));
        let fields = [(); 3].map(|()| (place(), place()));
        let balls = fields.map(|(from, velocity)| Ball::new(from, velocity, footprint));
        let shots = fields.map(|(from, at)| Projectile::aimed(from, at, 5.0, footprint).unwrap());
        let shots = [shots[0], shots[1].with_range(4.0).unwrap(), shots[2].with_time(0.7).unwrap()];
        let (mut balls, mut shots) = ([balls; 2], [shots; 2]);
        for _ in 0..30 {
            let mut seen = [(); 2].map(|()| (Vec::new(), Vec::new()));
            for (side, (impacts, events)) in seen.iter_mut().enumerate() {
                let (world, dt) = (&mut worlds[side], 0.05);
                let bounce = |_: &Ball, _: &_| Decision::bounce(1.0);
                let _ = tick_balls_with(&mut balls[side], dt, world, bounce, |event| impacts.push(event));
                let decide = |shot: &Projectile, _: &_| shot.decision();
                tick_projectiles(&mut shots[side], dt, world, decide, |event| events.push(event));
                met.add(impacts.len());
                ended.add(events.len());
            }
            free_ticks.when(seen[0].0.is_empty());
            prop_assert_eq!(&seen[0], &seen[1]);
            prop_assert!(balls[0] == balls[1] && shots[0] == shots[1], "{balls:?} {shots:?}");
        }
    }

    /// Off a corner or a round wall a ball bounces as it does from its exact place, far from the origin, too: the position after a
    /// tick, which is rounded, would turn the normal by up to some hundred-thousandths.
    #[test]
    fn off_a_corner_a_ball_bounces_from_its_exact_place(
        off_a_box >= 30, off_a_tile >= 30, off_a_round_wall >= 30, off_one_that_drifts >= 30, with_a_square >= 30, flat_on_a_tile >= 30;
        kind in 0usize..6, corner in (100u16..400, 100u16..400), radius in 0.5f32..2.0,
        outward in 0.2f32..1.3, aside in -1.0f32..1.0, speed in 10.0f32..80.0, back in 3.0f32..9.0,
        drift in (-20.0f32..20.0, -20.0f32..20.0), rate in prop::sample::select(vec![60.0f32, 144.0, 1000.0]),
    ) {
        let corner = vec2(f32::from(corner.0), f32::from(corner.1));
        let (mut world, ball) = (World::new(), Footprint::circle(radius).unwrap());
        let bed = Aabb { min: corner - vec2(30.0, 0.0), max: corner + vec2(0.0, 30.0) };
        let map = TileGrid::from_rows(&["#"], &Legend::new().with('#', TileKind::wall("bed"))).unwrap();
        let urn = 1.5f64;
        let wall = match kind {
            0 => Some(world.add(Solid::from_area(bed).unwrap())),
            1 | 5 => {
                let map = map.with_tile_size(30.0).unwrap().with_outside(Outside::Open);
                world.add_map(map.with_origin(bed.min).unwrap());
                None
            }
            _ => Some(world.add(Solid::circle(corner, 1.5).unwrap())),
        };
        // How near the ball's middle gets to a point beside the corner.
        let (ball, beside, reach) = match kind {
            0 | 1 => (ball, Vec2::ZERO, f64::from(radius)),
            2 | 3 => (ball, Vec2::ZERO, f64::from(radius) + urn),
            4 => (Footprint::rect(2.0 * radius, 2.0 * radius).unwrap(), vec2(radius, -radius), urn),
            _ => (Footprint::rect(2.0 * radius, 2.0 * radius).unwrap(), vec2(-15.0, 0.0), f64::from(radius)),
        };
        let point = corner.as_dvec2() + beside.as_dvec2();
        let drift = if kind == 3 { vec2(drift.0, drift.1) } else { Vec2::ZERO };
        let normal = if kind == 5 { Vec2::NEG_Y } else { vec2(outward.cos(), -outward.sin()) };
        let comes = Vec2::from_angle(aside).rotate(-normal) * speed;
        let start = (point + normal.as_dvec2() * reach).as_vec2() - comes * (back / speed);
        let velocity = comes + drift;
        // It meets where |from + comes * time| = reach, or on a side (from + comes * time) . normal = reach.
        let (from, comes) = (start.as_dvec2() - point, velocity.as_dvec2() - drift.as_dvec2());
        let toward = -from.dot(comes) / comes.length_squared();
        let nearest = from + comes * toward;
        let round = toward - ((reach * reach - nearest.length_squared()) / comes.length_squared()).sqrt();
        let time = if kind == 5 { (reach + from.y) / -comes.y } else { round };
        let normal = if kind == 5 { DVec2::NEG_Y } else { (from + comes * time) / reach };
        let expected = velocity.as_dvec2() - normal * (2.0 * comes.dot(normal));
        // A wall that moves is met as soon as it is as near as a touch.
        let last_way = (time * f64::from(rate)).fract() / f64::from(rate) * f64::from(speed);
        prop_assume!(kind != 3 || last_way > 1e-3);

        let mut balls = [Ball::new(start, velocity, ball)];
        let (mut hits, mut met, dt) = (0, f64::NAN, 1.0 / rate);
        let ticks = core::iter::successors(Some(0.0), |now| Some(now + f64::from(dt)));
        for now in ticks.take_while(|now| *now < time + 0.01) {
            wall.iter().for_each(|wall| assert!(drift == Vec2::ZERO || world.move_at(*wall, drift)));
            tick_balls(&mut balls, dt, &mut world, |_, impact| {
                (hits, met) = (hits + 1, now + f64::from(impact.seconds));
                Decision::bounce(1.0)
            });
            world.advance(dt);
        }
        prop_assert!(hits == 1 && (met - time).abs() < 1e-8, "{hits} at {met}, not at {time}");
        let off = (balls[0].velocity.as_dvec2() - expected).length();
        prop_assert!(off <= 4e-7 * f64::from(speed + drift.length()), "{off} units/s off, for the normal {normal}");
        let reached =
            [&off_a_box, &off_a_tile, &off_a_round_wall, &off_one_that_drifts, &with_a_square, &flat_on_a_tile];
        reached[kind].add(1);
    }
}

/// A ball that moves fast along a wall and comes to it slowly, from nearer than a touch, meets it where it is at that instant.
#[rstest]
fn a_ball_as_near_as_a_touch_meets_the_wall_where_it_gets_to_it(#[values(1u16, 60)] ticks: u16) {
    let mut world = World::new();
    world.add(Solid::box_from_corners(vec2(-20.0, 64.0), vec2(90.0, 70.0)).unwrap());
    // One rounding step from the wall, 0.1 ms at this speed.
    let start = vec2(8.0, 63.0 - 63.0 * f32::EPSILON);
    let gap = f64::from(63.0 - start.y);
    let mut balls = [Ball::new(start, vec2(36.0, 0.06), Footprint::circle(1.0).unwrap())];
    let mut met = Vec::new();
    for _ in 0..ticks {
        tick_balls(&mut balls, 0.1 / f32::from(ticks), &mut world, |_, impact| {
            met.push((impact.seconds, impact.hit.position, impact.hit.point));
            Decision::bounce(1.0)
        });
    }
    let [(seconds, position, point)] = met[..] else { panic!("{met:?}") };
    assert!((f64::from(seconds) - gap / 0.06).abs() < 1e-6, "{seconds}");
    let x = 8.0 + 36.0 * seconds;
    assert!((position.x - x).abs() < 1e-5 && point == vec2(position.x, 64.0), "{position} {point}, not {x}");
}

/// A wall that a ball passes through does not push it, neither at once nor in a later tick.
#[rstest]
fn a_wall_that_a_ball_passes_through_does_not_push_it(#[values(1u16, 7, 60)] ticks: u16) {
    let (mut world, wall, mut balls) = wall_and_ball(vec2(4.0, 0.0));
    let (velocity, mut met, dt) = (balls[0].velocity, 0, 1.0 / f32::from(ticks));
    for _ in 0..ticks {
        assert!(world.move_at(wall, vec2(30.0, 0.0)));
        tick_balls(&mut balls, dt, &mut world, |_, _| {
            met += 1;
            Decision::PASS_THROUGH
        });
        world.advance(dt);
    }
    assert_eq!((met, balls[0].velocity), (1, velocity));
}

/// A leaf that reaches a ball at the very end of a tick hits it then or at the start of the next one, once.
#[rstest]
fn a_hit_at_the_end_of_a_tick_is_one(#[values(1u16, 2, 4, 8)] ticks: u16, #[values(0.0, 2e-6)] nearer: f32) {
    let mut world = World::new();
    let shape = Footprint::rect(8.0, 10.0).unwrap();
    let mut leaf = Walker::new(vec2(-6.0, 0.0), shape, Pace::new(1024.0).unwrap());
    let wall = world.add(shape.solid_at(leaf.position));
    leaf.own_wall = Some(wall);
    let start = vec2(16.0 - nearer, 0.0);
    let mut balls = [Ball::new(start, Vec2::ZERO, Footprint::rect(4.0, 4.0).unwrap())];
    // 16 units in a 64th of a second, or 2 billionths of a second less, and on.
    let (mut path, mut met, dt) = (Path::default(), 0, 1.0 / 64.0 / f32::from(ticks));
    for _ in 0..=ticks {
        let _ = leaf.tick_with_path(Intent::new(vec2(1.0, 0.0)), dt, &world, &mut path);
        assert!(world.follow(wall, &path));
        tick_balls(&mut balls, dt, &mut world, |_, _| {
            met += 1;
            Decision::bounce(1.0)
        });
        world.advance(dt);
    }
    assert_eq!((met, balls[0].velocity), (1, vec2(2048.0, 0.0)));
}

/// In a wedge that closes, a ball that hardly bounces slides out.
#[test]
fn out_of_a_wedge_that_closes_a_ball_slides() {
    let mut world = World::new();
    let slope = ambulant::shape::Polygon::new(&[
        vec2(6.0, -30.0),
        vec2(30.0, -30.0),
        vec2(30.0, 30.0),
        vec2(18.0, 30.0),
    ]);
    world.add(slope.unwrap().into());
    let door = world.add(Solid::box_from_corners(vec2(-4.0, -30.0), vec2(2.0, 30.0)).unwrap());
    let mut balls = [Ball::new(vec2(6.0, 0.0), Vec2::ZERO, Footprint::circle(1.0).unwrap())];
    let mut impacts = 0;
    for _ in 0..100 {
        world.move_at(door, vec2(6.0, 0.0));
        tick_balls(&mut balls, 1.0 / 60.0, &mut world, |_, _| {
            impacts += 1;
            Decision::bounce(0.0)
        });
        world.advance(1.0 / 60.0);
        assert!(
            balls[0].is_in_play()
                && !world.overlaps(&balls[0].footprint, balls[0].position, &WallFilter::ALL)
        );
    }
    // The slope turns a push of 6 units/s by its tangent of 1/5: 30 units/s along the door.
    assert!((balls[0].velocity - vec2(6.0, 30.0)).length() < 0.1, "{}", balls[0].velocity);
    assert!(impacts < 20, "{impacts}");
}

/// Which ball breaks a pane depends on neither the tick nor the order of the list.
#[test]
fn who_comes_first_breaks_the_pane() {
    let mut several = 0;
    for seed in 0..300 {
        let mut dice = Dice::new(seed);
        let mut world = World::new();
        for _ in 0..6 {
            let at = vec2(dice.number(-20.0, 20.0), dice.number(-20.0, 20.0));
            let pane = world.add(Solid::box_from_corners(at, at + vec2(4.0, 3.0)).unwrap());
            world.set_wall_hits(pane, 1);
            world.move_at(pane, vec2(dice.number(-9.0, 9.0), dice.number(-9.0, 9.0)));
        }
        let footprint = Footprint::circle(0.5).unwrap();
        let mut balls: Vec<Ball> = Vec::new();
        while balls.len() < 5 {
            let at = vec2(dice.number(-25.0, 25.0), dice.number(-25.0, 25.0));
            let velocity = (-at).normalize() * dice.number(20.0, 120.0);
            if !world.overlaps(&footprint, at, &WallFilter::ALL) {
                balls.push(Ball::new(at, velocity, footprint));
            }
        }
        let play = |balls: &mut [Ball]| {
            let (mut world, mut broken) = (world.clone(), Vec::new());
            let bounce = |_: &Ball, _: &_| Decision::bounce(1.0).hitting_wall();
            tick_balls_with(balls, 0.5, &mut world, bounce, |event| {
                if let BallEvent::Met { impact, broke: true, .. } = event {
                    broken.push((impact.hit.wall, impact.seconds));
                }
            });
            broken
        };
        let (mut one, mut other) = (balls.clone(), balls.iter().rev().copied().collect::<Vec<_>>());
        let (broken, again) = (play(&mut one), play(&mut other));
        other.reverse();
        assert!(broken == again && one == other, "seed {seed}");
        several += u32::from(broken.len() > 2);
    }
    assert!(several > 100, "{several}");
}

/// A rock that drifts over a slow pebble hits it; the pebble reports which, and when.
#[rstest]
fn a_rock_that_drifts_over_a_projectile_hits_it(#[values(7.0, 60.0, 1000.0)] rate: f32) {
    let mut world = World::new();
    let rock = world.add(Solid::circle(vec2(-20.0, 0.0), 3.0).unwrap());
    world.set_tag(rock, 9);
    let mut pebble =
        Projectile::aimed(Vec2::ZERO, vec2(1.0, 0.0), 4.0, Footprint::circle(1.0).unwrap()).unwrap();
    let mut begins = 0.0;
    let end = loop {
        world.move_at(rock, vec2(20.0, 0.0));
        if let Some(end) = pebble.tick(1.0 / rate, &world) {
            break end;
        }
        world.advance(1.0 / rate);
        begins += 1.0 / rate;
    };
    let FlightEnd::Hit { hit, seconds } = end else { panic!("{end:?}") };
    assert_eq!((hit.wall, hit.tag, hit.velocity, hit.normal), (rock, 9, vec2(20.0, 0.0), vec2(1.0, 0.0)));
    assert!(
        (begins + seconds - 1.0).abs() < 1e-4 && (pebble.position().x - 4.0).abs() < 1e-3,
        "{begins} {seconds}"
    );
}

/// Projectiles follow the edge rules as balls do.
#[rstest]
#[case::wraps(EdgeRule::Wrap, 0)]
#[case::bounces(EdgeRule::Bounce, 1)]
#[case::leaves(EdgeRule::Open, 0)]
fn at_the_edges_a_projectile_does_as_a_ball(#[case] rule: EdgeRule, #[case] bounces: u32) {
    let area = PlayArea::new(Vec2::ZERO, vec2(40.0, 30.0)).unwrap().with(Side::Right, rule);
    let mut world = World::new().with_play_area(area);
    let footprint = Footprint::circle(1.0).unwrap();
    let mut balls = [Ball::new(vec2(30.0, 15.0), vec2(50.0, 0.0), footprint)];
    let aimed = Projectile::aimed(vec2(30.0, 15.0), vec2(31.0, 15.0), 50.0, footprint).unwrap();
    let (mut alone, mut listed) = (aimed.with_bounces(bounces), [aimed.with_bounces(bounces)]);
    tick_balls(&mut balls, 0.3, &mut world, |_, _| Decision::bounce(1.0));
    let end = alone.tick(0.3, &world);
    let mut told = None;
    tick_projectiles(
        &mut listed,
        0.3,
        &mut world,
        |pebble, _| pebble.decision(),
        |event| {
            told = match event {
                ProjectileEvent::Ended { end, .. } => Some(end),
                _ => None,
            };
        },
    );
    assert_eq!((alone.position(), listed[0].position()), (balls[0].position, balls[0].position));
    assert_eq!((listed[0], told), (alone, end));
    let left =
        matches!(end, Some(FlightEnd::Left { side: Side::Right, seconds }) if (seconds - 0.22).abs() < 1e-4);
    assert_eq!(left, rule == EdgeRule::Open);
}

/// A paddle that speeds up or brakes hits a ball with its velocity at that instant, at any tick rate, and not with the mean of
/// a piece of its path. Where a post stops it across, its velocity jumps.
#[test]
fn a_paddle_hits_with_its_velocity_at_that_instant() {
    let (mut hits, mut stopped, mut worst) = (0, 0, 0.0f32);
    for seed in some_of(0..240) {
        let mut dice = Dice::new(seed);
        let ticks = [3u16, 12, 24, 96][dice.pick(4)];
        let dt = 0.4 / f32::from(ticks);
        let gait = Gait::new(dice.number(60.0, 200.0), 1200.0, 1500.0).unwrap();
        let mut world = World::new();
        let mut leaf = Walker::new(Vec2::ZERO, Footprint::rect(50.0, 10.0).unwrap(), gait);
        let wall = world.add(leaf.footprint.solid_at(leaf.position));
        leaf.own_wall = Some(wall);
        let has_post = dice.pick(2) == 0;
        if has_post {
            let at = 25.0 + dice.number(0.5, 12.0);
            world.add(Solid::box_from_corners(vec2(at, -200.0), vec2(at + 5.0, 200.0)).unwrap());
        }
        let mut drop = || {
            let start = vec2(dice.number(-20.0, 20.0), -dice.number(20.0, 60.0));
            let speed = vec2(dice.number(-20.0, 20.0), dice.number(150.0, 300.0));
            Ball::new(start, speed, Footprint::circle(2.0).unwrap())
        };
        let mut drops = [(); 20].map(|()| drop());
        let mut path = Path::default();
        let ways = match has_post {
            true => [vec2(0.8, dice.number(-0.6, 0.6)); 3],
            false => [Vec2::X, Vec2::NEG_X, Vec2::ZERO],
        };
        let first = dice.pick(3);
        let wish = |step: u16| Intent::new(ways[(usize::from(step) / 2 + first) % 3]);
        for step in 0..ticks {
            let before = leaf;
            let standing = world.clone();
            let _ = leaf.tick_with_path(wish(step), dt, &world, &mut path);
            world.follow(wall, &path);
            let _ = tick_balls(&mut drops, dt, &mut world, |_, impact| {
                let mut then = before;
                let _ = then.tick(wish(step), impact.seconds, &standing);
                let off = PaddleHit::of(impact).paddle_velocity.distance(then.velocity);
                // The first instants of a tick are where a change of the keys acts.
                if impact.hit.wall == wall && impact.seconds > 1e-3 && then.velocity != before.velocity {
                    (hits, worst) = (hits + 1, worst.max(off));
                    stopped += u32::from(has_post && then.velocity.x == 0.0);
                }
                Decision::bounce(1.0)
            });
            world.advance(dt);
        }
    }
    assert!(hits > share(1000) && stopped > share(100), "{hits} {stopped}");
    assert!(worst < 1e-3, "{worst} units/s off in {hits} hits");
}
