//! Balls: they bounce, and break things.

use std::cell::Cell;

use ambulant::arcade::{
    Ball, BallEvent, Decision, Deflection, Impact, Paddle, PaddleHit, PaddlePart, tick_balls_with,
};
use ambulant::direction::Facing;
use ambulant::terrain::Wall;
use glam::Vec2;

use super::field::Field;
use super::output::StepOutput;
use super::player::Player;
use super::shots::Shots;
use super::struck::struck;
use super::time::seconds;
use crate::record::{Bend, Event, EventKind, Happening, Row, Tally};
use crate::scenario::{Actor, Moves, Scenario, Shot};
use crate::text::degrees;

/// All balls and shots of a run.
#[derive(Clone)]
pub(super) struct Flyers<'a> {
    scenario: &'a Scenario,
    balls: Vec<Flier>,
    shots: Shots<'a>,
}

/// A ball and its actor.
#[derive(Clone)]
struct Flier {
    actor: usize,
    ball: Ball,
    /// The paddle that holds it, and until when.
    held: Option<(usize, f64)>,
    /// From the paddle's place to its own while it is held.
    offset: Vec2,
    tally: Tally,
}

impl Flier {
    fn flies(&self) -> bool {
        self.held.is_none() && self.ball.is_in_play()
    }
}

/// A paddle as a wall, with its actor.
type PaddleWall = (Wall, usize, Paddle);

/// What a paddle has just done to a ball: whose it is.
type Sent = (usize, Deflection);

impl<'a> Flyers<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let balls = scenario.actors.iter().enumerate().filter_map(|(actor, found)| {
            let Moves::Flying(flying) = found.moves else { return None };
            let mut ball = Ball::new(found.start, flying.velocity, found.footprint);
            (ball.mask, ball.angle_limits) = (found.mask, flying.angle_limits);
            let offset = flying.held.map_or(Vec2::ZERO, |(by, _)| found.start - scenario.actors[by].start);
            Some(Flier { actor, ball, held: flying.held, offset, tally: Tally::default() })
        });
        Self { scenario, balls: balls.collect(), shots: Shots::new(scenario) }
    }

    /// The actors that are balls.
    pub(super) fn actors(&self) -> impl Iterator<Item = usize> {
        self.balls.iter().map(|flier| flier.actor)
    }

    /// Whether a scenario has balls or shots.
    pub(super) fn any(scenario: &Scenario) -> bool {
        let flies = |actor: &Actor| matches!(actor.moves, Moves::Flying(_)) || actor.shoots;
        scenario.actors.iter().any(flies)
    }

    /// The instants at which something is served or fired, from now on.
    pub(super) fn moments(&self) -> impl Iterator<Item = f64> {
        let serves = self.balls.iter().filter_map(|flier| flier.held.map(|(_, at)| at));
        serves.chain(self.shots.moments())
    }

    /// Leaves serves and shots of an actor to a hand.
    pub(super) fn take_control(&mut self, actor: usize) {
        for (by, serve_at) in self.balls.iter_mut().filter_map(|flier| flier.held.as_mut()) {
            *serve_at = if *by == actor { f64::INFINITY } else { *serve_at };
        }
        self.shots.take_control(actor);
    }

    /// Serves the balls that an actor holds; whether there were any.
    pub(super) fn serve(&mut self, actor: usize, time: f64) -> bool {
        let mut any = false;
        for (by, serve_at) in self.balls.iter_mut().filter_map(|flier| flier.held.as_mut()) {
            if *by == actor {
                (*serve_at, any) = (time, true);
            }
        }
        any
    }

    pub(super) fn is_holding(&self, actor: usize) -> bool {
        self.balls.iter().any(|flier| flier.held.is_some_and(|(by, _)| by == actor))
    }

    pub(super) fn shoot(&mut self, actor: usize, shot: Shot) {
        self.shots.add(actor, shot);
    }

    pub(super) fn shots(&self) -> impl Iterator<Item = Vec2> {
        self.shots.positions()
    }

    /// Begins a step: serves and fires what is due, before anything moves.
    pub(super) fn begin(&mut self, from: f64, players: &[Player<'_>], output: &mut StepOutput) {
        for flier in &mut self.balls {
            if flier.held.is_some_and(|(_, serve_at)| serve_at <= from + 1e-9) {
                flier.held = None;
                let what = Happening::flew(EventKind::Served, "was served".to_owned());
                output.events.push(Event { time: from, actor: flier.actor, what });
            }
        }
        self.shots.fire(from, players, output);
    }

    /// Plays one step: the paths of the walkers are known, and the walls are where they were at its start.
    pub(super) fn tick(
        &mut self,
        from: f64,
        to: f64,
        players: &[Player<'_>],
        field: &mut Field,
        output: &mut StepOutput,
    ) {
        let dt = seconds(to - from);
        for flier in &mut self.balls {
            if let Some((by, _)) = flier.held {
                let holder = players.iter().find(|player| player.actor() == by);
                flier.ball.position =
                    holder.map_or(flier.ball.position, |holder| holder.position() + flier.offset);
                flier.tally.add(0.0, 0.0, 0.0, f64::from(dt));
            }
        }
        self.fly(from, dt, players, field, output);
        self.shots.tick(from, dt, field, output);
    }

    /// The row of a ball at a time.
    pub(super) fn row(&self, actor: usize, tick: u32, time: f64) -> Option<Row> {
        let flier = self.balls.iter().find(|flier| flier.actor == actor)?;
        let map = &self.scenario.map;
        let velocity = if flier.held.is_none() { flier.ball.velocity } else { Vec2::ZERO };
        Some(Row {
            tick,
            time,
            actor,
            position: flier.ball.position,
            velocity,
            heading: 0.0,
            intent: Vec2::ZERO,
            facing: Facing::toward(velocity, map.y_axis()).unwrap_or(Facing::Down),
            tile: map.tile_at(flier.ball.position),
            touching: Vec::new(),
        })
    }

    pub(super) fn tally(&self, actor: usize) -> Option<Tally> {
        self.balls.iter().find(|flier| flier.actor == actor).map(|flier| flier.tally)
    }

    /// Moves all balls that fly; meanwhile, the paddles are walls that follow their actors.
    fn fly(
        &mut self,
        from: f64,
        dt: f32,
        players: &[Player<'_>],
        field: &mut Field,
        output: &mut StepOutput,
    ) {
        let flying: Vec<usize> = (0..self.balls.len()).filter(|place| self.balls[*place].flies()).collect();
        if flying.is_empty() {
            return;
        }
        let mut balls: Vec<Ball> = flying.iter().map(|place| self.balls[*place].ball).collect();
        let mut ways: Vec<Way> = balls.iter().map(Way::new).collect();
        let (scenario, world) = (self.scenario, &mut field.world);
        let paddles: Vec<PaddleWall> = players
            .iter()
            .filter_map(|player| {
                let rules = scenario.actors[player.actor()].paddle?;
                Some((player.put_wall(world)?, player.actor(), rules))
            })
            .collect();
        let sent: Cell<Option<Sent>> = Cell::new(None);
        let decide = |_: &Ball, impact: &Impact| {
            let paddle = paddles.iter().find(|(wall, ..)| *wall == impact.hit.wall);
            sent.set(paddle.map(|(_, actor, rules)| (*actor, rules.deflect(&PaddleHit::of(impact)))));
            match sent.get() {
                Some((_, deflection)) => Decision::deflect(deflection.velocity),
                None => Decision::bounce(1.0).hitting_wall(),
            }
        };
        tick_balls_with(&mut balls, dt, world, decide, |event| {
            let (ball, seconds, after, at) = match event {
                BallEvent::Met { impact, after, .. } => {
                    (impact.ball, impact.seconds, Some(after), Some(impact.hit.position))
                }
                BallEvent::Wrapped { ball, seconds, .. } => (ball, seconds, None, None),
                BallEvent::Left { ball, seconds, .. } => (ball, seconds, Some(Vec2::ZERO), None),
                BallEvent::Squeezed { ball, squeeze } => (ball, squeeze.seconds, Some(Vec2::ZERO), None),
                _ => return,
            };
            ways[ball].turn(seconds, after, at);
            self.record(self.balls[flying[ball]].actor, from, &event, &paddles, sent.get(), output);
        });
        for (wall, ..) in paddles {
            world.remove(wall);
        }
        for ((place, ball), mut way) in flying.into_iter().zip(balls).zip(ways) {
            way.turn(dt, Some(ball.velocity), Some(ball.position));
            let flier = &mut self.balls[place];
            flier.ball = ball;
            flier.tally.add(way.long, way.fastest, f64::from(way.moving), f64::from(dt));
        }
    }

    /// Notes what happened to a ball.
    fn record(
        &self,
        actor: usize,
        from: f64,
        event: &BallEvent,
        paddles: &[PaddleWall],
        sent: Option<Sent>,
        output: &mut StepOutput,
    ) {
        let (time, kind, text) = match event {
            BallEvent::Met { impact, broke, .. } => {
                let time = from + f64::from(impact.seconds);
                let (kind, text, degrees) = match sent {
                    Some((paddle, found)) => {
                        let name = &self.scenario.actors[paddle].name;
                        let degrees = (found.part == PaddlePart::Face).then(|| found.angle.to_degrees());
                        (EventKind::SentOff, sent_off(name, &found), degrees)
                    }
                    None => {
                        let (text, kind) = struck(self.scenario, impact, *broke);
                        (kind, text, None)
                    }
                };
                let (position, normal) = (impact.hit.position, impact.hit.normal);
                output.bends.push(Bend { actor, time, position, normal, degrees });
                output.note_broken(from, impact, *broke);
                (time, kind, text)
            }
            BallEvent::Wrapped { side, seconds, .. } => {
                let text = format!("left at the {side} and entered on the other side");
                (from + f64::from(*seconds), EventKind::Wrapped, text)
            }
            BallEvent::Left { side, seconds, .. } => {
                (from + f64::from(*seconds), EventKind::Lost, format!("went out at the {side}"))
            }
            BallEvent::Squeezed { squeeze, .. } => {
                let name = |wall: Wall| match paddles.iter().find(|(paddle, ..)| *paddle == wall) {
                    Some((_, actor, _)) => self.scenario.actors[*actor].name.clone(),
                    None => self.scenario.wall_name(wall).to_owned(),
                };
                let text = format!("was squeezed between {} and {}", name(squeeze.by), name(squeeze.against));
                (from + f64::from(squeeze.seconds), EventKind::Squeezed, text)
            }
            _ => return,
        };
        output.events.push(Event { time, actor, what: Happening::flew(kind, text) });
    }
}

/// How far a ball has flown in a step.
struct Way {
    since: f32,
    /// Where it was then, if that is known.
    from: Option<Vec2>,
    speed: f32,
    long: f32,
    fastest: f32,
    moving: f32,
}

impl Way {
    fn new(ball: &Ball) -> Self {
        let (from, speed) = (Some(ball.position), ball.velocity.length());
        Self { since: 0.0, from, speed, long: 0.0, fastest: speed, moving: 0.0 }
    }

    /// Goes on at an instant, with another velocity or with the same one, from a place if it is known.
    fn turn(&mut self, seconds: f32, velocity: Option<Vec2>, at: Option<Vec2>) {
        let lasts = seconds - self.since;
        // A wall that pushes it changes its speed on the way.
        let straight = self.from.zip(at).map(|(from, at)| from.distance(at));
        self.long += straight.unwrap_or(self.speed * lasts);
        self.from = at;
        self.moving += if self.speed > 0.0 { lasts } else { 0.0 };
        self.since = seconds;
        self.speed = velocity.map_or(self.speed, Vec2::length);
        self.fastest = self.fastest.max(self.speed);
    }
}

fn sent_off(name: &str, found: &Deflection) -> String {
    let speed = found.velocity.length();
    match found.part {
        PaddlePart::Face => {
            format!("was deflected by {name} at {} and {speed:.0} units/s", degrees(found.angle.to_degrees()))
        }
        PaddlePart::End => format!("bounced off the end of {name}"),
        PaddlePart::Back => format!("bounced off the back of {name}"),
    }
}
