//! The shape that a mover covers on the ground.
//!
//! It can be smaller than the mover's picture and need not be centred on its position: the anchor says which point of
//! the box the position is, and an offset shifts the box.

use glam::{DVec2, Vec2};

use super::{Aabb, Solid};
#[cfg(feature = "serde")]
use crate::error::each_component;
use crate::error::{InvalidNumber, above_zero, finite_vector};

/// Which point of its box a mover's position is.
///
/// ```
/// use ambulant::prelude::*;
///
/// let feet = Footprint::rect(8.0, 4.0)?;
/// assert_eq!(feet.at(vec2(20.0, 20.0)).min, vec2(16.0, 18.0));
/// assert_eq!(feet.with_anchor(Anchor::TopLeft).at(vec2(20.0, 20.0)).min, vec2(20.0, 20.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Anchor {
    /// The position is the middle of the box.
    #[default]
    Center,
    /// The position is the corner with the smaller coordinates: top left where y grows downwards.
    TopLeft,
}

/// The shape of a mover: an axis-aligned box or a circle.
///
/// ```
/// use ambulant::shape::{Anchor, Footprint};
/// use glam::{Vec2, vec2};
///
/// // A picture of 16 x 24 drawn from its top left corner; only the feet touch the ground.
/// let feet = Footprint::rect(12.0, 8.0)?.with_anchor(Anchor::TopLeft).with_offset(vec2(2.0, 16.0))?;
/// assert_eq!(feet.at(Vec2::ZERO).min, vec2(2.0, 16.0));
/// assert_eq!(feet.at(Vec2::ZERO).max, vec2(14.0, 24.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
#[cfg_attr(feature = "serde", serde(into = "Given"))]
pub struct Footprint {
    given: Given,
    /// The lower and upper edges relative to the position, rounded: what every tick needs first.
    extent: [Vec2; 2],
}

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Footprint {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let given = Given::deserialize(deserializer)?;
        let fine = |given: &Given| {
            each_component("size", given.size, "a vector of finite numbers above 0 (units)", |size| {
                size.is_finite() && size > 0.0
            })?;
            finite_vector("offset", given.offset, "a vector of finite numbers (units)")
        };
        fine(&given).map_err(serde::de::Error::custom)?;
        if given.round && given.size.x != given.size.y {
            return Err(serde::de::Error::custom("size of a round footprint must be the same on both axes"));
        }
        Ok(given.into())
    }
}

/// What the footprint was made from.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
struct Given {
    /// Width and height of the box that holds it.
    size: Vec2,
    round: bool,
    anchor: Anchor,
    offset: Vec2,
}

impl From<Footprint> for Given {
    fn from(footprint: Footprint) -> Self {
        footprint.given
    }
}

impl From<Given> for Footprint {
    fn from(given: Given) -> Self {
        let (low, high) = given.edges(Vec2::ZERO);
        Self { given, extent: [low.as_vec2(), high.as_vec2()] }
    }
}

impl Given {
    /// The lower and upper edges at a position, without rounding.
    #[inline]
    fn edges(&self, position: Vec2) -> (DVec2, DVec2) {
        let size = self.size.as_dvec2();
        let start = match self.anchor {
            Anchor::Center => size * -0.5,
            Anchor::TopLeft => DVec2::ZERO,
        };
        let min = position.as_dvec2() + self.offset.as_dvec2() + start;
        (min, min + size)
    }

    /// The middle relative to the position, rounded.
    fn middle(&self) -> Vec2 {
        match self.anchor {
            Anchor::Center => self.offset,
            Anchor::TopLeft => self.offset + self.size * 0.5,
        }
    }
}

impl Footprint {
    /// A box of this width and height, in units, anchored at its middle.
    ///
    /// # Errors
    /// Both must be finite and above 0.
    pub fn rect(width: f32, height: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number above 0 (units)";
        let size = Vec2::new(above_zero("width", width, wanted)?, above_zero("height", height, wanted)?);
        Ok(Given { size, round: false, anchor: Anchor::Center, offset: Vec2::ZERO }.into())
    }

    /// A circle of this radius, in units, anchored at its middle.
    ///
    /// # Errors
    /// The radius must be finite and above 0.
    pub fn circle(radius: f32) -> Result<Self, InvalidNumber> {
        let radius = above_zero("radius", radius, "a finite number above 0 (units)")?;
        Ok(Self::point(radius))
    }

    /// A circle so small that it counts as a point.
    pub(crate) fn point(radius: f32) -> Self {
        let size = Vec2::splat(2.0 * radius);
        Given { size, round: true, anchor: Anchor::Center, offset: Vec2::ZERO }.into()
    }

    /// Sets the anchor of the box.
    #[must_use]
    pub fn with_anchor(self, anchor: Anchor) -> Self {
        Given { anchor, ..self.given }.into()
    }

    /// Shifts the box from the position, in units.
    ///
    /// # Errors
    /// Both parts must be finite.
    pub fn with_offset(self, offset: Vec2) -> Result<Self, InvalidNumber> {
        let offset = finite_vector("offset", offset, "a vector of finite numbers (units)")?;
        Ok(Given { offset, ..self.given }.into())
    }

    /// Width and height of the box that holds it, in units.
    #[must_use]
    pub const fn size(&self) -> Vec2 {
        self.given.size
    }

    /// The radius of a circle, in units; `None` for a box.
    #[must_use]
    pub const fn radius(&self) -> Option<f32> {
        if self.given.round { Some(self.given.size.x * 0.5) } else { None }
    }

    /// The bounding box at a position.
    #[must_use]
    pub fn at(&self, position: Vec2) -> Aabb {
        let (min, max) = self.edges(position);
        Aabb { min: min.as_vec2(), max: max.as_vec2() }
    }

    /// Its shape at a position, as a wall for others.
    #[must_use]
    pub fn solid_at(&self, position: Vec2) -> Solid {
        let area = self.at(position);
        match self.radius() {
            Some(radius) => Solid::Circle { center: area.center(), radius },
            None => Solid::Box { area },
        }
    }

    /// The middle of the shape at a position, without rounding.
    pub(crate) fn middle(&self, position: Vec2) -> DVec2 {
        let (min, max) = self.edges(position);
        (min + max) * 0.5
    }

    /// The same shape, wider by this much on each side.
    pub(crate) fn grown(&self, by: f32) -> Self {
        let (size, offset) = (self.given.size + Vec2::splat(2.0 * by), self.given.middle());
        Given { size, anchor: Anchor::Center, offset, ..self.given }.into()
    }

    /// The box that holds it, longer by a vector.
    pub(crate) fn stretched(&self, by: Vec2) -> Self {
        let (size, offset) = (self.given.size + by.abs(), self.given.middle() + by * 0.5);
        Given { size, round: false, anchor: Anchor::Center, offset }.into()
    }

    /// The lower and upper edges relative to the position, rounded.
    #[inline]
    pub(crate) const fn extent(&self) -> [Vec2; 2] {
        self.extent
    }

    /// The lower and upper edges at a position, without rounding.
    pub(crate) fn edges(&self, position: Vec2) -> (DVec2, DVec2) {
        self.given.edges(position)
    }
}
