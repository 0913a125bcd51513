//! A scenario under way with one actor in the player's hand.

use std::collections::VecDeque;

use ambulant::intent::{Intent, PressOrder};
use ambulant::pose::Stance;
use ambulant::terrain::{Layers, WallFilter};
use ambulant::travel::Feelers;

use super::hand::KeyChange;
use super::numbers::Numbers;
use crate::record::{Event, Recording, Row};
use crate::scenario::{Scenario, ScenarioText};
use crate::sim::Stage;

/// How far back one can step, in seconds.
const BACK: f64 = 20.0;
/// Tiles that all the past moments may hold together, so that a huge map does not fill the memory.
const MOST_TILES: i64 = 20_000_000;
/// The fewest moments that are kept.
const FEWEST: usize = 2;
/// An actor that stands this long is idle, in seconds.
const IDLE_AFTER: f32 = 3.0;
/// Slower than this is standing, in units/s.
const STANDING: f32 = 0.5;
/// How far feelers reach, in tiles.
const REACH: f32 = 8.0;

/// A key as it was played: at the start of the tick with this number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Played {
    pub(crate) tick: u32,
    pub(crate) change: KeyChange,
}

/// All of a run at the end of one tick, but for what happened in it.
#[derive(Clone)]
struct Moment<'a> {
    tick: u32,
    stage: Stage<'a>,
    /// The keys as the run has seen them.
    held: PressOrder,
    stance: Stance,
    row: Row,
    /// How many events there were, and how many broken tiles.
    happened: [usize; 2],
}

/// A scenario under way.
pub(crate) struct Session<'a> {
    scenario: &'a Scenario,
    tick_rate: f64,
    actor: usize,
    now: Moment<'a>,
    past: VecDeque<Moment<'a>>,
    most_past: usize,
    /// What happened since the start; the events grow, the rest is not used.
    recording: Recording,
    played: Vec<Played>,
    /// Key changes that no tick has seen yet.
    pending: Vec<KeyChange>,
    /// The keys as the player's hand has them.
    hand: PressOrder,
    numbers: Numbers,
    /// The scenario with the numbers as they are now.
    tuned: Option<Scenario>,
    through_walls: bool,
    /// The tick at which something was changed that keys alone do not bring about.
    meddled: Option<u32>,
}

impl<'a> Session<'a> {
    /// The scenario before its first tick, with one of its actors in the hand.
    pub(crate) fn new(scenario: &'a Scenario, text: &ScenarioText, tick_rate: f64, actor: usize) -> Self {
        let numbers = Numbers::new(text, &scenario.actors[actor].name);
        let now = start(scenario, None, actor, false);
        let size = scenario.map.size();
        let tiles = (i64::from(size.x) * i64::from(size.y)).max(1);
        #[expect(
            clippy::cast_possible_truncation,
            clippy::cast_sign_loss,
            reason = "a number of ticks of some seconds"
        )]
        let ticks = ((BACK * tick_rate) as usize).min((MOST_TILES / tiles) as usize);
        Self {
            scenario,
            tick_rate,
            actor,
            now,
            past: VecDeque::new(),
            most_past: ticks.max(FEWEST),
            recording: Recording::new(scenario, tick_rate),
            played: Vec::new(),
            pending: Vec::new(),
            hand: PressOrder::default(),
            numbers,
            tuned: None,
            through_walls: false,
            meddled: None,
        }
    }

    /// Starts over, with the numbers as they are.
    pub(crate) fn restart(&mut self) {
        self.now = start(self.scenario, self.tuned.as_ref(), self.actor, self.through_walls);
        self.past.clear();
        self.played.clear();
        self.pending.clear();
        self.recording = Recording::new(self.scenario, self.tick_rate);
        self.meddled = self.through_walls.then_some(0);
    }

    /// Takes keys pressed or let go.
    pub(crate) fn keys(&mut self, changes: Vec<KeyChange>) {
        for (key, down) in changes {
            if down {
                self.hand.press(key)
            } else {
                self.hand.release(key)
            }
            self.pending.push((key, down));
        }
    }

    /// Plays one tick.
    pub(crate) fn tick(&mut self) {
        let before = self.now.clone();
        let intents = self.take_keys();
        self.now.stage.ask(self.actor, &intents);
        let tick = self.now.tick + 1;
        let (from, to) = (self.time_of(self.now.tick), self.time_of(tick));
        let known = self.recording.events.len();
        self.now.stage.tick_freely(tick, (from, to), &mut self.recording);
        self.recording.events[known..].sort_by_key(Event::order);
        self.now.tick = tick;
        self.now.happened = [self.recording.events.len(), self.recording.broken.len()];
        if let Some(row) = self.now.stage.row(self.actor, tick, to) {
            #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded once")]
            self.now.stance.tick(row.velocity.length(), (to - from) as f32);
            self.now.row = row;
        }
        self.past.push_back(before);
        if self.past.len() > self.most_past {
            self.past.pop_front();
        }
    }

    /// Goes back by one tick, if it is not too long ago; what was played since is forgotten.
    pub(crate) fn step_back(&mut self) -> bool {
        let Some(before) = self.past.pop_back() else { return false };
        self.now = before;
        let tick = self.now.tick;
        self.played.retain(|played| played.tick < tick);
        let [events, broken] = self.now.happened;
        self.recording.events.truncate(events);
        self.recording.broken.truncate(broken);
        // The hand did not go back: the next tick sees it as it is.
        self.pending.clear();
        self.now.stage.set_through_walls(self.actor, self.through_walls);
        if let Some(tuned) = &self.tuned {
            self.now.stage.retune(self.actor, &tuned.actors[self.actor]);
        }
        true
    }

    /// Chooses another number, the next one or the one before.
    pub(crate) fn choose_number(&mut self, forward: bool) {
        self.numbers.choose(forward);
    }

    /// Makes the chosen number larger or smaller, from the next tick on.
    ///
    /// # Errors
    /// When there is none, or it cannot be so.
    pub(crate) fn change_number(&mut self, up: bool) -> Result<(), String> {
        let tuned = self.numbers.change(up)?;
        self.now.stage.retune(self.actor, &tuned.actors[self.actor]);
        self.tuned = Some(tuned);
        self.meddle();
        Ok(())
    }

    /// Walks through walls from now on, or not any more; whether it does.
    pub(crate) fn toggle_through_walls(&mut self) -> bool {
        self.through_walls = !self.through_walls;
        self.now.stage.set_through_walls(self.actor, self.through_walls);
        self.meddle();
        self.through_walls
    }

    fn meddle(&mut self) {
        // Before the first tick the run simply starts so.
        let at_start = self.now.tick == 0 && !self.through_walls;
        self.meddled = if at_start { self.meddled } else { Some(self.meddled.unwrap_or(self.now.tick)) };
    }

    /// What this tick asks for, one after the other, and notes the keys as played.
    fn take_keys(&mut self) -> Vec<Intent> {
        let layout = self.scenario.actors[self.actor].keys;
        let mut changes = std::mem::take(&mut self.pending);
        // What the hand holds and the run has not seen, and the other way round.
        let mut after = self.now.held;
        changes.retain(|(key, down)| {
            let news = after.held().is_held(*key) != *down;
            if *down {
                after.press(*key)
            } else {
                after.release(*key)
            }
            news
        });
        for key in ambulant::intent::Direction::ALL {
            let held = self.hand.held().is_held(key);
            if after.held().is_held(key) != held {
                changes.push((key, held));
            }
        }
        let mut intents = Vec::new();
        for change in changes {
            let (key, down) = change;
            if down {
                self.now.held.press(key)
            } else {
                self.now.held.release(key)
            }
            self.played.push(Played { tick: self.now.tick, change });
            intents.push(layout.intent(&self.now.held));
        }
        intents
    }

    fn time_of(&self, tick: u32) -> f64 {
        f64::from(tick) / self.tick_rate
    }

    /// Ticks since the start.
    pub(crate) fn ticks(&self) -> u32 {
        self.now.tick
    }

    /// Seconds since the start.
    pub(crate) fn time(&self) -> f64 {
        self.time_of(self.now.tick)
    }

    pub(crate) fn tick_rate(&self) -> f64 {
        self.tick_rate
    }

    pub(crate) fn scenario(&self) -> &'a Scenario {
        self.scenario
    }

    /// The actor in the hand.
    pub(crate) fn actor(&self) -> usize {
        self.actor
    }

    pub(crate) fn stage(&self) -> &Stage<'a> {
        &self.now.stage
    }

    /// The actor in the hand as it is.
    pub(crate) fn row(&self) -> &Row {
        &self.now.row
    }

    pub(crate) fn stance(&self) -> &Stance {
        &self.now.stance
    }

    pub(crate) fn numbers(&self) -> &Numbers {
        &self.numbers
    }

    pub(crate) fn numbers_mut(&mut self) -> &mut Numbers {
        &mut self.numbers
    }

    /// The actor with its numbers as they are now.
    pub(crate) fn tuned_actor(&self) -> &crate::scenario::Actor {
        &self.tuned.as_ref().unwrap_or(self.scenario).actors[self.actor]
    }

    pub(crate) fn goes_through_walls(&self) -> bool {
        self.through_walls
    }

    /// Since when a run of the played keys would go another way, if it would.
    pub(crate) fn meddled_at(&self) -> Option<f64> {
        self.meddled.map(|tick| self.time_of(tick))
    }

    /// What happened, in order of time.
    pub(crate) fn events(&self) -> &[Event] {
        &self.recording.events
    }

    /// Whether the run has any key held.
    pub(crate) fn holds_any(&self) -> bool {
        self.now.held.newest().is_some()
    }

    /// The keys as they were played.
    pub(crate) fn played(&self) -> &[Played] {
        &self.played
    }

    /// The actor in the hand at the last ticks, the oldest first, now last.
    pub(crate) fn track(&self) -> impl DoubleEndedIterator<Item = &Row> {
        self.past.iter().map(|moment| &moment.row).chain([&self.now.row])
    }

    /// How much room there is round the actor, up to some tiles.
    pub(crate) fn feelers(&self) -> Feelers {
        let all = &self.now.stage.field().world;
        let actor = &self.scenario.actors[self.actor];
        let mask = if self.through_walls { Layers::NONE } else { actor.mask };
        let reach = REACH * self.scenario.map.tile_size().max_element();
        Feelers::of(all, &actor.footprint, self.now.row.position, reach, &WallFilter::on(mask))
    }
}

/// The first moment of a run.
fn start<'a>(
    scenario: &'a Scenario,
    tuned: Option<&Scenario>,
    actor: usize,
    through_walls: bool,
) -> Moment<'a> {
    let mut stage = Stage::new(scenario);
    stage.take_control(actor);
    if let Some(tuned) = tuned {
        stage.retune(actor, &tuned.actors[actor]);
    }
    if through_walls {
        stage.set_through_walls(actor, true);
    }
    let row = stage.row(actor, 0, 0.0).expect("every actor of a checked scenario has a row");
    let stance = Stance::new(STANDING, STANDING, IDLE_AFTER).expect("constants in range");
    Moment { tick: 0, stage, held: PressOrder::default(), stance, row, happened: [0, 0] }
}
