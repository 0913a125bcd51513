//! Passing: some walls are reported and do not block. A moth flies through nets and is stopped by glass.

use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::terrain::Layers;
use ambulant::travel::{Response, resolve, slide};

/// The layer that nets lie on.
const NETS: Layers = Layers::bit(1);

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new()
        .with('#', TileKind::wall("glass wall"))
        .with('n', TileKind::wall("net").with_layers(NETS))
        .with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["..n..n..#"], &legend)?.with_tile_size(16.0)?;
    let moth = Footprint::circle(4.0)?;
    let motion = Motion::new(vec2(200.0, 0.0), vec2(200.0, 0.0), Angle::ZERO);

    // Chosen at each contact: every net is reported, none blocks.
    let through_nets = |hit: &ambulant::terrain::Hit| {
        if hit.layers == NETS { Response::PassThrough } else { Response::Slide }
    };
    let result = resolve(&map, &moth, vec2(8.0, 8.0), motion, &WallFilter::ALL, through_nets);
    println!("{result}");
    assert_eq!(result.position.x, 124.0);

    // Or by the mask: a mover without the layer in its mask gets no contacts with it.
    let unblocked = slide(&map, &moth, vec2(8.0, 8.0), motion, &WallFilter::on(!NETS));
    println!("{unblocked}");
    assert_eq!(unblocked.contacts.len(), 1);
    Ok(())
}
