//! What is wrong with a scenario, where, and what would do; printed with an excerpt.

use std::fs::File;
use std::io::Read;
use std::ops::Range;
use std::path::Path;

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use toml_parser::Source;

use super::{MAX_FILE_BYTES, MAX_FILE_PARTS};

/// The most problems shown at once; the first ones usually cause the rest.
const MOST_SHOWN: usize = 10;

/// One thing that is wrong, at a place in the file where there is one.
#[derive(Debug, Clone)]
pub(super) struct Problem {
    message: String,
    place: Option<Range<usize>>,
    label: String,
    help: Option<String>,
}

impl Problem {
    /// A problem with the text at `place`; `label` stands under the excerpt.
    pub(super) fn at(place: Range<usize>, message: impl Into<String>, label: impl Into<String>) -> Self {
        Self { message: message.into(), place: Some(place), label: label.into(), help: None }
    }

    /// Adds what would do.
    pub(super) fn help(mut self, help: impl Into<String>) -> Self {
        self.help = Some(help.into());
        self
    }
}

/// All that is wrong with one file.
#[derive(Debug)]
pub(crate) struct Problems {
    name: String,
    source: String,
    list: Vec<Problem>,
}

impl Problems {
    pub(super) fn in_source(name: &str, source: &str, list: Vec<Problem>) -> Self {
        Self { name: name.to_owned(), source: source.to_owned(), list }
    }

    fn without_source(name: &str, message: String) -> Self {
        let problem = Problem { message, place: None, label: String::new(), help: None };
        Self::in_source(name, "", vec![problem])
    }

    /// The problems as text for a person, with excerpts.
    pub(crate) fn render(&self, colours: bool) -> String {
        let renderer = if colours { Renderer::styled() } else { Renderer::plain() };
        let mut text: Vec<String> = self
            .list
            .iter()
            .take(MOST_SHOWN)
            .map(|problem| renderer.render(&[self.group(problem)]).clone())
            .collect();
        if self.list.len() > MOST_SHOWN {
            text.push(format!("... and {} more", self.list.len() - MOST_SHOWN));
        }
        text.join("\n\n")
    }

    fn group<'a>(&'a self, problem: &'a Problem) -> Group<'a> {
        let title = Level::ERROR.primary_title(&problem.message);
        let Some(place) = &problem.place else { return Group::with_title(title) };
        // A place past the end, as of a missing last value, is shown at the end.
        let end = place.end.min(self.source.len());
        let place = place.start.min(end)..end;
        // Only the lines that are shown: a large file would take seconds to be looked through.
        let from = self.source[..place.start].rfind('\n').map_or(0, |end| end + 1);
        let to = self.source[end..].find('\n').map_or(self.source.len(), |length| end + length);
        let line = 1 + self.source[..from].matches('\n').count();
        let mark = AnnotationKind::Primary.span(place.start - from..end - from).label(&problem.label);
        let shown = Snippet::source(&self.source[from..to]).line_start(line);
        let group = title.element(shown.path(&self.name).annotation(mark));
        match &problem.help {
            Some(help) => group.element(Level::HELP.message(help)),
            None => group,
        }
    }
}

/// Reads a file of text, or says why it cannot be read.
pub(super) fn read_source(path: &Path) -> Result<String, Problems> {
    let name = path.display().to_string();
    let unreadable = |why: String| Problems::without_source(&name, format!("cannot read {name}: {why}"));
    let mut bytes = Vec::new();
    let file = File::open(path).map_err(|error| unreadable(error.to_string()))?;
    file.take(MAX_FILE_BYTES + 1).read_to_end(&mut bytes).map_err(|error| unreadable(error.to_string()))?;
    if bytes.len() as u64 > MAX_FILE_BYTES {
        return Err(unreadable(format!("it is larger than {} MiB", MAX_FILE_BYTES >> 20)));
    }
    let text = String::from_utf8(bytes).map_err(|error| {
        let start = error.utf8_error().valid_up_to();
        let byte = error.as_bytes()[start];
        let shown = String::from_utf8_lossy(error.as_bytes()).into_owned();
        let label = format!("byte 0x{byte:02X} cannot stand here");
        let problem = Problem::at(start..start + '\u{FFFD}'.len_utf8(), "the file is not UTF-8", label)
            .help("save the file as UTF-8");
        Problems::in_source(&name, &shown, vec![problem])
    })?;
    // Each takes some room while it is read, whatever it says: so they are counted before.
    if let Some(part) = Source::new(&text).lex().nth(MAX_FILE_PARTS) {
        let message = format!("the file has more than {MAX_FILE_PARTS} words, values and signs");
        let problem = Problem::at(part.span().start()..part.span().end(), message, "the first too many")
            .help("move the map into a CSV or PNG file, or shorten what is listed");
        return Err(Problems::in_source(&name, &text, vec![problem]));
    }
    Ok(text)
}

/// A problem from the TOML reader; for an unknown key or value, with the nearest known one.
pub(super) fn from_toml(error: &toml::de::Error) -> Problem {
    let message = error.message().lines().next().unwrap_or_default().to_owned();
    let place = error.span().unwrap_or(0..0);
    // The reader names what it found and what it knows in backquotes, the found one first.
    let named: Vec<&str> = message.split('`').skip(1).step_by(2).collect();
    match (message.starts_with("unknown field"), message.starts_with("unknown variant"), named.split_first())
    {
        (true, _, Some((found, known))) => Problem::at(place, format!("unknown key `{found}`"), "")
            .help(suggestion(found, known, "the keys here are")),
        (_, true, Some((found, known))) => Problem::at(place, format!("unknown value `{found}`"), "")
            .help(suggestion(found, known, "the values here are")),
        _ => Problem::at(place, message, ""),
    }
}

/// "did you mean ...", or the list of what is known when nothing is near.
pub(super) fn suggestion(found: &str, known: &[&str], list: &str) -> String {
    let nearest = known
        .iter()
        .map(|name| (strsim::damerau_levenshtein(found, name), name))
        .min()
        // Something must be left of what was written.
        .filter(|(distance, name)| {
            *distance <= 1 + name.len() / 3 && *distance < found.len().min(name.len())
        });
    match nearest {
        Some((_, name)) => format!("did you mean `{name}`?"),
        None if known.is_empty() => "remove it".to_owned(),
        None => {
            let names: Vec<String> = known.iter().map(|name| format!("`{name}`")).collect();
            format!("{list} {}", names.join(", "))
        }
    }
}
