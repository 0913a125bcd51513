//! Balls, paddles, things that break, projectiles, edges and hovering: drives and travel put together.
//!
//! A [`Ball`] keeps its speed and asks at each wall what becomes of it; a [`Paddle`] sends it where the player
//! aims, [`AngleLimits`] keeps it from bouncing level for ever, [`Breakables`] count hits, and [`PlayArea`] say what the
//! four sides of the field do. A [`Projectile`] flies until it meets something, [`Hover`] keeps a height over
//! uneven ground, and [`Bodies`] let movers be obstacles to each other.

mod angle_limits;
mod ball;
mod bodies;
mod breakables;
mod edges;
mod hover;
mod paddle;
mod projectile;

pub use angle_limits::AngleLimits;
pub use ball::{AtWall, Ball, BallEvent, Bounces, MAX_BOUNCES};
pub use bodies::{Bodies, BodyId};
pub use breakables::{Breakables, Strike};
pub use edges::{Crossing, EdgeRule, PlayArea};
pub use hover::Hover;
pub use paddle::{Deflection, Paddle, PaddlePart};
pub use projectile::{FlightEnd, Projectile};
