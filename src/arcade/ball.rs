//! A ball: moves straight at constant speed until it meets a wall or leaves the play area.

use glam::Vec2;

use super::angle_limits::AngleLimits;
use super::decision::BallDoes;
use crate::contact::touch_tolerance;
use crate::direction::Side;
use crate::place::{Place, Rounding};
use crate::saved::Version;
use crate::shape::Footprint;
use crate::terrain::{Crossing, Hit, Layers, PlayArea, Terrain, Wall, WallFilter};
use crate::tolerance::MOST_PASSED_BY_BALL;
use crate::travel::Passed;

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
    rounding: Rounding,
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
}

/// What a ball meets next.
#[derive(Debug, Clone, Copy)]
pub(super) enum Next {
    /// A wall, after a part of the displacement.
    Wall(Hit, f64),
    /// A side that can be crossed.
    Edge(f32),
}

/// A ball's way through a tick that is being played.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Flight {
    /// What is left of the tick, in seconds.
    pub(super) left: f64,
    /// When it meets something next, in seconds into the tick; infinite for never.
    pub(super) next: f64,
    /// The wall that it meets next.
    pub(super) wall: Option<Wall>,
    /// The walls that it has passed through since the last one that stopped it.
    pub(super) passed: Passed<MOST_PASSED_BY_BALL>,
    /// How many walls it hit and edges it crossed.
    pub(super) count: usize,
}

impl Flight {
    /// Not in a tick.
    pub(super) const NONE: Self = Self::new(0.0);

    pub(super) const fn new(left: f64) -> Self {
        Self { left, next: f64::INFINITY, wall: None, passed: Passed::none(), count: 0 }
    }
}

impl Default for Flight {
    fn default() -> Self {
        Self::NONE
    }
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

    /// Its displacement in some seconds; zero for a velocity that is not finite.
    pub(super) fn displacement(&self, seconds: f64) -> Vec2 {
        let displacement = (self.velocity.as_dvec2() * seconds).as_vec2();
        if displacement.is_finite() { displacement } else { Vec2::ZERO }
    }

    /// What it meets first on a displacement.
    pub(super) fn next(
        &self,
        displacement: Vec2,
        terrain: &(impl Terrain + ?Sized),
        edges: Option<&PlayArea>,
        passed: &Passed<MOST_PASSED_BY_BALL>,
    ) -> Option<Next> {
        if displacement == Vec2::ZERO {
            return None;
        }
        let filter = passed.others(WallFilter::on(self.mask));
        let hit = terrain.sweep(&self.footprint, self.position, displacement, &filter);
        let edge = edges.and_then(|edges| edges.leaves_at(&self.footprint, self.position, displacement));
        match (hit, edge) {
            (hit, Some(at)) if hit.is_none_or(|hit| at < hit.fraction) => Some(Next::Edge(at)),
            (Some(hit), _) => Some(Next::Wall(hit, self.part_to(&hit, displacement))),
            (None, _) => None,
        }
    }

    /// What it does at a wall.
    pub(super) fn respond(&mut self, does: BallDoes, hit: &Hit) {
        match does {
            BallDoes::Bounce(restitution) => {
                let inward = self.velocity.dot(hit.normal).min(0.0);
                let straight = hit.normal.x == 0.0 || hit.normal.y == 0.0;
                let speed = self.velocity.length();
                let mut velocity = self.velocity - hit.normal * (inward * (1.0 + restitution));
                if restitution == 1.0 && straight {
                    // At an axis-aligned wall, one component changes its sign and nothing else changes.
                    let turned = hit.normal.abs() * -2.0 + Vec2::ONE;
                    velocity = if inward < 0.0 { self.velocity * turned } else { self.velocity };
                } else if restitution == 1.0 {
                    // A slanted normal is rounded: scale, so that the speed does not drift.
                    velocity = velocity.normalize_or_zero() * speed;
                }
                let kept = self.angle_limits.kept(velocity);
                self.velocity = if kept.dot(hit.normal) >= 0.0 { kept } else { velocity };
            }
            BallDoes::Deflect(velocity) => self.velocity = velocity,
            BallDoes::Stop => self.velocity = Vec2::ZERO,
            BallDoes::Remove => self.take_out(BallState::Removed),
            BallDoes::PassThrough => {}
        }
    }

    /// The part of a displacement up to a hit, from the exact position of the ball: time and position advance
    /// together.
    fn part_to(&self, hit: &Hit, displacement: Vec2) -> f64 {
        let (normal, surface) = hit.surface();
        let outward = displacement.as_dvec2().dot(normal.as_dvec2());
        let part = self.place().depth(normal, surface) / outward;
        // The sweep starts from the rounded position; the two can differ by no more than this rounding.
        let rounding = touch_tolerance(surface.abs().max_element());
        let is_finer = ((part - hit.exact.at) * outward).abs() <= rounding && hit.exact.at > 0.0;
        if is_finer { part.clamp(0.0, 1.0) } else { hit.exact.at }
    }

    /// Moves by a part of a displacement, up to a hit, and sets the ball against the wall.
    pub(super) fn touch(
        &mut self,
        hit: &Hit,
        displacement: Vec2,
        part: f64,
        terrain: &(impl Terrain + ?Sized),
    ) {
        let passed = self.flight.passed;
        let filter = passed.others(WallFilter::on(self.mask));
        let mut place = self.place();
        place.shift((displacement.as_dvec2() * part).as_vec2());
        place.settle(hit.surface(), terrain, &self.footprint, &filter);
        (self.position, self.rounding) = place.parts();
    }

    pub(super) fn shift(&mut self, displacement: Vec2) {
        let mut place = self.place();
        place.shift(displacement);
        (self.position, self.rounding) = place.parts();
    }

    fn place(&self) -> Place {
        self.rounding.place(self.position)
    }

    /// Wraps at the edges, or leaves the play area; returns the side, and whether it is still in play.
    pub(super) fn cross(&mut self, edges: &PlayArea) -> Option<(Side, bool)> {
        match edges.crossing(&self.footprint, self.position) {
            Crossing::Wrapped { side, position } => {
                self.position = position;
                Some((side, true))
            }
            Crossing::Left { side } => {
                self.take_out(BallState::Left(side));
                Some((side, false))
            }
            Crossing::Inside => None,
        }
    }
}
