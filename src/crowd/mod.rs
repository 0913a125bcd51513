//! Movers that block each other: one call advances all of them on one clock.
//!
//! A [`Crowd`] plays each mover alone as far as it meets no other one. Those that do are played together, from event to
//! event, in groups that do not affect each other.

mod along;
mod apart;
mod contacts;
mod following;
mod group;
mod last_pieces;
mod member;
mod neighbours;
mod plan;
mod rounds;

use alloc::vec::Vec;

use glam::Vec2;

use self::group::Group;
use self::member::{Member, Still};
use self::neighbours::Neighbours;
use crate::drive::Drive;
use crate::intent::Intent;
use crate::shape::Aabb;
use crate::terrain::{Layers, Terrain, Wall, WallFilter, World};
use crate::time::seconds;
use crate::tolerance::MOST_DIVISIONS;
use crate::travel::MoveResult;
use crate::walker::{Path, Walker};

/// Movers that block each other.
///
/// [`tick`](Self::tick) advances a list of walkers. The value itself is only memory for it and for what it found: the paths
/// of the tick, and the movers as walls for balls and projectiles. It need not be saved.
///
/// The rules:
/// - Movers slide along each other as along walls that stand; walking pushes no other mover. Two that meet head-on stop. Behind a
///   slower walker, a faster one slows down to its speed.
/// - A wall that pushes a mover pushes its neighbours, too, as far as they can yield. The last one is
///   [squeezed](MoveResult::squeezed) if it cannot.
/// - The result does not depend on the order of the list.
/// - Two movers block each other if the masks of both meet the [layers](Self::on) of the crowd.
///
/// ```
/// use ambulant::prelude::*;
///
/// let shape = Footprint::circle(1.0)?;
/// let gait = Gait::new(6.0, 1e4, 1e4)?;
/// let mut snails = [Walker::new(vec2(0.0, 0.0), shape, gait), Walker::new(vec2(8.0, 0.0), shape, gait)];
/// let mut crowd = Crowd::new();
/// let toward = |snail: usize| Intent::new(vec2([1.0, -1.0][snail], 0.0));
/// for _ in 0..60 {
///     crowd.tick(&mut snails, toward, 1.0 / 30.0, &World::new(), |_, _| {});
/// }
/// // Each went three units; then they stand against each other.
/// assert!((snails[0].position.x - 3.0).abs() < 1e-2 && (snails[1].position.x - 5.0).abs() < 1e-2);
/// assert_eq!(snails[0].velocity, Vec2::ZERO);
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone)]
pub struct Crowd {
    layers: Layers,
    /// The movers as walls.
    bodies: World,
    ids: Vec<Wall>,
    paths: Vec<Path>,
    /// The results that are more than a free motion, in the order of the walkers.
    results: Vec<(usize, MoveResult)>,
    starts: Vec<Walker<()>>,
    neighbours: Neighbours,
}

impl Crowd {
    /// A crowd on the first layer.
    #[must_use]
    pub fn new() -> Self {
        Self::on(Layers::FIRST)
    }

    /// A crowd on these layers: a mover whose mask does not meet them neither blocks nor is blocked.
    #[must_use]
    pub fn on(layers: Layers) -> Self {
        Self {
            layers,
            bodies: World::new(),
            ids: Vec::new(),
            paths: Vec::new(),
            results: Vec::new(),
            starts: Vec::new(),
            neighbours: Neighbours::default(),
        }
    }

    /// Advances walkers by one tick of `dt` seconds; `on_result` gets the result of each, in their order.
    ///
    /// A contact with another walker names it as a wall: see [`number_of`](Self::number_of). Among walkers a path deviates by
    /// some thousandths of a unit from the true one; one that meets no other goes exactly as with [`Walker::tick`].
    pub fn tick<D: Drive>(
        &mut self,
        walkers: &mut [Walker<D>],
        intent: impl Fn(usize) -> Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        mut on_result: impl FnMut(usize, MoveResult),
    ) {
        let dt = seconds(dt);
        self.prepare(walkers);
        for (number, walker) in walkers.iter_mut().enumerate() {
            self.starts.push(walker.with_drive(()));
            let result = walker.tick(intent(number), dt, terrain);
            if !result.is_free() {
                self.results.push((number, result));
            }
        }
        if dt > 0.0 && walkers.len() > 1 {
            self.play_groups(walkers, &intent, dt, &terrain);
        }
        let mut results = self.results.iter().peekable();
        for (number, walker) in walkers.iter().enumerate() {
            match results.next_if(|(known, _)| *known == number) {
                Some((_, result)) => on_result(number, *result),
                None => on_result(number, MoveResult::free(walker.position, walker.velocity, dt)),
            }
        }
    }

    /// The same; afterwards the walkers have [paths](Self::path) and are [walls](Self::as_walls) for what ticks later.
    pub fn tick_with_paths<D: Drive>(
        &mut self,
        walkers: &mut [Walker<D>],
        intent: impl Fn(usize) -> Intent,
        dt: f32,
        terrain: &(impl Terrain + ?Sized),
        on_result: impl FnMut(usize, MoveResult),
    ) {
        self.paths.resize_with(walkers.len(), Path::default);
        for (number, walker) in walkers.iter().enumerate() {
            let (mut alone, path) = (walker.with_drive(&walker.drive), &mut self.paths[number]);
            let _ = alone.tick_with_path(intent(number), dt, terrain, path);
        }
        self.tick(walkers, intent, dt, terrain, on_result);
        self.embody(walkers);
    }

    /// The path of a walker in the last tick [with paths](Self::tick_with_paths).
    #[must_use]
    pub fn path(&self, number: usize) -> Option<&Path> {
        self.paths.get(number)
    }

    /// The walkers of the last tick [with paths](Self::tick_with_paths) as walls that move as they did in it: a terrain for
    /// what ticks after the crowd. Their tags are the numbers of the walkers.
    ///
    /// ```
    /// use ambulant::arcade::FlightEnd;
    /// use ambulant::prelude::*;
    ///
    /// let mut snails = [Walker::new(vec2(20.0, 0.0), Footprint::circle(1.0)?, Pace::new(10.0)?)];
    /// let (mut crowd, world) = (Crowd::new(), World::new());
    /// crowd.tick_with_paths(&mut snails, |_| Intent::new(vec2(-1.0, 0.0)), 1.0, &world, |_, _| {});
    /// let mut puff = Projectile::aimed(Vec2::ZERO, vec2(1.0, 0.0), 26.0, Footprint::circle(1.0)?)?;
    /// let Some(FlightEnd::Hit { hit, seconds }) = puff.tick(1.0, &(&world, crowd.as_walls())) else { panic!() };
    /// assert_eq!((hit.tag, seconds, hit.velocity), (0, 0.5, vec2(-10.0, 0.0))); // 18 units at 36 units/s
    /// # Ok::<(), ambulant::InvalidNumber>(())
    /// ```
    #[must_use]
    pub const fn as_walls(&self) -> &World {
        &self.bodies
    }

    /// The walker whose wall this is, by its number in the list; `None` for other walls.
    #[must_use]
    pub fn number_of(&self, wall: Wall) -> Option<usize> {
        let number = usize::try_from(self.bodies.tag(wall)).ok()?;
        self.ids.get(number).filter(|id| **id == wall).map(|_| number)
    }

    /// The wall that a walker is, by its number in the list. No world has a wall with this id.
    #[must_use]
    pub fn wall_of(&self, number: usize) -> Option<Wall> {
        self.ids.get(number).copied()
    }

    /// Forgets the last tick, and has a wall for each walker.
    fn prepare<D: Drive>(&mut self, walkers: &[Walker<D>]) {
        self.results.clear();
        self.starts.clear();
        if self.ids.len() > walkers.len() {
            (self.bodies, self.ids) = (World::new(), Vec::new());
        }
        for (walker, number) in walkers.iter().zip(0u32..).skip(self.ids.len()) {
            let id = self.bodies.add_apart(self.layers, walker.footprint.solid_at(walker.position));
            self.bodies.set_tag(id, number);
            self.ids.push(id);
        }
    }

    /// Plays those together that may meet. If a mover gets further than it could alone, only the groups that it may meet are played
    /// again.
    fn play_groups<D: Drive>(
        &mut self,
        walkers: &mut [Walker<D>],
        intent: &impl Fn(usize) -> Intent,
        dt: f32,
        terrain: &dyn Terrain,
    ) {
        self.neighbours.begin(walkers.len());
        let mut known: Vec<Group<'_>> = Vec::new();
        for division in 0..MOST_DIVISIONS {
            for (number, walker) in walkers.iter().enumerate() {
                let blocks = walker.mask.meets(self.layers);
                let reach = self.reach(number, walker, dt);
                self.neighbours.set(
                    number,
                    blocks.then_some((self.starts[number].footprint.at(self.starts[number].position), reach)),
                );
            }
            self.neighbours.divide();
            let mut played: Vec<Group<'_>> = Vec::new();
            for numbers in self.neighbours.groups() {
                if let Some(place) = known.iter().position(|group| group.is_of(&numbers)) {
                    played.push(known.swap_remove(place));
                    continue;
                }
                let members = numbers.iter().map(|number| {
                    let drive: &dyn Drive = &walkers[*number].drive;
                    Member::new(
                        *number,
                        self.ids[*number],
                        self.starts[*number].with_drive(drive),
                        intent(*number),
                    )
                });
                let stands = stands_still(terrain, self.neighbours.area_of(&numbers), dt);
                let mut group = Group::new(members.collect(), terrain, stands);
                group.play(dt);
                played.push(group);
            }
            let far = |member: &&Member<'_>| self.neighbours.has_left(member.number, &member.lies());
            let left: Vec<usize> =
                played.iter().flat_map(Group::members).filter(far).map(|member| member.number).collect();
            if left.is_empty() || division + 1 == MOST_DIVISIONS {
                let moved: Vec<_> = played.into_iter().flat_map(Group::into_moved).collect();
                self.take_over(walkers, moved);
                return;
            }
            // A group whose members all stay in their boxes is played, unless another one joins it.
            played.retain(|group| group.members().all(|member| !left.contains(&member.number)));
            known = played;
            left.into_iter().for_each(|number| self.neighbours.widen(number));
        }
    }

    /// Takes over where those that were played together have got to.
    fn take_over<D: Drive>(
        &mut self,
        walkers: &mut [Walker<D>],
        moved: Vec<(usize, Still, MoveResult, Path)>,
    ) {
        for (number, walker, result, path) in moved {
            walkers[number].go_on_as(&walker);
            match self.results.binary_search_by_key(&number, |(known, _)| *known) {
                Ok(place) => self.results[place].1 = result,
                Err(place) => self.results.insert(place, (number, result)),
            }
            if let Some(known) = self.paths.get_mut(number) {
                *known = path;
            }
        }
    }

    /// How far a walker can get in the tick, in units.
    fn reach<D: Drive>(&self, number: usize, walker: &Walker<D>, dt: f32) -> f32 {
        let start = &self.starts[number];
        let fastest = start.velocity.length().max(walker.velocity.length()) * dt;
        fastest.max(start.position.distance(walker.position))
    }

    /// Lets the walls of the walkers move as they did.
    fn embody<D: Drive>(&mut self, walkers: &[Walker<D>]) {
        for (number, walker) in walkers.iter().enumerate() {
            let (id, start) = (self.ids[number], self.starts[number].position);
            // One that blocks no walker is no wall either.
            let blocks = walker.mask.meets(self.layers);
            self.bodies.set_layers(id, if blocks { self.layers } else { Layers::NONE });
            self.bodies.place(id, walker.footprint.solid_at(start));
            self.bodies.follow(id, &self.paths[number]);
        }
    }
}

impl Default for Crowd {
    fn default() -> Self {
        Self::new()
    }
}

/// Whether nothing moves in an area of a terrain for so many seconds, neither walls nor the floor.
fn stands_still(terrain: &dyn Terrain, area: Aabb, dt: f32) -> bool {
    let mut moves = terrain.has_surfaces();
    if !moves && terrain.has_moving_walls() {
        terrain.walls_in(area, &WallFilter::ALL.during(0.0, dt), &mut |found| {
            moves |= found.is_going_to_move();
        });
    }
    !moves
}

/// A box grown by a distance on every side.
fn grown(area: Aabb, by: f32) -> Aabb {
    Aabb { min: area.min - Vec2::splat(by), max: area.max + Vec2::splat(by) }
}
