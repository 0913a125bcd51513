//! What a page says, as one JSON object for each message.

use ambulant::intent::Direction;
use glam::Vec2;
use serde::Deserialize;

use crate::live::{Drag, Game, Session};

/// What a page asks for.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(tag = "do", rename_all = "snake_case", deny_unknown_fields)]
pub(super) enum Message {
    /// Let time pass, and say how all is now.
    Frame(Wanted),
    Key {
        key: Key,
        down: bool,
    },
    ReleaseAll,
    /// The stick is here: x to the right and y down, from -1 to 1.
    Stick {
        to: [f32; 2],
    },
    Flick(Dragged),
    Serve,
    Shoot {
        toward: [f32; 2],
    },
    Pause {
        paused: bool,
    },
    Step,
    Back,
    Restart,
    Pace {
        pace: f32,
    },
    Actor {
        actor: usize,
    },
    Walls,
    Number {
        way: String,
        value: f64,
        goes_on: bool,
    },
    Undo,
    Revert,
    Save,
    Keep,
    End,
}

/// What a page wants to be shown.
#[derive(Debug, Clone, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Wanted {
    /// What it knows: which past, the last tick of it, and how many events.
    pub(super) known: [u32; 3],
    #[serde(default)]
    pub(super) feelers: bool,
    /// A drag under way.
    #[serde(default)]
    pub(super) drag: Option<Dragged>,
}

/// A drag of the pointer, in units and seconds.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize)]
#[serde(deny_unknown_fields)]
pub(super) struct Dragged {
    from: [f32; 2],
    to: [f32; 2],
    seconds: f32,
}

impl From<Dragged> for Drag {
    fn from(dragged: Dragged) -> Self {
        let Dragged { from, to, seconds } = dragged;
        Self { from: Vec2::from(from), to: Vec2::from(to), seconds }
    }
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(super) enum Key {
    Left,
    Right,
    Up,
    Down,
}

impl From<Key> for Direction {
    fn from(key: Key) -> Self {
        match key {
            Key::Left => Self::Left,
            Key::Right => Self::Right,
            Key::Up => Self::Up,
            Key::Down => Self::Down,
        }
    }
}

impl Message {
    /// Whether it only says what the hand does.
    const fn is_input(&self) -> bool {
        matches!(
            self,
            Self::Key { .. }
                | Self::ReleaseAll
                | Self::Stick { .. }
                | Self::Flick(_)
                | Self::Serve
                | Self::Shoot { .. }
        )
    }

    /// Does what is asked, unless it is a matter of the page itself; a command says what it did.
    pub(super) fn carry_out(self, game: &mut Game<'_>) {
        if !self.is_input() {
            game.say("");
        }
        match self {
            Self::Key { key, down } => game.session_mut().keys(vec![(key.into(), down)]),
            Self::ReleaseAll => game.session_mut().let_go(),
            Self::Stick { to } => game.session_mut().stick(Vec2::from(to)),
            Self::Flick(drag) => game.attempt(|session| session.flick(drag.into())),
            Self::Serve => game.attempt(Session::serve),
            Self::Shoot { toward } => game.attempt(|session| session.shoot(Vec2::from(toward))),
            Self::Number { way, value, goes_on } => {
                game.attempt(|session| session.set_number(&way, value, goes_on));
            }
            Self::Undo => game.attempt(Session::undo_number),
            Self::Revert => game.attempt(Session::revert_numbers),
            Self::Pause { paused } => game.pause(paused),
            Self::Step => game.step(),
            Self::Back => game.step_back(),
            Self::Restart => game.restart(),
            Self::Pace { pace } => game.set_pace(pace),
            Self::Actor { actor } => game.take_actor(actor),
            Self::Walls => game.toggle_through_walls(),
            Self::Save => game.save_numbers(),
            Self::Keep => game.keep_run(),
            Self::Frame(_) | Self::End => {}
        }
    }
}
