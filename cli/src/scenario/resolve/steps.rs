//! Stepping from tile to tile: an actor's rules, portals, things that are pushed.

use std::ops::Range;

use ambulant::steps::{
    Claims, CornerRule, Diagonals, Easing, GridEdge, Portals, StepMode, StepRules, Stepper,
};
use ambulant::terrain::{Layers, TileGrid};
use glam::IVec2;
use toml::Spanned;

use super::super::problem::Problem;
use super::super::{Moves, Scenario, Tracks, file};
use super::refused;

pub(super) const fn edge(written: file::Edge) -> GridEdge {
    match written {
        file::Edge::Block => GridEdge::Block,
        file::Edge::Wrap => GridEdge::Wrap,
    }
}

/// Portals and things: what only steppers need.
pub(super) fn tracks(
    edge: GridEdge,
    portals: Vec<Spanned<file::Portal>>,
    crates: Vec<Spanned<file::Crate>>,
    grid: &TileGrid,
) -> Result<Tracks, Problem> {
    let mut pairs = Vec::new();
    let mut place = 0..0;
    for written in portals {
        place = written.span();
        let tiles: Vec<IVec2> = written.into_inner().tiles.into_iter().map(IVec2::from).collect();
        let [one, other] = tiles[..] else {
            let message = format!("a portal has two tiles, not {}", tiles.len());
            return Err(Problem::at(place, message, "").help("write tiles = [[0, 5], [27, 5]]"));
        };
        pairs.push((one, other));
        // The last one added is the one at fault.
        Portals::new(grid, &pairs).map_err(|error| Problem::at(place.clone(), error.to_string(), ""))?;
    }
    let portals = Portals::new(grid, &pairs).map_err(|error| Problem::at(place, error.to_string(), ""))?;
    let mut tracks = Tracks { edge, portals, crates: Vec::new() };
    for written in crates {
        let place = written.span();
        let file::Crate { name, tile } = written.into_inner();
        let tile = IVec2::from(tile);
        let taken = tracks.crates.iter().any(|(_, other)| *other == tile);
        if taken || !grid.contains(tile) || grid.blocks(tile) {
            let message = format!("`{name}` cannot stand on tile {},{}", tile.x, tile.y);
            return Err(Problem::at(place, message, "").help("choose a free tile of the map"));
        }
        tracks.crates.push((name, tile));
    }
    Ok(tracks)
}

/// The rules of an actor that steps by tiles.
pub(super) fn rules(written: &file::Steps, mask: Layers) -> Result<StepRules, Problem> {
    let rules = StepRules::new(*written.speed.get_ref()).map_err(refused(written.speed.span()))?;
    let hold = written.mode == file::StepMode::Hold;
    for (name, time) in [("delay", &written.delay), ("pause", &written.pause)] {
        let Some(time) = time else { continue };
        let seconds = *time.get_ref();
        if !hold || !seconds.is_finite() || seconds < 0.0 {
            let message = format!("{name} is a time of at least 0 for mode = \"hold\"");
            return Err(Problem::at(time.span(), message, ""));
        }
    }
    let time = |time: &Option<Spanned<f32>>| time.as_ref().map_or(0.0, |time| *time.get_ref());
    let mode = match written.mode {
        file::StepMode::Tap => StepMode::Tap,
        file::StepMode::Hold => StepMode::Hold { delay: time(&written.delay), pause: time(&written.pause) },
        file::StepMode::RunOn => StepMode::RunOn,
    };
    let mut rules = rules.with_mode(mode).with_mask(mask).with_easing(match written.easing {
        file::Easing::Linear => Easing::Linear,
        file::Easing::Smooth => Easing::Smooth,
    });
    if let Some(memory) = &written.input_buffer {
        rules = rules.with_input_buffer(*memory.get_ref()).map_err(refused(memory.span()))?;
    }
    if let Some(corners) = written.diagonals {
        let corners = match corners {
            file::Corners8::NeverCut => CornerRule::NeverCut,
            file::Corners8::OneFree => CornerRule::OneFree,
            file::Corners8::AlwaysCut => CornerRule::AlwaysCut,
        };
        let place = written.diagonal_lasts.as_ref().map_or(0..0, Spanned::span);
        let lasts =
            written.diagonal_lasts.as_ref().map_or(core::f32::consts::SQRT_2, |lasts| *lasts.get_ref());
        rules = rules.with_diagonals(Diagonals::On { corners, lasts }).map_err(refused(place))?;
    }
    Ok(if written.pushes { rules.pushing() } else { rules })
}

/// The first actor that cannot stand where it starts, if any.
pub(super) fn check_tiles(scenario: &Scenario, places: &[Range<usize>]) -> Option<Problem> {
    let (ground, mut claims) = (scenario.step_ground(), Claims::new());
    for (_, tile) in &scenario.tracks.crates {
        claims.put_thing(*tile, &ground).ok()?;
    }
    for (actor, place) in scenario.actors.iter().zip(places) {
        let Moves::ByTiles(rules, tile) = actor.moves else { continue };
        if let Err(error) = Stepper::on(tile, rules, &ground, &mut claims) {
            let message = format!("`{}` cannot start there: {error}", actor.name);
            return Some(Problem::at(place.clone(), message, ""));
        }
    }
    None
}
