//! Axis-by-axis movement as many games do it: test the position, then move, one axis after the other. It is for
//! porting such games; [`resolve`](super::resolve) is better.

use glam::Vec2;

use super::move_result::MoveResult;
use crate::error::{InvalidNumber, above_zero};
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};

/// The most positions that one call tests on one axis; the rest of the displacement is returned as remaining.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{MAX_PROBES, step_axes};
///
/// let (moth, far) = (Footprint::circle(1.0)?, vec2(MAX_PROBES as f32 + 500.0, 0.0));
/// let result = step_axes(&World::new(), &moth, Vec2::ZERO, far, far, 1.0, &WallFilter::ALL)?;
/// assert!(result.position.x == MAX_PROBES as f32 && result.remaining.x > 499.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub const MAX_PROBES: u32 = 4096;

/// Moves along x and then along y, in steps of at most `probe` units; an axis stops before the first step
/// that would overlap a wall.
///
/// So a mover stops up to `probe` short of a wall, can pass a wall thinner than `probe`, and behaves differently at
/// corners in x and y. No contacts are listed; an axis that was stopped has no velocity left.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::step_axes;
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["...#", "...#"], &legend)?.with_tile_size(16.0)?;
/// let gardener = Footprint::rect(10.0, 10.0)?;
/// let result = step_axes(&map, &gardener, vec2(30.5, 8.0), vec2(20.0, 4.0), vec2(1200.0, 240.0), 1.0, &WallFilter::ALL)?;
/// assert_eq!(result.position, vec2(42.5, 12.0)); // half a unit short of the bed
/// assert_eq!(result.velocity, vec2(0.0, 240.0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// The probe distance must be finite and above 0.
pub fn step_axes(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    from: Vec2,
    displacement: Vec2,
    velocity: Vec2,
    probe: f32,
    filter: &WallFilter<'_>,
) -> Result<MoveResult, InvalidNumber> {
    let probe = above_zero("probe", probe, "a finite number above 0 (units)")?;
    let mut result = MoveResult::free(from, velocity, 1.0);
    for axis in [Vec2::X, Vec2::Y] {
        let part = displacement * axis;
        // What is not finite cannot be moved along.
        let steps = if part.is_finite() { libm::ceilf(part.length() / probe) } else { 0.0 };
        let walked = steps.min(MAX_PROBES as f32);
        let start = result.position;
        let mut taken = 0.0;
        while taken < walked {
            let next = start + part * ((taken + 1.0) / steps);
            if terrain.overlaps(footprint, next, filter) {
                result.velocity *= Vec2::ONE - axis;
                break;
            }
            result.position = next;
            taken += 1.0;
        }
        if taken < steps {
            result.remaining += part * (1.0 - taken / steps);
        }
    }
    Ok(result)
}
