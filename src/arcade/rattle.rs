//! A ball that rattles between walls: touches so soon after each other that there is no room left to fly in.

use glam::Vec2;

use crate::terrain::{Hit, Wall};
use crate::tolerance::{MOST_RATTLES, RATTLE, SQUEEZED_OUT};
use crate::travel::{Limit, Squeeze, nearest_velocity};

/// The last touches of a ball, as long as each follows the one before within [`RATTLE`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Rattle {
    /// The last one of up to three walls, the latest one last.
    touches: [Touch; 3],
    walls: usize,
    /// How many there were.
    count: usize,
    /// When the last one was, in seconds into the tick.
    last: f64,
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Touch {
    wall: Wall,
    normal: Vec2,
    velocity: Vec2,
}

impl Touch {
    const NONE: Self = Self { wall: Wall::Own(0), normal: Vec2::ZERO, velocity: Vec2::ZERO };

    /// How fast it comes toward the ball, in units/s.
    fn pushes(&self) -> f32 {
        self.velocity.dot(self.normal)
    }
}

impl Rattle {
    /// No touches yet.
    pub(super) const NONE: Self =
        Self { touches: [Touch::NONE; 3], walls: 0, count: 0, last: f64::NEG_INFINITY };

    /// Whether there was a touch a moment ago.
    pub(super) const fn is_on(&self) -> bool {
        self.count > 1
    }

    /// Forgets all touches.
    pub(super) const fn clear(&mut self) {
        (self.walls, self.count, self.last) = (0, 0, f64::NEG_INFINITY);
    }

    /// Notes a touch at an instant.
    pub(super) fn touch(&mut self, hit: &Hit, now: f64) {
        if now - self.last > f64::from(RATTLE) {
            self.clear();
        }
        (self.count, self.last) = (self.count + 1, now);
        let touch = Touch { wall: hit.wall, normal: hit.normal, velocity: hit.velocity };
        let known = self.touches[..self.walls].iter().position(|known| known.wall == hit.wall);
        match known {
            Some(place) => self.touches[place..self.walls].rotate_left(1),
            None if self.walls == self.touches.len() => self.touches.rotate_left(1),
            None => self.walls += 1,
        }
        self.touches[self.walls - 1] = touch;
    }

    /// Whether the ball must stop bouncing, because some wall pushes it against another: the velocity with which it gets out
    /// between them, or none if it is squeezed.
    pub(super) fn ends(&self, velocity: Vec2) -> Option<Option<Vec2>> {
        let touches = &self.touches[..self.walls];
        if self.count <= MOST_RATTLES || !touches.iter().any(|touch| touch.pushes() > 0.0) {
            return None;
        }
        let limits = touches.iter().map(|touch| Limit { normal: touch.normal, least: touch.pushes() });
        let fastest = touches.iter().map(|touch| touch.velocity.length()).fold(0.0, f32::max);
        let fastest = fastest * SQUEEZED_OUT + velocity.length();
        Some(nearest_velocity(velocity, limits).filter(|velocity| velocity.length() <= fastest))
    }

    /// Between which walls it is squeezed.
    pub(super) fn squeeze(&self, seconds: f32) -> Squeeze {
        let touches = &self.touches[..self.walls];
        let by = touches.iter().max_by(|one, other| one.pushes().total_cmp(&other.pushes()));
        let by = by.map_or(Wall::Own(0), |touch| touch.wall);
        let against = touches.iter().rev().map(|touch| touch.wall).find(|wall| *wall != by);
        Squeeze { by, against: against.unwrap_or(by), seconds }
    }
}
