//! An SVG document rendered to PNG with the fonts that ship: no system font is used, so that the
//! picture is the same everywhere.

use std::sync::Arc;

use anyhow::{Context, Result};
use resvg::{tiny_skia, usvg};

const REGULAR: &[u8] = include_bytes!("../../assets/Inter-Regular.otf");
const SEMI_BOLD: &[u8] = include_bytes!("../../assets/Inter-SemiBold.otf");

/// Renders a document at its own size.
///
/// # Errors
/// When the document is not SVG or has no size.
pub(crate) fn render(svg: &str) -> Result<Vec<u8>> {
    let mut options = usvg::Options { font_family: "Inter".to_owned(), ..usvg::Options::default() };
    let fonts = Arc::make_mut(&mut options.fontdb);
    fonts.load_font_data(REGULAR.to_vec());
    fonts.load_font_data(SEMI_BOLD.to_vec());
    let tree = usvg::Tree::from_str(svg, &options).context("the picture cannot be rendered")?;
    let size = tree.size().to_int_size();
    let mut pixels =
        tiny_skia::Pixmap::new(size.width(), size.height()).context("the picture has no size")?;
    resvg::render(&tree, tiny_skia::Transform::default(), &mut pixels.as_mut());
    pixels.encode_png().context("the picture cannot be encoded")
}
