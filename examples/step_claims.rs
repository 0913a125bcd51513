//! Claims: a train moves in one go, two carts that meet head-on neither swap nor share, a crate is pushed.

use ambulant::prelude::*;
use ambulant::steps::{Claims, MoverId, StepGround, StepInput, StepMode, StepRules, Stepper, tick_together};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new().with('.', TileKind::floor("rails"));
    let map = TileGrid::from_rows(&["........"], &legend)?;
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = StepRules::new(2.0)?.with_mode(StepMode::HOLD).pushing();

    // The last one is first in the list: the order does not show.
    let oncoming = Stepper::on(ivec2(7, 0), rules, &ground, &mut claims)?;
    let follower = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;
    let leader = Stepper::on(ivec2(1, 0), rules, &ground, &mut claims)?;
    let crate_ = claims.put_thing(ivec2(3, 0), &ground)?;
    let mut carts = [oncoming, follower, leader];
    let wish = |id: MoverId| {
        let way = if id == oncoming.id() { -1.0 } else { 1.0 };
        StepInput::from(Intent::new(vec2(way, 0.0)))
    };
    for _ in 0..180 {
        tick_together(&mut carts, wish, 1.0 / 60.0, &ground, &mut claims, |id, event| {
            println!("{id}: {}", event.what);
        });
    }
    println!(
        "the crate stands at {:?}, the carts at {:?}",
        claims.thing(crate_),
        carts.map(|cart| cart.tile().x)
    );
    assert!(carts[1].tile().x + 1 == carts[2].tile().x);
    Ok(())
}
