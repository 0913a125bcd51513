//! Squeezing: while there is no room between a moving wall and another one, the mover overlaps the moving one. It is
//! moved out as soon as the shortest way is free.

use glam::Vec2;

use super::instants::first_time;
use super::mover::Mover;
use super::tick::Tick;
use crate::shape::tolerance;
use crate::terrain::{Terrain, Wall, WallFilter};
use crate::tolerance::{MOST_SQUEEZED_STEPS, PUSHED_INTO, SQUEEZED_DEPTH, SQUEEZED_STEP};
use crate::travel::Squeeze;

/// Where a mover is looked at, and when.
#[derive(Debug, Clone, Copy)]
struct Look {
    position: Vec2,
    now: f64,
}

/// The way out of a wall.
#[derive(Debug, Clone, Copy)]
struct WayOut {
    wall: Wall,
    /// Zero if the mover cannot go out of it.
    by: Vec2,
}

impl Mover<'_> {
    /// If no velocity is allowed: reports that the mover is squeezed, and lets the wall that pushes it pass.
    pub(super) fn find_squeeze(&self, tick: &mut Tick<'_>) {
        if let Some((by, against)) = tick.touched.walls.squeeze() {
            tick.squeezed(by, against);
            tick.touched.walls.retain(|wall| wall.wall != by);
        }
    }

    /// Moves a mover out of a moving wall that it overlaps, by the shortest way, if that is free. If not, the wall passes. One
    /// that is held to an axis does not leave its axis. The mover has moved by a displacement in so many seconds before.
    pub(super) fn leave_moving_wall(
        &mut self,
        tick: &mut Tick<'_>,
        terrain: &dyn Terrain,
        (moved, lasts): (Vec2, f32),
    ) {
        tick.squeezing = None;
        let here = Look { position: self.position, now: self.now };
        let Some(way) = self.inside(here, terrain) else { return };
        if !self.is_free(here, way, terrain) {
            tick.squeezing = Some(way.wall);
            return;
        }
        let by =
            if lasts > 0.0 { self.way_when_freed(here, way, (moved, lasts), terrain).by } else { way.by };
        self.moved(|place| place.shift(by.as_dvec2()));
        tick.moved_out(by);
        // What it touched is elsewhere.
        self.see_from(Vec2::ZERO, &mut tick.touched);
        tick.touched = tick.touched.after_slide(&self.drive);
        self.find_carriers(tick, terrain);
    }

    /// The way out at the instant at which it became free: the mover would have left then, so a wall that has gone on since is not
    /// followed.
    fn way_when_freed(
        &self,
        here: Look,
        way: WayOut,
        (moved, lasts): (Vec2, f32),
        terrain: &dyn Terrain,
    ) -> WayOut {
        let free_way = |part: f32| {
            let (position, now) =
                (here.position - moved * (1.0 - part), here.now - f64::from(lasts * (1.0 - part)));
            let then = Look { position, now };
            self.inside(then, terrain).filter(|way| self.is_free(then, *way, terrain))
        };
        let freed = first_time(1.0, |part| free_way(part).is_some());
        let is_longer = |then: &WayOut| {
            then.wall == way.wall
                && then.by.length_squared() > way.by.length_squared()
                && self.is_free(here, *then, terrain)
        };
        free_way(freed).filter(is_longer).unwrap_or(way)
    }

    /// Whether a mover can go out of a wall.
    fn is_free(
        &self,
        Look { position, now }: Look,
        WayOut { wall, by }: WayOut,
        terrain: &dyn Terrain,
    ) -> bool {
        let own = [wall];
        let others = WallFilter::ALL.except(&own).exactly_during(now, 0.0);
        by != Vec2::ZERO
            && terrain.sweep(self.footprint, position, by, &others).is_none()
            && !terrain.overlaps(self.footprint, position + by, &others)
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
        let way =
            deepest.and_then(|(depth, normal)| Some(self.way_off(normal.as_vec2())?.as_dvec2() * depth));
        if let Some(way) = way {
            self.moved(|place| place.carry(way));
        }
    }

    /// The moving wall that a mover is deepest inside of, and the shortest way out.
    fn inside(&self, Look { position, now }: Look, terrain: &dyn Terrain) -> Option<WayOut> {
        let (middle, mut deepest) = (self.footprint.middle(position), None);
        let walls = WallFilter::ALL.exactly_during(now, 0.0);
        terrain.walls_in(self.footprint.at(position), &walls, &mut |found| {
            if found.moves() {
                let (depth, normal) = found.outline(self.footprint).depth(middle);
                let is_deeper = deepest.is_none_or(|(_, known, _)| depth > known);
                if tolerance(self.footprint, middle).overlaps(depth) && is_deeper {
                    deepest = Some((found.wall, depth, normal));
                }
            }
        });
        deepest.map(|(wall, depth, normal)| {
            let by = self.way_off(normal.as_vec2()).map(|way| (way.as_dvec2() * depth).as_vec2());
            WayOut { wall, by: by.unwrap_or_default() }
        })
    }
}

/// For how many seconds a squeezed mover moves, at most, until it is looked at again in a tick of `dt` seconds.
pub(super) fn squeezed_step(remaining: f32, dt: f32) -> f32 {
    remaining.min(SQUEEZED_STEP.max(dt / MOST_SQUEEZED_STEPS))
}

impl Tick<'_> {
    /// Reports a squeeze, if it is the first one, and lets the wall pass for the rest of the tick.
    fn squeezed(&mut self, by: Wall, against: Wall) {
        let squeeze = Squeeze { by, against, seconds: self.at(self.remaining) };
        self.result.squeezed = self.result.squeezed.or(Some(squeeze));
        self.squeezing = Some(by);
    }
}
