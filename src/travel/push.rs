//! Moving walls: they push movers, and take along what touches them if asked to.
//!
//! Relative to the wall, it is the mover that moves. So a push is a slide in the frame of the wall, and no wall is
//! too fast. Walls move first, one after the other, then movers.

use glam::Vec2;

use super::resolve::slide;
use crate::contact::touch_tolerance;
use crate::shape::{Footprint, Solid, touches};
use crate::terrain::{FoundWall, Terrain, Wall, WallFilter, World};

/// A wall that moves in one tick.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MovingWall, push};
///
/// let mut world = World::new();
/// let door = world.add(Solid::box_from_corners(vec2(0.0, -5.0), vec2(2.0, 5.0))?);
/// let moving = MovingWall::of(&world, door, vec2(3.0, 0.0)).unwrap();
/// let pushed = push(&world, &Footprint::rect(2.0, 2.0)?, vec2(4.0, 0.0), &moving, &WallFilter::ALL);
/// assert_eq!((pushed.position, pushed.squeezed), (vec2(6.0, 0.0), None));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct MovingWall {
    /// Which wall of the terrain it is; it does not block its own motion.
    pub wall: Wall,
    /// Its shape at the start of the tick.
    pub solid: Solid,
    /// Its displacement in this tick, in units.
    pub displacement: Vec2,
    /// Whether it takes along a mover that touches it at the start, in whatever direction it moves.
    pub carries: bool,
}

impl MovingWall {
    /// A wall of a world, with its displacement in this tick in units; `None` if it is not a free-standing wall of it.
    /// It does not take along what touches it.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::travel::{MovingWall, push};
    ///
    /// let mut world = World::new();
    /// let door = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(2.0, 8.0))?);
    /// let slides = MovingWall::of(&world, door, vec2(5.0, 0.0)).unwrap();
    /// let pushed = push(&world, &Footprint::rect(2.0, 2.0)?, vec2(4.0, 4.0), &slides, &WallFilter::ALL);
    /// assert_eq!(pushed.position, vec2(8.0, 4.0));
    /// world.place(door, slides.solid.moved(slides.displacement)); // walls first, then movers
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub fn of(world: &World, wall: Wall, displacement: Vec2) -> Option<Self> {
        Some(Self { wall, solid: *world.solid(wall)?, displacement, carries: false })
    }

    /// Takes along a mover that touches it at the start, in whatever direction it moves.
    #[must_use]
    pub const fn carrying(mut self) -> Self {
        self.carries = true;
        self
    }
}

/// What a moving wall did to one mover.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MovingWall, push};
///
/// let mut world = World::new();
/// let door = world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(2.0, 8.0))?);
/// let slides = MovingWall::of(&world, door, vec2(5.0, 0.0)).unwrap();
/// let pushed = push(&world, &Footprint::rect(2.0, 2.0)?, vec2(20.0, 4.0), &slides, &WallFilter::ALL);
/// assert!(!pushed.touched && pushed.squeezed.is_none()); // too far away
/// assert_eq!((pushed.position, pushed.free), (vec2(20.0, 4.0), 1.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[must_use]
#[non_exhaustive]
pub struct Push {
    /// Where the mover is now.
    pub position: Vec2,
    /// Whether the wall pushed it or took it along.
    pub touched: bool,
    /// The wall that blocks the mover from behind: the mover is squeezed, and overlaps the moving wall if that moves
    /// all the way.
    pub squeezed: Option<Wall>,
    /// How much of its displacement the wall can move without squeezing the mover, 0 to 1; exact for flat walls. A
    /// door that waits moves this far.
    pub free: f32,
}

/// Moves a wall against a mover. What blocks the mover are the walls of `terrain` that pass the filter; the moving wall
/// may be among them.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MovingWall, push};
///
/// let mut walls = World::new();
/// let door = walls.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(1.0, 8.0))?);
/// let post = walls.add(Solid::box_from_corners(vec2(10.0, 0.0), vec2(11.0, 8.0))?);
/// let gardener = Footprint::rect(2.0, 2.0)?;
///
/// let slides = |x| MovingWall::of(&walls, door, vec2(x, 0.0)).unwrap();
/// let pushed = push(&walls, &gardener, vec2(4.0, 4.0), &slides(5.0), &WallFilter::ALL);
/// assert_eq!((pushed.position, pushed.squeezed), (vec2(7.0, 4.0), None));
///
/// // If there is no room, the result names the wall behind and how far the door can go.
/// let pushed = push(&walls, &gardener, vec2(4.0, 4.0), &slides(8.0), &WallFilter::ALL);
/// assert_eq!((pushed.position, pushed.squeezed), (vec2(9.0, 4.0), Some(post)));
/// assert_eq!(pushed.free, 7.0 / 8.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub fn push(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    moving: &MovingWall,
    filter: &WallFilter<'_>,
) -> Push {
    let own = [moving.wall];
    let own = WallFilter::ALL.except(&own);
    let others = &filter.and(&own);
    let alone = FoundWall::new(moving.wall, moving.solid);
    let riding = moving.carries && touches(footprint, at, &moving.solid);
    // Where the mover would end if nothing else blocked it, as the wall sees it.
    let seen = slide(&alone, footprint, at, -moving.displacement, &WallFilter::ALL);
    let end = if riding { at } else { seen.position };
    let wanted = end - at + moving.displacement;
    if wanted == Vec2::ZERO || !riding && seen.contacts.is_empty() {
        return Push { position: at, touched: riding, squeezed: None, free: 1.0 };
    }
    // By how much the wall goes into a mover that is held back at a position, and in which direction.
    let caught_at = |position: Vec2| {
        let short = position - (at + wanted);
        let hit = alone.sweep(footprint, end, short, &WallFilter::ALL)?;
        let depth = -short.dot(hit.normal) * (1.0 - hit.fraction);
        let furthest = position.abs().max(end.abs()).max(moving.displacement.abs()).max_element();
        (f64::from(depth) > touch_tolerance(f64::from(furthest))).then_some((depth, hit.normal))
    };
    let mut result = slide(terrain, footprint, at, wanted, others);
    let mut behind = result.contacts.iter().last().map(|contact| (contact.wall, contact.normal));
    let mut caught = caught_at(result.position);
    if let (Some((depth, inward)), Some((_, normal))) = (caught, behind) {
        // Along the wall behind there may still be a way out.
        let aside = normal.perp();
        let slope = aside.dot(inward);
        if slope != 0.0 {
            let escape = slide(terrain, footprint, result.position, aside * (depth / slope), others);
            if caught_at(escape.position).is_none() {
                (result, caught) = (escape, None);
                behind = None;
            }
        }
    }
    // Up to where it touches the mover, which has nowhere to go.
    let touch = |_| alone.sweep(footprint, result.position, -moving.displacement, &WallFilter::ALL);
    let free = caught.and_then(touch).map_or(1.0, |hit| hit.fraction);
    let squeezed = caught.and(behind).map(|(wall, _)| wall);
    Push { position: result.position, touched: true, squeezed, free }
}
