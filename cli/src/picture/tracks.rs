//! What only steppers have: portals, things, blocked steps, claims.

use ambulant::steps::StrideEvent;
use glam::{IVec2, Vec2};

use super::map_view::MapView;
use super::sheet::{Align, Sheet};
use super::style::{ACTORS, CONTACT, CRATE, INK, PORTAL, pick};
use crate::record::{Happening, Recording};
use crate::scenario::Scenario;

/// Letters for pairs of tiles.
const LETTERS: [&str; 8] = ["A", "B", "C", "D", "E", "F", "G", "H"];

/// Portals, each pair by its letter.
pub(super) fn draw_portals(sheet: &mut Sheet, view: &MapView, scenario: &Scenario) {
    let tile = view.length(scenario.map.tile_size().min_element());
    for (pair, (one, other)) in scenario.tracks.portals.iter().enumerate() {
        for end in [one, other] {
            let at = view.at(scenario.map.center_of(end));
            sheet.circle(at, tile * 0.42, &format!("fill=\"none\" stroke=\"{PORTAL}\" stroke-width=\"2.5\""));
            let letter = LETTERS[pair % LETTERS.len()];
            sheet.tag(at + Vec2::new(0.0, -tile * 0.55), Align::Middle, PORTAL, letter);
        }
    }
}

/// Portals, and the things that can be pushed: where they start, and where they end.
pub(super) fn draw_tracks(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, recording: &Recording) {
    draw_portals(sheet, view, scenario);
    let starts = scenario.tracks.crates.iter().map(|(_, tile)| *tile);
    for tile in starts {
        thing(sheet, view, scenario, tile, "fill-opacity=\"0.15\" stroke-dasharray=\"3 2\"");
    }
    for tile in recording.crates.last() {
        thing(sheet, view, scenario, *tile, "");
    }
}

fn thing(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, tile: IVec2, style: &str) {
    let area = scenario.map.tile_area(tile);
    let inset = area.size() * 0.12;
    let area = ambulant::shape::Aabb { min: area.min + inset, max: area.max - inset };
    sheet.rect(
        view.on_sheet(&area),
        &format!("fill=\"{CRATE}\" stroke=\"{INK}\" stroke-opacity=\"0.6\" {style}"),
    );
}

/// Where a step was blocked: a bar on the border for one that stopped, an arrow for a wish that waited.
pub(super) fn blocks(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, recording: &Recording) {
    let tile = view.length(scenario.map.tile_size().min_element());
    for event in &recording.events {
        let Happening::StrideEvent { what: StrideEvent::Blocked { direction, .. }, went_on, .. } =
            &event.what
        else {
            continue;
        };
        let rows = recording.track(event.actor).take_while(|row| row.time <= event.time + 1e-6);
        // The nearest row: events lie between two ticks.
        let later = recording.track(event.actor).find(|row| row.time + 1e-6 >= event.time);
        let Some(row) = later.or(rows.last()) else { continue };
        let tile_then =
            if row.velocity == Vec2::ZERO { row.tile } else { scenario.map.tile_at(row.position) };
        let at = view.at(scenario.map.center_of(tile_then));
        let step = direction.step().as_vec2();
        let (border, across) = (at + step * tile * 0.47, step.perp() * tile * 0.3);
        let colour = pick(&ACTORS, event.actor);
        if *went_on {
            sheet.arrow(at + step * tile * 0.08, border, colour);
        } else {
            sheet.line(
                border - across,
                border + across,
                &format!("stroke=\"{CONTACT}\" stroke-width=\"3.5\""),
            );
        }
    }
}

/// The tiles that are claimed at a time.
pub(super) fn draw_claims(
    sheet: &mut Sheet,
    view: &MapView,
    scenario: &Scenario,
    recording: &Recording,
    time: f64,
) {
    let near = |entry: &&(f64, Vec<IVec2>)| (entry.0 - time).abs();
    let Some((_, tiles)) = recording.claims.iter().min_by(|a, b| near(a).total_cmp(&near(b))) else { return };
    for tile in tiles {
        let area = view.on_sheet(&scenario.map.tile_area(*tile));
        let style = "fill=\"none\" stroke-width=\"2.5\" stroke-dasharray=\"6 3\"";
        sheet.rect(area, &format!("{style} stroke=\"{INK}\""));
    }
    for actor in 0..scenario.actors.len() {
        let row =
            recording.track(actor).min_by(|a, b| (a.time - time).abs().total_cmp(&(b.time - time).abs()));
        if let Some(row) = row.filter(|_| scenario.actors[actor].steps_by_tiles()) {
            let style = format!("fill=\"{}\" stroke=\"{INK}\" stroke-width=\"2\"", pick(&ACTORS, actor));
            sheet.circle(view.at(row.position), 7.0, &style);
        }
    }
}
