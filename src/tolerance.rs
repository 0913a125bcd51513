//! Every tolerance of the library with its unit and its reason, except what touching means: that is `contact`.

/// How far a piece of a steered path may bow away from its chord near a wall, in units.
pub(crate) const STEERED_BOW: f32 = 1e-3;

/// How far a piece of a path may bow away from its chord where nothing but closed sides of tiles are near, in units.
pub(crate) const BOW_AT_LEDGES: f32 = 1e-4;

/// A steered path that bows more than this is not cut shorter, in seconds: endless grip turns a velocity at once.
pub(crate) const FINEST_STEERED: f32 = 1.0 / 16_384.0;

/// How far a heading may turn in one piece along a wall, in radians: so little that the drive comes to lead away from the wall
/// at most once.
pub(crate) const HELD_TURN: f32 = 0.25;

/// How often a piece of a path is halved at most until it is straight: a tick of a second ends at a tenth of a microsecond.
pub(crate) const MOST_HALVINGS: u32 = 24;

/// How often a chord is swept again on the way to one touch of a steered path.
pub(crate) const MOST_SWEEPS: usize = 8;

/// So many touches may happen at one instant: two walls, and one of them again.
pub(crate) const MOST_AT_ONCE: usize = 8;

/// After so many pieces the rest of a tick is slid along its chord.
pub(crate) const MOST_PIECES: usize = 1024;

/// After so many pieces shorter than [`SHORT_PIECE`], too: walls that take turns without end.
pub(crate) const MOST_SHORT_PIECES: usize = 96;

/// A mover stays for so many seconds on a wall that it came back to at once.
pub(crate) const STAYS: f32 = 1.0 / 8192.0;

/// To learn where a motion leads that begins along a wall, it is looked at after so many seconds.
pub(crate) const INSTANT: f32 = 1.0 / 4096.0;

/// Rounding the direction of a velocity, or a heading, moves it aside by at most this part of its length.
pub(crate) const ROUNDED_ASIDE: f32 = 5e-7;

/// For so many seconds a mover slides along the chord of its way where pieces get nowhere.
pub(crate) const STALLED: f32 = 1.0 / 1024.0;

/// In seconds: a mover at 1,000 units/s goes a thousandth of a unit.
pub(crate) const SHORT_PIECE: f32 = 1e-6;

/// After so many steps the search for an instant has used up what `f32` holds.
pub(crate) const MOST_STEPS_TO_INSTANT: usize = 48;

/// A wall met again in the same tick is the same contact while its normals lie within 25 degrees.
pub(crate) const SAME_CONTACT: f32 = 0.9;

/// How close to a wall's plane the search for the instant of touch ends, in units: below the
/// rounding of a position beyond 8 units from the origin.
pub(crate) const TOUCH_SEARCH: f32 = 1e-6;

/// Walls are looked for this near where a mover lies against them, or a round begins where a flat side ends, in units.
pub(crate) const LIES_AGAINST: f32 = 4e-4;

/// How far a mover may turn along a round wall in one piece, in radians.
pub(crate) const MOST_TURN: f64 = 1.0 / 16.0;

/// Two ways of stepping along a round wall must come this near to each other, in units: the better of them is far nearer yet.
pub(crate) const ROLL_STEP: f64 = 1e-7;

/// After so many steps along a round wall the rest of a piece is left out.
pub(crate) const MOST_ROLL_STEPS: usize = 4096;

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
