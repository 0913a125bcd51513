//! Balls, paddles, things that break, projectiles and hovering: drives and travel put together.
//!
//! A [`Ball`] keeps its speed and asks at each wall what becomes of it; a [`Paddle`] sends it where the player
//! aims, [`AngleLimits`] keeps it from bouncing level for ever, and [`Breakables`] count hits. A [`Projectile`] flies until it meets something, [`Hover`] keeps a height over
//! uneven ground, and [`Bodies`] let movers be obstacles to each other.

mod angle_limits;
mod ball;
mod bodies;
mod breakables;
mod hover;
mod paddle;
mod projectile;

pub use angle_limits::AngleLimits;
pub use ball::{AtWall, Ball, BallEvent, Bounces, MAX_BOUNCES};
pub use bodies::{Bodies, BodyId};
pub use breakables::{Breakables, Strike};
pub use hover::Hover;
pub use paddle::{Deflection, Paddle, PaddlePart};
pub use projectile::{FlightEnd, Projectile};
