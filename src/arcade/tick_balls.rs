//! One tick of several balls in one world: they meet walls in order of time.
//!
//! What one ball breaks is gone for the others from that instant on. Balls do not meet each other.

use glam::Vec2;

use super::ball::{Ball, Flight, Next};
use super::decision::{BallDoes, Decision, Impact, WallDoes};
use crate::direction::Side;
use crate::terrain::{Hit, Wall, World};
use crate::time::seconds;

/// The most walls and edges that a ball hits in one tick; the rest of the tick is returned in
/// [`BallTick::unplayed_seconds`].
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
    /// The part of the tick that some ball did not play, in seconds: 0 unless [`MAX_BOUNCES`] was reached.
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
    let whole = f64::from(seconds(dt));
    let tick = BallTick::default();
    let mut play = Play { whole, world, decide: &mut decide, on_event: &mut on_event, tick };
    balls.iter_mut().for_each(|ball| ball.flight = Flight::new(whole));
    if let [ball] = balls {
        while let Some(next) = play.next(ball) {
            play.event(0, ball, next);
        }
    } else {
        balls.iter_mut().for_each(|ball| play.look(ball));
        while let Some(first) = first_of(balls) {
            let ball = &mut balls[first];
            let next = play.next(ball);
            let gone = next.and_then(|next| play.event(first, ball, next));
            play.look(ball);
            if gone.is_some() {
                // Another ball would have met it next.
                balls.iter_mut().filter(|ball| ball.flight.wall == gone).for_each(|ball| play.look(ball));
            }
        }
    }
    balls.iter_mut().for_each(|ball| play.end(ball));
    play.tick
}

/// The ball with the earliest event, if any has one.
fn first_of(balls: &[Ball]) -> Option<usize> {
    let at = |ball: &usize| balls[*ball].flight.next;
    (0..balls.len()).filter(|ball| at(ball).is_finite()).min_by(|a, b| at(a).total_cmp(&at(b)))
}

/// A tick of balls that is being played.
struct Play<'a> {
    /// Its length, in seconds.
    whole: f64,
    world: &'a mut World,
    decide: &'a mut dyn FnMut(&Ball, &Impact) -> Decision,
    on_event: &'a mut dyn FnMut(BallEvent),
    tick: BallTick,
}

impl Play<'_> {
    /// What a ball meets next in the time that is left of its tick.
    fn next(&self, ball: &Ball) -> Option<Next> {
        if !ball.is_in_play() || ball.flight.count >= MAX_BOUNCES {
            return None;
        }
        ball.next(
            ball.displacement(ball.flight.left),
            &*self.world,
            self.world.play_area(),
            &ball.flight.passed,
        )
    }

    /// Notes when a ball meets what.
    fn look(&self, ball: &mut Ball) {
        let (part, wall) = match self.next(ball) {
            None => (f64::INFINITY, None),
            Some(Next::Wall(hit, part)) => (part, Some(hit.wall)),
            Some(Next::Edge(at)) => (f64::from(at), None),
        };
        let flight = &mut ball.flight;
        (flight.next, flight.wall) = (self.whole - flight.left * (1.0 - part), wall);
    }

    /// The instant of a ball, in seconds into the tick.
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    fn now(&self, ball: &Ball) -> f32 {
        (self.whole - ball.flight.left) as f32
    }

    /// Plays what a ball meets next; returns the wall that is gone.
    fn event(&mut self, number: usize, ball: &mut Ball, next: Next) -> Option<Wall> {
        let displacement = ball.displacement(ball.flight.left);
        ball.flight.count += 1;
        self.tick.count += 1;
        match next {
            Next::Wall(hit, part) => {
                ball.flight.left *= 1.0 - part;
                ball.touch(&hit, displacement, part, &*self.world);
                self.meet(number, ball, hit)
            }
            Next::Edge(at) => {
                ball.flight.left *= 1.0 - f64::from(at);
                ball.shift(displacement * at);
                let crossed = self.world.play_area().and_then(|edges| ball.cross(edges));
                if let Some((side, in_play)) = crossed {
                    let seconds = self.now(ball);
                    (self.on_event)(if in_play {
                        BallEvent::Wrapped { ball: number, side, seconds }
                    } else {
                        BallEvent::Left { ball: number, side, seconds }
                    });
                }
                None
            }
        }
    }

    /// Asks what happens at a wall, and does it; returns the wall if it is gone.
    fn meet(&mut self, number: usize, ball: &mut Ball, hit: Hit) -> Option<Wall> {
        let (velocity, hits_left) = (ball.velocity, self.world.hits_left(hit.wall));
        let impact = Impact { ball: number, hit, velocity, seconds: self.now(ball), hits_left };
        let Decision { ball: does, wall } = (self.decide)(ball, &impact);
        ball.respond(does, &hit);
        match does {
            BallDoes::PassThrough => ball.flight.passed.add(hit.wall),
            _ => ball.flight.passed.clear(),
        }
        let broke = match wall {
            WallDoes::Nothing => false,
            WallDoes::TakeHit => self.world.strike(hit.wall).broke,
            WallDoes::Vanish => self.world.remove(hit.wall).is_some(),
        };
        (self.on_event)(BallEvent::Met { impact, after: ball.velocity, broke });
        broke.then_some(hit.wall)
    }

    /// Moves a ball to the end of the tick.
    fn end(&mut self, ball: &mut Ball) {
        let left = ball.flight.left;
        if ball.is_in_play() {
            if ball.flight.count < MAX_BOUNCES {
                ball.shift(ball.displacement(left));
            } else {
                #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
                let left = left as f32;
                self.tick.unplayed_seconds = self.tick.unplayed_seconds.max(left);
            }
        }
        ball.flight = Flight::NONE;
    }
}
