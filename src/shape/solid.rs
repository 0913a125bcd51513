//! The shapes of free-standing walls.

use glam::Vec2;

use super::{Aabb, Polygon};
#[cfg(feature = "serde")]
use crate::error::each_component;
use crate::error::{InvalidNumber, above_zero, finite_vector};

/// The shape of a free-standing wall, in world units.
///
/// ```
/// use ambulant::prelude::*;
///
/// let post = Solid::circle(vec2(4.0, 4.0), 1.5)?;
/// assert_eq!(post.bounds(), Aabb::from_corners(vec2(2.5, 2.5), vec2(5.5, 5.5)));
/// assert!(matches!(post, Solid::Circle { radius, .. } if radius == 1.5));
/// assert!(Solid::segment(vec2(1.0, 1.0), vec2(1.0, 1.0)).is_err()); // it has no length
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
#[non_exhaustive]
pub enum Solid {
    /// An axis-aligned box; made by [`Solid::box_from_corners`] or [`Solid::from_area`].
    #[non_exhaustive]
    Box {
        /// Where it lies.
        area: Aabb,
    },
    /// A circle; made by [`Solid::circle`].
    #[non_exhaustive]
    Circle {
        /// Its middle.
        center: Vec2,
        /// Its radius.
        radius: f32,
    },
    /// A straight line between two points, without thickness; made by [`Solid::segment`].
    #[non_exhaustive]
    Segment {
        /// One end.
        from: Vec2,
        /// The other end.
        to: Vec2,
    },
    /// A convex polygon.
    Polygon(Polygon),
}

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for Solid {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        #[derive(serde::Deserialize)]
        #[serde(rename = "Solid")]
        enum Saved {
            Box { area: Aabb },
            Circle { center: Vec2, radius: f32 },
            Segment { from: Vec2, to: Vec2 },
            Polygon(Polygon),
        }
        let checked = |saved| match saved {
            Saved::Box { area: Aabb { min, max } } => {
                finite_vector("min", min, PLACE)?;
                finite_vector("max", max, "a vector of finite numbers, not below `min` (units)")?;
                let wanted = "at least `min` (units)";
                // One that was moved far away may have lost its width to rounding.
                each_component("max", max - min, wanted, |size| size >= 0.0)?;
                Ok(Self::Box { area: Aabb { min, max } })
            }
            Saved::Circle { center, radius } => Self::circle(center, radius),
            Saved::Segment { from, to } => {
                finite_vector("from", from, PLACE)?;
                finite_vector("to", to, PLACE)?;
                Ok(Self::Segment { from, to })
            }
            Saved::Polygon(polygon) => Ok(polygon.into()),
        };
        let checked: Result<Self, InvalidNumber> = checked(Saved::deserialize(deserializer)?);
        checked.map_err(serde::de::Error::custom)
    }
}

const PLACE: &str = "a vector of finite numbers (units)";

impl Solid {
    /// A box between two opposite corners.
    ///
    /// # Errors
    /// Both must be finite, and the box must have a width and a height.
    pub fn box_from_corners(a: Vec2, b: Vec2) -> Result<Self, InvalidNumber> {
        for corner in [a, b] {
            finite_vector("corner", corner, PLACE)?;
        }
        let area = Aabb::from_corners(a, b);
        above_zero("width", area.size().x, "a finite number above 0 (units)")?;
        above_zero("height", area.size().y, "a finite number above 0 (units)")?;
        Ok(Self::Box { area })
    }

    /// The box that covers an area, such as that of a paddle.
    ///
    /// # Errors
    /// It must be finite, and have a width and a height.
    pub fn from_area(area: Aabb) -> Result<Self, InvalidNumber> {
        Self::box_from_corners(area.min, area.max)
    }

    /// A box from its middle, width and height.
    ///
    /// ```
    /// use ambulant::shape::Solid;
    /// use glam::vec2;
    ///
    /// let bed = Solid::box_around(vec2(6.0, 4.0), vec2(4.0, 2.0))?;
    /// assert_eq!(bed, Solid::box_from_corners(vec2(4.0, 3.0), vec2(8.0, 5.0))?);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    ///
    /// # Errors
    /// The middle must be finite, width and height finite and above 0.
    pub fn box_around(center: Vec2, size: Vec2) -> Result<Self, InvalidNumber> {
        let half = Vec2::new(
            above_zero("width", size.x, "a finite number above 0 (units)")?,
            above_zero("height", size.y, "a finite number above 0 (units)")?,
        ) * 0.5;
        Self::box_from_corners(center - half, center + half)
    }

    /// A circle.
    ///
    /// # Errors
    /// The middle must be finite, the radius finite and above 0.
    pub fn circle(center: Vec2, radius: f32) -> Result<Self, InvalidNumber> {
        finite_vector("center", center, PLACE)?;
        Ok(Self::Circle { center, radius: above_zero("radius", radius, "a finite number above 0 (units)")? })
    }

    /// A segment between two points.
    ///
    /// # Errors
    /// Both must be finite and apart from each other.
    pub fn segment(from: Vec2, to: Vec2) -> Result<Self, InvalidNumber> {
        for end in [from, to] {
            finite_vector("end", end, PLACE)?;
        }
        above_zero("length", from.distance(to), "a finite number above 0 (units)")?;
        Ok(Self::Segment { from, to })
    }

    /// The shape moved by a vector, in units. It stays where it is if the vector is not finite, or leads too far away for
    /// numbers.
    ///
    /// ```
    /// use ambulant::shape::Solid;
    /// use glam::vec2;
    ///
    /// let cart = Solid::circle(vec2(1.0, 2.0), 0.5)?;
    /// assert_eq!(cart.moved(vec2(3.0, 0.0)), Solid::circle(vec2(4.0, 2.0), 0.5)?);
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub fn moved(&self, by: Vec2) -> Self {
        let Aabb { min, max } = self.bounds();
        if !(min + by).is_finite() || !(max + by).is_finite() {
            return *self;
        }
        match *self {
            Self::Box { area } => Self::Box { area: Aabb { min: area.min + by, max: area.max + by } },
            Self::Circle { center, radius } => Self::Circle { center: center + by, radius },
            Self::Segment { from, to } => Self::Segment { from: from + by, to: to + by },
            Self::Polygon(polygon) => Self::Polygon(polygon.moved(by)),
        }
    }

    /// The smallest box that holds it.
    #[must_use]
    pub fn bounds(&self) -> Aabb {
        match self {
            Self::Box { area } => *area,
            Self::Circle { center, radius } => Aabb { min: center - radius, max: center + radius },
            Self::Segment { from, to } => Aabb::from_corners(*from, *to),
            Self::Polygon(polygon) => {
                let corners = polygon.corners().iter();
                let first = Aabb { min: Vec2::INFINITY, max: Vec2::NEG_INFINITY };
                corners.fold(first, |area, corner| Aabb {
                    min: area.min.min(*corner),
                    max: area.max.max(*corner),
                })
            }
        }
    }
}

impl From<Polygon> for Solid {
    fn from(polygon: Polygon) -> Self {
        Self::Polygon(polygon)
    }
}
