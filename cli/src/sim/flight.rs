//! Balls: they bounce, and break things.

use ambulant::arcade::{AtWall, Ball, BallEvent, Breakables, PaddlePart, Strike};
use ambulant::direction::Facing;
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{Hit, ObstacleId, Obstacles, TileGrid, Wall};
use ambulant::travel::{MovingWall, push};
use glam::{IVec2, Vec2};

use super::field::Field;
use super::output::StepOutput;
use super::player::Player;
use super::shots::Shots;
use crate::record::{Bend, Event, EventKind, Happening, Row, Tally, Touch};
use crate::scenario::{Moves, Scenario};
use crate::text::degrees;

/// All balls and shots of a run.
#[derive(Clone)]
pub(super) struct Flyers<'a> {
    scenario: &'a Scenario,
    balls: Vec<Flier>,
    shots: Shots<'a>,
    breakables: Breakables,
    /// The kind of tile that a broken one becomes.
    floor: Option<usize>,
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
    in_play: bool,
    tally: Tally,
}

/// A hit of a ball in a step.
struct BallHit {
    hit: Hit,
    text: String,
    kind: EventKind,
    /// The tile that broke.
    tile: Option<IVec2>,
    /// The angle at which a paddle deflected it.
    degrees: Option<f32>,
}

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
            Some(Flier { actor, ball, held: flying.held, offset, in_play: true, tally: Tally::default() })
        });
        Self {
            scenario,
            balls: balls.collect(),
            shots: Shots::new(scenario),
            breakables: scenario.breakables.clone(),
            floor: scenario.map.kinds().iter().position(|kind| !kind.blocks()),
            paddles: Vec::new(),
        }
    }

    /// The actors that are balls.
    pub(super) fn actors(&self) -> impl Iterator<Item = usize> {
        self.balls.iter().map(|flier| flier.actor)
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
        #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
        let dt = (to - from) as f32;
        self.paddles = paddles(self.scenario, players, before, dt);
        for place in 0..self.balls.len() {
            let mut flier = self.balls[place].clone();
            self.fly(&mut flier, from, dt, field, &mut output);
            self.balls[place] = flier;
        }
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

    fn fly(&mut self, flier: &mut Flier, from: f64, dt: f32, field: &mut Field, output: &mut StepOutput) {
        if !flier.in_play || self.is_held(flier, from, dt, output) {
            return;
        }
        self.struck_by_paddles(flier, from, field, output);

        // The paddles are obstacles while the ball moves.
        let mut store = field.store.clone();
        let mut solids: Vec<(Wall, PaddleNow)> = Vec::new();
        for paddle in &self.paddles {
            solids.push((Wall::Obstacle(store.add(Solid::Box(paddle.lies))), *paddle));
        }
        let edges = field.edges;
        let mut world = (field.take_grid(), store, edges);
        let (start, speed) = (flier.ball.position, flier.ball.velocity.length());
        let mut velocity = flier.ball.velocity;
        let mut hits: Vec<BallHit> = Vec::new();
        let mut crossed = Vec::new();
        let mut ball = flier.ball;
        let bounces = ball.tick_with(
            dt,
            &mut world,
            Some(&edges),
            |(grid, store, _), hit| {
                let paddle = solids.iter().find(|(wall, _)| *wall == hit.wall);
                let (found, response) = match paddle {
                    Some((_, paddle)) => self.at_paddle(paddle, hit, &mut velocity),
                    None => self.at_wall(hit, &mut velocity, grid, store),
                };
                hits.extend(found);
                response
            },
            |event| crossed.push(event),
        );
        field.put_back(world.0);
        let end = from + f64::from(dt);
        let broken = remove_broken(&mut field.store, &world.1);
        output.shattered.extend(broken.into_iter().map(|id| (end, id)));
        record_hits(flier.actor, start, speed, (from, dt), hits, output);
        for event in crossed {
            output.events.extend(crossing(flier.actor, end, event));
        }
        (flier.ball, flier.in_play) = (ball, bounces.in_play);
        if !flier.in_play {
            flier.ball.velocity = Vec2::ZERO;
        }
        flier.tally.add(speed * dt, speed, f64::from(dt), f64::from(dt));
    }

    /// Keeps a held ball on its paddle until it is served; whether it is held for all of this step.
    fn is_held(&self, flier: &mut Flier, from: f64, dt: f32, output: &mut StepOutput) -> bool {
        let Some((by, serve_at)) = flier.held else { return false };
        if let Some(paddle) = self.paddles.iter().find(|paddle| paddle.actor == by) {
            let holder = &self.scenario.actors[by];
            let moved = paddle.lies.center() - holder.footprint.at(holder.start).center();
            flier.ball.position = holder.start + flier.offset + moved;
        }
        if serve_at > from + 1e-9 {
            flier.tally.add(0.0, 0.0, 0.0, f64::from(dt));
            return true;
        }
        flier.held = None;
        let what = Happening::flew(EventKind::Served, "was served".to_owned());
        output.events.push(Event { time: from, actor: flier.actor, what });
        false
    }

    /// What a paddle does to a ball.
    fn at_paddle(&self, paddle: &PaddleNow, hit: &Hit, velocity: &mut Vec2) -> (Option<BallHit>, AtWall) {
        let actor = &self.scenario.actors[paddle.actor];
        let Some(rules) = actor.paddle else { return (None, AtWall::Bounce(1.0)) };
        let found = rules.deflect(paddle.lies, hit.point, hit.normal, *velocity, paddle.velocity);
        *velocity = found.velocity;
        let text = sent_off(&actor.name, found.part, found.angle, found.velocity);
        let degrees = (found.part == PaddlePart::Face).then(|| found.angle.to_degrees());
        let hit = BallHit { hit: *hit, text, kind: EventKind::SentOff, tile: None, degrees };
        (Some(hit), AtWall::Deflect(found.velocity))
    }

    /// What a ball does at any other wall: it bounces, and a wall that breaks is removed.
    fn at_wall(
        &mut self,
        hit: &Hit,
        velocity: &mut Vec2,
        grid: &mut TileGrid,
        store: &mut Obstacles,
    ) -> (Option<BallHit>, AtWall) {
        *velocity -= hit.normal * (2.0 * velocity.dot(hit.normal));
        let strike = self.breakables.strike(hit.wall, grid);
        let (text, kind) = struck(self.scenario, hit, strike);
        let tile = match hit.wall {
            Wall::Tile(tile) if strike.broke => Some(tile),
            _ => None,
        };
        if let Some(floor) = self.floor {
            // The kind is there: it was found among them.
            let _ = self.breakables.clear(strike, grid, floor, store);
        }
        (Some(BallHit { hit: *hit, text, kind, tile, degrees: None }), AtWall::Bounce(1.0))
    }

    /// A paddle that moves into a ball pushes and deflects it.
    fn struck_by_paddles(&self, flier: &mut Flier, from: f64, field: &Field, output: &mut StepOutput) {
        let none = Obstacles::new();
        for paddle in &self.paddles {
            let before = Aabb { min: paddle.lies.min - paddle.way, max: paddle.lies.max - paddle.way };
            let wall = Wall::Tile(IVec2::MAX);
            let moving =
                MovingWall { wall, solid: Solid::Box(before), displacement: paddle.way, carries: false };
            let pushed = push(&(&field.grid, &none), &flier.ball.footprint, flier.ball.position, &moving);
            let Some(rules) = self.scenario.actors[paddle.actor].paddle else { continue };
            if pushed.position == flier.ball.position {
                continue;
            }
            let normal = (pushed.position - flier.ball.position).normalize_or_zero();
            flier.ball.position = pushed.position;
            if (flier.ball.velocity - paddle.velocity).dot(normal) >= 0.0 {
                continue;
            }
            let point = pushed.position;
            let found = rules.deflect(paddle.lies, point, normal, flier.ball.velocity, paddle.velocity);
            flier.ball.velocity = found.velocity;
            let text =
                sent_off(&self.scenario.actors[paddle.actor].name, found.part, found.angle, found.velocity);
            output.events.push(Event {
                time: from,
                actor: flier.actor,
                what: Happening::flew(EventKind::SentOff, text),
            });
        }
    }
}

/// Notes the hits of a ball; the distance so far gives the time of each.
fn record_hits(
    actor: usize,
    start: Vec2,
    speed: f32,
    (from, dt): (f64, f32),
    hits: Vec<BallHit>,
    output: &mut StepOutput,
) {
    let (mut last, mut flown) = (start, 0.0f32);
    for BallHit { hit, text, kind, tile, degrees } in hits {
        flown += last.distance(hit.position);
        last = hit.position;
        let part = if speed > 0.0 { f64::from(flown / speed) } else { 0.0 };
        let time = from + part.min(f64::from(dt));
        output.bends.push(Bend { actor, time, position: hit.position, normal: hit.normal, degrees });
        output.broken.extend(tile.map(|tile| (time, tile)));
        output.events.push(Event { time, actor, what: Happening::flew(kind, text) });
    }
}

/// The event of a ball that crosses an edge.
fn crossing(actor: usize, time: f64, event: BallEvent) -> Option<Event> {
    let (kind, text) = match event {
        BallEvent::Wrapped { side } => {
            (EventKind::Wrapped, format!("left at the {side} and entered on the other side"))
        }
        BallEvent::Lost { side: Some(side) } => (EventKind::Lost, format!("went out at the {side}")),
        BallEvent::Lost { side: None } => (EventKind::Lost, "was removed".to_owned()),
        _ => return None,
    };
    Some(Event { time, actor, what: Happening::flew(kind, text) })
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

/// Removes from one store what was broken in a copy of it; returns what that was.
fn remove_broken(store: &mut Obstacles, after: &Obstacles) -> Vec<ObstacleId> {
    let gone: Vec<_> = store.iter().map(|(id, _)| id).filter(|id| after.get(*id).is_none()).collect();
    for id in &gone {
        store.remove(*id);
    }
    gone
}

fn struck(scenario: &Scenario, hit: &Hit, strike: Strike) -> (String, EventKind) {
    let what = match hit.wall {
        Wall::Edge(side) => format!("the {side} edge"),
        wall => Touch::new(scenario, wall, hit.side).what(),
    };
    match (strike.broke, strike.hits_left) {
        (true, _) => (format!("broke {what}"), EventKind::Broke),
        (false, Some(left)) => (format!("hit {what}, {left} to go"), EventKind::Struck),
        (false, None) if matches!(hit.wall, Wall::Edge(_)) => {
            (format!("bounced off {what}"), EventKind::Bounced)
        }
        (false, None) => (format!("bounced off {what} on its {} side", hit.side), EventKind::Bounced),
    }
}

fn sent_off(name: &str, part: PaddlePart, angle: f32, velocity: Vec2) -> String {
    let speed = velocity.length();
    match part {
        PaddlePart::Face => {
            format!("was deflected by {name} at {} and {speed:.0} units/s", degrees(angle.to_degrees()))
        }
        PaddlePart::End => format!("bounced off the end of {name}"),
        PaddlePart::Back => format!("bounced off the back of {name}"),
    }
}
