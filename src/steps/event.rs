//! What happens to a stepper in a tick, in order.

use core::fmt;

use glam::IVec2;

use super::blocked::{BlockedBy, ThingId};
use crate::direction::Facing;

/// The most events that one tick lists.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::MAX_EVENTS;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&[&".".repeat(99)], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(90.0)?, &ground, &mut claims)?;
/// let events = cart.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &ground, &mut claims);
/// assert!(events.iter().count() == MAX_EVENTS && events.len() > MAX_EVENTS);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub const MAX_EVENTS: usize = 16;

/// Something that happened to a stepper.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let events = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.3, &ground, &mut claims);
/// let entered = StrideEvent::Entered { tile: ivec2(1, 0) };
/// let at = events.iter().find(|event| event.what == entered).map(|event| event.at);
/// assert_eq!(at, Some(0.25)); // four tiles a second
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub enum StrideEvent {
    /// It turned to another direction.
    Turned {
        /// Its new direction.
        to: Facing,
    },
    /// It left a tile.
    Left {
        /// The tile.
        tile: IVec2,
    },
    /// It landed on a tile's centre.
    Entered {
        /// The tile.
        tile: IVec2,
    },
    /// It went through a portal.
    Passed {
        /// The end where it entered.
        entrance: IVec2,
        /// The end where it continues.
        exit: IVec2,
    },
    /// It wanted to step and was blocked.
    Blocked {
        /// The direction.
        direction: Facing,
        /// What blocked it.
        by: BlockedBy,
    },
    /// It pushed a thing one tile ahead.
    Pushed {
        /// The thing.
        thing: ThingId,
        /// Where it is pushed to.
        to: IVec2,
    },
    /// It came to rest, if only for the pause between two steps.
    Rested {
        /// The tile.
        tile: IVec2,
    },
}

/// An event with its time.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let events = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.3, &ground, &mut claims);
/// let first = events.iter().next().unwrap();
/// assert_eq!((first.at, first.what), (0.0, StrideEvent::Turned { to: Facing::Right }));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TimedStep {
    /// When it happened, in seconds from the start of the tick.
    pub at: f32,
    /// What happened.
    pub what: StrideEvent,
}

impl TimedStep {
    /// An event at a time, rounded once.
    pub(super) const fn new(at: f64, what: StrideEvent) -> Self {
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let at = at as f32;
        Self { at, what }
    }
}

impl fmt::Display for StrideEvent {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Turned { to } => write!(f, "turned {to}"),
            Self::Left { tile } => write!(f, "left tile {},{}", tile.x, tile.y),
            Self::Entered { tile } => write!(f, "entered tile {},{}", tile.x, tile.y),
            Self::Passed { entrance, exit } => {
                write!(
                    f,
                    "entered the portal at {},{} and left it at {},{}",
                    entrance.x, entrance.y, exit.x, exit.y
                )
            }
            Self::Blocked { direction, by } => write!(f, "{direction} is blocked by {by}"),
            Self::Pushed { thing, to } => write!(f, "pushed {thing} to tile {},{}", to.x, to.y),
            Self::Rested { tile } => write!(f, "came to rest on tile {},{}", tile.x, tile.y),
        }
    }
}

/// What happened to a stepper in one tick, in order of time.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let events = cart.tick(Intent::NONE, 0.3, &ground, &mut claims);
/// assert!(events.is_empty() && events.len() == events.iter().count());
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[must_use]
pub struct StrideEvents {
    slots: [Option<TimedStep>; MAX_EVENTS],
    count: usize,
}

impl StrideEvents {
    /// Adds an event, or only counts it if there is no room.
    pub(super) fn push(&mut self, event: TimedStep) {
        if let Some(slot) = self.slots.get_mut(self.count) {
            *slot = Some(event);
        }
        self.count += 1;
    }

    /// The listed events, in order of time.
    pub fn iter(&self) -> impl Iterator<Item = &TimedStep> {
        self.slots.iter().flatten()
    }

    /// How many events there were, listed or not.
    #[must_use]
    pub const fn len(&self) -> usize {
        self.count
    }

    /// Whether nothing happened.
    #[must_use]
    pub const fn is_empty(&self) -> bool {
        self.count == 0
    }
}
