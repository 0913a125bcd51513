//! The colours of the live view: night, so that movers stand out.

use ratatui::style::Color;

pub(super) const OUTSIDE: Color = Color::Rgb(12, 16, 18);
pub(super) const INK: Color = Color::Rgb(222, 230, 224);
pub(super) const FAINT: Color = Color::Rgb(138, 152, 146);
pub(super) const ACCENT: Color = Color::Rgb(240, 190, 90);
pub(super) const TOUCH: Color = Color::Rgb(240, 84, 72);
pub(super) const FEELER: Color = Color::Rgb(96, 168, 190);
pub(super) const CRATE: Color = Color::Rgb(190, 146, 88);

/// Actors, in their order in the scenario.
const ACTORS: [Color; 6] = [
    Color::Rgb(120, 180, 255),
    Color::Rgb(255, 170, 90),
    Color::Rgb(200, 150, 240),
    Color::Rgb(90, 210, 190),
    Color::Rgb(245, 130, 170),
    Color::Rgb(200, 205, 100),
];
/// Kinds that block, in their order in the legend; free-standing obstacles come after them.
const WALLS: [Color; 6] = [
    Color::Rgb(112, 132, 142),
    Color::Rgb(86, 128, 84),
    Color::Rgb(88, 116, 164),
    Color::Rgb(146, 112, 82),
    Color::Rgb(126, 106, 146),
    Color::Rgb(134, 130, 86),
];
/// Kinds that let pass, in their order in the legend.
const FLOORS: [Color; 4] =
    [Color::Rgb(42, 53, 53), Color::Rgb(50, 68, 50), Color::Rgb(42, 60, 78), Color::Rgb(74, 60, 54)];

pub(super) fn actor(place: usize) -> Color {
    ACTORS[place % ACTORS.len()]
}

pub(super) fn wall(place: usize) -> Color {
    WALLS[place % WALLS.len()]
}

pub(super) fn floor(place: usize) -> Color {
    FLOORS[place % FLOORS.len()]
}

/// A colour mixed into another, 0 for none of it and 1 for nothing else.
#[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "between two colour channels")]
pub(super) fn mixed(base: Color, into: Color, part: f32) -> Color {
    let (Color::Rgb(r, g, b), Color::Rgb(to_r, to_g, to_b)) = (base, into) else { return into };
    let mix = |a: u8, b: u8| (f32::from(a) + (f32::from(b) - f32::from(a)) * part) as u8;
    Color::Rgb(mix(r, to_r), mix(g, to_g), mix(b, to_b))
}
