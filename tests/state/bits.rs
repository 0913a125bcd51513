//! The same bits after every way round.

use ambulant::direction::Angle;
use ambulant::drive::Pace;
use ambulant::prelude::*;
use ambulant::walker::{tick_all, tick_all_parallel};
use proptest::prelude::*;
use rstest::rstest;

use crate::world::World;

/// How far back a game rolls when a late key arrives.
const ROLLED_BACK: usize = 10;

properties! {
    24;

    #[test]
    fn a_world_saved_and_restored_at_any_tick_goes_on_as_if_nothing_was(
        seed in any::<u64>(),
        saves in prop::collection::btree_set(1u32..300, 1..8),
    ) {
        let (mut straight, mut restored) = (World::new(seed), World::new(seed));
        while straight.tick < 300 {
            straight.advance();
            restored.advance();
            if saves.contains(&restored.tick) {
                restored = postcard::from_bytes(&restored.bytes()).unwrap();
            }
        }
        prop_assert!(straight.bytes() == restored.bytes());
    }

    #[test]
    fn ten_ticks_taken_back_and_played_again_are_the_same(seed in any::<u64>(), from in 20u32..200) {
        let mut world = World::new(seed);
        let mut past: Vec<Vec<u8>> = Vec::new();
        while world.tick < from {
            past.push(world.bytes());
            world.advance();
        }
        let mut again: World = postcard::from_bytes(&past[past.len() - ROLLED_BACK]).unwrap();
        for _ in 0..ROLLED_BACK {
            again.advance();
        }
        prop_assert!(again.bytes() == world.bytes());
    }
}

#[rstest]
#[case(1)]
#[case(7)]
fn nothing_is_asked_of_the_memory_while_it_goes_on(#[case] seed: u64) {
    let mut world = World::new(seed);
    // The table of claims finds its size as soon as all have been under way at once.
    for _ in 0..300 {
        world.advance();
    }
    let asked = allocation_counter::measure(|| {
        for _ in 0..600 {
            world.advance();
        }
    });
    assert_eq!(asked.count_total, 0);
}

#[test]
fn all_cores_give_the_bits_of_one() {
    let rows: Vec<String> = (0..40)
        .map(|y| (0..40).map(|x| if (x * 7 + y * 13) % 11 == 0 { '#' } else { '.' }).collect())
        .collect();
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
    let map = TileGrid::from_rows(&rows, &legend).unwrap().with_tile_size(16.0).unwrap();
    let snail = Walker::new(
        vec2(24.0, 24.0),
        Footprint::rect(6.0, 6.0).unwrap(),
        Gait::new(60.0, 300.0, 400.0).unwrap(),
    );
    let (mut one, mut many) = (vec![snail; 3000], vec![snail; 3000]);
    let intent = |place: usize| Angle::from_radians(place as f32 * 0.01).vector();
    for _ in 0..60 {
        tick_all(&mut one, |place| Intent::new(intent(place)), 1.0 / 60.0, &map, |_, _| {});
        tick_all_parallel(&mut many, |place| Intent::new(intent(place)), 1.0 / 60.0, &map, |_, _| {});
    }
    assert_eq!(postcard::to_allocvec(&one).unwrap(), postcard::to_allocvec(&many).unwrap());
}

#[test]
fn vectors_of_other_crates_go_in_and_out() {
    let place = mint::Vector2 { x: 1.5f32, y: -2.0 };
    let snail = Walker::new(place.into(), Footprint::circle(1.0).unwrap(), Pace::new(1.0).unwrap());
    assert_eq!(mint::Vector2::from(snail.position), place);
}

/// What is handed from thread to thread, and stands in a game's own structs.
const fn shared<T: Send + Sync + Clone + std::fmt::Debug>() {}

#[test]
fn state_may_be_sent_shared_and_copied() {
    shared::<World>();
    shared::<ambulant::travel::MoveResult>();
    shared::<ambulant::InvalidNumber>();
}
