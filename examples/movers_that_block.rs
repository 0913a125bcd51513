//! A moth and a hedgehog that meet: each is a wall of the world to the other, and both slide on.

use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut world = World::new();
    let feet = Footprint::circle(4.0)?;
    let gait = Gait::new(60.0, 600.0, 600.0)?;
    let mut movers = [Walker::new(vec2(0.0, 1.5), feet, gait), Walker::new(vec2(60.0, 0.0), feet, gait)];
    for mover in &mut movers {
        // It does not collide with its own wall.
        mover.own_wall = Some(world.add(feet.solid_at(mover.position)));
    }
    for tick in 0..90 {
        for (mover, ahead) in movers.iter_mut().zip([vec2(1.0, 0.0), vec2(-1.0, 0.0)]) {
            let result = mover.tick(Intent::new(ahead), 1.0 / 60.0, &world);
            if let Some(contact) = result.contacts.iter().next().filter(|_| tick % 10 == 0) {
                println!("tick {tick}: {contact}");
            }
            if let Some(wall) = mover.own_wall {
                world.place(wall, feet.solid_at(mover.position));
            }
        }
    }
    assert!(movers[0].position.x > movers[1].position.x);
    println!("they passed each other: {:.1} and {:.1}", movers[0].position, movers[1].position);
    Ok(())
}
