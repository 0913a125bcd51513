//! A map's tiles from a file beside the scenario: numbers in a CSV, colours in a PNG.

use std::fs::File;
use std::io::{BufReader, Read};
use std::path::Path;

use ambulant::terrain::{MAX_TILES, TileGrid, TileKind};
use toml::Spanned;

use super::super::MAX_FILE_BYTES;
use super::super::problem::Problem;

/// A colour: red, green, blue.
type Colour = [u8; 3];

/// Tiles from rows of numbers, each the key of a legend entry.
pub(super) fn from_csv(
    name: &Spanned<String>,
    folder: &Path,
    kinds: &[(usize, TileKind)],
) -> Result<TileGrid, Problem> {
    let wrong = |why: String| Problem::at(name.span(), format!("cannot read {}: {why}", name.get_ref()), "");
    let file = File::open(folder.join(name.get_ref())).map_err(|error| wrong(error.to_string()))?;
    // One row is read whole, however long it is.
    let bounded = file.take(MAX_FILE_BYTES + 1);
    let mut csv =
        csv::ReaderBuilder::new().has_headers(false).flexible(true).trim(csv::Trim::All).from_reader(bounded);
    let mut rows: Vec<Vec<usize>> = Vec::new();
    let mut count = 0;
    let mut record = csv::StringRecord::new();
    loop {
        let read = csv.read_record(&mut record);
        if csv.get_ref().limit() == 0 {
            return Err(wrong(format!("it is larger than {} MiB", MAX_FILE_BYTES >> 20)));
        }
        if !read.map_err(|error| wrong(error.to_string()))? {
            break;
        }
        count += record.len();
        if count > MAX_TILES {
            return Err(wrong(format!("it has more than {MAX_TILES} tiles")));
        }
        let line = record.position().map_or(0, csv::Position::line);
        let mut row = Vec::with_capacity(record.len());
        for (column, text) in record.iter().enumerate() {
            let index = text.parse().ok().and_then(|key: usize| place_of(&key, kinds));
            row.push(index.ok_or_else(|| {
                wrong(format!("{text:?} in line {line}, value {} is not in the legend", column + 1))
                    .help(format!("add {text:?} = {{ name = \"...\", blocks = true }} to [map.legend]"))
            })?);
        }
        rows.push(row);
    }
    grid(&rows, kinds).map_err(wrong)
}

/// Tiles from a picture, one for each pixel, by the colours of the legend.
pub(super) fn from_png(
    name: &Spanned<String>,
    folder: &Path,
    kinds: &[(Colour, TileKind)],
) -> Result<TileGrid, Problem> {
    let wrong = |why: String| Problem::at(name.span(), format!("cannot read {}: {why}", name.get_ref()), "");
    let file = File::open(folder.join(name.get_ref())).map_err(|error| wrong(error.to_string()))?;
    let mut decoder = png::Decoder::new(BufReader::new(file));
    decoder.set_transformations(png::Transformations::normalize_to_color8());
    let mut reader = decoder.read_info().map_err(|error| wrong(error.to_string()))?;
    let (width, height) = (reader.info().width as usize, reader.info().height as usize);
    if width.saturating_mul(height) > MAX_TILES {
        return Err(wrong(format!("{width} by {height} pixels are more than {MAX_TILES} tiles")));
    }
    let size = reader.output_buffer_size().ok_or_else(|| wrong("it is too large".to_owned()))?;
    let mut pixels = vec![0; size];
    let frame = reader.next_frame(&mut pixels).map_err(|error| wrong(error.to_string()))?;
    let samples = frame.color_type.samples();
    let mut rows = Vec::with_capacity(height);
    for (row, line) in pixels.chunks(frame.line_size).take(height).enumerate() {
        let mut tiles = Vec::with_capacity(width);
        for (column, pixel) in line.chunks(samples).take(width).enumerate() {
            // Grey pictures have one sample or two, the others three or four.
            let colour = if samples < 3 { [pixel[0]; 3] } else { [pixel[0], pixel[1], pixel[2]] };
            tiles.push(place_of(&colour, kinds).ok_or_else(|| {
                let [red, green, blue] = colour;
                let text = format!("#{red:02x}{green:02x}{blue:02x}");
                wrong(format!("the colour {text} at pixel {column},{row} is not in the legend"))
                    .help(format!("add \"{text}\" = {{ name = \"...\", blocks = true }} to [map.legend]"))
            })?);
        }
        rows.push(tiles);
    }
    grid(&rows, kinds).map_err(wrong)
}

/// A colour written as `#rrggbb`.
pub(super) fn colour(text: &str) -> Option<Colour> {
    let digits = text.strip_prefix('#').filter(|digits| digits.len() == 6 && digits.is_ascii())?;
    let part = |place: usize| u8::from_str_radix(&digits[place..place + 2], 16).ok();
    Some([part(0)?, part(2)?, part(4)?])
}

fn place_of<K: PartialEq>(key: &K, kinds: &[(K, TileKind)]) -> Option<usize> {
    kinds.iter().position(|(known, _)| known == key)
}

fn grid<K>(rows: &[Vec<usize>], kinds: &[(K, TileKind)]) -> Result<TileGrid, String> {
    let kinds: Vec<TileKind> = kinds.iter().map(|(_, kind)| kind.clone()).collect();
    TileGrid::from_indices(rows, &kinds).map_err(|error| error.to_string())
}
