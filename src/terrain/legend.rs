//! What the glyphs of a map mean, and what can be wrong with a map.

use core::fmt;

use glam::Vec2;

/// The most tiles that a map may have: 4096 by 4096.
pub const MAX_TILES: usize = 4096 * 4096;

/// A kind of tile: what it is called and whether it blocks.
#[derive(Debug, Clone, PartialEq)]
pub struct TileKind {
    name: String,
    blocks: bool,
    belt: Vec2,
}

impl TileKind {
    /// A kind that blocks.
    #[must_use]
    pub fn wall(name: impl Into<String>) -> Self {
        Self { name: name.into(), blocks: true, belt: Vec2::ZERO }
    }

    /// A kind that lets pass.
    #[must_use]
    pub fn floor(name: impl Into<String>) -> Self {
        Self { name: name.into(), blocks: false, belt: Vec2::ZERO }
    }

    /// The same kind with a surface that moves, in units/s; to be carried by it, a mover's drive is
    /// wrapped in [`Carried`](crate::drive::Carried).
    #[must_use]
    pub const fn with_belt(mut self, velocity: Vec2) -> Self {
        self.belt = velocity;
        self
    }

    /// How its surface moves, in units/s.
    #[must_use]
    pub const fn belt(&self) -> Vec2 {
        self.belt
    }

    /// What it is called.
    #[must_use]
    pub fn name(&self) -> &str {
        &self.name
    }

    /// Whether it blocks.
    #[must_use]
    pub const fn blocks(&self) -> bool {
        self.blocks
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

    pub(super) fn index(&self, glyph: char) -> Option<u16> {
        let index = self.entries.iter().position(|(known, _)| *known == glyph)?;
        u16::try_from(index).ok()
    }

    pub(super) fn into_kinds(self) -> Vec<TileKind> {
        self.entries.into_iter().map(|(_, kind)| kind).collect()
    }
}

/// What can be wrong with the rows of a map.
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
            Self::TooLarge { tiles } => {
                write!(f, "the map has {tiles} tiles, but may have at most {MAX_TILES}")
            }
        }
    }
}

impl core::error::Error for GridError {}
