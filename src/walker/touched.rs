//! The walls that a mover is in contact with while a tick is played.

use core::cell::Cell;

use glam::{DVec2, Vec2};

use super::border::Border;
use super::effort::Effort;
use super::mover::DriveOn;
use crate::drive::Motion;
use crate::shape::Arc;
use crate::terrain::{Hit, Round, Wall};
use crate::tolerance::MOST_CONSTRAINTS;
use crate::travel::{Constraint, Passed, WallConstraints};

/// The walls in contact, and the direction round the end of a wall if there is corner help.
#[derive(Debug, Clone)]
pub(super) struct Touched {
    /// Whether walls are known to be near the whole rest of the tick.
    pub(super) is_near: bool,
    pub(super) walls: WallConstraints,
    pub(super) lead: Option<Vec2>,
    /// For how long no wall was pressed on along the path, in seconds.
    pub(super) apart: f32,
    /// The last wall that was met, until time passes: what is met at one instant holds together, even if the drive does not
    /// follow it.
    pub(super) met_now: Option<Hit>,
    /// The velocity before the first wall was met at this instant, and what those met since have left of it.
    pub(super) slid_now: Option<[Vec2; 2]>,
    /// The walls that were dropped at this instant, until time passes: one that is met again at once holds, since what led away
    /// from it was rounding, or another wall leads back into it.
    dropped: Passed<MOST_CONSTRAINTS>,
    /// The last wall that the drive led away from in this tick.
    pub(super) left_wall: Option<Wall>,
    /// The normal of the last flat wall that ended in this tick: it is not pressed on there, though it may still
    /// count as touched.
    pub(super) ended: Option<Vec2>,
    /// For how many seconds no wall in contact that takes the mover along, or will, changes its motion.
    pub(super) carriers_steady: f32,
    /// The border between two surfaces that the mover stays on.
    pub(super) border: Option<Border>,
    /// The last round parts of walls in contact; more than two cannot hold a mover.
    rounds: [Option<Round>; 2],
    pub(super) effort: Effort,
    /// A wall that is left at the start of a piece, where walls move: its normal, a position against it then, and its
    /// velocity. The path may come back to it by less than a graze, which would be too deep for the next piece.
    pub(super) grazed: Cell<Option<(Vec2, DVec2, Vec2)>>,
}

impl Touched {
    /// No walls, for a mover with this drive.
    pub(super) fn none(drive: &DriveOn<'_>) -> Self {
        Self {
            is_near: true,
            walls: WallConstraints::none(drive.ground(), drive.axis()),
            lead: None,
            apart: f32::INFINITY,
            met_now: None,
            slid_now: None,
            dropped: Passed::none(),
            left_wall: None,
            ended: None,
            carriers_steady: f32::INFINITY,
            border: None,
            rounds: [None; 2],
            effort: Effort::default(),
            grazed: Cell::new(None),
        }
    }

    /// No walls again, with the steps so far.
    pub(super) fn after_slide(&self, drive: &DriveOn<'_>) -> Self {
        Self { effort: self.effort.clone(), ..Self::none(drive) }
    }

    /// Adds a wall, with its round part if it is round there.
    pub(super) fn add(&mut self, hit: &Hit, round: Option<Round>) {
        self.walls.add(hit);
        if hit.carries {
            self.carriers_steady = self.carriers_steady.min(hit.steady);
        }
        if let Some(round) = round {
            let known = |known: &Option<Round>| known.is_none_or(|known| known.belongs_to(hit.wall));
            let place = self.rounds.iter().position(known).unwrap_or_else(|| {
                self.rounds.swap(0, 1);
                1
            });
            self.rounds[place] = Some(round);
        }
    }

    /// Keeps the walls for which a condition holds, and those that were dropped at this instant before.
    pub(super) fn drop_unless(&mut self, keep: impl Fn(&Constraint) -> bool) {
        let dropped = &mut self.dropped;
        self.walls.retain(|wall| {
            let is_kept = keep(wall) || dropped.holds(wall.wall);
            if !is_kept {
                dropped.add(wall.wall);
            }
            is_kept
        });
    }

    /// Time has passed: what counted together at one instant does not any more.
    pub(super) fn pass_time(&mut self) {
        (self.met_now, self.slid_now) = (None, None);
        self.dropped.clear();
    }

    /// Sets the normals of round walls to those at a position, or to what these become for the round part and the velocity of the
    /// wall; those whose round part has ended more than so many units before are dropped.
    pub(super) fn turn_rounds(
        &mut self,
        position: DVec2,
        units: f64,
        becomes: impl Fn(&Arc, DVec2, Vec2) -> DVec2,
    ) {
        let rounds = self.rounds;
        self.walls.turn(|wall| {
            let mut known = rounds.iter().flatten();
            let arc = known.find(|round| round.belongs_to(wall.wall))?.arc;
            let normal = arc.normal(position);
            let turned = || becomes(&arc, normal, wall.velocity).as_vec2();
            (!arc.is_past_end(normal, units)).then(|| (turned(), arc.point(normal)))
        });
    }

    /// Whether a round wall and one that moves differently are touched: the normal changes in a way that no course describes.
    pub(super) fn turns_apart(&self) -> bool {
        self.walls.any_moves() && self.walls.any_round()
    }

    /// The border that the mover stays on, if it moves and no wall is touched.
    pub(super) fn moving_border(&self) -> Option<Border> {
        self.border.filter(|border| border.velocity != Vec2::ZERO && self.walls.is_empty())
    }

    /// The walls and the border have moved on for some seconds.
    pub(super) fn move_on(&mut self, seconds: f32) {
        for round in self.rounds.iter_mut().flatten() {
            if let Some(wall) = self.walls.iter().find(|wall| round.belongs_to(wall.wall)) {
                round.arc.center += wall.velocity.as_dvec2() * f64::from(seconds);
            }
        }
        if let Some(border) = &mut self.border {
            border.place += border.velocity.as_dvec2().dot(border.normal.as_dvec2()) * f64::from(seconds);
        }
        self.walls.move_on(seconds);
        self.carriers_steady -= seconds;
    }

    /// The round part of a wall in contact, if it is round.
    pub(super) fn round(&self, wall: &Constraint) -> Option<&Round> {
        self.rounds.iter().flatten().filter(|_| wall.is_round).find(|round| round.belongs_to(wall.wall))
    }
}

/// A motion of some seconds without what the walls in contact do not allow: a belt or a thrust can push without an intent.
pub(super) fn slid(touched: &Touched, motion: Motion, lasts: f32) -> Motion {
    let walls = &touched.walls;
    if walls.is_empty() {
        return motion;
    }
    let (displacement, velocity) =
        (walls.displacement_in(motion.displacement, lasts), walls.velocity(motion.velocity));
    Motion { displacement, velocity, ..motion }
}
