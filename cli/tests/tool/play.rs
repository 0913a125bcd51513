//! `play` in a pseudo-terminal: real key bytes go in, and what a person would see is read from the screen.

use std::io::{Read, Write};
use std::num::NonZero;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

use portable_pty::{Child, CommandBuilder, MasterPty, PtySize, native_pty_system};
use predicates::prelude::*;
use rstest::rstest;

use crate::harness::{Desk, project_file};

/// Longer than anything here takes, on a busy machine too.
const PATIENCE: Duration = Duration::from_secs(30);

/// The bytes of an arrow key that is pressed or let go, as a terminal that tells both sends them.
fn arrow(letter: char, down: bool) -> String {
    format!("\x1b[1;1:{}{letter}", if down { 1 } else { 3 })
}

/// A terminal with `ambulant play` in it.
struct Player {
    child: Box<dyn Child + Send + Sync>,
    keys: Arc<Mutex<Box<dyn Write + Send>>>,
    screen: Arc<Mutex<vt100::Parser>>,
    raw: Arc<Mutex<Vec<u8>>>,
    hangs_up: Arc<AtomicBool>,
    // Closing it would hang the terminal up.
    terminal: Box<dyn MasterPty + Send>,
}

impl Drop for Player {
    fn drop(&mut self) {
        // A test that failed leaves nobody behind.
        let _ = self.child.kill();
    }
}

impl Player {
    /// Starts it on a terminal that tells when keys are let go, or does not.
    fn start(desk: &Desk, words: &str, tells_releases: bool) -> Self {
        let (rows, cols) = (NonZero::new(44u16).expect("rows"), NonZero::new(150u16).expect("columns"));
        let size = PtySize { rows: rows.get(), cols: cols.get(), pixel_width: 0, pixel_height: 0 };
        let pair = native_pty_system().openpty(size).expect("a pseudo-terminal");
        let mut command = CommandBuilder::new(assert_cmd::cargo::cargo_bin!("ambulant"));
        command.args(["play"].into_iter().chain(words.split_whitespace()));
        command.cwd(desk.path(""));
        let child = pair.slave.spawn_command(command).expect("the tool starts");
        drop(pair.slave);
        let mut output = pair.master.try_clone_reader().expect("its output");
        let keys = Arc::new(Mutex::new(pair.master.take_writer().expect("its keys")));
        let screen = Arc::new(Mutex::new(vt100::Parser::new(rows, cols, 0)));
        let raw = Arc::new(Mutex::new(Vec::new()));
        let hangs_up = Arc::new(AtomicBool::new(false));
        let to_hang_up = Arc::clone(&hangs_up);
        let (to_screen, to_raw, answers) = (Arc::clone(&screen), Arc::clone(&raw), Arc::clone(&keys));
        std::thread::spawn(move || {
            let mut bytes = [0; 4096];
            while let Ok(count @ 1..) = output.read(&mut bytes) {
                if to_hang_up.load(Ordering::Relaxed) {
                    break;
                }
                let part = &bytes[..count];
                to_screen.lock().expect("the screen").process(part);
                to_raw.lock().expect("the bytes").extend_from_slice(part);
                // The question that terminals answer: what of the keyboard they tell, and who they are.
                if part.windows(3).any(|three| three == b"\x1b[c") {
                    let answer: &[u8] = if tells_releases { b"\x1b[?0u\x1b[?62;c" } else { b"\x1b[?62;c" };
                    let mut keys = answers.lock().expect("the keys");
                    keys.write_all(answer).and_then(|()| keys.flush()).expect("an answer");
                }
            }
        });
        let player = Self { child, keys, screen, raw, hangs_up, terminal: pair.master };
        player.wait_for("tick");
        player
    }

    fn press(&self, bytes: impl AsRef<[u8]>) {
        let mut keys = self.keys.lock().expect("the keys");
        keys.write_all(bytes.as_ref()).and_then(|()| keys.flush()).expect("a key");
    }

    fn shows(&self) -> String {
        self.screen.lock().expect("the screen").screen().contents()
    }

    #[track_caller]
    fn wait_until(&self, wanted: &str, is_so: impl Fn(&str) -> bool) -> String {
        let start = Instant::now();
        loop {
            let shown = self.shows();
            if is_so(&shown) {
                return shown;
            }
            assert!(start.elapsed() < PATIENCE, "never saw {wanted}; the screen is\n{shown}");
            std::thread::sleep(Duration::from_millis(5));
        }
    }

    #[track_caller]
    fn wait_for(&self, text: &str) -> String {
        self.wait_until(text, |shown| shown.contains(text))
    }

    /// How many cells show the terminal's own background.
    fn bare_cells(&self) -> usize {
        let parser = self.screen.lock().expect("the screen");
        let screen = parser.screen();
        let (rows, columns) = screen.size();
        let cells = (0..rows.get()).flat_map(|row| (0..columns.get()).map(move |column| (row, column)));
        let is_bare = |cell: &vt100::Cell| cell.bgcolor() == vt100::Color::Default;
        cells.filter(|(row, column)| is_bare(screen.cell(*row, *column).expect("a cell"))).count()
    }

    /// What stands after a word of the side panel.
    fn value(&self, name: &str) -> String {
        let shown = self.shows();
        let found =
            shown.lines().find_map(|line| line.split_once(&format!("{name} "))?.1.trim().to_owned().into());
        found.unwrap_or_default()
    }

    fn numbers(&self, name: &str) -> Vec<f64> {
        let value = self.value(name);
        value.split_whitespace().map_while(|word| word.trim_end_matches(',').parse().ok()).collect()
    }

    /// The tick that the side panel shows.
    fn tick(&self) -> u32 {
        let shown = self.shows();
        let after = shown.split_once("s, tick ").and_then(|(_, after)| after.split_whitespace().next());
        after.and_then(|tick| tick.parse().ok()).unwrap_or(0)
    }

    /// Waits for a walk of some ticks.
    fn wait_ticks(&self, count: u32) {
        let start = self.tick();
        self.wait_until("the ticks go on", |_| self.tick() >= start + count);
    }

    /// Closes the terminal, as a window that is closed does; whether the tool ended.
    fn hang_up(mut self) -> bool {
        self.hangs_up.store(true, Ordering::Relaxed);
        std::thread::sleep(Duration::from_millis(200));
        // All that holds the terminal open, but for the child.
        let nobody: Box<dyn Write + Send> = Box::new(std::io::sink());
        *self.keys.lock().expect("the keys") = nobody;
        let size = PtySize::default();
        self.terminal = native_pty_system().openpty(size).expect("another terminal").master;
        // A program that another test starts in the moment between holds the terminal open until it ends.
        let start = Instant::now();
        while start.elapsed() < 4 * PATIENCE {
            if self.child.try_wait().expect("its state").is_some() {
                return true;
            }
            std::thread::sleep(Duration::from_millis(20));
        }
        self.child.kill().expect("it can be ended");
        false
    }

    /// Waits for the end; the exit status, all bytes, and what is left on the screen.
    fn end(mut self) -> (u32, String, String) {
        let status = self.child.wait().expect("it ends");
        std::thread::sleep(Duration::from_millis(100));
        let raw = String::from_utf8_lossy(&self.raw.lock().expect("the bytes")).into_owned();
        (status.exit_code(), raw, self.shows())
    }
}

fn desk_with(demo: &str) -> Desk {
    let desk = Desk::new();
    desk.write("walk.toml", project_file(&format!("demo/{demo}.toml")));
    desk
}

#[test]
fn a_key_moves_until_it_is_let_go_and_the_terminal_comes_back() {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", true);
    player.press(arrow('C', true));
    player.wait_for("started moving right");
    // Longer than any wait for a repeat.
    player.wait_ticks(60);
    assert_eq!(player.numbers("intent")[..2], [1.0, 0.0]);
    player.press(arrow('C', false));
    player.wait_for("came to rest");
    assert_eq!(player.numbers("velocity"), [0.0, 0.0]);
    player.press("q");
    let (status, raw, _) = player.end();
    assert_eq!(status, 0);
    let left = raw.rfind("\x1b[?1049l").expect("the picture was taken away");
    assert!(raw[left..].contains("\x1b[?25h"), "the cursor is shown again");
    assert!(raw.contains("\x1b[<1u"), "the keyboard is as it was");
}

/// Light letters on a light terminal could not be read: no cell shows the terminal's own background, with help or without.
#[rstest]
#[case::the_view("")]
#[case::with_help("?")]
fn the_view_brings_its_own_background(#[case] keys: &str) {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", true);
    player.press(keys);
    player.wait_for(if keys.is_empty() { "velocity" } else { "free distance" });
    // A picture may come in parts.
    player.wait_until("a background everywhere", |_| player.bare_cells() == 0);
}

#[test]
fn a_terminal_that_tells_no_releases_holds_a_key_while_it_repeats() {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", false);
    player.press("d");
    player.wait_for("started moving right");
    for _ in 0..20 {
        player.press("d");
        std::thread::sleep(Duration::from_millis(40));
    }
    // Nobody says that the key was let go.
    player.wait_for("came to rest");
    player.press("q");
    assert_eq!(player.end().0, 0);
}

/// Keys down and up, and how many ticks later the next ones come.
const WAYS: [(char, bool, u32); 6] =
    [('C', true, 40), ('B', true, 13), ('C', false, 21), ('B', false, 5), ('A', true, 30), ('A', false, 9)];

#[rstest]
#[case::a_gait("gardener")]
#[case::a_glide("moth")]
#[case::a_helm("lawn_roller")]
#[case::steps_among_others("rail_cart")]
#[case::a_paddle_with_a_ball("dewdrop")]
#[case::doors_and_nets("door_and_net")]
fn what_was_played_runs_again_to_the_last_bit(#[case] demo: &str) {
    let desk = desk_with(demo);
    let player = Player::start(&desk, "walk.toml", true);
    for (key, down, ticks) in WAYS {
        player.press(arrow(key, down));
        player.wait_ticks(ticks);
    }
    player.press("k");
    player.wait_for("to the last bit");
    player.press("q");
    assert_eq!(player.end().0, 0);
    // Its ends are expected within 0.
    desk.ambulant("run walk-played.toml").success().stdout(predicate::str::contains("within 0"));
    // Of the rest of the file nothing is lost.
    let kept = String::from_utf8(desk.read("walk-played.toml")).expect("text");
    assert!(kept.starts_with(project_file(&format!("demo/{demo}.toml")).lines().next().expect("a comment")));
}

#[test]
fn back_and_forth_is_the_same_place() {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", true);
    player.press(arrow('C', true));
    player.wait_ticks(12);
    player.press(" ");
    player.wait_for("paused");
    let state = || (player.value("time"), player.value("position"), player.value("velocity"));
    let (before, tick) = (state(), player.tick());
    for _ in 0..5 {
        player.press(",");
    }
    player.wait_until("five ticks ago", |_| player.tick() == tick - 5);
    assert_ne!(state().1, before.1);
    for done in (0..5).rev() {
        player.press(".");
        player.wait_until("the next tick", |_| player.tick() == tick - done);
    }
    assert_eq!(state(), before);
    player.press("q");
    player.end();
}

#[test]
fn a_changed_number_is_felt_shown_and_saved_with_the_layout_of_the_file() {
    let desk = desk_with("gardener");
    let before = project_file("demo/gardener.toml");
    let player = Player::start(&desk, "walk.toml", true);
    player.press("+++"); // the top speed: 62, 64, 66
    player.wait_for("66  (file: 60)");
    player.press("p");
    player.wait_for("Gait::new(66.0, 400.0, 500.0)?");
    player.press("p");
    player.press(arrow('C', true));
    player.wait_until("the new top speed", |_| player.numbers("velocity").first() == Some(&66.0));
    player.press("m");
    player.wait_for("saved the numbers");
    player.press("]+q");
    let (status, _, left) = player.end();
    assert_eq!(status, 0);
    assert_eq!(desk.read("walk.toml"), before.replace("top_speed = 60,", "top_speed = 66,").as_bytes());
    assert!(left.contains("as Rust: Gait::new(66.0, 420.0, 500.0)?"), "{left}");
    assert!(left.contains("not saved: gait.acceleration = 420 (file: 400)"), "{left}");
}

#[test]
fn through_walls_and_a_run_that_says_so() {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", true);
    player.press("g");
    player.wait_for("walks through walls");
    player.press(arrow('A', true));
    player.wait_until("the glass wall is walked through", |_| {
        player.numbers("position").get(1).is_some_and(|y| *y < 0.0)
    });
    player.press("k");
    player.wait_for("run goes another way");
    player.press("x");
    player.wait_for("from the start");
    player.press("q");
    player.end();
    assert!(
        String::from_utf8_lossy(&desk.read("walk-played.toml"))
            .starts_with("# Played with numbers or walls changed")
    );
}

#[rstest]
#[case("TERM")]
#[case("INT")]
#[case("HUP")]
fn a_signal_gives_the_terminal_back(#[case] signal: &str) {
    let desk = desk_with("gardener");
    let player = Player::start(&desk, "walk.toml", true);
    let id = player.child.process_id().expect("it runs").to_string();
    // The shell's own `kill`: not every machine has a program of that name.
    let sent = std::process::Command::new("sh").args(["-c", &format!("kill -s {signal} {id}")]).status();
    assert!(sent.expect("a shell").success());
    let (_, raw, _) = player.end();
    assert!(raw.contains("\x1b[?1049l") && raw.contains("\x1b[<1u"));
}

#[test]
fn a_window_that_is_closed_leaves_nobody_behind() {
    let desk = desk_with("gardener");
    assert!(Player::start(&desk, "walk.toml", true).hang_up());
}

#[rstest]
#[case::no_terminal("play walk.toml", "play needs a terminal")]
#[case::no_such_actor("play walk.toml --actor moth", "there are: gardener")]
#[case::no_such_file("play night.toml", "cannot read night.toml")]
fn what_cannot_be_played_is_said(#[case] words: &str, #[case] message: &str) {
    desk_with("gardener").ambulant(words).code(2).stderr(predicate::str::contains(message));
}
