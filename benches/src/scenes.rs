//! Maps, obstacles and places, from the same dice at every run.

use ambulant::prelude::*;
use ambulant::shape::{Polygon, Solid};
use ambulant::terrain::Terrain;

/// Numbers that look random and are the same at every run.
#[derive(Debug, Clone)]
pub struct Dice(u64);

impl Dice {
    /// Dice that begin at a seed.
    #[must_use]
    pub const fn new(seed: u64) -> Self {
        Self(seed ^ 0x2545_F491_4F6C_DD1D)
    }

    /// The next bits (the xorshift of Marsaglia with a multiplication after it).
    pub const fn bits(&mut self) -> u64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        self.0.wrapping_mul(0x9E37_79B9_7F4A_7C15)
    }

    /// A number from `low` to `high`.
    pub fn number(&mut self, low: f32, high: f32) -> f32 {
        low + (high - low) * ((self.bits() >> 40) as f32 / (1u64 << 24) as f32)
    }

    /// A place within a square from the origin on.
    pub fn place(&mut self, size: f32) -> Vec2 {
        vec2(self.number(0.0, size), self.number(0.0, size))
    }

    /// A direction.
    pub fn direction(&mut self) -> Vec2 {
        loop {
            let found = vec2(self.number(-1.0, 1.0), self.number(-1.0, 1.0));
            if found.length() > 0.1 && found.length() < 1.0 {
                return found.normalize();
            }
        }
    }
}

/// A square map of unit tiles of which so many in a hundred are walls.
///
/// # Panics
/// When the map would have no tile, or too many.
#[must_use]
pub fn filled_grid(side: usize, percent: u64, dice: &mut Dice) -> TileGrid {
    let rows: Vec<Vec<usize>> = (0..side)
        .map(|_| (0..side).map(|_| usize::from(dice.bits() >> 33 & 0xFFFF < percent * 655)).collect())
        .collect();
    TileGrid::from_indices(&rows, &[TileKind::floor("path"), TileKind::wall("bed")]).expect("a full map")
}

/// A place where a footprint covers nothing.
pub fn free_place(terrain: &impl Terrain, footprint: &Footprint, size: f32, dice: &mut Dice) -> Vec2 {
    use ambulant::terrain::WallFilter;
    loop {
        let place = dice.place(size);
        if !terrain.overlaps(footprint, place, &WallFilter::ALL) {
            return place;
        }
    }
}

/// Boxes, circles, segments and triangles of a few units, about as dense whatever their number.
///
/// # Panics
/// Never: the numbers are in range.
#[must_use]
pub fn mixed_obstacles(count: usize, dice: &mut Dice) -> (Vec<Solid>, f32) {
    const APART: f32 = 12.0;
    let size = (count as f32).sqrt() * APART;
    let solids = (0..count).map(|number| {
        let at = dice.place(size);
        let reach = dice.number(1.0, 4.0);
        let solid = match number % 4 {
            0 => Solid::box_from_corners(at, at + vec2(reach, reach * 0.7)),
            1 => Solid::circle(at, reach * 0.5),
            2 => Solid::segment(at, at + dice.direction() * reach),
            _ => {
                let corners = [at, at + vec2(reach, 0.0), at + vec2(0.3 * reach, reach)];
                return Solid::Polygon(Polygon::new(&corners).expect("a triangle"));
            }
        };
        solid.expect("finite and not empty")
    });
    (solids.collect(), size)
}
