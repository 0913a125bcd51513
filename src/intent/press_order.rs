//! Held direction keys in the order in which they were pressed.
//!
//! Needed for four-way movement (the newest held key wins; after its release, the one before) and for the rule that
//! the newer of two opposite keys wins.

use super::{Direction, HeldKeys, Intent};
use crate::direction::YAxis;
use crate::saved::restored;

/// What two opposite keys do while both are held.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::intent::{Opposites, PressOrder};
///
/// let mut keys = PressOrder::default();
/// keys.press(Direction::Left);
/// keys.press(Direction::Right);
/// assert!(keys.eight_way(Opposites::Cancel, YAxis::Down).is_none());
/// assert_eq!(keys.eight_way(Opposites::Newest, YAxis::Down).vector(), vec2(1.0, 0.0));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Opposites {
    /// They cancel.
    #[default]
    Cancel,
    /// The newer one wins.
    Newest,
}

/// The direction keys that are held, oldest first.
///
/// ```
/// use ambulant::direction::YAxis;
/// use ambulant::intent::{Direction, Opposites, PressOrder};
/// use glam::vec2;
///
/// let mut keys = PressOrder::default();
/// keys.press(Direction::Right);
/// keys.press(Direction::Down);
/// assert_eq!(keys.four_way(YAxis::Down).vector(), vec2(0.0, 1.0)); // the newest wins
/// keys.release(Direction::Down);
/// assert_eq!(keys.four_way(YAxis::Down).vector(), vec2(1.0, 0.0)); // back to the one still held
///
/// keys.press(Direction::Left);
/// assert_eq!(keys.eight_way(Opposites::Newest, YAxis::Down).vector(), vec2(-1.0, 0.0));
/// assert!(keys.eight_way(Opposites::Cancel, YAxis::Down).is_none());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct PressOrder {
    held: [Option<Direction>; 4],
}

restored!(PressOrder { held: [Option<Direction>; 4] } as saved => {
    let mut order = PressOrder::default();
    saved.held.into_iter().flatten().for_each(|key| order.press(key));
    ensure(order.held == saved.held, "held must name each key once, without gaps")?;
    Ok(order)
});

impl PressOrder {
    /// Notes a key press; pressing a held key again does not make it newer.
    pub fn press(&mut self, key: Direction) {
        if self.held.contains(&Some(key)) {
            return;
        }
        if let Some(free) = self.held.iter_mut().find(|slot| slot.is_none()) {
            *free = Some(key);
        }
    }

    /// Notes a key release.
    pub fn release(&mut self, key: Direction) {
        let kept = self.held.into_iter().flatten().filter(|held| *held != key);
        let mut order = [None; 4];
        order.iter_mut().zip(kept).for_each(|(slot, held)| *slot = Some(held));
        self.held = order;
    }

    /// Takes over a plain set of held keys: new keys count as just pressed, in the order left, right, up, down.
    pub fn set_held(&mut self, now: HeldKeys) {
        for key in Direction::ALL {
            if now.is_held(key) { self.press(key) } else { self.release(key) }
        }
    }

    /// The held keys as a plain set.
    #[must_use]
    pub fn held(&self) -> HeldKeys {
        let mut keys = HeldKeys::NONE;
        self.held.into_iter().flatten().for_each(|key| keys.press(key));
        keys
    }

    /// The held key that was pressed last.
    #[must_use]
    pub fn newest(&self) -> Option<Direction> {
        self.held.into_iter().flatten().last()
    }

    /// The intent of the newest held key alone.
    #[must_use]
    pub fn four_way(&self, y_axis: YAxis) -> Intent {
        self.newest().map_or(Intent::NONE, |key| only(key).intent(y_axis))
    }

    /// The intent of all held keys, diagonals at length 1.
    #[must_use]
    pub fn eight_way(&self, opposites: Opposites, y_axis: YAxis) -> Intent {
        let mut keys = self.held();
        if opposites == Opposites::Newest {
            for pair in [[Direction::Left, Direction::Right], [Direction::Up, Direction::Down]] {
                let mut of_pair = self.held.into_iter().flatten().filter(|key| pair.contains(key));
                if let (Some(older), Some(_)) = (of_pair.next(), of_pair.next()) {
                    keys.release(older);
                }
            }
        }
        keys.intent(y_axis)
    }
}

fn only(key: Direction) -> HeldKeys {
    let mut keys = HeldKeys::NONE;
    keys.press(key);
    keys
}
