//! A flicked pebble that sticks to the first thing it meets, and how much room is left around it.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid};
use ambulant::terrain::World;
use ambulant::travel::{Feelers, Response, resolve};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut frames = World::new();
    frames
        .add(Polygon::new(&[vec2(40.0, 0.0), vec2(60.0, 12.0), vec2(54.0, 22.0), vec2(34.0, 10.0)])?.into());
    frames.add(Solid::segment(vec2(20.0, 30.0), vec2(70.0, 30.0))?);

    let pebble = Footprint::rect(4.0, 4.0)?;
    let motion = Motion::new(vec2(60.0, 12.0), vec2(600.0, 120.0), Angle::ZERO);
    let result = resolve(&frames, &pebble, vec2(0.0, 4.0), motion, &WallFilter::ALL, |_| Response::Stop);
    for contact in result.contacts.iter() {
        println!("{contact}");
    }
    println!("stuck at {}, {} units short", result.position, result.remaining.length());
    println!("room: {:?}", Feelers::of(&frames, &pebble, result.position, 50.0, &WallFilter::ALL));
    Ok(())
}
