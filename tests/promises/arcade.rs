//! Balls, paddles, things that break, edges, projectiles, hovering, bodies.

use ambulant::arcade::{
    AngleLimits, Ball, BallEvent, BallState, Decision, FlightEnd, Hover, Impact, MAX_BOUNCES, Paddle,
    PaddleHit, PaddlePart, Projectile, tick_balls_with,
};
use ambulant::direction::{Axis, Side};
use ambulant::drive::{Drag, Helm, OneAxis, Steering};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{Crossing, EdgeRule, PlayArea, Terrain, Wall, WallFilter, World};
use ambulant::walker::{AlongWalls, AtWalls};
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{Dice, any_footprint, bounce, map, random_map};

/// The place on a triangle wave between two walls after a way of this length, in `f64`.
fn wave(low: f64, high: f64, start: f64, way: f64) -> f64 {
    let span = high - low;
    let along = (start - low + way).rem_euclid(2.0 * span);
    low + if along > span { 2.0 * span - along } else { along }
}

#[rstest]
#[case::even_30(&[1.0 / 30.0])]
#[case::even_60(&[1.0 / 60.0])]
#[case::even_144(&[1.0 / 144.0])]
#[case::uneven(&[0.011, 0.034, 0.002, 0.019])]
fn for_an_hour_a_ball_in_a_box_follows_the_exact_wave(#[case] ticks: &[f32]) {
    let (low, high) = (vec2(0.0, 0.0), vec2(100.0, 60.0));
    let mut field = World::new().with_play_area(PlayArea::new(low, high).unwrap());
    let (start, velocity) = (vec2(31.7, 12.9), vec2(173.25, -94.5));
    let mut ball = Ball::new(start, velocity, Footprint::circle(2.0).unwrap());
    let (mut seconds, mut number) = (0.0f64, 0usize);
    while seconds < 3600.0 {
        let dt = ticks[number % ticks.len()];
        (number, seconds) = (number + 1, seconds + f64::from(dt));
        let bounces = bounce(&mut ball, dt, &mut field);
        assert!(ball.is_in_play() && bounces.unplayed_seconds == 0.0);
    }
    let exact = |axis: usize| {
        let (start, speed) = (f64::from(start[axis]), f64::from(velocity[axis]));
        wave(f64::from(low[axis]) + 2.0, f64::from(high[axis]) - 2.0, start, speed * seconds)
    };
    let off = (f64::from(ball.position.x) - exact(0)).hypot(f64::from(ball.position.y) - exact(1));
    assert!(off < 0.05, "{off} away");
    assert_eq!(ball.velocity.abs(), velocity.abs());
}

properties! {
    300;

    #[test]
    fn no_ball_passes_anything_at_any_speed(
        impacts >= 56800;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, y in -5.0f32..5.0,
        angle in 0.0f32..6.3, power in -1.0f32..3.0,
    ) {
        let grid = grid.with_outside(ambulant::terrain::Outside::Block);
        let mut world = World::new().with_map(grid.clone());
        let speed = 10f32.powf(power);
        let mut ball = Ball::new(vec2(x, y), Vec2::from_angle(angle) * speed, footprint);
        prop_assume!(!world.overlaps(&footprint, ball.position, &WallFilter::ALL));
        let mut last = ball.position;
        for _ in 0..4 {
            let mut stops = Vec::new();
            let bounces = tick_balls(core::slice::from_mut(&mut ball), 1.0, &mut world, |_, impact| {
                stops.push(impact.hit.position);
                Decision::bounce(1.0)
            });
            impacts.add(stops.len());
            prop_assert!(bounces.unplayed_seconds == 0.0 || bounces.count == MAX_BOUNCES);
            prop_assert!((ball.velocity.length() - speed).abs() <= speed * 1e-4);
            for stop in stops.into_iter().chain([ball.position]) {
                prop_assert!(!world.overlaps(&footprint, stop, &WallFilter::ALL));
                prop_assert!(footprint.radius().is_some() || crate::scene::depth_on_the_way(&grid, &footprint, last, stop) < 1e-4);
                last = stop;
            }
        }
    }

    #[test]
    fn a_paddle_aims_by_the_place_and_never_back_into_itself(
        gained >= 140;
        place in -1.3f32..1.3, speed in 1.0f32..500.0, angle in 0.0f32..3.1, own in -300.0f32..300.0, side in 0usize..4,
        greatest in 0.0f32..1.5,
    ) {
        let away = [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y][side];
        let along = away.perp().abs();
        let paddle = Paddle::facing(away, greatest).unwrap().with_velocity_transfer(0.3).unwrap().with_gain(1.1, 400.0).unwrap();
        let came = -Vec2::from_angle(angle).rotate(away.perp()) * speed;
        let offset = along * place + away;
        let hit = PaddleHit { offset, paddle_velocity: along * own, normal: away, ball_velocity: came };
        let found = paddle.deflect(&hit);
        prop_assert_eq!(found.part, PaddlePart::Face);
        prop_assert!(found.velocity.dot(away) > 0.0);
        prop_assert!((found.angle - place.clamp(-1.0, 1.0) * greatest).abs() < 1e-5);
        let without_share = (found.velocity - along * own * 0.3).length();
        let wanted = if speed < 400.0 { (speed * 1.1).min(400.0) } else { speed };
        gained.when(speed * 1.1 < 400.0);
        prop_assert!((without_share - wanted).abs() < wanted * 1e-4);
    }

    #[test]
    fn a_wrap_keeps_velocity_and_place_on_the_other_axis(
        wrapped >= 190;
        x in 0.0f32..100.0, y in 0.0f32..60.0, angle in 0.0f32..6.3, speed in 1.0f32..2000.0, radius in 0.5f32..6.0,
    ) {
        let edges = PlayArea::new(Vec2::ZERO, vec2(100.0, 60.0)).unwrap().with_all(EdgeRule::Wrap);
        let mut field = World::new().with_play_area(edges);
        let mut drone = Ball::new(vec2(x, y), Vec2::from_angle(angle) * speed, Footprint::circle(radius).unwrap());
        let velocity = drone.velocity;
        for _ in 0..20 {
            let _ = bounce(&mut drone, 0.05, &mut field);
        }
        prop_assert_eq!(drone.velocity, velocity);
        wrapped.when(drone.position.distance(vec2(x, y) + velocity) > 50.0);
        // The field repeats with its size and the mover's own.
        let period = vec2(100.0, 60.0) + 2.0 * radius;
        let exact = vec2(x, y) + radius + velocity;
        let off = (exact - (drone.position + radius)).rem_euclid(period);
        let off = off.min(period - off);
        prop_assert!(off.max_element() < 0.02, "{off}");
    }
}

/// A ball rests on the side that its paddle faces, touching it, at the offset along it.
#[rstest]
fn a_ball_is_served_from_the_face_of_its_paddle(
    #[values((1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0))] away: (f32, f32),
    #[values(-1.0, -0.25, 0.0, 1.0, 7.0)] offset: f32,
) {
    let (away, radius) = (Vec2::from(away), 3.0);
    let lies = Aabb::from_corners(vec2(10.0, 20.0), vec2(18.0, 60.0));
    let paddle = Paddle::facing(away, 1.0).unwrap();
    let at = paddle.serve_from(lies, radius, offset).unwrap();
    let along = if away.x == 0.0 { vec2(4.0, 0.0) } else { vec2(0.0, 20.0) } * offset.clamp(-1.0, 1.0);
    let depth = if away.x == 0.0 { 20.0 } else { 4.0 } + radius;
    assert_eq!(at, vec2(14.0, 40.0) + along + away * depth);
    let mut walls = World::new();
    walls.add(Solid::from_area(lies).unwrap());
    let ball = Footprint::circle(radius).unwrap();
    assert!(!walls.overlaps(&ball, at, &WallFilter::ALL));
    assert!(walls.sweep(&ball, at, -away, &WallFilter::ALL).is_some_and(|hit| hit.fraction == 0.0));
}

/// A wall of its own count breaks after that many hits, whatever its kind says; 0 never.
#[rstest]
#[case::sooner(1, 1)]
#[case::as_its_kind(2, 2)]
#[case::later(5, 5)]
fn one_wall_breaks_after_hits_of_its_own(#[case] hits: u32, #[case] strikes: u32) {
    let legend = Legend::new().with('.', TileKind::floor("air")).with('o', TileKind::wall("frost pane"));
    let panes = TileGrid::from_rows(&["oo."], &legend).unwrap();
    let [one, other] = [0, 1].map(|x| Wall::tile(ivec2(x, 0)));
    let pane = panes.kind_named("frost pane").unwrap();
    let mut world = World::new().with_map(panes);
    world.set_kind_hits(pane, 2);
    world.set_wall_hits(one, hits);
    assert_eq!((world.hits_left(one), world.hits_left(other)), (Some(hits), Some(2)));
    for strike in 1..=strikes {
        let told = world.strike(one);
        assert_eq!((told.hits_left, told.broke), (Some(hits - strike), strike == hits));
        assert_eq!(world.map().unwrap().blocks(ivec2(0, 0)), strike < hits);
    }
    // The other one was not struck.
    assert_eq!(world.hits_left(other), Some(2));
    world.set_wall_hits(other, 0);
    assert_eq!(world.hits_left(other), None);
    assert!(!world.strike(other).broke);
    assert_eq!(world.hits_left(Wall::tile(ivec2(2, 0))), None);
    // A pane that is put in again takes as many hits as a new one.
    world.map_mut().unwrap().set(ivec2(0, 0), pane).unwrap();
    assert_eq!(world.hits_left(one), Some(2));
}

#[test]
fn a_rally_never_goes_level_or_upright_and_a_ball_does_not_stick() {
    let mut field = World::new().with_play_area(PlayArea::new(Vec2::ZERO, vec2(100.0, 60.0)).unwrap());
    let mut ball = Ball::new(vec2(50.0, 30.0), vec2(200.0, 0.0), Footprint::circle(2.0).unwrap());
    ball.angle_limits = AngleLimits::new(0.2, 0.1).unwrap();
    let mut sides = std::collections::BTreeSet::new();
    let mut turned = 0;
    for _ in 0..600 {
        let before = ball.velocity;
        let told = tick_balls(core::slice::from_mut(&mut ball), 1.0 / 60.0, &mut field, |_, impact| {
            sides.insert(impact.hit.side.to_string());
            Decision::bounce(1.0)
        });
        if ball.velocity == before {
            continue;
        }
        let level = ball.velocity.y.abs().atan2(ball.velocity.x.abs());
        assert!(
            (0.2 - 1e-5..=core::f32::consts::FRAC_PI_2 - 0.1 + 1e-5).contains(&level),
            "{level}: {told:?}"
        );
        turned += 1;
    }
    assert!(turned > 20, "{turned} rebounds");
    assert_eq!(sides.len(), 4);
    assert!((ball.velocity.length() - 200.0).abs() < 1e-2);
}

/// A whole game: a drop, a leaf that follows it, panes of which some need two hits, an open gutter.
#[derive(Debug, Clone, PartialEq)]
struct Game {
    world: World,
    leaf: f32,
    leaf_wall: Wall,
    drop: [Ball; 1],
    /// Tick, tile, and hits left, for each contact with a pane.
    told: Vec<(u32, IVec2, u32)>,
    tick: u32,
}

const ROWS: [&str; 12] = [
    "............",
    "..oooooooo..",
    "..o%%oo%%o..",
    "..oooooooo..",
    "............",
    "............",
    "............",
    "............",
    "............",
    "............",
    "............",
    "............",
];

impl Game {
    fn new() -> Self {
        let legend = Legend::new()
            .with('.', TileKind::floor("air"))
            .with('o', TileKind::wall("frost pane"))
            .with('%', TileKind::wall("thick pane"));
        let panes = TileGrid::from_rows(&ROWS, &legend).unwrap().with_tile_size(16.0).unwrap();
        let panes = panes.with_outside(ambulant::terrain::Outside::Open);
        let kinds = ["frost pane", "thick pane"].map(|name| panes.kind_named(name).unwrap());
        let edges = PlayArea::new(Vec2::ZERO, vec2(192.0, 192.0)).unwrap().with(Side::Bottom, EdgeRule::Open);
        let mut world = World::new().with_map(panes).with_play_area(edges);
        (1..).zip(kinds).for_each(|(hits, kind)| world.set_kind_hits(kind, hits));
        let mut drop = Ball::new(vec2(90.0, 150.0), vec2(70.0, -130.0), Footprint::circle(3.0).unwrap());
        drop.angle_limits = AngleLimits::new(0.15, 0.05).unwrap();
        let leaf_wall = world.add(Solid::box_from_corners(Vec2::ZERO, Vec2::ONE).unwrap());
        Self { world, leaf: 96.0, leaf_wall, drop: [drop], told: Vec::new(), tick: 0 }
    }

    fn lies(&self) -> Aabb {
        Aabb::from_corners(vec2(self.leaf - 16.0, 176.0), vec2(self.leaf + 16.0, 180.0))
    }

    fn is_over(&self) -> bool {
        let panes = self.world.map().unwrap();
        !(0..144).any(|index| panes.blocks(panes.tile_of_index(index).unwrap()))
    }

    fn tick(&mut self) {
        self.tick += 1;
        // The leaf follows the drop, a little to one side and then to the other, so that no flight comes round again.
        let aim = [-13.0, 9.0, -4.0, 14.0, 2.0, -9.0, 6.0][(self.tick / 90) as usize % 7];
        let way = (self.drop[0].position.x + aim - self.leaf).clamp(-4.0, 4.0);
        self.leaf = (self.leaf + way).clamp(16.0, 176.0);
        let lies = self.lies();
        self.world.place(self.leaf_wall, Solid::from_area(lies).unwrap());
        let paddle = Paddle::facing(vec2(0.0, -1.0), 1.0).unwrap().with_gain(1.02, 260.0).unwrap();
        let (leaf, told, tick) = (self.leaf_wall, &mut self.told, self.tick);
        tick_balls(&mut self.drop, 1.0 / 60.0, &mut self.world, |_, impact| {
            if impact.hit.wall == leaf {
                return Decision::deflect(paddle.deflect(&PaddleHit::of(impact)).velocity);
            }
            if let (Some(left), Wall::Tile(_, tile)) = (impact.hits_left, impact.hit.wall) {
                told.push((tick, tile, left - 1));
            }
            Decision::bounce(1.0).hitting_wall()
        });
        let [drop] = &self.drop;
        assert!(drop.is_in_play(), "lost at tick {tick}");
        assert!(!self.world.overlaps(&drop.footprint, drop.position, &WallFilter::ALL));
    }
}

#[test]
fn a_whole_game_breaks_every_pane_once_and_plays_the_same_again_and_from_the_middle() {
    let play = |mut game: Game, until: u32| {
        while !game.is_over() && game.tick < until {
            game.tick();
        }
        game
    };
    let middle = play(Game::new(), 1200);
    let game = play(middle.clone(), 100_000);
    assert!(game.is_over(), "{} contacts", game.told.len());
    // Twenty panes take one hit and four take two: each contact struck one of them.
    assert_eq!(game.told.len(), 24 + 4);
    assert_eq!(game.told.iter().filter(|(_, _, left)| *left == 0).count(), 24);
    let mut broken: Vec<(i32, i32)> =
        game.told.iter().filter(|(_, _, left)| *left == 0).map(|(_, tile, _)| (tile.x, tile.y)).collect();
    broken.sort_unstable();
    broken.dedup();
    assert_eq!(broken.len(), 24);
    assert_eq!(play(Game::new(), 100_000), game);
    assert_eq!(play(middle, 100_000), game);
}

#[rstest]
#[case::first_wall(0, 1)]
#[case::two_bounces(2, 3)]
fn a_projectile_ends_at_the_wall_that_it_has_no_bounce_for(#[case] bounces: u32, #[case] met: u32) {
    let grid = map(&["#....#"]);
    let mut puff = Projectile::aimed(Vec2::ZERO, vec2(1.0, 0.0), 12.0, Footprint::circle(0.25).unwrap())
        .unwrap()
        .with_bounces(bounces);
    let mut ticks = 0;
    let end = loop {
        ticks += 1;
        if let Some(end) = puff.tick(1.0 / 60.0, &grid) {
            break end;
        }
    };
    let FlightEnd::Hit { hit, .. } = end else { panic!("{end:?}") };
    assert_eq!(hit.side, if met % 2 == 1 { Side::Left } else { Side::Right });
    // 1.75 units to the first wall, 3.5 to each other one.
    let seconds = (1.75 + 3.5 * f64::from(bounces)) / 12.0;
    assert!((f64::from(ticks) / 60.0 - seconds).abs() <= 1.0 / 60.0);
    assert_eq!(puff.velocity(), Vec2::ZERO);
    let place = puff.position();
    assert!(matches!(puff.tick(0.5, &grid), Some(FlightEnd::Hit { .. })) && puff.position() == place);
}

#[rstest]
fn a_lamp_keeps_its_height_and_does_not_climb_by_gaps(#[values(30.0, 60.0, 240.0)] rate: f32) {
    let benches = map(&["............", "............", ".....##.....", "..#########.", "############"]);
    let benches = benches.with_outside(ambulant::terrain::Outside::Open);
    let pace = OneAxis { drive: Pace::new(1.5).unwrap(), axis: Axis::X };
    let mut lamp = Walker::new(vec2(-5.5, 0.0), Footprint::rect(0.8, 0.4).unwrap(), pace);
    lamp.hover = Some(Hover::new(0.5, 2.0, 3.0).unwrap().with_ahead(1.0, 1.1).unwrap());
    let mut highest = f32::INFINITY;
    while lamp.position.x < 5.4 {
        let before = lamp.position.y;
        let result = lamp.tick(Intent::new(Vec2::X), 1.0 / rate, &benches);
        let rose = before - lamp.position.y;
        assert!(-rose <= 3.0 / rate + 1e-5 && rose <= 2.0 / rate + 1e-5);
        assert!(result.contacts.is_empty(), "{result}");
        highest = highest.min(lamp.position.y);
    }
    // Over the bench of two: its top is at -0.5, the lamp's lower side 0.5 above.
    assert!((highest + 1.2).abs() < 1e-3, "{highest}");
    // Beside the bench of one it still keeps the height over that.
    assert!((lamp.position.y + 0.2).abs() < 1e-3, "{}", lamp.position);
    lamp.hover = Some(Hover::new(0.5, 2.0, 3.0).unwrap());
    let _ = lamp.tick(Intent::NONE, 0.1, &benches);
    assert_eq!(lamp.velocity, vec2(0.0, 3.0));
    let _ = lamp.tick(Intent::NONE, 3.0, &benches);
    assert!((lamp.position.y - 0.8).abs() < 1e-4 && lamp.velocity == Vec2::ZERO, "{}", lamp.position);
}

/// Over random benches, one long tick ends where many short ones do.
#[test]
fn over_benches_one_tick_ends_where_many_short_ones_do() {
    let (mut compared, mut rose, mut apart) = (0, 0, Vec::new());
    for seed in 0..400 {
        let mut dice = Dice::new(seed);
        let mut walls = World::new();
        walls.add(Solid::box_from_corners(vec2(-90.0, 10.0), vec2(90.0, 20.0)).unwrap());
        for bench in 0..6u8 {
            let left = f32::from(bench) * 5.0 + dice.number(0.0, 2.0);
            let top = 10.0 - dice.number(0.5, 4.0);
            let end = left + dice.number(0.5, 3.0);
            walls.add(Solid::box_from_corners(vec2(left, top), vec2(end, 12.0)).unwrap());
        }
        let pace = OneAxis { drive: Pace::new(dice.number(1.0, 20.0)).unwrap(), axis: Axis::X };
        let mut lamp = Walker::new(vec2(-2.0, 2.0), Footprint::rect(1.0, 0.6).unwrap(), pace);
        let hover =
            Hover::new(dice.number(1.0, 4.0), dice.number(2.0, 20.0), dice.number(2.0, 20.0)).unwrap();
        lamp.hover = Some(hover.with_ahead(dice.number(0.0, 3.0), 4.5).unwrap());
        let (mut one, mut many) = (lamp, lamp);
        let result = one.tick(Intent::new(Vec2::X), 1.3, &walls);
        for _ in 0..97 {
            let _ = many.tick(Intent::new(Vec2::X), 1.3 / 97.0, &walls);
        }
        compared += 1;
        rose += usize::from(one.position.y < 7.0 && result.contacts.is_empty());
        assert!(!walls.overlaps(&one.footprint, one.position, &WallFilter::ALL));
        if one.position.distance(many.position) > 0.02 {
            apart.push((seed, one.position, many.position));
        }
    }
    println!("{rose} high, {} of {compared} apart: {apart:?}", apart.len());
    assert!(rose > 100, "{rose}");
    assert!(apart.len() * 200 <= compared, "{} of {compared}: {apart:?}", apart.len());
}

#[rstest]
#[case::scrape(AtWalls::Slide, 1)]
#[case::stop(AtWalls::Stop, 0)]
#[case::bounce(AtWalls::bounce(0.6, 1.0).unwrap(), -1)]
fn what_a_wall_does_to_a_vehicle(#[case] at_walls: AtWalls, #[case] way: i8) {
    let lawn = map(&["..........", "..........", "##########"]);
    let helm = Helm::new(2.0, 40.0, Drag::half_life(1.0).unwrap(), Steering::Wheel(YAxis::Down)).unwrap();
    let mut roller = Walker::new(vec2(-3.0, -0.5), Footprint::rect(0.8, 0.6).unwrap(), helm);
    roller.along_walls = AlongWalls::PLAIN.with_at_walls(at_walls);
    roller.velocity = vec2(4.0, 4.0);
    let heading = roller.heading;
    let result = roller.tick(Intent::NONE, 0.25, &lawn);
    assert!(
        !result.contacts.is_empty() && !lawn.overlaps(&roller.footprint, roller.position, &WallFilter::ALL)
    );
    match way {
        1 => assert!(roller.velocity.y == 0.0 && roller.velocity.x > 3.0),
        0 => assert_eq!(roller.velocity, Vec2::ZERO),
        _ => assert!(roller.velocity.y < -1.5 && roller.velocity.x > 3.0, "{}", roller.velocity),
    }
    assert_eq!(roller.heading, heading);
}

#[rstest]
#[case::paddle(Paddle::facing(vec2(1.0, 1.0), 0.5).unwrap_err().field(), "away")]
#[case::angle(Paddle::facing(vec2(1.0, 0.0), 2.0).unwrap_err().field(), "greatest_angle")]
#[case::angle_limits(AngleLimits::new(1.0, 0.0).unwrap_err().field(), "to_level")]
#[case::hover(Hover::new(1.0, 0.0, 1.0).unwrap_err().field(), "rise")]
#[case::field(PlayArea::new(Vec2::ZERO, vec2(1.0, 0.0)).unwrap_err().field(), "height")]
fn what_cannot_be_is_refused_by_its_field(#[case] field: &str, #[case] wanted: &str) {
    assert_eq!(field, wanted);
}

#[test]
fn an_open_edge_lets_go_once_and_says_so() {
    let edges = PlayArea::new(Vec2::ZERO, vec2(10.0, 10.0)).unwrap().with(Side::Right, EdgeRule::Open);
    let mut world = World::new().with_play_area(edges);
    let mut balls = [Ball::new(vec2(5.0, 5.0), vec2(100.0, 0.0), Footprint::circle(1.0).unwrap())];
    let mut told = Vec::new();
    for _ in 0..2 {
        let bounce = |_: &Ball, _: &Impact| Decision::bounce(1.0);
        tick_balls_with(&mut balls, 1.0, &mut world, bounce, |event| told.push(event));
    }
    let [BallEvent::Left { ball: 0, side: Side::Right, seconds }] = told[..] else { panic!("{told:?}") };
    assert!((seconds - 0.06).abs() < 1e-5, "{seconds}");
    assert_eq!((balls[0].state(), balls[0].velocity), (BallState::Left(Side::Right), Vec2::ZERO));
    assert_eq!(edges.crossing(&balls[0].footprint, balls[0].position), Crossing::Left { side: Side::Right });
    balls[0].serve(vec2(5.0, 5.0), vec2(-10.0, 0.0));
    let _ = bounce(&mut balls[0], 0.1, &mut world);
    assert_eq!(balls[0].position, vec2(4.0, 5.0));
}

/// At the second wall in a tick, the impact gives the velocity after the first wall, and the time of the second.
#[test]
fn each_impact_in_a_tick_has_the_velocity_just_before_it() {
    let mut world = World::new();
    for x in [0.0, 10.0] {
        world.add(Solid::box_from_corners(vec2(x - 1.0, -5.0), vec2(x, 5.0)).unwrap());
    }
    let mut balls = [Ball::new(vec2(4.0, 0.0), vec2(40.0, 0.0), Footprint::circle(1.0).unwrap())];
    let mut told = Vec::new();
    tick_balls(&mut balls, 0.5, &mut world, |ball, impact| {
        assert_eq!(ball.velocity, impact.velocity);
        told.push((impact.velocity.x, impact.seconds));
        Decision::bounce(0.5)
    });
    // 4 units at 40 units/s, then 7 at 20.
    assert_eq!(told, [(40.0, 0.1), (-20.0, 0.45)]);
    assert_eq!(balls[0].velocity, vec2(10.0, 0.0));
}

properties! {
    300;

    /// Several balls: impacts come in order of time, what one breaks the others do not meet any more, and neither the
    /// order of the list nor the length of a tick shows.
    #[test]
    fn balls_meet_walls_in_order_of_time(
        impacts >= 1200, broken >= 200;
        seed in any::<u64>(), count in 2usize..6, parts in 1usize..5,
    ) {
        let mut dice = Dice::new(seed);
        let legend = Legend::new().with('.', TileKind::floor("air")).with('o', TileKind::wall("pane"));
        let rows = ["oooooooo", "oo....oo", "o......o", "o......o", "oo....oo", "oooooooo"];
        let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(10.0).unwrap();
        let pane = grid.kind_named("pane").unwrap();
        let mut world = World::new().with_map(grid);
        world.set_kind_hits(pane, 2);
        let balls: Vec<Ball> = (0..count)
            .map(|_| {
                let at = vec2(dice.number(22.0, 58.0), dice.number(22.0, 38.0));
                let way = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(40.0, 160.0);
                Ball::new(at, way, Footprint::circle(1.0).unwrap())
            })
            .collect();
        let play = |mut balls: Vec<Ball>, parts: usize| {
            let mut world = world.clone();
            let mut told: Vec<(f32, Vec2, Wall, Option<u32>)> = Vec::new();
            for part in 0..parts {
                let (dt, count) = (0.6 / parts as f32, balls.len());
                tick_balls(&mut balls, dt, &mut world, |_, impact| {
                    assert!(impact.ball < count);
                    told.push((part as f32 * dt + impact.seconds, impact.velocity, impact.hit.wall, impact.hits_left));
                    Decision::bounce(1.0).hitting_wall()
                });
            }
            (balls, told, world)
        };
        let (ends, told, after) = play(balls.clone(), 1);
        impacts.add(told.len());
        broken.add(told.iter().filter(|(_, _, _, left)| *left == Some(1)).count());
        prop_assert!(told.windows(2).all(|pair| pair[0].0 <= pair[1].0), "{told:?}");
        for (place, (_, _, wall, left)) in told.iter().enumerate() {
            let before = u32::try_from(told[..place].iter().filter(|(_, _, other, _)| other == wall).count()).unwrap();
            if let Some(left) = left {
                prop_assert_eq!(*left + before, 2, "{:?}", told);
            }
        }
        prop_assert!(ends.iter().all(|ball| !after.overlaps(&ball.footprint, ball.position, &WallFilter::ALL)));
        let turned: Vec<Ball> = balls.iter().rev().copied().collect();
        let (back, again, _) = play(turned, 1);
        prop_assert!(back.iter().rev().eq(ends.iter()));
        let instants = |told: &[(f32, Vec2, Wall, Option<u32>)]| told.iter().map(|met| (met.2, met.3)).collect::<Vec<_>>();
        prop_assert_eq!(instants(&again), instants(&told));
        let (split, _, _) = play(balls, parts);
        for (one, other) in ends.iter().zip(&split) {
            // Off the corners of panes, a rounding grows up to fortyfold.
            prop_assert!(one.position.distance(other.position) < 2e-2, "{one:?} {other:?}");
        }
    }
}
