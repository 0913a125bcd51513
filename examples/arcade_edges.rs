//! A field without ends: a drone that leaves on one side comes in on the other, as fast as it was.

use ambulant::direction::Side;
use ambulant::drive::{Drag, Glide};
use ambulant::prelude::*;
use ambulant::terrain::{Crossing, EdgeRule, PlayArea};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let sides = [Side::Left, Side::Right, Side::Top, Side::Bottom];
    let field = sides
        .into_iter()
        .fold(PlayArea::new(Vec2::ZERO, vec2(200.0, 120.0))?, |field, side| field.with(side, EdgeRule::Wrap));
    let glide = Glide::new(220.0, Drag::half_life(0.4)?, 2.0)?;
    let mut drone = Walker::new(vec2(150.0, 60.0), Footprint::circle(6.0)?, glide);
    let ahead = Intent::new(vec2(1.0, -0.4));
    for tick in 0..300 {
        let _ = drone.tick(ahead, 1.0 / 60.0, &field);
        if let Crossing::Wrapped { side, position } = field.crossing(&drone.footprint, drone.position) {
            println!("tick {tick}: left at the {side}, in again at {position:.1} with {:.1}", drone.velocity);
            drone.position = position;
        }
    }
    Ok(())
}
