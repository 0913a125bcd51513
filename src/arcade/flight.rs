//! The state of a flight during a tick.

use glam::Vec2;

use super::rattle::Rattle;
use crate::direction::Side;
use crate::shape::Aabb;
use crate::terrain::{Hit, Layers, Wall, WallFilter};
use crate::tolerance::MOST_PASSED_BY_BALL;
use crate::travel::{Passed, Squeeze};

/// The most walls and edges that a ball hits in one tick; the rest of the tick is returned in
/// [`BallTick::unplayed_seconds`](super::BallTick::unplayed_seconds).
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::arcade::MAX_BOUNCES;
///
/// let mut world = World::new().with_play_area(PlayArea::new(vec2(0.0, 0.0), vec2(3.0, 3.0))?);
/// let mut balls = [Ball::new(vec2(1.5, 1.5), vec2(1e5, 0.0), Footprint::circle(1.0)?)];
/// let tick = tick_balls(&mut balls, 1.0, &mut world, |_, _| Decision::bounce(1.0));
/// assert!(tick.count == MAX_BOUNCES && tick.unplayed_seconds > 0.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub const MAX_BOUNCES: usize = 1024;

/// A ball's way through a tick that is being played.
#[derive(Debug, Clone, Copy)]
pub(super) struct Flight {
    /// How long the tick is, and what is left of it, in seconds.
    whole: f64,
    pub(super) left: f64,
    /// How much longer and further it flies, in seconds and units; infinite for a ball.
    pub(super) lasts: f64,
    pub(super) range: f64,
    /// When it meets something next, in seconds into the tick; infinite for never.
    pub(super) next: f64,
    /// The wall that it meets next.
    pub(super) wall: Option<Wall>,
    /// The walls that it has passed through since the last one that stopped it.
    pub(super) passed: Passed<MOST_PASSED_BY_BALL>,
    /// The moving wall that pushes it.
    pub(super) pusher: Option<Pusher>,
    /// The one that has just let it go.
    pub(super) held: Option<Held>,
    /// How often it has reached something.
    pub(super) count: usize,
    pub(super) rattle: Rattle,
    /// Which one of the list has the turn of this place, and the place of this one's own turn.
    pub(super) turn: [usize; 2],
}

/// A moving wall that pushes a ball. A wall that follows a curve moves in pieces, each with its mean velocity; the ball moves with the
/// piece, and has the velocity of the wall at the instant at which the wall lets it go.
#[derive(Debug, Clone, Copy)]
pub(super) struct Pusher {
    pub(super) wall: Wall,
    /// The normal of the touch.
    pub(super) normal: Vec2,
    /// How fast the ball went along the normal before it was pushed, in units/s.
    pub(super) own: f32,
    /// Until when the piece lasts, in seconds into the tick.
    pub(super) until: f64,
}

/// A wall that has just let a ball go, and how fast the ball goes along the normal of the touch: while it was pushed, and now.
#[derive(Debug, Clone, Copy)]
pub(super) struct Held {
    pub(super) by: Pusher,
    pub(super) pushed: f32,
    pub(super) now: f32,
}

/// How fast a wall is that a ball has come to.
#[derive(Debug, Clone, Copy)]
pub(super) struct WallPace {
    /// At that instant, without the steps of its pieces.
    pub(super) now: Vec2,
    /// Its acceleration then or just before, in units/s².
    pub(super) acceleration: f32,
    /// Until when its piece lasts, in seconds into the tick.
    pub(super) until: f64,
    /// Where it lies then.
    pub(super) lies: Aabb,
}

/// What a ball comes to next.
#[derive(Debug, Clone, Copy)]
pub(super) enum Next {
    /// A wall, after a part of the displacement.
    Wall(Hit, f64),
    /// A side that can be crossed, after a part of the displacement.
    Edge(f64),
    /// The end of its range or time, after a part of the displacement.
    End(f64),
    /// The end of the piece in which a wall pushes it, after a part of the displacement.
    PushEnds(f64),
}

impl Next {
    /// The part of the displacement.
    pub(super) const fn part(&self) -> f64 {
        match self {
            Self::Wall(_, part) | Self::Edge(part) | Self::End(part) | Self::PushEnds(part) => *part,
        }
    }
}

/// Where it has got to.
#[derive(Debug, Clone, Copy)]
pub(super) enum Reached {
    /// A wall: what it does there is open.
    Wall(Hit),
    /// Walls that close: it is not in play any more.
    Squeezed(Squeeze),
    /// A side, and the other side from there.
    Wrapped(Side),
    /// An open side: it is not in play any more.
    Left(Side),
    /// The end of its range or time.
    End,
}

impl Flight {
    /// Not in a tick.
    pub(super) const NONE: Self = Self::new(0.0);

    /// A tick of so many seconds.
    pub(super) const fn new(whole: f64) -> Self {
        Self {
            whole,
            left: whole,
            lasts: f64::INFINITY,
            range: f64::INFINITY,
            next: f64::INFINITY,
            wall: None,
            passed: Passed::none(),
            pusher: None,
            held: None,
            count: 0,
            rattle: Rattle::NONE,
            turn: [0; 2],
        }
    }

    /// Begins a tick of so many seconds; what is left of an earlier one does not matter.
    pub(super) fn begin(&mut self, whole: f64) {
        (self.whole, self.left) = (whole, whole);
        (self.lasts, self.range) = (f64::INFINITY, f64::INFINITY);
        self.count = 0;
        self.pusher = None;
        self.passed.clear();
        self.rattle.clear();
    }

    /// The tick is over already: nothing happens in it.
    #[inline]
    pub(super) const fn rest(&mut self) {
        (self.whole, self.left, self.next, self.wall) = (0.0, 0.0, f64::INFINITY, None);
    }

    /// How long the tick is, in seconds.
    pub(super) const fn ends(&self) -> f64 {
        self.whole
    }

    /// Whether there is a tick to play.
    pub(super) fn has_begun(&self) -> bool {
        self.whole > 0.0
    }

    /// Whether nothing is left of the tick.
    pub(super) fn is_over(&self) -> bool {
        self.left <= 0.0
    }

    /// The instant, in seconds into the tick.
    pub(super) fn exact_now(&self) -> f64 {
        self.whole - self.left
    }

    /// The same, rounded.
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    pub(super) fn now(&self) -> f32 {
        self.exact_now() as f32
    }

    /// When something happens after a part of what is left, in seconds into the tick.
    pub(super) fn time_of(&self, part: f64) -> f64 {
        self.whole - self.left * (1.0 - part)
    }

    /// The walls that count in the part of the tick that is left.
    pub(super) fn filter(&self, mask: Layers) -> WallFilter<'_> {
        let filter = WallFilter::on(mask).exactly_during(self.exact_now(), self.left);
        self.passed.others(filter)
    }
}

impl PartialEq for Flight {
    /// Between ticks it means nothing.
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Default for Flight {
    fn default() -> Self {
        Self::NONE
    }
}
