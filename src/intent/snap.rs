//! Snapping to four or eight directions without flicker.
//!
//! Each direction covers the angles nearest to it. A direction is kept until the intent leaves its sector by more
//! than the hysteresis, so a stick held near a border does not flicker.

use core::f32::consts::{FRAC_1_SQRT_2, FRAC_PI_4, TAU};

use glam::{Vec2, vec2};

use super::Intent;
use crate::direction::Angle;
use crate::error::InvalidNumber;
use crate::saved::restored;
use crate::tolerance::ANGLE_ROUNDING;

/// The eight directions from +x toward +y; every other one is straight.
const DIRECTIONS: [Vec2; 8] = [
    vec2(1.0, 0.0),
    vec2(FRAC_1_SQRT_2, FRAC_1_SQRT_2),
    vec2(0.0, 1.0),
    vec2(-FRAC_1_SQRT_2, FRAC_1_SQRT_2),
    vec2(-1.0, 0.0),
    vec2(-FRAC_1_SQRT_2, -FRAC_1_SQRT_2),
    vec2(0.0, -1.0),
    vec2(FRAC_1_SQRT_2, -FRAC_1_SQRT_2),
];

/// How many directions there are.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::intent::{DirectionSnap, Directions};
///
/// let stick = Intent::new(vec2(0.6, 0.5));
/// let snapped = |directions| DirectionSnap::new(directions, 0.1).unwrap().snap(stick).vector();
/// assert_eq!(snapped(Directions::Four).y, 0.0);
/// assert_eq!(snapped(Directions::Eight).x, snapped(Directions::Eight).y);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Directions {
    /// Left, right, up and down.
    Four,
    /// These and the diagonals.
    Eight,
}

impl Directions {
    /// Half of the sector of one direction, in radians.
    const fn half_sector(self) -> f32 {
        match self {
            Self::Four => FRAC_PI_4,
            Self::Eight => FRAC_PI_4 * 0.5,
        }
    }

    /// The distance between neighbours among the eight.
    const fn stride(self) -> usize {
        match self {
            Self::Four => 2,
            Self::Eight => 1,
        }
    }
}

/// Snaps intents to directions and remembers the last one.
///
/// Exactly on a border, the last direction is kept; without one, the sideways of two straight directions is taken,
/// and a straight one before a diagonal.
///
/// ```
/// use ambulant::intent::{DirectionSnap, Intent, Directions};
/// use glam::vec2;
///
/// let mut snap = DirectionSnap::new(Directions::Four, 0.1)?;
/// assert_eq!(snap.snap(Intent::new(vec2(0.7, 0.7))).vector().y, 0.0); // a diagonal: sideways
/// assert_eq!(snap.snap(Intent::new(vec2(0.68, 0.72))).vector().y, 0.0); // still
/// assert_eq!(snap.snap(Intent::new(vec2(0.3, 0.9))).vector().x, 0.0); // now down
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct DirectionSnap {
    ways: Directions,
    hysteresis: f32,
    last: Option<usize>,
}

restored!(DirectionSnap { ways: Directions, hysteresis: f32, last: Option<usize> } as saved => {
    let is_known = |last: usize| last < DIRECTIONS.len() && last % saved.ways.stride() == 0;
    ensure(saved.last.is_none_or(is_known), "last must be one of the directions")?;
    Ok(DirectionSnap { last: saved.last, ..DirectionSnap::new(saved.ways, saved.hysteresis)? })
});

impl DirectionSnap {
    /// Snaps to these directions; a direction is left when the intent is this many radians past its border.
    ///
    /// # Errors
    /// The hysteresis must be at least 0 and below half of a sector: π/4 for four ways, π/8 for
    /// eight.
    pub fn new(ways: Directions, hysteresis: f32) -> Result<Self, InvalidNumber> {
        if !(0.0..ways.half_sector()).contains(&hysteresis) {
            let wanted = "at least 0 and below half of a sector (radians)";
            return Err(InvalidNumber::new("hysteresis", hysteresis, wanted));
        }
        Ok(Self { ways, hysteresis, last: None })
    }

    /// The intent in its snapped direction, at the same strength. No intent gives none and clears the last direction.
    pub fn snap(&mut self, intent: Intent) -> Intent {
        let Some(angle) = Angle::of(intent.vector()) else {
            self.last = None;
            return Intent::NONE;
        };
        let off = |place: usize| angle.turn_to(angle_of(place)).abs();
        let kept =
            self.last.filter(|last| off(*last) <= self.ways.half_sector() + self.hysteresis + ANGLE_ROUNDING);
        let place = kept.unwrap_or_else(|| self.nearest(off));
        self.last = Some(place);
        Intent::new(DIRECTIONS[place] * intent.strength().min(1.0))
    }

    /// The nearest direction; within rounding of a border, the first one.
    fn nearest(&self, off: impl Fn(usize) -> f32) -> usize {
        let sideways_then_upright_then_slanted = [0, 4, 2, 6, 1, 3, 5, 7];
        let known =
            sideways_then_upright_then_slanted.into_iter().filter(|place| place % self.ways.stride() == 0);
        known.fold(0, |best, place| if off(place) < off(best) - ANGLE_ROUNDING { place } else { best })
    }
}

fn angle_of(place: usize) -> Angle {
    let eighths = f32::from(u8::try_from(place).unwrap_or_default());
    Angle::from_radians(eighths * TAU / 8.0)
}
