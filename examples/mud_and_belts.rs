//! A gardener crosses mud, ice and a belt: the floor under the middle of her footprint decides.

use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let floor = |name, surface| TileKind::floor(name).with_surface(surface);
    let legend = Legend::new()
        .with('.', floor("path", Surface::PLAIN))
        .with('~', floor("mud", Surface::PLAIN.with_speed_factor(0.4)?))
        .with('*', floor("ice", Surface::PLAIN.with_grip(0.2)?))
        .with('v', floor("belt", Surface::PLAIN.with_belt(vec2(0.0, 24.0))?));
    let rows = [".~~~...***...vvv..", ".~~~...***...vvv..", ".~~~...***...vvv.."];
    let map = TileGrid::from_rows(&rows, &legend)?.with_tile_size(16.0)?;
    let gait = Gait::new(60.0, 400.0, 500.0)?;
    let mut gardener = Walker::new(vec2(8.0, 8.0), Footprint::rect(10.0, 8.0)?, gait);
    for tick in 0..=330u16 {
        if tick % 30 == 0 {
            let on = map.kind(map.tile_at(gardener.position)).map_or("nothing", TileKind::name);
            let (at, speed) = (gardener.position, gardener.velocity.length());
            println!(
                "{:3.1} s  at {:5.1}, {:4.1}  {speed:4.1} units/s  on {on}",
                f32::from(tick) / 60.0,
                at.x,
                at.y
            );
        }
        // She lets go for a moment on the ice.
        let right = if (180..200).contains(&tick) { Intent::NONE } else { Intent::new(vec2(1.0, 0.0)) };
        let _ = gardener.tick(right, 1.0 / 60.0, &map);
    }
    Ok(())
}
