//! A lawn roller at a wall: it scrapes along, stops dead, or bounces back.

use ambulant::drive::{Drag, Helm, Steering};
use ambulant::prelude::*;
use ambulant::walker::AtWalls;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("hedge")).with('.', TileKind::floor("lawn"));
    let lawn = TileGrid::from_rows(&["........", "........", "########"], &legend)?.with_tile_size(16.0)?;
    let helm = Helm::new(2.0, 60.0, Drag::half_life(1.0)?, Steering::Wheel(YAxis::Down))?.with_grip(1.0)?;
    for at_walls in [AtWalls::Slide, AtWalls::Stop, AtWalls::bounce(0.5, 2.0)?] {
        let mut roller = Walker::new(vec2(20.0, 16.0), Footprint::circle(6.0)?, helm);
        roller.along_walls.at_walls = at_walls;
        roller.velocity = vec2(60.0, 40.0);
        for _ in 0..30 {
            let _ = roller.tick(Intent::NONE, 1.0 / 60.0, &lawn);
        }
        println!("{at_walls:?}: at {:.1} with {:.1}", roller.position, roller.velocity);
    }
    Ok(())
}
