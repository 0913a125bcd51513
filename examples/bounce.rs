//! A dewdrop among round pebbles: it rebounds and keeps its speed, whatever the tick.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::World;
use ambulant::travel::{Response, resolve};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('.', TileKind::floor("air"));
    let pane = TileGrid::from_rows(&["........", "........", "........", "........"], &legend)?;
    let mut pebbles = World::new();
    pebbles.add(Solid::circle(vec2(4.0, 2.0), 0.7)?);

    let dewdrop = Footprint::circle(0.2)?;
    let (mut position, mut velocity) = (vec2(1.0, 1.8), vec2(9.0, 2.0));
    for tick in 0..120u8 {
        let motion = Motion::new(velocity / 60.0, velocity, Angle::ZERO);
        let bounce = |_: &_| Response::bounce(1.0);
        let result = resolve(&(&pane, &pebbles), &dewdrop, position, motion, &WallFilter::ALL, bounce);
        for contact in result.contacts.iter() {
            let time = f32::from(tick) / 60.0 + contact.seconds;
            println!("{time:.3} s  off {} at {:.2}, {:.2}", contact.wall, contact.point.x, contact.point.y);
        }
        (position, velocity) = (result.position, result.velocity);
    }
    println!(
        "ends at {:.2}, {:.2}, as fast as ever: {:.3} units/s",
        position.x,
        position.y,
        velocity.length()
    );
    Ok(())
}
