//! What docs/limits.md states of the library: up to there it works, beyond it is refused or told, and nothing is lost in
//! silence.

use ambulant::arcade::{Ball, MAX_BOUNCES};
use ambulant::direction::Angle;
use ambulant::drive::Motion;
use ambulant::prelude::*;
use ambulant::shape::{MAX_CORNERS, Polygon, PolygonError, Solid};
use ambulant::steps::{Claims, GridEdge, StepGround, StepRules, Stepper, StrideEvent, tick_together};
use ambulant::terrain::{GridError, Layers, MAX_TILES, World};
use ambulant::time::Ticks;
use ambulant::travel::{MAX_CONTACTS, MAX_HITS, Response, resolve};
use rstest::rstest;

/// Two walls that leave a gap between them, along y.
fn alley(gap: f32) -> World {
    let mut walls = World::new();
    for x in [-1.0, gap] {
        walls.add(Solid::box_from_corners(vec2(x, -50.0), vec2(x + 1.0, 50.0)).unwrap());
    }
    walls
}

#[rstest]
#[case::as_many(4096, true)]
#[case::one_row_more(4097, false)]
fn a_map_has_so_many_tiles(#[case] rows: usize, #[case] taken: bool) {
    let row = vec![0usize; 4096];
    let map = TileGrid::from_indices(&vec![&row[..]; rows], &[TileKind::floor("path")]);
    match map {
        Ok(map) => assert!(taken && map.size() == ivec2(4096, 4096)),
        Err(why) => {
            assert!(!taken && matches!(why, GridError::TooLarge { tiles } if tiles > MAX_TILES), "{why}")
        }
    }
}

#[rstest]
#[case::last(65_535, true)]
#[case::beyond(65_536, false)]
fn a_map_tells_so_many_kinds_apart(#[case] index: usize, #[case] taken: bool) {
    let kinds = vec![TileKind::floor("path"); 65_537];
    let map = TileGrid::from_indices(&[[index]], &kinds);
    assert_eq!(map.is_ok(), taken);
    assert!(taken || matches!(map, Err(GridError::UnknownIndex { index: 65_536, .. })));
}

#[rstest]
#[case::most(MAX_CORNERS, None)]
#[case::more(MAX_CORNERS + 1, Some(PolygonError::Count { count: MAX_CORNERS + 1 }))]
fn a_polygon_has_so_many_corners(#[case] count: usize, #[case] refused: Option<PolygonError>) {
    let corner = |place: usize| Vec2::from_angle(std::f32::consts::TAU * place as f32 / count as f32);
    let corners: Vec<Vec2> = (0..count).map(corner).collect();
    assert_eq!(Polygon::new(&corners).err(), refused);
}

#[test]
fn there_are_so_many_layers() {
    assert_eq!(Layers::ALL.numbers().count(), 32);
    let all: Vec<Layers> = (0..32).map(Layers::bit).collect();
    assert!(
        all.iter()
            .enumerate()
            .all(|(place, one)| all.iter().position(|other| other.meets(*one)) == Some(place))
    );
}

#[rstest]
#[case::few(4.0, 4)]
#[case::more_than_are_listed(40.0, 40)]
#[case::more_than_are_met(2048.0, MAX_HITS)]
fn every_contact_reaches_the_callback_and_what_is_left_is_remaining(#[case] across: f32, #[case] met: usize) {
    let pebble = Footprint::circle(0.5).unwrap();
    let displacement = vec2(across, 0.0);
    let motion = Motion::new(displacement, displacement, Angle::ZERO);
    let mut asked = 0;
    let result = resolve(&alley(2.0), &pebble, vec2(1.0, 0.0), motion, &WallFilter::ALL, |_| {
        asked += 1;
        Response::bounce(1.0)
    });
    // From the middle of a gap of one unit, half of one to the first wall and one to each of the others.
    assert_eq!((asked, result.contacts.total()), (met, met));
    assert_eq!(result.contacts.iter().count(), met.min(MAX_CONTACTS));
    assert_eq!(result.contacts.is_cut_short(), met > MAX_CONTACTS);
    let left = (across - met as f32 + 0.5).max(0.0);
    let remaining = if met == MAX_HITS { left } else { 0.0 };
    assert!((result.remaining.x.abs() - remaining).abs() < 0.1, "{result:?}");
}

#[rstest]
#[case::half_of_the_most(512.0, 512)]
#[case::twice_the_most(2048.0, 2048)]
fn a_ball_tells_what_is_left_after_the_most_bounces(#[case] way: f32, #[case] walls: usize) {
    let mut drop = Ball::new(vec2(1.0, 0.0), vec2(way, 0.0), Footprint::circle(0.5).unwrap());
    let bounces = crate::scene::bounce(&mut drop, 1.0, &mut alley(2.0));
    let left = (way - MAX_BOUNCES as f32 + 0.5).max(0.0) / way;
    assert_eq!(bounces.count, MAX_BOUNCES.min(walls));
    assert!((bounces.unplayed_seconds - left).abs() < 1e-3, "{bounces:?}");
}

#[rstest]
#[case::usual(Ticks::new(60.0).unwrap(), 8)]
#[case::asked_for(Ticks::new(60.0).unwrap().with_most(30), 30)]
fn a_long_frame_is_made_up_for_in_so_many_ticks(#[case] mut ticks: Ticks, #[case] most: u32) {
    assert_eq!(ticks.advance(10.0), most);
    assert_eq!(ticks.dropped(), 600.0 - f64::from(most));
}

/// A cart on a ring of four tiles, wished to the right for a second at so many tiles a second; the tiles it entered.
fn rounds(speed: f32, together: bool) -> usize {
    let ring = TileGrid::from_rows(&["...."], &Legend::new().with('.', TileKind::floor("rails"))).unwrap();
    let ground = StepGround { edge: GridEdge::Wrap, ..StepGround::new(&ring) };
    let mut claims = Claims::new();
    let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(speed).unwrap(), &ground, &mut claims).unwrap();
    let right = Intent::new(vec2(1.0, 0.0));
    let mut entered = 0;
    let mut count = |what: &StrideEvent| entered += usize::from(matches!(what, StrideEvent::Entered { .. }));
    if together {
        let carts = std::slice::from_mut(&mut cart);
        tick_together(carts, |_| right.into(), 1.0, &ground, &mut claims, |_, event| count(&event.what));
    } else {
        cart.tick_with(right, 1.0, &ground, &mut claims, |event| count(&event.what));
    }
    assert!(ring.contains(cart.tile()));
    entered
}

#[rstest]
#[case::alone(false, 1000.0, 1000)]
#[case::alone_beyond(false, 100_000.0, 4096)]
#[case::together(true, 1000.0, 1000)]
#[case::together_beyond(true, 100_000.0, 65_536)]
fn a_stepper_decides_so_often_in_one_tick(
    #[case] together: bool,
    #[case] speed: f32,
    #[case] entered: usize,
) {
    assert_eq!(rounds(speed, together), entered);
}
