//! Top-down, grid-based and arcade movement for games: exact at any tick rate, plain values in and out.
//!
//! A game keeps its own state and calls Ambulant once per tick:
//!
//! ```
//! use ambulant::prelude::*;
//!
//! let legend = Legend::new().with('#', TileKind::wall("raised bed")).with('.', TileKind::floor("path"));
//! let map = TileGrid::from_rows(&["......", "..##..", "......"], &legend)?.with_tile_size(16.0)?;
//! let world = World::new().with_map(map);
//! let gait = Gait::new(60.0, 400.0, 500.0)?; // top speed in units/s, acceleration and friction in units/s²
//! let mut gardener = Walker::new(vec2(8.0, 24.0), Footprint::rect(10.0, 8.0)?, gait);
//! let mut ticks = Ticks::new(60.0)?;
//! let mut before = gardener.position;
//! for frame_seconds in [0.016, 0.021, 0.009].repeat(40) {
//!     let keys = HeldKeys { right: true, ..HeldKeys::NONE };
//!     for _ in 0..ticks.advance(frame_seconds) {
//!         before = gardener.position;
//!         let _ = gardener.tick(keys.intent(YAxis::Down), ticks.seconds(), &world);
//!     }
//!     let _draw_at = before.lerp(gardener.position, ticks.fraction());
//! }
//! assert_eq!(gardener.position, vec2(27.0, 24.0)); // against the bed, to the last bit
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! Data flows in one direction, and each part can be used alone:
//!
//! ```
//! use ambulant::prelude::*;
//! use ambulant::travel::slide;
//!
//! // keys -> intent: what the player wants, never longer than 1
//! let keys = HeldKeys { right: true, down: true, ..HeldKeys::NONE };
//! let intent = keys.intent(YAxis::Down);
//!
//! // intent + velocity + time -> motion: how velocity answers
//! let gait = Gait::new(60.0, 400.0, 500.0)?; // units/s, units/s², units/s²
//! let motion = gait.advance(Momentum::default(), intent, &Surface::PLAIN, 1.0 / 60.0);
//!
//! // motion + terrain -> result: what the world allows
//! let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
//! let map = TileGrid::from_rows(&["...", ".#.", "..."], &legend)?.with_tile_size(16.0)?;
//! let feet = Footprint::rect(10.0, 8.0)?;
//! let result = slide(&map, &feet, vec2(8.0, 8.0), motion, &WallFilter::ALL);
//! assert!(result.contacts.is_empty());
//!
//! // The walker puts the last two together and divides a tick at each touch.
//! let mut gardener = Walker::new(vec2(8.0, 8.0), feet, gait);
//! for _ in 0..120 {
//!     let result = gardener.tick(intent, 1.0 / 60.0, &map);
//!     assert_eq!(result.position, gardener.position);
//! }
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```
//!
//! # Conventions
//!
//! - **Units**: world units of your choice (pixels, metres, tiles), seconds, radians.
//! - **y** grows downwards unless a [`YAxis`](direction::YAxis) says otherwise. It matters only for keys, rows of
//!   tiles and names of sides.
//! - **Angles**: 0 points toward +x and angles grow toward +y: clockwise on a screen whose y grows
//!   downwards.
//! - **Time steps**: any `dt` above zero, even or uneven. A `dt` that is zero, negative or not finite moves nothing.
//! - **Edges**: touching is not overlapping, and regions contain their lower edges only. A mover that touches a wall
//!   and moves along it or away hits nothing. [`touch_tolerance`] defines touching.
//! - **Determinism**: the same input gives the same bits: no clock, no random numbers, no hash order, no mathematics
//!   of the platform.
//! - **Errors**: constructors check their input and return errors that name field, value and remedy; calls made every
//!   tick neither fail nor panic.

#![no_std]

extern crate alloc;
#[cfg(feature = "std")]
extern crate std;

pub mod arcade;
mod contact;
pub mod crowd;
pub mod direction;
pub mod drive;
mod error;
mod exact;
pub mod intent;
mod place;
pub mod pose;
pub mod prelude;
#[cfg(test)]
mod random;
mod rounding;
mod saved;
pub mod shape;
#[cfg(feature = "serde")]
mod state_hash;
pub mod steps;
pub mod terrain;
pub mod time;
mod tolerance;
pub mod travel;
pub mod view;
pub mod walker;
mod warning;

/// The vectors of this library are those of this version of `glam`.
#[doc(no_inline)]
pub use glam;

pub use contact::touch_tolerance;
pub use error::InvalidNumber;
pub use warning::Warning;

/// The programs in the README, compiled and run by the tests.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;

/// The programs in the guide for newcomers.
#[cfg(doctest)]
#[doc = include_str!("../docs/guide.md")]
struct Guide;

/// The programs in the guide to arcade movement.
#[cfg(doctest)]
#[doc = include_str!("../docs/arcade.md")]
struct Arcade;

/// The programs in the guide to crowds.
#[cfg(doctest)]
#[doc = include_str!("../docs/crowds.md")]
struct Crowds;

/// The programs in the guide to drives.
#[cfg(doctest)]
#[doc = include_str!("../docs/feel.md")]
struct DrivesAndSurfaces;

/// The programs in the guide to stepping.
#[cfg(doctest)]
#[doc = include_str!("../docs/steps.md")]
struct Steps;

/// The programs in the guide to collisions.
#[cfg(doctest)]
#[doc = include_str!("../docs/collisions.md")]
struct Collisions;
