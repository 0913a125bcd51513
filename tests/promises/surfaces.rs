//! Surfaces under walkers: mud, ice and belts of tiles, and borders between them.

use ambulant::drive::{AnyDrive, Drag, Helm, Steering};
use ambulant::prelude::*;
use rstest::rstest;

use crate::properties::share;
use crate::scene::{Dice, some_of};

const TILE: f32 = 16.0;

/// A map of a few kinds of floor at random, some of them walls.
fn random_floors(walls: bool, dice: &mut Dice) -> TileGrid {
    let belt = |dice: &mut Dice| Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(5.0, 60.0);
    let surface = |surface: Result<Surface, ambulant::InvalidNumber>| surface.unwrap();
    let mut kinds = vec![TileKind::floor("path"), TileKind::wall("bed")];
    kinds.push(TileKind::floor("mud").with_surface(surface(Surface::PLAIN.with_speed_factor(0.4))));
    kinds.push(TileKind::floor("ice").with_surface(surface(Surface::PLAIN.with_grip(0.2))));
    for _ in 0..2 {
        let moving = surface(Surface::PLAIN.with_belt(belt(dice)));
        kinds.push(TileKind::floor("belt").with_surface(moving));
    }
    let one = |dice: &mut Dice| match dice.pick(20) {
        0..8 => 0,
        8 | 9 if walls => 1,
        other => 2 + other % 4,
    };
    let rows: Vec<Vec<usize>> = (0..8).map(|_| (0..10).map(|_| one(dice)).collect()).collect();
    TileGrid::from_indices(&rows, &kinds).unwrap().with_tile_size(TILE).unwrap()
}

fn random_drive(dice: &mut Dice) -> AnyDrive {
    let speed = dice.number(20.0, 120.0);
    let drag = Drag::half_life(dice.number(0.1, 0.6)).unwrap();
    match dice.pick(4) {
        0 => Pace::new(speed).unwrap().into(),
        1 => Glide::new(speed * drag.rate(), drag, 0.0).unwrap().into(),
        2 => Helm::new(2.0, speed * drag.rate(), drag, Steering::Toward)
            .unwrap()
            .with_grip(dice.number(1.0, 6.0))
            .unwrap()
            .into(),
        _ => Gait::new(speed, dice.number(100.0, 900.0), dice.number(100.0, 900.0)).unwrap().into(),
    }
}

fn random_intent(dice: &mut Dice) -> Intent {
    Intent::new(Vec2::from_angle(dice.number(0.0, 6.3)) * dice.number(0.2, 1.2))
}

/// Moves in very short steps, each wholly on the surface under its start: an independent solution without walls.
/// Whether it passes a point where four tiles meet, from which it may go on on either side.
fn in_short_steps(walker: &mut Walker<AnyDrive>, intent: Intent, seconds: f32, map: &TileGrid) -> bool {
    let count = 1 + (0..u16::MAX).take_while(|count| f32::from(*count) < seconds * 20_000.0).count();
    let mut at_corner = false;
    for _ in 0..count {
        let on = map.surface(map.tile_at(walker.position));
        let motion = walker.drive.advance(walker.momentum(), intent, &on, seconds / count as f32);
        walker.position += motion.displacement;
        (walker.velocity, walker.heading) = (motion.velocity, motion.heading);
        at_corner |= from_border(walker.position).max_element() < 0.02;
    }
    at_corner
}

/// The distances to the nearest border of tiles, along x and y.
fn from_border(place: Vec2) -> Vec2 {
    (place / TILE - (place / TILE).round()).abs() * TILE
}

fn borders_between(from: Vec2, to: Vec2, map: &TileGrid) -> bool {
    map.surface(map.tile_at(from)) != map.surface(map.tile_at(to))
}

#[rstest]
fn a_walker_goes_where_very_short_steps_lead() {
    let (mut crossed, mut stayed, mut corners) = (0, 0, 0);
    for seed in some_of(0..400u64) {
        let mut dice = Dice::new(seed);
        let map = random_floors(false, &mut dice).with_outside(Outside::Open);
        let start = map.area().size() * vec2(dice.number(0.2, 0.8), dice.number(0.2, 0.8));
        let mut walker = Walker::new(start, Footprint::rect(6.0, 4.0).unwrap(), random_drive(&mut dice));
        let mut slow = walker;
        for _ in 0..6 {
            let (intent, seconds) = (random_intent(&mut dice), dice.number(0.02, 0.3));
            let before = walker.position;
            let _ = walker.tick(intent, seconds, &map);
            if in_short_steps(&mut slow, intent, seconds, &map) {
                corners += 1;
                slow = walker;
                continue;
            }
            let apart = walker.position.distance(slow.position);
            // A step may be on the wrong surface for a whole step, at each of a few borders.
            assert!(apart < 0.1, "seed {seed}: {apart} apart from {before}\n{walker:?}\n{slow:?}");
            crossed += usize::from(borders_between(before, walker.position, &map));
            stayed += usize::from(from_border(walker.position).min_element() < 1e-3);
            slow = walker;
        }
    }
    println!("{crossed} borders crossed, {stayed} stays on a border, {corners} at corners");
    assert!(crossed > share(500) && stayed > share(20) && corners < 40, "{crossed} {stayed} {corners}");
}

#[rstest]
fn surfaces_show_no_tick_length(#[values(false, true)] walls: bool) {
    let (mut ticks, mut crossed, mut touched, mut corners) = (0, 0, 0, 0);
    for seed in some_of(0..1500u64) {
        let mut dice = Dice::new(seed ^ 0x5EED);
        let map = random_floors(walls, &mut dice);
        let start = map.area().size() * vec2(dice.number(0.1, 0.9), dice.number(0.1, 0.9));
        let feet = Footprint::rect(6.0, 4.0).unwrap();
        if map.overlaps(&feet, start, &WallFilter::ALL) {
            continue;
        }
        let mut walker = Walker::new(start, feet, random_drive(&mut dice));
        for _ in 0..8 {
            let (intent, seconds) = (random_intent(&mut dice), [1.0 / 7.0, 1.0 / 30.0][dice.pick(2)]);
            let (mut often, count) = (walker, 2 + dice.pick(40));
            let before = walker.position;
            let contacts = walker.tick(intent, seconds, &map).contacts;
            let mut at_corner = false;
            for _ in 0..count {
                let _ = often.tick(intent, seconds / count as f32, &map);
                at_corner |= from_border(often.position).max_element() < 0.5;
            }
            ticks += 1;
            corners += usize::from(at_corner);
            let apart = walker.position.distance(often.position);
            // On a border between surfaces of different grip, at a wall, paths are followed in short steps.
            let slack = if contacts.is_empty() { 2e-3 } else { 0.01 };
            assert!(
                apart < slack || at_corner,
                "seed {seed}: {apart} apart from {before}\n{walker:?}\n{often:?}"
            );
            crossed += usize::from(borders_between(before, walker.position, &map));
            touched += usize::from(!contacts.is_empty());
        }
    }
    println!("{crossed} borders crossed, {touched} ticks with walls, {corners} at corners");
    let least = if walls { 500 } else { 50 };
    assert!(
        crossed > share(1000) && touched > share(least) && corners * 25 < ticks,
        "{crossed} {touched} {corners}"
    );
}

/// Half of the way on a path and half in mud, at a third of the speed.
#[rstest]
fn mud_slows_from_its_border_on(#[values(1, 7, 60)] rate: u8, #[values(-1.0, 1.0)] mirror: f32) {
    let mud = Surface::PLAIN.with_speed_factor(0.25).unwrap();
    let legend =
        Legend::new().with('.', TileKind::floor("path")).with('~', TileKind::floor("mud").with_surface(mud));
    let rows = if mirror > 0.0 { "....~~~~" } else { "~~~~...." };
    let map = TileGrid::from_rows(&[rows], &legend).unwrap().with_tile_size(TILE).unwrap();
    let start = vec2(64.0 - 20.0 * mirror, 8.0);
    let mut gardener = Walker::new(start, Footprint::rect(8.0, 6.0).unwrap(), Pace::new(40.0).unwrap());
    for _ in 0..rate {
        let _ = gardener.tick(Intent::new(vec2(mirror, 0.0)), 1.0 / f32::from(rate), &map);
    }
    // 20 units at 40 units/s and half a second at 10.
    assert!((gardener.position.x - (64.0 + 5.0 * mirror)).abs() < 1e-4, "{}", gardener.position);
    assert_eq!(gardener.velocity, vec2(10.0 * mirror, 0.0));
}

/// A mover that walks along a border, exactly on it or hardly beside it, meets the borders across its way where it should: one long tick
/// ends where many short ones do.
#[rstest]
fn along_a_border_the_borders_across_it_are_met(#[values(0, 1, -1, 9, -9)] steps_aside: i32) {
    let mut crossed = 0;
    for seed in 0..300 {
        let mut dice = Dice::new(seed);
        let kind = |speed: f32| {
            TileKind::floor("belt").with_surface(Surface::PLAIN.with_belt(vec2(0.0, speed)).unwrap())
        };
        let kinds = [TileKind::floor("path"), kind(dice.number(1.0, 15.0)), kind(dice.number(-15.0, -1.0))];
        let rows: Vec<Vec<usize>> = (0..12).map(|_| (0..6).map(|_| dice.pick(3)).collect()).collect();
        let map = TileGrid::from_indices(&rows, &kinds).unwrap().with_tile_size(TILE).unwrap();
        let border = TILE * (1 + dice.pick(5)) as f32;
        let aside = f32::from_bits((border.to_bits() as i32 + steps_aside) as u32);
        let start = vec2(aside, dice.number(30.0, 120.0));
        let gait = Gait::new(dice.number(30.0, 90.0), dice.number(100.0, 900.0), 400.0).unwrap();
        let walker = Walker::new(start, Footprint::rect(6.0, 4.0).unwrap(), gait);
        let intent = Intent::new(vec2(0.0, dice.number(-1.0, 1.0)));
        let (mut one, mut many, seconds) = (walker, walker, dice.number(0.1, 0.5));
        let _ = one.tick(intent, seconds, &map);
        for _ in 0..20 {
            let _ = many.tick(intent, seconds / 20.0, &map);
        }
        assert!(
            one.position.distance(many.position) < 1e-3,
            "seed {seed}: {} or {}",
            one.position,
            many.position
        );
        assert_eq!(one.position.x, aside, "seed {seed}");
        crossed += usize::from(borders_between(start, one.position, &map));
    }
    assert!(crossed > 60, "{crossed} crossed");
}

/// Two belts toward each other keep a cart between them, and take it along by as much of each as cancels the rest.
#[rstest]
fn between_belts_that_meet_a_mover_stays(
    #[values(7, 60, 1000)] rate: u16,
    #[values(-1.0, 1.0)] from: f32,
    #[values(0.0, 0.25)] walks: f32,
) {
    let belt =
        |x: f32, y: f32| TileKind::floor("belt").with_surface(Surface::PLAIN.with_belt(vec2(x, y)).unwrap());
    let legend = Legend::new().with('>', belt(30.0, 10.0)).with('<', belt(-10.0, 0.0));
    let rows = [">>>><<<<"; 8];
    let map = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(TILE).unwrap();
    let drive = Gait::new(20.0, 200.0, 200.0).unwrap();
    let mut cart = Walker::new(vec2(64.0 + 4.0 * from, 8.0), Footprint::rect(8.0, 6.0).unwrap(), drive);
    for _ in 0..rate {
        let _ = cart.tick(Intent::new(vec2(walks, 0.0)), 1.0 / f32::from(rate), &map);
    }
    assert!((cart.position.x - 64.0).abs() < 1e-3, "{}", cart.position);
    let before = cart.position;
    for _ in 0..rate {
        let _ = cart.tick(Intent::new(vec2(walks, 0.0)), 1.0 / f32::from(rate), &map);
    }
    // 30 p - 10 (1 - p) + 20 walks = 0: a quarter of the time on the left, or an eighth if it walks right at 5 units/s.
    let part = (10.0 - 20.0 * walks) / 40.0;
    assert!(cart.position.distance(before + vec2(0.0, 10.0 * part)) < 1e-3, "{} {before}", cart.position);
}

/// A belt under one half of a wide mover does nothing: the middle of the footprint decides.
#[rstest]
fn the_middle_of_the_footprint_decides(#[values(-0.01, 0.01)] aside: f32) {
    let belt = TileKind::floor("belt").with_surface(Surface::PLAIN.with_belt(vec2(0.0, 4.0)).unwrap());
    let legend = Legend::new().with('.', TileKind::floor("path")).with('v', belt);
    let map = TileGrid::from_rows(&[".v", ".v"], &legend).unwrap().with_tile_size(TILE).unwrap();
    // Its position is at its lower edge, its middle elsewhere.
    let feet = Footprint::rect(8.0, 4.0).unwrap().with_anchor(Anchor::TopLeft);
    let mut roller = Walker::new(vec2(12.0 + aside, 6.0), feet, Pace::new(10.0).unwrap());
    let _ = roller.tick(Intent::NONE, 1.0, &map);
    assert_eq!(roller.position.y, if aside < 0.0 { 6.0 } else { 10.0 });
    assert_eq!(roller.surface(&map).belt(), if aside < 0.0 { Vec2::ZERO } else { vec2(0.0, 4.0) });
}
