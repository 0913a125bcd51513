//! The first of several walls that a footprint hits.

use glam::{DVec2, Vec2};

use super::exposed::exposed;
use super::filter::WallFilter;
use super::found::FoundWall;
use super::hit::Hit;
use super::swept_area::{part_near, swept_area};
use crate::direction::YAxis;
use crate::shape::{Aabb, Feature, Footprint, Met, sweep_exactly};
use crate::tolerance::MOST_STRETCHES;

/// The first of several walls: a flat side and a corner separately, since all walls must be known to decide between
/// them.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct FirstHit {
    /// How long the displacement takes, in seconds: walls that move do so meanwhile.
    seconds: f64,
    /// How far the mover is beside its rounded position.
    residue: DVec2,
    /// For a flight: by how much the displacement is further than the rounded one.
    in_flight: Option<DVec2>,
    side: Option<(Met, FoundWall)>,
    corner: Option<(Met, FoundWall)>,
}

impl FirstHit {
    /// None yet, for a query in a part of the tick.
    pub(super) fn during(filter: &WallFilter<'_>) -> Self {
        let (seconds, residue) = (filter.exact_seconds(), filter.residue());
        Self { seconds, residue, in_flight: filter.further(), ..Self::default() }
    }

    /// Takes in a wall. The result does not depend on the order: of two walls hit at the same fraction, the more
    /// head-on one is kept, then the one whose bounds come first.
    pub(super) fn consider(
        &mut self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        found: &FoundWall,
    ) {
        let whole = displacement.as_dvec2() + self.in_flight.unwrap_or(DVec2::ZERO);
        let relative = found.relative(whole, self.seconds);
        self.consider_as_seen(footprint, from, displacement, relative, found);
    }

    /// The same with the displacement as the wall sees it, without rounding.
    pub(super) fn consider_as_seen(
        &mut self,
        footprint: &Footprint,
        from: Vec2,
        displacement: Vec2,
        relative: DVec2,
        found: &FoundWall,
    ) {
        let seconds = self.seconds;
        let outline = found.outline(footprint);
        let from = from.as_dvec2() + self.residue;
        let met = sweep_exactly(footprint, from, relative, &outline);
        let met = if self.in_flight.is_some() {
            met.and_then(|met| met.reached(footprint, from, relative, &outline))
        } else {
            met
        };
        let Some(met) = met else { return };
        let slot = if met.feature == Feature::Side { &mut self.side } else { &mut self.corner };
        if slot.as_ref().is_none_or(|(known, wall)| {
            met.at < known.at
                || met.at == known.at && precedes((&met, found), (known, wall), displacement, seconds)
        }) {
            *slot = Some((met, *found));
        }
    }

    /// Whether something was hit.
    pub(super) fn is_any(&self) -> bool {
        self.side.is_some() || self.corner.is_some()
    }

    /// How much of the displacement is free so far.
    pub(super) fn fraction(&self) -> f64 {
        let free = |met: &Option<(Met, FoundWall)>| met.map_or(1.0, |(met, _)| met.at);
        free(&self.side).min(free(&self.corner))
    }

    /// The first hit; a sharp corner is decided by all walls near it, which `walls` shows as they
    /// are after a part of the displacement.
    pub(super) fn hit(
        &self,
        walls: impl FnOnce(Aabb, f64, &mut dyn FnMut(FoundWall)),
        y_axis: YAxis,
        footprint: &Footprint,
        displacement: Vec2,
    ) -> Option<Hit> {
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let seconds = self.seconds as f32;
        let hit = |(met, found): (Met, FoundWall)| found.hit(footprint, &met, self.seconds, y_axis);
        let first = match (self.side.map(hit), self.corner.map(hit)) {
            (Some(side), Some(corner)) => side.first(corner, displacement, seconds),
            (side, corner) => side.or(corner)?,
        };
        Some(exposed(walls, y_axis, footprint, first.relative(displacement, seconds), first))
    }
}

/// Which of two walls hit at the same fraction counts.
fn precedes(one: (&Met, &FoundWall), other: (&Met, &FoundWall), displacement: Vec2, seconds: f64) -> bool {
    let displacement = displacement.as_dvec2();
    let inward = |(met, wall): (&Met, &FoundWall)| -wall.relative(displacement, seconds).dot(met.normal);
    let (first, second) = (inward(one), inward(other));
    let bounds = |wall: &FoundWall| {
        let Aabb { min, max } = wall.bounds();
        [min.x, min.y, max.x, max.y]
    };
    first > second || first == second && bounds(one.1) < bounds(other.1)
}

/// Sweeps a long displacement in stretches, so that only walls near it are looked at; it is cut to where it comes
/// near an area.
pub(super) fn sweep_in_stretches(
    footprint: &Footprint,
    from: Vec2,
    displacement: Vec2,
    filter: &WallFilter<'_>,
    stretch: f32,
    area: Aabb,
    walls: impl Fn(Aabb, &mut dyn FnMut(FoundWall)),
) -> FirstHit {
    let mut first = FirstHit::during(filter);
    let Some((mut start, last)) = part_near(area, footprint, from, displacement) else { return first };
    // Shorter stretches than the footprint gain nothing, and the number of stretches is limited.
    let stretch = f64::from(stretch.max(footprint.size().max_element()));
    let part = (stretch / displacement.as_dvec2().length().max(stretch)).max((last - start) / MOST_STRETCHES);
    let at = |part: f64| (from.as_dvec2() + displacement.as_dvec2() * part).as_vec2();
    loop {
        let end = (start + part).min(last);
        walls(swept_area(footprint, at(start), at(end) - at(start)), &mut |found| {
            first.consider(footprint, from, displacement, &found);
        });
        // From far away a stretch may be lost by rounding.
        if first.fraction() <= end || end >= last || end <= start {
            return first;
        }
        start = end;
    }
}
