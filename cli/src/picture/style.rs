//! The one small set of colours and sizes that all pictures share. Sizes are in pixels.

/// Width and height of a sheet.
pub(super) const SHEET: (f32, f32) = (1280.0, 800.0);
/// The space around everything.
pub(super) const MARGIN: f32 = 32.0;

pub(super) const PAPER: &str = "#fbfaf7";
pub(super) const INK: &str = "#22302b";
pub(super) const FAINT_INK: &str = "#66736d";
pub(super) const GRID: &str = "#dfe3dc";
pub(super) const BELT: &str = "#9db79a";
pub(super) const PORTAL: &str = "#6d3fb3";
pub(super) const CRATE: &str = "#c99a5b";
pub(super) const RAY: &str = "#0b7285";
pub(super) const CONTACT: &str = "#b3261e";

/// Actors' paths and lines, in their order in the scenario.
pub(super) const ACTORS: [&str; 6] = ["#1f5fa8", "#b4540a", "#7a3b92", "#0f766e", "#a21652", "#5c5f14"];
/// Kinds that block, in their order in the legend.
pub(super) const WALLS: [&str; 6] = ["#8fa3ad", "#8cab7d", "#7f9cc4", "#b79a7c", "#a793b8", "#b6b08a"];
/// Kinds that let pass, in their order in the legend.
pub(super) const FLOORS: [&str; 4] = ["#f1eee6", "#e9f0e4", "#e6eef2", "#f2e9e2"];

pub(super) const TITLE: f32 = 22.0;
pub(super) const TEXT: f32 = 14.0;
pub(super) const SMALL: f32 = 12.0;

/// The colour for a place in a list; a list that is longer than its colours starts over.
pub(super) fn pick<'a>(colours: &[&'a str], place: usize) -> &'a str {
    colours[place % colours.len()]
}

/// The colour of one of many variants: by its first number, paler for each step of its second.
#[expect(
    clippy::cast_possible_truncation,
    clippy::cast_sign_loss,
    reason = "colour channels and small counts"
)]
pub(super) fn variant_colour(group: [usize; 2], most: [usize; 2]) -> String {
    const RAMP: [[f32; 3]; 4] =
        [[31.0, 95.0, 168.0], [15.0, 118.0, 110.0], [180.0, 130.0, 10.0], [162.0, 22.0, 82.0]];
    let part = |place: usize, most: usize| if most > 1 { place as f32 / (most - 1) as f32 } else { 0.0 };
    let along = part(group[0], most[0]) * (RAMP.len() - 1) as f32;
    let first = (along.floor().max(0.0) as usize).min(RAMP.len() - 2);
    let pale = 0.62 * part(group[1], most[1]);
    let channel = |channel: usize| {
        let between = along - first as f32;
        let full = RAMP[first][channel] * (1.0 - between) + RAMP[first + 1][channel] * between;
        (full + (245.0 - full) * pale).clamp(0.0, 255.0) as u8
    };
    format!("#{:02x}{:02x}{:02x}", channel(0), channel(1), channel(2))
}
