//! Stepping from tile centre to tile centre: a wish, a time, a map and claims go in, what happened comes out.
//!
//! A [`Stepper`] stands on a tile or is under way in a stride. Its [`StepRules`] say how fast it steps, what a
//! held key means ([`StepMode`]) and how long a press is remembered; [`StepGround`] is the map with its edge and
//! its [`Portals`]; [`Claims`] keep two movers from one tile. Time is exact: what a stride leaves of a tick
//! goes into the next one.

mod agenda;
mod blocked;
mod claims;
mod decide;
mod event;
mod ground;
mod portals;
mod rules;
mod stepper;
mod together;

pub use blocked::{BlockedBy, MoverId, StepError, ThingId};
pub use claims::Claims;
pub use event::{MAX_EVENTS, StrideEvent, StrideEvents, TimedStep};
pub use ground::{GridEdge, StepGround};
pub use portals::{PortalError, Portals};
pub use rules::{CornerRule, Diagonals, Easing, StepMode, StepRules};
pub use stepper::{Cancel, StepInput, Stepper};
pub use together::tick_together;
