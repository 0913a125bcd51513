//! Stepping from tile centre to tile centre: input, a time, a map and claims go in, events come out.
//!
//! A [`Stepper`] stands on a tile or is in a stride. Its [`StepRules`] set how fast it steps, what a held key does
//! ([`StepMode`]) and how long a press is remembered. [`StepGround`] is the map with its edge and its [`Portals`].
//! [`Claims`] keep two steppers off one tile. Time is exact: what a stride leaves of a tick is used by the next one.

mod agenda;
mod blocked;
mod claims;
mod decide;
mod event;
mod ground;
mod portals;
mod rules;
mod step_input;
mod stepper;
mod together;

pub use blocked::{BlockedBy, MoverId, StepError, ThingId};
pub use claims::Claims;
pub use event::{MAX_EVENTS, StrideEvent, StrideEvents, TimedStep};
pub use ground::{GridEdge, StepGround};
pub use portals::{PortalError, Portals};
pub use rules::{CornerRule, Diagonals, Easing, StepMode, StepRules};
pub use step_input::StepInput;
pub use stepper::{Cancel, Stepper};
pub use together::tick_together;
