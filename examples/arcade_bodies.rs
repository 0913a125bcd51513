//! A moth and a hedgehog that meet: each is an obstacle to the other, and both slide on.

use ambulant::arcade::Bodies;
use ambulant::prelude::*;
use ambulant::terrain::Layers;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut bodies = Bodies::new();
    let feet = Footprint::circle(4.0)?;
    let gait = Gait::new(60.0, 600.0, 600.0)?;
    let mut movers = [Walker::new(vec2(0.0, 1.5), feet, gait), Walker::new(vec2(60.0, 0.0), feet, gait)];
    let ids = movers.map(|mover| bodies.add(&feet, mover.position, Layers::FIRST));
    let ways = [vec2(1.0, 0.0), vec2(-1.0, 0.0)];
    for tick in 0..90 {
        for ((mover, id), way) in movers.iter_mut().zip(&ids).zip(ways) {
            let result = mover.tick(Intent::new(way), 1.0 / 60.0, &bodies.others(id));
            if let Some(contact) = result.contacts.iter().next().filter(|_| tick % 10 == 0) {
                println!("tick {tick}: {contact}");
            }
            bodies.moved(id, &feet, mover.position);
        }
    }
    assert!(movers[0].position.x > movers[1].position.x);
    println!("they passed each other: {:.1} and {:.1}", movers[0].position, movers[1].position);
    Ok(())
}
