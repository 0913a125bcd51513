//! Layers: what a wall is, and what a mover collides with.

use core::fmt;
use core::ops::{BitAnd, BitOr, Not};

use super::Wall;

/// A set of 32 layers. A wall lies on some of them, a mover's mask names some of them, and the two meet when
/// they have one in common.
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
    /// No layer: a wall that nobody meets, a mover that walks through everything.
    pub const NONE: Self = Self(0);
    /// All layers: a mover's mask where nothing else is said.
    pub const ALL: Self = Self(u32::MAX);
    /// The first layer: where walls lie where nothing else is said.
    pub const FIRST: Self = Self(1);

    /// One layer, numbered 0 to 31; of a higher number the remainder counts.
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

    /// Whether two sets have a layer in common.
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

/// Which walls count: those on some layers, except for a few.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::shape::Solid;
/// use ambulant::terrain::{Filtered, WallFilter, Obstacles, Wall};
/// use ambulant::travel::free_distance;
///
/// // A cart that is an obstacle to others does not stand in its own way.
/// let mut carts = Obstacles::new();
/// let own = carts.add(Solid::box_from_corners(vec2(-1.0, -1.0), vec2(1.0, 1.0))?);
/// carts.add(Solid::box_from_corners(vec2(4.0, -1.0), vec2(6.0, 1.0))?);
/// let own = [Wall::Obstacle(own)];
/// let others = Filtered::new(&carts, WallFilter::ALL.except(&own));
/// assert_eq!(free_distance(&others, &Footprint::rect(2.0, 2.0)?, Vec2::ZERO, vec2(9.0, 0.0)), 3.0);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WallFilter<'a> {
    layers: Layers,
    except: &'a [Wall],
    /// Two further conditions that must hold, too.
    both: Option<(&'a WallFilter<'a>, &'a WallFilter<'a>)>,
}

impl<'a> WallFilter<'a> {
    /// Every wall counts.
    pub const ALL: Self = Self { layers: Layers::ALL, except: &[], both: None };

    /// Walls on these layers count.
    #[must_use]
    pub const fn on(layers: Layers) -> Self {
        Self { layers, ..Self::ALL }
    }

    /// The same, but these walls do not count.
    #[must_use]
    pub const fn except(mut self, walls: &'a [Wall]) -> Self {
        self.except = walls;
        self
    }

    /// Walls that count by both.
    #[inline]
    #[must_use]
    pub fn and<'b>(&'b self, other: &'b WallFilter<'b>) -> WallFilter<'b> {
        if other.is_all() {
            return *self;
        }
        WallFilter { layers: Layers::ALL, except: &[], both: Some((self, other)) }
    }

    /// Whether every wall counts.
    const fn is_all(&self) -> bool {
        self.layers.0 == Layers::ALL.0 && self.except.is_empty() && self.both.is_none()
    }

    /// Whether a wall on these layers may count.
    #[must_use]
    pub fn layers(&self, layers: Layers) -> bool {
        let both =
            |(one, other): (&WallFilter<'_>, &WallFilter<'_>)| one.layers(layers) && other.layers(layers);
        self.layers.meets(layers) && self.both.is_none_or(both)
    }

    /// Whether a wall counts.
    #[must_use]
    pub fn wall(&self, wall: Wall, layers: Layers) -> bool {
        let both = |(one, other): (&WallFilter<'_>, &WallFilter<'_>)| {
            one.wall(wall, layers) && other.wall(wall, layers)
        };
        self.layers.meets(layers) && !self.except.contains(&wall) && self.both.is_none_or(both)
    }
}

impl From<Layers> for WallFilter<'_> {
    fn from(layers: Layers) -> Self {
        Self::on(layers)
    }
}
