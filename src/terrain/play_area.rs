//! The play area: what each of its four sides does to a mover.

use glam::Vec2;

use super::layers::Layers;
use super::swept_area::swept_area;
use crate::direction::{Side, YAxis};
use crate::error::InvalidNumber;
use crate::saved::restored;
use crate::shape::{Aabb, Footprint, Solid};
use crate::tolerance::BEYOND_EDGE;

/// What one side does.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::Crossing;
///
/// let area = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?.with(Side::Left, EdgeRule::Wrap);
/// assert_eq!((area.rule(Side::Left), area.rule(Side::Top)), (EdgeRule::Wrap, EdgeRule::Block));
/// let gone = area.crossing(&Footprint::circle(1.0)?, vec2(-1.5, 5.0));
/// assert!(matches!(gone, Crossing::Wrapped { side: Side::Left, position } if position.x > 9.0));
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum EdgeRule {
    /// It is a wall; movers slide along it.
    #[default]
    Block,
    /// It is a wall; movers bounce off it.
    Bounce,
    /// A mover that leaves here enters on the other side, with the same velocity.
    Wrap,
    /// A mover that leaves here is gone.
    Open,
}

/// A play area with a rule for each side.
///
/// Sides that block or bounce are walls ([`PlayArea`] is a terrain). A mover has left by another side when all of its
/// footprint is outside; on the other side it enters whole, so that it hits what stands there.
///
/// ```
/// use ambulant::terrain::{Crossing, EdgeRule, PlayArea};
/// use ambulant::prelude::*;
/// use ambulant::direction::Side;
///
/// let field = PlayArea::new(vec2(0.0, 0.0), vec2(100.0, 60.0))?
///     .with(Side::Left, EdgeRule::Wrap)
///     .with(Side::Right, EdgeRule::Wrap)
///     .with(Side::Bottom, EdgeRule::Open);
/// let drone = Footprint::circle(4.0)?;
/// assert_eq!(field.crossing(&drone, vec2(103.0, 20.0)), Crossing::Inside);
/// assert_eq!(
///     field.crossing(&drone, vec2(105.0, 20.0)),
///     Crossing::Wrapped { side: Side::Right, position: vec2(-3.0, 20.0) },
/// );
/// assert_eq!(field.crossing(&drone, vec2(50.0, 65.0)), Crossing::Left { side: Side::Bottom });
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct PlayArea {
    area: Aabb,
    rules: [EdgeRule; 4],
    pub(super) layers: Layers,
    tags: [u32; 4],
    pub(super) y_axis: YAxis,
}

restored!(
    PlayArea { area: Aabb, rules: [EdgeRule; 4], layers: Layers, tags: [u32; 4], y_axis: YAxis } as saved => {
        let area = PlayArea::new(saved.area.min, saved.area.max)?;
        Ok(PlayArea {
            rules: saved.rules,
            layers: saved.layers,
            tags: saved.tags,
            y_axis: saved.y_axis,
            ..area
        })
    }
);

/// Whether a mover has left the area.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::Crossing;
///
/// let area = PlayArea::new(vec2(0.0, 0.0), vec2(10.0, 10.0))?.with_all(EdgeRule::Open);
/// let moth = Footprint::circle(1.0)?;
/// assert_eq!(area.crossing(&moth, vec2(5.0, 5.0)), Crossing::Inside);
/// assert_eq!(area.crossing(&moth, vec2(12.0, 5.0)), Crossing::Left { side: Side::Right });
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[must_use]
pub enum Crossing {
    /// It is inside, at least in part, or beyond a side that is a wall.
    Inside,
    /// It entered on the other side.
    Wrapped {
        /// The side where it left.
        side: Side,
        /// Its position now.
        position: Vec2,
    },
    /// It left on an open side.
    Left {
        /// The side.
        side: Side,
    },
}

const SIDES: [Side; 4] = [Side::Left, Side::Right, Side::Top, Side::Bottom];

impl PlayArea {
    /// An area between two opposite corners, in units, that blocks on all sides.
    ///
    /// # Errors
    /// Both must be finite, and the area must have a width and a height.
    pub fn new(a: Vec2, b: Vec2) -> Result<Self, InvalidNumber> {
        let area = Solid::box_from_corners(a, b)?.bounds();
        Ok(Self {
            area,
            rules: [EdgeRule::Block; 4],
            layers: Layers::FIRST,
            tags: [0; 4],
            y_axis: YAxis::Down,
        })
    }

    /// Sets the rule for one side.
    #[must_use]
    pub const fn with(mut self, side: Side, rule: EdgeRule) -> Self {
        self.rules[side as usize] = rule;
        self
    }

    /// Sets one rule for all four sides.
    #[must_use]
    pub const fn with_all(mut self, rule: EdgeRule) -> Self {
        self.rules = [rule; 4];
        self
    }

    /// Sets the layers of its walls; by default the first layer.
    #[must_use]
    pub const fn with_layers(mut self, layers: Layers) -> Self {
        self.layers = layers;
        self
    }

    /// Sets the direction in which y grows; only the names of sides depend on it.
    #[must_use]
    pub const fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self
    }

    /// Sets the tag of a side, a number of the game's own.
    #[must_use]
    pub const fn with_tag(mut self, side: Side, tag: u32) -> Self {
        self.tags[side as usize] = tag;
        self
    }

    /// The tag of a side; 0 by default.
    #[must_use]
    pub const fn tag(&self, side: Side) -> u32 {
        self.tags[side as usize]
    }

    /// The area inside.
    #[must_use]
    pub const fn area(&self) -> Aabb {
        self.area
    }

    /// The rule for a side.
    #[must_use]
    pub const fn rule(&self, side: Side) -> EdgeRule {
        self.rules[side as usize]
    }

    /// Whether a mover at a position has left the area.
    pub fn crossing(&self, footprint: &Footprint, position: Vec2) -> Crossing {
        let covered = footprint.at(position);
        for side in SIDES {
            let rule = self.rule(side);
            if !self.is_crossed(rule) || self.depth(side, covered) <= 0.0 {
                continue;
            }
            if rule == EdgeRule::Open {
                return Crossing::Left { side };
            }
            let across = self.inward(side);
            let period = (self.area.size() + covered.size()) * across;
            return Crossing::Wrapped { side, position: position + period };
        }
        Crossing::Inside
    }

    /// Whether a footprint stays inside, and away from all sides, on a displacement.
    #[inline]
    pub(super) fn surrounds(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> bool {
        self.area.surrounds(&swept_area(footprint, from, displacement))
    }

    /// The first fraction of a displacement, 0 to 1, at which a mover has left by a side that can be crossed.
    pub(crate) fn leaves_at(&self, footprint: &Footprint, from: Vec2, displacement: Vec2) -> Option<f64> {
        let covered = footprint.at(from);
        let instants =
            SIDES.into_iter().filter(|side| self.is_crossed(self.rule(*side))).filter_map(|side| {
                let outward = -displacement.dot(self.inward(side));
                let left = -self.depth(side, covered);
                // Slightly further, so that it has left whatever the rounding.
                let at = f64::from(left + BEYOND_EDGE * (1.0 + left.abs())) / f64::from(outward);
                (outward > 0.0 && at <= 1.0).then_some(at.max(0.0))
            });
        instants.min_by(f64::total_cmp)
    }

    pub(super) const fn is_crossed(&self, rule: EdgeRule) -> bool {
        matches!(rule, EdgeRule::Wrap | EdgeRule::Open)
    }

    /// How far the nearest part of a box is outside of a side, in units.
    fn depth(&self, side: Side, covered: Aabb) -> f32 {
        let inward = self.inward(side);
        let near =
            |area: Aabb| if inward.x + inward.y > 0.0 { (area.min, area.max) } else { (area.max, area.min) };
        let (edge, nearest) = (near(self.area).0, near(covered).1);
        (edge - nearest).dot(inward)
    }

    /// The direction from a side into the area.
    fn inward(&self, side: Side) -> Vec2 {
        let down = Vec2::Y * self.y_axis.downward();
        match side {
            Side::Left => Vec2::X,
            Side::Right => Vec2::NEG_X,
            Side::Top => down,
            Side::Bottom => -down,
        }
    }
}
