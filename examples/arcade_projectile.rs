//! A thousand flicked pebbles: each is aimed once and reports what it hit and where.

use ambulant::arcade::{FlightEnd, Projectile};
use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::terrain::World;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut posts = World::new();
    for post in 0u8..12 {
        let around = f32::from(post) * std::f32::consts::TAU / 12.0;
        posts.add(Solid::circle(Vec2::from_angle(around) * 80.0, 6.0)?);
    }
    let mut pebbles = Vec::new();
    for pebble in 0u16..1000 {
        let way = Vec2::from_angle(f32::from(pebble) * std::f32::consts::TAU / 1000.0);
        pebbles.push(Projectile::aimed(Vec2::ZERO, way, 300.0, Footprint::circle(1.0)?)?.with_range(150.0)?);
    }
    let (mut hits, mut spent) = (0, 0);
    let mut ticks = 0;
    while !pebbles.is_empty() {
        ticks += 1;
        pebbles.retain_mut(|pebble| match pebble.tick(1.0 / 60.0, &posts) {
            Some(FlightEnd::Hit { hit, .. }) => {
                if hits == 0 {
                    println!("the first one hit {} at {:.1}", hit.wall, hit.point);
                }
                hits += 1;
                false
            }
            Some(_) => {
                spent += 1;
                false
            }
            None => true,
        });
    }
    println!("{hits} hit a post and {spent} flew their distance, within {ticks} ticks");
    Ok(())
}
