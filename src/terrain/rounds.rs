//! The round part of a wall that a mover touches. A hit has only its normal, so the walls are looked up again.

use glam::{DVec2, Vec2};

use super::filter::WallFilter;
use super::hit::Hit;
use super::swept_area::swept_area;
use super::terrain_trait::Terrain;
use super::wall::Wall;
use crate::contact::Tolerance;
use crate::shape::{Arc, Footprint};
use crate::tolerance::{MOST_AT_ROUND, SAME_POINT};

/// A round part, and the walls that share it: at the apex of two flush walls, one corner belongs to both.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Round {
    pub(crate) arc: Arc,
    walls: [Option<Wall>; MOST_AT_ROUND],
}

impl Round {
    /// Whether it belongs to a wall.
    pub(crate) fn belongs_to(&self, wall: Wall) -> bool {
        self.walls.contains(&Some(wall))
    }

    /// The walls that share it.
    pub(crate) fn walls(&self) -> impl Iterator<Item = Wall> {
        self.walls.into_iter().flatten()
    }

    /// Adds a wall; the round part ends where the first of its walls has a flat side.
    fn add(&mut self, wall: Wall, arc: &Arc, normal: DVec2) {
        let Some(slot) = self.walls.iter_mut().find(|slot| slot.is_none()) else { return };
        *slot = Some(wall);
        let end = |turn: f64| {
            let nearer =
                |a: &&Arc, b: &&Arc| a.angle_to_end(normal, turn).total_cmp(&b.angle_to_end(normal, turn));
            [&self.arc, arc].into_iter().min_by(nearer).and_then(|arc| arc.normal_at_end(turn))
        };
        let ends = end(-1.0).zip(end(1.0)).map(|(first, last)| [first, last]);
        self.arc.ends = ends;
    }
}

/// The round part of a hit, as a path of the mover's position.
/// `filter` states when.
pub(crate) fn round_of(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    hit: &Hit,
    filter: &WallFilter<'_>,
) -> Option<Round> {
    // Arcs are known for the middle of a footprint; its position may be elsewhere.
    let offset = footprint.middle(Vec2::ZERO);
    let middle = hit.exact.position + offset;
    let mut arcs: [Option<(Wall, Arc)>; 2 * MOST_AT_ROUND] = [None; 2 * MOST_AT_ROUND];
    let mut count = 0;
    terrain.walls_in(swept_area(footprint, hit.position, Vec2::ZERO), filter, &mut |found| {
        if let (Some(arc), Some(slot)) = (found.outline(footprint).arc(middle), arcs.get_mut(count)) {
            *slot = Some((found.wall, arc));
            count += 1;
        }
    });
    let arcs = || arcs.iter().flatten();
    let (_, arc) = arcs().find(|(wall, _)| *wall == hit.wall)?;
    let mut round = Round { arc: *arc, walls: [Some(hit.wall), None, None, None] };
    for (wall, other) in arcs().filter(|(wall, _)| *wall != hit.wall) {
        if other.center.distance_squared(arc.center) < SAME_POINT && other.radius == arc.radius {
            round.add(*wall, other, arc.normal(middle));
        }
    }
    round.arc.center -= offset;
    Some(round)
}

/// Whether a footprint at none of some exact places, all near `from`, lies in a wall by more than what only grazes it.
pub(crate) fn is_clear_of(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    wall: Wall,
    (from, places): (Vec2, [DVec2; 3]),
    filter: &WallFilter<'_>,
) -> bool {
    let offset = footprint.middle(Vec2::ZERO);
    let touch = Tolerance::at(from.abs().max_element().into());
    let mut is_clear = false;
    terrain.walls_in(swept_area(footprint, from, Vec2::ZERO), filter, &mut |found| {
        if found.wall == wall {
            let outline = found.outline(footprint);
            is_clear = places.into_iter().all(|place| outline.depth(place + offset).0 <= touch.graze());
        }
    });
    is_clear
}
