//! What stands on the map: its tiles with all that is special about them, and the free-standing obstacles.

use ambulant::direction::{Corner, Side};
use ambulant::shape::{Aabb, Solid};
use ambulant::terrain::{TileForm, TileGrid, TileKind, Wall};
use glam::{IVec2, Vec2};

use super::map_view::MapView;
use super::sheet::{Area, Sheet};
use super::style::{BELT, FAINT_INK, FLOORS, GRID, INK, WALLS, pick};
use crate::scenario::{LayerNames, Scenario};

/// Tiles smaller than this are drawn without lines between them, in pixels.
const SMALLEST_LINED_TILE: f32 = 7.0;

/// The colour of a kind of tile, by its place among those that block or those that do not.
pub(super) fn kind_colour(map: &TileGrid, name: &str) -> &'static str {
    let Some(kind) = map.kinds().iter().find(|kind| kind.name() == name) else { return FLOORS[0] };
    let rank = names(map, kind.blocks()).iter().position(|known| *known == name).unwrap_or_default();
    pick(if kind.blocks() { &WALLS } else { &FLOORS }, rank)
}

/// The names of the kinds that block, or of those that do not, each once.
fn names(map: &TileGrid, blocks: bool) -> Vec<&str> {
    let mut names = Vec::new();
    for kind in map.kinds().iter().filter(|kind| kind.blocks() == blocks) {
        if !names.contains(&kind.name()) {
            names.push(kind.name());
        }
    }
    names
}

/// The tiles and what moves on them.
pub(super) fn draw_ground(sheet: &mut Sheet, view: &MapView, map: &TileGrid) {
    tiles(sheet, view, map);
    details(sheet, view, map);
    belts(sheet, view, map);
}

/// The free-standing obstacles where they start, and where those that move have been at the end.
pub(super) fn draw_standing(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, moved: &[(Wall, Vec2)]) {
    for item in scenario.standing.iter() {
        let colour = standing_colour(scenario, &item.name);
        let plain = LayerNames::is_plain(item.layers);
        let dashes = if plain { "" } else { " stroke-dasharray=\"4 3\"" };
        // What one stands on is paler than what blocks.
        let opacity = if item.is_floor { " fill-opacity=\"0.45\"" } else { "" };
        let style = format!("fill=\"{colour}\"{opacity} stroke=\"{INK}\" stroke-opacity=\"0.35\"{dashes}");
        solid(sheet, view, &item.solid, &style);
        let Some(moves) = &item.moves else { continue };
        let ghost = format!(
            "fill=\"{colour}\" fill-opacity=\"0.25\" stroke=\"{INK}\" stroke-opacity=\"0.5\" stroke-dasharray=\"3 3\""
        );
        let mut at = item.solid.bounds().center();
        let mut offset = Vec2::ZERO;
        for by in &moves.legs {
            offset += *by;
            solid(sheet, view, &item.solid.moved(offset), &ghost);
            let next = at + *by;
            sheet.arrow(view.at(at), view.at(next), INK);
            at = next;
        }
        let end = moved.iter().find(|(id, _)| *id == item.id).map(|(_, offset)| *offset);
        if let Some(end) = end.filter(|end| end.distance(offset) > 0.5) {
            solid(sheet, view, &item.solid.moved(end), &style);
        }
    }
}

/// Every free-standing obstacle where it starts, each a group of its own with its number.
pub(super) fn draw_each_standing(sheet: &mut Sheet, view: &MapView, scenario: &Scenario) {
    for (number, item) in scenario.standing.iter().enumerate() {
        let colour = standing_colour(scenario, &item.name);
        let style = format!("fill=\"{colour}\" stroke=\"{INK}\" stroke-opacity=\"0.35\"");
        sheet.grouped(&format!("data-wall=\"{number}\""), |sheet| solid(sheet, view, &item.solid, &style));
    }
}

fn solid(sheet: &mut Sheet, view: &MapView, solid: &Solid, style: &str) {
    match solid {
        Solid::Box { area, .. } => sheet.rect(view.on_sheet(area), style),
        Solid::Circle { center, radius, .. } => sheet.circle(view.at(*center), view.length(*radius), style),
        Solid::Segment { from, to, .. } => {
            let colour = style.split('"').nth(1).unwrap_or(INK);
            sheet.line(view.at(*from), view.at(*to), &format!("stroke=\"{colour}\" stroke-width=\"3\""));
        }
        Solid::Polygon(polygon) => {
            let corners: Vec<Vec2> = polygon.corners().iter().map(|corner| view.at(*corner)).collect();
            sheet.polygon(&corners, style);
        }
        _ => {}
    }
}

/// The colour of an obstacle, by its name; obstacles come after the kinds of tiles that block.
pub(super) fn standing_colour(scenario: &Scenario, name: &str) -> &'static str {
    let walls = names(&scenario.map, true).len();
    let place = scenario.standing.kinds().iter().position(|kind| *kind == name).unwrap_or_default();
    pick(&WALLS, walls + place)
}

/// The tiles, row by row, neighbours of one kind as one rectangle.
fn tiles(sheet: &mut Sheet, view: &MapView, map: &TileGrid) {
    let size = map.size();
    let name = |tile: IVec2| map.kind(tile).map(TileKind::name);
    for row in 0..size.y {
        let mut column = 0;
        while column < size.x {
            let first = IVec2::new(column, row);
            while column < size.x && name(IVec2::new(column, row)) == name(first) {
                column += 1;
            }
            let (a, b) = (map.tile_area(first), map.tile_area(IVec2::new(column - 1, row)));
            let run = Aabb { min: a.min.min(b.min), max: a.max.max(b.max) };
            let colour = kind_colour(map, name(first).unwrap_or_default());
            // Of a half-tile the ground is floor, and the half comes with the details.
            let half = matches!(map.kind(first).map(TileKind::form), Some(TileForm::Half(_)));
            let colour = if half { FLOORS[0] } else { colour };
            // A rim of the same colour closes the hairlines between rows.
            let style = format!("fill=\"{colour}\" stroke=\"{colour}\" stroke-width=\"0.6\"");
            sheet.rect(view.on_sheet(&run), &style);
        }
    }
    if view.length(map.tile_size().min_element()) >= SMALLEST_LINED_TILE {
        let style = format!("stroke=\"{GRID}\" stroke-width=\"0.6\" opacity=\"0.7\"");
        for column in 1..size.x {
            let x = view.at(map.tile_area(IVec2::new(column, 0)).min).x;
            sheet.line(Vec2::new(x, view.area.y), Vec2::new(x, view.area.bottom()), &style);
        }
        for row in 1..size.y {
            let y = view.on_sheet(&map.tile_area(IVec2::new(0, row))).y;
            sheet.line(Vec2::new(view.area.x, y), Vec2::new(view.area.right(), y), &style);
        }
    }
}

/// What is more than a filled tile: halves, sides that are closed, walls with layers of their own.
fn details(sheet: &mut Sheet, view: &MapView, map: &TileGrid) {
    let special = |kind: &TileKind| {
        !matches!(kind.form(), TileForm::Full | TileForm::Open)
            || SIDES.iter().any(|side| kind.is_closed_from(*side))
            || (kind.blocks() && !LayerNames::is_plain(kind.layers()))
    };
    if !map.kinds().iter().any(special) {
        return;
    }
    for index in 0.. {
        let Some(tile) = map.tile_of_index(index) else { return };
        let Some(kind) = map.kind(tile).filter(|kind| special(kind)) else { continue };
        let area = view.on_sheet(&map.tile_area(tile));
        tile_detail(sheet, area, kind, kind_colour(map, kind.name()));
    }
}

const SIDES: [Side; 4] = [Side::Left, Side::Right, Side::Top, Side::Bottom];

/// The detail of one tile, on the map or in the legend.
pub(super) fn tile_detail(sheet: &mut Sheet, area: Area, kind: &TileKind, colour: &str) {
    let at = |x: f32, y: f32| Vec2::new(area.x + area.width * x, area.y + area.height * y);
    if let TileForm::Half(corner) = kind.form() {
        let corners = match corner {
            Corner::TopLeft => [at(0.0, 1.0), at(0.0, 0.0), at(1.0, 0.0)],
            Corner::TopRight => [at(0.0, 0.0), at(1.0, 0.0), at(1.0, 1.0)],
            Corner::BottomRight => [at(1.0, 0.0), at(1.0, 1.0), at(0.0, 1.0)],
            Corner::BottomLeft => [at(1.0, 1.0), at(0.0, 1.0), at(0.0, 0.0)],
        };
        sheet.polygon(&corners, &format!("fill=\"{colour}\""));
    }
    if kind.blocks() && !LayerNames::is_plain(kind.layers()) {
        let style = "stroke=\"white\" stroke-width=\"1.5\" stroke-opacity=\"0.8\"";
        for part in [0.0, 1.0 / 3.0, 2.0 / 3.0] {
            sheet.line(at(part, 0.0), at(part + 1.0 / 3.0, 1.0), style);
            sheet.line(at(part + 1.0 / 3.0, 0.0), at(part, 1.0), style);
        }
    }
    for side in SIDES.into_iter().filter(|side| kind.is_closed_from(*side)) {
        let (from, to, inward) = match side {
            Side::Left => (at(0.0, 0.0), at(0.0, 1.0), Vec2::X),
            Side::Right => (at(1.0, 0.0), at(1.0, 1.0), Vec2::NEG_X),
            Side::Top => (at(0.0, 0.0), at(1.0, 0.0), Vec2::Y),
            Side::Bottom => (at(0.0, 1.0), at(1.0, 1.0), Vec2::NEG_Y),
        };
        sheet.line(from, to, &format!("stroke=\"{INK}\" stroke-width=\"2.5\""));
        // Which way one can go: out through this side.
        let middle = (from + to) * 0.5;
        sheet.arrow(middle + inward * area.width * 0.7, middle + inward * area.width * 0.15, FAINT_INK);
    }
}

/// An arrow on each tile whose surface moves.
fn belts(sheet: &mut Sheet, view: &MapView, map: &TileGrid) {
    let half = view.length(map.tile_size().min_element()) * 0.36;
    if half < 5.0 {
        return;
    }
    for index in 0.. {
        let Some(tile) = map.tile_of_index(index) else { return };
        let belt = map.surface(tile).belt();
        if belt != Vec2::ZERO {
            let (middle, along) = (view.at(map.center_of(tile)), view.along(belt.normalize_or_zero()) * half);
            sheet.arrow(middle - along, middle + along, BELT);
        }
    }
}
