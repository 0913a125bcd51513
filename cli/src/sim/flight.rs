//! What flies: balls that bounce and break things, and shots.

use ambulant::arcade::{
    AtWall, Ball, BallEvent, Breakables, FlightEnd, PaddlePart, PlayArea, Projectile, Strike,
};
use ambulant::direction::Facing;
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{Hit, ObstacleId, Obstacles, TileGrid, TileKind, Wall};
use ambulant::travel::{MovingWall, push};
use glam::{IVec2, Vec2};

use super::player::Player;
use super::world::Field;
use crate::record::{Bend, Event, EventKind, Happening, Row, Tally, Touch};
use crate::scenario::{Moves, Scenario, Shot};

/// All that flies.
#[derive(Clone)]
pub(super) struct Flyers<'a> {
    scenario: &'a Scenario,
    balls: Vec<Flier>,
    shots: Vec<Flight>,
    /// Shots that are still to come, the first one last.
    waiting: Vec<(usize, Shot)>,
    breakables: Breakables,
    /// The kind of tile that a broken one becomes.
    floor: Option<usize>,
    edges: PlayArea,
    paddles: Vec<PaddleNow>,
}

/// A ball and its actor.
#[derive(Clone)]
struct Flier {
    actor: usize,
    ball: Ball,
    /// On whose paddle it waits, and until when.
    held: Option<(usize, f64)>,
    /// From the paddle's place to its own while it is held.
    offset: Vec2,
    in_play: bool,
    tally: Tally,
}

/// A shot on its way.
#[derive(Clone)]
struct Flight {
    actor: usize,
    from: Vec2,
    puff: Projectile,
}

/// What a ball met in a step.
struct BallHit {
    hit: Hit,
    text: String,
    kind: EventKind,
    /// The tile that broke.
    tile: Option<IVec2>,
    /// The angle at which a paddle sent it off.
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

/// What a step adds to the recording.
#[derive(Debug, Default)]
pub(super) struct StepOutput {
    pub(super) events: Vec<Event>,
    pub(super) bends: Vec<Bend>,
    pub(super) broken: Vec<(f64, IVec2)>,
    pub(super) shots: Vec<(Vec2, Vec2)>,
    pub(super) shattered: Vec<(f64, ObstacleId)>,
}

/// Far enough for edges that nobody asked for.
const NOWHERE: f32 = 1e7;

impl<'a> Flyers<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let balls = scenario.actors.iter().enumerate().filter_map(|(actor, found)| {
            let Moves::Flying(flying) = found.moves else { return None };
            let mut ball = Ball::new(found.start, flying.velocity, found.footprint);
            (ball.mask, ball.angle_limits) = (found.mask, flying.angle_limits);
            let offset = flying.held.map_or(Vec2::ZERO, |(by, _)| found.start - scenario.actors[by].start);
            Some(Flier { actor, ball, held: flying.held, offset, in_play: true, tally: Tally::default() })
        });
        let shots = scenario.actors.iter().enumerate();
        let mut waiting: Vec<(usize, Shot)> =
            shots.flat_map(|(actor, found)| found.shots.iter().map(move |shot| (actor, *shot))).collect();
        waiting.sort_by(|a, b| b.1.at.total_cmp(&a.1.at));
        Self {
            scenario,
            balls: balls.collect(),
            shots: Vec::new(),
            waiting,
            breakables: scenario.breakables.clone(),
            floor: scenario.map.kinds().iter().position(|kind| !kind.blocks()),
            edges: edges_of(scenario),
            paddles: Vec::new(),
        }
    }

    /// The actors that are balls.
    pub(super) fn actors(&self) -> impl Iterator<Item = usize> {
        self.balls.iter().map(|flier| flier.actor)
    }

    /// Whether balls and paddles meet in this scenario: then time is cut finely.
    pub(super) fn needs_fine_steps(scenario: &Scenario) -> bool {
        let balls = scenario.actors.iter().any(|actor| matches!(actor.moves, Moves::Flying(_)));
        balls && scenario.actors.iter().any(|actor| actor.paddle.is_some())
    }

    /// Plays one step, after those who walk.
    pub(super) fn tick(
        &mut self,
        from: f64,
        to: f64,
        players: &[Player<'_>],
        before: &[(usize, Aabb)],
        field: &mut Field,
    ) -> StepOutput {
        let mut told = StepOutput::default();
        if self.balls.is_empty() && self.waiting.is_empty() && self.shots.is_empty() {
            return told;
        }
        #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
        let dt = (to - from) as f32;
        self.paddles = paddles(self.scenario, players, before, dt);
        for place in 0..self.balls.len() {
            let mut flier = self.balls[place].clone();
            self.fly(&mut flier, from, dt, field, &mut told);
            self.balls[place] = flier;
        }
        self.shoot(from, to, players, field, &mut told);
        told
    }

    /// A ball as it is at a time.
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

    fn fly(&mut self, flier: &mut Flier, from: f64, dt: f32, field: &mut Field, told: &mut StepOutput) {
        if !flier.in_play {
            return;
        }
        if let Some((by, serve_at)) = flier.held {
            let holder = self.paddles.iter().find(|paddle| paddle.actor == by);
            if let Some(paddle) = holder {
                let start = self.scenario.actors[by].footprint.at(self.scenario.actors[by].start).center();
                flier.ball.position =
                    self.scenario.actors[by].start + flier.offset + (paddle.lies.center() - start);
            }
            if serve_at > from + 1e-9 {
                flier.tally.add(0.0, 0.0, 0.0, f64::from(dt));
                return;
            }
            flier.held = None;
            let text = "was served".to_owned();
            told.events.push(Event {
                time: from,
                actor: flier.actor,
                what: Happening::flew(EventKind::Served, text),
            });
        }
        self.struck_by_paddles(flier, from, field, told);

        // The paddles stand among the obstacles for as long as the ball flies.
        let mut store = field.store.clone();
        let solids: Vec<(Wall, PaddleNow)> = self
            .paddles
            .iter()
            .map(|paddle| (Wall::Obstacle(store.add(Solid::Box(paddle.lies))), *paddle))
            .collect();
        let mut world = (field.take_grid(), store, self.edges);
        let (scenario, breakables, floor) = (self.scenario, &mut self.breakables, self.floor);
        let (mut ball, before) = (flier.ball, flier.ball.position);
        let speed = ball.velocity.length();
        let mut velocity = ball.velocity;
        let mut told_now: Vec<BallHit> = Vec::new();
        let mut crossed = Vec::new();
        let edges = self.edges;
        let bounces = ball.tick_with(
            dt,
            &mut world,
            Some(&edges),
            |world, hit| {
                if let Some((_, paddle)) = solids.iter().find(|(wall, _)| *wall == hit.wall) {
                    let actor = &scenario.actors[paddle.actor];
                    let Some(rules) = actor.paddle else { return AtWall::Bounce(1.0) };
                    let found = rules.deflect(paddle.lies, hit.point, hit.normal, velocity, paddle.velocity);
                    velocity = found.velocity;
                    let text = sent_off(&actor.name, found.part, found.angle, found.velocity);
                    let degrees = (found.part == PaddlePart::Face).then(|| found.angle.to_degrees());
                    told_now.push(BallHit { hit: *hit, text, kind: EventKind::SentOff, tile: None, degrees });
                    return AtWall::Deflect(found.velocity);
                }
                velocity -= hit.normal * (2.0 * velocity.dot(hit.normal));
                let strike = breakables.strike(hit.wall, &world.0);
                let (text, kind) = struck(scenario, hit, strike);
                let tile = match hit.wall {
                    Wall::Tile(tile) if strike.broke => Some(tile),
                    _ => None,
                };
                if let Some(floor) = floor {
                    // The kind is there: it was found among them.
                    let _ = breakables.clear(strike, &mut world.0, floor, &mut world.1);
                }
                told_now.push(BallHit { hit: *hit, text, kind, tile, degrees: None });
                AtWall::Bounce(1.0)
            },
            |event| match event {
                BallEvent::Wrapped { side } => crossed.push((Some(side), true)),
                BallEvent::Lost { side } => crossed.push((side, false)),
                _ => {}
            },
        );
        field.put_back(world.0);
        let gone = remove_broken(&mut field.store, &world.1);
        told.shattered.extend(gone.into_iter().map(|id| (from + f64::from(dt), id)));
        // The way flown so far tells the time of each of them.
        let (mut last, mut flown) = (before, 0.0f32);
        for BallHit { hit, text, kind, tile, degrees } in told_now {
            flown += last.distance(hit.position);
            last = hit.position;
            let part = if speed > 0.0 { f64::from(flown / speed) } else { 0.0 };
            let time = from + part.min(f64::from(dt));
            told.bends.push(Bend {
                actor: flier.actor,
                time,
                position: hit.position,
                normal: hit.normal,
                degrees,
            });
            told.broken.extend(tile.map(|tile| (time, tile)));
            told.events.push(Event { time, actor: flier.actor, what: Happening::flew(kind, text) });
        }
        for (side, wrapped) in crossed {
            let side = side.map_or_else(String::new, |side| format!(" at the {side}"));
            let (kind, text) = if wrapped {
                (EventKind::Wrapped, format!("left{side} and came in on the other side"))
            } else {
                (EventKind::Lost, format!("is lost{side}"))
            };
            told.events.push(Event {
                time: from + f64::from(dt),
                actor: flier.actor,
                what: Happening::flew(kind, text),
            });
        }
        flier.ball = ball;
        flier.in_play = bounces.in_play;
        if !flier.in_play {
            flier.ball.velocity = Vec2::ZERO;
        }
        flier.tally.add(speed * dt, speed, f64::from(dt), f64::from(dt));
    }

    /// A paddle that moves into a ball pushes it ahead and sends it off.
    fn struck_by_paddles(&self, flier: &mut Flier, from: f64, field: &Field, told: &mut StepOutput) {
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
            told.events.push(Event {
                time: from,
                actor: flier.actor,
                what: Happening::flew(EventKind::SentOff, text),
            });
        }
    }

    /// Sends shots off and lets those on their way fly.
    fn shoot(&mut self, from: f64, to: f64, players: &[Player<'_>], field: &Field, told: &mut StepOutput) {
        while let Some((actor, shot)) = self.waiting.last().copied().filter(|(_, shot)| shot.at < to - 1e-9) {
            self.waiting.pop();
            let Some(player) = players.iter().find(|player| player.actor() == actor) else { continue };
            let place = player.position();
            let Ok(mut puff) = Projectile::aimed(place, shot.toward, shot.speed, shot.footprint) else {
                continue;
            };
            puff = puff.with_bounces(shot.bounces);
            puff.range = shot.range.unwrap_or(f32::INFINITY);
            puff.lasts = shot.seconds.unwrap_or(f32::INFINITY);
            let text = format!("sent a shot off toward {}, {}", shot.toward.x, shot.toward.y);
            told.events.push(Event {
                time: shot.at.max(from),
                actor,
                what: Happening::flew(EventKind::Shot, text),
            });
            self.shots.push(Flight { actor, from: place, puff });
        }
        #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
        let dt = (to - from) as f32;
        let scenario = self.scenario;
        self.shots.retain_mut(|flight| {
            let end = flight.puff.tick(dt, &field.walls());
            let Some(end) = end else { return true };
            let place = flight.puff.position();
            let text = match end {
                FlightEnd::Hit(hit) => {
                    format!("the shot hit {}", Touch::new(scenario, hit.wall, hit.side).what())
                }
                FlightEnd::OutOfRange => "the shot is spent".to_owned(),
                _ => "the shot is over".to_owned(),
            };
            let text = format!("{text} at {:.1}, {:.1}", place.x, place.y);
            told.events.push(Event {
                time: to,
                actor: flight.actor,
                what: Happening::flew(EventKind::ShotOver, text),
            });
            told.shots.push((flight.from, place));
            false
        });
    }
}

/// Where paddles are, and how they moved in this step.
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

/// Takes out of one store what was broken in a copy of it; what that was.
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
        (false, Some(left)) => (format!("struck {what}, {left} to go"), EventKind::Struck),
        (false, None) => (format!("bounced off {what}, {}", hit.side), EventKind::Bounced),
    }
}

fn sent_off(name: &str, part: PaddlePart, angle: f32, velocity: Vec2) -> String {
    let speed = velocity.length();
    match part {
        PaddlePart::Face => {
            format!("was sent off by {name} at {:.0}° and {speed:.0} units/s", angle.to_degrees())
        }
        PaddlePart::End => format!("bounced off the end of {name}"),
        PaddlePart::Back => format!("bounced off the back of {name}"),
    }
}

/// The smallest map there is, to stand in for one that is lent.
pub(super) fn stand_in() -> TileGrid {
    TileGrid::from_indices(&[vec![0]], &[TileKind::floor("")]).expect("one tile of one kind")
}

/// The edges of a scenario, or some that nobody reaches.
pub(super) fn edges_of(scenario: &Scenario) -> PlayArea {
    let nowhere = || PlayArea::new(Vec2::splat(-NOWHERE), Vec2::splat(NOWHERE)).expect("a finite area");
    scenario.edges.unwrap_or_else(nowhere)
}
