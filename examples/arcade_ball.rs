//! Two dewdrops, a leaf and frost panes: aimed by where they land, one contact strikes one pane.

use ambulant::arcade::{AngleLimits, PaddleHit};
use ambulant::prelude::*;
use ambulant::walker::Path;

fn main() -> Result<(), Box<dyn std::error::Error>> {
    let legend = Legend::new()
        .with('.', TileKind::floor("air"))
        .with('o', TileKind::wall("frost pane"))
        .with('%', TileKind::wall("thick pane"));
    let rows = ["..oooo..", "..o%%o..", "........", "........", "........", "........"];
    let panes = TileGrid::from_rows(&rows, &legend)?.with_tile_size(16.0)?.with_outside(Outside::Open);
    let kinds = ["frost pane", "thick pane"].map(|name| panes.kind_named(name));
    let edges = PlayArea::new(vec2(0.0, 0.0), vec2(128.0, 96.0))?.with(Side::Bottom, EdgeRule::Open);
    let mut world = World::new().with_map(panes).with_play_area(edges);
    for (kind, hits) in kinds.into_iter().flatten().zip([1, 2]) {
        world.set_kind_hits(kind, hits);
    }

    // A leaf is a walker, a wall that follows it, and the rules by which it aims.
    let rules = Paddle::facing(vec2(0.0, -1.0), 60f32.to_radians())?.with_gain(1.02, 240.0)?;
    let shape = Footprint::rect(32.0, 4.0)?;
    let mut leaf = Walker::new(vec2(64.0, 90.0), shape, Gait::new(240.0, 4000.0, 4000.0)?);
    let wall = world.add(shape.solid_at(leaf.position));
    leaf.own_wall = Some(wall);
    let round = Footprint::circle(3.0)?;
    let mut drops = [-60.0, 60.0].map(|x| Ball::new(Vec2::ZERO, vec2(x, -120.0), round));
    for (drop, offset) in drops.iter_mut().zip([-0.3, 0.3]) {
        drop.position = rules.serve_from(shape.at(leaf.position), 3.0, offset)?;
        drop.angle_limits = AngleLimits::new(10f32.to_radians(), 0.0)?;
    }
    let (mut path, dt) = (Path::default(), 1.0 / 60.0);
    for tick in 0..600 {
        // The leaf keeps under the lower drop, a little to the side.
        let in_play = drops.iter().filter(|drop| drop.is_in_play());
        let Some(lower) = in_play.max_by(|a, b| a.position.y.total_cmp(&b.position.y)) else {
            println!("both lost at tick {tick}");
            break;
        };
        let middle = lower.position.x + if tick % 200 < 100 { 7.0 } else { -9.0 };
        let ahead = ((middle - leaf.position.x) / 8.0).clamp(-1.0, 1.0);
        let _ = leaf.tick_with_path(Intent::new(vec2(ahead, 0.0)), dt, &world, &mut path);
        world.follow(wall, &path);
        tick_balls(&mut drops, dt, &mut world, |_, impact| {
            if impact.hit.wall == wall {
                return Decision::deflect(rules.deflect(&PaddleHit::of(impact)).velocity);
            }
            if let Some(left) = impact.hits_left {
                let seconds = f64::from(tick) / 60.0 + f64::from(impact.seconds);
                println!(
                    "{seconds:.3} s: drop {} struck {}, {} to go",
                    impact.ball,
                    impact.hit.wall,
                    left - 1
                );
            }
            Decision::bounce(1.0).hitting_wall()
        });
        world.advance(dt);
    }
    Ok(())
}
