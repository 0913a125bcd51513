//! What a touch does besides taking velocity: a bounce, and the way round a corner.

use glam::Vec2;

use super::along_walls::AtWalls;
use super::mover::Mover;
use super::tick::Tick;
use crate::terrain::{Hit, Terrain};
use crate::tolerance::{MOST_RATTLES, RATTLE};
use crate::travel::{Contact, way_round};

impl Mover<'_> {
    /// The same hit in the world instead of in the frame, after a piece of so many seconds.
    #[inline(never)]
    pub(super) fn hit_in_world(&self, hit: &Hit, lasts: f32) -> Hit {
        let steady = hit.steady - lasts;
        Hit { steady, ..hit.moved_with(self.drive.frame(), f64::from(lasts)) }
    }

    /// Bounces off a wall after a piece of so many seconds, if it should and is fast enough. Off walls that move, it does not
    /// bounce for ever: a wall that was touched at the start of the tick pushes, and between walls that close, bounces end.
    pub(super) fn bounces(&mut self, hit: &Hit, lasts: f32, tick: &mut Tick<'_>) -> bool {
        let AtWalls::Bounce { restitution, least_speed } = self.along_walls.at_walls else { return false };
        let (before, inward) = (self.velocity, -(self.velocity - hit.velocity).dot(hit.normal));
        tick.rattles = if tick.meets_moving && lasts < RATTLE { tick.rattles + 1 } else { 0 };
        let lies_on = hit.velocity != Vec2::ZERO && self.now == 0.0 && -before.dot(hit.normal) <= least_speed;
        if inward <= least_speed || lies_on || tick.rattles > MOST_RATTLES {
            return false;
        }
        let Some(way) = self.way_off(hit.normal) else { return false };
        self.velocity += way * (inward * (1.0 + restitution));
        tick.report(Contact::new(hit, tick.at(tick.remaining), before, self.velocity));
        true
    }

    /// If corner help is on and the wall ends nearby, turns to go round it; `before` is the velocity at the touch.
    pub(super) fn lead(&mut self, before: Vec2, hit: &Hit, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let reach = self.along_walls.corner_help();
        if reach <= 0.0 || self.drive.steers() || self.drive.axis().is_some() {
            return;
        }
        let wish = tick.intent.vector();
        let round =
            way_round(terrain, self.footprint, self.position, (wish, hit.normal), reach, &self.walls_now());
        let aside = round.unwrap_or_default().normalize_or_zero();
        if aside != Vec2::ZERO {
            // Into the wall and along it, but not away from the corner.
            let (inward, along) = (before.dot(hit.normal).min(0.0), before.dot(aside).max(0.0));
            self.velocity = aside * libm::hypotf(inward, along);
            tick.touched.lead = Some(aside);
        }
    }
}
