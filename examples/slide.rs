//! Sliding: what leads into a wall is taken away, what runs along it is kept, at seams and in corners too.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::travel::slide;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("raised bed")).with('.', TileKind::floor("path"));
    let beds = TileGrid::from_rows(&["......", "######"], &legend)?.with_tile_size(16.0)?;
    let gardener = Footprint::rect(12.0, 8.0)?;

    // Down and to the right, onto a row of beds: down stops, right goes on, and no seam is felt.
    let motion = Motion::new(vec2(60.0, 20.0), vec2(60.0, 20.0), Angle::ZERO);
    let result = slide(&beds, &gardener, vec2(8.0, 6.0), motion, &WallFilter::ALL);
    println!("{result}");
    assert_eq!((result.position, result.velocity), (vec2(68.0, 12.0), vec2(60.0, 0.0)));
    Ok(())
}
