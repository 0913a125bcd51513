//! Outlines: a wall grown by a footprint, which the footprint's middle cannot enter.
//!
//! A footprint touches a wall exactly when its middle touches the Minkowski sum of the wall and the reflected
//! footprint. For every pair of shapes here, that sum is a convex polygon, a polygon rounded by a radius, or a circle
//! (one corner and a radius), so one sweep covers all of them. Corners run anticlockwise in a frame whose y grows
//! upwards, so the outward normal of an edge is its direction turned clockwise by a quarter turn.

use super::Arc;
use crate::contact::{SAME_SHARE, Tolerance, least_inward};
use crate::exact::{root_f64, unit};
use crate::tolerance::SAME_POINT;
use glam::DVec2;

/// The most corners of a sum: those of the largest polygon and of a box.
pub(crate) const MOST_CORNERS: usize = super::polygon::MAX_CORNERS + 4;

/// A convex polygon rounded by a radius; two corners are a segment, one is a point.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Outline {
    corners: [DVec2; MOST_CORNERS],
    count: usize,
    radius: f64,
}

/// Where a point enters an outline: the fraction of its displacement, and the outward normal there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Entry {
    pub(crate) at: f64,
    pub(crate) normal: DVec2,
    /// A point of the side or the corner that is hit.
    pub(crate) surface: DVec2,
    /// Which part of the outline is hit.
    pub(crate) feature: Feature,
}

/// A part of a surface.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub(crate) enum Feature {
    /// A flat side, away from its ends.
    Side,
    /// A sharp corner, within the touch tolerance: the normal is that of one of its two sides.
    Corner,
    /// The round of a corner.
    Round,
}

impl Outline {
    /// A convex polygon from its corners in order, rounded by a radius.
    pub(crate) fn new(corners: &[DVec2], radius: f64) -> Self {
        let mut outline = Self { corners: [DVec2::ZERO; MOST_CORNERS], count: corners.len(), radius };
        outline.corners[..corners.len()].copy_from_slice(corners);
        outline
    }

    /// A box round a middle.
    pub(crate) fn boxed(middle: DVec2, half: DVec2, radius: f64) -> Self {
        let corner = |x: f64, y: f64| middle + half * DVec2::new(x, y);
        Self::new(&[corner(-1.0, -1.0), corner(1.0, -1.0), corner(1.0, 1.0), corner(-1.0, 1.0)], radius)
    }

    /// The same outline elsewhere.
    pub(crate) fn moved(mut self, by: DVec2) -> Self {
        self.corners[..self.count].iter_mut().for_each(|corner| *corner += by);
        self
    }

    /// The sum of this polygon and a box round its own middle: the edges of both, merged by direction.
    pub(crate) fn grown_by_box(&self, half: DVec2) -> Self {
        let other = Self::boxed(DVec2::ZERO, half, 0.0);
        let (a, b) = (self.lowest(), other.lowest());
        let (mut i, mut j) = (0, 0);
        let mut sum = Self { corners: [DVec2::ZERO; MOST_CORNERS], count: 0, radius: self.radius };
        while i < self.count || j < other.count {
            let (at, other_at) = ((a + i) % self.count, (b + j) % other.count);
            sum.corners[sum.count] = self.corner(at) + other.corner(other_at);
            sum.count += 1;
            let turn = self.edge(at).perp_dot(other.edge(other_at));
            let (step_a, step_b) = (i < self.count, j < other.count);
            // A turn of zero takes both edges at once: they are parallel and point the same way. So does a turn that
            // is not a number, as for a box of infinite size.
            let (a_first, b_first) = (turn > 0.0, turn < 0.0);
            if step_a && !(step_b && b_first) {
                i += 1;
            }
            if step_b && !(step_a && a_first) {
                j += 1;
            }
        }
        sum
    }

    /// Where a point first enters along `way`, up to its end; `None` if it stays out.
    ///
    /// A point within `touch` of the surface touches it: it enters at once if it moves in, and not at all if it moves
    /// along or away. A point deeper inside is ignored.
    pub(crate) fn entry(&self, from: DVec2, displacement: DVec2, touch: Tolerance) -> Option<Entry> {
        if self.radius > 0.0 {
            self.round_entry(from, self.depth(from), displacement, touch)
        } else {
            self.edge_entry(from, displacement, touch)
        }
    }

    /// The depth of a point, and the outward normal of the shortest way out; negative outside.
    pub(crate) fn depth(&self, point: DVec2) -> (f64, DVec2) {
        let mut best = (f64::NEG_INFINITY, DVec2::X);
        let mut furthest = 0;
        if self.count > 2 {
            let in_front = |place: usize| (point - self.corner(place)).dot(self.across(place)) > 0.0;
            let outside = (0..self.count).any(in_front);
            for place in 0..self.count {
                // For a point outside, only the edges that it is in front of need a root.
                if outside && !in_front(place) {
                    continue;
                }
                let normal = self.normal(place);
                let out = (point - self.corner(place)).dot(normal);
                if out > best.0 {
                    (best, furthest) = ((out, normal), place);
                }
            }
            if best.0 <= 0.0 || self.radius == 0.0 {
                return (self.radius - best.0, best.1);
            }
        }
        // The nearest point of a convex polygon to a point outside lies on the edge that the point is furthest in
        // front of: no edge is further than the nearest point, and at a nearest corner one of the edges is the
        // furthest.
        let part = self.part_on_edge(furthest, point);
        if self.count > 2 && 0.0 < part && part < 1.0 {
            // Beside the edge: very near to it, the vector to the nearest point would be rounding only.
            return (self.radius - best.0, best.1);
        }
        let off = point - (self.corner(furthest) + self.edge(furthest) * part.clamp(0.0, 1.0));
        let distance = root_f64(off.length_squared());
        // In the very middle of a circle every direction is as short; x is taken.
        let normal = if distance > 0.0 { off / distance } else { self.normal_of_a_point() };
        (self.radius - distance, normal)
    }

    /// The straight pieces of its surface.
    pub(crate) fn edges(&self) -> impl Iterator<Item = (DVec2, DVec2)> {
        (0..self.count).filter(|_| self.count > 1).map(|place| {
            let out = self.normal(place) * self.radius;
            (self.corner(place) + out, self.corner(place + 1) + out)
        })
    }

    /// The circles that round its corners.
    pub(crate) fn rounds(&self) -> impl Iterator<Item = (DVec2, f64)> {
        let corners = if self.radius > 0.0 { self.count } else { 0 };
        self.corners[..corners].iter().map(|corner| (*corner, self.radius))
    }

    /// The round part that a point on the surface lies on; `None` without rounding.
    pub(crate) fn arc(&self, point: DVec2) -> Option<Arc> {
        if self.radius == 0.0 {
            return None;
        }
        let nearer = |a: &usize, b: &usize| {
            self.corner(*a).distance_squared(point).total_cmp(&self.corner(*b).distance_squared(point))
        };
        let place = (0..self.count).min_by(nearer)?;
        let before = if place == 0 { self.count - 1 } else { place - 1 };
        let ends = (self.count > 1).then(|| [self.normal(before), self.normal(place)]);
        Some(Arc { center: self.corner(place), radius: self.radius, ends })
    }

    /// A polygon without rounding: the last edge that is crossed inwards, if none is crossed outwards before it.
    fn edge_entry(&self, from: DVec2, displacement: DVec2, touch: Tolerance) -> Option<Entry> {
        let inward = least_inward(displacement)?;
        let mut entry: Option<Entry> = None;
        let mut deep: Option<Entry> = None;
        let mut leave = f64::INFINITY;
        for place in 0..self.count {
            let normal = self.normal(place);
            let out = (from - self.corner(place)).dot(normal);
            let speed = displacement.dot(normal);
            if touch.overlaps(-out) {
                // A path that only cuts a corner stays out.
                leave = if speed > inward { leave.min((-out - touch.graze()) / speed) } else { leave };
                continue;
            }
            // Outside of this edge, or on it: only a path that crosses it can enter.
            if touch.runs_along(-out, speed, inward) {
                return None;
            }
            let touches = touch.touches(out);
            let at = if touches { 0.0 } else { out / -speed };
            let found = Entry { at, normal, surface: self.corner(place), feature: Feature::Side };
            if touches && speed < 0.0 {
                let at = (out + touch.graze()) / -speed;
                deep = deep.filter(|known| known.at >= at).or(Some(Entry { at, ..found }));
            }
            entry = Some(entry.map_or(found, |last| last_of(last, found, (from, displacement), touch)));
        }
        // Where it only grazes the corner before a side that is touched at the start, it enters where it is deeper.
        let is_grazed = |deep: &Entry| entry.is_some_and(|entry| entry.at > 0.0 && entry.at < deep.at);
        let entry = deep.filter(is_grazed).or(entry);
        entry.filter(|entry| entry.at <= 1.0 && entry.at < leave)
    }

    /// How far it reaches along a direction of length 1, from the origin.
    pub(crate) fn reach(&self, direction: DVec2) -> f64 {
        let corners = self.corners[..self.count].iter().map(|corner| corner.dot(direction));
        corners.fold(f64::NEG_INFINITY, f64::max) + self.radius
    }

    /// The directions from a point of the surface into the outline, if the point is within the touch tolerance of a
    /// flat side. Only for outlines without rounding.
    pub(crate) fn cone(&self, point: DVec2, touch: Tolerance) -> Option<Cone> {
        let beside = |place: usize| (point - self.corner(place)).dot(self.normal(place));
        let mut sides = (0..self.count).filter(|place| self.count > 1 && !touch.overlaps(-beside(*place)));
        // A point that is clear of a side is clear of the outline.
        if (0..self.count).any(|place| !touch.touches(beside(place)) && beside(place) > 0.0) {
            return None;
        }
        let first = sides.next()?;
        let last = sides.next_back().unwrap_or(first);
        // Sides run anticlockwise, and so does the cone between them; only the first and last side of the list adjoin.
        let (from, to) =
            if first == 0 && last + 1 == self.count && last > 1 { (last, first) } else { (first, last) };
        Some(Cone { from: unit(self.edge(to)), to: -unit(self.edge(from)) })
    }

    /// A rounded polygon: the first of its edges, moved outwards, and of the circles round its corners. The caller
    /// gives the `depth` of the point at the start.
    fn round_entry(
        &self,
        from: DVec2,
        (depth, normal): (f64, DVec2),
        displacement: DVec2,
        touch: Tolerance,
    ) -> Option<Entry> {
        let inward = least_inward(displacement)?;
        // Inside already, or too far away.
        if touch.overlaps(depth) || -depth > displacement.abs().element_sum() {
            return None;
        }
        let grazed = touch.graze();
        if touch.touches(-depth) {
            if touch.runs_along(depth, displacement.dot(normal), inward) {
                return None;
            }
            let middle = from - normal * (self.radius - depth);
            let round =
                self.corners[..self.count].iter().any(|corner| corner.distance_squared(middle) < SAME_POINT);
            // On a round corner, a path that only grazes it rolls over it, perhaps onto a side.
            if !round || passes(middle, from, displacement) < self.radius - grazed {
                let feature = if round { Feature::Round } else { Feature::Side };
                return Some(Entry { at: 0.0, normal, surface: from + normal * depth, feature });
            }
        }
        let edges = (0..self.count).filter(|_| self.count > 1).filter_map(|place| {
            if self.leads_away(place, displacement, inward) {
                return None;
            }
            let (start, edge, normal) = (self.corner(place), self.edge(place), self.normal(place));
            let speed = displacement.dot(normal);
            let out = (from - start).dot(normal) - self.radius;
            if touch.runs_along(-out, speed, inward) {
                return None;
            }
            let along = |point: DVec2| (point - start).dot(edge) / edge.length_squared();
            let at = touch.side_entry(out, speed, [along(from), along(from + displacement)])?;
            Some(Entry { at, normal, surface: start + normal * self.radius, feature: Feature::Side })
        });
        let corners = (0..self.count).filter_map(|place| {
            let off = from - self.corner(place);
            let (a, b) = (displacement.length_squared(), off.dot(displacement));
            // A path that only grazes the circle stays out.
            let closest = passes(self.corner(place), from, displacement);
            if b >= 0.0 || closest >= self.radius - grazed {
                return None;
            }
            let at = (-b - root_f64(a * (self.radius * self.radius - closest * closest))) / a;
            let normal = (off + displacement * at) / self.radius;
            let surface = self.corner(place) + normal * self.radius;
            (at >= 0.0).then_some(Entry { at, normal, surface, feature: Feature::Round })
        });
        let first = edges.chain(corners).min_by(|a, b| a.at.total_cmp(&b.at));
        first.filter(|entry| entry.at <= 1.0)
    }

    /// A corner by its index, up to once round; a remainder would take as long as all else here.
    fn corner(&self, place: usize) -> DVec2 {
        self.corners[if place < self.count { place } else { place - self.count }]
    }

    fn edge(&self, place: usize) -> DVec2 {
        self.corner(place + 1) - self.corner(place)
    }

    /// Outward from an edge, as long as the edge.
    fn across(&self, place: usize) -> DVec2 {
        -self.edge(place).perp()
    }

    fn normal(&self, place: usize) -> DVec2 {
        unit(self.across(place))
    }

    /// Whether a displacement clearly leads away from an edge: without a root, and by more than rounding.
    fn leads_away(&self, place: usize, displacement: DVec2, inward: f64) -> bool {
        let across = self.across(place);
        let speed = displacement.dot(across);
        speed > 0.0 && speed * speed > 4.0 * inward * inward * across.length_squared()
    }

    /// Where beside an edge a point lies: 0 at its start, 1 at its end.
    fn part_on_edge(&self, place: usize, point: DVec2) -> f64 {
        let edge = self.edge(place);
        let square = edge.length_squared();
        if square > 0.0 { (point - self.corner(place)).dot(edge) / square } else { 0.0 }
    }

    fn normal_of_a_point(&self) -> DVec2 {
        if self.count > 1 { self.normal(0) } else { DVec2::X }
    }

    /// The corner where edges start to point anticlockwise from +x: the lowest, of equals the leftmost.
    fn lowest(&self) -> usize {
        let lower = |a: &usize, b: &usize| {
            let (a, b) = (self.corner(*a), self.corner(*b));
            a.y.total_cmp(&b.y).then(a.x.total_cmp(&b.x))
        };
        (0..self.count).min_by(lower).unwrap_or_default()
    }
}

/// The smallest distance between a point and the line through `from` along `way`.
fn passes(point: DVec2, from: DVec2, displacement: DVec2) -> f64 {
    let off = from - point;
    root_f64((off - displacement * (off.dot(displacement) / displacement.length_squared())).length_squared())
}

/// The last of two sides that are crossed inwards; a path that crosses both within the touch tolerance hits their
/// corner, and so does one that is hardly behind the first where it crosses the last: it runs along the first.
///
/// At a corner, the side counts that takes less of the motion, and at exactly 45 degrees the one that keeps the
/// motion along x: mirror images in x and in y are decided alike.
fn last_of(one: Entry, other: Entry, (from, displacement): (DVec2, DVec2), touch: Tolerance) -> Entry {
    let (early, late) = if other.at > one.at { (one, other) } else { (other, one) };
    let inward = |entry: &Entry| -displacement.dot(entry.normal);
    let behind = (early.surface - from - displacement * late.at).dot(early.normal);
    if (late.at - early.at) * inward(&late) > touch.least_gap() && touch.overlaps(behind) {
        return late;
    }
    let (first, second) = (inward(&one), inward(&other));
    let same = (first - second).abs() <= SAME_SHARE * (first + second);
    let keeps_other = if same { other.normal.x.abs() < one.normal.x.abs() } else { second < first };
    let kept = if keeps_other { other } else { one };
    Entry { at: late.at, feature: Feature::Corner, ..kept }
}

/// An open cone of directions, anticlockwise from one ray to the other, both of length 1.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Cone {
    pub(crate) from: DVec2,
    pub(crate) to: DVec2,
}

impl Cone {
    /// Whether a direction of length 1 lies clearly inside: by more than rounding. No cone here is wider than half a turn.
    pub(crate) fn holds(&self, ray: DVec2) -> bool {
        self.from.perp_dot(ray) > SAME_SHARE && ray.perp_dot(self.to) > SAME_SHARE
    }

    /// The normals of the sides along its rays, away from it.
    pub(crate) fn normals(&self) -> [DVec2; 2] {
        [-self.from.perp(), self.to.perp()]
    }

    /// Whether a direction of length 1 is that of one of the rays, up to rounding.
    pub(crate) fn is_along_a_ray(&self, ray: DVec2) -> bool {
        [self.from, self.to].into_iter().any(|end| end.distance(ray) <= SAME_SHARE)
    }
}
