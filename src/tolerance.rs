//! All tolerances and limits of the library, each with its unit and reason. `contact` defines touching.

/// How far a piece of a steered path may bow from its chord near a wall, in units.
pub(crate) const STEERED_BOW: f32 = 1e-3;

/// How far a piece of a path may bow from its chord if only closed sides of tiles are near, in units.
pub(crate) const BOW_AT_LEDGES: f32 = 1e-4;

/// A piece of a steered path is not cut shorter than this, in seconds: infinite grip turns a velocity immediately.
pub(crate) const FINEST_STEERED: f32 = 1.0 / 16_384.0;

/// How far a heading may turn in one piece along a wall, in radians: so little that the drive starts to lead away
/// from the wall at most once.
pub(crate) const HELD_TURN: f32 = 0.25;

/// How often a piece of a path is halved until it is straight: a tick of a second ends at a tenth of a microsecond.
pub(crate) const MOST_HALVINGS: u32 = 24;

/// How often a chord is swept again on the way to one touch of a steered path.
pub(crate) const MOST_SWEEPS: usize = 8;

/// The most touches at one instant: two walls, and one of them again.
pub(crate) const MOST_AT_ONCE: usize = 8;

/// The most pieces of a tick; the rest slides along its chord.
pub(crate) const MOST_PIECES: usize = 1024;

/// The most pieces shorter than [`SHORT_PIECE`] before the mover slides along its chord for a while: walls that
/// alternate for ever.
pub(crate) const MOST_SHORT_PIECES: usize = 96;

/// Between a round wall and one that moves differently, a wall that is left more slowly than this counts as touched, in
/// units/s: such a piece takes half a millisecond, in which the normal of the round wall turns back by as much.
pub(crate) const LINGERS: f32 = 0.05;

/// A vehicle is between its grip and its thrust if no more than this part of its acceleration leads away from the wall or into it.
pub(crate) const BETWEEN: f32 = 1e-3;

/// How far the heading of such a vehicle may turn in one piece, in radians.
pub(crate) const BETWEEN_TURN: f32 = 1.0 / 16.0;

/// Steps that find the speed at which a wall lets go of a vehicle.
pub(crate) const LET_GO_STEPS: usize = 4;

/// Steps along a round wall in a piece on which a vehicle is between its grip and its thrust.
pub(crate) const SLIDE_STEPS: usize = 4;

/// A motion that begins along a wall is checked after so many seconds.
pub(crate) const INSTANT: f32 = 1.0 / 4096.0;

/// Rounding the direction of a velocity, or a heading, moves it aside by at most this part of its length.
pub(crate) const ROUNDED_ASIDE: f32 = 5e-7;

/// How long a mover slides along its chord where pieces get nowhere, in seconds.
pub(crate) const STALLED: f32 = 1.0 / 1024.0;

/// In seconds: a mover at 1,000 units/s goes a thousandth of a unit.
pub(crate) const SHORT_PIECE: f32 = 1e-6;

/// The most steps of a search for an instant: enough for every bit of an `f32`.
pub(crate) const MOST_STEPS_TO_INSTANT: usize = 48;

/// A wall met again in the same tick is the same contact while its normals lie within 25 degrees.
pub(crate) const SAME_CONTACT: f32 = 0.9;

/// Walls cross clearly where the sine of the angle between them is at least this.
pub(crate) const LEAST_ACROSS: f64 = 0.02;

/// A mover that two walls hold is set against both over at most so many units.
pub(crate) const MOST_TO_CROSSING: f64 = 1e-3;

/// Walls are searched this near to a mover that lies against them, and round parts this near to the end of a flat
/// side, in units.
pub(crate) const LIES_AGAINST: f32 = 4e-4;

/// How far a mover may turn along a round wall in one piece, in radians.
pub(crate) const MOST_TURN: f64 = 1.0 / 16.0;

/// Two ways of stepping along a round wall must agree within this, in units; the better one is far more precise.
pub(crate) const ROLL_STEP: f64 = 1e-7;

/// The most steps along a round wall in one piece.
pub(crate) const MOST_ROLL_STEPS: usize = 4096;

/// How far the normal of a round wall that moves may turn in one piece for a mover that is held to an axis, in radians.
pub(crate) const TURN_ON_AXIS: f64 = 1.0 / 128.0;

/// A round wall that moves has ended for a mover that is held to an axis if it ends within so many seconds.
pub(crate) const AT_END_OF_ROUND: f64 = 1e-7;

/// A mover that is held to an axis is set against a surface, or out of it, if its normal has at least this share along the
/// axis: it moves by at most 64 times as much as it gets away from the surface. A wall that would have to push it more than
/// 64 times as fast as the wall moves squeezes it.
pub(crate) const LEAST_SHARE: f32 = 1.0 / 64.0;

/// If a wall leaves less than this part of a motion, the motion was head-on: the rest has no meaningful direction.
pub(crate) const HEAD_ON: f32 = 1e-6;

/// Parts of a wall this close to each other are one, as a part of the path along it.
pub(crate) const JOINED: f64 = 1e-6;

/// What flies has reached a wall that is nearer than this, in units: far below what a position can show.
pub(crate) const REACHED: f64 = 1e-10;

/// The most steps in which the instant of a touch is found that is near already: each doubles the digits.
pub(crate) const MOST_STEPS_TO_TOUCH: usize = 8;

/// A touch is settled onto the surface from this near, in units: far above rounding and the touch tolerance, it only
/// guards against shapes that touch nowhere.
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

/// A wall that was left for less than this, in seconds, is the same contact.
pub(crate) const SAME_TOUCH: f32 = 1e-3;

/// A velocity that changes by less than this part of itself between two walls that are met at one instant has only been slid anew,
/// as the exact normals of the walls were found.
pub(crate) const SAME_NOW: f32 = 1e-4;

/// A mover that was led away from a wall has not left it if it comes back with less than this part of its speed into
/// it.
pub(crate) const COMES_BACK: f32 = 0.01;

/// A mover that comes to a wall with less than this part of its speed into it was in contact before.
pub(crate) const LAY_AGAINST: f32 = 1e-5;

/// A velocity leads away from a wall if its part outward is above this part of itself and of the drive's top speed.
pub(crate) const LEAVES: f32 = 1e-6;

/// The cosine of an angle so small that two normals of one wall belong to a side and to the round beside it.
pub(crate) const SAME_SIDE: f32 = 0.9999;

/// A velocity is on a line within this part of the line's length: the rounding of two closed forms.
pub(crate) const STEADY: f32 = 1e-4;

/// The most walls that are looked for beside a mover at the start of a tick: two that press, and one that is left.
pub(crate) const MOST_BESIDE: usize = 3;

/// The part of a distance that `f32` may lose.
pub(crate) const ROLL_ROUNDING: f64 = 5e-7;

/// The most steps along a round wall that are kept while a piece is searched for its end.
pub(crate) const MOST_KEPT_STEPS: usize = 24;

/// The shortest step along a round wall, in seconds, so that a bend of the equation is passed.
pub(crate) const SHORTEST_ROLL_STEP: f64 = 1e-6;

/// The most walls in contact at once; others are found again when they matter.
pub(crate) const MOST_CONSTRAINTS: usize = 8;

/// The most walls that are passed in a row in one tick without meeting one of them again.
pub(crate) const MOST_PASSED: usize = 64;

/// The same for one piece of a tick: the walls beside a path, and those of a round corner.
pub(crate) const MOST_PASSED_IN_PIECE: usize = 12;

/// With corner help, a motion that leads along the wall by at least this part of what leads into it is left alone.
pub(crate) const ASIDE: f32 = 0.5;

// Terrain and shapes.

/// The most walls at one corner: a footprint as small as a tile touches nine.
pub(crate) const MOST_AT_CORNER: usize = 16;

/// The most walls that share a round part.
pub(crate) const MOST_AT_ROUND: usize = 4;

/// A side continues a wall if its normal is within 45 degrees of the wall's.
pub(crate) const FACING: f64 = core::f64::consts::FRAC_1_SQRT_2;

/// How much earlier than necessary a displacement is looked at, as a part of it.
pub(crate) const SOONER: f64 = 1e-6;

/// The most flush pieces of different terrains that one wall continues across.
pub(crate) const MOST_IN_TURN: usize = 64;

/// The most stretches of one sweep.
pub(crate) const MOST_STRETCHES: f64 = 4096.0;

/// How far a wall is followed at once, in tiles.
pub(crate) const CONTINUES_REACH: f64 = 32.0;

/// The length of a stretch of a sweep, in tiles or in distances between obstacles.
pub(crate) const STRETCH: f32 = 8.0;

/// Room on both sides of the strip that a footprint sweeps, in units: far more than rounding.
pub(crate) const STRIP_ROOM: f32 = 0.01;

/// The same for each unit of what is added up.
pub(crate) const STRIP_ROOM_PER_UNIT: f32 = 1e-6;

/// How thick the walls around an area are, in units: far beyond any coordinate for which sweeps are exact.
pub(crate) const THICK: f32 = 1e7;

/// Angles within this of the end of an arc are at its end, in radians.
pub(crate) const ARC_END: f64 = 1e-9;

// Drives.

/// Bisections that find an instant on a curve to the last bit.
pub(crate) const HALVINGS_OF_CURVE: usize = 52;

/// The part of the target's speed within which a speed is it.
pub(crate) const ON_CURVE_TARGET: f64 = 1e-9;

/// The part of a target within which a velocity is at it: the rounding of a velocity that was turned along a wall.
pub(crate) const AT_TARGET: f64 = 1e-6;

/// The rate of a pull that responds immediately, in units/s².
pub(crate) const AT_ONCE: f32 = 1e15;

/// From this rate on a pull responds immediately, even if only a part of it counts, in units/s².
pub(crate) const ANSWERS_AT_ONCE: f64 = 1e9;

/// A grip as good as infinite where an acceleration is needed, per second.
pub(crate) const GRIPS_AT_ONCE: f32 = 1e9;

/// The most panels of an integral, besides those that grow: over some thousand turns at once the sum gets coarse.
pub(crate) const MOST_PANELS: f64 = 1024.0;

// Steps, balls, poses and ticks.

/// A normal with at least this part along the paddle's direction belongs to its face: a round end counts as face up
/// to 45 degrees.
pub(crate) const ROUND_END: f32 = core::f32::consts::FRAC_1_SQRT_2 - 1e-6;

/// How far beyond an edge a mover is placed when it leaves, in units at the origin.
pub(crate) const BEYOND_EDGE: f32 = 1e-5;

/// The most strides in one tick; the rest of a longer tick is dropped.
pub(crate) const MOST_STRIDES: usize = 4096;

/// The most instants of decisions in one tick, or the number of steppers if that is more; the rest of a longer tick
/// is dropped.
pub(crate) const MOST_INSTANTS: usize = 65_536;

/// Two components of an intent that differ by less than this part are those of a diagonal.
pub(crate) const DIAGONAL_ROUNDING: f32 = 1e-5;

/// A frame of a walk cycle that is missing by less than this part of a frame is due.
pub(crate) const FRAME_ROUNDING: f64 = 1e-6;

/// The usual hysteresis of a facing, in radians: about six degrees.
pub(crate) const USUAL_HYSTERESIS: f32 = 0.1;

/// Directions this close to a border are on it, in radians.
pub(crate) const ON_THE_BORDER: f32 = 1e-4;

/// The rounding of a tick, in ticks.
pub(crate) const TICK_ROUNDING: f64 = 1e-6;

/// The most tiles whose surfaces are compared at once.
pub(crate) const MOST_TILES_OF_SURFACE: i64 = 1024;

/// The most times that a path is halved to find a border between surfaces: to a hundred-millionth of a tick.
pub(crate) const MOST_HALVINGS_TO_BORDER: usize = 28;

/// How far beside a border its two sides are looked at, per unit of coordinate: a few steps of `f32` rounding.
pub(crate) const BESIDE_BORDER: f64 = 4e-7;

/// How far ahead a border between surfaces is looked at to find the floor that it moves with, in seconds.
pub(crate) const LOOK_AHEAD: f64 = 1e-4;

/// How long a mover on a border between two surfaces of different grip or speed is moved at once, in seconds.
pub(crate) const BORDER_STEP: f32 = 1.0 / 2048.0;

/// The most such steps in a tick.
pub(crate) const MOST_BORDER_STEPS: f32 = 512.0;

/// The most parts of a path that are looked at for a border; the rest is looked at only where parts end.
pub(crate) const MOST_LOOKS: usize = 2048;

/// How exact the end of a touch is, in seconds: a position can show no less at a thousand units from the origin, at a
/// thousand units/s.
pub(crate) const TOUCH_INSTANT: f32 = 1e-7;

/// A mover that a moving wall has pushed further than this into a wall was squeezed, in units.
pub(crate) const SQUEEZED_DEPTH: f64 = 1e-3;

/// How deep inside a wall that stands a mover is set against it, at the end of a tick in which a moving wall pushed it there,
/// as a part of its smaller side.
pub(crate) const PUSHED_INTO: f64 = 0.5;

/// The smallest width or height of a tile, in units.
pub(crate) const SMALLEST_TILE: f32 = 1e-6;

/// Bounces off moving walls that follow each other faster than this become contact, in seconds.
pub(crate) const RATTLE: f32 = 1e-4;

/// So many such bounces are allowed.
pub(crate) const MOST_RATTLES: usize = 4;

/// A ball that is nearer than this to two walls at once has no room between them, in units; or than the touch tolerance, if that is
/// larger.
pub(crate) const NO_ROOM: f64 = 1e-3;

/// A velocity has jumped at the start of a piece of a path if it was off the mean of the piece by more than this way in the time
/// of the piece, in units: some times as far as the path bows away from the piece.
pub(crate) const JUMPS: f32 = 4e-3;

/// Just before or after an instant, in seconds: far above the rounding of a time within a tick, and even a wall that gains 10,000
/// units/s² gains less than [`LEAST_BOUNCE`] in it.
pub(crate) const JUST: f64 = 1e-8;

/// A ball that is pushed has this part of the wall's speed more, so that no rounding of its way leads it into the wall.
pub(crate) const PUSHED_CLEAR: f32 = 1e-6;

/// A ball that comes to a moving wall more slowly than this does not bounce, but moves on with it, in units/s: rounding of the
/// pieces in which a wall follows a path gives it some thousandths.
pub(crate) const LEAST_BOUNCE: f32 = 1e-2;

/// A ball leaves closing walls at most so many times as fast as they are; otherwise it is squeezed.
pub(crate) const SQUEEZED_OUT: f32 = 16.0;

/// A hovering mover this close to its height has it, in touch tolerances.
pub(crate) const HOVER_LEVEL: f64 = 8.0;

/// A hovering mover looks for the ground as deep as it can sink in this time, in seconds.
pub(crate) const LOOKS_DOWN: f32 = 0.25;

/// How long a hovering mover goes on along a slope until it looks for the ground again, in seconds.
pub(crate) const HOVER_STEP: f32 = 1.0 / 1024.0;

/// The most such steps in a tick.
pub(crate) const MOST_HOVER_STEPS: usize = 2048;

/// The most halvings to find where the ground under a hovering mover changes: to a hundred-thousandth of a tick.
pub(crate) const MOST_HOVER_HALVINGS: usize = 20;

/// The part of a tick that is only rounding of the times of its pieces.
pub(crate) const TICK_IS_OVER: f32 = 4.0 * f32::EPSILON;

/// How long a mover that is squeezed moves until it is looked at again whether it can get out, in seconds.
pub(crate) const SQUEEZED_STEP: f32 = 1.0 / 8192.0;

/// The most such steps in a tick.
pub(crate) const MOST_SQUEEZED_STEPS: f32 = 512.0;

/// Just before an instant, in seconds.
pub(crate) const JUST_BEFORE: f64 = 1e-7;

/// The gap that a wall which waits leaves behind a mover, in touch tolerances.
pub(crate) const GAP_BEHIND: f64 = 4.0;

/// The shortest leg of a course, in seconds.
pub(crate) const SHORTEST_LEG: f32 = 1e-6;

/// The most legs of a course in one tick.
pub(crate) const MOST_LEGS_IN_TICK: usize = 4096;

/// By how much of its longest leg a course that loops may end beside its start: the rounding of its numbers.
pub(crate) const SAME_PLACE: f64 = 1e-6;

/// A course this close to its end has ended, in seconds: the rounding of its clock.
pub(crate) const SAME_TIME: f64 = 1e-9;

/// The most pieces of a tick whose path is asked for.
pub(crate) const MOST_PIECES_OF_PATH: usize = 16_384;

/// By how much the pieces of a path may deviate from it, in units.
pub(crate) const BOW_OF_PATH: f32 = 1e-4;

/// By how much the piece of a path in which a ball meets a wall on it may deviate from it, in units: off something round, each
/// deflection multiplies what is left.
pub(crate) const BOW_AT_HIT: f64 = 1e-7;

/// Into how many parts a piece is divided that deviates by more.
pub(crate) const PARTS_AT_HIT: f64 = 8.0;

/// The most parts of a piece of a path: it is divided twice, and each part may end just before the next one by rounding.
pub(crate) const MOST_PARTS_OF_PIECE: usize = 256;

/// The velocity of a piece of a path changes evenly if its mean is this near to half way between the two ends, in units/s.
pub(crate) const UNEVEN_PATH: f32 = 1e-3;

/// Which part of a piece of a path is looked at for a velocity that no longer changes: where one is kept for less than the rest, the
/// piece is even enough.
pub(crate) const KEPT_OF_PATH: f32 = 0.999;

/// A shorter piece of a path becomes part of the next one, in seconds.
pub(crate) const INSTANT_OF_PATH: f64 = 1e-6;

/// A piece of a path is not divided further below this, in seconds.
pub(crate) const SHORTEST_OF_PATH: f32 = 1e-5;

/// Up to so many moving walls are looked at in turn, without their cells.
pub(crate) const FEW_WALLS: usize = 8;

/// The fastest motion of a wall along an axis, in units/s.
pub(crate) const FASTEST_WALL: f32 = 1e6;

// Crowds.

/// Movers this close touch each other, in units.
pub(crate) const NEIGHBOURS_TOUCH: f64 = 1e-4;

/// Movers that meet are this close to each other, in units: some roundings of their positions.
pub(crate) const NEIGHBOURS_MEET: f64 = 4e-6;

/// Which part of what a mover of a crowd wants is a rounding, if neighbours and walls leave it no more.
pub(crate) const ROUNDING_IN_CROWD: f32 = 1e-5;

/// A neighbour that gets no further than this in a piece stands, in units.
pub(crate) const CREEPS_IN_CROWD: f32 = 1e-8;

/// How many times as far as alone a mover of a crowd is expected to get in a short time.
pub(crate) const REACH_IN_CROWD: f32 = 1.5;

/// How many pieces of a mover of a crowd are known, to be taken again.
pub(crate) const MOST_KNOWN_IN_CROWD: usize = 4;

/// How far a mover among others may be from its true path, in units.
pub(crate) const BOW_IN_CROWD: f32 = 1e-3;

/// The longest and the shortest piece in which a group of movers that touch each other moves on, in seconds.
pub(crate) const LONGEST_IN_CROWD: f32 = 1.0 / 256.0;
pub(crate) const SHORTEST_IN_CROWD: f32 = 1.0 / 4096.0;

/// Neighbours are seen to lie side against side if their normal stays the same in the first or the last such part of a piece.
pub(crate) const SIDE_SEEN: f32 = 0.05;

/// The cosine of the angle by which a normal turns at most in half a piece; a larger one leads past the end of a side.
pub(crate) const SAME_CURVE: f32 = 0.98;

/// How long the piece is in which movers that come to each other lose what leads them into each other, in seconds.
pub(crate) const TOUCH_IN_CROWD: f32 = 1e-6;

/// In a group with at most so many touches, the instant is searched at which a mover no longer presses on another, a new touch has
/// a piece of its own, and the others are half as long at most.
pub(crate) const MOST_RELEASED: usize = 2;
pub(crate) const LONGEST_AMONG_FEW: f32 = 1.0 / 512.0;

/// How exactly that instant is found, in seconds: the drive changes by 1,000 units/s per second then, and in the next second
/// that is 0.03 units.
pub(crate) const RELEASED_IN_CROWD: f32 = 1.0 / 32_768.0;

/// A neighbour whose velocity changes by less than this in a piece goes straight on, in units/s.
pub(crate) const STRAIGHT_IN_CROWD: f32 = 1e-3;

/// The square of the sine of the angle between a wall and a neighbour up to which a mover between the two does not follow the
/// neighbour along the wall: a hundredth of a radian.
pub(crate) const WEDGED_IN_CROWD: f32 = 1e-4;

/// A mover that its neighbours and walls leave less than this stands, in units/s, if that is little of what it wants, too; and one that
/// leads away from a neighbour, or presses on it, with less than this may do so by rounding.
pub(crate) const STANDS_IN_CROWD: f32 = 0.02;

/// What is little of the velocity that a mover wants: its wish is then within three degrees of straight against what is in its way.
pub(crate) const LITTLE_IN_CROWD: f64 = 0.05;

/// The most pieces of a group in one tick; the rest of the tick is one.
pub(crate) const MOST_IN_CROWD: usize = 2048;

/// The most times a piece of a group is planned again because something is met within it.
pub(crate) const MOST_PLANS: usize = 12;

/// A mover of a crowd that no longer presses on a neighbour may be let go at the end of a piece if it deviates by no more than this
/// so, in units.
pub(crate) const LATE_IN_CROWD: f32 = 1e-5;

/// Neighbours that come closer to each other by no more than this are not in conflict, in units/s; nor is a mover with a wall.
pub(crate) const NO_CONFLICT: f64 = 1e-3;

/// The deepest overlap of two movers that is only rounding, in units.
pub(crate) const OVERLAP_OF_ROUNDING: f64 = 1e-2;

/// How often a crowd is divided into groups again, because a mover got further than it could alone.
pub(crate) const MOST_DIVISIONS: usize = 6;

/// The most steps of all searches in a tick, for each piece that it may have, before the mover slides along the chord of the
/// rest. Only enormous speeds and accelerations get there: a second among round walls in one tick takes up to 22,000 of 32,768.
pub(crate) const EFFORT_OF_PIECE: usize = 32;

/// The same for a ball: walls that it has passed wholly are behind it or ignored, so only those at one place count.
pub(crate) const MOST_PASSED_BY_BALL: usize = 4;
