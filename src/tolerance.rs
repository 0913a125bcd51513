//! Every tolerance of the library, with its unit and its reason.
//!
//! Sweeps are computed in `f64` from `f32` input, so that the one rounding that matters is that of
//! the stored position: half a step of `f32`, which is 6e-8 of the coordinate. All that is called
//! touching lies within a few such steps.

/// Distance within which two surfaces touch, per unit of coordinate: four steps of `f32` rounding.
///
/// One comes from rounding the position at the last touch, the others are left to callers who
/// compute positions and sizes of their own.
const TOUCH_PER_COORDINATE: f64 = 1.0 / 4_194_304.0;

/// Coordinates below this many units count as this many, so that walls at the origin have a
/// tolerance too.
const SMALLEST_COORDINATE: f64 = 1.0;

/// How deep a footprint may reach into a wall and still only touch it, and how far away it may stay
/// and still touch, in units: 2.4e-7 of the largest coordinate involved (0.00024 at 1,000 units),
/// and never less than 2.4e-7.
///
/// ```
/// assert!(ambulant::touch_tolerance(1000.0) < 0.00025);
/// ```
#[must_use]
pub fn touch_tolerance(coordinate: f64) -> f64 {
    coordinate.abs().max(SMALLEST_COORDINATE) * TOUCH_PER_COORDINATE
}

/// How far a piece of path may bow away from its chord near a wall, in units.
///
/// A curved path near a wall is cut until each piece bows less than this, so that a wall is met on
/// the path and not on its chord. At an acceleration of 1,000 units/s² a graze of this depth
/// changes a later position by about as much.
pub(crate) const PATH_BOW: f32 = 1e-3;

/// How close to a wall's plane the search for the instant of touch ends, in units: below the
/// rounding of a position beyond 8 units from the origin.
pub(crate) const TOUCH_SEARCH: f32 = 1e-6;

/// How far a mover may be from a wall that it is pressed on and still be held by it, in units. A
/// round wall is followed in straight steps that end this far from it: a fortieth of a radian each at a
/// radius of 0.3 units, a two-hundredth at 8.
pub(crate) const HELD_GAP: f64 = 1e-4;
