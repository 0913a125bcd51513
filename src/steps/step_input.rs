//! What a stepper is asked for in one tick.

use crate::intent::Intent;

/// The input of a stepper in one tick.
///
/// An [`Intent`] alone is enough: a direction that was not held in the last tick counts as a press.
///
/// ```
/// use ambulant::prelude::*;
///
/// let right = Intent::new(vec2(1.0, 0.0));
/// let input = StepInput::from(right);
/// assert_eq!((input.held, input.tapped.is_none()), (right, true));
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct StepInput {
    /// The direction that is held now.
    pub held: Intent,
    /// The last direction that was pressed since the last tick, even if it was released again, so that a tap shorter
    /// than a tick is not lost.
    pub tapped: Intent,
}

impl From<Intent> for StepInput {
    fn from(held: Intent) -> Self {
        Self { held, tapped: Intent::NONE }
    }
}
