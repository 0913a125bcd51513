//! Balls: they bounce, and break things.

use std::cell::Cell;

use ambulant::arcade::{
    Ball, BallEvent, Decision, Deflection, Impact, PaddleHit, PaddlePart, tick_balls_with,
};
use ambulant::direction::Facing;
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{Wall, WallFilter};
use ambulant::travel::{MovingWall, push};
use glam::Vec2;

use super::field::Field;
use super::output::StepOutput;
use super::player::Player;
use super::shots::Shots;
use super::time::seconds;
use crate::record::{Bend, Event, EventKind, Happening, Row, Tally, Touch};
use crate::scenario::{Actor, Moves, Scenario};
use crate::text::degrees;

/// All balls and shots of a run.
#[derive(Clone)]
pub(super) struct Flyers<'a> {
    scenario: &'a Scenario,
    balls: Vec<Flier>,
    shots: Shots<'a>,
    paddles: Vec<PaddleNow>,
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

/// A ball that a paddle has just deflected.
type Sent = (PaddleNow, Deflection);

/// A paddle in this step.
#[derive(Clone, Copy)]
struct PaddleNow {
    actor: usize,
    lies: Aabb,
    way: Vec2,
    velocity: Vec2,
}

impl<'a> Flyers<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let balls = scenario.actors.iter().enumerate().filter_map(|(actor, found)| {
            let Moves::Flying(flying) = found.moves else { return None };
            let mut ball = Ball::new(found.start, flying.velocity, found.footprint);
            (ball.mask, ball.angle_limits) = (found.mask, flying.angle_limits);
            let offset = flying.held.map_or(Vec2::ZERO, |(by, _)| found.start - scenario.actors[by].start);
            Some(Flier { actor, ball, held: flying.held, offset, tally: Tally::default() })
        });
        Self { scenario, balls: balls.collect(), shots: Shots::new(scenario), paddles: Vec::new() }
    }

    /// The actors that are balls.
    pub(super) fn actors(&self) -> impl Iterator<Item = usize> {
        self.balls.iter().map(|flier| flier.actor)
    }

    /// Whether a scenario has balls or shots.
    pub(super) fn any(scenario: &Scenario) -> bool {
        let flies = |actor: &Actor| matches!(actor.moves, Moves::Flying(_)) || !actor.shots.is_empty();
        scenario.actors.iter().any(flies)
    }

    /// Whether a scenario has balls and paddles: then time is divided finely.
    pub(super) fn needs_fine_steps(scenario: &Scenario) -> bool {
        let balls = scenario.actors.iter().any(|actor| matches!(actor.moves, Moves::Flying(_)));
        balls && scenario.actors.iter().any(|actor| actor.paddle.is_some())
    }

    /// Plays one step, after the walkers.
    pub(super) fn tick(
        &mut self,
        from: f64,
        to: f64,
        players: &[Player<'_>],
        before: &[(usize, Aabb)],
        field: &mut Field,
    ) -> StepOutput {
        let mut output = StepOutput::default();
        if self.balls.is_empty() && self.shots.is_empty() {
            return output;
        }
        let dt = seconds(to - from);
        self.paddles = paddles(self.scenario, players, before, dt);
        for place in 0..self.balls.len() {
            let mut flier = self.balls[place].clone();
            self.hold_or_serve(&mut flier, from, dt, &mut output);
            if flier.flies() {
                self.struck_by_paddles(&mut flier, from, field, &mut output);
            }
            self.balls[place] = flier;
        }
        self.fly(from, dt, field, &mut output);
        self.shots.tick(from, to, players, field, &mut output);
        output
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

    /// Moves all balls that fly; the paddles are walls meanwhile.
    fn fly(&mut self, from: f64, dt: f32, field: &mut Field, output: &mut StepOutput) {
        let flying: Vec<usize> = (0..self.balls.len()).filter(|place| self.balls[*place].flies()).collect();
        let mut balls: Vec<Ball> = flying.iter().map(|place| self.balls[*place].ball).collect();
        let world = &mut field.world;
        let solids: Vec<(Wall, PaddleNow)> = self
            .paddles
            .iter()
            .filter_map(|paddle| Some((world.add(Solid::from_area(paddle.lies).ok()?), *paddle)))
            .collect();
        let sent = Cell::new(None);
        let decide = |_: &Ball, impact: &Impact| {
            let paddle = solids.iter().find(|(wall, _)| *wall == impact.hit.wall);
            let found = paddle.and_then(|(_, paddle)| self.deflected(paddle, impact));
            sent.set(found);
            match found {
                Some((_, deflection)) => Decision::deflect(deflection.velocity),
                None => Decision::bounce(1.0).hitting_wall(),
            }
        };
        tick_balls_with(&mut balls, dt, world, decide, |event| {
            let (BallEvent::Met { impact: Impact { ball, .. }, .. }
            | BallEvent::Wrapped { ball, .. }
            | BallEvent::Left { ball, .. }) = event
            else {
                return;
            };
            self.record(self.balls[flying[ball]].actor, from, &event, sent.get(), output);
        });
        for (wall, _) in solids {
            world.remove(wall);
        }
        for (place, ball) in flying.into_iter().zip(balls) {
            let flier = &mut self.balls[place];
            let speed = flier.ball.velocity.length();
            flier.ball = ball;
            flier.tally.add(speed * dt, speed, f64::from(dt), f64::from(dt));
        }
    }

    /// What a paddle does to a ball.
    fn deflected(&self, paddle: &PaddleNow, impact: &Impact) -> Option<Sent> {
        let rules = self.scenario.actors[paddle.actor].paddle?;
        Some((*paddle, rules.deflect(&PaddleHit::of(impact, paddle.lies, paddle.velocity))))
    }

    /// Notes what happened to a ball.
    fn record(
        &self,
        actor: usize,
        from: f64,
        event: &BallEvent,
        sent: Option<Sent>,
        output: &mut StepOutput,
    ) {
        let (time, kind, text) = match event {
            BallEvent::Met { impact, broke, .. } => {
                let time = from + f64::from(impact.seconds);
                let (kind, text, degrees) = match sent {
                    Some((paddle, found)) => {
                        let name = &self.scenario.actors[paddle.actor].name;
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
                match impact.hit.wall {
                    Wall::Tile(_, tile) if *broke => output.broken.push((time, tile)),
                    wall if *broke => output.shattered.push((time, wall)),
                    _ => {}
                }
                (time, kind, text)
            }
            BallEvent::Wrapped { side, seconds, .. } => {
                let text = format!("left at the {side} and entered on the other side");
                (from + f64::from(*seconds), EventKind::Wrapped, text)
            }
            BallEvent::Left { side, seconds, .. } => {
                (from + f64::from(*seconds), EventKind::Lost, format!("went out at the {side}"))
            }
            _ => return,
        };
        output.events.push(Event { time, actor, what: Happening::flew(kind, text) });
    }

    /// Keeps a held ball on its paddle until it is served.
    fn hold_or_serve(&self, flier: &mut Flier, from: f64, dt: f32, output: &mut StepOutput) {
        let Some((by, serve_at)) = flier.held else { return };
        if let Some(paddle) = self.paddles.iter().find(|paddle| paddle.actor == by) {
            let holder = &self.scenario.actors[by];
            let moved = paddle.lies.center() - holder.footprint.at(holder.start).center();
            flier.ball.position = holder.start + flier.offset + moved;
        }
        if serve_at > from + 1e-9 {
            flier.tally.add(0.0, 0.0, 0.0, f64::from(dt));
            return;
        }
        flier.held = None;
        let what = Happening::flew(EventKind::Served, "was served".to_owned());
        output.events.push(Event { time: from, actor: flier.actor, what });
    }

    /// A paddle that moves into a ball pushes and deflects it.
    fn struck_by_paddles(&self, flier: &mut Flier, from: f64, field: &Field, output: &mut StepOutput) {
        for paddle in &self.paddles {
            let before = Aabb { min: paddle.lies.min - paddle.way, max: paddle.lies.max - paddle.way };
            let Ok(solid) = Solid::from_area(before) else { continue };
            let moving = MovingWall { wall: Wall::Own(0), solid, displacement: paddle.way, carries: false };
            let pushed =
                push(field.grid(), &flier.ball.footprint, flier.ball.position, &moving, &WallFilter::ALL);
            let Some(rules) = self.scenario.actors[paddle.actor].paddle else { continue };
            if pushed.position == flier.ball.position {
                continue;
            }
            let normal = (pushed.position - flier.ball.position).normalize_or_zero();
            flier.ball.position = pushed.position;
            if (flier.ball.velocity - paddle.velocity).dot(normal) >= 0.0 {
                continue;
            }
            let found = rules.deflect(&PaddleHit {
                lies: paddle.lies,
                paddle_velocity: paddle.velocity,
                point: pushed.position,
                normal,
                ball_velocity: flier.ball.velocity,
            });
            flier.ball.velocity = found.velocity;
            let text = sent_off(&self.scenario.actors[paddle.actor].name, &found);
            output.events.push(Event {
                time: from,
                actor: flier.actor,
                what: Happening::flew(EventKind::SentOff, text),
            });
        }
    }
}

/// The paddles, and how they moved in this step.
fn paddles(scenario: &Scenario, players: &[Player<'_>], before: &[(usize, Aabb)], dt: f32) -> Vec<PaddleNow> {
    let with_paddle = players.iter().filter(|player| scenario.actors[player.actor()].paddle.is_some());
    with_paddle
        .map(|player| {
            let (actor, lies) = (player.actor(), player.lies());
            let was = before.iter().find(|(known, _)| *known == actor).map_or(lies, |(_, was)| *was);
            let way = lies.min - was.min;
            PaddleNow { actor, lies, way, velocity: way / dt }
        })
        .collect()
}

fn struck(scenario: &Scenario, impact: &Impact, broke: bool) -> (String, EventKind) {
    let hit = &impact.hit;
    let what = match hit.wall {
        Wall::Edge(side) => format!("the {side} edge"),
        wall => Touch::new(scenario, wall, hit.side).what(),
    };
    match (broke, impact.hits_left) {
        (true, _) => (format!("broke {what}"), EventKind::Broke),
        (false, Some(left)) => (format!("hit {what}, {} to go", left - 1), EventKind::Struck),
        (false, None) if matches!(hit.wall, Wall::Edge(_)) => {
            (format!("bounced off {what}"), EventKind::Bounced)
        }
        (false, None) => (format!("bounced off {what} on its {} side", hit.side), EventKind::Bounced),
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
