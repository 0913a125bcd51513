//! The map in a terminal: each cell is two square dots, one above the other.

use ambulant::direction::{Corner, Facing, Side};
use ambulant::shape::{Aabb, Footprint, Solid, overlap};
use ambulant::terrain::{TileForm, TileGrid, TileKind};
use ambulant::view::{Follow, View};
use glam::{Vec2, vec2};
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::style::{Color, Style};

use super::colours::{self, CRATE, FEELER, INK, OUTSIDE, TOUCH, mixed};
use crate::live::Session;
use crate::record::Row;

/// Dots a tile where the whole map has room, at most.
const LARGEST_TILE: f32 = 16.0;
/// Dots a tile where it has not.
const FOLLOWED_TILE: f32 = 6.0;
/// The smallest tile that still reads, in dots.
const SMALLEST_TILE: f32 = 3.0;
/// The narrowest mover with room for an arrow, in dots.
const SMALLEST_FACE: f32 = 3.0;
/// How far the mover may go from the middle before the view follows, as a part of its size.
const DEAD_AREA: f32 = 0.15;
/// In how many seconds the view makes up half of its way.
const HALF_LIFE: f32 = 0.12;
/// How much of the mover's track is shown, in ticks.
const TRACK: usize = 240;

/// Which part of the map is shown; follows the mover where not all of it has room.
#[derive(Debug, Default)]
pub(super) struct MapCells {
    center: Option<Vec2>,
}

impl MapCells {
    /// Draws the map and those on it; `frame` is how long the last picture stood, in seconds.
    pub(super) fn draw(
        &mut self,
        session: &Session<'_>,
        feelers: bool,
        frame: f32,
        area: Rect,
        buffer: &mut Buffer,
    ) {
        let Some(view) = self.view(session, area, frame) else { return };
        let field = session.stage().field();
        let walls = Walls::new(field.grid());
        let shown = view.shows();
        let standing: Vec<(Solid, Color)> = session
            .scenario()
            .standing
            .iter()
            .filter_map(|item| Some((*field.world.solid(item.id)?, standing_colour(session, &item.name))))
            .filter(|(solid, _)| solid.bounds().overlaps(&shown))
            .collect();
        let crates: Vec<Aabb> =
            session.stage().crates().into_iter().map(|tile| field.grid().tile_area(tile)).collect();
        let movers = movers(session);
        let track: Vec<Vec2> = session.track().rev().take(TRACK).map(|row| row.position).collect();
        let dot_size = 1.0 / view.scale();
        let dot = Footprint::circle(dot_size * 0.5).expect("a scale above 0");

        let colour_at = |pixel: Vec2| -> Color {
            let place = view.to_world(pixel);
            if let Some(mover) = movers.iter().rev().find(|mover| mover.covers(place)) {
                return if mover.touches_at(place, dot_size) { TOUCH } else { mover.colour };
            }
            let solid_here = |solid: &&(Solid, Color)| match solid.0 {
                Solid::Box { area, .. } => area.contains(place),
                // Anything else is found with the dot itself: a wire has no inside.
                ref solid => overlap(&dot, place, solid).is_some(),
            };
            if let Some((_, colour)) = standing.iter().find(solid_here) {
                return *colour;
            }
            if crates.iter().any(|area| area.contains(place)) {
                return CRATE;
            }
            let ground = walls.colour_at(field.grid(), place);
            let near = |at: &Vec2| (*at - place).abs().max_element() < dot_size * 0.5;
            if track.iter().any(near) { mixed(ground, colours::actor(session.actor()), 0.55) } else { ground }
        };
        for row in 0..area.height {
            for column in 0..area.width {
                let upper = vec2(f32::from(column) + 0.5, f32::from(row) * 2.0 + 0.5);
                let style = Style::new().fg(colour_at(upper)).bg(colour_at(upper + Vec2::Y));
                if let Some(cell) = buffer.cell_mut((area.x + column, area.y + row)) {
                    cell.set_char('▀').set_style(style);
                }
            }
        }
        if feelers {
            draw_feelers(session, &view, area, buffer);
        }
        draw_faces(session, &view, area, buffer);
    }

    /// All of the map where it has room, or what is round the mover.
    fn view(&mut self, session: &Session<'_>, area: Rect, frame: f32) -> Option<View> {
        let grid = &session.scenario().map;
        let size = vec2(f32::from(area.width), f32::from(area.height) * 2.0);
        // Measured by the shorter side of a tile.
        let shorter = grid.tile_size().min_element();
        let fits = (size * shorter / grid.area().size()).min_element();
        let whole = fits >= SMALLEST_TILE;
        let tile = if whole { (fits * 4.0).floor().min(LARGEST_TILE * 4.0) / 4.0 } else { FOLLOWED_TILE };
        let view = View::new(size, tile / shorter).ok()?.with_y_axis(grid.y_axis());
        let (first, last) = (grid.tile_area(glam::IVec2::ZERO), grid.tile_area(grid.size() - 1));
        let map = Aabb { min: first.min.min(last.min), max: first.max.max(last.max) };
        let place = session.row().position;
        let center = match self.center {
            _ if whole => map.center(),
            None => Follow::new(Vec2::ZERO, 0.0).ok()?.tick(&view.at(place), place, Some(map), frame),
            Some(last) => {
                let dead = size / view.scale() * DEAD_AREA;
                Follow::new(dead, HALF_LIFE).ok()?.tick(&view.at(last), place, Some(map), frame)
            }
        };
        self.center = Some(center);
        Some(view.at(center))
    }
}

/// The colours of the kinds of tiles, by their numbers.
struct Walls(Vec<Color>);

impl Walls {
    fn new(grid: &TileGrid) -> Self {
        let mut names: [Vec<&str>; 2] = [Vec::new(), Vec::new()];
        let colour = |kind: &TileKind, names: &mut [Vec<&str>; 2]| {
            let list = &names[usize::from(kind.blocks())];
            let place = list.iter().position(|known| *known == kind.name()).unwrap_or(list.len());
            if kind.blocks() { colours::wall(place) } else { colours::floor(place) }
        };
        let mut found = Vec::new();
        for kind in grid.kinds() {
            found.push(colour(kind, &mut names));
            let list = &mut names[usize::from(kind.blocks())];
            if !list.contains(&kind.name()) {
                list.push(kind.name());
            }
        }
        Self(found)
    }

    fn colour_at(&self, grid: &TileGrid, place: Vec2) -> Color {
        let tile = grid.tile_at(place);
        let Some(kind) = grid.kind(tile) else { return OUTSIDE };
        let number = grid.kinds().iter().position(|known| std::ptr::eq(known, kind)).unwrap_or_default();
        let filled = match kind.form() {
            TileForm::Half(corner) => {
                let area = grid.tile_area(tile);
                // 0 to 1 from the upper left corner of the screen.
                let mut at = (place - area.min) / area.size();
                if grid.y_axis().downward() < 0.0 {
                    at.y = 1.0 - at.y;
                }
                match corner {
                    Corner::TopLeft => at.x + at.y < 1.0,
                    Corner::BottomRight => at.x + at.y > 1.0,
                    Corner::TopRight => at.x > at.y,
                    Corner::BottomLeft => at.x < at.y,
                }
            }
            _ => true,
        };
        if filled { self.0[number] } else { colours::floor(0) }
    }
}

pub(super) fn standing_colour(session: &Session<'_>, name: &str) -> Color {
    let scenario = session.scenario();
    let mut walls: Vec<&str> =
        scenario.map.kinds().iter().filter(|kind| kind.blocks()).map(TileKind::name).collect();
    walls.dedup();
    let place = scenario.standing.kinds().iter().position(|kind| *kind == name).unwrap_or_default();
    colours::wall(walls.len() + place)
}

/// An actor, as drawn.
struct Mover {
    ground: Aabb,
    radius: Option<f32>,
    colour: Color,
    /// The sides on which it touches something.
    touches: Vec<Side>,
    down: f32,
}

impl Mover {
    fn covers(&self, place: Vec2) -> bool {
        match self.radius {
            Some(radius) => place.distance(self.ground.center()) <= radius,
            None => self.ground.contains(place),
        }
    }

    /// Whether a place is on the rim of a side that touches something.
    fn touches_at(&self, place: Vec2, rim: f32) -> bool {
        self.touches.iter().any(|side| match side {
            // A wall's side looks at the mover: its left side is met by the mover's right one.
            Side::Left => place.x > self.ground.max.x - rim,
            Side::Right => place.x < self.ground.min.x + rim,
            Side::Top if self.down > 0.0 => place.y > self.ground.max.y - rim,
            Side::Bottom if self.down < 0.0 => place.y > self.ground.max.y - rim,
            Side::Top | Side::Bottom => place.y < self.ground.min.y + rim,
        })
    }
}

/// All actors on the map, the controlled one last.
fn movers(session: &Session<'_>) -> Vec<Mover> {
    let scenario = session.scenario();
    let mut order: Vec<usize> = (0..scenario.actors.len()).collect();
    order.sort_by_key(|actor| *actor == session.actor());
    let rows = order.into_iter().filter_map(|actor| row_of(session, actor));
    rows.map(|row| {
        let footprint = &scenario.actors[row.actor].footprint;
        let own = row.actor == session.actor();
        Mover {
            ground: footprint.at(row.position),
            radius: footprint.radius(),
            colour: colours::actor(row.actor),
            touches: row.touching.iter().filter(|_| own).map(|touch| touch.side).collect(),
            down: scenario.map.y_axis().downward(),
        }
    })
    .collect()
}

fn row_of(session: &Session<'_>, actor: usize) -> Option<Row> {
    session.stage().row(actor, session.ticks(), session.time())
}

/// An arrow on each actor that has a facing and room for it.
fn draw_faces(session: &Session<'_>, view: &View, area: Rect, buffer: &mut Buffer) {
    for actor in 0..session.scenario().actors.len() {
        let Some(row) = row_of(session, actor) else { continue };
        let ground = session.scenario().actors[actor].footprint.at(row.position);
        let at = view.to_screen(ground.center());
        let dots = ground.size() * view.scale();
        if dots.min_element() < SMALLEST_FACE || !session.scenario().actors[actor].has_face() {
            continue;
        }
        // A cell of two colours is on the mover's rim.
        if let Some(cell) = cell_at(at, area, buffer).filter(|cell| cell.fg == cell.bg) {
            let style = Style::new().fg(OUTSIDE).bg(colours::actor(actor));
            cell.set_char(arrow(row.facing)).set_style(style);
        }
    }
}

fn cell_at(pixel: Vec2, area: Rect, buffer: &mut Buffer) -> Option<&mut ratatui::buffer::Cell> {
    let inside = pixel.x >= 0.0
        && pixel.y >= 0.0
        && pixel.x < f32::from(area.width)
        && pixel.y < f32::from(area.height) * 2.0;
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within a terminal's size")]
    let place = (area.x + pixel.x as u16, area.y + (pixel.y * 0.5) as u16);
    if inside { buffer.cell_mut(place) } else { None }
}

/// A dotted line on each side to the nearest wall.
fn draw_feelers(session: &Session<'_>, view: &View, area: Rect, buffer: &mut Buffer) {
    let found = session.feelers();
    let ground = session.scenario().actors[session.actor()].footprint.at(session.row().position);
    let middle = ground.center();
    let sides = [
        (vec2(ground.min.x, middle.y), Vec2::NEG_X, found.left, '·'),
        (vec2(ground.max.x, middle.y), Vec2::X, found.right, '·'),
        (vec2(middle.x, ground.min.y), Vec2::NEG_Y, found.lower_y, ':'),
        (vec2(middle.x, ground.max.y), Vec2::Y, found.higher_y, ':'),
    ];
    for (from, way, length, glyph) in sides {
        let dots = length * view.scale();
        let mut along = 0.5;
        while along < dots {
            let cell = cell_at(view.to_screen(from + way * (along / view.scale())), area, buffer);
            // A cell of two colours is half wall.
            if let Some(cell) = cell.filter(|cell| cell.fg == cell.bg || cell.fg == FEELER) {
                let ground = cell.bg;
                cell.set_char(glyph).set_style(Style::new().fg(FEELER).bg(ground));
            }
            along += 1.0;
        }
    }
}

/// The ways to face as they look on a screen.
pub(super) fn arrow(facing: Facing) -> char {
    match facing {
        Facing::Right => '▶',
        Facing::Left => '◀',
        Facing::Up => '▲',
        Facing::Down => '▼',
        Facing::UpRight => '◥',
        Facing::UpLeft => '◤',
        Facing::DownRight => '◢',
        Facing::DownLeft => '◣',
    }
}

/// The legend of the map: walls and actors.
pub(super) fn key(session: &Session<'_>) -> Vec<(Color, String)> {
    let grid = &session.scenario().map;
    let colours = Walls::new(grid);
    let mut key: Vec<(Color, String)> = Vec::new();
    for (kind, colour) in grid.kinds().iter().zip(&colours.0) {
        if !key.iter().any(|(_, name)| name == kind.name()) {
            key.push((*colour, kind.name().to_owned()));
        }
    }
    for name in session.scenario().standing.kinds() {
        key.push((standing_colour(session, name), name.to_owned()));
    }
    if !session.scenario().tracks.crates.is_empty() {
        key.push((CRATE, "crate".to_owned()));
    }
    if key.is_empty() { vec![(INK, "floor".to_owned())] } else { key }
}
