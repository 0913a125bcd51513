//! Which walls count for a mover, and in which part of the tick.

use glam::{DVec2, Vec2};

use super::layers::Layers;
use super::wall::Wall;

/// Which walls count: those on some layers, except for a list. It also states the part of the tick that a query is
/// about, which matters only for walls that move; by default, walls are where they are at the start of the tick.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::free_distance;
///
/// // A cart that is an obstacle to others does not stand in its own way.
/// let mut carts = World::new();
/// let own = [carts.add(Solid::box_from_corners(vec2(-1.0, -1.0), vec2(1.0, 1.0))?)];
/// carts.add(Solid::box_from_corners(vec2(4.0, -1.0), vec2(6.0, 1.0))?);
/// let others = WallFilter::ALL.except(&own);
/// assert_eq!(free_distance(&carts, &Footprint::rect(2.0, 2.0)?, Vec2::ZERO, vec2(9.0, 0.0), &others), 3.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WallFilter<'a> {
    layers: Layers,
    except: &'a [Wall],
    /// Walls that are touched already: they are not hit again, but they cover corners of others.
    touched: &'a [Wall],
    /// Whether those count.
    with_touched: bool,
    /// Two further conditions that must hold, too.
    both: Option<(&'a WallFilter<'a>, &'a WallFilter<'a>)>,
    /// When a query starts, and how long its displacement takes, in seconds.
    start: f64,
    seconds: f64,
    /// How far the mover of a query is beside its rounded position.
    residue: Vec2,
    /// For the query of a flight: by how much its displacement is further than the rounded one.
    in_flight: Option<DVec2>,
}

impl<'a> WallFilter<'a> {
    /// Every wall counts.
    pub const ALL: Self = Self {
        layers: Layers::ALL,
        except: &[],
        touched: &[],
        with_touched: false,
        both: None,
        start: 0.0,
        seconds: 0.0,
        residue: Vec2::ZERO,
        in_flight: None,
    };

    /// Walls on these layers count.
    #[must_use]
    pub const fn on(layers: Layers) -> Self {
        Self { layers, ..Self::ALL }
    }

    /// Leaves out these walls.
    #[must_use]
    pub const fn except(mut self, walls: &'a [Wall]) -> Self {
        self.except = walls;
        self
    }

    /// Sets the part of the tick that a query is about: when it starts, in seconds into the tick, and how long its
    /// displacement takes. Walls that move do so meanwhile.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let mut world = World::new();
    /// let door = world.add(Solid::box_from_corners(vec2(9.0, -5.0), vec2(11.0, 5.0))?);
    /// world.move_at(door, vec2(-4.0, 0.0));
    /// let (feet, ahead) = (Footprint::rect(2.0, 2.0)?, vec2(4.0, 0.0));
    /// // In one second, the mover and the door meet half way.
    /// let hit = world.sweep(&feet, Vec2::ZERO, ahead, &WallFilter::ALL.during(0.0, 1.0)).unwrap();
    /// assert_eq!((hit.fraction, hit.position, hit.velocity), (1.0, vec2(4.0, 0.0), vec2(-4.0, 0.0)));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub const fn during(self, start: f32, seconds: f32) -> Self {
        self.exactly_during(start as f64, seconds as f64)
    }

    /// The same from an exact instant: at 30 units/s, the rounding of an `f32` would move a wall by more than the touch
    /// tolerance.
    pub(crate) const fn exactly_during(mut self, start: f64, seconds: f64) -> Self {
        (self.start, self.seconds) = (start, seconds);
        self
    }

    /// States how far the mover of a query is beside its rounded position: at a corner, the rounding of a position would turn
    /// the normal.
    pub(crate) const fn beside_by(mut self, residue: Vec2) -> Self {
        self.residue = residue;
        self
    }

    /// For a flight, which keeps to no wall and whose displacement is so much further than the rounded one: what is as near as a
    /// touch is met when it is reached, and a wall that follows a mover is on its path, not on the straight pieces of it.
    pub(crate) const fn in_flight(mut self, further: DVec2) -> Self {
        self.in_flight = Some(further);
        self
    }

    /// Whether it is that of a flight.
    #[inline]
    pub(super) const fn is_in_flight(&self) -> bool {
        self.in_flight.is_some()
    }

    /// By how much its displacement is further than the rounded one, if it is.
    #[inline]
    pub(super) const fn further(&self) -> Option<DVec2> {
        self.in_flight
    }

    /// How far the mover is beside its rounded position.
    #[inline]
    pub(super) fn residue(&self) -> DVec2 {
        self.residue.as_dvec2()
    }

    /// The same walls in the query of another filter.
    const fn in_query_of(mut self, other: &WallFilter<'_>) -> Self {
        (self.start, self.seconds, self.residue) = (other.start, other.seconds, other.residue);
        self.in_flight = other.in_flight;
        self
    }

    /// When the query starts, in seconds into the tick. A terrain shows walls where they are then.
    #[must_use]
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    pub const fn start(&self) -> f32 {
        self.start as f32
    }

    /// The same without rounding.
    pub(crate) const fn exact_start(&self) -> f64 {
        self.start
    }

    /// How long the displacement of the query takes, in seconds.
    #[must_use]
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    pub const fn seconds(&self) -> f32 {
        self.seconds as f32
    }

    /// The same without rounding.
    pub(crate) const fn exact_seconds(&self) -> f64 {
        self.seconds
    }

    /// The same filter at one instant: after a part of the displacement, 0 to 1.
    pub(crate) fn after_part(&self, part: f64) -> Self {
        self.exactly_during(self.start + self.seconds * part, 0.0)
    }

    /// Leaves out walls that are touched already, except where they cover a corner of another one.
    pub(crate) const fn beside(mut self, touched: &'a [Wall]) -> Self {
        self.touched = touched;
        self
    }

    /// The same filter for the surface that all walls form together: touched walls count, too.
    pub(crate) const fn of_surface(mut self) -> Self {
        self.with_touched = true;
        self
    }

    /// Walls that count by both, in the part of the tick that the other one states.
    #[inline]
    #[must_use]
    pub fn and<'b>(&'b self, other: &'b WallFilter<'b>) -> WallFilter<'b> {
        if other.is_all() {
            return self.in_query_of(other);
        }
        WallFilter { both: Some((self, other)), ..WallFilter::ALL.in_query_of(other) }
    }

    /// Whether every wall counts.
    const fn is_all(&self) -> bool {
        self.layers.bits() == Layers::ALL.bits()
            && self.except.is_empty()
            && self.touched.is_empty()
            && self.both.is_none()
    }

    /// Whether a wall on these layers may count.
    #[must_use]
    pub fn layers(&self, layers: Layers) -> bool {
        let both =
            |(one, other): (&WallFilter<'_>, &WallFilter<'_>)| one.layers(layers) && other.layers(layers);
        self.layers.meets(layers) && self.both.is_none_or(both)
    }

    /// Whether a wall counts.
    #[must_use]
    pub fn wall(&self, wall: Wall, layers: Layers) -> bool {
        self.counts(wall, layers, false)
    }

    fn counts(&self, wall: Wall, layers: Layers, with_touched: bool) -> bool {
        let with_touched = with_touched || self.with_touched;
        let both = |(one, other): (&WallFilter<'_>, &WallFilter<'_>)| {
            one.counts(wall, layers, with_touched) && other.counts(wall, layers, with_touched)
        };
        self.layers.meets(layers)
            && !self.except.contains(&wall)
            && (with_touched || !self.touched.contains(&wall))
            && self.both.is_none_or(both)
    }
}

impl From<Layers> for WallFilter<'_> {
    fn from(layers: Layers) -> Self {
        Self::on(layers)
    }
}
