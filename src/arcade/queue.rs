//! Whose turn is next: a heap in the fliers themselves, so that no memory is asked for.

use core::cmp::Ordering;

use super::ball::Ball;
use crate::terrain::World;

/// Something that flies like a ball.
pub(super) trait Flier {
    fn ball(&self) -> &Ball;
    fn ball_mut(&mut self) -> &mut Ball;
    /// Flies through a tick of so many seconds if nothing can happen to it on the way; returns whether it did.
    fn fly_free(&mut self, whole: f64, world: &World) -> bool;
    /// Begins a tick of so many seconds.
    fn begin(&mut self, whole: f64);
    /// Ends it.
    fn end(&mut self);
}

/// The fliers of a tick, in the order of their turns.
pub(super) struct Queue<'a, F> {
    pub(super) fliers: &'a mut [F],
}

impl<'a, F: Flier> Queue<'a, F> {
    pub(super) fn new(fliers: &'a mut [F]) -> Self {
        let mut queue = Self { fliers };
        (0..queue.fliers.len()).for_each(|number| queue.fliers[number].ball_mut().flight.turn = [number; 2]);
        (0..queue.fliers.len() / 2).rev().for_each(|place| queue.down(place));
        queue
    }

    /// The flier whose turn is first, if any has one.
    pub(super) fn first(&self) -> Option<usize> {
        let first = self.fliers.first()?.ball().flight.turn[0];
        self.fliers[first].ball().flight.next.is_finite().then_some(first)
    }

    /// The turn of a flier has moved.
    pub(super) fn moved(&mut self, number: usize) {
        let mut place = self.fliers[number].ball().flight.turn[1];
        while place > 0 && self.is_before(place, (place - 1) / 2) {
            self.swap(place, (place - 1) / 2);
            place = (place - 1) / 2;
        }
        self.down(place);
    }

    fn down(&mut self, mut place: usize) {
        loop {
            let after = [2 * place + 1, 2 * place + 2].into_iter().filter(|after| *after < self.fliers.len());
            let first =
                after.fold(place, |first, after| if self.is_before(after, first) { after } else { first });
            if first == place {
                return;
            }
            self.swap(place, first);
            place = first;
        }
    }

    /// Whose turn a place holds.
    fn at(&self, place: usize) -> usize {
        self.fliers[place].ball().flight.turn[0]
    }

    fn is_before(&self, one: usize, other: usize) -> bool {
        let [one, other] = [one, other].map(|place| self.at(place));
        let order = order(self.fliers[one].ball(), self.fliers[other].ball());
        order.then(one.cmp(&other)).is_lt()
    }

    fn swap(&mut self, one: usize, other: usize) {
        let fliers = [one, other].map(|place| self.at(place));
        for (place, flier) in [(one, fliers[1]), (other, fliers[0])] {
            self.fliers[place].ball_mut().flight.turn[0] = flier;
            self.fliers[flier].ball_mut().flight.turn[1] = place;
        }
    }
}

/// Whose turn is before the other's. At one instant, places and velocities decide.
fn order(one: &Ball, other: &Ball) -> Ordering {
    let key = |ball: &Ball| {
        let (position, velocity) = (ball.position, ball.velocity);
        [position.x, position.y, velocity.x, velocity.y]
    };
    let pairs = key(one).into_iter().zip(key(other));
    let by_place = || pairs.fold(Ordering::Equal, |order, (one, two)| order.then(one.total_cmp(&two)));
    one.flight.next.total_cmp(&other.flight.next).then_with(by_place)
}
