//! What walls in contact allow: half-planes of velocities, and the allowed velocity nearest to a given one.
//!
//! A wall with normal `n` allows the velocities `v` with `v · n >= least`. The allowed set of several walls is
//! convex, so it has one nearest point, which does not depend on the order of the walls: the velocity itself, or its
//! projection onto one wall if all others allow that, or the point where the borders of two walls cross. `least` is 0
//! for a standing wall, and below 0 where a belt moves the mover away from the wall: walking against the belt is
//! standing still.
//!
//! A projection is built from the tangent, `t (t · v)`, never as a difference: what rounding lets point into the wall
//! is a fraction of the slid vector's own length, even if the wall is met head-on. So "along" has one meaning
//! everywhere ([`ALONG`]), and no other tolerance is needed to decide when two walls wedge a mover: the nearest point
//! is zero then.

use glam::{DVec2, Vec2};

use crate::contact::ALONG;
use crate::direction::Axis;
use crate::exact::along;
use crate::shape::Feature;
use crate::terrain::{Hit, Wall};
use crate::tolerance::{HEAD_ON, MOST_CONSTRAINTS, SAME_CONTACT};

/// A wall in contact.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Constraint {
    pub(crate) wall: Wall,
    pub(crate) normal: Vec2,
    /// A position of the mover against the surface.
    surface: DVec2,
    /// Whether the surface is round there.
    pub(crate) is_round: bool,
    /// The least speed along the normal, relative to the belt: 0 or below.
    least: f32,
}

/// The walls that a mover is in contact with at one instant.
#[derive(Debug, Clone, Copy)]
pub(crate) struct WallConstraints {
    walls: [Constraint; MOST_CONSTRAINTS],
    count: usize,
    /// The velocity of the belt that the mover is on, in units/s.
    ground: Vec2,
    /// The axis that the mover is held to.
    axis: Option<Axis>,
}

impl WallConstraints {
    /// No walls yet, for a mover on a belt of this velocity (units/s), held to an axis if given.
    pub(crate) const fn none(ground: Vec2, axis: Option<Axis>) -> Self {
        let empty = Constraint {
            wall: Wall::tile(glam::IVec2::ZERO),
            normal: Vec2::ZERO,
            surface: DVec2::ZERO,
            is_round: false,
            least: 0.0,
        };
        Self { walls: [empty; MOST_CONSTRAINTS], count: 0, ground, axis }
    }

    #[inline]
    pub(crate) const fn is_empty(&self) -> bool {
        self.count == 0
    }

    #[inline]
    pub(crate) const fn count(&self) -> usize {
        self.count
    }

    pub(crate) fn iter(&self) -> impl Iterator<Item = &Constraint> {
        self.walls[..self.count].iter()
    }

    /// Whether one of the walls is round.
    pub(crate) fn any_round(&self) -> bool {
        self.iter().any(|wall| wall.is_round)
    }

    /// Adds a wall. A convex wall gives one constraint: where its surface turns, the new normal replaces the old one.
    pub(crate) fn add(&mut self, hit: &Hit) {
        let wall = hit.wall;
        let normal = self.axis.map_or(hit.normal, |axis| held_to(axis, hit.normal));
        // A mover that is held to an axis stops there.
        let is_round = hit.exact.feature == Feature::Round && self.axis.is_none();
        let added = Constraint { wall, normal, surface: hit.exact.position, is_round, least: 0.0 };
        let same = |known: &&mut Constraint| {
            known.normal == normal || known.wall == wall && known.normal.dot(normal) > SAME_CONTACT
        };
        if let Some(known) = self.walls[..self.count].iter_mut().find(same) {
            *known = added;
        } else {
            if self.count == MOST_CONSTRAINTS {
                self.walls.rotate_left(1);
                self.count -= 1;
            }
            self.walls[self.count] = added;
            self.count += 1;
        }
        self.find_least();
    }

    /// Sets the normal of the one wall that the mover rolls along, and its position against it.
    pub(crate) fn roll(&mut self, normal: Vec2, surface: DVec2) {
        self.walls[0] = Constraint { normal, surface, ..self.walls[0] };
        self.find_least();
    }

    /// Drops all walls but one.
    pub(crate) fn only(&mut self, wall: Constraint) {
        self.walls[0] = wall;
        self.count = 1;
        self.find_least();
    }

    /// Sets the velocity of the belt that the mover is on.
    pub(crate) fn carry(&mut self, ground: Vec2) {
        self.ground = ground;
        self.walls[..self.count].iter_mut().for_each(|wall| wall.least = 0.0);
        self.find_least();
    }

    /// Finds how fast the mover may walk against each wall: as fast as the belt moves it away, with what all walls
    /// leave of the belt's velocity.
    fn find_least(&mut self) {
        if self.ground != Vec2::ZERO {
            let carried = self.displacement(self.ground);
            for wall in &mut self.walls[..self.count] {
                wall.least = (-carried.dot(wall.normal)).min(0.0);
            }
        }
    }

    /// Keeps the walls for which a condition holds.
    pub(crate) fn retain(&mut self, keep: impl Fn(&Constraint) -> bool) {
        let mut kept = 0;
        for place in 0..self.count {
            if keep(&self.walls[place]) {
                if kept != place {
                    self.walls[kept] = self.walls[place];
                }
                kept += 1;
            }
        }
        if self.count != kept {
            self.count = kept;
            self.find_least();
        }
    }

    /// The nearest allowed velocity, relative to the belt.
    #[inline]
    pub(crate) fn velocity(&self, velocity: Vec2) -> Vec2 {
        match self.count {
            0 => velocity,
            1 => self.walls[0].nearest(velocity, self.walls[0].least),
            _ => self.nearest(velocity, |wall| wall.least),
        }
    }

    /// The nearest allowed displacement, including that of the belt.
    #[inline]
    pub(crate) fn displacement(&self, displacement: Vec2) -> Vec2 {
        match self.count {
            0 => displacement,
            1 => self.walls[0].nearest(displacement, 0.0),
            _ => self.nearest(displacement, |_| 0.0),
        }
    }

    #[inline(never)]
    fn nearest(&self, wanted: Vec2, least: impl Fn(&Constraint) -> f32) -> Vec2 {
        let allowed = |vector: Vec2, but: [usize; 2]| {
            let slack = vector.length() * ALONG_F32;
            let mut others = (0..self.count).filter(|place| !but.contains(place));
            others.all(|place| {
                let wall = &self.walls[place];
                vector.dot(wall.normal) >= least(wall) - slack
            })
        };
        let mut is_free = true;
        for (place, wall) in self.iter().enumerate() {
            if wanted.dot(wall.normal) < least(wall) {
                is_free = false;
                // If all walls allow a projection, it is the nearest point.
                let slid = wall.nearest(wanted, least(wall));
                if allowed(slid, [place, place]) {
                    return slid;
                }
            }
        }
        if is_free {
            return wanted + Vec2::ZERO;
        }
        let mut best: Option<Vec2> = None;
        for (first, one) in self.iter().enumerate() {
            for (second, other) in self.iter().enumerate().skip(first + 1) {
                let crossing = crossing((one.normal, least(one)), (other.normal, least(other)));
                let nearer = |known: Vec2| crossing.distance_squared(wanted) < known.distance_squared(wanted);
                if crossing.is_finite() && allowed(crossing, [first, second]) && best.is_none_or(nearer) {
                    best = Some(crossing);
                }
            }
        }
        best.unwrap_or(Vec2::ZERO)
    }
}

/// The normal of a wall for a mover that is held to an axis: a wall that is not parallel to the axis counts as
/// perpendicular to it.
fn held_to(axis: Axis, normal: Vec2) -> Vec2 {
    let across = axis.only(normal);
    if across.length() > HEAD_ON { across.signum() * axis.only(Vec2::ONE) } else { normal }
}

/// [`ALONG`] for `f32` vectors.
#[expect(clippy::cast_possible_truncation, reason = "a named constant, rounded once")]
const ALONG_F32: f32 = ALONG as f32;

/// A vector without its part into a wall; what points along or away stays the same.
pub(crate) fn without_inward(vector: Vec2, normal: Vec2) -> Vec2 {
    if vector.dot(normal) >= 0.0 { vector } else { along(vector, normal) }
}

/// Where the borders of two half-planes cross; not finite where they are parallel.
fn crossing((normal, least): (Vec2, f32), (other, other_least): (Vec2, f32)) -> Vec2 {
    if least == 0.0 && other_least == 0.0 {
        return Vec2::ZERO;
    }
    (other.perp() * -least + normal.perp() * other_least) / normal.perp_dot(other)
}

impl Constraint {
    /// The nearest vector that this wall alone allows.
    #[inline]
    fn nearest(&self, wanted: Vec2, least: f32) -> Vec2 {
        if wanted.dot(self.normal) >= least {
            // A drive turns a blocked intent into negative zeros; adding zero makes them plain.
            return wanted + Vec2::ZERO;
        }
        let slid = along(wanted, self.normal);
        if least == 0.0 { slid } else { slid + self.normal * least + Vec2::ZERO }
    }

    /// The same wall at another place of it: its normal there, a position of the mover against it, and whether it is round.
    pub(crate) const fn at(&self, normal: Vec2, surface: DVec2, is_round: bool) -> Self {
        Self { normal, surface, is_round, ..*self }
    }

    /// A hit of this wall as it was found, for setting a mover against its surface again.
    pub(crate) const fn surface(&self) -> (Vec2, DVec2) {
        (self.normal, self.surface)
    }
}

#[cfg(test)]
mod tests {
    use glam::DVec2;
    use proptest::prelude::*;

    use super::*;
    use crate::direction::Side;
    use crate::terrain::Layers;

    fn hit(angle: f32, tile: i32) -> Hit {
        let normal = Vec2::from_angle(angle);
        let exact = crate::terrain::Exact { at: 0.0, position: DVec2::ZERO, feature: Feature::Side };
        let wall = Wall::tile(glam::ivec2(tile, 0));
        let (position, point, side) = (Vec2::ZERO, Vec2::ZERO, Side::Top);
        let (velocity, steady) = (Vec2::ZERO, f32::INFINITY);
        let layers = Layers::FIRST;
        Hit { fraction: 0.0, position, point, normal, side, wall, layers, tag: 0, velocity, exact, steady }
    }

    #[test]
    fn a_wall_whose_surface_turns_gives_one_constraint() {
        let mut walls = WallConstraints::none(Vec2::ZERO, None);
        for angle in [1.0, 1.2, 1.5] {
            walls.add(&hit(angle, 0));
        }
        assert!(
            walls.iter().map(|wall| wall.normal).eq([Vec2::from_angle(1.5)]),
            "the last one replaces the others"
        );
        // Another side of it, and the same normal of another wall.
        walls.add(&hit(3.0, 0));
        walls.add(&hit(1.6, 1));
        assert_eq!(walls.count(), 3);
    }

    proptest! {
        #![proptest_config(ProptestConfig { cases: 2000, failure_persistence: None, ..ProptestConfig::default() })]

        #[test]
        fn the_nearest_allowed_velocity_depends_on_no_order_and_nothing_allowed_is_nearer(
            angles in prop::collection::vec(0.0f32..6.3, 1..5), turn in 0usize..5, toward in 0.0f32..6.3,
            ground in (-1.0f32..1.0, -1.0f32..1.0), carried in any::<bool>(), speed in 0.01f32..100.0,
        ) {
            let ground = if carried { Vec2::from(ground) } else { Vec2::ZERO };
            let build = |from: usize, reversed: bool| {
                let mut walls = WallConstraints::none(ground, None);
                let count = angles.len();
                for place in 0..count {
                    let place = if reversed { count - 1 - place } else { place };
                    let place = (place + from) % count;
                    walls.add(&hit(angles[place], i32::try_from(place).unwrap()));
                }
                walls
            };
            let wanted = Vec2::from_angle(toward) * speed;
            let walls = build(0, false);
            let found = walls.velocity(wanted);
            for reversed in [false, true] {
                let other = build(turn, reversed).velocity(wanted);
                prop_assert!(found.distance(other) <= 1e-5 * speed, "{found} and {other}");
            }
            let allows = |velocity: Vec2, slack: f32| {
                walls.iter().all(|wall| velocity.dot(wall.normal) >= wall.least - slack)
            };
            prop_assert!(allows(found, 1e-5 * (speed + 1.0)), "{found} is not allowed");
            // No position on a ring of positions nearer to the wanted one is allowed.
            let distance = found.distance(wanted) - 1e-3 * speed;
            for spoke in 0u8..64 {
                let near = wanted + Vec2::from_angle(f32::from(spoke) * 0.098_17) * distance.max(0.0);
                prop_assert!(distance <= 0.0 || !allows(near, 0.0), "{near} is nearer than {found} to {wanted}");
            }
        }
    }
}
