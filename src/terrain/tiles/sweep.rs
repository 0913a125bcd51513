//! A box moved through a tile map, border by border.
//!
//! The box covers a range of columns and a range of rows. Its leading edges reach the next column or row at known
//! fractions of the displacement. These events are taken in order, and at each one only the newly entered tiles are
//! looked at. So a wall of flush tiles has no seams: a tile is entered through its open side or not at all. The
//! leading range is kept in whole numbers and never recomputed, so rounding cannot let a box slip between two events.
//! The trailing range is shrunk by the touch tolerance, so that what only touches does not block.
//!
//! Two events at one position, within the touch tolerance, are an exact corner hit: the larger part of the motion
//! goes first and so goes on, and at exactly 45 degrees the motion along x. So it is where a tile is met whose row or column
//! was entered before, but by no more than what only touches. A wall that is touched at the start is
//! hit at fraction 0, whatever the rounding of the gap.

use glam::{DVec2, IVec2, Vec2};

use super::grid::TileGrid;
use crate::contact::{SAME_SHARE, touch_tolerance};
use crate::direction::Side;
use crate::exact::{floor, tile};
use crate::shape::{Feature, Footprint};
use crate::terrain::WallFilter;
use crate::terrain::hit::{Exact, Hit};
use crate::terrain::wall::Wall;

/// Tiles this far from the map's corner are not distinguished: far below the largest tile number.
const MOST_FAR: i64 = 1 << 32;

impl TileGrid {
    pub(in crate::terrain) fn sweep_box(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> Option<Hit> {
        let [mut x, mut y] = self.tracks(footprint, from, displacement, filter);
        let from = from.as_dvec2() + filter.residue();
        if let Some(entry) = self.touched(&x, &y, filter) {
            return Some(self.hit(from, &x, &y, &entry));
        }
        let x_first_at_corner = x.is_as_fast_as(&y);
        let (mut at_x, mut at_y) = (x.next_event(), y.next_event());
        loop {
            if at_x.min(at_y) > 1.0 {
                return None;
            }
            let x_is_next = if is_corner(&x, at_x, &y, at_y) { x_first_at_corner } else { at_x < at_y };
            let (ahead, aside, next) =
                if x_is_next { (&mut x, &y, &mut at_x) } else { (&mut y, &x, &mut at_y) };
            let at = *next;
            let line = ahead.next_line(x_is_next);
            if let Some(along) = self.most_covered(line, aside, at, filter) {
                let is_faster = x_is_next == x_first_at_corner;
                if is_faster && aside.has_just_entered(along, at) {
                    // A corner, too: the slower part of the motion stops.
                    let entered = AxisPath { lead: aside.lead - aside.step, ..*aside };
                    let (x, y) = if x_is_next { (*ahead, entered) } else { (entered, *ahead) };
                    let entry = Entry { at, line: entered.next_line(!x_is_next), along: line.number };
                    return Some(self.hit(from, &x, &y, &entry));
                }
                return Some(self.hit(from, &x, &y, &Entry { at, line, along }));
            }
            ahead.lead = line.number;
            *next = if line.number.abs() < MOST_FAR { ahead.next_event() } else { f64::INFINITY };
        }
    }

    /// A wall that a box touches at the start and moves into; if there is one on each axis, the one that takes more
    /// of the motion.
    fn touched(&self, x: &AxisPath, y: &AxisPath, filter: &WallFilter<'_>) -> Option<Entry> {
        if !x.touches_ahead() && !y.touches_ahead() {
            return None;
        }
        let touched = |ahead: &AxisPath, aside: &AxisPath, across_x: bool| {
            let line = ahead.next_line(across_x);
            let along = ahead.touches_ahead().then(|| self.most_covered(line, aside, 0.0, filter));
            along.flatten().map(|along| Entry { at: 0.0, line, along })
        };
        let (along_x, along_y) = (|| touched(x, y, true), || touched(y, x, false));
        if x.is_as_fast_as(y) { along_x().or_else(along_y) } else { along_y().or_else(along_x) }
    }

    pub(in crate::terrain) fn continues_box(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        normal: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        // A slanted wall is not one of the grid's full tiles.
        if normal.x != 0.0 && normal.y != 0.0 {
            return 0.0;
        }
        let across_x = normal.x != 0.0;
        let across = |[x, y]: [AxisPath; 2]| if across_x { (x, y) } else { (y, x) };
        let (wall, _) = across(self.tracks(footprint, from, -normal, filter));
        if wall.gap().abs() > wall.tolerance {
            return 0.0;
        }
        let line = wall.next_line(across_x);
        let (_, along) = across(self.tracks(footprint, from, displacement, filter));
        let mut at = 0.0;
        loop {
            let (first, last) = along.reach(at);
            let forward = along.step >= 0;
            let Some(holding) = self.last_shut(line, first, last, forward, filter) else {
                return fraction(at);
            };
            let next = along.leaves(holding);
            if next > 1.0 {
                return 1.0;
            }
            // A tile that was left within rounding of now must not keep the loop going.
            at = next.max(at);
            if along.reach(at) == (first, last) {
                return fraction(at);
            }
        }
    }

    pub(in crate::terrain) fn overlaps_box(
        &self,
        footprint: &Footprint,
        at: Vec2,
        filter: &WallFilter<'_>,
    ) -> bool {
        let [columns, rows] = self.tracks(footprint, at, Vec2::ZERO, filter);
        let (first, last) = columns.covered(0.0);
        let (top, bottom) = rows.covered(0.0);
        self.clipped(0, first, last)
            .any(|column| self.clipped(1, top, bottom).any(|row| self.is_wall(tile(column, row), filter)))
    }
}

/// A column or row that is entered, and from which end.
#[derive(Debug, Clone, Copy)]
struct Line {
    /// Whether it is a column, not a row.
    across_x: bool,
    number: i64,
    /// Whether it is entered with growing numbers.
    forward: bool,
}

impl Line {
    /// The side of its tiles through which they are entered.
    fn side(self) -> Side {
        match (self.across_x, self.forward) {
            (true, true) => Side::Left,
            (true, false) => Side::Right,
            (false, true) => Side::Top,
            (false, false) => Side::Bottom,
        }
    }

    fn tile(self, along: i64) -> IVec2 {
        if self.across_x { tile(self.number, along) } else { tile(along, self.number) }
    }
}

/// A wall that a box would enter.
#[derive(Debug, Clone, Copy)]
struct Entry {
    /// The fraction of the displacement.
    at: f64,
    line: Line,
    /// The index of the tile in its line.
    along: i64,
}

/// One axis of a moving box, in distances from the map's corner.
#[derive(Debug, Clone, Copy)]
struct AxisPath {
    low: f64,
    high: f64,
    delta: f64,
    tile: f64,
    per_tile: f64,
    tolerance: f64,
    /// The direction in which tiles are entered: 1, -1, or 0 when there is no motion.
    step: i64,
    /// The furthest tile entered so far, on the leading side.
    lead: i64,
    /// Tiles outside of 0..count are skipped if the outside is open.
    count: i64,
    endless: bool,
}

impl AxisPath {
    /// The fraction at which the next tile is entered; infinite when there is none to enter.
    fn next_event(&self) -> f64 {
        if self.step == 0 || (!self.endless && self.is_past_the_map()) {
            return f64::INFINITY;
        }
        (self.gap() / self.delta.abs()).max(0.0)
    }

    /// The free distance from the leading edge at the start to the next tile.
    fn gap(&self) -> f64 {
        if self.step > 0 { self.border() - self.high } else { self.low - self.border() }
    }

    /// The border of the next tile that the leading edge reaches.
    fn border(&self) -> f64 {
        let number = if self.step > 0 { self.lead + 1 } else { self.lead };
        number as f64 * self.tile
    }

    /// Whether the next tile is touched already.
    fn touches_ahead(&self) -> bool {
        self.step != 0 && self.gap() <= self.tolerance && (self.endless || !self.is_past_the_map())
    }

    /// Whether at least as much of the motion is on this axis as on another; nearly as much counts too.
    fn is_as_fast_as(&self, other: &Self) -> bool {
        self.delta.abs() >= other.delta.abs() * (1.0 - SAME_SHARE)
    }

    /// The column or row that is entered next.
    fn next_line(&self, across_x: bool) -> Line {
        Line { across_x, number: self.lead + self.step, forward: self.step > 0 }
    }

    fn is_past_the_map(&self) -> bool {
        let next = self.lead + self.step;
        if self.step > 0 { next >= self.count } else { next < 0 }
    }

    /// First and last tile covered at a fraction of the displacement, by position alone.
    fn span(&self, at: f64) -> (i64, i64) {
        (self.first(at), self.last(at))
    }

    /// The tolerance is far more than what a product with one by the tile size is off from a quotient.
    fn first(&self, at: f64) -> i64 {
        floor((self.low + self.delta * at + self.tolerance) * self.per_tile)
    }

    fn last(&self, at: f64) -> i64 {
        let last = -floor(-(self.high + self.delta * at - self.tolerance) * self.per_tile) - 1;
        // A box hardly wider than the tolerance lies in one tile, never in none; so does one that is too far out.
        let is_plain = self.high - self.low > 4.0 * self.tolerance && last.abs() < MOST_FAR;
        if is_plain { last } else { last.max(self.first(at)) }
    }

    /// First and last tile covered or just touched on the leading side: what a mover lies against after an exact
    /// corner hit.
    fn reach(&self, at: f64) -> (i64, i64) {
        let (first, last) = self.span(at);
        let moved = self.delta * at;
        match self.step {
            0 => (first, last),
            1 => (first, -floor(-(self.high + moved + self.tolerance) * self.per_tile) - 1),
            _ => (floor((self.low + moved - self.tolerance) * self.per_tile), last),
        }
    }

    /// First and last tile covered at a fraction of the displacement: as entered on the leading side, by position on
    /// the trailing one.
    fn covered(&self, at: f64) -> (i64, i64) {
        let (first, last) = self.span(at);
        // Outside a map with an open outside, no more tiles are entered, and the box moves on.
        let outside = !self.endless && self.is_past_the_map();
        match self.step {
            0 => (first, last),
            1 if outside => (first, last.max(self.lead)),
            1 => (first.min(self.lead), self.lead),
            _ if outside => (first.min(self.lead), last),
            _ => (self.lead, last.max(self.lead)),
        }
    }

    /// The fraction at which the trailing edge leaves a tile behind.
    fn leaves(&self, tile: i64) -> f64 {
        let distance = match self.step {
            0 => return f64::INFINITY,
            1 => (tile + 1) as f64 * self.tile - self.low,
            _ => self.high - tile as f64 * self.tile,
        };
        distance / self.delta.abs()
    }

    /// Whether the leading edge is in a tile at a fraction of the way, but not deeper than what only touches.
    fn has_just_entered(&self, tile: i64, at: f64) -> bool {
        self.step != 0 && tile == self.lead && self.share(tile, at) <= self.tolerance
    }

    /// How much of a tile the box covers at a fraction of the way, in units.
    fn share(&self, tile: i64, at: f64) -> f64 {
        let moved = self.delta * at;
        let (start, end) = (tile as f64 * self.tile, (tile + 1) as f64 * self.tile);
        (self.high + moved).min(end) - (self.low + moved).max(start)
    }
}

/// Whether two events are at one position: when the first one happens, the other axis is within the tolerance of its
/// own.
#[inline]
fn is_corner(x: &AxisPath, at_x: f64, y: &AxisPath, at_y: f64) -> bool {
    let (apart, speed) = if at_x < at_y { (at_y - at_x, y.delta) } else { (at_x - at_y, x.delta) };
    apart * speed.abs() <= x.tolerance
}

impl TileGrid {
    /// A box on its way, along x and along y.
    fn tracks(
        &self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        filter: &WallFilter<'_>,
    ) -> [AxisPath; 2] {
        let (min, max) = footprint.edges(from);
        let (a, b) = (self.to_local(min + filter.residue()), self.to_local(max + filter.residue()));
        let (low, high) = (a.min(b), a.max(b));
        let delta = self.turned(displacement.as_dvec2());
        // Of both axes: a slanted wall beside the grid settles a mover only as exactly as the larger one allows.
        let tolerance = touch_tolerance(min.abs().max(max.abs()).max_element());
        let (tile, per_tile) = (self.tile_size().as_dvec2(), self.per_tile);
        let endless = self.is_walled(filter);
        let track = |low, high, delta, tile, per_tile, count: i32| {
            let (step, count) = (i64::from(delta > 0.0) - i64::from(delta < 0.0), i64::from(count));
            let mut track =
                AxisPath { low, high, delta, tile, per_tile, tolerance, step, lead: 0, count, endless };
            track.lead = if step < 0 { track.first(0.0) } else { track.last(0.0) };
            if !endless {
                // From outside, straight to the map's edge: what lies between is free.
                track.lead = if step < 0 { track.lead.min(count) } else { track.lead.max(-1) };
            }
            track
        };
        [
            track(low.x, high.x, delta.x, tile.x, per_tile.x, self.columns),
            track(low.y, high.y, delta.y, tile.y, per_tile.y, self.rows),
        ]
    }

    fn hit(&self, from: DVec2, x: &AxisPath, y: &AxisPath, entry: &Entry) -> Hit {
        let Entry { at, line, along } = *entry;
        let across_x = line.across_x;
        let (ahead, aside) = if across_x { (x, y) } else { (y, x) };
        let ordered = |ahead: f64, aside: f64| {
            if across_x { DVec2::new(ahead, aside) } else { DVec2::new(aside, ahead) }
        };
        // Against the wall to the last bit on one axis, along the way on the other.
        let slid = aside.delta * at;
        let moved = self.turned(ordered(ahead.gap() * ahead.step as f64, slid));

        let start = (aside.low + slid).max(along as f64 * aside.tile);
        let end = (aside.high + slid).min((along + 1) as f64 * aside.tile);
        let point = self.to_world(ordered(ahead.border(), (start + end) * 0.5));

        let side = line.side();
        let normal = match side {
            Side::Left => DVec2::NEG_X,
            Side::Right => DVec2::X,
            Side::Top => DVec2::NEG_Y,
            Side::Bottom => DVec2::Y,
        };
        let tile = line.tile(along);
        let position = from + moved;
        let is_corner = aside.share(along, at) <= 2.0 * aside.tolerance;
        let feature = if is_corner { Feature::Corner } else { Feature::Side };
        Hit {
            fraction: fraction(at),
            position: position.as_vec2(),
            point: point.as_vec2(),
            // Adding zero removes the sign of a negative zero.
            normal: self.turned(normal).as_vec2() + Vec2::ZERO,
            side,
            wall: Wall::Tile(self.id, tile),
            layers: self.blocking(tile).layers,
            tag: self.tag(tile),
            velocity: Vec2::ZERO,
            carries: false,
            steady: f32::INFINITY,
            exact: Exact { at, position, feature },
        }
    }

    /// Of the blocking tiles that are entered, the one that the box covers most; of equals, the one further along the
    /// motion on the other axis, or nearer to the map's corner if there is none.
    fn most_covered(&self, line: Line, aside: &AxisPath, at: f64, filter: &WallFilter<'_>) -> Option<i64> {
        let (first, last) = aside.covered(at);
        let mut best: Option<(i64, f64)> = None;
        for along in self.clipped(usize::from(line.across_x), first, last) {
            if self.is_shut(line.tile(along), line.side(), filter) {
                let share = aside.share(along, at);
                if best.is_none_or(|(_, most)| share > most || (share == most && aside.step > 0)) {
                    best = Some((along, share));
                }
            }
        }
        best.map(|(along, _)| along)
    }

    /// The blocking tile of a row or column that lies furthest forward within a range.
    fn last_shut(
        &self,
        line: Line,
        first: i64,
        last: i64,
        forward: bool,
        filter: &WallFilter<'_>,
    ) -> Option<i64> {
        let mut range = self.clipped(usize::from(line.across_x), first, last);
        let shut = |along: &i64| self.is_shut(line.tile(*along), line.side(), filter);
        if forward { range.rev().find(shut) } else { range.find(shut) }
    }

    /// A range of columns (axis 0) or rows (axis 1), cut to the map and one tile of its outside.
    fn clipped(&self, axis: usize, first: i64, last: i64) -> core::ops::RangeInclusive<i64> {
        let count = i64::from(self.size()[axis]);
        first.clamp(-1, count)..=last.clamp(-1, count)
    }
}

#[expect(clippy::cast_possible_truncation, reason = "a fraction of the way, 0 to 1, rounded")]
fn fraction(at: f64) -> f32 {
    at.clamp(0.0, 1.0) as f32
}
