//! Several steppers at once, in order of time.
//!
//! A stepper in a stride is looked at when it lands; one that stands, at the start of the tick and when a tile beside
//! it is released. So a tick costs as much as what happens in it, and the result is the same as if all that stand
//! decided at each instant.

use alloc::vec::Vec;

use glam::IVec2;

use super::agenda::Agenda;
use super::blocked::MoverId;
use super::claims::Claims;
use super::decide::Blocked;
use super::event::{StrideEvent, TimedStep};
use super::ground::StepGround;
use super::step_input::StepInput;
use super::stepper::Stepper;
use crate::direction::Facing;
use crate::time::seconds;
use crate::tolerance::{MOST_INSTANTS, SAME_INSTANT};

/// Advances steppers by `dt` seconds together and calls `on_event` for every event, in order of time.
///
/// The order of the list does not matter. At each instant at which a stepper lands or waits, all that stand decide in
/// the order of their ids, repeatedly, until none starts. So if two want one tile, the lower id gets it, and a train
/// starts as one.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{Claims, StepMode, StepGround, StepRules, Stepper, tick_together};
///
/// let legend = Legend::new().with('.', TileKind::floor("rails"));
/// let map = TileGrid::from_rows(&["......"], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let rules = StepRules::new(2.0)?.with_mode(StepMode::HOLD);
/// let mut train = [ivec2(0, 0), ivec2(1, 0), ivec2(2, 0)]
///     .map(|tile| Stepper::on(tile, rules, &ground, &mut claims).unwrap());
/// let right = Intent::new(vec2(1.0, 0.0));
/// tick_together(&mut train, |_| right.into(), 0.5, &ground, &mut claims, |_, _| {});
/// assert_eq!(train.map(|cart| cart.tile().x), [1, 2, 3]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn tick_together(
    steppers: &mut [Stepper],
    wish: impl Fn(MoverId) -> StepInput,
    dt: f32,
    ground: &StepGround<'_>,
    claims: &mut Claims,
    mut on_event: impl FnMut(MoverId, TimedStep),
) {
    for stepper in steppers.iter_mut() {
        stepper.take(wish(stepper.id()), ground.grid.y_axis());
    }
    let most = MOST_INSTANTS.max(steppers.len());
    let mut agenda = core::mem::take(&mut claims.agenda);
    let on_event = |id, at, what| on_event(id, TimedStep::new(at, what));
    let (order, whole) = (Order::of(steppers, core::mem::take(&mut agenda.order)), f64::from(seconds(dt)));
    let mut tick = Tick { steppers, order, ground, claims, agenda, now: 0.0, whole, on_event };
    tick.begin();
    tick.decide();
    for _ in 0..most {
        if !tick.next_instant() {
            tick.now = whole;
            break;
        }
        tick.decide();
    }
    tick.end();
}

/// A tick of many steppers.
struct Tick<'a, 'g, T> {
    steppers: &'a mut [Stepper],
    order: Order,
    ground: &'a StepGround<'g>,
    claims: &'a mut Claims,
    agenda: Agenda,
    /// How much of the tick is over, and how long it lasts, in seconds.
    now: f64,
    whole: f64,
    on_event: T,
}

impl<T: FnMut(MoverId, f64, StrideEvent)> Tick<'_, '_, T> {
    fn begin(&mut self) {
        self.agenda.begin(self.steppers.len());
        for rank in 0..u32::try_from(self.steppers.len()).unwrap_or(u32::MAX) {
            if self.stepper(rank).stands() {
                self.agenda.ask(0, rank);
            }
            self.note(rank);
        }
    }

    /// Goes on to the next instant at which something happens; `false` if there is none.
    fn next_instant(&mut self) -> bool {
        let Some(next) = self.agenda.next_instant() else { return false };
        self.now = next;
        self.agenda.arrive_until(next + SAME_INSTANT);
        for place in 0..self.agenda.present.len() {
            let rank = self.agenda.present[place];
            self.catch_up(rank);
            let stepper = &mut self.steppers[self.order.place(rank)];
            let (id, on_event) = (stepper.id(), &mut self.on_event);
            let left = stepper.arrive(next, self.claims, &mut |at, what| on_event(id, at, what));
            if self.stepper(rank).stands() {
                self.agenda.ask(0, rank);
            }
            self.note(rank);
            for tile in left.into_iter().flatten() {
                self.ask_beside(tile, |_| 0);
            }
        }
        true
    }

    /// Lets steppers decide until none starts any more; the others stay.
    fn decide(&mut self) {
        self.agenda.present.clear();
        loop {
            while let Some((round, rank)) = self.agenda.next_decider() {
                self.catch_up(rank);
                if !self.stepper(rank).stands() {
                    continue;
                }
                let from = self.stepper(rank).tile();
                if self.starts(rank).is_ok() {
                    self.note(rank);
                    // A stepper later in the order still decides in this round.
                    self.ask_beside(from, |other| if other > rank { round } else { round + 1 });
                } else {
                    self.agenda.present.push(rank);
                }
            }
            if self.agenda.present.is_empty() {
                return;
            }
            self.stay();
        }
    }

    /// Lets the steppers stay that could not start. A press without effect may leave another direction to try.
    fn stay(&mut self) {
        self.agenda.in_order();
        for place in 0..self.agenda.present.len() {
            let rank = self.agenda.present[place];
            if !self.stepper(rank).stands() {
                continue;
            }
            // Nobody can start any more: this only finds out once more why not.
            match self.starts(rank) {
                Ok(()) => self.note(rank),
                Err(blocked) => {
                    let stepper = &mut self.steppers[self.order.place(rank)];
                    let (id, on_event) = (stepper.id(), &mut self.on_event);
                    if stepper.stays(self.now, blocked, &mut |at, what| on_event(id, at, what)) {
                        self.agenda.ask(0, rank);
                    }
                }
            }
        }
        self.agenda.present.clear();
    }

    fn end(mut self) {
        for rank in 0..u32::try_from(self.steppers.len()).unwrap_or(u32::MAX) {
            self.catch_up(rank);
        }
        self.agenda.order = self.order.0;
        self.claims.agenda = self.agenda;
    }

    fn stepper(&self, rank: u32) -> &Stepper {
        &self.steppers[self.order.place(rank)]
    }

    fn starts(&mut self, rank: u32) -> Result<(), Blocked> {
        let stepper = &mut self.steppers[self.order.place(rank)];
        let (id, on_event) = (stepper.id(), &mut self.on_event);
        stepper.starts(self.now, self.ground, self.claims, &mut |at, what| on_event(id, at, what))
    }

    /// Lets the time pass for a stepper in which nothing was to be decided.
    fn catch_up(&mut self, rank: u32) {
        let passed = core::mem::replace(&mut self.agenda.passed[rank as usize], self.now);
        if passed != self.now {
            self.steppers[self.order.place(rank)].pass(self.now - passed);
        }
    }

    /// Notes when something happens to a stepper by itself, if it does in this tick.
    fn note(&mut self, rank: u32) {
        let at = self.agenda.passed[rank as usize] + self.stepper(rank).until_next();
        if at <= self.whole + SAME_INSTANT {
            self.agenda.note(at, rank);
        }
    }

    /// Lets the steppers decide that may go where a tile is free now, each in a round.
    fn ask_beside(&mut self, tile: IVec2, round: impl Fn(u32) -> u32) {
        // A stepper that goes through a portal stands beside its other end; one that pushes stands two tiles away.
        let ends = [Some(tile), self.ground.portals.exit(tile)];
        let most = if self.claims.has_things() { 2 } else { 1 };
        for (end, direction) in
            ends.into_iter().flatten().flat_map(|end| Facing::ALL.map(|direction| (end, direction)))
        {
            for far in 1..=most {
                let beside = self.ground.on_map(end + direction.step() * far);
                let mover = beside.ok().and_then(|beside| self.claims.mover_at(beside));
                let rank = mover.and_then(|id| self.order.rank(self.steppers, id));
                if let Some(rank) = rank.filter(|rank| self.stepper(*rank).stands()) {
                    self.agenda.ask(round(rank), rank);
                }
            }
        }
    }
}

/// The places of steppers in the order of their ids; nothing where they are listed in it, as they mostly are.
struct Order(Vec<usize>);

impl Order {
    /// The order of some steppers, in room that was used for another.
    fn of(steppers: &[Stepper], mut order: Vec<usize>) -> Self {
        order.clear();
        if !steppers.is_sorted_by_key(Stepper::id) {
            order.extend(0..steppers.len());
            order.sort_unstable_by_key(|place| steppers[*place].id());
        }
        Self(order)
    }

    fn place(&self, rank: u32) -> usize {
        self.0.get(rank as usize).copied().unwrap_or(rank as usize)
    }

    /// The rank of a mover, if it is one of these steppers.
    fn rank(&self, steppers: &[Stepper], id: MoverId) -> Option<u32> {
        // Where all movers are in one list from the start on, the number is the rank.
        let guess = id.number() as usize;
        if steppers.len() > guess && steppers[self.place(id.number())].id() == id {
            return Some(id.number());
        }
        let rank = if self.0.is_empty() {
            steppers.binary_search_by_key(&id, Stepper::id)
        } else {
            self.0.binary_search_by_key(&id, |place| steppers[*place].id())
        };
        rank.ok().and_then(|rank| u32::try_from(rank).ok())
    }
}
