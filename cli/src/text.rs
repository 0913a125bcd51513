//! Words and numbers as they are printed: colours of a terminal, and numbers without the sign of zero.

use clap::builder::styling::{AnsiColor, Style};

/// Headings.
pub(crate) const BOLD: Style = Style::new().bold();
/// What matters less, such as times.
pub(crate) const FAINT: Style = Style::new().dimmed();
/// What is as it should be.
pub(crate) const GOOD: Style = AnsiColor::Green.on_default();
/// What is not.
pub(crate) const BAD: Style = AnsiColor::Red.on_default().bold();
/// What to look at.
pub(crate) const NOTED: Style = AnsiColor::Magenta.on_default();

/// A text in a style. Standard output drops the style where it is no terminal, or `NO_COLOR` is set.
pub(crate) fn styled(style: Style, text: impl std::fmt::Display) -> String {
    format!("{style}{text}{style:#}")
}

/// A number with so many decimals; what rounds to zero has no sign.
pub(crate) fn fixed(number: f32, decimals: usize) -> String {
    let text = format!("{number:.decimals$}");
    if text.trim_start_matches('-').chars().all(|letter| matches!(letter, '0' | '.')) {
        return text.trim_start_matches('-').to_owned();
    }
    text
}

/// An angle in whole degrees.
pub(crate) fn degrees(angle: f32) -> String {
    format!("{}°", fixed(angle, 0))
}

/// A number of things.
pub(crate) fn counted(number: usize, one: &str) -> String {
    if number == 1 { format!("1 {one}") } else { format!("{number} {one}s") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[rstest::rstest]
    #[case::small_and_below_zero(-0.004, 2, "0.00")]
    #[case::zero(-0.0, 0, "0")]
    #[case::half(-0.5, 1, "-0.5")]
    #[case::no_number(f32::NAN, 1, "NaN")]
    fn what_rounds_to_zero_has_no_sign(#[case] number: f32, #[case] decimals: usize, #[case] text: &str) {
        assert_eq!(fixed(number, decimals), text);
    }
}
