//! Walls that move with a mover: a paddle is a walker and a wall.

use super::path::Path;
use crate::terrain::{Wall, World};

impl World {
    /// Moves a free-standing wall or a floor in this tick as a mover moves: along its path, from where the wall is. Movers
    /// that are ticked later meet it where it is at each instant. The mover itself must have ignored it
    /// ([`Walker::own_wall`](super::Walker::own_wall)).
    ///
    /// A path of another tick moves it in the same way for as long as that tick lasted. Returns `false` and changes
    /// nothing if it is not a free-standing wall or a floor of this world, or if the mover was faster than a million
    /// units/s along an axis.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::walker::Path;
    ///
    /// let mut world = World::new();
    /// let shape = Footprint::rect(2.0, 8.0)?;
    /// let mut leaf = Walker::new(Vec2::ZERO, shape, Gait::new(30.0, 200.0, 200.0)?);
    /// leaf.own_wall = Some(world.add(shape.solid_at(leaf.position)));
    /// let mut drop = Walker::new(vec2(4.0, 0.0), Footprint::circle(0.5)?, Gait::new(30.0, 200.0, 200.0)?);
    /// let mut path = Path::default();
    ///
    /// let _ = leaf.tick_with_path(Intent::new(vec2(1.0, 0.0)), 0.5, &world, &mut path);
    /// world.follow(leaf.own_wall.unwrap(), &path);
    /// let result = drop.tick(Intent::NONE, 0.5, &world);
    /// world.advance(0.5);
    /// assert!(result.contacts.iter().next().unwrap().pushed);
    /// assert!((drop.position.x - leaf.position.x - 1.5).abs() < 1e-4); // against the leaf
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    pub fn follow(&mut self, wall: Wall, path: &Path) -> bool {
        self.move_beside(wall, path.beside_start(), path.motions())
    }
}
