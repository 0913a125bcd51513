//! A walker while a tick is played: on one surface, with its drive behind a pointer, so that this code is compiled
//! once for all drives and terrains.

use glam::{DVec2, Vec2};

use super::along_walls::AlongWalls;
use super::state::Walker;
use crate::contact::Tolerance;
use crate::direction::{Angle, Axis};
use crate::drive::{Drive, Momentum, Motion, Response, Surface};
use crate::exact::{along, length};
use crate::intent::Intent;
use crate::place::Place;
use crate::rounding::Rounding;
use crate::shape::Footprint;
use crate::terrain::{Hit, Terrain, WallFilter};
use crate::tolerance::LEAVES;
use crate::travel::Constraint;

/// A walker while a tick is played.
#[derive(Clone, Copy)]
pub(super) struct Mover<'a> {
    pub(super) position: Vec2,
    pub(super) velocity: Vec2,
    pub(super) heading: Angle,
    pub(super) footprint: &'a Footprint,
    pub(super) along_walls: AlongWalls,
    /// What rounding leaves of the position.
    pub(super) residue: Vec2,
    /// What rounding leaves of the velocity.
    pub(super) velocity_rounding: Rounding,
    pub(super) drive: DriveOn<'a>,
    /// Whether the terrain has surfaces at all.
    pub(super) has_surfaces: bool,
    /// Whether some wall may move.
    pub(super) has_moving_walls: bool,
    /// When it is there, in seconds into the tick.
    pub(super) now: f64,
}

/// A drive on a surface.
#[derive(Clone, Copy)]
pub(super) struct DriveOn<'a> {
    drive: &'a dyn Drive,
    surface: Surface,
    /// The velocity that the surface adds, as seen from the frame.
    ground: Vec2,
    /// The velocity of a wall that takes the mover along, or zero.
    carrier: Vec2,
    /// What this adds to that of the mover.
    carried: Vec2,
    /// The velocity of the frame from which motions are seen: that of a wall that moves and is touched, or zero.
    frame: Vec2,
    steers: bool,
    pushes: bool,
    axis: Option<Axis>,
    top_speed: f32,
}

impl<'a> DriveOn<'a> {
    fn new(drive: &'a impl Drive, surface: Surface) -> Self {
        Self {
            drive,
            surface,
            ground: drive.belt_of(&surface),
            carrier: Vec2::ZERO,
            carried: Vec2::ZERO,
            frame: Vec2::ZERO,
            steers: drive.steers(),
            pushes: drive.pushes(),
            axis: drive.axis(),
            top_speed: drive.top_speed(),
        }
    }

    /// The same drive on another surface.
    pub(super) fn on(&self, surface: Surface) -> Self {
        Self { surface, ..*self }.with_ground()
    }

    /// The same drive seen from another frame.
    pub(super) fn seen_from(&self, frame: Vec2) -> Self {
        Self { frame, ..*self }.with_ground()
    }

    /// The same drive on a wall with a velocity that takes the mover along by a share of it.
    pub(super) fn carried_at(&self, carrier: Vec2, share: f32) -> Self {
        let carried = self.axis.map_or(carrier, |axis| axis.only(carrier)) * share;
        Self { carrier, carried, ..*self }.with_ground()
    }

    /// The velocity of the wall that takes the mover along, or zero, in units/s.
    pub(super) const fn carrier(&self) -> Vec2 {
        self.carrier
    }

    /// What the wall that takes the mover along adds to its velocity, in units/s.
    pub(super) const fn carried(&self) -> Vec2 {
        self.carried
    }

    /// The velocity that the surface alone adds, in units/s.
    pub(super) fn belt(&self) -> Vec2 {
        self.drive.belt_of(&self.surface)
    }

    fn with_ground(self) -> Self {
        Self { ground: self.belt() + self.added(), ..self }
    }

    /// What the wall that takes the mover along and the frame add to its velocity.
    fn added(&self) -> Vec2 {
        self.carried - self.frame
    }

    /// The velocity of the frame, in units/s.
    pub(super) const fn frame(&self) -> Vec2 {
        self.frame
    }

    /// A motion of some seconds in the world, as seen from the frame.
    #[inline]
    fn seen(&self, motion: Motion, dt: f32) -> Motion {
        let added = self.added();
        if added == Vec2::ZERO {
            return motion;
        }
        motion.with_displacement(motion.exact_displacement() + added.as_dvec2() * f64::from(dt))
    }

    pub(super) const fn surface(&self) -> Surface {
        self.surface
    }

    pub(super) fn advance(&self, from: Momentum, intent: Intent, dt: f32) -> Motion {
        self.seen(self.drive.advance(from, intent, &self.surface, dt), dt)
    }

    pub(super) fn momentum_after(&self, from: Momentum, intent: Intent, dt: f32) -> Momentum {
        self.drive.momentum_after(from, intent, &self.surface, dt)
    }

    pub(super) fn response(&self, intent: Intent) -> Option<Response> {
        self.drive.response(intent, &self.surface)
    }

    pub(super) fn acceleration_of(&self, from: Momentum, intent: Intent) -> Vec2 {
        self.drive.acceleration_of(from, intent, &self.surface)
    }

    pub(super) fn advance_along(&self, from: Momentum, intent: Intent, normal: Vec2, dt: f32) -> Motion {
        let motion = self.drive.advance_along(from, intent, &self.surface, normal, dt);
        let added = self.added();
        if added == Vec2::ZERO {
            return motion;
        }
        let more = along(added, normal).as_dvec2() * f64::from(dt);
        motion.with_displacement(motion.exact_displacement() + more)
    }

    /// The velocity that the surface adds, as seen from the frame, in units/s.
    pub(super) const fn ground(&self) -> Vec2 {
        self.ground
    }

    pub(super) const fn steers(&self) -> bool {
        self.steers
    }

    pub(super) const fn pushes(&self) -> bool {
        self.pushes
    }

    pub(super) fn heeded(&self, intent: Intent) -> Intent {
        self.drive.heeded(intent)
    }

    pub(super) const fn axis(&self) -> Option<Axis> {
        self.axis
    }

    pub(super) const fn top_speed(&self) -> f32 {
        self.top_speed
    }
}

impl<'a> Mover<'a> {
    /// A walker on a surface, or where there is none.
    pub(super) fn of<D: Drive>(walker: &'a Walker<D>, surface: Option<Surface>) -> Self {
        let &Walker { velocity, heading, ref footprint, along_walls, velocity_rounding, .. } = walker;
        let Place { position, residue } = walker.place();
        let drive = DriveOn::new(&walker.drive, surface.unwrap_or_default());
        Self {
            position,
            velocity,
            heading,
            footprint,
            along_walls,
            residue,
            velocity_rounding,
            drive,
            has_surfaces: surface.is_some(),
            has_moving_walls: false,
            now: 0.0,
        }
    }

    /// All walls, where they are now.
    #[inline]
    pub(super) const fn walls_now(&self) -> WallFilter<'static> {
        WallFilter::ALL.exactly_during(self.now, 0.0)
    }

    /// All walls, in the next seconds.
    #[inline]
    pub(super) const fn walls_for(&self, seconds: f32) -> WallFilter<'static> {
        WallFilter::ALL.exactly_during(self.now, seconds as f64)
    }

    /// Velocity and heading together.
    pub(super) const fn momentum(&self) -> Momentum {
        Momentum { velocity: self.velocity, heading: self.heading, rounding: self.velocity_rounding }
    }

    /// Goes on with this velocity and heading.
    pub(super) const fn set_momentum(&mut self, momentum: Momentum) {
        Momentum { velocity: self.velocity, heading: self.heading, rounding: self.velocity_rounding } =
            momentum;
    }

    /// Position and residue together.
    pub(super) const fn place(&self) -> Place {
        Place { position: self.position, residue: self.residue }
    }

    /// Sets it against a surface, if it may be set so and is not set into another wall.
    pub(super) fn settle(&mut self, (normal, surface): (Vec2, DVec2), terrain: &dyn Terrain) {
        let (footprint, walls) = (self.footprint, self.walls_now());
        let Some(surface) = self.surface_on_axis((normal, surface)) else { return };
        self.moved(|place| place.settle(surface, terrain, footprint, &walls));
    }

    pub(super) fn moved(&mut self, change: impl FnOnce(&mut Place)) {
        let mut place = self.place();
        change(&mut place);
        (self.position, self.residue) = (place.position, place.residue);
    }

    /// Whether a velocity leads away from a wall by more than the rounding of a velocity along it, or of a faster one
    /// that it comes from.
    pub(super) fn leaves(&self, normal: Vec2, velocity: Vec2) -> bool {
        velocity.dot(normal) > LEAVES * (length(velocity) + self.own_scale())
    }

    /// The same for a wall that moves: both velocities are seen from the frame, and what they have in common is rounded, too.
    pub(super) fn leaves_moving(&self, normal: Vec2, velocity: Vec2, of_wall: Vec2) -> bool {
        let past = velocity - of_wall;
        past.dot(normal) > LEAVES * (length(past) + length(of_wall) + self.own_scale())
    }

    /// Whether a speed against a wall is what rounding leaves.
    pub(super) fn is_rounding(&self, hit: &Hit, speed: f32) -> bool {
        speed.abs() <= LEAVES * (length(hit.velocity) + self.own_scale())
    }

    /// The speed that the drive may come from, in units/s.
    fn own_scale(&self) -> f32 {
        let top_speed = self.drive.top_speed();
        if top_speed.is_finite() { top_speed } else { 0.0 }
    }

    /// The velocity of a wall, as seen from the frame.
    #[inline]
    pub(super) fn seen(&self, velocity: Vec2) -> Vec2 {
        velocity - self.drive.frame()
    }

    /// Whether a velocity leads away from a wall in contact.
    pub(super) fn leaves_wall(&self, wall: &Constraint, velocity: Vec2) -> bool {
        self.leaves_moving(wall.normal, velocity, self.seen(wall.velocity))
    }

    /// The distance to a surface that a sweep of so many seconds has hit, at its start: 0 in contact. A sweep calls
    /// everything touched that is within the rounding of the position; the exact position is known better.
    pub(super) fn gap(&self, hit: &Hit, seconds: f32) -> f32 {
        let velocity = self.seen(hit.velocity);
        let (normal, mut surface) = hit.surface();
        if velocity != Vec2::ZERO {
            surface -= velocity.as_dvec2() * (f64::from(seconds) * hit.exact.at);
        }
        let gap = -self.place().depth(normal, surface);
        let touch = Tolerance::near(surface);
        #[expect(clippy::cast_possible_truncation, reason = "a distance within a tick, rounded once")]
        let gap = gap as f32;
        if touch.is_contact(f64::from(gap)) { 0.0 } else { gap }
    }
}
