//! How long a wall can move before it squeezes someone: for doors that wait.

use super::state::Walker;
use crate::drive::{Drive, Gait, OneAxis};
use crate::intent::Intent;
use crate::terrain::{Wall, World};
use crate::time::seconds;
use crate::tolerance::GAP_BEHIND;
use crate::touch_tolerance;
use crate::travel::Squeeze;

impl World {
    /// For how many of the next `dt` seconds a wall can move as it does in this tick until it would squeeze one of some
    /// movers, each taken as standing still, or as carried by its floor; `dt` if it squeezes none. It ends slightly before,
    /// while there is still a gap of a few [tolerances](crate::touch_tolerance).
    ///
    /// Call it before the tick, and let a door that waits [stop](Self::stop_after) then. A mover that walks in later in the
    /// same tick is squeezed and reported.
    ///
    /// For movers with drives of different types, take the least of several calls.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let mut world = World::new();
    /// let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0))?);
    /// world.add(Solid::box_from_corners(vec2(8.0, -5.0), vec2(9.0, 5.0))?); // a post
    /// let mut gardener = Walker::new(vec2(4.0, 0.0), Footprint::rect(2.0, 2.0)?, Gait::new(60.0, 400.0, 500.0)?);
    ///
    /// world.move_at(door, vec2(8.0, 0.0));
    /// let free = world.free_time(door, [&gardener], 1.0);
    /// assert!((free - 0.5).abs() < 1e-5); // four units, up to where the gardener stands against the post
    /// world.stop_after(door, free);
    /// let result = gardener.tick(Intent::NONE, 1.0, &world);
    /// world.advance(1.0);
    /// assert!(result.squeezed.is_none() && (world.solid(door).unwrap().bounds().max.x - 6.0).abs() < 1e-4);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub fn free_time<'a, D: Drive + 'a>(
        &self,
        wall: Wall,
        movers: impl IntoIterator<Item = &'a Walker<D>>,
        dt: f32,
    ) -> f32 {
        let Ok(gait) = Gait::new(1.0, 1.0, 1.0) else { return 0.0 };
        let dt = seconds(dt);
        movers.into_iter().fold(dt, |free, mover| {
            let mut standing = mover.with_drive(gait);
            (standing.velocity, standing.hover) = (glam::Vec2::ZERO, None);
            let result = match mover.drive.axis() {
                Some(axis) => {
                    standing.with_drive(OneAxis { drive: gait, axis }).tick(Intent::NONE, free, self)
                }
                None => standing.tick(Intent::NONE, free, self),
            };
            let squeezed = result.squeezed.filter(|squeeze| squeeze.by == wall || squeeze.against == wall);
            squeezed.map_or(free, |squeeze| self.just_before(&squeeze, &standing))
        })
    }

    /// The instant at which there is still a gap behind a mover, which no rounding closes: else it would depend on
    /// rounding whether the mover touches the wall behind.
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    fn just_before<D>(&self, squeeze: &Squeeze, mover: &Walker<D>) -> f32 {
        let at = f64::from(squeeze.seconds);
        let speed = [squeeze.by, squeeze.against].map(|wall| self.speed_at(wall, at));
        let furthest = mover.position.abs().max_element() + mover.footprint.size().max_element();
        let gap = GAP_BEHIND * touch_tolerance(f64::from(furthest));
        (at - gap / f64::from(speed[0] + speed[1])).max(0.0) as f32
    }
}
