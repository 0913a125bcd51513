//! An axis-aligned box, as plain geometry.
//!
//! One edge rule: a box contains its lower edges and not its upper ones, and boxes that only touch do not overlap.

use glam::Vec2;

/// An axis-aligned box between two corners, in world units.
///
/// ```
/// use ambulant::prelude::*;
///
/// let bed = Aabb::from_corners(vec2(6.0, 1.0), vec2(2.0, 3.0));
/// assert_eq!((bed.size(), bed.center()), (vec2(4.0, 2.0), vec2(4.0, 2.0)));
/// assert!(!bed.overlaps(&Aabb::from_corners(vec2(6.0, 0.0), vec2(9.0, 9.0)))); // they only touch
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Aabb {
    /// The corner with the smaller coordinates.
    pub min: Vec2,
    /// The corner with the larger coordinates.
    pub max: Vec2,
}

impl Aabb {
    /// The box that has these two points as opposite corners, in any order.
    #[must_use]
    pub fn from_corners(a: Vec2, b: Vec2) -> Self {
        Self { min: a.min(b), max: a.max(b) }
    }

    /// Width and height.
    #[must_use]
    pub fn size(&self) -> Vec2 {
        self.max - self.min
    }

    /// The middle.
    #[must_use]
    pub fn center(&self) -> Vec2 {
        (self.min + self.max) * 0.5
    }

    /// Whether a point lies inside; the lower edges count, the upper ones do not.
    ///
    /// ```
    /// use ambulant::shape::Aabb;
    /// use glam::vec2;
    ///
    /// let bed = Aabb::from_corners(vec2(0.0, 0.0), vec2(2.0, 1.0));
    /// assert!(bed.contains(vec2(0.0, 0.5)));
    /// assert!(!bed.contains(vec2(2.0, 0.5)));
    /// ```
    #[must_use]
    pub fn contains(&self, point: Vec2) -> bool {
        point.cmpge(self.min).all() && point.cmplt(self.max).all()
    }

    /// The area with a margin for the rounding of its corners.
    pub(crate) fn grown_by_rounding(&self) -> Self {
        let margin = self.min.abs().max(self.max.abs()) * (4.0 * f32::EPSILON);
        Self { min: self.min - margin, max: self.max + margin }
    }

    /// The area that it passes on a displacement.
    pub(crate) fn swept(&self, displacement: Vec2) -> Self {
        let (low, high) = (displacement.min(Vec2::ZERO), displacement.max(Vec2::ZERO));
        Self { min: self.min + low, max: self.max + high }
    }

    /// The box around both.
    #[inline]
    pub(crate) fn joined(&self, other: &Self) -> Self {
        Self { min: self.min.min(other.min), max: self.max.max(other.max) }
    }

    /// Whether another box lies within it; one that touches its sides from inside does.
    #[inline]
    pub(crate) fn surrounds(&self, other: &Self) -> bool {
        self.min.cmple(other.min).all() && self.max.cmpge(other.max).all()
    }

    /// Whether two boxes share an area; boxes that only touch do not.
    #[must_use]
    pub fn overlaps(&self, other: &Self) -> bool {
        self.min.cmplt(other.max).all() && other.min.cmplt(self.max).all()
    }
}
