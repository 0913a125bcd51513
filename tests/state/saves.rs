//! What is saved, and what happens to a save that is wrong: an error that names the field, or a value that works.

use std::path::Path;

use ambulant::arcade::{Paddle, Projectile};
use ambulant::direction::Angle;
use ambulant::drive::{AnyDrive, Drag, Falling, Steering, Surface};
use ambulant::intent::{DirectionSnap, Directions, Flick, KeyLayout, PressOrder, Stick};
use ambulant::pose::{Lean, Sectors, Stance, WalkCycle};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Polygon};
use ambulant::steps::Portals;
use ambulant::terrain::KindId;
use ambulant::travel::Touching;
use ambulant::walker::AtWalls;
use proptest::prelude::*;
use rstest::rstest;
use serde::{Serialize, de::DeserializeOwned};
use serde_json::{Value, json};

use crate::world::World as Game;

/// A game that has been going on for a while.
fn game(seed: u64, ticks: u32) -> Game {
    let mut game = Game::new(seed);
    (0..ticks).for_each(|_| game.advance());
    game
}

/// Every number and text of a document, by its place.
fn leaves(value: &Value, at: &str, all: &mut Vec<String>) {
    match value {
        Value::Array(list) => {
            list.iter().enumerate().for_each(|(place, value)| leaves(value, &format!("{at}/{place}"), all));
        }
        Value::Object(fields) => {
            fields.iter().for_each(|(field, value)| leaves(value, &format!("{at}/{field}"), all));
        }
        _ => all.push(at.to_owned()),
    }
}

properties! {
    300;

    /// A full intent is restored, however its length was rounded.
    #[test]
    fn an_intent_in_any_direction_is_restored(full >= 250; angle in 0.0f32..6.3) {
        let intent = Intent::new(Vec2::from_angle(angle));
        full.when(intent.vector().length() > 1.0 - f32::EPSILON);
        let restored: Intent = serde_json::from_str(&serde_json::to_string(&intent).unwrap()).unwrap();
        prop_assert_eq!(restored, intent);
    }

    /// Text keeps every bit, too.
    #[test]
    fn a_game_saved_as_text_continues_bit_for_bit(seed in any::<u64>(), ticks in 0u32..40) {
        let mut straight = game(seed, ticks);
        let mut restored: Game = serde_json::from_str(&serde_json::to_string(&straight).unwrap()).unwrap();
        prop_assert!(restored == straight);
        for _ in 0..10 {
            straight.advance();
            restored.advance();
        }
        prop_assert!(restored.bytes() == straight.bytes());
    }

    /// A projectile can be restored at every tick, also when it has flown its range to the last bit.
    #[test]
    fn a_projectile_is_restored_at_any_tick(
        range in 0.1f32..3000.0, speed in 0.1f32..300.0, at in (1.0f32..20.0, -9.0f32..9.0), long in 0.5f32..2.0,
    ) {
        let feet = Footprint::circle(0.3).unwrap();
        let shot = Projectile::aimed(Vec2::ZERO, at.into(), speed, feet).unwrap().with_range(range).unwrap();
        let mut shot = shot.with_time(range / speed * long).unwrap();
        for _ in 0..200 {
            let ended = shot.tick(range / speed / 150.0, &World::new());
            let restored = postcard::from_bytes::<Projectile>(&postcard::to_allocvec(&shot).unwrap());
            prop_assert_eq!(restored, Ok(shot));
            prop_assert!(shot.range_left() >= 0.0 && shot.seconds_left() >= 0.0);
            if ended.is_some() {
                break;
            }
        }
    }

    /// Far away, a wall loses its last bits: a polygon its exact outline, a box even its width. It is restored all the same.
    #[test]
    fn a_wall_that_was_moved_anywhere_is_restored(
        kind in 0usize..4, size in 0.01f32..50.0, at in (-99.0f32..99.0, -99.0f32..99.0), turn in 0.0f32..6.3,
        corners in 3usize..=12, by in (-1e9f32..1e9, -1e9f32..1e9), power in -9.0f32..0.0,
    ) {
        let (at, ray) = (Vec2::from(at), Vec2::from_angle(turn));
        let corner = |place: usize| at + Vec2::from_angle(turn + place as f32 / corners as f32 * std::f32::consts::TAU) * size;
        let round: Vec<Vec2> = (0..corners).map(corner).collect();
        let solid = match kind {
            0 => Solid::box_around(at, vec2(size, 0.3 * size)),
            1 => Solid::circle(at, size),
            2 => Solid::segment(at, at + ray * size),
            _ => Ok(Polygon::new(&round).map(Solid::from).unwrap()),
        };
        let moved = solid.unwrap().moved(Vec2::from(by) * 10f32.powf(power));
        prop_assert_eq!(postcard::from_bytes::<Solid>(&postcard::to_allocvec(&moved).unwrap()), Ok(moved));
    }

    /// A wall that has moved for some ticks is restored with its exact place, also far away, and goes on like the original.
    /// What moves in the tick that is under way is not saved.
    #[test]
    fn a_wall_that_has_moved_goes_on_as_if_nothing_was(
        at in (-999.0f32..999.0, -999.0f32..999.0), velocity in (-1e3f32..1e3, -1e3f32..1e3), ticks in 1u8..40,
        kind in 0usize..3, in_text in any::<bool>(),
    ) {
        let (at, velocity, mut world) = (Vec2::from(at), Vec2::from(velocity), World::new());
        let solid = match kind {
            0 => Solid::box_around(at, vec2(3.0, 0.7)),
            1 => Solid::circle(at, 1.3),
            _ => Solid::segment(at, at + vec2(0.3, 2.0)),
        };
        let door = world.add(solid.unwrap());
        let go_on = |world: &mut World| {
            for _ in 0..ticks {
                assert!(world.move_at(door, velocity));
                world.advance(1.0 / 60.0);
            }
        };
        go_on(&mut world);
        let stands = world.clone();
        world.move_at(door, velocity);
        let mut again: World = if in_text {
            serde_json::from_str(&serde_json::to_string(&world).unwrap()).unwrap()
        } else {
            postcard::from_bytes(&postcard::to_allocvec(&world).unwrap()).unwrap()
        };
        prop_assert!(again == stands && again.state_hash() == stands.state_hash());
        let mut world = stands;
        go_on(&mut world);
        go_on(&mut again);
        prop_assert!(world == again, "{:?} and {:?}", world.solid(door), again.solid(door));
    }

    /// Bytes that were changed, cut off or made up: an error, or a game that can be played.
    #[test]
    fn no_bytes_make_a_restored_game_panic(
        restored >= 100;
        seed in any::<u64>(), changes in prop::collection::vec((any::<prop::sample::Index>(), any::<u8>()), 0..4),
        cut in prop::option::weighted(0.1, any::<prop::sample::Index>()),
    ) {
        let mut bytes = game(seed, 3).bytes();
        for (place, byte) in changes {
            let place = place.index(bytes.len());
            bytes[place] = byte;
        }
        bytes.truncate(cut.map_or(bytes.len(), |cut| cut.index(bytes.len())));
        if let Ok(mut game) = postcard::from_bytes::<Game>(&bytes) {
            restored.when(true);
            (0..5).for_each(|_| game.advance());
            let _ = game.bytes();
        }
    }

    /// One value of a document, replaced by a bad one.
    #[test]
    fn no_document_makes_a_restored_game_panic(
        restored >= 50, refused >= 130;
        seed in any::<u64>(), place in any::<prop::sample::Index>(),
        bad in prop::sample::select(vec![
            json!(-1), json!(0), json!(1), json!(7), json!(1e30), json!(-1e38), json!(u64::MAX), json!(4_294_967_295_u32),
            json!(i32::MIN), json!(null), json!("Left"), json!([]), json!({}), json!(true), json!(0.999), json!(1e-40),
        ]),
    ) {
        let mut document = serde_json::to_value(game(seed, 3)).unwrap();
        let mut all = Vec::new();
        leaves(&document, "", &mut all);
        *document.pointer_mut(&all[place.index(all.len())]).unwrap() = bad;
        let game = serde_json::from_value::<Game>(document);
        restored.when(game.is_ok());
        refused.when(game.is_err());
        if let Ok(mut game) = game {
            (0..5).for_each(|_| game.advance());
            let _ = game.bytes();
        }
    }
}

/// A value as it is saved, with one field changed: why it is refused.
fn refused<T: Serialize + DeserializeOwned + std::fmt::Debug>(value: &T, at: &str, bad: Value) -> String {
    let mut document = serde_json::to_value(value).unwrap();
    *document.pointer_mut(at).unwrap_or_else(|| panic!("there is no {at}")) = bad;
    serde_json::from_value::<T>(document).expect_err("it is refused").to_string()
}

fn a_map() -> TileGrid {
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    TileGrid::from_rows(&["..#", "..."], &legend).unwrap()
}

fn a_world() -> World {
    let mut world = World::new().with_map(a_map());
    let posts = [1.0, 5.0, 9.0].map(|x| world.add(Solid::circle(vec2(x, 4.0), 1.0).unwrap()));
    world.set_carries(posts[2], true);
    let raft = Aabb::from_corners(vec2(20.0, 0.0), vec2(24.0, 3.0));
    world.add_floor(raft, Surface::PLAIN.with_grip(0.5).unwrap()).unwrap();
    world.remove(posts[1]);
    world.set_wall_hits(posts[0], 3);
    world.set_tag(Wall::tile(ivec2(1, 1)), 7);
    world
}

fn a_gait() -> Gait {
    Gait::new(60.0, 400.0, 500.0).unwrap()
}

fn a_walker() -> Walker<AnyDrive> {
    let drive = AnyDrive::from(a_gait()).falling(vec2(0.0, 90.0), 40.0).unwrap();
    Walker::new(vec2(1.0, 2.0), Footprint::rect(2.0, 1.0).unwrap(), drive)
}

fn a_stepper() -> (Stepper, Claims) {
    let (map, mut claims) = (a_map(), Claims::new());
    let ground = StepGround::new(&map);
    let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0).unwrap(), &ground, &mut claims).unwrap();
    let _ = claims.put_thing(ivec2(2, 1), &ground).unwrap();
    let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &ground, &mut claims);
    (cart, claims)
}

fn some_portals() -> Portals {
    Portals::new(&a_map(), &[(ivec2(0, 0), ivec2(1, 0))]).unwrap()
}

fn a_polygon() -> Polygon {
    Polygon::new(&[vec2(0.0, 0.0), vec2(4.0, 0.0), vec2(0.0, 4.0)]).unwrap()
}

/// Each check refuses what it is for and names the field.
#[rstest]
#[case::version(refused(&a_world(), "/version", json!(2)), "version is 2, but this library restores version 1")]
#[case::mover_version(refused(&a_walker(), "/version", json!(0)), "version is 0, but this library restores version 1")]
#[case::map_size(refused(&a_map(), "/columns", json!(4)), "tiles must be as many as columns times rows")]
#[case::no_map(refused(&a_map(), "/rows", json!(0)), "columns and rows")]
#[case::huge_map(refused(&a_map(), "/columns", json!(i32::MAX)), "tiles must be as many")]
#[case::kind(refused(&a_map(), "/tiles/3", json!(2)), "tiles must name one of the kinds")]
#[case::tile_size(refused(&a_map(), "/tile_size/0", json!(-1.0)), "tile_width is -1")]
#[case::map_tag(refused(&a_world(), "/maps/0/tags/0/0", json!(99)), "tags must name tiles")]
#[case::map_id(refused(&a_world(), "/maps/0/id", json!(1)), "maps must have the ids")]
#[case::free_twice(refused(&a_world(), "/obstacles/free/0", json!(0)), "free must name")]
#[case::free_unknown(refused(&a_world(), "/obstacles/free/0", json!(77)), "free must name each slot at most once")]
#[case::not_free(refused(&a_world(), "/obstacles/free", json!([])), "free must name the slots without")]
#[case::radius(refused(&a_world(), "/obstacles/slots/0/standing/solid/Circle/radius", json!(0)), "radius is 0")]
#[case::floor(refused(&a_world(), "/floors/0/0/slot", json!(0)), "floors must be obstacles on no layer")]
#[case::y_axis(refused(&a_world(), "/obstacles/y_axis", json!("Up")), "y_axis must be the same")]
#[case::corners(refused(&a_polygon(), "/count", json!(13)), "count must be from 3 to 12")]
#[case::dent(refused(&a_polygon(), "/corners/1/0", json!(-4.0)), "corners must turn outward")]
#[case::gait(refused(&a_gait(), "/friction", json!(0)), "friction is 0")]
#[case::fall(refused(&Falling::new(a_gait(), Vec2::Y, 9.0).unwrap(), "/fall/toward/0", json!(3)), "toward must be")]
#[case::residue(refused(&a_walker(), "/rounding/residue/0", json!(0.5)), "residue must be a rounding error")]
#[case::footprint(refused(&a_walker(), "/footprint/size/1", json!(-1)), "size is (2, -1)")]
#[case::restitution(refused(&AtWalls::bounce(1.0, 0.0).unwrap(), "/Bounce/restitution", json!(-1)), "restitution is -1")]
#[case::portals(refused(&some_portals(), "/0/1/0", json!(0)), "the portal at [0, 0] has one end")]
#[case::fall_rate(refused(&Falling::new(a_gait(), Vec2::Y, 9.0).unwrap(), "/fall/rate", json!(-3)), "rate is -3")]
#[case::corner_help(refused(&a_walker(), "/along_walls/corner_help", json!(-1)), "corner_help is -1")]
#[case::surface(refused(&Surface::PLAIN, "/grip", json!(0)), "grip is 0")]
#[case::angle(refused(&Angle::ZERO, "", json!(4)), "an angle must be from -pi to pi")]
#[case::intent(refused(&Intent::NONE, "/0", json!(2)), "an intent must be a vector of length 0 to 1")]
#[case::snap(refused(&DirectionSnap::new(Directions::Four, 0.1).unwrap(), "/last", json!(9)), "last must be")]
#[case::order(refused(&PressOrder::default(), "/held/1", json!("Left")), "held must name each key once")]
#[case::stick(refused(&Stick::new(0.1, 1.0, 1.0).unwrap(), "/dead_zone", json!(2)), "dead_zone is 2")]
#[case::flick(refused(&Flick::new(1.0, 9.0, 1.0).unwrap(), "/gain", json!(0)), "gain is 0")]
#[case::layout(refused(&KeyLayout::new(Directions::Four, YAxis::Down), "/view_rotation", json!(1e300)), "radians is inf")]
#[case::stride(refused(&a_stepper().0, "/stride/lasts", json!(0)), "lasts must be finite and above 0")]
#[case::far_tile(refused(&a_stepper().0, "/tile/0", json!(i32::MAX)), "tile must be on a map")]
#[case::rules(refused(&a_stepper().0, "/rules/speed", json!(0)), "speed is 0")]
#[case::movers(refused(&a_stepper().1, "/movers", json!(0)), "tiles must be")]
#[case::things(refused(&a_stepper().1, "/things/0/0", json!(0)), "things must be where tiles say")]
#[case::ticks(refused(&Ticks::new(60.0).unwrap(), "/most", json!(0)), "most must be above 0")]
#[case::saved_ticks(refused(&Ticks::new(60.0).unwrap(), "/saved", json!(1e9)), "saved must be a part of a tick")]
#[case::paddle(refused(&Paddle::facing(Vec2::X, 1.0).unwrap(), "/away/1", json!(1)), "away is (1, 1)")]
#[case::lean(refused(&Lean::new(0.1, 0.1, 0.1).unwrap(), "/half_life", json!(0)), "half_life is 0")]
#[case::stance(refused(&Stance::new(2.0, 1.0, 1.0).unwrap(), "/stops_at", json!(3)), "stops_at is 3")]
#[case::cycle(refused(&WalkCycle::by_time(1.0, 4).unwrap(), "/phase", json!(2)), "phase must be from 0 to 1")]
#[case::sectors(refused(&Sectors::new(Directions::Four, ambulant::pose::DiagonalRule::Keep, 0.1).unwrap(), "/widths/3", json!(0)),
    "width is 0")]
#[case::area(refused(&PlayArea::new(Vec2::ZERO, Vec2::ONE).unwrap(), "/area/max/0", json!(0)), "width is 0")]
#[case::view(refused(&View::new(Vec2::ONE, 1.0).unwrap(), "/scale", json!(0)), "scale is 0")]
fn a_wrong_save_is_refused_by_name(#[case] message: String, #[case] part: &str) {
    assert!(message.contains(part), "{message}");
}

/// Equal to what was saved before, as text and as bytes, and saved as the file that is in the repository.
fn keeps<T: Serialize + DeserializeOwned + PartialEq + std::fmt::Debug>(name: &str, value: &T) {
    let text = serde_json::to_string_pretty(value).unwrap() + "\n";
    assert_eq!(serde_json::from_str::<T>(&text).unwrap(), *value);
    assert_eq!(postcard::from_bytes::<T>(&postcard::to_allocvec(value).unwrap()).unwrap(), *value);
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join(format!("tests/state/saves/{name}.json"));
    if std::env::var_os("AMBULANT_RENEW_DOCUMENTS").is_some() {
        std::fs::write(&file, &text).unwrap();
    }
    let known = std::fs::read_to_string(&file).unwrap();
    assert_eq!(serde_json::from_str::<T>(&known).unwrap(), *value, "the save in the repository");
    assert_eq!(known, text, "the format has changed: a save needs another version number");
}

/// Half a turn in `f32` is slightly more than half a turn, and still an angle.
#[rstest]
fn half_a_turn_is_restored(#[values(1.0, -1.0)] sign: f32) {
    let half = Angle::from_radians(sign * std::f32::consts::PI);
    assert_eq!(serde_json::from_value::<Angle>(json!(half)).unwrap(), half);
}

#[test]
fn each_kind_is_saved_as_it_was_in_the_repository() {
    keeps("world", &a_world());
    keeps("map", &a_map());
    keeps("walker", &a_walker());
    let (stepper, claims) = a_stepper();
    keeps("stepper", &stepper);
    keeps("claims", &claims);
    let helm = Helm::new(2.0, 40.0, Drag::half_life(0.5).unwrap(), Steering::Toward).unwrap().on_rails();
    keeps("helm", &helm);
    let feet = Footprint::circle(1.0).unwrap();
    keeps("ball", &Ball::new(vec2(1.0, 2.0), vec2(3.0, 4.0), feet));
    keeps("projectile", &Projectile::aimed(Vec2::ZERO, Vec2::X, 5.0, feet).unwrap());
    keeps("paddle", &Paddle::facing(Vec2::X, 1.0).unwrap());
    keeps("ticks", &Ticks::new(60.0).unwrap());
    let pose = Pose::four_way(8.0, 4).unwrap();
    let mut gardener =
        Character::new(Walker::new(vec2(1.5, 0.5), Footprint::rect(0.5, 0.5).unwrap(), a_gait()), pose);
    let _ = gardener.tick(Intent::new(vec2(1.0, 0.0)), 0.5, &a_map(), |_| {});
    assert!(!gardener.touching.is_empty());
    keeps("character", &gardener);
    keeps("touching", &Touching::default());
}

/// Where the walls of a restored touch lie is not known, so no tile is too far away to be compared.
#[rstest]
#[case(i32::MIN, i32::MAX)]
#[case(i32::MAX, i32::MIN)]
fn a_touch_of_a_tile_at_the_end_of_the_numbers_is_compared(#[case] column: i32, #[case] row: i32) {
    let known =
        json!({ "wall": { "Tile": [0, [column, row]] }, "side": "Left", "normal": [-1.0, 0.0], "tag": 0 });
    let mut touching: Touching = serde_json::from_value(json!({ "known": [known] })).unwrap();
    let mut gardener = Walker::new(vec2(1.5, 0.5), Footprint::rect(0.5, 0.5).unwrap(), a_gait());
    let mut phases = Vec::new();
    let right = Intent::new(vec2(1.0, 0.0));
    let _ = gardener.tick_tracking(right, 0.5, &a_map(), &mut touching, |change| phases.push(change.phase));
    assert_eq!(phases.len(), 2, "one ended, one started: {phases:?}");
}

/// Equal states have equal hashes, also restored ones; every value that is saved counts.
#[test]
fn a_state_hash_is_that_of_the_saved_bits() {
    let mut world = a_world();
    let restored: World = serde_json::from_str(&serde_json::to_string(&world).unwrap()).unwrap();
    assert_eq!(world.state_hash(), restored.state_hash());
    // The same obstacles, put there in another way: the cells differ, the state does not.
    let mut other = a_world();
    let post = other.walls().next().unwrap().0;
    let place = *other.solid(post).unwrap();
    other.place(post, place.moved(vec2(500.0, 0.0)));
    assert_ne!(other.state_hash(), world.state_hash());
    other.place(post, place);
    assert_eq!(other.state_hash(), world.state_hash());
    let mut hashes = vec![world.state_hash()];
    world.set_tag(post, 9);
    hashes.push(world.state_hash());
    let kind = world.map().unwrap().kind_named("bed").unwrap();
    world.map_mut().unwrap().set(ivec2(0, 0), kind).unwrap();
    hashes.extend([world.state_hash(), world.map().unwrap().state_hash()]);
    let mut walker = a_walker();
    hashes.push(walker.state_hash());
    walker.velocity.x = -0.0;
    let (stepper, claims) = a_stepper();
    hashes.extend([walker.state_hash(), stepper.state_hash(), claims.state_hash()]);
    let count = hashes.len();
    hashes.sort_unstable();
    hashes.dedup();
    assert_eq!(hashes.len(), count, "each change counts");
}

/// Ten ticks kept for a rollback: for each the list of movers and the list of maps, whatever is in a map.
#[test]
fn a_copy_of_a_world_copies_no_tiles() {
    let row = "..........".repeat(51);
    let legend = Legend::new().with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&vec![row.as_str(); 512], &legend).unwrap();
    let mut world = World::new().with_map(map);
    for place in 0..1000 {
        world.add(Solid::circle(vec2(place as f32, 4.0), 1.0).unwrap());
    }
    let movers = vec![a_walker(); 1000];
    let kept = allocation_counter::measure(|| {
        let past: Vec<_> = (0..10).map(|_| (world.clone(), movers.clone())).collect();
        assert_eq!(past.len(), 10);
    });
    let each = 1000 * size_of::<Walker<AnyDrive>>() + size_of::<TileGrid>();
    let lists = 10 * size_of::<(World, Vec<Walker<AnyDrive>>)>();
    assert_eq!((kept.count_total, kept.bytes_total), (21, (10 * each + lists) as u64));
}

/// A copy of a world shares its tiles and obstacles until one of them changes.
#[test]
fn a_changed_copy_leaves_the_original_alone() {
    let world = a_world();
    let mut copy = world.clone();
    let kind: KindId = copy.map().unwrap().kind_named("bed").unwrap();
    copy.map_mut().unwrap().set(ivec2(0, 0), kind).unwrap();
    let post = copy.walls().next().unwrap().0;
    copy.remove(post);
    assert!(world.map().unwrap().kind(ivec2(0, 0)).unwrap().name() == "path" && world.solid(post).is_some());
    assert!(copy.map().unwrap().blocks(ivec2(0, 0)) && copy.solid(post).is_none() && copy != world);
}
