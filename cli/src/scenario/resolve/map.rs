//! The map and its legend.

use std::path::Path;

use ambulant::direction::{Corner, Side, YAxis};
use ambulant::drive::Surface;
use ambulant::terrain::{GridError, Layers, Legend, Outside, TileGrid, TileKind};
use glam::{IVec2, Vec2};
use toml::Spanned;

use super::super::problem::Problem;
use super::super::{LayerNames, file};
use super::{layers, refused, tiles};

/// The tiles, and the wind that blows over all of them.
pub(super) fn resolve(
    map: file::Map,
    folder: &Path,
    known: &mut LayerNames,
) -> Result<(TileGrid, Surface), Problem> {
    let wind = moving("wind", map.wind.as_ref())?;
    Ok((grid(&map, folder, known)?, wind))
}

/// A surface with this velocity, in units/s; a plain one where none is written.
fn moving(field: &str, written: Option<&Spanned<[f32; 2]>>) -> Result<Surface, Problem> {
    let Some(written) = written else { return Ok(Surface::PLAIN) };
    let wrong = |_| Problem::at(written.span(), format!("{field} must be two finite numbers (units/s)"), "");
    Surface::PLAIN.with_belt(Vec2::from(*written.get_ref())).map_err(wrong)
}

fn grid(map: &file::Map, folder: &Path, known: &mut LayerNames) -> Result<TileGrid, Problem> {
    let grid = match (&map.rows, &map.csv, &map.png) {
        (Some(rows), None, None) => from_rows(map, rows, known)?,
        (None, Some(csv), None) => {
            let kinds = kinds_by(map, known, "a number, as in the CSV", |key| key.parse::<usize>().ok())?;
            tiles::from_csv(csv, folder, &kinds)?
        }
        (None, None, Some(png)) => {
            let kinds = kinds_by(map, known, "a colour such as \"#22302b\"", tiles::colour)?;
            tiles::from_png(png, folder, &kinds)?
        }
        _ => {
            let place = map.legend.span();
            return Err(Problem::at(place.start..place.start, "a map has one source of tiles", "")
                .help("give one of rows, csv = \"FILE.csv\" and png = \"FILE.png\""));
        }
    };
    let grid = match &map.tile_size {
        Some(size) => size.get_ref().apply_to(grid).map_err(refused(size.span()))?,
        None => grid,
    };
    let grid = match &map.origin {
        Some(origin) => grid.with_origin(Vec2::from(*origin.get_ref())).map_err(refused(origin.span()))?,
        None => grid,
    };
    let y_axis = match map.y_axis {
        file::YAxis::Down => YAxis::Down,
        file::YAxis::Up => YAxis::Up,
    };
    let outside = match map.outside {
        // Sides with rules of their own need nothing behind them.
        file::Outside::Block if map.edges.is_some() => Outside::Open,
        file::Outside::Block => Outside::Block,
        file::Outside::Open => Outside::Open,
    };
    Ok(grid.with_y_axis(y_axis).with_outside(outside))
}

fn from_rows(map: &file::Map, rows: &Rows, known: &mut LayerNames) -> Result<TileGrid, Problem> {
    let mut legend = Legend::new();
    for (glyph, written) in map.legend.get_ref() {
        let mut glyphs = glyph.get_ref().chars();
        let (Some(one), None) = (glyphs.next(), glyphs.next()) else {
            let message = format!("a legend key is one character, not {:?}", glyph.get_ref());
            return Err(Problem::at(glyph.span(), message, ""));
        };
        legend = legend.with(one, kind(written, known)?);
    }
    let texts: Vec<&str> = rows.get_ref().iter().map(|row| row.get_ref().as_str()).collect();
    TileGrid::from_rows(&texts, &legend).map_err(|error| map_problem(rows, &error))
}

/// The kinds of a legend, each with its key as the map's file has it.
fn kinds_by<K>(
    map: &file::Map,
    known: &mut LayerNames,
    wanted: &str,
    key: impl Fn(&str) -> Option<K>,
) -> Result<Vec<(K, TileKind)>, Problem> {
    let kinds = map.legend.get_ref().iter().map(|(text, written)| {
        let found = key(text.get_ref());
        let message = || format!("the legend key {:?} is not {wanted}", text.get_ref());
        Ok((found.ok_or_else(|| Problem::at(text.span(), message(), ""))?, kind(written, known)?))
    });
    kinds.collect()
}

fn kind(written: &file::Kind, known: &mut LayerNames) -> Result<TileKind, Problem> {
    let mut kind = match (written.half, written.blocks) {
        (Some(corner), _) => TileKind::half(&written.name, corner_of(corner)),
        (None, true) => TileKind::wall(&written.name),
        (None, false) => TileKind::floor(&written.name),
    };
    for side in &written.closed_from {
        kind = kind.closed_from(match side {
            file::Side::Left => Side::Left,
            file::Side::Right => Side::Right,
            file::Side::Top => Side::Top,
            file::Side::Bottom => Side::Bottom,
        });
    }
    let mut surface = moving("belt", written.belt.as_ref())?;
    if let Some(factor) = &written.speed_factor {
        surface = surface.with_speed_factor(*factor.get_ref()).map_err(refused(factor.span()))?;
    }
    if let Some(grip) = &written.grip {
        surface = surface.with_grip(*grip.get_ref()).map_err(refused(grip.span()))?;
    }
    let on = layers(written.layers.as_ref(), Layers::FIRST, known)?;
    Ok(kind.with_layers(on).with_surface(surface))
}

const fn corner_of(corner: file::Corner) -> Corner {
    match corner {
        file::Corner::TopLeft => Corner::TopLeft,
        file::Corner::TopRight => Corner::TopRight,
        file::Corner::BottomRight => Corner::BottomRight,
        file::Corner::BottomLeft => Corner::BottomLeft,
    }
}

/// The rows of a map as written.
type Rows = Spanned<Vec<Spanned<String>>>;

fn map_problem(rows: &Rows, error: &GridError) -> Problem {
    let row_place = |row: usize| rows.get_ref()[row].span();
    match *error {
        GridError::UnevenRow { row, expected, found } => {
            let message = format!("map row {} has {found} tiles, but row 1 has {expected}", row + 1);
            Problem::at(row_place(row), message, format!("{found} tiles")).help("make all rows equally long")
        }
        GridError::UnknownGlyph { glyph, column, row } => {
            let text = rows.get_ref()[row].get_ref();
            let before: usize = text.chars().take(column).map(char::len_utf8).sum();
            // The row's text starts after its opening quote.
            let start = row_place(row).start + 1 + before;
            let message =
                format!("{glyph:?} in map row {}, column {} is not in the legend", row + 1, column + 1);
            let add =
                format!("add {:?} = {{ name = \"...\", blocks = true }} to [map.legend]", glyph.to_string());
            Problem::at(start..start + glyph.len_utf8(), message, "no legend entry").help(add)
        }
        _ => Problem::at(rows.span(), error.to_string(), ""),
    }
}

/// A tile in words: its kind and its place.
pub(super) fn describe(map: &TileGrid, tile: IVec2) -> String {
    let name = map.kind(tile).map_or("the map's edge", TileKind::name);
    format!("{name} {},{}", tile.x, tile.y)
}
