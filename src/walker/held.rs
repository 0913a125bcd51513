//! The walls that a walker lies against within one tick.

use glam::Vec2;

use crate::drive::Motion;
use crate::intent::Intent;
use crate::tolerance::WEDGED;
use crate::travel::without_inward;

/// Two walls hold a mover in the plane; a third cannot take more away.
const MOST: usize = 2;

/// The normals of the walls touched so far in this tick.
#[derive(Debug, Clone, Copy)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(super) struct Held {
    normals: [Vec2; MOST],
    count: usize,
    /// The velocity of what carries the mover.
    ground: Vec2,
    /// The way round the end of a wall, where it is led there.
    lead: Option<Vec2>,
}

impl Held {
    /// No wall yet.
    pub(super) const fn none(ground: Vec2) -> Self {
        Self { normals: [Vec2::ZERO; MOST], count: 0, ground, lead: None }
    }

    /// Whether there is no wall.
    pub(super) const fn is_empty(&self) -> bool {
        self.count == 0
    }

    /// Takes the way round the end of a wall.
    pub(super) const fn lead(&mut self, aside: Vec2) {
        self.lead = Some(aside);
    }

    /// The way round the end of a wall, where it is led there.
    pub(super) const fn leads(&self) -> Option<Vec2> {
        self.lead
    }

    /// Ends the way round, and returns it.
    pub(super) const fn end_lead(&mut self) -> Option<Vec2> {
        self.lead.take()
    }

    /// Adds a wall; of more than two the oldest is forgotten and met again if it still matters.
    pub(super) fn hold(&mut self, normal: Vec2) {
        if self.iter().any(|known| known == normal) {
            return;
        }
        if self.count == MOST {
            self.normals.rotate_left(1);
            self.count -= 1;
        }
        self.normals[self.count] = normal;
        self.count += 1;
    }

    /// Forgets a wall.
    pub(super) fn let_go(&mut self, normal: Vec2) {
        let kept = *self;
        *self = Self { lead: self.lead, ..Self::none(self.ground) };
        kept.iter().filter(|&known| known != normal).for_each(|known| self.hold(known));
    }

    pub(super) fn iter(&self) -> impl Iterator<Item = Vec2> {
        self.normals.into_iter().take(self.count)
    }

    /// A velocity over the ground without what leads into these walls. Where the ground carries the
    /// mover away from a wall, walking against it as fast is standing still.
    #[inline]
    pub(super) fn velocity(&self, velocity: Vec2) -> Vec2 {
        if self.is_empty() { velocity } else { self.velocity_left(velocity) }
    }

    fn velocity_left(&self, velocity: Vec2) -> Vec2 {
        let allowed = |normal: Vec2| normal * self.ground.dot(normal).max(0.0);
        let left = self
            .iter()
            .fold(velocity, |left, normal| without_inward(left + allowed(normal), normal) - allowed(normal));
        self.unless_wedged(left, |normal| (left + allowed(normal)).dot(normal))
    }

    /// An intent without what leads into these walls, for a drive of this top speed.
    pub(super) fn wish(&self, intent: Intent, top_speed: f32) -> Intent {
        if self.ground == Vec2::ZERO || !top_speed.is_finite() || top_speed == 0.0 {
            return Intent::new(self.displacement(intent.vector()));
        }
        Intent::new(self.velocity(intent.vector() * top_speed) / top_speed)
    }

    /// A displacement without what leads into these walls.
    #[inline]
    pub(super) fn displacement(&self, displacement: Vec2) -> Vec2 {
        if self.is_empty() { displacement } else { self.displacement_left(displacement) }
    }

    fn displacement_left(&self, displacement: Vec2) -> Vec2 {
        let left = self.iter().fold(displacement, without_inward);
        self.unless_wedged(left, |normal| left.dot(normal))
    }

    /// Between two slanted walls, what the second one leaves may lead into the first: then nothing is
    /// left.
    fn unless_wedged(&self, left: Vec2, outward: impl Fn(Vec2) -> f32) -> Vec2 {
        let slack = left.length() * WEDGED;
        if self.iter().any(|normal| outward(normal) < -slack) { Vec2::ZERO } else { left }
    }

    /// A motion without what leads into these walls: a belt or a thrust may push where no wish does.
    #[inline]
    pub(super) fn slid(&self, motion: Motion) -> Motion {
        let (displacement, velocity) =
            (self.displacement(motion.displacement), self.velocity(motion.velocity));
        Motion { displacement, velocity, ..motion }
    }
}
