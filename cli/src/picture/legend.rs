//! What colours and marks mean, and the list of touches by number.

use glam::Vec2;

use super::map::{kind_colour, stamp_step, standing_colour};
use super::sheet::{Align, Area, Sheet};
use super::style::{ACTORS, CONTACT, FAINT_INK, INK, SMALL, TEXT, pick};
use crate::record::{Happening, Recording};
use crate::scenario::Scenario;

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
        self.sheet.text(Vec2::new(self.area.x + 28.0, self.y + 12.0), Align::Start, SMALL, INK, text);
        self.y += LINE;
    }

    fn has_room(&self, lines: f32) -> bool {
        self.y + lines * LINE <= self.area.bottom()
    }
}

pub(super) fn draw_legend(sheet: &mut Sheet, area: Area, scenario: &Scenario, recording: &Recording) {
    let mut column = Column { sheet, area, y: area.y };
    column.heading("On the map");
    for kind in scenario.map.kinds() {
        let colour = kind_colour(&scenario.map, kind.name());
        let free = if kind.blocks() { "" } else { " (free)" };
        let text = match kind.belt() {
            Vec2::ZERO => format!("{}{free}", kind.name()),
            belt => format!("{}, moves {}, {} units/s", kind.name(), belt.x, belt.y),
        };
        column.entry(&text, |sheet, at| {
            let swatch = Area { x: at.x - 10.0, y: at.y - 7.0, width: 20.0, height: 14.0 };
            sheet.rect(swatch, &format!("fill=\"{colour}\" stroke=\"{FAINT_INK}\" stroke-width=\"0.5\""));
        });
    }
    for name in scenario.standing.kinds() {
        let colour = standing_colour(scenario, name);
        column.entry(name, |sheet, at| {
            let swatch = Area { x: at.x - 10.0, y: at.y - 7.0, width: 20.0, height: 14.0 };
            sheet.rect(swatch, &format!("fill=\"{colour}\" stroke=\"{INK}\" stroke-opacity=\"0.35\""));
        });
    }
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
        let box_ = Area { x: at.x - 8.0, y: at.y - 6.0, width: 16.0, height: 12.0 };
        let colour = ACTORS[0];
        sheet.rect(
            box_,
            &format!("fill=\"{colour}\" fill-opacity=\"0.1\" stroke=\"{colour}\" stroke-opacity=\"0.6\""),
        );
    });
    if scenario.wind != Vec2::ZERO {
        let wind = format!("wind {}, {} units/s", scenario.wind.x, scenario.wind.y);
        column.entry(&wind, |sheet, at| {
            let along =
                scenario.wind.normalize_or_zero() * Vec2::new(1.0, scenario.map.y_axis().downward()) * 8.0;
            sheet.arrow(at - along, at + along, INK);
        });
    }
    column.entry("touch, with the wall's normal", |sheet, at| {
        sheet.circle(at - Vec2::new(7.0, 0.0), 3.5, &format!("fill=\"{CONTACT}\""));
        sheet.arrow(at - Vec2::new(7.0, 0.0), at + Vec2::new(10.0, 0.0), CONTACT);
    });
    touches(&mut column, recording);
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
