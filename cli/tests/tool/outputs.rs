//! Where an answer or a file cannot go: told in one line, and what was there before stays as it was.
#![cfg(target_os = "linux")]

use std::fs::File;
use std::process::{Command, Stdio};
use std::time::Duration;

use predicates::prelude::*;
use rstest::rstest;

use crate::harness::{Desk, project_file};

/// A folder with a scenario and what the outputs of an earlier call left there.
fn desk() -> Desk {
    let desk = Desk::new();
    desk.write("gardener.toml", project_file("demo/gardener.toml"));
    for name in OUTPUTS {
        desk.write(name, "from before");
    }
    desk
}

const OUTPUTS: [&str; 4] = ["map.png", "feel.svg", "run.csv", "page.html"];

/// A call through a shell, which can do to it what a terminal or a disk would.
fn in_shell(desk: &Desk, line: &str) -> assert_cmd::assert::Assert {
    let tool = assert_cmd::cargo::cargo_bin!("ambulant").display().to_string();
    let mut shell = assert_cmd::Command::new("sh");
    shell.current_dir(desk.path("")).env("AMBULANT", tool).args(["-c", line]).assert()
}

/// Colours are for terminals; `CLICOLOR_FORCE` is what a terminal means to the tool.
#[rstest]
#[case::run("run gardener.toml", "\u{1b}[1mSummary")]
#[case::check("check gardener.toml", "\u{1b}[32mnothing found")]
#[case::compare(
    "compare gardener.toml --vary gardener.acceleration=60,240",
    "\u{1b}[1m gardener acceleration"
)]
fn colours_are_for_terminals(#[case] call: &str, #[case] painted: &str) {
    let desk = desk();
    let tool = |settings: &str| in_shell(&desk, &format!("{settings} \"$AMBULANT\" {call}")).success();
    tool("CLICOLOR_FORCE=1").stdout(predicate::str::contains(painted));
    for plain in ["", "NO_COLOR=1"] {
        tool(plain).stdout(predicate::str::contains("\u{1b}").not());
    }
}

#[rstest]
#[case::run("run gardener.toml")]
#[case::run_in_json("run gardener.toml --json")]
#[case::check("check gardener.toml")]
#[case::compare("compare gardener.toml --vary gardener.acceleration=60,240")]
#[case::probe("probe gardener.toml --at 190,90 --footprint circle:6 --move 60,20")]
#[case::fingerprints("demo --fingerprints")]
fn a_full_disk_takes_no_answer_and_it_is_said(#[case] call: &str) {
    let full = File::options().write(true).open("/dev/full").expect("a disk that is always full");
    let mut tool = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
    let tool = tool.args(call.split_whitespace()).stdout(full);
    let desk = desk();
    let output = tool.current_dir(desk.path("")).output().expect("a call");
    assert_eq!(output.status.code(), Some(2));
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert_eq!(said.trim_end(), "error: cannot print the result: No space left on device (os error 28)");
}

#[rstest]
#[case::run("run gardener.toml", "run.csv", "--record")]
#[case::draw("draw gardener.toml", "map.png", "-o")]
#[case::compare("compare gardener.toml --vary gardener.acceleration=60,240", "feel.svg", "-o")]
#[case::report("report gardener.toml", "page.html", "-o")]
fn a_file_that_cannot_be_written_leaves_the_old_one(
    #[case] call: &str,
    #[case] name: &str,
    #[case] option: &str,
) {
    let desk = desk();
    // Where the disk ends after a few thousand bytes.
    in_shell(&desk, &format!("trap '' XFSZ; ulimit -f 1; \"$AMBULANT\" {call} {option} {name}"))
        .code(2)
        .stderr(predicate::str::contains(format!("cannot write {name}: File too large")));
    // Where no file can be made, and where it would take the place of something else.
    in_shell(&desk, &format!("\"$AMBULANT\" {call} {option} /proc/{name}"))
        .code(2)
        .stderr(predicate::str::contains(format!("cannot write /proc/{name}: no file can be made in /proc")));
    in_shell(&desk, &format!("mkfifo pipe-{name} && \"$AMBULANT\" {call} {option} pipe-{name}"))
        .code(2)
        .stderr(predicate::str::contains("it is a device or a pipe, which a file would replace"));
    for name in OUTPUTS {
        assert_eq!(desk.read(name), b"from before", "{name}");
    }
    let drafts = desk.names().into_iter().filter(|name| name.starts_with(".ambulant-"));
    assert_eq!(drafts.count(), 0);
}

#[rstest]
#[case::run("run gardener.toml --json")]
#[case::fingerprints("demo --fingerprints")]
fn a_reader_that_has_seen_enough_is_no_failure(#[case] call: &str) {
    let line = format!("{{ \"$AMBULANT\" {call}; echo \"status $?\" >&2; }} | head -c 20 >/dev/null");
    in_shell(&desk(), &line).success().stderr("status 0\n");
}

/// Interrupted after so many files have been seen in its folder.
#[rstest]
#[case::early(1)]
#[case::in_the_middle(4)]
#[case::later(9)]
fn an_interrupted_call_leaves_whole_files(#[case] files: usize) {
    let whole = Desk::new();
    whole.ambulant("demo").success();
    let desk = Desk::new();
    let made = || -> Vec<String> {
        let entries = std::fs::read_dir(desk.path("glasshouse")).into_iter().flatten();
        let names = entries.map(|entry| entry.expect("an entry").file_name().to_string_lossy().into_owned());
        names.filter(|name| !name.starts_with(".ambulant-")).collect()
    };
    let mut tool = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
    let tool = tool.current_dir(desk.path("")).arg("demo").stdout(Stdio::null());
    let mut tool = tool.spawn().expect("a call");
    while made().len() < files {
        assert!(tool.try_wait().expect("its state").is_none(), "it ended with {} files", made().len());
        std::thread::sleep(Duration::from_millis(1));
    }
    Command::new("kill").args(["-INT", &tool.id().to_string()]).status().expect("an interrupt");
    tool.wait().expect("an end");
    let made = made();
    assert!(made.len() >= files);
    for name in made {
        let read = |desk: &Desk| desk.read(&format!("glasshouse/{name}"));
        assert!(read(&desk) == read(&whole), "{name} is half written");
    }
}
