//! A walker with a pose and a contact tracker, as most movers need.

use super::Walker;
use crate::drive::Drive;
use crate::intent::Intent;
use crate::pose::Pose;
use crate::terrain::Terrain;
use crate::travel::{MoveResult, TouchChange, Touching};

/// A walker, its pose and its touches, updated by one call per tick.
///
/// It is only these parts: each can be taken out, changed and used alone.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::direction::Facing;
/// use ambulant::pose::Pose;
/// use ambulant::walker::Character;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....#"], &legend)?.with_tile_size(16.0)?;
/// let walker = Walker::new(vec2(8.0, 8.0), Footprint::rect(10.0, 8.0)?, Gait::new(60.0, 400.0, 500.0)?);
/// let mut gardener = Character::new(walker, Pose::four_way(32.0, 4)?);
///
/// let mut phases = Vec::new();
/// for _ in 0..120 {
///     let _ = gardener.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &map, |change| phases.push(change.phase));
/// }
/// assert_eq!(gardener.pose.facing(), Facing::Right);
/// assert!(!gardener.pose.stance.is_moving()); // pressed on the bed, it stands
/// assert!(phases.len() > 10 && gardener.touching.iter().count() == 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Character<D> {
    /// Position, velocity, footprint and drive.
    pub walker: Walker<D>,
    /// Its pose.
    pub pose: Pose,
    /// Its touches.
    pub touching: Touching,
    /// What its picture faces.
    pub faces: Faces,
}

/// What the picture of a character faces. One that steers faces along its heading either way.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::walker::Faces;
///
/// let wind = Surface::PLAIN;
/// let walker = Walker::new(Vec2::ZERO, Footprint::circle(1.0)?, Gait::new(20.0, 50.0, 50.0)?);
/// let mut moth = Character::new(walker, Pose::four_way(8.0, 4)?);
/// moth.walker.velocity = vec2(20.0, 0.0);
/// let _ = moth.tick(Intent::new(vec2(-1.0, 0.0)), 0.1, &wind, |_| {});
/// assert_eq!(moth.pose.facing(), Facing::Left); // where it wants to go
/// moth.faces = Faces::Velocity;
/// let _ = moth.tick(Intent::new(vec2(-1.0, 0.0)), 0.1, &wind, |_| {});
/// assert_eq!(moth.pose.facing(), Facing::Right); // where it still moves
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Faces {
    /// Where the player wants to go: it turns at once, and toward a wall that it presses on.
    #[default]
    Intent,
    /// Where it moves: it turns with the motion, and along a wall that it slides along.
    Velocity,
}

impl<D: Drive> Character<D> {
    /// A character that touches nothing yet.
    #[must_use]
    pub fn new(walker: Walker<D>, pose: Pose) -> Self {
        Self { walker, pose, touching: Touching::default(), faces: Faces::Intent }
    }

    /// Advances by one tick of `dt` seconds and calls `on_touch` for each touch that started, continues or ended.
    pub fn tick(
        &mut self,
        intent: Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        on_touch: impl FnMut(TouchChange),
    ) -> MoveResult {
        let before = self.walker.position;
        let result = self.walker.tick_tracking(intent, dt, terrain, &mut self.touching, on_touch);
        let looks = match self.faces {
            _ if self.walker.drive.steers() => self.walker.heading.vector(),
            Faces::Intent => intent.vector(),
            Faces::Velocity => self.walker.velocity,
        };
        // Its legs do not walk where a wall moves it.
        let displacement = self.walker.position - before - result.pushed - result.moved_out;
        self.pose.tick(looks, self.walker.velocity, displacement, dt, terrain.y_axis());
        result
    }
}
