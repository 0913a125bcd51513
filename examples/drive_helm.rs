//! One turn of the wheel with three grips: from drifting to running on rails.

use ambulant::drive::{Drag, Helm, Momentum, Steering};
use ambulant::prelude::*;

fn main() -> Result<(), ambulant::InvalidNumber> {
    let drifting = Helm::new(75f32.to_radians(), 100.0, Drag::half_life(0.5)?, Steering::Wheel(YAxis::Down))?;
    let hard_right = HeldKeys { up: true, right: true, ..HeldKeys::NONE }.intent(YAxis::Down);
    for (name, helm) in
        [("no grip", drifting), ("some grip", drifting.with_grip(3.0)?), ("on rails", drifting.on_rails())]
    {
        let mut momentum = Momentum::from(vec2(60.0, 0.0));
        let mut position = Vec2::ZERO;
        println!("{name}");
        for second in 1..=3u8 {
            for _ in 0..60 {
                let motion = helm.advance(momentum, hard_right, &Surface::PLAIN, 1.0 / 60.0);
                position += motion.displacement;
                momentum = motion.momentum();
            }
            let course = momentum.velocity.to_angle().to_degrees();
            println!(
                "  {second} s  at {:5.1}, {:5.1}  points {:4.0}°, goes {course:4.0}° at {:.1} units/s",
                position.x,
                position.y,
                momentum.heading.degrees(),
                momentum.velocity.length()
            );
        }
    }
    Ok(())
}
