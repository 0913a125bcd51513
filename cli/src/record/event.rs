//! What happens in a run, and its words.

use std::fmt;

use ambulant::direction::{Facing, Side};
use ambulant::steps::StrideEvent;
use ambulant::terrain::Wall;
use ambulant::travel::Contact;
use glam::{IVec2, Vec2};

use super::kind::EventKind;
use crate::scenario::Scenario;

/// Something that happened to an actor at a time.
#[derive(Debug, Clone)]
pub(crate) struct Event {
    pub(crate) time: f64,
    pub(crate) actor: usize,
    pub(crate) what: Happening,
}

impl Event {
    /// The order of events: by time, whatever the order of actors within a tick, and a touch before what follows from it.
    #[expect(clippy::cast_possible_truncation, reason = "microseconds of a run of a day at most")]
    pub(crate) fn order(&self) -> (i64, u8) {
        ((self.time * 1e6).round() as i64, self.what.rank())
    }
}

/// What can happen.
#[derive(Debug, Clone)]
pub(crate) enum Happening {
    MovedOff {
        toward: Facing,
    },
    Launched {
        speed: f32,
        toward: Facing,
    },
    Touched {
        touch: Touch,
        contact: Contact,
    },
    CameClear {
        touch: Touch,
    },
    Pushed {
        wall: String,
    },
    /// Against another wall, or against the axis that it is held to.
    Squeezed {
        wall: String,
        against: Option<String>,
    },
    /// Out of a wall that it overlapped, by so many units.
    MovedOut {
        by: f32,
    },
    /// It went along a chord for so many seconds.
    Stalled {
        seconds: f32,
    },
    /// What a stepper did; for a wish that was blocked, whether it went on another way.
    StrideEvent {
        what: StrideEvent,
        text: String,
        went_on: bool,
    },
    Flew {
        kind: EventKind,
        text: String,
    },
    CameToRest,
}

/// A wall that is touched: what it is, where it is and on which side.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Touch {
    pub(crate) wall: String,
    /// The tile's column and row, for a wall of tiles.
    pub(crate) tile: Option<IVec2>,
    pub(crate) side: Side,
}

impl Touch {
    pub(crate) fn new(scenario: &Scenario, wall: Wall, side: Side) -> Self {
        let tile = match wall {
            Wall::Tile(_, tile) => Some(tile),
            _ => None,
        };
        Self { wall: scenario.wall_name(wall).to_owned(), tile, side }
    }

    /// Its kind, and its place among tiles.
    pub(crate) fn what(&self) -> String {
        match self.tile {
            Some(tile) => format!("{} {},{}", self.wall, tile.x, tile.y),
            None => self.wall.clone(),
        }
    }
}

impl fmt::Display for Touch {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {}", self.what(), self.side)
    }
}

impl Happening {
    /// Something that happened in the air.
    pub(crate) fn flew(kind: EventKind, text: String) -> Self {
        Self::Flew { kind, text }
    }

    /// The order of events at one instant: causes first.
    pub(crate) fn rank(&self) -> u8 {
        match self {
            Self::Launched { .. } | Self::MovedOff { .. } => 0,
            Self::Touched { .. } => 1,
            Self::CameClear { .. } => 2,
            Self::Pushed { .. }
            | Self::Squeezed { .. }
            | Self::MovedOut { .. }
            | Self::Stalled { .. }
            | Self::StrideEvent { .. }
            | Self::Flew { .. } => 3,
            Self::CameToRest => 4,
        }
    }

    pub(crate) fn kind(&self) -> EventKind {
        match self {
            Self::MovedOff { .. } => EventKind::MovedOff,
            Self::Launched { .. } => EventKind::Launched,
            Self::Touched { .. } => EventKind::Touched,
            Self::CameClear { .. } => EventKind::CameClear,
            Self::Pushed { .. } => EventKind::Pushed,
            Self::Squeezed { .. } => EventKind::Squeezed,
            Self::MovedOut { .. } => EventKind::MovedOut,
            Self::Stalled { .. } => EventKind::Stalled,
            Self::Flew { kind, .. } => *kind,
            Self::StrideEvent { what, .. } => match what {
                StrideEvent::Turned { .. } => EventKind::Turned,
                StrideEvent::Left { .. } => EventKind::LeftTile,
                StrideEvent::Entered { .. } => EventKind::EnteredTile,
                StrideEvent::Passed { .. } => EventKind::PassedPortal,
                StrideEvent::Blocked { .. } => EventKind::Blocked,
                StrideEvent::Pushed { .. } => EventKind::PushedThing,
                _ => EventKind::CameToRest,
            },
            Self::CameToRest => EventKind::CameToRest,
        }
    }
}

impl fmt::Display for Happening {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::MovedOff { toward } => write!(f, "started moving {toward}"),
            Self::Launched { speed, toward } => write!(f, "was launched {toward} at {speed:.1} units/s"),
            Self::CameClear { touch } if touch.tile.is_none() => write!(f, "stopped touching {}", touch.wall),
            Self::CameClear { touch } => {
                write!(f, "stopped touching {} on its {} side", touch.wall, touch.side)
            }
            Self::StrideEvent { text, .. } | Self::Flew { text, .. } => f.write_str(text),
            Self::Pushed { wall } => write!(f, "was moved by {wall}"),
            Self::Squeezed { wall, against: Some(against) } => {
                write!(f, "was squeezed between {wall} and {against}")
            }
            Self::Squeezed { wall, against: None } => {
                write!(f, "was passed over by {wall}, since it is held to an axis")
            }
            Self::MovedOut { by } => write!(f, "was moved {by:.1} units out of the wall that squeezed it"),
            Self::Stalled { seconds } => write!(
                f,
                "went straight on for {seconds:.4} s, since walls changed its path again and again: here the tick rate shows"
            ),
            Self::CameToRest => write!(f, "came to rest"),
            Self::Touched { touch, contact } if contact.pushed && contact.taken() == Vec2::ZERO => {
                write!(f, "touched {} on its {} side", touch.what(), touch.side)
            }
            Self::Touched { touch, contact } => {
                write!(f, "touched {} on its {} side: {}", touch.what(), touch.side, effect(contact))
            }
        }
    }
}

/// The least speed that does not read as 0.0, in units/s.
const LEAST_SHOWN: f32 = 0.05;

/// Which axis a contact stopped or slowed, and what it left on the other.
fn effect(contact: &Contact) -> String {
    if contact.normal.x != 0.0 && contact.normal.y != 0.0 {
        let (taken, kept) = (contact.taken().length(), contact.velocity_after.length());
        return format!(
            "took {taken:.1} of {:.1} units/s, kept {kept:.1} along it",
            contact.velocity_before.length()
        );
    }
    let across_x = contact.normal.x.abs() > contact.normal.y.abs();
    let (stopped, kept) = if across_x { ("x", "y") } else { ("y", "x") };
    let part = |v: Vec2, axis: &str| if axis == "x" { v.x } else { v.y };
    let lost = part(contact.taken(), stopped).abs();
    let (before, after) = (part(contact.velocity_before, stopped), part(contact.velocity_after, stopped));
    let left = part(contact.velocity_after, kept).abs();
    let stop = if lost == 0.0 {
        format!("{stopped} blocked")
    } else if after.abs() < LEAST_SHOWN {
        format!("{stopped} stopped from {lost:.1} units/s")
    } else if before * after > 0.0 && after.abs() < before.abs() {
        // What it runs into goes the same way.
        format!("{stopped} slowed from {:.1} to {:.1} units/s", before.abs(), after.abs())
    } else {
        format!("{stopped} changed from {before:.1} to {after:.1} units/s")
    };
    if left > 0.0 { format!("{stop}, {kept} kept {left:.1}") } else { stop }
}
