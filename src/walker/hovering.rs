//! Hovering in continuous time: a tick is divided wherever the height over the ground changes otherwise than the mover
//! sinks or rises. So a lamp has a velocity, meets walls and comes to rest like any mover.

use glam::Vec2;

use super::later::Later;
use super::path::Path;
use super::state::Walker;
use crate::arcade::Hover;
use crate::direction::Axis;
use crate::drive::{Drive, Momentum, Motion, Response, Surface};
use crate::intent::Intent;
use crate::terrain::{Terrain, WallFilter};
use crate::tolerance::{HOVER_LEVEL, HOVER_STEP, MOST_HOVER_HALVINGS, MOST_HOVER_STEPS};
use crate::touch_tolerance;
use crate::travel::{Contact, MoveResult};

/// A drive that moves across a direction, and along it at a constant speed.
struct Climb<'a> {
    drive: &'a dyn Drive,
    down: Vec2,
    /// In units/s, below 0 upwards.
    speed: f32,
}

impl Climb<'_> {
    fn across(&self, vector: Vec2) -> Vec2 {
        vector - self.down * vector.dot(self.down)
    }

    /// The same momentum with a speed downwards.
    fn climbing(&self, momentum: Momentum, speed: f32) -> Momentum {
        let (velocity, down) = (momentum.exact_velocity(), self.down.as_dvec2());
        momentum.with_velocity(velocity + down * (f64::from(speed) - velocity.dot(down)))
    }

    /// What its drive does with the rest: its momentum, its intent and its surface.
    fn level(&self, from: Momentum, intent: Intent, on: &Surface) -> (Momentum, Intent, Surface) {
        let from = self.climbing(from, 0.0);
        (from, self.heeded(intent), on.moving(self.across(on.belt())))
    }
}

impl Drive for Climb<'_> {
    fn advance(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Motion {
        let (from, intent, on) = self.level(from, intent, on);
        let motion = self.drive.advance(from, intent, &on, dt);
        let (way, down) = (motion.exact_displacement(), self.down.as_dvec2());
        let displacement = way + down * (f64::from(self.speed) * f64::from(dt) - way.dot(down));
        let then = self.climbing(motion.momentum(), self.speed);
        Motion::exact(displacement, then.exact_velocity(), then.heading)
    }

    fn momentum_after(&self, from: Momentum, intent: Intent, on: &Surface, dt: f32) -> Momentum {
        let (from, intent, on) = self.level(from, intent, on);
        let level = self.drive.momentum_after(from, intent, &on, dt);
        self.climbing(level, self.speed)
    }

    fn top_speed(&self) -> f32 {
        self.drive.top_speed().max(self.speed.abs())
    }

    fn response(&self, _: Intent, _: &Surface) -> Option<Response> {
        None
    }

    fn inner(&self) -> Option<&dyn Drive> {
        Some(self.drive)
    }

    fn pushes(&self) -> bool {
        true
    }

    fn heeded(&self, intent: Intent) -> Intent {
        self.drive.heeded(Intent::new(self.across(intent.vector())))
    }

    fn axis(&self) -> Option<Axis> {
        None
    }

    fn belt_of(&self, on: &Surface) -> Vec2 {
        self.across(self.drive.belt_of(on))
    }
}

/// What a hovering mover needs to know in a tick.
struct Over<'a> {
    hover: Hover,
    intent: Intent,
    down: Vec2,
    terrain: &'a dyn Terrain,
}

impl<D: Drive> Walker<D> {
    /// A tick of a mover that hovers.
    #[inline(never)]
    pub(super) fn tick_hovering(
        &mut self,
        hover: Hover,
        (intent, dt): (Intent, f32),
        terrain: &dyn Terrain,
        mut path: Option<&mut Path>,
        on_contact: &mut dyn FnMut(&Contact),
    ) -> MoveResult {
        let down = Vec2::Y * terrain.y_axis().downward();
        let over = Over { hover, intent, down, terrain };
        let mut result = MoveResult::free(self.position, self.velocity, dt);
        let (mut now, mut remaining, mut is_short) = (0.0f32, dt, false);
        for step in 0.. {
            let (speed, lasts) = self.next_climb(&over, now, remaining, is_short);
            is_short = lasts <= HOVER_STEP;
            // Out of steps: the rest at once.
            let lasts = if step < MOST_HOVER_STEPS { lasts } else { remaining };
            let part = self.climb(&over, speed, now, lasts, path.as_deref_mut());
            for contact in part.contacts.iter() {
                on_contact(&Contact { seconds: contact.seconds + now, ..*contact });
            }
            result.go_on_with(part, now);
            (now, remaining) = (now + lasts, remaining - lasts);
            if remaining <= dt * f32::EPSILON {
                break;
            }
        }
        if let Some(path) = path {
            path.end_at(dt, self.exact_position());
        }
        result
    }

    /// Moves on for a while at a speed downwards.
    fn climb(
        &mut self,
        over: &Over<'_>,
        speed: f32,
        now: f32,
        lasts: f32,
        path: Option<&mut Path>,
    ) -> MoveResult {
        let drive = Climb { drive: &self.drive, down: over.down, speed };
        let mut walker = self.with_drive(drive);
        walker.hover = None;
        let later = Later { terrain: over.terrain, by: f64::from(now) };
        let result = match path {
            None => walker.tick(over.intent, lasts, &later),
            Some(path) => walker.tick_on_path(over.intent, lasts, &later, path, f64::from(now)),
        };
        let (place, momentum) = (walker.place(), walker.momentum());
        self.put(place);
        self.set_momentum(momentum);
        result
    }

    /// How fast to sink, and for how long that is right: until the height is reached, or until the ground changes.
    /// `was_short` is whether it changed at once the last time, too.
    fn next_climb(&self, over: &Over<'_>, now: f32, remaining: f32, was_short: bool) -> (f32, f32) {
        let wanted = self.sink(over, now);
        let furthest = self.position.abs().max_element() + self.footprint.size().max_element();
        #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
        let level = (HOVER_LEVEL * touch_tolerance(f64::from(furthest))) as f32;
        let speed = match wanted {
            _ if wanted > level => over.hover.fall(),
            _ if wanted < -level => -over.hover.rise(),
            _ => 0.0,
        };
        let mut lasts = if speed == 0.0 { remaining } else { remaining.min(wanted / speed) };
        // Nothing narrower than half of it is passed at once.
        let aside = 0.5 * self.footprint.size().x / (self.drive.top_speed() + self.velocity.length());
        if aside > 0.0 {
            lasts = lasts.min(aside);
        }
        let as_expected = |lasts: f32| {
            let mut walker = self.with_drive(&self.drive);
            let _ = walker.climb(over, speed, now, lasts, None);
            let sunk = (walker.position - self.position).dot(over.down);
            let left = walker.sink(over, now + lasts);
            let (apart, is_deep) = (left - (wanted - sunk), wanted >= over.hover.deepest() - level);
            // Where no ground was seen, there may be some after all that is deeper.
            apart >= -4.0 * level && (is_deep || apart <= 4.0 * level)
        };
        if as_expected(lasts) {
            return (speed, lasts);
        }
        let (mut before, mut after) = (0.0, lasts);
        for _ in 0..MOST_HOVER_HALVINGS {
            let middle = 0.5 * (before + after);
            if as_expected(middle) { before = middle } else { after = middle }
        }
        let step = remaining.min(HOVER_STEP);
        if after >= step || !was_short {
            return (speed, after);
        }
        // Along a slope the ground changes all the time: in short steps, as fast as it rises or falls.
        let mut walker = self.with_drive(&self.drive);
        let _ = walker.climb(over, 0.0, now, step, None);
        let wanted = walker.sink(over, now + step);
        ((wanted / step).clamp(-over.hover.rise(), over.hover.fall()), step)
    }

    /// How far it wants to sink after so many seconds of the tick, in units; below 0 to rise.
    fn sink(&self, over: &Over<'_>, now: f32) -> f32 {
        let own_wall = self.own_wall;
        let filter = WallFilter::on(self.mask).except(own_wall.as_slice()).during(now, 0.0);
        over.hover.sink(over.terrain, &self.footprint, self.position, over.down, &filter)
    }
}
