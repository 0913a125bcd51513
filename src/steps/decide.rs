//! What a stepper decides at each instant: where it wants to go, whether it may start, and when it lands.

use glam::IVec2;

use super::blocked::{BlockedBy, ThingId};
use super::claims::Claims;
use super::event::StrideEvent;
use super::ground::{StepGround, Target};
use super::rules::{Diagonals, StepMode};
use super::step_input::StepInput;
use super::stepper::{Stepper, Stride};
use crate::direction::{Facing, YAxis};
use crate::intent::Intent;
use crate::tolerance::{DIAGONAL_ROUNDING, SAME_INSTANT};

/// The directions that were wanted, the preferred one first, and what blocks them.
pub(super) type Blocked = [Option<(Facing, BlockedBy)>; 2];

impl Stepper {
    /// Notes the input.
    pub(super) fn take(&mut self, wish: StepInput, y_axis: YAxis) {
        let held = self.direction(wish.held, y_axis);
        let tapped = if wish.tapped == Intent::NONE { None } else { self.direction(wish.tapped, y_axis) };
        let pressed = tapped.or(held.filter(|_| held != self.held));
        if held != self.held {
            (self.held, self.held_for) = (held, 0.0);
        }
        if let Some(direction) = pressed {
            (self.remembered, self.age_of_remembered) = (Some(direction), 0.0);
            self.reported = 0;
        }
    }

    /// Whether it stands and may decide.
    pub(super) fn stands(&self) -> bool {
        self.stride.is_none() && self.pause <= SAME_INSTANT
    }

    /// The time until it lands, or until it may decide again, in seconds.
    pub(super) fn until_next(&self) -> f64 {
        if let Some(stride) = self.stride {
            return (stride.lasts - stride.elapsed).max(0.0);
        }
        if self.pause > SAME_INSTANT {
            return self.pause;
        }
        match (self.rules.mode, self.held) {
            (StepMode::Hold { delay, .. }, Some(_)) if f64::from(delay) > self.held_for + SAME_INSTANT => {
                f64::from(delay) - self.held_for
            }
            _ => f64::INFINITY,
        }
    }

    /// Passes time in which nothing is decided.
    pub(super) fn pass(&mut self, time: f64) {
        self.held_for += time;
        self.pause = (self.pause - time).max(0.0);
        if let Some(stride) = &mut self.stride {
            stride.elapsed += time;
        }
        let Some(direction) = self.remembered else { return };
        // A remembered press stays fresh while its key is held.
        if self.rules.mode == StepMode::RunOn && self.held == Some(direction) {
            self.age_of_remembered = 0.0;
            return;
        }
        self.age_of_remembered += time;
        if self.age_of_remembered > f64::from(self.rules.input_buffer) + SAME_INSTANT {
            self.remembered = None;
        }
    }

    /// Lands, if the stride is over; returns the tiles that it released.
    pub(super) fn arrive(
        &mut self,
        at: f64,
        claims: &mut Claims,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) -> [Option<IVec2>; 2] {
        let Some(stride) = self.stride.filter(|stride| stride.elapsed + SAME_INSTANT >= stride.lasts) else {
            return [None; 2];
        };
        let left = self.tile;
        let Target { tile, landing } = stride.target;
        claims.land(self.id, self.tile, stride.target);
        (self.tile, self.stride) = (landing, None);
        on_event(at, StrideEvent::Entered { tile });
        if tile != landing {
            on_event(at, StrideEvent::Passed { entrance: tile, exit: landing });
        }
        if let (StepMode::Hold { pause, .. }, Some(_)) = (self.rules.mode, self.held) {
            self.pause = f64::from(pause);
        }
        if self.pause > SAME_INSTANT {
            // It stands from now on, whatever it decides after the pause.
            self.rest(at, on_event);
        }
        [Some(left), Some(tile).filter(|tile| *tile != landing)]
    }

    /// Starts a stride, if one is wanted and possible; otherwise returns what blocks it.
    pub(super) fn starts(
        &mut self,
        at: f64,
        ground: &StepGround<'_>,
        claims: &mut Claims,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) -> Result<(), Blocked> {
        let mut blocked = Blocked::default();
        for (place, direction) in self.wanted().into_iter().enumerate() {
            let Some(direction) = direction else { continue };
            match self.free(direction, ground, claims) {
                Ok((target, pushed)) => {
                    if let [Some((dearer, by)), _] = blocked {
                        self.report_blocked(at, dearer, by, on_event);
                    }
                    self.start(at, direction, target, pushed, claims, on_event);
                    return Ok(());
                }
                Err(by) => blocked[place] = Some((direction, by)),
            }
        }
        Err(blocked)
    }

    /// Stays where it is: reports what blocks it, and forgets a press at a wall. Returns whether it forgot one.
    pub(super) fn stays(
        &mut self,
        at: f64,
        blocked: Blocked,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) -> bool {
        let pressed = self.remembered;
        for (direction, by) in blocked.into_iter().flatten() {
            self.report_blocked(at, direction, by, on_event);
            // A press at a wall is over; a press at another stepper waits as long as it is remembered.
            let over = self.rules.mode != StepMode::RunOn && !matches!(by, BlockedBy::Mover(_));
            if over && pressed == Some(direction) {
                self.remembered = None;
            }
        }
        self.running = false;
        self.rest(at, on_event);
        self.remembered != pressed
    }

    /// Reports that it stands, once.
    fn rest(&mut self, at: f64, on_event: &mut impl FnMut(f64, StrideEvent)) {
        if self.moving {
            self.moving = false;
            on_event(at, StrideEvent::Rested { tile: self.tile });
        }
    }

    /// The directions that it wants to take now, the preferred one first.
    fn wanted(&self) -> [Option<Facing>; 2] {
        let pressed = self.remembered;
        match self.rules.mode {
            StepMode::Tap => [pressed, None],
            StepMode::Hold { delay, .. } => {
                let held = self.held.filter(|_| self.held_for + SAME_INSTANT >= f64::from(delay));
                [pressed.or(held), None]
            }
            StepMode::RunOn => {
                let wish = pressed.or(self.held);
                [wish, Some(self.facing).filter(|facing| self.running && Some(*facing) != wish)]
            }
        }
    }

    fn free(
        &self,
        direction: Facing,
        ground: &StepGround<'_>,
        claims: &Claims,
    ) -> Result<(Target, Option<(ThingId, IVec2)>), BlockedBy> {
        let target = ground.look(self.tile, direction, self.rules.mask, self.rules.diagonals)?;
        let pushed = claims.may_start(ground, &self.rules, self.tile, direction, target)?;
        Ok((target, pushed))
    }

    fn start(
        &mut self,
        at: f64,
        direction: Facing,
        target: Target,
        pushed: Option<(ThingId, IVec2)>,
        claims: &mut Claims,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) {
        let lasts = self.rules.stride(direction.is_diagonal());
        claims.start(self.id, self.tile, target, lasts, pushed);
        if direction != self.facing {
            on_event(at, StrideEvent::Turned { to: direction });
        }
        on_event(at, StrideEvent::Left { tile: self.tile });
        if let Some((thing, to)) = pushed {
            on_event(at, StrideEvent::Pushed { thing, to });
        }
        if self.remembered == Some(direction) {
            self.remembered = None;
        }
        // What blocks it further on is reported anew; a press beside its direction is reported once.
        self.reported =
            if self.rules.mode == StepMode::RunOn { self.reported & !(1 << direction as u8) } else { 0 };
        (self.facing, self.running, self.moving) = (direction, true, true);
        let pushed = pushed.map(|(thing, _)| thing);
        self.stride = Some(Stride { target, elapsed: 0.0, lasts, pushed });
    }

    fn report_blocked(
        &mut self,
        at: f64,
        direction: Facing,
        by: BlockedBy,
        on_event: &mut impl FnMut(f64, StrideEvent),
    ) {
        let bit = 1 << direction as u8;
        if self.reported & bit == 0 {
            self.reported |= bit;
            on_event(at, StrideEvent::Blocked { direction, by });
        }
    }

    /// The direction that an intent asks for.
    fn direction(&self, intent: Intent, y_axis: YAxis) -> Option<Facing> {
        let asked = intent.vector();
        if self.rules.diagonals != Diagonals::Off {
            return Facing::toward(asked, y_axis);
        }
        // Of two equal components the horizontal one counts, within the rounding of a diagonal.
        let across = asked.x.abs() >= asked.y.abs() * (1.0 - DIAGONAL_ROUNDING);
        Facing::along_axis(asked, across, y_axis)
    }
}
