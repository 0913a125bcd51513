//! The kinds of events: a word for each, and a code that stays when a word changes.

use std::fmt;

/// A kind of event. The codes go into fingerprints: a new kind takes a new code, and none is used twice.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum EventKind {
    MovedOff = 1,
    Launched = 2,
    Touched = 3,
    CameClear = 4,
    Pushed = 5,
    Squeezed = 6,
    CameToRest = 7,
    Turned = 8,
    LeftTile = 9,
    EnteredTile = 10,
    PassedPortal = 11,
    Blocked = 12,
    PushedThing = 13,
    Served = 14,
    Bounced = 15,
    Struck = 16,
    Broke = 17,
    SentOff = 18,
    Wrapped = 19,
    Lost = 20,
    Shot = 21,
    ShotOver = 22,
    MovedOut = 23,
    Stalled = 24,
}

impl EventKind {
    /// The word that JSON and pictures use.
    pub(crate) fn word(self) -> &'static str {
        match self {
            Self::MovedOff => "started",
            Self::Launched => "launched",
            Self::Touched => "touched",
            Self::CameClear => "touch-ended",
            Self::Pushed => "pushed",
            Self::Squeezed => "squeezed",
            Self::CameToRest => "stopped",
            Self::Turned => "turned",
            Self::LeftTile => "left-tile",
            Self::EnteredTile => "entered-tile",
            Self::PassedPortal => "passed-portal",
            Self::Blocked => "blocked",
            Self::PushedThing => "pushed-thing",
            Self::Served => "served",
            Self::Bounced => "bounced",
            Self::Struck => "hit",
            Self::Broke => "broke",
            Self::SentOff => "deflected",
            Self::Wrapped => "wrapped",
            Self::Lost => "lost",
            Self::Shot => "shot",
            Self::ShotOver => "shot-over",
            Self::MovedOut => "moved-out",
            Self::Stalled => "stalled",
        }
    }
}

impl fmt::Display for EventKind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}
