//! A gait built from what is wanted, and the proof that the tick length does not show.

use ambulant::drive::Feel;
use ambulant::prelude::*;

fn main() -> Result<(), ambulant::InvalidNumber> {
    // 60 units/s within a quarter of a second, a stop within 4 units, and a quick turn.
    let gait = Gait::reaching(60.0, 0.25, 4.0)?.with_turning(900.0)?;
    println!("acceleration {}, friction {} units/s²", gait.acceleration(), gait.friction());
    let feel = Feel::of(&gait);
    println!(
        "stops in {:.3} s, turns back in {:.3} s",
        feel.seconds_to_stop.unwrap_or_default(),
        feel.seconds_to_turn_back.unwrap_or_default()
    );

    for ticks_per_second in [30u8, 60, 144, 240] {
        let (mut position, mut velocity) = (Vec2::ZERO, Vec2::ZERO);
        let dt = 1.0 / f32::from(ticks_per_second);
        for (wish, seconds) in [(Vec2::X, 1u8), (Vec2::NEG_X, 1), (Vec2::ZERO, 1)] {
            for _ in 0..u16::from(ticks_per_second) * u16::from(seconds) {
                let motion = gait.advance(velocity.into(), Intent::new(wish), &Surface::PLAIN, dt);
                position += motion.displacement;
                velocity = motion.velocity;
            }
        }
        println!(
            "{ticks_per_second:3} ticks a second: ends at {:.3}, speed {}",
            position.x,
            velocity.length()
        );
    }
    Ok(())
}
