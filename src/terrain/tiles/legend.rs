//! What the glyphs of a map mean, and what can be wrong with a map.

use alloc::string::String;
use alloc::vec::Vec;
use core::fmt;

use glam::IVec2;

use crate::direction::{Corner, Side};
use crate::drive::Surface;
use crate::terrain::Layers;

/// What lies outside the map.
///
/// ```
/// use ambulant::prelude::*;
///
/// let map = TileGrid::from_rows(&["."], &Legend::new().with('.', TileKind::floor("path")))?;
/// assert!(map.blocks(ivec2(-1, 0))); // unless it is open
/// assert!(!map.with_outside(Outside::Open).blocks(ivec2(-1, 0)));
/// # Ok::<(), ambulant::terrain::GridError>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Outside {
    /// One wall.
    #[default]
    Block,
    /// Nothing.
    Open,
}

/// The most tiles that a map may have: 4096 by 4096.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::{GridError, MAX_TILES};
///
/// let row = vec![0; 4096];
/// let rows = vec![&row[..]; 4097];
/// let tiles = MAX_TILES + 4096;
/// let map = TileGrid::from_indices(&rows, &[TileKind::floor("path")]);
/// assert_eq!(map.unwrap_err(), GridError::TooLarge { tiles });
/// ```
pub const MAX_TILES: usize = 4096 * 4096;

/// How much of a tile blocks.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::TileForm;
///
/// assert_eq!(TileKind::wall("bed").form(), TileForm::Full);
/// assert_eq!(TileKind::floor("ledge").closed_from(Side::Top).form(), TileForm::Open);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum TileForm {
    /// Nothing, except for closed sides.
    Open,
    /// All of it.
    Full,
    /// The half on one side of a diagonal: the one with this corner.
    Half(Corner),
}

/// A kind of tile: its name, what of it blocks and on which layers, and its surface.
///
/// ```
/// use ambulant::prelude::*;
///
/// let ledge = TileKind::floor("ledge").closed_from(Side::Top); // one can jump up through it
/// let net = TileKind::wall("net").with_layers(Layers::bit(1));
/// let mud = TileKind::floor("mud").with_surface(Surface::PLAIN.with_speed_factor(0.5)?);
/// assert!(net.blocks() && !ledge.blocks() && ledge.is_closed_from(Side::Top));
/// assert_eq!(mud.surface().speed_factor(), 0.5);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct TileKind {
    name: String,
    form: TileForm,
    layers: Layers,
    closed: [bool; 4],
    surface: Surface,
    tag: u32,
}

impl TileKind {
    /// A kind that blocks.
    #[must_use]
    pub fn wall(name: impl Into<String>) -> Self {
        Self::of_form(name.into(), TileForm::Full)
    }

    /// A kind that does not block.
    #[must_use]
    pub fn floor(name: impl Into<String>) -> Self {
        Self::of_form(name.into(), TileForm::Open)
    }

    /// A kind of which the half with this corner blocks, up to the diagonal.
    #[must_use]
    pub fn half(name: impl Into<String>, corner: Corner) -> Self {
        Self::of_form(name.into(), TileForm::Half(corner))
    }

    fn of_form(name: String, form: TileForm) -> Self {
        Self { name, form, layers: Layers::FIRST, closed: [false; 4], surface: Surface::PLAIN, tag: 0 }
    }

    /// Sets a number of the game's own, which [`World::tag`](crate::terrain::World::tag) returns for such tiles.
    #[must_use]
    pub const fn with_tag(mut self, tag: u32) -> Self {
        self.tag = tag;
        self
    }

    /// The number of the game's own; 0 by default.
    #[must_use]
    pub const fn tag(&self) -> u32 {
        self.tag
    }

    /// Sets the layers of what blocks.
    #[must_use]
    pub const fn with_layers(mut self, layers: Layers) -> Self {
        self.layers = layers;
        self
    }

    /// Closes a side from outside: movers cannot enter through it but can leave. A box is stopped if any part of it
    /// would enter, a circle if its middle faces the side.
    #[must_use]
    pub const fn closed_from(mut self, side: Side) -> Self {
        self.closed[side as usize] = true;
        self
    }

    /// Sets its surface: mud, ice, a belt.
    #[must_use]
    pub const fn with_surface(mut self, surface: Surface) -> Self {
        self.surface = surface;
        self
    }

    /// Its surface.
    #[must_use]
    pub const fn surface(&self) -> Surface {
        self.surface
    }

    /// Its name.
    #[must_use]
    pub fn name(&self) -> &str {
        &self.name
    }

    /// How much of it blocks.
    #[must_use]
    pub const fn form(&self) -> TileForm {
        self.form
    }

    /// The layers of what blocks.
    #[must_use]
    pub const fn layers(&self) -> Layers {
        self.layers
    }

    /// Whether it blocks, wholly or by half.
    #[must_use]
    pub const fn blocks(&self) -> bool {
        !matches!(self.form, TileForm::Open)
    }

    /// Whether a side is closed from outside.
    #[must_use]
    pub const fn is_closed_from(&self, side: Side) -> bool {
        self.closed[side as usize]
    }
}

/// Which kind of tile of a map; see [`TileGrid::kind_named`](super::TileGrid::kind_named).
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&[".#"], &legend)?;
/// let bed = map.kind_named("bed").unwrap();
/// assert_eq!((map.kind_id(ivec2(1, 0)), bed.to_string()), (Some(bed), "kind 1".to_owned()));
/// # Ok::<(), ambulant::terrain::GridError>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct KindId(pub(super) u16);

impl KindId {
    /// Its place among the kinds of its map, from 0.
    #[must_use]
    pub fn index(self) -> usize {
        usize::from(self.0)
    }
}

impl fmt::Display for KindId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "kind {}", self.0)
    }
}

/// What each glyph of a map stands for.
///
/// ```
/// use ambulant::terrain::{Legend, TileKind};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// assert!(legend.get('#').unwrap().blocks());
/// assert!(legend.get('~').is_none());
/// ```
#[derive(Debug, Clone, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Legend {
    entries: Vec<(char, TileKind)>,
}

impl Legend {
    /// A legend without entries.
    #[must_use]
    pub const fn new() -> Self {
        Self { entries: Vec::new() }
    }

    /// Adds a glyph, or gives it a new meaning.
    #[must_use]
    pub fn with(mut self, glyph: char, kind: TileKind) -> Self {
        match self.entries.iter_mut().find(|(known, _)| *known == glyph) {
            Some(entry) => entry.1 = kind,
            None => self.entries.push((glyph, kind)),
        }
        self
    }

    /// What a glyph stands for.
    #[must_use]
    pub fn get(&self, glyph: char) -> Option<&TileKind> {
        self.index(glyph).map(|index| &self.entries[usize::from(index)].1)
    }

    /// Every glyph with its kind, in the order they were added.
    pub fn iter(&self) -> impl Iterator<Item = (char, &TileKind)> {
        self.entries.iter().map(|(glyph, kind)| (*glyph, kind))
    }

    pub(in crate::terrain) fn index(&self, glyph: char) -> Option<u16> {
        let index = self.entries.iter().position(|(known, _)| *known == glyph)?;
        u16::try_from(index).ok()
    }

    pub(in crate::terrain) fn into_kinds(self) -> Vec<TileKind> {
        self.entries.into_iter().map(|(_, kind)| kind).collect()
    }
}

/// What can be wrong with the rows of a map.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::GridError;
///
/// let legend = Legend::new().with('.', TileKind::floor("path"));
/// let uneven = TileGrid::from_rows(&["...", ".."], &legend).unwrap_err();
/// assert_eq!(uneven, GridError::UnevenRow { row: 1, expected: 3, found: 2 });
/// let unknown = TileGrid::from_rows(&["..~"], &legend).unwrap_err();
/// assert_eq!(unknown, GridError::UnknownGlyph { glyph: '~', column: 2, row: 0 });
/// ```
#[derive(Debug, Clone, PartialEq, Eq)]
#[non_exhaustive]
pub enum GridError {
    /// There are no rows, or the first row is empty.
    Empty,
    /// A row is longer or shorter than the first one.
    UnevenRow {
        /// The row, counted from 0.
        row: usize,
        /// Tiles in the first row.
        expected: usize,
        /// Tiles in this row.
        found: usize,
    },
    /// A glyph has no entry in the legend.
    UnknownGlyph {
        /// The glyph.
        glyph: char,
        /// Its column, counted from 0.
        column: usize,
        /// Its row, counted from 0.
        row: usize,
    },
    /// An index has no kind.
    UnknownIndex {
        /// The index.
        index: usize,
        /// How many kinds there are.
        kinds: usize,
        /// Its column, counted from 0.
        column: usize,
        /// Its row, counted from 0.
        row: usize,
    },
    /// A tile lies outside the map.
    Outside {
        /// The tile.
        tile: IVec2,
        /// Columns and rows of the map.
        size: IVec2,
    },
    /// There are more than [`MAX_TILES`] tiles.
    TooLarge {
        /// How many tiles there are.
        tiles: usize,
    },
}

impl fmt::Display for GridError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Empty => write!(f, "the map has no tiles; give it at least one row with one glyph"),
            Self::UnevenRow { row, expected, found } => {
                write!(f, "row {row} has {found} tiles, but row 0 has {expected}; make all rows equally long")
            }
            Self::UnknownGlyph { glyph, column, row } => {
                write!(f, "{glyph:?} at column {column}, row {row} is not in the legend; add it there")
            }
            Self::UnknownIndex { index, kinds, column, row } => {
                write!(
                    f,
                    "index {index} at column {column}, row {row} has no kind; there are {kinds}, from 0"
                )
            }
            Self::Outside { tile, size } => {
                write!(f, "tile {tile} lies outside the map of {} columns and {} rows", size.x, size.y)
            }
            Self::TooLarge { tiles } => {
                write!(f, "the map has {tiles} tiles, but may have at most {MAX_TILES}")
            }
        }
    }
}

impl core::error::Error for GridError {}
