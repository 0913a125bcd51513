//! A sheet: an SVG document, element by element.

use std::fmt::{Display, Write};

use glam::Vec2;

use super::style::{INK, MARGIN, PAPER, SHEET, SMALL, TEXT, TITLE};

/// A rectangle on the sheet, in pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Area {
    pub(super) x: f32,
    pub(super) y: f32,
    pub(super) width: f32,
    pub(super) height: f32,
}

impl Area {
    pub(super) fn right(&self) -> f32 {
        self.x + self.width
    }

    pub(super) fn bottom(&self) -> f32 {
        self.y + self.height
    }
}

/// Where a text stands relative to its point.
#[derive(Debug, Clone, Copy)]
pub(super) enum Align {
    Start,
    Middle,
}

/// How much broader bold letters are.
const BOLDER: f32 = 1.06;

/// A document that is being drawn.
#[derive(Debug)]
pub(super) struct Sheet {
    body: String,
}

impl Sheet {
    /// An empty sheet with a title and a line under it.
    pub(super) fn new(title: &str, subtitle: &str) -> Self {
        let mut sheet = Self { body: String::new() };
        let whole = Area { x: 0.0, y: 0.0, width: SHEET.0, height: SHEET.1 };
        sheet.rect(whole, &format!("fill=\"{PAPER}\""));
        let bold = format!("font-size=\"{TITLE}\" font-weight=\"600\"");
        let title = fitted(title, TITLE * BOLDER, SHEET.0 - 1.5 * MARGIN);
        sheet.styled_text(Vec2::new(MARGIN, 42.0), Align::Start, &bold, INK, title);
        sheet.text(Vec2::new(MARGIN, 62.0), Align::Start, TEXT, super::style::FAINT_INK, subtitle);
        sheet
    }

    /// A sheet of its own size without a title, for a page that has one.
    pub(super) fn bare() -> Self {
        Self { body: String::new() }
    }

    /// The finished document, of this size, for a page; `id` is what scripts call it.
    pub(super) fn finish_bare(self, id: &str, width: f32, height: f32) -> String {
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" id=\"{id}\" viewBox=\"0 0 {width} {height}\" \
             font-family=\"Inter, system-ui, sans-serif\">\n{}</svg>\n",
            self.body
        )
    }

    /// The finished document.
    pub(super) fn finish(self) -> String {
        let (width, height) = SHEET;
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}\" height=\"{height}\" \
             viewBox=\"0 0 {width} {height}\" font-family=\"Inter, sans-serif\">\n{}</svg>\n",
            self.body
        )
    }

    /// Adds elements that were made elsewhere, moved and scaled.
    pub(super) fn embed(&mut self, at: Vec2, scale: f32, elements: &str) {
        self.push(format_args!("<g transform=\"translate({} {}) scale({scale})\">", at.x, at.y));
        self.body.push_str(elements);
        self.push(format_args!("</g>"));
    }

    /// Everything drawn inside is one group with these attributes.
    pub(super) fn grouped(&mut self, attributes: &str, draw: impl FnOnce(&mut Self)) {
        self.push(format_args!("<g {attributes}>"));
        draw(self);
        self.push(format_args!("</g>"));
    }

    /// Everything drawn inside is cut to an area.
    pub(super) fn clipped(&mut self, area: Area, draw: impl FnOnce(&mut Self)) {
        let id = format!("clip-{}-{}", area.x, area.y);
        let Area { x, y, width, height } = area;
        self.push(format_args!(
            "<clipPath id=\"{id}\"><rect x=\"{x}\" y=\"{y}\" width=\"{width}\" height=\"{height}\"/></clipPath>"
        ));
        self.push(format_args!("<g clip-path=\"url(#{id})\">"));
        draw(self);
        self.push(format_args!("</g>"));
    }

    pub(super) fn rect(&mut self, area: Area, style: &str) {
        let Area { x, y, width, height } = area;
        self.push(format_args!(
            "<rect x=\"{x:.2}\" y=\"{y:.2}\" width=\"{width:.2}\" height=\"{height:.2}\" {style}/>"
        ));
    }

    pub(super) fn line(&mut self, from: Vec2, to: Vec2, style: &str) {
        let ((x1, y1), (x2, y2)) = (from.into(), to.into());
        self.push(format_args!(
            "<line x1=\"{x1:.2}\" y1=\"{y1:.2}\" x2=\"{x2:.2}\" y2=\"{y2:.2}\" {style}/>"
        ));
    }

    pub(super) fn polyline(&mut self, points: impl Iterator<Item = Vec2>, style: &str) {
        self.body.push_str("<polyline points=\"");
        for point in points {
            // Writing to a string does not fail.
            let _ = write!(self.body, "{:.2},{:.2} ", point.x, point.y);
        }
        self.push(format_args!("\" fill=\"none\" {style}/>"));
    }

    pub(super) fn polygon(&mut self, points: &[Vec2], style: &str) {
        let points: Vec<String> = points.iter().map(|p| format!("{:.2},{:.2}", p.x, p.y)).collect();
        self.push(format_args!("<polygon points=\"{}\" {style}/>", points.join(" ")));
    }

    pub(super) fn circle(&mut self, center: Vec2, radius: f32, style: &str) {
        self.push(format_args!(
            "<circle cx=\"{:.2}\" cy=\"{:.2}\" r=\"{radius}\" {style}/>",
            center.x, center.y
        ));
    }

    /// An arrow with a filled head.
    pub(super) fn arrow(&mut self, from: Vec2, to: Vec2, colour: &str) {
        let along = (to - from).normalize_or_zero();
        let (base, side) = (to - along * 6.0, along.perp() * 3.5);
        self.line(from, base, &format!("stroke=\"{colour}\" stroke-width=\"2\""));
        self.polygon(&[to, base + side, base - side], &format!("fill=\"{colour}\""));
    }

    /// A text; one that starts at a point and would run over the edge of the sheet is cut before it.
    pub(super) fn text(&mut self, at: Vec2, align: Align, size: f32, colour: &str, text: impl Display) {
        let text = match align {
            Align::Start => fitted(&text.to_string(), size, SHEET.0 - 0.5 * MARGIN - at.x),
            Align::Middle => text.to_string(),
        };
        self.styled_text(at, align, &format!("font-size=\"{size}\""), colour, text);
    }

    /// A small text with a paper-coloured rim, to be read on top of a map.
    pub(super) fn tag(&mut self, at: Vec2, align: Align, colour: &str, text: impl Display) {
        let style = format!(
            "font-size=\"{SMALL}\" font-weight=\"600\" stroke=\"{PAPER}\" stroke-width=\"3\" paint-order=\"stroke\""
        );
        self.styled_text(at, align, &style, colour, text);
    }

    fn styled_text(&mut self, at: Vec2, align: Align, style: &str, colour: &str, text: impl Display) {
        let anchor = match align {
            Align::Start => "start",
            Align::Middle => "middle",
        };
        self.push(format_args!(
            "<text x=\"{:.2}\" y=\"{:.2}\" text-anchor=\"{anchor}\" fill=\"{colour}\" {style}>{}</text>",
            at.x,
            at.y,
            escaped(&text.to_string())
        ));
    }

    fn push(&mut self, element: std::fmt::Arguments<'_>) {
        let _ = self.body.write_fmt(element);
        self.body.push('\n');
    }
}

/// A text in lines that end before the edge of the sheet when they start at an x, divided between words.
pub(super) fn wrapped(text: &str, size: f32, x: f32) -> Vec<String> {
    let room = SHEET.0 - 0.5 * MARGIN - x;
    let mut lines = vec![String::new()];
    for word in text.split(' ') {
        let last = lines.last_mut().expect("a first line");
        let longer = if last.is_empty() { word.to_owned() } else { format!("{last} {word}") };
        if last.is_empty() || fitted(&longer, size, room) == longer {
            *last = longer;
        } else {
            lines.push(word.to_owned());
        }
    }
    lines
}

/// As much of a text as has room, with an ellipsis for the rest.
fn fitted(text: &str, size: f32, room: f32) -> String {
    let mut right = 0.0;
    let mut fits = 0;
    for (place, letter) in text.char_indices() {
        right += size * breadth(letter);
        if right > room {
            return format!("{}\u{2026}", text[..fits].trim_end());
        }
        // Where it may be cut, if the ellipsis still has room behind it.
        if right + size <= room {
            fits = place + letter.len_utf8();
        }
    }
    text.to_owned()
}

/// About how broad a letter of the picture's face is, in parts of its size.
const fn breadth(letter: char) -> f32 {
    match letter {
        ' ' | '.' | ',' | ':' | ';' | '\'' | '|' | 'i' | 'j' | 'l' => 0.27,
        '(' | ')' | '-' | 'f' | 'r' | 't' | 'I' => 0.37,
        'm' | 'w' | 'M' | 'W' => 0.86,
        'A'..='Z' => 0.68,
        '0'..='9' => 0.61,
        'a'..='z' => 0.56,
        _ => 0.8,
    }
}

/// Text as it may stand in the document.
fn escaped(text: &str) -> String {
    let allowed = text.chars().filter(|c| !c.is_control());
    allowed.collect::<String>().replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}
