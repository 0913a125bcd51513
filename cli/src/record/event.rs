//! What happens in a run, and its words.

use std::fmt;

use ambulant::pose::Facing;
use ambulant::terrain::{Side, TileGrid, TileKind, Wall};
use ambulant::travel::Contact;
use glam::{IVec2, Vec2};

/// What tiles outside the map are called.
const EDGE: &str = "the map's edge";

/// Something that happened to an actor at a time.
#[derive(Debug, Clone)]
pub(crate) struct Event {
    pub(crate) time: f64,
    pub(crate) actor: usize,
    pub(crate) what: Happening,
}

/// What can happen.
#[derive(Debug, Clone)]
pub(crate) enum Happening {
    MovedOff { toward: Facing },
    Launched { speed: f32, toward: Facing },
    Touched { touch: Touch, contact: Contact },
    CameClear { side: Side, wall: String },
    CameToRest,
}

/// A wall that is touched: what it is, where it is and on which side.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Touch {
    pub(crate) wall: String,
    pub(crate) tile: IVec2,
    pub(crate) side: Side,
}

impl Touch {
    pub(crate) fn new(map: &TileGrid, wall: Wall, side: Side) -> Self {
        let tile = match wall {
            Wall::Tile(tile) => tile,
            _ => IVec2::MIN,
        };
        Self { wall: wall_name(map, tile).to_owned(), tile, side }
    }
}

impl fmt::Display for Touch {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{} {},{} {}", self.wall, self.tile.x, self.tile.y, self.side)
    }
}

/// The name of a tile's kind.
pub(crate) fn wall_name(map: &TileGrid, tile: IVec2) -> &str {
    map.kind(tile).map_or(EDGE, TileKind::name)
}

impl Happening {
    /// The order in which things that happen at one instant are told: causes first.
    pub(crate) fn rank(&self) -> u8 {
        match self {
            Self::Launched { .. } | Self::MovedOff { .. } => 0,
            Self::Touched { .. } => 1,
            Self::CameClear { .. } => 2,
            Self::CameToRest => 3,
        }
    }

    /// A word for the kind of event, as JSON and pictures use it.
    pub(crate) fn kind(&self) -> &'static str {
        match self {
            Self::MovedOff { .. } => "moved-off",
            Self::Launched { .. } => "launched",
            Self::Touched { .. } => "touched",
            Self::CameClear { .. } => "came-clear",
            Self::CameToRest => "came-to-rest",
        }
    }
}

impl fmt::Display for Happening {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::MovedOff { toward } => write!(f, "moved off, {toward}"),
            Self::Launched { speed, toward } => write!(f, "was launched {toward} at {speed:.1} units/s"),
            Self::CameClear { side, wall } => write!(f, "came clear of {wall} on its {side} side"),
            Self::CameToRest => write!(f, "came to rest"),
            Self::Touched { touch, contact } => {
                let Touch { wall, tile, side } = touch;
                write!(f, "touched {wall} {},{} on its {side} side: {}", tile.x, tile.y, effect(contact))
            }
        }
    }
}

/// Which axis a contact stopped, and what it left on the other.
fn effect(contact: &Contact) -> String {
    let across_x = contact.normal.x.abs() > contact.normal.y.abs();
    let (stopped, kept) = if across_x { ("x", "y") } else { ("y", "x") };
    let part = |v: Vec2, axis: &str| if axis == "x" { v.x } else { v.y };
    let lost = part(contact.taken(), stopped).abs();
    let left = part(contact.kept, kept).abs();
    let stop = if lost > 0.0 {
        format!("{stopped} stopped from {lost:.1} units/s")
    } else {
        format!("{stopped} held")
    };
    if left > 0.0 { format!("{stop}, {kept} kept {left:.1}") } else { stop }
}
