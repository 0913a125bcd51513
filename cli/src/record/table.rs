//! A recording's rows as CSV and as JSON Lines.
//!
//! Both hold the same fields under the same names, and every number is printed so that it reads
//! back to the same bits.

use std::io::{self, Write};
use std::path::Path;

use serde::Serialize;

use super::{Recording, Row};

/// The two forms of a recording.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Form {
    Csv,
    JsonLines,
}

impl Form {
    /// The form that a file's ending asks for.
    pub(crate) fn of(path: &Path) -> Option<Self> {
        match path.extension()?.to_str()? {
            "csv" => Some(Self::Csv),
            "jsonl" => Some(Self::JsonLines),
            _ => None,
        }
    }
}

/// One row as it is written; the order of the fields is the order of the columns.
#[derive(Debug, Serialize)]
struct Line<'a> {
    tick: u32,
    time: f64,
    actor: &'a str,
    x: f32,
    y: f32,
    vx: f32,
    vy: f32,
    heading: f32,
    intent_x: f32,
    intent_y: f32,
    facing: &'static str,
    column: i32,
    row: i32,
    touching: String,
}

impl<'a> Line<'a> {
    fn new(row: &Row, actors: &'a [String]) -> Self {
        let touching: Vec<String> = row.touching.iter().map(ToString::to_string).collect();
        Self {
            tick: row.tick,
            time: row.time,
            actor: &actors[row.actor],
            x: row.position.x,
            y: row.position.y,
            vx: row.velocity.x,
            vy: row.velocity.y,
            heading: row.heading,
            intent_x: row.intent.x,
            intent_y: row.intent.y,
            facing: row.facing.name(),
            column: row.tile.x,
            row: row.tile.y,
            touching: touching.join("; "),
        }
    }
}

/// Writes all rows.
///
/// # Errors
/// When writing fails.
pub(crate) fn write_rows(recording: &Recording, form: Form, out: &mut dyn Write) -> io::Result<()> {
    let lines = recording.rows.iter().map(|row| Line::new(row, &recording.actors));
    match form {
        Form::Csv => {
            let mut csv = csv::Writer::from_writer(out);
            for line in lines {
                csv.serialize(line).map_err(io::Error::other)?;
            }
            csv.flush()
        }
        Form::JsonLines => {
            for line in lines {
                serde_json::to_writer(&mut *out, &line)?;
                out.write_all(b"\n")?;
            }
            Ok(())
        }
    }
}
