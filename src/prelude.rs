//! What most programs need: `use ambulant::prelude::*;`

pub use glam::{IVec2, Vec2, ivec2, vec2};

pub use crate::arcade::{Ball, Decision, Paddle, Projectile, tick_balls};
pub use crate::crowd::Crowd;
pub use crate::direction::{Angle, Facing, Side, YAxis};
pub use crate::drive::{Drag, Drive, Gait, Glide, Helm, Momentum, Pace, Steering, Surface};
pub use crate::intent::{Direction, HeldKeys, Intent};
pub use crate::pose::Pose;
pub use crate::shape::{Aabb, Anchor, Footprint, Solid};
pub use crate::steps::{Claims, StepGround, StepInput, StepMode, StepRules, Stepper, StrideEvent};
pub use crate::terrain::{
    EdgeRule, Layers, Legend, MapId, Outside, PlayArea, Terrain, TileGrid, TileKind, Wall, WallFilter, World,
};
pub use crate::time::Ticks;
pub use crate::view::{Follow, View};
pub use crate::walker::{Character, Walker};
