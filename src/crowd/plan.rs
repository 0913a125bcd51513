//! Plans of pieces in which some movers of a group touch: how long, and with which velocities.

use alloc::rc::Rc;
use alloc::vec;
use alloc::vec::Vec;

use glam::Vec2;

use super::group::Group;
use super::member::{Member, Mover, Wish, gap};
use super::rounds::{Agreed, Touch, Wants, agree};
use crate::shape::Aabb;
use crate::terrain::{Terrain, Wall, WallFilter};
use crate::tolerance::{
    BOW_IN_CROWD, LATE_IN_CROWD, LONGEST_AMONG_FEW, LONGEST_IN_CROWD, MOST_PLANS, MOST_RELEASED,
    RELEASED_IN_CROWD, SHORTEST_IN_CROWD, SIDE_SEEN, STANDS_IN_CROWD,
};
use crate::travel::Limit;
use crate::walker::{Later, first_time};

/// A piece of the tick as it is planned.
pub(super) struct Plan<'a> {
    pub(super) lasts: f32,
    /// How long it may be, as fast as walls push them.
    longest: f32,
    pub(super) wishes: Vec<Rc<Wish<'a>>>,
    pub(super) touches: Vec<Touch>,
    pub(super) agreed: Agreed,
    /// The walls beside those that do not go as they wish.
    pub(super) walls: Vec<Vec<Limit>>,
    /// The last one of those of each.
    pub(super) behind: Vec<Option<Wall>>,
    /// When the first of them that neighbours turn gets to a wall, in seconds, if it does.
    wall_after: Option<f32>,
    /// Whether it ends there.
    pub(super) meets_wall: bool,
}

impl Plan<'_> {
    /// Those that do not touch yet, but come close to each other.
    fn near(&self) -> Vec<Touch> {
        self.touches.iter().filter(|touch| touch.is_near()).copied().collect()
    }

    /// Whether one that presses on another in this plan still touches it in a later one, but does not press; or whether one that leads
    /// away from another presses on it later. Where a wall pushes it, what it wants in a very short plan does not count: the wall may
    /// reach it a little later. Where a wall pushes some of the group, it may be noticed a little late: round each other, they
    /// would be released all the time.
    pub(super) fn turns_in(&self, later: &Self) -> bool {
        let pushes = (0..self.wishes.len()).any(|mover| self.agreed.is_pushed(mover));
        let least = if pushes { LATE_IN_CROWD / self.lasts } else { 0.0 };
        self.leads().filter(|(touch, _)| !self.agreed.is_pushed(touch.one)).any(|(touch, away)| {
            let ends = |then: f32| away < 0.0 && then >= least;
            let begins = |then: f32| away > STANDS_IN_CROWD && then < -STANDS_IN_CROWD;
            let is_same = |known: &Touch| (known.one, known.other) == (touch.one, touch.other);
            later.leads().any(|(known, then)| is_same(&known) && (ends(then) || begins(then)))
        })
    }

    /// How far two that meet in this plan deviate from their ways up to there, in units, if they come to each other evenly through it.
    fn deviates(&self, meet: &Touch) -> f32 {
        meet.apart * (1.0 - meet.after / self.lasts)
    }

    /// Whether neighbours turn a mover from its wish.
    pub(super) fn is_turned(&self, place: usize) -> bool {
        self.agreed.velocities[place] != self.wishes[place].velocity
    }

    /// The touches of those that are turned from their wish with neighbours on which they press, as they see them.
    pub(super) fn presses(&self) -> impl Iterator<Item = Touch> + '_ {
        self.leads().filter(|(touch, away)| *away < 0.0 && self.is_turned(touch.one)).map(|(touch, _)| touch)
    }

    /// How fast one that touches another leads away from it, both ways; below 0 if it presses on it. One that only comes close
    /// presses if it would get further than there is room.
    fn leads(&self) -> impl Iterator<Item = (Touch, f32)> + '_ {
        self.touches.iter().flat_map(Touch::both_ways).map(|touch| {
            let Touch { one, other, normal, apart, .. } = touch;
            let least = self.agreed.velocities[other].dot(normal).min(0.0) - apart / self.lasts;
            (touch, self.wishes[one].velocity.dot(normal) - least)
        })
    }
}

impl<'a> Group<'a> {
    /// How long the next piece of a group that touches may be, so that it deviates little from the true path: as its movers
    /// turn round each other and change their velocities.
    pub(super) fn piece(&self, now: f64, rest: f32, touches: &[Touch]) -> f32 {
        let mut longest = if touches.len() <= MOST_RELEASED { LONGEST_AMONG_FEW } else { LONGEST_IN_CROWD };
        let short = longest.min(rest);
        let mut seen = vec![false; self.members.len()];
        for place in touches.iter().flat_map(|touch| [touch.one, touch.other]) {
            if core::mem::replace(&mut seen[place], true) {
                continue;
            }
            let member = &self.members[place];
            let wish = self.wish(place, now, short);
            let bends = (wish.walker.velocity - member.walker.velocity).length() / short;
            longest = longest.min(piece_that_bends(bends + self.turns(place, wish.velocity)));
        }
        longest.min(rest)
    }

    /// How strongly the way of a mover bends that turns round one of its own size, in units/s per second.
    fn turns(&self, place: usize, velocity: Vec2) -> f32 {
        velocity.length_squared() / (self.members[place].walker.footprint.size().min_element() * 0.5)
    }

    /// How long a piece may be in which walls push some of them: those may turn round others much faster than they walk.
    fn longest_pushed(&self, agreed: &Agreed) -> f32 {
        let pushed = (0..self.members.len()).filter(|place| agreed.is_pushed(*place));
        piece_that_bends(pushed.map(|place| self.turns(place, agreed.velocities[place])).fold(0.0, f32::max))
    }

    /// Plans a piece of at most so many seconds in which some of them touch, up to where others touch.
    pub(super) fn plan_piece(&self, now: f64, lasts: f32, rest: f32, touches: &[Touch]) -> Plan<'a> {
        let mut plan = self.plan(now, lasts, touches, &[]);
        if plan.longest < plan.lasts {
            plan = self.plan(now, plan.longest.min(rest), touches, &[]);
        }
        for _ in 0..MOST_PLANS {
            let shortest = SHORTEST_IN_CROWD.min(rest);
            let meet = self.meet_in(&plan);
            let cuts = |meet: &&Touch| meet.after >= shortest && plan.deviates(meet) > BOW_IN_CROWD;
            let cut = meet.iter().find(cuts).map(|meet| meet.after);
            let wall = plan.wall_after.filter(|after| *after >= RELEASED_IN_CROWD);
            let ends = cut.into_iter().chain(wall).min_by(f32::total_cmp);
            if let Some(ends) = ends.filter(|ends| *ends < plan.lasts * 0.999) {
                plan = self.plan(now, ends, touches, &[]);
                plan.meets_wall = wall == Some(ends);
            } else if meet.is_empty() {
                break;
            } else {
                // They may come as close as there is room, evenly.
                let mut near = plan.near();
                near.extend(meet);
                plan = self.plan(now, plan.lasts, touches, &near);
            }
        }
        match self.until_turn(&plan) {
            Some(lasts) => self.plan(now, lasts, touches, &plan.near()),
            None => plan,
        }
    }

    /// Up to where two that touch begin to turn round each other in a plan, or stop: a straight side ends there, or begins.
    fn until_turn(&self, plan: &Plan<'a>) -> Option<f32> {
        let is_round = |place: usize| self.members[place].walker.footprint.radius().is_some();
        // Round each other, two turn evenly.
        let has_side = |touch: &&Touch| !(is_round(touch.one) && is_round(touch.other));
        let turns =
            plan.touches.iter().filter(|touch| !touch.is_near()).filter(has_side).filter_map(|touch| {
                let normal = |part: f32| self.normal_later(touch, &plan.agreed.velocities, plan.lasts * part);
                let (first, last) = (normal(0.0), normal(1.0));
                if first == last {
                    return None;
                }
                let (ends, begins) = (normal(SIDE_SEEN) == first, normal(1.0 - SIDE_SEEN) == last);
                if ends == begins {
                    return None;
                }
                let has_turned = |part: f32| if ends { normal(part) != first } else { normal(part) == last };
                let part = first_time(1.0, has_turned);
                (part > SIDE_SEEN).then_some(part * plan.lasts)
            });
        turns.min_by(f32::total_cmp)
    }

    /// Plans a piece of those that touch now; `near` are further ones that come close to each other.
    pub(super) fn plan(&self, now: f64, lasts: f32, touches: &[Touch], near: &[Touch]) -> Plan<'a> {
        let wishes: Vec<Rc<Wish<'a>>> =
            (0..self.members.len()).map(|place| self.wish(place, now, lasts)).collect();
        let mut touches = touches.to_vec();
        touches.extend_from_slice(near);
        let mut wants = Wants {
            wishes: wishes.iter().map(|wish| wish.velocity).collect(),
            pushes: wishes.iter().map(|wish| wish.result.pushed / lasts).collect(),
            walls: vec![Vec::new(); wishes.len()],
        };
        let (mut behind, mut wall_after) = (vec![None; wishes.len()], None::<f32>);
        let mut agreed = agree(&wants, &touches, lasts);
        let longest = self.longest_pushed(&agreed);
        // Round each other, they turn: the normals half way through the piece count.
        for touch in touches.iter_mut().filter(|touch| !touch.is_near()) {
            touch.normal = self.normal_later(touch, &agreed.velocities, lasts * 0.5);
        }
        agreed = agree(&wants, &touches, lasts);
        for _ in 0..MOST_PLANS {
            let mut found = false;
            for (place, velocity) in agreed.velocities.iter().enumerate() {
                // Standing walls do not come to one that stands.
                let may_meet = *velocity != Vec2::ZERO || !self.stands_still;
                if may_meet && *velocity != wants.wishes[place] {
                    let ahead = self.wall_ahead(place, *velocity, now, lasts, &wants.walls[place]);
                    if let Some((limit, wall, after)) = ahead {
                        wants.walls[place].push(limit);
                        (behind[place], found) = (Some(wall), true);
                        if !agreed.is_pushed(place) && after > 0.0 {
                            wall_after = Some(wall_after.map_or(after, |known| known.min(after)));
                        }
                    }
                }
            }
            if !found && !wants.push_those_that_are_reached(&agreed) {
                break;
            }
            agreed = agree(&wants, &touches, lasts);
        }
        Plan {
            lasts,
            longest,
            wishes,
            touches,
            agreed,
            walls: wants.walls,
            behind,
            wall_after,
            meets_wall: false,
        }
    }

    /// The normal of a touch after so many seconds with these velocities.
    fn normal_later(&self, touch: &Touch, velocities: &[Vec2], seconds: f32) -> Vec2 {
        let [one, other] = [touch.one, touch.other].map(|place| {
            let mut walker = self.members[place].walker;
            walker.carry((velocities[place] * seconds).as_dvec2());
            (&self.members[place], walker)
        });
        gap((one.0, &one.1), (other.0, &other.1)).1.as_vec2()
    }

    /// The wall that a mover with a velocity of its own runs into, and after how many seconds.
    fn wall_ahead(
        &self,
        place: usize,
        velocity: Vec2,
        now: f64,
        lasts: f32,
        known: &[Limit],
    ) -> Option<(Limit, Wall, f32)> {
        let walker = &self.members[place].walker;
        let own = walker.own_wall;
        let filter = WallFilter::on(walker.mask).except(own.as_slice()).during(0.0, lasts);
        let terrain = Later { terrain: self.terrain, by: now };
        let reached = self.wall_that_has_come(walker, velocity, &terrain, &filter, lasts);
        if let Some((limit, wall)) = reached.filter(|(limit, _)| !known.contains(limit)) {
            return Some((limit, wall, 0.0));
        }
        let hit = terrain.sweep(&walker.footprint, walker.position, velocity * lasts, &filter)?;
        let (normal, toward) = (hit.normal, (velocity - hit.velocity).dot(hit.normal));
        let limit = Limit { normal, least: hit.velocity.dot(normal) + toward * hit.fraction };
        let is_known = known.iter().any(|known| known.normal == normal && known.least >= limit.least);
        (toward < 0.0 && !is_known).then_some((limit, hit.wall, hit.fraction * lasts))
    }

    /// The wall that comes to a mover faster than it goes, and overlaps it a little: a mover may be a little behind what was planned, and
    /// what a mover overlaps it does not run into.
    fn wall_that_has_come(
        &self,
        walker: &Mover<'_>,
        velocity: Vec2,
        terrain: &Later<'_>,
        filter: &WallFilter<'_>,
        lasts: f32,
    ) -> Option<(Limit, Wall)> {
        if self.stands_still {
            return None;
        }
        let (footprint, middle) = (&walker.footprint, walker.place().middle(&walker.footprint));
        let mut found: Option<(Limit, Wall)> = None;
        terrain.walls_in(footprint.at(walker.position), filter, &mut |wall| {
            let (depth, normal) = wall.outline(footprint).depth(middle);
            #[expect(clippy::cast_possible_truncation, reason = "a small distance, rounded once")]
            let (depth, normal) = (depth as f32, normal.as_vec2());
            let comes = wall.velocity.dot(normal);
            if (0.0..BOW_IN_CROWD).contains(&depth) && comes > velocity.dot(normal).max(0.0) {
                let least = comes + depth / lasts.max(SHORTEST_IN_CROWD);
                if found.is_none_or(|(limit, _)| limit.least < least) {
                    found = Some((Limit { normal, least }, wall.wall));
                }
            }
        });
        found
    }

    /// Those in a plan that touch within it and do not yet, in the order of time.
    fn meet_in(&self, plan: &Plan<'_>) -> Vec<Touch> {
        let ways: Vec<Vec2> = plan.agreed.velocities.iter().map(|velocity| *velocity * plan.lasts).collect();
        let boxes: Vec<Aabb> =
            self.members.iter().zip(&ways).map(|(member, way)| member.lies().swept(*way)).collect();
        let is_known = |one, other| plan.touches.iter().any(|touch| (touch.one, touch.other) == (one, other));
        let meets = self.pairs(&boxes).into_iter().filter_map(|(one, other)| {
            if is_known(one, other) || self.gap(one, other).0 < 0.0 {
                return None;
            }
            let wall = self.members[other].as_wall(&self.members[other].walker);
            let wall = wall.with_velocity(plan.agreed.velocities[other]);
            let Member { walker: Mover { footprint, position, .. }, .. } = &self.members[one];
            let hit =
                wall.sweep(footprint, *position, ways[one], &WallFilter::ALL.during(0.0, plan.lasts))?;
            let after = hit.fraction * plan.lasts;
            let toward = (plan.agreed.velocities[other] - plan.agreed.velocities[one]).dot(hit.normal);
            // However little is left between them, they do not touch yet.
            let apart = (toward * after).max(f32::MIN_POSITIVE);
            Some(Touch { one, other, normal: hit.normal, apart, after })
        });
        let mut meet: Vec<Touch> = meets.collect();
        meet.sort_by(|one, other| one.after.total_cmp(&other.after));
        meet
    }
}

/// How long a piece may be in which a way bends so strongly, in units/s per second: no further from its chord than a mover may deviate.
fn piece_that_bends(by: f32) -> f32 {
    libm::sqrtf(8.0 * BOW_IN_CROWD / by.max(f32::MIN_POSITIVE)).max(SHORTEST_IN_CROWD)
}
