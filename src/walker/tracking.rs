//! A tick that keeps track of touches: the path of a walker is known, so their ends are exact.

use super::state::Walker;
use crate::drive::Drive;
use crate::intent::Intent;
use crate::terrain::{Terrain, WallFilter};
use crate::travel::{MoveResult, TouchChange, Touching};

impl<D: Drive> Walker<D> {
    /// The same as [`tick`](Self::tick); keeps `touching` up to date and calls `on_touch` for each touch that started,
    /// continues or ended, in order of time. Starts and ends have their exact instants.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::travel::{TouchPhase, Touching};
    ///
    /// // Along a bed of 16 units, in one long tick.
    /// let mut world = World::new();
    /// world.add(Solid::box_from_corners(vec2(0.0, 4.0), vec2(16.0, 8.0))?);
    /// let mut gardener = Walker::new(vec2(4.0, 0.0), Footprint::rect(4.0, 4.0)?, Pace::new(20.0)?);
    /// let (mut touching, mut changes) = (Touching::default(), Vec::new());
    /// let _ = gardener.tick_tracking(Intent::new(vec2(0.8, 0.6)), 2.0, &world, &mut touching, |change| {
    ///     changes.push((change.phase, (change.seconds * 1000.0).round()));
    /// });
    /// // Two units down at 12 units/s; then to 2 units past its end, 14 from the start, at 16.
    /// assert_eq!(changes, [(TouchPhase::Started, 167.0), (TouchPhase::Ended, 875.0)]);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn tick_tracking(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        touching: &mut Touching,
        mut on_touch: impl FnMut(TouchChange),
    ) -> MoveResult {
        let before = self.with_drive(());
        let result = self.tick(intent, dt, terrain);
        let own_wall = self.own_wall;
        let filter = WallFilter::on(self.mask).except(own_wall.as_slice());
        let position_at = |seconds: f32| {
            let mut walker = before.with_drive(&self.drive);
            let _ = walker.tick(intent, seconds, terrain);
            walker.exact_position()
        };
        touching.after_path(&result, &self.footprint, &terrain, &filter, &position_at, &mut on_touch);
        result
    }
}
