//! One actor that walks: applies its keys, moves it through the map and notes what happens.
//!
//! A tick is divided where a key changes within it, so the tick rate does not decide when a key acts. The instant at
//! which something ends (motion, a touch) is found by playing the same time again in shorter parts: a walker is plain
//! data and exact for any time.

use ambulant::direction::Facing;
use ambulant::drive::{AnyDrive, Drive};
use ambulant::intent::Intent;
use ambulant::shape::Aabb;
use ambulant::terrain::{Crossing, Hit, Layers, TileGrid, Wall, WallFilter};
use ambulant::travel::{MoveResult, MovingWall, push};
use ambulant::walker::Walker;
use glam::Vec2;

use super::field::Field;
use super::touch::touched;
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
    walker: Mover,
    intent: Intent,
    facing: Facing,
    moving: bool,
    /// Whether it went out at an open edge.
    gone: bool,
    /// The walls it has touched and not left since.
    touching: Vec<(Touch, Wall)>,
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
        Self {
            actor: index,
            scenario,
            map: &scenario.map,
            script: &actor.script,
            walker,
            intent: Intent::NONE,
            facing: Facing::Down,
            moving: false,
            gone: false,
            touching: Vec::new(),
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
            self.walker.drive = *drive;
        }
        self.walker.along_walls = numbers.along_walls;
    }

    /// Lets it pass through all walls, or not.
    pub(super) fn set_through_walls(&mut self, through: bool) {
        self.walker.mask = if through { Layers::NONE } else { self.scenario.actors[self.actor].mask };
    }

    /// Its position.
    pub(super) fn position(&self) -> Vec2 {
        self.walker.position
    }

    /// The bounding box of its footprint.
    pub(super) fn lies(&self) -> Aabb {
        self.walker.footprint.at(self.walker.position)
    }

    /// The layers that it collides with.
    pub(super) fn mask(&self) -> Layers {
        self.walker.mask
    }

    /// How much of its displacement a wall can move without squeezing it, 0 to 1.
    pub(super) fn room(&self, step: &MovingWall, field: &Field) -> f32 {
        let filter = WallFilter::on(self.walker.mask);
        push(&field.world, &self.walker.footprint, self.walker.position, step, &filter).free
    }

    /// Is pushed or taken along by a moving wall.
    pub(super) fn pushed(&mut self, step: &MovingWall, field: &Field, time: f64, events: &mut Vec<Event>) {
        let filter = WallFilter::on(self.walker.mask);
        let pushed = push(&field.world, &self.walker.footprint, self.walker.position, step, &filter);
        let squeezed = pushed.squeezed.is_some();
        if pushed.position == self.walker.position && !squeezed {
            return;
        }
        self.walker.position = pushed.position;
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
            let filter = WallFilter::on(self.walker.mask);
            let (footprint, at) = (self.walker.footprint, self.walker.position);
            self.walker.position = hover.tick(&field.world, &footprint, at, down, dt, &filter);
        }
        let Some(edges) = self.scenario.edges else { return };
        let what = match edges.crossing(&self.walker.footprint, self.walker.position) {
            Crossing::Wrapped { side, position } => {
                self.walker.position = position;
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
    pub(super) fn row(&self, tick: u32, time: f64, field: &Field) -> Row {
        let at = self.walker.footprint.at(self.walker.position).center();
        Row {
            tick,
            time,
            actor: self.actor,
            position: self.walker.position,
            velocity: self.walker.velocity,
            heading: self.walker.heading.radians(),
            intent: self.intent.vector(),
            facing: self.facing,
            tile: self.map.tile_at(at),
            touching: touches(field, &self.walker)
                .iter()
                .map(|hit| Touch::new(self.scenario, hit.wall, hit.side))
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
                    self.walker.velocity += velocity;
                    let what =
                        Happening::Launched { speed: velocity.length(), toward: self.toward(velocity) };
                    events.push(Event { time: change.at, actor: self.actor, what });
                }
            }
            self.script = later;
        }
        let ahead =
            if self.walker.drive.steers() { self.walker.heading.vector() } else { self.intent.vector() };
        self.facing = self.toward(ahead);
    }

    /// The facing along a vector; the last one for none.
    fn toward(&self, vector: Vec2) -> Facing {
        Facing::toward(vector, self.map.y_axis()).unwrap_or(self.facing)
    }

    /// Walks for a while with one intent, and notes what happens.
    fn walk(&mut self, from: f64, to: f64, field: &Field, events: &mut Vec<Event>) {
        let before = self.walker;
        let result = self.walker.tick(self.intent, seconds(to - from), &field.world);
        let moved = self.walker.position != before.position;
        if moved && !self.moving {
            let toward = self.toward(self.walker.position - before.position);
            events.push(Event { time: from, actor: self.actor, what: Happening::MovedOff { toward } });
        }
        self.note_touches(&before, &result, (from, to), field, events);
        // A mover on a belt moves although its own velocity is zero.
        let rests = |walker: &Mover| walker.velocity == Vec2::ZERO;
        let carried = moved && self.walker.surface(&field.world).belt() != Vec2::ZERO;
        let mut moving = if moved { to - from } else { 0.0 };
        if (moved || self.moving) && rests(&self.walker) && !carried {
            moving = if moved { self.first_instant(before, to - from, field, rests) } else { 0.0 };
            events.push(Event { time: from + moving, actor: self.actor, what: Happening::CameToRest });
            self.moving = false;
        } else {
            self.moving = moved || !rests(&self.walker);
        }
        self.facing =
            if self.walker.drive.steers() { self.toward(self.walker.heading.vector()) } else { self.facing };
        let fastest = result.contacts.iter().map(|contact| contact.velocity_before.length());
        let fastest = fastest.fold(before.velocity.length().max(self.walker.velocity.length()), f32::max);
        self.tally.add(self.walker.position.distance(before.position), fastest, moving, to - from);
    }

    /// Notes the walls that were touched in a stretch and those that are not touched any more.
    fn note_touches(
        &mut self,
        before: &Mover,
        result: &MoveResult,
        (from, to): (f64, f64),
        field: &Field,
        events: &mut Vec<Event>,
    ) {
        let mut note = |time: f64, what: Happening| events.push(Event { time, actor: self.actor, what });
        for contact in result.contacts.iter() {
            let touch = Touch::new(self.scenario, contact.wall, contact.side);
            if !self.touching.iter().any(|(known, wall)| is_same(known, *wall, &touch, contact.wall)) {
                let time = from + f64::from(contact.seconds);
                note(time, Happening::Touched { touch: touch.clone(), contact: *contact });
                self.touching.push((touch, contact.wall));
            }
        }
        for (touch, wall) in core::mem::take(&mut self.touching) {
            let touches_still = |walker: &Mover| {
                touches(field, walker).iter().any(|hit| {
                    let found = Touch::new(self.scenario, hit.wall, hit.side);
                    is_same(&touch, wall, &found, hit.wall)
                        || (touch.tile.is_some() && found.side == touch.side)
                })
            };
            if touches_still(&self.walker) {
                self.touching.push((touch, wall));
            } else {
                let left =
                    from + self.first_instant(*before, to - from, field, |walker| !touches_still(walker));
                // A mover that bounces is clear of the wall before and after.
                let met = result.contacts.iter().filter(|contact| contact.wall == wall);
                let met = met.map(|contact| from + f64::from(contact.seconds));
                note(met.fold(left, f64::max), Happening::CameClear { touch });
            }
        }
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

fn touches(field: &Field, walker: &Mover) -> Vec<Hit> {
    touched(&field.world, &walker.footprint, walker.position, &WallFilter::on(walker.mask))
}

/// Whether two touches are of one wall: one obstacle, or tiles of one kind on one side.
fn is_same(a: &Touch, a_wall: Wall, b: &Touch, b_wall: Wall) -> bool {
    match (a_wall, b_wall) {
        (Wall::Obstacle(a), Wall::Obstacle(b)) => a == b,
        (Wall::Tile(..), Wall::Tile(..)) => a.side == b.side && a.wall == b.wall,
        _ => false,
    }
}

#[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
fn seconds(lasts: f64) -> f32 {
    lasts as f32
}
