//! Line charts over time, from the plotting crate's SVG backend.
//!
//! The backend rounds to whole pixels, so a chart is drawn large and scaled down in the sheet.

use anyhow::{Result, anyhow};
use plotters::prelude::*;
use plotters::style::FontStyle;

use super::sheet::Area;
use super::style::{ACTORS, FAINT_INK, GRID, INK, pick};
use crate::record::Recording;

/// How much larger than shown a chart is drawn.
const ENLARGED: u32 = 8;
/// The size of numbers and axis names; the backend sets text a little smaller than asked.
const LABEL: f32 = 14.0;
/// Space left of the plot for its numbers, and below it for the times.
pub(super) const LEFT: f32 = 48.0;
const BELOW: f32 = 34.0;
/// Space around the plot for the topmost and rightmost numbers.
const ROUND: f32 = 8.0;

/// One line of a chart.
#[derive(Debug)]
pub(super) struct Line {
    pub(super) colour: String,
    pub(super) points: Vec<(f64, f64)>,
}

/// The speed of each actor over time.
pub(super) fn speeds(recording: &Recording) -> Vec<Line> {
    let of = |actor: usize| Line {
        colour: pick(&ACTORS, actor).to_owned(),
        points: recording.track(actor).map(|row| (row.time, f64::from(row.velocity.length()))).collect(),
    };
    (0..recording.actors.len()).map(of).collect()
}

/// The part of a chart's area that the lines are drawn in.
pub(super) fn plot_area(area: Area) -> Area {
    Area {
        x: area.x + LEFT,
        y: area.y + ROUND,
        width: area.width - LEFT - ROUND,
        height: area.height - BELOW - ROUND,
    }
}

/// A chart of something over time, from zero up; returns its elements, to be embedded at the
/// area's corner at the scale that comes with them.
///
/// # Errors
/// When the plotting crate fails.
pub(super) fn over_time(area: Area, what: &str, seconds: f64, lines: &[Line]) -> Result<(String, f32)> {
    let values = lines.iter().flat_map(|line| line.points.iter().map(|point| point.1));
    let top = values.fold(0.0f64, f64::max).max(1e-3) * 1.08;
    let large = |pixels: f32| pixels * ENLARGED as f32;
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "sizes on a sheet")]
    let whole = |pixels: f32| large(pixels).max(1.0) as u32;
    let mut svg = String::new();
    {
        let failed = |error: &dyn std::fmt::Display| anyhow!("the chart cannot be drawn: {error}");
        let root =
            SVGBackend::with_string(&mut svg, (whole(area.width), whole(area.height))).into_drawing_area();
        let mut chart = ChartBuilder::on(&root)
            .margin_top(whole(ROUND))
            .margin_right(whole(ROUND))
            .y_label_area_size(whole(LEFT))
            .x_label_area_size(whole(BELOW))
            .build_cartesian_2d(0.0..seconds, 0.0..top)
            .map_err(|error| failed(&error))?;
        let ink = colour(INK);
        let numbers = ("Inter", f64::from(large(LABEL)), FontStyle::Normal, &ink).into_text_style(&root);
        chart
            .configure_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(colour(GRID).stroke_width(ENLARGED))
            .axis_style(colour(FAINT_INK).stroke_width(ENLARGED))
            .label_style(numbers)
            .x_label_formatter(&short)
            .y_label_formatter(&short)
            .x_labels(24)
            .y_labels(5)
            .x_desc("time in s")
            .y_desc(what)
            .set_all_tick_mark_size(whole(4.0))
            .draw()
            .map_err(|error| failed(&error))?;
        for line in lines {
            let style = colour(&line.colour).stroke_width(2 * ENLARGED);
            let series = LineSeries::new(line.points.iter().copied(), style);
            chart.draw_series(series).map_err(|error| failed(&error))?;
        }
        root.present().map_err(|error| failed(&error))?;
    }
    let start = svg.find('>').map_or(0, |end| end + 1);
    let end = svg.rfind("</svg>").unwrap_or(svg.len());
    Ok((svg[start..end].to_owned(), 1.0 / ENLARGED as f32))
}

/// A number without the noughts that it does not need.
#[expect(clippy::trivially_copy_pass_by_ref, reason = "the plotting crate's signature")]
fn short(value: &f64) -> String {
    format!("{}", (value * 1000.0).round() / 1000.0)
}

/// A colour of the style, as the plotting crate takes it.
fn colour(hex: &str) -> RGBColor {
    let channel =
        |from: usize| hex.get(from..from + 2).and_then(|digits| u8::from_str_radix(digits, 16).ok());
    RGBColor(channel(1).unwrap_or(0), channel(3).unwrap_or(0), channel(5).unwrap_or(0))
}
