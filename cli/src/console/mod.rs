//! Playing in a terminal: its keys go in, a picture of the play comes out.
//!
//! `play` is the loop, and what each key does. `hand` turns key events into held keys. `screen` draws everything, and
//! `terminal` restores the terminal on every way out.

mod colours;
mod hand;
mod map_cells;
mod play;
mod screen;
mod terminal;

pub(crate) use play::play;
