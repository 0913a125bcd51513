//! What the library says of its values: every text that a person reads, against a table.

use ambulant::arcade::{Paddle, Projectile};
use ambulant::direction::{Facing, Side};
use ambulant::drive::{Drag, Gait, Glide};
use ambulant::intent::Stick;
use ambulant::prelude::*;
use ambulant::shape::{MAX_CORNERS, Polygon, Solid};
use ambulant::steps::{
    BlockedBy, Claims, PortalError, Portals, StepGround, StepMode, StepRules, Stepper, StrideEvent,
};
use ambulant::terrain::{Layers, Wall, World};
use rstest::rstest;

fn legend() -> Legend {
    Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"))
}

fn map() -> TileGrid {
    TileGrid::from_rows(&["..#", "...", "..."], &legend()).unwrap()
}

fn text_of<T, E: core::fmt::Display>(result: Result<T, E>) -> String {
    match result {
        Ok(_) => "no error".to_owned(),
        Err(error) => error.to_string(),
    }
}

fn polygon(corners: &[(f32, f32)]) -> String {
    text_of(Polygon::new(&corners.iter().map(|(x, y)| vec2(*x, *y)).collect::<Vec<_>>()))
}

#[rstest]
#[case::below_zero(text_of(Gait::new(-3.0, 1.0, 1.0)), "top_speed is -3, but must be a finite number above 0 (units/s)")]
#[case::no_number(
    text_of(Drag::half_life(f32::NAN)),
    "half_life is NaN, but must be a finite number above 0 (seconds)"
)]
#[case::too_few_corners(polygon(&[(0.0, 0.0), (1.0, 0.0)]),
    &format!("a polygon has 2 corners, but must have 3 to {MAX_CORNERS}; split a larger one"))]
#[case::corner_without_place(polygon(&[(0.0, 0.0), (f32::NAN, 0.0), (0.0, 1.0)]), "corner 1 is not a finite place")]
#[case::dent(polygon(&[(0.0, 0.0), (4.0, 0.0), (1.0, 1.0), (0.0, 4.0)]),
    "the outline does not turn outwards at corner 2; remove it, or split the polygon there")]
#[case::empty_map(text_of(TileGrid::from_rows(&[""; 0], &legend())),
    "the map has no tiles; give it at least one row with one glyph")]
#[case::uneven(text_of(TileGrid::from_rows(&["..", "..."], &legend())),
    "row 1 has 3 tiles, but row 0 has 2; make all rows equally long")]
#[case::unknown_glyph(text_of(TileGrid::from_rows(&["..", ".?"], &legend())),
    "'?' at column 1, row 1 is not in the legend; add it there")]
#[case::outside(text_of(map().set(ivec2(3, -1), map().kind_id(IVec2::ZERO).unwrap())), "tile [3, -1] lies outside the map of 3 columns and 3 rows")]
#[case::portal_on_a_wall(text_of(Portals::new(&map(), &[(ivec2(0, 0), ivec2(2, 0))])),
    "the portal end [2, 0] blocks; choose a free tile")]
#[case::portal_outside(text_of(Portals::new(&map(), &[(ivec2(0, 0), ivec2(0, 9))])),
    "the portal end [0, 9] lies outside the map")]
#[case::portal_twice(text_of(Portals::new(&map(), &[(ivec2(0, 0), ivec2(0, 1)), (ivec2(0, 1), ivec2(1, 1))])),
    "two portals end at [0, 1]; a tile may be the end of one")]
fn an_error_says_what_is_wrong_and_what_to_do(#[case] said: String, #[case] wanted: &str) {
    assert_eq!(said, wanted);
}

#[test]
fn a_stepper_says_why_it_cannot_stand_somewhere() {
    let map = map();
    let (ground, mut claims) = (StepGround::new(&map), Claims::new());
    let rules = StepRules::new(4.0).unwrap().with_mode(StepMode::RunOn);
    let first = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims).unwrap();
    let mut on = |x, y| text_of(Stepper::on(ivec2(x, y), rules, &ground, &mut claims));
    assert_eq!(on(2, 0), "tile 2,0 blocks; choose a free one");
    assert_eq!(on(0, 0), format!("tile 0,0 is taken by {}; choose a free one", first.id()));
    assert_eq!(on(0, 7), "tile 0,7 lies outside the map of 3 columns and 3 rows");
    assert_eq!(first.id().to_string(), "mover 0");
}

#[rstest]
#[case(Wall::tile(ivec2(3, -4)), "tile 3,-4")]
#[case(Wall::Edge(Side::Bottom), "bottom edge")]
fn a_wall_is_named(#[case] wall: Wall, #[case] said: &str) {
    assert_eq!(wall.to_string(), said);
}

#[test]
fn every_event_of_a_step_is_said_in_words() {
    let by = BlockedBy::ClosedSide { tile: ivec2(2, 1), side: Side::Top };
    let told = [
        (StrideEvent::Turned { to: Facing::Left }, "turned left"),
        (StrideEvent::Left { tile: ivec2(0, 1) }, "left tile 0,1"),
        (StrideEvent::Entered { tile: ivec2(1, 1) }, "entered tile 1,1"),
        (
            StrideEvent::Passed { entrance: ivec2(0, 0), exit: ivec2(5, 2) },
            "entered the portal at 0,0 and left it at 5,2",
        ),
        (
            StrideEvent::Blocked { direction: Facing::DownRight, by },
            "down-right is blocked by the closed top of tile 2,1",
        ),
        (StrideEvent::Rested { tile: ivec2(1, 2) }, "came to rest on tile 1,2"),
    ];
    for (event, said) in told {
        assert_eq!(event.to_string(), said);
    }
    let others = [
        (BlockedBy::Tile(ivec2(1, 0)), "tile 1,0"),
        (BlockedBy::Corner(ivec2(1, 0)), "the corner of tile 1,0"),
        (BlockedBy::Edge, "the map's edge"),
    ];
    for (by, said) in others {
        assert_eq!(by.to_string(), said);
    }
}

#[rstest]
#[case(Layers::NONE, "no layer")]
#[case(Layers::ALL, "all layers")]
#[case(Layers::bit(0) | Layers::bit(5), "layers 0 5")]
fn layers_are_listed(#[case] layers: Layers, #[case] said: &str) {
    assert_eq!(layers.to_string(), said);
}

#[test]
fn warnings_say_what_it_will_feel_like() {
    let said =
        |warnings: Vec<ambulant::Warning>| warnings.iter().map(ToString::to_string).collect::<Vec<_>>();
    assert_eq!(
        said(Gait::new(60.0, 400.0, 100.0).unwrap().warnings()),
        ["friction 100 is weaker than acceleration 400: stopping takes longer than starting"]
    );
    assert_eq!(
        said(Glide::new(60.0, Drag::NONE, 7.0).unwrap().warnings()),
        ["rest_speed 7 is above the 6 units/s of a tap of 0.1 s: such a tap stops at once"]
    );
    assert_eq!(
        said(Stick::new(0.95, 1.0, 1.0).unwrap().warnings()),
        ["dead_zone 0.95 leaves less than a tenth of the range of the stick"]
    );
}

#[test]
fn a_passage_is_one_line() {
    let mut posts = World::new();
    posts.add(Solid::box_from_corners(vec2(4.0, -5.0), vec2(6.0, 5.0)).unwrap());
    let mut cart =
        Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0).unwrap(), Gait::new(8.0, 1e6, 1e6).unwrap());
    let result = cart.tick(Intent::new(Vec2::X), 0.5, &posts);
    let line = result.to_string();
    assert!(
        line.starts_with("ended at (3.000, 0.000) with (0.00, 0.00) units/s; obstacle 0.0 met on its left"),
        "{line}"
    );
    assert!(line.contains("took (8.00, 0.00) and left (0.00, 0.00) units/s"), "{line}");
    let mut free = cart.tick(Intent::new(-Vec2::X), 0.125, &posts);
    assert_eq!(free.to_string(), "ended at (2.000, 0.000) with (-8.00, 0.00) units/s; nothing met");
    free.stalled = 0.0125;
    assert!(free.to_string().ends_with("; nothing met; 0.0125 s played along a chord"), "{free}");
}

#[test]
fn a_number_that_is_refused_is_named_with_its_unit() {
    let aimed = Projectile::aimed(Vec2::ZERO, Vec2::ZERO, 5.0, Footprint::circle(1.0).unwrap());
    assert_eq!(
        text_of(aimed),
        "distance is 0, but must be a finite number above 0 (units): aim at another place"
    );
    let velocity_transfer = Paddle::facing(Vec2::Y, 1.0).unwrap().with_velocity_transfer(-0.5);
    assert_eq!(
        text_of(velocity_transfer),
        "velocity_transfer is -0.5, but must be a finite factor of at least 0"
    );
    assert_eq!(
        PortalError::OneEnd { tile: ivec2(4, 2) }.to_string(),
        "the portal at [4, 2] has one end; give it two tiles"
    );
}
