//! The sheet of one question: the walls about, the ground passed over, the first hit, and where each
//! response leads.

use ambulant::shape::{Aabb, Footprint};
use ambulant::terrain::Hit;
use ambulant::travel::MoveResult;
use glam::Vec2;

use super::ground::{draw_ground, draw_standing};
use super::map_view::MapView;
use super::sheet::{Align, Area, Sheet, wrapped};
use super::style::{ACTORS, CONTACT, FAINT_INK, INK, MARGIN, SHEET, SMALL, TEXT, pick};
use crate::scenario::Scenario;

/// What a picture of a question shows.
#[derive(Debug)]
pub(crate) struct Shown<'a> {
    pub(crate) file: &'a str,
    pub(crate) scenario: &'a Scenario,
    pub(crate) footprint: Footprint,
    pub(crate) at: Vec2,
    pub(crate) way: Vec2,
    pub(crate) hit: Option<Hit>,
    /// Each response's word and what came of it.
    pub(crate) passages: &'a [(String, MoveResult)],
    /// The first hit in words, line by line.
    pub(crate) hit_words: Option<[String; 3]>,
}

const TOP: f32 = 78.0;
const BESIDE: f32 = 330.0;
/// How much ground is shown round what happens, in sizes of the footprint.
const ROOM: f32 = 1.5;
const LINE: f32 = 19.0;

/// Draws a question and its answer as one SVG document.
pub(crate) fn probe_sheet(shown: &Shown<'_>) -> String {
    let title = format!("From {}, {} by {}, {}", shown.at.x, shown.at.y, shown.way.x, shown.way.y);
    let mut sheet = Sheet::new(&title, shown.file);
    let space = Area {
        x: MARGIN,
        y: TOP,
        width: SHEET.0 - 2.0 * MARGIN - BESIDE - 24.0,
        height: SHEET.1 - TOP - MARGIN,
    };
    let map = &shown.scenario.map;
    let view = MapView::around(map, region(shown), space);
    sheet.clipped(view.area, |sheet| {
        draw_ground(sheet, &view, map);
        draw_standing(sheet, &view, shown.scenario, &[]);
        draw_way(sheet, &view, shown);
        for (place, (_, result)) in shown.passages.iter().enumerate() {
            draw_passage(sheet, &view, shown, result, pick(&ACTORS, place));
        }
        draw_hit(sheet, &view, shown);
    });
    draw_beside(&mut sheet, Area { x: SHEET.0 - MARGIN - BESIDE, width: BESIDE, ..space }, shown);
    sheet.finish()
}

/// The ground on which everything happens.
fn region(shown: &Shown<'_>) -> Aabb {
    let mut places = vec![shown.at, shown.at + shown.way];
    for (_, result) in shown.passages {
        places.push(result.position);
        places.extend(result.contacts.iter().map(|contact| contact.position));
    }
    let room = shown.footprint.size() * ROOM;
    let first = shown.footprint.at(shown.at);
    let all = places.into_iter().fold(first, |all, place| {
        let here = shown.footprint.at(place);
        Aabb { min: all.min.min(here.min), max: all.max.max(here.max) }
    });
    Aabb { min: all.min - room, max: all.max + room }
}

fn outline(sheet: &mut Sheet, view: &MapView, footprint: &Footprint, at: Vec2, style: &str) {
    match footprint.radius() {
        Some(radius) => {
            let middle = view.at(footprint.at(at).center());
            sheet.circle(middle, view.length(radius), style);
        }
        None => sheet.rect(view.on_sheet(&footprint.at(at)), style),
    }
}

/// The start, and the way as it was asked for.
fn draw_way(sheet: &mut Sheet, view: &MapView, shown: &Shown<'_>) {
    let middle = |at: Vec2| view.at(shown.footprint.at(at).center());
    let (from, to) = (middle(shown.at), middle(shown.at + shown.way));
    outline(
        sheet,
        view,
        &shown.footprint,
        shown.at,
        &format!("fill=\"white\" stroke=\"{INK}\" stroke-width=\"2\""),
    );
    let ghost = format!("fill=\"none\" stroke=\"{INK}\" stroke-dasharray=\"2 4\" stroke-opacity=\"0.6\"");
    outline(sheet, view, &shown.footprint, shown.at + shown.way, &ghost);
    sheet.line(from, to, &format!("stroke=\"{INK}\" stroke-width=\"1.2\" stroke-dasharray=\"2 4\""));
    sheet.circle(from, 3.0, &format!("fill=\"{INK}\""));
}

fn draw_passage(sheet: &mut Sheet, view: &MapView, shown: &Shown<'_>, result: &MoveResult, colour: &str) {
    let middle = |at: Vec2| view.at(shown.footprint.at(at).center());
    let stops = result.contacts.iter().map(|contact| contact.position);
    let path = core::iter::once(shown.at).chain(stops).chain([result.position]).map(middle);
    sheet.polyline(path, &format!("stroke=\"{colour}\" stroke-width=\"2.5\" stroke-linejoin=\"round\""));
    let style = format!("fill=\"{colour}\" fill-opacity=\"0.18\" stroke=\"{colour}\" stroke-width=\"2\"");
    outline(sheet, view, &shown.footprint, result.position, &style);
    sheet.circle(middle(result.position), 4.0, &format!("fill=\"{colour}\""));
}

fn draw_hit(sheet: &mut Sheet, view: &MapView, shown: &Shown<'_>) {
    let Some(hit) = shown.hit else { return };
    let style = format!("fill=\"none\" stroke=\"{CONTACT}\" stroke-width=\"1.5\" stroke-dasharray=\"5 3\"");
    outline(sheet, view, &shown.footprint, hit.position, &style);
    let at = view.at(hit.point);
    sheet.arrow(at, at + view.along(hit.normal) * 34.0, CONTACT);
    sheet.circle(at, 4.0, &format!("fill=\"{CONTACT}\""));
}

/// What the colours mean, and what happened.
fn draw_beside(sheet: &mut Sheet, area: Area, shown: &Shown<'_>) {
    let mut column = Column { sheet, area, y: area.y + 8.0 };
    column.entry(INK, false, "start");
    match (shown.hit, &shown.hit_words) {
        (Some(_), Some(words)) => {
            column.entry(CONTACT, true, "the first hit, its point and normal");
            words.iter().for_each(|line| column.detail(line));
        }
        _ => column.detail("It hits nothing."),
    }
    for (place, (word, result)) in shown.passages.iter().enumerate() {
        let at = result.position;
        column.entry(pick(&ACTORS, place), false, &format!("{word}: ends at {:.1}, {:.1}", at.x, at.y));
        for contact in result.contacts.iter().take(MOST_CONTACTS) {
            let (before, kept) = (contact.velocity_before, contact.velocity_after);
            column.detail(&format!(
                "at {:.2}: {:.1}, {:.1} units/s became {:.1}, {:.1}",
                contact.seconds, before.x, before.y, kept.x, kept.y
            ));
        }
    }
}

/// The most contacts that are listed for one response.
const MOST_CONTACTS: usize = 4;

struct Column<'a> {
    sheet: &'a mut Sheet,
    area: Area,
    y: f32,
}

impl Column<'_> {
    fn entry(&mut self, colour: &str, dashed: bool, text: &str) {
        self.y += 6.0;
        let dash = if dashed { " stroke-dasharray=\"5 3\"" } else { "" };
        let mark = Area { x: self.area.x, y: self.y - 6.0, width: 20.0, height: 12.0 };
        self.sheet.rect(mark, &format!("fill=\"none\" stroke=\"{colour}\" stroke-width=\"2\"{dash}"));
        self.line(TEXT, INK, text);
    }

    fn detail(&mut self, text: &str) {
        self.line(SMALL, FAINT_INK, text);
    }

    fn line(&mut self, size: f32, colour: &str, text: &str) {
        let x = self.area.x + 30.0;
        for line in wrapped(text, size, x) {
            if self.y + 4.0 < SHEET.1 {
                self.sheet.text(Vec2::new(x, self.y + 4.0), Align::Start, size, colour, line);
            }
            self.y += LINE;
        }
    }
}
