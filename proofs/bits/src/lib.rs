//! A minute of every drive and of a ball among walls, as one number: the same wherever it is played.
//!
//! Natively it is a program (`bits`); for wasm32 it is a module that exports `bits`.

#![cfg_attr(target_arch = "wasm32", no_std)]

#[cfg(target_arch = "wasm32")]
mod bare;

use ambulant::arcade::{Ball, Decision, tick_balls};
use ambulant::direction::Angle;
use ambulant::drive::{Drag, Drive, Glide, Helm, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::Terrain;

/// Ticks of a minute.
const TICKS: u32 = 3_600;

const ROWS: [&str; 9] = [
    "################",
    "#..............#",
    "#..##.....#....#",
    "#..##.....#....#",
    "#.......#......#",
    "#.####.....##..#",
    "#..............#",
    "#....#.....#...#",
    "################",
];

/// The FNV-1a hash of everybody's place and velocity at each tick.
#[unsafe(no_mangle)]
pub extern "C" fn bits() -> u64 {
    play().unwrap_or(0)
}

/// Mixes numbers into one.
struct Mixed(u64);

impl Mixed {
    fn take(&mut self, part: Vec2) {
        for bits in part.to_array().map(f32::to_bits) {
            for byte in bits.to_le_bytes() {
                self.0 = (self.0 ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3);
            }
        }
    }
}

fn play() -> Option<u64> {
    let legend = Legend::new().with('#', TileKind::wall("glass")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&ROWS, &legend).ok()?.with_tile_size(16.0).ok()?;
    let mut walls = World::new().with_map(map);
    walls.add(Solid::circle(vec2(110.0, 110.0), 6.0).ok()?);
    walls.add(Solid::segment(vec2(180.0, 30.0), vec2(230.0, 60.0)).ok()?);
    let (boots, round) = (Footprint::rect(8.0, 6.0).ok()?, Footprint::circle(4.0).ok()?);
    let drag = Drag::half_life(0.4).ok()?;
    let mut mixed = Mixed(0xcbf2_9ce4_8422_2325);

    let helm = Helm::new(2.0, 150.0, drag, Steering::Toward).ok()?;
    walk(Walker::new(vec2(30.0, 30.0), boots, Pace::new(70.0).ok()?), &walls, &mut mixed);
    walk(Walker::new(vec2(30.0, 30.0), round, Gait::new(60.0, 300.0, 400.0).ok()?), &walls, &mut mixed);
    walk(Walker::new(vec2(120.0, 60.0), round, Glide::new(200.0, drag, 1.0).ok()?), &walls, &mut mixed);
    walk(Walker::new(vec2(120.0, 60.0), boots, helm.with_grip(3.0).ok()?), &walls, &mut mixed);
    walk(Walker::new(vec2(200.0, 110.0), boots, helm.on_rails()), &walls, &mut mixed);

    let mut balls = [Ball::new(vec2(150.0, 70.0), vec2(91.0, -73.0), round)];
    for _ in 0..TICKS {
        tick_balls(&mut balls, 1.0 / 60.0, &mut walls, |_, _| Decision::bounce(1.0));
        mixed.take(balls[0].position);
        mixed.take(balls[0].velocity);
    }
    Some(mixed.0)
}

/// Walks with a wish that turns by half a radian every third of a second, and stops now and then.
fn walk<D: Drive>(mut walker: Walker<D>, walls: &impl Terrain, mixed: &mut Mixed) {
    for tick in 0..TICKS {
        let turn = tick / 20;
        let intent = if turn % 7 == 6 {
            Intent::NONE
        } else {
            Intent::new(Angle::from_radians(turn as f32 * 0.5).vector())
        };
        let _ = walker.tick(intent, 1.0 / 60.0, walls);
        mixed.take(walker.position);
        mixed.take(walker.velocity);
    }
}
