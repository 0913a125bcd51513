//! Maps and an independent judge shared by the terrain tests.

use ambulant::arcade::{Ball, BallTick, Decision, tick_balls};
use ambulant::direction::Corner;
use ambulant::shape::Footprint;
use ambulant::terrain::{Legend, Outside, TileGrid, TileKind, World};
use glam::{DVec2, IVec2, Vec2};
use proptest::prelude::*;

/// Those of the scenes of a property that are played.
pub(crate) fn some_of<T>(all: impl Iterator<Item = T>) -> impl Iterator<Item = T> {
    let (skipped, step) = if crate::properties::plays_all() { (0, 1) } else { (1, 5) };
    all.skip(skipped).step_by(step)
}

/// One ball for some time; it bounces off everything.
pub(crate) fn bounce(ball: &mut Ball, dt: f32, world: &mut World) -> BallTick {
    tick_balls(std::slice::from_mut(ball), dt, world, |_, _| Decision::bounce(1.0))
}

/// The legend of all test maps: `#` blocks, `.` does not.
pub(crate) fn legend() -> Legend {
    Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"))
}

/// A map of unit tiles around the world's origin.
pub(crate) fn map(rows: &[impl AsRef<str>]) -> TileGrid {
    let grid = TileGrid::from_rows(rows, &legend()).unwrap();
    let corner = grid.size().as_vec2() * -0.5;
    grid.with_origin(corner).unwrap()
}

/// Random maps of up to 12 by 12 tiles, about a quarter of them walls, with either outside.
pub(crate) fn random_map() -> impl Strategy<Value = TileGrid> {
    (2usize..12, 2usize..12, any::<bool>())
        .prop_flat_map(|(columns, rows, free)| {
            let row = prop::collection::vec(prop::bool::weighted(0.25), columns);
            (prop::collection::vec(row, rows), Just(free))
        })
        .prop_map(|(rows, free)| {
            let glyphs = |row: &Vec<bool>| row.iter().map(|wall| if *wall { '#' } else { '.' }).collect();
            let rows: Vec<String> = rows.iter().map(glyphs).collect();
            map(&rows).with_outside(if free { Outside::Open } else { Outside::Block })
        })
}

/// Random maps with half-tiles of every kind among the walls.
pub(crate) fn random_slopes() -> impl Strategy<Value = TileGrid> {
    let glyph = prop::sample::select(vec!['.', '.', '.', '.', '.', '.', '#', '1', '2', '3', '4']);
    let corners = [Corner::TopLeft, Corner::TopRight, Corner::BottomRight, Corner::BottomLeft];
    let legend = (['1', '2', '3', '4'].into_iter().zip(corners))
        .fold(legend(), |legend, (glyph, corner)| legend.with(glyph, TileKind::half("frame", corner)));
    prop::collection::vec(prop::collection::vec(glyph, 10), 10).prop_map(move |rows| {
        let rows: Vec<String> = rows.into_iter().map(|row| row.into_iter().collect()).collect();
        TileGrid::from_rows(&rows, &legend).unwrap().with_origin(Vec2::splat(-5.0)).unwrap()
    })
}

/// How deep a box that goes straight from one place to another reaches into any wall, by clipping
/// the way against each tile in turn; zero when it stays clear.
pub(crate) fn depth_on_the_way(grid: &TileGrid, footprint: &Footprint, from: Vec2, to: Vec2) -> f64 {
    let half = footprint.size().as_dvec2() * 0.5;
    let walls = (-1..=grid.size().y).flat_map(|y| (-1..=grid.size().x).map(move |x| IVec2::new(x, y)));
    walls.filter(|tile| grid.blocks(*tile)).fold(0.0, |deepest: f64, tile| {
        let area = grid.tile_area(tile);
        let (low, high) = (area.min.as_dvec2() - half, area.max.as_dvec2() + half);
        deepest.max(deepest_point(low, high, from.as_dvec2(), to.as_dvec2()))
    })
}

/// The greatest depth inside a box of any point on a line, by ternary search: the depth
/// is a minimum of four linear functions and so has a single peak.
fn deepest_point(low: DVec2, high: DVec2, from: DVec2, to: DVec2) -> f64 {
    let depth = |t: f64| {
        let point = from.lerp(to, t);
        (point - low).min(high - point).min_element()
    };
    let (mut start, mut end) = (0.0, 1.0);
    for _ in 0..100 {
        let third = (end - start) / 3.0;
        if depth(start + third) < depth(end - third) { start += third } else { end -= third }
    }
    depth((start + end) * 0.5)
}

/// Boxes and circles smaller than a tile.
pub(crate) fn any_footprint() -> impl Strategy<Value = Footprint> {
    prop_oneof![
        (0.3f32..0.95, 0.3f32..0.95).prop_map(|(w, h)| Footprint::rect(w, h).unwrap()),
        (0.2f32..0.48).prop_map(|radius| Footprint::circle(radius).unwrap()),
    ]
}

/// Numbers that look random and are the same at every run (the xorshift of G. Marsaglia, 2003, with a product after it).
#[derive(Debug, Clone)]
pub(crate) struct Dice(u64);

impl Dice {
    pub(crate) fn new(seed: u64) -> Self {
        let mut dice = Self(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15) | 1);
        dice.bits();
        dice
    }

    fn bits(&mut self) -> u64 {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        self.0.wrapping_mul(0x9E37_79B9_7F4A_7C15) >> 40
    }

    /// A number from `low` to `high`.
    pub(crate) fn number(&mut self, low: f32, high: f32) -> f32 {
        low + (high - low) * (self.bits() as f32 / (1u64 << 24) as f32)
    }

    /// A whole number below `count`.
    pub(crate) fn pick(&mut self, count: usize) -> usize {
        usize::try_from(self.bits()).unwrap() % count
    }
}
