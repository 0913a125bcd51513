//! A ball: moves straight at constant speed; a callback decides what happens at each wall.

use glam::Vec2;

use super::angle_limits::AngleLimits;
use crate::contact::touch_tolerance;
use crate::direction::Side;
use crate::place::Place;
use crate::shape::Footprint;
use crate::terrain::{Crossing, Hit, Layers, PlayArea, Terrain, WallFilter};
use crate::time::seconds;
use crate::travel::Passed;

/// The most walls and edges that a ball hits in one tick; the time left over is returned in
/// [`Bounces::unplayed_seconds`].
pub const MAX_BOUNCES: usize = 1024;

/// What happens to a ball at a wall.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum AtWall {
    /// It bounces, times this restitution: 1 keeps all of the speed.
    Bounce(f32),
    /// It continues with this velocity, in units/s: for a [`Paddle`](super::Paddle).
    Deflect(Vec2),
    /// It passes through this wall.
    PassThrough,
    /// It stops here.
    Stop,
    /// It is removed.
    Remove,
}

/// An event of a ball.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum BallEvent {
    /// It hit a wall.
    Met {
        /// The hit.
        hit: Hit,
        /// Its velocity before, in units/s.
        before: Vec2,
        /// Its velocity after, in units/s.
        after: Vec2,
    },
    /// It left on one side and entered on the other.
    Wrapped {
        /// The side where it left.
        side: Side,
    },
    /// It left on an open side, or was removed at a wall: it is not in play any more.
    Lost {
        /// The side where it left, if any.
        side: Option<Side>,
    },
}

/// What a ball did in a tick.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[must_use]
#[non_exhaustive]
pub struct Bounces {
    /// How many walls it hit and edges it crossed.
    pub count: usize,
    /// Whether it is still in play.
    pub in_play: bool,
    /// The part of the tick that was not played, in seconds: 0 unless [`MAX_BOUNCES`] was reached.
    pub unplayed_seconds: f32,
}

/// A ball, or anything that moves straight and bounces.
///
/// ```
/// use ambulant::arcade::{AtWall, Ball};
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("air"));
/// let mut field = TileGrid::from_rows(&["....", "....", "...."], &legend)?.with_tile_size(10.0)?;
/// let mut drop = Ball::new(vec2(20.0, 15.0), vec2(300.0, 0.0), Footprint::circle(1.0)?);
///
/// // To the right wall, to the left one and on in one tick.
/// let mut sides = Vec::new();
/// let bounces = drop.tick(0.25, &mut field, None, |_, hit| {
///     sides.push(hit.side.to_string());
///     AtWall::Bounce(1.0)
/// });
/// assert_eq!(bounces.count, 2);
/// assert_eq!(drop.position, vec2(19.0, 15.0)); // 19 to the wall, 38 back, 18 on
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Ball {
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
    /// The rounding error of its position.
    pub residue: Vec2,
}

impl Ball {
    /// A ball that collides with all layers, without angle limits.
    #[must_use]
    pub const fn new(position: Vec2, velocity: Vec2, footprint: Footprint) -> Self {
        Self {
            position,
            velocity,
            footprint,
            mask: Layers::ALL,
            angle_limits: AngleLimits::ANY,
            residue: Vec2::ZERO,
        }
    }

    /// Moves for `dt` seconds through a world that `at_wall` may change, and calls `at_wall` at each wall. With
    /// `edges`, the ball wraps or leaves on sides with these rules; sides that are walls must be part of the world.
    pub fn tick<W: Terrain>(
        &mut self,
        dt: f32,
        world: &mut W,
        edges: Option<&PlayArea>,
        mut at_wall: impl FnMut(&mut W, &Hit) -> AtWall,
    ) -> Bounces {
        self.tick_with(dt, world, edges, &mut at_wall, |_| {})
    }

    /// The same; `on_event` is called for everything that happens, in order.
    pub fn tick_with<W: Terrain>(
        &mut self,
        dt: f32,
        world: &mut W,
        edges: Option<&PlayArea>,
        mut at_wall: impl FnMut(&mut W, &Hit) -> AtWall,
        mut on_event: impl FnMut(BallEvent),
    ) -> Bounces {
        let mut left = f64::from(seconds(dt));
        let mut passed: Passed = Passed::none();
        for count in 0..MAX_BOUNCES {
            let displacement = (self.velocity.as_dvec2() * left).as_vec2();
            if displacement == Vec2::ZERO || !displacement.is_finite() {
                return Bounces { count, in_play: true, unplayed_seconds: 0.0 };
            }
            let filter = passed.others(WallFilter::on(self.mask));
            let hit = world.sweep(&self.footprint, self.position, displacement, &filter);
            let edge = edges.and_then(|edges| edges.leaves_at(&self.footprint, self.position, displacement));
            match (hit, edge) {
                (hit, Some(at)) if hit.is_none_or(|hit| at < hit.fraction) => {
                    left *= 1.0 - f64::from(at);
                    self.shift(displacement * at);
                    if let Some(side) = self.cross(edges, &mut on_event) {
                        on_event(BallEvent::Lost { side: Some(side) });
                        return Bounces { count: count + 1, in_play: false, unplayed_seconds: 0.0 };
                    }
                }
                (Some(hit), _) => {
                    let part = self.part_to(&hit, displacement);
                    left *= 1.0 - part;
                    self.touch(&hit, displacement, part, world, &filter);
                    let before = self.velocity;
                    let response = at_wall(world, &hit);
                    self.respond(response, &hit);
                    on_event(BallEvent::Met { hit, before, after: self.velocity });
                    match response {
                        AtWall::Remove => {
                            on_event(BallEvent::Lost { side: None });
                            return Bounces { count: count + 1, in_play: false, unplayed_seconds: 0.0 };
                        }
                        AtWall::PassThrough => passed.add(hit.wall),
                        _ => passed.clear(),
                    }
                }
                (None, _) => {
                    self.shift(displacement);
                    return Bounces { count, in_play: true, unplayed_seconds: 0.0 };
                }
            }
        }
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let left = left as f32;
        Bounces { count: MAX_BOUNCES, in_play: true, unplayed_seconds: left }
    }

    fn respond(&mut self, response: AtWall, hit: &Hit) {
        match response {
            AtWall::Bounce(restitution) => {
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
            AtWall::Deflect(velocity) => self.velocity = velocity,
            AtWall::Stop | AtWall::Remove => self.velocity = Vec2::ZERO,
            AtWall::PassThrough => {}
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

    /// Moves up to a hit and sets the ball against the wall.
    fn touch(
        &mut self,
        hit: &Hit,
        displacement: Vec2,
        part: f64,
        world: &(impl Terrain + ?Sized),
        filter: &WallFilter<'_>,
    ) {
        let mut place = self.place();
        place.shift((displacement.as_dvec2() * part).as_vec2());
        place.settle(hit.surface(), world, &self.footprint, filter);
        (self.position, self.residue) = (place.position, place.residue);
    }

    fn shift(&mut self, displacement: Vec2) {
        let mut place = self.place();
        place.shift(displacement);
        (self.position, self.residue) = (place.position, place.residue);
    }

    const fn place(&self) -> Place {
        Place { position: self.position, residue: self.residue }
    }

    /// Wraps at the edges; returns the side on which the ball left the area.
    fn cross(&mut self, edges: Option<&PlayArea>, on_event: &mut impl FnMut(BallEvent)) -> Option<Side> {
        match edges.map(|edges| edges.crossing(&self.footprint, self.position)) {
            Some(Crossing::Wrapped { side, position }) => {
                self.position = position;
                on_event(BallEvent::Wrapped { side });
                None
            }
            Some(Crossing::Left { side }) => Some(side),
            _ => None,
        }
    }
}
