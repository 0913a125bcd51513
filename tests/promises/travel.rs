//! Boxes through tile grids: never in, never through, never caught.

use crate::scene::{depth_on_the_way, legend, map, random_map};
use ambulant::direction::{Angle, Side, YAxis};
use ambulant::drive::Motion;
use ambulant::shape::{Anchor, Footprint};
use ambulant::terrain::{Legend, Outside, Terrain, TileGrid, TileKind, Wall, WallFilter};
use ambulant::touch_tolerance;
use ambulant::travel::{Feelers, Response, resolve, slide};
use glam::{Vec2, ivec2, vec2};
use proptest::prelude::*;
use rstest::rstest;

fn motion(displacement: Vec2) -> Motion {
    Motion::new(displacement, displacement * 60.0, Angle::ZERO)
}

/// A displacement of any direction, from far below a tile to 10,000 tiles.
fn displacement() -> impl Strategy<Value = Vec2> {
    (0.0f32..std::f32::consts::TAU, -3.0f32..4.0, 0u8..4).prop_map(|(angle, power, kind)| {
        let free = Vec2::from_angle(angle) * 10.0f32.powf(power);
        match kind {
            0 => vec2(free.x, 0.0),
            1 => vec2(free.x, free.x.abs()),
            _ => free,
        }
    })
}

properties! {
    2000;

    #[test]
    fn a_slide_never_enters_a_wall_nor_passes_one(
        met >= 590;
        grid in random_map(), place in (0.0f32..1.0, 0.0f32..1.0), on_tile in any::<bool>(),
        size in (0.1f32..2.5, 0.1f32..2.5), whole in any::<bool>(), displacement in displacement(),
    ) {
        let size = if whole { vec2(size.0.ceil(), size.1.ceil()) } else { vec2(size.0, size.1) };
        let footprint = Footprint::rect(size.x, size.y).unwrap();
        let area = grid.area();
        let mut from = area.min + area.size() * vec2(place.0, place.1);
        if on_tile { from = grid.center_of(grid.tile_at(from)) }
        prop_assume!(!grid.overlaps(&footprint, from, &WallFilter::ALL));

        let result = slide(&grid, &footprint, from, motion(displacement), &WallFilter::ALL);
        let again = slide(&grid, &footprint, from, motion(displacement), &WallFilter::ALL);
        prop_assert_eq!(&result, &again, "the same travel twice");

        met.when(!result.contacts.is_empty());
        let mut stops: Vec<Vec2> = result.contacts.iter().map(|contact| contact.position).collect();
        stops.insert(0, from);
        stops.push(result.position);
        for leg in stops.windows(2) {
            let allowed = 2.0 * touch_tolerance(f64::from(leg[1].abs().max_element()) + 3.0);
            let depth = depth_on_the_way(&grid, &footprint, leg[0], leg[1]);
            prop_assert!(depth <= allowed, "{depth} deep on the way from {} to {}", leg[0], leg[1]);
        }
        prop_assert!(result.velocity.length() <= displacement.length() * 60.0 * 1.000_001);
    }

    #[test]
    fn a_mirrored_slide_is_the_mirror_of_the_slide(
        met >= 540;
        grid in random_map(), place in (0.0f32..1.0, 0.0f32..1.0),
        size in (0.1f32..1.5, 0.1f32..1.5), displacement in displacement(),
    ) {
        let footprint = Footprint::rect(size.0, size.1).unwrap();
        let from = grid.area().min + grid.area().size() * vec2(place.0, place.1);
        let mirrored = mirrored(&grid);
        let flip = |v: Vec2| vec2(-v.x, v.y);
        let plain = slide(&grid, &footprint, from, motion(displacement), &WallFilter::ALL);
        met.when(!plain.contacts.is_empty());
        let other = slide(&mirrored, &footprint, flip(from), motion(flip(displacement)), &WallFilter::ALL);
        prop_assert_eq!(flip(other.position), plain.position);
        prop_assert_eq!(flip(other.velocity), plain.velocity);
        prop_assert_eq!(other.contacts.len(), plain.contacts.len());
    }
}

fn rows_of(grid: &TileGrid) -> Vec<String> {
    let size = grid.size();
    let glyph = |column, row| if grid.blocks(ivec2(column, row)) { '#' } else { '.' };
    (0..size.y).map(|row| (0..size.x).map(|column| glyph(column, row)).collect()).collect()
}

fn mirrored(grid: &TileGrid) -> TileGrid {
    let rows: Vec<String> = rows_of(grid).iter().map(|row| row.chars().rev().collect()).collect();
    map(&rows).with_outside(grid.outside())
}

/// A 7 x 7 room of unit tiles with a pillar in the middle tile, centred on the world's origin.
fn pillar() -> TileGrid {
    map(&[".......", ".......", ".......", "...#...", ".......", ".......", "......."])
}

#[rstest]
#[case::right(vec2(1.0, 0.0), vec2(-1.0, 0.0), Side::Left)]
#[case::left(vec2(-1.0, 0.0), vec2(1.0, 0.0), Side::Right)]
#[case::down(vec2(0.0, 1.0), vec2(0.0, -1.0), Side::Top)]
#[case::up(vec2(0.0, -1.0), vec2(0.0, 1.0), Side::Bottom)]
fn contact_is_exact_on_every_side(#[case] toward: Vec2, #[case] normal: Vec2, #[case] side: Side) {
    let grid = pillar();
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    for speed in [2.0, 7.3, 1e4] {
        let result = slide(&grid, &footprint, toward * -2.5, motion(toward * speed), &WallFilter::ALL);
        assert_eq!(result.position, toward * -0.75);
        let contact = result.contacts.iter().next().unwrap();
        assert_eq!((contact.normal, contact.side, contact.wall), (normal, side, Wall::tile(ivec2(3, 3))));
        assert_eq!(contact.point, toward * -0.5);
        assert!((contact.seconds - 1.75 / speed).abs() < 1e-6);
        assert_eq!(result.velocity, Vec2::ZERO);
    }
}

#[test]
fn a_start_inside_a_wall_may_leave_it() {
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    assert!(pillar().overlaps(&footprint, vec2(0.3, 0.0), &WallFilter::ALL));
    let result = slide(&pillar(), &footprint, vec2(0.3, 0.0), motion(vec2(1.5, 0.0)), &WallFilter::ALL);
    assert_eq!(result.position, vec2(1.8, 0.0));
}

#[test]
fn the_outside_is_what_it_was_said_to_be() {
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    let inside = slide(&pillar(), &footprint, vec2(2.0, 2.0), motion(vec2(5000.0, 0.0)), &WallFilter::ALL);
    assert_eq!(inside.position, vec2(3.25, 2.0));
    let open = pillar().with_outside(Outside::Open);
    let gone = slide(&open, &footprint, vec2(2.0, 2.0), motion(vec2(5000.0, 0.0)), &WallFilter::ALL);
    assert_eq!(gone.position, vec2(5002.0, 2.0));
    let back = slide(&open, &footprint, vec2(-5000.0, 0.0), motion(vec2(1e6, 0.0)), &WallFilter::ALL);
    assert_eq!(back.position, vec2(-0.75, 0.0));
}

#[test]
fn a_world_whose_y_grows_upwards_is_the_same_world_turned_over() {
    let up = pillar().with_y_axis(YAxis::Up).with_origin(vec2(-3.5, 3.5)).unwrap();
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    let result = slide(&up, &footprint, vec2(0.2, 2.5), motion(vec2(0.0, -9.0)), &WallFilter::ALL);
    assert_eq!(result.position, vec2(0.2, 0.75));
    let contact = result.contacts.iter().next().unwrap();
    assert_eq!((contact.normal, contact.side), (vec2(0.0, 1.0), Side::Top));
    assert_eq!(up.tile_at(vec2(-3.4, 3.4)), ivec2(0, 0));
    assert_eq!(up.center_of(ivec2(0, 6)), vec2(-3.0, -3.0));
}

#[test]
fn an_anchor_at_the_top_left_covers_the_same_ground() {
    let centred = Footprint::rect(0.5, 0.5).unwrap();
    let cornered = centred.with_anchor(Anchor::TopLeft);
    assert_eq!(cornered.at(vec2(1.0, 2.0)), centred.at(vec2(1.25, 2.25)));
    let a = slide(&pillar(), &centred, vec2(-2.0, 0.0), motion(vec2(5.0, 1.0)), &WallFilter::ALL);
    let b = slide(&pillar(), &cornered, vec2(-2.25, -0.25), motion(vec2(5.0, 1.0)), &WallFilter::ALL);
    assert_eq!(a.position, b.position + vec2(0.25, 0.25));
}

properties! {
    500;

    #[test]
    fn tiles_points_and_indices_convert_both_ways(
        grid in random_map(), size in (0.1f32..64.0, 0.1f32..64.0), origin in (-1e4f32..1e4, -1e4f32..1e4), up in any::<bool>(),
    ) {
        let grid = grid.with_tile_dimensions(size.0, size.1).unwrap().with_origin(vec2(origin.0, origin.1)).unwrap();
        let grid = if up { grid.with_y_axis(YAxis::Up) } else { grid };
        let count = grid.size().x * grid.size().y;
        for index in 0..usize::try_from(count).unwrap() {
            let tile = grid.tile_of_index(index).unwrap();
            prop_assert_eq!(grid.index_of(tile), Some(index));
            prop_assert_eq!(grid.tile_at(grid.center_of(tile)), tile);
            prop_assert!(grid.contains(tile) && grid.tile_area(tile).contains(grid.center_of(tile)));
        }
        prop_assert_eq!(grid.tile_of_index(usize::try_from(count).unwrap()), None);
    }
}

#[rstest]
#[case::no_rows(&[], "the map has no tiles; give it at least one row with one glyph")]
#[case::no_columns(&[""], "the map has no tiles; give it at least one row with one glyph")]
#[case::uneven(&["..", "..."], "row 1 has 3 tiles, but row 0 has 2; make all rows equally long")]
#[case::unknown(&["..", ".~"], "'~' at column 1, row 1 is not in the legend; add it there")]
fn a_bad_map_says_what_and_where(#[case] rows: &[&str], #[case] message: &str) {
    assert_eq!(TileGrid::from_rows(rows, &legend()).unwrap_err().to_string(), message);
}

#[test]
fn a_glyph_given_twice_has_its_last_meaning() {
    let legend = Legend::new().with('#', TileKind::wall("bed")).with('#', TileKind::floor("gravel"));
    assert!(!legend.get('#').unwrap().blocks());
    assert_eq!(legend.iter().count(), 1);
}

properties! {
    500;

    #[test]
    fn a_ball_in_a_closed_box_follows_the_triangle_wave_of_its_axes(
        bounces >= 7600;
        x in 0.6f32..5.4, y in 0.6f32..3.4, vx in -9.0f32..9.0, vy in -9.0f32..9.0, round in any::<bool>(),
    ) {
        let room = map(&["......", "......", "......", "......"]);
        let ball = if round { Footprint::circle(0.5).unwrap() } else { Footprint::rect(1.0, 1.0).unwrap() };
        let start = vec2(x - 3.0, y - 2.0);
        let (mut position, mut velocity) = (start, vec2(vx, vy));
        for tick in 1..=600u16 {
            let dt = 1.0 / 60.0;
            let step = Motion::new(velocity * dt, velocity, Angle::ZERO);
            let result = resolve(&room, &ball, position, step, &WallFilter::ALL, |_| Response::bounce(1.0));
            bounces.add(result.contacts.len());
            (position, velocity) = (result.position, result.velocity);
            prop_assert_eq!(velocity.abs(), vec2(vx, vy).abs(), "the speed is kept to the last bit");
            // Unfolded, the way is straight; folded back into the free width it is where the ball is.
            let folded = |start: f32, speed: f32, half: f32| {
                let way = (f64::from(start) + f64::from(half) + f64::from(speed) * f64::from(tick) / 60.0)
                    .rem_euclid(4.0 * f64::from(half));
                (if way > 2.0 * f64::from(half) { 4.0 * f64::from(half) - way } else { way }) - f64::from(half)
            };
            let expected = (folded(start.x, vx, 2.5), folded(start.y, vy, 1.5));
            let off = (f64::from(position.x) - expected.0).hypot(f64::from(position.y) - expected.1);
            prop_assert!(off < 1e-3, "{off} off after {tick} ticks");
        }
    }
}

#[rstest]
#[case::bounce(Response::bounce(0.5), vec2(-2.25, 1.5), vec2(-90.0, 60.0))]
#[case::a_dead_bounce_slides(Response::bounce(0.0), vec2(-0.75, 1.5), vec2(0.0, 60.0))]
#[case::slide(Response::Slide, vec2(-0.75, 1.5), vec2(0.0, 60.0))]
#[case::stop(Response::Stop, vec2(-0.75, 1.0), vec2(0.0, 0.0))]
fn each_response_leaves_what_it_says(#[case] response: Response, #[case] end: Vec2, #[case] velocity: Vec2) {
    let grid = map(&["...#...", "...#...", "...#...", "...#...", "...#...", "...#...", "...#..."]);
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    // Six units to the right and one down, of which a half is free.
    let step = Motion::new(vec2(6.0, 1.0), vec2(180.0, 60.0), Angle::ZERO);
    let result = resolve(&grid, &footprint, vec2(-3.75, 0.5), step, &WallFilter::ALL, |_| response);
    let expected_unspent = if response == Response::Stop { vec2(3.0, 0.5) } else { Vec2::ZERO };
    assert_eq!((result.position, result.velocity), (end, velocity));
    assert!(result.remaining.distance(expected_unspent) < 1e-6, "{}", result.remaining);
}

#[test]
fn a_response_may_differ_from_wall_to_wall() {
    let grid = pillar();
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    let mut met = Vec::new();
    let result =
        resolve(&grid, &footprint, vec2(-2.0, 0.0), motion(vec2(4.0, 9.0)), &WallFilter::ALL, |hit| {
            met.push(hit.wall);
            if hit.wall == Wall::tile(ivec2(3, 3)) { Response::Slide } else { Response::Stop }
        });
    assert_eq!(met.len(), result.contacts.total());
    assert_eq!(result.velocity, Vec2::ZERO);
}

#[test]
fn feelers_tell_the_room_on_four_sides() {
    let footprint = Footprint::rect(0.5, 0.5).unwrap();
    let feelers = Feelers::of(&pillar(), &footprint, vec2(-2.0, 0.0), 3.0, &WallFilter::ALL);
    assert_eq!(feelers, Feelers { left: 1.25, right: 1.25, lower_y: 3.0, higher_y: 3.0 });
}
