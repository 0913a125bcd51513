//! Along a wall at full pace: pressing into it at an angle costs no speed.

use ambulant::prelude::*;
use ambulant::walker::AlongWalls;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("glass wall")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["............", "############"], &legend)?.with_tile_size(16.0)?;
    let feet = Footprint::rect(12.0, 8.0)?;
    let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };

    for along_walls in [AlongWalls::PLAIN, AlongWalls::PLAIN.with_full_speed(true)] {
        let mut gardener = Walker::new(vec2(16.0, 12.0), feet, Gait::new(60.0, 600.0, 600.0)?);
        gardener.along_walls = along_walls;
        for _ in 0..60 {
            let _ = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &map);
        }
        println!("full pace {}: {:.1} units/s along the wall", along_walls.full_speed, gardener.velocity.x);
    }
    Ok(())
}
