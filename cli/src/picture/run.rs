//! The sheet of one run: the map with its paths, speed over time, and the held keys under it.

use anyhow::Result;
use glam::Vec2;

use super::chart::{over_time, plot_area, speeds};
use super::keys::{self, draw_keys};
use super::legend::draw_legend;
use super::map::draw_map;
use super::map_view::MapView;
use super::marks::{Marks, draw_marks};
use super::sheet::{Area, Sheet};
use super::style::{MARGIN, SHEET};
use crate::record::Recording;
use crate::scenario::Scenario;

const TOP: f32 = 78.0;
const LEGEND_WIDTH: f32 = 236.0;
const CHART_HEIGHT: f32 = 190.0;

/// Draws a run as one SVG document.
///
/// # Errors
/// When the chart cannot be drawn.
pub(crate) fn run_sheet(
    scenario: &Scenario,
    recording: &Recording,
    file: &str,
    marks: &Marks,
) -> Result<String> {
    let title = if recording.title.is_empty() { file } else { &recording.title };
    let facts = format!("{file}, {} s at {} ticks per second", recording.seconds, recording.tick_rate);
    let mut sheet = Sheet::new(title, &facts);

    let strips = keys::height(scenario);
    let chart_top = SHEET.1 - 20.0 - strips - CHART_HEIGHT;
    let map_width = SHEET.0 - 2.0 * MARGIN - LEGEND_WIDTH - 24.0;
    let space = Area { x: MARGIN, y: TOP, width: map_width, height: chart_top - TOP - 30.0 };
    let view = MapView::fit(&scenario.map, space);
    draw_map(&mut sheet, &view, scenario, recording);
    sheet.clipped(view.area, |sheet| draw_marks(sheet, &view, scenario, recording, marks));
    let beside = Area { x: SHEET.0 - MARGIN - LEGEND_WIDTH, width: LEGEND_WIDTH, ..space };
    draw_legend(&mut sheet, beside, scenario, recording, marks);

    let chart = Area { x: MARGIN, y: chart_top, width: SHEET.0 - 2.0 * MARGIN, height: CHART_HEIGHT };
    let lines = speeds(recording);
    let (elements, scale) = over_time(chart, "speed in units/s", recording.seconds, &lines)?;
    sheet.embed(Vec2::new(chart.x, chart.y), scale, &elements);
    let plot = plot_area(chart);
    draw_keys(&mut sheet, Area { y: chart.bottom() + 2.0, height: strips, ..plot }, scenario);
    Ok(sheet.finish())
}
