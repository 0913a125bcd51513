//! What held keys mean.

use super::press_order::{Opposites, PressOrder};
use super::snap::Directions;
use super::wish::Intent;
use crate::direction::YAxis;
use crate::error::{InvalidNumber, finite};
use crate::saved::restored;

/// What held keys mean: four or eight directions, what opposite keys do, and by how much the view is rotated.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::intent::{Directions, KeyLayout, Opposites, PressOrder};
///
/// let mut keys = PressOrder::default();
/// keys.press(Direction::Left);
/// keys.press(Direction::Up);
/// let four = KeyLayout::new(Directions::Four, YAxis::Down);
/// assert_eq!(four.intent(&keys).vector(), vec2(0.0, -1.0)); // the newest key alone
///
/// // Seen from the side, "up" on the screen is +x in the world.
/// let turned = four.with_view_rotation(std::f32::consts::FRAC_PI_2)?;
/// assert!(turned.intent(&keys).vector().distance(vec2(1.0, 0.0)) < 1e-6);
///
/// keys.press(Direction::Right);
/// let eight = KeyLayout::new(Directions::Eight, YAxis::Down);
/// assert_eq!(eight.intent(&keys).vector(), vec2(0.0, -1.0)); // left and right cancel
/// let newest = eight.with_opposites(Opposites::Newest);
/// assert!(newest.intent(&keys).vector().x > 0.7);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct KeyLayout {
    directions: Directions,
    opposites: Opposites,
    view_rotation: f32,
    y_axis: YAxis,
}

restored!(
    KeyLayout { directions: Directions, opposites: Opposites, view_rotation: f32, y_axis: YAxis } as saved => {
        let layout = KeyLayout::new(saved.directions, saved.y_axis).with_opposites(saved.opposites);
        Ok(layout.with_view_rotation(saved.view_rotation)?)
    }
);

impl KeyLayout {
    /// So many directions; opposite keys cancel, and the view is not rotated. `y_axis` says where "up" is.
    #[must_use]
    pub const fn new(directions: Directions, y_axis: YAxis) -> Self {
        Self { directions, opposites: Opposites::Cancel, view_rotation: 0.0, y_axis }
    }

    /// Sets what two opposite keys do while both are held; with four directions, the newest key wins anyway.
    #[must_use]
    pub const fn with_opposites(mut self, opposites: Opposites) -> Self {
        self.opposites = opposites;
        self
    }

    /// Sets by how many radians the view is rotated, from +x toward +y, so that "up" stays up on the screen.
    ///
    /// # Errors
    /// The angle must be finite.
    pub fn with_view_rotation(mut self, radians: f32) -> Result<Self, InvalidNumber> {
        self.view_rotation = finite("radians", radians, "a finite number (radians)")?;
        Ok(self)
    }

    /// By how many radians the view is rotated.
    #[must_use]
    pub const fn view_rotation(&self) -> f32 {
        self.view_rotation
    }

    /// The intent of held keys.
    #[must_use]
    pub fn intent(&self, held: &PressOrder) -> Intent {
        let intent = match self.directions {
            Directions::Four => held.four_way(self.y_axis),
            Directions::Eight => held.eight_way(self.opposites, self.y_axis),
        };
        if self.view_rotation == 0.0 { intent } else { intent.turned(self.view_rotation) }
    }
}
