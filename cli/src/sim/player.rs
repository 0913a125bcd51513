//! One actor that walks: applies its keys, moves it through the map and notes what happens.
//!
//! A tick is divided where a key changes within it, so the tick rate does not decide when a key acts. The instant at
//! which something ends (motion, a touch) is found by playing the same time again in shorter parts: a walker is plain
//! data and exact for any time.

use ambulant::direction::Facing;
use ambulant::drive::AnyDrive;
use ambulant::intent::Intent;
use ambulant::pose::Pose;
use ambulant::terrain::{Crossing, Layers, PlayArea, Terrain, TileGrid, Wall, WallFilter, World};
use ambulant::travel::{Contact, MoveResult, TouchChange, TouchPhase};
use ambulant::walker::{Character, Path, PathPiece, Walker};
use glam::Vec2;

use super::names::Names;
use super::time::seconds;
use crate::record::{Event, EventKind, Happening, Row, Tally};
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

/// What is slower stands, for actors that press on each other, in units/s.
const STANDS: f32 = 0.05;

/// What is moved out by less is only rounding, in units.
const LEAST_MOVED_OUT: f32 = 1e-3;

/// How long two actors must be apart before they no longer touch, in seconds.
const PARTED: f64 = 0.1;

/// The most edges that an actor crosses in one tick.
const MOST_CROSSINGS: usize = 64;

/// A walker with any drive.
pub(super) type Mover = Walker<AnyDrive>;

/// An actor, its walker and what is known of it so far.
#[derive(Clone)]
pub(super) struct Player<'a> {
    actor: usize,
    scenario: &'a Scenario,
    map: &'a TileGrid,
    script: &'a [Change],
    character: Character<AnyDrive>,
    intent: Intent,
    /// Velocities that a hand adds at the start of the next tick.
    launches: Vec<Vec2>,
    moving: bool,
    /// Whether it went out at an open edge.
    gone: bool,
    /// The walls that moved it last, whether they squeezed it, and until when.
    moved_by: Vec<(Wall, bool, f64)>,
    /// Until when it was last in a place where it goes along chords.
    stalled: f64,
    /// What it stopped touching a moment ago, if it blocks others.
    parted: Vec<(Wall, Event)>,
    /// What its walls are called.
    names: Names<'a>,
    /// Where its last walk began, unless it stood, and the path of it.
    walked_from: Option<Vec2>,
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
            launches: Vec::new(),
            moving: false,
            gone: false,
            moved_by: Vec::new(),
            stalled: f64::NEG_INFINITY,
            parted: Vec::new(),
            names: Names::new(scenario),
            walked_from: None,
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

    /// Adds a velocity at the start of the next tick, after what it is asked for.
    pub(super) fn launch(&mut self, velocity: Vec2) {
        self.launches.push(velocity);
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

    /// Whether it and others like it block each other.
    pub(super) fn blocks(&self) -> bool {
        self.scenario.actors[self.actor].blocks
    }

    /// Sets what its walls are called.
    pub(super) fn set_names(&mut self, names: Names<'a>) {
        self.names = names;
    }

    /// Its walker and its intent at an instant. An actor that went out blocks no other one.
    pub(super) fn among_others(&mut self, now: f64, events: &mut Vec<Event>) -> (Mover, Intent) {
        self.take_changes(now, events);
        let mut walker = self.character.walker;
        walker.mask = if self.gone { Layers::NONE } else { walker.mask };
        (walker, self.intent)
    }

    /// Goes as it did among others, along a path.
    pub(super) fn go_along(
        &mut self,
        way: &AmongOthers<'_>,
        (from, to): (f64, f64),
        terrain: &dyn Terrain,
        events: &mut Vec<Event>,
    ) {
        if self.gone {
            return;
        }
        let AmongOthers { walker, result, path, own } = way;
        let (before, dt) = (self.character.walker, seconds(to - from));
        self.walked_from = Some(before.position);
        self.path.clone_from(path);
        let moves = |piece: &PathPiece| piece.velocity.length() >= STANDS;
        let distance: f32 = path
            .pieces()
            .iter()
            .filter(|piece| moves(piece))
            .map(|piece| piece.from.distance(piece.to))
            .sum();
        let first = path.pieces().iter().find(|piece| moves(piece));
        let last = path.pieces().iter().rev().find(|piece| moves(piece));
        let note = |kind: Happening, seconds: f32| Event {
            time: from + f64::from(seconds),
            actor: self.actor,
            what: kind,
        };
        if let Some(first) = first.filter(|_| !self.moving) {
            let what = Happening::MovedOff { toward: self.toward(first.velocity) };
            events.push(note(what, first.start));
        }
        let (actor, names, mut touches) = (self.actor, self.names.clone(), Vec::new());
        let filter = WallFilter::on(before.mask).except(own).during(dt, 0.0);
        self.character.touching.after(result, &before.footprint, terrain, &filter, |change: TouchChange| {
            let touch = names.touch(change.wall, change.side);
            let (seconds, what) = match (change.phase, change.contact) {
                (TouchPhase::Started, Some(contact)) => {
                    (change.seconds, Happening::Touched { touch, contact })
                }
                (TouchPhase::Ended, _) => (change.seconds, Happening::CameClear { touch }),
                _ => return,
            };
            touches.push((change.wall, Event { time: from + f64::from(seconds), actor, what }));
        });
        self.note_pushes(result, from, to, events);
        self.note_touches(touches, to, events);
        let rests = walker.velocity.length() < STANDS && last.is_none_or(|last| last.end < dt);
        if rests && (self.moving || last.is_some()) {
            let end = last.map_or(0.0, |last| last.end);
            events.push(Event {
                time: from + f64::from(end),
                actor: self.actor,
                what: Happening::CameToRest,
            });
        }
        self.moving = !rests && (self.moving || last.is_some());
        let moving = first.zip(last).map_or(0.0, |(first, last)| f64::from(last.end - first.start));
        let fastest = before.velocity.length().max(walker.velocity.length());
        self.tally.add(distance, fastest, moving, to - from);
        self.put(walker);
        let displacement = walker.position - before.position - result.pushed - result.moved_out;
        self.character.pose.tick(self.intent.vector(), walker.velocity, displacement, dt, self.map.y_axis());
        if let Some(edges) = self.scenario.edges {
            self.cross(edges, to, events);
        }
    }

    /// Puts it where it is among others.
    pub(super) fn put(&mut self, among_others: &Mover) {
        // With the rounding of its position.
        let mask = self.character.walker.mask;
        self.character.walker = *among_others;
        self.character.walker.mask = mask;
    }

    /// Puts a wall where it was at the start of its last walk, that moves as it did; none if it went out.
    pub(super) fn put_wall(&self, world: &mut World) -> Option<Wall> {
        let start = self.walked_from.unwrap_or(self.position());
        let wall = (!self.gone).then(|| world.add(self.character.walker.footprint.solid_at(start)))?;
        if self.walked_from.is_some() {
            world.follow(wall, &self.path);
        }
        Some(wall)
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
    pub(super) fn tick(&mut self, from: f64, to: f64, terrain: &dyn Terrain, events: &mut Vec<Event>) {
        if self.gone {
            return;
        }
        let mut now = from;
        self.take_changes(now, events);
        while let Some(next) = self.script.first().map(|change| change.at).filter(|at| at + SAME_TIME < to) {
            self.walk_within_edges(now, next, terrain, events);
            now = next;
            self.take_changes(now, events);
        }
        self.walk_within_edges(now, to, terrain, events);
    }

    /// Walks for a while with one intent, and wraps or goes out at the edges at the instant at which it has left.
    fn walk_within_edges(&mut self, mut from: f64, to: f64, terrain: &dyn Terrain, events: &mut Vec<Event>) {
        for _ in 0..MOST_CROSSINGS {
            let Some(edges) = self.scenario.edges.filter(|_| !self.gone) else { break };
            let walk = Walk { start: self.character.walker, lasts: to - from, terrain };
            let is_out = |at: &Mover| edges.crossing(&at.footprint, at.position) != Crossing::Inside;
            if !is_out(&self.after(&walk, seconds(walk.lasts))) {
                break;
            }
            let out = from + self.first_instant(&walk, is_out);
            self.walk(from, out, terrain, events);
            self.cross(edges, out, events);
            from = out;
        }
        if !self.gone {
            self.walk(from, to, terrain, events);
        }
    }

    /// Wraps or goes out at the edges.
    fn cross(&mut self, edges: PlayArea, time: f64, events: &mut Vec<Event>) {
        let walker = &mut self.character.walker;
        let (kind, text) = match edges.crossing(&walker.footprint, walker.position) {
            Crossing::Wrapped { side, position } => {
                walker.position = position;
                (EventKind::Wrapped, format!("left at the {side} and entered on the other side"))
            }
            Crossing::Left { side } => {
                self.gone = true;
                (EventKind::Lost, format!("went out at the {side}"))
            }
            Crossing::Inside => return,
        };
        events.push(Event { time, actor: self.actor, what: Happening::flew(kind, text) });
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
                .map(|(wall, side, _)| self.names.touch(wall, side))
                .collect(),
        }
    }

    fn take_changes(&mut self, now: f64, events: &mut Vec<Event>) {
        while let Some((change, later)) =
            self.script.split_first().filter(|(next, _)| next.at <= now + SAME_TIME)
        {
            match change.asked {
                Asked::Intent { intent, .. } => self.intent = intent,
                Asked::Launch(velocity) => self.set_off(velocity, change.at, events),
            }
            self.script = later;
        }
        for velocity in std::mem::take(&mut self.launches) {
            self.set_off(velocity, now, events);
        }
    }

    /// Adds a velocity at once.
    fn set_off(&mut self, velocity: Vec2, time: f64, events: &mut Vec<Event>) {
        self.character.walker.velocity += velocity;
        let what = Happening::Launched { speed: velocity.length(), toward: self.toward(velocity) };
        events.push(Event { time, actor: self.actor, what });
    }

    /// The facing along a vector; the last one for none.
    fn toward(&self, vector: Vec2) -> Facing {
        Facing::toward(vector, self.map.y_axis()).unwrap_or(self.character.pose.facing())
    }

    /// Walks for a while with one intent, and notes what happens.
    fn walk(&mut self, from: f64, to: f64, terrain: &dyn Terrain, events: &mut Vec<Event>) {
        let before = self.character.walker;
        let (actor, dt) = (self.actor, seconds(to - from));
        let mut touches = Vec::new();
        let names = self.names.clone();
        let mut note = |change: TouchChange| {
            let touch = names.touch(change.wall, change.side);
            let what = match (change.phase, change.contact) {
                (TouchPhase::Started, Some(contact)) => Happening::Touched { touch, contact },
                (TouchPhase::Ended, _) => Happening::CameClear { touch },
                _ => return,
            };
            touches.push((change.wall, Event { time: from + f64::from(change.seconds), actor, what }));
        };
        let result = self.character.tick(self.intent, dt, terrain, &mut note);
        let walker = self.character.walker;
        let rests = |walker: &Mover| walker.velocity == Vec2::ZERO;
        let shifted = walker.position != before.position;
        // It may be back where it was.
        let moved = shifted || !rests(&before) || !rests(&walker);
        let stays = |at: &Mover| at.position == walker.position;
        let walk = Walk { start: before, lasts: to - from, terrain };
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
        self.note_touches(touches, to, events);
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
        self.walked_from = moved.then_some(before.position);
        let distance = if moved { self.distance(&walk) } else { 0.0 };
        self.tally.add(distance, fastest, moving, to - from);
    }

    /// Notes touches. Actors that press on each other part and touch again all the time: only those count that part for longer
    /// than [`PARTED`].
    fn note_touches(&mut self, touches: Vec<(Wall, Event)>, to: f64, events: &mut Vec<Event>) {
        for (wall, event) in touches {
            let known = self.parted.iter().position(|(known, _)| *known == wall);
            match (self.blocks(), &event.what, known) {
                (true, Happening::CameClear { .. }, _) => self.parted.push((wall, event)),
                (true, Happening::Touched { .. }, Some(known)) => _ = self.parted.remove(known),
                _ => events.push(event),
            }
        }
        events.extend(
            self.parted.extract_if(.., |(_, event)| event.time + PARTED < to).map(|(_, event)| event),
        );
    }

    /// Notes the walls that pushed or squeezed it, and that it went along a chord, each once while it goes on.
    fn note_pushes(&mut self, result: &MoveResult, from: f64, to: f64, events: &mut Vec<Event>) {
        let name = |wall: Wall| self.names.of(wall).to_owned();
        if result.moved_out.length() >= LEAST_MOVED_OUT {
            let what = Happening::MovedOut { by: result.moved_out.length() };
            events.push(Event { time: from, actor: self.actor, what });
        }
        if let Some(what) = stalls(&mut self.stalled, (from, to), result.stalled) {
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
        // A wall that comes across the axis of an actor passes over it.
        let passes = |wall: Wall| result.squeezed.is_some_and(|it| it.by == wall && it.against == wall);
        // Actors do not push, though two that turn round each other are moved a little.
        let is_push = |contact: &&Contact| {
            contact.pushed && !self.names.is_actor(contact.wall) && !passes(contact.wall)
        };
        let pushes = result.contacts.iter().filter(is_push);
        for contact in pushes {
            note(contact.wall, false, contact.seconds, Happening::Pushed { wall: name(contact.wall) });
        }
        if let Some(wall) = result.carried_by {
            note(wall, false, 0.0, Happening::Pushed { wall: name(wall) });
        }
        if let Some(squeeze) = result.squeezed {
            let against = (!passes(squeeze.by)).then(|| name(squeeze.against));
            let what = Happening::Squeezed { wall: name(squeeze.by), against };
            note(squeeze.by, true, squeeze.seconds, what);
        }
        self.moved_by = now.into_iter().map(|(wall, squeezed)| (wall, squeezed, to)).collect();
    }

    /// The length of the path of a walk, in units.
    fn distance(&mut self, walk: &Walk<'_>) -> f32 {
        let mut walker = walk.start;
        let _ = walker.tick_with_path(self.intent, seconds(walk.lasts), walk.terrain, &mut self.path);
        self.path.pieces().iter().map(|piece| piece.from.distance(piece.to)).sum()
    }

    /// The walker after so many seconds of a walk.
    fn after(&self, walk: &Walk<'_>, lasts: f32) -> Mover {
        let mut walker = walk.start;
        let _ = walker.tick(self.intent, lasts, walk.terrain);
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

/// How an actor moved among others in a step.
pub(super) struct AmongOthers<'a> {
    pub(super) walker: Mover,
    pub(super) result: MoveResult,
    pub(super) path: &'a Path,
    /// It as a wall for the others.
    pub(super) own: [Wall; 1],
}

/// A stretch of time that was walked with one intent.
struct Walk<'a> {
    start: Mover,
    /// In seconds.
    lasts: f64,
    terrain: &'a dyn Terrain,
}

/// That an actor went along a chord for some seconds of a tick, once while that goes on.
fn stalls(until: &mut f64, (from, to): (f64, f64), seconds: f32) -> Option<Happening> {
    let goes_on = from - *until <= SAME_TIME;
    if seconds > 0.0 {
        *until = to;
    }
    (seconds > 0.0 && !goes_on).then_some(Happening::Stalled { seconds })
}

#[cfg(test)]
mod tests {
    use super::stalls;

    #[test]
    fn a_stall_is_said_once_while_it_goes_on() {
        let (mut until, mut said) = (f64::NEG_INFINITY, Vec::new());
        for (tick, seconds) in [0.0, 0.001, 0.002, 0.0, 0.003].into_iter().enumerate() {
            let from = 0.1 * f64::from(u32::try_from(tick).unwrap());
            said.extend(stalls(&mut until, (from, from + 0.1), seconds).map(|what| (tick, what.to_string())));
        }
        let says = "went straight on for 0.0010 s, since walls changed its path again and again: here the tick rate shows";
        assert_eq!(said.iter().map(|(tick, _)| *tick).collect::<Vec<_>>(), [1, 4]);
        assert_eq!(said[0].1, says);
    }
}
