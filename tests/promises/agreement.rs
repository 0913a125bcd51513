//! Different roads to one answer: a grid against its own tiles as shapes, several terrains against one, a touch
//! against where its mover is, steppers against their claims.

use ambulant::direction::{Angle, Corner};
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::Aabb;
use ambulant::steps::{
    Claims, CornerRule, Diagonals, GridEdge, MoverId, Portals, StepGround, StepInput, StepMode, StepRules,
    Stepper, StrideEvent, tick_together,
};
use ambulant::terrain::{
    Filtered, FoundWall, Layers, Outside, PlayArea, Terrain, Wall, WallFilter, World, walls_under,
};
use ambulant::travel::{Response, TouchPhase, Touching, resolve, slide};
use ambulant::walker::AtWalls;
use proptest::prelude::*;
use rstest::rstest;

use crate::scene::{any_footprint, map, random_map, random_slopes};

/// Every wall of a map as a shape of its own.
fn as_shapes(grid: &TileGrid) -> Vec<FoundWall> {
    let mut walls = Vec::new();
    let area = Aabb { min: grid.area().min - 50.0, max: grid.area().max + 50.0 };
    grid.walls_in(area, &WallFilter::ALL, &mut |found| walls.push(found));
    walls
}

fn motion(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement * 60.0, Angle::ZERO)
}

fn near_or_far() -> impl Strategy<Value = f32> {
    prop_oneof![9 => -60.0f32..60.0, 1 => prop::sample::select(vec![-3e3f32, 500.0, 2e3])]
}

properties! {
    400;

    #[test]
    fn a_grid_holds_who_leans_on_it_as_long_as_its_tiles_one_by_one(
        held_on >= 70, let_go >= 25;
        plain in random_map(), slopes in random_slopes(), half in any::<bool>(), footprint in any_footprint(),
        x in -4.5f32..4.5, y in -4.5f32..4.5, angle in 0.0f32..6.3, along in prop::sample::select(vec![-6.0f32, -0.5, 0.5, 6.0]),
    ) {
        let grid = if half { slopes } else { plain };
        let shapes = as_shapes(&grid);
        let from = vec2(x, y);
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        let hit = grid.sweep(&footprint, from, Vec2::from_angle(angle) * 20.0, &WallFilter::ALL);
        // Round a corner both follow it in short steps of their own.
        let flat = |hit: &ambulant::terrain::Hit| hit.normal.abs().max_element() == 1.0;
        let Some(hit) = hit.filter(flat) else { return Ok(()) };
        let way = hit.normal.perp() * along;
        let area = grid.area();
        prop_assume!((hit.position + way).clamp(area.min, area.max) == hit.position + way);
        let held = [
            grid.wall_continues(&footprint, hit.position, way, hit.normal, &WallFilter::ALL),
            shapes[..].wall_continues(&footprint, hit.position, way, hit.normal, &WallFilter::ALL),
        ];
        held_on.when(held[0] == 1.0);
        let_go.when(held[0] < 1.0);
        prop_assert!((held[0] - held[1]).abs() * along.abs() < 0.02, "{held:?} at {hit:?}");
    }

    #[test]
    fn a_map_of_any_size_and_place_is_met_like_its_tiles_one_by_one(
        met >= 25;
        columns in 1usize..40, rows in 1usize..40, seed in any::<u64>(), tile in prop::sample::select(vec![0.25f32, 1.0, 7.0, 16.0]), oblong in prop::sample::select(vec![1.0f32, 1.0, 0.37, 2.5]),
        origin in prop_oneof![(-2e3f32..2e3, -2e3f32..2e3), Just((-6.0, -6.0))], up in any::<bool>(), free in any::<bool>(), round in any::<bool>(), built_over in 0usize..5,
        filter in prop::sample::select(vec![Layers::ALL, Layers::FIRST, Layers::bit(5), Layers::NONE]),
        size in 0.2f32..12.0, x in -0.2f32..1.2, y in -0.2f32..1.2, angle in 0.0f32..6.3, power in -0.5f32..2.0,
    ) {
        // Seldom a wall or half of one, so that whole blocks of tiles are open and others are not.
        let dice = |place: usize| seed.rotate_left(u32::try_from(place % 64).unwrap()).wrapping_mul(place as u64 | 1) >> 59;
        let kind = |place: usize| [1, 2, 3].get(usize::try_from(dice(place)).unwrap()).copied().unwrap_or(0);
        let pond = TileKind::wall("pond").with_layers(Layers::bit(5));
        let kinds = [TileKind::floor("path"), TileKind::wall("bed"), TileKind::half("frame", Corner::TopRight), pond];
        let filter = WallFilter::on(filter);
        let numbers: Vec<Vec<usize>> =
            (0..rows).map(|y| (0..columns).map(|x| kind(y * columns + x)).collect()).collect();
        // At once, or tile by tile over another map.
        let over = if built_over < kinds.len() { vec![vec![built_over; columns]; rows] } else { numbers.clone() };
        let mut grid = TileGrid::from_indices(&over, &kinds).unwrap().with_tile_dimensions(tile, tile * oblong).unwrap();
        for (place, kind) in numbers.iter().flatten().enumerate() {
            let id = grid.kind_ids().nth(*kind).unwrap().0;
            grid.set(grid.tile_of_index(place).unwrap(), id).unwrap();
        }
        let grid = grid.with_origin(origin.into()).unwrap();
        let grid = grid.with_y_axis(if up { YAxis::Up } else { YAxis::Down });
        let grid = grid.with_outside(if free { Outside::Open } else { Outside::Block });
        let shapes = as_shapes(&grid);
        let size = size * tile;
        let footprint = if round { Footprint::circle(size * 0.5) } else { Footprint::rect(size, size * 0.7) }.unwrap();
        let from = grid.area().min + grid.area().size() * vec2(x, y);
        let way = Vec2::from_angle(angle) * 10f32.powf(power) * tile;
        prop_assert_eq!(grid.overlaps(&footprint, from, &filter), shapes[..].overlaps(&footprint, from, &filter));
        prop_assume!(!grid.overlaps(&footprint, from, &filter));
        let fraction = |hit: Option<ambulant::terrain::Hit>| hit.map_or(1.0, |hit| hit.fraction);
        let hits = [grid.sweep(&footprint, from, way, &filter), shapes[..].sweep(&footprint, from, way, &filter)];
        met.when(hits[0].is_some());
        let apart = (fraction(hits[0]) - fraction(hits[1])).abs() * way.length();
        // A graze is reported a few roundings sooner or later.
        let far = grid.area().min.abs().max(grid.area().max.abs()).max_element();
        prop_assert!(apart < 1e-4 + 5e-6 * far, "{hits:?}");
        let mut under = 0;
        walls_under(&grid, &footprint, from + way * fraction(hits[0]), &filter, |_| under += 1);
        prop_assert!(under > 0 || hits[0].is_none(), "nothing lies against it at {hits:?}");
    }

    #[test]
    fn a_store_that_changes_is_searched_like_a_list(
        hits >= 320;
        // Now and then far away from all others: the table was laid out without it.
        changes in prop::collection::vec((0usize..6, 0usize..40, near_or_far(), near_or_far(), -3.0f32..1.6), 1..300),
        ways in prop::collection::vec((near_or_far(), near_or_far(), 0.0f32..6.3, -1.0f32..2.3), 1..20),
        footprint in any_footprint(),
    ) {
        let mut store = World::new();
        let mut list: Vec<(ambulant::terrain::Wall, ambulant::shape::Solid)> = Vec::new();
        for (what, which, x, y, power) in changes {
            let (at, size) = (vec2(x, y), 10f32.powf(power));
            let solid = match what % 2 {
                0 => ambulant::shape::Solid::circle(at, size),
                _ => ambulant::shape::Solid::box_from_corners(at, at + size),
            }
            .unwrap();
            let place = which % list.len().max(1);
            match what {
                0 if !list.is_empty() => {
                    prop_assert_eq!(store.remove(list[place].0), Some(list.swap_remove(place).1));
                }
                1 | 2 if !list.is_empty() => {
                    list[place].1 = solid;
                    prop_assert!(store.place(list[place].0, solid));
                }
                _ => list.push((store.add(solid), solid)),
            }
        }
        prop_assert_eq!(store.walls().count(), list.len());
        let walls: Vec<FoundWall> = list
            .iter()
            .map(|(id, solid)| FoundWall::new(*id, *solid))
            .collect();
        for (x, y, angle, power) in ways {
            let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * 10f32.powf(power));
            let place = |hit: Option<ambulant::terrain::Hit>| hit.map(|hit| (hit.fraction, hit.position));
            hits.when(store.sweep(&footprint, from, way, &WallFilter::ALL).is_some());
            prop_assert_eq!(
                place(store.sweep(&footprint, from, way, &WallFilter::ALL)),
                place(walls[..].sweep(&footprint, from, way, &WallFilter::ALL))
            );
            prop_assert_eq!(store.overlaps(&footprint, from, &WallFilter::ALL), walls[..].overlaps(&footprint, from, &WallFilter::ALL));
        }
    }

    #[test]
    fn walls_divided_among_terrains_are_walked_like_one_store(
        met >= 45;
        walls in prop::collection::vec((-5.0f32..5.0, -5.0f32..5.0, 0.2f32..1.5, 0usize..3), 1..14),
        footprint in any_footprint(), x in -6.0f32..6.0, y in -6.0f32..6.0, wish in 0.0f32..6.3,
    ) {
        let mut whole = World::new();
        let mut parts = [World::new(), World::new(), World::new()];
        for (x, y, size, part) in walls {
            let solid = ambulant::shape::Solid::box_from_corners(vec2(x, y), vec2(x, y) + size).unwrap();
            whole.add(solid);
            parts[part].add(solid);
        }
        let from = vec2(x, y);
        prop_assume!(!whole.overlaps(&footprint, from, &WallFilter::ALL));
        let mut walkers = [Walker::new(from, footprint, Gait::new(5.0, 40.0, 40.0).unwrap()); 3];
        let one = (&parts[0], &parts[1], &parts[2]);
        let mut met_a_wall = false;
        for _ in 0..60 {
            let intent = Intent::new(Vec2::from_angle(wish));
            met_a_wall |= !walkers[0].tick(intent, 1.0 / 60.0, &whole).contacts.is_empty();
            let _ = walkers[1].tick(intent, 1.0 / 60.0, &one);
            let _ = walkers[2].tick(intent, 1.0 / 60.0, &parts[..]);
        }
        met.when(met_a_wall);
        prop_assert_eq!(walkers[1].position, walkers[2].position);
        prop_assert!(walkers[0].position.distance(walkers[1].position) < 1e-3, "{:?}", walkers);
    }

    #[test]
    fn touches_begin_before_they_end_and_are_where_the_mover_is(
        ended >= 310;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, y in -5.0f32..5.0,
        wishes in prop::collection::vec((0.0f32..6.3, 1usize..12), 1..10), bounce in any::<bool>(),
    ) {
        let from = vec2(x, y);
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));
        let mut walker = Walker::new(from, footprint, Gait::new(6.0, 60.0, 60.0).unwrap());
        if bounce {
            walker.along_walls.at_walls = AtWalls::bounce(0.5, 0.5).unwrap();
        }
        let mut touching = Touching::default();
        let (mut open, mut told) = (0i32, Vec::new());
        for (angle, ticks) in wishes {
            for _ in 0..ticks {
                let result = walker.tick(Intent::new(Vec2::from_angle(angle)), 1.0 / 30.0, &grid);
                touching.after(&result, &footprint, &grid, &WallFilter::ALL, |change| told.push(change));
                for change in told.drain(..) {
                    prop_assert!(change.seconds >= 0.0 && change.seconds <= result.seconds);
                    ended.when(change.phase == TouchPhase::Ended);
                    open += match change.phase {
                        TouchPhase::Started => 1,
                        TouchPhase::Ended => -1,
                        TouchPhase::Lasting => 0,
                    };
                    prop_assert!(open >= 0, "{change:?} ended before it began");
                }
                prop_assert_eq!(usize::try_from(open).unwrap(), touching.iter().count());
                for (wall, _, normal) in touching.iter() {
                    let reach = grid.sweep(&footprint, walker.position, normal * -1e-3, &WallFilter::ALL);
                    prop_assert!(reach.is_some(), "{wall} is not touched at {}", walker.position);
                }
            }
        }
    }

    /// A touch starts and ends at the same instants in one tick as in many.
    #[test]
    fn the_end_of_a_touch_does_not_depend_on_the_tick(
        ended >= 380;
        grid in random_map(), footprint in any_footprint(), x in -5.0f32..5.0, y in -5.0f32..5.0,
        wishes in prop::collection::vec(0.0f32..6.3, 4..12), parts in 2u8..30,
    ) {
        let from = vec2(x, y);
        prop_assume!(footprint.radius().is_none() && !grid.overlaps(&footprint, from, &WallFilter::ALL));
        let once = Walker::new(from, footprint, Gait::new(6.0, 400.0, 400.0).unwrap());
        let mut runs = [(1u8, once, Touching::default()), (parts, once, Touching::default())];
        for (tick, angle) in (0u8..).zip(wishes) {
            let events = runs.each_mut().map(|(parts, walker, touching)| {
                let (dt, mut seen) = (0.3 / f32::from(*parts), Vec::new());
                for part in 0..*parts {
                    let _ = walker.tick_tracking(Intent::new(Vec2::from_angle(angle)), dt, &grid, touching, |change| {
                        if change.phase != TouchPhase::Lasting {
                            let at = f32::from(tick) * 0.3 + f32::from(part) * dt + change.seconds;
                            seen.push((change.phase, change.normal, at));
                        }
                    });
                }
                seen
            });
            // Two at one instant may change places.
            let count = |phase: TouchPhase| events.each_ref().map(|seen| seen.iter().filter(|it| it.0 == phase).count());
            ended.add(count(TouchPhase::Ended)[0]);
            prop_assert_eq!(count(TouchPhase::Started)[0], count(TouchPhase::Started)[1], "{:?}", events);
            for (phase, normal, at) in &events[0] {
                let near = |other: &&(TouchPhase, Vec2, f32)| {
                    other.0 == *phase && other.1.distance(*normal) < 1e-3 && (other.2 - at).abs() < 1.5e-3
                };
                prop_assert!(events[1].iter().any(|other| near(&other)), "{phase:?} {at}: {events:?}");
            }
        }
    }

    #[test]
    fn steppers_of_every_kind_keep_to_free_tiles_of_their_own_and_ticks_may_be_divided(
        pushes >= 120, strides >= 4100;
        map in random_map(), starts in prop::collection::vec((0i32..12, 0i32..12), 1..12),
        ends in ((0i32..12, 0i32..12), (0i32..12, 0i32..12)), parts in 2u8..6,
        things in prop::collection::vec((0i32..12, 0i32..12), 0..4), corners in 0usize..4, wrap in any::<bool>(),
        wishes in prop::collection::vec((0usize..6, 0u8..9), 1..60), speed in 1.0f32..12.0,
    ) {
        let inside = |(x, y): (i32, i32)| ivec2(x, y) % map.size();
        let portals = Portals::new(&map, &[(inside(ends.0), inside(ends.1))]).unwrap_or_default();
        let edge = if wrap { GridEdge::Wrap } else { GridEdge::Block };
        let ground = StepGround { edge, portals: &portals, ..StepGround::new(&map) };
        let mut claims = Claims::new();
        let rules = StepRules::new(speed).unwrap().with_mode(StepMode::HOLD).pushing();
        let corner_rules = [CornerRule::NeverCut, CornerRule::OneFree, CornerRule::AlwaysCut];
        let rules = match corner_rules.get(corners) {
            Some(corners) => rules.with_diagonals(Diagonals::On { corners: *corners, lasts: 1.4 }).unwrap(),
            None => rules,
        };
        let things: Vec<_> = things.into_iter().filter_map(|tile| claims.put_thing(inside(tile), &ground).ok()).collect();
        let mut movers: Vec<Stepper> = Vec::new();
        // Somebody has come and gone, so that numbers are not places.
        if let Ok(gone) = Stepper::on(inside(ends.0), rules, &ground, &mut claims) {
            gone.leave(&mut claims);
        }
        for (place, start) in starts.into_iter().enumerate() {
            // Every third one slower, so that not everybody may follow.
            let rules = if place % 3 == 0 { rules.with_speed(speed * 0.63).unwrap() } else { rules };
            movers.extend(Stepper::on(inside(start), rules, &ground, &mut claims).ok());
        }
        prop_assume!(!movers.is_empty());
        let ids: Vec<MoverId> = movers.iter().map(Stepper::id).collect();
        // In short ticks all steppers that stand decide repeatedly; in a long one only those that may start by now.
        let mut divided = (movers.clone(), claims.clone());
        let mut held = vec![0u8; movers.len()];
        for (which, key) in wishes {
            let count = held.len();
            held[which % count] = key;
            let wish = |id: MoverId| {
                let key = held[ids.iter().position(|known| *known == id).unwrap()];
                let way = Vec2::from_angle(f32::from(key) * core::f32::consts::FRAC_PI_4);
                StepInput::from(if key == 8 { Intent::NONE } else { Intent::new(way) })
            };
            let mut pushed = Vec::new();
            tick_together(&mut movers, wish, 0.07, &ground, &mut claims, |_, event| {
                strides.when(matches!(event.what, StrideEvent::Entered { .. }));
                if let StrideEvent::Pushed { to, .. } = event.what { pushed.push(to); }
            });
            pushes.add(pushed.len());
            prop_assert!(pushed.iter().all(|tile| !map.blocks(*tile)));
            for _ in 0..parts {
                let dt = 0.07 / f32::from(parts);
                tick_together(&mut divided.0, wish, dt, &ground, &mut divided.1, |_, _| {});
            }
            let tiles = |movers: &[Stepper]| movers.iter().map(|mover| (mover.tile(), mover.stride_to())).collect::<Vec<_>>();
            prop_assert_eq!(tiles(&movers), tiles(&divided.0));
            let mut taken: Vec<IVec2> = movers.iter().map(|mover| mover.stride_to().unwrap_or(mover.tile())).collect();
            taken.extend(things.iter().filter_map(|thing| claims.thing(*thing)));
            prop_assert!(taken.iter().all(|tile| map.contains(*tile) && !map.blocks(*tile)), "{taken:?}");
            let number = taken.len();
            taken.sort_by_key(|tile| (tile.y, tile.x));
            taken.dedup();
            prop_assert_eq!(taken.len(), number, "two on one tile");
        }
    }

    #[test]
    fn a_mover_in_bounds_is_one_on_a_map_without_walls(
        met >= 230;
        x in 0.5f32..9.5, y in 0.5f32..5.5, angle in 0.0f32..6.3, far in 0.1f32..40.0, footprint in any_footprint(),
        bounce in any::<bool>(),
    ) {
        let bounds = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 6.0)).unwrap();
        let floor = map(&["..........", "..........", "..........", "..........", "..........", ".........."]);
        let floor = floor.with_origin(Vec2::ZERO).unwrap().with_outside(Outside::Block);
        let (from, way) = (vec2(x, y), Vec2::from_angle(angle) * far);
        prop_assume!(!bounds.overlaps(&footprint, from, &WallFilter::ALL));
        let respond = |_: &_| if bounce { Response::bounce(0.7) } else { Response::Slide };
        let (one, other) =
            (resolve(&bounds, &footprint, from, motion(way), &WallFilter::ALL, respond), resolve(&floor, &footprint, from, motion(way), &WallFilter::ALL, respond));
        met.when(!one.contacts.is_empty());
        prop_assert!(one.position.distance(other.position) < 1e-3, "{one}\n{other}");
        prop_assert!(one.velocity.distance(other.velocity) < far * 60.0 * 1e-4);
        prop_assert!(one.contacts.iter().all(|contact| matches!(contact.wall, Wall::Edge(_))));
    }
}

#[rstest]
#[case::both(Layers::bit(1) | Layers::bit(2), &[], 2.0)]
#[case::first(Layers::bit(1), &[], 2.0)]
#[case::second(Layers::bit(2), &[], 5.0)]
#[case::but_not_that_one(Layers::ALL, &[0], 5.0)]
#[case::none_of_them(Layers::bit(1), &[0], 9.0)]
fn what_the_filter_lets_through_is_what_is_met(
    #[case] layers: Layers,
    #[case] except: &[usize],
    #[case] end: f32,
) {
    let mut walls = World::new();
    let ids = [(2.5, 1), (5.5, 2)].map(|(x, layer)| {
        let solid = ambulant::shape::Solid::box_from_corners(vec2(x, -1.0), vec2(x + 0.5, 1.0)).unwrap();
        walls.add_on(Layers::bit(layer), solid)
    });
    let except: Vec<Wall> = except.iter().map(|place| ids[*place]).collect();
    let (on, others) = (WallFilter::on(layers), WallFilter::ALL.except(&except));
    let feet = Footprint::rect(1.0, 1.0).unwrap();
    // Two conditions one inside the other, and the same two at once.
    let outer = Filtered::new(&walls, on);
    let nested =
        slide(&Filtered::new(&outer, others), &feet, Vec2::ZERO, motion(vec2(9.0, 0.0)), &WallFilter::ALL);
    let at_once = slide(
        &Filtered::new(&walls, on.and(&others)),
        &feet,
        Vec2::ZERO,
        motion(vec2(9.0, 0.0)),
        &WallFilter::ALL,
    );
    assert_eq!((nested.position.x, at_once.position.x), (end, end));
}

#[rstest]
#[case::stop(AtWalls::Stop)]
#[case::scrape(AtWalls::Slide)]
#[case::bounce(AtWalls::bounce(0.5, 0.2).unwrap())]
fn what_walls_do_shows_no_tick_length_head_on(#[case] at_walls: AtWalls) {
    let room = map(&["........"]);
    let ends = [30.0f32, 60.0, 144.0, 240.0].map(|rate| {
        let mut walker =
            Walker::new(Vec2::ZERO, Footprint::rect(0.5, 0.5).unwrap(), Gait::new(6.0, 20.0, 5.0).unwrap());
        walker.along_walls.at_walls = at_walls;
        walker.velocity = vec2(6.0, 0.0);
        let mut left = 2.0f32;
        while left > 1e-4 {
            let _ = walker.tick(Intent::NONE, 1.0 / rate, &room);
            left -= 1.0 / rate;
        }
        walker.position.x
    });
    assert!(ends.iter().all(|end| (end - ends[0]).abs() < 0.02), "{ends:?}");
}
