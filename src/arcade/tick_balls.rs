//! One tick of several balls in one world: they meet walls in order of time.
//!
//! What one ball breaks is gone for the others from that instant on. Balls do not meet each other.

use glam::Vec2;

use super::ball::Ball;
use super::decision::{Decision, Impact};
use super::in_order::{Happened, fly_free, play_in_order};
use crate::direction::Side;
use crate::terrain::World;
use crate::travel::Squeeze;

/// An event of a ball.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::{BallEvent, tick_balls_with};
///
/// let area = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?.with_all(EdgeRule::Wrap);
/// let mut world = World::new().with_play_area(area);
/// let mut balls = [Ball::new(vec2(5.0, 5.0), vec2(20.0, 0.0), Footprint::circle(1.0)?)];
/// let mut sides = Vec::new();
/// let _ = tick_balls_with(&mut balls, 0.5, &mut world, |_, _| Decision::bounce(1.0), |event| {
///     if let BallEvent::Wrapped { side, .. } = event {
///         sides.push(side);
///     }
/// });
/// assert_eq!(sides, [Side::Right]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum BallEvent {
    /// It hit a wall.
    Met {
        /// The ball, the hit, the velocity before and the instant.
        impact: Impact,
        /// Its velocity after, in units/s.
        after: Vec2,
        /// Whether the wall was removed.
        broke: bool,
    },
    /// It left on one side and entered on the other.
    Wrapped {
        /// Which ball of the list.
        ball: usize,
        /// The side where it left.
        side: Side,
        /// When, in seconds into the tick.
        seconds: f32,
    },
    /// It was squeezed between walls that close: it is not in play any more.
    Squeezed {
        /// Which ball of the list.
        ball: usize,
        /// The walls, and when.
        squeeze: Squeeze,
    },
    /// It left on an open side: it is not in play any more.
    Left {
        /// Which ball of the list.
        ball: usize,
        /// The side.
        side: Side,
        /// When, in seconds into the tick.
        seconds: f32,
    },
}

/// What a tick of balls came to.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new().with_play_area(PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?);
/// let mut balls = [Ball::new(vec2(5.0, 5.0), vec2(20.0, 0.0), Footprint::circle(1.0)?)];
/// let tick = tick_balls(&mut balls, 1.0, &mut world, |_, _| Decision::bounce(1.0));
/// assert_eq!((tick.count, tick.unplayed_seconds), (3, 0.0)); // right after 0.2 s, left after 0.6 s, right at 1 s
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[non_exhaustive]
pub struct BallTick {
    /// How many walls were hit and edges crossed.
    pub count: usize,
    /// The part of the tick that some ball did not play, in seconds: 0 unless [`MAX_BOUNCES`](super::MAX_BOUNCES) was reached.
    pub unplayed_seconds: f32,
}

/// Moves balls for `dt` seconds and calls `decide` at each wall, in order of time. On open and wrapping sides of the
/// world's play area they leave or enter on the other side.
///
/// ```
/// use ambulant::arcade::Decision;
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('o', TileKind::wall("pane")).with('.', TileKind::floor("air"));
/// let map = TileGrid::from_rows(&["...o"], &legend)?.with_tile_size(10.0)?;
/// let pane = map.kind_named("pane").unwrap();
/// let mut world = World::new().with_map(map);
/// world.set_kind_hits(pane, 2);
///
/// // To the pane, to the left end and to the pane again, which breaks then.
/// let mut drops = [Ball::new(vec2(20.0, 5.0), vec2(100.0, 0.0), Footprint::circle(1.0)?)];
/// let mut left = Vec::new();
/// tick_balls(&mut drops, 0.7, &mut world, |_, impact| {
///     left.push(impact.hits_left);
///     Decision::bounce(1.0).hitting_wall()
/// });
/// assert_eq!(left, [Some(2), None, Some(1)]);
/// assert!(!world.map().unwrap().blocks(ivec2(3, 0)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn tick_balls(
    balls: &mut [Ball],
    dt: f32,
    world: &mut World,
    decide: impl FnMut(&Ball, &Impact) -> Decision,
) -> BallTick {
    tick_balls_with(balls, dt, world, decide, |_| {})
}

/// The same; `on_event` is called for everything that happens, in order.
///
/// ```
/// use ambulant::arcade::{BallEvent, Decision, tick_balls_with};
/// use ambulant::prelude::*;
///
/// let field = PlayArea::new(vec2(0.0, 0.0), vec2(50.0, 50.0))?.with(Side::Bottom, EdgeRule::Open);
/// let mut world = World::new().with_play_area(field);
/// let mut drops = [Ball::new(vec2(25.0, 25.0), vec2(0.0, 60.0), Footprint::circle(1.0)?)];
/// let mut lost = None;
/// let bounce = |_: &Ball, _: &_| Decision::bounce(1.0);
/// tick_balls_with(&mut drops, 1.0, &mut world, bounce, |event| {
///     if let BallEvent::Left { side, .. } = event {
///         lost = Some(side);
///     }
/// });
/// assert_eq!(lost, Some(Side::Bottom));
/// assert!(!drops[0].is_in_play());
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub fn tick_balls_with(
    balls: &mut [Ball],
    dt: f32,
    world: &mut World,
    mut decide: impl FnMut(&Ball, &Impact) -> Decision,
    mut on_event: impl FnMut(BallEvent),
) -> BallTick {
    let (mut count, mut unplayed) = (0, 0.0f32);
    if fly_free(balls, dt, world) {
        return BallTick::default();
    }
    play_in_order(balls, world, &mut decide, &mut |ball, number, happened| {
        count += usize::from(!matches!(happened, Happened::Unplayed(_)));
        let seconds = ball.flight.now();
        match happened {
            Happened::Met { impact, after, broke, .. } => on_event(BallEvent::Met { impact, after, broke }),
            Happened::Wrapped(side) => on_event(BallEvent::Wrapped { ball: number, side, seconds }),
            Happened::Left(side) => on_event(BallEvent::Left { ball: number, side, seconds }),
            Happened::Squeezed(squeeze) => on_event(BallEvent::Squeezed { ball: number, squeeze }),
            Happened::Unplayed(seconds) => unplayed = unplayed.max(seconds),
            Happened::Ended => {}
        }
    });
    BallTick { count, unplayed_seconds: unplayed }
}
