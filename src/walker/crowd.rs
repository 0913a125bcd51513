//! Many walkers of one kind, in one call per tick.

use super::Walker;
use crate::drive::Drive;
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::travel::MoveResult;

/// Advances many walkers by one tick, as [`Walker::tick`] would, in their order; `on_result` gets each result.
///
/// Walkers do not collide with each other here: all see the same terrain.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::drive::Pace;
/// use ambulant::walker::tick_all;
///
/// let lawn = TileGrid::from_rows(&["...."], &Legend::new().with('.', TileKind::floor("lawn")))?;
/// let snail = Walker::new(vec2(0.5, 0.5), Footprint::circle(0.2)?, Pace::new(1.0)?);
/// let mut snails = vec![snail; 100];
/// let mut met = 0;
/// tick_all(&mut snails, |_| Intent::new(vec2(1.0, 0.0)), 10.0, &lawn, |_, result| met += result.contacts.len());
/// assert!(snails.iter().all(|snail| snail.position == vec2(3.8, 0.5)));
/// assert_eq!(met, 100);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn tick_all<D: Drive>(
    walkers: &mut [Walker<D>],
    intent: impl Fn(usize) -> Intent,
    dt: f32,
    terrain: &(impl Terrain + ?Sized),
    mut on_result: impl FnMut(usize, MoveResult),
) {
    for (place, walker) in walkers.iter_mut().enumerate() {
        on_result(place, walker.tick(intent(place), dt, terrain));
    }
}

/// The same on all cores, with the same bits: walkers do not affect each other.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::walker::{tick_all, tick_all_parallel};
///
/// let lawn = TileGrid::from_rows(&["...."], &Legend::new().with('.', TileKind::floor("lawn")))?;
/// let snail = Walker::new(vec2(0.5, 0.5), Footprint::circle(0.2)?, Gait::new(1.0, 2.0, 3.0)?);
/// let (mut one, mut many) = (vec![snail; 100], vec![snail; 100]);
/// let intent = |place: usize| Intent::new(vec2(1.0, 0.01 * place as f32));
/// tick_all(&mut one, intent, 0.3, &lawn, |_, _| {});
/// tick_all_parallel(&mut many, intent, 0.3, &lawn, |_, _| {});
/// assert_eq!(one, many);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[cfg(feature = "rayon")]
pub fn tick_all_parallel<D: Drive + Send>(
    walkers: &mut [Walker<D>],
    intent: impl Fn(usize) -> Intent + Sync,
    dt: f32,
    terrain: &(impl Terrain + Sync + ?Sized),
    on_result: impl Fn(usize, MoveResult) + Sync,
) {
    use rayon::prelude::*;
    // Smaller parts would cost more to distribute than to compute.
    const SHORTEST: usize = 256;
    walkers.par_iter_mut().enumerate().with_min_len(SHORTEST).for_each(|(place, walker)| {
        on_result(place, walker.tick(intent(place), dt, terrain));
    });
}
