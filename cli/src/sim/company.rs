//! All actors that step by tiles.
//!
//! A tick is divided where a key of any of them changes.

use ambulant::intent::Intent;
use ambulant::steps::{
    BlockedBy, Claims, MoverId, StepInput, Stepper, StrideEvent, TimedStep, tick_together,
};
use ambulant::terrain::Layers;
use glam::{IVec2, Vec2};

use super::time::seconds;
use crate::record::{Event, Happening, Row, Tally};
use crate::scenario::{Actor, Asked, Change, Moves, Scenario};

/// Key changes this close to the start of a tick belong to it, in seconds.
const SAME_TIME: f64 = 1e-9;

/// All steppers, and the tiles that they claim.
#[derive(Clone)]
pub(super) struct Steppers<'a> {
    scenario: &'a Scenario,
    claims: Claims,
    members: Vec<Member<'a>>,
    steppers: Vec<Stepper>,
}

#[derive(Clone)]
struct Member<'a> {
    actor: usize,
    id: MoverId,
    script: &'a [Change],
    wish: StepInput,
    /// The input of a player at the start of the next tick, in order.
    asked: Vec<Intent>,
    /// Whether it is between two rests.
    strides: bool,
    tally: Tally,
}

impl<'a> Steppers<'a> {
    pub(super) fn new(scenario: &'a Scenario) -> Self {
        let (ground, mut claims) = (scenario.step_ground(), Claims::new());
        for (_, tile) in &scenario.tracks.crates {
            // The scenario was checked: each of them has a tile.
            let _ = claims.put_thing(*tile, &ground);
        }
        let (mut members, mut steppers) = (Vec::new(), Vec::new());
        for (index, actor) in scenario.actors.iter().enumerate() {
            let Moves::ByTiles(rules, tile) = actor.moves else { continue };
            if let Ok(stepper) = Stepper::on(tile, rules, &ground, &mut claims) {
                let (id, wish) = (stepper.id(), StepInput::default());
                members.push(Member {
                    actor: index,
                    id,
                    script: &actor.script,
                    wish,
                    asked: Vec::new(),
                    strides: false,
                    tally: Tally::default(),
                });
                steppers.push(stepper);
            }
        }
        Self { scenario, claims, members, steppers }
    }

    /// The actors that step by tiles.
    pub(super) fn actors(&self) -> impl Iterator<Item = usize> {
        self.members.iter().map(|member| member.actor)
    }

    /// Plays one tick, divided at key changes.
    pub(super) fn tick(&mut self, from: f64, to: f64, events: &mut Vec<Event>) {
        if self.members.is_empty() {
            return;
        }
        let mut now = from;
        self.take_changes(now);
        loop {
            let changes = self.members.iter().filter_map(|member| Some(member.script.first()?.at));
            let next = changes.fold(f64::INFINITY, f64::min);
            if next + SAME_TIME >= to {
                break;
            }
            self.stretch(now, next, events);
            now = next;
            self.take_changes(now);
        }
        self.stretch(now, to, events);
    }

    /// One of it as it is at a time.
    pub(super) fn row(&self, actor: usize, tick: u32, time: f64) -> Option<Row> {
        let place = self.members.iter().position(|member| member.actor == actor)?;
        let (member, stepper) = (&self.members[place], &self.steppers[place]);
        let map = &self.scenario.map;
        let position = stepper.position(map);
        Some(Row {
            tick,
            time,
            actor,
            position,
            velocity: stepper.velocity(map),
            heading: 0.0,
            intent: member.wish.held.vector(),
            facing: stepper.facing(),
            tile: map.tile_at(position),
            touching: Vec::new(),
        })
    }

    /// Every claimed tile.
    pub(super) fn claimed(&self) -> Vec<IVec2> {
        self.claims.iter().map(|(tile, _)| tile).collect()
    }

    /// Where the things that can be pushed are.
    pub(super) fn crates(&self) -> Vec<IVec2> {
        let held = self.claims.iter().filter(|(tile, _)| self.claims.thing_at(*tile).is_some());
        held.map(|(tile, _)| tile).collect()
    }

    /// Stops the script of an actor.
    pub(super) fn take_control(&mut self, actor: usize) {
        if let Some(member) = self.members.iter_mut().find(|member| member.actor == actor) {
            member.script = &[];
        }
    }

    /// Sets the intents of an actor, one after the other, at the start of the next tick.
    pub(super) fn ask(&mut self, actor: usize, intents: &[Intent]) {
        if let Some(member) = self.members.iter_mut().find(|member| member.actor == actor) {
            member.asked.extend_from_slice(intents);
        }
    }

    /// Gives one of it other numbers.
    pub(super) fn retune(&mut self, actor: usize, numbers: &Actor) {
        let place = self.members.iter().position(|member| member.actor == actor);
        if let (Some(place), Moves::ByTiles(rules, _)) = (place, numbers.moves) {
            self.steppers[place].rules = rules;
        }
    }

    /// Lets one of them pass through all walls, or not; the others still claim their tiles.
    pub(super) fn set_through_walls(&mut self, actor: usize, through: bool) {
        let Some(place) = self.members.iter().position(|member| member.actor == actor) else { return };
        let rules = self.steppers[place].rules;
        let mask = if through { Layers::NONE } else { self.scenario.actors[actor].mask };
        self.steppers[place].rules = rules.with_mask(mask);
    }

    pub(super) fn tally(&self, actor: usize) -> Option<Tally> {
        self.members.iter().find(|member| member.actor == actor).map(|member| member.tally)
    }

    fn take_changes(&mut self, now: f64) {
        for member in &mut self.members {
            member.wish.tapped = Intent::NONE;
            for intent in member.asked.drain(..) {
                ask(&mut member.wish, intent);
            }
            while let Some((change, later)) =
                member.script.split_first().filter(|(next, _)| next.at <= now + SAME_TIME)
            {
                if let Asked::Intent { intent, .. } = change.asked {
                    ask(&mut member.wish, intent);
                }
                member.script = later;
            }
            if member.wish.tapped == member.wish.held {
                member.wish.tapped = Intent::NONE;
            }
        }
    }

    fn stretch(&mut self, from: f64, to: f64, events: &mut Vec<Event>) {
        let before: Vec<Vec2> =
            self.steppers.iter().map(|stepper| stepper.position(&self.scenario.map)).collect();
        let members = &self.members;
        let wish = |id: MoverId| {
            members
                .iter()
                .find(|member| member.id == id)
                .map_or_else(StepInput::default, |member| member.wish)
        };
        let mut steps: Vec<(MoverId, TimedStep)> = Vec::new();
        let dt = seconds(to - from);
        let ground = self.scenario.step_ground();
        tick_together(&mut self.steppers, wish, dt, &ground, &mut self.claims, |id, event| {
            steps.push((id, event))
        });
        for member in &mut self.members {
            member.wish.tapped = Intent::NONE;
        }
        self.note(from, &steps, events);
        self.add_up(&before, to - from, &steps);
    }

    /// Adds the events, with the names of the scenario.
    fn note(&self, from: f64, steps: &[(MoverId, TimedStep)], events: &mut Vec<Event>) {
        for (place, (id, event)) in steps.iter().enumerate() {
            let Some(actor) = self.actor_of(*id) else { continue };
            let same = |other: &&(MoverId, TimedStep)| other.0 == *id && other.1.at == event.at;
            let went_on = steps[place + 1..]
                .iter()
                .filter(same)
                .any(|(_, next)| matches!(next.what, StrideEvent::Left { .. }));
            let facing = self.steppers.iter().find(|stepper| stepper.id() == *id).map(Stepper::facing);
            let text = match event.what {
                StrideEvent::Blocked { direction, by } => {
                    let mut text = format!("{direction} is blocked by {}", self.name(by));
                    if let (true, Some(facing)) = (went_on, facing) {
                        text += &format!(", went on {facing}");
                    }
                    text
                }
                StrideEvent::Left { tile } if self.was_at_rest(place, steps) => {
                    format!("set off from {}", self.tile(tile))
                }
                StrideEvent::Left { .. } => continue,
                StrideEvent::Entered { tile } => format!("entered {}", self.tile(tile)),
                StrideEvent::Rested { tile } => format!("came to rest on {}", self.tile(tile)),
                StrideEvent::Pushed { thing, to } => {
                    format!("pushed {} to {},{}", self.name(BlockedBy::Thing(thing)), to.x, to.y)
                }
                other => other.to_string(),
            };
            let time = from + f64::from(event.at);
            events.push(Event {
                time,
                actor,
                what: Happening::StrideEvent { what: event.what, text, went_on },
            });
        }
    }

    /// Whether nothing else happened to the stepper at the instant at which it left.
    fn was_at_rest(&self, place: usize, steps: &[(MoverId, TimedStep)]) -> bool {
        let (id, event) = &steps[place];
        !steps[..place].iter().any(|(other, earlier)| {
            other == id && earlier.at == event.at && matches!(earlier.what, StrideEvent::Entered { .. })
        })
    }

    /// Adds what each stepper did in a stretch: it moves on straight lines between tile centres.
    fn add_up(&mut self, before: &[Vec2], lasts: f64, steps: &[(MoverId, TimedStep)]) {
        let map = &self.scenario.map;
        let size = map.tile_size();
        for (place, member) in self.members.iter_mut().enumerate() {
            let stepper = &self.steppers[place];
            let (mut at, mut way, mut moving) = (before[place], 0.0, 0.0);
            let mut since = member.strides.then_some(0.0);
            // Through a portal there is no distance.
            let distance = |from: Vec2, to: Vec2| {
                let way = from.distance(to);
                if way > 2.0 * size.max_element() { 0.0 } else { way }
            };
            for (_, event) in steps.iter().filter(|(id, _)| *id == member.id) {
                let time = f64::from(event.at);
                match event.what {
                    StrideEvent::Left { tile } | StrideEvent::Entered { tile } => {
                        let center = map.center_of(tile);
                        way += distance(at, center);
                        at = center;
                        since = since.or(Some(time));
                    }
                    StrideEvent::Rested { .. } => {
                        moving += since.take().map_or(0.0, |since| time - since);
                    }
                    _ => {}
                }
            }
            way += distance(at, stepper.position(map));
            member.strides = since.is_some();
            moving += since.map_or(0.0, |since| lasts - since);
            let tile = if stepper.facing().step().x == 0 { size.y } else { size.x };
            let speed = if way > 0.0 { stepper.rules.speed() * tile } else { 0.0 };
            member.tally.add(way, speed, moving, lasts);
        }
    }

    fn actor_of(&self, id: MoverId) -> Option<usize> {
        self.members.iter().find(|member| member.id == id).map(|member| member.actor)
    }

    fn tile(&self, tile: IVec2) -> String {
        let kind = self.scenario.map.kind(tile).map_or("the map's edge", ambulant::terrain::TileKind::name);
        format!("{kind} {},{}", tile.x, tile.y)
    }

    fn name(&self, by: BlockedBy) -> String {
        match by {
            BlockedBy::Tile(tile) => self.tile(tile),
            BlockedBy::ClosedSide { tile, side } => format!("the closed {side} of {}", self.tile(tile)),
            BlockedBy::Corner(tile) => format!("the corner of {}", self.tile(tile)),
            BlockedBy::Mover(id) => {
                let actor = self.actor_of(id).and_then(|actor| self.scenario.actors.get(actor));
                actor.map_or_else(|| id.to_string(), |actor| actor.name.clone())
            }
            BlockedBy::Thing(id) => {
                let crates = &self.scenario.tracks.crates;
                let number = id.number() as usize;
                crates.get(number).map_or_else(|| id.to_string(), |(name, _)| name.clone())
            }
            other => other.to_string(),
        }
    }
}

/// One more intent; a key pressed and released at one time is a press all the same.
fn ask(wish: &mut StepInput, intent: Intent) {
    wish.tapped = if intent.is_none() { wish.tapped } else { intent };
    wish.held = intent;
}
