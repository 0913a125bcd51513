//! Run on: a cart keeps going, takes an early turn at the junction, and goes through a tunnel.

use ambulant::prelude::*;
use ambulant::steps::{Claims, Portals, StepGround, StepRules, Stepper};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('#', TileKind::wall("planter")).with('.', TileKind::floor("rails"));
    let map = TileGrid::from_rows(&["####.##", ".......", "####.##"], &legend)?;
    let tunnel = Portals::new(&map, &[(ivec2(0, 1), ivec2(6, 1))])?;
    let ground = StepGround { portals: &tunnel, ..StepGround::new(&map) };
    let mut claims = Claims::new();
    let rules = StepRules::new(4.0)?.with_input_buffer(0.6)?;
    let mut cart = Stepper::on(ivec2(2, 1), rules, &ground, &mut claims)?;

    // To the left, into the tunnel; up is asked for two tiles before the crossing.
    let asks = [(vec2(-1.0, 0.0), 0.2), (Vec2::ZERO, 0.45), (vec2(0.0, -1.0), 0.1), (Vec2::ZERO, 1.0)];
    let mut now = 0.0;
    for (ask, seconds) in asks {
        for event in cart.tick(Intent::new(ask), seconds, &ground, &mut claims).iter() {
            println!("{:.2} s  {}", now + event.at, event.what);
        }
        now += seconds;
    }
    assert_eq!(cart.tile(), ivec2(4, 0));
    Ok(())
}
