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
use ambulant::terrain::{Crossing, Layers, TileGrid, Wall};
use ambulant::travel::{MoveResult, TouchChange, TouchPhase};
use ambulant::walker::{Character, Path, Walker};
use glam::Vec2;

use super::field::Field;
use super::time::seconds;
use crate::record::{Event, EventKind, Happening, Row, Tally, Touch};
use crate::scenario::{Actor, Asked, Change, Scenario};

/// Key changes this close to the start of a tick belong to it, in seconds: far below any tick, far
/// above the rounding of times.
const SAME_TIME: f64 = 1e-9;
/// Halvings to find an instant within a tick: to below a microsecond.
const HALVINGS: u32 = 24;

/// Just before the end of a walk, in seconds.
const INSTANT: f32 = 1e-5;

/// What happens so soon after the start of a walk happens at its start, in seconds.
const AT_ONCE: f32 = 1e-6;

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
    /// The walls that moved it last, whether they squeezed it, and until when.
    moved_by: Vec<(Wall, bool, f64)>,
    /// Scratch memory.
    path: Path,
    pub(super) tally: Tally,
}

impl<'a> Player<'a> {
    pub(super) fn new(index: usize, actor: &'a Actor, drive: AnyDrive, scenario: &'a Scenario) -> Self {
        let mut walker = Walker::new(actor.start, actor.footprint, drive);
        walker.heading = actor.heading;
        walker.mask = actor.mask;
        walker.along_walls = actor.along_walls;
        walker.hover = actor.hover;
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
            path: Path::default(),
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

    /// Its walker, unless it went out.
    pub(super) fn walker(&self) -> Option<&Mover> {
        (!self.gone).then_some(&self.character.walker)
    }

    /// The times at which its keys change, from now on.
    pub(super) fn changes(&self) -> impl Iterator<Item = f64> + '_ {
        self.script.iter().map(|change| change.at)
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
        self.after_a_step(to, events);
    }

    /// Wraps or goes out at the edges.
    fn after_a_step(&mut self, to: f64, events: &mut Vec<Event>) {
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
        let (actor, scenario, dt) = (self.actor, self.scenario, seconds(to - from));
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
        let result = self.character.tick(self.intent, dt, &field.world, &mut note);
        let walker = self.character.walker;
        let rests = |walker: &Mover| walker.velocity == Vec2::ZERO;
        let shifted = walker.position != before.position;
        // It may be back where it was.
        let moved = shifted || !rests(&before) || !rests(&walker);
        let stays = |at: &Mover| at.position == walker.position;
        let walk = Walk { start: before, lasts: to - from, field };
        // Its own velocity may be zero while a belt, a floor or a wall moves it.
        let is_still = rests(&walker) && (!shifted || stays(&self.after(&walk, dt - INSTANT)));
        let mut off = 0.0;
        if !self.moving && moved {
            let ahead = if shifted { walker.position - before.position } else { walker.velocity };
            let leaves = |at: &Mover| at.position != before.position || !rests(at);
            off = if rests(&before) && !leaves(&self.after(&walk, AT_ONCE)) {
                self.first_instant(&walk, leaves)
            } else {
                0.0
            };
            let what = Happening::MovedOff { toward: self.toward(ahead) };
            events.push(Event { time: from + off, actor, what });
        }
        self.note_pushes(&result, from, to, events);
        events.append(&mut touches);
        let mut moving = if moved { to - from } else { 0.0 };
        if (moved || self.moving) && is_still {
            moving = if moved { self.first_instant(&walk, |at| rests(at) && stays(at)) } else { 0.0 };
            events.push(Event { time: from + moving, actor, what: Happening::CameToRest });
            moving = (moving - off).max(0.0);
            self.moving = false;
        } else {
            self.moving = moved;
            moving = (moving - off).max(0.0);
        }
        let fastest = result.contacts.iter().map(|contact| contact.velocity_before.length());
        let fastest = fastest.fold(before.velocity.length().max(walker.velocity.length()), f32::max);
        let distance = if moved { self.distance(&walk) } else { 0.0 };
        self.tally.add(distance, fastest, moving, to - from);
    }

    /// Notes the walls that pushed or squeezed it, each once while it goes on.
    fn note_pushes(&mut self, result: &MoveResult, from: f64, to: f64, events: &mut Vec<Event>) {
        let name = |wall: Wall| self.scenario.wall_name(wall).to_owned();
        if result.moved_out != Vec2::ZERO {
            let what = Happening::MovedOut { by: result.moved_out.length() };
            events.push(Event { time: from, actor: self.actor, what });
        }
        let mut now: Vec<(Wall, bool)> = Vec::new();
        let mut note = |wall: Wall, squeezed: bool, seconds: f32, what: Happening| {
            if !now.contains(&(wall, squeezed)) {
                now.push((wall, squeezed));
                let goes_on = self.moved_by.iter().any(|(known, how, until)| {
                    (*known, *how) == (wall, squeezed) && from - *until <= SAME_TIME
                });
                if !goes_on {
                    events.push(Event { time: from + f64::from(seconds), actor: self.actor, what });
                }
            }
        };
        let pushes = result.contacts.iter().filter(|contact| contact.pushed);
        for contact in pushes {
            note(contact.wall, false, contact.seconds, Happening::Pushed { wall: name(contact.wall) });
        }
        if let Some(wall) = result.carried_by {
            note(wall, false, 0.0, Happening::Pushed { wall: name(wall) });
        }
        if let Some(squeeze) = result.squeezed {
            let what = Happening::Squeezed { wall: name(squeeze.by), behind: name(squeeze.against) };
            note(squeeze.by, true, squeeze.seconds, what);
        }
        self.moved_by = now.into_iter().map(|(wall, squeezed)| (wall, squeezed, to)).collect();
    }

    /// The length of the path of a walk, in units.
    fn distance(&mut self, walk: &Walk<'_>) -> f32 {
        let mut walker = walk.start;
        let _ = walker.tick_with_path(self.intent, seconds(walk.lasts), &walk.field.world, &mut self.path);
        self.path.pieces().iter().map(|piece| piece.from.distance(piece.to)).sum()
    }

    /// The walker after so many seconds of a walk.
    fn after(&self, walk: &Walk<'_>, lasts: f32) -> Mover {
        let mut walker = walk.start;
        let _ = walker.tick(self.intent, lasts, &walk.field.world);
        walker
    }

    /// The first instant of a walk at which something is true that is true at its end, in seconds.
    fn first_instant(&self, walk: &Walk<'_>, is_true: impl Fn(&Mover) -> bool) -> f64 {
        let (mut before, mut after) = (0.0, walk.lasts);
        for _ in 0..HALVINGS {
            let middle = f64::midpoint(before, after);
            if is_true(&self.after(walk, seconds(middle))) { after = middle } else { before = middle }
        }
        after
    }
}

/// A stretch of time that was walked with one intent.
struct Walk<'a> {
    start: Mover,
    /// In seconds.
    lasts: f64,
    field: &'a Field,
}
