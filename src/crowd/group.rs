//! A group of movers that may meet in this tick, played together from event to event.

use alloc::vec;
use alloc::vec::Vec;

use glam::{DVec2, Vec2};

use super::grown;
use super::member::{Member, Mover, Wish, gap};
use super::rounds::{Agreed, Touch, Wants, agree};
use crate::shape::Aabb;
use crate::terrain::{FoundWall, Terrain, Wall, WallFilter};
use crate::tolerance::{
    BOW_IN_CROWD, LONGEST_IN_CROWD, MOST_IN_CROWD, MOST_PLANS, NEIGHBOURS_MEET, NEIGHBOURS_TOUCH,
    OVERLAP_OF_ROUNDING, SHORTEST_IN_CROWD, STANDS_IN_CROWD, TICK_IS_OVER,
};
use crate::travel::{Limit, MoveResult, Squeeze, nearest_velocity};
use crate::walker::{Later, Path};

/// Movers that may meet, in an order that does not depend on that of the list.
pub(super) struct Group<'a> {
    members: Vec<Member<'a>>,
    terrain: &'a dyn Terrain,
}

/// A piece of the tick as it is planned.
struct Plan<'a> {
    lasts: f32,
    wishes: Vec<Wish<'a>>,
    touches: Vec<Touch>,
    agreed: Agreed,
    /// The walls beside those that do not go as they wish.
    walls: Vec<Vec<Limit>>,
    /// The last one of those of each.
    behind: Vec<Option<Wall>>,
}

impl<'a> Group<'a> {
    pub(super) fn new(mut members: Vec<Member<'a>>, terrain: &'a dyn Terrain) -> Self {
        members.sort_by(Member::order);
        Self { members, terrain }
    }

    pub(super) fn members(&self) -> impl Iterator<Item = &Member<'a>> {
        self.members.iter()
    }

    /// The movers as they are at the end: their numbers, states, results and paths.
    pub(super) fn into_moved(self) -> impl Iterator<Item = (usize, super::member::Still, MoveResult, Path)> {
        self.members
            .into_iter()
            .map(|member| (member.number, member.walker.with_drive(()), member.result, member.path))
    }

    /// Plays a tick of `dt` seconds.
    pub(super) fn play(&mut self, dt: f32) {
        let (whole, mut now) = (f64::from(dt), 0.0f64);
        for piece in 0..=MOST_IN_CROWD {
            #[expect(clippy::cast_possible_truncation, reason = "a time within a tick, rounded once")]
            let rest = (whole - now) as f32;
            if rest <= dt * TICK_IS_OVER {
                break;
            }
            let touches = self.touches();
            let lasts = match touches.is_empty() {
                true => self.fly(now, rest),
                false => self.step(
                    now,
                    if piece == MOST_IN_CROWD { rest } else { self.piece(now, rest, &touches) },
                    rest,
                ),
            };
            now += f64::from(lasts);
        }
        for member in &mut self.members {
            member.path.end_at(dt, member.walker.exact_position());
            member.result.seconds = dt;
        }
    }

    /// Pairs whose boxes, each grown by a distance, overlap.
    fn pairs(&self, boxes: &[Aabb]) -> Vec<(usize, usize)> {
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
    fn touches(&self) -> Vec<Touch> {
        let boxes: Vec<Aabb> =
            self.members.iter().map(|member| grown(member.lies(), 2.0 * NEIGHBOURS_TOUCH as f32)).collect();
        let touch = |(one, other): (usize, usize)| {
            let (apart, normal) = self.gap(one, other);
            (apart <= NEIGHBOURS_TOUCH).then_some(Touch { one, other, normal: normal.as_vec2(), room: 0.0 })
        };
        self.pairs(&boxes).into_iter().filter_map(touch).collect()
    }

    fn gap(&self, one: usize, other: usize) -> (f64, DVec2) {
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
                let all = ways.fold(member.lies(), |all, area| Aabb {
                    min: all.min.min(area.min),
                    max: all.max.max(area.max),
                });
                grown(all, BOW_IN_CROWD)
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
            for (member, (wish, path)) in self.members.iter_mut().zip(flights) {
                for piece in path.pieces() {
                    member.path.add(now + f64::from(piece.end), piece.to.as_dvec2());
                }
                member.go_on(&wish, now, rest);
            }
            return rest;
        };
        for member in &mut self.members {
            let (wish, path) = member.flight(now, lasts, self.terrain);
            for piece in path.pieces() {
                member.path.add(now + f64::from(piece.end), piece.to.as_dvec2());
            }
            member.go_on(&wish, now, lasts);
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
            let mut there = second.walker;
            there.position = at;
            let wall = second.as_wall(&there).with_velocity(beside.velocity);
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
            let [first, second] = [one, other].map(|member| member.wish(now, lasts, self.terrain).walker);
            gap((one, &first), (other, &second)).0
        };
        let touches = |apart: f64| (0.0..=NEIGHBOURS_MEET).contains(&apart);
        // The paths deviate by a thousandth of a unit: the touch is a little before or after.
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

    /// How long the next piece of a group that touches may be, so that it deviates little from the true path: as its movers
    /// turn round each other and change their velocities.
    fn piece(&self, now: f64, rest: f32, touches: &[Touch]) -> f32 {
        let short = LONGEST_IN_CROWD.min(rest);
        let mut longest = LONGEST_IN_CROWD;
        let mut seen = vec![false; self.members.len()];
        for place in touches.iter().flat_map(|touch| [touch.one, touch.other]) {
            if core::mem::replace(&mut seen[place], true) {
                continue;
            }
            let member = &self.members[place];
            let wish = member.wish(now, short, self.terrain);
            let bends = (wish.walker.velocity - member.walker.velocity).length() / short;
            let radius = member.walker.footprint.size().min_element() * 0.5;
            let turns = wish.velocity.length_squared() / radius;
            longest = longest.min(libm::sqrtf(8.0 * BOW_IN_CROWD / (bends + turns).max(f32::MIN_POSITIVE)));
        }
        longest.max(SHORTEST_IN_CROWD).min(rest)
    }

    /// Plays a piece of at most so many seconds in which some of them touch; returns how long it is.
    fn step(&mut self, now: f64, lasts: f32, rest: f32) -> f32 {
        let mut plan = self.plan(now, lasts, Vec::new());
        for _ in 0..MOST_PLANS {
            let Some((at, touch)) = self.next_touch(&plan) else { break };
            if at < SHORTEST_IN_CROWD.min(rest) {
                // They may come as close as there is room.
                let mut near: Vec<Touch> =
                    plan.touches.iter().filter(|touch| touch.room > 0.0).copied().collect();
                near.push(touch);
                plan = self.plan(now, plan.lasts, near);
            } else if at < plan.lasts * 0.999 {
                plan = self.plan(now, at, Vec::new());
            } else {
                break;
            }
        }
        self.play_plan(now, &plan);
        plan.lasts
    }

    /// Plans a piece; `near` are further movers that come close to each other.
    fn plan(&self, now: f64, lasts: f32, near: Vec<Touch>) -> Plan<'a> {
        let wishes: Vec<Wish<'a>> =
            self.members.iter().map(|member| member.wish(now, lasts, self.terrain)).collect();
        let mut touches = self.touches();
        touches.extend(near.into_iter().map(|touch| {
            #[expect(clippy::cast_possible_truncation, reason = "a distance, rounded once")]
            let room = self.gap(touch.one, touch.other).0 as f32 / lasts;
            Touch { room: room.max(0.0), ..touch }
        }));
        let mut wants = Wants {
            wishes: wishes.iter().map(|wish| wish.velocity).collect(),
            pushes: wishes.iter().map(|wish| wish.result.pushed / lasts).collect(),
            walls: vec![Vec::new(); wishes.len()],
        };
        let mut behind = vec![None; wishes.len()];
        let mut agreed = agree(&wants, &touches);
        // Round each other, they turn: the normals half way through the piece count.
        self.turn(&mut touches, &agreed.velocities, lasts);
        agreed = agree(&wants, &touches);
        for _ in 0..MOST_PLANS {
            let mut found = false;
            for (place, velocity) in agreed.velocities.iter().enumerate() {
                if *velocity != wants.wishes[place] {
                    let ahead = self.wall_ahead(place, *velocity, now, lasts, &wants.walls[place]);
                    if let Some((limit, wall)) = ahead {
                        wants.walls[place].push(limit);
                        (behind[place], found) = (Some(wall), true);
                    }
                }
            }
            if !found {
                break;
            }
            agreed = agree(&wants, &touches);
        }
        Plan { lasts, wishes, touches, agreed, walls: wants.walls, behind }
    }

    /// Finds the normals half way through a piece.
    fn turn(&self, touches: &mut [Touch], velocities: &[Vec2], lasts: f32) {
        let half_way = |place: usize| {
            let mut walker = self.members[place].walker;
            walker.position += velocities[place] * (lasts * 0.5);
            walker
        };
        for touch in touches {
            let [one, other] = [touch.one, touch.other].map(|place| (&self.members[place], half_way(place)));
            touch.normal = gap((one.0, &one.1), (other.0, &other.1)).1.as_vec2();
        }
    }

    /// The wall that a mover with a velocity of its own runs into.
    fn wall_ahead(
        &self,
        place: usize,
        velocity: Vec2,
        now: f64,
        lasts: f32,
        known: &[Limit],
    ) -> Option<(Limit, Wall)> {
        let walker = &self.members[place].walker;
        let own = walker.own_wall;
        let filter = WallFilter::on(walker.mask).except(own.as_slice()).during(0.0, lasts);
        let terrain = Later { terrain: self.terrain, by: now };
        let hit = terrain.sweep(&walker.footprint, walker.position, velocity * lasts, &filter)?;
        let (normal, toward) = (hit.normal, (velocity - hit.velocity).dot(hit.normal));
        let limit = Limit { normal, least: hit.velocity.dot(normal) + toward * hit.fraction };
        let is_known = known.iter().any(|known| known.normal == normal && known.least >= limit.least - 1e-4);
        (toward < 0.0 && !is_known).then_some((limit, hit.wall))
    }

    /// The first two in a plan that touch within it and do not yet.
    fn next_touch(&self, plan: &Plan<'_>) -> Option<(f32, Touch)> {
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
            Some((hit.fraction * plan.lasts, Touch { one, other, normal: hit.normal, room: 0.0 }))
        });
        meets.min_by(|(one, _), (other, _)| one.total_cmp(other))
    }

    fn play_plan(&mut self, now: f64, plan: &Plan<'a>) {
        let mut ways = plan.agreed.velocities.clone();
        let mut moved: Vec<Wish<'a>> = plan.wishes.clone();
        for _ in 0..2 {
            // Along neighbours that move as they did in the first pass.
            let before = ways.clone();
            let near = self.near(&before, plan.lasts);
            for (place, way) in ways.iter_mut().enumerate() {
                if plan.agreed.velocities[place] != plan.wishes[place].velocity {
                    moved[place] = self.along(place, now, plan, &before, &near);
                    *way = moved[place].velocity;
                }
            }
        }
        self.keep_out(now, plan, &mut moved);
        for (place, wish) in moved.iter_mut().enumerate() {
            let is_held = plan.agreed.velocities[place] != plan.wishes[place].velocity;
            if is_held
                && wish.velocity.length() < STANDS_IN_CROWD
                && wish.walker.velocity.length() < STANDS_IN_CROWD
            {
                wish.stand(&self.members[place].walker);
                ways[place] = Vec2::ZERO;
            }
        }
        let changed: Vec<(Wish<'a>, Option<Squeeze>)> = moved
            .into_iter()
            .enumerate()
            .map(|(place, wish)| (wish, self.squeeze(place, now, plan)))
            .collect();
        for (member, (wish, squeeze)) in self.members.iter_mut().zip(changed) {
            member.result.squeezed = member.result.squeezed.or(squeeze);
            member.go_on(&wish, now, plan.lasts);
        }
        // Who goes as it wishes, or stands, is not moved.
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

    /// Pairs that come near each other in a piece.
    fn near(&self, velocities: &[Vec2], lasts: f32) -> Vec<(usize, usize)> {
        let boxes = self.members.iter().zip(velocities);
        let boxes: Vec<Aabb> = boxes
            .map(|(member, velocity)| grown(member.lies().swept(*velocity * lasts), 4.0 * BOW_IN_CROWD))
            .collect();
        self.pairs(&boxes)
    }

    /// Lets those go straight on, or stand, that would get into each other.
    fn keep_out(&self, now: f64, plan: &Plan<'a>, moved: &mut [Wish<'a>]) {
        for attempt in 0..2 {
            let boxes: Vec<Aabb> =
                moved.iter().map(|wish| wish.walker.footprint.at(wish.walker.position)).collect();
            let mut inside: Vec<usize> = Vec::new();
            for (one, other) in self.pairs(&boxes) {
                let ends = [one, other].map(|place| (&self.members[place], &moved[place].walker));
                let (apart, _) = gap(ends[0], ends[1]);
                if apart < -0.5 * f64::from(BOW_IN_CROWD) && apart < self.gap(one, other).0 {
                    inside.extend([one, other]);
                }
            }
            for place in inside {
                let agreed = plan.agreed.velocities[place];
                moved[place] =
                    self.straight(place, now, plan, if attempt == 0 { agreed } else { Vec2::ZERO });
            }
        }
    }

    /// The neighbours that a mover touches in a plan, with the normal from there.
    fn beside(&self, place: usize, plan: &Plan<'_>) -> Vec<(usize, Vec2)> {
        let beside = plan.touches.iter().filter_map(|touch| match place {
            _ if place == touch.one => Some((touch.other, touch.normal)),
            _ if place == touch.other => Some((touch.one, -touch.normal)),
            _ => None,
        });
        beside.collect()
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
        let beside: Vec<(Vec2, FoundWall)> = self
            .beside(place, plan)
            .into_iter()
            .map(|(other, normal)| {
                let toward = ways[other].dot(normal).max(0.0);
                let is_pushed = agreed.dot(normal) >= toward * 0.999;
                let velocity = if is_pushed { ways[other] } else { ways[other] - normal * toward };
                (normal, self.members[other].as_wall(&self.members[other].walker).with_velocity(velocity))
            })
            .collect();
        let is_beside = |other: usize| beside.iter().any(|(_, wall)| wall.wall == self.members[other].wall);
        let others = near.iter().filter_map(|pair| match *pair {
            (one, other) if one == place => Some(other),
            (one, other) if other == place => Some(one),
            _ => None,
        });
        let others = others.filter(|other| !is_beside(*other));
        let others = others
            .map(|other| self.members[other].as_wall(&self.members[other].walker).with_velocity(ways[other]));
        let walls: Vec<FoundWall> = beside.iter().map(|(_, wall)| *wall).chain(others).collect();
        let mut wish = member.wish_beside(now, plan.lasts, self.terrain, &walls);
        let enters = |(normal, wall): &(Vec2, FoundWall)| {
            (wish.velocity - wall.velocity).dot(*normal) * plan.lasts < -2.0 * BOW_IN_CROWD
        };
        let squeeze =
            wish.result.squeezed.is_some_and(|squeeze| walls.iter().any(|wall| wall.wall == squeeze.by));
        if plan.wishes[place].result.pushed == Vec2::ZERO
            && !beside.iter().any(|(normal, wall)| wall.velocity.dot(*normal) > STANDS_IN_CROWD)
        {
            // No wall pushes it; what neighbours that turn round it do is no push.
            wish.result.forget_pushes();
        }
        if squeeze || beside.iter().any(enters) { self.straight(place, now, plan, agreed) } else { wish }
    }

    /// What a mover does that goes straight on with a velocity.
    fn straight(&self, place: usize, now: f64, plan: &Plan<'a>, mut velocity: Vec2) -> Wish<'a> {
        let mut wish = plan.wishes[place].clone();
        if !self.has_room(place, velocity.as_dvec2() * f64::from(plan.lasts), now + f64::from(plan.lasts)) {
            velocity = Vec2::ZERO;
        }
        let mut exact = self.members[place].walker.place();
        exact.carry(velocity.as_dvec2() * f64::from(plan.lasts));
        wish.walker.put(exact);
        let limits = self.beside(place, plan).into_iter().map(|(other, normal)| Limit {
            normal,
            least: plan.agreed.velocities[other].dot(normal).min(0.0),
        });
        let limits: Vec<Limit> = limits.collect();
        let limits = limits.iter().copied();
        let walls = plan.walls[place].iter().map(|limit| Limit { least: limit.least.min(0.0), ..*limit });
        wish.walker.velocity =
            nearest_velocity(wish.walker.velocity, limits.chain(walls)).unwrap_or(Vec2::ZERO);
        (wish.result.position, wish.result.velocity) = (wish.walker.position, wish.walker.velocity);
        wish.velocity = velocity;
        wish
    }

    /// Between what a mover is squeezed in a plan.
    fn squeeze(&self, place: usize, now: f64, plan: &Plan<'_>) -> Option<Squeeze> {
        let (_, by) = plan.agreed.squeezed.iter().find(|(squeezed, _)| *squeezed == place)?;
        let contacts = &plan.wishes[place].result.contacts;
        let pusher = contacts.iter().find(|contact| contact.pushed).map(|contact| contact.wall);
        let by = by.map(|by| self.members[by].wall).or(pusher)?;
        let squeezed = |other: &usize| plan.agreed.squeezed.iter().any(|(squeezed, _)| squeezed == other);
        let beside = self.beside(place, plan).into_iter().map(|(other, _)| other);
        let behind = beside.filter(squeezed).map(|other| self.members[other].wall).find(|wall| *wall != by);
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
        for (one, other) in pairs {
            let (apart, normal) = self.gap(one, other);
            let presses = press.contains(&(one, other));
            let is_exact = apart.abs() < 0.05 * NEIGHBOURS_MEET;
            if is_exact || apart.abs() > OVERLAP_OF_ROUNDING || apart > 0.0 && !presses {
                continue;
            }
            let by = normal * -apart;
            // Unless there is more to make up for than rounding.
            let both = stands[one] && stands[other] && apart < -0.25 * f64::from(BOW_IN_CROWD);
            let free = [(one, by), (other, -by)]
                .map(|(place, by)| (both || !stands[place]) && self.has_room(place, by, now));
            let parts = match free {
                [true, true] => [by * 0.5, by * -0.5],
                [true, false] => [by, DVec2::ZERO],
                [false, true] => [DVec2::ZERO, -by],
                [false, false] => [DVec2::ZERO; 2],
            };
            for (place, by) in [(one, parts[0]), (other, parts[1])] {
                let walker = &mut self.members[place].walker;
                let mut exact = walker.place();
                exact.carry(by);
                walker.put(exact);
            }
        }
    }

    fn has_room(&self, place: usize, by: DVec2, now: f64) -> bool {
        let walker = &self.members[place].walker;
        let (at, own) = (walker.position + by.as_vec2(), walker.own_wall);
        let filter = WallFilter::on(walker.mask).except(own.as_slice());
        !Later { terrain: self.terrain, by: now }.overlaps(&walker.footprint, at, &filter)
    }
}
