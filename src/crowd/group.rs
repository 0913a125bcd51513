//! A group of movers that may meet in this tick, played together from event to event.

use alloc::rc::Rc;
use alloc::vec::Vec;
use core::cell::RefCell;

use glam::{DVec2, Vec2};

use super::grown;
use super::last_pieces::{LastPieces, Start};
use super::member::{Member, Still, Wish, gap};
use super::rounds::Touch;
use crate::shape::Aabb;
use crate::terrain::{FoundWall, Terrain, WallFilter};
use crate::tolerance::{
    BOW_IN_CROWD, MOST_IN_CROWD, MOST_RELEASED, NEIGHBOURS_MEET, NEIGHBOURS_TOUCH, TICK_IS_OVER,
    TOUCH_IN_CROWD,
};
use crate::travel::MoveResult;
use crate::walker::Path;

/// Two movers that touched before, by their numbers.
pub(super) type Known = (usize, usize);

/// Movers that may meet, in an order that does not depend on that of the list.
pub(super) struct Group<'a> {
    pub(super) members: Vec<Member<'a>>,
    pub(super) terrain: &'a dyn Terrain,
    /// Whether nothing moves in it where they are.
    pub(super) stands_still: bool,
    /// The last pieces of each.
    pub(super) pieces: Vec<RefCell<LastPieces<'a>>>,
}

impl<'a> Group<'a> {
    pub(super) fn new(mut members: Vec<Member<'a>>, terrain: &'a dyn Terrain, stands_still: bool) -> Self {
        members.sort_by(Member::order);
        let pieces = members.iter().map(|_| RefCell::default()).collect();
        Self { members, terrain, stands_still, pieces }
    }

    pub(super) fn members(&self) -> impl Iterator<Item = &Member<'a>> {
        self.members.iter()
    }

    /// Whether these are its members, by their numbers in ascending order.
    pub(super) fn is_of(&self, numbers: &[usize]) -> bool {
        self.members.len() == numbers.len()
            && self.members.iter().all(|member| numbers.binary_search(&member.number).is_ok())
    }

    /// The movers as they are at the end: their numbers, states, results and paths.
    pub(super) fn into_moved(self) -> impl Iterator<Item = (usize, Still, MoveResult, Path)> {
        self.members
            .into_iter()
            .map(|member| (member.number, member.walker.with_drive(()), member.result, member.path))
    }

    /// Plays a tick of `dt` seconds.
    pub(super) fn play(&mut self, dt: f32) {
        self.play_from(0.0, dt, Vec::new());
        for member in &mut self.members {
            member.path.end_at(dt, member.walker.exact_position());
            member.result.seconds = dt;
        }
    }

    /// Plays a part of the tick, from its start in seconds on. Those that are known touched before.
    pub(super) fn play_from(&mut self, start: f64, dt: f32, mut known: Vec<Known>) {
        let (whole, mut now) = (start + f64::from(dt), start);
        let (mut next, mut meets_wall) = (None, false);
        for piece in 0..=MOST_IN_CROWD {
            #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
            let rest = (whole - now) as f32;
            if rest <= dt * TICK_IS_OVER {
                break;
            }
            let touches = self.touches();
            let lasts = if touches.is_empty() {
                (next, meets_wall) = (None, false);
                self.fly(now, rest)
            } else if piece == MOST_IN_CROWD {
                self.play_rest(now, rest, &touches);
                rest
            } else if let Some(lasts) = self.play_apart(now, rest, &known) {
                (next, meets_wall) = (None, false);
                now += f64::from(lasts);
                known = self.numbers(&self.touches());
                continue;
            } else {
                // What a new touch leaves of their velocities decides how they go on; among many, no single one does.
                let is_few = touches.len() <= MOST_RELEASED;
                let is_new = meets_wall || is_few && self.collide(&touches, &known);
                let before = self.states();
                let most = if is_new { TOUCH_IN_CROWD.min(rest) } else { self.piece(now, rest, &touches) };
                let (played, after) = self.play_piece(now, most, rest, &touches, next.take());
                (next, meets_wall) = (after, played.meets_wall);
                if self.stands_still && !is_new && !meets_wall && self.states() == before {
                    // All of them stand, and the rest of the tick is the same again.
                    break;
                }
                played.lasts
            };
            now += f64::from(lasts);
            known = self.numbers(&touches);
        }
    }

    /// The numbers of those that touch.
    fn numbers(&self, touches: &[Touch]) -> Vec<Known> {
        let number = |place: usize| self.members[place].number;
        touches.iter().map(|touch| (number(touch.one), number(touch.other))).collect()
    }

    /// Where they all are and how they move.
    fn states(&self) -> Vec<Still> {
        self.members.iter().map(|member| member.walker.with_drive(())).collect()
    }

    /// Whether some that did not touch before come to each other.
    fn collide(&self, touches: &[Touch], known: &[Known]) -> bool {
        touches.iter().zip(self.numbers(touches)).any(|(touch, numbers)| {
            let [one, other] = [touch.one, touch.other].map(|place| self.members[place].walker.velocity);
            (one - other).dot(touch.normal) < 0.0 && !known.contains(&numbers)
        })
    }

    /// Pairs whose boxes, each grown by a distance, overlap.
    pub(super) fn pairs(&self, boxes: &[Aabb]) -> Vec<(usize, usize)> {
        let mut order: Vec<usize> = (0..boxes.len()).collect();
        order.sort_by(|one, other| boxes[*one].min.x.total_cmp(&boxes[*other].min.x));
        let mut pairs = Vec::new();
        for (place, one) in order.iter().enumerate() {
            let near =
                order[place + 1..].iter().take_while(|other| boxes[**other].min.x <= boxes[*one].max.x);
            let near = near.filter(|other| boxes[*one].overlaps(&boxes[**other]));
            pairs.extend(near.map(|other| (*one.min(other), *one.max(other))));
        }
        pairs.sort_unstable();
        pairs
    }

    /// Those that touch now.
    #[expect(clippy::cast_possible_truncation, reason = "a tolerance, and a normal rounded once")]
    pub(super) fn touches(&self) -> Vec<Touch> {
        let boxes: Vec<Aabb> =
            self.members.iter().map(|member| grown(member.lies(), 2.0 * NEIGHBOURS_TOUCH as f32)).collect();
        let touch = |(one, other): (usize, usize)| {
            let (apart, normal) = self.gap(one, other);
            (apart <= NEIGHBOURS_TOUCH).then_some(Touch {
                one,
                other,
                normal: normal.as_vec2(),
                apart: 0.0,
                after: 0.0,
            })
        };
        self.pairs(&boxes).into_iter().filter_map(touch).collect()
    }

    /// What a mover would do alone in the `lasts` seconds from an instant on.
    pub(super) fn wish(&self, place: usize, now: f64, lasts: f32) -> Rc<Wish<'a>> {
        self.wish_beside(place, self.members[place].walker.velocity, now, lasts, &[])
    }

    /// The same beside some more walls, with another velocity at first.
    pub(super) fn wish_beside(
        &self,
        place: usize,
        velocity: Vec2,
        now: f64,
        lasts: f32,
        walls: &[FoundWall],
    ) -> Rc<Wish<'a>> {
        let (member, mut pieces) = (&self.members[place], self.pieces[place].borrow_mut());
        let mut walker = member.walker.with_drive(());
        walker.velocity = velocity;
        let start = Start { walker, now: (!self.stands_still).then_some(now), lasts, walls: walls.to_vec() };
        pieces.find(&start).unwrap_or_else(|| {
            let wish = Rc::new(member.wish_beside(velocity, now, lasts, self.terrain, walls));
            pieces.keep(start, wish.clone());
            wish
        })
    }

    pub(super) fn gap(&self, one: usize, other: usize) -> (f64, DVec2) {
        let [one, other] = [one, other].map(|place| &self.members[place]);
        gap((one, &one.walker), (other, &other.walker))
    }

    /// Lets all go on alone for at most so many seconds, up to where two of them touch; returns for how long.
    fn fly(&mut self, now: f64, rest: f32) -> f32 {
        let flights: Vec<(Wish<'a>, Path)> =
            self.members.iter().map(|member| member.flight(now, rest, self.terrain)).collect();
        let boxes: Vec<Aabb> = self
            .members
            .iter()
            .zip(&flights)
            .map(|(member, (_, path))| {
                let ways = path.pieces().iter().map(|piece| member.walker.footprint.at(piece.to));
                grown(ways.fold(member.lies(), |all, area| all.joined(&area)), BOW_IN_CROWD)
            })
            .collect();
        let meets = self.pairs(&boxes).into_iter().filter_map(|(one, other)| {
            let meets = self.meets((one, &flights[one].1), (other, &flights[other].1))?;
            Some((meets, (one, other)))
        });
        let mut meets: Vec<(f32, (usize, usize))> = meets.collect();
        meets.sort_by(|(one, _), (other, _)| one.total_cmp(other));
        // Some of them only graze each other.
        let touch = meets.into_iter().find_map(|(meets, pair)| self.touch_at(now, meets, rest, pair));
        let Some(lasts) = touch.map(|lasts| lasts.max(f32::EPSILON * rest)) else {
            for (member, flight) in self.members.iter_mut().zip(flights) {
                member.fly_on(&flight, now, rest);
            }
            return rest;
        };
        for member in &mut self.members {
            let flight = member.flight(now, lasts, self.terrain);
            member.fly_on(&flight, now, lasts);
        }
        lasts
    }

    /// When two movers on their paths meet, in seconds.
    fn meets(&self, one: (usize, &Path), other: (usize, &Path)) -> Option<f32> {
        let [first, second] = [one.0, other.0].map(|place| &self.members[place]);
        let (mut ones, mut others) = (one.1.pieces().iter().peekable(), other.1.pieces().iter().peekable());
        while let (Some(piece), Some(beside)) = (ones.peek(), others.peek()) {
            let (start, end) = (piece.start.max(beside.start), piece.end.min(beside.end));
            let [from, at] = [piece, beside].map(|piece| piece.from + piece.velocity * (start - piece.start));
            let there = at.as_dvec2() - second.walker.exact_position();
            let wall = second.as_wall(&second.walker).shifted(there).with_velocity(beside.velocity);
            let filter = WallFilter::ALL.during(0.0, end - start);
            let hit = wall.sweep(&first.walker.footprint, from, piece.velocity * (end - start), &filter);
            if let Some(hit) = hit {
                return Some(start + hit.fraction * (end - start));
            }
            if piece.end <= end {
                ones.next();
            }
            if others.peek().is_some_and(|beside| beside.end <= end) {
                others.next();
            }
        }
        None
    }

    /// When two movers that meet about then touch exactly, in seconds; none if they only graze.
    #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
    fn touch_at(&self, now: f64, about: f32, rest: f32, (one, other): (usize, usize)) -> Option<f32> {
        let [one, other] = [one, other].map(|place| &self.members[place]);
        let apart = |lasts: f32| {
            if lasts <= 0.0 {
                return gap((one, &one.walker), (other, &other.walker)).0;
            }
            // Each look has a length of its own: nothing of it is taken again.
            let [first, second] = [one, other].map(|member| {
                member.wish_beside(member.walker.velocity, now, lasts, self.terrain, &[]).walker
            });
            gap((one, &first), (other, &second)).0
        };
        let touches = |apart: f64| (0.0..=NEIGHBOURS_MEET).contains(&apart);
        // The paths deviate a little: the touch is a little before or after.
        let (mut before, mut after, mut by) = (about, about, 1e-6f32.max(rest * 1e-4));
        while before > 0.0 && apart(before) < 0.0 {
            (after, before) = (before, (before - by).max(0.0));
            by *= 4.0;
        }
        by = 1e-6f32.max(rest * 1e-4);
        while after < rest && apart(after) > NEIGHBOURS_MEET {
            (before, after) = (after, (after + by).min(rest));
            by *= 4.0;
        }
        for _ in 0..40 {
            let found = apart(before);
            if touches(found) || found < 0.0 {
                break;
            }
            let middle = f64::midpoint(before.into(), after.into()) as f32;
            if apart(middle) < 0.0 { after = middle } else { before = middle }
        }
        (touches(apart(before)) || apart(after) < 0.0).then_some(before)
    }
}

#[cfg(test)]
mod tests {
    use core::cell::Cell;

    use proptest::prelude::*;

    use super::*;
    use crate::drive::Drive;
    use crate::intent::Intent;
    use crate::prelude::*;
    use crate::random::random;

    /// A touch is found from before it and from behind it.
    #[test]
    fn wherever_its_search_begins_a_touch_is_where_both_meet() {
        let (before, behind) = (Cell::new(0), Cell::new(0));
        proptest!(random(500), |(speed in 1.0f32..50.0, gap in 0.1f32..2.0, off in -0.3f32..0.3)| {
            let (world, pace, shape) = (World::new(), Pace::new(speed).unwrap(), Footprint::circle(1.0).unwrap());
            let members = [(0.0, Intent::new(Vec2::X)), (2.0 + gap, Intent::NONE)].map(|(x, intent)| {
                let walker = Walker::new(vec2(x, 0.0), shape, &pace as &dyn Drive);
                Member::new(0, Wall::Edge(Side::Left), walker, intent)
            });
            let (group, touch) = (Group::new(members.into(), &world, true), gap / speed);
            let found = group.touch_at(0.0, touch * (1.0 + off), 2.0 * touch, (0, 1)).unwrap();
            prop_assert!((found - touch).abs() * speed < 1e-5, "{found} {touch}");
            let count = if off < 0.0 { &before } else { &behind };
            count.set(count.get() + 1);
        });
        assert!(before.get() > 150 && behind.get() > 150, "{} {}", before.get(), behind.get());
    }
}
