//! What flies: tiles that broke, shots, and the angles at which paddles send balls off.

use glam::Vec2;

use super::map_view::MapView;
use super::sheet::{Align, Sheet};
use super::style::{ACTORS, INK, PAPER, pick};
use crate::record::Recording;
use crate::scenario::Scenario;

/// Tiles smaller than this carry no time, in pixels.
const SMALLEST_TIMED: f32 = 22.0;

/// The space that a label takes, in pixels.
const LABEL: (f32, f32) = (32.0, 13.0);

/// Broken tiles, faded and with their times; shots as dashed lines.
pub(super) fn draw_flights(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, recording: &Recording) {
    for (time, tile) in &recording.broken {
        let area = view.on_sheet(&scenario.map.tile_area(*tile));
        sheet.rect(area, &format!("fill=\"{PAPER}\" fill-opacity=\"0.72\""));
        if area.width >= SMALLEST_TIMED {
            let at = Vec2::new(area.x + area.width * 0.5, area.y + area.height * 0.5 + 4.0);
            sheet.tag(at, Align::Middle, INK, format_args!("{time:.1}"));
        }
    }
    for (from, to) in &recording.shots {
        let (from, to) = (view.at(*from), view.at(*to));
        sheet.line(from, to, &format!("stroke=\"{INK}\" stroke-width=\"1.2\" stroke-dasharray=\"2 4\""));
        sheet.circle(to, 3.0, &format!("fill=\"{INK}\""));
    }
}

/// The angle of each deflection, where it happened.
pub(super) fn draw_deflections(
    sheet: &mut Sheet,
    view: &MapView,
    scenario: &Scenario,
    recording: &Recording,
) {
    let mut taken: Vec<Vec2> = Vec::new();
    for bend in &recording.bends {
        let Some(degrees) = bend.degrees else { continue };
        let down = Vec2::Y * scenario.map.y_axis().downward();
        let mut at = view.at(bend.position) + view.along(down) * 26.0;
        // Labels that would lie on each other go one under the other.
        let covers = |at: Vec2| {
            let apart = |other: &Vec2| (*other - at).abs();
            taken.iter().any(|other| apart(other).x < LABEL.0 && apart(other).y < LABEL.1)
        };
        while covers(at) {
            at.y += LABEL.1;
        }
        taken.push(at);
        // Rounded to a plain zero, not to one with a sign.
        let degrees = degrees.round() + 0.0;
        sheet.tag(at, Align::Middle, pick(&ACTORS, bend.actor), crate::text::degrees(degrees));
    }
}
