//! One tick of many projectiles in one world: they meet walls in order of time.

use glam::Vec2;

use super::decision::{Decision, Impact};
use super::in_order::{Happened, fly_free, play_in_order};
use super::projectile::{FlightEnd, Projectile};
use super::queue::Flier;
use crate::direction::Side;
use crate::terrain::World;

/// An event of a projectile.
///
/// ```
/// use ambulant::arcade::{ProjectileEvent, tick_projectiles};
/// use ambulant::prelude::*;
///
/// let area = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?.with_all(EdgeRule::Wrap);
/// let mut world = World::new().with_play_area(area);
/// let mut puffs = [Projectile::aimed(vec2(5.0, 5.0), vec2(9.0, 5.0), 20.0, Footprint::circle(1.0)?)?];
/// let mut sides = Vec::new();
/// tick_projectiles(&mut puffs, 0.5, &mut world, |puff, _| puff.decision(), |event| {
///     if let ProjectileEvent::Wrapped { side, .. } = event {
///         sides.push(side);
///     }
/// });
/// assert_eq!(sides, [Side::Right]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum ProjectileEvent {
    /// It hit a wall.
    Met {
        /// The projectile, the hit, the velocity before and the instant.
        impact: Impact,
        /// Its velocity after, in units/s.
        after: Vec2,
        /// Whether the wall was removed.
        broke: bool,
    },
    /// It left on one side and entered on the other.
    Wrapped {
        /// Which projectile of the list.
        projectile: usize,
        /// The side where it left.
        side: Side,
        /// When, in seconds into the tick.
        seconds: f32,
    },
    /// Its flight is over; after a hit, this follows [`Met`](Self::Met).
    Ended {
        /// Which projectile of the list.
        projectile: usize,
        /// Why and when.
        end: FlightEnd,
    },
}

/// Moves projectiles for `dt` seconds as [`Projectile::tick`] does, in order of time: what one of them breaks is gone for
/// the others from that instant on. `decide` is called at each wall: [`Projectile::decision`] bounces or stops it, as it
/// has bounces left, and [`Decision::hitting_wall`] counts a hit on the wall. `on_event` is called for everything that
/// happens, in order.
///
/// ```
/// use ambulant::arcade::{FlightEnd, ProjectileEvent, tick_projectiles};
/// use ambulant::prelude::*;
///
/// let mut world = World::new();
/// let pot = world.add(Solid::circle(vec2(50.0, 0.0), 4.0)?);
/// world.set_wall_hits(pot, 1);
/// world.move_at(pot, vec2(-20.0, 0.0)); // it comes toward them
/// let puff = |from: f32| Projectile::aimed(vec2(from, 0.0), vec2(99.0, 0.0), 100.0, Footprint::circle(1.0)?);
/// let mut puffs = [puff(0.0)?, puff(9.0)?.with_range(60.0)?];
/// let mut ends = Vec::new();
/// tick_projectiles(&mut puffs, 1.0, &mut world, |puff, _| puff.decision().hitting_wall(), |event| {
///     if let ProjectileEvent::Ended { projectile, end } = event {
///         ends.push((projectile, end.seconds()));
///     }
/// });
/// // The one in front hits the pot after 36 of 120 units/s and breaks it; the other one flies on.
/// assert_eq!(ends, [(1, 0.3)]);
/// assert_eq!((world.solid(pot), puffs[0].position()), (None, vec2(100.0, 0.0)));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub fn tick_projectiles(
    projectiles: &mut [Projectile],
    dt: f32,
    world: &mut World,
    mut decide: impl FnMut(&Projectile, &Impact) -> Decision,
    mut on_event: impl FnMut(ProjectileEvent),
) {
    if fly_free(projectiles, dt, world) {
        return;
    }
    play_in_order(projectiles, world, &mut decide, &mut |shot, projectile, happened| {
        let seconds = shot.ball().flight.now();
        match happened {
            Happened::Met { impact, does, after, broke } => {
                on_event(ProjectileEvent::Met { impact, after, broke });
                shot.met(does, &impact.hit);
            }
            Happened::Wrapped(side) => on_event(ProjectileEvent::Wrapped { projectile, side, seconds }),
            Happened::Left(side) => shot.left(side),
            Happened::Squeezed(squeeze) => shot.squeezed(squeeze),
            Happened::Ended => shot.is_over(),
            Happened::Unplayed(_) => return,
        }
        if let Some(end) = shot.ended() {
            on_event(ProjectileEvent::Ended { projectile, end });
        }
    });
}
