//! Pictures of a run: a scenario and its recording go in, an SVG document comes out; a PNG is that
//! same document rendered with the fonts that ship.

mod chart;
mod compare;
mod flights;
mod ground;
mod keys;
mod legend;
mod map;
mod map_view;
mod marks;
mod page;
mod png;
mod probe;
mod run;
mod sheet;
mod style;
mod theme;
mod tracks;

use std::path::Path;

use anyhow::Result;

pub(crate) use compare::{Variant, compare_sheet, figures};
pub(crate) use marks::Marks;
pub(crate) use page::{PageChart, PageMap, page_chart, page_map};
pub(crate) use png::render;
pub(crate) use probe::{Shown, probe_sheet};
pub(crate) use run::run_sheet;
pub(crate) use theme::{themed, variables};

/// The two forms of a picture.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Form {
    Png,
    Svg,
}

impl Form {
    /// The form that a file's ending asks for.
    pub(crate) fn of(path: &Path) -> Option<Self> {
        match path.extension()?.to_str()? {
            "png" => Some(Self::Png),
            "svg" => Some(Self::Svg),
            _ => None,
        }
    }

    /// An SVG document in this form.
    ///
    /// # Errors
    /// When the document cannot be rendered.
    pub(crate) fn encode(self, svg: String) -> Result<Vec<u8>> {
        match self {
            Self::Png => render(&svg),
            Self::Svg => Ok(svg.into_bytes()),
        }
    }
}
