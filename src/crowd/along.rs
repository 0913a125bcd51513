//! What the movers of a group do in a piece that is planned: each goes along its neighbours as along walls.

use alloc::rc::Rc;
use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::group::Group;
use super::grown;
use super::member::{Member, Wish};
use super::plan::Plan;
use super::rounds::Touch;
use crate::shape::Aabb;
use crate::terrain::{FoundWall, Terrain, WallFilter};
use crate::tolerance::{
    BOW_IN_CROWD, CREEPS_IN_CROWD, LITTLE_IN_CROWD, MOST_RELEASED, NEIGHBOURS_MEET, NEIGHBOURS_TOUCH,
    OVERLAP_OF_ROUNDING, RELEASED_IN_CROWD, STANDS_IN_CROWD, STRAIGHT_IN_CROWD,
};
use crate::travel::{Limit, Squeeze, nearest_velocity};
use crate::walker::Later;

impl<'a> Group<'a> {
    /// Plays a piece of at most so many seconds in which some of them touch; returns it as it was played, and what
    /// they do next. With few touches at its start, it ends where one mover no longer presses on another, or begins to.
    pub(super) fn play_piece(
        &mut self,
        now: f64,
        mut most: f32,
        rest: f32,
        touches: &[Touch],
        start: Option<Plan<'a>>,
    ) -> (Plan<'a>, Option<Plan<'a>>) {
        let next = |group: &Self, now: f64| group.plan(now, RELEASED_IN_CROWD, &group.touches(), &[]);
        let is_small = touches.len() <= MOST_RELEASED;
        let start = if is_small { start.or_else(|| Some(next(self, now))) } else { None };
        loop {
            let plan = self.plan_piece(now, most, rest, touches);
            let may_end_sooner = is_small && plan.lasts > RELEASED_IN_CROWD;
            if may_end_sooner && start.as_ref().is_some_and(|start| start.turns_in(&plan)) {
                most = plan.lasts * 0.5;
                continue;
            }
            let before = may_end_sooner.then(|| self.members.clone());
            self.play_plan(now, &plan);
            if !is_small {
                return (plan, None);
            }
            let end = next(self, now + f64::from(plan.lasts));
            match before {
                Some(before) if plan.turns_in(&end) => {
                    (self.members, most) = (before, plan.lasts * 0.5);
                }
                _ => return (plan, Some(end)),
            }
        }
    }

    /// Plays what is left of a tick in one piece.
    pub(super) fn play_rest(&mut self, now: f64, rest: f32, touches: &[Touch]) {
        let plan = self.plan(now, rest, touches, &[]);
        self.play_plan(now, &plan);
    }

    /// Plays a piece as planned, along the walls and the neighbours.
    fn play_plan(&mut self, now: f64, plan: &Plan<'a>) {
        let mut ways = plan.agreed.velocities.clone();
        let mut moved: Vec<Rc<Wish<'a>>> = plan.wishes.clone();
        for _ in 0..2 {
            // Along neighbours that move as they did in the first pass.
            let before: Vec<Vec2> = ways.iter().map(|way| without_creeping(*way, plan.lasts)).collect();
            let near = self.near(&before, plan.lasts);
            for (place, way) in ways.iter_mut().enumerate() {
                if plan.is_turned(place) {
                    if self.is_wedged(place, plan) {
                        Rc::make_mut(&mut moved[place]).go_on_standing(&self.members[place].walker);
                        *way = Vec2::ZERO;
                        continue;
                    }
                    let wish = self.along(place, now, plan, &before, &near);
                    *way = wish.velocity;
                    moved[place] = Rc::new(wish);
                }
            }
        }
        self.end_with_neighbours(&mut moved);
        self.note_contacts(now, plan, &moved);
        let changed: Vec<(Rc<Wish<'a>>, Option<Squeeze>)> = moved
            .into_iter()
            .enumerate()
            .map(|(place, wish)| (wish, self.squeeze(place, now, plan)))
            .collect();
        for (member, (wish, squeeze)) in self.members.iter_mut().zip(changed) {
            member.result.squeezed = member.result.squeezed.or(squeeze);
            member.go_on(&wish, now, plan.lasts);
        }
        // A mover that goes as it wishes is not moved, nor one that stands.
        let stands: Vec<bool> = ways
            .iter()
            .zip(&plan.wishes)
            .map(|(way, wish)| *way == wish.velocity || *way == Vec2::ZERO)
            .collect();
        let press = plan.touches.iter().filter(|touch| {
            let [one, other] = [touch.one, touch.other].map(|place| plan.wishes[place].velocity);
            (one - other).dot(touch.normal) < 0.0
        });
        let press: Vec<(usize, usize)> = press.map(|touch| (touch.one, touch.other)).collect();
        self.settle(&press, &stands, now + f64::from(plan.lasts));
    }

    /// Whether a mover that stands goes on standing: it is left nothing, and those stand, too, on which it presses.
    fn is_wedged(&self, place: usize, plan: &Plan<'_>) -> bool {
        let stands = |other: usize| plan.agreed.velocities[other] == Vec2::ZERO;
        self.members[place].walker.velocity == Vec2::ZERO
            && stands(place)
            && !plan.agreed.is_pushed(place)
            && !self.terrain.has_surfaces()
            && self.pressed_by(place, plan).all(stands)
    }

    /// Lets a mover stand to which its neighbours leave too little, if that is also little of what it wants: one that starts is slow, but
    /// gets much of what it wants. The neighbours take it for one that stands: what it creeps is what roundings leave, and in a short
    /// piece those look fast.
    fn stop_creeping(&self, place: usize, plan: &Plan<'a>, wish: &mut Wish<'a>) {
        let least = f64::from(STANDS_IN_CROWD);
        let rounding = NEIGHBOURS_MEET / f64::from(plan.lasts);
        let [ends, wanted] =
            [&*wish, &*plan.wishes[place]].map(|wish| wish.walker.velocity.as_dvec2().length());
        if !plan.agreed.is_pushed(place)
            && wish.velocity.as_dvec2().length() < least.max(rounding)
            && ends < least.min(LITTLE_IN_CROWD * wanted)
        {
            wish.stand(&self.members[place].walker);
        }
    }

    /// Pairs that come near each other in a piece.
    fn near(&self, velocities: &[Vec2], lasts: f32) -> Vec<(usize, usize)> {
        let boxes = self.members.iter().zip(velocities);
        let boxes: Vec<Aabb> = boxes
            .map(|(member, velocity)| grown(member.lies().swept(*velocity * lasts), 4.0 * BOW_IN_CROWD))
            .collect();
        self.pairs(&boxes)
    }

    /// The touches of a mover in a plan, as it sees them.
    fn beside(&self, place: usize, plan: &Plan<'_>) -> Vec<Touch> {
        plan.touches.iter().flat_map(Touch::both_ways).filter(|touch| touch.one == place).collect()
    }

    /// The neighbours on which a mover presses in a plan.
    fn pressed_by(&self, place: usize, plan: &Plan<'_>) -> impl Iterator<Item = usize> {
        let wish = plan.wishes[place].velocity;
        let pressed = self.beside(place, plan).into_iter().filter(move |touch| wish.dot(touch.normal) < 0.0);
        pressed.map(|touch| touch.other)
    }

    /// A neighbour as a wall beside a mover: it does not come to it, since walking pushes no other one, unless a wall pushes the mover;
    /// then it comes no faster than agreed. One that is overlapped by what a piece deviates lies against the mover: it would be
    /// ignored. And one that only comes close is where it will have come.
    fn wall_beside(&self, touch: &Touch, way: Vec2, plan: &Plan<'_>) -> FoundWall {
        let (Touch { one: place, other, normal, apart, .. }, agreed) = (*touch, &plan.agreed);
        let gives_way =
            if agreed.is_pushed(place) { agreed.velocities[place].dot(normal).max(0.0) } else { 0.0 };
        let toward = way.dot(normal).max(0.0);
        let velocity = way - normal * (toward - toward.min(gives_way));
        let (gap, outward) = self.gap(place, other);
        let is_little = gap > -f64::from(BOW_IN_CROWD);
        let back = if is_little { outward * gap.min(0.0) } else { DVec2::ZERO };
        let comes = normal * ((way - velocity).dot(normal) * plan.lasts).min(apart);
        let neighbour = &self.members[other];
        neighbour.as_wall(&neighbour.walker).with_velocity(velocity).shifted(back + comes.as_dvec2())
    }

    /// What a mover does among neighbours that move with these velocities: they are walls that do not push, unless a wall
    /// pushes them.
    fn along(
        &self,
        place: usize,
        now: f64,
        plan: &Plan<'a>,
        ways: &[Vec2],
        near: &[(usize, usize)],
    ) -> Wish<'a> {
        let (member, agreed) = (&self.members[place], plan.agreed.velocities[place]);
        let mut followed = Vec::new();
        let beside: Vec<FoundWall> = self
            .beside(place, plan)
            .into_iter()
            .map(|touch| {
                let wall = self.wall_beside(&touch, ways[touch.other], plan);
                match self.followed(&touch, ways[touch.other], plan) {
                    None => wall,
                    Some(one) => {
                        followed.push(one);
                        one.wall(wall, &member.walker, plan.lasts)
                    }
                }
            })
            .collect();
        let followed = if let [only] = followed[..] { Some(only) } else { None };
        let own = member.walker.velocity;
        let start = followed.map_or(own, |followed| followed.start_half_way(own));
        let is_beside = |other: usize| beside.iter().any(|wall| wall.wall == self.members[other].wall);
        let others = near.iter().filter_map(|pair| match *pair {
            (one, other) if one == place => Some(other),
            (one, other) if other == place => Some(one),
            _ => None,
        });
        let others = others.filter(|other| !is_beside(*other));
        let others = others
            .map(|other| self.members[other].as_wall(&self.members[other].walker).with_velocity(ways[other]));
        let walls: Vec<FoundWall> = beside.iter().copied().chain(others).collect();
        let mut wish = Wish::clone(&self.wish_beside(place, start, now, plan.lasts, &walls));
        if let Some(followed) = followed {
            self.end_following(place, &followed, now, plan.lasts, &mut wish);
        }
        // Whether it is squeezed was agreed on.
        let squeeze = wish.result.squeezed.is_some_and(|Squeeze { by, against, .. }| {
            walls.iter().any(|wall| [by, against].contains(&wall.wall))
        });
        let is_thrown = self.is_thrown(place, &wish, plan, &beside);
        if !plan.agreed.is_pushed(place) {
            // What neighbours do by themselves is no push.
            wish.result.forget_pushes();
        }
        // Between a wall and a neighbour that both move, a mover can get into the wall.
        let gets_inside = wish.result.squeezed.is_none()
            && !self.can_go(place, wish.velocity, now, plan.lasts)
            && self.has_room(place, DVec2::ZERO, now);
        if squeeze || is_thrown || gets_inside {
            wish = self.straight(place, now, plan, agreed);
        }
        self.stop_creeping(place, plan, &mut wish);
        wish
    }

    /// Whether a mover gets out from between two neighbours much further than they come to it. One that passes comes a little nearer
    /// before the middle of a piece, since the normal turns; between two normals that are almost opposed, the way
    /// out of that is long, and what neighbours do by themselves pushes no one.
    fn is_thrown(&self, place: usize, wish: &Wish<'_>, plan: &Plan<'_>, beside: &[FoundWall]) -> bool {
        let pushed = wish.result.pushed.as_dvec2().length();
        if plan.agreed.is_pushed(place) || pushed <= NEIGHBOURS_TOUCH {
            return false;
        }
        let normals = self.beside(place, plan).into_iter().map(|touch| self.normal(place, touch.other));
        let come = normals.zip(beside).map(|(normal, wall)| wall.velocity.dot(normal) * plan.lasts);
        pushed > 2.0 * f64::from(come.fold(0.0, f32::max)) + NEIGHBOURS_TOUCH
    }

    /// What a mover does that goes straight on with a velocity.
    fn straight(&self, place: usize, now: f64, plan: &Plan<'a>, mut velocity: Vec2) -> Wish<'a> {
        let mut wish = Wish::clone(&plan.wishes[place]);
        if !self.can_go(place, velocity, now, plan.lasts) {
            if wish.result.pushed != Vec2::ZERO && !plan.agreed.is_squeezed(place) {
                // It cannot stand before a wall that pushes it.
                return wish;
            }
            velocity = Vec2::ZERO;
        }
        wish.walker.put(self.members[place].walker.place());
        wish.walker.carry(velocity.as_dvec2() * f64::from(plan.lasts));
        let limits = self.beside(place, plan).into_iter().map(|Touch { other, normal, .. }| Limit {
            normal,
            least: plan.agreed.velocities[other].dot(normal).min(0.0),
        });
        let limits: Vec<Limit> = limits.collect();
        let limits = limits.iter().copied();
        let walls = plan.walls[place].iter().map(|limit| Limit { least: limit.least.min(0.0), ..*limit });
        let left = nearest_velocity(wish.walker.velocity, limits.chain(walls));
        let left = left.filter(|left| self.stays_on_axis(place, *left));
        wish.walker.velocity = left.unwrap_or(Vec2::ZERO);
        (wish.result.position, wish.result.velocity) = (wish.walker.position, wish.walker.velocity);
        wish.velocity = velocity;
        wish
    }

    /// Between what a mover is squeezed in a plan.
    fn squeeze(&self, place: usize, now: f64, plan: &Plan<'_>) -> Option<Squeeze> {
        let (_, by) = plan.agreed.squeezed.iter().find(|(squeezed, _)| *squeezed == place)?;
        let contacts = &plan.wishes[place].result.contacts;
        let pusher = contacts.iter().find(|contact| contact.pushed).map(|contact| contact.wall);
        let by = by.map(|by| self.members[by].wall).or(pusher).or(plan.behind[place])?;
        let beside = self.beside(place, plan).into_iter().map(|touch| touch.other);
        let behind = beside
            .filter(|other| plan.agreed.is_squeezed(*other))
            .map(|other| self.members[other].wall)
            .find(|wall| *wall != by);
        #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
        let seconds = now as f32;
        Some(Squeeze { by, against: behind.or(plan.behind[place]).unwrap_or(by), seconds })
    }

    /// Makes up for what a piece deviates from the true paths: sets those apart that overlap a little, and those against each
    /// other that press.
    fn settle(&mut self, press: &[(usize, usize)], stands: &[bool], now: f64) {
        let boxes: Vec<Aabb> = self.members.iter().map(Member::lies).collect();
        let mut pairs = self.pairs(&boxes);
        pairs.extend_from_slice(press);
        pairs.sort_unstable();
        pairs.dedup();
        for pair in pairs {
            self.settle_two(pair, press, stands, now);
        }
    }

    /// Sets two neighbours apart or against each other.
    fn settle_two(
        &mut self,
        (one, other): (usize, usize),
        press: &[(usize, usize)],
        stands: &[bool],
        now: f64,
    ) {
        let (apart, normal) = self.gap(one, other);
        let is_exact = apart.abs() < 0.05 * NEIGHBOURS_MEET;
        if is_exact || apart.abs() > OVERLAP_OF_ROUNDING || apart > 0.0 && !press.contains(&(one, other)) {
            return;
        }
        // An overlap is made up for at once, a gap by no more than what each of the two may deviate: they do not leap.
        let by = normal * -apart.min(2.0 * f64::from(BOW_IN_CROWD));
        // Unless there is more to make up for than rounding.
        let is_deep = apart < -0.25 * f64::from(BOW_IN_CROWD);
        let both = stands[one] && stands[other] && is_deep;
        let free = [(one, by), (other, -by)]
            .map(|(place, by)| (both || !stands[place]) && self.has_room(place, by, now));
        let parts = match free {
            [true, true] => [by * 0.5, by * -0.5],
            [true, false] => [by, DVec2::ZERO],
            [false, true] => [DVec2::ZERO, -by],
            [false, false] => [DVec2::ZERO; 2],
        };
        for (place, by) in [(one, parts[0]), (other, parts[1])] {
            self.members[place].walker.carry(by);
        }
    }

    /// Whether there is room for a mover where a velocity takes it in so many seconds.
    pub(super) fn can_go(&self, place: usize, velocity: Vec2, now: f64, lasts: f32) -> bool {
        self.has_room(place, velocity.as_dvec2() * f64::from(lasts), now + f64::from(lasts))
    }

    /// Whether a mover can be moved so: its drive may be held to an axis, and no wall must be where it gets.
    fn has_room(&self, place: usize, by: DVec2, now: f64) -> bool {
        let mut walker = self.members[place].walker;
        walker.carry(by);
        let filter = WallFilter::on(walker.mask).except(walker.own_wall.as_slice());
        self.stays_on_axis(place, by.as_vec2())
            && !Later { terrain: self.terrain, by: now }.overlaps(&walker.footprint, walker.position, &filter)
    }

    /// Whether a vector is along the axis that the drive of a mover is held to, if any.
    fn stays_on_axis(&self, place: usize, vector: Vec2) -> bool {
        self.members[place].walker.drive.axis().is_none_or(|axis| axis.only(vector) == vector)
    }
}

/// The velocity of a neighbour in a piece, which stands if it gets no further than rounding: to a mover, a wall that creeps is one that
/// moves, and takes many times as long to play.
fn without_creeping(velocity: Vec2, lasts: f32) -> Vec2 {
    let speed = velocity.length();
    if speed < STRAIGHT_IN_CROWD && speed * lasts < CREEPS_IN_CROWD { Vec2::ZERO } else { velocity }
}

#[cfg(test)]
mod tests {
    use core::cell::Cell;

    use crate::random::random;
    use proptest::prelude::*;

    use super::*;
    use crate::drive::Drive;
    use crate::intent::Intent;
    use crate::prelude::*;

    /// What decides whether a mover is set apart is where it comes to, with what its position could not show before.
    #[test]
    fn a_mover_has_room_where_it_comes_to() {
        let (room, none) = (Cell::new(0), Cell::new(0));
        // In steps of `f32` beside a wall: where it is, and by how much it is moved.
        proptest!(random(2000), |(edge in 3.0f32..500.0, is in -4.0f64..4.0, by in -4.0f64..4.0)| {
            let step = f64::from(edge.next_up() - edge);
            let mut world = World::new();
            let wall = world.add(Solid::Box { area: Aabb { min: vec2(edge - 2.0, -1.0), max: vec2(edge, 1.0) } });
            let (pace, shape) = (Pace::new(1.0).unwrap(), Footprint::rect(2.0, 2.0).unwrap());
            let walker = Walker::new(vec2(edge + 1.0, 0.0), shape, &pace as &dyn Drive);
            let mut group = Group::new(alloc::vec![Member::new(0, wall, walker, Intent::NONE)], &world, true);
            group.members[0].walker.carry(DVec2::X * (is * step));
            let has_room = group.has_room(0, DVec2::X * (by * step), 0.0);
            group.members[0].walker.carry(DVec2::X * (by * step));
            prop_assert_eq!(has_room, group.has_room(0, DVec2::ZERO, 0.0));
            let count = if has_room { &room } else { &none };
            count.set(count.get() + 1);
        });
        assert!(room.get() > 400 && none.get() > 400, "{} {}", room.get(), none.get());
    }

    /// Two that press are set against each other: an overlap is made up for at once, a gap by what both may deviate and no more; of one that
    /// stands, the other one takes its part, and if both stand, only what is more than rounding is made up for.
    #[test]
    fn what_two_deviate_is_made_up_for_without_a_leap() {
        let (overlap, little, much) = (Cell::new(0), Cell::new(0), Cell::new(0));
        proptest!(random(1000), |(gap in -0.008f64..0.008, angle in 0.0f32..6.3, stands in any::<[bool; 2]>())| {
            let (world, pace) = (World::new(), Pace::new(1.0).unwrap());
            let walker = Walker::new(Vec2::ZERO, Footprint::circle(1.0).unwrap(), &pace as &dyn Drive);
            let member = |number| Member::new(number, Wall::Edge(Side::Left), walker, Intent::NONE);
            let mut group = Group::new([0, 1].map(member).into(), &world, true);
            group.members[1].walker.carry(Vec2::from_angle(angle).as_dvec2() * (2.0 + gap));
            let before = [0, 1].map(|place| group.members[place].walker.exact_position());
            group.settle(&[(0, 1)], &stands, 0.0);
            let moved = [0, 1].map(|place| (group.members[place].walker.exact_position() - before[place]).length());
            let deviates = f64::from(BOW_IN_CROWD);
            let by = if stands == [true; 2] && gap > -0.25 * deviates { 0.0 } else { gap.abs().min(if gap > 0.0 { 2.0 * deviates } else { 1.0 }) };
            let shares = if stands[0] == stands[1] { [0.5, 0.5] } else { stands.map(|stands| f64::from(u8::from(!stands))) };
            let is_so = |place: usize| (moved[place] - by * shares[place]).abs() < 1e-6;
            prop_assert!(is_so(0) && is_so(1), "{gap} {stands:?}: {moved:?}");
            let count = if gap < 0.0 { &overlap } else if gap < 2.0 * deviates { &little } else { &much };
            count.set(count.get() + 1);
        });
        let counts = [&overlap, &little, &much].map(Cell::get);
        assert!(counts.iter().all(|count| *count > 80), "{counts:?}");
    }

    /// What a neighbour is taken for stands or goes on as it does, and is nowhere off by more than rounding.
    #[test]
    fn a_neighbour_that_creeps_stands_and_no_other() {
        let (stands, goes_on) = (Cell::new(0), Cell::new(0));
        proptest!(random(2000), |(speed in -11.0f32..2.0, angle in 0.0f32..6.3, lasts in -5.0f32..-1.0)| {
            let (velocity, lasts) = (Vec2::from_angle(angle) * libm::exp10f(speed), libm::exp10f(lasts));
            let taken = without_creeping(velocity, lasts);
            prop_assert!(taken == velocity || taken == Vec2::ZERO);
            prop_assert!(taken.distance(velocity) * lasts < 1e-8);
            prop_assert!(taken == Vec2::ZERO || velocity.length() * lasts > 9e-9 || velocity.length() > 9e-4);
            let count = if taken == Vec2::ZERO { &stands } else { &goes_on };
            count.set(count.get() + 1);
        });
        assert!(stands.get() > 400 && goes_on.get() > 400, "{} {}", stands.get(), goes_on.get());
    }
}
