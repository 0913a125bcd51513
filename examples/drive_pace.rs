//! A lamp on a rail: at its pace at once, on one axis.

use ambulant::direction::Axis;
use ambulant::drive::{OneAxis, Pace};
use ambulant::prelude::*;

fn main() -> Result<(), ambulant::InvalidNumber> {
    let rail = OneAxis { drive: Pace::new(80.0)?, axis: Axis::X };
    let (mut position, mut velocity) = (vec2(48.0, 32.0), Vec2::ZERO);
    for (name, wish, seconds) in
        [("right", vec2(1.0, 0.0), 1.0), ("right and up", vec2(1.0, -1.0), 1.0), ("nothing", Vec2::ZERO, 1.0)]
    {
        let motion = rail.advance(velocity.into(), Intent::new(wish), &Surface::PLAIN, seconds);
        position += motion.displacement;
        velocity = motion.velocity;
        println!("{name:12}  at {:6.1}, {:4.1}  speed {:4.1}", position.x, position.y, velocity.length());
    }
    Ok(())
}
