//! An actor: where it starts, the ground it covers, how it moves.

use ambulant::intent::{Angle, YAxis};
use ambulant::shape::{Anchor, Footprint, overlap};
use ambulant::terrain::{Minds, Terrain, TileGrid};
use glam::{IVec2, Vec2};
use toml::Spanned;

use super::super::problem::Problem;
use super::super::{Actor, Standing, file};
use super::map::describe;
use super::{Findings, drive, refused, script};

pub(super) fn resolve(
    actor: file::Actor,
    walls: Option<(&TileGrid, &Standing)>,
    seconds: f64,
    findings: &mut Findings,
) -> Option<Actor> {
    let y_axis = walls.map_or(YAxis::Down, |(map, _)| map.y_axis());
    let footprint = findings.keep(footprint(&actor.footprint));
    let drive = findings.keep(drive::resolve(&actor, y_axis));
    let script = findings.keep(script::resolve(&actor, seconds, y_axis));
    let heading = match &actor.heading_degrees {
        Some(degrees) if degrees.get_ref().is_finite() => Angle::from_degrees(*degrees.get_ref()),
        Some(degrees) => {
            findings.0.push(Problem::at(degrees.span(), "heading_degrees is not a finite number", ""));
            Angle::ZERO
        }
        None => Angle::ZERO,
    };
    let start = Vec2::from(*actor.start.get_ref());
    if let (Some((map, standing)), Some(footprint)) = (walls, &footprint) {
        let checked = check_start(start, footprint, map, &actor)
            .and_then(|()| check_obstacles(start, footprint, standing, &actor));
        findings.keep(checked)?;
    }
    let (script, warnings) = script?;
    Some(Actor {
        name: actor.name.into_inner(),
        start,
        heading,
        footprint: footprint?,
        drive: drive?,
        script,
        stick_warnings: warnings,
    })
}

fn footprint(table: &Spanned<file::Footprint>) -> Result<Footprint, Problem> {
    let written = table.get_ref();
    let anchor = match written.anchor {
        file::Anchor::Center => Anchor::Center,
        file::Anchor::TopLeft => Anchor::TopLeft,
    };
    let footprint = match (&written.size, &written.circle) {
        (Some(size), None) => {
            let [width, height] = *size.get_ref();
            Footprint::boxed(width, height).map_err(refused(size.span()))?
        }
        (None, Some(radius)) => Footprint::circle(*radius.get_ref()).map_err(refused(radius.span()))?,
        _ => {
            return Err(Problem::at(table.span(), "a footprint is a box or a circle", "")
                .help("write { box = [width, height] } or { circle = radius }"));
        }
    };
    match &written.offset {
        Some(offset) => footprint
            .with_anchor(anchor)
            .with_offset(Vec2::from(*offset.get_ref()))
            .map_err(refused(offset.span())),
        None => Ok(footprint.with_anchor(anchor)),
    }
}

fn check_obstacles(
    start: Vec2,
    footprint: &Footprint,
    standing: &Standing,
    actor: &file::Actor,
) -> Result<(), Problem> {
    let (name, place) = (actor.name.get_ref(), actor.start.span());
    let Some((wall, _)) = standing.iter().find(|(_, solid)| overlap(footprint, start, solid).is_some())
    else {
        return Ok(());
    };
    let label = format!("its footprint covers {wall}");
    let help = "move the start, or make the footprint smaller";
    Err(Problem::at(place, format!("`{name}` starts inside an obstacle"), label).help(help))
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
    if !map.overlaps(footprint, start, &Minds::ALL) {
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
