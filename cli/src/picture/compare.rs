//! The sheet of a comparison: speed and distance over time, the paths, and the feel in figures.

use crate::feel::FIGURES;
use ambulant::drive::Feel;
use anyhow::Result;
use glam::Vec2;

use super::chart::{Line, over_time, plot_area};
use super::ground::{draw_ground, draw_standing};
use super::keys::draw_asked;
use super::map::draw_path;
use super::map_view::MapView;
use super::sheet::{Align, Area, Sheet};
use super::style::{FAINT_INK, GRID, INK, MARGIN, SHEET, SMALL, variant_colour};
use crate::record::Recording;
use crate::scenario::Scenario;

/// One value of what is compared, played.
#[derive(Debug)]
pub(crate) struct Variant {
    /// The value, or both values.
    pub(crate) label: String,
    /// Its place among the values of each number.
    pub(crate) group: [usize; 2],
    pub(crate) warnings: Vec<String>,
    pub(crate) feel: Feel,
    pub(crate) recording: Recording,
}

const TOP: f32 = 78.0;
const LEFT_WIDTH: f32 = 742.0;
const ROW: f32 = 19.0;
/// Height of the strip of keys.
const STRIP: f32 = 52.0;
/// The most rows of figures that the sheet has room for.
const MOST_ROWS: usize = 9;

/// The figures of a comparison: their names, and one variant's values.
pub(crate) fn figures(
    variant: Option<&Variant>,
    actor: usize,
) -> impl Iterator<Item = (&'static str, String)> {
    let of_feel = FIGURES.into_iter().map(move |(name, figure, unit)| {
        let value = variant.and_then(|variant| figure(&variant.feel));
        let unit = if unit == "s" { " s" } else { "" };
        (name, value.map_or_else(|| "-".to_owned(), |value| format!("{}{unit}", rounded(value))))
    });
    let end = variant.and_then(|variant| variant.recording.last(actor)).map(|row| row.position);
    let walked = variant.and_then(|variant| variant.recording.tallies.get(actor)).map(|tally| tally.distance);
    of_feel.chain([
        ("walked", walked.map_or_else(String::new, |walked| format!("{walked:.1}"))),
        ("ends at", end.map_or_else(String::new, |end| format!("{:.1}, {:.1}", end.x, end.y))),
    ])
}

/// Three figures that count, without trailing noughts.
fn rounded(value: f32) -> String {
    let decimals = if value.abs() >= 100.0 {
        0
    } else if value.abs() >= 10.0 {
        1
    } else {
        3
    };
    let text = format!("{value:.decimals$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

/// Draws a comparison as one SVG document.
///
/// # Errors
/// When a chart cannot be drawn.
pub(crate) fn compare_sheet(
    scenario: &Scenario,
    actor: usize,
    variants: &[Variant],
    facts: &str,
) -> Result<String> {
    let name = &scenario.actors[actor].name;
    let mut sheet = Sheet::new(&format!("{name}: the same script, {} feels", variants.len()), facts);
    let colours: Vec<String> =
        variants.iter().map(|variant| variant_colour(variant.group, most(variants))).collect();

    // The charts take what the strip of keys and the table of figures leave.
    let rows = f32::from(u8::try_from(variants.len().min(MOST_ROWS)).unwrap_or(u8::MAX));
    let table_top = SHEET.1 - 26.0 - rows * ROW;
    let chart_height = (table_top - TOP - STRIP - 34.0) * 0.5;
    let mut area = Area { x: MARGIN, y: TOP, width: LEFT_WIDTH, height: chart_height };
    for (what, points) in [("speed in units/s", speeds as Points), ("distance in units", distances)] {
        let line = |(variant, colour): (&Variant, &String)| Line {
            colour: colour.clone(),
            points: points(&variant.recording, actor),
        };
        let lines: Vec<Line> = variants.iter().zip(&colours).map(line).collect();
        let (elements, scale) = over_time(area, what, scenario.seconds, &lines)?;
        sheet.embed(Vec2::new(area.x, area.y), scale, &elements);
        area.y += chart_height + 4.0;
    }
    let strip = Area { y: area.y, height: 0.0, ..plot_area(area) };
    draw_asked(&mut sheet, strip, scenario, actor, FAINT_INK);

    let beside = MARGIN + LEFT_WIDTH + 24.0;
    let space =
        Area { x: beside, y: TOP + 8.0, width: SHEET.0 - MARGIN - beside, height: 2.0 * chart_height };
    let view = MapView::fit(&scenario.map, space).at_top(space);
    sheet.clipped(view.area, |sheet| {
        draw_ground(sheet, &view, &scenario.map);
        draw_standing(sheet, &view, scenario, &[]);
        for (variant, colour) in variants.iter().zip(&colours) {
            draw_path(sheet, &view, &variant.recording, actor, colour);
        }
    });
    let under = Vec2::new(view.area.x, view.area.bottom() + 18.0);
    sheet.text(under, Align::Start, SMALL, FAINT_INK, "the paths; a dot is the end");
    let units = "top speed in units/s; distances, circle and walked in units";
    sheet.text(under + Vec2::new(0.0, ROW), Align::Start, SMALL, FAINT_INK, units);
    draw_figures(&mut sheet, table_top, variants, &colours, actor);
    Ok(sheet.finish())
}

/// What a chart shows of a recording's actor.
type Points = fn(&Recording, usize) -> Vec<(f64, f64)>;

fn most(variants: &[Variant]) -> [usize; 2] {
    let most = |axis: usize| variants.iter().map(|variant| variant.group[axis] + 1).max().unwrap_or(1);
    [most(0), most(1)]
}

fn speeds(recording: &Recording, actor: usize) -> Vec<(f64, f64)> {
    recording.track(actor).map(|row| (row.time, f64::from(row.velocity.length()))).collect()
}

fn distances(recording: &Recording, actor: usize) -> Vec<(f64, f64)> {
    let mut walked = 0.0;
    let mut last: Option<Vec2> = None;
    let mut points = Vec::new();
    for row in recording.track(actor) {
        walked += last.map_or(0.0, |last| f64::from(last.distance(row.position)));
        last = Some(row.position);
        points.push((row.time, walked));
    }
    points
}

/// The figures as rows under the charts, each with its colour.
fn draw_figures(sheet: &mut Sheet, top: f32, variants: &[Variant], colours: &[String], actor: usize) {
    let columns: [f32; 9] = [250.0, 350.0, 450.0, 570.0, 680.0, 790.0, 890.0, 1000.0, 1110.0];
    let mut y = top;
    for (x, (name, _)) in columns.into_iter().zip(figures(None, actor)) {
        sheet.text(Vec2::new(x, y), Align::Start, SMALL, FAINT_INK, name);
    }
    sheet.line(
        Vec2::new(MARGIN, y + 7.0),
        Vec2::new(SHEET.0 - MARGIN, y + 7.0),
        &format!("stroke=\"{GRID}\""),
    );
    for (place, (variant, colour)) in variants.iter().zip(colours).enumerate() {
        y += ROW;
        if place + 1 == MOST_ROWS && variants.len() > MOST_ROWS {
            let rest = format!("... and {} more", variants.len() - place);
            sheet.text(Vec2::new(MARGIN + 34.0, y + 4.0), Align::Start, SMALL, FAINT_INK, rest);
            return;
        }
        let swatch = Vec2::new(MARGIN, y);
        sheet.line(swatch, swatch + Vec2::new(24.0, 0.0), &format!("stroke=\"{colour}\" stroke-width=\"3\""));
        sheet.text(Vec2::new(MARGIN + 34.0, y + 4.0), Align::Start, SMALL, INK, &variant.label);
        for (x, (_, value)) in columns.into_iter().zip(figures(Some(variant), actor)) {
            sheet.text(Vec2::new(x, y + 4.0), Align::Start, SMALL, INK, value);
        }
    }
}
