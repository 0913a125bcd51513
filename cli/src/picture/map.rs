//! The map: its tiles, each actor's path, footprints at even times, and what was touched.

use ambulant::shape::{Aabb, Footprint, Solid};
use ambulant::terrain::{Corner, ObstacleId, Side, TileForm, TileGrid, TileKind};
use glam::{IVec2, Vec2};

use super::flights::{draw_deflections, draw_flights};
use super::sheet::{Align, Area, Sheet};
use super::style::{ACTORS, BELT, CONTACT, FAINT_INK, FLOORS, GRID, INK, SMALL, WALLS, pick};
use super::tracks::{blocks, draw_tracks};
use crate::record::{Happening, Recording, Row};
use crate::scenario::{LayerNames, Scenario};

/// Tiles smaller than this are drawn without lines between them, in pixels.
const SMALLEST_LINED_TILE: f32 = 7.0;
/// The most footprints along one path.
const MOST_STAMPS: f64 = 32.0;
/// Times between footprints that read well, in seconds.
const EVEN_STEPS: [f64; 10] = [0.05, 0.1, 0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0];
/// Every how many footprints one carries its time.
const TAGGED: usize = 4;

/// How the world lies on the sheet.
#[derive(Debug, Clone, Copy)]
pub(super) struct MapView {
    pub(super) area: Area,
    world: Aabb,
    scale: f32,
    flip: bool,
}

impl MapView {
    /// The largest view of a map's ground that fits, in the middle of the space for it.
    pub(super) fn fit(map: &TileGrid, space: Area) -> Self {
        Self::around(map, map.area(), space)
    }

    /// The largest view of a part of the world that fits.
    pub(super) fn around(map: &TileGrid, world: Aabb, space: Area) -> Self {
        let size = world.size();
        let scale = (space.width / size.x).min(space.height / size.y);
        let (width, height) = (size.x * scale, size.y * scale);
        let area = Area {
            x: space.x + (space.width - width) * 0.5,
            y: space.y + (space.height - height) * 0.5,
            width,
            height,
        };
        Self { area, world, scale, flip: map.y_axis().downward() < 0.0 }
    }

    /// The same view at the top of the space for it.
    pub(super) fn at_top(mut self, space: Area) -> Self {
        self.area.y = space.y;
        self
    }

    /// A world point on the sheet.
    pub(super) fn at(&self, point: Vec2) -> Vec2 {
        let down = if self.flip { self.world.max.y - point.y } else { point.y - self.world.min.y };
        Vec2::new(self.area.x + (point.x - self.world.min.x) * self.scale, self.area.y + down * self.scale)
    }

    /// A length on the sheet.
    pub(super) fn length(&self, units: f32) -> f32 {
        units * self.scale
    }

    /// A world direction on the sheet.
    pub(super) fn along(&self, direction: Vec2) -> Vec2 {
        if self.flip { Vec2::new(direction.x, -direction.y) } else { direction }
    }

    pub(super) fn on_sheet(&self, ground: &Aabb) -> Area {
        let (a, b) = (self.at(ground.min), self.at(ground.max));
        let (low, high) = (a.min(b), a.max(b));
        Area { x: low.x, y: low.y, width: high.x - low.x, height: high.y - low.y }
    }
}

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

/// The time between footprints that keeps a path readable, in seconds.
pub(super) fn stamp_step(seconds: f64) -> f64 {
    EVEN_STEPS.into_iter().find(|step| seconds / step <= MOST_STAMPS).unwrap_or(seconds / MOST_STAMPS)
}

pub(super) fn draw_map(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, recording: &Recording) {
    sheet.clipped(view.area, |sheet| {
        draw_ground(sheet, view, &scenario.map);
        draw_standing(sheet, view, scenario, &recording.moved);
        draw_tracks(sheet, view, scenario, recording);
        draw_flights(sheet, view, scenario, recording);
        for (place, actor) in scenario.actors.iter().enumerate() {
            let colour = pick(&ACTORS, place);
            stamps(sheet, view, recording, place, &actor.footprint);
            draw_path(sheet, view, recording, place, colour);
        }
    });
    contacts(sheet, view, recording);
    blocks(sheet, view, scenario, recording);
    draw_deflections(sheet, view, scenario, recording);
    for place in 0..scenario.actors.len() {
        ends(sheet, view, recording, place);
    }
    scale_bar(sheet, view, scenario.map.tile_size());
}

/// The tiles and what moves on them.
pub(super) fn draw_ground(sheet: &mut Sheet, view: &MapView, map: &TileGrid) {
    tiles(sheet, view, map);
    details(sheet, view, map);
    belts(sheet, view, map);
}

/// The free-standing obstacles where they start, and where those that move have been at the end.
pub(super) fn draw_standing(
    sheet: &mut Sheet,
    view: &MapView,
    scenario: &Scenario,
    moved: &[(ObstacleId, Vec2)],
) {
    for item in scenario.standing.iter() {
        let colour = standing_colour(scenario, &item.name);
        let plain = LayerNames::is_plain(item.layers);
        let dashes = if plain { "" } else { " stroke-dasharray=\"4 3\"" };
        let style = format!("fill=\"{colour}\" stroke=\"{INK}\" stroke-opacity=\"0.35\"{dashes}");
        solid(sheet, view, &item.solid, &style);
        let Some(course) = &item.course else { continue };
        let ghost = format!(
            "fill=\"{colour}\" fill-opacity=\"0.25\" stroke=\"{INK}\" stroke-opacity=\"0.5\" stroke-dasharray=\"3 3\""
        );
        let mut at = item.solid.bounds().center();
        let mut offset = Vec2::ZERO;
        for leg in &course.moves {
            offset += leg.by;
            solid(sheet, view, &item.solid.moved(offset), &ghost);
            let next = at + leg.by;
            sheet.arrow(view.at(at), view.at(next), INK);
            at = next;
        }
        let end = moved.iter().find(|(id, _)| *id == item.id).map(|(_, offset)| *offset);
        if let Some(end) = end.filter(|end| end.distance(offset) > 0.5) {
            solid(sheet, view, &item.solid.moved(end), &style);
        }
    }
}

fn solid(sheet: &mut Sheet, view: &MapView, solid: &Solid, style: &str) {
    match solid {
        Solid::Box(area) => sheet.rect(view.on_sheet(area), style),
        Solid::Circle { center, radius } => sheet.circle(view.at(*center), radius * view.scale, style),
        Solid::Segment { from, to } => {
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

/// A path with a dot at its end.
pub(super) fn draw_path(
    sheet: &mut Sheet,
    view: &MapView,
    recording: &Recording,
    actor: usize,
    colour: &str,
) {
    let style = format!("stroke=\"{colour}\" stroke-width=\"2\" stroke-linejoin=\"round\"");
    let mut piece: Vec<Vec2> = Vec::new();
    let mut last: Option<&Row> = None;
    for row in recording.track(actor) {
        // What bounced between two rows did so at these places.
        let since = last.map_or(0.0, |last| last.time);
        let bends = recording.bends.iter().filter(|bend| bend.actor == actor);
        let between = bends.filter(|bend| bend.time > since && bend.time <= row.time);
        piece.extend(between.map(|bend| view.at(bend.position)));
        // Through a portal or over the edge of the map one goes no way at all.
        if last.is_some_and(|last| jumps(last, row)) {
            sheet.polyline(thinned(piece.drain(..)), &style);
        }
        piece.push(view.at(row.position));
        last = Some(row);
    }
    sheet.polyline(thinned(piece.into_iter()), &style);
    if let Some(last) = recording.last(actor) {
        sheet.circle(view.at(last.position), 4.5, &format!("fill=\"{colour}\" stroke=\"white\""));
    }
}

/// Whether a mover was put elsewhere between two rows: it went further than it can have gone.
fn jumps(last: &Row, row: &Row) -> bool {
    #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded")]
    let lasts = (row.time - last.time) as f32;
    let fastest = last.velocity.length().max(row.velocity.length());
    let apart = (row.tile - last.tile).abs().max_element();
    apart > 2 && row.position.distance(last.position) > 4.0 * fastest * lasts
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
    if map.tile_size() * view.scale >= SMALLEST_LINED_TILE {
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

/// What is more than a filled tile: halves, sides that are closed, walls that not everybody minds.
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
    let half = map.tile_size() * view.scale * 0.36;
    if half < 5.0 {
        return;
    }
    for index in 0.. {
        let Some(tile) = map.tile_of_index(index) else { return };
        let belt = map.kind(tile).map_or(Vec2::ZERO, TileKind::belt);
        if belt != Vec2::ZERO {
            let (middle, along) = (view.at(map.center_of(tile)), view.along(belt.normalize_or_zero()) * half);
            sheet.arrow(middle - along, middle + along, BELT);
        }
    }
}

/// Footprints at even times, every few of them with its time.
fn stamps(sheet: &mut Sheet, view: &MapView, recording: &Recording, actor: usize, footprint: &Footprint) {
    let colour = pick(&ACTORS, actor);
    let step = stamp_step(recording.seconds);
    let style = format!(
        "fill=\"{colour}\" fill-opacity=\"0.10\" stroke=\"{colour}\" stroke-opacity=\"0.5\" stroke-width=\"1\""
    );
    let (mut next, mut count) = (0.0, 0);
    let mut last_tag: Option<Vec2> = None;
    for row in recording.track(actor).filter(|row| row.time + 1e-9 >= 0.0) {
        if row.time + 1e-9 < next {
            continue;
        }
        let ground = view.on_sheet(&footprint.at(row.position));
        match footprint.radius() {
            Some(radius) => {
                let middle = view.at(footprint.at(row.position).center());
                sheet.circle(middle, radius * view.scale, &style);
            }
            None => sheet.rect(ground, &style),
        }
        // Beside the path, not on it: above a level stretch, left of a steep one.
        let steep = row.velocity.y.abs() > row.velocity.x.abs();
        let (middle_x, middle_y) = (ground.x + ground.width * 0.5, ground.y + ground.height * 0.5);
        let at = if steep {
            Vec2::new(ground.x - 16.0, middle_y + 4.0)
        } else {
            Vec2::new(middle_x, ground.y - 4.0)
        };
        let clear = last_tag.is_none_or(|last| last.distance(at) > 40.0);
        if count % TAGGED == 0 && count > 0 && clear {
            sheet.tag(at, Align::Middle, colour, format_args!("{} s", (next * 1000.0).round() / 1000.0));
            last_tag = Some(at);
        }
        count += 1;
        next = step * f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    }
}

/// A path without the points that lie on the line between their neighbours.
fn thinned(path: impl Iterator<Item = Vec2>) -> impl Iterator<Item = Vec2> {
    const STRAIGHT: f32 = 0.02;
    let points: Vec<Vec2> = path.collect();
    let mut kept: Vec<Vec2> = Vec::new();
    for (place, point) in points.iter().enumerate() {
        let next = points.get(place + 1);
        let off = kept.last().zip(next).map(|(last, next)| {
            let way = (*next - *last).normalize_or_zero();
            let off = *point - *last;
            (off.perp_dot(way).abs(), off.dot(way), next.distance(*last))
        });
        let between =
            off.is_some_and(|(aside, along, whole)| aside < STRAIGHT && along >= 0.0 && along <= whole);
        if !between {
            kept.push(*point);
        }
    }
    kept.into_iter()
}

/// A mark and a normal for each touch that began, numbered as in the list beside the map.
fn contacts(sheet: &mut Sheet, view: &MapView, recording: &Recording) {
    let touches = recording.events.iter().filter_map(|event| match &event.what {
        Happening::Touched { contact, .. } => Some(contact),
        _ => None,
    });
    for (number, contact) in touches.enumerate() {
        let at = view.at(contact.point);
        let normal = view.along(contact.normal);
        sheet.arrow(at, at + normal * 22.0, CONTACT);
        sheet.circle(at, 3.5, &format!("fill=\"{CONTACT}\""));
        let beside = at + normal * -12.0 + Vec2::new(0.0, 4.0);
        sheet.tag(beside, Align::Middle, CONTACT, number + 1);
    }
}

fn ends(sheet: &mut Sheet, view: &MapView, recording: &Recording, actor: usize) {
    let colour = pick(&ACTORS, actor);
    let (Some(first), Some(last)) = (recording.track(actor).next(), recording.last(actor)) else { return };
    let (first, last) = (view.at(first.position), view.at(last.position));
    let area = view.area;
    let shown = |at: &Vec2| (area.x..area.right()).contains(&at.x) && (area.y..area.bottom()).contains(&at.y);
    if shown(&first) {
        sheet.circle(first, 5.0, &format!("fill=\"white\" stroke=\"{colour}\" stroke-width=\"2.5\""));
    }
    if shown(&last) {
        sheet.circle(last, 5.5, &format!("fill=\"{colour}\" stroke=\"white\" stroke-width=\"1.5\""));
    }
}

/// A bar of a round number of units under the map's lower left corner.
fn scale_bar(sheet: &mut Sheet, view: &MapView, tile_size: f32) {
    let wanted = 110.0 / view.scale;
    let power = 10.0f32.powf(wanted.log10().floor());
    let units = [5.0, 2.0, 1.0].map(|digit| digit * power).into_iter().find(|units| *units <= wanted);
    let units = units.unwrap_or(power);
    let start = Vec2::new(view.area.x, view.area.bottom() + 12.0);
    let end = start + Vec2::new(units * view.scale, 0.0);
    let style = format!("stroke=\"{INK}\" stroke-width=\"1.5\"");
    sheet.line(start, end, &style);
    for at in [start, end] {
        sheet.line(at - Vec2::new(0.0, 4.0), at + Vec2::new(0.0, 4.0), &style);
    }
    let label = format!("{units} units; a tile is {tile_size}");
    sheet.text(end + Vec2::new(8.0, 4.0), Align::Start, SMALL, INK, label);
}
