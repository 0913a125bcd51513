//! Movers that block each other.

use std::cell::Cell;

use ambulant::direction::Axis;
use ambulant::drive::{AnyDrive, Drive, OneAxis, Surface};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, overlap};
use ambulant::terrain::FoundWall;
use ambulant::travel::Contact;
use glam::DVec2;
use proptest::prelude::*;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

/// Movers that start apart from each other and from the walls, each with a key that changes now and then.
struct Scene {
    world: World,
    walls: Vec<Wall>,
    walkers: Vec<Walker<Gait>>,
    /// The directions of each, every quarter of a second.
    keys: Vec<Vec<Vec2>>,
}

impl Scene {
    fn new(seed: u64, count: usize, walls: usize) -> Self {
        let mut dice = Dice::new(seed);
        let size = 5.0 * (count as f32).sqrt();
        let area = PlayArea::new(Vec2::splat(-size), Vec2::splat(size)).unwrap();
        let mut world = World::new().with_play_area(area);
        let mut wall = || {
            let at = vec2(dice.number(-size, size), dice.number(-size, size));
            world.add(crate::timeline::any_wall(&mut dice, at))
        };
        let walls = (0..walls).map(|_| wall()).collect();
        let mut walkers: Vec<Walker<Gait>> = Vec::new();
        while walkers.len() < count {
            let at = vec2(dice.number(-size, size), dice.number(-size, size)) * 0.9;
            let shape = match dice.pick(3) {
                0 => Footprint::rect(dice.number(0.8, 3.0), dice.number(0.8, 3.0)).unwrap(),
                _ => Footprint::circle(dice.number(0.5, 1.5)).unwrap(),
            };
            let gait = Gait::new(dice.number(5.0, 20.0), dice.number(30.0, 200.0), dice.number(30.0, 200.0))
                .unwrap();
            let walker = Walker::new(at, shape, gait);
            let is_free = walkers.iter().all(|other| depth(&walker, other) < -0.01);
            if is_free && !world.overlaps(&shape, at, &WallFilter::ALL) {
                walkers.push(walker);
            }
        }
        // Mostly toward the middle, where all meet.
        let mut key = |start: Vec2| match dice.pick(4) {
            0 => Vec2::from_angle(dice.number(0.0, 6.3)),
            1 => Vec2::ZERO,
            _ => (-start).normalize_or_zero().rotate(Vec2::from_angle(dice.number(-0.5, 0.5))),
        };
        let keys = walkers.iter().map(|walker| (0..8).map(|_| key(walker.position)).collect()).collect();
        Self { world, walls, walkers, keys }
    }

    /// Plays two seconds.
    fn play(&self, rate: u16, mut each: impl FnMut(&[Walker<Gait>], u32)) -> Vec<Walker<Gait>> {
        let (mut walkers, mut crowd) = (self.walkers.clone(), Crowd::new());
        for tick in 0..2 * rate {
            let key = usize::from(tick * 4 / rate);
            let intent = |number: usize| Intent::new(self.keys[number][key]);
            let (mut met, world) = (0, &self.world);
            let starts: Vec<Vec2> = walkers.iter().map(|walker| walker.position).collect();
            crowd.tick(&mut walkers, intent, 1.0 / f32::from(rate), world, |number, result| {
                met += u32::from(result.contacts.iter().any(|met| matches!(met.wall, Wall::Obstacle(_))));
                // One that stands meets nothing elsewhere.
                let (at, stands) = (result.position, result.position == starts[number]);
                let elsewhere = result.contacts.iter().find(|contact| contact.position.distance(at) > 2e-3);
                assert!(!stands || elsewhere.is_none(), "{at} {elsewhere:?}");
                // Nothing that pushes moves here.
                let is_pushed = result.contacts.iter().any(|contact| contact.pushed);
                let moved = (result.pushed, result.moved_out);
                assert!(
                    moved == (Vec2::ZERO, Vec2::ZERO) && !is_pushed && result.squeezed.is_none(),
                    "{result:?}"
                );
            });
            each(&walkers, met);
        }
        walkers
    }
}

/// How deep two movers overlap; negative for those that are apart by more than nothing.
fn depth<D: Drive>(one: &Walker<D>, other: &Walker<D>) -> f32 {
    let solid = other.footprint.solid_at(other.position);
    overlap(&one.footprint, one.position, &solid).map_or(-1.0, |overlap| overlap.depth)
}

#[rstest]
#[case::six(6, 30)]
#[case::thirty(30, 10)]
fn nobody_walks_into_anybody_and_the_list_may_have_any_order(#[case] count: usize, #[case] scenes: u64) {
    let mut touching = 0;
    // In the last one, movers that nothing kept out of each other overlapped by 0.03 units.
    for seed in some_of(0..scenes).chain([44]) {
        let scene = Scene::new(seed, count, 4);
        let mut close = false;
        let ends = scene.play(30, |walkers, met| {
            close = close || met > 0;
            for (place, one) in walkers.iter().enumerate() {
                assert!(!scene.world.overlaps(&one.footprint, one.position, &WallFilter::ALL), "seed {seed}");
                for other in &walkers[place + 1..] {
                    let depth = depth(one, other);
                    assert!(depth < 1e-3, "seed {seed}: {depth} {} {}", one.position, other.position);
                }
            }
        });
        touching += u32::from(close);
        let mut turned = Scene { world: scene.world.clone(), ..scene };
        turned.walkers.reverse();
        turned.keys.reverse();
        let mut others = turned.play(30, |_, _| {});
        others.reverse();
        assert!(ends == others, "seed {seed}");
    }
    assert!(u64::from(touching) * 2 > share(scenes), "{touching}");
}

/// A vector in one of the four directions of a scene.
fn turned_to(side: usize, vector: Vec2) -> Vec2 {
    [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y][side].rotate(vector)
}

/// How much further a mover got in a tick than its speed takes it, if that changes by no more than 200 units/s per second.
fn leap(was: &Walker<Gait>, is: &Walker<Gait>, seconds: f32) -> f32 {
    let fastest = was.velocity.length().max(is.velocity.length()) + 200.0 * seconds;
    was.position.distance(is.position) - fastest * seconds
}

/// What pieces deviate is made up for without a leap.
#[rstest]
#[case::six(6, 40)]
#[case::thirty(30, 5)]
fn nobody_leaps(#[case] count: usize, #[case] scenes: u64) {
    let (mut touching, mut slow) = (0, 0);
    for seed in some_of(503..503 + scenes) {
        let scene = Scene::new(seed, count, 3);
        let mut before = scene.walkers.clone();
        scene.play(1000, |walkers, met| {
            touching += u64::from(met);
            for (was, is) in before.iter().zip(walkers) {
                let leap = leap(was, is, 1e-3);
                assert!(leap < 1.2e-3, "seed {seed}: {leap} from {} to {}", was.position, is.position);
                slow += u64::from(is.velocity.length() < 0.5);
            }
            before = walkers.to_vec();
        });
    }
    assert!(touching > share(1000 * scenes) && slow > share(2000 * scenes), "{touching} {slow}");
}

/// Where no wall moves, a crowd plays no piece again that it knows, nor one in which all stand. It ends where a crowd does that plays all
/// of them: there, a wall moves that blocks none of the walkers.
#[test]
fn what_a_crowd_does_not_play_again_changes_nothing() {
    const OTHERS: Layers = Layers::bit(9);
    let (mut standing, mut all) = (0, 0);
    for seed in [100, 102] {
        let mut scene = Scene::new(seed, 8, 3);
        // All into one corner, and there they stay.
        scene.walkers.iter_mut().for_each(|walker| walker.mask = !OTHERS);
        scene.keys.iter_mut().for_each(|keys| keys.fill(vec2(0.8, 0.6)));
        let mut each = Vec::new();
        let ends = scene.play(60, |walkers, _| each.push(walkers.to_vec()));
        for two in each.windows(2) {
            standing += two[0].iter().zip(&two[1]).filter(|(one, other)| one == other).count();
            all += two[0].len();
        }
        let ghost = Solid::circle(Vec2::ZERO, 20.0).unwrap();
        let ghost = scene.world.add_on(OTHERS, ghost);
        scene.world.move_at(ghost, Vec2::X);
        let others = scene.play(60, |_, _| {});
        assert!(ends == others, "seed {seed}");
    }
    assert!(standing * 10 > all && standing * 10 < all * 9, "{standing} of {all}");
}

/// An open terrain that counts what is asked left of x = 0.
struct Counted(Cell<u32>);

impl Terrain for Counted {
    fn walls_in(&self, area: Aabb, _: &WallFilter<'_>, _: &mut dyn FnMut(FoundWall)) {
        self.0.set(self.0.get() + u32::from(area.max.x < 0.0));
    }
}

/// What happens to some movers plans nothing anew for others, though in a long tick all of them could meet: about them, as much is
/// asked as without the others. Planned together, it was half as much again.
#[test]
fn what_happens_elsewhere_plans_nothing_anew() {
    let (mut asked, mut met) = ([0, 0], 0);
    for seed in 0..4 {
        let mut dice = Dice::new(seed);
        let gait = Gait::new(dice.number(10.0, 20.0), 400.0, 400.0).unwrap();
        let mut walker = |at: Vec2| Walker::new(at, Footprint::circle(dice.number(0.5, 1.0)).unwrap(), gait);
        // Two press on each other and walk on the left; on the right, many gather.
        let pressed = [walker(vec2(-2.0, -1.2)), walker(vec2(-2.0, 1.2))];
        let others: Vec<_> = (0..25u8)
            .map(|place| walker(vec2(f32::from(place % 5), f32::from(place / 5)) * 2.5 + Vec2::splat(4.0)))
            .collect();
        for (count, others) in [&[][..], &others].into_iter().enumerate() {
            let mut walkers = [&pressed, others].concat();
            let toward = walkers.clone();
            let terrain = Counted(Cell::new(0));
            Crowd::new().tick(
                &mut walkers,
                |number| match number {
                    0 | 1 => Intent::new(vec2(-0.4, -toward[number].position.y.signum())),
                    number => Intent::new((Vec2::splat(9.0) - toward[number].position).normalize_or_zero()),
                },
                0.5,
                &terrain,
                |number, result| met += u32::from(number > 1 && !result.contacts.is_empty()),
            );
            asked[count] += terrain.0.get();
        }
    }
    assert!(asked[0] > 1000 && asked[1] * 5 < asked[0] * 6 && met > 50, "{asked:?} {met}");
}

/// A mover that is pushed further than it gets alone may meet others, and is played again; a group far away is not: about it, as much is
/// asked as without that mover.
#[test]
fn what_is_pushed_far_plays_nothing_again_elsewhere() {
    for seed in 0..20 {
        let mut dice = Dice::new(seed);
        let (gait, radius) = (Gait::new(20.0, 400.0, 400.0).unwrap(), dice.number(0.5, 1.0));
        let walker = |at: Vec2| Walker::new(at, Footprint::circle(radius).unwrap(), gait);
        let pressed = [walker(vec2(-900.0, -1.2)), walker(vec2(-900.0, 1.2))];
        // A wall pushes the first one of a row, and that one the next.
        let row = [0.0, 1.0, 2.0].map(|place| walker(vec2(9.0 + 2.0 * radius * place, 0.0)));
        let mut world = World::new();
        let wall = world.add(Solid::box_from_corners(vec2(8.0, -2.0), vec2(9.0 - radius, 2.0)).unwrap());
        world.move_at(wall, vec2(dice.number(10.0, 40.0), 0.0));
        let [alone, beside] = [&[][..], &row].map(|others| {
            let mut walkers = [&pressed, others].concat();
            let terrain = Counted(Cell::new(0));
            let toward = |number: usize| vec2(-0.4, if number == 0 { 1.0 } else { -1.0 });
            let intent = |number: usize| if number < 2 { Intent::new(toward(number)) } else { Intent::NONE };
            Crowd::new().tick(&mut walkers, intent, 0.25, &(&world, &terrain), |_, _| {});
            let far =
                walkers.last().filter(|_| walkers.len() > 2).map(|last| last.position.x - row[2].position.x);
            assert!(far.is_none_or(|far| far > radius), "seed {seed}: {far:?}");
            terrain.0.get()
        });
        assert!(alone == beside && alone > 50, "seed {seed}: {alone} {beside}");
    }
}

/// Among walls that drift to and fro, a mover that gets into a wall or into a neighbour says so.
#[test]
fn among_walls_that_drift_each_overlap_is_reported() {
    let (mut pushed, mut blocked, mut squeezed, mut compared) = (0, 0, 0, 0);
    let mut entered = Vec::new();
    // The last ones went wrong in ways of their own; one was played in a hundred times as many pieces as the others.
    for seed in some_of(0..30).chain([74, 80, 82, 136, 149, 207, 265, 319, 394, 454, 590]) {
        let scene = Scene::new(seed, 6, 5);
        let (mut world, mut walkers, mut crowd) = (scene.world, scene.walkers, Crowd::new());
        let mut dice = Dice::new(!seed);
        let drifts: Vec<Vec2> = scene
            .walls
            .iter()
            .map(|_| Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(1.0, 15.0))
            .collect();
        let rate = [20, 60, 240][dice.pick(3)];
        // Until a squeeze: what is squeezed overlaps what squeezes it.
        let mut is_squeezed = false;
        for tick in 0..2 * rate {
            let to_and_fro = if tick * 2 / rate % 2 == 0 { 1.0 } else { -1.0 };
            for (wall, drift) in scene.walls.iter().zip(&drifts) {
                world.move_at(*wall, *drift * to_and_fro);
            }
            let key = usize::try_from(tick * 4 / rate).unwrap();
            let (seconds, intent) = (1.0 / rate as f32, |number: usize| Intent::new(scene.keys[number][key]));
            crowd.tick(&mut walkers, intent, seconds, &world, |_, result| {
                is_squeezed |= result.squeezed.is_some();
                pushed += usize::from(result.pushed != Vec2::ZERO);
                blocked += usize::from(result.contacts.total() > 1);
            });
            world.advance(seconds);
            if is_squeezed {
                squeezed += 1;
                break;
            }
            compared += 1;
            // How deep anybody is in a wall or in a neighbour.
            let deep = |(place, one): (usize, &Walker<Gait>)| {
                let walls = scene.walls.iter().filter_map(|wall| world.solid(*wall));
                let walls = walls.filter_map(|wall| overlap(&one.footprint, one.position, wall));
                let others = walkers[place + 1..].iter().map(|other| depth(one, other));
                walls.map(|wall| wall.depth).chain(others).fold(0.0, f32::max)
            };
            let deepest = walkers.iter().enumerate().map(deep).fold(0.0, f32::max);
            if deepest > 2e-3 {
                entered.push((seed, tick, rate, deepest));
                break;
            }
        }
    }
    println!("{pushed} pushed, {blocked} blocked, {squeezed} squeezed, {compared} ticks");
    assert!(entered.is_empty(), "{entered:?}");
    assert!(pushed > share(1000) && blocked > share(500) && squeezed < 18, "{pushed} {blocked} {squeezed}");
}

/// A raft takes up two that stand against each other when its edge reaches them, also late in a long tick.
#[test]
fn late_in_a_tick_a_raft_takes_up_two_that_touch() {
    let mut world = World::new();
    let area = ambulant::shape::Aabb::from_corners(vec2(-40.0, -20.0), vec2(-5.0, 20.0));
    let raft = world.add_floor(area, Surface::PLAIN).unwrap();
    world.move_at(raft, vec2(20.0, 0.0));
    let shape = Footprint::circle(1.0).unwrap();
    let mut walkers = [0.0, 2.0].map(|y| Walker::new(vec2(0.0, y), shape, Pace::new(6.0).unwrap()));
    Crowd::new().tick(&mut walkers, |_| Intent::NONE, 1.0, &world, |_, _| {});
    // Five units at 20 units/s take a quarter of a second.
    for (walker, y) in walkers.iter().zip([0.0, 2.0]) {
        assert!(walker.position.distance(vec2(15.0, y)) < 2e-3, "{}", walker.position);
    }
}

/// One that meets no other goes exactly as alone.
#[test]
fn apart_from_each_other_all_go_as_alone() {
    let gait = Gait::new(9.0, 60.0, 80.0).unwrap();
    let mut world = World::new();
    world.add(Solid::circle(vec2(14.0, 1.0), 3.0).unwrap());
    let start = [0.0, 30.0, 60.0].map(|y| Walker::new(vec2(0.0, y), Footprint::circle(1.0).unwrap(), gait));
    let (mut alone, mut together, mut crowd) = (start, start, Crowd::new());
    for _ in 0..90 {
        let intent = |number: usize| Intent::new(Vec2::from_angle(0.3 * number as f32));
        let mut results = Vec::new();
        crowd.tick(&mut together, intent, 1.0 / 60.0, &world, |_, result| results.push(result));
        for (number, walker) in alone.iter_mut().enumerate() {
            let result = walker.tick(intent(number), 1.0 / 60.0, &world);
            assert_eq!(*walker, together[number]);
            assert_eq!(result.contacts.len(), results[number].contacts.len());
        }
    }
}

/// A mover whose drive is held to an axis stays on its line when it presses on another one almost along it.
#[rstest]
fn among_others_a_mover_stays_on_its_line(
    #[values(7, 60, 1000)] rate: u16,
    #[values(0.1, 1.2)] aside: f32,
    #[values(false, true)] both: bool,
) {
    let gait = |speed| Gait::new(speed, 200.0, 200.0).unwrap();
    let on_axis = |speed| OneAxis { drive: gait(speed), axis: Axis::X };
    let (held, slow, free) = (on_axis(20.0), on_axis(12.0), gait(12.0));
    let other: &dyn Drive = if both { &slow } else { &free };
    let mut walkers = [(0.0, 0.0, &held as &dyn Drive), (2.2, aside, other)]
        .map(|(x, y, drive)| Walker::new(vec2(x, y), Footprint::circle(1.0).unwrap(), drive));
    let (mut crowd, mut met) = (Crowd::new(), 0);
    for _ in 0..rate {
        let intent = |number: usize| Intent::new([vec2(1.0, 0.0), vec2(0.6, -0.8)][number]);
        crowd.tick(&mut walkers, intent, 1.0 / f32::from(rate), &World::new(), |number, result| {
            met += u16::from(number == 0 && !result.contacts.is_empty());
        });
        assert_eq!((walkers[0].position.y, walkers[0].velocity.y), (0.0, 0.0));
        assert!(!both || walkers[1].position.y == aside, "{}", walkers[1].position);
        assert!(depth(&walkers[0], &walkers[1]) < 1e-3, "{} {}", walkers[0].position, walkers[1].position);
    }
    assert!(met > 0);
}

/// Two that overlap by rounding are set apart, but not off the axis to which their drives are held.
#[rstest]
#[case::along_it(vec2(1.995, 0.0), vec2(2.0, 0.0))]
#[case::across_it(vec2(0.5, 1.995), vec2(0.5, 1.995))]
fn two_that_overlap_a_little_are_set_apart_along_their_axis(#[case] start: Vec2, #[case] apart: Vec2) {
    let pace = OneAxis { drive: Pace::new(0.01).unwrap(), axis: Axis::X };
    let mut walkers = [Vec2::ZERO, start].map(|at| Walker::new(at, Footprint::rect(2.0, 2.0).unwrap(), pace));
    let way = |number: usize| Intent::new([Vec2::X, Vec2::NEG_X][number]);
    Crowd::new().tick(&mut walkers, way, 0.01, &World::new(), |_, _| {});
    let now = walkers[1].position - walkers[0].position;
    assert!((now - apart).length() < 1e-3 && now.y == apart.y, "{now}");
}

/// A tick of many seconds is played to its end, though two touch all the time.
#[test]
fn a_tick_of_many_seconds_is_played_to_its_end() {
    let mut walkers = [(0.0, 9.0), (2.0, 3.0)].map(|(x, speed)| {
        Walker::new(vec2(x, 0.0), Footprint::rect(2.0, 2.0).unwrap(), Pace::new(speed).unwrap())
    });
    let mut crowd = Crowd::new();
    crowd.tick(&mut walkers, |_| Intent::new(Vec2::X), 20.0, &World::new(), |_, _| {});
    let ends = walkers.map(|walker| walker.position.x);
    assert!((ends[0] - 60.0).abs() < 1e-2 && (ends[1] - 62.0).abs() < 1e-2, "{ends:?}");
    let numbers = [0, 1].map(|number| crowd.number_of(crowd.wall_of(number).unwrap()));
    assert_eq!((numbers, crowd.number_of(Wall::Edge(Side::Left))), ([Some(0), Some(1)], None));
}

/// A circle that slides round the corner of a box that presses on it, and on along its side, does not stop there.
#[rstest]
fn from_a_corner_two_slide_on_along_a_side(#[values(1, 4, 30)] ticks: u8) {
    let gait = Gait::new(109.97, 1200.0, 1500.0).unwrap();
    let mut walkers = [
        Walker::new(vec2(156.677_38, 129.156_16), Footprint::circle(14.0).unwrap(), gait),
        Walker::new(vec2(128.744_78, 110.195_21), Footprint::rect(50.0, 10.0).unwrap(), gait),
    ];
    (walkers[0].velocity, walkers[1].velocity) = (vec2(-109.97, 0.0), vec2(61.145, 63.86));
    let intents = [Intent::new(vec2(-1.0, 0.0)), Intent::new(vec2(61.145, 63.86) / 109.97)];
    let mut crowd = Crowd::new();
    for _ in 0..ticks {
        let dt = 0.03 / f32::from(ticks);
        crowd.tick(&mut walkers, |number| intents[number], dt, &World::new(), |_, _| {});
    }
    // Alone, they would go 3.3 and 1.83 units. One that stops for a piece loses 0.2 of them.
    let ways = [156.677_38 - walkers[0].position.x, walkers[1].position.x - 128.744_78];
    assert!((3.2..3.3).contains(&ways[0]) && (1.7..1.83).contains(&ways[1]), "{ways:?}");
    assert_eq!(walkers[0].velocity, vec2(-109.97, 0.0));
}

/// Against one that speeds up just ahead, one that could speed up as fast or faster goes as fast at each instant.
#[rstest]
fn behind_one_that_speeds_up_a_faster_one_keeps_up(
    #[values(7, 60, 1000)] rate: u16,
    #[values(400.0, 900.0)] acceleration: f32,
    #[values(Footprint::rect(2.0, 2.0).unwrap(), Footprint::circle(1.0).unwrap())] shape: Footprint,
) {
    let mut walkers =
        [(0.0, 150.0, acceleration), (2.0, 100.0, 400.0)].map(|(x, top_speed, acceleration)| {
            Walker::new(vec2(x, 0.0), shape, Gait::new(top_speed, acceleration, 100.0).unwrap())
        });
    let mut crowd = Crowd::new();
    for _ in 0..rate * 2 / 5 {
        let dt = 1.0 / f32::from(rate);
        crowd.tick(&mut walkers, |_| Intent::new(vec2(1.0, 0.0)), dt, &World::new(), |_, _| {});
        let [behind, ahead] = &walkers;
        assert!((ahead.position.x - behind.position.x - 2.0).abs() < 1e-3, "{}", behind.position);
        let velocities = [ahead.velocity.x, behind.velocity.x];
        assert!((velocities[0] - velocities[1]).abs() < 1e-2, "{velocities:?}");
    }
    // The one ahead is at its top speed after a quarter of a second.
    assert_eq!(walkers[1].velocity, vec2(100.0, 0.0));
}

/// Round one that stands, a round one slides as an exact solution says, at any tick rate: it goes on with what its wish has along
/// the circle, so that the tangent of half its angle shrinks with the time.
#[rstest]
fn one_slides_round_one_that_stands(
    #[values(6, 90, 720)] ticks: u16,
    #[values(0.3, 1.0)] aside: f32,
    #[values(6.0, 300.0)] speed: f32,
) {
    let mut walkers = [vec2(-6.0, aside), Vec2::ZERO]
        .map(|at| Walker::new(at, Footprint::circle(1.0).unwrap(), Pace::new(speed).unwrap()));
    let mut crowd = Crowd::new();
    for _ in 0..ticks {
        let intent = |number: usize| Intent::new(vec2([1.0, 0.0][number], 0.0));
        crowd.tick(&mut walkers, intent, 18.0 / speed / f32::from(ticks), &World::new(), |_, _| {});
    }
    assert_eq!(walkers[1].position, Vec2::ZERO);
    // From the touch, 2 units from the middle, to straight above it: the angle changes by half its sine per unit of the way that
    // it has without the other one.
    let angle = (aside / 2.0).asin();
    let (comes, turns) = (6.0 - 2.0 * angle.cos(), 2.0 * (1.0 / (angle / 2.0).tan()).ln());
    let ends = vec2(18.0 - comes - turns, 2.0);
    assert!(walkers[0].position.distance(ends) < 2e-3, "{} instead of {ends}", walkers[0].position);
}

/// A tick of a group is played in many pieces; its result shows each wall once, in order.
#[test]
fn a_result_shows_each_wall_once() {
    let world = World::new().with_play_area(PlayArea::new(vec2(-9.0, -9.0), vec2(4.0, 6.0)).unwrap());
    // The second one touches the first one all the time, and both go to the lower right.
    let mut walkers = [vec2(0.0, 0.0), vec2(-1.2, -1.6)]
        .map(|at| Walker::new(at, Footprint::circle(1.0).unwrap(), Pace::new(10.0).unwrap()));
    let mut seen = Vec::new();
    Crowd::new().tick(
        &mut walkers,
        |_| Intent::new(Vec2::ONE),
        1.0,
        &world,
        |number, result| {
            if number == 0 {
                seen = result.contacts.iter().map(|contact| (contact.wall, contact.seconds)).collect();
            }
        },
    );
    // 3 units to the right and 5 down, at 10 units/s along a diagonal and then along the side.
    let [(Wall::Edge(Side::Right), right), (Wall::Edge(Side::Bottom), down)] = seen[..] else {
        panic!("{seen:?}")
    };
    let slant = core::f32::consts::FRAC_1_SQRT_2 * 10.0;
    assert!((right - 3.0 / slant).abs() < 1e-3 && (down - 5.0 / slant).abs() < 1e-3, "{right} {down}");
}

/// Two that block each other among walls end where they do at any tick rate, in all but 1 of 200 scenes: round each other, a small
/// difference grows.
#[test]
fn two_end_where_they_do_at_any_tick_rate() {
    let (mut apart, mut met) = (Vec::new(), 0);
    for seed in some_of(0..400) {
        let scene = Scene::new(seed, 2, 4);
        let mut close = false;
        let many = scene.play(240, |_, met| close = close || met > 0);
        met += u32::from(close);
        let is_apart = |rate: u16| {
            let few = scene.play(rate, |_, _| {});
            few.iter().zip(&many).any(|(one, other)| one.position.distance(other.position) > 0.02)
        };
        if is_apart(8) || is_apart(28) {
            apart.push(seed);
        }
    }
    assert!(met > share(300), "{met}");
    assert!(apart.len() <= 2, "{apart:?}");
}

/// Where two run into each other, each that leads into the other notes that it met it, at one instant, and with the velocity
/// that it had, alone, up to there.
#[test]
fn who_runs_into_another_notes_the_velocity_that_it_had() {
    let (mut head_on, mut behind) = (0, 0);
    for seed in 0..200 {
        let scene = Scene::new(seed, 2, 0);
        for rate in [7u16, 30, 240] {
            let dt = 1.0 / f32::from(rate);
            let (mut walkers, mut crowd) = (scene.walkers.clone(), Crowd::new());
            for tick in 0..2 * rate {
                let key = usize::from(tick * 4 / rate);
                let intent = |number: usize| Intent::new(scene.keys[number][key]);
                let (before, mut met) = (walkers.clone(), [None; 2]);
                crowd.tick(&mut walkers, intent, dt, &scene.world, |number, result| {
                    let is_other = |contact: &&Contact| !matches!(contact.wall, Wall::Edge(_));
                    met[number] = result.contacts.iter().find(is_other).copied();
                });
                let Some(first) =
                    met.iter().flatten().min_by(|one, other| one.seconds.total_cmp(&other.seconds))
                else {
                    continue;
                };
                let velocities = [0, 1].map(|number| {
                    let mut alone = before[number];
                    let _ = alone.tick(intent(number), first.seconds, &scene.world);
                    alone.velocity
                });
                let leads_by = [0, 1].map(|number| {
                    let normal = if first.tag == 0 { first.normal } else { -first.normal };
                    let normal = if number == 0 { -normal } else { normal };
                    velocities[1 - number].dot(normal).min(0.0) - velocities[number].dot(normal)
                });
                for number in [0, 1] {
                    let Some(contact) = met[number] else {
                        assert!(
                            leads_by[number] < 0.1,
                            "seed {seed}, {rate}: {number} {first:?} {velocities:?}"
                        );
                        continue;
                    };
                    let (had, speed) = (velocities[number], 1.0 + velocities[number].length());
                    assert!(
                        leads_by[number] < 0.1 || contact.velocity_before.distance(had) < 1e-3 * speed,
                        "seed {seed}, {rate}: {had} {contact:?}"
                    );
                    assert!(
                        leads_by[number] < 0.1 || (contact.seconds - first.seconds).abs() < 1e-6,
                        "seed {seed}, {rate}: {met:?}"
                    );
                }
                match leads_by.map(|by| by > 0.1) {
                    [true, true] => head_on += 1,
                    [false, false] => {}
                    _ => behind += 1,
                }
                break;
            }
        }
    }
    assert!(head_on > 150 && behind > 50, "{head_on} {behind}");
}

/// Between a neighbour and the edge of the play area, what one leaves of a path is not turned back by the other again and again:
/// the path is followed to the end of each tick.
#[test]
fn between_a_neighbour_and_an_edge_no_tick_stalls() {
    let (mut stalled, mut between) = (Vec::new(), 0);
    // In the last three, a mover rolls off a side along which its neighbour moves.
    for seed in some_of(0..120).chain([193, 259, 312]) {
        let mut dice = Dice::new(seed);
        let mut walkers = [20.0, 60.0].map(|x| {
            let gait = Gait::new(dice.number(60.0, 200.0), 1200.0, 1500.0).unwrap();
            let shape = match dice.pick(2) {
                0 => Footprint::rect(dice.number(8.0, 30.0), dice.number(8.0, 30.0)).unwrap(),
                _ => Footprint::circle(dice.number(5.0, 15.0)).unwrap(),
            };
            Walker::new(vec2(x, dice.number(16.0, 40.0)), shape, gait)
        });
        // Toward each other, and mostly toward the upper edge.
        let keys = [1.0, -1.0].map(|toward| {
            [0; 6].map(|_| vec2(toward * dice.number(-0.3, 1.0), dice.number(-1.0, 0.3)).normalize_or_zero())
        });
        let area = PlayArea::new(Vec2::ZERO, Vec2::splat(80.0)).unwrap();
        let (world, mut crowd) = (World::new().with_play_area(area), Crowd::new());
        for tick in 0..60 {
            let intent = |number: usize| Intent::new(keys[number][tick / 10]);
            crowd.tick(&mut walkers, intent, 1.0 / 30.0, &world, |_, result| {
                let is_edge = |contact: &&Contact| matches!(contact.wall, Wall::Edge(_));
                let edges = result.contacts.iter().filter(is_edge).count();
                between += u32::from(edges > 0 && edges < result.contacts.len());
                if result.stalled > 0.0 {
                    stalled.push((seed, tick, result.stalled));
                }
            });
        }
    }
    assert!(between > share(2000), "{between}");
    assert!(stalled.is_empty(), "{} of {between}: {:?}", stalled.len(), &stalled[..stalled.len().min(4)]);
}

/// Past the end of a straight side, two that press on each other begin to turn at the same instant at any tick rate.
#[test]
fn past_the_end_of_a_side_two_turn_as_at_any_tick_rate() {
    let (mut most, mut turned) = (0.0f32, 0);
    for seed in some_of(0..30) {
        let mut dice = Dice::new(seed);
        let mut gait = || Gait::new(dice.number(60.0, 160.0), dice.number(300.0, 1200.0), 1500.0).unwrap();
        let [upper, lower] = [gait(), gait()];
        let start = [
            Walker::new(vec2(0.0, -19.0), Footprint::circle(14.0).unwrap(), upper),
            Walker::new(vec2(dice.number(-20.0, 0.0), 0.0), Footprint::rect(50.0, 10.0).unwrap(), lower),
        ];
        let keys = [vec2(dice.number(0.0, 0.5), 1.0), vec2(dice.number(-1.0, -0.3), -1.0)];
        let [few, many] = [30u16, 1000].map(|rate| {
            let (mut walkers, mut crowd) = (start, Crowd::new());
            for _ in 0..rate * 2 / 5 {
                let intent = |number: usize| Intent::new(keys[number]);
                crowd.tick(&mut walkers, intent, 1.0 / f32::from(rate), &World::new(), |_, _| {});
            }
            walkers.map(|walker| walker.position)
        });
        turned += u32::from(many[0].y > -18.5);
        most = few.iter().zip(many).fold(most, |most, (few, many)| most.max(few.distance(many)));
    }
    assert!(turned > share(15), "{turned}");
    assert!(most < 0.01, "{most}");
}

/// One that follows a neighbour which comes off it, along a floor on which both lie, stays on the floor.
#[test]
fn between_a_floor_and_a_neighbour_one_stays_on_the_floor() {
    let mut follows = 0;
    for seed in some_of(0..100) {
        let mut dice = Dice::new(seed);
        // Whichever way the floor faces.
        let frame = Vec2::from_angle(std::f32::consts::FRAC_PI_2 * dice.pick(4) as f32);
        let is_turned = frame.x.abs() < 0.5;
        let mut world = World::new();
        world.add(Solid::segment(frame * -500.0, frame * 500.0).unwrap());
        let (radius, [width, height]) =
            (dice.number(5.0, 20.0), [20.0, 5.0].map(|most| dice.number(4.0, most)));
        let shapes = [
            Footprint::circle(radius),
            if is_turned { Footprint::rect(height, width) } else { Footprint::rect(width, height) },
        ];
        let starts = [vec2(-radius - 2.0, radius), vec2(0.5 * width + 2.0, 0.5 * height)];
        let gait = Gait::new(dice.number(60.0, 160.0), dice.number(300.0, 1200.0), 1500.0).unwrap();
        let mut walkers =
            [0, 1].map(|place| Walker::new(starts[place].rotate(frame), shapes[place].unwrap(), gait));
        let (ways, mut crowd) = ([vec2(1.0, dice.number(0.0, 0.5)), vec2(-1.0, 0.0)], Crowd::new());
        let rate = [30, 60, 240][dice.pick(3)];
        for _ in 0..2 * rate {
            let mut beside = false;
            let intent = |number: usize| Intent::new(ways[number].rotate(frame));
            crowd.tick(&mut walkers, intent, 1.0 / rate as f32, &world, |number, result| {
                beside |= number == 1 && result.contacts.total() > 1;
            });
            let [at, velocity] = [walkers[1].position, walkers[1].velocity]
                .map(|vector| vector.rotate(vec2(frame.x, -frame.y)));
            let above = at.y - 0.5 * height;
            assert!(above.abs() < 2e-4, "seed {seed}: {above} units above the floor");
            follows += u32::from(beside && velocity.x < -0.1);
        }
    }
    assert!(follows > share(150), "{follows}");
}

/// Two that start deep inside each other are not flung apart: they stay where they are, and walk out as if they were alone, up to
/// the hundredth of a unit by which those are set apart that overlap a little.
#[rstest]
fn two_that_start_inside_each_other_walk_out(
    #[values(0.02, 0.3, 1.5)] deep: f32,
    #[values(7, 240)] rate: u16,
) {
    let (shape, gait) = (Footprint::circle(1.0).unwrap(), Gait::new(6.0, 60.0, 60.0).unwrap());
    let starts = [vec2(0.0, 0.0), vec2(2.0 - deep, 0.0)];
    let mut walkers = starts.map(|at| Walker::new(at, shape, gait));
    let mut alone = walkers;
    let mut crowd = Crowd::new();
    for tick in 0..2 * rate {
        let walks = f32::from(u8::from(tick >= rate));
        let away = |number: usize| Intent::new(vec2([-1.0, 1.0][number], 0.5) * walks);
        crowd.tick(&mut walkers, away, 1.0 / f32::from(rate), &World::new(), |_, _| {});
        for (number, (walker, alone)) in walkers.iter().zip(&mut alone).enumerate() {
            let _ = alone.tick(away(number), 1.0 / f32::from(rate), &World::new());
            let apart = walker.position.distance(alone.position);
            assert!(apart < 6e-3, "{} {}", walker.position, alone.position);
        }
    }
}

/// One that presses on the corner of another, and has its speed: what is left between the two velocities is rounding.
#[test]
fn one_keeps_up_with_the_corner_of_another() {
    let gait = Gait::new(170.32996, 1200.0, 1500.0).unwrap();
    let start = [
        Walker::new(vec2(22.969364, 103.90642), Footprint::circle(14.0).unwrap(), gait),
        Walker::new(vec2(89.52368, 74.52389), Footprint::rect(50.0, 10.0).unwrap(), gait),
    ];
    let keys = [
        (0.100_635_96, vec2(0.0, 1.0)),
        (0.195_557_31, vec2(0.424577, 0.6727094)),
        (0.203_806_73, vec2(1.0, 0.0)),
    ];
    let ends = [30.0f32, 1000.0].map(|rate| {
        let (mut walkers, mut crowd) = (start, Crowd::new());
        for (seconds, key) in keys {
            let mut left: f32 = seconds;
            while left > 0.0 {
                let dt = left.min(1.0 / rate);
                let intent = |number: usize| Intent::new([vec2(1.0, 0.0), key][number]);
                crowd.tick(&mut walkers, intent, dt, &World::new(), |_, result| {
                    assert_eq!(result.stalled, 0.0);
                });
                left -= dt;
            }
        }
        walkers.map(|walker| walker.position)
    });
    for (few, many) in ends[0].iter().zip(ends[1]) {
        assert!(few.distance(many) < 1e-3, "{ends:?}");
    }
}

/// Where two circles that touch at first get in so many steps of ten microseconds, and whether they slid round each other. In
/// each step, one loses what leads it into the other, unless that one goes away as fast.
fn in_tiny_steps(walkers: &[Walker<Gait>; 2], intents: [Intent; 2], steps: u32) -> ([DVec2; 2], bool) {
    let step = 1e-5f32;
    let together = walkers.iter().map(|walker| f64::from(walker.footprint.size().x) * 0.5).sum::<f64>();
    let (mut at, mut velocities) =
        (walkers.each_ref().map(|walker| walker.position.as_dvec2()), [DVec2::ZERO; 2]);
    let mut slid = false;
    for _ in 0..steps {
        let normal = (at[0] - at[1]).normalize();
        let touch = at[0].distance(at[1]) <= together + 1e-9;
        let mut held = [false; 2];
        let next = [0, 1].map(|place| {
            let outward = if place == 0 { normal } else { -normal };
            let least = velocities[1 - place].dot(outward).min(0.0);
            let top_speed = walkers[place].drive.top_speed();
            // A short step changes little of what `f32` can show of a velocity: only the change is taken.
            let from = velocities[place].as_vec2();
            let change = |intent| {
                let motion = walkers[place].drive.advance(from.into(), intent, &Surface::PLAIN, step);
                velocities[place] + motion.velocity.as_dvec2() - from.as_dvec2()
            };
            let free = change(intents[place]);
            if !touch || free.dot(outward) >= least {
                return free;
            }
            held[place] = true;
            let wanted = intents[place].vector().as_dvec2() * f64::from(top_speed);
            let wanted = wanted + outward * (least - wanted.dot(outward)).max(0.0);
            let along = change(Intent::new((wanted / f64::from(top_speed)).as_vec2()));
            along + outward * (least - along.dot(outward))
        });
        velocities = next;
        slid |= held == [true; 2] && velocities[0].distance(velocities[1]) > 3.0;
        at = [0, 1].map(|place| at[place] + velocities[place] * f64::from(step));
        let between = at[0] - at[1];
        if between.length() < together || held.contains(&true) {
            let apart = between.normalize() * (together - between.length());
            let parts = match held {
                [true, false] => [apart, DVec2::ZERO],
                [false, true] => [DVec2::ZERO, -apart],
                _ => [apart * 0.5, apart * -0.5],
            };
            at = [at[0] + parts[0], at[1] + parts[1]];
        }
    }
    (at, slid)
}

properties! {
    40;

    /// In a row, each that has caught up with the one before it follows as fast as that goes, and has its velocity; the others go as
    /// alone.
    #[test]
    fn in_a_row_each_follows_as_fast_as_the_one_before_it(
        followed >= 30, three_followed >= 20;
        row in prop::collection::vec((0.1f32..60.0, 0.0f32..3.0), 2..7), side in 0usize..4, rate in prop::sample::select(vec![7u16, 30, 240]),
    ) {
        let way = turned_to(side, Vec2::X);
        let places = row.iter().scan(0.0, |at, (_, gap)| {
            *at += 2.0 + gap;
            Some(*at)
        });
        let mut walkers: Vec<Walker<Pace>> = row
            .iter()
            .zip(places)
            .map(|((speed, _), at)| Walker::new(way * at, Footprint::rect(2.0, 2.0).unwrap(), Pace::new(*speed).unwrap()))
            .collect();
        let mut crowd = Crowd::new();
        for _ in 0..2 * rate {
            crowd.tick(&mut walkers, |_| Intent::new(way), 1.0 / f32::from(rate), &World::new(), |_, _| {});
            let mut following = 0;
            for (place, walker) in walkers.iter().enumerate() {
                let next = walkers.get(place + 1);
                let gap = next.map_or(f32::INFINITY, |next| (next.position - walker.position).dot(way) - 2.0);
                let wanted = next.filter(|_| gap < 1e-3).map_or(way * row[place].0, |next| next.velocity);
                // Some are about to catch up.
                let is_so = (walker.velocity - wanted).length() < 1e-3 || (1e-4..1e-3).contains(&gap);
                prop_assert!(is_so && gap > -1e-4, "{place}: {} {wanted} {gap}", walker.velocity);
                following = if gap < 1e-4 { following + 1 } else { 0 };
                followed.when(following > 0);
                three_followed.when(following > 2);
            }
        }
    }

    /// A wall pushes a row in front of it whatever its movers want, as long as the last one is slower: also one that would get away
    /// from the wall if the next one let it. In front of a post two units further on, it squeezes them then, and not before, the first one too.
    /// A push gives no velocity.
    #[test]
    fn a_wall_pushes_a_row_whatever_it_wants(
        would_get_away >= 4;
        row in prop::collection::vec((prop_oneof![1 => Just(0.0f32), 3 => -0.4f32..1.0], 0.0f32..0.3), 2..5),
        slowest in prop_oneof![1 => Just(0.0f32), 3 => -1.0f32..0.3],
        side in 0usize..4, rate in prop::sample::select(vec![1u16, 7, 60, 240]),
        (has_pace, is_round, post) in any::<(bool, bool, bool)>(),
    ) {
        let way = turned_to(side, Vec2::X);
        let mut world = World::new();
        let wall = world.add(Solid::box_around(way * -2.0, Vec2::splat(2.0)).unwrap());
        let drive = if has_pace { AnyDrive::from(Pace::new(6.0).unwrap()) } else { Gait::new(6.0, 40.0, 40.0).unwrap().into() };
        let shape = if is_round { Footprint::circle(1.0) } else { Footprint::rect(2.0, 2.0) };
        let (mut at, shape) = (-2.0, shape.unwrap());
        let mut walkers: Vec<Walker<AnyDrive>> = row.iter().map(|(_, gap)| {
            at += 2.0 + gap;
            Walker::new(way * at, shape, drive)
        }).collect();
        let (mut crowd, last, seconds) = (Crowd::new(), row.len() - 1, 1.0 / f32::from(rate));
        let wants = |number: usize| if number == last { slowest } else { row[number].0 };
        if post {
            world.add(Solid::box_around(way * (2.0 * row.len() as f32 + 1.5), Vec2::ONE).unwrap());
        }
        let (mut squeezed, mut first_is_squeezed) = (None::<f32>, false);
        for tick in 0..2 * rate {
            world.move_at(wall, way * 3.0);
            let intent = |number: usize| Intent::new(way * wants(number));
            crowd.tick(&mut walkers, intent, seconds, &world, |number, result| {
                let at = result.squeezed.map(|squeeze| f32::from(tick) * seconds + squeeze.seconds);
                squeezed = squeezed.or(at);
                first_is_squeezed |= number == 0 && at.is_some();
            });
            let stands = |number: &usize| wants(*number) == 0.0;
            for number in (0..=last).filter(stands) {
                prop_assert_eq!(walkers[number].velocity, Vec2::ZERO);
            }
            if squeezed.is_some() {
                break;
            }
            world.advance(seconds);
        }
        let is_in_time = squeezed.map_or(!post, |at| post && (at - 2.0 / 3.0).abs() < 5e-3);
        prop_assert!(is_in_time && first_is_squeezed == post, "{squeezed:?}, post: {post}, first: {first_is_squeezed}");
        let walkers = if post { &[] } else { &walkers[..] };
        let edge = world.solid(wall).unwrap().bounds().center().dot(way) + 1.0;
        for (walker, wanted) in walkers.iter().zip([1.0f32, 3.0, 5.0, 7.0]) {
            let is = walker.position.dot(way) - edge;
            prop_assert!((is - wanted).abs() < 2e-3, "{is} instead of {wanted} in front of the wall");
        }
        would_get_away.when(wants(0) > 0.5);
    }

    /// One that comes to two that press on each other notes that it meets one of them at the instant at which it does, there, and with the
    /// velocity that it has then, though the two go on in pieces.
    #[test]
    fn one_that_comes_to_two_that_press_meets_them_at_its_instant(
        met >= 40;
        speed in 1.0f32..30.0, gap in 0.01f32..0.9, acceleration in prop::option::of(20.0f32..90.0), side in 0usize..4,
        rate in prop::sample::select(vec![7u16, 60, 240]),
    ) {
        let turned = |vector: Vec2| turned_to(side, vector);
        let square = Footprint::rect(2.0, 2.0).unwrap();
        let drive = match acceleration {
            Some(acceleration) => AnyDrive::from(Gait::new(90.0, acceleration, 90.0).unwrap()),
            None => Pace::new(speed).unwrap().into(),
        };
        let mut walkers = [vec2(-1.0, 0.0), vec2(1.0, 0.0), vec2(1.0, 2.0 + gap)].map(|at| Walker::new(turned(at), square, drive));
        let ways = [Vec2::X, Vec2::NEG_X, Vec2::NEG_Y].map(|way| Intent::new(turned(way)));
        let (instant, velocity) = acceleration.map_or((gap / speed, speed), |a| ((2.0 * gap / a).sqrt(), (2.0 * gap * a).sqrt()));
        let (mut crowd, mut first, seconds) = (Crowd::new(), None, 1.0 / f32::from(rate));
        for tick in 0..rate {
            let begins = f32::from(tick) * seconds;
            crowd.tick(&mut walkers, |number| ways[number], seconds, &World::new(), |number, result| {
                let contact = result.contacts.iter().next().filter(|_| number == 2 && first.is_none());
                first = first.or(contact.map(|contact| (begins + contact.seconds, contact.position, contact.velocity_before)));
            });
        }
        let (at, position, before) = first.unwrap();
        prop_assert!((at - instant).abs() * velocity < 1e-3, "{at} instead of {instant}");
        prop_assert!(position.distance(turned(vec2(1.0, 2.0))) < 1e-3, "{position}");
        prop_assert!((before.dot(turned(Vec2::NEG_Y)) - velocity).abs() < 0.01, "{before} instead of {velocity}");
        met.when(true);
    }

    /// One that presses on another almost straight stands, if it would get on by less than 0.02 units/s and a twentieth of what it wants; with
    /// more it slides on as fast as that.
    #[test]
    fn one_that_would_only_creep_along_another_stands(
        stands >= 8, slides >= 8;
        speed in 0.1f32..4.0, part in 0.1f32..2.0, (is_round, up) in any::<(bool, bool)>(), side in 0usize..4,
        rate in prop::sample::select(vec![7u16, 60, 240]),
    ) {
        prop_assume!((part - 1.0).abs() > 0.01);
        let along = part * (0.05 * speed).min(0.02);
        let way = Vec2::from_angle((along / speed).asin() * if up { 1.0 } else { -1.0 });
        let turned = |vector: Vec2| turned_to(side, vector);
        let (pace, square) = (Pace::new(speed).unwrap(), Footprint::rect(2.0, 2.0).unwrap());
        let shape = if is_round { Footprint::circle(1.0).unwrap() } else { square };
        let mut walkers = [Walker::new(turned(vec2(-2.0, 0.0)), shape, pace), Walker::new(Vec2::ZERO, square, pace)];
        let mut crowd = Crowd::new();
        for _ in 0..rate {
            let intent = |number: usize| Intent::new(if number == 0 { turned(way) } else { Vec2::ZERO });
            crowd.tick(&mut walkers, intent, 1.0 / f32::from(rate), &World::new(), |_, _| {});
        }
        let wanted = if part < 1.0 { 0.0 } else { along };
        let is = walkers[0].position.distance(turned(vec2(-2.0, 0.0)));
        prop_assert!((is - wanted).abs() < 1e-4, "{is} instead of {wanted}");
        stands.when(part < 1.0);
        slides.when(part > 1.0);
    }

    /// Between two whose normals are almost opposed, a mover stays when one of them passes and presses on it: neighbours push no one.
    #[test]
    fn nobody_is_thrown_out_from_between_two(between >= 20; seed in any::<u64>(), rate in prop::sample::select(vec![60u8, 240])) {
        let mut dice = Dice::new(seed);
        let radii = [0, 1, 2].map(|_| dice.number(0.5, 1.5));
        let toward = [Vec2::NEG_Y, Vec2::ZERO, vec2(libm::exp10f(dice.number(-5.0, -2.0)), 1.0).normalize()];
        let gait = Gait::new(12.0, dice.number(30.0, 200.0), 60.0).unwrap();
        let mut walkers = [0, 1, 2].map(|place| {
            Walker::new(toward[place] * (radii[1] + radii[place]), Footprint::circle(radii[place]).unwrap(), gait)
        });
        walkers[2].velocity = Vec2::X * 12.0;
        let keys = [Vec2::ZERO, Vec2::from_angle(dice.number(0.0, 6.3)), vec2(1.0, dice.number(-0.5, 0.0))];
        let (seconds, mut crowd, mut is_between) = (1.0 / f32::from(rate), Crowd::new(), false);
        for _ in 0..rate / 20 {
            let before = walkers;
            crowd.tick(&mut walkers, |number| Intent::new(keys[number]), seconds, &World::new(), |_, _| {});
            let leap = leap(&before[1], &walkers[1], seconds);
            prop_assert!(leap < 1e-3, "{leap} from {} to {}", before[1].position, walkers[1].position);
            let apart = |other: usize| walkers[1].position.distance(walkers[other].position) - radii[1] - radii[other];
            is_between |= apart(0).max(apart(2)) < 1e-3;
        }
        between.when(is_between);
    }

    /// Two circles that press on each other slide round each other, and apart, as in tiny steps: also those that start slowly.
    #[test]
    fn two_that_press_slide_as_in_tiny_steps(slid >= 15; seed in any::<u64>()) {
        let mut dice = Dice::new(seed);
        let (toward, pace) = (dice.number(0.0, 6.3), libm::exp10f(dice.number(-1.0, 0.0)));
        let radii = [dice.number(0.5, 1.5), dice.number(0.5, 1.5)];
        let places = [Vec2::ZERO, Vec2::from_angle(toward) * (radii[0] + radii[1])];
        let walkers = [0, 1].map(|place| {
            let gait = Gait::new(dice.number(10.0, 30.0) * pace, dice.number(60.0, 300.0) * pace * pace, 100.0).unwrap();
            Walker::new(places[place], Footprint::circle(radii[place]).unwrap(), gait)
        });
        let intents = [toward, toward + core::f32::consts::PI]
            .map(|toward| Intent::new(Vec2::from_angle(toward + dice.number(-1.3, 1.3))));
        let (wanted, slides) = in_tiny_steps(&walkers, intents, 20_000);
        slid.when(slides);
        for rate in [10u16, 60, 1000] {
            let (mut played, mut crowd) = (walkers, Crowd::new());
            for _ in 0..rate / 5 {
                crowd.tick(&mut played, |number| intents[number], 1.0 / f32::from(rate), &World::new(), |_, _| {});
            }
            for (walker, wanted) in played.iter().zip(wanted) {
                let apart = walker.exact_position().distance(wanted);
                prop_assert!(apart < 3e-3, "{rate}: {apart} {} {wanted}", walker.position);
            }
        }
    }

    /// Two that run at each other meet in one long tick where they meet in many short ones, though each of their paths turns
    /// from speeding up to an even speed when it likes.
    #[test]
    fn in_a_long_tick_two_meet_where_they_do_in_many(met >= 38; seed in any::<u64>()) {
        let mut dice = Dice::new(seed);
        let mut runner = |x: f32| {
            let shape = Footprint::circle(dice.number(0.3, 0.6)).unwrap();
            let gait = Gait::new(dice.number(3.0, 20.0), dice.number(8.0, 80.0), 100.0).unwrap();
            Walker::new(vec2(x, dice.number(-0.1, 0.1)), shape, gait)
        };
        let start = [runner(-2.5), runner(2.5)];
        let (mut least, most) = (f32::INFINITY, start.map(|one| one.footprint.size().x).iter().sum::<f32>() * 0.5 + 0.01);
        let ends = [1u16, 12].map(|ticks| {
            let (mut walkers, mut crowd) = (start, Crowd::new());
            for _ in 0..ticks {
                let way = |number: usize| Intent::new(vec2(if number == 0 { 1.0 } else { -1.0 }, 0.0));
                crowd.tick(&mut walkers, way, 1.0 / f32::from(ticks), &World::new(), |_, _| {});
                least = least.min(walkers[0].position.distance(walkers[1].position));
            }
            walkers
        });
        met.when(least < most);
        for (few, many) in ends[0].iter().zip(&ends[1]) {
            let apart = few.position.distance(many.position);
            prop_assert!(apart < 0.02, "{apart}: {} {}", few.position, many.position);
        }
    }
}

/// A walker whose mask does not meet the crowd blocks nobody, and projectiles fly through it.
#[rstest]
#[case::blocks(Layers::ALL, Some(0.5))]
#[case::ghost(Layers::NONE, None)]
fn a_walker_outside_of_the_mask_is_no_wall(#[case] mask: Layers, #[case] hit_at: Option<f32>) {
    let mut walkers =
        [Walker::new(vec2(20.0, 0.0), Footprint::circle(1.0).unwrap(), Pace::new(10.0).unwrap())];
    walkers[0].mask = mask;
    let (mut crowd, world) = (Crowd::new(), World::new());
    crowd.tick_with_paths(&mut walkers, |_| Intent::new(vec2(-1.0, 0.0)), 1.0, &world, |_, _| {});
    let pebble = Projectile::aimed(Vec2::ZERO, vec2(1.0, 0.0), 26.0, Footprint::circle(1.0).unwrap());
    // 18 units at 36 units/s.
    let end = pebble.unwrap().tick(1.0, &(&world, crowd.as_walls()));
    assert_eq!(end.map(|end| end.seconds()), hit_at);
}
