//! The input and output of every drive.

use alloc::boxed::Box;

use glam::{DVec2, Vec2};

use super::forward::forwarded;
use super::response::Response;
use super::surface::Surface;
use crate::direction::{Angle, Axis};
use crate::exact::{along, unit};
use crate::intent::Intent;
use crate::rounding::Rounding;
use crate::time::seconds;

/// What a mover keeps from one tick to the next: velocity, and a heading for drives that steer.
///
/// ```
/// use ambulant::prelude::*;
///
/// let from = Momentum::from(vec2(0.0, 5.0));
/// assert_eq!((from.velocity, from.heading.degrees()), (vec2(0.0, 5.0), 90.0));
/// let coasts = Gait::new(9.0, 10.0, 10.0)?.advance(from, Intent::NONE, &Surface::PLAIN, 0.1);
/// assert_eq!(coasts.momentum().velocity, vec2(0.0, 4.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Momentum {
    /// Units per second.
    pub velocity: Vec2,
    /// The direction in which the mover points. Drives that do not steer leave it alone.
    pub heading: Angle,
    /// The rounding error of the velocity. Without it, a thousand ticks would drift from one.
    pub(crate) rounding: Rounding,
}

impl Momentum {
    /// A velocity (units/s) and a heading.
    #[must_use]
    pub const fn new(velocity: Vec2, heading: Angle) -> Self {
        Self { velocity, heading, rounding: Rounding::NONE }
    }

    /// The same from a velocity that is known exactly.
    #[must_use]
    pub fn exact(velocity: DVec2, heading: Angle) -> Self {
        let (velocity, rounding) = Rounding::split(velocity);
        Self { velocity, heading, rounding }
    }

    /// The velocity without its rounding, in units/s: what a drive should start from.
    #[inline]
    #[must_use]
    pub fn exact_velocity(&self) -> DVec2 {
        self.rounding.exact(self.velocity)
    }

    /// The same with another velocity that is known exactly.
    pub(crate) fn with_velocity(&self, velocity: DVec2) -> Self {
        Self::exact(velocity, self.heading)
    }
}

impl From<Vec2> for Momentum {
    /// A velocity with the heading along it, or toward +x for zero.
    fn from(velocity: Vec2) -> Self {
        Self::new(velocity, Angle::of(velocity).unwrap_or_default())
    }
}

/// What a drive returns for one tick.
///
/// ```
/// use ambulant::prelude::*;
///
/// let right = Intent::new(vec2(1.0, 0.0));
/// let motion = Pace::new(8.0)?.advance(Momentum::default(), right, &Surface::PLAIN, 0.5);
/// assert_eq!((motion.displacement, motion.velocity), (vec2(4.0, 0.0), vec2(8.0, 0.0)));
/// let belt = Surface::PLAIN.with_belt(vec2(0.0, 2.0))?;
/// assert_eq!(motion.carried(&belt, 0.5).displacement, vec2(4.0, 1.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[must_use]
pub struct Motion {
    /// The displacement of this tick, in units.
    pub displacement: Vec2,
    /// Velocity at the end of the tick, in units per second.
    pub velocity: Vec2,
    /// Heading at the end of the tick.
    pub heading: Angle,
    /// The rounding error of the velocity.
    pub(crate) rounding: Rounding,
    /// The rounding error of the displacement.
    pub(crate) missed: Rounding,
}

impl Motion {
    /// A displacement (units), and the velocity (units/s) and the heading at its end.
    pub const fn new(displacement: Vec2, velocity: Vec2, heading: Angle) -> Self {
        Self { displacement, velocity, heading, rounding: Rounding::NONE, missed: Rounding::NONE }
    }

    /// The same from what is known exactly: a drive whose motion is small in each tick should return it so, or a thousand
    /// ticks end elsewhere than one.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::drive::Motion;
    /// use glam::dvec2;
    ///
    /// let third = Motion::exact(dvec2(0.1, 0.0), dvec2(1.0 / 3.0, 0.0), Angle::ZERO);
    /// assert_eq!((third.displacement.x, third.velocity.x), (0.1, 1.0 / 3.0));
    /// assert!((third.exact_displacement().x - 0.1).abs() < 1e-15);
    /// assert!((third.momentum().exact_velocity().x - 1.0 / 3.0).abs() < 1e-15);
    /// ```
    #[inline]
    pub fn exact(displacement: DVec2, velocity: DVec2, heading: Angle) -> Self {
        let (velocity, rounding) = Rounding::split(velocity);
        let (displacement, missed) = Rounding::split(displacement);
        Self { displacement, velocity, heading, rounding, missed }
    }

    /// The displacement without rounding, on each axis on which it has not been changed.
    #[inline]
    #[must_use]
    pub fn exact_displacement(&self) -> DVec2 {
        self.missed.exact(self.displacement)
    }

    /// The same with another displacement.
    #[inline]
    pub(crate) fn with_displacement(self, displacement: DVec2) -> Self {
        let (displacement, missed) = Rounding::split(displacement);
        Self { displacement, missed, ..self }
    }

    /// The start of the next tick.
    #[must_use]
    pub const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading, rounding: self.rounding }
    }

    /// The same motion on a surface that moves, for `dt` seconds.
    #[inline]
    pub fn carried(self, on: &Surface, dt: f32) -> Self {
        if on.belt() == Vec2::ZERO {
            return self;
        }
        self.with_displacement(self.exact_displacement() + on.belt().as_dvec2() * f64::from(seconds(dt)))
    }
}

/// A rule by which velocity follows intent.
///
/// Every method takes the surface that the mover is on: [`Surface::PLAIN`] if there is none. For a drive of your own,
/// implement [`advance`](Self::advance) and [`top_speed`](Self::top_speed). One that changes a velocity by a little in
/// each tick starts from [`Momentum::exact_velocity`] and returns [`Motion::exact`], so that a thousand ticks do not
/// drift from one. A drive that wraps another one returns that one from [`inner`](Self::inner), so that its properties
/// stay the same.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::drive::Motion;
///
/// /// Moves ahead at a constant speed, whatever is asked for.
/// struct Clockwork(f32);
///
/// impl Drive for Clockwork {
///     fn advance(&self, from: Momentum, _: Intent, on: &Surface, dt: f32) -> Motion {
///         let velocity = from.heading.vector() * self.0 * on.speed_factor();
///         Motion::new(velocity * dt, velocity, from.heading).carried(on, dt)
///     }
///
///     fn top_speed(&self) -> f32 {
///         self.0
///     }
/// }
///
/// let drives: [Box<dyn Drive>; 2] = [Box::new(Clockwork(3.0)), Box::new(Pace::new(2.0)?)];
/// let right = Intent::new(vec2(1.0, 0.0));
/// let ways = drives.map(|drive| drive.advance(Momentum::default(), right, &Surface::PLAIN, 1.0).displacement.x);
/// assert_eq!(ways, [3.0, 2.0]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
pub trait Drive {
    /// Advances by `dt` seconds under one intent; the displacement includes that of the surface.
    ///
    /// A `dt` that is zero, negative or not finite moves nothing. Never panics.
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion;

    /// The speed at full strength on a plain surface, in units/s; infinite if nothing limits it.
    fn top_speed(&self) -> f32 {
        self.inner().map_or(f32::INFINITY, |inner| inner.top_speed())
    }

    /// What [`advance`](Self::advance) leaves for the next tick, without the displacement: for some drives that is
    /// much cheaper.
    #[must_use]
    fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
        self.advance(from, intent, on, dt).momentum()
    }

    /// What one intent does to a velocity, as plain numbers, so that walls and curves can be solved exactly. `None`
    /// for drives that steer and for drives that no such numbers describe.
    fn response(&self, intent: Intent, on: &Surface) -> Option<Response> {
        let _ = (intent, on);
        None
    }

    /// The acceleration under an intent at one instant, without walls, in units/s²; very large if the velocity
    /// responds immediately.
    ///
    /// ```
    /// use ambulant::prelude::*;
    ///
    /// let gait = Gait::new(60.0, 240.0, 480.0)?;
    /// let up = Intent::new(vec2(0.0, -1.0));
    /// assert_eq!(gait.acceleration_of(Momentum::default(), up, &Surface::PLAIN), vec2(0.0, -240.0));
    /// let moving = Momentum::from(vec2(60.0, 0.0));
    /// assert_eq!(gait.acceleration_of(moving, Intent::NONE, &Surface::PLAIN), vec2(-480.0, 0.0));
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    fn acceleration_of(&self, from: Momentum, intent: Intent, on: &Surface) -> Vec2 {
        if let Some(response) = self.response(intent, on) {
            return response.acceleration(from.velocity);
        }
        (self.momentum_after(from, intent, on, INSTANT).velocity - from.velocity) / INSTANT
    }

    /// Advances by `dt` seconds along a wall with this unit normal that holds the mover; only the velocity along the
    /// wall counts.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::drive::Falling;
    ///
    /// // Down a slope of 3 in 4, without friction: the pull counts with the sine of the slope.
    /// let falling = Falling::new(Gait::new(9.0, 1e-3, 1e-3)?, vec2(0.0, 100.0), 500.0)?;
    /// let slope = vec2(0.6, -0.8);
    /// let motion = falling.advance_along(Momentum::default(), Intent::NONE, &Surface::PLAIN, slope, 1.0);
    /// assert!(motion.velocity.distance(vec2(0.8, 0.6) * 60.0) < 0.01);
    /// assert!(motion.displacement.distance(vec2(0.8, 0.6) * 30.0) < 0.01);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    fn advance_along(&self, from: Momentum, intent: Intent, on: &Surface, normal: Vec2, dt: f32) -> Motion {
        let carried = along(self.belt_of(on), normal).as_dvec2() * f64::from(seconds(dt));
        if let Some(response) = self.response(intent, on) {
            // A normal in `f32` has a length of 1 up to rounding, which adds up.
            let normal = unit(normal.as_dvec2());
            let tangent = normal.perp();
            let speed = from.exact_velocity().dot(tangent);
            let (distance, speed) = response.run_along(normal, speed, f64::from(seconds(dt)));
            return Motion::exact(tangent * distance + carried, tangent * speed, from.heading);
        }
        let asked = along(intent.vector(), normal);
        let wish =
            if asked == Vec2::ZERO && !intent.is_none() { Intent::BLOCKED } else { Intent::new(asked) };
        let from = Momentum { velocity: along(from.velocity, normal), ..from };
        let motion = self.advance(from, wish, &on.moving(Vec2::ZERO), dt);
        let way = along(motion.displacement, normal).as_dvec2() + carried;
        Motion { velocity: along(motion.velocity, normal), ..motion.with_displacement(way) }
    }

    /// The drive that this one wraps, if any: the methods below are passed on to it.
    fn inner(&self) -> Option<&dyn Drive> {
        None
    }

    /// What a surface's velocity adds to the mover's, in units/s: on one axis, only the part along it.
    fn belt_of(&self, on: &Surface) -> Vec2 {
        self.axis().map_or(on.belt(), |axis| axis.only(on.belt()))
    }

    /// Whether the intent steers a heading instead of a velocity: then a wall removes nothing from the intent, only
    /// from the motion.
    fn steers(&self) -> bool {
        self.inner().is_some_and(|inner| inner.steers())
    }

    /// Whether it pushes without an intent, like a pull or a thrust along a heading: then what the drive does decides
    /// whether it presses on a wall, not the intent.
    fn pushes(&self) -> bool {
        self.inner().map_or_else(|| self.steers(), |inner| inner.pushes())
    }

    /// The part of an intent that changes the motion: all of it, unless the drive takes no intent in some direction.
    fn heeded(&self, intent: Intent) -> Intent {
        self.inner().map_or(intent, |inner| inner.heeded(intent))
    }

    /// The axis that the drive is held to, if any: then a wall that is not parallel to it stops the mover.
    fn axis(&self) -> Option<Axis> {
        self.inner().and_then(|inner| inner.axis())
    }

    /// The diameter of the circle at full strength and full turn, in units; `None` for drives that do not steer or
    /// whose speed is not limited.
    fn turning_circle(&self) -> Option<f32> {
        self.inner().and_then(|inner| inner.turning_circle())
    }
}

/// A drive behind a reference.
impl<D: Drive + ?Sized> Drive for &D {
    forwarded!(|this| **this);
}

/// A drive behind a pointer, so that walkers with different drives fit into one list.
///
/// ```
/// use ambulant::prelude::*;
///
/// let feet = Footprint::circle(1.0)?;
/// let drives: [Box<dyn Drive>; 2] = [Box::new(Pace::new(3.0)?), Box::new(Gait::new(2.0, 1.0, 1.0)?)];
/// let mut movers = drives.map(|drive| Walker::new(Vec2::ZERO, feet, drive));
/// for mover in &mut movers {
///     let _ = mover.tick(Intent::new(vec2(1.0, 0.0)), 1.0, &World::new());
/// }
/// assert_eq!(movers.map(|mover| mover.position.x), [3.0, 0.5]);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
impl<D: Drive + ?Sized> Drive for Box<D> {
    forwarded!(|this| **this);
}

/// The time over which the acceleration of a drive without a [`Response`] is measured, in seconds.
const INSTANT: f32 = 1.0 / 4096.0;

/// The tap of a key in figures and warnings, in seconds.
pub(super) const TAP: f32 = 0.1;
