//! Moving walls: a rail cart pushes the gardener along, and stops at the instant at which it would squeeze her.

use ambulant::prelude::*;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut world = World::new();
    let cart = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(16.0, 16.0))?);
    world.add(Solid::box_from_corners(vec2(60.0, 0.0), vec2(64.0, 16.0))?); // a post at the end of the rails
    let gait = Gait::new(60.0, 400.0, 500.0)?;
    let mut gardener = Walker::new(vec2(30.0, 8.0), Footprint::rect(8.0, 8.0)?, gait);

    // A quarter of a second at a time, at 16 units per second.
    let dt = 0.25;
    for step in 1..=12 {
        world.move_at(cart, vec2(16.0, 0.0));
        let free = world.free_time(cart, [&gardener], dt);
        world.stop_after(cart, free);
        let result = gardener.tick(Intent::NONE, dt, &world);
        world.advance(dt);
        println!(
            "step {step}: the gardener stands at {:.1}, pushed by {:.1}",
            gardener.position.x, result.pushed.x
        );
        if free < dt {
            println!("the cart waits after {free:.3} s: there is no room");
            assert!(result.squeezed.is_none());
            assert_eq!(gardener.position.x, 56.0);
            assert_eq!(world.solid(cart).map(|cart| cart.bounds().max.x), Some(52.0));
            return Ok(());
        }
    }
    Err("the cart never reached the post".into())
}
