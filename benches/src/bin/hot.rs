//! One hot path, so many times: to be run where instructions are counted.
//!
//! `hot NAME TIMES` sets a scene up and plays it; the counts of two runs with other numbers of times, one taken
//! from the other, leave what one time costs.

use std::hint::black_box;
use std::process::ExitCode;

use ambulant::direction::Angle;
use ambulant::drive::{Drag, Drive, Glide, Helm, Momentum, Motion, Steering};
use ambulant::prelude::*;
use ambulant::steps::{Claims, StepGround, StepRules, Stepper};
use ambulant::terrain::{Terrain, WallFilter, World};
use ambulant::travel::slide;
use ambulant_benches::{Dice, filled_grid, free_place, mixed_obstacles};

const DT: f32 = 1.0 / 60.0;
const NAMES: &str = "slide-open, slide, slide-circle, first-hit, gait, glide, helm, walker, walker-open, \
     walker-among-moving, walker-in-crowd, ball-open, balls-open, stepper, stepper-under-way";

fn main() -> ExitCode {
    let mut words = std::env::args().skip(1);
    let (name, times) = (words.next().unwrap_or_default(), words.next().and_then(|times| times.parse().ok()));
    let times: u32 = times.unwrap_or(100_000);
    let boots = Footprint::rect(0.7, 0.5).expect("in range");
    let gait = Gait::new(4.0, 40.0, 50.0).expect("in range");
    let drag = Drag::half_life(0.4).expect("in range");
    match name.as_str() {
        "slide-open" => sliding(0, boots, times),
        "slide" => sliding(15, boots, times),
        "slide-circle" => sliding(15, Footprint::circle(0.3).expect("in range"), times),
        "first-hit" => first_hit(times),
        "gait" => driving(gait, times),
        "glide" => driving(Glide::new(10.0, drag, 0.1).expect("in range"), times),
        "helm" => driving(Helm::new(2.0, 8.0, drag, Steering::Toward).expect("in range"), times),
        "walker" => walking(15, gait, boots, times),
        "walker-open" => walking(0, gait, boots, times),
        "walker-wall-far" => with_a_distant_wall(Vec2::ZERO, gait, boots, times),
        "walker-wall-far-moves" => with_a_distant_wall(Vec2::ONE, gait, boots, times),
        "walker-among-moving" => among_moving(gait, boots, times),
        "walker-in-crowd" => crowd(gait, boots, times),
        "ball-open" => flying(1, times),
        "balls-open" => flying(100, times),
        "stepper" => stepping(6.0, times),
        "stepper-under-way" => stepping(1e-4, times),
        _ => {
            eprintln!("the names are {NAMES}");
            return ExitCode::from(2);
        }
    }
    ExitCode::SUCCESS
}

fn sliding(percent: u64, footprint: Footprint, times: u32) {
    let mut dice = Dice::new(3);
    let map = filled_grid(64, percent, &mut dice);
    let mut position = free_place(&map, &footprint, 64.0, &mut dice);
    let mut velocity = dice.direction() * 4.0;
    for _ in 0..times {
        let motion = Motion::new(velocity * DT, velocity, Angle::ZERO);
        let result = slide(&map, &footprint, position, motion, &WallFilter::ALL);
        position = result.position;
        if !result.contacts.is_empty() {
            velocity = vec2(-0.73, 0.68).rotate(velocity);
        }
    }
    black_box(position);
}

fn first_hit(times: u32) {
    let mut dice = Dice::new(4);
    let (solids, size) = mixed_obstacles(10_000, &mut dice);
    let mut store = World::new();
    solids.iter().for_each(|solid| {
        store.add(*solid);
    });
    let footprint = Footprint::circle(0.3).expect("in range");
    for _ in 0..times {
        let (from, way) = (dice.place(size), dice.direction() * 12.0);
        black_box(store.sweep(&footprint, from, way, &WallFilter::ALL));
    }
}

fn driving(drive: impl Drive, times: u32) {
    let mut dice = Dice::new(7);
    let (mut momentum, mut intent) = (Momentum::default(), Intent::NONE);
    for time in 0..times {
        if time % 16 == 0 {
            intent = Intent::new(dice.direction());
        }
        momentum = drive.advance(momentum, intent, &Surface::PLAIN, DT).momentum();
    }
    black_box(momentum);
}

/// A stepper on an open map that is wished elsewhere every second.
fn stepping(speed: f32, times: u32) {
    let mut dice = Dice::new(3);
    let map = filled_grid(64, 0, &mut dice);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = StepRules::new(speed).expect("in range");
    let mut stepper = Stepper::on(ivec2(32, 32), rules, &ground, &mut claims).expect("a free tile");
    let mut intent = Intent::NONE;
    for time in 0..times {
        if time % 60 == 0 {
            intent = Intent::new(dice.direction());
        }
        stepper.tick_with(intent, DT, &ground, &mut claims, |event| {
            black_box(event);
        });
    }
    black_box(stepper);
}

/// Each of 1,000 walkers in turn among 1,000 walls that move; after the last one, the tick ends.
fn among_moving(gait: Gait, footprint: Footprint, times: u32) {
    const COUNT: usize = 1000;
    let (mut dice, mut world) = (Dice::new(5), World::new());
    let size = Vec2::splat(1.5);
    let walls = [(); COUNT].map(|()| {
        let solid = Solid::box_around(dice.place(400.0), size).expect("in range");
        (world.add(solid), dice.direction() * 3.0)
    });
    let mut walkers = [(); COUNT].map(|()| Walker::new(dice.place(400.0), footprint, gait));
    let intents = [(); COUNT].map(|()| Intent::new(dice.direction()));
    for time in 0..times as usize {
        let place = time % COUNT;
        if place == 0 {
            world.advance(DT);
            let side = if time / COUNT % 64 < 32 { 1.0 } else { -1.0 };
            for (wall, velocity) in &walls {
                world.move_at(*wall, *velocity * side);
            }
        }
        let _ = walkers[place].tick(intents[(place + time / COUNT / 16) % COUNT], DT, &world);
    }
    black_box(walkers);
}

/// Each of 1,000 walkers of a crowd that is spread evenly.
fn crowd(gait: Gait, footprint: Footprint, times: u32) {
    const COUNT: u16 = 1000;
    let (mut dice, world, mut crowd) = (Dice::new(5), World::new(), Crowd::new());
    let start = |place: u16| vec2(f32::from(place % 32), f32::from(place / 32)) * 10.0;
    let mut walkers: Vec<_> = (0..COUNT).map(|place| Walker::new(start(place), footprint, gait)).collect();
    let way = dice.direction();
    for time in 0..times / u32::from(COUNT) {
        // All go to and fro, and stay as far apart.
        let side = if time / 16 % 2 == 0 { 1.0 } else { -1.0 };
        crowd.tick(
            &mut walkers,
            |_| Intent::new(way * side),
            DT,
            &world,
            |_, result| {
                let _ = black_box(result);
            },
        );
    }
    black_box(walkers);
}

/// Balls of one list over open ground, so many ball-ticks in all.
fn flying(count: u16, times: u32) {
    let mut world = World::new().with_map(filled_grid(64, 0, &mut Dice::new(3)));
    let round = Footprint::circle(0.3).expect("in range");
    let start = |place: u16| vec2(24.0 + f32::from(place) * 0.1, 32.0);
    let mut balls: Vec<_> = (0..count).map(|place| Ball::new(start(place), vec2(3.0, 2.0), round)).collect();
    for time in 0..times / u32::from(count) {
        if time % 128 == 0 {
            for (place, ball) in (0..).zip(&mut balls) {
                ball.serve(start(place), -ball.velocity);
            }
        }
        black_box(tick_balls(&mut balls, black_box(DT), &mut world, |_, _| Decision::bounce(1.0)));
    }
    black_box(balls);
}

/// A walker in a 15 % grid of a world that has a wall far away, too, which stands or moves.
fn with_a_distant_wall(moves: Vec2, gait: Gait, footprint: Footprint, times: u32) {
    let mut dice = Dice::new(3);
    let map = filled_grid(64, 15, &mut dice);
    let mut walker = Walker::new(free_place(&map, &footprint, 64.0, &mut dice), footprint, gait);
    let mut world = World::new().with_map(map);
    let wall = world.add(Solid::box_around(vec2(900.0, 900.0), Vec2::ONE).expect("in range"));
    let mut intent = Intent::NONE;
    for time in 0..times {
        if time % 16 == 0 {
            intent = Intent::new(dice.direction());
        }
        if moves != Vec2::ZERO && time % 256 == 0 {
            world.move_at(wall, if time % 512 == 0 { moves } else { -moves });
        }
        let _ = walker.tick(intent, DT, &world);
    }
    black_box(walker);
}

fn walking(percent: u64, gait: Gait, footprint: Footprint, times: u32) {
    let mut dice = Dice::new(3);
    let map = filled_grid(64, percent, &mut dice);
    let mut walker = Walker::new(free_place(&map, &footprint, 64.0, &mut dice), footprint, gait);
    let mut intent = Intent::NONE;
    for time in 0..times {
        if time % 16 == 0 {
            intent = Intent::new(dice.direction());
        }
        let _ = walker.tick(intent, DT, &map);
    }
    black_box(walker);
}
