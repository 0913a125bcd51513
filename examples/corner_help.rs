//! Corner help: a mover that only just hits the corner of a gap goes round it, no faster than before.

use ambulant::prelude::*;
use ambulant::walker::AlongWalls;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("cold frame")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["...##..", ".......", "...##.."], &legend)?.with_tile_size(16.0)?;
    let feet = Footprint::rect(14.0, 14.0)?;
    let right = Intent::new(vec2(1.0, 0.0));

    for corner_help in [0.0, 6.0] {
        // Four units too far down for the gap.
        let mut gardener = Walker::new(vec2(12.0, 28.0), feet, Gait::new(60.0, 600.0, 600.0)?);
        gardener.along_walls = AlongWalls::PLAIN.with_corner_help(corner_help)?;
        let mut fastest = 0.0f32;
        for _ in 0..90 {
            let _ = gardener.tick(right, 1.0 / 60.0, &map);
            fastest = fastest.max(gardener.velocity.length());
        }
        println!(
            "help within {corner_help} units: at {:.1}, never faster than {fastest:.1}",
            gardener.position
        );
    }
    Ok(())
}
