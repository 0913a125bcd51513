//! Which movers may meet in a tick: each has a box that it does not leave alone, and boxes that overlap are one group.

use alloc::vec::Vec;

use glam::Vec2;

use super::grown;
use crate::shape::Aabb;
use crate::tolerance::{BOW_IN_CROWD, NEIGHBOURS_TOUCH};

/// The boxes of all movers, and the groups that they form.
#[derive(Debug, Clone, Default)]
pub(super) struct Neighbours {
    boxes: Vec<Option<Aabb>>,
    /// How many times its reach the box of each is grown.
    factors: Vec<f32>,
    /// All of them, from left to right.
    order: Vec<usize>,
    /// The boxes in this order.
    sorted: Vec<(Aabb, usize)>,
    /// Those that have a neighbour.
    joined: Vec<usize>,
    /// Another one of the same group, or itself.
    parents: Vec<usize>,
}

impl Neighbours {
    pub(super) fn begin(&mut self, count: usize) {
        self.factors.clear();
        self.factors.resize(count, 1.0);
        self.boxes.clear();
        self.boxes.resize(count, None);
    }

    /// Sets where a mover is at the start, and how far it gets, up to what pieces deviate.
    #[expect(clippy::cast_possible_truncation, reason = "a tolerance")]
    pub(super) fn set(&mut self, number: usize, lies: Option<(Aabb, f32)>) {
        let factor = self.factors[number];
        self.boxes[number] = lies.map(|(area, reach)| {
            let size = area.size().max_element();
            let by = reach * factor * 1.01
                + NEIGHBOURS_TOUCH as f32
                + 2.0 * BOW_IN_CROWD
                + if factor > 1.0 { size } else { 0.0 };
            grown(area, by)
        });
    }

    /// The box around those of some movers.
    pub(super) fn area_of(&self, numbers: &[usize]) -> Aabb {
        let boxes = numbers.iter().filter_map(|number| self.boxes[*number]);
        let all = boxes.reduce(|all, area| all.joined(&area));
        all.unwrap_or(Aabb { min: Vec2::ZERO, max: Vec2::ZERO })
    }

    /// Whether a mover that is there has got further than its box.
    pub(super) fn has_left(&self, number: usize, lies: &Aabb) -> bool {
        self.boxes[number].is_some_and(|area| !area.surrounds(lies))
    }

    /// Lets a mover get further.
    pub(super) fn widen(&mut self, number: usize) {
        self.factors[number] *= 4.0;
    }

    /// Finds the groups.
    pub(super) fn divide(&mut self) {
        let Self { boxes, order, sorted, joined, parents, .. } = self;
        parents.clear();
        joined.clear();
        parents.extend(0..boxes.len());
        if order.len() != boxes.len() {
            order.clear();
            order.extend(0..boxes.len());
        }
        // From one tick to the next, the order hardly changes.
        let left = |number: &usize| boxes[*number].map_or(f32::INFINITY, |area| area.min.x);
        order.sort_by(|one, other| left(one).total_cmp(&left(other)));
        sorted.clear();
        sorted.extend(order.iter().filter_map(|number| Some((boxes[*number]?, *number))));
        for (place, (area, one)) in sorted.iter().enumerate() {
            for (beside, other) in &sorted[place + 1..] {
                if beside.min.x > area.max.x {
                    break;
                }
                if beside.min.y <= area.max.y && area.min.y <= beside.max.y {
                    join(parents, *one, *other);
                    joined.extend([*one, *other]);
                }
            }
        }
    }

    /// The groups of more than one.
    pub(super) fn groups(&mut self) -> Vec<Vec<usize>> {
        let Self { joined, parents, .. } = self;
        joined.sort_unstable();
        joined.dedup();
        let mut members: Vec<(usize, usize)> =
            joined.iter().map(|number| (root(parents, *number), *number)).collect();
        members.sort_unstable();
        let groups = members.chunk_by(|one, other| one.0 == other.0).filter(|group| group.len() > 1);
        groups.map(|group| group.iter().map(|(_, number)| *number).collect()).collect()
    }
}

pub(super) fn root(parents: &mut [usize], mut number: usize) -> usize {
    while parents[number] != number {
        parents[number] = parents[parents[number]];
        number = parents[number];
    }
    number
}

pub(super) fn join(parents: &mut [usize], one: usize, other: usize) {
    let (one, other) = (root(parents, one), root(parents, other));
    parents[one.max(other)] = one.min(other);
}
