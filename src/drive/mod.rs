//! How velocity follows intent: momentum, intent, a surface and a time go in, a [`Motion`] comes out.
//!
//! A drive is a small set of numbers that many movers can share; each mover keeps its own momentum. Every drive is
//! solved in closed form: advancing by `a` and then by `b` seconds under one intent equals advancing by `a + b`.
//! Drives know nothing of walls.
//!
//! [`Pace`] responds immediately, [`Gait`] with acceleration and friction, [`Glide`] with thrust against drag,
//! [`Helm`] by steering a heading. [`OneAxis`] and [`Falling`] wrap any of them, [`AnyDrive`] is any of them as one type. A
//! [`Surface`] slows, slips or moves. [`Feel`] has figures of how a drive feels.

mod any;
mod curve;
mod drag;
mod falling;
mod feel;
mod forward;
mod gait;
mod glide;
mod helm;
mod helm_motion;
mod motion;
mod one_axis;
mod pace;
mod response;
mod surface;

pub use any::{AnyDrive, DriveKind};
pub use drag::Drag;
pub use falling::Falling;
pub use feel::Feel;
pub use gait::Gait;
pub use glide::Glide;
pub use helm::{Helm, Steering};
pub use motion::{Drive, Momentum, Motion};
pub use one_axis::OneAxis;
pub use pace::Pace;
pub use response::{Pull, Response};
pub use surface::Surface;
