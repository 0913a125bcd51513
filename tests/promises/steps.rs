//! Stepping tile by tile: whole strides, exact times, no tile shared, no press lost.

use ambulant::direction::{Facing, Side};
use ambulant::prelude::*;
use ambulant::steps::{
    BlockedBy, Cancel, Claims, CornerRule, Diagonals, Easing, GridEdge, MoverId, Portals, StepError,
    StepGround, StepInput, StepMode, StepRules, Stepper, StrideEvent, TimedStep, tick_together,
};
use ambulant::terrain::Layers;
use proptest::prelude::*;
use rstest::rstest;

fn to(x: f32, y: f32) -> Intent {
    Intent::new(vec2(x, y))
}

fn grid(rows: &[impl AsRef<str>]) -> TileGrid {
    let legend = crate::scene::legend()
        .with('^', TileKind::floor("ledge").closed_from(Side::Top))
        .with('n', TileKind::wall("gate").with_layers(Layers::bit(1)));
    TileGrid::from_rows(rows, &legend).unwrap().with_tile_size(16.0).unwrap()
}

fn rules(speed: f32, mode: StepMode) -> StepRules {
    StepRules::new(speed).unwrap().with_mode(mode)
}

/// A key script: for each mover, what is held from which sixth of a second on.
type Script = Vec<Vec<(u32, u8)>>;

fn held(script: &[(u32, u8)], sixth: u32) -> Intent {
    let now = script.iter().rev().find(|(at, _)| *at <= sixth).map_or(0, |(_, key)| *key);
    [Intent::NONE, to(1.0, 0.0), to(-1.0, 0.0), to(0.0, 1.0), to(0.0, -1.0)][usize::from(now)]
}

/// Plays a script with ticks of these lengths over and over, divided where keys change, and returns all that
/// happened; checks at each tick that nobody shares a tile and everybody is on a centre or between two.
fn play(map: &TileGrid, start: &[IVec2], all: &[StepRules], script: &Script, ticks: &[f64]) -> Vec<String> {
    let (ground, mut claims) = (StepGround::new(map), Claims::new());
    let mut movers: Vec<Stepper> = Vec::new();
    for (tile, rules) in start.iter().zip(all) {
        movers.extend(Stepper::on(*tile, *rules, &ground, &mut claims).ok());
    }
    let ids: Vec<MoverId> = movers.iter().map(Stepper::id).collect();
    let mut told = Vec::new();
    let (mut now, mut number) = (0.0f64, 0usize);
    while now < 4.0 - 1e-9 {
        let sixth = (now * 6.0 + 1e-6).floor();
        let next = (now + ticks[number % ticks.len()]).min((sixth + 1.0) / 6.0);
        number += 1;
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "small counts and times")]
        let (sixth, dt) = (sixth as u32, (next - now) as f32);
        let wish = |id: MoverId| {
            let place = ids.iter().position(|known| *known == id).unwrap();
            StepInput::from(held(&script[place], sixth))
        };
        tick_together(&mut movers, wish, dt, &ground, &mut claims, |id, event| {
            told.push(format!("{id} {}", event.what));
        });
        now = next;
        check_places(map, &movers);
    }
    told
}

fn check_places(map: &TileGrid, movers: &[Stepper]) {
    for (place, mover) in movers.iter().enumerate() {
        let at = mover.position(map);
        let (from, end) = (mover.tile(), mover.stride_to().unwrap_or(mover.tile()));
        assert!(!map.blocks(from) && !map.blocks(end));
        let (a, b) = (map.center_of(from), map.center_of(end));
        assert!((at - a).perp_dot(b - a).abs() < 1e-2 && (at - a).dot(b - a) >= 0.0, "{at} {from} {end}");
        assert!(mover.stride_to().is_some() || at == a);
        for other in &movers[place + 1..] {
            assert!(
                mover.tile() != other.tile() || other.stride_to().is_some() || mover.stride_to().is_some()
            );
            assert_ne!(end, other.stride_to().unwrap_or(other.tile()), "two on one tile");
            assert!(at.distance(other.position(map)) > 7.9, "{at} {}", other.position(map));
        }
    }
}

fn any_manner() -> impl Strategy<Value = StepMode> {
    prop_oneof![
        Just(StepMode::Tap),
        Just(StepMode::HOLD),
        (0.0f32..0.5, 0.0f32..0.3).prop_map(|(delay, pause)| StepMode::Hold { delay, pause }),
        Just(StepMode::RunOn),
    ]
}

properties! {
    300;

    #[test]
    fn the_tiles_are_the_same_at_any_tick_length_and_never_shared(
        entered >= 820;
        map in crate::scene::random_map(),
        starts in prop::collection::vec((0i32..12, 0i32..12), 3),
        movers in prop::collection::vec((1.0f32..9.0, any_manner(), 0.0f32..0.6), 3),
        script in prop::collection::vec(prop::collection::vec((0u32..24, 0u8..5), 0..8), 3),
        uneven in prop::collection::vec(0.001f64..0.2, 1..6),
    ) {
        let map = map.with_tile_size(16.0).unwrap();
        let script: Script = script.into_iter().map(|mut keys| { keys.sort(); keys }).collect();
        let starts: Vec<IVec2> = starts.into_iter().map(|(x, y)| ivec2(x, y) % map.size()).collect();
        let rules: Vec<StepRules> = movers
            .into_iter()
            .map(|(speed, mode, memory)| rules(speed, mode).with_input_buffer(memory).unwrap())
            .collect();
        let first = play(&map, &starts, &rules, &script, &[1.0 / 60.0]);
        entered.add(first.iter().filter(|what| what.contains("entered")).count());
        for ticks in [&[1.0 / 30.0][..], &[1.0 / 144.0], &[1.0 / 240.0], &uneven] {
            prop_assert_eq!(&play(&map, &starts, &rules, &script, ticks), &first, "{:?}", ticks);
        }
    }

    #[test]
    fn holding_completes_every_stride_that_fits(
        several >= 190;
        speed in 0.5f32..60.0, pause in prop::sample::select(vec![0.0f32, 0.05, 0.25]),
        ticks in prop::collection::vec(0.0005f32..0.3, 1..7), total in 1u32..400,
    ) {
        let map = grid(&["................"]);
        let ground = StepGround { edge: GridEdge::Wrap, ..StepGround::new(&map) };
        let mut claims = Claims::new();
        let mode = StepMode::Hold { delay: 0.0, pause };
        let mut mover = Stepper::on(ivec2(0, 0), rules(speed, mode), &ground, &mut claims).unwrap();
        let (mut entered, mut seconds) = (0, 0.0f64);
        for number in 0..total {
            let dt = ticks[number as usize % ticks.len()];
            seconds += f64::from(dt);
            let happened = mover.tick(to(1.0, 0.0), dt, &ground, &mut claims);
            // More may happen in a long tick than is recorded; the tiles tell.
            entered += happened.iter().filter(|event| matches!(event.what, StrideEvent::Entered { .. })).count();
            prop_assume!(happened.len() <= ambulant::steps::MAX_EVENTS);
        }
        several.when(entered > 3);
        let beat = 1.0 / f64::from(speed) + f64::from(pause);
        // The last pause need not be over for its stride to count.
        let strides = (seconds + f64::from(pause)) / beat;
        prop_assume!((strides - strides.round()).abs() > 1e-4);
        prop_assert_eq!(entered as f64, strides.floor());
    }

    #[test]
    fn the_order_of_the_list_does_not_show(
        strides >= 1300, blocked >= 140;
        starts in prop::collection::vec((0i32..6, 0i32..6), 2..7), keys in prop::collection::vec(0u8..5, 7),
        turn in 1usize..6, speeds in prop::collection::vec(prop::sample::select(vec![2.0f32, 3.0, 4.0]), 7),
    ) {
        let map = grid(&["......"; 6]);
        let ground = StepGround::new(&map);
        let mut claims = Claims::new();
        let mut movers: Vec<Stepper> = Vec::new();
        for (place, (x, y)) in starts.iter().enumerate() {
            let rules = rules(speeds[place], StepMode::HOLD);
            movers.extend(Stepper::on(ivec2(*x, *y), rules, &ground, &mut claims).ok());
        }
        let ids: Vec<MoverId> = movers.iter().map(Stepper::id).collect();
        let wish = |id: MoverId| {
            let place = ids.iter().position(|known| *known == id).unwrap();
            StepInput::from(held(&[(0, keys[place])], 0))
        };
        let mut turned = movers.clone();
        turned.rotate_left(turn % movers.len());
        let mut other_claims = claims.clone();
        for _ in 0..40 {
            tick_together(&mut movers, wish, 0.07, &ground, &mut claims, |_, event| {
                strides.when(matches!(event.what, StrideEvent::Entered { .. }));
                blocked.when(matches!(event.what, StrideEvent::Blocked { by: BlockedBy::Mover(_), .. }));
            });
            tick_together(&mut turned, wish, 0.07, &ground, &mut other_claims, |_, _| {});
        }
        turned.sort_by_key(Stepper::id);
        prop_assert_eq!(movers, turned);
        prop_assert_eq!(claims, other_claims);
    }
}

properties! {
    300;

    #[test]
    fn alone_it_does_the_same_by_itself_and_in_a_list(
        strides >= 4300;
        map in crate::scene::random_map(), start in (0i32..12, 0i32..12), mode in any_manner(),
        speed in 0.5f32..40.0, memory in 0.0f32..0.6, eight in any::<bool>(), wrap in any::<bool>(),
        script in prop::collection::vec((0u8..9, 0u8..9, 0.001f32..0.4), 1..60),
    ) {
        let edge = if wrap { GridEdge::Wrap } else { GridEdge::Block };
        let ground = StepGround { edge, ..StepGround::new(&map) };
        let rules = rules(speed, mode).with_input_buffer(memory).unwrap();
        let diagonals = Diagonals::On { corners: CornerRule::OneFree, lasts: 1.414 };
        let rules = if eight { rules.with_diagonals(diagonals).unwrap() } else { rules };
        let mut claims = [Claims::new(), Claims::new()];
        let start = ivec2(start.0, start.1) % map.size();
        let Ok(mut one) = Stepper::on(start, rules, &ground, &mut claims[0]) else { return Ok(()) };
        let mut listed = [Stepper::on(start, rules, &ground, &mut claims[1]).unwrap()];
        let way = |key: u8| if key == 8 { Intent::NONE } else { Intent::new(Vec2::from_angle(f32::from(key) * core::f32::consts::FRAC_PI_4)) };
        for (held, tapped, dt) in script {
            let wish = StepInput { held: way(held), tapped: way(tapped) };
            let mut told = [Vec::new(), Vec::new()];
            one.tick_with(wish, dt, &ground, &mut claims[0], |event| told[0].push(event));
            tick_together(&mut listed, |_| wish, dt, &ground, &mut claims[1], |_, event| told[1].push(event));
            strides.add(told[0].iter().filter(|event| matches!(event.what, StrideEvent::Entered { .. })).count());
            // The same but for the last bit of a sum of times.
            let what = |told: &[TimedStep]| told.iter().map(|event| event.what).collect::<Vec<_>>();
            prop_assert_eq!(what(&told[0]), what(&told[1]));
            prop_assert!(told[0].iter().zip(&told[1]).all(|(one, other)| (one.at - other.at).abs() < 1e-6));
            let seen = |mover: &Stepper| (mover.tile(), mover.stride_to(), mover.facing(), mover.remembered());
            prop_assert_eq!(seen(&one), seen(&listed[0]));
            prop_assert!(one.position(&map).distance(listed[0].position(&map)) < 1e-4);
        }
    }

    #[test]
    fn lists_of_movers_on_one_ground_keep_to_tiles_of_their_own(
        strides >= 2000, blocked >= 630;
        starts in prop::collection::vec((0i32..7, 0i32..7), 4..14), lists in 2usize..4,
        keys in prop::collection::vec(prop::collection::vec(0u8..5, 14), 1..12), speed in 1.0f32..9.0,
    ) {
        let map = grid(&["......."; 7]);
        let (ground, mut claims) = (StepGround::new(&map), Claims::new());
        // Dealt out like cards, the highest number first: no list has all, nor any in the order of their numbers.
        let mut all: Vec<Vec<Stepper>> = vec![Vec::new(); lists];
        for (place, (x, y)) in starts.iter().enumerate() {
            let rules = rules(speed * [1.0, 0.7][place % 2], StepMode::HOLD);
            if let Ok(mover) = Stepper::on(ivec2(*x, *y), rules, &ground, &mut claims) {
                all[place % lists].insert(0, mover);
            }
        }
        for keys in keys {
            for list in &mut all {
                let wish = |id: MoverId| held(&[(0, keys[id.number() as usize])], 0).into();
                tick_together(list, wish, 0.09, &ground, &mut claims, |_, event| {
                    strides.when(matches!(event.what, StrideEvent::Entered { .. }));
                    blocked.when(matches!(event.what, StrideEvent::Blocked { by: BlockedBy::Mover(_), .. }));
                });
            }
            // Those that are called first decide first, so ways may cross; tiles may not.
            let mut ends: Vec<IVec2> =
                all.iter().flatten().map(|mover| mover.stride_to().unwrap_or(mover.tile())).collect();
            let count = ends.len();
            ends.sort_unstable_by_key(|tile| (tile.y, tile.x));
            ends.dedup();
            prop_assert_eq!(ends.len(), count, "two on one tile");
        }
    }
}

#[rstest]
fn after_a_million_ticks_it_stands_on_the_grid_to_the_last_bit(#[values(3.7, 11.0)] speed: f32) {
    let map = grid(&["......", ".####.", "......"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut mover = Stepper::on(ivec2(0, 0), rules(speed, StepMode::RunOn), &ground, &mut claims).unwrap();
    let ways = [to(1.0, 0.0), to(0.0, 1.0), to(-1.0, 0.0), to(0.0, -1.0)];
    let mut entered = 0u64;
    for tick in 0..1_000_000usize {
        let dt = [0.016, 0.004, 0.033][tick % 3];
        let happened = mover.tick(ways[tick / 97 % 4], dt, &ground, &mut claims);
        entered +=
            happened.iter().filter(|event| matches!(event.what, StrideEvent::Entered { .. })).count() as u64;
    }
    let _ = mover.tick(Intent::NONE, 10.0, &ground, &mut claims);
    assert!(entered > 10_000);
    assert_eq!(
        mover.position(&map).to_array().map(f32::to_bits),
        map.center_of(mover.tile()).to_array().map(f32::to_bits)
    );
}

/// What a mover does in a strip of tiles, told as the tiles it entered.
fn entered(
    mover: &mut Stepper,
    wishes: &[(StepInput, f32)],
    ground: &StepGround<'_>,
    claims: &mut Claims,
) -> Vec<IVec2> {
    let mut tiles = Vec::new();
    for (wish, dt) in wishes {
        for event in mover.tick(*wish, *dt, ground, claims).iter() {
            if let StrideEvent::Entered { tile } = event.what {
                tiles.push(tile);
            }
        }
    }
    tiles
}

const NOTHING: StepInput = StepInput { held: Intent::NONE, tapped: Intent::NONE };

#[rstest]
#[case::tap(StepMode::Tap)]
#[case::hold(StepMode::HOLD)]
fn a_tap_shorter_than_a_tick_gives_its_step(#[case] mode: StepMode) {
    let map = grid(&["....."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut mover = Stepper::on(ivec2(0, 0), rules(4.0, mode), &ground, &mut claims).unwrap();
    let tap = StepInput { held: Intent::NONE, tapped: to(1.0, 0.0) };
    assert_eq!(entered(&mut mover, &[(tap, 0.1), (NOTHING, 1.0)], &ground, &mut claims), [ivec2(1, 0)]);
}

#[rstest]
#[case::within(0.3, &[(1, 0), (1, 1)])]
#[case::too_early(0.1, &[(1, 0)])]
fn a_press_in_the_middle_of_a_stride_is_kept_for_its_time(#[case] memory: f32, #[case] tiles: &[(i32, i32)]) {
    let map = grid(&["....", "...."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = rules(2.0, StepMode::HOLD).with_input_buffer(memory).unwrap();
    let mut mover = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
    // Half a second to the right; down is pressed and released a quarter of a second before its end.
    let press = StepInput { held: Intent::NONE, tapped: to(0.0, 1.0) };
    let wishes = [(to(1.0, 0.0).into(), 0.25), (press, 0.01), (NOTHING, 2.0)];
    let wanted: Vec<IVec2> = tiles.iter().map(|(x, y)| ivec2(*x, *y)).collect();
    assert_eq!(entered(&mut mover, &wishes, &ground, &mut claims), wanted);
}

#[rstest]
#[case::short(0.05, 30)]
#[case::longer(0.1, 15)]
#[case::long(0.5, 3)]
fn a_press_into_a_wall_takes_no_time_from_the_key_that_is_held(#[case] dt: f32, #[case] ticks: usize) {
    let map = grid(&["########", "........"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut mover = Stepper::on(ivec2(0, 1), rules(4.0, StepMode::HOLD), &ground, &mut claims).unwrap();
    let right = to(1.0, 0.0);
    let press = StepInput { held: right, tapped: to(0.0, -1.0) };
    let mut wishes = vec![(press, dt)];
    wishes.resize(ticks, (right.into(), dt));
    assert_eq!(entered(&mut mover, &wishes, &ground, &mut claims).len(), 6);
}

#[rstest]
#[case::a_short_press(0.1, 1)]
#[case::just_before_the_delay(0.39, 1)]
#[case::after_the_delay(0.45, 2)]
#[case::long(1.55, 5)]
fn holding_goes_on_after_the_delay(#[case] seconds: f32, #[case] tiles: usize) {
    let map = grid(&["........"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mode = StepMode::Hold { delay: 0.4, pause: 0.05 };
    let mut mover = Stepper::on(ivec2(0, 0), rules(4.0, mode), &ground, &mut claims).unwrap();
    let wishes = [(to(1.0, 0.0).into(), seconds), (NOTHING, 2.0)];
    assert_eq!(entered(&mut mover, &wishes, &ground, &mut claims).len(), tiles);
}

/// Between two steps, a stepper that pauses stands from its landing on.
#[rstest]
fn a_stepper_that_pauses_rests_when_it_lands(#[values(1, 7, 60)] parts: u16) {
    let map = grid(&["......"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mode = StepMode::Hold { delay: 0.0, pause: 0.5 };
    let mut mover = Stepper::on(ivec2(0, 0), rules(4.0, mode), &ground, &mut claims).unwrap();
    let (mut rests, mut starts, dt) = (Vec::new(), Vec::new(), 1.2 / f32::from(parts));
    for part in 0..parts {
        for event in mover.tick(to(1.0, 0.0), dt, &ground, &mut claims).iter() {
            let at = f32::from(part) * dt + event.at;
            match event.what {
                StrideEvent::Rested { .. } => rests.push((at * 1000.0).round()),
                StrideEvent::Left { .. } => starts.push((at * 1000.0).round()),
                _ => {}
            }
        }
    }
    // A step takes a quarter of a second.
    assert_eq!((rests, starts), (vec![250.0, 1000.0], vec![0.0, 750.0]));
}

#[test]
fn running_on_takes_an_early_turn_at_the_junction_and_tells_what_is_in_the_way() {
    let map = grid(&["......", "###.##", "###.##"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = rules(4.0, StepMode::RunOn).with_input_buffer(0.5).unwrap();
    let mut cart = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
    let mut told = Vec::new();
    // Right is pressed and let go; down is asked for a tile and a half before the junction.
    for (wish, dt) in [(to(1.0, 0.0), 0.1), (Intent::NONE, 0.3), (to(0.0, 1.0), 0.05), (Intent::NONE, 1.5)] {
        told.extend(cart.tick(wish, dt, &ground, &mut claims).iter().map(|event| event.what.to_string()));
    }
    assert_eq!(cart.tile(), ivec2(3, 2));
    assert!(told.contains(&"down is blocked by tile 2,1".to_owned()), "{told:?}");
    assert_eq!(told.iter().filter(|what| what.starts_with("down is blocked by tile")).count(), 1);
    assert_eq!(told[told.len() - 2..], ["down is blocked by the map's edge", "came to rest on tile 3,2"]);
}

#[rstest]
#[case::free(&["..."], (0, 0), Facing::Right, None)]
#[case::wall(&[".#."], (0, 0), Facing::Right, Some(BlockedBy::Tile(ivec2(1, 0))))]
#[case::edge(&["..."], (0, 0), Facing::Left, Some(BlockedBy::Edge))]
#[case::onto_a_ledge(&[".", "^"], (0, 0), Facing::Down, Some(BlockedBy::ClosedSide { tile: ivec2(0, 1), side: Side::Top }))]
#[case::up_through_a_ledge(&[".", "^", "."], (0, 2), Facing::Up, None)]
#[case::gate_for_carts_only(&[".n."], (0, 0), Facing::Right, Some(BlockedBy::Tile(ivec2(1, 0))))]
#[case::cut_both(&[".#", "#."], (0, 0), Facing::DownRight, Some(BlockedBy::Corner(ivec2(1, 0))))]
#[case::cut_one(&["..", "#."], (0, 0), Facing::DownRight, Some(BlockedBy::Corner(ivec2(0, 1))))]
fn it_looks_before_it_steps(
    #[case] rows: &[&str],
    #[case] start: (i32, i32),
    #[case] way: Facing,
    #[case] by: Option<BlockedBy>,
) {
    let map = grid(rows);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let eight = Diagonals::On { corners: CornerRule::NeverCut, lasts: 1.0 };
    let rules = rules(4.0, StepMode::Tap).with_diagonals(eight).unwrap();
    let mut mover = Stepper::on(start.into(), rules, &ground, &mut claims).unwrap();
    let step = way.step().as_vec2();
    let told = mover.tick(Intent::new(step), 1.0, &ground, &mut claims);
    let blocked = told.iter().find_map(|event| match event.what {
        StrideEvent::Blocked { by, .. } => Some(by),
        _ => None,
    });
    assert_eq!(blocked, by);
    assert_eq!(mover.tile() - IVec2::from(start), if by.is_none() { way.step() } else { IVec2::ZERO });
}

#[rstest]
#[case::never(CornerRule::NeverCut, [false, false])]
#[case::one(CornerRule::OneFree, [true, false])]
#[case::always(CornerRule::AlwaysCut, [true, true])]
fn diagonal_steps_cut_corners_by_rule_and_last_as_stated(
    #[case] corners: CornerRule,
    #[case] goes: [bool; 2],
) {
    for (rows, goes) in [["..", "#."], [".#", "#."]].iter().zip(goes) {
        let map = grid(rows);
        let (ground, mut claims) = (StepGround::new(&map), Claims::new());
        let eight = Diagonals::On { corners, lasts: 1.5 };
        let rules = rules(4.0, StepMode::Tap).with_diagonals(eight).unwrap();
        let mut mover = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
        let happened = mover.tick(to(1.0, 1.0), 1.0, &ground, &mut claims);
        let landed = happened.iter().find(|event| matches!(event.what, StrideEvent::Entered { .. }));
        assert_eq!(landed.map(|event| event.at), goes.then_some(0.375), "{rows:?}");
    }
}

#[test]
fn a_portal_keeps_the_direction_and_a_blocked_exit_blocks_it() {
    let map = grid(&["......"]);
    let portals = Portals::new(&map, &[(ivec2(0, 0), ivec2(5, 0))]).unwrap();
    let ground = StepGround { portals: &portals, ..StepGround::new(&map) };
    let mut claims = Claims::new();
    let run = rules(4.0, StepMode::RunOn);
    let mut cart = Stepper::on(ivec2(2, 0), run, &ground, &mut claims).unwrap();
    let left = [(to(-1.0, 0.0).into(), 1.0)];
    let tiles = entered(&mut cart, &left, &ground, &mut claims);
    // Into the left end, and on from the right one in the same beat.
    assert_eq!(tiles, [ivec2(1, 0), ivec2(0, 0), ivec2(4, 0), ivec2(3, 0)]);

    let mut other = Stepper::on(ivec2(1, 0), run, &ground, &mut claims).unwrap();
    let _ = Stepper::on(ivec2(5, 0), run, &ground, &mut claims).unwrap();
    let told = other.tick(to(-1.0, 0.0), 0.1, &ground, &mut claims);
    let by = BlockedBy::Mover(claims.mover_at(ivec2(5, 0)).unwrap());
    assert_eq!(told.iter().next().unwrap().what, StrideEvent::Blocked { direction: Facing::Left, by });
}

#[rstest]
#[case::into_the_open(&["....."], (3, 0), (2, 0))]
#[case::against_a_wall(&["..#.."], (1, 0), (0, 0))]
fn a_thing_is_pushed_one_tile_ahead_if_there_is_room(
    #[case] rows: &[&str],
    #[case] thing: (i32, i32),
    #[case] mover: (i32, i32),
) {
    let map = grid(rows);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let crate_ = claims.put_thing(ivec2(1, 0), &ground).unwrap();
    let pusher = rules(4.0, StepMode::HOLD).pushing();
    let mut gardener = Stepper::on(ivec2(0, 0), pusher, &ground, &mut claims).unwrap();
    let _ = gardener.tick(to(1.0, 0.0), 0.375, &ground, &mut claims);
    if let Some((id, short)) = gardener.pushing(&map) {
        assert_eq!((id, short), (crate_, vec2(-8.0, 0.0))); // half of the second stride is left
    }
    let _ = gardener.tick(NOTHING, 1.0, &ground, &mut claims);
    assert_eq!((claims.thing(crate_), gardener.tile()), (Some(thing.into()), mover.into()));
}

/// A thing is not pushed onto a tile where something stands or comes, nor into a portal.
#[rstest]
fn a_thing_is_not_pushed_onto_what_is_taken(#[values("thing", "mover", "coming", "portal")] taken: &str) {
    let map = grid(&["....", "...."]);
    let portals = Portals::new(&map, &[(ivec2(2, 0), ivec2(0, 1))]).unwrap();
    let free = StepGround::new(&map);
    let ground = if taken == "portal" { StepGround { portals: &portals, ..free } } else { free };
    let mut claims = Claims::new();
    let pushed = claims.put_thing(ivec2(1, 0), &ground).unwrap();
    let pusher = rules(4.0, StepMode::HOLD).pushing();
    let mut gardener = Stepper::on(ivec2(0, 0), pusher, &ground, &mut claims).unwrap();
    if taken == "thing" {
        let _ = claims.put_thing(ivec2(2, 0), &ground).unwrap();
    } else if taken != "portal" {
        let at = if taken == "mover" { ivec2(2, 0) } else { ivec2(2, 1) };
        let slow = rules(0.5, StepMode::Tap);
        let mut cart = Stepper::on(at, slow, &ground, &mut claims).unwrap();
        if taken == "coming" {
            let _ = cart.tick(to(0.0, -1.0), 0.1, &ground, &mut claims);
        }
    }
    let _ = gardener.tick(to(1.0, 0.0), 0.5, &ground, &mut claims);
    assert_eq!((claims.thing(pushed), gardener.tile()), (Some(ivec2(1, 0)), ivec2(0, 0)));
    assert_eq!(gardener.stride_to(), None);
}

/// A stepper that waits to push a thing starts when the tile behind it is free, within a tick as at its end.
#[rstest]
fn a_push_begins_when_the_tile_behind_is_free(#[values(1, 7, 300)] ticks: u16) {
    let map = grid(&["......"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let pushed = claims.put_thing(ivec2(1, 0), &ground).unwrap();
    let all = [rules(4.0, StepMode::HOLD).pushing(), rules(1.0, StepMode::HOLD)];
    let mut carts = [0, 2].map(|x| {
        let rules = all[usize::from(x > 0)];
        Stepper::on(ivec2(x, 0), rules, &ground, &mut claims).unwrap()
    });
    let dt = 1.1 / f32::from(ticks);
    for _ in 0..ticks {
        let wish = |_: MoverId| StepInput::from(to(1.0, 0.0));
        tick_together(&mut carts, wish, dt, &ground, &mut claims, |_, _| {});
    }
    // The other one has left the tile after a second; a tenth of a second later, the stride is as far.
    assert_eq!((claims.thing(pushed), carts[0].stride_to()), (Some(ivec2(2, 0)), Some(ivec2(1, 0))));
    assert!((carts[0].fraction() - 0.4).abs() < 1e-3, "{}", carts[0].fraction());
}

#[test]
fn two_that_meet_head_on_neither_swap_nor_share() {
    let map = grid(&["......"]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let run = rules(3.0, StepMode::RunOn);
    let mut carts = [0, 5].map(|x| Stepper::on(ivec2(x, 0), run, &ground, &mut claims).unwrap());
    let (first, mut told) = (carts[0].id(), Vec::new());
    let wish = |id: MoverId| StepInput::from(to(if id == first { 1.0 } else { -1.0 }, 0.0));
    for _ in 0..120 {
        tick_together(&mut carts, wish, 1.0 / 60.0, &ground, &mut claims, |_, event| told.push(event.what));
        check_places(&map, &carts);
    }
    assert_eq!(carts.map(|cart| cart.tile().x), [2, 3]);
    assert_eq!(
        told.iter()
            .filter(|what| matches!(what, StrideEvent::Blocked { by: BlockedBy::Mover(_), .. }))
            .count(),
        2
    );
}

#[rstest]
#[case::back(Cancel::Back, (0, 0))]
#[case::on(Cancel::On, (1, 0))]
#[case::elsewhere(Cancel::To(ivec2(3, 0)), (3, 0))]
fn a_stride_is_cut_short_at_any_instant(
    #[case] how: Cancel,
    #[case] end: (i32, i32),
    #[values(None, Some(0.0), Some(0.1), Some(0.2))] after: Option<f32>,
) {
    let map = grid(&["...."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut mover = Stepper::on(ivec2(0, 0), rules(4.0, StepMode::HOLD), &ground, &mut claims).unwrap();
    if let Some(after) = after {
        let _ = mover.tick(to(1.0, 0.0), after, &ground, &mut claims);
    }
    let standing = mover.stride_to().is_none();
    mover.cancel(how, &ground, &mut claims).unwrap();
    let end = if standing && how == Cancel::On { ivec2(0, 0) } else { end.into() };
    assert_eq!((mover.tile(), mover.stride_to(), mover.position(&map)), (end, None, map.center_of(end)));
    assert_eq!(claims.iter().collect::<Vec<_>>(), [(end, false)]);
    mover.leave(&mut claims);
    assert_eq!(claims.iter().count(), 0);
}

/// Between two events, the velocity is how fast the position changes, on tiles of any form: nothing at a stand.
#[rstest]
fn the_velocity_is_how_fast_the_position_changes(
    #[values(StepMode::HOLD, StepMode::Tap, StepMode::RunOn)] mode: StepMode,
    #[values(false, true)] has_diagonals: bool,
) {
    let plain = crate::scene::map(&["......", "...##.", "......", ".#....", "......"]);
    let diagonals = Diagonals::On { corners: CornerRule::OneFree, lasts: 1.4 };
    let (mut moves, mut stands) = (0, 0);
    for seed in 0..60 {
        let mut dice = crate::scene::Dice::new(seed);
        let size = [0; 2].map(|_| dice.number(0.5, 4.0));
        let map = plain.clone().with_tile_dimensions(size[0], size[1]).unwrap();
        let map = map.with_y_axis([YAxis::Up, YAxis::Down][dice.pick(2)]);
        let ground = StepGround::new(&map);
        let mut claims = Claims::new();
        let rules = rules(dice.number(1.0, 9.0), mode);
        let rules = if has_diagonals { rules.with_diagonals(diagonals).unwrap() } else { rules };
        let mut cart = Stepper::on(ivec2(2, 2), rules, &ground, &mut claims).unwrap();
        for _ in 0..40 {
            let way = Vec2::from_angle(dice.pick(8) as f32 * core::f32::consts::FRAC_PI_4);
            let wish = if dice.pick(2) == 0 { Intent::NONE } else { Intent::new(way) };
            let _ = cart.tick(wish, dice.number(0.0, 0.2), &ground, &mut claims);
            let (before, velocity) = (cart.position(&map), cart.velocity(&map));
            let (mut later, mut there) = (cart, claims.clone());
            if later.tick(Intent::NONE, 1e-3, &ground, &mut there).is_empty() {
                let moved = (later.position(&map) - before) / 1e-3;
                assert!(moved.distance(velocity) < 0.1, "seed {seed}: {moved}, not {velocity}");
                moves += usize::from(velocity != Vec2::ZERO);
                stands += usize::from(velocity == Vec2::ZERO);
            }
        }
    }
    assert!(moves > 500 && (stands > 100 || mode == StepMode::RunOn), "{moves} and {stands} times");
}

/// Ten tenths of a stride are a whole one, although their sum in `f32` is a hair less.
#[rstest]
fn a_stride_in_parts_is_over_when_its_time_is(#[values(3, 10, 48, 1000)] parts: u16) {
    let map = grid(&["....."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut mover = Stepper::on(ivec2(0, 0), rules(1.0, StepMode::Tap), &ground, &mut claims).unwrap();
    for part in 1..=parts {
        assert_eq!(mover.tile(), ivec2(0, 0), "it lands in part {part} of {parts}");
        let _ = mover.tick(to(1.0, 0.0), 1.0 / f32::from(parts), &ground, &mut claims);
    }
    assert_eq!((mover.tile(), mover.stride_to()), (ivec2(1, 0), None));
}

/// While a crate is pushed, and while a portal is gone through: what is claimed afterwards is where things are.
#[rstest]
#[case::back(Cancel::Back)]
#[case::on(Cancel::On)]
fn a_stride_that_pushes_or_goes_through_a_portal_is_cut_short(#[case] how: Cancel) {
    let map = grid(&["......"]);
    let ends = [(ivec2(1, 0), ivec2(4, 0))];
    let portals = Portals::new(&map, &ends).unwrap();
    let through = StepGround { portals: &portals, ..StepGround::new(&map) };
    let mut claims = Claims::new();
    let mut mover = Stepper::on(ivec2(0, 0), rules(4.0, StepMode::Tap), &through, &mut claims).unwrap();
    let _ = mover.tick(to(1.0, 0.0), 0.1, &through, &mut claims);
    assert!(mover.stride_to().is_some());
    mover.cancel(how, &through, &mut claims).unwrap();
    let end = if how == Cancel::Back { ivec2(0, 0) } else { ivec2(4, 0) };
    assert_eq!((mover.tile(), mover.position(&map)), (end, map.center_of(end)));
    assert_eq!(claims.iter().collect::<Vec<_>>(), [(end, false)]);

    let ground = StepGround::new(&map);
    let mut claims = Claims::new();
    let pushes = rules(4.0, StepMode::Tap).pushing();
    let mut mover = Stepper::on(ivec2(0, 0), pushes, &ground, &mut claims).unwrap();
    let thing = claims.put_thing(ivec2(1, 0), &ground).unwrap();
    let _ = mover.tick(to(1.0, 0.0), 0.1, &ground, &mut claims);
    assert_eq!(mover.stride_to(), Some(ivec2(1, 0)));
    mover.cancel(how, &ground, &mut claims).unwrap();
    let end = if how == Cancel::Back { 0 } else { 1 };
    assert_eq!(mover.tile(), ivec2(end, 0));
    assert_eq!(claims.thing(thing), Some(ivec2(2, 0)), "what was pushed stays pushed");
    let taken: Vec<IVec2> = claims.iter().map(|(tile, _)| tile).collect();
    assert_eq!(taken, [ivec2(end, 0), ivec2(2, 0)]);
}

#[test]
fn a_tile_that_a_follower_has_claimed_is_not_gone_back_to() {
    let map = grid(&["...."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let mut carts =
        [1, 0].map(|x| Stepper::on(ivec2(x, 0), rules(4.0, StepMode::HOLD), &ground, &mut claims).unwrap());
    for cart in &mut carts {
        let _ = cart.tick(to(1.0, 0.0), 0.1, &ground, &mut claims);
    }
    let before = (carts, claims.clone());
    let refused = carts[0].cancel(Cancel::Back, &ground, &mut claims).unwrap_err();
    assert_eq!(refused, StepError::Blocked { tile: ivec2(1, 0), by: BlockedBy::Mover(carts[1].id()) });
    assert_eq!((carts, claims), before);
}

#[test]
fn what_cannot_be_is_refused_with_tile_and_reason() {
    let map = grid(&[".#", ".."]);
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    for speed in [0.0, -1.0, f32::NAN, f32::INFINITY] {
        assert_eq!(StepRules::new(speed).unwrap_err().field(), "speed");
    }
    let run = rules(4.0, StepMode::RunOn);
    let mut refused = |tile| Stepper::on(tile, run, &ground, &mut claims).unwrap_err().to_string();
    assert_eq!(refused(ivec2(1, 0)), "tile 1,0 blocks; choose a free one");
    assert_eq!(refused(ivec2(2, 0)), "tile 2,0 lies outside the map of 2 columns and 2 rows");
    let portal = |pairs: &[(IVec2, IVec2)]| Portals::new(&map, pairs).unwrap_err().to_string();
    let (a, b, c) = (ivec2(0, 0), ivec2(0, 1), ivec2(1, 1));
    assert_eq!(portal(&[(a, a)]), "the portal at [0, 0] has one end; give it two tiles");
    assert_eq!(portal(&[(a, b), (b, c)]), "two portals end at [0, 1]; a tile may be the end of one");
    assert_eq!(portal(&[(a, ivec2(1, 0))]), "the portal end [1, 0] blocks; choose a free tile");
}

#[test]
fn easing_changes_the_place_and_not_the_time() {
    let map = grid(&["...."]);
    let ground = StepGround::new(&map);
    let shown = [Easing::Linear, Easing::Smooth].map(|easing| {
        let mut claims = Claims::new();
        let rules = rules(4.0, StepMode::Tap).with_easing(easing);
        let mut mover = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
        let _ = mover.tick(to(1.0, 0.0), 0.0625, &ground, &mut claims);
        let shown = (mover.position(&map).x, mover.view_offset(&map).x);
        let landed = mover.tick(NOTHING, 1.0, &ground, &mut claims).iter().next().unwrap().at;
        (shown, landed)
    });
    assert_eq!(shown, [((12.0, 4.0), 0.1875), ((10.5, 2.5), 0.1875)]);
}

#[test]
fn a_view_shows_the_tiles_that_it_reaches_into() {
    let map = grid(&["....", "....", "...."]);
    let view = ambulant::shape::Aabb::from_corners(vec2(16.0, 8.0), vec2(48.0, 17.0));
    let tiles: Vec<(i32, i32)> = map.tiles_in(view).map(Into::into).collect();
    assert_eq!(tiles, [(1, 0), (2, 0), (1, 1), (2, 1)]);
}
