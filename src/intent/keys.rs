//! Held direction keys as an intent.
//!
//! Opposite keys cancel, two keys at a right angle give a diagonal of length 1, and a released key has no effect in
//! the same tick. The diagonal is a constant, not a normalisation, so all four have the same bits up to sign.

use core::f32::consts::FRAC_1_SQRT_2;

use glam::{Vec2, vec2};

use super::Intent;
use crate::direction::YAxis;

/// One of the four direction keys, as the player sees the screen.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::intent::PressOrder;
///
/// let mut keys = PressOrder::default();
/// keys.press(Direction::Left);
/// keys.press(Direction::Right);
/// assert_eq!(keys.newest(), Some(Direction::Right));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Direction {
    /// Toward smaller x.
    Left,
    /// Toward larger x.
    Right,
    /// Up the screen.
    Up,
    /// Down the screen.
    Down,
}

impl Direction {
    /// All four, in the order left, right, up, down.
    pub const ALL: [Self; 4] = [Self::Left, Self::Right, Self::Up, Self::Down];
}

/// The direction keys that are held.
///
/// ```
/// use ambulant::direction::YAxis;
/// use ambulant::intent::{Direction, HeldKeys};
/// use glam::vec2;
///
/// let mut keys = HeldKeys::NONE;
/// keys.press(Direction::Right);
/// assert_eq!(keys.intent(YAxis::Down).vector(), vec2(1.0, 0.0));
///
/// keys.press(Direction::Down);
/// assert!((keys.intent(YAxis::Down).strength() - 1.0).abs() < 1e-6);
///
/// keys.press(Direction::Left); // opposite keys cancel
/// assert_eq!(keys.intent(YAxis::Down).vector(), vec2(0.0, 1.0));
/// assert_eq!(keys.intent(YAxis::Up).vector(), vec2(0.0, -1.0));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct HeldKeys {
    /// The left key is down.
    pub left: bool,
    /// The right key is down.
    pub right: bool,
    /// The up key is down.
    pub up: bool,
    /// The down key is down.
    pub down: bool,
}

impl HeldKeys {
    /// No key is held.
    pub const NONE: Self = Self { left: false, right: false, up: false, down: false };

    /// Marks a key as held. Pressing a held key again changes nothing.
    pub const fn press(&mut self, key: Direction) {
        *self.slot(key) = true;
    }

    /// Marks a key as not held. Releasing a key that is not held changes nothing.
    pub const fn release(&mut self, key: Direction) {
        *self.slot(key) = false;
    }

    /// Whether a key is held.
    #[must_use]
    pub const fn is_held(self, key: Direction) -> bool {
        match key {
            Direction::Left => self.left,
            Direction::Right => self.right,
            Direction::Up => self.up,
            Direction::Down => self.down,
        }
    }

    /// The eight-way intent of the held keys, of length 0 or 1 (to float accuracy on a diagonal).
    #[must_use]
    pub fn intent(self, y_axis: YAxis) -> Intent {
        let across = f32::from(i8::from(self.right) - i8::from(self.left));
        let down = f32::from(i8::from(self.down) - i8::from(self.up)) * y_axis.downward();
        let length = if across != 0.0 && down != 0.0 { FRAC_1_SQRT_2 } else { 1.0 };
        // Adding zero removes the sign of a negative zero.
        Intent::from_bounded(vec2(across, down) * length + Vec2::ZERO)
    }

    const fn slot(&mut self, key: Direction) -> &mut bool {
        match key {
            Direction::Left => &mut self.left,
            Direction::Right => &mut self.right,
            Direction::Up => &mut self.up,
            Direction::Down => &mut self.down,
        }
    }
}
