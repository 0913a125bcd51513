//! The map that steppers step on, and what blocks a step.

use glam::IVec2;

use super::blocked::{BlockedBy, StepError};
use super::portals::Portals;
use super::rules::{CornerRule, Diagonals};
use crate::direction::{Facing, Side};
use crate::terrain::{Layers, TileForm, TileGrid};

/// What the edge of the map does to a stepper.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::GridEdge;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let ring = StepGround { edge: GridEdge::Wrap, ..ground };
/// let mut cart = Stepper::on(ivec2(2, 0), StepRules::new(4.0)?, &ring, &mut claims)?;
/// let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.25, &ring, &mut claims);
/// assert_eq!(cart.tile(), ivec2(0, 0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum GridEdge {
    /// It blocks.
    #[default]
    Block,
    /// A stepper that leaves on one side enters on the other.
    Wrap,
}

/// A tile map with what steppers need besides.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{GridEdge, Portals};
///
/// let map = TileGrid::from_rows(&["...."], &Legend::new().with('.', TileKind::floor("path")))?;
/// let portals = Portals::new(&map, &[(ivec2(1, 0), ivec2(3, 0))])?;
/// let ground = StepGround { portals: &portals, ..StepGround::new(&map) };
/// assert_eq!(ground.edge, GridEdge::Block);
/// let mut claims = Claims::new();
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.25, &ground, &mut claims);
/// assert_eq!(cart.tile(), ivec2(3, 0)); // through the portal
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy)]
pub struct StepGround<'a> {
    /// The tiles; a tile that blocks, wholly or by half, cannot be stepped on.
    pub grid: &'a TileGrid,
    /// What its edge does.
    pub edge: GridEdge,
    /// Pairs of tiles that are one place.
    pub portals: &'a Portals,
}

/// Where a step leads.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(super) struct Target {
    /// The tile that is entered.
    pub(super) tile: IVec2,
    /// Where the step continues: the other end, if that tile is a portal's.
    pub(super) landing: IVec2,
}

impl<'a> StepGround<'a> {
    /// A map without portals whose edge blocks.
    #[must_use]
    pub fn new(grid: &'a TileGrid) -> Self {
        static NONE: Portals = Portals::none();
        Self { grid, edge: GridEdge::Block, portals: &NONE }
    }

    /// What blocks a tile, other steppers aside.
    pub(super) fn standing(&self, tile: IVec2, mask: Layers) -> Result<(), StepError> {
        if !self.grid.contains(tile) {
            return Err(StepError::Outside { tile, size: self.grid.size() });
        }
        if self.blocks(tile, mask) {
            return Err(StepError::Blocked { tile, by: BlockedBy::Tile(tile) });
        }
        Ok(())
    }

    /// Where a step from a tile leads, or what of the map blocks it.
    pub(super) fn look(
        &self,
        from: IVec2,
        direction: Facing,
        mask: Layers,
        diagonals: Diagonals,
    ) -> Result<Target, BlockedBy> {
        let step = direction.step();
        let tile = self.on_map(from + step)?;
        // One look covers the tile and its sides.
        let blocking = self.grid.blocking(tile);
        if blocking.layers.meets(mask) {
            if blocking.form != TileForm::Open {
                return Err(BlockedBy::Tile(tile));
            }
            let shut = |side: &Side| blocking.closed[*side as usize];
            if let Some(side) = entered_through(step).into_iter().flatten().find(shut) {
                return Err(BlockedBy::ClosedSide { tile, side });
            }
        }
        if step.x != 0 && step.y != 0 {
            self.corner(from, step, mask, diagonals)?;
        }
        let landing = self.portals.exit(tile).unwrap_or(tile);
        if landing != tile && self.blocks(landing, mask) {
            return Err(BlockedBy::Tile(landing));
        }
        Ok(Target { tile, landing })
    }

    /// The tiles beside a diagonal step.
    pub(super) fn beside(&self, from: IVec2, step: IVec2) -> [Option<IVec2>; 2] {
        [IVec2::new(step.x, 0), IVec2::new(0, step.y)].map(|part| self.on_map(from + part).ok())
    }

    fn corner(&self, from: IVec2, step: IVec2, mask: Layers, diagonals: Diagonals) -> Result<(), BlockedBy> {
        let rule = match diagonals {
            Diagonals::On { corners, .. } => corners,
            Diagonals::Off => CornerRule::NeverCut,
        };
        let corner = |beside: Option<IVec2>| beside.filter(|tile| !self.blocks(*tile, mask)).is_none();
        let [across, down] = self.beside(from, step);
        let cut = match rule {
            CornerRule::NeverCut => corner(across) || corner(down),
            CornerRule::OneFree => corner(across) && corner(down),
            CornerRule::AlwaysCut => false,
        };
        let which = if corner(across) { across } else { down };
        if cut { Err(which.map_or(BlockedBy::Edge, BlockedBy::Corner)) } else { Ok(()) }
    }

    fn blocks(&self, tile: IVec2, mask: Layers) -> bool {
        let blocking = self.grid.blocking(tile);
        !self.grid.contains(tile) || (blocking.form != TileForm::Open && blocking.layers.meets(mask))
    }

    /// A tile of the map, wrapped if it lies outside and the edge wraps.
    pub(super) fn on_map(&self, tile: IVec2) -> Result<IVec2, BlockedBy> {
        match self.edge {
            _ if self.grid.contains(tile) => Ok(tile),
            GridEdge::Block => Err(BlockedBy::Edge),
            GridEdge::Wrap => Ok(tile.rem_euclid(self.grid.size())),
        }
    }
}

/// The sides of a tile through which a step enters it.
fn entered_through(step: IVec2) -> [Option<Side>; 2] {
    let across = match step.x {
        1 => Some(Side::Left),
        -1 => Some(Side::Right),
        _ => None,
    };
    let down = match step.y {
        1 => Some(Side::Top),
        -1 => Some(Side::Bottom),
        _ => None,
    };
    [across, down]
}

/// Whether a tile may lie on a map: no column or row is further than the largest map is wide.
#[cfg(feature = "serde")]
pub(super) fn may_be_on_a_map(tile: IVec2) -> bool {
    let most = i32::try_from(crate::terrain::MAX_TILES).unwrap_or(i32::MAX);
    (0..most).contains(&tile.x) && (0..most).contains(&tile.y)
}
