//! A run as one page that replays it: a scenario and its recording go in, an HTML document comes out that needs
//! nothing but itself.
//!
//! `page.html` is the page with places for what changes, `page.js` moves it, `data` is the recording as the
//! script reads it.

mod data;

use anyhow::{Result, ensure};

use crate::page::{MAP_SCRIPT, as_data, escaped, filled, style};
use crate::picture::{page_chart, page_map, themed};
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
    let (map, chart) = (page_map(scenario, Some(recording)), page_chart(scenario, recording)?);
    let title = if recording.title.is_empty() { file } else { &recording.title };
    let facts = format!("{file}, {} s at {} ticks per second", recording.seconds, recording.tick_rate);
    let parts = [
        ("title", escaped(title)),
        ("facts", escaped(&facts)),
        ("style", style()),
        ("map", themed(&map.svg)),
        ("chart", themed(&chart.svg)),
        ("data", themed(&as_data(&data(scenario, recording, &map, &chart)))),
        ("map_script", MAP_SCRIPT.to_owned()),
        ("script", include_str!("page.js").to_owned()),
    ];
    Ok(filled(include_str!("page.html"), &parts))
}
