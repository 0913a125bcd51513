//! One tick of many fliers in one world, in order of time: what one of them breaks is gone for the others from that instant
//! on, whatever their order in the list.

use glam::Vec2;

use super::ball::Ball;
use super::decision::{BallDoes, Decision, Impact, WallDoes};
use super::flight::{MAX_BOUNCES, Next, Reached, WallPace};
use super::queue::{Flier, Queue};
use crate::direction::Side;
use crate::terrain::{Hit, Wall, World};
use crate::time::seconds;
use crate::tolerance::JUST;
use crate::travel::Squeeze;

impl Flier for Ball {
    fn ball(&self) -> &Ball {
        self
    }

    fn ball_mut(&mut self) -> &mut Ball {
        self
    }

    #[inline]
    fn fly_free(&mut self, whole: f64, world: &World) -> bool {
        self.fly_free(whole, world)
    }

    fn begin(&mut self, whole: f64) {
        self.flight.begin(whole);
    }

    fn end(&mut self) {}
}

/// What happened to a flier.
#[derive(Debug, Clone, Copy)]
pub(super) enum Happened {
    /// It hit a wall: its velocity after, and whether the wall was removed.
    Met {
        impact: Impact,
        does: BallDoes,
        after: Vec2,
        broke: bool,
    },
    Squeezed(Squeeze),
    Wrapped(Side),
    Left(Side),
    /// Its range or time is over.
    Ended,
    /// So many seconds were not played.
    Unplayed(f32),
}

/// Begins a tick of `dt` seconds, and plays it for those to which nothing can happen on the way; returns whether these are all.
/// The others are [played in order](play_in_order).
#[inline]
pub(super) fn fly_free<F: Flier>(fliers: &mut [F], dt: f32, world: &World) -> bool {
    let whole = f64::from(seconds(dt));
    let mut are_all = true;
    for flier in fliers {
        if !flier.fly_free(whole, world) {
            flier.begin(whole);
            are_all = false;
        }
    }
    are_all
}

/// Plays the rest of the tick that has begun.
#[inline(never)]
pub(super) fn play_in_order<F: Flier>(
    fliers: &mut [F],
    world: &mut World,
    decide: &mut dyn FnMut(&F, &Impact) -> Decision,
    on: &mut dyn FnMut(&mut F, usize, Happened),
) {
    let mut play = Play { world, decide, on };
    if let [flier] = fliers {
        while let Some(next) = flier.ball().next(&*play.world) {
            play.go_to(0, flier, next);
        }
    } else {
        play.all(fliers);
    }
    for (number, flier) in fliers.iter_mut().enumerate().filter(|(_, flier)| flier.ball().flight.has_begun())
    {
        play.end(number, flier);
    }
}

/// A tick that is being played.
struct Play<'a, F> {
    world: &'a mut World,
    decide: &'a mut dyn FnMut(&F, &Impact) -> Decision,
    on: &'a mut dyn FnMut(&mut F, usize, Happened),
}

impl<F: Flier> Play<'_, F> {
    /// Plays what happens to all of them, the earliest first.
    fn all(&mut self, fliers: &mut [F]) {
        fliers.iter_mut().for_each(|flier| flier.ball_mut().look(&*self.world));
        let mut queue = Queue::new(fliers);
        while let Some(first) = queue.first() {
            let flier = &mut queue.fliers[first];
            let next = flier.ball().next(&*self.world);
            let gone = next.and_then(|next| self.go_to(first, flier, next));
            self.look(first, &mut queue);
            if gone.is_some() {
                // Others would have met it next.
                for number in 0..queue.fliers.len() {
                    if queue.fliers[number].ball().flight.wall == gone {
                        self.look(number, &mut queue);
                    }
                }
            }
        }
    }

    fn look(&self, number: usize, queue: &mut Queue<'_, F>) {
        queue.fliers[number].ball_mut().look(&*self.world);
        queue.moved(number);
    }

    /// Plays what a flier comes to next; returns the wall that is gone.
    fn go_to(&mut self, number: usize, flier: &mut F, next: Next) -> Option<Wall> {
        let pace = self.pace(flier.ball(), &next);
        let pushes = self.pusher_velocity(flier.ball(), flier.ball().flight.time_of(next.part()));
        let reached = flier.ball_mut().go_to(next, pace, pushes, &*self.world);
        let gone = reached.and_then(|reached| self.play(number, flier, reached, pace));
        if let Next::Wall(hit, _) = next {
            flier.ball_mut().push_on(hit.wall);
        }
        gone
    }

    /// Plays what it has reached; returns the wall that is gone.
    fn play(
        &mut self,
        number: usize,
        flier: &mut F,
        reached: Reached,
        pace: Option<WallPace>,
    ) -> Option<Wall> {
        match reached {
            Reached::Wall(hit) => return self.meet(number, flier, hit, pace),
            Reached::Squeezed(squeeze) => (self.on)(flier, number, Happened::Squeezed(squeeze)),
            Reached::Wrapped(side) => (self.on)(flier, number, Happened::Wrapped(side)),
            Reached::Left(side) => (self.on)(flier, number, Happened::Left(side)),
            Reached::End => (self.on)(flier, number, Happened::Ended),
        }
        None
    }

    /// How fast a wall is that a ball comes to.
    fn pace(&self, ball: &Ball, next: &Next) -> Option<WallPace> {
        let Next::Wall(hit, part) = next else { return None };
        let time = ball.flight.time_of(*part);
        // At the end of the tick, what counts is how fast it was up to then.
        let just_then = (time + JUST).min(ball.flight.ends() - JUST);
        let (now, acceleration) = self.world.even_velocity_at(hit.wall, just_then)?;
        let until = (ball.flight.exact_now() + f64::from(hit.steady)).max(time + JUST);
        Some(WallPace { now, acceleration, until, lies: self.world.bounds_at(hit.wall, time) })
    }

    /// How fast the wall is that pushes a ball, just before an instant.
    fn pusher_velocity(&self, ball: &Ball, time: f64) -> Option<Vec2> {
        let pusher = ball.flight.pusher.as_ref()?;
        self.world.even_velocity_at(pusher.wall, time - JUST).map(|(velocity, _)| velocity)
    }

    /// Asks what happens at a wall, and does it; returns the wall if it is gone.
    fn meet(&mut self, number: usize, flier: &mut F, hit: Hit, pace: Option<WallPace>) -> Option<Wall> {
        let ball = flier.ball();
        let (velocity, seconds, hits_left) =
            (ball.velocity, ball.flight.now(), self.world.hits_left(hit.wall));
        let now = ball.flight.exact_now();
        let lies = self.world.bounds_at(hit.wall, now);
        let placed = self.world.placed_at(hit.wall, now);
        let offset = placed.map_or(Vec2::ZERO, |placed| ball.offset_on(placed, hit.normal));
        let then = Hit { velocity: pace.map_or(hit.velocity, |pace| pace.now), ..hit };
        let impact = Impact { ball: number, hit: then, velocity, seconds, hits_left, lies, offset };
        let Decision { ball: does, wall } = (self.decide)(flier, &impact);
        let broke = match wall {
            WallDoes::Nothing => false,
            WallDoes::TakeHit => self.world.strike(hit.wall).broke,
            WallDoes::Vanish => self.world.remove(hit.wall).is_some(),
        };
        let ball = flier.ball_mut();
        ball.respond(does, &hit, pace, broke);
        let after = ball.velocity;
        (self.on)(flier, number, Happened::Met { impact, does, after, broke });
        broke.then_some(hit.wall)
    }

    /// Moves a flier to the end of the tick.
    fn end(&mut self, number: usize, flier: &mut F) {
        let ball = flier.ball_mut();
        if ball.is_in_play() {
            if ball.flight.count < MAX_BOUNCES {
                ball.fly_out();
                // In the next tick, the wall does not come to it anew.
                let pushes = self.pusher_velocity(flier.ball(), flier.ball().flight.exact_now());
                flier.ball_mut().let_go(pushes);
            } else {
                #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
                let left = ball.flight.left as f32;
                (self.on)(flier, number, Happened::Unplayed(left));
            }
        }
        flier.end();
    }
}
