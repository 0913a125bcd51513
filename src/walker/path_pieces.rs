//! Divides a tick whose path is asked for: into pieces that the path may show as straight.

use super::instants::first_time;
use super::mover::Mover;
use super::piece::Piece;
use super::tick::Tick;
use super::touched::Touched;
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::tolerance::{BOW_OF_PATH, KEPT_OF_PATH, SHORTEST_OF_PATH, UNEVEN_PATH};

impl Mover<'_> {
    /// The next piece of a tick; if a path is asked for, one that it may show as straight.
    pub(super) fn next_piece_in(&self, tick: &mut Tick<'_>, remaining: f32, terrain: &dyn Terrain) -> Piece {
        let (intent, touched) = (tick.intent, &mut tick.touched);
        if tick.path.is_none() {
            return self.next_piece(intent, remaining, touched, terrain);
        }
        let mut lasts = remaining.min(2.0 * tick.straight);
        let mut found = |piece: Piece| {
            tick.straight = if piece.lasts > 0.0 { piece.lasts } else { tick.straight };
            piece
        };
        loop {
            let piece = self.next_piece(intent, lasts, touched, terrain);
            if piece.lasts <= SHORTEST_OF_PATH {
                return found(piece);
            }
            if self.bow_of(&piece, intent) > BOW_OF_PATH {
                lasts = 0.5 * piece.lasts;
                continue;
            }
            match self.until_even(&piece, intent, touched, terrain) {
                Some(until) => lasts = until,
                None => return found(piece),
            }
        }
    }

    /// When a piece comes to a velocity that it keeps, in seconds, if that is on the way: on each side of that instant the velocity
    /// changes evenly.
    fn until_even(
        &self,
        piece: &Piece,
        intent: Intent,
        touched: &Touched,
        terrain: &dyn Terrain,
    ) -> Option<f32> {
        let last = piece.motion.velocity;
        let mean = piece.motion.displacement / piece.lasts - self.drive.ground();
        if (mean - 0.5 * (self.velocity + last)).length() <= UNEVEN_PATH {
            return None;
        }
        let is_last = |lasts: f32| {
            self.next_piece(intent, lasts, &mut touched.clone(), terrain).motion.velocity == last
        };
        let kept = KEPT_OF_PATH * piece.lasts;
        let until = is_last(kept).then(|| first_time(piece.lasts, is_last))?;
        // Later than that, only roundings of the velocity differ.
        (SHORTEST_OF_PATH..=kept).contains(&until).then_some(until)
    }

    /// How far the path of a piece can be from its chord at one instant, in units.
    fn bow_of(&self, piece: &Piece, intent: Intent) -> f32 {
        let after = |lasts: f32| self.drive.momentum_after(self.momentum(), intent, lasts).velocity;
        // What it jumps to at the start, since it was set or a wall has held it, is no bow.
        let [first, half, last] =
            [SHORTEST_OF_PATH.min(piece.lasts), 0.5 * piece.lasts, piece.lasts].map(after);
        let turned =
            if piece.rolled.is_some() { piece.motion.velocity - self.velocity } else { last - first };
        let change = (half - first).length().max((last - half).length()).max(turned.length());
        // A sudden change of velocity bows by a quarter of this, constant acceleration by an eighth.
        0.25 * change * piece.lasts
    }
}
