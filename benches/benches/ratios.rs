//! What Ambulant costs beside what it replaces, as ratios: both sides are measured in turn, in one run, and a ratio
//! is the middle one of 41 pairs with a quarter of them below and above. `cargo bench -p ambulant-benches`, with a
//! word to run only rows that have it, or with `--check` to compare instruction counts with docs/performance.md instead.

use std::hint::black_box;
use std::path::Path;
use std::process::ExitCode;

use ambulant::arcade::{Ball, Decision, tick_balls};
use ambulant::direction::Angle;
use ambulant::drive::{Drag, Drive, Glide, Helm, Momentum, Motion, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Solid, sweep};
use ambulant::steps::{Claims, MoverId, StepGround, StepRules, Stepper, tick_together};
use ambulant::terrain::{Filtered, Layers, Terrain, WallFilter, World};
use ambulant::walker::{tick_all, tick_all_parallel};
use ambulant_benches::{Dice, Ratio, Side, check, compare, filled_grid, free_place, mixed_obstacles};
use rstar::primitives::GeomWithData;
use rstar::{AABB, RTree};

const DT: f32 = 1.0 / 60.0;
const MOVERS: usize = 10_000;

fn main() -> ExitCode {
    if std::env::args().any(|word| word == "--check") {
        return check(Path::new(env!("CARGO_BIN_EXE_hot")), include_str!("../../docs/performance.md"));
    }
    let wanted = std::env::args().skip(1).find(|word| !word.starts_with('-')).unwrap_or_default();
    println!("{:<62} {:>7}  {:<15} {:>17}  aim", "work", "ratio", "half of them in", "ns, first/second");
    let row = |name: &str, aim: &str, measured: &dyn Fn() -> Ratio| {
        if !name.contains(&wanted) {
            return;
        }
        let Ratio { middle, low, high, nanoseconds: [first, second] } = measured();
        let spread = format!("{low:.2} to {high:.2}");
        println!("{name:<62} {middle:>7.2}  {spread:<15} {first:>8.2}/{second:<8.2}  {aim}");
    };

    row("box slid in a 15 % grid / floor", "<= 30", &|| compare(sliding(64, boxed()), floor(MOVERS)));
    row("box over open ground / floor", "", &|| compare(sliding_open(boxed()), floor(MOVERS)));
    row("box over ponds on other layers / box over open ground", "", &|| {
        compare(sliding_over_ponds(boxed()), sliding_open(boxed()))
    });
    row("four tiles looked up by hand, nothing else / floor", "", &|| compare(looked_up(64), floor(MOVERS)));
    row("circle slid in a 15 % grid / floor", "", &|| compare(sliding(64, round()), floor(MOVERS)));
    row("loop over 600 walls / box slid in a 15 % grid", ">= 60", &|| {
        compare(hand_written(), sliding(64, boxed()))
    });
    row("box slid: map of 4096 x 4096 / 64 x 64", "<= 1.2", &|| {
        compare(sliding(4096, boxed()), sliding(64, boxed()))
    });
    row("four tiles looked up by hand: map of 4096 x 4096 / 64 x 64", "", &|| {
        compare(looked_up(4096), looked_up(64))
    });
    row("R-tree / first hit among 10,000 mixed obstacles", ">= 2", &|| {
        compare(first_hit_tree(10_000), first_hit(10_000))
    });
    row("first hit: 100,000 obstacles / 100", "<= 2", &|| compare(first_hit(100_000), first_hit(100)));
    row("first hit: two crowds of 5,000 far apart / one of 10,000", "", &|| {
        compare(first_hit_far_apart(5_000), first_hit(10_000))
    });
    row("all of 1,000 obstacles move, 100 look / floor", "", &|| compare(moving_obstacles(), floor(1_100)));
    let gait = || Gait::new(60.0, 400.0, 500.0).expect("in range");
    let drag = || Drag::half_life(0.4).expect("in range");
    let glide = || Glide::new(200.0, drag(), 1.0).expect("in range");
    let helm = || {
        Helm::new(2.0, 150.0, drag(), Steering::Wheel(YAxis::Down))
            .expect("in range")
            .with_grip(4.0)
            .expect("in range")
    };
    row("pace / floor", "<= 10", &|| compare(driving(Pace::new(60.0).expect("in range")), floor(MOVERS)));
    row("gait / floor", "<= 10", &|| compare(driving(gait()), floor(MOVERS)));
    row("glide / floor", "<= 10", &|| compare(driving(glide()), floor(MOVERS)));
    row("helm with grip / floor", "", &|| compare(driving(helm()), floor(MOVERS)));
    row("walker with a gait in a 15 % grid / floor", "", &|| compare(walking(slow_gait()), floor(MOVERS)));
    row("ball that bounces in a 15 % grid / floor", "", &|| compare(bouncing(), floor(MOVERS)));
    row("100,000 grid walkers, one tick / floor", "<= 15", &|| {
        compare(stepping(100_000, 4.0), floor(100_000))
    });
    row("100,000 grid walkers, none of which lands / floor", "", &|| {
        compare(stepping(100_000, 1e-4), floor(100_000))
    });
    row("10,000 grid walkers in order of time / one after the other", "", &|| {
        compare(stepping_together(10_000), stepping(10_000, 4.0))
    });
    row("walkers on one core / on all", ">= 1.8", &|| compare(one_core(), all_cores()));
    row("plain arithmetic on one core / on all", "", &|| compare(arithmetic(1), arithmetic(2)));
    row("100,000 records as long as a grid walker, read and written / floor", "", &|| {
        compare(records(), floor(100_000))
    });
    row("ten ticks of 1,000 walkers kept, taken back, played again / 20 ticks", "", &|| {
        compare(rolling_back(true), rolling_back(false))
    });
    row("a whole scene's tick / floor for as many", "", &|| compare(scene(), floor(200)));
    ExitCode::SUCCESS
}

fn boxed() -> Footprint {
    Footprint::rect(0.7, 0.5).expect("in range")
}

fn round() -> Footprint {
    Footprint::circle(0.3).expect("in range")
}

/// The floor: positions and velocities, and nothing in the way.
fn floor(movers: usize) -> Side<'static> {
    let mut dice = Dice::new(1);
    let mut all: Vec<(Vec2, Vec2)> = (0..movers).map(|_| (dice.place(64.0), dice.direction())).collect();
    Side::new(movers, move || {
        let dt = black_box(DT);
        for (position, velocity) in &mut all {
            *position += *velocity * dt;
        }
        black_box(&mut all);
    })
}

/// Movers that slide, and turn off where they meet a wall.
fn movers(map: &TileGrid, footprint: &Footprint, size: f32) -> Vec<(Vec2, Vec2)> {
    let mut dice = Dice::new(2);
    (0..MOVERS).map(|_| (free_place(map, footprint, size, &mut dice), dice.direction() * 4.0)).collect()
}

fn sliding(side: usize, footprint: Footprint) -> Side<'static> {
    let map = filled_grid(side, 15, &mut Dice::new(3));
    let mut all = movers(&map, &footprint, side as f32);
    Side::new(MOVERS, move || slide_all(&map, &footprint, &mut all))
}

fn sliding_open(footprint: Footprint) -> Side<'static> {
    let map = filled_grid(64, 0, &mut Dice::new(3));
    let mut all = movers(&map, &footprint, 64.0);
    Side::new(MOVERS, move || slide_all(&map, &footprint, &mut all))
}

/// Half of the tiles are in the way of others.
fn sliding_over_ponds(footprint: Footprint) -> Side<'static> {
    let mut dice = Dice::new(13);
    let pond = [TileKind::floor("path"), TileKind::wall("pond").with_layers(Layers::bit(1))];
    let rows: Vec<Vec<usize>> =
        (0..64).map(|_| (0..64).map(|_| usize::from(dice.number(0.0, 1.0) < 0.5)).collect()).collect();
    let map = TileGrid::from_indices(&rows, &pond).expect("a full map");
    let mut all = movers(&filled_grid(64, 0, &mut Dice::new(3)), &footprint, 64.0);
    Side::new(MOVERS, move || slide_all(&Filtered::new(&map, Layers::FIRST), &footprint, &mut all))
}

fn slide_all(map: &impl Terrain, footprint: &Footprint, all: &mut [(Vec2, Vec2)]) {
    let dt = black_box(DT);
    for (position, velocity) in all {
        let motion = Motion::new(*velocity * dt, *velocity, Angle::ZERO);
        let result = ambulant::travel::slide(map, footprint, *position, motion, &WallFilter::ALL);
        *position = result.position;
        if !result.contacts.is_empty() {
            // Another way, a little over a third of a circle on.
            *velocity = vec2(-0.73, 0.68).rotate(*velocity);
        }
    }
}

/// The least that anybody can do for boxes on tiles: each mover moves on if the tiles under its four corners are free
/// where it would be. No touch, no slide, no way between here and there, nothing outside of the map.
fn looked_up(side: usize) -> Side<'static> {
    let map = filled_grid(side, 15, &mut Dice::new(3));
    let free: Vec<bool> =
        (0..).map_while(|index| map.tile_of_index(index)).map(|tile| !map.blocks(tile)).collect();
    let half = boxed().size() * 0.5;
    let mut all = movers(&map, &boxed(), side as f32);
    Side::new(MOVERS, move || {
        let dt = black_box(DT);
        for (position, velocity) in &mut all {
            let next = *position + *velocity * dt;
            let (low, high) = (next - half, next + half);
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "as people write it")]
            let free = |x: f32, y: f32| free.get(y as usize * side + x as usize).copied().unwrap_or(false);
            if free(low.x, low.y) & free(high.x, low.y) & free(low.x, high.y) & free(high.x, high.y) {
                *position = next;
            } else {
                *velocity = vec2(-0.73, 0.68).rotate(*velocity);
            }
        }
    })
}

/// What people write by hand: for each axis, all walls in turn.
fn hand_written() -> Side<'static> {
    let map = filled_grid(64, 15, &mut Dice::new(3));
    let walls: Vec<Aabb> = (0..)
        .map_while(|index| map.tile_of_index(index))
        .filter(|tile| map.blocks(*tile))
        .map(|tile| map.tile_area(tile))
        .take(600)
        .collect();
    let footprint = boxed();
    let half = footprint.size() * 0.5;
    let mut all = movers(&map, &footprint, 64.0);
    Side::new(MOVERS, move || {
        for (position, velocity) in &mut all {
            let way = *velocity * black_box(DT);
            position.x += way.x;
            for wall in &walls {
                let covers = position.x + half.x > wall.min.x
                    && position.x - half.x < wall.max.x
                    && position.y + half.y > wall.min.y
                    && position.y - half.y < wall.max.y;
                if covers {
                    position.x = if way.x > 0.0 { wall.min.x - half.x } else { wall.max.x + half.x };
                    velocity.x = -velocity.x;
                }
            }
            position.y += way.y;
            for wall in &walls {
                let covers = position.x + half.x > wall.min.x
                    && position.x - half.x < wall.max.x
                    && position.y + half.y > wall.min.y
                    && position.y - half.y < wall.max.y;
                if covers {
                    position.y = if way.y > 0.0 { wall.min.y - half.y } else { wall.max.y + half.y };
                    velocity.y = -velocity.y;
                }
            }
        }
    })
}

/// Directions of one tick of a fast mover, among obstacles.
fn questions(store: &World, size: f32) -> Vec<(Vec2, Vec2)> {
    let mut dice = Dice::new(5);
    (0..2_000).map(|_| (free_place(store, &round(), size, &mut dice), dice.direction() * 12.0)).collect()
}

fn stored(count: usize) -> (World, Vec<Solid>, f32) {
    let (solids, size) = mixed_obstacles(count, &mut Dice::new(4));
    let mut store = World::new();
    solids.iter().for_each(|solid| {
        store.add(*solid);
    });
    (store, solids, size)
}

fn first_hit(count: usize) -> Side<'static> {
    let (store, _, size) = stored(count);
    let asked = questions(&store, size);
    let footprint = round();
    Side::new(asked.len(), move || {
        for (from, way) in &asked {
            black_box(store.sweep(&footprint, *from, *way, &WallFilter::ALL));
        }
    })
}

/// The same among two crowds of so many, a million units apart: nothing of one is asked for in the other.
fn first_hit_far_apart(count: usize) -> Side<'static> {
    let (mut store, solids, size) = stored(count);
    solids.iter().for_each(|solid| {
        store.add(solid.moved(Vec2::splat(1e6)));
    });
    let asked = questions(&store, size);
    let footprint = round();
    Side::new(asked.len(), move || {
        for (from, way) in &asked {
            black_box(store.sweep(&footprint, *from, *way, &WallFilter::ALL));
        }
    })
}

/// The same through a general-purpose tree of boxes, with the same exact sweep for each candidate.
fn first_hit_tree(count: usize) -> Side<'static> {
    let (store, solids, size) = stored(count);
    let asked = questions(&store, size);
    let leaves = solids.iter().map(|solid| {
        let Aabb { min, max } = solid.bounds();
        let area = rstar::primitives::Rectangle::from_corners(min.to_array(), max.to_array());
        GeomWithData::new(area, *solid)
    });
    let tree = RTree::bulk_load(leaves.collect());
    let footprint = round();
    Side::new(asked.len(), move || {
        for (from, way) in &asked {
            let (start, end) = (footprint.at(*from), footprint.at(*from + *way));
            let near =
                AABB::from_corners(start.min.min(end.min).to_array(), start.max.max(end.max).to_array());
            let mut first = f32::INFINITY;
            for leaf in tree.locate_in_envelope_intersecting(near) {
                if let Some(touch) = sweep(&footprint, *from, *way, &leaf.data) {
                    first = first.min(touch.fraction);
                }
            }
            black_box(first);
        }
    })
}

fn moving_obstacles() -> Side<'static> {
    let (solids, size) = mixed_obstacles(1_000, &mut Dice::new(6));
    let mut store = World::new();
    let ids: Vec<_> = solids.iter().map(|solid| store.add(*solid)).collect();
    let asked = questions(&store, size);
    let (footprint, mut tick) = (round(), 0u32);
    Side::new(1_100, move || {
        tick += 1;
        // Back and forth, so that they stay about where they are.
        let way = vec2(0.4, 0.3) * if tick % 2 == 0 { 1.0 } else { -1.0 };
        for (id, solid) in ids.iter().zip(&solids) {
            store.place(*id, solid.moved(way));
        }
        for (from, way) in &asked[..100] {
            black_box(store.sweep(&footprint, *from, *way, &WallFilter::ALL));
        }
    })
}

/// Movers in the open, each with another wish.
fn driving<D: Drive + Copy + 'static>(drive: D) -> Side<'static> {
    let mut dice = Dice::new(7);
    let mut all: Vec<(Vec2, Motion, Intent)> = (0..MOVERS)
        .map(|_| {
            let motion = Motion::new(Vec2::ZERO, dice.direction() * 20.0, Angle::ZERO);
            (dice.place(64.0), motion, Intent::new(dice.direction()))
        })
        .collect();
    Side::new(MOVERS, move || {
        // One kind of mover, one tick: both are the same for all.
        let (drive, dt) = (drive, black_box(DT));
        for (position, motion, intent) in &mut all {
            let from = Momentum::new(motion.velocity, motion.heading);
            *motion = drive.advance(from, *intent, &Surface::PLAIN, dt);
            *position += motion.displacement;
        }
        black_box(&mut all);
    })
}

fn walkers(count: usize, gait: Gait) -> (TileGrid, Vec<Walker<Gait>>, Vec<Intent>) {
    let map = filled_grid(64, 15, &mut Dice::new(3));
    let mut dice = Dice::new(8);
    let footprint = boxed();
    let all = (0..count).map(|_| Walker::new(free_place(&map, &footprint, 64.0, &mut dice), footprint, gait));
    let all = all.collect();
    (map, all, (0..count).map(|_| Intent::new(dice.direction())).collect())
}

/// Wishes that change now and then, so that nobody leans on one wall for ever, and not all at once: one tick costs as much as
/// another.
fn wish(intents: &[Intent], place: usize, tick: usize) -> Intent {
    intents[(place + (tick + place) / 20) % intents.len()]
}

/// A gait for a map of unit tiles.
fn slow_gait() -> Gait {
    Gait::new(4.0, 40.0, 50.0).expect("in range")
}

/// One tick of many walkers.
fn walk_all(all: &mut [Walker<Gait>], intents: &[Intent], tick: usize, terrain: &impl Terrain) {
    tick_all(
        all,
        |place| wish(intents, place, tick),
        black_box(DT),
        terrain,
        |_, result| {
            black_box(result.position);
        },
    );
}

fn walking(gait: Gait) -> Side<'static> {
    let (map, mut all, intents) = walkers(MOVERS, gait);
    let mut tick = 0;
    Side::new(MOVERS, move || {
        tick += 1;
        walk_all(&mut all, &intents, tick, &map);
    })
}

/// Twenty ticks on a map of 512 x 512 tiles: after ten, back to the first and again; each is kept as a copy of the
/// world and the walkers. Or without any copies.
fn rolling_back(is_kept: bool) -> Side<'static> {
    let map = filled_grid(512, 15, &mut Dice::new(3));
    let (mut dice, footprint) = (Dice::new(8), boxed());
    let at = (0..1_000).map(|_| free_place(&map, &footprint, 512.0, &mut dice));
    let mut all: Vec<_> = at.map(|at| Walker::new(at, footprint, slow_gait())).collect();
    let intents: Vec<Intent> = (0..1_000).map(|_| Intent::new(dice.direction())).collect();
    let mut world = World::new().with_map(map);
    let mut past = Vec::new();
    let mut tick = 0;
    Side::new(20_000, move || {
        for played in 0..20 {
            if is_kept && played < 10 {
                past.push((world.clone(), all.clone()));
            } else if is_kept && played == 10 {
                (world, all) = past.swap_remove(0);
                past.clear();
                tick -= 10;
            }
            tick += 1;
            walk_all(&mut all, &intents, tick, &world);
        }
    })
}

fn one_core() -> Side<'static> {
    walking(slow_gait())
}

fn all_cores() -> Side<'static> {
    let (map, mut all, intents) = walkers(MOVERS, slow_gait());
    let mut tick = 0;
    Side::new(MOVERS, move || {
        tick += 1;
        tick_all_parallel(
            &mut all,
            |place| wish(&intents, place, tick),
            black_box(DT),
            &map,
            |_, result| {
                black_box(result.position);
            },
        );
    })
}

/// What two cores of this machine are at most: as long as a tick of the walkers, and nothing shared.
fn arithmetic(cores: usize) -> Side<'static> {
    use rayon::prelude::*;
    let mut all: Vec<f64> = (0..MOVERS).map(|place| 1.0 + place as f64 * 1e-4).collect();
    Side::new(MOVERS, move || {
        let step = |number: &mut f64| {
            for _ in 0..64 {
                *number = (*number + 2.0 / *number) * 0.5;
            }
        };
        if cores == 1 {
            all.iter_mut().for_each(step);
        } else {
            all.par_iter_mut().with_min_len(256).for_each(step);
        }
        black_box(&mut all);
    })
}

/// What 100,000 grid walkers cost at least: each is read and three of its numbers are written.
fn records() -> Side<'static> {
    const LENGTH: usize = size_of::<Stepper>() / size_of::<f64>();
    let mut all = vec![[1.0f64; LENGTH]; 100_000];
    Side::new(100_000, move || {
        for record in &mut all {
            for place in [0, LENGTH / 2, LENGTH - 1] {
                record[place] += 0.1;
            }
        }
        black_box(&mut all);
    })
}

fn bouncing() -> Side<'static> {
    let map = filled_grid(64, 15, &mut Dice::new(3));
    let footprint = Footprint::circle(0.2).expect("in range");
    let mut dice = Dice::new(9);
    let mut all: Vec<Ball> = (0..MOVERS)
        .map(|_| Ball::new(free_place(&map, &footprint, 64.0, &mut dice), dice.direction() * 8.0, footprint))
        .collect();
    let mut world = World::new().with_map(map);
    Side::new(MOVERS, move || {
        for ball in &mut all {
            let ball = core::slice::from_mut(ball);
            black_box(tick_balls(ball, black_box(DT), &mut world, |_, _| Decision::bounce(1.0)));
        }
    })
}

/// Grid walkers of different speeds, up to twice the slowest in tiles a second, on a map of which a third of the tiles are
/// taken; with their wishes.
fn steppers(count: usize, slowest: f32) -> (TileGrid, Claims, Vec<Stepper>, Vec<Intent>) {
    let side = (count as f32 * 3.6).sqrt();
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "some hundreds")]
    let map = filled_grid(side as usize, 10, &mut Dice::new(10));
    let mut claims = Claims::new();
    let mut dice = Dice::new(11);
    let (mut all, mut intents) = (Vec::new(), Vec::new());
    while all.len() < count {
        let tile = map.tile_at(dice.place(side));
        // Of different speeds, so that they do not all land in one tick.
        let rules = StepRules::new(dice.number(slowest, 2.0 * slowest)).expect("in range");
        if let Ok(stepper) = Stepper::on(tile, rules, &StepGround::new(&map), &mut claims) {
            all.push(stepper);
            intents.push(Intent::new(dice.direction()));
        }
    }
    (map, claims, all, intents)
}

/// Another way, so that nobody stands for ever.
fn turned(intent: Intent) -> Intent {
    Intent::new(vec2(0.0, 1.0).rotate(intent.vector()))
}

fn stepping(count: usize, slowest: f32) -> Side<'static> {
    let (map, mut claims, mut all, mut intents) = steppers(count, slowest);
    Side::new(count, move || {
        let (ground, dt) = (StepGround::new(&map), black_box(DT));
        for (stepper, intent) in all.iter_mut().zip(&mut intents) {
            let mut events = 0;
            stepper.tick_with(*intent, dt, &ground, &mut claims, |_| events += 1);
            if events > 0 {
                *intent = turned(*intent);
            }
        }
    })
}

/// The same steppers in order of time.
fn stepping_together(count: usize) -> Side<'static> {
    let (map, mut claims, mut all, mut intents) = steppers(count, 4.0);
    let mut told = vec![false; count];
    Side::new(count, move || {
        let (ground, dt) = (StepGround::new(&map), black_box(DT));
        let wish = |id: MoverId| intents[id.number() as usize].into();
        tick_together(&mut all, wish, dt, &ground, &mut claims, |id, _| told[id.number() as usize] = true);
        for (told, intent) in told.iter_mut().zip(&mut intents) {
            if std::mem::take(told) {
                *intent = turned(*intent);
            }
        }
    })
}

/// Fifty walkers each of four kinds among tiles and obstacles.
fn scene() -> Side<'static> {
    let map = filled_grid(64, 10, &mut Dice::new(3));
    let mut store = World::new();
    let mut dice = Dice::new(12);
    for _ in 0..200 {
        store.add(Solid::circle(dice.place(64.0), 0.4).expect("in range"));
    }
    let drag = Drag::half_life(0.4).expect("in range");
    let walls = (map, store);
    let place = |dice: &mut Dice, footprint: &Footprint| free_place(&walls, footprint, 64.0, dice);
    let mut gaits: Vec<_> = (0..50)
        .map(|_| {
            Walker::new(place(&mut dice, &boxed()), boxed(), Gait::new(4.0, 40.0, 50.0).expect("in range"))
        })
        .collect();
    let mut glides: Vec<_> = (0..50)
        .map(|_| {
            Walker::new(place(&mut dice, &round()), round(), Glide::new(10.0, drag, 0.1).expect("in range"))
        })
        .collect();
    let helm = Helm::new(2.0, 8.0, drag, Steering::Toward).expect("in range");
    let mut helms: Vec<_> = (0..50).map(|_| Walker::new(place(&mut dice, &boxed()), boxed(), helm)).collect();
    let mut balls: Vec<_> =
        (0..50).map(|_| Ball::new(place(&mut dice, &round()), dice.direction() * 8.0, round())).collect();
    let intents: Vec<Intent> = (0..50).map(|_| Intent::new(dice.direction())).collect();
    let mut tick = 0;
    let mut world = World::new().with_map(walls.0.clone());
    for (_, solid) in walls.1.walls() {
        let _ = world.add(*solid);
    }
    Side::new(200, move || {
        tick += 1;
        tick_all(
            &mut gaits,
            |place| wish(&intents, place, tick),
            DT,
            &walls,
            |_, result| {
                black_box(result.position);
            },
        );
        tick_all(
            &mut glides,
            |place| wish(&intents, place, tick),
            DT,
            &walls,
            |_, result| {
                black_box(result.position);
            },
        );
        tick_all(
            &mut helms,
            |place| wish(&intents, place, tick),
            DT,
            &walls,
            |_, result| {
                black_box(result.position);
            },
        );
        black_box(tick_balls(&mut balls, DT, &mut world, |_, _| Decision::bounce(1.0)));
    })
}
