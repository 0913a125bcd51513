//! All parts of a pose together, updated by one call per tick.

use glam::Vec2;

use super::{DiagonalRule, Lean, Sectors, Stance, WalkCycle};
use crate::direction::{Angle, Facing, YAxis};
use crate::error::InvalidNumber;
use crate::intent::Directions;
use crate::tolerance::USUAL_HYSTERESIS;

/// What a mover looks like: facing, mirrored or not, standing or moving, lean, and the frame of its walk.
///
/// ```
/// use ambulant::direction::YAxis;
/// use ambulant::intent::Directions;
/// use ambulant::direction::Facing;
/// use ambulant::pose::{DiagonalRule, Lean, Pose, Sectors, Stance, WalkCycle};
/// use glam::{Vec2, vec2};
///
/// let mut pose = Pose::new(
///     Sectors::new(Directions::Four, DiagonalRule::Sideways, 0.1)?,
///     Stance::new(5.0, 1.0, 2.0)?,
///     WalkCycle::by_distance(32.0, 4)?,
///     Lean::new(0.001, 0.2, 0.1)?,
/// );
/// pose.tick(vec2(-1.0, 0.0), vec2(-60.0, 0.0), vec2(-1.0, 0.0), 1.0 / 60.0, YAxis::Down);
/// pose.tick(Vec2::ZERO, Vec2::ZERO, Vec2::ZERO, 1.0 / 60.0, YAxis::Down);
/// assert_eq!(pose.facing(), Facing::Left); // kept when it stops
/// assert!(pose.is_mirrored() && pose.just_stopped());
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Pose {
    /// How directions become facings.
    pub sectors: Sectors,
    /// Whether it stands or moves.
    pub stance: Stance,
    /// Its walk.
    pub walk: WalkCycle,
    /// Its lean.
    pub lean: Lean,
    facing: Facing,
    mirrored: bool,
    changed: bool,
}

impl Pose {
    /// A pose that stands and faces down.
    #[must_use]
    pub const fn new(sectors: Sectors, stance: Stance, walk: WalkCycle, lean: Lean) -> Self {
        Self { sectors, stance, walk, lean, facing: Facing::Down, mirrored: false, changed: false }
    }

    /// A pose with usual values for a mover with four facings: it moves above 5 units/s and stands below 1, is idle after
    /// 3 s, and does not lean. A cycle of `frames` pictures is shown per `cycle_length` units.
    ///
    /// # Errors
    /// The length of the cycle must be finite and above 0.
    pub fn four_way(cycle_length: f32, frames: u32) -> Result<Self, InvalidNumber> {
        Self::usual(Directions::Four, cycle_length, frames)
    }

    /// The same with eight facings.
    ///
    /// # Errors
    /// The length of the cycle must be finite and above 0.
    pub fn eight_way(cycle_length: f32, frames: u32) -> Result<Self, InvalidNumber> {
        Self::usual(Directions::Eight, cycle_length, frames)
    }

    fn usual(directions: Directions, cycle_length: f32, frames: u32) -> Result<Self, InvalidNumber> {
        let walk = WalkCycle::by_distance(cycle_length, frames)?;
        let sectors = Sectors::new(directions, DiagonalRule::Sideways, USUAL_HYSTERESIS)?;
        Ok(Self::new(sectors, Stance::new(5.0, 1.0, 3.0)?, walk, Lean::new(0.0, 0.0, 1.0)?))
    }

    /// Takes in a tick: the direction to face (the intent, or the velocity if the picture should show where it
    /// moves), the velocity in units/s, the displacement that was made in units, and the time.
    pub fn tick(&mut self, looks: Vec2, velocity: Vec2, displacement: Vec2, dt: f32, y_axis: YAxis) {
        self.facing = self.sectors.facing(self.facing, looks, y_axis);
        if looks.x != 0.0 && looks.x.is_finite() {
            self.mirrored = looks.x < 0.0;
        }
        self.changed = self.stance.tick(velocity.length(), dt);
        self.walk.tick(displacement.length(), dt, self.stance.is_moving());
        self.lean.tick(velocity.x, dt);
    }

    /// The facing; it is kept when the mover stops.
    #[must_use]
    pub const fn facing(&self) -> Facing {
        self.facing
    }

    /// Whether to mirror a picture that looks to the right; the side is kept while the mover looks up or down.
    #[must_use]
    pub const fn is_mirrored(&self) -> bool {
        self.mirrored
    }

    /// The angle at which to draw a picture that points along `art`: for pictures that turn freely.
    #[must_use]
    pub fn picture_angle(heading: Angle, art: Angle) -> Angle {
        heading.turned_by(-art.radians())
    }

    /// Whether it started moving in this tick.
    #[must_use]
    pub const fn just_started(&self) -> bool {
        self.changed && self.stance.is_moving()
    }

    /// Whether it stopped in this tick.
    #[must_use]
    pub const fn just_stopped(&self) -> bool {
        self.changed && !self.stance.is_moving()
    }
}
