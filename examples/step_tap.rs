//! Tap: one press is one tile, however short the press, and a press during a stride is kept for a while.

use ambulant::prelude::*;
use ambulant::steps::{Claims, StepGround, StepInput, StepMode, StepRules, Stepper};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("planter")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["....", "..#."], &legend)?.with_tile_size(16.0)?;
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = StepRules::new(4.0)?.with_mode(StepMode::Tap).with_input_buffer(0.3)?;
    let mut gardener = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;

    // Pressed and let go between two ticks; then down, while she is still under way.
    let tap = |x: f32, y: f32| StepInput { held: Intent::NONE, tapped: Intent::new(vec2(x, y)) };
    let nothing = StepInput::default();
    for (wish, seconds) in [(tap(1.0, 0.0), 0.1), (tap(0.0, 1.0), 0.1), (nothing, 0.5), (tap(1.0, 0.0), 0.2)]
    {
        for event in gardener.tick(wish, seconds, &ground, &mut claims).iter() {
            println!("{:.2} s on: {}", event.at, event.what);
        }
    }
    assert_eq!(gardener.tile(), ivec2(1, 1)); // the planter on the right stopped the last tap
    assert!(map.is_on_center(gardener.position(&map)));
    Ok(())
}
