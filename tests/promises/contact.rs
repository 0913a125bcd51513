//! Contact with flat walls: the tick length does not show, time and position advance together, a press slides at any angle,
//! flush walls are one wall. Every property counts how often it reached its case.

use ambulant::direction::{Angle, Axis, Corner, Side};
use ambulant::drive::{AnyDrive, Drag, Glide, Helm, Motion, OneAxis, Pace, Steering};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Polygon, Solid};
use ambulant::terrain::{FoundWall, PlayArea, Terrain, Wall, WallFilter, World};
use ambulant::travel::{Contact, slide};
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// Tiles of every flat kind, and rows of flush boxes and slanted walls in two stores.
type Walls = (TileGrid, World, World);

/// What a random scene holds.
#[derive(Clone, Copy, PartialEq)]
enum Kind {
    /// Full tiles and tiles closed from one side.
    Straight,
    /// Half-tiles and slanted walls as well.
    Slanted,
    /// A room with nothing in it.
    Room,
}

fn random_walls(kind: Kind, dice: &mut Dice) -> Walls {
    let glyphs = match kind {
        Kind::Room => ".",
        Kind::Straight => "..........##v>",
        Kind::Slanted => ".............#v>1234",
    };
    let legend = crate::scene::legend()
        .with('1', TileKind::half("frame", Corner::TopLeft))
        .with('2', TileKind::half("frame", Corner::TopRight))
        .with('3', TileKind::half("frame", Corner::BottomLeft))
        .with('4', TileKind::half("frame", Corner::BottomRight))
        .with('v', TileKind::floor("ledge").closed_from(Side::Top))
        .with('>', TileKind::floor("ledge").closed_from(Side::Left));
    let glyphs: Vec<char> = glyphs.chars().collect();
    let row = |dice: &mut Dice| (0..9).map(|_| glyphs[dice.pick(glyphs.len())]).collect::<String>();
    let rows: Vec<String> = (0..9).map(|_| row(dice)).collect();
    let side = [16.0, 10.0, 13.7, 7.3][dice.pick(4)];
    // One map in three has oblong tiles.
    let tile = vec2(side, side * [1.0, 1.0, 0.6][dice.pick(3)]);
    let origin = vec2(dice.number(-900.0, 900.0), dice.number(-900.0, 900.0));
    let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_dimensions(tile.x, tile.y).unwrap();
    let grid = grid.with_origin(origin).unwrap();
    let mut stores = [World::new(), with_other_ids()];
    for number in 0..if kind == Kind::Room { 0 } else { 4 } {
        let at = grid.tile_at(origin + vec2(dice.number(1.0, 8.0), dice.number(1.0, 8.0)) * tile);
        let corner = grid.tile_area(at).min;
        // Two or three flush ones, in either store, and every other time flush with tiles.
        let corner = if dice.pick(2) == 0 { corner } else { corner + vec2(0.3, 0.2) * tile };
        for place in 0..2 + dice.pick(2) {
            let size = vec2(1.0, 0.5) * tile;
            let from = corner + vec2(0.0, place as f32 * size.y);
            stores[dice.pick(2)].add(Solid::box_from_corners(from, from + size).unwrap());
        }
        if kind == Kind::Slanted {
            let at = origin + vec2(dice.number(1.0, 8.0), dice.number(1.0, 8.0)) * tile;
            let turn = Vec2::from_angle(dice.number(0.0, 6.3)) * side;
            let solid = if number % 2 == 0 {
                Solid::segment(at, at + turn).unwrap()
            } else {
                let corners = [vec2(0.0, 0.0), vec2(1.0, 0.0), vec2(0.8, 0.7), vec2(0.1, 0.6)];
                Polygon::new(&corners.map(|corner| at + turn.rotate(corner))).unwrap().into()
            };
            stores[dice.pick(2)].add(solid);
        }
    }
    let [first, second] = stores;
    (grid, first, second)
}

/// An empty store whose walls get other ids than those of a new one: two walls of one id would be taken for one.
fn with_other_ids() -> World {
    let mut store = World::new();
    let unit = Solid::box_from_corners(Vec2::ZERO, Vec2::ONE).unwrap();
    let used: Vec<_> = (0..32).map(|_| store.add(unit)).collect();
    used.into_iter().for_each(|id| {
        store.remove(id);
    });
    store
}

/// A place where a footprint overlaps nothing; `None` where there hardly is one.
fn free_place(walls: &Walls, footprint: &Footprint, dice: &mut Dice) -> Option<Vec2> {
    let area = walls.0.area();
    let place = |dice: &mut Dice| area.min + area.size() * vec2(dice.number(0.0, 1.0), dice.number(0.0, 1.0));
    (0..50).map(|_| place(dice)).find(|at| !walls.overlaps(footprint, *at, &WallFilter::ALL))
}

fn random_footprint(tile: f32, round: bool, dice: &mut Dice) -> Footprint {
    let (width, height) = (dice.number(0.2, 0.95) * tile, dice.number(0.2, 0.95) * tile);
    if round { Footprint::circle(width * 0.5) } else { Footprint::rect(width, height) }.unwrap()
}

fn intent(dice: &mut Dice) -> Intent {
    if dice.pick(4) == 0 {
        return Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.1, 1.0));
    }
    let axis = |dice: &mut Dice| dice.pick(3) as f32 - 1.0;
    Intent::new(vec2(axis(dice), axis(dice)))
}

/// A contact that began in a tick.
#[derive(Debug, Clone, Copy)]
struct Began {
    /// In seconds from the start.
    at: f64,
    contact: Contact,
    /// Whether the wall was so near at the start of a tick that it was touched already, or the tick ended at that instant.
    may_miss: bool,
}

/// How far the instants of one contact may be apart in two runs, in seconds.
fn slack(contact: &Contact) -> f64 {
    1e-6 + 1e-4 / f64::from(-contact.velocity_before.dot(contact.normal)).max(1e-9)
}

/// One tick of a part of `whole` seconds from `clock` on, and the contacts that began in it at some speed.
fn began<D: Drive>(
    walker: &mut Walker<D>,
    intent: Intent,
    (clock, part, whole): (f64, f32, f32),
    walls: &impl Terrain,
    grazes: &mut bool,
) -> Vec<Began> {
    let mut began = Vec::new();
    let least = 1e-3 * walker.drive.top_speed();
    let touch = ambulant::touch_tolerance(f64::from(walker.position.abs().max_element()) + 20.0);
    let _ = walker.tick_with(intent, part, walls, |contact| {
        let inward = f64::from(-contact.velocity_before.dot(contact.normal));
        // Slower than 1 unit/s and not at rest: such an approach is shorter than what counts as touching.
        *grazes |= inward > 1e-4 && inward < 1.0;
        if inward > f64::from(least) {
            let after = f64::from(contact.seconds);
            let at = clock + after;
            let at_end = f64::from(whole) - at < slack(contact);
            began.push(Began { at, contact: *contact, may_miss: after * inward < 2.0 * touch || at_end });
        }
    });
    began
}

/// Contacts in the same order; two may change places where their instants can hardly be told apart.
fn same_contacts(one: &[Began], other: &[Began]) -> bool {
    let near = |a: &Began, b: &Began| {
        let slack = slack(&a.contact).max(slack(&b.contact));
        (a.at - b.at).abs() < slack && a.contact.normal.distance(b.contact.normal) < 1e-3
    };
    let matched = |from: &[Began], to: &[Began]| {
        from.iter().filter(|met| !met.may_miss).all(|met| to.iter().any(|other| near(met, other)))
    };
    // In order of time both are by construction; so matching in both directions is the same order.
    let in_order = |met: &[Began]| met.windows(2).all(|pair| pair[0].at <= pair[1].at + 1e-9);
    matched(one, other) && matched(other, one) && in_order(one) && in_order(other)
}

/// How often a property reached its case.
#[derive(Debug, Default)]
struct Reached {
    ticks: u32,
    /// Left out: a wall was approached at less than 1 unit/s.
    grazing: u32,
    touching: u32,
    with_contacts: u32,
    with_several: u32,
}

fn one_tick_is_many(
    drive: AnyDrive,
    surface: Surface,
    kind: Kind,
    round: bool,
    seed: u64,
    reached: &mut Reached,
) {
    let mut dice = Dice::new(seed);
    let walls = random_walls(kind, &mut dice);
    let tile = walls.0.tile_size().x;
    let footprint = random_footprint(tile, round, &mut dice);
    let Some(start) = free_place(&walls, &footprint, &mut dice) else { return };
    let mut walker = Walker::new(start, footprint, drive);
    let terrain = (&walls, surface);
    for _ in 0..12 {
        let (intent, dt) =
            (intent(&mut dice), [1.0 / 240.0, 1.0 / 60.0, 1.0 / 30.0, 1.0 / 7.0][dice.pick(4)]);
        let count = 1 + dice.pick(64);
        // Uneven ticks that add up to the whole one.
        let shares: Vec<f32> = (0..count).map(|_| dice.number(0.2, 1.0)).collect();
        let whole: f32 = shares.iter().sum();
        let (mut once, mut often) = (walker, walker);
        let mut grazes = false;
        let mut once_met = began(&mut once, intent, (0.0, dt, dt), &terrain, &mut grazes);
        let (mut clock, mut often_met) = (0.0f64, Vec::new());
        for share in &shares {
            let part = dt * share / whole;
            often_met.extend(began(&mut often, intent, (clock, part, dt), &terrain, &mut grazes));
            clock += f64::from(part);
        }
        reached.ticks += 1;
        if grazes {
            reached.grazing += 1;
            walker = once;
            continue;
        }
        let (moved, speed) = (once.position.distance(often.position), once.velocity.distance(often.velocity));
        let top_speed = drive.top_speed();
        let what =
            || format!("seed {seed}: {walker:?}\n{intent:?} for {dt} s in {count}:\n{once:?}\n{often:?}");
        // And the rounding of the two positions themselves.
        let rounding = once.position.abs().max_element() * f32::EPSILON;
        assert!(moved < 1e-4 + rounding, "{moved} apart\n{}", what());
        let ends_at_contact = |met: &Began| f64::from(dt) - met.at < slack(&met.contact);
        if !once_met.iter().chain(&often_met).any(ends_at_contact) {
            assert!(speed < 1e-3 * top_speed, "{speed} units/s apart\n{}", what());
        }
        // A wall whose sides turn by less than 25 degrees is one contact within a tick, and a new one in the next.
        for met in [&mut once_met, &mut often_met] {
            let all = met.clone();
            let known = |later: &Began, earlier: &Began| {
                earlier.contact.wall == later.contact.wall
                    && earlier.contact.normal.dot(later.contact.normal) > 0.9
            };
            let mut place = 0;
            met.retain(|later| {
                place += 1;
                !all[..place - 1].iter().any(|earlier| known(later, earlier))
            });
        }
        assert!(same_contacts(&once_met, &often_met), "{once_met:#?}\n{often_met:#?}\n{}", what());
        assert!(!walls.overlaps(&footprint, once.position, &WallFilter::ALL), "{}", what());
        let beside =
            |way: Vec2| walls.sweep(&footprint, walker.position, way * 1e-3, &WallFilter::ALL).is_some();
        reached.touching += u32::from([Vec2::X, Vec2::Y, Vec2::NEG_X, Vec2::NEG_Y].into_iter().any(beside));
        let met = once_met.iter().filter(|met| !met.may_miss).count();
        reached.with_contacts += u32::from(met > 0);
        reached.with_several += u32::from(met > 1);
        walker = once;
    }
}

#[rstest]
#[case::tiles(Kind::Straight, false)]
#[case::slanted(Kind::Slanted, false)]
#[case::a_circle_in_a_room(Kind::Room, true)]
fn one_tick_ends_where_many_short_ones_do(#[case] kind: Kind, #[case] round: bool) {
    let mut reached = Reached::default();
    for seed in some_of(1..=SEEDS) {
        let mut dice = Dice::new(seed ^ 0xABCD);
        let speed = dice.number(20.0, 240.0);
        let drag = Drag::half_life(dice.number(0.05, 0.6)).unwrap();
        let (acceleration, friction) = (dice.number(60.0, 1200.0), dice.number(60.0, 1500.0));
        let gait = Gait::new(speed, acceleration, friction).unwrap();
        let drives: [AnyDrive; 4] = [
            Pace::new(speed).unwrap().into(),
            gait.into(),
            gait.with_turning(2.0 * acceleration).unwrap().into(),
            Glide::new(speed * drag.rate(), drag, 0.0).unwrap().into(),
        ];
        let drive = drives[dice.pick(4)];
        let seed = seed + 1000 * kind as u64;
        match dice.pick(7) {
            4 => one_tick_is_many(drive.on_axis(Axis::X), Surface::PLAIN, kind, round, seed, &mut reached),
            5 => {
                let belt = Vec2::from_angle(dice.number(0.0, 6.3)) * 0.5 * speed;
                let surface = Surface::PLAIN.with_belt(belt).unwrap();
                one_tick_is_many(drive, surface, kind, round, seed, &mut reached);
            }
            6 => {
                let falling = drive.falling(vec2(0.0, 3.0 * speed), speed).unwrap();
                one_tick_is_many(falling, Surface::PLAIN, kind, round, seed, &mut reached);
            }
            _ => one_tick_is_many(drive, Surface::PLAIN, kind, round, seed, &mut reached),
        }
    }
    println!("{reached:?}");
    assert!(reached.grazing * 20 < reached.ticks, "{reached:?}");
    let least = if kind == Kind::Room { 20 } else { 5 };
    assert!(
        reached.touching * least > reached.ticks && reached.with_contacts * 2 * least > reached.ticks,
        "{reached:?}"
    );
    assert!(kind == Kind::Room || reached.with_several > share(30), "{reached:?}");
}

/// What ends elsewhere in one tick and in many is counted here: on a curve, a mover that is balanced ends wherever one
/// rounding more takes it.
fn apart_in_one_tick(drive: AnyDrive, round: bool, seed: u64, reached: &mut Rolled) {
    let mut dice = Dice::new(seed);
    let mut walls = random_walls(Kind::Slanted, &mut dice);
    let tile = walls.0.tile_size().x;
    let area = walls.0.area();
    for _ in 0..6 {
        let at = area.min + area.size() * vec2(dice.number(0.0, 1.0), dice.number(0.0, 1.0));
        walls.1.add(Solid::circle(at, dice.number(0.1, 1.2) * tile).unwrap());
    }
    let footprint = random_footprint(tile, round, &mut dice);
    let Some(start) = free_place(&walls, &footprint, &mut dice) else { return };
    let mut walker = Walker::new(start, footprint, drive);
    for _ in 0..12 {
        let intent = intent(&mut dice);
        let dt = [1.0 / 240.0, 1.0 / 60.0, 1.0 / 30.0, 1.0 / 7.0][dice.pick(4)];
        let count = 2 + dice.pick(63);
        let (mut once, mut often) = (walker, walker);
        let mut is_curved = false;
        let mut look = |met: &Contact| is_curved |= met.normal.x != 0.0 && met.normal.y != 0.0;
        let _ = once.tick_with(intent, dt, &walls, &mut look);
        (0..count).for_each(|_| {
            let _ = often.tick_with(intent, dt / count as f32, &walls, &mut look);
        });
        let apart = once.position.distance(often.position);
        assert!(
            !walls.overlaps(&footprint, once.position, &WallFilter::ALL),
            "seed {seed}: {walker:?} {intent:?} for {dt} s: {once:?}"
        );
        reached.ticks += 1;
        reached.curved += u32::from(is_curved);
        reached.apart += u32::from(apart > 1e-3);
        if apart > 1e-3 {
            println!("seed {seed}: {apart} apart, {walker:?}, {intent:?} for {dt} s in {count}");
        }
        walker = once;
    }
}

/// How often a case was reached.
#[derive(Debug, Default)]
struct Rolled {
    ticks: u32,
    curved: u32,
    apart: u32,
}

#[rstest]
fn one_tick_ends_where_many_do_on_curves_too(
    #[values(true, false)] round: bool,
    #[values(true, false)] steers: bool,
) {
    let mut reached = Rolled::default();
    for seed in some_of(1..=2 * SEEDS) {
        let mut dice = Dice::new(seed ^ 0x5EED);
        let speed = dice.number(20.0, 240.0);
        let drag = Drag::half_life(dice.number(0.1, 0.6)).unwrap();
        let gait = Gait::new(speed, dice.number(60.0, 1200.0), dice.number(60.0, 1500.0)).unwrap();
        let steering = if dice.pick(2) == 0 { Steering::Toward } else { Steering::Wheel(YAxis::Down) };
        let helm = Helm::new(dice.number(1.0, 5.0), speed * drag.rate(), drag, steering).unwrap();
        let drives: [AnyDrive; 6] = [
            Pace::new(speed).unwrap().into(),
            gait.into(),
            Glide::new(speed * drag.rate(), drag, 0.0).unwrap().into(),
            helm.into(),
            helm.with_grip(dice.number(0.5, 8.0)).unwrap().into(),
            helm.on_rails().into(),
        ];
        let drive = drives[dice.pick(3) + if steers { 3 } else { 0 }];
        apart_in_one_tick(drive, round, seed, &mut reached);
    }
    println!("{reached:?}");
    assert!(reached.curved * 15 > reached.ticks, "{reached:?}");
    assert!(reached.apart * 100 < reached.curved, "{reached:?}");
}

/// Random scenes of one property in the suite; more were played by hand.
const SEEDS: u64 = 400;

fn still(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement, Angle::ZERO)
}

#[rstest]
#[case::tiles(Kind::Straight)]
#[case::slanted(Kind::Slanted)]
fn who_touches_a_wall_and_moves_in_meets_it_at_once(#[case] kind: Kind, #[values(true, false)] round: bool) {
    let (mut touched, mut rounded) = (0, 0);
    for seed in some_of(1..=2 * SEEDS) {
        let mut dice = Dice::new(seed);
        let walls = random_walls(kind, &mut dice);
        let size = walls.0.tile_size().x * dice.number(0.2, 0.9);
        let footprint = if round { Footprint::circle(0.5 * size) } else { Footprint::rect(size, 0.7 * size) };
        let footprint = footprint.unwrap();
        let area = walls.0.area();
        let bounds = PlayArea::new(area.min + 1.0, area.max - 1.0).unwrap();
        let each: [&dyn Terrain; 4] = [&walls, &walls.0, &walls.1, &bounds];
        for terrain in each {
            let Some(from) = free_place(&walls, &footprint, &mut dice) else { continue };
            let way = Vec2::from_angle(dice.number(0.0, 6.3)) * 4.0 * size;
            if bounds.overlaps(&footprint, from, &WallFilter::ALL) {
                continue;
            }
            let Some(hit) = terrain.sweep(&footprint, from, way, &WallFilter::ALL) else { continue };
            // From where it is set, in again: aslant and straight, a hair and far.
            for turn in [-1.4f32, -0.3, 0.0, 0.3, 1.4] {
                let into = Vec2::from_angle(turn).rotate(-hit.normal);
                for length in [1e-4, 0.1, 30.0] {
                    let again = terrain.sweep(&footprint, hit.position, into * length, &WallFilter::ALL);
                    // From a corner, a way may lead past it.
                    let is_corner = hit.normal.abs().max_element() < 1.0 && (round || kind == Kind::Slanted);
                    let Some(again) = again.filter(|again| again.fraction == 0.0 || !is_corner) else {
                        assert!(is_corner || turn.abs() > 1.3, "seed {seed}: {into} at {hit:?}");
                        continue;
                    };
                    assert!(again.fraction == 0.0, "seed {seed}: {hit:?} then {again:?}");
                    let mut walker = Walker::new(hit.position, footprint, Pace::new(1.0).unwrap());
                    let _ = walker.tick(Intent::new(-again.normal), 1e-6, terrain);
                    let moved = f64::from(walker.position.distance(hit.position));
                    let tolerance =
                        ambulant::touch_tolerance(f64::from(hit.position.abs().max_element()) + 40.0);
                    assert!(moved <= 1.5 * tolerance, "seed {seed}: it moved {moved}");
                    touched += 1;
                    rounded += u32::from(hit.fraction > 0.0);
                }
            }
        }
    }
    println!("{touched} ways in from a wall, {rounded} of them after a free way");
    assert!(touched > share(5_000) && rounded > share(4_000));
}

/// How far a box is in front of a polygon along a normal.
fn in_front(footprint: &Footprint, position: Vec2, polygon: &Polygon, normal: Vec2) -> f64 {
    let (normal, half) = (normal.as_dvec2(), 0.5 * footprint.size().as_dvec2());
    let corners = polygon.corners().iter().map(|corner| corner.as_dvec2().dot(normal));
    position.as_dvec2().dot(normal) - half.dot(normal.abs()) - corners.fold(f64::NEG_INFINITY, f64::max)
}

/// Where corners touch, the other walls there decide which side counts, and the mover is set against that side.
#[test]
fn at_a_corner_a_mover_is_set_against_the_side_whose_normal_is_reported() {
    let (mut hits, mut moved) = (0, 0);
    for seed in 1..=2 * SEEDS {
        let mut dice = Dice::new(seed);
        let walls = random_walls(Kind::Slanted, &mut dice).0;
        let footprint = random_footprint(walls.tile_size().x, false, &mut dice);
        for _ in 0..200 {
            // A corner of it at the corner of a tile, or a little beside that.
            let tile = [0; 2].map(|_| i32::try_from(dice.pick(10)).unwrap());
            let corner = walls.tile_area(IVec2::from(tile)).min;
            let side = vec2([1.0, -1.0][dice.pick(2)], [1.0, -1.0][dice.pick(2)]);
            let far = corner.abs().max_element() + footprint.size().max_element();
            let step = f64::from(0.75 * far * f32::EPSILON);
            let beside = Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.0, 1.8) * far * f32::EPSILON;
            let place = corner + side * 0.5 * footprint.size() + beside;
            let way = Vec2::from_angle(dice.number(0.0, 6.3));
            if walls.overlaps(&footprint, place, &WallFilter::ALL) {
                continue;
            }
            let Some(hit) = walls.sweep(&footprint, place, way, &WallFilter::ALL) else { continue };
            let area = Aabb::from_corners(hit.position - footprint.size(), hit.position + footprint.size());
            walls.walls_in(area, &WallFilter::ALL, &mut |found| {
                if let (true, Solid::Polygon(polygon)) = (found.wall == hit.wall, found.solid()) {
                    let apart = in_front(&footprint, hit.position, &polygon, hit.normal);
                    // One rounding of each coordinate.
                    assert!(apart.abs() <= step, "seed {seed}: {apart} off, from {place} on {way}: {hit:?}");
                    hits += 1;
                    moved += u32::from(in_front(&footprint, place, &polygon, hit.normal).abs() > step);
                }
            });
        }
    }
    println!("{hits} hits, {moved} of them from a place that is not at the surface");
    assert!(hits > 1_000 && moved > 200, "{hits} {moved}");
}

/// Two walls of two stores, and a way that meets both within a few roundings: the one that counts must not let the mover
/// get deeper into the other than what touches.
#[rstest]
fn of_two_walls_met_at_once_neither_is_entered(#[values(true, false)] round: bool) {
    let (mut met, mut both) = (0, 0);
    for seed in 1..=20 * SEEDS {
        let mut dice = Dice::new(seed);
        let floor = Solid::box_from_corners(vec2(-200.0, -1.0), vec2(200.0, 0.0)).unwrap();
        let (mut first, mut second) = (World::new(), World::new());
        first.add(floor);
        let sized = |half: f32| {
            if round { Footprint::circle(half) } else { Footprint::rect(2.0 * half, 2.0 * half) }
        };
        let (footprint, wide) = (sized(1.0).unwrap(), sized(1.0001).unwrap());
        // Against the floor and, further left, against the corner of a crate or a post.
        let notch = vec2(dice.number(-50.0, 50.0), 1.0);
        let beside = Vec2::from_angle(dice.number(2.0, 3.1));
        let corner = notch - beside;
        let solid = if round && dice.pick(2) == 0 {
            Solid::box_from_corners(corner - vec2(3.0, 0.3), corner).unwrap()
        } else if round {
            Solid::circle(notch - 1.5 * beside, 0.5).unwrap()
        } else {
            let side = notch.x + 1.0;
            let up = vec2(dice.number(0.5, 3.0), 4.0);
            Polygon::new(&[vec2(side, 2.0), vec2(side, 2.0) + up, vec2(side + 8.0, 2.5)]).unwrap().into()
        };
        second.add(solid);
        let way = Vec2::from_angle(dice.number(-3.0, -0.2)) * 10f32.powf(dice.number(-3.0, 1.0));
        let off = vec2(dice.number(-1.0, 1.0), dice.number(-1.0, 1.0)) * 10f32.powf(dice.number(-6.0, -4.0));
        let from = notch - way * 0.7 + off;
        let walls = (first, second);
        if walls.overlaps(&footprint, from, &WallFilter::ALL) {
            continue;
        }
        let Some(hit) = walls.sweep(&footprint, from, way, &WallFilter::ALL) else { continue };
        met += 1;
        let near = |wall: &World| wall.overlaps(&wide, hit.position, &WallFilter::ALL);
        both += u32::from(near(&walls.0) && near(&walls.1));
        assert!(
            !walls.overlaps(&footprint, hit.position, &WallFilter::ALL),
            "seed {seed}: from {from} by {way} into {hit:?}, {solid:?}"
        );
    }
    eprintln!("{met} touches, {both} of both walls");
    assert!(met > 3_500 && both > 2_000);
}

/// Flat, slanted and round walls that a mover from below the origin runs into.
fn shapes() -> Vec<Solid> {
    let corners = [vec2(-9.0, 0.0), vec2(9.0, 0.0), vec2(9.0, 4.0), vec2(-9.0, 4.0)];
    let turned = |angle: f32| corners.map(|corner| Vec2::from_angle(angle).rotate(corner));
    vec![
        Solid::box_from_corners(vec2(-9.0, 0.0), vec2(9.0, 4.0)).unwrap(),
        Polygon::new(&turned(0.3)).unwrap().into(),
        Polygon::new(&turned(-0.02)).unwrap().into(),
        Solid::segment(vec2(-9.0, -2.0), vec2(9.0, 1.0)).unwrap(),
        Solid::circle(vec2(0.0, 14.0), 14.0).unwrap(),
        Solid::circle(vec2(0.3, 1.5), 1.5).unwrap(),
    ]
}

#[rstest]
fn a_press_at_any_angle_slides_by_the_sine_of_it(#[values(true, false)] round: bool) {
    let (mut pressed, mut near_head_on) = (0, 0);
    for seed in 1..=3 * SEEDS {
        let mut dice = Dice::new(seed);
        let far = vec2(dice.number(-900.0, 900.0), dice.number(-900.0, 900.0));
        let footprint = if round { Footprint::circle(1.0) } else { Footprint::rect(2.0, 1.3) }.unwrap();
        for solid in shapes() {
            let mut store = World::new();
            store.add(solid.moved(far));
            // Onto the wall from somewhere below it, and from there at an angle off its normal.
            let from = far + vec2(dice.number(-3.0, 3.0), -8.0);
            let Some(hit) = store.sweep(&footprint, from, vec2(0.0, 30.0), &WallFilter::ALL) else {
                continue;
            };
            let off = 10f32.powf(dice.number(-1.7, 1.95)).min(89.0);
            let angle = off.to_radians() * if dice.pick(2) == 0 { 1.0 } else { -1.0 };
            let back = hit.normal * dice.number(0.0, 2.0);
            let way = Vec2::from_angle(angle).rotate(-hit.normal) * dice.number(3.0, 40.0);
            let slid = slide(&store, &footprint, hit.position + back, still(way), &WallFilter::ALL);
            let Some(met) = slid.contacts.iter().next() else { continue };
            let sine =
                f64::from(met.velocity_before.perp_dot(met.normal).abs() / met.velocity_before.length());
            // One rounding of the position turns the normal of a round wall by so much.
            let rounding = 1.2e-7 * 1000.0 / 1.5;
            let along = f64::from(met.velocity_after.length() / met.velocity_before.length());
            assert!(
                (along - sine).abs() <= 0.01 * sine + rounding,
                "seed {seed}: {along} for {sine}: {slid}"
            );
            let gone = slid.position.distance(met.position);
            let wanted = met.velocity_after.length() * (1.0 - met.seconds);
            // On a flat wall it goes all the way; round a corner or a curve the rest is not straight.
            if met.normal == hit.normal && back == Vec2::ZERO && slid.contacts.len() == 1 {
                assert!(
                    (gone - wanted).abs() <= 0.02 * wanted + 1e-3,
                    "seed {seed}: {gone} of {wanted}: {slid}"
                );
            }
            pressed += 1;
            near_head_on += u32::from(off < 5.0);
        }
    }
    println!("{pressed} presses, {near_head_on} within 5 degrees of head-on");
    assert!(pressed > 4_000 && near_head_on > 1_500);
}

/// A block of whole numbers, cut into flush pieces of it: boxes, squares as polygons, in any order, in two stores.
fn cut_up(block: Aabb, dice: &mut Dice) -> (World, World) {
    let mut pieces = vec![block];
    for _ in 0..dice.pick(6) {
        let piece = pieces.swap_remove(dice.pick(pieces.len()));
        let axis = dice.pick(2);
        let cut = piece.min[axis] + 1.0 + dice.pick(8) as f32;
        if cut >= piece.max[axis] {
            pieces.push(piece);
            continue;
        }
        let (mut low, mut high) = (piece, piece);
        (low.max[axis], high.min[axis]) = (cut, cut);
        pieces.extend([low, high]);
    }
    let mut stores = (World::new(), World::new());
    while !pieces.is_empty() {
        let piece = pieces.swap_remove(dice.pick(pieces.len()));
        let solid = if dice.pick(2) == 0 {
            Solid::box_from_corners(piece.min, piece.max).unwrap()
        } else {
            let corners =
                [piece.min, vec2(piece.max.x, piece.min.y), piece.max, vec2(piece.min.x, piece.max.y)];
            Polygon::new(&corners).unwrap().into()
        };
        if dice.pick(2) == 0 {
            stores.0.add(solid)
        } else {
            stores.1.add(solid)
        };
    }
    stores
}

#[rstest]
fn flush_walls_act_as_one_wall_even_where_a_corner_meets_a_seam(#[values(true, false)] round: bool) {
    let (mut met, mut bounced, mut seams) = (0, 0, 0);
    for seed in 1..=40 * SEEDS {
        let mut dice = Dice::new(seed);
        let whole = |dice: &mut Dice, low: f32, count: usize| low + dice.pick(count) as f32;
        let block = Aabb {
            min: Vec2::ZERO,
            max: vec2(2.0 + whole(&mut dice, 0.0, 7), 2.0 + whole(&mut dice, 0.0, 7)),
        };
        let mut one = World::new();
        one.add(Solid::box_from_corners(block.min, block.max).unwrap());
        let (first, second) = cut_up(block, &mut dice);
        let size = vec2(1.0 + whole(&mut dice, 0.0, 3), 1.0 + whole(&mut dice, 0.0, 3)) * 2.0;
        let footprint = if round { Footprint::circle(size.x * 0.5) } else { Footprint::rect(size.x, size.y) };
        let footprint = footprint.unwrap();
        // Whole numbers: corners meet seams exactly, again and again.
        let from = vec2(whole(&mut dice, -9.0, 26), whole(&mut dice, -9.0, 26));
        let way = vec2(whole(&mut dice, -4.0, 9), whole(&mut dice, -4.0, 9)) * 4.0;
        if one.overlaps(&footprint, from, &WallFilter::ALL) || way == Vec2::ZERO {
            continue;
        }
        // Mirror images and both orders of the stores.
        for flip in [Vec2::ONE, vec2(-1.0, 1.0), vec2(1.0, -1.0)] {
            let mirrored = |store: &World| {
                let mut image = World::new();
                for (_, solid) in store.walls() {
                    image.add(match solid {
                        Solid::Polygon(polygon) => {
                            let corners: Vec<Vec2> =
                                polygon.corners().iter().map(|corner| *corner * flip).collect();
                            Polygon::new(&corners).unwrap().into()
                        }
                        other => {
                            Solid::box_from_corners(other.bounds().min * flip, other.bounds().max * flip)
                                .unwrap()
                        }
                    });
                }
                image
            };
            let parts = (mirrored(&first), mirrored(&second));
            let turned = (&parts.1, &parts.0);
            let (from_here, go) = (from * flip, way * flip);
            let wanted = slide(&one, &footprint, from, still(way), &WallFilter::ALL);
            for terrain in [&parts as &dyn Terrain, &turned] {
                let slid = slide(terrain, &footprint, from_here, still(go), &WallFilter::ALL);
                let what = || {
                    format!("seed {seed}, {flip}: {from} by {way}, {block:?}\n{wanted}\n{slid}\n{parts:?}")
                };
                assert!((slid.position * flip).distance(wanted.position) < 1e-5, "{}", what());
                assert!((slid.velocity * flip).distance(wanted.velocity) < 1e-5, "{}", what());
                let mut balls = [Ball::new(from, way, footprint), Ball::new(from_here, go, footprint)];
                let mut worlds = [World::new(), World::new()];
                for (_, solid) in one.walls() {
                    worlds[0].add(*solid);
                }
                for (_, solid) in parts.0.walls().chain(parts.1.walls()) {
                    worlds[1].add(*solid);
                }
                let mut normals: [Vec<Vec2>; 2] = Default::default();
                for ((ball, world), normals) in balls.iter_mut().zip(&mut worlds).zip(&mut normals) {
                    tick_balls(core::slice::from_mut(ball), 1.0, world, |_, impact| {
                        normals.push(impact.hit.normal);
                        Decision::bounce(1.0)
                    });
                }
                let apart = (balls[1].velocity * flip).distance(balls[0].velocity);
                assert!(apart < 1e-5, "{} {normals:?}", what());
                assert_eq!(normals[0].len(), normals[1].len(), "{}", what());
                bounced += u32::from(!normals[0].is_empty());
            }
            met += u32::from(!wanted.contacts.is_empty());
            seams +=
                u32::from(!wanted.contacts.is_empty() && first.walls().count() + second.walls().count() > 1);
        }
    }
    println!("{met} slides that met the block, {seams} of them cut up, {bounced} bounces");
    assert!(met > 2_000 && seams > 1_000 && bounced > 2_000);
}

#[rstest]
fn the_way_along_a_wall_is_the_integral_of_the_speed_along_it(#[values(1000, 4000)] rate: u32) {
    // A gait pressed onto tiles at heights that no f32 holds exactly: most of them once came a rounding step short of the wall.
    let legend = crate::scene::legend();
    let rows = ["...................", "###################"];
    let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(16.0).unwrap();
    let grid = grid.with_origin(vec2(0.0, 106.7)).unwrap();
    let gait = Gait::new(260.0, 60.0, 400.0).unwrap();
    for height in 0..100 {
        let footprint = Footprint::rect(10.6, 13.0 + 0.01 * height as f32).unwrap();
        let mut walker = Walker::new(vec2(20.0, 110.0), footprint, gait);
        let mut free = Walker::new(vec2(20.0, 0.0), footprint, gait);
        let none = World::new();
        for _ in 0..rate {
            let _ = walker.tick(Intent::new(vec2(0.0, 1.0)), 1.0 / rate as f32, &grid);
        }
        let start = walker.position.x;
        for _ in 0..rate {
            let _ = walker.tick(Intent::new(vec2(0.3, 0.9)), 1.0 / rate as f32, &grid);
            let _ = free.tick(Intent::new(vec2(0.3, 0.0)), 1.0 / rate as f32, &none);
        }
        let (along, wanted) = (walker.position.x - start, free.position.x - 20.0);
        assert!((along - wanted).abs() < 1e-4, "{along} of {wanted} at a height of {}", footprint.size().y);
    }
}

#[rstest]
#[case::left_first([0.0, 1.0])]
#[case::right_first([1.0, 0.0])]
fn a_ball_at_the_seam_of_two_panes_meets_one_wall(#[case] panes: [f32; 2]) {
    let mut world = World::new();
    for x in panes {
        world.add(Solid::box_from_corners(vec2(x, 0.0), vec2(x + 1.0, 1.0)).unwrap());
    }
    let mut ball = Ball::new(vec2(2.0, -1.5), vec2(-1.0, 2.0), Footprint::rect(1.0, 1.0).unwrap());
    let bounces = crate::scene::bounce(&mut ball, 1.0, &mut world);
    assert_eq!((bounces.count, ball.velocity), (1, vec2(-1.0, -2.0)));
}

#[test]
fn a_slope_whose_corner_another_tile_covers_is_met_as_a_slope() {
    let legend = crate::scene::legend().with('/', TileKind::half("frame", Corner::BottomRight));
    let grid = TileGrid::from_rows(&["./", "/#"], &legend).unwrap();
    let hit = grid
        .sweep(&Footprint::rect(0.5, 0.5).unwrap(), Vec2::ZERO, vec2(1.5, 1.5), &WallFilter::ALL)
        .unwrap();
    assert!(hit.normal.distance(Vec2::splat(-core::f32::consts::FRAC_1_SQRT_2)) < 1e-6, "{hit:?}");
}

/// At random places, since the corners of half-tiles are rounded: the slope of one is turned by a few millionths from
/// that of the next.
#[test]
fn a_long_slope_of_half_tiles_is_slid_along_without_a_stop() {
    let legend = crate::scene::legend().with('\\', TileKind::half("frame", Corner::BottomLeft));
    let rows: Vec<String> = (0..20)
        .map(|row| {
            (0..20)
                .map(|column| {
                    if column == row {
                        '\\'
                    } else if column < row {
                        '#'
                    } else {
                        '.'
                    }
                })
                .collect()
        })
        .collect();
    let grid = TileGrid::from_rows(&rows, &legend).unwrap().with_outside(Outside::Open);
    let mut dice = Dice::new(7);
    let mut seams = 0.0;
    for _ in 0..1000 {
        let tile = dice.number(3.0, 20.0);
        let origin = vec2(dice.number(-2000.0, 2000.0), dice.number(-2000.0, 2000.0));
        let grid = grid.clone().with_tile_size(tile).unwrap().with_origin(origin).unwrap();
        let footprint = Footprint::rect(dice.number(0.2, 1.0) * tile, dice.number(0.2, 1.0) * tile).unwrap();
        let mut walker =
            Walker::new(grid.center_of(ivec2(10, 10)), footprint, Pace::new(9.0 * tile).unwrap());
        walker.position += vec2(0.5, -0.5) * footprint.size();
        let (intent, up) =
            (Intent::new(Vec2::from_angle(dice.number(1.8, 2.8))), Vec2::splat(-1.0).normalize());
        let belt = Vec2::from_angle(dice.number(1.8, 2.8)) * tile * dice.number(0.0, 3.0);
        let floor = Surface::PLAIN.with_belt(belt).unwrap();
        let start = walker.position;
        let result = walker.tick(intent, 1.0, &(&grid, floor));
        let way = (walker.position - start).dot(up);
        let wanted = (intent.vector() * 9.0 * tile + belt).dot(up);
        seams += (wanted.abs() / tile / 2f32.sqrt()).floor();
        assert!((way - wanted).abs() < 2e-3, "{way} of {wanted}: {walker:?} {result}");
    }
    println!("{seams} seams");
    assert!(seams > 400.0);
}

/// Where a slope meets a wall, the wall covers the upper end of the slope, also for a mover that has just begun to slide
/// down: it is pressed on both by its own will and carried away by a belt, and keeps its own speed.
#[test]
fn in_a_notch_a_wall_that_is_touched_covers_the_end_of_a_slope() {
    let legend = crate::scene::legend().with('\\', TileKind::half("frame", Corner::BottomLeft));
    let grid = TileGrid::from_rows(&["#.", "#\\"], &legend).unwrap().with_outside(Outside::Open);
    let grid = grid.with_tile_size(16.0).unwrap().with_origin(vec2(697.1589, 755.7016)).unwrap();
    let belt = Surface::PLAIN.with_belt(vec2(12.44007, 84.20981)).unwrap();
    let glide = Glide::new(272.59155, Drag::per_second(1.6011493).unwrap(), 0.5).unwrap();
    let footprint = Footprint::rect(6.643626, 7.8362513).unwrap();
    let mut walker = Walker::new(vec2(716.48083, 767.78357), footprint, glide);
    walker.set_exact_position(glam::DVec2::new(716.480_810_970_555_5, 767.783_596_843_970_4));
    walker.velocity = vec2(-37.269188, -59.08033);
    let _ = walker.tick(Intent::new(vec2(-0.21825832, 0.2534538)), 0.001, &(&grid, belt));
    assert!(walker.velocity.x < -37.0, "{walker:?}");
}

/// Below a bed beside a slope, on a belt that leads down onto the slope: the walls turn the belt and the drive together, so the
/// mover slides down where both along the slope lead down, and stands where they do not.
#[rstest]
fn in_a_notch_a_belt_and_a_drive_against_it_are_held_together(
    #[values(20.0, 39.0, 41.0, 92.0, 300.0)] speed: f32,
    #[values(30u16, 240, 1000)] rate: u16,
) {
    let legend = crate::scene::legend().with('/', TileKind::half("frame", Corner::BottomRight));
    let grid = TileGrid::from_rows(&["##", "./"], &legend).unwrap().with_tile_size(16.0).unwrap();
    let belt = Surface::PLAIN.with_belt(vec2(5.0, 45.0)).unwrap();
    // It touches the bed above and the slope at its lower right.
    let start = vec2(26.0, 18.0);
    let mut walker = Walker::new(start, Footprint::rect(4.0, 4.0).unwrap(), Pace::new(speed).unwrap());
    for _ in 0..rate {
        let result = walker.tick(Intent::new(Vec2::NEG_Y), 1.0 / f32::from(rate), &(&grid, belt));
        assert_eq!(result.stalled, 0.0);
    }
    let way = walker.position - start;
    let along = vec2(-1.0, 1.0).normalize();
    let wanted = vec2(5.0, 45.0 - speed).dot(along).max(0.0) * along;
    assert!(way.distance(wanted) < 1e-3, "{way} instead of {wanted}");
}

/// A belt that carries a mover out of a notch by less than the touch tolerance in a tick: the floor that it leaves does not take
/// it back.
#[test]
fn a_mover_leaves_a_notch_in_the_shortest_ticks() {
    let legend = crate::scene::legend().with('/', TileKind::half("frame", Corner::BottomRight));
    let grid = TileGrid::from_rows(&["./", "##"], &legend).unwrap().with_tile_size(16.0).unwrap();
    let grid = grid.with_origin(vec2(400.0, 770.0)).unwrap();
    let belt = Surface::PLAIN.with_belt(vec2(36.0, 35.0)).unwrap();
    let start = vec2(412.0, 782.0);
    let mut walker = Walker::new(start, Footprint::rect(8.0, 8.0).unwrap(), Pace::new(1.0).unwrap());
    let (ticks, seconds) = (2000u16, 0.2);
    for _ in 0..ticks {
        let _ = walker.tick(Intent::NONE, seconds / f32::from(ticks), &(&grid, belt));
    }
    let wanted = vec2(0.5, -0.5) * seconds;
    let way = walker.position - start;
    assert!(way.distance(wanted) < 1e-3, "{way} instead of {wanted}");
}

#[rstest]
fn a_crate_flush_below_a_wall_of_tiles_is_no_ledge(#[values(true, false)] tiles_first: bool) {
    let grid = TileGrid::from_rows(&["..#", "..#", "...", "..."], &crate::scene::legend()).unwrap();
    let mut crates = World::new();
    crates.add(Solid::box_from_corners(vec2(2.0, 2.0), vec2(3.0, 4.0)).unwrap());
    let mover = Footprint::rect(1.0, 1.0).unwrap();
    let motion = still(vec2(1.0, 1.0));
    let from = vec2(1.0, 1.0);
    let slid = if tiles_first {
        slide(&(&grid, &crates), &mover, from, motion, &WallFilter::ALL)
    } else {
        slide(&(&crates, &grid), &mover, from, motion, &WallFilter::ALL)
    };
    assert_eq!((slid.position, slid.contacts.len()), (vec2(1.5, 2.0), 1), "{slid}");
}

#[test]
fn a_pace_pressed_beside_the_top_of_a_post_rolls_off() {
    let mut store = World::new();
    store.add(Solid::circle(Vec2::ZERO, 8.0).unwrap());
    let from = Vec2::from_angle(-core::f32::consts::FRAC_PI_2 + 2f32.to_radians()) * 13.0;
    let mut walker = Walker::new(from, Footprint::circle(5.0).unwrap(), Pace::new(50.0).unwrap());
    let _ = walker.tick(Intent::new(vec2(0.0, 1.0)), 1.0 / 60.0, &store);
    let speed = walker.position.distance(from) * 60.0;
    assert!((speed - 50.0 * 2f32.to_radians().sin()).abs() < 0.1, "{speed} units/s");
}

#[test]
fn a_terrain_of_the_games_own_holds_who_touches_it() {
    let solid = Solid::box_from_corners(vec2(0.0, 0.0), vec2(4.0, 4.0)).unwrap();
    let own = FoundWall::new(Wall::Own(0), solid);
    let mover = Footprint::rect(1.0, 1.0).unwrap();
    let hit = own.sweep(&mover, vec2(-0.5, 2.0), vec2(3.0, 0.1), &WallFilter::ALL).unwrap();
    assert_eq!((hit.fraction, hit.normal), (0.0, Vec2::NEG_X));
}

#[rstest]
#[case::mostly_right(vec2(3.0, 1.0), Vec2::X)]
#[case::mostly_down(vec2(1.0, 3.0), Vec2::Y)]
#[case::mostly_left(vec2(-3.0, 1.0), Vec2::NEG_X)]
#[case::mostly_up(vec2(1.0, -3.0), Vec2::NEG_Y)]
#[case::both_alike(vec2(2.0, 2.0), Vec2::X)]
#[case::both_alike_mirrored(vec2(-2.0, -2.0), Vec2::NEG_X)]
fn an_exact_corner_lets_the_larger_part_of_the_motion_go_on(#[case] way: Vec2, #[case] along: Vec2) {
    let (mover, corner) = (Footprint::rect(1.0, 1.0).unwrap(), way.signum());
    let mut store = World::new();
    store.add(Solid::box_from_corners(corner, corner * 3.0).unwrap());
    let glyph = |x: i32, y: i32| if ivec2(x, y) == ivec2(1, 1) { '#' } else { '.' };
    let rows: Vec<String> = (0..2).map(|y| (0..2).map(|x| glyph(x, y)).collect()).collect();
    let grid = TileGrid::from_rows(&rows, &crate::scene::legend()).unwrap().with_tile_size(2.0).unwrap();
    let turned = way.signum() == Vec2::ONE;
    let grid = grid.with_outside(ambulant::terrain::Outside::Open).with_origin(Vec2::splat(-1.0)).unwrap();
    // Straight at the corner from where the mover's own corner meets it exactly.
    let from = corner * 0.5 - way;
    let terrains: [&dyn Terrain; 2] = [&store, if turned { &grid } else { &store }];
    let touch = ambulant::shape::sweep(
        &mover,
        from,
        way * 2.0,
        &Solid::box_from_corners(corner, corner * 3.0).unwrap(),
    );
    assert_eq!(touch.unwrap().normal.dot(along), 0.0, "the wall alone is decided alike");
    for terrain in terrains {
        let slid = slide(terrain, &mover, from, still(way * 2.0), &WallFilter::ALL);
        let wanted = corner * 0.5 + way * along.abs();
        assert!(slid.position.distance(wanted) < 1e-5, "{slid}, not {wanted}");
    }
}

#[test]
fn a_press_exactly_into_a_wall_brakes_like_one_a_hair_beside_it() {
    let floor =
        FoundWall::new(Wall::Own(0), Solid::box_from_corners(vec2(-500.0, 0.0), vec2(500.0, 9.0)).unwrap());
    let ends = [0.0, 1e-4].map(|beside| {
        let gait = Gait::new(60.0, 100.0, 1000.0).unwrap();
        let mut walker = Walker::new(vec2(0.0, -1.0), Footprint::rect(2.0, 2.0).unwrap(), gait);
        walker.velocity = vec2(50.0, 0.0);
        let _ = walker.tick(Intent::new(vec2(beside, 1.0)), 0.2, &floor);
        walker.velocity.x
    });
    assert!((ends[0] - 30.0).abs() < 1e-3 && (ends[1] - ends[0]).abs() < 0.1, "{ends:?}");
}

#[test]
fn a_wall_that_was_left_has_no_say_in_what_is_wished_for() {
    // Thrown from the floor onto a slope, up it, and down again while the player presses into both.
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(-90.0, 0.0), vec2(90.0, 9.0)).unwrap());
    walls.add(Solid::segment(vec2(2.0, 20.0), vec2(32.0, -40.0)).unwrap());
    let ends = [1u16, 50].map(|parts| {
        let gait = Gait::new(60.0, 200.0, 200.0).unwrap();
        let mut walker = Walker::new(vec2(8.0, -1.0), Footprint::rect(2.0, 2.0).unwrap(), gait);
        walker.velocity = vec2(50.0, 0.0);
        for _ in 0..parts {
            let _ = walker.tick(Intent::new(vec2(1.0, 0.3)), 0.5 / f32::from(parts), &walls);
        }
        walker.position
    });
    assert!(ends[0].distance(ends[1]) < 1e-3 && ends[0].y < -1.01, "{ends:?}");
}

#[test]
fn who_turns_round_past_the_end_of_a_wall_lands_on_it_at_any_tick_rate() {
    // Up along a post and past its end, and down again, pressing on it a little all the while.
    let mut post = World::new();
    post.add(Solid::box_from_corners(vec2(36.0, 28.0), vec2(40.0, 40.0)).unwrap());
    let ends = [vec![0.1f32], vec![0.013, 0.029, 0.001, 0.017, 0.04], vec![0.001; 100]].map(|parts| {
        let gait = Gait::new(160.4691, 1283.7528, 1604.691).unwrap();
        let feet = Footprint::rect(2.7577999, 1.9945407).unwrap();
        let mut walker = Walker::new(vec2(41.3789, 27.19026), feet, gait);
        walker.velocity = vec2(0.0, -24.23516);
        for part in parts {
            let _ = walker.tick(Intent::new(vec2(-0.062_124_88, 0.631_485_8)), part, &post);
        }
        walker.position
    });
    assert!(ends[0].distance(ends[1]) < 1e-4 && ends[0].distance(ends[2]) < 1e-4, "{ends:?}");
    assert!((ends[0].y - 27.002_73).abs() < 1e-3, "not on the post: {ends:?}");
}

#[test]
fn a_wall_a_hair_away_hides_none_that_is_touched() {
    // In a corner, a hair off one wall and against the other; the player presses into both.
    let mut walls = World::new();
    walls.add(Solid::box_from_corners(vec2(8.0, 52.0), vec2(12.0, 56.0)).unwrap());
    walls.add(Solid::box_from_corners(vec2(12.5, 50.0), vec2(20.0, 53.035_69)).unwrap());
    let round = Footprint::circle(1.356_766).unwrap();
    for hair in [0.0f32, 4e-6, 8e-6, 1.2e-5, 1.6e-5] {
        let gait = Gait::new(200.0, 1600.0, 2000.0).unwrap();
        let mut walker = Walker::new(vec2(13.356_766 + hair, 54.392_456), round, gait);
        let _ = walker.tick(Intent::new(vec2(-0.078_325_02, -0.996_927_9)), 1.0 / 60.0, &walls);
        assert!(!walls.overlaps(&round, walker.position, &WallFilter::ALL), "{hair}: {}", walker.position);
    }
}

#[rstest]
#[case::slanted(Solid::segment(vec2(10.0, -9.0), vec2(16.0, 9.0)).unwrap())]
#[case::round(Solid::circle(vec2(15.0, 3.0), 6.0).unwrap())]
#[case::upright(Solid::box_from_corners(vec2(10.0, -9.0), vec2(16.0, 9.0)).unwrap())]
fn a_drive_held_to_an_axis_stops_at_a_wall_across_it(
    #[case] solid: Solid,
    #[values(7, 60, 1000)] rate: u16,
    #[values(true, false)] round: bool,
) {
    let mut walls = World::new();
    walls.add(solid);
    let feet = if round { Footprint::circle(2.0) } else { Footprint::rect(4.0, 3.0) }.unwrap();
    let rail = OneAxis { drive: Gait::new(20.0, 100.0, 100.0).unwrap(), axis: Axis::X };
    let hit = walls.sweep(&feet, Vec2::ZERO, vec2(30.0, 0.0), &WallFilter::ALL).unwrap();
    let mut cart = Walker::new(Vec2::ZERO, feet, rail);
    for _ in 0..3 * rate {
        let _ = cart.tick(Intent::new(vec2(1.0, 0.3)), 1.0 / f32::from(rate), &walls);
    }
    assert_eq!(cart.velocity, Vec2::ZERO);
    assert!(
        cart.position.distance(hit.position) < 1e-4 && cart.position.y.abs() < 1e-5,
        "{:?}",
        cart.position
    );
}
