//! `ambulant play`: a scenario played by hand in the terminal.

use std::io::{IsTerminal, Write};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

use ambulant::intent::Direction;
use ambulant::time::Ticks;
use anyhow::Context;
use clap::Args;
use ratatui::crossterm::event::{self, Event, KeyCode, KeyEvent, KeyEventKind, KeyModifiers};

use super::{Failure, Outcome, tick_rate, warn};
use crate::live::{Hand, Letting, Screen, Session, Shown, Terminal, as_rust, kept_script};
use crate::output::Output;
use crate::scenario::{Moves, ScenarioText};

/// How long to wait for a key before the next picture.
const PICTURE: Duration = Duration::from_millis(16);

/// Play a scenario by hand in the terminal
///
/// Arrow keys or WASD move one actor; the others follow their scripts. You can change numbers while you
/// play, save them into the file (comments and layout stay), or show them as Rust. You can also save what
/// you played as a scenario; `run` repeats it to the last bit. Press ? for all keys.
#[derive(Debug, Args)]
pub(super) struct Play {
    /// The scenario to play (TOML)
    file: PathBuf,

    /// The actor to control, instead of the first one with keys
    #[arg(long, value_name = "NAME")]
    actor: Option<String>,

    /// Ticks per second, instead of the scenario's own
    #[arg(long, value_name = "HZ", value_parser = tick_rate)]
    tick_rate: Option<f64>,

    /// How to detect that a key was released: ask the terminal, or go by key repeats
    #[arg(long, value_name = "HOW", default_value = "ask")]
    releases: Releases,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, clap::ValueEnum)]
enum Releases {
    Ask,
    Repeats,
}

impl Play {
    pub(super) fn carry_out(self, out: &mut dyn Write) -> Result<Outcome, Failure> {
        let text = ScenarioText::read(&self.file)?;
        let scenario = text.parse()?;
        let tick_rate = self.tick_rate.unwrap_or(scenario.tick_rate);
        let able: Vec<usize> = (0..scenario.actors.len())
            .filter(|place| !matches!(scenario.actors[*place].moves, Moves::Flying(_)))
            .collect();
        let first = match &self.actor {
            None => able.iter().position(|place| !scenario.actors[*place].script.is_empty()).unwrap_or(0),
            Some(name) => {
                able.iter().position(|place| scenario.actors[*place].name == *name).with_context(|| {
                    let names: Vec<&str> =
                        able.iter().map(|place| scenario.actors[*place].name.as_str()).collect();
                    format!("no actor that can be moved is called `{name}`; there are: {}", names.join(", "))
                })?
            }
        };
        let Some(actor) = able.get(first) else {
            return Err(anyhow::anyhow!(
                "{} has no actor that can be moved; `ambulant run` plays it",
                self.file.display()
            )
            .into());
        };
        if !std::io::stdout().is_terminal() || !std::io::stdin().is_terminal() {
            return Err(anyhow::anyhow!(
                "play needs a terminal for its keys and its picture; `ambulant run {}` plays the script without one",
                self.file.display()
            )
            .into());
        }
        warn(&scenario).iter().for_each(|warning| anstream::eprintln!("{warning}"));
        let mut terminal = Terminal::take(self.releases == Releases::Ask)?;
        let told = terminal.tells_releases();
        let session = Session::new(&scenario, &text, tick_rate, *actor);
        let mut game = Game {
            file: &self.file,
            text: &text,
            ticks: Ticks::new(narrowed(tick_rate)).map_err(anyhow::Error::new)?,
            hand: Hand::new(letting(told, &session)),
            shown: Shown {
                paused: false,
                feelers: false,
                help: false,
                rust: None,
                letting: letting(told, &session),
                message: String::new(),
                frame: 0.0,
            },
            session,
            able,
            told,
            ended: false,
            kept: Vec::new(),
        };
        let played = game.play(&mut terminal);
        drop(terminal);
        played?;
        game.farewell(out)?;
        Ok(Outcome::Fine)
    }
}

/// A session with its clock, its keys and its picture.
struct Game<'a> {
    file: &'a Path,
    text: &'a ScenarioText,
    session: Session<'a>,
    ticks: Ticks,
    hand: Hand,
    shown: Shown,
    /// The actors that can be controlled.
    able: Vec<usize>,
    /// Whether the terminal reports key releases.
    told: bool,
    ended: bool,
    /// The files that were written.
    kept: Vec<String>,
}

impl Game<'_> {
    fn play(&mut self, terminal: &mut Terminal) -> Result<(), Failure> {
        let mut screen = Screen::default();
        let mut last = Instant::now();
        while !self.ended && !terminal.is_asked_to_end() {
            terminal.draw(|frame| screen.draw(frame, &self.session, &self.shown))?;
            let mut wait = PICTURE;
            while event::poll(wait)? {
                if let Event::Key(key) = event::read()? {
                    self.take(key);
                }
                wait = Duration::ZERO;
            }
            let now = Instant::now();
            let let_go = self.hand.pass_time(now);
            self.session.keys(let_go);
            self.shown.frame = now.duration_since(last).as_secs_f32();
            last = now;
            for _ in 0..self.ticks.advance(self.shown.frame) {
                self.session.tick();
            }
        }
        Ok(())
    }

    fn take(&mut self, key: KeyEvent) {
        let now = Instant::now();
        if let Some(direction) = direction(key.code) {
            if key.modifiers.contains(KeyModifiers::CONTROL) {
                return;
            }
            let changes = match key.kind {
                KeyEventKind::Release => self.hand.release(direction),
                _ => self.hand.press(direction, now),
            };
            self.session.keys(changes);
            return;
        }
        if key.kind == KeyEventKind::Release {
            return;
        }
        if key.modifiers.contains(KeyModifiers::CONTROL) {
            self.ended |= matches!(key.code, KeyCode::Char('c' | 'd'));
            return;
        }
        self.shown.message.clear();
        let had_box = std::mem::take(&mut self.shown.help) || self.shown.rust.take().is_some();
        self.command(key.code, had_box);
    }

    fn command(&mut self, key: KeyCode, had_box: bool) {
        match key {
            KeyCode::Esc if had_box => {}
            KeyCode::Char('q') | KeyCode::Esc => self.ended = true,
            KeyCode::Char('?' | 'h') => self.shown.help = !had_box,
            KeyCode::Char('p') if had_box => {}
            KeyCode::Char('p') => self.shown.rust = Some(as_rust(self.session.tuned_actor())),
            KeyCode::Char(' ') => self.pause(!self.shown.paused),
            KeyCode::Char('.') => {
                self.pause(true);
                self.ticks.step();
            }
            KeyCode::Char(',') => {
                self.pause(true);
                if !self.session.step_back() {
                    self.shown.message = "no further back than this".to_owned();
                }
            }
            KeyCode::Enter => {
                let let_go = self.hand.release_all();
                self.session.keys(let_go);
            }
            KeyCode::Tab => self.next_actor(),
            KeyCode::Char('x') => {
                self.session.restart();
                self.shown.message = "from the start".to_owned();
            }
            KeyCode::Char('g') => {
                let through = self.session.toggle_through_walls();
                self.shown.message =
                    if through { "walks through walls" } else { "collides with walls" }.to_owned();
            }
            KeyCode::Char('f') => self.shown.feelers = !self.shown.feelers,
            KeyCode::Char('[') => self.session.choose_number(false),
            KeyCode::Char(']') => self.session.choose_number(true),
            KeyCode::Char('-' | '_') => self.change(false),
            KeyCode::Char('+' | '=') => self.change(true),
            KeyCode::Char('m') => self.shown.message = self.save_numbers().unwrap_or_else(|why| why),
            KeyCode::Char('k') => self.shown.message = self.keep_run().unwrap_or_else(|why| why),
            _ => {}
        }
    }

    fn pause(&mut self, paused: bool) {
        self.shown.paused = paused;
        self.ticks.set_paused(paused);
    }

    fn change(&mut self, up: bool) {
        if let Err(why) = self.session.change_number(up) {
            self.shown.message = why;
        }
    }

    /// Controls the next actor; its own run starts again, so that what is saved of it is complete.
    fn next_actor(&mut self) {
        let place = self.able.iter().position(|actor| *actor == self.session.actor()).unwrap_or(0);
        let next = self.able[(place + 1) % self.able.len()];
        let scenario = self.session.scenario();
        if next == self.session.actor() {
            self.shown.message = "there is no other actor that can be moved".to_owned();
            return;
        }
        if self.session.numbers().changed() {
            self.shown.message =
                "save the changed numbers first (m), or put them back: another actor starts from the file"
                    .to_owned();
            return;
        }
        let text = self.session.numbers().text().clone();
        self.session = Session::new(scenario, &text, self.session.tick_rate(), next);
        let letting = letting(self.told, &self.session);
        (self.hand, self.shown.letting) = (Hand::new(letting), letting);
        self.shown.message = format!("{} is in your hand", scenario.actors[next].name);
    }

    /// Writes the changed numbers into the file as it is now.
    fn save_numbers(&mut self) -> Result<String, String> {
        if !self.session.numbers().changed() {
            return Err("no number was changed".to_owned());
        }
        let name = self.file.display();
        let now = ScenarioText::read(self.file).map_err(|_| format!("{name} cannot be read any more"))?;
        let text = self.session.numbers().put_into(&now)?;
        text.parse()
            .map_err(|_| format!("{name} was changed meanwhile and is no scenario now; nothing saved"))?;
        write(self.file, text.source())?;
        self.session.numbers_mut().settle();
        self.kept.push(name.to_string());
        let others =
            if now.source() == self.text.source() { "" } else { ", with what was changed there meanwhile" };
        Ok(format!("saved the numbers into {name}{others}"))
    }

    /// Writes what was played beside the scenario.
    fn keep_run(&mut self) -> Result<String, String> {
        if self.session.ticks() == 0 {
            return Err("nothing was played yet".to_owned());
        }
        let text = kept_script(&self.session)?;
        let place = free_name(self.file);
        write(&place, &text)?;
        let name = place.display().to_string();
        self.kept.push(name.clone());
        let bits = match self.session.meddled_at() {
            None => "run plays it again to the last bit".to_owned(),
            Some(at) => format!("numbers or walls were changed at {at:.3} s, so run goes another way"),
        };
        Ok(format!("kept in {name}: {bits}"))
    }

    /// What is worth knowing after the picture is gone.
    fn farewell(&self, out: &mut dyn Write) -> std::io::Result<()> {
        for name in &self.kept {
            writeln!(out, "wrote {name}")?;
        }
        let changed = self.session.numbers().list().iter().filter(|number| number.value != number.written);
        for number in changed {
            writeln!(out, "not saved: {} = {} (file: {})", number.way, number.value, number.written)?;
        }
        if self.session.numbers().changed() {
            writeln!(out, "as Rust: {}", as_rust(self.session.tuned_actor()))?;
        }
        out.flush()
    }
}

fn letting(told: bool, session: &Session<'_>) -> Letting {
    let tap = session.scenario().actors[session.actor()].steps_by_tiles();
    if told { Letting::Reported } else { Letting::Guessed { tap } }
}

fn direction(key: KeyCode) -> Option<Direction> {
    match key {
        KeyCode::Left | KeyCode::Char('a' | 'A') => Some(Direction::Left),
        KeyCode::Right | KeyCode::Char('d' | 'D') => Some(Direction::Right),
        KeyCode::Up | KeyCode::Char('w' | 'W') => Some(Direction::Up),
        KeyCode::Down | KeyCode::Char('s' | 'S') => Some(Direction::Down),
        _ => None,
    }
}

/// The first name beside the scenario that no file has: `walk-played.toml`, `walk-played-2.toml`, ...
fn free_name(file: &Path) -> PathBuf {
    let stem = file.file_stem().unwrap_or_default().to_string_lossy();
    let names = (1u32..).map(|number| match number {
        1 => format!("{stem}-played.toml"),
        number => format!("{stem}-played-{number}.toml"),
    });
    let mut places = names.map(|name| file.with_file_name(name));
    places.find(|place| !place.exists()).unwrap_or_else(|| file.with_extension("played.toml"))
}

fn write(place: &Path, text: &str) -> Result<(), String> {
    let written = Output::open(place).and_then(|mut file| {
        file.put(text.as_bytes())?;
        file.finish()
    });
    written.map_err(|error| format!("{error:#}"))
}

#[expect(clippy::cast_possible_truncation, reason = "a tick rate, rounded once")]
fn narrowed(rate: f64) -> f32 {
    rate as f32
}
