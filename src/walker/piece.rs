//! A piece of a tick: how long it lasts, what moves in it, and how it ends.

use glam::{DVec2, Vec2};

use crate::drive::Motion;
use crate::terrain::{Hit, Wall};

/// A piece of a tick and how it ends.
#[derive(Debug, Clone, Copy)]
pub(super) struct Piece {
    /// In seconds.
    pub(super) lasts: f32,
    pub(super) motion: Motion,
    pub(super) end: End,
    /// The normals of walls that are pressed on throughout.
    pub(super) pressed: [Option<Vec2>; 2],
    /// Along a round wall: the position then, and the normal there.
    pub(super) rolled: Option<(DVec2, DVec2)>,
}

impl Piece {
    pub(super) const fn new(lasts: f32, motion: Motion, end: End) -> Self {
        Self { lasts, motion, end, pressed: [None; 2], rolled: None }
    }

    /// Notes a wall that is pressed on; in the plane, two are enough to stop a mover.
    pub(super) fn press(&mut self, normal: Vec2) {
        if let Some(slot) = self.pressed.iter_mut().find(|slot| slot.is_none()) {
            *slot = Some(normal);
        }
    }

    /// Ends it earlier. A wall that was pressed on up to its end is pressed on throughout then.
    pub(super) fn cut(&mut self, lasts: f32, motion: Motion, end: End) {
        if let End::WallEnded(normal) = self.end {
            self.press(normal);
        }
        (self.lasts, self.motion, self.end) = (lasts, motion, end);
    }

    /// Whether it ends where the wall with this normal does.
    pub(super) fn ends_at(&self, normal: Vec2) -> bool {
        matches!(self.end, End::WallEnded(ended) if ended == normal)
    }

    /// Whether the wall with this normal is pressed on throughout.
    pub(super) fn presses(&self, normal: Vec2) -> bool {
        self.pressed.contains(&Some(normal))
    }
}

/// How a piece ends.
#[derive(Debug, Clone, Copy)]
pub(super) enum End {
    /// By itself.
    Free,
    /// The wall with this normal has ended.
    WallEnded(Vec2),
    /// The drive leads away from this wall.
    Left(Wall),
    /// A wall is touched.
    Touch(Hit),
    /// The surface changes.
    Border,
    /// The mover does not stay on a border any more.
    LeftBorder,
}
