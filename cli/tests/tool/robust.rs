//! Whatever a file or a question says, the tool answers or refuses; it never breaks down.

use assert_cmd::Command;
use proptest::prelude::*;
use proptest::test_runner::{Config, RngSeed, TestRunner};
use rstest::rstest;

use crate::harness::{Desk, project_file};

/// Plays a number of random cases, the same at every run.
fn for_all<S: Strategy>(number: u32, strategy: S, test: impl Fn(S::Value) -> Result<(), TestCaseError>) {
    let config =
        Config { cases: number, failure_persistence: None, rng_seed: RngSeed::Fixed(7), ..Config::default() };
    TestRunner::new(config).run(&strategy, test).unwrap_or_else(|failure| panic!("{failure}"));
}

/// One change to a text: a place, how much is taken out, and what is put there.
fn change() -> impl Strategy<Value = (prop::sample::Index, usize, String)> {
    let junk = prop::sample::select(vec![
        "",
        "0",
        "-1",
        "1e39",
        "nan",
        "inf",
        "\"",
        "[",
        "]",
        "{}",
        "= ",
        "\n",
        "é",
        "[[actor]]\n",
        "true",
        "99999999",
    ]);
    (any::<prop::sample::Index>(), 0usize..12, junk.prop_map(str::to_owned))
}

/// Exit status 0, 1 or 2, and something said: never a breakdown.
fn answers(status: Option<i32>, said: bool) -> Result<(), TestCaseError> {
    prop_assert!(matches!(status, Some(0..=2)), "it ended with {status:?}");
    prop_assert!(said, "it said nothing");
    Ok(())
}

#[rstest]
#[case::gardener("gardener.toml")]
#[case::door("door_and_net.toml")]
#[case::cart("rail_cart.toml")]
#[case::dewdrop("dewdrop.toml")]
#[case::field("night_field.toml")]
fn a_spoilt_scenario_is_played_or_refused(#[case] name: &str) {
    let good = project_file(&format!("demo/{name}"));
    // A short run, so that many fit.
    let good: String = good
        .lines()
        .map(
            |line| {
                if line.starts_with("seconds") { "seconds = 0.5\n".to_owned() } else { format!("{line}\n") }
            },
        )
        .collect();
    for_all(24, prop::collection::vec(change(), 1..3), |changes| {
        let mut text: Vec<char> = good.chars().collect();
        for (place, length, junk) in changes {
            let start = place.index(text.len());
            let end = (start + length).min(text.len());
            text.splice(start..end, junk.chars());
        }
        let desk = Desk::new();
        desk.write("spoilt.toml", text.into_iter().collect::<String>());
        for command in ["run", "check"] {
            let mut call = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
            let call = call.current_dir(desk.path("")).args([command, "spoilt.toml"]);
            let output = call.output().expect("a call");
            answers(output.status.code(), !output.stdout.is_empty() || !output.stderr.is_empty())?;
        }
        Ok(())
    });
}

#[test]
fn every_line_of_junk_gets_one_answer() {
    let number = prop::sample::select(vec!["0", "1", "-3.5", "1e9", "1e39", "null", "\"x\"", "[1]", "-0.0"]);
    let field = |name: &'static str, value: &str| format!("\"{name}\":{value}");
    let line = (number.clone(), number.clone(), number.clone(), number, 0u8..6).prop_map(move |(a, b, c, d, kind)| {
        let walls = match kind {
            0 => field("rows", "[\"..#\",\"#..\"]"),
            1 => field("walls", &format!("[{{\"circle\":{{\"center\":[{a},{b}],\"radius\":{c}}}}}]")),
            2 => field("walls", &format!("[{{\"polygon\":[[{a},{b}],[{c},{d}],[1,1]]}}]")),
            3 => field("walls", &format!("[{{\"segment\":{{\"from\":[{a},{b}],\"to\":[{c},{d}]}}}}]")),
            4 => field("rows", "[]"),
            _ => field("nonsense", "1"),
        };
        format!("{{\"at\":[{c},{d}],\"move\":[{a},{d}],\"footprint\":\"box:1,2\",\"response\":\"round-corner:2\",{walls}}}")
    });
    for_all(20, prop::collection::vec(line, 1..30), |lines| {
        let mut call = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
        let output = call.args(["probe", "--batch"]).write_stdin(lines.join("\n")).output().expect("a call");
        answers(output.status.code(), !output.stdout.is_empty())?;
        let answered = String::from_utf8(output.stdout).expect("text");
        prop_assert_eq!(answered.lines().count(), lines.len());
        for line in answered.lines() {
            let value: serde_json::Value = serde_json::from_str(line).expect("JSON");
            prop_assert!(value.get("error").is_some() != value.get("ends").is_some());
        }
        Ok(())
    });
}
