//! Several steppers in one go, in order of time.

use super::claims::{Claims, MoverId};
use super::event::{Stepped, TimedStep};
use super::ground::StepGround;
use super::stepper::{StepWish, Stepper};
use crate::drive::seconds;
use crate::tolerance::SAME_INSTANT;
use alloc::vec::Vec;

/// The most instants in one tick at which something is decided; the rest of a longer tick is dropped.
const MOST_INSTANTS: usize = 65_536;

/// Advances steppers by `dt` seconds together, and tells what happened to whom, in order of time.
///
/// The order of the list does not show: at each instant at which someone lands or waits, all who stand decide in
/// the order of their ids, again and again until nobody starts any more. So of two that want one tile the lower
/// id gets it, and a train starts in one go whichever of it comes first.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{Claims, Manner, StepGround, StepRules, Stepper, tick_together};
///
/// let legend = Legend::new().with('.', TileKind::floor("rails"));
/// let map = TileGrid::from_rows(&["......"], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let rules = StepRules::new(2.0)?.with_manner(Manner::HOLD);
/// let mut train = [ivec2(0, 0), ivec2(1, 0), ivec2(2, 0)]
///     .map(|tile| Stepper::on(tile, rules, &ground, &mut claims).unwrap());
/// let right = Intent::new(vec2(1.0, 0.0));
/// tick_together(&mut train, |_| right.into(), 0.5, &ground, &mut claims, |_, _| {});
/// assert_eq!(train.map(|cart| cart.tile().x), [1, 2, 3]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn tick_together(
    steppers: &mut [Stepper],
    wish: impl Fn(MoverId) -> StepWish,
    dt: f32,
    ground: &StepGround<'_>,
    claims: &mut Claims,
    mut tell: impl FnMut(MoverId, TimedStep),
) {
    let order = Order::of(steppers);
    for stepper in steppers.iter_mut() {
        stepper.take(wish(stepper.id()), ground.grid.y_axis());
    }
    let whole = f64::from(seconds(dt));
    let mut left = whole;
    let mut tell = |id, at, what| tell(id, TimedStep::new(at, what));
    for _ in 0..MOST_INSTANTS {
        decide(steppers, &order, whole - left, ground, claims, &mut tell);
        let wait = steppers.iter().map(Stepper::until_next).fold(f64::INFINITY, f64::min);
        if wait > left + SAME_INSTANT {
            steppers.iter_mut().for_each(|stepper| stepper.pass(left));
            return;
        }
        steppers.iter_mut().for_each(|stepper| stepper.pass(wait));
        left -= wait;
        for place in order.places(steppers.len()) {
            let id = steppers[place].id();
            steppers[place].arrive(whole - left, claims, &mut |at, what| tell(id, at, what));
        }
    }
}

/// The places of steppers in the order of their ids; nothing where they are listed in it, as they mostly are.
struct Order(Vec<usize>);

impl Order {
    fn of(steppers: &[Stepper]) -> Self {
        if steppers.is_sorted_by_key(Stepper::id) {
            return Self(Vec::new());
        }
        let mut order: Vec<usize> = (0..steppers.len()).collect();
        order.sort_by_key(|place| steppers[*place].id());
        Self(order)
    }

    fn places(&self, count: usize) -> impl Iterator<Item = usize> {
        (0..count).map(|place| self.0.get(place).copied().unwrap_or(place))
    }
}

/// Lets all who stand decide, until nobody starts any more.
fn decide(
    steppers: &mut [Stepper],
    order: &Order,
    at: f64,
    ground: &StepGround<'_>,
    claims: &mut Claims,
    tell: &mut impl FnMut(MoverId, f64, Stepped),
) {
    let mut someone_started = true;
    while someone_started {
        someone_started = false;
        for place in order.places(steppers.len()) {
            let stepper = &mut steppers[place];
            let id = stepper.id();
            someone_started |= stepper.stands()
                && stepper.starts(at, ground, claims, &mut |at, what| tell(id, at, what)).is_ok();
        }
    }
    for place in order.places(steppers.len()) {
        let stepper = &mut steppers[place];
        if stepper.stands() {
            let id = stepper.id();
            let tell = &mut |at, what| tell(id, at, what);
            // Nobody can start any more: this only finds out once more why not.
            if let Err(blocked) = stepper.starts(at, ground, claims, tell) {
                stepper.stays(at, blocked, tell);
            }
        }
    }
}
