//! The loop of a play in a terminal, and what each key does.

use std::time::{Duration, Instant};

use ambulant::intent::Direction;
use ratatui::crossterm::event::{self, Event, KeyCode, KeyEvent, KeyEventKind, KeyModifiers};

use super::hand::{Hand, Letting};
use super::screen::{Screen, Shown};
use super::terminal::Terminal;
use crate::live::{Game, Session};

/// How long to wait for a key before the next picture.
const PICTURE: Duration = Duration::from_millis(16);

/// Plays in the terminal until the player or a signal ends it; asks it to report key releases, or goes by repeats.
///
/// # Errors
/// When there is no terminal.
pub(crate) fn play(game: &mut Game<'_>, ask_for_releases: bool) -> std::io::Result<()> {
    let mut terminal = Terminal::take(ask_for_releases)?;
    let reports = terminal.reports_releases();
    let letting = letting(reports, game);
    let shown = Shown { feelers: false, help: false, rust: None, letting, frame: 0.0 };
    Console { hand: Hand::new(letting), shown, reports, ended: false, game }.play(&mut terminal)
}

/// A game with the keys of a terminal and its picture.
struct Console<'a, 'b> {
    game: &'a mut Game<'b>,
    hand: Hand,
    shown: Shown,
    /// Whether the terminal reports key releases.
    reports: bool,
    ended: bool,
}

impl Console<'_, '_> {
    fn play(&mut self, terminal: &mut Terminal) -> std::io::Result<()> {
        let mut screen = Screen::default();
        let mut last = Instant::now();
        while !self.ended && !terminal.is_asked_to_end() {
            terminal.draw(|frame| screen.draw(frame, self.game, &self.shown))?;
            let mut wait = PICTURE;
            while event::poll(wait)? {
                if let Event::Key(key) = event::read()? {
                    self.take(key);
                }
                wait = Duration::ZERO;
            }
            let now = Instant::now();
            let let_go = self.hand.pass_time(now);
            self.game.session_mut().keys(let_go);
            self.shown.frame = now.duration_since(last).as_secs_f32();
            last = now;
            self.game.pass_time(self.shown.frame);
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
            self.game.session_mut().keys(changes);
            return;
        }
        if key.kind == KeyEventKind::Release {
            return;
        }
        if key.modifiers.contains(KeyModifiers::CONTROL) {
            self.ended |= matches!(key.code, KeyCode::Char('c' | 'd'));
            return;
        }
        self.game.say("");
        let had_box = std::mem::take(&mut self.shown.help) || self.shown.rust.take().is_some();
        self.command(key.code, had_box);
    }

    fn command(&mut self, key: KeyCode, had_box: bool) {
        let game = &mut *self.game;
        match key {
            KeyCode::Esc if had_box => {}
            KeyCode::Char('q') | KeyCode::Esc => self.ended = true,
            KeyCode::Char('?' | 'h') => self.shown.help = !had_box,
            KeyCode::Char('p') if had_box => {}
            KeyCode::Char('p') => self.shown.rust = Some(game.as_rust()),
            KeyCode::Char(' ') => game.pause(!game.is_paused()),
            KeyCode::Char('.') => game.step(),
            KeyCode::Char(',') => game.step_back(),
            KeyCode::Enter => {
                let let_go = self.hand.release_all();
                game.session_mut().keys(let_go);
            }
            KeyCode::Tab => {
                game.next_actor();
                let letting = letting(self.reports, game);
                (self.hand, self.shown.letting) = (Hand::new(letting), letting);
            }
            KeyCode::Char('x') => game.restart(),
            KeyCode::Char('e') => game.attempt(Session::serve),
            KeyCode::Char('g') => game.toggle_through_walls(),
            KeyCode::Char('f') => self.shown.feelers = !self.shown.feelers,
            KeyCode::Char('[') => game.session_mut().choose_number(false),
            KeyCode::Char(']') => game.session_mut().choose_number(true),
            KeyCode::Char('-' | '_') => game.attempt(|session| session.change_number(false)),
            KeyCode::Char('+' | '=') => game.attempt(|session| session.change_number(true)),
            KeyCode::Char('u') => game.attempt(Session::undo_number),
            KeyCode::Char('r') => game.attempt(Session::revert_numbers),
            KeyCode::Char('m') => game.save_numbers(),
            KeyCode::Char('k') => game.keep_run(),
            _ => {}
        }
    }
}

fn letting(reports: bool, game: &Game<'_>) -> Letting {
    let tap = game.session().actor_in_hand().steps_by_tiles();
    if reports { Letting::Reported } else { Letting::Guessed { tap } }
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
