//! A ball that rattles between walls: touches so soon after each other that there is no room left to fly in.

use glam::{DVec2, Vec2};

use crate::contact::touch_tolerance;
use crate::terrain::{Hit, Wall};
use crate::tolerance::{MOST_RATTLES, NO_ROOM, RATTLE, SQUEEZED_OUT};
use crate::travel::{Limit, Squeeze, nearest_velocity};

/// The last touches of a ball, as long as each follows the one before within [`RATTLE`].
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Rattle {
    /// The last one of up to three walls, the latest one last.
    touches: [Touch; 3],
    walls: usize,
    /// How many there were.
    count: usize,
}

/// What becomes of a ball that has touched a wall.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Rattles {
    /// It may bounce.
    No,
    /// It bounces no more, since there is a wall beyond; it moves on with this one, until there is no room left or the wall turns.
    WithWall,
    /// There is no room left: it gets out between the walls with this velocity.
    Out(Vec2),
    /// There is no room left, and no way out.
    Squeezed,
}

#[derive(Debug, Clone, Copy, PartialEq)]
struct Touch {
    wall: Wall,
    normal: Vec2,
    velocity: Vec2,
    /// Where the ball was.
    place: DVec2,
    /// In seconds into the tick.
    at: f64,
}

impl Touch {
    const NONE: Self = Self {
        wall: Wall::Own(0),
        normal: Vec2::ZERO,
        velocity: Vec2::ZERO,
        place: DVec2::ZERO,
        at: f64::NEG_INFINITY,
    };

    /// How fast it comes toward the ball, in units/s.
    fn pushes(&self) -> f32 {
        self.velocity.dot(self.normal)
    }

    /// How far the ball has got from the wall at another touch, in units.
    fn room(&self, now: &Self) -> f64 {
        (now.place - self.place).dot(self.normal.as_dvec2())
    }
}

impl Rattle {
    /// No touches yet.
    pub(super) const NONE: Self = Self { touches: [Touch::NONE; 3], walls: 0, count: 0 };

    /// Whether there was a touch a moment ago.
    pub(super) const fn is_on(&self) -> bool {
        self.count > 1
    }

    /// Forgets all touches.
    pub(super) const fn clear(&mut self) {
        (self.walls, self.count) = (0, 0);
    }

    /// Notes a touch at an instant, in seconds into the tick.
    pub(super) fn touch(&mut self, hit: &Hit, place: DVec2, at: f64) {
        if self.last().is_none_or(|last| at - last.at > f64::from(RATTLE)) {
            self.clear();
        }
        self.count += 1;
        let touch = Touch { wall: hit.wall, normal: hit.normal, velocity: hit.velocity, place, at };
        let known = self.touches[..self.walls].iter().position(|known| known.wall == hit.wall);
        match known {
            Some(place) => self.touches[place..self.walls].rotate_left(1),
            None if self.walls == self.touches.len() => self.touches.rotate_left(1),
            None => self.walls += 1,
        }
        self.touches[self.walls - 1] = touch;
    }

    fn last(&self) -> Option<&Touch> {
        self.touches[..self.walls].last()
    }

    /// What becomes of a ball with a velocity at its last touch.
    pub(super) fn ends(&self, velocity: Vec2) -> Rattles {
        let touches = &self.touches[..self.walls];
        let Some(last) = self.last() else { return Rattles::No };
        if self.count <= MOST_RATTLES || !touches.iter().any(|touch| touch.pushes() > 0.0) {
            return Rattles::No;
        }
        let no_room = touch_tolerance(last.place.abs().max_element()).max(NO_ROOM);
        let near = touches.iter().filter(|touch| touch.room(last) <= no_room);
        if near.clone().count() == 1 {
            return if last.pushes() > 0.0 { Rattles::WithWall } else { Rattles::No };
        }
        let fastest = near.clone().map(|touch| touch.velocity.length()).fold(0.0, f32::max);
        let fastest = fastest * SQUEEZED_OUT + velocity.length();
        let limits = near.map(|touch| Limit { normal: touch.normal, least: touch.pushes() });
        let out = nearest_velocity(velocity, limits).filter(|velocity| velocity.length() <= fastest);
        out.map_or(Rattles::Squeezed, Rattles::Out)
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
