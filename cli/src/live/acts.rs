//! What a hand did since the last tick, and what the next tick is asked.

use ambulant::intent::{Direction, Intent, PressOrder};
use glam::Vec2;

use super::input::{Act, Drag, KeyChange, stick_of};
use crate::scenario::{Actor, Scenario, Shot};
use crate::sim::Stage;

/// What a hand holds, and what it did that no tick has seen yet.
#[derive(Debug, Default)]
pub(super) struct HandInput {
    held: PressOrder,
    /// In the directions of the world's axes.
    stick: Vec2,
    keys: Vec<KeyChange>,
    flicks: Vec<Drag>,
    serves: bool,
    shot: Option<Vec2>,
}

impl HandInput {
    pub(super) fn keys(&mut self, changes: Vec<KeyChange>) {
        for (key, down) in changes {
            set(&mut self.held, key, down);
            self.keys.push((key, down));
        }
    }

    /// Lets go of all keys and of the stick.
    pub(super) fn let_go(&mut self) {
        let held = Direction::ALL.into_iter().filter(|key| self.held.held().is_held(*key));
        self.keys(held.map(|key| (key, false)).collect());
        self.stick = Vec2::ZERO;
    }

    /// Takes a stick that was moved; no numbers are none.
    pub(super) fn stick(&mut self, to: Vec2) {
        self.stick = if to.is_finite() { to.clamp(Vec2::NEG_ONE, Vec2::ONE) } else { Vec2::ZERO };
    }

    pub(super) fn flick(&mut self, drag: Drag) {
        self.flicks.push(drag);
    }

    pub(super) fn serve(&mut self) {
        self.serves = true;
    }

    pub(super) fn shoot(&mut self, toward: Vec2) {
        self.shot = Some(toward);
    }

    /// Forgets what no tick has seen; what is held is still held.
    pub(super) fn forget(&mut self) {
        *self = Self { held: self.held, stick: self.stick, ..Self::default() };
    }

    /// What the next tick is asked. `held` and `asked` are the keys and what the stick asks for as the run has seen them.
    pub(super) fn take(&mut self, actor: &Actor, held: &mut PressOrder, asked: &mut Intent) -> Acts {
        let (mut acts, mut intents) = (Vec::new(), Vec::new());
        for change in self.news(held) {
            set(held, change.0, change.1);
            acts.push(Act::Key(change));
            intents.push(actor.keys.intent(held));
        }
        let stick = stick_of(actor).intent(self.stick);
        if stick != *asked {
            *asked = stick;
            acts.push(Act::Stick(self.stick));
            intents.push(stick.turned(actor.keys.view_rotation()));
        }
        acts.extend(self.flicks.drain(..).map(Act::Flick));
        acts.extend(std::mem::take(&mut self.serves).then_some(Act::Serve));
        acts.extend(self.shot.take().map(Act::Shot));
        Acts { intents, acts }
    }

    /// The key changes that are news for the run: what the hand holds and the run has not seen, and the other way round.
    fn news(&mut self, seen: &PressOrder) -> Vec<KeyChange> {
        let mut changes = std::mem::take(&mut self.keys);
        let mut after = *seen;
        changes.retain(|(key, down)| {
            let news = after.held().is_held(*key) != *down;
            set(&mut after, *key, *down);
            news
        });
        for key in Direction::ALL {
            let held = self.held.held().is_held(key);
            if after.held().is_held(key) != held {
                changes.push((key, held));
            }
        }
        changes
    }
}

fn set(held: &mut PressOrder, key: Direction, down: bool) {
    if down { held.press(key) } else { held.release(key) }
}

/// What a tick is asked.
pub(super) struct Acts {
    /// What is asked for, one after the other.
    intents: Vec<Intent>,
    acts: Vec<Act>,
}

impl Acts {
    pub(super) fn acts(&self) -> &[Act] {
        &self.acts
    }

    /// Asks a run, as a script would at one time.
    pub(super) fn apply(&self, stage: &mut Stage<'_>, scenario: &Scenario, actor: usize, time: f64) {
        let file = &scenario.actors[actor];
        stage.ask(actor, &self.intents);
        for act in &self.acts {
            match act {
                Act::Key(_) | Act::Stick(_) => {}
                Act::Flick(drag) => {
                    if let Some(velocity) = file.flick.and_then(|flick| drag.launch(&flick)) {
                        stage.launch(actor, velocity);
                    }
                }
                Act::Serve => _ = stage.serve(actor, time),
                Act::Shot(toward) => {
                    if let Some(model) = file.shots.first() {
                        stage.shoot(actor, Shot { at: time, toward: *toward, ..*model });
                    }
                }
            }
        }
    }
}
