//! Round walls and steered movers against walls, compared with an independent integration in tiny steps.

use ambulant::direction::Angle;
use ambulant::drive::{AnyDrive, Drag, Glide, Helm, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::World;
use glam::{DVec2, dvec2};
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// A step of the reference, in seconds.
const STEP: f64 = 2e-5;

/// What the reference knows of a drive: top speed, rate, drag, grip and turn rate.
#[derive(Debug, Clone, Copy)]
enum Rule {
    Pace,
    Gait(f64),
    Glide(f64, f64),
    Helm { thrust: f64, drag: f64, grip: f64, turn: f64 },
}

/// A mover on a circle round the origin: its normal, its speed along `normal.perp()`, its heading.
#[derive(Debug, Clone, Copy)]
struct OnCircle {
    angle: f64,
    speed: f64,
    heading: f64,
}

impl OnCircle {
    fn normal(&self) -> DVec2 {
        dvec2(self.angle.cos(), self.angle.sin())
    }

    /// The acceleration of the drive without the wall.
    fn acceleration(&self, rule: Rule, wanted: DVec2) -> DVec2 {
        let velocity = self.normal().perp() * self.speed;
        match rule {
            Rule::Pace => (wanted - velocity) * 1e9,
            Rule::Gait(rate) => (wanted - velocity).normalize_or_zero() * rate,
            Rule::Glide(thrust, drag) => wanted * thrust - velocity * drag,
            Rule::Helm { thrust, drag, grip, .. } => {
                let ahead = dvec2(self.heading.cos(), self.heading.sin());
                let across = ahead.perp();
                ahead * thrust - velocity * drag - across * (velocity.dot(across) * grip.min(1e12))
            }
        }
    }

    /// Whether the drive turns the velocity with the surface.
    fn holds(&self, rule: Rule, wanted: DVec2, radius: f64) -> bool {
        -self.acceleration(rule, wanted).dot(self.normal()) >= self.speed * self.speed / radius
    }

    fn step(&mut self, rule: Rule, wanted: DVec2, radius: f64, seconds: f64) {
        let tangent = self.normal().perp();
        let before = self.speed;
        match rule {
            Rule::Pace => self.speed = wanted.dot(tangent),
            Rule::Gait(rate) => {
                let gap = wanted.dot(tangent) - self.speed;
                self.speed += gap.clamp(-rate * seconds, rate * seconds);
            }
            Rule::Glide(thrust, drag) => {
                self.speed += (thrust * wanted.dot(tangent) - drag * self.speed) * seconds
            }
            Rule::Helm { thrust, drag, turn, .. } => {
                let target = wanted.y.atan2(wanted.x);
                let mut way = target - self.heading;
                way -= (way / core::f64::consts::TAU).round() * core::f64::consts::TAU;
                self.heading += way.clamp(-turn * seconds, turn * seconds);
                let ahead = dvec2(self.heading.cos(), self.heading.sin());
                // The wall takes over from the grip.
                self.speed += (thrust * ahead.dot(tangent) - drag * self.speed) * seconds;
            }
        }
        self.angle += 0.5 * (before + self.speed) * seconds / radius;
    }
}

fn drive_of(kind: usize, speed: f32, dice: &mut Dice) -> (AnyDrive, Rule) {
    let rate = speed * dice.number(2.0, 20.0);
    let drag = dice.number(0.5, 6.0);
    let thrust = speed * drag;
    let per_second = Drag::per_second(drag).unwrap();
    match kind {
        0 => (Pace::new(speed).unwrap().into(), Rule::Pace),
        1 => (Gait::new(speed, rate, rate).unwrap().into(), Rule::Gait(f64::from(rate))),
        2 => {
            let glide = Glide::new(thrust, per_second, 0.0).unwrap();
            (glide.into(), Rule::Glide(f64::from(thrust), f64::from(drag)))
        }
        _ => {
            let turn = dice.number(0.5, 4.0);
            let helm = Helm::new(turn, thrust, per_second, Steering::Toward).unwrap();
            let grip = [0.0, dice.number(0.5, 8.0)][dice.pick(2)];
            let helm = helm.with_grip(grip).unwrap();
            let [thrust, drag, grip, turn] = [thrust, drag, grip, turn].map(f64::from);
            (helm.into(), Rule::Helm { thrust, drag, grip, turn })
        }
    }
}

#[rstest]
#[case::pace(0, 60)]
#[case::gait(1, 60)]
#[case::glide(2, 60)]
#[case::helm(3, 60)]
#[case::gait_in_short_ticks(1, 1000)]
#[case::glide_in_long_ticks(2, 7)]
fn a_mover_rolls_along_a_round_wall_as_in_tiny_steps(#[case] kind: usize, #[case] rate: u32) {
    let (mut rolled, mut left) = (0, 0);
    for seed in some_of(0..60) {
        let mut dice = Dice::new(seed);
        let radius = 0.3 * 10f32.powf(dice.number(0.0, 2.5));
        let own = radius * dice.number(0.2, 0.8);
        let speed = radius * dice.number(0.3, 10.0);
        let (drive, rule) = drive_of(kind, speed, &mut dice);
        let mut posts = World::new();
        posts.add(Solid::circle(Vec2::ZERO, radius - own).unwrap());
        // Off the balance by more than what the last bit of the start decides.
        let pressed = dice.number(-3.1, 3.1);
        let off = dice.number(0.1, 1.0) * if seed % 2 == 0 { 1.0 } else { -1.0 };
        let intent = Intent::new(Vec2::from_angle(pressed));
        let top = if matches!(rule, Rule::Pace | Rule::Gait(_)) { f64::from(speed) } else { 1.0 };
        let wanted = intent.vector().as_dvec2() * top;
        let angle = f64::from(pressed) + core::f64::consts::PI + f64::from(off);
        let mut reference = OnCircle { angle, speed: 0.0, heading: f64::from(pressed) };
        let start = reference.normal() * f64::from(radius);
        let mut walker = Walker::new(start.as_vec2(), Footprint::circle(own).unwrap(), drive);
        walker.set_exact_position(start);
        walker.heading = Angle::from_radians(pressed);
        let dt = 1.0 / rate as f32;
        let (mut clock, mut now) = (0.0, 0.0);
        let radius = f64::from(radius);
        'ticks: for _ in 0..2 * rate {
            let _ = walker.tick(intent, dt, &posts);
            clock += f64::from(dt);
            while now < clock {
                let seconds = STEP.min(clock - now);
                reference.step(rule, wanted, radius, seconds);
                now += seconds;
                if !reference.holds(rule, wanted, radius) {
                    left += 1;
                    break 'ticks;
                }
            }
            rolled += 1;
            let place = walker.exact_position();
            let apart = place.distance(reference.normal() * radius);
            // Near the balance a pace and a gait, which have their wish at once, differ by more.
            let most = radius.max(1.0) * if kind < 2 { 1e-3 } else { 2e-5 };
            assert!(apart < most, "seed {seed}: {apart} apart after {clock} s of {drive:?} on {radius}");
        }
        // On to the end of the tick in which it leaves: not on the wall any more, and not far behind.
        if now < clock {
            let place = walker.exact_position();
            let turned = place.angle_to(reference.normal()).abs();
            let most = (f64::from(dt) * reference.speed.abs() * 1.5 / radius).to_degrees() + 0.05;
            assert!(turned.to_degrees() < most, "seed {seed}: left {} degrees off", turned.to_degrees());
        }
    }
    assert!(rolled > share(60) && left > share(6), "rolled {rolled} ticks, left {left} times of 60");
}

/// On a floor of less grip, a glide rolls round a post like one with as much less thrust and drag.
#[rstest]
fn on_less_grip_a_glide_rolls_with_less_thrust_and_drag(
    #[values(0.25, 0.6)] grip: f32,
    #[values(20, 240)] rate: u16,
) {
    let floor = Surface::PLAIN.with_grip(grip).unwrap();
    let mut posts = World::new();
    posts.add(Solid::circle(Vec2::ZERO, 4.0).unwrap());
    let glide = |part: f32| Glide::new(30.0 * part, Drag::half_life(0.4 / part).unwrap(), 0.0).unwrap();
    let start = Vec2::from_angle(0.4) * 5.0;
    let [mut slow, mut slippery] =
        [glide(grip), glide(1.0)].map(|glide| Walker::new(start, Footprint::circle(1.0).unwrap(), glide));
    let mut rolled = 0;
    for _ in 0..rate {
        let (intent, dt) = (Intent::new(vec2(-1.0, 0.0)), 1.0 / f32::from(rate));
        let results = [slow.tick(intent, dt, &posts), slippery.tick(intent, dt, &(&posts, floor))];
        assert!(slow.position.distance(slippery.position) < 1e-4, "{} {}", slow.position, slippery.position);
        let [one, other] = results.map(|result| !result.contacts.is_empty());
        assert_eq!(one, other);
        rolled += u16::from(one);
    }
    assert!(rolled > rate / 2 && slow.position.distance(start) > 0.5, "{rolled} {}", slow.position);
}

/// A walker of 60 units/s and 400 units/s² rolls over a corner whose radius, 8.97 units, is a hair too small to be followed
/// at full speed: `v² / R` is as much as the drive has at 41.5 degrees, whatever the tick rate.
#[test]
fn a_corner_is_left_where_the_drive_can_no_longer_turn_with_it() {
    let own = 8.966f32;
    let radius = f64::from(own);
    let mut bed = World::new();
    bed.add(Solid::box_from_corners(vec2(-100.0, 0.0), vec2(0.0, 100.0)).unwrap());
    let gait = Gait::new(60.0, 400.0, 400.0).unwrap();
    let intent = Intent::new(vec2(1.0, 1.0));
    let along = 60.0 * core::f32::consts::FRAC_1_SQRT_2;
    // The reference slides to the corner, turns with it from its top and leaves along the tangent.
    let rule = Rule::Gait(400.0);
    let wanted = intent.vector().as_dvec2() * 60.0;
    let up = -core::f64::consts::FRAC_PI_2;
    let mut reference = OnCircle { angle: up, speed: f64::from(along), heading: 0.0 };
    let mut clock = 5.0 / f64::from(along);
    while reference.holds(rule, wanted, radius) {
        reference.step(rule, wanted, radius, STEP);
        clock += STEP;
    }
    let left_at = (reference.angle - up).to_degrees();
    assert!((left_at - 41.5).abs() < 0.05, "the reference leaves at {left_at}");
    let (mut at, mut velocity) = (reference.normal() * radius, reference.normal().perp() * reference.speed);
    while clock < 0.4 {
        let seconds = STEP.min(0.4 - clock);
        let gap = wanted - velocity;
        let gained = gap.clamp_length_max(400.0 * seconds);
        at += (velocity + 0.5 * gained) * seconds;
        velocity += gained;
        clock += seconds;
    }
    for rate in [30, 60, 240, 1000] {
        let mut walker = Walker::new(vec2(-5.0, -own), Footprint::circle(own).unwrap(), gait);
        walker.velocity = vec2(along, 0.0);
        for _ in 0..rate * 2 / 5 {
            let _ = walker.tick(intent, 1.0 / rate as f32, &bed);
        }
        let apart = walker.position.as_dvec2().distance(at);
        assert!(apart < 1e-3, "{apart} apart at {rate} ticks per second");
    }
}

/// Everything in the reference for a helm on a flat wall.
#[rstest]
fn a_helm_slides_along_a_wall_as_in_tiny_steps(
    #[values(0.0, 1.5, 8.0, f32::INFINITY)] grip: f32,
    #[values(30, 1000)] rate: u32,
) {
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(-5000.0, 0.0), vec2(5000.0, 10.0)).unwrap());
    for seed in some_of(0..40) {
        let mut dice = Dice::new(seed);
        let (thrust, drag) = (dice.number(10.0, 400.0), dice.number(0.5, 6.0));
        let wheel = dice.number(-1.0, 1.0) * dice.number(0.0, 1.0);
        let (turn_rate, into) = (2.0, dice.number(0.05, 1.5));
        let helm =
            Helm::new(turn_rate, thrust, Drag::per_second(drag).unwrap(), Steering::Wheel(YAxis::Down))
                .unwrap();
        let helm = if grip.is_finite() { helm.with_grip(grip).unwrap() } else { helm.on_rails() };
        let mut walker = Walker::new(vec2(0.0, -2.0), Footprint::rect(4.0, 4.0).unwrap(), helm);
        walker.heading = Angle::from_radians(into);
        // Less than all of the wheel, all of the thrust.
        let intent = Intent::new(vec2(wheel, -1.0));
        let (turn, thrust) =
            (f64::from(intent.spread().x * turn_rate), f64::from(-intent.spread().y * thrust));
        let (mut at, mut speed, mut heading, mut now, mut clock) =
            (0.0f64, 0.0f64, f64::from(into), 0.0, 0.0);
        let dt = 1.0 / rate as f32;
        let mut pressed = 0;
        'ticks: for _ in 0..4 * rate {
            let _ = walker.tick(intent, dt, &walls);
            clock += f64::from(dt);
            while now < clock {
                let seconds = STEP.min(clock - now);
                // The middle of the step, by its own speed and heading.
                let gains = thrust * (heading + 0.5 * turn * seconds).cos() - f64::from(drag) * speed;
                at += (speed + 0.5 * gains * seconds) * seconds;
                speed += gains * seconds * (1.0 - 0.5 * f64::from(drag) * seconds);
                heading += turn * seconds;
                now += seconds;
                let held = f64::from(grip.min(1e12)) * speed * heading.cos();
                if heading.sin() * (thrust + held) < 0.0 {
                    break 'ticks;
                }
            }
            pressed += 1;
            let apart = (walker.exact_position().x - at).abs();
            assert!(
                apart < 1e-3,
                "seed {seed}: {apart} apart after {clock} s: {helm:?} {intent:?} from {into}"
            );
        }
        assert!(pressed > 0 || turn < 0.0, "seed {seed} left at once");
    }
}

/// A mover that comes to rest on the round corner of a crate just before its flat side begins lies against that side then,
/// not as deep in it as the round falls away.
#[test]
fn who_lands_before_the_end_of_a_round_corner_is_set_against_the_side() {
    let mut landed = 0;
    for seed in 1..=3000 {
        let mut dice = Dice::new(seed);
        let radius = dice.number(0.5, 3.0);
        let footprint = Footprint::circle(radius).unwrap();
        let far = vec2(dice.number(20.0, 300.0), dice.number(20.0, 300.0));
        let mut crates = World::new();
        crates.add(Solid::box_from_corners(far, far + vec2(40.0, 5.0)).unwrap());
        // On the left of the upper left corner's end, off it by less than what touches, and nearly along it.
        let before = dice.number(1e-3, 1e-2);
        let touch = ambulant::touch_tolerance(f64::from(far.max_element()));
        #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
        let off = touch as f32 * dice.number(0.3, 0.9);
        let gap = f64::from(off);
        let normal = dvec2(-f64::from(before).sin(), -f64::from(before).cos());
        let exact = far.as_dvec2() + normal * (f64::from(radius) + gap);
        let speed = dice.number(2.0, 20.0);
        let drive = Glide::new(40.0, Drag::half_life(0.1).unwrap(), 0.0).unwrap();
        let mut walker = Walker::new(exact.as_vec2(), footprint, drive);
        walker.set_exact_position(exact);
        // It closes the gap at the end of the corner.
        let inward = off / (before * radius) * dice.number(0.998, 1.002) - before;
        walker.velocity = vec2(1.0, inward) * speed;
        let result = walker.tick(Intent::new(vec2(1.0, 0.02)), 2.0 * before * radius / speed, &crates);
        if walker.position.x <= far.x || result.contacts.is_empty() {
            continue;
        }
        let gap = f64::from(far.y) - walker.exact_position().y;
        let deep = f64::from(radius) - gap;
        // What only grazes, and the rounding of the drive's closed form.
        assert!(deep < 0.6 * touch, "seed {seed}: {} touches deep, {walker:?}", deep / touch);
        landed += u32::from(deep.abs() < 0.01 * touch);
    }
    println!("{landed} lie against the side");
    assert!(landed > 300);
}

/// A vehicle that stands in a corner and turns: it drives off at the instant at which its heading has turned away from the
/// wall, in one long tick as in many short ones.
#[rstest]
fn a_vehicle_leaves_a_corner_at_the_same_instant_at_any_tick_rate(
    #[values(0.0, 3.0, f32::INFINITY)] grip: f32,
) {
    let mut drove_off = 0;
    for seed in some_of(1..=300) {
        let mut dice = Dice::new(seed);
        let far = vec2(dice.number(50.0, 600.0), dice.number(50.0, 600.0));
        let half = dice.number(2.0, 8.0);
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(far, far + vec2(10.0, 400.0)).unwrap());
        walls.add(Solid::box_from_corners(far - vec2(400.0, 10.0), far + vec2(10.0, 0.0)).unwrap());
        let footprint = Footprint::rect(2.0 * half, 2.0 * half).unwrap();
        let helm = Helm::new(
            dice.number(1.0, 5.0),
            dice.number(50.0, 600.0),
            Drag::per_second(dice.number(1.0, 3.0)).unwrap(),
            Steering::Toward,
        );
        let helm =
            if grip.is_finite() { helm.unwrap().with_grip(grip).unwrap() } else { helm.unwrap().on_rails() };
        let turned = dice.number(0.02, 0.25) * helm.turn_rate();
        let mut ends = [Vec2::ZERO; 4];
        for (end, ticks) in ends.iter_mut().zip([1, 2, 20, 400]) {
            let corner = far + vec2(-half, half);
            let mut walker = Walker::new(corner, footprint, helm);
            // Into the wall above, and soon along the one on the right.
            walker.heading = Angle::from_radians(-turned);
            for _ in 0..ticks {
                let _ = walker.tick(Intent::new(vec2(0.3, 1.0)), 0.4 / ticks as f32, &walls);
            }
            *end = walker.position - corner;
        }
        drove_off += u32::from(ends[3].length() > 0.5);
        let apart = ends.iter().map(|end| end.distance(ends[3])).fold(0.0, f32::max);
        assert!(apart < 0.01, "seed {seed}: {ends:?} by {helm:?}");
    }
    assert!(drove_off > share(250), "{drove_off}");
}

/// A vehicle that slides along a wall and points straight into it is held by the wall, not by its wheels: no tick is so short
/// that rounding of its heading takes its speed.
#[rstest]
fn who_points_straight_into_a_wall_slides_on_however_short_the_tick(#[values(0, 1, 2, 3)] quarter: u8) {
    for seed in 1..=400 {
        let mut dice = Dice::new(seed);
        let inward =
            Vec2::Y.rotate(Vec2::from_angle(f32::from(quarter) * std::f32::consts::FRAC_PI_2)).round();
        let along = inward.perp() * if dice.pick(2) == 0 { 1.0 } else { -1.0 };
        let (half, far) = (dice.number(2.0, 8.0), dice.number(20.0, 400.0));
        let mut walls = World::new();
        let corners = [inward * far - along * 900.0, inward * (far + 9.0) + along * 900.0];
        walls.add(Solid::box_from_corners(corners[0].min(corners[1]), corners[0].max(corners[1])).unwrap());
        let drag = Drag::per_second(dice.number(0.5, 3.0)).unwrap();
        let helm = Helm::new(3.0, dice.number(50.0, 900.0), drag, Steering::Toward).unwrap().on_rails();
        let mut walker =
            Walker::new(inward * (far - half), Footprint::rect(2.0 * half, 2.0 * half).unwrap(), helm);
        walker.heading = Angle::of(inward).unwrap();
        let speed = dice.number(5.0, 150.0);
        walker.velocity = along * speed;
        let dt = 10.0f32.powf(dice.number(-10.0, -2.0));
        for _ in 0..4 {
            let _ = walker.tick(Intent::new(inward), dt, &walls);
        }
        // Drag takes its part of it, and nothing else.
        let kept = walker.velocity.dot(along) / speed;
        assert!(kept > 1.0 - 4.0 * dt * drag.rate() - 1e-6, "seed {seed}: {kept} kept of {speed} in {dt} s");
    }
}

/// On a belt that leads away from a round wall, a mover that presses on the wall walks against the belt: what moves it, belt and all,
/// runs along the wall.
#[rstest]
fn on_a_belt_a_mover_at_a_round_wall_moves_along_it(
    #[values(7.0, 60.0, 1000.0)] rate: f32,
    #[values(1.0, -1.0)] mirror: f32,
) {
    let mut walls = World::new();
    walls.add(Solid::circle(Vec2::ZERO, 10.0).unwrap());
    let ground = vec2(3.0, 1.0 * mirror);
    let belt = Surface::PLAIN.with_belt(ground).unwrap();
    let mut moth = Walker::new(vec2(11.0, 0.0), Footprint::circle(1.0).unwrap(), Pace::new(20.0).unwrap());
    let mut along = 0;
    for _ in 0..60 {
        let normal = moth.position.normalize();
        // Pressed on the wall all the way round.
        let intent = Intent::new(normal * -0.8 + normal.perp() * (0.3 * mirror));
        let _ = moth.tick(intent, 1.0 / rate, &(&walls, belt));
        let normal = moth.position.normalize();
        if (moth.position.length() - 11.0).abs() < 1e-3 && ground.dot(normal) > 0.5 {
            along += 1;
            assert!(
                (moth.velocity + ground).dot(normal).abs() < 0.02 * (moth.velocity + ground).length(),
                "{moth:?}"
            );
        }
    }
    assert!(along >= 2, "{along}");
}
