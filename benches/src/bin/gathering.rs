//! How long a tick of a dense crowd takes: movers walk from all sides to one point, and stand there.
//!
//! `gathering MOVERS [TICKS_PER_SECOND]` prints, for each of five seconds, the mean and the longest tick.

use std::process::ExitCode;
use std::time::Instant;

use ambulant::prelude::*;
use ambulant_benches::Dice;

/// Between two of them at the start, in units.
const APART: f32 = 1.5;

fn main() -> ExitCode {
    let mut words =
        std::env::args().skip(1).map(|word| word.parse::<u16>().ok().filter(|number| *number > 0));
    let (Some(Some(count)), Some(rate), None) =
        (words.next(), words.next().unwrap_or(Some(60)), words.next())
    else {
        eprintln!("usage: gathering MOVERS [TICKS_PER_SECOND]; both are whole numbers from 1 to 65535");
        return ExitCode::from(2);
    };
    let gait = Gait::new(4.0, 40.0, 50.0).expect("in range");
    let shapes = [Footprint::circle(0.4), Footprint::rect(0.7, 0.6)].map(|shape| shape.expect("in range"));
    let (mut dice, side) = (Dice::new(5), f32::from(count).sqrt().ceil());
    let mut walkers: Vec<_> = (0..count)
        .map(|number| {
            let place = vec2(f32::from(number) % side, (f32::from(number) / side).floor());
            let at = (place + Vec2::splat(dice.number(0.0, 0.1))) * APART;
            Walker::new(at, shapes[usize::from(number % 2)], gait)
        })
        .collect();
    let middle = Vec2::splat(side * APART * 0.5);
    let (mut crowd, world) = (Crowd::new(), World::new());
    for second in 1..=5 {
        let (mut whole, mut longest) = (0.0, 0.0f64);
        for _ in 0..rate {
            let places: Vec<Vec2> = walkers.iter().map(|walker| walker.position).collect();
            let intent = |number: usize| Intent::new((middle - places[number]).normalize_or_zero());
            let begin = Instant::now();
            crowd.tick(&mut walkers, intent, 1.0 / f32::from(rate), &world, |_, _| {});
            let took = begin.elapsed().as_secs_f64() * 1e3;
            (whole, longest) = (whole + took, longest.max(took));
        }
        let mean = whole / f64::from(rate);
        println!("second {second}: {mean:.2} ms per tick, the longest {longest:.2} ms");
    }
    ExitCode::SUCCESS
}
