//! Whether a scene ends at the same place at every tick rate, and what made it differ if not.

use std::fmt;

use ambulant::prelude::*;
use ambulant::touch_tolerance;

use super::play::{Met, Nudge, Run, play, play_nudged};
use super::scene::{Class, Scene};

/// The tick rates that are compared, in ticks per second.
pub(super) const RATES: [u32; 6] = [7, 30, 60, 144, 240, 1000];
/// Ends further apart than this differ, in units.
pub(super) const APART: f32 = 0.02;
/// An approach slower than this along the normal is a graze, in units/s.
const SLOW: f32 = 1.0;
/// Why two runs of a scene differ.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cause {
    /// The first contact that only one of the runs has is one at less than 1 unit/s along its normal.
    SlowApproach,
    /// At one and the same rate the scene ends elsewhere, too, where the mover is nudged by the touch tolerance or ten times that,
    /// still far below what a path may deviate, in the two seconds before: it is balanced on a round wall, a corner or the edge
    /// of a raft, or a gap is below the tolerance.
    Balanced,
    /// A moving wall squeezed the mover in the two seconds before the runs parted, or in that second: where it comes out
    /// depends on which side is nearer.
    Squeezed,
    /// The runs do not show why.
    Unassigned,
}

/// What came of a scene.
#[derive(Debug, Clone)]
pub struct Verdict {
    /// Why it differs; `None` where it does not.
    pub cause: Option<Cause>,
    /// Whether it differs between 30, 60, 144 and 240 ticks per second.
    pub differs_at_usual_rates: bool,
    /// How far the ends are apart, in units.
    pub apart: f32,
    /// What the runs show.
    text: String,
}

impl Verdict {
    pub(super) const fn of(
        cause: Option<Cause>,
        differs_at_usual_rates: bool,
        apart: f32,
        text: String,
    ) -> Self {
        Self { cause, differs_at_usual_rates, apart, text }
    }
}

impl fmt::Display for Verdict {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:.3} units apart; {}", self.apart, self.text)
    }
}

/// Plays a scene at all rates and compares the ends.
#[must_use]
pub fn compare_rates(class: Class, seed: u64) -> Verdict {
    let scene = Scene::new(class, seed);
    let runs = RATES.map(|rate| play(&scene, rate));
    let spread = |runs: &[Run]| {
        let ends = runs.iter().flat_map(|a| runs.iter().map(move |b| a.end.distance(b.end)));
        ends.fold(0.0, f32::max)
    };
    let apart = spread(&runs);
    let differs_at_usual_rates = spread(&runs[1..5]) > APART;
    if apart <= APART {
        return Verdict { cause: None, differs_at_usual_rates, apart, text: String::new() };
    }
    let reference = &runs[RATES.len() - 1];
    let furthest = (0..RATES.len() - 1)
        .max_by(|a, b| runs[*a].end.distance(reference.end).total_cmp(&runs[*b].end.distance(reference.end)))
        .unwrap_or(0);
    let part_at = part_at(&runs[furthest], reference);
    let (mut cause, text) = explain(&runs[furthest], reference, part_at);
    if cause == Cause::Unassigned && is_balanced(&scene, reference, part_at) {
        cause = Cause::Balanced;
    }
    let is_near = |at: &&f64| (part_at - 2.0..part_at + 1.0).contains(*at);
    let is_squeezed =
        [&runs[furthest], reference].iter().any(|run| run.squeezed.iter().any(|at| is_near(&at)));
    if cause == Cause::Unassigned && is_squeezed {
        cause = Cause::Squeezed;
    }
    let text = format!("{} and {} per second: {text}", RATES[furthest], RATES[RATES.len() - 1]);
    Verdict { cause: Some(cause), differs_at_usual_rates, apart, text }
}

/// The second in which two runs part.
fn part_at(one: &Run, other: &Run) -> f64 {
    let parted = |second: &usize| one.seconds[*second].distance(other.seconds[*second]) > APART * 0.1;
    (0..one.seconds.len().min(other.seconds.len())).find(parted).map_or(0.0, |second| second as f64)
}

/// Whether a nudge within a second, or at the one before, changes the end as much, at the rate of the reference.
fn is_balanced(scene: &Scene, reference: &Run, at: f64) -> bool {
    #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded")]
    let touch = touch_tolerance(f64::from(scene.start.abs().max_element())) as f32;
    let nudges = [at, (at - 1.0).max(0.0), at + 0.25, at + 0.5, at + 0.75].into_iter().flat_map(|at| {
        let by = move |way: Vec2| [touch, 10.0 * touch].map(|far| Nudge { at, by: way * far });
        [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y].into_iter().flat_map(by)
    });
    nudges.into_iter().any(|nudge| {
        let nudged = play_nudged(scene, RATES[RATES.len() - 1], nudge);
        nudged.end.distance(reference.end) > APART
    })
}

/// The first contact that only one run has, or both at another instant.
fn explain(one: &Run, other: &Run, part_at: f64) -> (Cause, String) {
    let (one_met, other_met) = (distinct(&one.met), distinct(&other.met));
    let same = |a: &Met, b: &Met| (a.at - b.at).abs() < 2e-3 && a.normal.distance(b.normal) < 0.02;
    let place = (0..one_met.len().max(other_met.len())).find(|place| {
        match (one_met.get(*place), other_met.get(*place)) {
            (Some(a), Some(b)) => !same(a, b),
            _ => true,
        }
    });
    let Some(place) = place else {
        return (Cause::Unassigned, format!("the same contacts; apart from {part_at} s on"));
    };
    let first = [one_met.get(place), other_met.get(place)]
        .into_iter()
        .flatten()
        .min_by(|a, b| a.at.total_cmp(&b.at))
        .copied();
    let Some(met) = first else { return (Cause::Unassigned, "no contact".to_owned()) };
    let cause = if met.inward < SLOW { Cause::SlowApproach } else { Cause::Unassigned };
    let text = format!(
        "apart from {part_at} s on; first other contact at {:.4} s with {} at {} ({:.2} units/s in, {:.2} along)",
        met.at, met.wall, met.normal, met.inward, met.along
    );
    (cause, text)
}

/// Contacts without those that only go on with the same wall.
fn distinct(met: &[Met]) -> Vec<Met> {
    met.iter().filter(|met| met.inward > 1e-3).copied().collect()
}
