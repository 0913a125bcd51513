//! One actor on its way: applies its keys, walks it through the map and notes what happens.
//!
//! A tick is divided where a key changes within it, so that the tick rate does not decide when a
//! hand is noticed. The instant at which something ends (motion, a touch) is found by playing the
//! same stretch again for shorter times: a walker is plain data and exact for any time.

use ambulant::drive::Gait;
use ambulant::intent::Intent;
use ambulant::pose::Facing;
use ambulant::terrain::{Hit, Side, TileGrid};
use ambulant::walker::Walker;
use glam::Vec2;

use super::touch::touched;
use crate::record::{Event, Happening, Row, Tally, Touch};
use crate::scenario::{Actor, KeyChange};

/// Key changes this close to the start of a tick belong to it, in seconds: far below any tick, far
/// above the rounding of times.
const SAME_TIME: f64 = 1e-9;
/// Halvings to find an instant within a tick: to below a microsecond.
const HALVINGS: u32 = 24;

/// An actor, its walker and what is known of it so far.
pub(super) struct Player<'a> {
    actor: usize,
    map: &'a TileGrid,
    keys: &'a [KeyChange],
    walker: Walker<Gait>,
    intent: Intent,
    facing: Facing,
    /// The walls it has touched and not left since.
    touching: Vec<(Side, String)>,
    pub(super) tally: Tally,
}

impl<'a> Player<'a> {
    pub(super) fn new(index: usize, actor: &'a Actor, map: &'a TileGrid) -> Self {
        Self {
            actor: index,
            map,
            keys: &actor.keys,
            walker: Walker::new(actor.start, actor.footprint, actor.gait),
            intent: Intent::NONE,
            facing: Facing::Down,
            touching: Vec::new(),
            tally: Tally::default(),
        }
    }

    /// Plays one tick, divided at key changes.
    pub(super) fn tick(&mut self, from: f64, to: f64, events: &mut Vec<Event>) {
        let mut now = from;
        self.take_keys(now);
        while let Some(next) = self.keys.first().map(|change| change.at).filter(|at| at + SAME_TIME < to) {
            self.walk(now, next, events);
            now = next;
            self.take_keys(now);
        }
        self.walk(now, to, events);
    }

    /// The actor as it is at a time.
    pub(super) fn row(&self, tick: u32, time: f64) -> Row {
        let at = self.walker.footprint.at(self.walker.position).center();
        Row {
            tick,
            time,
            actor: self.actor,
            position: self.walker.position,
            velocity: self.walker.velocity,
            intent: self.intent.vector(),
            facing: self.facing,
            tile: self.map.tile_at(at),
            touching: touches(self.map, &self.walker)
                .map(|hit| Touch::new(self.map, hit.wall, hit.side))
                .collect(),
        }
    }

    fn take_keys(&mut self, now: f64) {
        while let Some((change, later)) =
            self.keys.split_first().filter(|(next, _)| next.at <= now + SAME_TIME)
        {
            self.intent = change.held.intent(self.map.y_axis());
            self.facing = Facing::toward(self.intent.vector(), self.map.y_axis()).unwrap_or(self.facing);
            self.keys = later;
        }
    }

    fn walk(&mut self, from: f64, to: f64, events: &mut Vec<Event>) {
        let before = self.walker;
        #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
        let dt = (to - from) as f32;
        let passage = self.walker.tick(self.intent, dt, self.map);
        let mut note = |time: f64, what: Happening| events.push(Event { time, actor: self.actor, what });

        let moves = |walker: &Walker<Gait>| walker.velocity != Vec2::ZERO;
        let moved = self.walker.position != before.position;
        if moved && !moves(&before) {
            let toward = Facing::toward(self.walker.position - before.position, self.map.y_axis());
            note(from, Happening::MovedOff { toward: toward.unwrap_or(self.facing) });
        }
        for contact in passage.contacts.iter() {
            let touch = Touch::new(self.map, contact.wall, contact.side);
            let key = (contact.side, touch.wall.clone());
            if !self.touching.contains(&key) {
                let time = from + (to - from) * f64::from(contact.fraction);
                note(time, Happening::Touched { touch, contact: *contact });
                self.touching.push(key);
            }
        }
        for (side, wall) in core::mem::take(&mut self.touching) {
            if touches(self.map, &self.walker).any(|hit| hit.side == side) {
                self.touching.push((side, wall));
            } else {
                let left = |walker: &Walker<Gait>| !touches(self.map, walker).any(|hit| hit.side == side);
                let time = from + self.first_instant(before, to - from, left);
                note(time, Happening::CameClear { side, wall });
            }
        }
        let mut moving = if moved { to - from } else { 0.0 };
        if moved && !moves(&self.walker) {
            moving = self.first_instant(before, to - from, |walker| !moves(walker));
            note(from + moving, Happening::CameToRest);
        }
        let fastest = passage.contacts.iter().map(|contact| contact.before.length());
        let fastest = fastest.fold(self.walker.velocity.length(), f32::max);
        self.tally.add(self.walker.position.distance(before.position), fastest, moving, to - from);
    }

    /// The first instant of a stretch at which something is true that is true at its end.
    fn first_instant(&self, start: Walker<Gait>, lasts: f64, is_true: impl Fn(&Walker<Gait>) -> bool) -> f64 {
        let (mut before, mut after) = (0.0, lasts);
        for _ in 0..HALVINGS {
            let middle = f64::midpoint(before, after);
            let mut walker = start;
            #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
            let _ = walker.tick(self.intent, middle as f32, self.map);
            if is_true(&walker) { after = middle } else { before = middle }
        }
        after
    }
}

fn touches(map: &TileGrid, walker: &Walker<Gait>) -> impl Iterator<Item = Hit> {
    touched(map, &walker.footprint, walker.position)
}
