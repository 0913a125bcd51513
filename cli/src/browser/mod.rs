//! Playing in a browser: a page on this machine sends keys, a stick and a pointer, and shows the play.
//!
//! `server` answers the browser and hands on what the page says, `message` is that, `view` is what the page is answered.
//! Time passes only while a page asks for the next picture: a page that is closed or hidden pauses the play.

mod message;
mod server;
mod view;

use std::io::Write;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use serde_json::json;
use signal_hook::consts::{SIGHUP, SIGINT, SIGTERM};

use crate::live::Game;
use crate::page::{MAP_SCRIPT, as_data, escaped, filled, style};
use crate::picture::{page_map, themed};
use message::Message;
use server::{Files, Said, Server, What};
use view::Breakable;

/// The longest time that passes between two pictures, in seconds: more is a page that was hidden.
const LONGEST_FRAME: f32 = 0.25;
/// How often a signal is looked for.
const LOOK: Duration = Duration::from_millis(50);
/// How long the page has to take its last answer.
const GRACE: Duration = Duration::from_millis(500);

/// Plays in a browser until its page or a signal ends it.
///
/// # Errors
/// When the port is taken, or the address cannot be printed.
pub(crate) fn play(
    game: &mut Game<'_>,
    file: &Path,
    (port, opens): (u16, bool),
    out: &mut dyn Write,
) -> anyhow::Result<()> {
    let ended = Arc::new(AtomicBool::new(false));
    for signal in [SIGINT, SIGTERM, SIGHUP] {
        signal_hook::flag::register(signal, Arc::clone(&ended))?;
    }
    let server = Server::start(port, files(game, &file.display().to_string()))?;
    writeln!(out, "playing {} at {}", file.display(), server.address())?;
    writeln!(out, "open it in a browser; Ctrl-C ends the play")?;
    out.flush()?;
    if let Some(Err(error)) = opens.then(|| open::that_detached(server.address())) {
        anstream::eprintln!("no browser was opened ({error}); open the address yourself");
    }
    let breakable = Breakable::new(game.session().scenario());
    let mut table = Table { game, breakable, in_control: None, last: None, ended: None, is_over: false };
    let is_over =
        |table: &Table<'_, '_>| table.is_over || table.ended.is_some_and(|since| since.elapsed() > GRACE);
    while !ended.load(Ordering::Relaxed) && !is_over(&table) {
        if let Ok(said) = server.said.recv_timeout(LOOK) {
            table.hear(said);
        }
    }
    Ok(())
}

/// The page and its script.
fn files(game: &Game<'_>, file: &str) -> Files {
    let scenario = game.session().scenario();
    let map = page_map(scenario, None);
    let title = if scenario.title.is_empty() { file } else { &scenario.title };
    let parts = [
        ("title", escaped(title)),
        ("file", escaped(file)),
        ("style", style()),
        ("map", themed(&map.svg)),
        ("data", themed(&as_data(&view::still(game, &map, file)))),
    ];
    let script = [
        "const page = JSON.parse(document.getElementById('data').textContent);\n",
        MAP_SCRIPT,
        include_str!("page.js"),
    ];
    Files { page: filled(include_str!("page.html"), &parts), script: script.concat() }
}

/// The game, and the page that is in control.
struct Table<'a, 'b> {
    game: &'a mut Game<'b>,
    breakable: Breakable,
    in_control: Option<u64>,
    /// When the last picture was asked for; none after a page came.
    last: Option<Instant>,
    /// When the page ended the play.
    ended: Option<Instant>,
    /// Whether it has taken its last answer, too.
    is_over: bool,
}

impl Table<'_, '_> {
    fn hear(&mut self, Said { page, what }: Said) {
        match what {
            What::Opened => {
                // The newest page is in control.
                self.in_control = Some(page);
                self.pause();
            }
            What::Closed if self.in_control == Some(page) => {
                self.in_control = None;
                self.pause();
                self.is_over = self.ended.is_some();
            }
            What::Closed => {}
            What::Text(text, to_page) => {
                // A page that is gone needs no answer.
                let _ = to_page.send(self.answer(page, &text));
            }
        }
    }

    /// Lets no time pass until the next picture, with all keys let go.
    fn pause(&mut self) {
        self.last = None;
        self.game.session_mut().let_go();
    }

    /// What a message of a page is answered.
    fn answer(&mut self, page: u64, text: &str) -> Option<String> {
        if self.in_control != Some(page) {
            return Some(json!({ "taken": true }).to_string());
        }
        match serde_json::from_str::<Message>(text) {
            Ok(Message::Frame(wanted)) => {
                self.pass_time();
                Some(view::now(self.game, &self.breakable, &wanted).to_string())
            }
            Ok(Message::End) => {
                self.ended = Some(Instant::now());
                Some(json!({ "ended": true }).to_string())
            }
            Ok(message) => {
                message.carry_out(self.game);
                None
            }
            Err(error) => {
                eprintln!("refused a message: {error}");
                Some(json!({ "refused": error.to_string() }).to_string())
            }
        }
    }

    fn pass_time(&mut self) {
        let now = Instant::now();
        let passed = self.last.map_or(0.0, |last| now.duration_since(last).as_secs_f32());
        self.last = Some(now);
        self.game.pass_time(passed.min(LONGEST_FRAME));
    }
}
