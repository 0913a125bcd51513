//! What the report and the page of a play share: templates, colours for light and dark systems, and the script that
//! draws movers on a map.

mod data;

use serde_json::Value;

use crate::picture::variables;

pub(crate) use data::{actors, area, event_of, row_of, wall_number};

/// Draws movers and what they touch on the map of a page.
pub(crate) const MAP_SCRIPT: &str = include_str!("map.js");

/// The look of a page.
pub(crate) fn style() -> String {
    variables() + include_str!("style.css")
}

/// A page with its places filled, each written as `{{name}}`.
pub(crate) fn filled(template: &str, parts: &[(&str, String)]) -> String {
    let mut page = String::new();
    let mut rest = template;
    // In one pass, so that nothing which was put in is taken for a place.
    let next = |rest: &str| {
        let found = parts.iter().filter_map(|part| {
            let place = format!("{{{{{}}}}}", part.0);
            Some((rest.find(&place)?, place.len(), &part.1))
        });
        found.min_by_key(|(at, ..)| *at)
    };
    while let Some((at, long, part)) = next(rest) {
        page += &rest[..at];
        page += part;
        rest = &rest[at + long..];
    }
    page + rest
}

/// A text as a page shows it.
pub(crate) fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}

/// Data as a script element holds it: a `<` could end that.
pub(crate) fn as_data(data: &Value) -> String {
    data.to_string().replace('<', "\\u003c")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_put_in_is_no_place() {
        let parts = [("a", "{{b}}".to_owned()), ("b", "2".to_owned())];
        assert_eq!(filled("{{a}} {{b}} {{c}}", &parts), "{{b}} 2 {{c}}");
    }
}
