//! A dewdrop, a leaf and frost panes: aimed by where it lands, one contact strikes one pane.

use ambulant::arcade::{AngleLimits, AtWall, Ball, Breakables, Paddle};
use ambulant::direction::Side;
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{EdgeRule, Obstacles, Outside, PlayArea, Wall};

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new()
        .with('.', TileKind::floor("air"))
        .with('o', TileKind::wall("frost pane"))
        .with('%', TileKind::wall("thick pane"));
    let rows = ["..oooo..", "..o%%o..", "........", "........", "........", "........"];
    let panes = TileGrid::from_rows(&rows, &legend)?.with_tile_size(16.0)?.with_outside(Outside::Open);
    let mut breakables = Breakables::new();
    breakables.set_kind_hits(1, 1);
    breakables.set_kind_hits(2, 2);

    let edges = PlayArea::new(vec2(0.0, 0.0), vec2(128.0, 96.0))?.with(Side::Bottom, EdgeRule::Open);
    let leaf = Paddle::facing(vec2(0.0, -1.0), 60f32.to_radians())?.with_gain(1.02, 240.0)?;
    let mut lies = Aabb::from_corners(vec2(48.0, 88.0), vec2(80.0, 92.0));
    let drop_at = leaf.serve_from(lies, 3.0, 0.3)?;
    let mut drop = Ball::new(drop_at, vec2(60.0, -120.0), Footprint::circle(3.0)?);
    drop.angle_limits = AngleLimits::new(10f32.to_radians(), 0.0)?;

    let mut world = (panes, Obstacles::new(), edges);
    let leaf_id = world.1.add(Solid::Box(lies));
    for tick in 0..600 {
        // The leaf keeps under the drop, a little to the side.
        let middle = (drop.position.x + if tick % 200 < 100 { 7.0 } else { -9.0 }).clamp(16.0, 112.0);
        lies = Aabb::from_corners(vec2(middle - 16.0, 88.0), vec2(middle + 16.0, 92.0));
        world.1.set(leaf_id, Solid::Box(lies));
        let velocity = drop.velocity;
        let bounces = drop.tick(1.0 / 60.0, &mut world, Some(&edges), |world, hit| {
            if hit.wall == Wall::Obstacle(leaf_id) {
                let sent = leaf.deflect(lies, hit.point, hit.normal, velocity, Vec2::ZERO);
                return AtWall::Deflect(sent.velocity);
            }
            let strike = breakables.strike(hit.wall, &world.0);
            if let Some(left) = strike.hits_left {
                println!("tick {tick}: struck {}, {left} to go", hit.wall);
            }
            let (grid, obstacles) = (&mut world.0, &mut world.1);
            if breakables.clear(strike, grid, 0, obstacles).is_err() {
                return AtWall::Stop;
            }
            AtWall::Bounce(1.0)
        });
        if !bounces.in_play {
            println!("lost at tick {tick}");
            break;
        }
    }
    Ok(())
}
