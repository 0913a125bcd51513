//! Hold: a press gives one tile, a held key goes on after a delay; and the map scrolls under the mover.

use ambulant::prelude::*;
use ambulant::steps::{Claims, Easing, StepGround, StepMode, StepRules, Stepper};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["............"], &legend)?.with_tile_size(16.0)?;
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mode = StepMode::Hold { delay: 0.35, pause: 0.0 };
    let rules = StepRules::new(5.0)?.with_mode(mode).with_easing(Easing::Smooth);
    let mut gardener = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;

    let right = HeldKeys { right: true, ..HeldKeys::NONE }.intent(YAxis::Down);
    for tick in 1..=60 {
        let _ = gardener.tick(right, 1.0 / 60.0, &ground, &mut claims);
        if tick % 10 == 0 {
            let (tile, scrolled) = (gardener.tile().x, gardener.view_offset(&map).x);
            println!("tile {tile}, the map scrolled by {scrolled:.1}");
        }
    }
    // One tile at once, and from 0.35 s on one every fifth of a second.
    assert_eq!(gardener.tile(), ivec2(4, 0));
    Ok(())
}
