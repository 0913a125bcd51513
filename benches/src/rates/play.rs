//! One run of a scene at one tick rate.

use ambulant::drive::AnyDrive;
use ambulant::prelude::*;
use ambulant::terrain::{Terrain, Wall};

use super::scene::{SECONDS, Scene};

/// A contact that began in a run.
#[derive(Debug, Clone, Copy)]
pub struct Met {
    /// When, in seconds from the start.
    pub at: f64,
    /// What was met.
    pub wall: Wall,
    /// The normal there.
    pub normal: Vec2,
    /// How fast the mover came in along the normal, in units/s.
    pub inward: f32,
    /// How fast it went along the wall just before, in units/s.
    pub along: f32,
}

/// How a run went.
#[derive(Debug, Clone, Default)]
pub struct Run {
    /// Where the mover ended.
    pub end: Vec2,
    /// Where the mover was after each tick that ends on a whole second.
    pub seconds: Vec<Vec2>,
    /// The contacts that began, in order of time.
    pub met: Vec<Met>,
    /// When a moving wall squeezed the mover, or it was moved out of one.
    pub squeezed: Vec<f64>,
}

/// Plays a scene at so many ticks per second; a tick is divided where the keys change and on whole seconds.
#[must_use]
pub fn play(scene: &Scene, rate: u32) -> Run {
    play_nudged(scene, rate, Nudge { at: f64::INFINITY, by: Vec2::ZERO })
}

/// By how much a mover is nudged, and at which second.
#[derive(Debug, Clone, Copy)]
pub(super) struct Nudge {
    pub(super) at: f64,
    pub(super) by: Vec2,
}

/// The same with the mover nudged once.
pub(super) fn play_nudged(scene: &Scene, rate: u32, nudge: Nudge) -> Run {
    let mut walls = scene.walls.clone();
    let mut walker = Walker::new(scene.start, scene.footprint, scene.drive);
    let mut moving = scene.moving.clone();
    let mut run = Run::default();
    let mut is_nudged = false;
    let (mut now, mut tick, mut key) = (0.0f64, 0u32, 0);
    while now < SECONDS - 1e-9 {
        while scene.keys.get(key + 1).is_some_and(|(from, _)| *from <= now + 1e-9) {
            key += 1;
        }
        let intent = scene.keys[key].1;
        let mut until = f64::from(tick + 1) / f64::from(rate);
        if until <= now + 1e-9 {
            tick += 1;
            continue;
        }
        for (from, _) in scene.keys.iter().filter(|(from, _)| *from > now + 1e-9) {
            until = until.min(*from);
        }
        until = until.min((now + 1e-9).floor() + 1.0);
        #[expect(
            clippy::cast_possible_truncation,
            reason = "a tick, rounded once; the clock counts what was played"
        )]
        let dt = (until - now) as f32;
        for (wall, course) in &mut moving {
            assert!(walls.1.move_in(*wall, course.pieces(dt)), "it is a wall of the world");
            course.advance(dt);
        }
        tick_once(&mut walker, intent, dt, &(&walls, scene.surface), now, &mut run);
        walls.1.advance(dt);
        // Once, after the first tick that ends later: the clock counts rounded ticks, and can be past the instant already.
        if !is_nudged && nudge.at < until {
            walker.position += nudge.by;
            is_nudged = true;
        }
        now += f64::from(dt);
        if (now - (run.seconds.len() + 1) as f64).abs() < 1e-6 {
            run.seconds.push(walker.position);
        }
    }
    run.end = walker.position;
    run
}

fn tick_once(
    walker: &mut Walker<AnyDrive>,
    intent: Intent,
    dt: f32,
    walls: &impl Terrain,
    now: f64,
    run: &mut Run,
) {
    let result = walker.tick(intent, dt, walls);
    run.squeezed.extend(result.squeezed.map(|squeeze| now + f64::from(squeeze.seconds)));
    if result.moved_out != Vec2::ZERO {
        run.squeezed.push(now);
    }
    for contact in result.contacts.iter() {
        let inward = -contact.velocity_before.dot(contact.normal);
        let fresh = contact.seconds > 0.0 && inward > 0.0;
        if fresh {
            run.met.push(Met {
                at: now + f64::from(contact.seconds),
                wall: contact.wall,
                normal: contact.normal,
                inward,
                along: contact.velocity_before.perp_dot(contact.normal).abs(),
            });
        }
    }
}
