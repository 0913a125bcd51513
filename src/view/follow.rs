//! A view that follows a target.
//!
//! Outside of the dead area, the distance halves in each half-life: `d(t) = d(0) 2^(-t / h)`. It is solved for the
//! time of a frame, so the frame rate does not matter.

use glam::Vec2;

use super::View;
use crate::error::{InvalidNumber, at_least_zero, each_component};
use crate::saved::restored;
use crate::shape::Aabb;
use crate::time::seconds;

/// How a view follows a target.
///
/// ```
/// use ambulant::shape::Aabb;
/// use ambulant::view::{Follow, View};
/// use glam::{Vec2, vec2};
///
/// let mut view = View::new(vec2(320.0, 180.0), 1.0)?.at(vec2(200.0, 100.0));
/// let map = Aabb::from_corners(Vec2::ZERO, vec2(1000.0, 200.0));
/// // The mover may go 20 units from the middle; then half of what is more is made up every 0.1 s.
/// let follow = Follow::new(vec2(20.0, 20.0), 0.1)?;
/// view.center = follow.tick(&view, vec2(260.0, 100.0), Some(map), 0.1);
/// assert_eq!(view.center, vec2(220.0, 100.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Follow {
    dead: Vec2,
    half_life: f32,
}

restored!(Follow { dead: Vec2, half_life: f32 } as saved => Ok(Follow::new(saved.dead, saved.half_life)?));

impl Follow {
    /// Follows a target that leaves the middle by more than half the size of the dead area, in units. Half of the
    /// distance is made in each half-life, in seconds; all of it at once if the half-life is 0.
    ///
    /// # Errors
    /// Both parts and the half-life must be finite and at least 0.
    pub fn new(dead: Vec2, half_life: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a vector of finite numbers of at least 0 (units)";
        let dead = each_component("dead", dead, wanted, |part| part.is_finite() && part >= 0.0)?;
        let half_life = at_least_zero("half_life", half_life, "a finite number of at least 0 (seconds)")?;
        Ok(Self { dead, half_life })
    }

    /// The centre of a view after following a position for `dt` seconds. It is kept so that the view shows nothing
    /// outside the limits; if the limits are smaller than the view, they are centred.
    #[must_use]
    pub fn tick(&self, view: &View, place: Vec2, limits: Option<Aabb>, dt: f32) -> Vec2 {
        let off = place - view.center;
        let out = off - off.clamp(-self.dead, self.dead);
        let part = if self.half_life > 0.0 { 1.0 - libm::exp2f(-seconds(dt) / self.half_life) } else { 1.0 };
        let center = view.center + out * part;
        let Some(limits) = limits else { return center };
        let shown = view.shows();
        let (below, above) = (view.center - shown.min, shown.max - view.center);
        let (low, high) = (limits.min + below, limits.max - above);
        Vec2::select(low.cmple(high), center.max(low).min(high), limits.center())
    }
}
