//! Layers: which movers collide with which walls.

use core::fmt;
use core::ops::{BitAnd, BitOr, Not};

/// A set of 32 layers. A wall is on some of them, the mask of a mover has some of them, and the two collide if they
/// share one.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::terrain::Layers;
///
/// const SOLID: Layers = Layers::bit(0);
/// const NET: Layers = Layers::bit(1);
/// let legend = Legend::new()
///     .with('.', TileKind::floor("path"))
///     .with('n', TileKind::wall("net").with_layers(NET));
/// let map = TileGrid::from_rows(&["..n.."], &legend)?;
///
/// let mut moth = Walker::new(vec2(0.5, 0.5), Footprint::circle(0.2)?, Gait::new(4.0, 40.0, 40.0)?);
/// moth.mask = SOLID; // and not the net
/// for _ in 0..60 {
///     let _ = moth.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &map);
/// }
/// assert!(moth.position.x > 3.0);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Layers(u32);

impl Layers {
    /// No layer: a wall without collisions, a mover that passes through everything.
    pub const NONE: Self = Self(0);
    /// All layers: the default mask of a mover.
    pub const ALL: Self = Self(u32::MAX);
    /// The first layer: the default layer of a wall.
    pub const FIRST: Self = Self(1);

    /// One layer, numbered 0 to 31; higher numbers wrap round.
    #[must_use]
    pub const fn bit(number: u32) -> Self {
        Self(1 << (number % 32))
    }

    /// Layers from a word, one bit each.
    #[must_use]
    pub const fn from_bits(bits: u32) -> Self {
        Self(bits)
    }

    /// The layers as a word, one bit each.
    #[must_use]
    pub const fn bits(self) -> u32 {
        self.0
    }

    /// Whether two sets share a layer.
    #[must_use]
    pub const fn meets(self, other: Self) -> bool {
        self.0 & other.0 != 0
    }

    /// The numbers of the layers, from 0.
    pub fn numbers(self) -> impl Iterator<Item = u32> {
        (0..32).filter(move |number| self.meets(Self::bit(*number)))
    }
}

impl BitOr for Layers {
    type Output = Self;

    fn bitor(self, other: Self) -> Self {
        Self(self.0 | other.0)
    }
}

impl BitAnd for Layers {
    type Output = Self;

    fn bitand(self, other: Self) -> Self {
        Self(self.0 & other.0)
    }
}

impl Not for Layers {
    type Output = Self;

    fn not(self) -> Self {
        Self(!self.0)
    }
}

impl fmt::Display for Layers {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match *self {
            Self::NONE => f.write_str("no layer"),
            Self::ALL => f.write_str("all layers"),
            _ => {
                f.write_str("layers")?;
                self.numbers().try_for_each(|number| write!(f, " {number}"))
            }
        }
    }
}

impl fmt::Debug for Layers {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "Layers({:#x})", self.0)
    }
}
