//! A ball: moves straight at constant speed until it meets a wall or leaves the play area.

use glam::Vec2;

use super::angle_limits::AngleLimits;
use super::flight::Flight;
use crate::direction::Side;
use crate::rounding::Rounding;
use crate::saved::Version;
use crate::shape::Footprint;
use crate::terrain::Layers;

/// A ball, or anything that moves straight and bounces.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new().with_play_area(PlayArea::new(vec2(0.0, 0.0), vec2(40.0, 30.0))?);
/// let mut drops = [Ball::new(vec2(20.0, 15.0), vec2(300.0, 0.0), Footprint::circle(1.0)?)];
/// // To the right side, to the left one and on in one tick.
/// let tick = tick_balls(&mut drops, 0.25, &mut world, |_, _| Decision::bounce(1.0));
/// assert_eq!(tick.count, 2);
/// assert_eq!(drops[0].position, vec2(19.0, 15.0)); // 19 to the side, 38 back, 18 on
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Ball {
    version: Version<1>,
    /// Its position, in world units.
    pub position: Vec2,
    /// Its velocity, in units/s.
    pub velocity: Vec2,
    /// Its shape: a circle or a box.
    pub footprint: Footprint,
    /// The layers that it collides with.
    pub mask: Layers,
    /// The smallest angles to the level and the upright after a bounce.
    pub angle_limits: AngleLimits,
    state: BallState,
    pub(super) rounding: Rounding,
    /// While a tick is played.
    #[cfg_attr(feature = "serde", serde(skip))]
    pub(super) flight: Flight,
}

/// Whether a ball is in play.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::BallState;
///
/// let open = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?.with(Side::Right, EdgeRule::Open);
/// let mut world = World::new().with_play_area(open);
/// let mut balls = [Ball::new(vec2(5.0, 5.0), vec2(20.0, 0.0), Footprint::circle(1.0)?)];
/// let _ = tick_balls(&mut balls, 1.0, &mut world, |_, _| Decision::bounce(1.0));
/// assert_eq!(balls[0].state(), BallState::Left(Side::Right));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum BallState {
    /// It moves.
    #[default]
    InPlay,
    /// It left the play area on an open side.
    Left(Side),
    /// It was removed at a wall.
    Removed,
    /// It was squeezed between walls that close: it stays where it was, and walls move over it.
    Squeezed,
}

impl Ball {
    /// A ball that collides with all layers, without angle limits.
    #[must_use]
    pub const fn new(position: Vec2, velocity: Vec2, footprint: Footprint) -> Self {
        Self {
            version: Version,
            position,
            velocity,
            footprint,
            mask: Layers::ALL,
            angle_limits: AngleLimits::ANY,
            state: BallState::InPlay,
            rounding: Rounding::NONE,
            flight: Flight::NONE,
        }
    }

    /// Whether it is in play, or why not.
    #[must_use]
    pub const fn state(&self) -> BallState {
        self.state
    }

    /// Whether it is in play. A ball that is not does not move.
    #[must_use]
    pub const fn is_in_play(&self) -> bool {
        matches!(self.state, BallState::InPlay)
    }

    /// Puts it in play again, at a position and with a velocity.
    pub const fn serve(&mut self, position: Vec2, velocity: Vec2) {
        (self.position, self.velocity, self.state) = (position, velocity, BallState::InPlay);
    }

    pub(super) const fn take_out(&mut self, state: BallState) {
        (self.velocity, self.state) = (Vec2::ZERO, state);
    }
}
