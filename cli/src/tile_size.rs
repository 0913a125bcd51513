//! The size of tiles as files give it: one number, or a width and a height.

use std::fmt;

use ambulant::InvalidNumber;
use ambulant::terrain::TileGrid;
use serde::de::{Deserialize, Deserializer, Error, SeqAccess, Visitor};

/// The size of tiles.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) enum TileSize {
    /// Width and height are equal.
    Square(f32),
    /// Width and height.
    Oblong(f32, f32),
}

impl TileSize {
    /// Gives the tiles of a map this size.
    pub(crate) fn apply_to(self, grid: TileGrid) -> Result<TileGrid, InvalidNumber> {
        match self {
            Self::Square(size) => grid.with_tile_size(size),
            Self::Oblong(width, height) => grid.with_tile_dimensions(width, height),
        }
    }
}

impl<'de> Deserialize<'de> for TileSize {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        struct OneOrTwo;
        impl<'de> Visitor<'de> for OneOrTwo {
            type Value = TileSize;

            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a number or [width, height], such as 16 or [24, 16]")
            }

            #[expect(clippy::cast_possible_truncation, reason = "rounded once")]
            fn visit_f64<E>(self, size: f64) -> Result<TileSize, E> {
                Ok(TileSize::Square(size as f32))
            }

            fn visit_i64<E>(self, size: i64) -> Result<TileSize, E> {
                Ok(TileSize::Square(size as f32))
            }

            fn visit_u64<E>(self, size: u64) -> Result<TileSize, E> {
                Ok(TileSize::Square(size as f32))
            }

            fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<TileSize, A::Error> {
                let mut next = |place| {
                    let number = list.next_element::<f32>()?;
                    number.ok_or_else(|| Error::invalid_length(place, &"[width, height]"))
                };
                let size = TileSize::Oblong(next(0)?, next(1)?);
                match list.next_element::<f32>()? {
                    Some(_) => Err(Error::invalid_length(3, &"[width, height]")),
                    None => Ok(size),
                }
            }
        }
        deserializer.deserialize_any(OneOrTwo)
    }
}
