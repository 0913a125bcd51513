//! What a game decides at each wall that a ball hits: what the ball does, and what happens to the wall.

use glam::Vec2;

use crate::shape::Aabb;
use crate::terrain::Hit;

/// A ball that hits a wall.
///
/// ```
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let leaf = world.add(Solid::box_around(vec2(10.0, 0.0), vec2(2.0, 8.0))?);
/// let mut balls = [Ball::new(Vec2::ZERO, vec2(16.0, 0.0), Footprint::circle(1.0)?)];
/// let _ = tick_balls(&mut balls, 1.0, &mut world, |_, impact| {
///     assert_eq!((impact.hit.wall, impact.velocity, impact.seconds), (leaf, vec2(16.0, 0.0), 0.5));
///     Decision::bounce(1.0)
/// });
/// assert_eq!(balls[0].position.x, 0.0); // back where it came from
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct Impact {
    /// Which ball or projectile of the list.
    pub ball: usize,
    /// The hit: the wall, its tag, its velocity at this instant, its side, the point and the normal.
    pub hit: Hit,
    /// The ball's velocity just before, in units/s, also after an earlier bounce in the same tick.
    pub velocity: Vec2,
    /// When, in seconds into the tick.
    pub seconds: f32,
    /// How many hits the wall still takes, before this one; `None` if it does not break.
    pub hits_left: Option<u32>,
    /// Where the wall lies at this instant, by its bounding box.
    pub lies: Aabb,
    /// Where in that box they touch: 0 in the middle, -1 and 1 at the sides with smaller and larger coordinates.
    pub offset: Vec2,
}

/// What a ball does at a wall, and what happens to the wall.
///
/// ```
/// use ambulant::arcade::Decision;
/// use ambulant::prelude::*;
///
/// // Two panes that break; the drop bounces off the first, and continues straight through the second.
/// let legend = Legend::new().with('o', TileKind::wall("pane")).with('.', TileKind::floor("air"));
/// let map = TileGrid::from_rows(&["o..o"], &legend)?.with_tile_size(10.0)?;
/// let mut world = World::new().with_map(map);
/// let mut drops = [Ball::new(vec2(20.0, 5.0), vec2(-100.0, 0.0), Footprint::circle(1.0)?)];
/// tick_balls(&mut drops, 0.5, &mut world, |_, impact| match impact.hit.side {
///     Side::Right => Decision::bounce(0.5).removing_wall(),
///     _ => Decision::deflect(impact.velocity).removing_wall(),
/// });
/// assert!(!world.map().unwrap().blocks(ivec2(0, 0)) && !world.map().unwrap().blocks(ivec2(3, 0)));
/// assert_eq!(drops[0].velocity, vec2(50.0, 0.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[must_use]
pub struct Decision {
    pub(super) ball: BallDoes,
    pub(super) wall: WallDoes,
}

/// What a ball does.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum BallDoes {
    Bounce(f32),
    Deflect(Vec2),
    PassThrough,
    Stop,
    Remove,
}

/// What happens to the wall.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum WallDoes {
    Nothing,
    TakeHit,
    Vanish,
}

impl Decision {
    /// The ball passes through this wall.
    pub const PASS_THROUGH: Self = Self::of(BallDoes::PassThrough);
    /// The ball stops here; if the wall moves on, it pushes the ball.
    pub const STOP: Self = Self::of(BallDoes::Stop);
    /// The ball is removed.
    pub const REMOVE: Self = Self::of(BallDoes::Remove);

    const fn of(ball: BallDoes) -> Self {
        Self { ball, wall: WallDoes::Nothing }
    }

    /// The ball bounces, times this restitution: 1 keeps all of the speed. Off a wall that moves, that is its speed as the
    /// wall sees it. A restitution below 0 or not finite counts as 0.
    pub fn bounce(restitution: f32) -> Self {
        Self::of(BallDoes::Bounce(if restitution.is_finite() { restitution.max(0.0) } else { 0.0 }))
    }

    /// The ball continues with this velocity, in units/s, as after a [`Paddle`](super::Paddle). A velocity that is not
    /// finite counts as zero.
    pub fn deflect(velocity: Vec2) -> Self {
        Self::of(BallDoes::Deflect(if velocity.is_finite() { velocity } else { Vec2::ZERO }))
    }

    /// Counts one hit on the wall, which is removed after its last one: see
    /// [`World::set_wall_hits`](crate::terrain::World::set_wall_hits) and
    /// [`World::set_kind_hits`](crate::terrain::World::set_kind_hits). Nothing happens to a wall without hits.
    pub const fn hitting_wall(mut self) -> Self {
        self.wall = WallDoes::TakeHit;
        self
    }

    /// Removes the wall.
    pub const fn removing_wall(mut self) -> Self {
        self.wall = WallDoes::Vanish;
        self
    }
}
