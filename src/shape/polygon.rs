//! A convex polygon, checked.

use core::fmt;

use crate::saved::restored;
use glam::Vec2;

/// The most corners of a polygon.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::{MAX_CORNERS, Polygon};
///
/// let round = |count: usize| {
///     let corners = (0..count).map(|corner| Vec2::from_angle(corner as f32 / count as f32 * 6.283));
///     Polygon::new(&corners.collect::<Vec<Vec2>>())
/// };
/// assert!(round(MAX_CORNERS).is_ok() && round(MAX_CORNERS + 1).is_err());
/// ```
pub const MAX_CORNERS: usize = 12;

/// A convex polygon with three to [`MAX_CORNERS`] corners.
///
/// ```
/// use ambulant::shape::Polygon;
/// use glam::vec2;
///
/// // A slanted cold frame; either winding will do.
/// let frame = Polygon::new(&[vec2(0.0, 0.0), vec2(4.0, 0.0), vec2(4.0, 3.0)])?;
/// assert_eq!(frame.corners().len(), 3);
/// assert!(Polygon::new(&[vec2(0.0, 0.0), vec2(4.0, 0.0)]).is_err());
/// # Ok::<(), ambulant::shape::PolygonError>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Polygon {
    corners: [Vec2; MAX_CORNERS],
    count: usize,
}

restored!(
    Polygon { corners: [Vec2; MAX_CORNERS], count: usize } as saved => {
        ensure((3..=MAX_CORNERS).contains(&saved.count), "count must be from 3 to 12 (corners)")?;
        let polygon = Polygon { corners: saved.corners, count: saved.count };
        ensure(polygon.corners().iter().all(|corner| corner.is_finite()), "corners must be finite")?;
        ensure(
            polygon.corners[polygon.count..].iter().all(|corner| *corner == Vec2::ZERO),
            "corners past count must be 0",
        )?;
        ensure(polygon.turns_outward(), "corners must turn outward, anticlockwise from +x to +y")?;
        Ok(polygon)
    }
);

/// Why corners do not form a convex polygon.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::{Polygon, PolygonError};
///
/// let dented = [vec2(0.0, 0.0), vec2(4.0, 0.0), vec2(1.0, 1.0), vec2(0.0, 4.0)];
/// assert_eq!(Polygon::new(&dented), Err(PolygonError::NotConvex { corner: 2 }));
/// assert_eq!(Polygon::new(&dented[..2]), Err(PolygonError::Count { count: 2 }));
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[non_exhaustive]
pub enum PolygonError {
    /// There are fewer than three corners or more than [`MAX_CORNERS`].
    Count {
        /// How many there are.
        count: usize,
    },
    /// A corner is not finite.
    NotFinite {
        /// Its index in the list.
        corner: usize,
    },
    /// The outline bends inwards, goes straight on or reverses at a corner.
    NotConvex {
        /// Its index in the list.
        corner: usize,
    },
}

impl fmt::Display for PolygonError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Count { count } => {
                write!(
                    f,
                    "a polygon has {count} corners, but must have 3 to {MAX_CORNERS}; split a larger one"
                )
            }
            Self::NotFinite { corner } => write!(f, "corner {corner} is not a finite place"),
            Self::NotConvex { corner } => {
                write!(
                    f,
                    "the outline does not turn outwards at corner {corner}; remove it, or split the polygon there"
                )
            }
        }
    }
}

impl core::error::Error for PolygonError {}

impl Polygon {
    /// A polygon from its corners, in either direction.
    ///
    /// # Errors
    /// When there are too few or too many corners, one is not finite, or the outline is not convex.
    pub fn new(corners: &[Vec2]) -> Result<Self, PolygonError> {
        let count = corners.len();
        if !(3..=MAX_CORNERS).contains(&count) {
            return Err(PolygonError::Count { count });
        }
        if let Some(corner) = corners.iter().position(|corner| !corner.is_finite()) {
            return Err(PolygonError::NotFinite { corner });
        }
        let at = |place: usize| corners[place % count].as_dvec2();
        let turn = |place: usize| (at(place) - at(place + count - 1)).perp_dot(at(place + 1) - at(place));
        let displacement = turn(0);
        if let Some(corner) = (0..count).find(|corner| turn(*corner) * displacement <= 0.0) {
            return Err(PolygonError::NotConvex { corner });
        }
        // Even if it turns outwards everywhere, an outline can go round more than once.
        let full =
            (0..count).map(|place| (at(place + 1) - at(place)).angle_to(at(place + 2) - at(place + 1)));
        if full.sum::<f64>().abs() > core::f64::consts::TAU * 1.5 {
            return Err(PolygonError::NotConvex { corner: 0 });
        }
        let mut polygon = Self { corners: [Vec2::ZERO; MAX_CORNERS], count };
        polygon.corners[..count].copy_from_slice(corners);
        if displacement < 0.0 {
            polygon.corners[..count].reverse();
        }
        Ok(polygon)
    }

    /// Whether it turns outward at each corner, but for the rounding of a polygon that was moved.
    #[cfg(feature = "serde")]
    fn turns_outward(&self) -> bool {
        let corners = self.corners();
        let at = |place: usize| corners[place % corners.len()].as_dvec2();
        (0..corners.len()).all(|place| {
            let (one, next) = (at(place + 1) - at(place), at(place + 2) - at(place + 1));
            let rounding =
                4.0 * f64::from(f32::EPSILON) * (at(place).abs() + at(place + 2).abs()).element_sum();
            one.perp_dot(next) >= -rounding * (one.length() + next.length())
        })
    }

    /// The polygon moved by a vector, in units.
    pub(crate) fn moved(mut self, by: Vec2) -> Self {
        self.corners[..self.count].iter_mut().for_each(|corner| *corner += by);
        self
    }

    /// The corners, turning from +x toward +y.
    #[must_use]
    pub fn corners(&self) -> &[Vec2] {
        &self.corners[..self.count]
    }
}
