//! Playing by hand: what a hand does goes in, a scenario under way comes out, whatever shows it.
//!
//! `input` is what a hand does with keys, a stick or a pointer, `acts` what a tick is asked of that. `session` plays ticks
//! and goes back over them. `numbers` changes how the actor moves, `keep` writes what was played as a scenario, `as_rust`
//! prints a drive as code. `game` holds them together with the clock and the files that are written.

mod acts;
mod as_rust;
mod game;
mod input;
mod keep;
mod numbers;
mod session;

pub(crate) use game::Game;
pub(crate) use input::{Drag, KeyChange};
pub(crate) use session::Session;
