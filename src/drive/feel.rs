//! Feel: figures of a drive, computed from its closed form.
//!
//! A drive gives its state at any time, so each figure is the first instant at which something is true. It is found
//! by growing strides and then bisection.

use glam::Vec2;

use super::motion::{Drive, Momentum, Motion, TAP};
use super::surface::Surface;
use crate::direction::Angle;
use crate::intent::Intent;

const PLAIN: Surface = Surface::PLAIN;
/// How far ahead figures are searched, in seconds.
const HORIZON: f32 = 60.0;
/// The first stride, in seconds, and the factor between strides.
const FIRST_STRIDE: f32 = 1e-3;
const GROWTH: f32 = 1.05;
/// Bisections of a stride: to the rounding of its end.
const HALVINGS: u32 = 24;
/// The part of the top speed that counts as reached.
const NEARLY: f32 = 0.9;

/// Figures of a drive on a plain surface for an intent of full strength in one direction. A figure is `None` if it is not reached within
/// a minute, or does not apply.
///
/// ```
/// use ambulant::drive::{Feel, Gait};
///
/// let feel = Feel::of(&Gait::new(60.0, 240.0, 480.0)?);
/// assert!((feel.seconds_to_speed.unwrap() - 0.225).abs() < 1e-4); // nine tenths of 60 at 240
/// assert!((feel.stop_distance.unwrap() - 3.75).abs() < 1e-4); // 60² / (2 · 480)
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub struct Feel {
    /// The top speed, in units/s.
    pub top_speed: Option<f32>,
    /// From rest to 90 % of the top speed, in seconds.
    pub seconds_to_speed: Option<f32>,
    /// From top speed to an exact stop without an intent, in seconds.
    pub seconds_to_stop: Option<f32>,
    /// The distance of that stop, in units.
    pub stop_distance: Option<f32>,
    /// From top speed to 90 % of it in the opposite direction, in seconds.
    pub seconds_to_turn_back: Option<f32>,
    /// The distance that a tap of 0.1 s moves in all, in units.
    pub tap_distance: Option<f32>,
    /// The diameter of the tightest circle at full strength, in units.
    pub turning_circle: Option<f32>,
}

impl Feel {
    /// Computes the figures of a drive.
    #[must_use]
    pub fn of(drive: &(impl Drive + ?Sized)) -> Self {
        let top = Some(drive.top_speed()).filter(|speed| speed.is_finite() && *speed > 0.0);
        let forward = forward(drive);
        let direction = forward.map_or(Vec2::X, Intent::vector);
        // A wheel moves forward along its heading, whatever key is pressed.
        let from = |speed: f32| Momentum::new(Vec2::X * speed, Angle::ZERO);
        let seconds_to_speed = top.zip(forward).and_then(|(top, full)| {
            first(
                |t| drive.advance(from(0.0), full, &PLAIN, t),
                |motion| motion.velocity.length() >= NEARLY * top,
            )
        });
        let stop = |speed: f32| {
            let at = |t: f32| drive.advance(from(speed), Intent::NONE, &PLAIN, t);
            first(at, |motion| motion.velocity == Vec2::ZERO)
                .map(|seconds| (seconds, at(seconds).displacement))
        };
        let stopping = top.and_then(stop);
        let back = Intent::new(-direction);
        let seconds_to_turn_back = top.and_then(|top| {
            first(|t| drive.advance(from(top), back, &PLAIN, t), |motion| motion.velocity.x <= -NEARLY * top)
        });
        let tap_distance = forward.and_then(|full| {
            let tapped = drive.advance(from(0.0), full, &PLAIN, TAP);
            stop(tapped.velocity.length()).map(|(_, rest)| tapped.displacement.length() + rest.length())
        });
        Self {
            top_speed: top,
            seconds_to_speed,
            seconds_to_stop: stopping.map(|(seconds, _)| seconds),
            stop_distance: stopping.map(|(_, distance)| distance.length()),
            seconds_to_turn_back,
            tap_distance,
            turning_circle: drive.turning_circle(),
        }
    }
}

/// The full intent that leads straight ahead from heading 0: along it, or up for a wheel.
fn forward(drive: &(impl Drive + ?Sized)) -> Option<Intent> {
    let from_rest = Momentum::default();
    [Vec2::X, Vec2::NEG_Y, Vec2::Y].into_iter().map(Intent::new).find(|intent| {
        let motion = drive.advance(from_rest, *intent, &PLAIN, TAP);
        motion.velocity.x > 0.0 && motion.velocity.y.abs() < motion.velocity.x * 1e-3
    })
}

/// The first instant at which something is true of a motion.
fn first(at: impl Fn(f32) -> Motion, is_true: impl Fn(&Motion) -> bool) -> Option<f32> {
    let (mut before, mut after) = (0.0, FIRST_STRIDE);
    while !is_true(&at(after)) {
        if after > HORIZON {
            return None;
        }
        (before, after) = (after, after * GROWTH);
    }
    for _ in 0..HALVINGS {
        let middle = 0.5 * (before + after);
        if is_true(&at(middle)) { after = middle } else { before = middle }
    }
    Some(after)
}
