//! What touching, along and grazing mean, in one place, from one tolerance.
//!
//! A position is stored in `f32`, so a mover that is set exactly against a wall lies up to half a rounding step in
//! front of it or inside. Every decision about contact therefore uses a [`Tolerance`]: a few rounding steps at the
//! coordinates involved. By depth (distance into the wall, negative in front of it):
//!
//! | depth | meaning |
//! | --- | --- |
//! | below `-tolerance` | apart |
//! | `-tolerance ..= tolerance` | **touching**: a motion into the wall is a hit at fraction 0, all others are free |
//! | a path that comes no deeper than `tolerance / 2` | **grazing**: no hit; the other half is for the rounding of where it ends |
//! | above `tolerance` | **overlapping**: the wall is ignored by sweeps |
//!
//! A motion is **along** a wall when its part into the wall is within the rounding of a vector that was projected
//! onto the surface ([`ALONG`] of its own length) and leads no deeper than a graze. Two walls **wedge** a mover when
//! no motion is along one and away from the other; that needs no tolerance of its own, see `WallConstraints`.

use glam::DVec2;

use crate::exact::root_f64;

/// Distance within which two surfaces touch, per unit of coordinate: four steps of `f32` rounding.
///
/// One comes from rounding the position at the last touch; the others are left for positions and sizes that a game
/// computes.
const TOUCH_PER_COORDINATE: f64 = 1.0 / 4_194_304.0;

/// Coordinates below this many units count as this many, so that there is a tolerance at the origin too.
const SMALLEST_COORDINATE: f64 = 1.0;

/// A motion that points into a surface by no more than this part of its length is along it: the rounding of a vector that
/// was projected onto the surface (one step of `f32` per component, and as much for the normal).
pub(crate) const ALONG: f64 = 4e-7;

/// Two directions have the same share of a motion within this part of it: the rounding of two unit vectors.
pub(crate) const SAME_SHARE: f64 = 1e-6;

/// The part of the tolerance by which a path may enter a wall and only graze it.
const GRAZE: f64 = 0.5;

/// The part of the tolerance by which a path may bow away from its chord and count as straight: far enough inside
/// [`GRAZE`] that a chord and its path are decided alike.
const STRAIGHT: f64 = 0.125;

/// The part of the tolerance within which an exact position is in contact: it lies against a wall by far less, and
/// being set against another wall in a corner moves it by less too. A mover further off takes time to get there.
const CONTACT: f64 = 0.25;

/// How deep a footprint may reach into a wall and still only touch it, and how far away it may stay
/// and still touch, in units: 2.4e-7 of the largest coordinate involved (0.00024 at 1,000 units),
/// and never less than 2.4e-7.
///
/// ```
/// assert!(ambulant::touch_tolerance(1000.0) < 0.00025);
/// ```
#[must_use]
pub fn touch_tolerance(coordinate: f64) -> f64 {
    coordinate.abs().max(SMALLEST_COORDINATE) * TOUCH_PER_COORDINATE
}

/// What counts as touching at some coordinates; see the [module](self).
#[derive(Debug, Clone, Copy)]
pub(crate) struct Tolerance(f64);

impl Tolerance {
    /// The tolerance where the largest coordinate involved is this one.
    #[inline]
    pub(crate) fn at(coordinate: f64) -> Self {
        Self(touch_tolerance(coordinate))
    }

    /// The tolerance at a place on a surface.
    #[inline]
    pub(crate) fn near(place: DVec2) -> Self {
        Self::at(place.abs().max_element())
    }

    /// Its width in units.
    #[inline]
    pub(crate) const fn least_gap(self) -> f64 {
        self.0
    }

    /// Whether a mover this far in front of a surface touches it, or lies deeper.
    #[inline]
    pub(crate) fn touches(self, gap: f64) -> bool {
        gap <= self.0
    }

    /// Whether a mover this far in front of a surface, by its exact position, is in contact with it or deeper.
    #[inline]
    pub(crate) fn is_contact(self, gap: f64) -> bool {
        gap <= self.0 * CONTACT
    }

    /// Whether a mover this deep inside a surface overlaps it.
    #[inline]
    pub(crate) fn overlaps(self, depth: f64) -> bool {
        depth > self.0
    }

    /// How deep a path may get and still only graze.
    #[inline]
    pub(crate) const fn graze(self) -> f64 {
        self.0 * GRAZE
    }

    /// How far a path may bow away from its chord and count as straight.
    #[inline]
    pub(crate) const fn straight(self) -> f64 {
        self.0 * STRAIGHT
    }

    /// Whether a displacement is along a surface or away from it: `speed` is its part away from the surface, `depth`
    /// where it starts, and `inward` the [least](least_inward) that counts as into it. A motion along a surface must
    /// not end deeper than a graze, however often it is repeated.
    #[inline]
    pub(crate) fn runs_along(self, depth: f64, speed: f64, inward: f64) -> bool {
        speed > inward || speed >= -inward && depth - speed <= self.graze()
    }

    /// Where a displacement enters through a side: `out` is the distance in front of it at the start, `speed` its
    /// change, and `along` the positions along the side from one end (0) to the other (1), at the start and at the
    /// end.
    pub(crate) fn side_entry(self, out: f64, speed: f64, along: [f64; 2]) -> Option<f64> {
        let surface = if self.touches(out) { 0.0 } else { out / -speed };
        let there = along[0] + (along[1] - along[0]) * surface;
        if !self.overlaps(-out) && (0.0..=1.0).contains(&there) {
            return Some(surface);
        }
        if speed >= 0.0 {
            return None;
        }
        // If it only grazed the corner before the side, it enters where it is that deep.
        let ends = [0.0, 1.0].map(|end| (end - along[0]) / (along[1] - along[0]));
        let (begin, end) = (ends[0].min(ends[1]), ends[0].max(ends[1]));
        let grazes = begin >= 0.0 && (out + speed * begin).abs() <= self.0;
        let at = begin.max((out + self.graze()) / -speed);
        (grazes && at <= end).then_some(at)
    }
}

/// How much of a displacement must point into a surface to count as into it; `None` for no displacement.
#[inline]
pub(crate) fn least_inward(displacement: DVec2) -> Option<f64> {
    let inward = root_f64(displacement.length_squared()) * ALONG;
    (inward != 0.0).then_some(inward)
}
