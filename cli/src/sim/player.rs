//! One actor that walks: applies its keys, moves it through the map and notes what happens.
//!
//! A tick is divided where a key changes within it, so the tick rate does not decide when a key acts. The instant at
//! which something ends (motion, a touch) is found by playing the same time again in shorter parts: a walker is plain
//! data and exact for any time.

use ambulant::direction::Facing;
use ambulant::drive::AnyDrive;
use ambulant::intent::Intent;
use ambulant::pose::Pose;
use ambulant::shape::Aabb;
use ambulant::terrain::{Crossing, Layers, TileGrid, Wall, WallFilter};
use ambulant::travel::{MovingWall, TouchChange, TouchPhase, push};
use ambulant::walker::{Character, Walker};
use glam::Vec2;

use super::field::Field;
use crate::record::{Event, EventKind, Happening, Row, Tally, Touch};
use crate::scenario::{Actor, Asked, Change, Scenario};

/// Key changes this close to the start of a tick belong to it, in seconds: far below any tick, far
/// above the rounding of times.
const SAME_TIME: f64 = 1e-9;
/// Halvings to find an instant within a tick: to below a microsecond.
const HALVINGS: u32 = 24;

/// A push that goes on after this pause is another one, in seconds.
const LATELY: f64 = 0.01;

/// A walker with any drive.
type Mover = Walker<AnyDrive>;

/// An actor, its walker and what is known of it so far.
#[derive(Clone)]
pub(super) struct Player<'a> {
    actor: usize,
    scenario: &'a Scenario,
    map: &'a TileGrid,
    script: &'a [Change],
    character: Character<AnyDrive>,
    intent: Intent,
    moving: bool,
    /// Whether it went out at an open edge.
    gone: bool,
    /// The walls that moved it lately, when, and whether they squeezed it.
    moved_by: Vec<(Wall, f64, bool)>,
    pub(super) tally: Tally,
}

impl<'a> Player<'a> {
    pub(super) fn new(index: usize, actor: &'a Actor, drive: AnyDrive, scenario: &'a Scenario) -> Self {
        let mut walker = Walker::new(actor.start, actor.footprint, drive);
        walker.heading = actor.heading;
        walker.mask = actor.mask;
        walker.along_walls = actor.along_walls;
        // Only the facing of its pose is shown.
        let pose = Pose::eight_way(1.0, 1).expect("a cycle above 0");
        Self {
            actor: index,
            scenario,
            map: &scenario.map,
            script: &actor.script,
            character: Character::new(walker, pose),
            intent: Intent::NONE,
            moving: false,
            gone: false,
            moved_by: Vec::new(),
            tally: Tally::default(),
        }
    }

    /// The actor's place in the scenario.
    pub(super) fn actor(&self) -> usize {
        self.actor
    }

    /// Stops its script.
    pub(super) fn take_control(&mut self) {
        self.script = &[];
    }

    /// Sets its intents, one after the other, from now on; the last one stays.
    pub(super) fn ask(&mut self, intents: &[Intent]) {
        self.intent = intents.last().copied().unwrap_or(self.intent);
    }

    /// Gives it other numbers.
    pub(super) fn retune(&mut self, numbers: &Actor) {
        if let Some(drive) = numbers.drive() {
            self.character.walker.drive = *drive;
        }
        self.character.walker.along_walls = numbers.along_walls;
    }

    /// Lets it pass through all walls, or not.
    pub(super) fn set_through_walls(&mut self, through: bool) {
        self.character.walker.mask =
            if through { Layers::NONE } else { self.scenario.actors[self.actor].mask };
    }

    /// Its position.
    pub(super) fn position(&self) -> Vec2 {
        self.character.walker.position
    }

    /// The bounding box of its footprint.
    pub(super) fn lies(&self) -> Aabb {
        self.character.walker.footprint.at(self.character.walker.position)
    }

    /// The layers that it collides with.
    pub(super) fn mask(&self) -> Layers {
        self.character.walker.mask
    }

    /// How much of its displacement a wall can move without squeezing it, 0 to 1.
    pub(super) fn room(&self, step: &MovingWall, field: &Field) -> f32 {
        let filter = WallFilter::on(self.character.walker.mask);
        push(&field.world, &self.character.walker.footprint, self.character.walker.position, step, &filter)
            .free
    }

    /// Is pushed or taken along by a moving wall.
    pub(super) fn pushed(&mut self, step: &MovingWall, field: &Field, time: f64, events: &mut Vec<Event>) {
        let filter = WallFilter::on(self.character.walker.mask);
        let pushed = push(
            &field.world,
            &self.character.walker.footprint,
            self.character.walker.position,
            step,
            &filter,
        );
        let squeezed = pushed.squeezed.is_some();
        if pushed.position == self.character.walker.position && !squeezed {
            return;
        }
        self.character.walker.position = pushed.position;
        let known = self.moved_by.iter().position(|(wall, _, how)| (*wall, *how) == (step.wall, squeezed));
        let last = known.map(|place| self.moved_by.swap_remove(place).1);
        self.moved_by.push((step.wall, time, squeezed));
        if last.is_some_and(|last| time - last <= LATELY) {
            return;
        }
        let name = |wall: Wall| self.scenario.wall_name(wall).to_owned();
        let what = match pushed.squeezed {
            Some(behind) => Happening::Squeezed { wall: name(step.wall), behind: name(behind) },
            None => Happening::Pushed { wall: name(step.wall) },
        };
        events.push(Event { time, actor: self.actor, what });
    }

    /// Plays one tick, divided at key changes.
    pub(super) fn tick(&mut self, from: f64, to: f64, field: &Field, events: &mut Vec<Event>) {
        if self.gone {
            return;
        }
        let mut now = from;
        self.take_changes(now, events);
        while let Some(next) = self.script.first().map(|change| change.at).filter(|at| at + SAME_TIME < to) {
            self.walk(now, next, field, events);
            now = next;
            self.take_changes(now, events);
        }
        self.walk(now, to, field, events);
        self.after_a_step(to, seconds(to - from), field, events);
    }

    /// Keeps its height, and wraps or goes out at the edges.
    fn after_a_step(&mut self, to: f64, dt: f32, field: &Field, events: &mut Vec<Event>) {
        let actor = &self.scenario.actors[self.actor];
        if let Some(hover) = actor.hover {
            let down = Vec2::Y * self.map.y_axis().downward();
            let filter = WallFilter::on(self.character.walker.mask);
            let (footprint, at) = (self.character.walker.footprint, self.character.walker.position);
            self.character.walker.position = hover.tick(&field.world, &footprint, at, down, dt, &filter);
        }
        let Some(edges) = self.scenario.edges else { return };
        let what = match edges.crossing(&self.character.walker.footprint, self.character.walker.position) {
            Crossing::Wrapped { side, position } => {
                self.character.walker.position = position;
                Happening::flew(
                    EventKind::Wrapped,
                    format!("left at the {side} and entered on the other side"),
                )
            }
            Crossing::Left { side } if !self.gone => {
                self.gone = true;
                Happening::flew(EventKind::Lost, format!("went out at the {side}"))
            }
            _ => return,
        };
        events.push(Event { time: to, actor: self.actor, what });
    }

    /// The actor as it is at a time.
    pub(super) fn row(&self, tick: u32, time: f64) -> Row {
        let at = self.character.walker.footprint.at(self.character.walker.position).center();
        Row {
            tick,
            time,
            actor: self.actor,
            position: self.character.walker.position,
            velocity: self.character.walker.velocity,
            heading: self.character.walker.heading.radians(),
            intent: self.intent.vector(),
            facing: self.character.pose.facing(),
            tile: self.map.tile_at(at),
            touching: self
                .character
                .touching
                .iter()
                .map(|(wall, side, _)| Touch::new(self.scenario, wall, side))
                .collect(),
        }
    }

    fn take_changes(&mut self, now: f64, events: &mut Vec<Event>) {
        while let Some((change, later)) =
            self.script.split_first().filter(|(next, _)| next.at <= now + SAME_TIME)
        {
            match change.asked {
                Asked::Intent { intent, .. } => self.intent = intent,
                Asked::Launch(velocity) => {
                    self.character.walker.velocity += velocity;
                    let what =
                        Happening::Launched { speed: velocity.length(), toward: self.toward(velocity) };
                    events.push(Event { time: change.at, actor: self.actor, what });
                }
            }
            self.script = later;
        }
    }

    /// The facing along a vector; the last one for none.
    fn toward(&self, vector: Vec2) -> Facing {
        Facing::toward(vector, self.map.y_axis()).unwrap_or(self.character.pose.facing())
    }

    /// Walks for a while with one intent, and notes what happens.
    fn walk(&mut self, from: f64, to: f64, field: &Field, events: &mut Vec<Event>) {
        let before = self.character.walker;
        let (actor, scenario) = (self.actor, self.scenario);
        let mut touches = Vec::new();
        let mut note = |change: TouchChange| {
            let touch = Touch::new(scenario, change.wall, change.side);
            let what = match (change.phase, change.contact) {
                (TouchPhase::Started, Some(contact)) => Happening::Touched { touch, contact },
                (TouchPhase::Ended, _) => Happening::CameClear { touch },
                _ => return,
            };
            touches.push(Event { time: from + f64::from(change.seconds), actor, what });
        };
        let result = self.character.tick(self.intent, seconds(to - from), &field.world, &mut note);
        let moved = self.character.walker.position != before.position;
        if moved && !self.moving {
            let toward = self.toward(self.character.walker.position - before.position);
            events.push(Event { time: from, actor: self.actor, what: Happening::MovedOff { toward } });
        }
        events.append(&mut touches);
        // A mover on a belt moves although its own velocity is zero.
        let rests = |walker: &Mover| walker.velocity == Vec2::ZERO;
        let carried = moved && self.character.walker.surface(&field.world).belt() != Vec2::ZERO;
        let mut moving = if moved { to - from } else { 0.0 };
        if (moved || self.moving) && rests(&self.character.walker) && !carried {
            moving = if moved { self.first_instant(before, to - from, field, rests) } else { 0.0 };
            events.push(Event { time: from + moving, actor: self.actor, what: Happening::CameToRest });
            self.moving = false;
        } else {
            self.moving = moved || !rests(&self.character.walker);
        }
        let fastest = result.contacts.iter().map(|contact| contact.velocity_before.length());
        let fastest =
            fastest.fold(before.velocity.length().max(self.character.walker.velocity.length()), f32::max);
        self.tally.add(self.character.walker.position.distance(before.position), fastest, moving, to - from);
    }

    /// The first instant of a stretch at which something is true that is true at its end.
    fn first_instant(
        &self,
        start: Mover,
        lasts: f64,
        field: &Field,
        is_true: impl Fn(&Mover) -> bool,
    ) -> f64 {
        let (mut before, mut after) = (0.0, lasts);
        for _ in 0..HALVINGS {
            let middle = f64::midpoint(before, after);
            let mut walker = start;
            let _ = walker.tick(self.intent, seconds(middle), &field.world);
            if is_true(&walker) { after = middle } else { before = middle }
        }
        after
    }
}

#[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
fn seconds(lasts: f64) -> f32 {
    lasts as f32
}
