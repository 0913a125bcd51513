//! Playing by hand: keys of a terminal go in, a scenario under way comes out and is drawn.
//!
//! `hand` turns key events into held keys. `session` plays ticks and goes back over them. `numbers` changes how the
//! actor moves, `keep` writes what was played as a scenario, `as_rust` prints a drive as code. `screen` draws
//! everything, and `terminal` restores the terminal on every way out.

mod as_rust;
mod colours;
mod hand;
mod keep;
mod map_cells;
mod numbers;
mod screen;
mod session;
mod terminal;

pub(crate) use as_rust::as_rust;
pub(crate) use hand::{Hand, Letting};
pub(crate) use keep::kept_script;
pub(crate) use screen::{Screen, Shown};
pub(crate) use session::Session;
pub(crate) use terminal::Terminal;
