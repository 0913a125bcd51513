//! What a value was made from can be read from it again, and a wrapper that changes nothing changes nothing.

use ambulant::arcade::{Paddle, Projectile};
use ambulant::direction::{Axis, Side};
use ambulant::drive::{Drag, Drive, Falling, Glide, Helm, OneAxis, Steering};
use ambulant::prelude::*;
use ambulant::shape::{Aabb, Solid};
use ambulant::steps::{Diagonals, Easing, StepMode, StepRules};
use ambulant::terrain::{EdgeRule, Layers, Outside, PlayArea, TileForm, World};
use ambulant::time::Ticks;
use ambulant::view::View;
use glam::ivec2;
use proptest::prelude::*;

use crate::scene::map;

properties! {
    256;

    #[test]
    fn a_drive_has_the_numbers_it_was_made_from(
        [speed, a, f, turning] in prop::array::uniform4(1.0f32..500.0),
        [rest, turn, reverse, grip] in prop::array::uniform4(0.5f32..9.0),
        rate in 0.1f32..5.0,
    ) {
        let gait = Gait::new(speed, a, f).unwrap();
        prop_assert_eq!((gait.top_speed(), gait.acceleration(), gait.friction(), gait.turning()), (speed, a, f, a));
        prop_assert_eq!(gait.with_turning(turning).unwrap().turning(), turning);
        let drag = Drag::per_second(rate).unwrap();
        let glide = Glide::new(a, drag, rest).unwrap();
        prop_assert_eq!((glide.thrust(), glide.drag().rate(), glide.rest_speed()), (a, rate, rest));
        let helm = Helm::new(turn, a, drag, Steering::Toward).unwrap();
        prop_assert_eq!((helm.turn_rate(), helm.thrust(), helm.reverse(), helm.grip()), (turn, a, 0.5 * a, 0.0));
        prop_assert_eq!((helm.drag().rate(), helm.rest_speed(), helm.steering()), (rate, 0.0, Steering::Toward));
        let helm = helm.with_grip(grip).unwrap().with_reverse(reverse).unwrap().with_rest_speed(rest).unwrap();
        prop_assert_eq!((helm.grip(), helm.reverse(), helm.rest_speed()), (grip, reverse, rest));
        prop_assert_eq!(helm.on_rails().grip(), f32::INFINITY);
        let fall = Falling::new(gait, vec2(0.0, a), speed).unwrap();
        prop_assert_eq!((fall.limit(), fall.drive().friction()), (speed, f));
        prop_assert!((fall.pull() - vec2(0.0, a)).length() <= 1e-6 * a);
    }

    #[test]
    fn a_place_has_the_numbers_it_was_made_from(
        [x, y] in prop::array::uniform2(-90.0f32..90.0),
        [width, height, scale] in prop::array::uniform3(1.0f32..90.0),
    ) {
        let view = View::new(vec2(width, height), scale).unwrap().at(vec2(x, y));
        prop_assert_eq!((view.size(), view.scale(), view.center), (vec2(width, height), scale, vec2(x, y)));
        let area = PlayArea::new(vec2(x, y), vec2(x + width, y + height)).unwrap();
        prop_assert_eq!(area.area(), Aabb::from_corners(vec2(x, y), vec2(x + width, y + height)));
        let wraps = area.with_all(EdgeRule::Wrap).with(Side::Top, EdgeRule::Open);
        prop_assert_eq!((wraps.rule(Side::Top), wraps.rule(Side::Left)), (EdgeRule::Open, EdgeRule::Wrap));
        let grid = map(&["....", "...."]).with_tile_size(scale).unwrap().with_origin(vec2(x, y)).unwrap();
        prop_assert_eq!((grid.size(), grid.tile_size().x, grid.outside()), (ivec2(4, 2), scale, Outside::Block));
        prop_assert_eq!((grid.area().min, grid.with_y_axis(YAxis::Up).y_axis()), (vec2(x, y), YAxis::Up));
        let mut walls = World::new();
        let solid = Solid::box_from_corners(vec2(x, y), vec2(x + width, y + height)).unwrap();
        let id = walls.add_on(Layers::bit(3), solid);
        prop_assert_eq!((walls.solid(id), walls.layers(id), walls.walls().count()), (Some(&solid), Some(Layers::bit(3)), 1));
    }

    /// An area contains its lower edges and not its upper ones.
    #[test]
    fn a_box_contains_what_lies_between_its_edges(
        inside >= 35;
        [x, y] in prop::array::uniform2(-9.0f32..9.0),
        [width, height, px, py] in prop::array::uniform4(0.5f32..9.0),
    ) {
        inside.when(px < width && py < height);
        let area = Aabb::from_corners(vec2(x, y), vec2(x + width, y + height));
        prop_assert_eq!(area.contains(vec2(x + px, y + py)), x + px < area.max.x && y + py < area.max.y);
        prop_assert!(area.contains(area.min) && !area.contains(area.max) && !area.contains(vec2(x - px, y)));
    }
}

#[test]
fn rules_have_the_values_they_were_given() {
    let rules = StepRules::new(4.0).unwrap();
    assert_eq!((rules.speed(), rules.mode(), rules.diagonals()), (4.0, StepMode::RunOn, Diagonals::Off));
    assert_eq!((rules.pushes(), rules.easing()), (false, Easing::Linear));
    let rules = rules.with_mode(StepMode::Tap).with_input_buffer(0.5).unwrap().with_easing(Easing::Smooth);
    let rules = rules.pushing().with_speed(8.0).unwrap();
    assert_eq!((rules.speed(), rules.mode(), rules.input_buffer()), (8.0, StepMode::Tap, 0.5));
    assert_eq!((rules.pushes(), rules.easing()), (true, Easing::Smooth));
    let ticks = Ticks::new(50.0).unwrap();
    assert_eq!((ticks.seconds(), ticks.is_paused(), ticks.dropped()), (0.02, false, 0.0));
    let paddle = Paddle::facing(vec2(0.0, -1.0), 1.0).unwrap();
    assert_eq!(paddle.away(), vec2(0.0, -1.0));
    let shot =
        Projectile::aimed(vec2(1.0, 2.0), vec2(1.0, 9.0), 3.0, Footprint::circle(0.5).unwrap()).unwrap();
    assert_eq!((shot.position(), shot.velocity()), (vec2(1.0, 2.0), vec2(0.0, 3.0)));
    let bed = TileKind::wall("bed").with_layers(Layers::bit(2)).closed_from(Side::Left);
    assert_eq!(
        (bed.name(), bed.form(), bed.layers(), bed.blocks()),
        ("bed", TileForm::Full, Layers::bit(2), true)
    );
    let surface = Surface::PLAIN.with_grip(0.2).unwrap().with_belt(vec2(3.0, 0.0)).unwrap();
    let ice = TileKind::floor("ice").with_surface(surface.with_speed_factor(0.5).unwrap());
    assert_eq!((ice.surface().grip(), ice.surface().belt(), ice.blocks()), (0.2, vec2(3.0, 0.0), false));
    assert_eq!(ice.surface().speed_factor(), 0.5);
}

#[test]
fn a_drag_is_the_same_from_each_of_its_forms() {
    let rate = -60.0 * 0.98f32.ln();
    let forms = [
        Drag::kept_per_frame(0.98, 60.0),
        Drag::kept_per_second((-rate).exp()),
        Drag::half_life(2f32.ln() / rate),
        Drag::per_second(rate),
    ];
    for form in forms {
        assert!((form.unwrap().rate() / rate - 1.0).abs() < 1e-5);
    }
}

/// Grip of the floor reaches the drive through its wrappers, and a helm at rest accelerates at its thrust.
#[test]
fn a_wrapped_drive_feels_the_grip_of_the_floor() {
    let rail = OneAxis { drive: Gait::new(60.0, 200.0, 200.0).unwrap(), axis: Axis::X };
    let right = Intent::new(vec2(1.0, 0.0));
    let ice = Surface::PLAIN.with_grip(0.25).unwrap();
    assert!((rail.acceleration_of(Momentum::default(), right, &ice).x - 50.0).abs() < 1e-3);
    let helm = Helm::new(2.0, 30.0, Drag::per_second(1.0).unwrap(), Steering::Toward)
        .unwrap()
        .with_grip(3.0)
        .unwrap();
    assert!((helm.acceleration_of(Momentum::default(), right, &Surface::PLAIN).x - 30.0).abs() < 0.1);
}
