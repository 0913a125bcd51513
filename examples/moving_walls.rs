//! Moving walls: a rail cart carries and pushes, and a sliding door waits for whoever stands in it.

use ambulant::prelude::*;
use ambulant::shape::Solid;
use ambulant::travel::{MovingWall, push};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let mut walls = World::new();
    let cart = walls.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(16.0, 16.0))?);
    walls.add(Solid::box_from_corners(vec2(60.0, 0.0), vec2(64.0, 16.0))?); // a post at the end of the rails
    let feet = Footprint::rect(8.0, 8.0)?;
    let mut gardener = vec2(30.0, 8.0);

    // A quarter of a second at a time: it is pushed along, squeezed at the post, and the cart gives way.
    for step in 1..=12 {
        let Some(solid) = walls.solid(cart).copied() else { break };
        let moving = MovingWall { wall: cart, solid, displacement: vec2(4.0, 0.0), carries: false };
        let pushed = push(&walls, &feet, gardener, &moving, &WallFilter::ALL);
        gardener = pushed.position;
        walls.place(cart, solid.moved(moving.displacement * pushed.free));
        match pushed.squeezed {
            Some(behind) => println!("step {step}: squeezed against {behind}, the cart stops"),
            None => println!("step {step}: the gardener stands at {:.1}", gardener.x),
        }
        if pushed.squeezed.is_some() {
            assert_eq!((gardener.x, walls.solid(cart).map(|cart| cart.bounds().max.x)), (56.0, Some(52.0)));
            return Ok(());
        }
    }
    Err("the cart never reached the post".into())
}
