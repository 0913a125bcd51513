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
