//! The stepper: stands on a tile, or is in a stride between two.

use glam::{DVec2, IVec2, Vec2};

use super::blocked::{MoverId, StepError, ThingId};
use super::claims::Claims;
use super::event::{StrideEvent, StrideEvents, TimedStep};
#[cfg(feature = "serde")]
use super::ground::may_be_on_a_map;
use super::ground::{StepGround, Target};
use super::rules::{StepMode, StepRules};
use super::step_input::StepInput;
use crate::direction::Facing;
use crate::saved::{Version, restored};
use crate::terrain::TileGrid;
use crate::time::seconds;
use crate::tolerance::{MOST_STRIDES, SAME_INSTANT};

/// How a stride is cut short.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::Cancel;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(4.0)?, &ground, &mut claims)?;
/// let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &ground, &mut claims);
/// cart.cancel(Cancel::Back, &ground, &mut claims)?;
/// assert_eq!((cart.tile(), cart.stride_to()), (ivec2(0, 0), None));
/// cart.cancel(Cancel::To(ivec2(2, 0)), &ground, &mut claims)?;
/// assert_eq!(cart.tile(), ivec2(2, 0));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[non_exhaustive]
pub enum Cancel {
    /// Back to the tile that it started from.
    Back,
    /// On to the tile that it leads to.
    On,
    /// To another tile.
    To(IVec2),
}

/// A stride under way, from the stepper's tile in the direction that it faces.
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub(super) struct Stride {
    pub(super) target: Target,
    /// In seconds; `lasts` is the whole stride.
    pub(super) elapsed: f64,
    pub(super) lasts: f64,
    pub(super) pushed: Option<ThingId>,
}

restored!(Stride { target: Target, elapsed: f64, lasts: f64, pushed: Option<ThingId> } as saved => {
    ensure(saved.lasts.is_finite() && saved.lasts > 0.0, "lasts must be finite and above 0 (seconds)")?;
    ensure(saved.elapsed.is_finite() && saved.elapsed >= 0.0, "elapsed must be finite and at least 0 (seconds)")?;
    let is_on_map = may_be_on_a_map(saved.target.tile) && may_be_on_a_map(saved.target.landing);
    ensure(is_on_map, "target must be on a map")?;
    Ok(Stride { target: saved.target, elapsed: saved.elapsed, lasts: saved.lasts, pushed: saved.pushed })
});

/// A mover that goes from tile centre to tile centre.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{Claims, StepMode, StepGround, StepRules, Stepper};
///
/// let legend = Legend::new().with('#', TileKind::wall("planter")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["....", ".##.", "...."], &legend)?.with_tile_size(16.0)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
///
/// // One press is one tile, however long the key is held.
/// let rules = StepRules::new(4.0)?.with_mode(StepMode::Tap);
/// let mut gardener = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;
/// let right = HeldKeys { right: true, ..HeldKeys::NONE }.intent(YAxis::Down);
/// for _ in 0..60 {
///     for event in gardener.tick(right, 1.0 / 60.0, &ground, &mut claims).iter() {
///         println!("{}", event.what);
///     }
/// }
/// assert_eq!(gardener.tile(), ivec2(1, 0));
/// assert_eq!(gardener.position(&map), map.center_of(ivec2(1, 0))); // to the last bit
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Stepper {
    pub(super) version: Version<1>,
    pub(super) id: MoverId,
    /// The rules; they can be changed at any time.
    pub rules: StepRules,
    pub(super) tile: IVec2,
    pub(super) facing: Facing,
    pub(super) stride: Option<Stride>,
    pub(super) held: Option<Facing>,
    pub(super) held_for: f64,
    /// The newest press that has not been used yet.
    pub(super) remembered: Option<Facing>,
    /// In seconds.
    pub(super) age_of_remembered: f64,
    /// Whether it runs on, in the step mode that does.
    pub(super) running: bool,
    /// How long it still pauses between two steps, in seconds.
    pub(super) pause: f64,
    /// The directions that were reported as blocked, one bit each, so that each press is reported once.
    pub(super) reported: u8,
    pub(super) moving: bool,
}

restored!(
    Stepper {
        version: Version<1>,
        id: MoverId,
        rules: StepRules,
        tile: IVec2,
        facing: Facing,
        stride: Option<Stride>,
        held: Option<Facing>,
        held_for: f64,
        remembered: Option<Facing>,
        age_of_remembered: f64,
        running: bool,
        pause: f64,
        reported: u8,
        moving: bool,
    } as saved => {
        ensure(may_be_on_a_map(saved.tile), "tile must be on a map")?;
        let fields::Stepper { version, id, rules, tile, facing, stride, held, held_for, .. } = saved;
        let fields::Stepper { remembered, age_of_remembered, running, pause, reported, moving, .. } = saved;
        for (time, why) in [
            (held_for, "held_for must be finite and at least 0 (seconds)"),
            (age_of_remembered, "age_of_remembered must be finite and at least 0 (seconds)"),
            (pause, "pause must be finite and at least 0 (seconds)"),
        ] {
            ensure(time.is_finite() && time >= 0.0, why)?;
        }
        #[rustfmt::skip]
        let stepper = Stepper {
            version, id, rules, tile, facing, stride, held, held_for, remembered, age_of_remembered, running, pause,
            reported, moving,
        };
        Ok(stepper)
    }
);

impl Stepper {
    /// A stepper that stands on a tile.
    ///
    /// # Errors
    /// When the tile lies outside the map, blocks, or is taken.
    pub fn on(
        tile: IVec2,
        rules: StepRules,
        ground: &StepGround<'_>,
        claims: &mut Claims,
    ) -> Result<Self, StepError> {
        ground.standing(tile, rules.mask)?;
        Ok(Self {
            version: Version,
            id: claims.enter(tile)?,
            rules,
            tile,
            facing: Facing::Down,
            stride: None,
            held: None,
            held_for: 0.0,
            remembered: None,
            age_of_remembered: 0.0,
            running: false,
            pause: 0.0,
            reported: 0,
            moving: false,
        })
    }

    /// Its id.
    #[must_use]
    pub const fn id(&self) -> MoverId {
        self.id
    }

    /// The tile that it stands on or strides from.
    #[must_use]
    pub const fn tile(&self) -> IVec2 {
        self.tile
    }

    /// The tile that it strides to; behind a portal, the tile where it continues.
    #[must_use]
    pub fn stride_to(&self) -> Option<IVec2> {
        self.stride.map(|stride| stride.target.landing)
    }

    /// How much of the stride is done, 0 to 1; 0 at rest.
    #[must_use]
    pub fn fraction(&self) -> f32 {
        #[expect(clippy::cast_possible_truncation, reason = "a fraction, rounded once")]
        let fraction = self.stride.map_or(0.0, |stride| stride.part()) as f32;
        fraction
    }

    /// The direction that it faces.
    #[must_use]
    pub const fn facing(&self) -> Facing {
        self.facing
    }

    /// The direction that it remembers, if any.
    #[must_use]
    pub const fn remembered(&self) -> Option<Facing> {
        self.remembered
    }

    /// The thing that it pushes, and the displacement by which that is still short of its tile, in units.
    #[must_use]
    pub fn pushing(&self, grid: &TileGrid) -> Option<(ThingId, Vec2)> {
        let stride = self.stride?;
        let short = grid.center_of(self.tile) - grid.center_of(self.tile + self.facing.step());
        #[expect(clippy::cast_possible_truncation, reason = "a fraction, rounded once")]
        let left = (1.0 - self.rules.easing.at(stride.part())) as f32;
        Some((stride.pushed?, short * left))
    }

    /// Its position in the world: exactly on a tile centre, or between two.
    #[must_use]
    pub fn position(&self, grid: &TileGrid) -> Vec2 {
        let start = grid.center_of(self.tile);
        let Some(stride) = self.stride else { return start };
        let end = grid.center_of(self.tile + self.facing.step());
        let part = self.rules.easing.at(stride.part());
        (start.as_dvec2() + (end - start).as_dvec2() * part).as_vec2()
    }

    /// The mean velocity of the stride under way, in units per second; zero at rest. One that runs on keeps it where it lands,
    /// until it is known to be blocked.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::steps::{Claims, StepGround, StepRules, Stepper};
    ///
    /// let rails = TileGrid::from_rows(&["..."], &Legend::new().with('.', TileKind::floor("rails")))?;
    /// let (rails, mut claims) = (rails.with_tile_size(16.0)?, Claims::new());
    /// let ground = StepGround::new(&rails);
    /// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(2.0)?, &ground, &mut claims)?;
    /// let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.1, &ground, &mut claims);
    /// assert_eq!(cart.velocity(&rails), vec2(32.0, 0.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[must_use]
    pub fn velocity(&self, grid: &TileGrid) -> Vec2 {
        let lasts = match self.stride {
            Some(stride) => stride.lasts,
            // At the instant of landing, the next stride has not begun.
            None if self.running && self.rules.mode() == StepMode::RunOn => {
                self.rules.stride(self.facing.is_diagonal())
            }
            None => return Vec2::ZERO,
        };
        let step = self.facing.step().as_dvec2() * grid.tile_size().as_dvec2();
        let downward = f64::from(grid.y_axis().downward());
        // Adding zero removes the sign of a negative zero.
        (step * DVec2::new(1.0, downward) / lasts).as_vec2() + Vec2::ZERO
    }

    /// Its distance from the centre of its tile, in units. If the mover stays in the middle of the view, the map
    /// scrolls by this much.
    #[must_use]
    pub fn view_offset(&self, grid: &TileGrid) -> Vec2 {
        self.position(grid) - grid.center_of(self.tile)
    }

    /// Advances by `dt` seconds and returns what happened, in order.
    ///
    /// If you call several steppers in turn, the first call decides first, and a follower that is called before its
    /// leader starts one call later. [`tick_together`](super::tick_together) does not depend on an order. A `dt` that
    /// is zero, negative or not finite does nothing.
    pub fn tick(
        &mut self,
        wish: impl Into<StepInput>,
        dt: f32,
        ground: &StepGround<'_>,
        claims: &mut Claims,
    ) -> StrideEvents {
        let mut happened = StrideEvents::default();
        self.tick_with(wish, dt, ground, claims, |event| happened.push(event));
        happened
    }

    /// The same; calls `on_event` for each event instead of listing the first [`MAX_EVENTS`](super::MAX_EVENTS). This
    /// is faster for many steppers.
    ///
    /// ```
    /// use ambulant::prelude::*;
    /// use ambulant::steps::{Claims, StepGround, StepRules, StrideEvent, Stepper};
    ///
    /// let rails = TileGrid::from_rows(&["...."], &Legend::new().with('.', TileKind::floor("rails")))?;
    /// let (ground, mut claims) = (StepGround::new(&rails), Claims::new());
    /// let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(2.0)?, &ground, &mut claims)?;
    /// let mut entered = 0;
    /// cart.tick_with(Intent::new(vec2(1.0, 0.0)), 1.0, &ground, &mut claims, |event| {
    ///     entered += usize::from(matches!(event.what, StrideEvent::Entered { .. }));
    /// });
    /// assert_eq!((entered, cart.tile()), (2, ivec2(2, 0)));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    #[inline]
    pub fn tick_with(
        &mut self,
        wish: impl Into<StepInput>,
        dt: f32,
        ground: &StepGround<'_>,
        claims: &mut Claims,
        mut on_event: impl FnMut(TimedStep),
    ) {
        self.take(wish.into(), ground.grid.y_axis());
        let whole = f64::from(seconds(dt));
        // The most common tick: in a stride, and not there yet.
        if self.stride.is_some() && self.until_next() > whole + SAME_INSTANT {
            self.pass(whole);
            return;
        }
        self.tick_through(whole, ground, claims, &mut |at, what| on_event(TimedStep::new(at, what)));
    }

    /// A tick in which something may be decided.
    fn tick_through(
        &mut self,
        whole: f64,
        ground: &StepGround<'_>,
        claims: &mut Claims,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) {
        let mut left = whole;
        for _ in 0..MOST_STRIDES {
            if self.stands() {
                let started = self.starts(whole - left, ground, claims, on_event);
                // A press without effect may leave another direction to try.
                if started.is_err_and(|blocked| self.stays(whole - left, blocked, on_event)) {
                    continue;
                }
            }
            let wait = self.until_next();
            if wait > left + SAME_INSTANT {
                self.pass(left);
                break;
            }
            self.pass(wait);
            left -= wait;
            self.arrive(whole - left, claims, on_event);
        }
    }

    /// Cuts a stride short, or moves a stepper that stands to another tile.
    ///
    /// # Errors
    /// When the tile is not free (a follower may have claimed the one it came from); then nothing changes.
    pub fn cancel(
        &mut self,
        how: Cancel,
        ground: &StepGround<'_>,
        claims: &mut Claims,
    ) -> Result<(), StepError> {
        let landing = self.stride_to().unwrap_or(self.tile);
        let tile = match how {
            Cancel::Back => self.tile,
            Cancel::On => landing,
            Cancel::To(tile) => tile,
        };
        ground.standing(tile, self.rules.mask)?;
        claims.hold(self.id, tile)?;
        if let Some(stride) = self.stride.take() {
            claims.land(self.id, self.tile, stride.target);
            if tile != landing {
                claims.release(self.id, landing);
            }
        }
        if tile != self.tile && landing == self.tile {
            claims.release(self.id, self.tile);
        }
        claims.hold(self.id, tile)?;
        (self.tile, self.running, self.remembered, self.pause) = (tile, false, None, 0.0);
        Ok(())
    }

    /// Takes it off the map.
    pub fn leave(self, claims: &mut Claims) {
        if let Some(stride) = self.stride {
            claims.land(self.id, self.tile, stride.target);
            claims.release(self.id, stride.target.landing);
        }
        claims.release(self.id, self.tile);
    }
}

impl Stride {
    fn part(&self) -> f64 {
        (self.elapsed / self.lasts).clamp(0.0, 1.0)
    }
}
