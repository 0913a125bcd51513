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
        consider(exact + normal * one.short(exact).max(0.0));
        for other in limits.clone().skip(place + 1) {
            let second = other.normal.as_dvec2();
            let (along, least) = (normal.perp_dot(second), (f64::from(one.least), f64::from(other.least)));
            let cross =
                DVec2::new(least.0 * second.y - least.1 * normal.y, least.1 * normal.x - least.0 * second.x);
            consider(cross / along);
        }
    }
    nearest.map(|(_, velocity)| velocity.as_vec2())
}
