//! Simultaneous rounds: every mover of a group starts from its own wish and takes the nearest velocity that its neighbours
//! allow, given what these did in the round before.

use alloc::vec;
use alloc::vec::Vec;

use glam::Vec2;

use crate::tolerance::{NO_CONFLICT, ROUNDING_IN_CROWD};
use crate::travel::{Limit, nearest_velocity};

/// Two movers that touch, or come to touch within a piece.
#[derive(Debug, Clone, Copy)]
pub(super) struct Touch {
    pub(super) one: usize,
    pub(super) other: usize,
    /// From the other one to the first one.
    pub(super) normal: Vec2,
    /// What is left between them along it at the start of the piece, in units; 0 if they touch.
    pub(super) apart: f32,
    /// After how long they meet, in seconds; 0 if they touch.
    pub(super) after: f32,
}

impl Touch {
    /// Whether they do not touch yet.
    pub(super) fn is_near(&self) -> bool {
        self.apart > 0.0
    }

    /// As each of the two sees it, with itself as the first one.
    pub(super) fn both_ways(&self) -> [Self; 2] {
        [*self, Self { one: self.other, other: self.one, normal: -self.normal, ..*self }]
    }

    /// How far each of the two may come to the other, in units: the more, the more it wants to.
    fn parts(&self, wishes: &[Vec2]) -> [f32; 2] {
        let comes = |mover: usize, toward: Vec2| wishes[mover].dot(toward).max(0.0);
        let comes = [comes(self.one, -self.normal), comes(self.other, self.normal)];
        let both = comes[0] + comes[1];
        if both > 0.0 { comes.map(|come| self.apart * (come / both)) } else { [self.apart * 0.5; 2] }
    }
}

/// What each of them wants and must.
#[derive(Debug, Clone, Default)]
pub(super) struct Wants {
    /// The velocity that each takes alone.
    pub(super) wishes: Vec<Vec2>,
    /// With which velocity a wall pushes it.
    pub(super) pushes: Vec<Vec2>,
    /// The walls that it must not enter.
    pub(super) walls: Vec<Vec<Limit>>,
}

impl Wants {
    /// Lets walls push those that they reach and that neighbours keep from getting away, and those faster that they push already;
    /// returns whether there is a new push.
    pub(super) fn push_those_that_are_reached(&mut self, agreed: &Agreed) -> bool {
        let mut is_new = false;
        for (place, walls) in self.walls.iter().enumerate() {
            let (reach, push) = (walls.iter().filter(|wall| wall.least > 0.0), &mut self.pushes[place]);
            let has = if *push == Vec2::ZERO { agreed.velocities[place] } else { *push };
            let is_slower = |wall: &Limit| f64::from(wall.least - has.dot(wall.normal)) > NO_CONFLICT;
            if reach.clone().any(is_slower) {
                let more = nearest_velocity(*push, reach.copied()).unwrap_or(*push);
                is_new |= *push != more;
                *push = more;
            }
        }
        is_new
    }
}

/// What the rounds came to.
#[derive(Debug, Clone)]
pub(super) struct Agreed {
    pub(super) velocities: Vec<Vec2>,
    /// What walls push each of them with, at first or second hand.
    pub(super) pushed: Vec<Vec2>,
    /// Those that are pushed and cannot yield, with the neighbour that pushes; none if a wall does.
    pub(super) squeezed: Vec<(usize, Option<usize>)>,
}

impl Agreed {
    /// Whether a wall pushes a mover, at first or second hand.
    pub(super) fn is_pushed(&self, mover: usize) -> bool {
        self.pushed[mover] != Vec2::ZERO
    }

    /// Whether a mover is pushed and cannot yield.
    pub(super) fn is_squeezed(&self, mover: usize) -> bool {
        self.squeezed.iter().any(|(squeezed, _)| *squeezed == mover)
    }
}

/// A neighbour of one of them.
struct Neighbour {
    other: usize,
    /// The normal from there.
    normal: Vec2,
    /// How fast both together may come closer, and how fast this one by itself, in units/s.
    room: f32,
    part: f32,
}

/// Finds the velocities of all of them in a piece of so many seconds.
pub(super) fn agree(wants: &Wants, touches: &[Touch], lasts: f32) -> Agreed {
    let count = wants.wishes.len();
    let mut beside: Vec<Vec<Neighbour>> = (0..count).map(|_| Vec::new()).collect();
    for touch in touches {
        let parts = touch.parts(&wants.wishes);
        for (Touch { one, other, normal, apart, .. }, part) in touch.both_ways().into_iter().zip(parts) {
            beside[one].push(Neighbour { other, normal, room: apart / lasts, part: part / lasts });
        }
    }
    let pushes = Pushes::find(wants, &beside);
    let mut stands = vec![false; count];
    let velocities = loop {
        let velocities = rounds(wants, &beside, &pushes, &stands);
        let mut found = false;
        for touch in touches {
            let [one, other] = [touch.one, touch.other].map(|mover| velocities[mover]);
            let closer = -f64::from((one - other).dot(touch.normal) + touch.apart / lasts);
            if closer > NO_CONFLICT && !(stands[touch.one] && stands[touch.other]) {
                (stands[touch.one], stands[touch.other], found) = (true, true, true);
            }
        }
        if !found {
            break velocities;
        }
    };
    let Pushes { pushed, stuck } = pushes;
    let squeezed = stuck.into_iter().enumerate().filter_map(|(mover, stuck)| Some((mover, stuck?)));
    Agreed { velocities, pushed, squeezed: squeezed.collect() }
}

/// The pushes of walls, passed on from neighbour to neighbour.
struct Pushes {
    /// The velocity that each must at least have, and passes on.
    pushed: Vec<Vec2>,
    /// Movers that are pushed but have no room, each with the mover that pushes it; a wall is no mover.
    stuck: Vec<Option<Option<usize>>>,
}

impl Pushes {
    fn find(wants: &Wants, beside: &[Vec<Neighbour>]) -> Self {
        let count = beside.len();
        let mut found = Self { pushed: wants.pushes.clone(), stuck: vec![None; count] };
        if found.pushed.iter().all(|push| *push == Vec2::ZERO) {
            return found;
        }
        loop {
            found.pass_on(wants, beside);
            let mut is_new = false;
            for mover in 0..count {
                let push = found.pushed[mover];
                if push == Vec2::ZERO {
                    continue;
                }
                let own = as_limit(wants.pushes[mover]);
                let stuck = beside[mover].iter().filter(|beside| found.stuck[beside.other].is_some());
                let stuck = stuck.map(|beside| Limit { normal: beside.normal, least: -beside.room });
                let limits = found.limits(mover, beside).map(|(limit, _)| limit).chain(own);
                let limits = limits.chain(stuck).chain(wants.walls[mover].iter().copied());
                if nearest_velocity(push, limits).is_none() {
                    let by = found.limits(mover, beside).map(|(_, by)| by).next();
                    found.stuck[mover] = Some(by);
                    is_new = true;
                }
            }
            if !is_new {
                return found;
            }
        }
    }

    /// What the neighbours of a mover that are pushed ask of it.
    fn limits<'a>(
        &'a self,
        mover: usize,
        beside: &'a [Vec<Neighbour>],
    ) -> impl Iterator<Item = (Limit, usize)> + Clone + 'a {
        beside[mover].iter().filter_map(|Neighbour { other, normal, room, .. }| {
            let least = self.pushed[*other].dot(*normal) - room;
            (least > 0.0).then_some((Limit { normal: *normal, least }, *other))
        })
    }

    /// Passes the pushes of the walls on. A mover without room passes on none.
    fn pass_on(&mut self, wants: &Wants, beside: &[Vec<Neighbour>]) {
        let own = |stuck: &[Option<Option<usize>>], mover: usize| {
            if stuck[mover].is_some() { Vec2::ZERO } else { wants.pushes[mover] }
        };
        self.pushed = (0..beside.len()).map(|mover| own(&self.stuck, mover)).collect();
        for _ in 0..=beside.len() {
            let next: Vec<Vec2> = (0..beside.len())
                .map(|mover| {
                    let own = own(&self.stuck, mover);
                    if self.stuck[mover].is_some() {
                        return own;
                    }
                    // The push of a wall goes on counting: two walls may push two neighbours against each other.
                    let limits = self.limits(mover, beside).map(|(limit, _)| limit).chain(as_limit(own));
                    nearest_velocity(own, limits).unwrap_or(own)
                })
                .collect();
            if next == self.pushed {
                break;
            }
            self.pushed = next;
        }
    }
}

/// A push as what a velocity must at least have.
fn as_limit(push: Vec2) -> Option<Limit> {
    push.try_normalize().map(|normal| Limit { normal, least: push.length() })
}

/// The velocities if some of them stand. Where only roundings are in the way of one that is pushed and can yield, it goes as it is
/// pushed.
fn rounds(
    wants: &Wants,
    beside: &[Vec<Neighbour>],
    Pushes { pushed, stuck }: &Pushes,
    stands: &[bool],
) -> Vec<Vec2> {
    let mut velocities = wants.wishes.clone();
    // Where no neighbour changed its velocity in the last round, this one comes to the same.
    let mut is_open = vec![true; velocities.len()];
    let mut limits: Vec<Limit> = Vec::new();
    for _ in 0..=velocities.len() {
        let before = velocities.clone();
        for (mover, wish) in wants.wishes.iter().enumerate().filter(|(mover, _)| is_open[*mover]) {
            let neighbours = beside[mover].iter().map(|Neighbour { other, normal, room, part }| {
                let push = pushed[*other].dot(*normal);
                let yields = before[*other].dot(*normal).min(pushed[mover].dot(*normal)).min(0.0) - part;
                Limit { normal: *normal, least: if push > 0.0 { push - room } else { yields } }
            });
            limits.clear();
            limits.extend(neighbours.chain(wants.walls[mover].iter().copied()));
            let wish = if stands[mover] { Vec2::ZERO } else { *wish };
            let left = nearest_velocity(wish, limits.iter().copied()).unwrap_or_else(|| {
                if pushed[mover] != Vec2::ZERO && stuck[mover].is_none() {
                    return pushed[mover];
                }
                let yielding = limits.iter().map(|limit| Limit { least: limit.least.min(0.0), ..*limit });
                nearest_velocity(wish, yielding).unwrap_or(Vec2::ZERO)
            });
            let is_rounding = pushed[mover] == Vec2::ZERO
                && left.length_squared() <= (ROUNDING_IN_CROWD * ROUNDING_IN_CROWD) * wish.length_squared();
            velocities[mover] = if is_rounding { Vec2::ZERO } else { left };
        }
        is_open.fill(false);
        for mover in (0..velocities.len()).filter(|mover| before[*mover] != velocities[*mover]) {
            beside[mover].iter().for_each(|beside| is_open[beside.other] = true);
        }
        if !is_open.contains(&true) {
            break;
        }
    }
    velocities
}

#[cfg(test)]
mod tests {
    use core::cell::Cell;

    use proptest::prelude::*;

    use super::*;
    use crate::random::random;

    /// Two that only come close may come to touch, and no closer; until then, neither is kept from what it wants, and the one that stands
    /// still takes nothing of the room. If a wall pushes one of them, it goes as it is pushed, and the other one yields, but not sooner.
    #[test]
    fn two_that_come_close_end_a_piece_touching_if_their_wishes_lead_so_far() {
        let (touch, free) = (Cell::new(0), Cell::new(0));
        proptest!(random(1000), |(
            ones in (0.0f32..6.3, 0.0f32..9.0), others in (0.0f32..6.3, 0.0f32..9.0), stands in any::<bool>(),
            is_pushed in any::<bool>(), angle in 0.0f32..6.3, apart in 1e-4f32..0.01, lasts in 1e-4f32..4e-3,
        )| {
            let [one, other] = [ones, others].map(|(angle, speed)| Vec2::from_angle(angle) * speed);
            let (wishes, normal) = (vec![one, if stands { Vec2::ZERO } else { other }], Vec2::from_angle(angle));
            let closer = |velocities: &[Vec2]| (velocities[1] - velocities[0]).dot(normal) * lasts;
            let pushes = vec![Vec2::ZERO, if is_pushed { wishes[1] } else { Vec2::ZERO }];
            let wants = Wants { wishes: wishes.clone(), pushes, walls: vec![Vec::new(); 2] };
            let Agreed { velocities: agreed, pushed, .. } = agree(&wants, &[Touch { one: 0, other: 1, normal, apart, after: 0.0 }], lasts);
            prop_assert!(!is_pushed || agreed[1] == wishes[1], "{agreed:?}");
            let passed_on = if is_pushed { (wishes[1].dot(normal) - apart / lasts).max(0.0) } else { 0.0 };
            prop_assert!((pushed[0].length() - passed_on).abs() < 1e-4, "{pushed:?} {passed_on}");
            let wanted = closer(&wishes);
            prop_assert!((closer(&agreed) - wanted.min(apart)).abs() < 1e-6, "{agreed:?} {wanted} {apart}");
            prop_assert!(wanted > apart || agreed == wishes, "{agreed:?}");
            let count = if wanted > apart { &touch } else { &free };
            count.set(count.get() + 1);
        });
        assert!(touch.get() > 150 && free.get() > 300, "{} {}", touch.get(), free.get());
    }

    /// Two walls that push two neighbours against each other squeeze both.
    #[test]
    fn two_that_are_pushed_against_each_other_are_squeezed() {
        let pushes = vec![Vec2::X * 3.0, Vec2::NEG_X * 2.0];
        let wants = Wants { wishes: vec![Vec2::ZERO; 2], pushes, walls: vec![Vec::new(); 2] };
        let agreed =
            agree(&wants, &[Touch { one: 0, other: 1, normal: Vec2::NEG_X, apart: 0.0, after: 0.0 }], 1.0);
        assert!(agreed.is_squeezed(0) && agreed.is_squeezed(1), "{agreed:?}");
    }
}
