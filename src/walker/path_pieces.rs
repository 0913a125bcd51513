//! Divides a tick whose path is asked for: into pieces that the path may show as straight.

use super::mover::Mover;
use super::piece::Piece;
use super::tick::Tick;
use crate::intent::Intent;
use crate::terrain::Terrain;
use crate::tolerance::{BOW_OF_PATH, SHORTEST_OF_PATH};

impl Mover<'_> {
    /// The next piece of a tick; if a path is asked for, one that it may show as straight.
    pub(super) fn next_piece_in(&self, tick: &mut Tick<'_>, remaining: f32, terrain: &dyn Terrain) -> Piece {
        let (intent, touched) = (tick.intent, &mut tick.touched);
        if tick.path.is_none() {
            return self.next_piece(intent, remaining, touched, terrain);
        }
        let mut lasts = remaining.min(2.0 * tick.straight);
        loop {
            let piece = self.next_piece(intent, lasts, touched, terrain);
            if piece.lasts <= SHORTEST_OF_PATH || self.bow_of(&piece, intent) <= BOW_OF_PATH {
                tick.straight = if piece.lasts > 0.0 { piece.lasts } else { tick.straight };
                return piece;
            }
            lasts = 0.5 * piece.lasts;
        }
    }

    /// How far the path of a piece can be from its chord at one instant, in units.
    fn bow_of(&self, piece: &Piece, intent: Intent) -> f32 {
        let after = |lasts: f32| self.drive.momentum_after(self.momentum(), intent, lasts).velocity;
        let [first, half] = [0.0, 0.5 * piece.lasts].map(after);
        let last = piece.motion.velocity;
        let change = (half - first).length().max((last - half).length()).max((last - first).length());
        // A sudden change of velocity bows by a quarter of this, constant acceleration by an eighth.
        0.25 * change * piece.lasts
    }
}
