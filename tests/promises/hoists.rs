//! Hoists: walls that take a mover along, where they turn, wait, end, lose it and come back for it.

use ambulant::drive::{AnyDrive, Pace};
use ambulant::prelude::*;
use ambulant::shape::overlap;
use ambulant::terrain::Course;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// What happens between a hoist and a mover.
#[derive(Debug, Clone, Copy)]
enum Ride {
    /// The hoist turns within a tick and goes away from the mover on its side.
    Turns,
    /// It waits, and then goes away from the mover.
    Waits,
    /// The mover goes off at the end of its side, and the hoist comes after it.
    PastItsEnd,
    /// A wall holds the mover, the corner of the hoist just passes it, and the hoist comes back the same way.
    Stripped,
    /// What leads the mover off the hoist ends as soon as the tick begins.
    Brakes,
    /// The mover slides along a slope against its side.
    AlongASlope,
}

/// A hoist, its course, what else stands there, the mover and what it wants.
struct Scene {
    hoist: [Vec2; 2],
    course: Course,
    standing: Option<Solid>,
    walker: Walker<AnyDrive>,
    wish: Intent,
}

/// The hoist ends in x at 0, and the mover stands to the right of it, but for `Stripped`: there it stands below it.
fn scene(ride: Ride, dice: &mut Dice) -> Scene {
    let size = vec2(dice.number(1.0, 4.0), dice.number(1.0, 4.0));
    let (aside, up) = (dice.number(1.0, 12.0), dice.number(20.0, 50.0));
    let (first, second) = (dice.number(0.2, 0.4), dice.number(0.3, 0.5));
    let moves =
        |course: Course, velocity: Vec2, seconds: f32| course.moves(velocity * seconds, seconds).unwrap();
    let gait: AnyDrive = Gait::new(20.0, dice.number(60.0, 300.0), dice.number(400.0, 900.0)).unwrap().into();
    let mut walker = Walker::new(vec2(0.5 * size.x, 0.0), Footprint::rect(size.x, size.y).unwrap(), gait);
    let (mut hoist, mut wish, mut standing) = ([vec2(-9.0, -60.0), vec2(0.0, 60.0)], Intent::NONE, None);
    let (new, away) = (Course::new(), vec2(-aside, up));
    let course = match ride {
        Ride::Turns => {
            let along = vec2(dice.number(-12.0, 12.0), -up);
            moves(moves(new, along, first), away, second)
        }
        Ride::Waits => moves(new.waits(first).unwrap(), away, second),
        Ride::PastItsEnd => {
            hoist[0].y = -dice.number(1.0, 3.0);
            wish = Intent::new(vec2(-dice.number(0.05, 0.5), -dice.number(0.4, 0.8)));
            moves(new, vec2(aside, -up), first + second)
        }
        Ride::Stripped => {
            hoist = [vec2(-8.0, -9.0), Vec2::ZERO];
            let apart = dice.number(0.5, 3.0);
            walker.position = vec2(-dice.number(0.0, 2.0) + 0.5 * size.x, 0.5 * size.y);
            walker.drive = Pace::new(20.0).unwrap().into();
            let edge = walker.position.x - 0.5 * size.x - apart;
            standing = Some(Solid::box_from_corners(vec2(edge - 5.0, -70.0), vec2(edge, 70.0)).unwrap());
            // Far enough for its end to pass the wall.
            let back = vec2(-up, -aside * dice.number(0.3, 1.0));
            let seconds = (8.0 + 3.0) / up * 0.3 + first;
            moves(moves(new, back, seconds), -back, seconds)
        }
        Ride::Brakes => {
            walker.velocity = vec2(dice.number(0.01, 0.08), 0.0);
            moves(new, vec2(aside, -up), first)
        }
        Ride::AlongASlope => {
            let slope = vec2(1.0, dice.number(0.2, 0.8)).normalize();
            // Below its right lower corner; the hoist comes from the right.
            walker.position = vec2(-0.5 * size.x, 0.0);
            hoist = [vec2(0.0, -60.0), vec2(9.0, 60.0)];
            // Half of them below a slope, into which the hoist takes them.
            let side = if dice.pick(2) == 0 { 1.0 } else { -1.0 };
            let foot = walker.position + vec2(-0.5, 0.5) * size * side;
            standing = Some(Solid::segment(foot - slope * 40.0, foot + slope * 40.0).unwrap());
            walker.position -= slope * dice.number(0.5, 3.0);
            walker.velocity = slope * 20.0;
            wish = Intent::new(vec2(dice.number(0.4, 0.8), dice.number(0.0, 0.3) * side));
            moves(new, vec2(dice.number(3.0, 9.0), -dice.number(8.0, 20.0)), first + second)
        }
    };
    Scene { hoist, course, standing, walker, wish }
}

/// A hoist has the same mover with it at the same place at any tick rate: what holds it is found whenever the hoist changes its
/// motion, not only at the start of a tick; and at its corners one rule decides.
#[rstest]
#[case::turns(Ride::Turns, 100)]
#[case::waits(Ride::Waits, 100)]
#[case::past_its_end(Ride::PastItsEnd, 100)]
#[case::stripped(Ride::Stripped, 200)]
#[case::brakes(Ride::Brakes, 100)]
#[case::along_a_slope(Ride::AlongASlope, 400)]
fn on_a_hoist_any_tick_rate_ends_at_the_same_place(#[case] ride: Ride, #[case] scenes: u16) {
    let (mut reached, mut apart) = (0u16, Vec::new());
    for seed in some_of(0..u64::from(scenes)) {
        let mut scene = scene(ride, &mut Dice::new(seed));
        // A slope with rounded ends is not quite where it should be.
        if let Some(inside) =
            scene.standing.and_then(|wall| overlap(&scene.walker.footprint, scene.walker.position, &wall))
        {
            scene.walker.position += inside.normal * inside.depth;
        }
        // A belt counts where two walls share the mover.
        let belt = Vec2::from_angle(seed as f32) * if matches!(ride, Ride::AlongASlope) { 4.0 } else { 0.0 };
        let floor = Surface::PLAIN.with_belt(belt).unwrap();
        let play = |rate: u32| {
            let mut world = World::new().with_surface(floor);
            let (mut course, mut walker) = (scene.course.clone(), scene.walker);
            let hoist = world.add(Solid::box_from_corners(scene.hoist[0], scene.hoist[1]).unwrap());
            world.set_carries(hoist, true);
            scene.standing.map(|solid| world.add(solid));
            let (mut met, mut flung) = (0, Vec2::ZERO);
            let dt = 1.0 / rate as f32;
            for _ in 0..rate {
                assert!(world.move_in(hoist, course.pieces(dt)));
                let result = walker.tick(scene.wish, dt, &world);
                flung += result.moved_out;
                met += usize::from(result.contacts.iter().any(|contact| contact.wall == hoist));
                course.advance(dt);
                world.advance(dt);
            }
            (walker.position, met, flung)
        };
        let [slow, usual, fast] = [7, 60, 1000].map(play);
        let off = (fast.0 - scene.walker.position).distance(scene.course.offset_at(9.0).as_vec2());
        let counts = match ride {
            // Taken along the whole way.
            Ride::Turns | Ride::Waits | Ride::Brakes => off < 0.01,
            _ => fast.1 > 0,
        };
        reached += u16::from(counts);
        let most = slow.0.distance(fast.0).max(usual.0.distance(fast.0));
        if most > 0.01 || [slow, usual, fast].iter().any(|end| end.2 != Vec2::ZERO) {
            apart.push((seed, slow, usual, fast));
        }
    }
    println!("{ride:?}: {reached} of {scenes} reached, {} apart", apart.len());
    assert!(reached > share(scenes - scenes / 5), "{reached}");
    // Between a hoist and a slope, on a belt, all but three scenes.
    let share = if matches!(ride, Ride::AlongASlope) { 100 } else { 200 };
    assert!(apart.len() * share < usize::from(scenes), "{}: {:?}", apart.len(), &apart[..apart.len().min(4)]);
}

/// Beside a column of tiles, against which it walks, a mover is lifted over their seams by a hoist that goes away under it. Seen from
/// the hoist, the tiles move: what rounding leaves leads the mover into none of them, and nothing of the tick is lost at a seam.
#[test]
fn a_hoist_lifts_a_mover_along_a_column_of_tiles_over_all_seams() {
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&["#....."; 12], &legend).unwrap();
    let mut let_go = 0;
    for seed in some_of(0..2000) {
        let mut dice = Dice::new(seed);
        let tile = dice.number(3.0, 30.0);
        let map = map.clone().with_tile_size(tile).unwrap();
        let half = vec2(dice.number(0.15, 0.9), dice.number(0.15, 0.9)) * tile;
        let start = vec2(tile + half.x, dice.number(6.0, 8.0) * tile);
        let own = [[1.0, 9.0], [4.0, 40.0], [4.0, 40.0]].map(|of| dice.number(of[0], of[1]) * tile);
        let gait = Gait::new(own[0], own[1], own[2]).unwrap();
        let moves = vec2(dice.number(0.5, 3.0), -dice.number(0.5, 3.0)) * tile;
        let least = start + half * vec2(dice.number(-0.9, 0.9), 1.0);
        let solid = Solid::box_from_corners(least, least + vec2(9.0, 1.0) * tile).unwrap();
        // Hardly any velocity, into the column or off it.
        let slow = Vec2::from_angle(dice.number(0.0, 6.3)) * tile * 10.0f32.powf(dice.number(-9.0, -2.0));
        let ends = [7, 60].map(|rate| {
            let mut world = World::new().with_map(map.clone());
            let hoist = world.add(solid);
            let mut mover = Walker::new(start, Footprint::rect(2.0 * half.x, 2.0 * half.y).unwrap(), gait);
            mover.velocity = slow;
            let mut is_on = true;
            for _ in 0..rate {
                world.move_at(hoist, moves);
                let result = mover.tick(Intent::new(vec2(-1.0, 1.0)), 1.0 / rate as f32, &world);
                assert_eq!(result.stalled, 0.0, "seed {seed}, {rate} per second: {result}");
                is_on = result.contacts.iter().any(|contact| contact.wall == hoist);
                world.advance(1.0 / rate as f32);
            }
            (mover.position, is_on)
        });
        let apart = ends[0].0.distance(ends[1].0);
        assert!(apart < 1e-4 * tile, "seed {seed}: {ends:?}");
        let_go += u32::from(!ends[0].1);
    }
    assert!(let_go > share(700), "{let_go}");
}
