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

/// Parts of a wall this close to each other are one, as a part of the path along it.
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

// Walking along walls.

/// A wall that was left for less than this is the same contact, in seconds.
pub(crate) const SAME_TOUCH: f32 = 1e-3;

/// A mover that was led away from a wall has not left it if it comes back with less than this part of its speed into it.
pub(crate) const COMES_BACK: f32 = 0.01;

/// A mover that comes to a wall with less than this part of its speed into it lay against it before.
pub(crate) const LAY_AGAINST: f32 = 1e-5;

/// A velocity along a surface leads away from it by less than this part of itself and of the drive's top speed.
pub(crate) const LEAVES: f32 = 1e-6;

/// The cosine of an angle so small that two normals of one wall belong to a side and to the round beside it.
pub(crate) const SAME_SIDE: f32 = 0.9999;

/// A velocity is on a line within this part of the line's length: the rounding of two closed forms.
pub(crate) const STEADY: f32 = 1e-4;

/// The part of a way that `f32` may lose.
pub(crate) const ROLL_ROUNDING: f64 = 5e-7;

/// No step is shorter than this, in seconds, so that a bend of the equation is passed.
pub(crate) const SHORTEST_ROLL_STEP: f64 = 1e-6;

/// The most walls that count at once; further ones are met again when they matter.
pub(crate) const MOST_CONSTRAINTS: usize = 8;

/// The most walls in a row that are passed in one tick without meeting one of them again.
pub(crate) const MOST_PASSED: usize = 64;

/// A way that leads along the wall by more than this part of what leads into it goes its own way.
pub(crate) const ASIDE: f32 = 0.5;

// Terrain and shapes.

/// The most walls that count at one corner: a footprint as small as a tile touches nine.
pub(crate) const MOST_AT_CORNER: usize = 16;

/// The most walls that share a corner and count.
pub(crate) const MOST_AT_ROUND: usize = 4;

/// A wall faces the mover when its normal lies within 45 degrees of the wall's that it leans on.
pub(crate) const FACING: f64 = core::f64::consts::FRAC_1_SQRT_2;

/// How much sooner than necessary a way is looked at, as a part of it.
pub(crate) const SOONER: f64 = 1e-6;

/// A wall is followed across so many flush pieces of other terrains in one question.
pub(crate) const MOST_IN_TURN: usize = 64;

/// The most stretches of one way.
pub(crate) const MOST_STRETCHES: f64 = 4096.0;

/// A wall is followed this far at most in one question, in tiles.
pub(crate) const CONTINUES_REACH: f64 = 32.0;

/// How long a stretch of a way is, in tiles or in distances between obstacles.
pub(crate) const STRETCH: f32 = 8.0;

/// Room on both sides of the strip that a footprint sweeps, in units: far more than rounding leaves.
pub(crate) const STRIP_ROOM: f32 = 0.01;

/// The same for each unit of what is added up.
pub(crate) const STRIP_ROOM_PER_UNIT: f32 = 1e-6;

/// How thick the walls round an area are, in units: far beyond any coordinate that sweeps are exact for.
pub(crate) const THICK: f32 = 1e7;

/// Angles within this of the end of an arc are at its end, in radians.
pub(crate) const ARC_END: f64 = 1e-9;

// Drives.

/// So many halvings find an instant on a curve to the last bit.
pub(crate) const HALVINGS_OF_CURVE: usize = 52;

/// The part of the target's speed within which a speed is it.
pub(crate) const ON_CURVE_TARGET: f64 = 1e-9;

/// The part of a target within which a velocity is at it: the rounding of a velocity that was turned along a wall.
pub(crate) const AT_TARGET: f64 = 1e-6;

/// The rate of a pull that answers at once, in units/s².
pub(crate) const AT_ONCE: f32 = 1e15;

/// From this rate on a pull answers at once, also where only a part of it counts, in units/s².
pub(crate) const ANSWERS_AT_ONCE: f64 = 1e9;

/// A grip as good as endless where an acceleration is asked for, per second.
pub(crate) const GRIPS_AT_ONCE: f32 = 1e9;

/// The most panels of an integral, beyond those that grow: over some thousand turns at once the sum
/// gets coarse rather than endless.
pub(crate) const MOST_PANELS: f64 = 1024.0;

// Steps, balls, poses and ticks.

/// A normal this much along the paddle's direction belongs to its face: a round end counts as face up to
/// 45 degrees.
pub(crate) const ROUND_END: f32 = core::f32::consts::FRAC_1_SQRT_2 - 1e-6;

/// How far beyond an edge a mover is put when it leaves, in units at the origin.
pub(crate) const BEYOND_EDGE: f32 = 1e-5;

/// The most strides in one tick; the rest of a longer tick is dropped.
pub(crate) const MOST_STRIDES: usize = 4096;

/// The most instants in one tick at which something is decided, or as many as there are steppers; the rest of a longer tick
/// is dropped.
pub(crate) const MOST_INSTANTS: usize = 65_536;

/// Directions this close to a border are on it, in radians.
pub(crate) const ON_THE_BORDER: f32 = 1e-4;

/// What rounding may leave of a tick.
pub(crate) const TICK_ROUNDING: f64 = 1e-6;
