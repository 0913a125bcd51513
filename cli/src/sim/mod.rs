//! A scenario played tick by tick: a [`Scenario`] and a tick rate go in, a [`Recording`] comes out.
//!
//! [`Scenario`]: crate::scenario::Scenario
//! [`Recording`]: crate::record::Recording

mod company;
mod crowd;
mod expect;
mod field;
mod flight;
mod names;
mod output;
mod play;
mod player;
mod shots;
mod stage;
mod struck;
mod time;
mod world;

pub(crate) use play::play;
pub(crate) use stage::Stage;
pub(crate) use time::time_of;
