//! Lines that are drawn over a map where asked: rays, and feelers at a time.

use ambulant::terrain::{WallFilter, World, ray};
use ambulant::travel::free_distance;
use glam::Vec2;

use super::map_view::MapView;
use super::sheet::{Align, Sheet};
use super::style::{CONTACT, INK, RAY};
use super::tracks::draw_claims;
use crate::record::Recording;
use crate::scenario::Scenario;

/// What is drawn over a map besides the run.
#[derive(Debug, Clone, Default)]
pub(crate) struct Marks {
    /// Lines of sight, from and to.
    pub(crate) rays: Vec<(Vec2, Vec2)>,
    /// The time for which each actor's free room is shown, in seconds.
    pub(crate) feelers_at: Option<f64>,
    /// The time for which claimed tiles are drawn, in seconds.
    pub(crate) claims_at: Option<f64>,
}

/// How far feelers reach, in units.
const REACH: f32 = 1e4;

pub(super) fn draw_marks(
    sheet: &mut Sheet,
    view: &MapView,
    scenario: &Scenario,
    recording: &Recording,
    marks: &Marks,
) {
    let store = scenario.standing.store();
    for (from, to) in &marks.rays {
        let hit = ray(&(&scenario.map, store), *from, *to, &WallFilter::ALL);
        let end = hit.map_or(*to, |hit| hit.point);
        let style = format!("stroke=\"{RAY}\" stroke-width=\"2\"");
        sheet.line(view.at(*from), view.at(end), &style);
        sheet.line(view.at(end), view.at(*to), &format!("{style} stroke-dasharray=\"3 5\""));
        sheet.circle(view.at(*from), 3.5, &format!("fill=\"{RAY}\""));
        if hit.is_some() {
            sheet.circle(
                view.at(end),
                4.0,
                &format!("fill=\"white\" stroke=\"{CONTACT}\" stroke-width=\"2\""),
            );
        }
    }
    if let Some(time) = marks.claims_at {
        draw_claims(sheet, view, scenario, recording, time);
    }
    if let Some(time) = marks.feelers_at {
        let store = scenario.standing.store_moved(recording.moved.at(time));
        feelers(sheet, view, scenario, &store, recording, time);
    }
}

fn feelers(
    sheet: &mut Sheet,
    view: &MapView,
    scenario: &Scenario,
    store: &World,
    recording: &Recording,
    time: f64,
) {
    let all = (&scenario.map, store);
    for (place, actor) in scenario.actors.iter().enumerate() {
        let near = |row: &&crate::record::Row| (row.time - time).abs();
        let Some(row) = recording.track(place).min_by(|a, b| near(a).total_cmp(&near(b))) else { continue };
        let filter = WallFilter::on(actor.mask);
        let area = actor.footprint.at(row.position);
        let (middle, half) = (area.center(), area.size() * 0.5);
        for way in [Vec2::X, Vec2::NEG_X, Vec2::Y, Vec2::NEG_Y] {
            let distance = free_distance(&all, &actor.footprint, row.position, way * REACH, &filter);
            let start = middle + way * half;
            let (from, to) = (view.at(start), view.at(start + way * distance.min(REACH)));
            sheet.line(from, to, &format!("stroke=\"{INK}\" stroke-width=\"1.2\" stroke-dasharray=\"5 3\""));
            let across = (to - from).perp().normalize_or_zero() * 4.0;
            sheet.line(to - across, to + across, &format!("stroke=\"{INK}\" stroke-width=\"1.5\""));
            if from.distance(to) > 26.0 {
                sheet.tag(
                    (from + to) * 0.5 + Vec2::new(0.0, 4.0),
                    Align::Middle,
                    INK,
                    format_args!("{distance:.1}"),
                );
            }
        }
    }
}
