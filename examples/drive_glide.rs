//! A pebble flicked over the tiles: a drag makes a launch, drag slows it, and it rests exactly.

use ambulant::drive::{Drag, Glide};
use ambulant::intent::Flick;
use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    // A game that multiplied by 0.98 in each of 60 frames a second; at rest below 3 units/s.
    let glide = Glide::new(0.0, Drag::kept_per_frame(0.98, 60.0)?, 3.0)?;
    let flick = Flick::new(1.5, 420.0, 5.0)?;
    let launch = flick.launch(vec2(20.0, 70.0), vec2(60.0, 74.0), 0.2).ok_or("that was a tap")?;

    let (mut position, mut velocity, mut ticks) = (vec2(20.0, 70.0), launch, 0u16);
    while velocity != Vec2::ZERO {
        if ticks % 30 == 0 {
            println!(
                "{:4.1} s  at {:6.1}, {:5.1}  speed {:6.2}",
                f32::from(ticks) / 60.0,
                position.x,
                position.y,
                velocity.length()
            );
        }
        let motion = glide.advance(velocity.into(), Intent::NONE, &Surface::PLAIN, 1.0 / 60.0);
        position += motion.displacement;
        velocity = motion.velocity;
        ticks += 1;
    }
    println!("{:4.1} s  at {:6.1}, {:5.1}  at rest", f32::from(ticks) / 60.0, position.x, position.y);
    Ok(())
}
