//! How velocity answers an intent: momentum, intent and a time go in, a [`Motion`] comes out.
//!
//! A drive is a small set of numbers that many movers can share; the mover keeps its own momentum.
//! Every drive is solved in closed form, so that advancing by `a` and then by `b` seconds under one
//! intent equals advancing by `a + b`. Drives know nothing of walls.

mod gait;
mod motion;

pub use gait::Gait;
pub(crate) use motion::seconds;
pub use motion::{Drive, Momentum, Motion};
