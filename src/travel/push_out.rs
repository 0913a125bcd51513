//! Pushing a mover out of a wall by the shortest way.
//!
//! The nearest free position lies on the surface of one wall (grown by the footprint) or where the surfaces of two
//! walls cross. Both are tried in order of distance; the first that no wall covers is taken.

use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use crate::shape::{Aabb, Footprint, Outline, Solid, outline_of};
use crate::terrain::{Terrain, WallFilter};
use crate::touch_tolerance;

/// The result of pushing a mover out.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{PushOut, push_out};
///
/// let mut world = World::new();
/// world.add(Solid::box_from_corners(vec2(0.0, 0.0), vec2(10.0, 10.0))?);
/// let feet = Footprint::rect(2.0, 2.0)?;
/// let out = |at: Vec2, reach: f32| push_out(&world, &feet, at, reach, &WallFilter::ALL);
/// assert_eq!(out(vec2(20.0, 5.0), 9.0), PushOut::Free);
/// assert!(matches!(out(vec2(10.0, 5.0), 9.0), PushOut::Moved { position, .. } if position.x == 11.0));
/// assert_eq!(out(vec2(5.0, 5.0), 1.0), PushOut::Stuck); // further than one unit
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[must_use]
pub enum PushOut {
    /// It overlaps nothing.
    Free,
    /// It was moved to the nearest free place.
    Moved {
        /// Its position now.
        position: Vec2,
        /// Its displacement, in units.
        by: Vec2,
    },
    /// There is no free place within reach; it stays where it is.
    Stuck,
}

/// Finds the nearest free position for a footprint that overlaps walls, at most `reach` units away.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::travel::{PushOut, push_out};
///
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["#####", "##..#", "#####"], &legend)?;
/// let gardener = Footprint::rect(0.5, 0.5)?;
/// // Spawned in the corner of two beds: out by the shortest way, and not through the wall behind.
/// let out = push_out(&map, &gardener, vec2(2.0, 1.0), 2.0, &WallFilter::ALL);
/// assert_eq!(out, PushOut::Moved { position: vec2(2.25, 1.25), by: vec2(0.25, 0.25) });
/// assert_eq!(push_out(&map, &gardener, vec2(0.5, 1.5), 1.0, &WallFilter::ALL), PushOut::Stuck);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn push_out(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    reach: f32,
    filter: &WallFilter<'_>,
) -> PushOut {
    if !at.is_finite() || !terrain.overlaps(footprint, at, filter) {
        return PushOut::Free;
    }
    let reach = if reach.is_finite() { reach.max(0.0) } else { 0.0 };
    let outlines = outlines_near(terrain, footprint, at, reach, filter);
    let middle = footprint.middle(at);
    let coordinate = middle.abs().max_element() + f64::from(footprint.size().max_element() + reach);
    let mut search = Search {
        outlines: &outlines,
        middle,
        touch: 0.5 * touch_tolerance(coordinate),
        best: None,
        nearest: f64::from(reach) * f64::from(reach),
    };
    search.surfaces();
    search.crossings();
    let Some(place) = search.best else { return PushOut::Stuck };
    let position = (at.as_dvec2() + (place - middle)).as_vec2();
    PushOut::Moved { position, by: position - at }
}

/// The walls within reach, grown by the footprint; boxes in a row are one.
fn outlines_near(
    terrain: &(impl Terrain + ?Sized),
    footprint: &Footprint,
    at: Vec2,
    reach: f32,
    filter: &WallFilter<'_>,
) -> Vec<Outline> {
    let here = footprint.at(at);
    let area = Aabb { min: here.min - (reach + 0.01), max: here.max + (reach + 0.01) };
    let mut solids: Vec<Solid> = Vec::new();
    terrain.walls_in(area, filter, &mut |found| match (solids.last_mut(), found.solid()) {
        (Some(Solid::Box { area: last }), Solid::Box { area: next })
            if last.max.x == next.min.x && last.min.y == next.min.y && last.max.y == next.max.y =>
        {
            last.max.x = next.max.x;
        }
        (_, solid) => solids.push(solid),
    });
    solids.iter().map(|solid| outline_of(footprint, solid)).collect()
}

struct Search<'a> {
    outlines: &'a [Outline],
    middle: DVec2,
    touch: f64,
    best: Option<DVec2>,
    /// The square distance of the best position, or of the reach.
    nearest: f64,
}

/// A piece of a grown wall's surface.
#[derive(Clone, Copy)]
enum Piece {
    Edge(DVec2, DVec2),
    Round(DVec2, f64),
}

impl Search<'_> {
    fn offer(&mut self, place: DVec2) {
        let distance = place.distance_squared(self.middle);
        let free = |outline: &Outline| outline.depth(place).0 <= self.touch;
        if distance < self.nearest && self.outlines.iter().all(free) {
            self.nearest = distance;
            self.best = Some(place);
        }
    }

    /// The nearest point of each piece of surface.
    fn surfaces(&mut self) {
        for piece in self.pieces() {
            self.offer(piece.nearest(self.middle));
        }
    }

    /// Where two pieces of surface cross.
    fn crossings(&mut self) {
        let pieces = self.pieces();
        for (place, one) in pieces.iter().enumerate() {
            for other in &pieces[place + 1..] {
                one.crossings(other).into_iter().flatten().for_each(|place| self.offer(place));
            }
        }
    }

    /// The pieces of surface that are near enough.
    fn pieces(&self) -> Vec<Piece> {
        let all = self.outlines.iter().flat_map(|outline| {
            let edges = outline.edges().map(|(start, end)| Piece::Edge(start, end));
            edges.chain(outline.rounds().map(|(center, radius)| Piece::Round(center, radius)))
        });
        all.filter(|piece| piece.nearest(self.middle).distance_squared(self.middle) < self.nearest).collect()
    }
}

impl Piece {
    fn nearest(&self, point: DVec2) -> DVec2 {
        match *self {
            Self::Edge(start, end) => {
                let edge = end - start;
                let part = (point - start).dot(edge) / edge.length_squared();
                start + edge * if part.is_finite() { part.clamp(0.0, 1.0) } else { 0.0 }
            }
            Self::Round(center, radius) => {
                let off = point - center;
                // In the very middle every direction is as short; x is taken.
                center + if off == DVec2::ZERO { DVec2::X } else { off.normalize() } * radius
            }
        }
    }

    fn crossings(&self, other: &Self) -> [Option<DVec2>; 2] {
        match (*self, *other) {
            (Self::Edge(a, b), Self::Edge(c, d)) => {
                let (first, second) = (b - a, d - c);
                let turn = first.perp_dot(second);
                let (at, other) = ((c - a).perp_dot(second) / turn, (c - a).perp_dot(first) / turn);
                let within = |part: f64| (-1e-9..=1.0 + 1e-9).contains(&part);
                [(within(at) && within(other)).then(|| a + first * at), None]
            }
            (Self::Edge(start, end), Self::Round(center, radius))
            | (Self::Round(center, radius), Self::Edge(start, end)) => {
                // From the foot of the middle on the edge, so that long edges stay precise.
                let (edge, length) = (end - start, start.distance(end));
                let foot = (center - start).dot(edge) / (length * length);
                let aside = (center - start).perp_dot(edge) / length;
                let half = libm::sqrt(radius * radius - aside * aside) / length;
                [foot - half, foot + half]
                    .map(|part| (0.0..=1.0).contains(&part).then(|| start + edge * part))
            }
            (Self::Round(one, r), Self::Round(two, s)) => {
                let (off, square) = (two - one, one.distance_squared(two));
                let part = (square + r * r - s * s) / (2.0 * square);
                let height = libm::sqrt(r * r / square - part * part);
                [height, -height].map(|height| {
                    let place = one + off * part + off.perp() * height;
                    place.is_finite().then_some(place)
                })
            }
        }
    }
}
