//! The static parts of pages: the map without movers, and the speeds with the held keys.

use anyhow::Result;
use glam::Vec2;

use super::chart::{over_time, plot_area, speeds};
use super::ground::{draw_each_standing, draw_ground, kind_colour, standing_colour};
use super::keys::{self, draw_keys};
use super::map::draw_path;
use super::map_view::MapView;
use super::sheet::{Area, Sheet};
use super::style::{ACTORS, pick};
use super::tracks::draw_portals;
use crate::record::Recording;
use crate::scenario::Scenario;

/// The size of the map, in pixels; the page scales it.
const MAP: (f32, f32) = (820.0, 430.0);
/// The size of the chart without the strips of keys.
const CHART: (f32, f32) = (820.0, 150.0);

/// The map of a page, and how the world lies on it.
#[derive(Debug)]
pub(crate) struct PageMap {
    pub(crate) svg: String,
    /// Where the world's origin is on the map, in pixels.
    pub(crate) origin: Vec2,
    /// Pixels for each unit toward larger x, and toward larger y: negative where y grows upwards.
    pub(crate) scale: Vec2,
    /// The actors' colours.
    pub(crate) colours: Vec<&'static str>,
    /// The names of tiles and obstacles with their colours.
    pub(crate) kinds: Vec<(String, &'static str)>,
}

/// The chart of a page.
#[derive(Debug)]
pub(crate) struct PageChart {
    pub(crate) svg: String,
    /// Where time 0 and the end are on the chart, and its height, in pixels.
    pub(crate) times: [f32; 3],
}

/// Draws what stands still, with the paths of a run if there is one.
pub(crate) fn page_map(scenario: &Scenario, recording: Option<&Recording>) -> PageMap {
    let space = Area { x: 0.0, y: 0.0, width: MAP.0, height: MAP.1 };
    // A wide map leaves no empty room above and below itself.
    let view = MapView::fit(&scenario.map, space).at_top(space);
    let mut map = Sheet::bare();
    draw_ground(&mut map, &view, &scenario.map);
    draw_portals(&mut map, &view, scenario);
    draw_each_standing(&mut map, &view, scenario);
    if let Some(recording) = recording {
        map.grouped("opacity=\"0.22\"", |map| {
            for actor in 0..scenario.actors.len() {
                draw_path(map, &view, recording, actor, pick(&ACTORS, actor));
            }
        });
    }
    map.grouped("id=\"live\"", |_| {});
    let mut kinds: Vec<(String, &'static str)> = Vec::new();
    for kind in scenario.map.kinds() {
        if !kinds.iter().any(|(known, _)| known == kind.name()) {
            kinds.push((kind.name().to_owned(), kind_colour(&scenario.map, kind.name())));
        }
    }
    let standing = scenario.standing.kinds().into_iter();
    kinds.extend(standing.map(|name| (name.to_owned(), standing_colour(scenario, name))));
    let origin = view.at(Vec2::ZERO);
    PageMap {
        svg: map.finish_bare("map", MAP.0, view.area.bottom().max(1.0)),
        origin,
        scale: view.at(Vec2::ONE) - origin,
        kinds,
        colours: (0..scenario.actors.len()).map(|actor| pick(&ACTORS, actor)).collect(),
    }
}

/// Draws speeds and held keys over the time of a run.
///
/// # Errors
/// When the chart cannot be drawn.
pub(crate) fn page_chart(scenario: &Scenario, recording: &Recording) -> Result<PageChart> {
    let strips = keys::height(scenario);
    let area = Area { x: 0.0, y: 0.0, width: CHART.0, height: CHART.1 };
    let lines = speeds(recording);
    let (elements, scale) = over_time(area, "speed in units/s", recording.seconds, &lines)?;
    let mut chart = Sheet::bare();
    chart.embed(Vec2::ZERO, scale, &elements);
    let plot = plot_area(area);
    draw_keys(&mut chart, Area { y: area.bottom() + 2.0, height: strips, ..plot }, scenario);
    let height = area.height + strips + 4.0;
    chart.grouped("id=\"cursor\"", |_| {});
    Ok(PageChart { svg: chart.finish_bare("chart", CHART.0, height), times: [plot.x, plot.right(), height] })
}
