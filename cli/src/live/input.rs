//! What a hand does with any device, as it was played and as a script says it.

use ambulant::intent::{Direction, Flick, Stick};
use glam::Vec2;

use crate::scenario::Actor;

/// A key pressed or let go.
pub(crate) type KeyChange = (Direction, bool);

/// How a stick is read whose actor says nothing of it: dead zone, limit and curve.
pub(super) const USUAL_STICK: [f32; 3] = [0.15, 0.95, 1.0];

/// A drag of the pointer, in units and seconds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Drag {
    pub(crate) from: Vec2,
    pub(crate) to: Vec2,
    pub(crate) seconds: f32,
}

impl Drag {
    /// What it launches.
    pub(crate) fn launch(&self, flick: &Flick) -> Option<Vec2> {
        flick.launch(self.from, self.to, self.seconds)
    }
}

/// One thing that a hand did.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum Act {
    Key(KeyChange),
    /// The stick was moved to here, in the directions of the world's axes.
    Stick(Vec2),
    Flick(Drag),
    /// The ball that is held was served.
    Serve,
    /// A shot was fired toward this place.
    Shot(Vec2),
}

/// What was played at the start of the tick with this number.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Played {
    pub(crate) tick: u32,
    pub(crate) act: Act,
}

/// How the stick of an actor is read.
pub(super) fn stick_of(actor: &Actor) -> Stick {
    let [dead_zone, limit, curve] = USUAL_STICK;
    actor.stick.unwrap_or_else(|| Stick::new(dead_zone, limit, curve).expect("constants in range"))
}
