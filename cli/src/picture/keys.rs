//! Held keys as a strip under a chart, on the same time axis.

use glam::Vec2;

use super::sheet::{Align, Area, Sheet};
use super::style::{ACTORS, FAINT_INK, GRID, SMALL, pick};
use crate::scenario::{Actor, Asked, Scenario};

/// Height of one key's row, in pixels.
const ROW: f32 = 12.0;
/// The most actors whose keys are shown.
pub(super) const MOST_ACTORS: usize = 2;

/// What stands for each key, in the order of [`Asked::Intent`].
const KEYS: [&str; 4] = ["←", "→", "↑", "↓"];

/// The actors whose keys are shown: the first ones that have any.
fn shown(scenario: &Scenario) -> impl Iterator<Item = usize> {
    let with_script = (0..scenario.actors.len()).filter(|place| !scenario.actors[*place].script.is_empty());
    with_script.take(MOST_ACTORS)
}

/// The height that the strips of a scenario take.
pub(super) fn height(scenario: &Scenario) -> f32 {
    let strips = shown(scenario).count();
    f32::from(u8::try_from(strips * KEYS.len()).unwrap_or(u8::MAX)) * ROW
}

/// Draws the strips into an area whose width is the run's time.
pub(super) fn draw_keys(sheet: &mut Sheet, area: Area, scenario: &Scenario) {
    let mut strip = area;
    for place in shown(scenario) {
        draw_asked(sheet, strip, scenario, place, pick(&ACTORS, place));
        strip.y += KEYS.map(|_| ROW).iter().sum::<f32>();
    }
}

/// Draws what one actor's hand asks for.
pub(super) fn draw_asked(sheet: &mut Sheet, area: Area, scenario: &Scenario, place: usize, colour: &str) {
    let actor = &scenario.actors[place];
    let at = |time: f64| {
        #[expect(clippy::cast_possible_truncation, reason = "a place on the sheet")]
        let part = (time / scenario.seconds) as f32;
        area.x + area.width * part
    };
    let mut y = area.y;
    for (key, sign) in KEYS.into_iter().enumerate() {
        let middle = y + ROW * 0.5;
        sheet.line(Vec2::new(area.x, middle), Vec2::new(area.right(), middle), &format!("stroke=\"{GRID}\""));
        sheet.text(Vec2::new(area.x - 10.0, y + ROW - 2.0), Align::Middle, SMALL, FAINT_INK, sign);
        for (from, to, pressed) in pressed_times(actor, key, scenario.seconds) {
            let bar = Area { x: at(from), y: y + 2.0, width: at(to) - at(from), height: ROW - 4.0 };
            // A stick that is pressed half way is drawn half as strong.
            sheet.rect(bar, &format!("fill=\"{colour}\" fill-opacity=\"{pressed:.2}\" rx=\"2\""));
        }
        y += ROW;
    }
    for change in actor.script.iter().filter(|change| matches!(change.asked, Asked::Launch(_))) {
        let (top, tip) = (Vec2::new(at(change.at), area.y - 2.0), Vec2::new(at(change.at), y));
        sheet.arrow(top, tip, colour);
        sheet.tag(top.midpoint(tip) + Vec2::new(6.0, 3.0), Align::Start, colour, "flick");
    }
}

/// The stretches of time for which a key is pressed, and how far.
fn pressed_times(actor: &Actor, key: usize, seconds: f64) -> Vec<(f64, f64, f32)> {
    let mut times = Vec::new();
    let mut since = (0.0, 0.0);
    let changes = actor.script.iter().filter_map(|change| match change.asked {
        Asked::Intent { pressed, .. } => Some((change.at, pressed[key])),
        Asked::Launch(_) => None,
    });
    for (at, pressed) in changes.chain([(seconds, 0.0)]) {
        if pressed != since.1 {
            if since.1 > 0.0 {
                times.push((since.0, at, since.1));
            }
            since = (at, pressed);
        }
    }
    times
}
