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

/// A wall that stopped to hold is looked for this near, in units, since it may only curve away: four
/// times [`HELD_GAP`].
pub(crate) const CURVES_AWAY: f32 = 4e-4;

/// Motions that lead into a surface by less than this part of their length run along it: the rounding
/// of a displacement that was projected onto the surface.
pub(crate) const ALONG: f64 = 4e-7;

/// What is left of a motion between two walls leads into one of them only beyond this part of its
/// length: the rounding of two projections.
pub(crate) const WEDGED: f32 = 1e-6;

/// Stretches of support this close to each other are one, as a part of the way.
pub(crate) const JOINED: f64 = 1e-6;

/// A touch is settled onto the surface from this near, in units: far above what rounding and the touch
/// tolerance leave, so that it only guards against shapes that touch nowhere.
pub(crate) const SETTLED: f64 = 0.25;

/// Corners this near to the foremost one, in units, face a wall with it.
pub(crate) const FOREMOST: f64 = 1e-6;

/// Points whose square distance is below this, in square units, are one: they come from the same corner.
pub(crate) const SAME_POINT: f64 = 1e-18;

/// Angles this close are one, in radians: some roundings of an arc tangent and a difference.
pub(crate) const ANGLE_ROUNDING: f32 = 1e-5;

/// The radius of a ray, in units: below the rounding of a position beyond 16 units from the origin.
pub(crate) const RAY: f32 = 1e-6;

/// Instants this close are one, in seconds: far below any tick, far above what rounding leaves of the sum of a
/// million ticks.
pub(crate) const SAME_INSTANT: f64 = 1e-6;

/// A path that gets into a wall by no more than this part of what counts as touching only grazes it. The other half
/// is for the rounding of where it ends: who has grazed a wall must still be held by it.
pub(crate) const GRAZE: f64 = 0.5;
