//! Parts of a group that cannot meet within a short time are played one by one: what happens in one of them plans nothing anew in
//! the others.

use alloc::vec::Vec;
use core::cell::RefCell;

use super::group::{Group, Known};
use super::grown;
use super::member::Member;
use super::neighbours::{join, root};
use crate::shape::Aabb;
use crate::tolerance::{BOW_IN_CROWD, LONGEST_IN_CROWD, REACH_IN_CROWD};

impl Group<'_> {
    /// Plays each part of the group for a short time, and returns for how many seconds; plays nothing if there is only one part, or if
    /// a mover gets further than it could alone.
    pub(super) fn play_apart(&mut self, now: f64, rest: f32, known: &[Known]) -> Option<f32> {
        let lasts = LONGEST_IN_CROWD.min(rest);
        let reached: Vec<Aabb> =
            (0..self.members.len()).map(|place| self.reached(place, now, lasts)).collect();
        let mut parts: Vec<usize> = (0..reached.len()).collect();
        self.pairs(&reached).into_iter().for_each(|(one, other)| join(&mut parts, one, other));
        let parts: Vec<usize> = (0..reached.len()).map(|place| root(&mut parts, place)).collect();
        if parts.iter().all(|part| *part == parts[0]) {
            return None;
        }
        let before = self.members.clone();
        let mut members: Vec<Option<Member<'_>>> = self.members.drain(..).map(Some).collect();
        for part in (0..parts.len()).filter(|place| parts[*place] == *place) {
            let places: Vec<usize> = (part..parts.len()).filter(|place| parts[*place] == part).collect();
            let mut group = Self {
                members: places.iter().filter_map(|place| members[*place].take()).collect(),
                pieces: places.iter().map(|place| RefCell::new(self.pieces[*place].take())).collect(),
                ..*self
            };
            group.play_from(now, lasts, known.to_vec());
            for ((place, member), pieces) in places.into_iter().zip(group.members).zip(group.pieces) {
                (members[place], self.pieces[place]) = (Some(member), pieces);
            }
        }
        self.members = members.into_iter().flatten().collect();
        let stay =
            self.members.iter().zip(&reached).all(|(member, reached)| reached.surrounds(&member.lies()));
        if !stay {
            self.members = before;
            return None;
        }
        Some(lasts)
    }

    /// The box that a mover does not leave within so many seconds, if nothing pushes it.
    fn reached(&self, place: usize, now: f64, lasts: f32) -> Aabb {
        let (member, wish) = (&self.members[place], self.wish(place, now, lasts));
        let speeds =
            [member.walker.velocity, wish.walker.velocity, wish.velocity].map(|velocity| velocity.length());
        let fastest = speeds.into_iter().fold(0.0, f32::max);
        grown(member.lies(), REACH_IN_CROWD * fastest * lasts + 2.0 * BOW_IN_CROWD)
    }
}
