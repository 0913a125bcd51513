//! The colours of pages: each has a twin for the dark, and a page takes those that the system asks for.

use std::fmt::Write as _;

use super::style::{ACTORS, BELT, CONTACT, CRATE, FAINT_INK, FLOORS, GRID, INK, PAPER, PORTAL, RAY, WALLS};

/// The twins of [`ACTORS`], [`WALLS`] and [`FLOORS`].
const DARK_ACTORS: [&str; 6] = ["#6fb0ff", "#f59e55", "#c78be0", "#4fc9bd", "#f27aa8", "#c5c95f"];
const DARK_WALLS: [&str; 6] = ["#5b6e78", "#567a4b", "#4f6a94", "#80664a", "#6f5c82", "#7d784f"];
const DARK_FLOORS: [&str; 4] = ["#1d2628", "#202b22", "#1c2a33", "#2c2622"];
/// The twins of the rest.
const OTHERS: [(&str, &str); 9] = [
    (PAPER, "#11181a"),
    (INK, "#dfe8e3"),
    (FAINT_INK, "#97a69f"),
    (GRID, "#2d3a38"),
    (BELT, "#5f7f5c"),
    (PORTAL, "#b493ea"),
    (CRATE, "#b98a4d"),
    (RAY, "#58b7c9"),
    (CONTACT, "#ff7466"),
];

/// Every colour of a page with its twin for the dark.
fn twins() -> impl Iterator<Item = (&'static str, &'static str)> {
    let lists = ACTORS.into_iter().zip(DARK_ACTORS).chain(WALLS.into_iter().zip(DARK_WALLS));
    lists.chain(FLOORS.into_iter().zip(DARK_FLOORS)).chain(OTHERS)
}

/// The name of a colour's variable.
fn variable(colour: &str) -> String {
    format!("--c{}", colour.trim_start_matches('#'))
}

/// The variables of a page, for light and dark systems.
pub(crate) fn variables() -> String {
    let list = |of: fn((&'static str, &'static str)) -> &'static str| {
        let mut text = String::new();
        for twin in twins() {
            let _ = write!(text, "{}: {}; ", variable(twin.0), of(twin));
        }
        text
    };
    let (light, dark) = (list(|twin| twin.0), list(|twin| twin.1));
    format!(":root {{ {light}}}\n@media (prefers-color-scheme: dark) {{ :root {{ {dark}}} }}\n")
}

/// A drawing or data with its colours as variables; other colours stay as they are.
pub(crate) fn themed(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(at) = rest.find("\"#") {
        let end = (at + 9).min(rest.len());
        let colour = rest.get(at + 1..at + 8).unwrap_or_default().to_ascii_lowercase();
        let known = rest[end - 1..].starts_with('"') && twins().any(|(light, _)| light == colour);
        if known {
            out += &rest[..at];
            let _ = write!(out, "\"var({})", variable(&colour));
            rest = &rest[at + 8..];
        } else {
            out += &rest[..at + 2];
            rest = &rest[at + 2..];
        }
    }
    out + rest
}

#[cfg(test)]
mod tests {
    use super::*;

    #[rstest::rstest]
    #[case::known("<a fill=\"#22302b\"/>", "<a fill=\"var(--c22302b)\"/>")]
    #[case::in_capitals(
        "<a fill=\"#DFE3DC\" stroke=\"#ffffff\"/>",
        "<a fill=\"var(--cdfe3dc)\" stroke=\"#ffffff\"/>"
    )]
    #[case::an_anchor("<a href=\"#é\">\"#", "<a href=\"#é\">\"#")]
    fn known_colours_become_variables(#[case] drawing: &str, #[case] themed_drawing: &str) {
        assert_eq!(themed(drawing), themed_drawing);
    }

    #[test]
    fn a_colour_has_one_twin() {
        let lights: Vec<&str> = twins().map(|(light, _)| light).collect();
        let mut once = lights.clone();
        once.sort_unstable();
        once.dedup();
        assert_eq!(once.len(), lights.len());
    }
}
