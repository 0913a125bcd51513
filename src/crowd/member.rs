//! One mover of a group.

use core::cmp::Ordering;

use glam::{DVec2, Vec2};

use crate::drive::Drive;
use crate::intent::Intent;
use crate::shape::Aabb;
use crate::terrain::{FoundWall, Terrain, Wall, WallFilter};
use crate::tolerance::BOW_IN_CROWD;
use crate::travel::{Contact, Contacts, MoveResult};
use crate::walker::{Later, Path, Walker};

/// A walker with any drive.
pub(super) type Mover<'a> = Walker<&'a dyn Drive>;

/// Where a walker is and how it moves.
pub(super) type Still = Walker<()>;

/// A mover of a group, as it is at an instant of the tick.
#[derive(Clone)]
pub(super) struct Member<'a> {
    pub(super) number: usize,
    pub(super) wall: Wall,
    pub(super) walker: Mover<'a>,
    intent: Intent,
    /// What the tick has come to so far.
    pub(super) result: MoveResult,
    pub(super) path: Path,
}

/// What a mover would do in a piece of the tick if it were alone.
#[derive(Clone)]
pub(super) struct Wish<'a> {
    pub(super) walker: Mover<'a>,
    pub(super) result: MoveResult,
    /// Its mean velocity over the ground, in units/s.
    pub(super) velocity: Vec2,
    /// The neighbour that it follows to the end of the piece.
    pub(super) follows: Option<usize>,
}

impl Wish<'_> {
    /// Ends the piece with another velocity.
    pub(super) fn end_with(&mut self, velocity: Vec2) {
        (self.walker.velocity, self.result.velocity) = (velocity, velocity);
    }

    /// It goes on standing, and meets only what it touches there.
    pub(super) fn go_on_standing(&mut self, was: &Mover<'_>) {
        let mut touched = Contacts::default();
        let is_there = |contact: &&Contact| contact.position.distance(was.position) <= BOW_IN_CROWD;
        self.result.contacts.iter().filter(is_there).for_each(|contact| touched.push(*contact));
        self.result.contacts = touched;
        self.stand(was);
    }

    /// It stands where it was.
    pub(super) fn stand(&mut self, was: &Mover<'_>) {
        self.walker.go_on_as(was);
        (self.walker.velocity, self.velocity) = (Vec2::ZERO, Vec2::ZERO);
        (self.result.position, self.result.velocity) = (self.walker.position, Vec2::ZERO);
    }
}

impl<'a> Member<'a> {
    pub(super) fn new(number: usize, wall: Wall, walker: Mover<'a>, intent: Intent) -> Self {
        let mut path = Path::default();
        path.begin(walker.exact_position(), walker.velocity);
        let result = MoveResult::free(walker.position, walker.velocity, 0.0);
        Self { number, wall, walker, intent, result, path }
    }

    /// The order in a group, which must not depend on that of the list.
    pub(super) fn order(&self, other: &Self) -> Ordering {
        let key = |member: &Self| {
            let Walker { position, velocity, footprint, .. } = member.walker;
            let (size, wish) = (footprint.size(), member.intent.vector());
            [position, velocity, size, wish].map(|vector| [vector.x, vector.y])
        };
        let pairs = key(self).into_iter().flatten().zip(key(other).into_iter().flatten());
        let order = pairs.fold(Ordering::Equal, |order, (one, two)| order.then(one.total_cmp(&two)));
        order.then(self.number.cmp(&other.number))
    }

    /// Its bounding box.
    pub(super) fn lies(&self) -> Aabb {
        self.walker.footprint.at(self.walker.position)
    }

    /// What it would do alone in the `lasts` seconds from an instant on, beside some more walls and with another velocity at first.
    pub(super) fn wish_beside(
        &self,
        velocity: Vec2,
        now: f64,
        lasts: f32,
        terrain: &dyn Terrain,
        walls: &[FoundWall],
    ) -> Wish<'a> {
        let (mut walker, later) = (self.walker, Later { terrain, by: now });
        walker.velocity = velocity;
        let result = match walls {
            [] => walker.tick(self.intent, lasts, &later),
            walls => walker.tick(self.intent, lasts, &(&later, Beside(walls))),
        };
        let way = walker.exact_position() - self.walker.exact_position();
        Wish { walker, result, velocity: (way / f64::from(lasts)).as_vec2(), follows: None }
    }

    /// What it would do alone, with its path.
    pub(super) fn flight(&self, now: f64, lasts: f32, terrain: &dyn Terrain) -> (Wish<'a>, Path) {
        let (mut walker, mut path) = (self.walker, Path::default());
        let result = walker.tick_with_path(self.intent, lasts, &Later { terrain, by: now }, &mut path);
        let way = walker.exact_position() - self.walker.exact_position();
        (Wish { walker, result, velocity: (way / f64::from(lasts)).as_vec2(), follows: None }, path)
    }

    /// Goes on as it does alone, along its path.
    pub(super) fn fly_on(&mut self, (wish, path): &(Wish<'a>, Path), now: f64, lasts: f32) {
        for piece in path.pieces() {
            self.path.add(now + f64::from(piece.end), piece.to.as_dvec2(), None);
        }
        self.go_on(wish, now, lasts);
    }

    /// Goes on as it wished.
    pub(super) fn go_on(&mut self, wish: &Wish<'a>, now: f64, lasts: f32) {
        self.walker = wish.walker;
        let mut result = MoveResult { contacts: Contacts::default(), ..wish.result };
        // Each wall once in a tick.
        let known = |wall: Wall| self.result.contacts.iter().any(|known| known.wall == wall);
        wish.result
            .contacts
            .iter()
            .filter(|contact| !known(contact.wall))
            .for_each(|contact| result.contacts.push(*contact));
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        self.result.go_on_with(result, now as f32);
        self.path.add(now + f64::from(lasts), self.walker.exact_position(), None);
    }

    /// It as a wall that stands where a walker is.
    pub(super) fn as_wall(&self, walker: &Mover<'_>) -> FoundWall {
        let tag = u32::try_from(self.number).unwrap_or(u32::MAX);
        FoundWall::new(self.wall, walker.footprint.solid_at(Vec2::ZERO))
            .with_tag(tag)
            .shifted(walker.exact_position())
    }
}

/// Neighbours as a terrain.
#[derive(Debug)]
struct Beside<'a>(&'a [FoundWall]);

impl Terrain for Beside<'_> {
    fn walls_in(&self, area: Aabb, filter: &WallFilter<'_>, see: &mut dyn FnMut(FoundWall)) {
        self.0.iter().for_each(|wall| wall.walls_in(area, filter, see));
    }
}

/// How far two movers are apart, and the normal from the second to the first; negative for an overlap.
pub(super) fn gap(one: (&Member<'_>, &Mover<'_>), other: (&Member<'_>, &Mover<'_>)) -> (f64, DVec2) {
    let footprint = &one.1.footprint;
    let (depth, normal) = other.0.as_wall(other.1).outline(footprint).depth(one.1.place().middle(footprint));
    (-depth, normal)
}

#[cfg(test)]
mod tests {
    use crate::random::random;
    use proptest::prelude::*;

    use super::*;
    use crate::prelude::*;

    /// What is between two movers is that between their exact places: rounded to the nearest position, it would decide too early or
    /// too late when one that rolls over the other lets go.
    #[test]
    fn the_gap_between_two_is_not_rounded() {
        proptest!(random(500), |(
            at in (-400.0f32..400.0, -400.0f32..400.0), toward in 0.0f32..6.3, round in any::<(bool, bool)>(),
            by in (-2e-5f64..2e-5, -2e-5f64..2e-5), is_first in any::<bool>(),
        )| {
            let pace = Pace::new(1.0).unwrap();
            let member = |number: usize, at: Vec2, round: bool| {
                let shape = if round { Footprint::circle(3.0) } else { Footprint::rect(6.0, 6.0) };
                let walker = Walker::new(at, shape.unwrap(), &pace as &dyn Drive);
                Member::new(number, World::new().add(Solid::circle(Vec2::ZERO, 1.0).unwrap()), walker, Intent::NONE)
            };
            let start = vec2(at.0, at.1);
            let mut two = [member(0, start, round.0), member(1, start + Vec2::from_angle(toward) * 9.0, round.1)];
            let apart = |two: &[Member<'_>; 2]| gap((&two[0], &two[0].walker), (&two[1], &two[1].walker));
            let ((before, normal), by) = (apart(&two), DVec2::new(by.0, by.1));
            two[usize::from(!is_first)].walker.carry(by);
            let more = by.dot(normal) * if is_first { 1.0 } else { -1.0 };
            prop_assert!((apart(&two).0 - before - more).abs() < 1e-9, "{} {before} {more}", apart(&two).0);
        });
    }
}
