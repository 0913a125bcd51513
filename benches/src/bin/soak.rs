//! A soak: random scenes of every mover kind, with the promises checked at each tick.
//!
//! `soak MOVER_TICKS [FIRST_SEED]` plays scenes on all cores until so many ticks of movers are done. Of a broken
//! promise it prints the scene's seed, the tick, what broke, and where a single step into a wall is to blame, the
//! question for `ambulant probe --batch` that shows it, without the walls that it does not need. Exit status 1 then.

use std::cell::Cell;
use std::fmt::Write as _;
use std::process::ExitCode;
use std::time::Instant;

use ambulant::arcade::{Ball, Decision, tick_balls};
use ambulant::direction::{Angle, Corner, Side};
use ambulant::drive::{Drag, Drive, Falling, Glide, Helm, Motion, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Solid};
use ambulant::steps::{Claims, StepGround, StepMode, StepRules, Stepper, tick_together};
use ambulant::terrain::{FoundWall, Hit, Terrain, Wall, WallFilter, World};
use ambulant::travel::{Contact, PushOut, push_out, slide};
use ambulant_benches::{Dice, free_place, mixed_obstacles};
use rayon::prelude::*;

const TICKS: u32 = 600;
const SIDE: usize = 24;
const TILE: f32 = 4.0;
/// Scenes between two looks at how much is done.
const BATCH: u64 = 64;
/// What only touches lies no deeper than this, on a map of 96 units.
const TOUCH: f32 = 2.4e-5;
/// A wall that moves may push a mover this far into another one before that is a squeeze.
const PUSHED: f32 = 1.1e-3;
/// What is broken where walls that move meet a walker.
const RUN_OVER: &str = "run over by a wall";
/// How far apart a tick and its parts may end, in units.
const APART: f32 = 0.02;
/// A ball's speed may drift by this part of it in a scene.
const SPEED_DRIFT: f32 = 1e-3;

fn main() -> ExitCode {
    let words: Vec<String> = std::env::args().skip(1).collect();
    let number = |place: usize| words.get(place).and_then(|word| word.parse::<f64>().ok());
    let (wanted, first) = (number(0).unwrap_or(1e7), number(1).unwrap_or(1.0));
    #[expect(
        clippy::cast_possible_truncation,
        clippy::cast_sign_loss,
        reason = "a seed from the command line"
    )]
    let first = first as u64;
    let mut seed = first;
    let (mut done, start) = (0u64, Instant::now());
    while (done as f64) < wanted {
        let played: Vec<Result<u64, String>> = (seed..seed + BATCH).into_par_iter().map(play).collect();
        for found in played {
            match found {
                Ok(ticks) => done += ticks,
                Err(broken) => {
                    println!("{broken}");
                    return ExitCode::FAILURE;
                }
            }
        }
        seed += BATCH;
    }
    let seconds = start.elapsed().as_secs_f64();
    let scenes = seed - first;
    println!("{done} mover-ticks in {scenes} scenes, {seconds:.1} s: every promise kept");
    ExitCode::SUCCESS
}

/// The kinds of tiles that block by half, or from one side: their glyphs, and how a question writes them.
const PARTLY: [(char, &str); 6] = [
    ('1', r#"{"name": "half", "blocks": true, "half": "top-left"}"#),
    ('2', r#"{"name": "half", "blocks": true, "half": "top-right"}"#),
    ('3', r#"{"name": "half", "blocks": true, "half": "bottom-left"}"#),
    ('4', r#"{"name": "half", "blocks": true, "half": "bottom-right"}"#),
    ('v', r#"{"name": "ledge", "blocks": false, "closed_from": ["top"]}"#),
    ('>', r#"{"name": "ledge", "blocks": false, "closed_from": ["left"]}"#),
];

/// What stands in a scene.
struct Scene {
    rows: Vec<String>,
    walls: (TileGrid, World),
    solids: Vec<Solid>,
}

impl Scene {
    fn new(dice: &mut Dice) -> Self {
        let last = SIDE - 1;
        // From an open field to hardly a way through.
        let filled = (dice.bits() >> 33) % 25;
        let standing = [0, 6, 20, 60][(dice.bits() >> 33) as usize % 4];
        // In every other scene some tiles are half walls, or closed on one side.
        let partly = if dice.bits() >> 63 == 0 { 0 } else { 8 };
        let mut glyph = |x: usize, y: usize| {
            let percent = (dice.bits() >> 33 & 0xFFFF) / 656;
            match percent {
                _ if x == 0 || y == 0 || x == last || y == last => '#',
                _ if percent < filled => '#',
                _ if percent < filled + partly => PARTLY[(dice.bits() >> 33) as usize % PARTLY.len()].0,
                _ => '.',
            }
        };
        let rows: Vec<String> = (0..SIDE).map(|y| (0..SIDE).map(|x| glyph(x, y)).collect()).collect();
        let (solids, _) = mixed_obstacles(standing, dice);
        let (grid, store) = built(&rows, &solids);
        Self { rows, walls: (grid, store), solids }
    }
}

/// The walls of a scene, watched: the first way that ends in a wall, from a place outside of all walls.
struct Witness<'a> {
    walls: &'a (TileGrid, World),
    found: Cell<Option<(Vec2, Vec2)>>,
}

impl Terrain for Witness<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.walls.walls_in(area, filter, see);
    }

    fn sweep(&self, footprint: &Footprint, from: Vec2, way: Vec2, filter: &WallFilter<'_>) -> Option<Hit> {
        let hit = self.walls.sweep(footprint, from, way, filter);
        let end = hit.map_or(from + way, |hit| hit.position);
        let overlaps = |at| self.walls.overlaps(footprint, at, filter);
        if self.found.get().is_none() && overlaps(end) && !overlaps(from) {
            self.found.set(Some((from, way)));
        }
        hit
    }

    fn wall_continues(
        &self,
        footprint: &Footprint,
        from: Vec2,
        way: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        self.walls.wall_continues(footprint, from, way, normal, filter)
    }

    fn overlaps(&self, footprint: &Footprint, at: Vec2, filter: &WallFilter<'_>) -> bool {
        self.walls.overlaps(footprint, at, filter)
    }

    fn is_clear(&self, footprint: &Footprint, from: Vec2, way: Vec2, filter: &WallFilter<'_>) -> bool {
        self.walls.is_clear(footprint, from, way, filter)
    }
}

/// Plays a tick that went wrong again; the question about its first step into a wall, if there is one.
fn asked(scene: &Scene, shape: &Footprint, again: impl FnOnce(&Witness<'_>)) -> String {
    let witness = Witness { walls: &scene.walls, found: Cell::new(None) };
    again(&witness);
    match witness.found.get() {
        Some((from, way)) => question(scene, shape, from, way),
        None => "; no single step into a wall is to blame".to_owned(),
    }
}

fn built(rows: &[String], solids: &[Solid]) -> (TileGrid, World) {
    let legend = Legend::new()
        .with('#', TileKind::wall("bed"))
        .with('.', TileKind::floor("path"))
        .with('1', TileKind::half("half", Corner::TopLeft))
        .with('2', TileKind::half("half", Corner::TopRight))
        .with('3', TileKind::half("half", Corner::BottomLeft))
        .with('4', TileKind::half("half", Corner::BottomRight))
        .with('v', TileKind::floor("ledge").closed_from(Side::Top))
        .with('>', TileKind::floor("ledge").closed_from(Side::Left));
    let grid = TileGrid::from_rows(rows, &legend).expect("even rows").with_tile_size(TILE).expect("in range");
    let mut store = World::new();
    solids.iter().for_each(|solid| {
        store.add(*solid);
    });
    (grid, store)
}

/// Plays a scene; its ticks of movers, or what broke.
fn play(seed: u64) -> Result<u64, String> {
    let mut dice = Dice::new(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15));
    let scene = Scene::new(&mut dice);
    let sizes = [dice.number(0.5, 3.0), dice.number(0.5, 3.0)];
    let shapes = [
        Footprint::rect(sizes[0], sizes[1]).expect("in range"),
        Footprint::circle(sizes[0] * 0.5).expect("in range"),
    ];
    // From a slow walk to several tiles a tick.
    let speed = 10f32.powf(dice.number(0.5, 2.8));
    let drag = Drag::half_life(dice.number(0.05, 1.0)).expect("in range");
    let gait = Gait::new(speed, speed * 8.0, speed * 10.0).expect("in range");
    let glide = Glide::new(speed * drag.rate(), drag, 0.1).expect("in range");
    let helm = Helm::new(3.0, speed * drag.rate(), drag, Steering::Toward).expect("in range");
    let falling = Falling::new(gait, vec2(0.0, speed * 5.0), speed).expect("in range");
    for shape in shapes {
        walk(seed, &scene, shape, Pace::new(speed).expect("in range"), "pace", &mut dice)?;
        walk(seed, &scene, shape, gait, "gait", &mut dice)?;
        walk(seed, &scene, shape, glide, "glide", &mut dice)?;
        walk(seed, &scene, shape, helm.with_grip(4.0).expect("in range"), "helm", &mut dice)?;
        walk(seed, &scene, shape, helm.on_rails(), "helm on rails", &mut dice)?;
        walk(seed, &scene, shape, falling, "falling gait", &mut dice)?;
        fly(seed, &scene, shape, speed, &mut dice)?;
        give_way(seed, &scene, shape, gait, &mut dice)?;
    }
    let steppers = step(seed, &scene, &mut dice)?;
    Ok(u64::from(TICKS) * (16 + steppers))
}

fn broke(seed: u64, tick: u32, who: &str, what: &str) -> String {
    format!("seed {seed}, tick {tick}, {who}: {what}")
}

fn walk<D: Drive + Copy + std::fmt::Debug>(
    seed: u64,
    scene: &Scene,
    shape: Footprint,
    drive: D,
    who: &str,
    dice: &mut Dice,
) -> Result<(), String> {
    let size = SIDE as f32 * TILE;
    let mut walker = Walker::new(free_place(&scene.walls, &shape, size, dice), shape, drive);
    let mut intent = Intent::NONE;
    // What a slanted wall turns and what rolls round a corner is compared by the scene program, with its causes.
    let is_flat = scene.solids.is_empty() && shape.radius().is_none() && who != "falling gait";
    let compared = is_flat && !walker.drive.steers();
    for tick in 0..TICKS {
        if tick % 12 == 0 {
            let strength = if dice.bits() >> 60 == 0 { 0.0 } else { dice.number(0.2, 1.4) };
            intent = Intent::new(dice.direction() * strength);
            if compared {
                let apart = apart_by_tick_length(&walker, intent, &scene.walls);
                if apart > APART {
                    return Err(broke(
                        seed,
                        tick,
                        who,
                        &format!("one tick ends {apart} units from several, {walker:?} {intent:?}"),
                    ));
                }
            }
        }
        let dt = [1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0][(dice.bits() >> 40) as usize % 3];
        let from = walker;
        let result = walker.tick(intent, dt, &scene.walls);
        let after = walker.position;
        if !after.is_finite() || !walker.velocity.is_finite() {
            return Err(broke(seed, tick, who, "a number is not finite"));
        }
        // A drive that falls or steers may be faster than its top speed for a while; none doubles it.
        if walker.velocity.length() > walker.drive.top_speed() * 2.0 + 1e-3 {
            return Err(broke(seed, tick, who, "it is faster than its drive allows"));
        }
        if result.position != after {
            return Err(broke(seed, tick, who, "the result ends elsewhere than the walker"));
        }
        if scene.walls.overlaps(&shape, after, &WallFilter::ALL) {
            let out = push_out(&scene.walls, &shape, after, TILE, &WallFilter::ALL);
            let mut again = from;
            let asked = asked(scene, &shape, |witness| {
                let _ = again.tick(intent, dt, witness);
            });
            let what = format!("it lies in a wall at {after}, the way out is {out:?}{asked}");
            return Err(broke(seed, tick, who, &what));
        }
        if after.min_element() < 0.0 || after.max_element() > size {
            return Err(broke(seed, tick, who, "it left the map through its walls"));
        }
        // Its way may bow so far at most, unless a slanted wall leads it round.
        let room = (walker.velocity - from.velocity).length() * dt + 0.01;
        let led_round = result.contacts.iter().any(|met| met.normal.x != 0.0 && met.normal.y != 0.0);
        let let_in = || let_in(&scene.walls.0, &shape, from.position, after, room);
        if let Some(tile) = if led_round { None } else { let_in() } {
            let what = format!("it got into the ledge {tile} through a closed side, from {}", from.position);
            return Err(broke(seed, tick, who, &what));
        }
    }
    Ok(())
}

/// How far apart one tick of a tenth of a second and several short ones end; 0 where a wall is approached at less than
/// 1 unit/s, since such an approach is shorter than what counts as touching.
fn apart_by_tick_length<D: Drive + Copy>(walker: &Walker<D>, intent: Intent, walls: &impl Terrain) -> f32 {
    let (mut once, mut often, mut grazes) = (*walker, *walker, false);
    let mut look = |contact: &Contact| {
        let inward = -contact.velocity_before.dot(contact.normal);
        grazes |= inward > 1e-4 && inward < 1.0;
    };
    let _ = once.tick_with(intent, 0.1, walls, &mut look);
    for part in [0.013, 0.029, 0.001, 0.017, 0.04] {
        let _ = often.tick_with(intent, part, walls, &mut look);
    }
    if grazes { 0.0 } else { once.position.distance(often.position) }
}

/// The ledge that a mover has got into through its closed side within a tick, if it plainly has: before and after, it
/// faces the side with this much room.
fn let_in(grid: &TileGrid, shape: &Footprint, before: Vec2, after: Vec2, room: f32) -> Option<IVec2> {
    let [start, end] = [before, after].map(|at| shape.at(at));
    // A box is held where any of it faces the side, a circle where its middle does.
    let facing =
        |area: Aabb| if shape.radius().is_some() { [area.center(); 2] } else { [area.min, area.max] };
    grid.tiles_in(end).find(|tile| {
        let (Some(kind), area) = (grid.kind(*tile), grid.tile_area(*tile)) else { return false };
        let faces = |axis: usize| {
            [start, end]
                .map(facing)
                .iter()
                .all(|[low, high]| high[axis] > area.min[axis] + room && low[axis] < area.max[axis] - room)
        };
        let got_in = |axis: usize| {
            start.max[axis] < area.min[axis] + TOUCH && end.max[axis] > area.min[axis] + 100.0 * TOUCH
        };
        kind.is_closed_from(Side::Left) && faces(1) && got_in(0)
            || kind.is_closed_from(Side::Top) && faces(0) && got_in(1)
    })
}

fn fly(seed: u64, scene: &Scene, shape: Footprint, speed: f32, dice: &mut Dice) -> Result<(), String> {
    let size = SIDE as f32 * TILE;
    let start = free_place(&scene.walls, &shape, size, dice);
    let mut ball = Ball::new(start, dice.direction() * speed, shape);
    let mut world = World::new().with_map(scene.walls.0.clone());
    for solid in &scene.solids {
        let _ = world.add(*solid);
    }
    for tick in 0..TICKS {
        let before = ball;
        tick_balls(core::slice::from_mut(&mut ball), 1.0 / 60.0, &mut world, |_, _| Decision::bounce(1.0));
        if (ball.velocity.length() - speed).abs() > speed * SPEED_DRIFT {
            return Err(broke(seed, tick, "ball", "its speed changed"));
        }
        if scene.walls.overlaps(&shape, ball.position, &WallFilter::ALL) {
            let what = question(scene, &shape, before.position, before.velocity / 60.0);
            return Err(broke(seed, tick, "ball", &format!("it lies in a wall at {}{what}", ball.position)));
        }
        if ball.position.min_element() < 0.0 || ball.position.max_element() > size {
            return Err(broke(seed, tick, "ball", "it left the map through its walls"));
        }
    }
    Ok(())
}

/// A walker among walls of which some move: none of them gets into it, unless it says that it has nowhere to go.
fn give_way(seed: u64, scene: &Scene, shape: Footprint, gait: Gait, dice: &mut Dice) -> Result<(), String> {
    let size = SIDE as f32 * TILE;
    let mut walls = scene.walls.clone();
    let mut walker = Walker::new(free_place(&walls, &shape, size, dice), shape, gait);
    let some: Vec<Wall> = walls.1.walls().map(|(id, _)| id).step_by(6).collect();
    let mut doors: Vec<(Wall, Vec2)> =
        some.into_iter().map(|id| (id, dice.direction() * 10f32.powf(dice.number(0.0, 1.5)))).collect();
    let (mut intent, mut inside) = (Intent::NONE, false);
    for tick in 0..TICKS {
        let dt = [1.0 / 30.0, 1.0 / 60.0, 1.0 / 144.0][(dice.bits() >> 40) as usize % 3];
        for (id, velocity) in &mut doors {
            let Some(&solid) = walls.1.solid(*id) else { continue };
            let moved = solid.moved(*velocity * dt);
            if !(Aabb { min: Vec2::ZERO, max: Vec2::splat(size) }).overlaps(&moved.bounds()) {
                // It turns round at the end of the world.
                *velocity = -*velocity;
            }
            walls.1.set_carries(*id, tick % 2 == 0);
            walls.1.move_at(*id, *velocity);
        }
        if tick % 12 == 0 {
            intent = Intent::new(dice.direction() * dice.number(0.0, 1.4));
        }
        let result = walker.tick(intent, dt, &walls);
        walls.1.advance(dt);
        if let Some(squeeze) = result.squeezed {
            // The wall that squeezes it turns round.
            let by = doors.iter_mut().filter(|(id, _)| *id == squeeze.by);
            by.for_each(|(_, velocity)| *velocity = -*velocity);
        }
        let out = push_out(&walls, &shape, walker.position, TILE, &WallFilter::ALL);
        let overlaps = match out {
            PushOut::Free => false,
            PushOut::Moved { by, .. } => by.length() > PUSHED,
            PushOut::Stuck => true,
        };
        // It may overlap the wall until the shortest way out is free.
        inside = overlaps && (inside || result.squeezed.is_some());
        if overlaps && !inside {
            let what =
                format!("it lies in a wall at {}, the way out is {out:?}; {result:?}", walker.position);
            return Err(broke(seed, tick, RUN_OVER, &what));
        }
        if walker.position.min_element() < 0.0 || walker.position.max_element() > size {
            return Err(broke(seed, tick, RUN_OVER, "it left the map through its walls"));
        }
    }
    Ok(())
}

/// Steppers among tiles; how many there were.
fn step(seed: u64, scene: &Scene, dice: &mut Dice) -> Result<u64, String> {
    let grid = &scene.walls.0;
    let ground = StepGround::new(grid);
    let mut claims = Claims::new();
    let manners = [StepMode::RunOn, StepMode::HOLD, StepMode::Tap];
    let mut steppers: Vec<Stepper> = Vec::new();
    for _ in 0..30 {
        let tile = grid.tile_at(dice.place(SIDE as f32 * TILE));
        let rules = StepRules::new(dice.number(1.0, 12.0)).expect("in range");
        let rules = rules.with_mode(manners[(dice.bits() >> 40) as usize % 3]);
        steppers.extend(Stepper::on(tile, rules, &ground, &mut claims));
    }
    let mut intents = vec![Intent::NONE; steppers.len()];
    for tick in 0..TICKS {
        if tick % 9 == 0 {
            intents.iter_mut().for_each(|intent| *intent = Intent::new(dice.direction()));
        }
        tick_together(
            &mut steppers,
            |id| intents[id.number() as usize].into(),
            1.0 / 60.0,
            &ground,
            &mut claims,
            |_, _| {},
        );
        let mut taken: Vec<IVec2> =
            steppers.iter().map(|stepper| stepper.stride_to().unwrap_or(stepper.tile())).collect();
        taken.sort_by_key(|tile| tile.to_array());
        taken.dedup();
        if taken.len() != steppers.len() {
            return Err(broke(seed, tick, "steppers", "two of them share a tile"));
        }
        for stepper in &steppers {
            let on_center = stepper.position(grid) == grid.center_of(stepper.tile());
            if grid.blocks(stepper.tile()) || (stepper.stride_to().is_none() && !on_center) {
                return Err(broke(
                    seed,
                    tick,
                    "steppers",
                    "one of them stands off the middle of a free tile",
                ));
            }
        }
    }
    Ok(steppers.len() as u64)
}

/// The question that shows one step ending in a wall, without the walls that it does not need; or a word that the step
/// alone ends well.
fn question(scene: &Scene, shape: &Footprint, from: Vec2, way: Vec2) -> String {
    let motion = Motion::new(way, way, Angle::ZERO);
    let fails = |rows: &[String], solids: &[Solid]| {
        let walls = built(rows, solids);
        walls.overlaps(shape, slide(&walls, shape, from, motion, &WallFilter::ALL).position, &WallFilter::ALL)
    };
    let (mut rows, mut solids) = (scene.rows.clone(), scene.solids.clone());
    if !fails(&rows, &solids) {
        return format!("; a step from {from} along {way} alone ends well");
    }
    for place in (0..solids.len()).rev() {
        let taken = solids.remove(place);
        if !fails(&rows, &solids) {
            solids.insert(place, taken);
        }
    }
    for y in 0..SIDE {
        for x in 0..SIDE {
            let before = rows[y].clone();
            rows[y].replace_range(x..=x, ".");
            if !fails(&rows, &solids) {
                rows[y] = before;
            }
        }
    }
    let footprint = match shape.radius() {
        Some(radius) => format!("circle:{radius}"),
        None => format!("box:{},{}", shape.size().x, shape.size().y),
    };
    let used = PARTLY.iter().filter(|(glyph, _)| rows.iter().any(|row| row.contains(*glyph)));
    let legend: Vec<String> = used.map(|(glyph, kind)| format!("\"{glyph}\": {kind}")).collect();
    let legend = legend.join(", ");
    let mut text = format!(
        "\n{{\"at\": [{}, {}], \"move\": [{}, {}], \"footprint\": \"{footprint}\", \"tile_size\": {TILE}, \"rows\": {rows:?}, \"legend\": {{{legend}}}, \"walls\": [",
        from.x, from.y, way.x, way.y
    );
    for (place, solid) in solids.iter().enumerate() {
        let comma = if place == 0 { "" } else { ", " };
        let pair = |v: &Vec2| format!("[{}, {}]", v.x, v.y);
        let shape = match solid {
            Solid::Box { area, .. } => {
                format!("\"box\": {{\"from\": {}, \"to\": {}}}", pair(&area.min), pair(&area.max))
            }
            Solid::Circle { center, radius, .. } => {
                format!("\"circle\": {{\"center\": {}, \"radius\": {radius}}}", pair(center))
            }
            Solid::Segment { from, to, .. } => {
                format!("\"segment\": {{\"from\": {}, \"to\": {}}}", pair(from), pair(to))
            }
            Solid::Polygon(polygon) => {
                let corners: Vec<String> = polygon.corners().iter().map(pair).collect();
                format!("\"polygon\": [{}]", corners.join(", "))
            }
            other => format!("\"unknown\": \"{other:?}\""),
        };
        let _ = write!(text, "{comma}{{{shape}}}");
    }
    text + "]}"
}
