//! A small world with every kind of mover in it, and the hands that move them.

use ambulant::arcade::{Ball, Decision, Hover, Projectile, tick_balls};
use ambulant::drive::{Drag, Falling, Glide, Helm, Pace, Steering};
use ambulant::intent::Directions;
use ambulant::pose::{DiagonalRule, Lean, Pose, Sectors, Stance, WalkCycle};
use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid};
use ambulant::steps::{Claims, MoverId, StepGround, StepMode, StepRules, Stepper, tick_together};
use ambulant::terrain::{Course, PlayArea, Wall, World as Walls};
use ambulant::time::Ticks;
use ambulant::walker::Character;
use serde::{Deserialize, Serialize};

/// Everything that a game would save.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub(crate) struct World {
    seed: u64,
    pub(crate) tick: u32,
    ticks: Ticks,
    walls: Walls,
    /// What moves, and how: a door that takes along what touches it, and a raft.
    courses: [(Wall, Course); 2],
    pace: Walker<Pace>,
    gait: Character<Gait>,
    glide: Walker<Glide>,
    helm: Walker<Helm>,
    falling: Walker<Falling<Gait>>,
    lamp: Walker<Pace>,
    balls: [Ball; 2],
    shot: Projectile,
    claims: Claims,
    steppers: Vec<Stepper>,
}

const ROWS: [&str; 12] = [
    "################",
    "#..............#",
    "#..##....%.....#",
    "#..##....%..#..#",
    "#........%.....#",
    "#...........#..#",
    "#.####.....##..#",
    "#..............#",
    "#....%%........#",
    "#..............#",
    "#...#..........#",
    "################",
];

impl World {
    pub(crate) fn new(seed: u64) -> Self {
        let legend = Legend::new()
            .with('#', TileKind::wall("glass"))
            .with('%', TileKind::wall("pane"))
            .with('.', TileKind::floor("path"));
        let map = TileGrid::from_rows(&ROWS, &legend).unwrap().with_tile_size(16.0).unwrap();
        let play_area = PlayArea::new(Vec2::ZERO, vec2(256.0, 192.0)).unwrap();
        let mut stones = Walls::new().with_map(map.clone()).with_play_area(play_area);
        let door = stones.add(Solid::box_from_corners(vec2(100.0, 120.0), vec2(104.0, 140.0)).unwrap());
        stones.set_carries(door, true);
        let area = Aabb::from_corners(vec2(150.0, 80.0), vec2(190.0, 120.0));
        let raft = stones.add_floor(area, Surface::PLAIN.with_grip(0.5).unwrap()).unwrap();
        let to_and_fro = |by: Vec2| {
            Course::new().moves(by, 1.0).and_then(|there| there.moves(-by, 1.0)?.looping()).unwrap()
        };
        let courses = [(door, to_and_fro(vec2(0.0, 20.0))), (raft, to_and_fro(vec2(30.0, -8.0)))];
        stones.add(Solid::circle(vec2(60.0, 130.0), 7.0).unwrap());
        stones.add(Solid::segment(vec2(150.0, 130.0), vec2(190.0, 150.0)).unwrap());
        let slab = [vec2(200.0, 40.0), vec2(225.0, 55.0), vec2(205.0, 70.0)];
        stones.add(Solid::Polygon(Polygon::new(&slab).unwrap()));
        let pane = map.kind_named("pane").unwrap();
        stones.set_kind_hits(pane, 200);
        // All have a crack: the first strike of a pane is noted, and takes room.
        for tile in (0..192).filter_map(|index| map.tile_of_index(index)) {
            let _ = stones.strike(Wall::tile(tile));
        }
        let (boots, round) = (Footprint::rect(8.0, 6.0).unwrap(), Footprint::circle(4.0).unwrap());
        let gait = Gait::new(60.0, 300.0, 400.0).unwrap();
        let drag = Drag::half_life(0.4).unwrap();
        let helm = Helm::new(2.0, 150.0, drag, Steering::Wheel(YAxis::Down)).unwrap();
        let stance = Stance::new(1.0, 0.5, 2.0).unwrap();
        let sectors = Sectors::new(Directions::Eight, DiagonalRule::Keep, 0.1).unwrap();
        let (walk, lean) = (WalkCycle::by_distance(12.0, 4).unwrap(), Lean::new(0.01, 0.3, 0.1).unwrap());
        let pose = Pose::new(sectors, stance, walk, lean);
        let (ground, mut claims) = (StepGround::new(&map), Claims::new());
        let rules = StepRules::new(5.0).unwrap();
        let manners = [StepMode::RunOn, StepMode::HOLD, StepMode::Tap, StepMode::RunOn];
        let steppers = (2..)
            .zip(manners)
            .map(|(x, mode)| Stepper::on(ivec2(x, 7), rules.with_mode(mode), &ground, &mut claims).unwrap());
        // Not in the order of their numbers, so that one has to be made.
        let mut steppers: Vec<Stepper> = steppers.collect();
        steppers.rotate_left(1);
        let place = vec2(40.0, 120.0);
        let mut lamp = Walker::new(vec2(230.0, 60.0), boots, Pace::new(40.0).unwrap());
        lamp.hover = Some(Hover::new(6.0, 40.0, 60.0).unwrap());
        Self {
            seed,
            tick: 0,
            ticks: Ticks::new(60.0).unwrap(),
            walls: stones,
            courses,
            pace: Walker::new(place, boots, Pace::new(70.0).unwrap()),
            gait: Character::new(Walker::new(vec2(120.0, 40.0), round, gait), pose),
            glide: Walker::new(vec2(180.0, 100.0), round, Glide::new(200.0, drag, 1.0).unwrap()),
            helm: Walker::new(vec2(80.0, 170.0), boots, helm),
            falling: Walker::new(
                vec2(230.0, 100.0),
                boots,
                Falling::new(gait, vec2(0.0, 300.0), 200.0).unwrap(),
            ),
            lamp,
            balls: [vec2(90.0, -70.0), vec2(-40.0, 55.0)].map(|way| Ball::new(vec2(30.0, 90.0), way, round)),
            shot: Projectile::aimed(place, vec2(200.0, 20.0), 150.0, Footprint::circle(1.0).unwrap())
                .unwrap()
                .with_bounces(4),
            claims,
            steppers,
        }
    }

    /// One tick under the keys that belong to it.
    pub(crate) fn advance(&mut self) {
        self.tick += 1;
        for _ in 0..self.ticks.advance(1.0 / 60.0 + 0.001) {
            self.step();
        }
    }

    fn step(&mut self) {
        let dt = self.ticks.seconds();
        let intents: [Intent; 5] = std::array::from_fn(|hand| self.held(hand).intent(YAxis::Down));
        for (wall, course) in &self.courses {
            self.walls.move_in(*wall, course.pieces(dt));
        }
        let walls = &self.walls;
        let _ = self.pace.tick(intents[0], dt, walls);
        let _ = self.gait.tick(intents[1], dt, walls, |_| {});
        let _ = self.glide.tick(intents[2], dt, walls);
        let _ = self.helm.tick(intents[3], dt, walls);
        let _ = self.falling.tick(intents[4], dt, walls);
        let _ = self.lamp.tick(intents[4], dt, walls);
        let _ = self.shot.tick(dt, walls);
        tick_balls(&mut self.balls, dt, &mut self.walls, |_, _| Decision::bounce(1.0).hitting_wall());
        self.walls.advance(dt);
        for (_, course) in &mut self.courses {
            course.advance(dt);
        }
        // A save that was tampered with may have no map, or other movers.
        let Some(map) = self.walls.map() else { return };
        let ground = StepGround::new(map);
        let wish = |id: MoverId| intents.get(id.number() as usize).copied().unwrap_or_default().into();
        tick_together(&mut self.steppers, wish, dt, &ground, &mut self.claims, |_, _| {});
    }

    /// The keys of a hand at this tick: others every quarter of a second, the same for the same seed.
    fn held(&self, hand: usize) -> HeldKeys {
        let mut bits =
            self.seed ^ u64::from(self.tick / 15).wrapping_mul(0x9E37_79B9_7F4A_7C15) ^ ((hand as u64) << 40);
        for _ in 0..3 {
            bits ^= bits << 13;
            bits ^= bits >> 7;
            bits ^= bits << 17;
        }
        let key = |bit: u32| bits >> bit & 1 == 1;
        HeldKeys { left: key(3), right: key(11), up: key(23), down: key(31) }
    }

    /// All of its bits.
    pub(crate) fn bytes(&self) -> Vec<u8> {
        postcard::to_allocvec(self).expect("plain data")
    }
}
