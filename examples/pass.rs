//! Passing: some walls are told and not minded. A moth flies through nets and is stopped by glass.

use ambulant::drive::Motion;
use ambulant::intent::Angle;
use ambulant::prelude::*;
use ambulant::terrain::{Layers, Minded};
use ambulant::travel::{Response, carry, slide};

/// The layer that nets lie on.
const NETS: Layers = Layers::bit(1);

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new()
        .with('#', TileKind::wall("glass wall"))
        .with('n', TileKind::wall("net").with_layers(NETS))
        .with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["..n..n..#"], &legend)?.with_tile_size(16.0)?;
    let moth = Footprint::circle(4.0)?;
    let motion = Motion { displacement: vec2(200.0, 0.0), velocity: vec2(200.0, 0.0), heading: Angle::ZERO };

    // Chosen at each contact: every net is told, none holds.
    let through_nets =
        |hit: &ambulant::terrain::Hit| if hit.layers == NETS { Response::Pass } else { Response::Slide };
    let passage = carry(&map, &moth, vec2(8.0, 8.0), motion, through_nets);
    println!("{passage}");
    assert_eq!(passage.position.x, 124.0);

    // Or never asked: a mover that does not mind the layer is told nothing of it.
    let unminded = slide(&Minded::new(&map, !NETS), &moth, vec2(8.0, 8.0), motion);
    println!("{unminded}");
    assert_eq!(unminded.contacts.len(), 1);
    Ok(())
}
