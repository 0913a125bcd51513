//! What colours and marks mean, and the list of touches by number.

use std::collections::HashSet;

use ambulant::direction::Side;
use ambulant::drive::Surface;
use ambulant::steps::StrideEvent;
use ambulant::terrain::{KindId, TileForm, TileKind};
use glam::{IVec2, Vec2};

use super::ground::{kind_colour, standing_colour, tile_detail};
use super::map::stamp_step;
use super::marks::Marks;
use super::sheet::{Align, Area, Sheet, wrapped};
use super::style::{ACTORS, CONTACT, CRATE, FAINT_INK, FLOORS, INK, PORTAL, RAY, SMALL, TEXT, WALLS, pick};
use crate::record::{Happening, Recording};
use crate::scenario::{Item, LayerNames, Scenario};

const LINE: f32 = 19.0;

/// A pen that writes line under line.
struct Column<'a> {
    sheet: &'a mut Sheet,
    area: Area,
    y: f32,
}

impl Column<'_> {
    fn heading(&mut self, text: &str) {
        self.y += if self.y > self.area.y { 12.0 } else { 0.0 };
        self.sheet.text(Vec2::new(self.area.x, self.y + 12.0), Align::Start, TEXT, FAINT_INK, text);
        self.y += LINE + 2.0;
    }

    fn entry(&mut self, text: &str, mark: impl FnOnce(&mut Sheet, Vec2)) {
        mark(self.sheet, Vec2::new(self.area.x + 10.0, self.y + 8.0));
        let x = self.area.x + 28.0;
        for line in wrapped(text, SMALL, x) {
            self.sheet.text(Vec2::new(x, self.y + 12.0), Align::Start, SMALL, INK, line);
            self.y += LINE;
        }
    }

    fn has_room(&self, lines: f32) -> bool {
        self.y + lines * LINE <= self.area.bottom()
    }
}

pub(super) fn draw_legend(
    sheet: &mut Sheet,
    area: Area,
    scenario: &Scenario,
    recording: &Recording,
    marks: &Marks,
) {
    let mut column = Column { sheet, area, y: area.y };
    column.heading("On the map");
    tiles(&mut column, scenario);
    things(&mut column, scenario);
    movers(&mut column, scenario, recording);
    happenings(&mut column, recording);
    asked_for(&mut column, marks);
    touches(&mut column, recording);
}

/// The kinds of tile that the map has.
fn tiles(column: &mut Column<'_>, scenario: &Scenario) {
    let map = &scenario.map;
    let size = map.size();
    let places = (0..size.y).flat_map(|row| (0..size.x).map(move |at| IVec2::new(at, row)));
    let on_map: HashSet<KindId> = places.filter_map(|tile| map.kind_id(tile)).collect();
    let mut listed: Vec<&str> = Vec::new();
    for (_, kind) in map.kind_ids().filter(|(id, _)| on_map.contains(id)) {
        // The four halves of one thing are one entry.
        if listed.contains(&kind.name()) {
            continue;
        }
        listed.push(kind.name());
        let colour = kind_colour(map, kind.name());
        column.entry(&kind_text(scenario, kind), |sheet, at| {
            let swatch = around(at, 20.0, 14.0);
            let half = matches!(kind.form(), TileForm::Half(_));
            let ground = if half { FLOORS[0] } else { colour };
            sheet.rect(swatch, &format!("fill=\"{ground}\" stroke=\"{FAINT_INK}\" stroke-width=\"0.5\""));
            tile_detail(sheet, swatch, kind, colour);
        });
    }
}

/// What stands on the map: obstacles, portals, things that can be pushed, and the wind.
fn things(column: &mut Column<'_>, scenario: &Scenario) {
    for name in scenario.standing.kinds() {
        let colour = standing_colour(scenario, name);
        let any = |is: fn(&Item) -> bool| scenario.standing.iter().any(|item| item.name == name && is(item));
        let (moves, is_floor) = (any(|item| item.moves.is_some()), any(|item| item.is_floor));
        let text = match (moves, is_floor) {
            (true, true) => format!("{name}, a floor that moves"),
            (false, true) => format!("{name}, a floor"),
            (true, false) => format!("{name}, moves"),
            (false, false) => name.to_owned(),
        };
        let opacity = if is_floor { " fill-opacity=\"0.45\"" } else { "" };
        column.entry(&text, |sheet, at| {
            let style = format!("fill=\"{colour}\"{opacity} stroke=\"{INK}\" stroke-opacity=\"0.35\"");
            sheet.rect(around(at, 20.0, 14.0), &style);
        });
    }
    if scenario.tracks.portals.iter().next().is_some() {
        column.entry("portal, both ends by one letter", |sheet, at| {
            sheet.circle(at, 6.5, &format!("fill=\"none\" stroke=\"{PORTAL}\" stroke-width=\"2.5\""));
        });
    }
    if let Some((name, _)) = scenario.tracks.crates.first() {
        column.entry(&format!("{name}: start (dashed) and end"), |sheet, at| {
            let style = format!("fill=\"{CRATE}\" stroke=\"{INK}\" stroke-opacity=\"0.6\"");
            sheet.rect(around(at, 14.0, 14.0), &style);
        });
    }
    let wind = scenario.wind.belt();
    if wind != Vec2::ZERO {
        let text = format!("wind {}, {} units/s", wind.x, wind.y);
        column.entry(&text, |sheet, at| {
            let down = Vec2::new(1.0, scenario.map.y_axis().downward());
            let along = wind.normalize_or_zero() * down * 8.0;
            sheet.arrow(at - along, at + along, INK);
        });
    }
}

/// The movers and their footprints.
fn movers(column: &mut Column<'_>, scenario: &Scenario, recording: &Recording) {
    for (place, actor) in scenario.actors.iter().enumerate() {
        let colour = pick(&ACTORS, place);
        column.entry(&format!("{}: start to end", actor.name), |sheet, at| {
            let (from, to) = (at - Vec2::new(8.0, 0.0), at + Vec2::new(8.0, 0.0));
            sheet.line(from, to, &format!("stroke=\"{colour}\" stroke-width=\"2\""));
            sheet.circle(from, 4.0, &format!("fill=\"white\" stroke=\"{colour}\" stroke-width=\"2\""));
            sheet.circle(to, 4.5, &format!("fill=\"{colour}\""));
        });
    }
    let every = format!("footprint every {} s", stamp_step(recording.seconds));
    column.entry(&every, |sheet, at| {
        let colour = ACTORS[0];
        let style =
            format!("fill=\"{colour}\" fill-opacity=\"0.1\" stroke=\"{colour}\" stroke-opacity=\"0.6\"");
        sheet.rect(around(at, 16.0, 12.0), &style);
    });
}

/// The marks of what happened in this run.
fn happenings(column: &mut Column<'_>, recording: &Recording) {
    let happened = |what: fn(&Happening) -> bool| recording.events.iter().any(|event| what(&event.what));
    if happened(|what| matches!(what, Happening::Touched { .. })) {
        column.entry("touch, with the wall's normal", |sheet, at| {
            sheet.circle(at - Vec2::new(7.0, 0.0), 3.5, &format!("fill=\"{CONTACT}\""));
            sheet.arrow(at - Vec2::new(7.0, 0.0), at + Vec2::new(10.0, 0.0), CONTACT);
        });
    }
    if happened(|what| is_blocked(what, false)) {
        column.entry("a step that was blocked", |sheet, at| {
            let half = Vec2::new(0.0, 7.0);
            sheet.line(at - half, at + half, &format!("stroke=\"{CONTACT}\" stroke-width=\"3.5\""));
        });
    }
    if happened(|what| is_blocked(what, true)) {
        column.entry("a press that waited for its turn", |sheet, at| {
            sheet.arrow(at - Vec2::new(7.0, 0.0), at + Vec2::new(7.0, 0.0), ACTORS[0]);
        });
    }
    if !recording.broken.is_empty() {
        column.entry("broke, with the second", |sheet, at| {
            let style = format!("fill=\"{}\" fill-opacity=\"0.3\" stroke=\"{FAINT_INK}\"", WALLS[0]);
            sheet.rect(around(at, 16.0, 14.0), &format!("{style} stroke-width=\"0.5\""));
        });
    }
    if recording.bends.iter().any(|bend| bend.degrees.is_some()) {
        column.entry("the angle at which it is deflected", |sheet, at| {
            sheet.text(at + Vec2::new(0.0, 4.0), Align::Middle, SMALL, ACTORS[1], "30°");
        });
    }
    if !recording.shots.is_empty() {
        column.entry("a shot, to where it ended", |sheet, at| {
            let (from, to) = (at - Vec2::new(9.0, 0.0), at + Vec2::new(9.0, 0.0));
            sheet.line(from, to, &format!("stroke=\"{INK}\" stroke-width=\"1.2\" stroke-dasharray=\"2 4\""));
            sheet.circle(to, 3.0, &format!("fill=\"{INK}\""));
        });
    }
}

/// Whether a step was blocked, and whether the stepper went on all the same.
fn is_blocked(what: &Happening, goes_on: bool) -> bool {
    let Happening::StrideEvent { what: StrideEvent::Blocked { .. }, went_on, .. } = what else {
        return false;
    };
    *went_on == goes_on
}

/// What was asked for on the command line: claims, lines of sight, feelers.
fn asked_for(column: &mut Column<'_>, marks: &Marks) {
    if let Some(time) = marks.claims_at {
        column.entry(&format!("tiles claimed at {time} s"), |sheet, at| {
            let style = "fill=\"none\" stroke-width=\"2.5\" stroke-dasharray=\"6 3\"";
            sheet.rect(around(at, 16.0, 14.0), &format!("{style} stroke=\"{INK}\""));
        });
    }
    if !marks.rays.is_empty() {
        column.entry("line of sight, dotted where hidden", |sheet, at| {
            let (from, to) = (at - Vec2::new(9.0, 0.0), at + Vec2::new(9.0, 0.0));
            let style = format!("stroke=\"{RAY}\" stroke-width=\"2\"");
            sheet.line(from, at, &style);
            sheet.line(at, to, &format!("{style} stroke-dasharray=\"3 5\""));
        });
    }
    if let Some(time) = marks.feelers_at {
        column.entry(&format!("free distance at {time} s, in units"), |sheet, at| {
            let (from, to) = (at - Vec2::new(9.0, 0.0), at + Vec2::new(9.0, 0.0));
            let style = format!("stroke=\"{INK}\" stroke-width=\"1.2\"");
            sheet.line(from, to, &format!("{style} stroke-dasharray=\"5 3\""));
            sheet.line(to - Vec2::new(0.0, 4.0), to + Vec2::new(0.0, 4.0), &style);
        });
    }
}

/// A swatch round a place.
fn around(at: Vec2, width: f32, height: f32) -> Area {
    Area { x: at.x - 0.5 * width, y: at.y - 0.5 * height, width, height }
}

/// A kind of tile in words.
fn kind_text(scenario: &Scenario, kind: &TileKind) -> String {
    let mut text = kind.name().to_owned();
    let surface = kind.surface();
    let sides = [Side::Left, Side::Right, Side::Top, Side::Bottom];
    let closed: Vec<String> =
        sides.iter().filter(|side| kind.is_closed_from(**side)).map(ToString::to_string).collect();
    if !closed.is_empty() {
        text += &format!(", closed from {}", closed.join(", "));
    } else if !kind.blocks() && surface == Surface::PLAIN {
        text += " (free)";
    }
    if surface.speed_factor() != 1.0 {
        text += &format!(", speed x {}", surface.speed_factor());
    }
    if surface.grip() != 1.0 {
        text += &format!(", grip x {}", surface.grip());
    }
    if surface.belt() != Vec2::ZERO {
        text += &format!(", moves {}, {} units/s", surface.belt().x, surface.belt().y);
    }
    if kind.blocks() && !LayerNames::is_plain(kind.layers()) {
        text += &format!(", layer {}", scenario.layers.describe(kind.layers()));
    }
    text
}

/// The touches in order of time, as many as there is room for.
fn touches(column: &mut Column<'_>, recording: &Recording) {
    let touches: Vec<_> = recording
        .events
        .iter()
        .filter_map(|event| match &event.what {
            Happening::Touched { touch, .. } => Some((event.time, touch)),
            _ => None,
        })
        .collect();
    if touches.is_empty() {
        return;
    }
    column.heading("Touched");
    for (number, (time, touch)) in touches.iter().enumerate() {
        if !column.has_room(2.0) && number + 1 < touches.len() {
            let rest = format!("... and {} more", touches.len() - number);
            column.entry(&rest, |_, _| {});
            return;
        }
        let text = format!("{time:.2} s  {}, {}", touch.wall, touch.side);
        column.entry(&text, |sheet, at| {
            sheet.text(at + Vec2::new(0.0, 4.0), Align::Middle, SMALL, CONTACT, number + 1);
        });
    }
}
