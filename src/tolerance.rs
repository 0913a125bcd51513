//! Every tolerance of the library with its unit and its reason, except what touching means: that is `contact`.

/// How far a piece of a steered path may bow away from its chord near a wall, in units.
pub(crate) const STEERED_BOW: f32 = 1e-3;

/// How far a piece of a path may bow away from its chord where nothing but closed sides of tiles are near, in units.
pub(crate) const BOW_AT_LEDGES: f32 = 1e-4;

/// Into how many pieces of equal length a tick is cut at most for a drive that steers, as a part of the tick.
pub(crate) const FINEST_PART: f32 = 1.0 / 256.0;

/// A drive that pushes into a wall is played in pieces so short that one piece and its two halves end this near to each other,
/// in units.
pub(crate) const ROUGH: f32 = 1e-6;

/// But not in shorter ones than this, in seconds: on a slanted wall a pull and the drive across it may take turns without end.
pub(crate) const FINEST_AGAINST_WALL: f32 = 2.5e-4;

/// How often a piece of a path is halved at most until it is straight: a tick of a second ends at a tenth of a microsecond.
pub(crate) const MOST_HALVINGS: u32 = 24;

/// How often a chord is swept again on the way to one touch of a steered path.
pub(crate) const MOST_SWEEPS: usize = 8;

/// So many touches may happen at one instant: two walls, and one of them again.
pub(crate) const MOST_AT_ONCE: usize = 8;

/// After so many pieces the rest of a tick is slid along its chord.
pub(crate) const MOST_PIECES: usize = 1024;

/// After so many steps the search for an instant has used up what `f32` holds.
pub(crate) const MOST_STEPS_TO_INSTANT: usize = 48;

/// A wall met again in the same tick is the same contact while its normals lie within 25 degrees.
pub(crate) const SAME_CONTACT: f32 = 0.9;

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

/// A motion of which a wall leaves less than this part was head-on: what is left says nothing about a direction.
pub(crate) const HEAD_ON: f32 = 1e-6;

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
