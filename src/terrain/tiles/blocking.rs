//! How a kind of tile blocks: what sweeps ask of it, close together.

use super::legend::{TileForm, TileKind};
use crate::direction::Side;
use crate::terrain::layers::Layers;

/// What sweeps ask of a kind of tile.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Blocking {
    pub(crate) form: TileForm,
    pub(crate) layers: Layers,
    /// By side, as numbered by the enum.
    pub(crate) closed: [bool; 4],
}

impl Blocking {
    pub(in crate::terrain) const NOTHING: Self =
        Self { form: TileForm::Open, layers: Layers::NONE, closed: [false; 4] };
    pub(in crate::terrain) const OUTSIDE: Self =
        Self { form: TileForm::Full, layers: Layers::FIRST, closed: [false; 4] };

    pub(in crate::terrain) fn of(kind: &TileKind) -> Self {
        let closed = [Side::Left, Side::Right, Side::Top, Side::Bottom].map(|side| kind.is_closed_from(side));
        Self { form: kind.form(), layers: kind.layers(), closed }
    }

    /// Whether it blocks by half.
    pub(in crate::terrain) const fn is_half(&self) -> bool {
        matches!(self.form, TileForm::Half(_))
    }

    /// Whether it can be left where it cannot be entered.
    pub(in crate::terrain) fn is_ledge(&self) -> bool {
        self.form != TileForm::Full && self.closed.contains(&true)
    }
}

/// How all kinds that block do so, if they are alike.
pub(in crate::terrain) fn uniform(forms: &[Blocking]) -> Option<Blocking> {
    let mut blocking = forms.iter().filter(|form| blocks_at_all(form));
    let first = blocking.next()?;
    blocking.all(|form| form == first).then_some(*first)
}

/// Whether a kind of tile can block anything.
pub(in crate::terrain) fn blocks_at_all(blocking: &Blocking) -> bool {
    blocking.form != TileForm::Open || blocking.closed.contains(&true)
}

/// Whether a kind of tile can block on a layer.
pub(in crate::terrain) fn blocks_on(layer: Layers, blocking: &Blocking) -> bool {
    blocks_at_all(blocking) && blocking.layers.meets(layer)
}

/// The layers on which kinds of tile block, one by one; none if all block on the first.
pub(in crate::terrain) fn layers_of(forms: &[Blocking]) -> impl Iterator<Item = Layers> {
    let blocking = forms.iter().filter(|form| blocks_at_all(form));
    let all = blocking.fold(Layers::NONE, |all, form| all | form.layers);
    let some = if all == Layers::FIRST { Layers::NONE } else { all };
    some.numbers().map(Layers::bit)
}
