//! The map and its legend.

use ambulant::intent::YAxis;
use ambulant::terrain::{Beyond, GridError, Legend, TileGrid, TileKind};
use glam::{IVec2, Vec2};
use toml::Spanned;

use super::super::file;
use super::super::problem::Problem;
use super::refused;

/// The tiles, and the wind that blows over all of them.
pub(super) fn resolve(map: file::Map) -> Result<(TileGrid, Vec2), Problem> {
    let wind = velocity("wind", map.wind.as_ref())?;
    Ok((grid(&map)?, wind))
}

/// A velocity in units/s; none where it is not written.
fn velocity(field: &str, written: Option<&Spanned<[f32; 2]>>) -> Result<Vec2, Problem> {
    let Some(written) = written else { return Ok(Vec2::ZERO) };
    let velocity = Vec2::from(*written.get_ref());
    if velocity.is_finite() {
        return Ok(velocity);
    }
    Err(Problem::at(written.span(), format!("{field} must be two finite numbers (units/s)"), ""))
}

fn grid(map: &file::Map) -> Result<TileGrid, Problem> {
    let mut legend = Legend::new();
    for (glyph, kind) in map.legend.get_ref() {
        let mut glyphs = glyph.get_ref().chars();
        let (Some(one), None) = (glyphs.next(), glyphs.next()) else {
            let message = format!("a legend key is one character, not {:?}", glyph.get_ref());
            return Err(Problem::at(glyph.span(), message, ""));
        };
        let make = if kind.blocks { TileKind::wall } else { TileKind::floor };
        let belt = velocity("belt", kind.belt.as_ref())?;
        legend = legend.with(one, make(&kind.name).with_belt(belt));
    }
    let rows: Vec<&str> = map.rows.get_ref().iter().map(|row| row.get_ref().as_str()).collect();
    let grid = TileGrid::from_rows(&rows, &legend).map_err(|error| map_problem(map, &error))?;
    let grid = match &map.tile_size {
        Some(size) => grid.with_tile_size(*size.get_ref()).map_err(refused(size.span()))?,
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
    let beyond = match map.beyond {
        file::Beyond::Blocks => Beyond::Blocks,
        file::Beyond::Free => Beyond::Free,
    };
    Ok(grid.with_y_axis(y_axis).with_beyond(beyond))
}

fn map_problem(map: &file::Map, error: &GridError) -> Problem {
    let row_place = |row: usize| map.rows.get_ref()[row].span();
    match *error {
        GridError::UnevenRow { row, expected, found } => {
            let message = format!("map row {} has {found} tiles, but row 1 has {expected}", row + 1);
            Problem::at(row_place(row), message, format!("{found} tiles")).help("make all rows equally long")
        }
        GridError::UnknownGlyph { glyph, column, row } => {
            let text = map.rows.get_ref()[row].get_ref();
            let before: usize = text.chars().take(column).map(char::len_utf8).sum();
            // The row's text starts after its opening quote.
            let start = row_place(row).start + 1 + before;
            let message =
                format!("{glyph:?} in map row {}, column {} is not in the legend", row + 1, column + 1);
            let add =
                format!("add {:?} = {{ name = \"...\", blocks = true }} to [map.legend]", glyph.to_string());
            Problem::at(start..start + glyph.len_utf8(), message, "no legend entry").help(add)
        }
        _ => Problem::at(map.rows.span(), error.to_string(), ""),
    }
}

/// A tile in words: its kind and its place.
pub(super) fn describe(map: &TileGrid, tile: IVec2) -> String {
    let name = map.kind(tile).map_or("the map's edge", TileKind::name);
    format!("{name} {},{}", tile.x, tile.y)
}
