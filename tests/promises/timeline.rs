//! One timeline: walls and movers that move at the same time.

use std::cell::Cell;

use ambulant::prelude::*;
use ambulant::shape::{Polygon, overlap};
use ambulant::terrain::WallMotion;
use proptest::prelude::*;

use crate::scene::Dice;

/// A random wall of any kind near a place.
pub(crate) fn any_wall(dice: &mut Dice, near: Vec2) -> Solid {
    let kind = dice.pick(4);
    let mut spot = |reach: f32| near + vec2(dice.number(-reach, reach), dice.number(-reach, reach));
    match kind {
        0 => Solid::box_from_corners(spot(4.0), spot(4.0)),
        1 => Solid::circle(spot(2.0), 0.3 + (spot(1.0) - near).length()),
        2 => Solid::segment(spot(4.0), spot(4.0)),
        _ => {
            let corners = [spot(3.0), spot(3.0), spot(3.0)];
            return Polygon::new(&corners).map_or_else(|_| Solid::circle(near, 1.0).unwrap(), Into::into);
        }
    }
    .unwrap()
}

/// A footprint and a wall that both move are first together at the instant that a hit reports, however fast they are:
/// before it they are apart in each of many moments, after it they overlap, unless they only graze.
#[test]
fn a_moving_wall_is_hit_where_both_are_then() {
    let (hits, clean, fast, in_pieces) = (Cell::new(0), Cell::new(0), Cell::new(0), Cell::new(0));
    proptest::test_runner::TestRunner::new(crate::cases(4000))
        .run(&(any::<u64>(), crate::scene::any_footprint()), |(seed, footprint)| {
            let mut dice = Dice::new(seed);
            let speed = [3.0, 30.0, 300.0][dice.pick(3)];
            let from = vec2(dice.number(-8.0, 8.0), dice.number(-8.0, 8.0));
            let mut velocity = || vec2(dice.number(-speed, speed), dice.number(-speed, speed));
            let velocities = [velocity(), velocity(), Vec2::ZERO];
            let near = vec2(dice.number(-5.0, 5.0), dice.number(-5.0, 5.0));
            let solid = any_wall(&mut dice, near);
            let pieces = 1 + dice.pick(3);
            let lasts = 1.0 / [1.0, 2.0, 3.0][pieces - 1];
            let start = dice.number(0.0, 0.2);
            let motion = velocities.map(|velocity| WallMotion::new(velocity, lasts));
            let mut world = World::new();
            let wall = world.add(solid);
            prop_assert!(world.move_in(wall, motion.into_iter().take(pieces)));
            // The same path by hand.
            let wall_at = |time: f64| {
                let piece =
                    |number: usize| (time - number as f64 * f64::from(lasts)).clamp(0.0, f64::from(lasts));
                (0..pieces).map(|number| velocities[number].as_dvec2() * piece(number)).sum::<glam::DVec2>()
            };
            // Towards where the wall is in the middle, more or less.
            let meets = near.as_dvec2() + wall_at(f64::from(start) + 0.35) - from.as_dvec2();
            let displacement = (meets * 2.0).as_vec2() + vec2(dice.number(-2.0, 2.0), dice.number(-2.0, 2.0));
            // As the wall sees it, which keeps the rounding small.
            let depth_at = |part: f64| {
                let moved = displacement.as_dvec2() * part - wall_at(f64::from(start) + part * 0.7);
                overlap(&footprint, (from.as_dvec2() + moved).as_vec2(), &solid)
                    .map_or(0.0, |inside| inside.depth)
            };
            let hit = world.sweep(&footprint, from, displacement, &WallFilter::ALL.during(start, 0.7));
            let end = hit.map_or(1.0, |hit| f64::from(hit.fraction));
            if depth_at(0.0) > 0.0 {
                return Ok(());
            }
            for moment in 0..2000 {
                let part = end * f64::from(moment) / 2000.0;
                prop_assert!(depth_at(part) < 2e-4, "{} deep at {part} before {hit:?}", depth_at(part));
            }
            let Some(hit) = hit else {
                clean.set(clean.get() + 1);
                return Ok(());
            };
            hits.set(hits.get() + 1);
            fast.set(fast.get() + usize::from(speed > 100.0));
            in_pieces.set(in_pieces.get() + usize::from(pieces > 1));
            let at = (from.as_dvec2() + displacement.as_dvec2() * end).as_vec2();
            prop_assert!(hit.position.distance(at) < 2e-4 * speed.max(1.0), "{} and {at}", hit.position);
            let relative = displacement - hit.velocity * 0.7;
            if relative.dot(hit.normal) < -0.05 * relative.length() {
                // On by a thousandth of a unit, it is inside.
                let inside = depth_at(end + 1e-3 / f64::from(-relative.dot(hit.normal)));
                let is_late = end + 1e-3 / f64::from(-relative.dot(hit.normal)) > 1.0;
                prop_assert!(is_late || inside > 1e-4, "{inside} deep after {hit:?}");
            }
            Ok(())
        })
        .unwrap();
    let counts = [&hits, &clean, &fast, &in_pieces].map(Cell::get);
    assert!(counts[0] > 500 && counts[1] > 500 && counts[2] > 150 && counts[3] > 300, "{counts:?}");
}
