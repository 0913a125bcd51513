//! A circle moved through a tile map, feature by feature.
//!
//! The features of a blocking tile are its sides that face a free tile, and its corners between two such sides. A
//! side or corner against another blocking tile is none, so a row of flush tiles has no seams. Long displacements are
//! swept in stretches of a few tiles.

use glam::{DVec2, Vec2};

use super::grid::TileGrid;
use crate::contact::{Tolerance, least_inward};
use crate::direction::{Side, YAxis};
use crate::exact::{floor, tile};
use crate::shape::{Feature, Footprint, Outline};
use crate::terrain::WallFilter;
use crate::terrain::continues::joined;
use crate::terrain::hit::{Exact, Hit};
use crate::terrain::wall::Wall;
use crate::tolerance::{CONTINUES_REACH, MOST_STRETCHES, STRETCH};

/// A moving circle, in distances from the map's corner.
#[derive(Debug, Clone, Copy)]
struct CirclePath {
    from: DVec2,
    displacement: DVec2,
    radius: f64,
    touch: Tolerance,
}

/// The first feature that was hit.
#[derive(Debug, Clone, Copy)]
struct Met {
    at: f64,
    normal: DVec2,
    /// A point of the feature's surface, to be set against.
    surface: DVec2,
    tile: (i64, i64),
    feature: Feature,
}

impl TileGrid {
    pub(in crate::terrain) fn sweep_round(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let from = from.as_dvec2() + filter.residue();
        let roll = self.roll(footprint, from, displacement);
        let (first, last) = self.part_on_map(&roll)?;
        let length = roll.displacement.length();
        // Shorter stretches than the circle gain nothing, and the number of stretches is limited.
        let shortest = (f64::from(STRETCH) * f64::from(self.tile_size().min_element())).max(roll.radius);
        let stretch = if length > 0.0 { shortest / length } else { 1.0 }.max((last - first) / MOST_STRETCHES);
        let mut start = first;
        loop {
            let end = (start + stretch).min(last);
            let met = self.first_met(&roll, start, end, filter);
            if let Some(met) = met.filter(|met| met.at <= end || end >= last) {
                return (met.at <= 1.0).then(|| self.hit_round(from, &roll, &met));
            }
            // From far away a stretch may be lost by rounding.
            if end >= last || end <= start {
                return None;
            }
            start = end;
        }
    }

    pub(in crate::terrain) fn continues_round(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let roll = self.roll(footprint, from.as_dvec2(), displacement);
        let reach = CONTINUES_REACH * f64::from(self.tile_size().min_element());
        let part = if roll.displacement.length() > reach { reach / roll.displacement.length() } else { 1.0 };
        let displacement = roll.displacement * part;
        let turned = self.turned(normal.as_dvec2()).as_vec2();
        let walls = |see: &mut dyn FnMut(Outline)| {
            // What is within the touch tolerance is shown too.
            let room = DVec2::splat(roll.touch.least_gap());
            let (a, b) = (
                roll.from.min(roll.from + displacement) - room,
                roll.from.max(roll.from + displacement) + room,
            );
            self.outlines(a, b, roll.radius, filter).for_each(&mut *see);
            self.ledges(a, b, roll.radius, turned, filter).for_each(&mut *see);
        };
        let held = joined(walls, roll.from, displacement.as_vec2(), turned, roll.touch);
        #[expect(clippy::cast_possible_truncation, reason = "a fraction of the way, rounded")]
        let held = held * part as f32;
        held
    }

    pub(in crate::terrain) fn overlaps_round(
        &self,
        footprint: &Footprint,
        at: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        let roll = self.roll(footprint, at.as_dvec2(), Vec2::ZERO);
        let inside = roll.from.cmpge(DVec2::ZERO).all()
            && roll.from.cmple(self.size().as_dvec2() * self.tile_size().as_dvec2()).all();
        if !inside && self.is_walled(filter) {
            return true;
        }
        self.outlines(roll.from, roll.from, roll.radius, filter)
            .any(|outline| roll.touch.overlaps(outline.depth(roll.from).0))
    }

    fn roll(&self, footprint: &Footprint, from: DVec2, displacement: Vec2) -> CirclePath {
        let middle = footprint.middle(Vec2::ZERO) + from;
        let radius = f64::from(footprint.radius().unwrap_or_default());
        let touch = Tolerance::at(middle.abs().max_element() + radius);
        CirclePath {
            from: self.to_local(middle),
            displacement: self.turned(displacement.as_dvec2()),
            radius,
            touch,
        }
    }

    /// The part of the displacement, from and to, on which it may touch the map or the tiles round it.
    fn part_on_map(&self, roll: &CirclePath) -> Option<(f64, f64)> {
        if !roll.from.is_finite() || !roll.displacement.is_finite() {
            return None;
        }
        let tile = self.tile_size().as_dvec2();
        let room = tile + roll.radius + roll.touch.least_gap();
        let (low, high) = (-room, self.size().as_dvec2() * tile + room);
        let (mut first, mut last) = (0.0f64, 1.0f64);
        for axis in 0..2 {
            let (from, displacement) = (roll.from[axis], roll.displacement[axis]);
            let (a, b) = ((low[axis] - from) / displacement, (high[axis] - from) / displacement);
            if displacement != 0.0 {
                (first, last) = (first.max(a.min(b)), last.min(a.max(b)));
            } else if from < low[axis] || from > high[axis] {
                return None;
            }
        }
        (roll.displacement != DVec2::ZERO && first <= last).then_some((first, last))
    }

    /// The blocking tiles near a stretch, grown by a radius.
    fn outlines<'a>(
        &'a self,
        a: DVec2,
        b: DVec2,
        radius: f64,
        filter: &'a WallFilter<'a>,
    ) -> impl Iterator<Item = Outline> + 'a {
        let half = self.tile_size().as_dvec2() * 0.5;
        let near = self.near(a.min(b) - radius, a.max(b) + radius);
        near.filter(|&(column, row)| self.is_wall(tile(column, row), filter)).map(move |(column, row)| {
            let middle = DVec2::new(column as f64, row as f64) * (2.0 * half) + half;
            Outline::boxed(middle, half, radius)
        })
    }

    /// The closed sides near a stretch that face along a normal, as lines grown by a radius.
    fn ledges<'a>(
        &'a self,
        a: DVec2,
        b: DVec2,
        radius: f64,
        normal: Vec2,
        filter: &'a WallFilter<'a>,
    ) -> impl Iterator<Item = Outline> + 'a {
        let side = Side::facing(normal, YAxis::Down);
        let near = self.near(a.min(b) - radius, a.max(b) + radius);
        let shut = move |&(column, row): &(i64, i64)| {
            let tile = tile(column, row);
            !self.is_wall(tile, filter) && self.is_shut(tile, side, filter)
        };
        near.filter(shut).map(move |(column, row)| {
            let (low, high) = self.corners(column, row);
            let ends = match side {
                Side::Left => [low, DVec2::new(low.x, high.y)],
                Side::Right => [DVec2::new(high.x, low.y), high],
                Side::Top => [low, DVec2::new(high.x, low.y)],
                Side::Bottom => [DVec2::new(low.x, high.y), high],
            };
            Outline::new(&ends, radius)
        })
    }

    /// The tiles that a box reaches, on the map or in the ring of tiles round it.
    fn near(&self, low: DVec2, high: DVec2) -> impl Iterator<Item = (i64, i64)> + use<> {
        let tile = self.tile_size().as_dvec2();
        let size = self.size();
        let range = |low: f64, high: f64, tile: f64, count: i32| {
            floor(low / tile).clamp(-1, i64::from(count))..=floor(high / tile).clamp(-1, i64::from(count))
        };
        let columns = range(low.x, high.x, tile.x, size.x);
        range(low.y, high.y, tile.y, size.y)
            .flat_map(move |row| columns.clone().map(move |column| (column, row)))
    }

    /// The corners of a tile with the smaller and the larger distances from the map's corner.
    fn corners(&self, column: i64, row: i64) -> (DVec2, DVec2) {
        let size = self.tile_size().as_dvec2();
        let low = DVec2::new(column as f64, row as f64) * size;
        (low, low + size)
    }

    fn first_met(&self, roll: &CirclePath, start: f64, end: f64, filter: &WallFilter<'_>) -> Option<Met> {
        let (a, b) = (roll.from + roll.displacement * start, roll.from + roll.displacement * end);
        let room = roll.radius + roll.touch.least_gap();
        let mut first: Option<Met> = None;
        for place in self.near(a.min(b) - room, a.max(b) + room) {
            for met in self.features(roll, place, filter).into_iter().flatten() {
                if first.is_none_or(|known| met.at < known.at) {
                    first = Some(met);
                }
            }
        }
        first
    }

    /// The sides and corners of a tile that can be hit, each at most once.
    fn features(&self, roll: &CirclePath, place: (i64, i64), filter: &WallFilter<'_>) -> [Option<Met>; 8] {
        let (column, row) = place;
        let here = tile(column, row);
        let wall = self.is_wall(here, filter);
        if !wall && self.blocking(here).closed == [false; 4] {
            return [None; 8];
        }
        let (low, high) = self.corners(column, row);
        let surface = filter.of_surface();
        let open = [
            !self.is_wall(tile(column - 1, row), &surface),
            !self.is_wall(tile(column + 1, row), &surface),
            !self.is_wall(tile(column, row - 1), &surface),
            !self.is_wall(tile(column, row + 1), &surface),
        ];
        let side = |open: bool, side: Side, normal: DVec2, surface: DVec2| {
            if open && self.is_shut(here, side, filter) {
                roll.side(normal, surface, (low, high), place)
            } else {
                None
            }
        };
        let corner = |open: bool, at: DVec2| if open && wall { roll.corner(at, place) } else { None };
        [
            side(open[0], Side::Left, DVec2::NEG_X, low),
            side(open[1], Side::Right, DVec2::X, high),
            side(open[2], Side::Top, DVec2::NEG_Y, low),
            side(open[3], Side::Bottom, DVec2::Y, high),
            corner(open[0] && open[2], low),
            corner(open[1] && open[2], DVec2::new(high.x, low.y)),
            corner(open[1] && open[3], high),
            corner(open[0] && open[3], DVec2::new(low.x, high.y)),
        ]
    }

    fn hit_round(&self, from: DVec2, roll: &CirclePath, met: &Met) -> Hit {
        // Against the feature to the last bit, along the way on the other axis.
        let there = roll.from + roll.displacement * met.at;
        let gap = (there - met.surface).dot(met.normal) - roll.radius;
        let middle = there - met.normal * gap;
        let moved = self.turned(roll.displacement * met.at - met.normal * gap);
        let normal = self.turned(met.normal).as_vec2() + Vec2::ZERO;
        #[expect(clippy::cast_possible_truncation, reason = "a fraction of the way, rounded once")]
        let fraction = met.at as f32;
        let position = from + moved;
        let tile = tile(met.tile.0, met.tile.1);
        Hit {
            fraction,
            position: position.as_vec2(),
            point: self.to_world(middle - met.normal * roll.radius).as_vec2(),
            normal,
            side: Side::facing(normal, self.y_axis()),
            wall: Wall::Tile(self.id, tile),
            layers: self.blocking(tile).layers,
            tag: self.tag(tile),
            velocity: Vec2::ZERO,
            carries: false,
            steady: f32::INFINITY,
            exact: Exact { at: met.at, position, feature: met.feature },
        }
    }
}

impl CirclePath {
    /// A straight side between two corners of its tile, with its outward normal.
    fn side(
        &self,
        normal: DVec2,
        surface: DVec2,
        (low, high): (DVec2, DVec2),
        tile: (i64, i64),
    ) -> Option<Met> {
        let speed = self.displacement.dot(normal);
        let out = (self.from - surface).dot(normal) - self.radius;
        if self.touch.runs_along(-out, speed, least_inward(self.displacement)?) {
            return None;
        }
        // The side's own extent is along the axis that its normal does not have.
        let axis = if normal.x == 0.0 { 0 } else { 1 };
        let along = |point: DVec2| (point[axis] - low[axis]) / (high[axis] - low[axis]);
        let at =
            self.touch.side_entry(out, speed, [along(self.from), along(self.from + self.displacement)])?;
        Some(Met { at, normal, surface, tile, feature: Feature::Side })
    }

    /// A corner between two open sides.
    fn corner(&self, corner: DVec2, tile: (i64, i64)) -> Option<Met> {
        let entry = Outline::new(&[corner], self.radius).entry(self.from, self.displacement, self.touch)?;
        Some(Met { at: entry.at, normal: entry.normal, surface: corner, tile, feature: Feature::Round })
    }
}
