//! Balls, paddles, breakable walls, projectiles and hovering, built from drives and travel.
//!
//! A [`Ball`] moves straight, and a callback decides what happens at each wall. A [`Paddle`] aims it, [`AngleLimits`]
//! keeps it from bouncing level for ever, [`Breakables`] counts hits. A [`Projectile`] moves until it hits something,
//! and [`Hover`] keeps a height above uneven ground.

mod angle_limits;
mod ball;
mod breakables;
mod hover;
mod paddle;
mod projectile;

pub use angle_limits::AngleLimits;
pub use ball::{AtWall, Ball, BallEvent, Bounces, MAX_BOUNCES};
pub use breakables::{Breakables, Strike};
pub use hover::Hover;
pub use paddle::{Deflection, Paddle, PaddlePart};
pub use projectile::{FlightEnd, Projectile};
