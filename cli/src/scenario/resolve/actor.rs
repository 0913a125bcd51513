//! An actor: where it starts, the ground it covers, how it moves.

use std::ops::Range;

use ambulant::direction::{Angle, YAxis};
use ambulant::shape::{Anchor, Footprint, overlap};
use ambulant::terrain::{Layers, Terrain, TileGrid, Wall, WallFilter, walls_under};
use ambulant::walker::AlongWalls;
use glam::{IVec2, Vec2};
use toml::Spanned;

use super::super::problem::Problem;
use super::super::{Actor, Item, LayerNames, Moves, Standing, file};
use super::map::describe;
use super::{Findings, arcade, drive, layers, refused, script, steps};

pub(super) fn resolve(
    actor: file::Actor,
    walls: Option<(&TileGrid, &Standing)>,
    seconds: f64,
    (names, known): (&[String], &mut LayerNames),
    findings: &mut Findings,
) -> Option<Actor> {
    let y_axis = walls.map_or(YAxis::Down, |(map, _)| map.y_axis());
    let keys = findings.keep(script::key_layout(&actor, y_axis))?;
    let hand = findings.keep(script::resolve(&actor, seconds, &keys));
    let heading = match &actor.heading_degrees {
        Some(degrees) if degrees.get_ref().is_finite() => Angle::from_degrees(*degrees.get_ref()),
        Some(degrees) => {
            findings.0.push(Problem::at(degrees.span(), "heading_degrees is not a finite number", ""));
            Angle::ZERO
        }
        None => Angle::ZERO,
    };
    let mask = findings.keep(layers(actor.mask.as_ref(), Layers::ALL, known))?;
    let along_walls = AlongWalls::PLAIN.with_full_speed(actor.full_speed);
    let along_walls = match &actor.corner_help {
        Some(help) => {
            let helped = along_walls.with_corner_help(*help.get_ref()).map_err(refused(help.span()));
            findings.keep(helped).unwrap_or(along_walls)
        }
        None => along_walls,
    };
    let placed = match (&actor.steps, &actor.ball) {
        (Some(steps), _) => by_tiles(&actor, steps.get_ref(), mask, walls.map(|(map, _)| map)),
        (None, Some(ball)) => flying(&actor, ball.get_ref(), names, mask, walls),
        (None, None) => freely(&actor, mask, walls, y_axis),
    };
    findings.keep(blocks(&actor));
    let paddle = findings.keep(arcade::paddle(&actor, y_axis))?;
    let hover = findings.keep(arcade::hover(&actor))?;
    let shots = findings.keep(arcade::shots(&actor, seconds))?;
    let at_walls = findings.keep(arcade::at_walls(&actor))?;
    let (moves, start, footprint) = findings.keep(placed)?;
    let script::Hand { script, stick, flick } = hand?;
    Some(Actor {
        name: actor.name.into_inner(),
        start,
        heading,
        footprint,
        moves,
        mask,
        along_walls: along_walls.with_at_walls(at_walls),
        blocks: actor.blocks.is_some_and(|blocks| blocks.into_inner()),
        paddle,
        hover,
        shots,
        shoots: actor.shots.is_some(),
        keys,
        script,
        stick,
        flick,
    })
}

/// How it moves, where it starts, the ground that it covers.
type Placed = (Moves, Vec2, Footprint);

/// Actors block each other if they move freely.
fn blocks(actor: &file::Actor) -> Result<(), Problem> {
    let walks = actor.steps.is_none() && actor.ball.is_none();
    match &actor.blocks {
        Some(blocks) if *blocks.get_ref() && !walks => {
            let message = format!("`{}` cannot block others: it does not walk", actor.name.get_ref());
            let help = "remove blocks: steppers claim their tiles, and balls fly past each other";
            Err(Problem::at(blocks.span(), message, "").help(help))
        }
        _ => Ok(()),
    }
}

fn freely(
    actor: &file::Actor,
    mask: Layers,
    walls: Option<(&TileGrid, &Standing)>,
    y_axis: YAxis,
) -> Result<Placed, Problem> {
    let name = actor.name.get_ref();
    if let Some(tile) = &actor.tile {
        let message = format!("`{name}` moves freely and starts at a place, not on a tile");
        return Err(Problem::at(tile.span(), message, "").help("write start = [x, y], or give it steps"));
    }
    let (start, footprint) = start_at_a_place(actor, mask, walls)?;
    let drive = drive::resolve(actor, y_axis)?;
    Ok((Moves::Freely(drive), start, footprint))
}

/// The place and footprint of an actor that does not step by tiles, checked against the walls.
fn start_at_a_place(
    actor: &file::Actor,
    mask: Layers,
    walls: Option<(&TileGrid, &Standing)>,
) -> Result<(Vec2, Footprint), Problem> {
    let name = actor.name.get_ref();
    let missing = |field: &str| Problem::at(actor.name.span(), format!("missing field `{field}`"), "");
    let footprint = footprint(actor.footprint.as_ref().ok_or_else(|| missing("footprint"))?)?;
    let written = actor.start.as_ref().ok_or_else(|| missing("start"))?;
    let (start, place) = (Vec2::from(*written.get_ref()), written.span());
    if let Some((map, standing)) = walls {
        check_start(start, &footprint, map, mask, (name, place.clone()))?;
        check_obstacles(start, &footprint, standing, mask, (name, place))?;
    }
    Ok((start, footprint))
}

fn flying(
    actor: &file::Actor,
    written: &file::Ball,
    names: &[String],
    mask: Layers,
    walls: Option<(&TileGrid, &Standing)>,
) -> Result<Placed, Problem> {
    let (start, footprint) = start_at_a_place(actor, mask, walls)?;
    Ok((Moves::Flying(arcade::flying(written, names)?), start, footprint))
}

/// The default footprint of an actor that steps by tiles, in tiles.
const USUAL_SIZE: f32 = 0.75;

fn by_tiles(
    actor: &file::Actor,
    written: &file::Steps,
    mask: Layers,
    map: Option<&TileGrid>,
) -> Result<Placed, Problem> {
    let name = actor.name.get_ref();
    let file::Actor { pace, gait, glide, helm, .. } = actor;
    let drives = [
        pace.as_ref().map(Spanned::span),
        gait.as_ref().map(Spanned::span),
        glide.as_ref().map(Spanned::span),
        helm.as_ref().map(Spanned::span),
    ];
    if let Some(place) = drives.into_iter().flatten().next() {
        let message = format!("`{name}` steps by tiles and has a drive");
        return Err(Problem::at(place, message, "").help("keep steps or the drive"));
    }
    let Some(tile) = &actor.tile else {
        let place = actor.start.as_ref().map_or_else(|| actor.name.span(), Spanned::span);
        return Err(Problem::at(place, format!("`{name}` steps by tiles and starts on a tile"), "")
            .help("write tile = [column, row]"));
    };
    let rules = steps::rules(written, mask)?;
    let tile = IVec2::from(*tile.get_ref());
    let size = map.map_or(1.0, |map| map.tile_size().min_element()) * USUAL_SIZE;
    let footprint = match &actor.footprint {
        Some(table) => footprint(table)?,
        None => Footprint::rect(size, size).map_err(refused(actor.name.span()))?,
    };
    let start = map.map_or(Vec2::ZERO, |map| map.center_of(tile));
    Ok((Moves::ByTiles(rules, tile), start, footprint))
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
            Footprint::rect(width, height).map_err(refused(size.span()))?
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
    mask: Layers,
    (name, place): (&str, Range<usize>),
) -> Result<(), Problem> {
    let covers = |item: &&Item| item.layers.meets(mask) && overlap(footprint, start, &item.solid).is_some();
    let Some(item) = standing.iter().find(covers) else { return Ok(()) };
    let label = format!("its footprint covers {}", item.name);
    let help = "move the start, or make the footprint smaller";
    Err(Problem::at(place, format!("`{name}` starts inside an obstacle"), label).help(help))
}

fn check_start(
    start: Vec2,
    footprint: &Footprint,
    map: &TileGrid,
    mask: Layers,
    (name, place): (&str, Range<usize>),
) -> Result<(), Problem> {
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
    if !map.overlaps(footprint, start, &WallFilter::on(mask)) {
        return Ok(());
    }
    let mut wall = None;
    walls_under(map, footprint, start, &WallFilter::on(mask), |found| {
        wall = wall.or(match found.wall {
            Wall::Tile(_, tile) if overlap(footprint, start, &found.solid()).is_some() => Some(tile),
            _ => None,
        });
    });
    let what = wall.map_or_else(|| "a wall".to_owned(), |tile| describe(map, tile));
    let label = format!("its footprint covers {what}");
    let help = "move the start, or make the footprint smaller";
    Err(Problem::at(place, format!("`{name}` starts inside a wall"), label).help(help))
}
