//! The terminal, taken for a while and given back on every way out: at the end, on errors, panics and signals.

use std::fs::File;
use std::io::{self, Stdout, Write};
use std::os::fd::AsFd;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

use ratatui::backend::CrosstermBackend;
use ratatui::crossterm::cursor::{Hide, Show};
use ratatui::crossterm::event::{
    KeyboardEnhancementFlags, PopKeyboardEnhancementFlags, PushKeyboardEnhancementFlags,
};
use ratatui::crossterm::terminal::{
    EnterAlternateScreen, LeaveAlternateScreen, disable_raw_mode, enable_raw_mode,
    supports_keyboard_enhancement,
};
use ratatui::crossterm::{execute, queue};
use signal_hook::consts::{SIGHUP, SIGINT, SIGTERM};
use signal_hook::iterator::Signals;

/// How long the loop has to end by itself after a signal.
const GRACE: Duration = Duration::from_millis(500);

/// A terminal in the hands of this program.
pub(crate) struct Terminal {
    screen: ratatui::Terminal<CrosstermBackend<Stdout>>,
    reports_releases: bool,
    ended: Arc<AtomicBool>,
}

impl Terminal {
    /// Takes over the terminal; asks it to report key releases, unless `ask` says not to.
    ///
    /// # Errors
    /// When there is none, or it cannot be set up.
    pub(crate) fn take(ask: bool) -> io::Result<Self> {
        let ended = Arc::new(AtomicBool::new(false));
        end_on_signals(Arc::clone(&ended))?;
        give_back_on_panic();
        enable_raw_mode()?;
        // From here on whatever fails gives the terminal back.
        let reports_releases = ask && supports_keyboard_enhancement().unwrap_or(false);
        let set_up = || -> io::Result<_> {
            execute!(io::stdout(), EnterAlternateScreen, Hide)?;
            if reports_releases {
                let flags = KeyboardEnhancementFlags::DISAMBIGUATE_ESCAPE_CODES
                    | KeyboardEnhancementFlags::REPORT_EVENT_TYPES
                    | KeyboardEnhancementFlags::REPORT_ALL_KEYS_AS_ESCAPE_CODES;
                execute!(io::stdout(), PushKeyboardEnhancementFlags(flags))?;
            }
            ratatui::Terminal::new(CrosstermBackend::new(io::stdout()))
        };
        match set_up() {
            Ok(screen) => Ok(Self { screen, reports_releases, ended }),
            Err(error) => {
                give_back(io::stdout(), reports_releases);
                Err(error)
            }
        }
    }

    /// Whether it reports key releases.
    pub(crate) fn reports_releases(&self) -> bool {
        self.reports_releases
    }

    /// Draws one picture.
    ///
    /// # Errors
    /// When the terminal is gone.
    pub(crate) fn draw(&mut self, draw: impl FnOnce(&mut ratatui::Frame<'_>)) -> io::Result<()> {
        self.screen.draw(draw).map(|_| ())
    }

    /// Whether a signal asked for the end.
    pub(crate) fn is_asked_to_end(&self) -> bool {
        self.ended.load(Ordering::Relaxed)
    }
}

impl Drop for Terminal {
    fn drop(&mut self) {
        give_back(io::stdout(), self.reports_releases);
    }
}

/// Gives the terminal back as it was; what fails is passed over, since the rest must still be tried.
fn give_back(mut out: impl Write, reports_releases: bool) {
    if reports_releases {
        let _ = queue!(out, PopKeyboardEnhancementFlags);
    }
    let _ = execute!(out, LeaveAlternateScreen, Show);
    let _ = out.flush();
    let _ = disable_raw_mode();
}

/// Notes signals that ask for the end, and sees to it that it comes.
fn end_on_signals(ended: Arc<AtomicBool>) -> io::Result<()> {
    let mut signals = Signals::new([SIGTERM, SIGINT, SIGHUP])?;
    std::thread::spawn(move || {
        if signals.forever().next().is_some() {
            ended.store(true, Ordering::Relaxed);
            // The picture's loop ends within this time, unless it reads from a terminal that is gone.
            std::thread::sleep(GRACE);
            // That loop holds the lock of the standard output, so this must not wait for it.
            if let Ok(out) = io::stdout().as_fd().try_clone_to_owned() {
                give_back(File::from(out), true);
            }
            std::process::exit(1);
        }
    });
    Ok(())
}

/// A panic's message would be drawn over and lost.
fn give_back_on_panic() {
    let before = std::panic::take_hook();
    std::panic::set_hook(Box::new(move |panic| {
        give_back(io::stdout(), false);
        before(panic);
    }));
}
