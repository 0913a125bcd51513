//! Velocities among limits: walls and neighbours that a mover must not enter.

use glam::{DVec2, Vec2};

/// A velocity must have at least so much along a normal, in units/s.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Limit {
    pub(crate) normal: Vec2,
    pub(crate) least: f32,
}

impl Limit {
    /// By how much a velocity falls short of it, in units/s; negative if it does not.
    fn short(&self, velocity: DVec2) -> f64 {
        f64::from(self.least) - velocity.dot(self.normal.as_dvec2())
    }
}

/// The velocity nearest to a wish that keeps to all limits; `None` if there is none.
///
/// It is the wish, or lies on one limit straight below the wish, or where two limits cross.
pub(crate) fn nearest_velocity(wish: Vec2, limits: impl Iterator<Item = Limit> + Clone) -> Option<Vec2> {
    let exact = wish.as_dvec2();
    // Limits through one velocity hold there up to rounding.
    let rounding =
        1e-5 + 1e-6 * limits.clone().fold(exact.length(), |most, limit| most.max(limit.least.abs().into()));
    let keeps = |velocity: DVec2| limits.clone().all(|limit| limit.short(velocity) <= rounding);
    if limits.clone().all(|limit| limit.short(exact) <= 0.0) {
        return Some(wish);
    }
    let mut nearest: Option<(f64, DVec2)> = None;
    let mut consider = |velocity: DVec2| {
        let distance = velocity.distance_squared(exact);
        if velocity.is_finite() && nearest.is_none_or(|(known, _)| distance < known) && keeps(velocity) {
            nearest = Some((distance, velocity));
        }
    };
    for (place, one) in limits.clone().enumerate() {
        let normal = one.normal.as_dvec2();
        let short = one.short(exact);
        consider(exact + normal * short.max(0.0));
        // Where two limits cross to which the wish keeps, no velocity is nearest to it.
        for other in limits.clone().skip(place + 1).filter(|other| short > 0.0 || other.short(exact) > 0.0) {
            let second = other.normal.as_dvec2();
            let (along, least) = (normal.perp_dot(second), (f64::from(one.least), f64::from(other.least)));
            let cross =
                DVec2::new(least.0 * second.y - least.1 * normal.y, least.1 * normal.x - least.0 * second.x);
            consider(cross / along);
        }
    }
    nearest.map(|(_, velocity)| velocity.as_vec2())
}

#[cfg(test)]
mod tests {
    use core::cell::Cell;

    use crate::random::random;
    use proptest::prelude::*;

    use super::*;

    /// Limits that all hold at one velocity: one is found, it keeps to all of them, and none on a ring nearer to the wish does.
    #[test]
    fn the_nearest_velocity_keeps_to_all_limits_and_none_is_nearer() {
        let crossings = Cell::new(0);
        proptest!(random(2000), |(
            angles in prop::collection::vec((0.0f32..6.3, 0.0f32..2.0, any::<bool>()), 1..6), at in (0.0f32..6.3, 0.0f32..90.0),
            wish in (0.0f32..6.3, 0.0f32..90.0),
        )| {
            let through = Vec2::from_angle(at.0) * at.1;
            let wish = Vec2::from_angle(wish.0) * wish.1;
            // Half of them go through one velocity, so that more than two can meet there.
            let limits = angles.iter().map(|(angle, slack, touches)| {
                let normal = Vec2::from_angle(*angle);
                Limit { normal, least: through.dot(normal) - if *touches { 0.0 } else { *slack } }
            });
            let keeps = |velocity: Vec2, slack: f64| limits.clone().all(|limit| limit.short(velocity.as_dvec2()) <= slack);
            let found = nearest_velocity(wish, limits.clone()).expect("all hold at one velocity");
            prop_assert!(keeps(found, 3e-4), "{found}");
            let distance = found.distance(wish);
            crossings.set(crossings.get() + u32::from(found.distance(through) < 1e-3));
            for spoke in 0u8..64 {
                let near = wish + Vec2::from_angle(f32::from(spoke) * 0.098_17) * (distance * 0.995 - 1e-3).max(0.0);
                prop_assert!(distance < 1e-3 || !keeps(near, 0.0), "{near} is nearer than {found} to {wish}");
            }
        });
        assert!(crossings.get() > 200, "{crossings:?}");
    }
}
