//! Which way a picture faces: sectors round the circle, without flicker.

use core::f32::consts::FRAC_PI_8;

use glam::Vec2;

use crate::direction::{Angle, Facing, YAxis};
use crate::error::{InvalidNumber, above_zero};
use crate::intent::Directions;
use crate::saved::restored;
use crate::tolerance::ON_THE_BORDER;

/// Which facing is taken for a direction exactly between two.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::intent::Directions;
/// use ambulant::pose::{DiagonalRule, Sectors};
///
/// let facing = |rule| Ok(Sectors::new(Directions::Four, rule, 0.0)?.facing(Facing::Up, vec2(1.0, -1.0), YAxis::Down));
/// assert_eq!(facing(DiagonalRule::Sideways)?, Facing::Right);
/// assert_eq!(facing(DiagonalRule::Upright)?, Facing::Up);
/// assert_eq!(facing(DiagonalRule::Keep)?, Facing::Up);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum DiagonalRule {
    /// Left and right, for four facings; the straight ones for eight.
    #[default]
    Sideways,
    /// Up and down, for four facings; the diagonal ones for eight.
    Upright,
    /// The last one.
    Keep,
}

/// How directions become one of four or eight facings.
///
/// ```
/// use ambulant::direction::YAxis;
/// use ambulant::intent::Directions;
/// use ambulant::direction::Facing;
/// use ambulant::pose::{DiagonalRule, Sectors};
/// use glam::{Vec2, vec2};
///
/// let sectors = Sectors::new(Directions::Four, DiagonalRule::Keep, 0.1)?;
/// let diagonal = vec2(1.0, 1.0);
/// assert_eq!(sectors.facing(Facing::Down, diagonal, YAxis::Down), Facing::Down);
/// assert_eq!(sectors.facing(Facing::Right, diagonal, YAxis::Down), Facing::Right);
/// assert_eq!(sectors.facing(Facing::Right, Vec2::ZERO, YAxis::Down), Facing::Right); // kept at rest
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Sectors {
    facings: Directions,
    rule: DiagonalRule,
    hysteresis: f32,
    /// The width of each sector relative to the others, in the order of [`Facing::ALL`].
    widths: [f32; 8],
}

restored!(
    Sectors { facings: Directions, rule: DiagonalRule, hysteresis: f32, widths: [f32; 8] } as saved => {
        let mut sectors = Sectors::new(saved.facings, saved.rule, saved.hysteresis)?;
        for (facing, width) in Facing::ALL.into_iter().zip(saved.widths) {
            sectors = sectors.with_width(facing, width)?;
        }
        Ok(sectors)
    }
);

impl Sectors {
    /// Equal sectors for four or eight facings. A direction must leave the current sector by the hysteresis, in
    /// radians, to change the facing.
    ///
    /// # Errors
    /// The hysteresis must be at least 0 and below an eighth of a turn for four ways, a sixteenth for eight.
    pub fn new(facings: Directions, rule: DiagonalRule, hysteresis: f32) -> Result<Self, InvalidNumber> {
        let half = if facings == Directions::Four { 2.0 * FRAC_PI_8 } else { FRAC_PI_8 };
        if !(0.0..half).contains(&hysteresis) {
            let wanted = "at least 0 and below half a sector (radians)";
            return Err(InvalidNumber::new("hysteresis", hysteresis, wanted));
        }
        Ok(Self { facings, rule, hysteresis, widths: [1.0; 8] })
    }

    /// Makes one sector wider or narrower than its neighbours: 2 is twice as wide.
    ///
    /// # Errors
    /// The width must be finite and above 0.
    pub fn with_width(mut self, facing: Facing, width: f32) -> Result<Self, InvalidNumber> {
        self.widths[facing as usize] = above_zero("width", width, "a finite factor above 0")?;
        Ok(self)
    }

    /// The facing for a direction, given the last one; without a direction, the last one.
    #[must_use]
    pub fn facing(&self, last: Facing, direction: Vec2, y_axis: YAxis) -> Facing {
        if !direction.is_finite() || direction == Vec2::ZERO {
            return last;
        }
        let along = Angle::of(direction * Vec2::new(1.0, y_axis.downward())).unwrap_or(Angle::ZERO);
        let off = |facing: Facing| {
            let middle = Angle::from_radians(facing as u8 as f32 * 2.0 * FRAC_PI_8);
            middle.turn_to(along).abs() / self.widths[facing as usize]
        };
        let nearest = |without: Option<Facing>| {
            let facings =
                Facing::ALL.into_iter().filter(|facing| self.has(*facing) && Some(*facing) != without);
            facings.min_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap_or(last)
        };
        let best = nearest(None);
        let second = nearest(Some(best));
        if off(second) - off(best) <= ON_THE_BORDER && self.rule != DiagonalRule::Keep {
            return if self.prefers(second, best) { second } else { best };
        }
        // The last facing is kept until its border is left behind.
        let reach = off(best) + (self.hysteresis + ON_THE_BORDER) / self.widths[last as usize];
        if self.has(last) && off(last) - self.hysteresis / self.widths[last as usize] <= reach {
            last
        } else {
            best
        }
    }

    fn has(&self, facing: Facing) -> bool {
        self.facings == Directions::Eight || !facing.is_diagonal()
    }

    /// Whether one of two facings is preferred for a direction on their border.
    fn prefers(&self, one: Facing, other: Facing) -> bool {
        let sideways = |facing: Facing| match self.facings {
            Directions::Four => matches!(facing, Facing::Left | Facing::Right),
            Directions::Eight => !facing.is_diagonal(),
        };
        match self.rule {
            DiagonalRule::Sideways => sideways(one) && !sideways(other),
            DiagonalRule::Upright => !sideways(one) && sideways(other),
            DiagonalRule::Keep => false,
        }
    }
}
