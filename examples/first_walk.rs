//! A gardener walks down a path, slides along a bed and stops in the corner behind it.

use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("raised bed")).with('.', TileKind::floor("path"));
    let rows = ["........", "...##...", "...##...", "........"];
    let glasshouse = TileGrid::from_rows(&rows, &legend)?.with_tile_size(16.0)?;

    let feet = Footprint::rect(10.0, 8.0)?;
    let gait = Gait::new(60.0, 400.0, 500.0)?; // units/s, units/s², units/s²
    let mut gardener = Walker::new(glasshouse.center_of(ivec2(0, 1)), feet, gait);

    let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
    for tick in 0..120 {
        let result = gardener.tick(keys.intent(YAxis::Down), 1.0 / 60.0, &glasshouse);
        if tick % 15 == 14 {
            let at = gardener.position;
            println!("{:.2} s  x {:6.2}  y {:6.2}", f64::from(tick + 1) / 60.0, at.x, at.y);
            result.contacts.iter().for_each(|contact| println!("        {contact}"));
        }
    }
    Ok(())
}
