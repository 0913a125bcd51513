//! A lamp that keeps its height over uneven benches.

use ambulant::arcade::Hover;
use ambulant::direction::Axis;
use ambulant::drive::{OneAxis, Pace};
use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("bench")).with('.', TileKind::floor("air"));
    let rows = ["..........", "..........", "....##....", "..####..#.", "##########"];
    let benches = TileGrid::from_rows(&rows, &legend)?.with_tile_size(16.0)?;
    let drive = OneAxis { drive: Pace::new(30.0)?, axis: Axis::X };
    let mut lamp = Walker::new(vec2(12.0, 40.0), Footprint::rect(8.0, 6.0)?, drive);
    lamp.hover = Some(Hover::new(8.0, 60.0, 40.0)?.with_ahead(16.0, 40.0)?);
    for tick in 0..=280 {
        if tick % 28 == 0 {
            println!("at {:5.1} across, {:4.1} down", lamp.position.x, lamp.position.y);
        }
        let _ = lamp.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &benches);
    }
    Ok(())
}
