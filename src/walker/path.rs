//! The path of a mover in one tick: straight pieces with times, for walls that move with a mover.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use crate::terrain::WallMotion;
use crate::tolerance::{INSTANT_OF_PATH, JUMPS};

/// A straight piece of a path.
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct PathPiece {
    /// When it starts, in seconds into the tick.
    pub start: f32,
    /// When it ends, in seconds into the tick.
    pub end: f32,
    /// The position at its start.
    pub from: Vec2,
    /// The position at its end.
    pub to: Vec2,
    /// The mean velocity over the ground, in units/s.
    pub velocity: Vec2,
}

/// Where a mover was in one tick: filled by [`Walker::tick_with_path`](super::Walker::tick_with_path).
///
/// The pieces are straight and follow each other without a gap. They deviate from the true path by at most a ten-thousandth
/// of a unit; there is one more wherever something changes, and where a velocity comes to one that it keeps. Keep the value
/// for the next tick: then no memory is allocated again.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::walker::Path;
///
/// let post = Solid::box_from_corners(vec2(8.0, -4.0), vec2(9.0, 4.0))?;
/// let mut world = World::new();
/// world.add(post);
/// let mut gardener = Walker::new(Vec2::ZERO, Footprint::rect(2.0, 2.0)?, Pace::new(10.0)?);
/// let mut path = Path::default();
/// let _ = gardener.tick_with_path(Intent::new(vec2(1.0, 0.0)), 1.0, &world, &mut path);
/// let ways: Vec<(f32, f32)> = path.pieces().iter().map(|piece| (piece.end, piece.velocity.x)).collect();
/// assert_eq!(ways, [(0.7, 10.0), (1.0, 0.0)]); // up to the post, then on the spot
/// assert_eq!(path.at(0.35), vec2(3.5, 0.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Path {
    start: DVec2,
    /// The velocity of the mover before it, in units/s.
    velocity: Vec2,
    /// When the part of the tick started that is added now, in seconds.
    since: f64,
    pieces: Vec<PathPiece>,
    /// Where each piece ends.
    ends: Vec<PieceEnd>,
}

/// Where a piece ends, without rounding.
#[derive(Debug, Clone, Copy, PartialEq)]
struct PieceEnd {
    /// In seconds into the tick.
    time: f64,
    place: DVec2,
    /// By how much the velocity is off its mean at the start and at the end of the piece, in units/s.
    off_mean: [Vec2; 2],
}

impl Path {
    /// The pieces, in order of time.
    #[must_use]
    pub fn pieces(&self) -> &[PathPiece] {
        &self.pieces
    }

    /// The position at the start of the tick.
    #[must_use]
    pub fn start(&self) -> Vec2 {
        self.start.as_vec2()
    }

    /// How far its start is beside its rounded position.
    pub(super) fn beside_start(&self) -> DVec2 {
        self.start - self.start.as_vec2().as_dvec2()
    }

    /// The position at the end of the tick.
    #[must_use]
    pub fn end(&self) -> Vec2 {
        self.ends.last().map_or(self.start, |end| end.place).as_vec2()
    }

    /// The position after so many seconds of the tick; that at its end for more, that at its start for less.
    #[must_use]
    pub fn at(&self, seconds: f32) -> Vec2 {
        let (time, mut before) = (f64::from(seconds), (0.0, self.start));
        for end in &self.ends {
            if time < end.time {
                let part = ((time - before.0) / (end.time - before.0)).max(0.0);
                return (before.1 + (end.place - before.1) * part).as_vec2();
            }
            before = (end.time, end.place);
        }
        before.1.as_vec2()
    }

    /// The same as motions of a wall that moves along. What one of them misses by rounding, the next one makes up for.
    #[expect(clippy::cast_possible_truncation, reason = "motions of a wall, each rounded once")]
    pub(crate) fn motions(&self) -> impl Iterator<Item = WallMotion> + '_ {
        let (mut time, mut moved) = (0.0f64, DVec2::ZERO);
        self.ends.iter().filter_map(move |end| {
            let lasts = (end.time - time) as f32;
            if lasts <= 0.0 {
                return None;
            }
            let velocity = ((end.place - self.start - moved) / f64::from(lasts)).as_vec2();
            moved += velocity.as_dvec2() * f64::from(lasts);
            time += f64::from(lasts);
            Some(WallMotion::new(velocity, lasts).off_mean(end.off_mean))
        })
    }

    /// No pieces, from a place that is reached with a velocity.
    pub(crate) fn begin(&mut self, start: DVec2, velocity: Vec2) {
        self.pieces.clear();
        self.ends.clear();
        (self.start, self.velocity, self.since) = (start, velocity, 0.0);
    }

    /// From now on, times count from so many seconds into the tick.
    pub(super) fn count_from(&mut self, since: f64) {
        self.since = since;
    }

    /// Ends it with the tick, after `dt` seconds: its last piece ends then, up to rounding, and at that instant a mover may
    /// still be set against a wall.
    pub(crate) fn end_at(&mut self, dt: f32, place: DVec2) {
        if let (Some(end), Some(piece)) = (self.ends.last_mut(), self.pieces.last_mut()) {
            (end.time, end.place) = (f64::from(dt), place);
            (piece.end, piece.to) = (dt, place.as_vec2());
        } else if place != self.start {
            // A tick that is shorter than a piece is one: a wall that moves along must not fall behind.
            let (from, to) = (self.start.as_vec2(), place.as_vec2());
            let velocity = ((place - self.start) / f64::from(dt)).as_vec2();
            self.pieces.push(PathPiece { start: 0.0, end: dt, from, to, velocity });
            self.ends.push(PieceEnd { time: f64::from(dt), place, off_mean: [Vec2::ZERO; 2] });
        }
    }

    /// Adds a piece that ends at a place after so many seconds, with this velocity over the ground if that is known.
    #[expect(clippy::cast_possible_truncation, reason = "times within a tick, rounded once")]
    pub(crate) fn add(&mut self, time: f64, place: DVec2, velocity_then: Option<Vec2>) {
        let time = self.since + time;
        let (since, from) = self.ends.last().map_or((0.0, self.start), |end| (end.time, end.place));
        if time - since < INSTANT_OF_PATH {
            // At one instant a mover is set against a wall, which is part of the next piece.
            return;
        }
        let velocity = ((place - from) / (time - since)).as_vec2();
        let (start, end) = (since as f32, time as f32);
        let before = self.pieces.last().zip(self.ends.last());
        let before = before.map_or(self.velocity, |(piece, end)| piece.velocity + end.off_mean[1]);
        let off_mean = match self.pieces.last_mut().filter(|last| last.velocity == velocity) {
            Some(last) => {
                (last.end, last.to) = (end, place.as_vec2());
                self.ends.pop();
                [Vec2::ZERO; 2]
            }
            None => {
                let (from, to) = (from.as_vec2(), place.as_vec2());
                self.pieces.push(PathPiece { start, end, from, to, velocity });
                velocity_then.map_or([Vec2::ZERO; 2], |then| off_mean(velocity, then, before, end - start))
            }
        };
        self.ends.push(PieceEnd { time, place, off_mean });
    }
}

/// By how much a velocity is off its mean at the start and at the end of a piece of some seconds: `before` is the velocity just
/// before it. A piece is short enough for a velocity that changes evenly; where a drive reaches its target on the way, it starts
/// as fast as it was before. Where the mean is off both, the mover was set elsewhere, which is no velocity.
fn off_mean(mean: Vec2, then: Vec2, before: Vec2, seconds: f32) -> [Vec2; 2] {
    let (start, end) = (before - mean, then - mean);
    let jumps = |off: Vec2| off.length() * seconds > JUMPS;
    [if jumps(start) && !jumps(end) { -end } else { start }, end]
}
