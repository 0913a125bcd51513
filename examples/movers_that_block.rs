//! A moth and a hedgehog that meet: they block each other, slide along each other and pass.

use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let world = World::new();
    let feet = Footprint::circle(4.0)?;
    let gait = Gait::new(60.0, 600.0, 600.0)?;
    let mut movers = [Walker::new(vec2(0.0, 1.5), feet, gait), Walker::new(vec2(60.0, 0.0), feet, gait)];
    let mut crowd = Crowd::new();
    let ahead = [vec2(1.0, 0.0), vec2(-1.0, 0.0)];
    for tick in 0..90 {
        let intent = |number: usize| Intent::new(ahead[number]);
        let mut met = Vec::new();
        crowd.tick(&mut movers, intent, 1.0 / 60.0, &world, |number, result| {
            met.extend(result.contacts.iter().map(|contact| (number, *contact)));
        });
        if tick % 10 == 0 {
            for (number, contact) in met {
                let other = crowd.number_of(contact.wall).unwrap_or_default();
                println!(
                    "tick {tick}: {number} slides along {other} at {:.1} units/s",
                    contact.velocity_after.length()
                );
            }
        }
    }
    assert!(movers[0].position.x > movers[1].position.x);
    println!("they passed each other: {:.1} and {:.1}", movers[0].position, movers[1].position);
    Ok(())
}
