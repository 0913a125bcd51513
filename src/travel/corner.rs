//! Corner help: leads a mover round the end of a wall that it only just hits.

use glam::Vec2;

use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};
use crate::tolerance::ASIDE;

/// For a mover against a wall that wants to move along `way`: the shortest step along the wall after which the wall
/// does not block it any more, if that is no longer than `reach` and leads somewhere.
pub(crate) fn way_round(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    (displacement, normal): (Vec2, Vec2),
    reach: f32,
    filter: &WallFilter<'_>,
) -> Option<Vec2> {
    let along = normal.perp();
    let (inward, aside) = (-displacement.dot(normal), displacement.dot(along));
    if inward <= 0.0 || reach <= 0.0 || aside.abs() >= inward * ASIDE {
        return None;
    }
    // A step that ends against another wall is allowed.
    let free = |from: Vec2, step: Vec2| {
        terrain.sweep(footprint, from, step, filter).is_none_or(|hit| hit.fraction >= 1.0)
    };
    let to_side = |along: Vec2| {
        let step = along * reach;
        let fraction = terrain.wall_continues(footprint, at, step, normal, filter);
        let round = step * fraction;
        let clear = fraction < 1.0 && free(at, round) && free(at + round, normal * -reach);
        clear.then_some(round)
    };
    // A motion that leads aside already is not turned back.
    let sides = [(along, aside >= 0.0), (-along, aside <= 0.0)];
    let open = sides.into_iter().filter(|(_, allowed)| *allowed).filter_map(|(along, _)| to_side(along));
    open.min_by(|a, b| a.length_squared().total_cmp(&b.length_squared()))
}
