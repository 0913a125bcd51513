//! What a mover of a group did in pieces of the tick before: from the same state, for as long, beside the same walls, it does the
//! same again. In a dense group most movers stand, and a piece is planned several times.

use alloc::rc::Rc;
use alloc::vec::Vec;

use super::member::{Still, Wish};
use crate::terrain::FoundWall;
use crate::tolerance::MOST_KNOWN_IN_CROWD;

/// The last pieces of one mover.
#[derive(Clone, Default)]
pub(super) struct LastPieces<'a> {
    pieces: Vec<(Start, Rc<Wish<'a>>)>,
    next: usize,
}

/// What decides what a mover does in a piece.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Start {
    pub(super) walker: Still,
    /// When it begins, if the terrain does not stand still.
    pub(super) now: Option<f64>,
    pub(super) lasts: f32,
    pub(super) walls: Vec<FoundWall>,
}

impl<'a> LastPieces<'a> {
    /// What it did in such a piece, if that was one of the last ones.
    pub(super) fn find(&self, start: &Start) -> Option<Rc<Wish<'a>>> {
        self.pieces.iter().find(|(known, _)| known == start).map(|(_, wish)| wish.clone())
    }

    /// Keeps a piece in the place of the oldest one.
    pub(super) fn keep(&mut self, start: Start, wish: Rc<Wish<'a>>) {
        if self.pieces.len() < MOST_KNOWN_IN_CROWD {
            self.pieces.push((start, wish));
        } else {
            self.pieces[self.next] = (start, wish);
        }
        self.next = (self.next + 1) % MOST_KNOWN_IN_CROWD;
    }
}
