//! Held keys as a strip under a chart, on the same time axis.

use ambulant::intent::Direction;
use glam::Vec2;

use super::sheet::{Align, Area, Sheet};
use super::style::{ACTORS, FAINT_INK, GRID, SMALL, pick};
use crate::scenario::{Actor, Scenario};

/// Height of one key's row, in pixels.
const ROW: f32 = 12.0;
/// The most actors whose keys are shown.
pub(super) const MOST_ACTORS: usize = 2;

/// The keys in the order of the rows, with what stands for each.
const KEYS: [(Direction, &str); 4] =
    [(Direction::Left, "←"), (Direction::Right, "→"), (Direction::Up, "↑"), (Direction::Down, "↓")];

/// The height that the strips of a scenario take.
pub(super) fn height(scenario: &Scenario) -> f32 {
    let strips = scenario.actors.len().min(MOST_ACTORS);
    f32::from(u8::try_from(strips * KEYS.len()).unwrap_or(u8::MAX)) * ROW
}

/// Draws the strips into an area whose width is the run's time.
pub(super) fn draw_keys(sheet: &mut Sheet, area: Area, scenario: &Scenario) {
    let mut y = area.y;
    for (place, actor) in scenario.actors.iter().take(MOST_ACTORS).enumerate() {
        for (key, sign) in KEYS {
            let row = Area { y, height: ROW, ..area };
            let middle = y + ROW * 0.5;
            sheet.line(
                Vec2::new(row.x, middle),
                Vec2::new(row.right(), middle),
                &format!("stroke=\"{GRID}\""),
            );
            sheet.text(Vec2::new(row.x - 10.0, y + ROW - 2.0), Align::Middle, SMALL, FAINT_INK, sign);
            for (from, to) in held_times(actor, key, scenario.seconds) {
                let at = |time: f64| {
                    #[expect(clippy::cast_possible_truncation, reason = "a place on the sheet")]
                    let part = (time / scenario.seconds) as f32;
                    row.x + row.width * part
                };
                let bar = Area { x: at(from), y: y + 2.0, width: at(to) - at(from), height: ROW - 4.0 };
                sheet.rect(bar, &format!("fill=\"{}\" rx=\"2\"", pick(&ACTORS, place)));
            }
            y += ROW;
        }
    }
}

/// The stretches of time for which a key is held.
fn held_times(actor: &Actor, key: Direction, seconds: f64) -> Vec<(f64, f64)> {
    let mut times = Vec::new();
    let mut since = None;
    for change in &actor.keys {
        match (since, change.held.is_held(key)) {
            (None, true) => since = Some(change.at),
            (Some(start), false) => {
                times.push((start, change.at));
                since = None;
            }
            _ => {}
        }
    }
    times.extend(since.map(|start| (start, seconds)));
    times
}
