//! Every constructor with any number, and every call that a constructor's yes allows.

#![no_main]

use ambulant::arcade::{AngleLimits, Ball, Decision, Hover, Paddle, PaddleHit, Projectile, tick_balls};
use ambulant::drive::{Drag, Drive, Falling, Glide, Helm, Pace, Steering};
use ambulant::direction::Angle;
use ambulant::intent::{Flick, Stick};
use ambulant::pose::{Lean, Stance, WalkCycle};
use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid};
use ambulant::steps::{
    Claims, CornerRule, Diagonals, StepMode, GridEdge, MoverId, Portals, StepGround, StepRules, Stepper, tick_together,
};
use ambulant::direction::{Corner, Side};
use ambulant::terrain::{Layers, World, Outside, PlayArea, Terrain, WallFilter};
use ambulant::time::Ticks;
use ambulant::travel::push_out;
use ambulant::view::{Follow, View};

/// Numbers out of bytes: any bits at all, and often ordinary ones.
struct Numbers<'a>(&'a [u8]);

impl Numbers<'_> {
    fn byte(&mut self) -> u8 {
        let Some((first, rest)) = self.0.split_first() else { return 0 };
        self.0 = rest;
        *first
    }

    fn number(&mut self) -> f32 {
        match self.byte() % 4 {
            0 => f32::from_le_bytes([self.byte(), self.byte(), self.byte(), self.byte()]),
            1 => f32::from(self.byte()) * 0.25,
            2 => f32::from(self.byte()) - 128.0,
            _ => f32::from(self.byte()) / 256.0,
        }
    }

    fn pair(&mut self) -> Vec2 {
        vec2(self.number(), self.number())
    }
}

fn walk(drive: impl Drive, walls: &(TileGrid, World), footprint: Footprint, n: &mut Numbers<'_>) {
    let mut walker = Walker::new(n.pair(), footprint, drive);
    walker.mask = Layers::from_bits(u32::from(n.byte()));
    for _ in 0..4 {
        let intent = Intent::new(n.pair());
        let result = walker.tick(intent, n.number(), walls);
        assert!(result.contacts.iter().count() <= 8);
    }
}

/// Steppers with any rules, one by one and in order of time, among portals and things.
fn step(grid: &TileGrid, n: &mut Numbers<'_>) {
    let tile = |n: &mut Numbers<'_>| ivec2(i32::from(n.byte() % 8), i32::from(n.byte() % 6));
    let portals = Portals::new(grid, &[(tile(n), tile(n))]).unwrap_or_default();
    let edge = if n.byte() % 2 == 0 { GridEdge::Block } else { GridEdge::Wrap };
    let (ground, mut claims) = (StepGround { grid, edge, portals: &portals }, Claims::new());
    for _ in 0..n.byte() % 3 {
        let _ = claims.put_thing(tile(n), &ground);
    }
    let mut steppers = Vec::new();
    for _ in 0..n.byte() % 6 {
        let mode = match n.byte() % 3 {
            0 => StepMode::Tap,
            1 => StepMode::Hold { delay: n.number(), pause: n.number() },
            _ => StepMode::RunOn,
        };
        let rules = StepRules::new(n.number()).map(|rules| rules.with_mode(mode).pushing());
        let rules = rules.and_then(|rules| rules.with_input_buffer(n.number()));
        let eight = Diagonals::On { corners: CornerRule::OneFree, lasts: n.number() };
        let rules = rules.and_then(|rules| if n.byte() % 2 == 0 { rules.with_diagonals(eight) } else { Ok(rules) });
        steppers.extend(rules.ok().and_then(|rules| Stepper::on(tile(n), rules, &ground, &mut claims).ok()));
    }
    for _ in 0..4 {
        for stepper in &mut steppers {
            let _ = stepper.tick(Intent::new(n.pair()), n.number(), &ground, &mut claims);
        }
        let wishes: Vec<Intent> = steppers.iter().map(|_| Intent::new(n.pair())).collect();
        let wish = |id: MoverId| wishes[id.number() as usize].into();
        tick_together(&mut steppers, wish, n.number(), &ground, &mut claims, |_, _| {});
    }
    for stepper in steppers {
        assert!(grid.contains(stepper.tile()) && stepper.position(grid).is_finite());
        stepper.leave(&mut claims);
    }
}

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| {
    let n = &mut Numbers(bytes);
    let kinds = [
        TileKind::floor("path"),
        TileKind::floor("moss"),
        TileKind::wall("bed"),
        TileKind::half("frame", Corner::TopRight),
        TileKind::floor("ledge").closed_from(Side::Top).closed_from(Side::Left),
        TileKind::wall("net").with_layers(Layers::bit(1)),
    ];
    let rows: Vec<Vec<usize>> =
        (0..5).map(|_| (0..7).map(|_| usize::from(n.byte()) % kinds.len()).collect()).collect();
    let mut grid = TileGrid::from_indices(&rows, &kinds).expect("an even map");
    if n.byte() % 2 == 0 {
        grid = grid.with_outside(Outside::Open).with_y_axis(YAxis::Up);
    }
    if let Ok(sized) = grid.clone().with_tile_size(n.number()) {
        grid = sized;
    }
    if let Ok(moved) = grid.clone().with_origin(n.pair()) {
        grid = moved;
    }
    let mut store = World::new();
    for _ in 0..n.byte() % 6 {
        let solid = match n.byte() % 4 {
            0 => Solid::box_from_corners(n.pair(), n.pair()).ok(),
            1 => Solid::circle(n.pair(), n.number()).ok(),
            2 => Solid::segment(n.pair(), n.pair()).ok(),
            _ => Polygon::new(&[n.pair(), n.pair(), n.pair(), n.pair()]).ok().map(Solid::Polygon),
        };
        if let Some(solid) = solid {
            store.add(solid);
        }
    }
    let walls = (grid, store);
    let footprint = match n.byte() % 2 {
        0 => Footprint::rect(n.number(), n.number()),
        _ => Footprint::circle(n.number()),
    };
    if let Ok(footprint) = footprint.and_then(|footprint| footprint.with_offset(n.pair())) {
        let _ = walls.sweep(&footprint, n.pair(), n.pair(), &WallFilter::ALL);
        let _ = push_out(&walls, &footprint, n.pair(), n.number(), &WallFilter::ALL);
        let drag = Drag::half_life(n.number()).or_else(|_| Drag::kept_per_frame(n.number(), n.number()));
        match n.byte() % 6 {
            0 => drop(Pace::new(n.number()).map(|drive| walk(drive, &walls, footprint, n))),
            1 => drop(Gait::new(n.number(), n.number(), n.number()).map(|drive| walk(drive, &walls, footprint, n))),
            2 => drop(drag.and_then(|drag| Glide::new(n.number(), drag, n.number())).map(|drive| walk(drive, &walls, footprint, n))),
            3 => {
                let helm = drag.and_then(|drag| Helm::new(n.number(), n.number(), drag, Steering::Toward));
                let helm = helm.and_then(|helm| helm.with_grip(n.number()));
                drop(helm.map(|drive| walk(drive, &walls, footprint, n)));
            }
            4 => {
                let pace = Pace::new(n.number());
                let falling = pace.and_then(|pace| Falling::new(pace, n.pair(), n.number()));
                drop(falling.map(|drive| walk(drive, &walls, footprint, n)));
            }
            _ => {
                let mut ball = Ball::new(n.pair(), n.pair(), footprint);
                if let Ok(angle_limits) = AngleLimits::new(n.number(), n.number()) {
                    ball.angle_limits = angle_limits;
                }
                let mut world = World::new().with_map(walls.0.clone());
                for (_, solid) in walls.1.walls() {
                    let _ = world.add(*solid);
                }
                if let Ok(edges) = PlayArea::new(n.pair(), n.pair()) {
                    world = world.with_play_area(edges);
                }
                let mut balls = [ball, Ball::new(n.pair(), n.pair(), footprint)];
                for _ in 0..4 {
                    let decision = Decision::bounce(n.number()).removing_wall();
                    let _ = tick_balls(&mut balls, n.number(), &mut world, |_, _| decision);
                }
                if let Ok(mut shot) = Projectile::aimed(n.pair(), n.pair(), n.number(), footprint) {
                    let _ = shot.tick(n.number(), &walls);
                }
                if let Ok(hover) = Hover::new(n.number(), n.number(), n.number()) {
                    let Ok(pace) = Pace::new(n.number()) else { return };
                    let mut lamp = Walker::new(n.pair(), footprint, pace);
                    lamp.hover = Some(hover);
                    let _ = lamp.tick(Intent::new(n.pair()), n.number(), &walls);
                }
                if let Ok(paddle) = Paddle::facing(n.pair(), n.number()) {
                    let (offset, paddle_velocity) = (n.pair(), n.pair());
                    let (normal, ball_velocity) = (n.pair(), n.pair());
                    let _ = paddle.deflect(&PaddleHit { offset, paddle_velocity, normal, ball_velocity });
                }
            }
        }
    }
    step(&walls.0, n);
    let _ = Stick::new(n.number(), n.number(), n.number()).map(|stick| stick.intent(n.pair()));
    let _ = Flick::new(n.number(), n.number(), n.number()).map(|flick| flick.launch(n.pair(), n.pair(), n.number()));
    let _ = Angle::from_radians(n.number()).turned_toward(Angle::from_degrees(n.number()), n.number());
    if let Ok(mut ticks) = Ticks::new(n.number()) {
        assert!(ticks.advance(n.number()) <= 8);
    }
    let _ = Stance::new(n.number(), n.number(), n.number()).map(|mut stance| stance.tick(n.number(), n.number()));
    let _ = Lean::new(n.number(), n.number(), n.number()).map(|mut lean| lean.tick(n.number(), n.number()));
    let _ = WalkCycle::by_distance(n.number(), 4).map(|mut walk| walk.tick(n.number(), n.number(), true));
    if let Ok(view) = View::new(n.pair(), n.number()) {
        let _ = view.to_world(n.pair());
        let _ = Follow::new(n.pair(), n.number()).map(|follow| follow.tick(&view, n.pair(), None, n.number()));
    }
});
