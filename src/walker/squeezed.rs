//! Squeezing: while there is no room between a moving wall and another one, the mover overlaps the moving one. It is
//! moved out as soon as the shortest way is free.

use glam::Vec2;

use super::mover::Mover;
use super::tick::Tick;
use crate::shape::tolerance;
use crate::terrain::{Terrain, Wall, WallFilter};
use crate::tolerance::{MOST_SQUEEZED_STEPS, PUSHED_INTO, SQUEEZED_DEPTH, SQUEEZED_STEP};
use crate::travel::Squeeze;

impl Mover<'_> {
    /// If no velocity is allowed: reports that the mover is squeezed, and lets the wall that pushes it pass.
    pub(super) fn find_squeeze(&self, tick: &mut Tick<'_>) {
        if let Some((by, against)) = tick.touched.walls.squeeze() {
            tick.squeezed(by, against);
            tick.touched.walls.retain(|wall| wall.wall != by);
        }
    }

    /// Moves a mover out of a moving wall that it overlaps, by the shortest way, if that is free. If not, the wall passes.
    pub(super) fn leave_moving_wall(&mut self, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        tick.squeezing = None;
        let Some((wall, out)) = self.inside(terrain) else { return };
        let own = [wall];
        let others = WallFilter::ALL.except(&own).exactly_during(self.now, 0.0);
        let is_free = terrain.sweep(self.footprint, self.position, out, &others).is_none()
            && !terrain.overlaps(self.footprint, self.position + out, &others);
        if is_free {
            self.moved(|place| place.shift(out));
            tick.moved_out(out);
        } else {
            tick.squeezing = Some(wall);
        }
    }

    /// At the end of a tick in which a moving wall was met: a mover that is inside a wall without a report was squeezed
    /// into it, since no place beside it was found.
    pub(super) fn report_overlap(&self, by: Wall, tick: &mut Tick<'_>, terrain: &dyn Terrain) {
        let (middle, mut inside) = (self.footprint.middle(self.position), None);
        terrain.walls_in(self.footprint.at(self.position), &self.walls_now(), &mut |found| {
            if found.outline(self.footprint).depth(middle).0 > SQUEEZED_DEPTH {
                inside = Some(if found.moves() { (found.wall, by) } else { (by, found.wall) });
            }
        });
        if let Some((by, against)) = inside {
            tick.squeezed(by, against);
        }
    }

    /// At the end of a tick in which a moving wall was met: a mover that was pushed a little into another wall is set against
    /// that one, since it would be ignored from then on. It may overlap the moving wall instead.
    pub(super) fn leave_standing_walls(&mut self, terrain: &dyn Terrain) {
        let (middle, mut deepest) = (self.footprint.middle(self.position), None);
        let most = f64::from(self.footprint.size().min_element()) * PUSHED_INTO;
        terrain.walls_in(self.footprint.at(self.position), &self.walls_now(), &mut |found| {
            let (depth, normal) = found.outline(self.footprint).depth(middle);
            let is_deep = tolerance(self.footprint, middle).overlaps(depth) && depth < most;
            let counts = is_deep && !found.moves();
            if counts && deepest.is_none_or(|(known, _)| depth > known) {
                deepest = Some((depth, normal));
            }
        });
        if let Some((depth, normal)) = deepest {
            self.moved(|place| place.carry(normal * depth));
        }
    }

    /// The moving wall that the mover is deepest inside of, and the shortest way out.
    fn inside(&self, terrain: &dyn Terrain) -> Option<(Wall, Vec2)> {
        let (middle, mut deepest) = (self.footprint.middle(self.position), None);
        terrain.walls_in(self.footprint.at(self.position), &self.walls_now(), &mut |found| {
            if found.moves() {
                let (depth, normal) = found.outline(self.footprint).depth(middle);
                let is_deeper = deepest.is_none_or(|(_, known, _)| depth > known);
                if tolerance(self.footprint, middle).overlaps(depth) && is_deeper {
                    deepest = Some((found.wall, depth, normal));
                }
            }
        });
        deepest.map(|(wall, depth, normal)| (wall, (normal * depth).as_vec2()))
    }
}

/// For how many seconds a squeezed mover moves until it is looked at again.
pub(super) fn squeezed_step(remaining: f32) -> f32 {
    remaining.min(SQUEEZED_STEP.max(remaining / MOST_SQUEEZED_STEPS))
}

impl Tick<'_> {
    /// Reports a squeeze, if it is the first one, and lets the wall pass for the rest of the tick.
    fn squeezed(&mut self, by: Wall, against: Wall) {
        let squeeze = Squeeze { by, against, seconds: self.at(self.remaining) };
        self.result.squeezed = self.result.squeezed.or(Some(squeeze));
        self.squeezing = Some(by);
    }
}
