//! Scenes of balls, shots, and movers that block each other, at several tick rates.

use ambulant::arcade::{BallState, Decision, Paddle, PaddleHit, tick_balls, tick_projectiles};
use ambulant::prelude::*;
use ambulant::terrain::{Course, EdgeRule, Layers, PlayArea, Wall, World};
use ambulant::touch_tolerance;
use ambulant::walker::Path;

use super::scene::keys;
use super::verdict::{APART, Cause, RATES, Verdict};
use crate::{Dice, free_place};

/// How long a scene is played, in seconds: a rounding grows with each bounce off something round.
const SECONDS: f64 = 4.0;
/// The size of the room, in units.
const ROOM: f32 = 300.0;
/// The most balls of a scene.
const MOST_BALLS: usize = 4;
/// Hits this close are the same, in seconds.
const SAME_TIME: f64 = 1e-3;
/// What is pressed this close to an instant is pressed at it, in seconds.
const SAME_INSTANT: f64 = 1e-13;
/// A hit is slow if the two come to each other more slowly than this, in units/s.
const SLOW: f32 = 1.0;
/// The layer of the panes.
const PANES: Layers = Layers::bit(1);

/// What flies or blocks in a scene.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Flight {
    /// A ball, a box as a paddle that walks in both axes, and boxes that move there and back.
    Paddle,
    /// The same with a round paddle.
    RoundPaddle,
    /// Four balls, a paddle, and panes that break.
    SeveralBalls,
    /// Shots at boxes and circles that move there and back.
    Shots,
    /// Two walkers that block each other.
    TwoThatBlock,
    /// Six of them among boxes that move there and back.
    SixThatBlock,
}

/// All of them.
pub const FLIGHTS: [Flight; 6] = [
    Flight::Paddle,
    Flight::RoundPaddle,
    Flight::SeveralBalls,
    Flight::Shots,
    Flight::TwoThatBlock,
    Flight::SixThatBlock,
];

impl Flight {
    /// What it is called.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Paddle => "paddle and ball",
            Self::RoundPaddle => "round paddle",
            Self::SeveralBalls => "several balls",
            Self::Shots => "shots at moving targets",
            Self::TwoThatBlock => "two that block",
            Self::SixThatBlock => "six that block",
        }
    }

    /// Whether its walkers block each other.
    const fn is_crowd(self) -> bool {
        matches!(self, Self::TwoThatBlock | Self::SixThatBlock)
    }
}

/// What the player wants from which instant on, in seconds.
type Keys = Vec<(f64, Intent)>;

/// Everything that a run needs.
#[derive(Debug, Clone)]
struct Scene {
    world: World,
    moving: Vec<(Wall, Course)>,
    walkers: Vec<(Walker<Gait>, Keys)>,
    paddle: Option<(Wall, Paddle)>,
    balls: Vec<Ball>,
    /// When each is fired, and itself.
    shots: Vec<(f64, Projectile)>,
}

impl Scene {
    fn new(kind: Flight, seed: u64) -> Self {
        let mut dice = Dice::new(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ (kind as u64 + 100));
        let rule = if kind.is_crowd() { EdgeRule::Block } else { EdgeRule::Bounce };
        let area = PlayArea::new(Vec2::ZERO, Vec2::splat(ROOM)).expect("in range").with_all(rule);
        let mut world = World::new().with_play_area(area);
        let mut moving = Vec::new();
        let count = match kind {
            Flight::TwoThatBlock => 0,
            Flight::Shots => 8,
            _ => 3,
        };
        for number in 0..count {
            let (at, size) =
                (dice.place(ROOM - 80.0) + 40.0, vec2(dice.number(10.0, 30.0), dice.number(10.0, 30.0)));
            let solid = match kind {
                Flight::Shots if number % 2 == 0 => Solid::circle(at, size.x * 0.5).expect("in range"),
                _ => Solid::box_from_corners(at, at + size).expect("in range"),
            };
            let wall = world.add(solid);
            let (velocity, lasts) = (dice.direction() * dice.number(10.0, 60.0), dice.number(0.3, 1.0));
            let there = Course::new().moves(velocity * lasts, lasts).expect("in range");
            moving.push((
                wall,
                there.moves(velocity * -lasts, lasts).and_then(Course::looping).expect("in range"),
            ));
        }
        if kind == Flight::SeveralBalls {
            for place in 0..24u8 {
                let at = vec2(20.0 + f32::from(place % 12) * 22.0, 30.0 + f32::from(place / 12) * 14.0);
                let pane = Solid::box_from_corners(at, at + vec2(20.0, 10.0)).expect("in range");
                let pane = world.add_on(PANES, pane);
                world.set_wall_hits(pane, 1);
            }
        }
        let gait = Gait::new(dice.number(60.0, 200.0), 1200.0, 1500.0).expect("in range");
        let mut walker = |world: &World, footprint: Footprint| {
            let at = free_place(world, &footprint, ROOM, &mut dice);
            let mut walker = Walker::new(at, footprint, gait);
            // It is ticked before the balls, so it would meet panes that a ball breaks in the same tick.
            walker.mask = !PANES;
            (walker, keys(&mut dice))
        };
        let rect = Footprint::rect(50.0, 10.0).expect("in range");
        let round = Footprint::circle(14.0).expect("in range");
        let mut walkers = match kind {
            Flight::Paddle | Flight::SeveralBalls => vec![walker(&world, rect)],
            Flight::RoundPaddle => vec![walker(&world, round)],
            Flight::Shots => Vec::new(),
            Flight::TwoThatBlock | Flight::SixThatBlock => {
                let count = if kind == Flight::TwoThatBlock { 2 } else { 6 };
                // Each starts beside those before it.
                let mut taken = world.clone();
                let start = |footprint: Footprint| {
                    let walker = walker(&taken, footprint);
                    taken.add(footprint.solid_at(walker.0.position));
                    walker
                };
                [round, rect].into_iter().cycle().take(count).map(start).collect()
            }
        };
        let paddle = walkers.first_mut().filter(|_| !kind.is_crowd()).map(|(walker, _)| {
            let wall = world.add(walker.footprint.solid_at(walker.position));
            walker.own_wall = Some(wall);
            (wall, Paddle::facing(Vec2::NEG_Y, 1.0).expect("in range"))
        });
        let drop = Footprint::rect(6.0, 6.0).expect("in range");
        let drop = if kind == Flight::RoundPaddle { Footprint::circle(3.0).expect("in range") } else { drop };
        let mut ball = || {
            let at = free_place(&world, &drop, ROOM, &mut dice);
            Ball::new(at, dice.direction() * dice.number(60.0, 240.0), drop)
        };
        let balls = match kind {
            Flight::Paddle | Flight::RoundPaddle => vec![ball()],
            Flight::SeveralBalls => (0..4).map(|_| ball()).collect(),
            Flight::Shots | Flight::TwoThatBlock | Flight::SixThatBlock => Vec::new(),
        };
        let shots = (0..if kind == Flight::Shots { 12 } else { 0 }).map(|_| {
            let (at, toward) = (free_place(&world, &drop, ROOM, &mut dice), dice.place(ROOM));
            let shot = Projectile::aimed(at, toward, dice.number(30.0, 300.0), drop).expect("in range");
            (f64::from(dice.number(0.0, 2.0)), shot.with_bounces(u32::from(dice.number(0.0, 1.0) > 0.5)))
        });
        let mut shots: Vec<(f64, Projectile)> = shots.collect();
        shots.sort_by(|a, b| a.0.total_cmp(&b.0));
        Self { world, moving, walkers, paddle, balls, shots }
    }

    /// All that moves of its own accord is nudged; of walkers that block each other, each in its own direction, since what happens
    /// depends on where they are to each other.
    fn nudged(mut self, by: Vec2) -> Self {
        let mut own = by;
        for (walker, _) in &mut self.walkers {
            walker.position += own;
            own = own.perp();
        }
        self.balls.iter_mut().for_each(|ball| ball.position += by);
        self
    }

    /// Plays it.
    fn play(mut self, rate: u32) -> Run {
        let mut squeezed = false;
        let (mut now, mut tick) = (0.0f64, 1u32);
        let (mut path, mut crowd, mut flying) = (Path::default(), Crowd::new(), Vec::new());
        let mut met = Vec::new();
        let mut moments: Vec<f64> = self.shots.iter().map(|(at, _)| *at).collect();
        moments.extend(self.walkers.iter().flat_map(|(_, keys)| keys.iter().map(|(at, _)| *at)));
        moments.push(SECONDS);
        moments.sort_by(f64::total_cmp);
        let paddle = self.paddle;
        while now < SECONDS - 1e-9 {
            while self.shots.first().is_some_and(|(at, _)| *at <= now + SAME_INSTANT) {
                flying.push(self.shots.remove(0).1);
            }
            let ends = f64::from(tick) / f64::from(rate);
            if ends <= now + 1e-9 {
                tick += 1;
                continue;
            }
            let until =
                moments.iter().filter(|at| **at > now + SAME_INSTANT).fold(ends, |until, at| until.min(*at));
            #[expect(
                clippy::cast_possible_truncation,
                reason = "a tick, rounded once; the clock counts what was played"
            )]
            let near = (until - now) as f32;
            // What is pressed counts from its very instant on: what a tick falls short of it, another one plays.
            let dt = if f64::from(near) > until - now { near.next_down() } else { near };
            for (wall, course) in &mut self.moving {
                assert!(self.world.move_in(*wall, course.pieces(dt)), "it is a wall of the world");
                course.advance(dt);
            }
            let asked = |keys: &[(f64, Intent)]| {
                keys.iter()
                    .rev()
                    .find(|(at, _)| *at <= now + SAME_INSTANT)
                    .map_or(Intent::NONE, |(_, intent)| *intent)
            };
            if let Some((wall, _)) = paddle {
                let (walker, keys) = &mut self.walkers[0];
                let result = walker.tick_with_path(asked(keys), dt, &self.world, &mut path);
                squeezed |= result.squeezed.is_some() || result.moved_out != Vec2::ZERO;
                self.world.follow(wall, &path);
            } else {
                let mut walkers: Vec<Walker<Gait>> = self.walkers.iter().map(|(walker, _)| *walker).collect();
                let intent = |place: usize| asked(&self.walkers[place].1);
                crowd.tick(&mut walkers, intent, dt, &self.world, |_, result| {
                    squeezed |= result.squeezed.is_some() || result.moved_out != Vec2::ZERO;
                });
                self.walkers.iter_mut().zip(walkers).for_each(|((walker, _), moved)| *walker = moved);
            }
            let _ = tick_balls(&mut self.balls, dt, &mut self.world, |_, impact| {
                let comes = (impact.hit.velocity - impact.velocity).dot(impact.hit.normal);
                let seconds = now + f64::from(impact.seconds);
                met.push(Met { ball: impact.ball, seconds, wall: impact.hit.wall, comes });
                match paddle {
                    Some((wall, rules)) if impact.hit.wall == wall => {
                        Decision::deflect(rules.deflect(&PaddleHit::of(impact)).velocity)
                    }
                    _ => Decision::bounce(1.0).hitting_wall(),
                }
            });
            tick_projectiles(&mut flying, dt, &mut self.world, |shot, _| shot.decision(), |_| {});
            self.world.advance(dt);
            now += f64::from(dt);
        }
        let ends = self.walkers.iter().map(|(walker, _)| walker.position);
        let ends = ends.chain(self.balls.iter().map(|ball| ball.position));
        let ends = ends.chain(flying.iter().map(Projectile::position)).collect();
        squeezed |= self.balls.iter().any(|ball| ball.state() == BallState::Squeezed);
        Run { ends, met, squeezed }
    }
}

/// A hit of a ball.
struct Met {
    ball: usize,
    /// From the start of the run.
    seconds: f64,
    wall: Wall,
    /// How fast the two came to each other, in units/s.
    comes: f32,
}

/// How a run went.
struct Run {
    /// Where everything ended: walkers, balls, shots.
    ends: Vec<Vec2>,
    /// What the balls hit.
    met: Vec<Met>,
    /// Whether a wall squeezed a walker or a ball.
    squeezed: bool,
}

/// How far two runs ended apart, at most.
fn apart(one: &Run, other: &Run) -> f32 {
    one.ends.iter().zip(&other.ends).map(|(a, b)| a.distance(*b)).fold(0.0, f32::max)
}

/// Whether the first hit that two runs do not have in common is a slow one.
fn part_slowly(one: &Run, other: &Run) -> bool {
    let first_others = (0..MOST_BALLS).filter_map(|ball| {
        let [ones, others] = [one, other].map(|run| run.met.iter().filter(move |met| met.ball == ball));
        let (mut ones, mut others) = (ones.peekable(), others.peekable());
        let is_same = |a: &Met, b: &Met| a.wall == b.wall && (a.seconds - b.seconds).abs() <= SAME_TIME;
        while ones.peek().zip(others.peek()).is_some_and(|(a, b)| is_same(a, b)) {
            ones.next();
            others.next();
        }
        ones.next().into_iter().chain(others.next()).min_by(|a, b| a.seconds.total_cmp(&b.seconds))
    });
    first_others.min_by(|a, b| a.seconds.total_cmp(&b.seconds)).is_some_and(|met| met.comes < SLOW)
}

/// Plays a scene at all rates and compares where everything ended.
#[must_use]
pub fn compare_flights(kind: Flight, seed: u64) -> Verdict {
    let scene = Scene::new(kind, seed);
    let runs = RATES.map(|rate| scene.clone().play(rate));
    let spread = |runs: &[Run]| {
        runs.iter().flat_map(|one| runs.iter().map(|other| apart(one, other))).fold(0.0, f32::max)
    };
    let (all, usual) = (spread(&runs), spread(&runs[1..5]) > APART);
    if all <= APART {
        return Verdict::of(None, usual, all, String::new());
    }
    let reference = &runs[RATES.len() - 1];
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let touch = touch_tolerance(f64::from(ROOM)) as f32;
    let ways = [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y];
    let grows = ways.into_iter().flat_map(|way| [way * touch, way * touch * 10.0]).any(|by| {
        let nudged = scene.clone().nudged(by).play(RATES[RATES.len() - 1]);
        apart(&nudged, reference) > APART
    });
    let mut apart_runs = runs.iter().filter(|run| apart(run, reference) > APART).peekable();
    let cause = match (runs.iter().any(|run| run.squeezed), grows) {
        (true, _) => Cause::Squeezed,
        (_, true) => Cause::Balanced,
        _ if apart_runs.peek().is_some() && apart_runs.all(|run| part_slowly(run, reference)) => {
            Cause::SlowApproach
        }
        _ => Cause::Unassigned,
    };
    let gaps = |run: &Run| {
        let gaps = run.ends.iter().zip(&reference.ends).map(|(a, b)| a.distance(*b));
        let (place, gap) =
            gaps.enumerate().fold((0, 0.0), |most, gap| if gap.1 > most.1 { gap } else { most });
        format!("number {place} by {gap:.3}")
    };
    let lines: Vec<String> =
        RATES.iter().zip(&runs).map(|(rate, run)| format!("{rate}: {}", gaps(run))).collect();
    Verdict::of(
        Some(cause),
        usual,
        all,
        format!("from the last rate: {}", lines[..lines.len() - 1].join(", ")),
    )
}
