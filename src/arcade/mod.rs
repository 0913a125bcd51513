//! Balls, paddles, projectiles and hovering, built from drives and travel.
//!
//! [`tick_balls`] moves each [`Ball`] straight on, and at each wall a callback returns a [`Decision`]. A [`Paddle`] aims a ball, [`AngleLimits`]
//! keeps it from bouncing level for ever; the world counts the hits that a wall still takes. A [`Projectile`] moves until it hits something,
//! and [`Hover`] keeps a height above uneven ground.

mod angle_limits;
mod ball;
mod decision;
mod flight;
mod flying;
mod hover;
mod in_order;
mod paddle;
mod projectile;
mod queue;
mod rattle;
mod tick_balls;
mod tick_projectiles;

pub use angle_limits::AngleLimits;
pub use ball::{Ball, BallState};
pub use decision::{Decision, Impact};
pub use flight::MAX_BOUNCES;
pub use hover::Hover;
pub use paddle::{Deflection, Paddle, PaddleHit, PaddlePart};
pub use projectile::{FlightEnd, Projectile};
pub use tick_balls::{BallEvent, BallTick, tick_balls, tick_balls_with};
pub use tick_projectiles::{ProjectileEvent, tick_projectiles};
