//! The map: its tiles, each actor's path, footprints at even times, and what was touched.

use ambulant::shape::Footprint;
use glam::Vec2;

use super::flights::{draw_deflections, draw_flights};
use super::ground::{draw_ground, draw_standing};
use super::map_view::MapView;
use super::sheet::{Align, Sheet};
use super::style::{ACTORS, CONTACT, INK, SMALL, pick};
use super::tracks::{blocks, draw_tracks};
use crate::record::{Happening, Recording, Row};
use crate::scenario::Scenario;

/// The most footprints along one path.
const MOST_STAMPS: f64 = 32.0;
/// Times between footprints that read well, in seconds.
const EVEN_STEPS: [f64; 10] = [0.05, 0.1, 0.25, 0.5, 1.0, 2.0, 5.0, 10.0, 30.0, 60.0];
/// Every how many footprints one carries its time.
const TAGGED: usize = 4;
/// The room that a time takes, in pixels.
const TAG_SIZE: Vec2 = Vec2::new(36.0, 14.0);

/// The time between footprints that keeps a path readable, in seconds.
pub(super) fn stamp_step(seconds: f64) -> f64 {
    EVEN_STEPS.into_iter().find(|step| seconds / step <= MOST_STAMPS).unwrap_or(seconds / MOST_STAMPS)
}

pub(super) fn draw_map(sheet: &mut Sheet, view: &MapView, scenario: &Scenario, recording: &Recording) {
    sheet.clipped(view.area, |sheet| {
        draw_ground(sheet, view, &scenario.map);
        draw_standing(sheet, view, scenario, recording.moved.last());
        draw_tracks(sheet, view, scenario, recording);
        draw_flights(sheet, view, scenario, recording);
        let mut tags = Vec::new();
        for (place, actor) in scenario.actors.iter().enumerate() {
            let colour = pick(&ACTORS, place);
            stamps(sheet, view, recording, place, &actor.footprint, &mut tags);
            draw_path(sheet, view, recording, place, colour);
        }
    });
    contacts(sheet, view, recording);
    blocks(sheet, view, scenario, recording);
    draw_deflections(sheet, view, scenario, recording);
    for place in 0..scenario.actors.len() {
        ends(sheet, view, recording, place);
    }
    scale_bar(sheet, view, scenario.map.tile_size());
}

/// A path with a dot at its end.
pub(super) fn draw_path(
    sheet: &mut Sheet,
    view: &MapView,
    recording: &Recording,
    actor: usize,
    colour: &str,
) {
    let style = format!("stroke=\"{colour}\" stroke-width=\"2\" stroke-linejoin=\"round\"");
    let mut piece: Vec<Vec2> = Vec::new();
    let mut last: Option<&Row> = None;
    for row in recording.track(actor) {
        // What bounced between two rows did so at these places.
        let since = last.map_or(0.0, |last| last.time);
        let bends = recording.bends.iter().filter(|bend| bend.actor == actor);
        let between = bends.filter(|bend| bend.time > since && bend.time <= row.time);
        piece.extend(between.map(|bend| view.at(bend.position)));
        // Through a portal or over the edge of the map one goes no way at all.
        if last.is_some_and(|last| jumps(last, row)) {
            sheet.polyline(thinned(piece.drain(..)), &style);
        }
        piece.push(view.at(row.position));
        last = Some(row);
    }
    sheet.polyline(thinned(piece.into_iter()), &style);
    if let Some(last) = recording.last(actor) {
        sheet.circle(view.at(last.position), 4.5, &format!("fill=\"{colour}\" stroke=\"white\""));
    }
}

/// Whether a mover was put elsewhere between two rows: it went further than it can have gone.
fn jumps(last: &Row, row: &Row) -> bool {
    #[expect(clippy::cast_possible_truncation, reason = "a time step, rounded")]
    let lasts = (row.time - last.time) as f32;
    let fastest = last.velocity.length().max(row.velocity.length());
    let apart = (row.tile - last.tile).abs().max_element();
    apart > 2 && row.position.distance(last.position) > 4.0 * fastest * lasts
}

/// Footprints at even times, every few of them with its time, where no other time stands already.
fn stamps(
    sheet: &mut Sheet,
    view: &MapView,
    recording: &Recording,
    actor: usize,
    footprint: &Footprint,
    tags: &mut Vec<Vec2>,
) {
    let colour = pick(&ACTORS, actor);
    let step = stamp_step(recording.seconds);
    let style = format!(
        "fill=\"{colour}\" fill-opacity=\"0.10\" stroke=\"{colour}\" stroke-opacity=\"0.5\" stroke-width=\"1\""
    );
    let (mut next, mut count) = (0.0, 0);
    let mut last_tag: Option<Vec2> = None;
    for row in recording.track(actor).filter(|row| row.time + 1e-9 >= 0.0) {
        if row.time + 1e-9 < next {
            continue;
        }
        let ground = view.on_sheet(&footprint.at(row.position));
        match footprint.radius() {
            Some(radius) => {
                let middle = view.at(footprint.at(row.position).center());
                sheet.circle(middle, view.length(radius), &style);
            }
            None => sheet.rect(ground, &style),
        }
        // Beside the path, not on it: above a level stretch, left of a steep one.
        let steep = row.velocity.y.abs() > row.velocity.x.abs();
        let (middle_x, middle_y) = (ground.x + ground.width * 0.5, ground.y + ground.height * 0.5);
        let at = if steep {
            Vec2::new(ground.x - 16.0, middle_y + 4.0)
        } else {
            Vec2::new(middle_x, ground.y - 4.0)
        };
        let apart = last_tag.is_none_or(|last| last.distance(at) > 40.0);
        let clear = apart && tags.iter().all(|tag| (*tag - at).abs().cmpgt(TAG_SIZE).any());
        if count % TAGGED == 0 && count > 0 && clear {
            sheet.tag(at, Align::Middle, colour, format_args!("{} s", (next * 1000.0).round() / 1000.0));
            last_tag = Some(at);
            tags.push(at);
        }
        count += 1;
        next = step * f64::from(u32::try_from(count).unwrap_or(u32::MAX));
    }
}

/// A path without the points that lie on the line between their neighbours.
fn thinned(path: impl Iterator<Item = Vec2>) -> impl Iterator<Item = Vec2> {
    const STRAIGHT: f32 = 0.02;
    let points: Vec<Vec2> = path.collect();
    let mut kept: Vec<Vec2> = Vec::new();
    for (place, point) in points.iter().enumerate() {
        let next = points.get(place + 1);
        let off = kept.last().zip(next).map(|(last, next)| {
            let way = (*next - *last).normalize_or_zero();
            let off = *point - *last;
            (off.perp_dot(way).abs(), off.dot(way), next.distance(*last))
        });
        let between =
            off.is_some_and(|(aside, along, whole)| aside < STRAIGHT && along >= 0.0 && along <= whole);
        if !between {
            kept.push(*point);
        }
    }
    kept.into_iter()
}

/// A mark and a normal for each touch that began, numbered as in the list beside the map.
fn contacts(sheet: &mut Sheet, view: &MapView, recording: &Recording) {
    let touches = recording.events.iter().filter_map(|event| match &event.what {
        Happening::Touched { contact, .. } => Some(contact),
        _ => None,
    });
    for (number, contact) in touches.enumerate() {
        let at = view.at(contact.point);
        let normal = view.along(contact.normal);
        sheet.arrow(at, at + normal * 22.0, CONTACT);
        sheet.circle(at, 3.5, &format!("fill=\"{CONTACT}\""));
        let beside = at + normal * -12.0 + Vec2::new(0.0, 4.0);
        sheet.tag(beside, Align::Middle, CONTACT, number + 1);
    }
}

fn ends(sheet: &mut Sheet, view: &MapView, recording: &Recording, actor: usize) {
    let colour = pick(&ACTORS, actor);
    let (Some(first), Some(last)) = (recording.track(actor).next(), recording.last(actor)) else { return };
    let (first, last) = (view.at(first.position), view.at(last.position));
    let area = view.area;
    let shown = |at: &Vec2| (area.x..area.right()).contains(&at.x) && (area.y..area.bottom()).contains(&at.y);
    if shown(&first) {
        sheet.circle(first, 5.0, &format!("fill=\"white\" stroke=\"{colour}\" stroke-width=\"2.5\""));
    }
    if shown(&last) {
        sheet.circle(last, 5.5, &format!("fill=\"{colour}\" stroke=\"white\" stroke-width=\"1.5\""));
    }
}

/// A bar of a round number of units under the map's lower left corner.
fn scale_bar(sheet: &mut Sheet, view: &MapView, tile: Vec2) {
    let wanted = 110.0 / view.length(1.0);
    let power = 10.0f32.powf(wanted.log10().floor());
    let units = [5.0, 2.0, 1.0].map(|digit| digit * power).into_iter().find(|units| *units <= wanted);
    let units = units.unwrap_or(power);
    let start = Vec2::new(view.area.x, view.area.bottom() + 12.0);
    let end = start + Vec2::new(view.length(units), 0.0);
    let style = format!("stroke=\"{INK}\" stroke-width=\"1.5\"");
    sheet.line(start, end, &style);
    for at in [start, end] {
        sheet.line(at - Vec2::new(0.0, 4.0), at + Vec2::new(0.0, 4.0), &style);
    }
    let label = if units == 1.0 { "1 unit".to_owned() } else { format!("{units} units") };
    let tile = if tile.x == tile.y { tile.x.to_string() } else { format!("{} x {}", tile.x, tile.y) };
    let label = format!("{label}; a tile is {tile}");
    sheet.text(end + Vec2::new(8.0, 4.0), Align::Start, SMALL, INK, label);
}
