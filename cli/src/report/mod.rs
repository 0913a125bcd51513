//! A run as one page that replays it: a scenario and its recording go in, an HTML document comes out that needs
//! nothing but itself.
//!
//! `page.html` is the page with places for what changes, `page.js` moves it, `data` is the recording as the
//! script reads it.

mod data;

use anyhow::{Result, ensure};

use crate::picture::page_pictures;
use crate::record::Recording;
use crate::scenario::Scenario;
use data::data;

/// The most rows of a page, so that a browser opens it: an hour of one actor at 60 ticks per second.
const MOST_ROWS: f64 = 216_000.0;

/// Checks that a run is not too long for a page, before it is played.
///
/// # Errors
/// When it is.
pub(crate) fn check_length(scenario: &Scenario, tick_rate: f64) -> Result<()> {
    let rows = (scenario.seconds * tick_rate).ceil() * scenario.actors.len() as f64;
    ensure!(
        rows <= MOST_ROWS,
        "{rows} rows are too many for a page; at most {MOST_ROWS}: lower --tick-rate, or `seconds` in the scenario"
    );
    Ok(())
}

/// The page of a run.
///
/// # Errors
/// When its chart cannot be drawn.
pub(crate) fn page(scenario: &Scenario, recording: &Recording, file: &str) -> Result<String> {
    let pictures = page_pictures(scenario, recording)?;
    let title = if recording.title.is_empty() { file } else { &recording.title };
    let facts = format!("{file}, {} s at {} ticks per second", recording.seconds, recording.tick_rate);
    // A `<` could end the script that holds the data.
    let data = serde_json::to_string(&data(scenario, recording, &pictures))?.replace('<', "\\u003c");
    let parts = [
        ("{{title}}", escaped(title)),
        ("{{facts}}", escaped(&facts)),
        ("{{map}}", pictures.map),
        ("{{chart}}", pictures.chart),
        ("{{script}}", include_str!("page.js").to_owned()),
        ("{{data}}", data),
    ];
    let mut page = String::new();
    let mut rest = include_str!("page.html");
    // In one pass, so that nothing which was put in is taken for a place.
    while let Some((at, (place, part))) =
        parts.iter().filter_map(|part| Some((rest.find(part.0)?, part))).min_by_key(|(at, _)| *at)
    {
        page += &rest[..at];
        page += part;
        rest = &rest[at + place.len()..];
    }
    Ok(page + rest)
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}
