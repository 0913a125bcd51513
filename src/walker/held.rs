//! The walls that a walker lies against within one tick.

use glam::Vec2;

use crate::drive::Motion;
use crate::travel::without_inward;

/// Two walls hold a mover in the plane; a third cannot take more away.
const MOST: usize = 2;

/// The normals of the walls touched so far in this tick.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Held {
    normals: [Vec2; MOST],
    count: usize,
}

impl Held {
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
        *self = Self::default();
        kept.iter().filter(|&known| known != normal).for_each(|known| self.hold(known));
    }

    pub(super) fn iter(&self) -> impl Iterator<Item = Vec2> {
        self.normals.into_iter().take(self.count)
    }

    /// A velocity or wish without what points into these walls.
    pub(super) fn along(&self, vector: Vec2) -> Vec2 {
        self.iter().fold(vector, without_inward)
    }

    /// A motion without what leads into these walls: a belt or a thrust may push where no wish does.
    pub(super) fn slid(&self, motion: Motion) -> Motion {
        let (displacement, velocity) = (self.along(motion.displacement), self.along(motion.velocity));
        Motion { displacement, velocity, ..motion }
    }
}
