//! What a first program needs: `use ambulant::prelude::*;`

pub use glam::{IVec2, Vec2, ivec2, vec2};

pub use crate::direction::YAxis;
pub use crate::drive::{Drive, Gait};
pub use crate::intent::{Direction, HeldKeys, Intent};
pub use crate::shape::{Anchor, Footprint};
pub use crate::terrain::{Legend, TileGrid, TileKind};
pub use crate::walker::Walker;
