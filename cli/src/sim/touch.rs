//! What a mover lies against, asked with four tiny steps.

use ambulant::shape::Footprint;
use ambulant::terrain::{Hit, Terrain, WallFilter};
use ambulant::touch_tolerance;
use glam::Vec2;

/// A mover that follows a round wall may be a hair away from it, in units.
const LEAST_REACH: f32 = 4e-4;

/// The walls that a footprint touches at a place, at most one on each side.
pub(crate) fn touched(
    terrain: &impl Terrain,
    footprint: &Footprint,
    at: Vec2,
    filter: &WallFilter<'_>,
) -> Vec<Hit> {
    let area = footprint.at(at);
    let furthest = area.min.abs().max(area.max.abs()).max_element();
    // Far enough to reach a wall that counts as touched, whichever way its place was rounded.
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let reach = (4.0 * touch_tolerance(f64::from(furthest)) as f32).max(LEAST_REACH);
    [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y]
        .into_iter()
        .filter_map(|way| terrain.sweep(footprint, at, way * reach, filter))
        .collect()
}
