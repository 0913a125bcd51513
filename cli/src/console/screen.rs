//! The live view: the map, and beside it all that is known of the actor in the hand.

use std::fmt::Write as _;

use ambulant::terrain::TileKind;
use glam::Vec2;
use ratatui::Frame;
use ratatui::layout::{Constraint, Layout, Rect};
use ratatui::style::{Modifier, Style};
use ratatui::text::{Line, Span};
use ratatui::widgets::{Block, Borders, Clear, Paragraph, Sparkline};

use super::colours::{self, ACCENT, FAINT, INK, OUTSIDE, TOUCH};
use super::hand::Letting;
use super::map_cells::{MapCells, arrow, key};
use crate::live::{Game, Session};
use crate::record::EventKind;

/// Columns of the side panel.
const PANEL: u16 = 50;
/// Below this there is no room for a map beside the panel.
const SMALLEST: (u16, u16) = (PANEL + 24, 20);
/// How much time the speed graph shows, in seconds.
const GRAPH_SECONDS: f64 = 5.0;
/// Rows of the speed graph.
const GRAPH: u16 = 4;

/// What is shown besides the session itself.
#[derive(Debug, Clone)]
pub(crate) struct Shown {
    pub(crate) feelers: bool,
    pub(crate) help: bool,
    /// The drive as Rust, while it is asked for.
    pub(crate) rust: Option<String>,
    pub(crate) letting: Letting,
    /// How long the last picture stood, in seconds.
    pub(crate) frame: f32,
}

/// The view over time.
#[derive(Debug, Default)]
pub(crate) struct Screen {
    map: MapCells,
}

impl Screen {
    pub(crate) fn draw(&mut self, frame: &mut Frame<'_>, game: &Game<'_>, shown: &Shown) {
        let session = game.session();
        let area = frame.area();
        frame.buffer_mut().set_style(area, night());
        if area.width < SMALLEST.0 || area.height < SMALLEST.1 {
            let text = format!(
                "{} x {} is too small: make the window {} x {} or larger. q quits.",
                area.width, area.height, SMALLEST.0, SMALLEST.1
            );
            frame.render_widget(Paragraph::new(text).wrap(ratatui::widgets::Wrap { trim: true }), area);
            return;
        }
        let [upper, foot] = Layout::vertical([Constraint::Min(0), Constraint::Length(2)]).areas(area);
        let [map, panel] = Layout::horizontal([Constraint::Min(0), Constraint::Length(PANEL)]).areas(upper);
        self.map.draw(session, shown.feelers, shown.frame, map, frame.buffer_mut());
        draw_panel(frame, game, panel);
        draw_foot(frame, game, foot);
        if shown.help {
            draw_box(frame, map, " keys ", &help(shown.letting));
        } else if let Some(rust) = &shown.rust {
            draw_box(frame, map, " as Rust ", std::slice::from_ref(rust));
        }
    }
}

fn draw_panel(frame: &mut Frame<'_>, game: &Game<'_>, area: Rect) {
    let session = game.session();
    let numbers = session.numbers().list();
    let [state, graph, tuning, rest] = Layout::vertical([
        Constraint::Length(13),
        Constraint::Length(GRAPH + 1),
        Constraint::Length(u16::try_from(numbers.len().clamp(1, 9)).unwrap_or(9) + 1),
        Constraint::Min(0),
    ])
    .areas(area);
    draw_state(frame, session, game.is_paused(), state);
    draw_graph(frame, session, graph);
    draw_numbers(frame, session, tuning);
    let legend = key(session);
    let actors = session.scenario().actors.len();
    let rows = u16::try_from(legend.len().div_ceil(2) + actors.div_ceil(2)).unwrap_or(u16::MAX);
    let [events, legend_area] =
        Layout::vertical([Constraint::Min(4), Constraint::Length(rows.min(rest.height / 2) + 1)]).areas(rest);
    draw_events(frame, session, events);
    draw_key(frame, session, legend, legend_area);
}

fn titled(title: &str) -> Block<'_> {
    Block::new()
        .borders(Borders::TOP)
        .border_style(Style::new().fg(FAINT))
        .title(Span::styled(format!(" {title} "), Style::new().fg(INK).add_modifier(Modifier::BOLD)))
}

fn draw_state(frame: &mut Frame<'_>, session: &Session<'_>, paused: bool, area: Rect) {
    let row = session.row();
    let scenario = session.scenario();
    let pair = |v: Vec2| format!("{:>8.2} {:>8.2}", v.x, v.y);
    let kind = scenario.map.kind(row.tile).map_or("beyond the map", TileKind::name);
    let stance = session.stance();
    let stands = if stance.is_moving() { "moving" } else { "standing" };
    let idle = if stance.is_idle() { ", idle" } else { "" };
    let touching: Vec<String> = row.touching.iter().map(ToString::to_string).collect();
    let touching = if touching.is_empty() { "nothing".to_owned() } else { touching.join(", ") };
    let feelers = session.feelers();
    let (up, down) = if scenario.map.y_axis().downward() > 0.0 {
        (feelers.lower_y, feelers.higher_y)
    } else {
        (feelers.higher_y, feelers.lower_y)
    };
    let way = row.facing.name();
    let place = session.actor();
    let mut lines = vec![
        line("time", format!("{:.3} s, tick {}", session.time(), session.ticks())),
        line("intent", format!("{}   length {:.2}", pair(row.intent), row.intent.length())),
        line("velocity", format!("{} units/s", pair(row.velocity))),
        line("speed", format!("{:>8.2} units/s", row.velocity.length())),
        line("position", format!("{} units", pair(row.position))),
        line("tile", format!("{}, {} {kind}", row.tile.x, row.tile.y)),
        line("facing", format!("{} {way}", arrow(row.facing))),
        line("stance", format!("{stands} for {:.1} s{idle}", stance.lasts())),
        line("touching", touching),
        line("free", format!("◀{:.1}  ▶{:.1}  ▲{up:.1}  ▼{down:.1}", feelers.left, feelers.right)),
    ];
    let mode = match (paused, session.goes_through_walls()) {
        (true, true) => "paused, walks through walls",
        (true, false) => "paused",
        (false, true) => "walks through walls",
        (false, false) => "",
    };
    lines.push(Line::styled(format!(" {mode}"), Style::new().fg(ACCENT)));
    let title = Span::styled(
        format!(" {} ", scenario.actors[place].name),
        Style::new().fg(colours::actor(place)).add_modifier(Modifier::BOLD),
    );
    let block = Block::new().borders(Borders::TOP).border_style(Style::new().fg(FAINT)).title(title);
    frame.render_widget(Paragraph::new(lines).block(block), area);
}

fn line(name: &str, value: String) -> Line<'static> {
    Line::from(vec![
        Span::styled(format!(" {name:<9}"), Style::new().fg(FAINT)),
        Span::styled(value, Style::new().fg(INK)),
    ])
}

fn draw_graph(frame: &mut Frame<'_>, session: &Session<'_>, area: Rect) {
    // Each column is the fastest of some ticks.
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a small number of ticks")]
    let each = ((GRAPH_SECONDS * session.tick_rate() / f64::from(area.width)).round() as u32).max(1);
    // Whole groups from the start of the run on, so that columns keep what they hold while they move.
    let mut columns: Vec<(u32, f32)> = Vec::new();
    for row in session.track() {
        let (group, speed) = (row.tick / each, row.velocity.length());
        match columns.last_mut() {
            Some((last, fastest)) if *last == group => *fastest = fastest.max(speed),
            _ => columns.push((group, speed)),
        }
    }
    let columns = &columns[columns.len().saturating_sub(usize::from(area.width))..];
    let top = columns.iter().map(|(_, speed)| *speed).fold(1.0, f32::max);
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "a share of 1000")]
    let shares: Vec<u64> = columns.iter().map(|(_, speed)| (speed / top * 1000.0) as u64).collect();
    let lasts = f64::from(each) * f64::from(area.width) / session.tick_rate();
    let title = format!("speed of the last {lasts:.1} s, up to {top:.1} units/s");
    let graph =
        Sparkline::default().block(titled(&title)).data(&shares).max(1000).style(Style::new().fg(ACCENT));
    frame.render_widget(graph, area);
}

fn draw_numbers(frame: &mut Frame<'_>, session: &Session<'_>, area: Rect) {
    let numbers = session.numbers();
    let room = usize::from(area.height.saturating_sub(1)).max(1);
    let first = (numbers.chosen() + 1).saturating_sub(room);
    let mut lines: Vec<Line<'_>> = Vec::new();
    for (place, number) in numbers.list().iter().enumerate().skip(first) {
        let chosen = place == numbers.chosen();
        let mut text = format!(" {} {:<22} {}", if chosen { '▸' } else { ' ' }, number.way, number.value);
        if number.value != number.written {
            let _ = write!(text, "  (file: {})", number.written);
        }
        let colour = if number.value == number.written { INK } else { ACCENT };
        let style = Style::new().fg(colour);
        lines.push(Line::styled(text, if chosen { style.add_modifier(Modifier::BOLD) } else { style }));
    }
    if lines.is_empty() {
        lines.push(Line::styled(" none in the file", Style::new().fg(FAINT)));
    }
    frame.render_widget(Paragraph::new(lines).block(titled("numbers  [ ] choose  - + change")), area);
}

/// The columns of an event's time.
const TIME_WIDTH: usize = 9;

/// A text broken between words.
fn wrapped(text: &str, width: usize) -> Vec<String> {
    let mut lines: Vec<String> = vec![String::new()];
    for word in text.split(' ') {
        let last = lines.last_mut().expect("there is always one");
        if last.is_empty() {
            last.push_str(word);
        } else if last.chars().count() + 1 + word.chars().count() <= width {
            last.push(' ');
            last.push_str(word);
        } else {
            lines.push(word.to_owned());
        }
    }
    lines
}

fn draw_events(frame: &mut Frame<'_>, session: &Session<'_>, area: Rect) {
    let room = usize::from(area.height.saturating_sub(1));
    let events = session.events();
    let many = session.scenario().actors.len() > 1;
    let mut lines: Vec<Line<'_>> = Vec::new();
    for event in events[events.len().saturating_sub(room)..].iter().rev() {
        let name = &session.scenario().actors[event.actor].name;
        let colour =
            if matches!(event.what.kind(), EventKind::Touched | EventKind::Blocked | EventKind::Squeezed) {
                TOUCH
            } else {
                INK
            };
        let name = if many { format!("{name} ") } else { String::new() };
        let text = format!("{name}{}", event.what);
        let mut parts = wrapped(&text, usize::from(area.width).saturating_sub(TIME_WIDTH)).into_iter();
        let first = parts.next().unwrap_or_default();
        let (name, what) = first.split_at(name.len().min(first.len()));
        let mut text = vec![Line::from(vec![
            Span::styled(format!("{:>8.3} ", event.time), Style::new().fg(FAINT)),
            Span::styled(name.to_owned(), Style::new().fg(colours::actor(event.actor))),
            Span::styled(what.to_owned(), Style::new().fg(colour)),
        ])];
        text.extend(
            parts.map(|part| Line::styled(format!("{:TIME_WIDTH$}{part}", ""), Style::new().fg(colour))),
        );
        // The newest last, and as many whole ones as have room.
        if lines.len() + text.len() > room {
            break;
        }
        lines.splice(0..0, text);
    }
    frame.render_widget(Paragraph::new(lines).block(titled("what happened")), area);
}

fn draw_key(
    frame: &mut Frame<'_>,
    session: &Session<'_>,
    legend: Vec<(ratatui::style::Color, String)>,
    area: Rect,
) {
    let actors = session.scenario().actors.iter().enumerate();
    let actors = actors.map(|(place, actor)| ('●', colours::actor(place), actor.name.clone()));
    let walls = legend.into_iter().map(|(colour, name)| ('■', colour, name));
    let entry = |(glyph, colour, name): (char, ratatui::style::Color, String)| {
        let name: String = name.chars().take(usize::from(PANEL / 2) - 4).collect();
        let pad = usize::from(PANEL / 2).saturating_sub(3);
        [
            Span::styled(format!(" {glyph} "), Style::new().fg(colour)),
            Span::styled(format!("{name:<pad$}"), Style::new().fg(FAINT)),
        ]
    };
    let entries: Vec<[Span<'_>; 2]> = actors.chain(walls).map(entry).collect();
    let lines: Vec<Line<'_>> = entries.chunks(2).map(|two| Line::from(two.concat())).collect();
    frame.render_widget(Paragraph::new(lines).block(titled("on the map")), area);
}

fn draw_foot(frame: &mut Frame<'_>, game: &Game<'_>, area: Rect) {
    let title = &game.session().scenario().title;
    let message = if game.message().is_empty() { title.as_str() } else { game.message() };
    let keys = " arrows/WASD move  space pause  , . step  tab next  g walls  f free  [ ] - + numbers  \
                p Rust  m save  k save run  x restart  e serve  ? help  q quit";
    let lines = vec![
        Line::styled(format!(" {message}"), Style::new().fg(ACCENT)),
        Line::styled(keys, Style::new().fg(FAINT)),
    ];
    frame.render_widget(Paragraph::new(lines), area);
}

fn help(letting: Letting) -> Vec<String> {
    let releases = match letting {
        Letting::Reported => "This terminal reports key releases.",
        Letting::Guessed { tap: false } => {
            "This terminal does not report key releases: a press holds for 0.75 s, then as long as it repeats."
        }
        Letting::Guessed { tap: true } => {
            "This terminal does not report key releases: a press is a tap, and repeats walk on."
        }
    };
    let keys = [
        ("arrows, WASD", "move; Enter releases all keys"),
        ("space", "pause and continue"),
        (".", "pause, then one tick forward"),
        (",", "pause, then one tick back"),
        ("tab", "control the next actor, from the start"),
        ("g", "walk through walls, on and off"),
        ("f", "show the free distance on four sides"),
        ("[ ]", "choose a number"),
        ("- +", "make it smaller or larger"),
        ("u, r", "take back the last change, or all"),
        ("e", "serve the ball that the actor holds"),
        ("p", "show the drive as Rust"),
        ("m", "save the numbers into the file"),
        ("k", "save what you played as a scenario"),
        ("x", "start again"),
        ("q, Esc", "quit"),
    ];
    let mut lines: Vec<String> = keys.iter().map(|(key, what)| format!("{key:<14}{what}")).collect();
    lines.push(String::new());
    lines.push(releases.to_owned());
    lines
}

/// The view brings its own background, so that it looks the same on light terminals.
fn night() -> Style {
    Style::new().fg(INK).bg(OUTSIDE)
}

/// A box over the middle of the map.
fn draw_box(frame: &mut Frame<'_>, over: Rect, title: &str, lines: &[String]) {
    use ratatui::widgets::Wrap;
    let widest = lines.iter().map(|line| line.chars().count()).max().unwrap_or(0);
    let width = u16::try_from(widest + 4).unwrap_or(u16::MAX).min(over.width.saturating_sub(2));
    let inner = usize::from(width.saturating_sub(4)).max(1);
    let rows: usize = lines.iter().map(|line| line.chars().count().div_ceil(inner).max(1)).sum();
    let height = u16::try_from(rows + 2).unwrap_or(u16::MAX).min(over.height);
    let area =
        Rect { x: over.x + (over.width - width) / 2, y: over.y + (over.height - height) / 2, width, height };
    let text: Vec<Line<'_>> = lines.iter().map(|line| Line::raw(line.as_str())).collect();
    let block = Block::bordered().title(title).border_style(Style::new().fg(ACCENT));
    let block = block.padding(ratatui::widgets::Padding::horizontal(1));
    frame.render_widget(Clear, area);
    frame.buffer_mut().set_style(area, night());
    frame.render_widget(Paragraph::new(text).block(block).wrap(Wrap { trim: false }), area);
}
