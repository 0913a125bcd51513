//! The state of a scenario at one instant.

use std::cell::RefCell;

use ambulant::intent::Intent;
use glam::{IVec2, Vec2};

use super::company::Steppers;
use super::crowd::Blocking;
use super::expect::Expectations;
use super::field::Field;
use super::flight::Flyers;
use super::output::StepOutput;
use super::player::Player;
use super::time::seconds;
use super::world::World;
use crate::record::{Recording, Row, Tally};
use crate::scenario::{Actor, Scenario, Shot};

/// All actors and walls, as plain data: a copy continues like the original.
#[derive(Clone)]
pub(crate) struct Stage<'a> {
    players: Vec<Player<'a>>,
    blocking: Blocking<'a>,
    company: Steppers<'a>,
    air: Flyers<'a>,
    world: World<'a>,
    stepping: Vec<usize>,
    flying: Vec<usize>,
}

impl<'a> Stage<'a> {
    /// The scenario before its first tick.
    pub(crate) fn new(scenario: &'a Scenario) -> Self {
        let free = scenario.actors.iter().enumerate();
        let players =
            free.filter_map(|(index, actor)| Some(Player::new(index, actor, *actor.drive()?, scenario)));
        let (company, air) = (Steppers::new(scenario), Flyers::new(scenario));
        let (stepping, flying) = (company.actors().collect(), air.actors().collect());
        let players: Vec<Player<'_>> = players.collect();
        let blocking = Blocking::new(scenario, &players);
        Self { players, blocking, company, air, world: World::new(scenario), stepping, flying }
    }

    /// Plays one tick and adds what happens to the recording; what is expected within it is judged at its time.
    pub(super) fn tick(
        &mut self,
        tick: u32,
        (mut from, to): (f64, f64),
        watch: &mut Expectations<'_>,
        recording: &mut Recording,
    ) {
        let moments = self.players.iter().flat_map(Player::changes).chain(self.air.moments());
        for step in self.world.steps(from, to, moments) {
            self.step(tick, (from, step), watch, recording);
            from = step;
        }
    }

    /// Plays one tick of which nothing is expected.
    pub(crate) fn tick_freely(&mut self, tick: u32, span: (f64, f64), recording: &mut Recording) {
        self.tick(tick, span, &mut Expectations::none(), recording);
    }

    fn step(
        &mut self,
        tick: u32,
        (from, to): (f64, f64),
        watch: &mut Expectations<'_>,
        recording: &mut Recording,
    ) {
        let Self { players, blocking, company, air, world, stepping, flying } = self;
        let (dt, mut output) = (seconds(to - from), StepOutput::default());
        air.begin(from, players, &mut output);
        world.begin(dt, players);
        // An expectation between two steps is checked on a copy that stops there.
        if !blocking.is_empty() {
            let known = RefCell::new(&mut *watch);
            let expected = |player: &Player<'_>| known.borrow().due(player.actor(), to);
            let judge = |player: &Player<'_>, at: f64| {
                known.borrow_mut().judge_at(at, player.actor(), || player.row(tick, at));
            };
            blocking.tick((from, to), players, world.field(), &mut recording.events, expected, judge);
        }
        let walls = &world.field().world;
        for player in players.iter_mut().filter(|player| !player.blocks()) {
            for at in watch.due(player.actor(), to) {
                let mut copy = player.clone();
                copy.tick(from, at, walls, &mut Vec::new());
                watch.judge_at(at, player.actor(), || copy.row(tick, at));
            }
            player.tick(from, to, walls, &mut recording.events);
        }
        for actor in flying.iter() {
            for at in watch.due(*actor, to) {
                let (mut copy, mut field) = (air.clone(), world.field().clone());
                copy.tick(from, at, players, &mut field, &mut StepOutput::default());
                if let Some(row) = copy.row(*actor, tick, at) {
                    watch.judge_at(at, *actor, || row.clone());
                }
            }
        }
        air.tick(from, to, players, world.field_mut(), &mut output);
        world.advance(dt);
        for actor in stepping.iter() {
            for at in watch.due(*actor, to) {
                let mut copy = company.clone();
                copy.tick(from, at, &mut Vec::new());
                if let Some(row) = copy.row(*actor, tick, at) {
                    watch.judge_at(at, *actor, || row.clone());
                }
            }
        }
        company.tick(from, to, &mut recording.events);
        recording.events.extend(output.events);
        recording.bends.extend(output.bends);
        recording.broken.extend(output.broken);
        recording.shots.extend(output.shots);
        recording.shattered.extend(output.shattered);
    }

    /// Judges what is expected at the start.
    pub(super) fn judge_start(&self, watch: &mut Expectations<'_>, actors: usize) {
        for actor in 0..actors {
            if let Some(row) = self.row(actor, 0, 0.0) {
                watch.judge_at(0.0, actor, || row.clone());
            }
        }
    }

    fn player(&self, actor: usize) -> Option<&Player<'a>> {
        self.players.iter().find(|player| player.actor() == actor)
    }

    fn player_mut(&mut self, actor: usize) -> Option<&mut Player<'a>> {
        self.players.iter_mut().find(|player| player.actor() == actor)
    }

    /// An actor as it is.
    pub(crate) fn row(&self, actor: usize, tick: u32, time: f64) -> Option<Row> {
        self.player(actor)
            .map(|player| player.row(tick, time))
            .or_else(|| self.company.row(actor, tick, time))
            .or_else(|| self.air.row(actor, tick, time))
    }

    /// What an actor's run has added up to.
    pub(super) fn tally(&self, actor: usize) -> Tally {
        self.player(actor)
            .map(|player| player.tally)
            .or_else(|| self.company.tally(actor))
            .or_else(|| self.air.tally(actor))
            .unwrap_or_default()
    }

    /// The walls as they stand.
    pub(crate) fn field(&self) -> &Field {
        self.world.field()
    }

    pub(crate) fn world(&self) -> &World<'a> {
        &self.world
    }

    /// The tiles that are claimed.
    pub(crate) fn claimed(&self) -> Vec<IVec2> {
        self.company.claimed()
    }

    /// Where the things that can be pushed are.
    pub(crate) fn crates(&self) -> Vec<IVec2> {
        self.company.crates()
    }

    /// Stops an actor's script.
    pub(crate) fn take_control(&mut self, actor: usize) {
        if let Some(player) = self.player_mut(actor) {
            player.take_control();
        }
        self.company.take_control(actor);
        self.air.take_control(actor);
    }

    /// Adds a velocity to an actor that moves freely, at the start of its next tick.
    pub(crate) fn launch(&mut self, actor: usize, velocity: Vec2) {
        if let Some(player) = self.player_mut(actor) {
            player.launch(velocity);
        }
    }

    /// Serves the balls that an actor holds, at a time at which a tick starts; whether there were any.
    pub(crate) fn serve(&mut self, actor: usize, time: f64) -> bool {
        self.air.serve(actor, time)
    }

    /// Whether an actor holds a ball.
    pub(crate) fn holds_ball(&self, actor: usize) -> bool {
        self.air.is_holding(actor)
    }

    /// Fires a shot of an actor at a time at which a tick starts.
    pub(crate) fn shoot(&mut self, actor: usize, shot: Shot) {
        self.air.shoot(actor, shot);
    }

    /// Where the shots are that are under way.
    pub(crate) fn shots(&self) -> impl Iterator<Item = Vec2> {
        self.air.shots()
    }

    /// Sets the intents of an actor, one after the other, from its next tick on: as a script would at one time.
    pub(crate) fn ask(&mut self, actor: usize, intents: &[Intent]) {
        if let Some(player) = self.player_mut(actor) {
            player.ask(intents);
        }
        self.company.ask(actor, intents);
    }

    /// Gives an actor other numbers, from its next tick on.
    pub(crate) fn retune(&mut self, actor: usize, numbers: &Actor) {
        if let Some(player) = self.player_mut(actor) {
            player.retune(numbers);
        }
        self.company.retune(actor, numbers);
    }

    /// Lets an actor pass through all walls, or not.
    pub(crate) fn set_through_walls(&mut self, actor: usize, through: bool) {
        if let Some(player) = self.player_mut(actor) {
            player.set_through_walls(through);
        }
        self.company.set_through_walls(actor, through);
    }
}
