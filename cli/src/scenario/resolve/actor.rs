//! An actor: where it starts, the ground it covers, how it moves.

use ambulant::drive::Gait;
use ambulant::shape::{Anchor, Footprint};
use ambulant::terrain::{Terrain, TileGrid};
use glam::{IVec2, Vec2};

use super::super::problem::Problem;
use super::super::{Actor, file};
use super::keys::keys;
use super::map::describe;
use super::{Findings, refused};

pub(super) fn resolve(
    actor: file::Actor,
    map: Option<&TileGrid>,
    seconds: f64,
    findings: &mut Findings,
) -> Option<Actor> {
    let footprint = findings.keep(footprint(actor.footprint.get_ref()));
    let gait = findings.keep(gait(actor.gait.get_ref()));
    let keys = findings.keep(keys(&actor.keys, seconds));
    let start = Vec2::from(*actor.start.get_ref());
    if let (Some(map), Some(footprint)) = (map, &footprint) {
        let checked = check_start(start, footprint, map, &actor);
        findings.keep(checked)?;
    }
    Some(Actor { name: actor.name.into_inner(), start, footprint: footprint?, gait: gait?, keys: keys? })
}

fn footprint(written: &file::Footprint) -> Result<Footprint, Problem> {
    let [width, height] = *written.size.get_ref();
    let anchor = match written.anchor {
        file::Anchor::Center => Anchor::Center,
        file::Anchor::TopLeft => Anchor::TopLeft,
    };
    let footprint = Footprint::boxed(width, height).map_err(refused(written.size.span()))?;
    match &written.offset {
        Some(offset) => footprint
            .with_anchor(anchor)
            .with_offset(Vec2::from(*offset.get_ref()))
            .map_err(refused(offset.span())),
        None => Ok(footprint.with_anchor(anchor)),
    }
}

fn gait(written: &file::Gait) -> Result<Gait, Problem> {
    let file::Gait { top_speed, acceleration, friction } = written;
    Gait::new(*top_speed.get_ref(), *acceleration.get_ref(), *friction.get_ref()).map_err(|error| {
        let place = match error.field() {
            "top_speed" => top_speed.span(),
            "acceleration" => acceleration.span(),
            _ => friction.span(),
        };
        refused(place)(error)
    })
}

fn check_start(
    start: Vec2,
    footprint: &Footprint,
    map: &TileGrid,
    actor: &file::Actor,
) -> Result<(), Problem> {
    let (name, place) = (actor.name.get_ref(), actor.start.span());
    if !start.is_finite() {
        return Err(Problem::at(place, format!("the start of `{name}` is not a finite place"), ""));
    }
    let area = map.area();
    let inside =
        format!("the map covers x {} to {}, y {} to {}", area.min.x, area.max.x, area.min.y, area.max.y);
    let center = footprint.at(start).center();
    if !map.contains(map.tile_at(center)) {
        return Err(Problem::at(place, format!("`{name}` starts outside the map"), "").help(inside));
    }
    if !map.overlaps(footprint, start) {
        return Ok(());
    }
    let covered = footprint.at(start);
    let first = map.tile_at(covered.min).min(map.tile_at(covered.max));
    let last = map.tile_at(covered.min).max(map.tile_at(covered.max));
    let wall = (first.y..=last.y)
        .flat_map(|row| (first.x..=last.x).map(move |column| IVec2::new(column, row)))
        .find(|tile| map.blocks(*tile) && map.tile_area(*tile).overlaps(&covered));
    let what = wall.map_or_else(|| "a wall".to_owned(), |tile| describe(map, tile));
    let label = format!("its footprint covers {what}");
    let help = "move the start, or make the footprint smaller";
    Err(Problem::at(place, format!("`{name}` starts inside a wall"), label).help(help))
}
