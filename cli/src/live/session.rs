//! A scenario under way with one actor in the player's hand.

use std::collections::VecDeque;

use ambulant::intent::{HeldKeys, Intent, PressOrder};
use ambulant::pose::Stance;
use ambulant::terrain::{Layers, WallFilter};
use ambulant::travel::Feelers;
use glam::Vec2;

use super::acts::HandInput;
use super::input::{Drag, KeyChange, Played};
use super::numbers::Numbers;
use crate::record::{Event, Recording, Row};
use crate::scenario::{Actor, Scenario, ScenarioText};
use crate::sim::{Stage, time_of};

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

/// All of a run at the end of one tick, but for what happened in it.
#[derive(Clone)]
struct Moment<'a> {
    tick: u32,
    stage: Stage<'a>,
    /// The same run with the numbers of the file, while some are changed.
    ghost: Option<Stage<'a>>,
    /// The keys and what the stick asks for, as the run has seen them.
    held: PressOrder,
    stick: Intent,
    stance: Stance,
    row: Row,
    /// How many events there were, how many broken tiles, and how many broken obstacles.
    happened: [usize; 3],
}

impl<'a> Moment<'a> {
    /// The run and its ghost.
    fn stages(&mut self) -> impl Iterator<Item = &mut Stage<'a>> {
        [Some(&mut self.stage), self.ghost.as_mut()].into_iter().flatten()
    }
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
    hand: HandInput,
    numbers: Numbers,
    /// The scenario with the numbers as they are now, and as they are in the file since they were saved.
    tuned: Option<Scenario>,
    saved: Option<Scenario>,
    through_walls: bool,
    /// The tick at which something was changed that keys alone do not bring about.
    meddled: Option<u32>,
}

impl<'a> Session<'a> {
    /// The scenario before its first tick, with one of its actors in the hand.
    pub(crate) fn new(scenario: &'a Scenario, text: &ScenarioText, tick_rate: f64, actor: usize) -> Self {
        let numbers = Numbers::new(text, &scenario.actors[actor].name);
        let now = start(scenario, [None, None], actor, false);
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
            hand: HandInput::default(),
            numbers,
            tuned: None,
            saved: None,
            through_walls: false,
            meddled: None,
        }
    }

    /// Starts over, with the numbers as they are.
    pub(crate) fn restart(&mut self) {
        let numbers = [self.tuned.as_ref(), self.saved.as_ref()];
        self.now = start(self.scenario, numbers, self.actor, self.through_walls);
        if !self.numbers.changed() {
            self.now.ghost = None;
        }
        self.past.clear();
        self.played.clear();
        self.hand.forget();
        self.recording = Recording::new(self.scenario, self.tick_rate);
        self.meddled = self.through_walls.then_some(0);
    }

    /// Takes keys pressed or let go.
    pub(crate) fn keys(&mut self, changes: Vec<KeyChange>) {
        self.hand.keys(changes);
    }

    /// Lets go of all keys and of the stick.
    pub(crate) fn let_go(&mut self) {
        self.hand.let_go();
    }

    /// Takes a stick that was moved, in the directions of a screen: y grows downwards.
    pub(crate) fn stick(&mut self, to: Vec2) {
        self.hand.stick(to * Vec2::new(1.0, self.scenario.map.y_axis().downward()));
    }

    /// Takes a drag that launches the actor, if it is long enough.
    ///
    /// # Errors
    /// When the actor cannot be flicked, or the drag is only a tap.
    pub(crate) fn flick(&mut self, drag: Drag) -> Result<(), String> {
        let launch = self.launch(&drag)?;
        launch.ok_or_else(|| "a drag as short as this launches nothing".to_owned())?;
        self.hand.flick(drag);
        Ok(())
    }

    /// What a drag would launch, if it is long enough.
    ///
    /// # Errors
    /// When the actor cannot be flicked.
    pub(crate) fn launch(&self, drag: &Drag) -> Result<Option<Vec2>, String> {
        let actor = self.actor_in_hand();
        let flick = actor.flick.filter(|_| actor.drive().is_some());
        let flick = flick.ok_or_else(|| format!("{} has no `flick` in the file", actor.name))?;
        Ok(drag.launch(&flick))
    }

    /// The places that the actor in the hand would pass after a launch now, at each tick.
    pub(crate) fn path_after(&self, velocity: Vec2, seconds: f64) -> impl Iterator<Item = Vec2> {
        let mut stage = self.now.stage.clone();
        stage.launch(self.actor, velocity);
        let mut recording = Recording::new(self.scenario, self.tick_rate);
        #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "some seconds of ticks")]
        let ticks = (seconds * self.tick_rate) as u32;
        let (first, rate, actor) = (self.now.tick, self.tick_rate, self.actor);
        (first..first + ticks).map(move |tick| {
            let time = |tick: u32| time_of(tick, rate);
            stage.tick_freely(tick + 1, (time(tick), time(tick + 1)), &mut recording);
            stage.row(actor, tick + 1, time(tick + 1)).map_or(Vec2::ZERO, |row| row.position)
        })
    }

    /// Serves the ball that the actor holds.
    ///
    /// # Errors
    /// When it holds none.
    pub(crate) fn serve(&mut self) -> Result<(), String> {
        if !self.now.stage.holds_ball(self.actor) {
            return Err(format!("{} holds no ball", self.actor_in_hand().name));
        }
        self.hand.serve();
        Ok(())
    }

    /// Fires a shot toward a place, like the first one that the file has for the actor.
    ///
    /// # Errors
    /// When the file has none.
    pub(crate) fn shoot(&mut self, toward: Vec2) -> Result<(), String> {
        let actor = self.actor_in_hand();
        if actor.shots.is_empty() || !toward.is_finite() {
            return Err(format!("{} has no `shots` in the file", actor.name));
        }
        self.hand.shoot(toward);
        Ok(())
    }

    /// Plays one tick.
    pub(crate) fn tick(&mut self) {
        let before = self.now.clone();
        let acts = self.hand.take(self.actor_in_hand(), &mut self.now.held, &mut self.now.stick);
        let first = self.now.tick;
        self.played.extend(acts.acts().iter().map(|act| Played { tick: first, act: *act }));
        for stage in self.now.stages() {
            acts.apply(stage, self.scenario, self.actor, time_of(first, self.tick_rate));
        }
        let tick = self.now.tick + 1;
        let (from, to) = (self.time_of(self.now.tick), self.time_of(tick));
        let known = self.recording.events.len();
        self.now.stage.tick_freely(tick, (from, to), &mut self.recording);
        self.recording.events[known..].sort_by_key(Event::order);
        if let Some(ghost) = &mut self.now.ghost {
            let mut apart = Recording::new(self.scenario, self.tick_rate);
            ghost.tick_freely(tick, (from, to), &mut apart);
        }
        self.now.tick = tick;
        let Recording { events, broken, shattered, .. } = &self.recording;
        self.now.happened = [events.len(), broken.len(), shattered.len()];
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
        let [events, broken, shattered] = self.now.happened;
        self.recording.events.truncate(events);
        self.recording.broken.truncate(broken);
        self.recording.shattered.truncate(shattered);
        // The hand did not go back: the next tick sees it as it is.
        self.hand.forget();
        self.with_ghost();
        for stage in self.now.stages() {
            stage.set_through_walls(self.actor, self.through_walls);
        }
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
        self.tune(tuned);
        Ok(())
    }

    /// Gives a number a value, from the next tick on; `goes_on` if it is one change with the last one.
    ///
    /// # Errors
    /// When there is no such number, or it cannot be so.
    pub(crate) fn set_number(&mut self, way: &str, value: f64, goes_on: bool) -> Result<(), String> {
        let tuned = self.numbers.set(way, value, goes_on)?;
        self.tune(tuned);
        Ok(())
    }

    /// Takes back the last change of a number.
    ///
    /// # Errors
    /// When there is none.
    pub(crate) fn undo_number(&mut self) -> Result<(), String> {
        let tuned = self.numbers.undo()?;
        self.tune(tuned);
        Ok(())
    }

    /// Puts all numbers back to those of the file.
    ///
    /// # Errors
    /// When they are.
    pub(crate) fn revert_numbers(&mut self) -> Result<(), String> {
        let tuned = self.numbers.revert()?;
        self.tune(tuned);
        Ok(())
    }

    /// Takes the numbers as they are for those of the file.
    pub(crate) fn settle_numbers(&mut self) {
        self.numbers.settle();
        self.saved = self.tuned.clone();
        self.with_ghost();
    }

    fn tune(&mut self, tuned: Scenario) {
        self.with_ghost();
        self.now.stage.retune(self.actor, &tuned.actors[self.actor]);
        self.tuned = Some(tuned);
        self.meddle();
    }

    /// Sees to it that there is a ghost while numbers are not those of the file, and only then.
    fn with_ghost(&mut self) {
        if !self.numbers.changed() {
            self.now.ghost = None;
        } else if self.now.ghost.is_none() {
            let mut ghost = self.now.stage.clone();
            ghost.retune(self.actor, self.actor_of_file());
            self.now.ghost = Some(ghost);
        }
    }

    /// Walks through walls from now on, or not any more; whether it does.
    pub(crate) fn toggle_through_walls(&mut self) -> bool {
        self.through_walls = !self.through_walls;
        for stage in self.now.stages() {
            stage.set_through_walls(self.actor, self.through_walls);
        }
        self.meddle();
        self.through_walls
    }

    fn meddle(&mut self) {
        // Before the first tick the run simply starts so.
        let at_start = self.now.tick == 0 && !self.through_walls;
        self.meddled = if at_start { self.meddled } else { Some(self.meddled.unwrap_or(self.now.tick)) };
    }

    fn time_of(&self, tick: u32) -> f64 {
        time_of(tick, self.tick_rate)
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

    /// The actor with its numbers as they are now.
    pub(crate) fn tuned_actor(&self) -> &Actor {
        &self.tuned.as_ref().unwrap_or(self.scenario).actors[self.actor]
    }

    /// The actor with the numbers that the file has now.
    pub(crate) fn actor_of_file(&self) -> &Actor {
        &self.saved.as_ref().unwrap_or(self.scenario).actors[self.actor]
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

    /// Whether the run has any key held, and whether its stick asks for anything.
    pub(crate) fn holds_any(&self) -> [bool; 2] {
        [self.now.held.newest().is_some(), !self.now.stick.is_none()]
    }

    /// All that was played.
    pub(crate) fn played(&self) -> &[Played] {
        &self.played
    }

    /// The actor in the hand at the last ticks, the oldest first, now last.
    pub(crate) fn track(&self) -> impl DoubleEndedIterator<Item = &Row> {
        self.track_with_keys().map(|(row, _)| row)
    }

    /// The same with the keys that were held.
    pub(crate) fn track_with_keys(&self) -> impl DoubleEndedIterator<Item = (&Row, HeldKeys)> {
        let moments = self.past.iter().chain([&self.now]);
        moments.map(|moment| (&moment.row, moment.held.held()))
    }

    /// An actor at the tick before the last one; at the first tick as it is.
    pub(crate) fn row_before(&self, actor: usize) -> Option<Row> {
        let moment = self.past.back().unwrap_or(&self.now);
        moment.stage.row(actor, moment.tick, self.time_of(moment.tick))
    }

    /// The walls and actors at the tick before the last one.
    pub(crate) fn stage_before(&self) -> &Stage<'a> {
        &self.past.back().unwrap_or(&self.now).stage
    }

    /// The actor in the hand as it would be with the numbers of the file, at the last two ticks.
    pub(crate) fn ghost(&self) -> Option<[Row; 2]> {
        let row = |moment: &Moment<'_>| {
            let ghost = moment.ghost.as_ref()?;
            ghost.row(self.actor, moment.tick, self.time_of(moment.tick))
        };
        let now = row(&self.now)?;
        let before = self.past.back().and_then(row).unwrap_or_else(|| now.clone());
        Some([before, now])
    }

    /// The actor in the hand as the file has it.
    pub(crate) fn actor_in_hand(&self) -> &'a Actor {
        &self.scenario.actors[self.actor]
    }

    /// What broke so far, and what stood on no tile.
    pub(crate) fn recording(&self) -> &Recording {
        &self.recording
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

/// The first moment of a run with these numbers, and a ghost with those.
fn start<'a>(
    scenario: &'a Scenario,
    [tuned, of_file]: [Option<&Scenario>; 2],
    actor: usize,
    through_walls: bool,
) -> Moment<'a> {
    let stage = |numbers: Option<&Scenario>| {
        let mut stage = Stage::new(scenario);
        stage.take_control(actor);
        if let Some(tuned) = numbers {
            stage.retune(actor, &tuned.actors[actor]);
        }
        if through_walls {
            stage.set_through_walls(actor, true);
        }
        stage
    };
    let (stage, ghost) = (stage(tuned), tuned.map(|_| stage(of_file)));
    let row = stage.row(actor, 0, 0.0).expect("every actor of a checked scenario has a row");
    let stance = Stance::new(STANDING, STANDING, IDLE_AFTER).expect("constants in range");
    let (held, stick) = (PressOrder::default(), Intent::NONE);
    Moment { tick: 0, stage, ghost, held, stick, stance, row, happened: [0, 0, 0] }
}
