//! How a mover follows a neighbour that changes its velocity.
//!
//! A neighbour that goes straight on is a wall that moves evenly, which a mover meets exactly. Of another one, the mean velocity
//! in a piece is known; but what holds a mover on it depends on how that velocity changes, and the normal turns with both. So in
//! a piece, a mover that presses on it slides along the straight line that touches both half way. At the start and at the
//! end its velocity turns with the normal, and away from the neighbour it is as fast as that is at that instant. What this
//! neglects shrinks with the square of the length of a piece.

use alloc::rc::Rc;
use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::group::Group;
use super::member::{Mover, Wish, gap};
use super::plan::Plan;
use super::rounds::Touch;
use crate::shape::Solid;
use crate::terrain::{FoundWall, Wall};
use crate::tolerance::{SAME_CURVE, STRAIGHT_IN_CROWD, WEDGED_IN_CROWD};
use crate::travel::Contact;

/// A neighbour on which a mover presses through a piece, and which changes its velocity in it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Followed {
    other: usize,
    /// The normals from there, at the start and half way.
    at_start: Vec2,
    half_way: Vec2,
    /// Its mean velocity.
    way: Vec2,
}

impl Followed {
    /// Its mean velocity without what leads it into the mover.
    fn velocity(&self, normal: Vec2) -> Vec2 {
        without_approach(self.way, normal)
    }

    /// The velocity with which the mover starts into the piece if this is the normal.
    pub(super) fn start(&self, own: Vec2, normal: Vec2) -> Vec2 {
        let turned = turned(own, self.at_start, normal);
        turned + normal * (self.velocity(normal) - turned).dot(normal)
    }

    /// The velocity with which it starts half way.
    pub(super) fn start_half_way(&self, own: Vec2) -> Vec2 {
        self.start(own, self.half_way)
    }

    /// It as a wall in the piece.
    pub(super) fn wall(&self, wall: FoundWall, mover: &Mover<'_>, lasts: f32) -> FoundWall {
        if self.at_start == self.half_way { wall } else { self.line(wall, mover, self.half_way, lasts) }
    }

    /// It as the straight line through the point of the mover that is foremost against a normal.
    fn line(&self, wall: FoundWall, mover: &Mover<'_>, normal: Vec2, lasts: f32) -> FoundWall {
        let footprint = &mover.footprint;
        let middle = mover.place().middle(footprint);
        let outward = normal.as_dvec2();
        let foremost = match footprint.radius() {
            Some(radius) => outward * f64::from(radius),
            None => footprint.size().as_dvec2() * 0.5 * DVec2::ONE.copysign(outward),
        };
        let along = normal.perp() * (footprint.size().length() + 4.0 * self.way.length() * lasts);
        FoundWall::new(wall.wall, Solid::Segment { from: -along, to: along })
            .with_tag(wall.tag)
            .with_velocity(self.velocity(normal))
            .shifted(middle - foremost)
    }
}

impl Wish<'_> {
    /// The normals of the walls on which it lies at the end of a piece, other than one.
    fn walls_beside(&self, other: Wall) -> impl Iterator<Item = Vec2> + '_ {
        let lies = move |contact: &&Contact| {
            let away = (self.walker.velocity - contact.velocity_after).dot(contact.normal);
            contact.wall != other && away < STRAIGHT_IN_CROWD
        };
        self.result.contacts.iter().filter(lies).map(|contact| contact.normal)
    }
}

impl<'a> Group<'a> {
    /// A neighbour that a mover touches half way as one that it follows; none if it only comes close, goes straight on, if a wall pushes
    /// one of the two, if the mover does not press on it, or is held to an axis.
    pub(super) fn followed(&self, touch: &Touch, way: Vec2, plan: &Plan<'_>) -> Option<Followed> {
        let Touch { one: place, other, normal: half_way, .. } = *touch;
        let followed = Followed { other, at_start: self.normal(place, other), half_way, way };
        let away = (plan.wishes[place].velocity - followed.velocity(half_way)).dot(half_way);
        let changes = (way - self.members[other].walker.velocity).length() >= STRAIGHT_IN_CROWD;
        let is_pushed = [place, other].into_iter().any(|one| plan.agreed.is_pushed(one));
        let may_turn =
            self.members[place].walker.drive.axis().is_none() && followed.at_start.dot(half_way) > SAME_CURVE;
        (!touch.is_near() && changes && !is_pushed && may_turn && away < STRAIGHT_IN_CROWD)
            .then_some(followed)
    }

    /// Ends a piece beside a neighbour that a mover follows, if the two are still together.
    pub(super) fn end_following(
        &self,
        place: usize,
        followed: &Followed,
        now: f64,
        lasts: f32,
        wish: &mut Wish<'a>,
    ) {
        let (member, other, half_way) = (&self.members[place], followed.other, followed.half_way);
        let mut neighbour = self.members[other].walker;
        neighbour.carry(followed.way.as_dvec2() * f64::from(lasts));
        let normal = gap((member, &wish.walker), (&self.members[other], &neighbour)).1.as_vec2();
        let away = (wish.walker.velocity - followed.velocity(half_way)).dot(half_way);
        if away >= STRAIGHT_IN_CROWD || normal.dot(half_way) <= SAME_CURVE {
            return;
        }
        wish.follows = Some(other);
        let wall = self.members[other].as_wall(&self.members[other].walker);
        if normal == half_way || wish.walls_beside(wall.wall).next().is_some() {
            return;
        }
        // What the drive makes of the last normal is its speed at the end; half way between that and the first one is the mean.
        let own = member.walker.velocity;
        let line = followed.line(wall, &member.walker, normal, lasts);
        let end = self.wish_beside(place, followed.start(own, normal), now, lasts, &[line]);
        let speeds = own.dot(followed.at_start.perp()) + end.walker.velocity.dot(normal.perp());
        let along = half_way.perp();
        let more = along * (speeds * 0.5 - wish.velocity.dot(along));
        if self.can_go(place, wish.velocity + more, now, lasts) {
            wish.walker.carry(more.as_dvec2() * f64::from(lasts));
            wish.result.position = wish.walker.position;
            wish.velocity += more;
        }
        wish.end_with(end.walker.velocity);
    }

    /// Lets those that follow a neighbour end a piece as fast away from it as it is then, not as fast as it was on average.
    pub(super) fn end_with_neighbours(&self, moved: &mut [Rc<Wish<'a>>]) {
        let ends: Vec<Mover<'a>> = moved.iter().map(|wish| wish.walker).collect();
        let end = |place: usize| (&self.members[place], &ends[place]);
        for (place, wish) in moved.iter_mut().enumerate() {
            let Some(other) = wish.follows else { continue };
            let normal = gap(end(place), end(other)).1.as_vec2();
            let (own, least) = (wish.walker.velocity, ends[other].velocity.dot(normal).min(0.0));
            // Along a wall on which it lies, too.
            let walls: Vec<Vec2> = wish.walls_beside(self.members[other].wall).collect();
            let along = match walls[..] {
                [] => normal,
                [wall] => normal - wall * wall.dot(normal),
                _ => continue,
            };
            let part = along.dot(normal);
            if part > WEDGED_IN_CROWD {
                Rc::make_mut(wish).end_with(own + along * ((least - own.dot(normal)) / part));
            }
        }
    }

    /// The normal from a neighbour to a mover.
    pub(super) fn normal(&self, place: usize, other: usize) -> Vec2 {
        self.gap(place, other).1.as_vec2()
    }
}

/// A velocity without its part along a normal that points to another mover.
pub(super) fn without_approach(velocity: Vec2, normal: Vec2) -> Vec2 {
    velocity - normal * velocity.dot(normal).max(0.0)
}

/// A velocity on a curve after its normal has turned: along the curve it takes on what turns into that direction, and away from
/// the curve it stays as fast.
fn turned(velocity: Vec2, normal: Vec2, to: Vec2) -> Vec2 {
    let (outward, along) = (velocity.dot(normal), velocity.dot(normal.perp()));
    to.perp() * (along - outward * normal.perp_dot(to)) + to * outward
}
