//! What docs/limits.md states of the tool: whatever is larger is refused with the limit and with what would do, before
//! anything is written.

use predicates::prelude::PredicateBooleanExt;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, GARDENER, scenario};

#[test]
fn a_scenario_has_so_many_bytes() {
    let desk = Desk::new();
    let file = std::fs::File::create(desk.path("beds.toml")).expect("a file");
    file.set_len((64 << 20) + 1).expect("room");
    desk.ambulant("run beds.toml")
        .code(2)
        .stderr(contains("cannot read beds.toml: it is larger than 64 MiB"));
}

#[test]
fn a_scenario_has_so_many_words_values_and_signs() {
    let desk = Desk::new();
    desk.write("beds.toml", format!("seconds = [\n{}]\n", "1,\n".repeat(700_000)));
    desk.ambulant("run beds.toml")
        .code(2)
        .stderr(contains("the file has more than 2000000 words, values and signs"))
        .stderr(contains("beds.toml:666666:").and(contains("move the map into a CSV or PNG file")));
}

#[rstest]
#[case::rate("run room.toml --tick-rate 10001", "at most 10000; try 60")]
#[case::rate_of_nothing("run room.toml --tick-rate 0", "above 0")]
#[case::runs(
    "compare room.toml --vary gardener.top_speed=VALUES -o out.svg",
    "401 runs are more than 400; give fewer values"
)]
#[case::rows("report room.toml --tick-rate 9999 -o out.html", "too many for a page; at most 216000")]
fn a_call_asks_for_no_more_than_there_is(#[case] words: &str, #[case] why: &str) {
    let values: Vec<String> = (1..=401).map(|value| value.to_string()).collect();
    let desk = Desk::new();
    let long = scenario(GARDENER).replace("seconds = 4", "seconds = 40");
    desk.write("room.toml", long);
    desk.write("out.svg", "before");
    desk.ambulant(&words.replace("VALUES", &values.join(","))).code(2).stderr(contains(why));
    assert_eq!(desk.names(), ["out.svg", "room.toml"]);
    assert_eq!(desk.read("out.svg"), b"before");
}

/// A question of so many bytes, with its end of line.
fn question(bytes: usize) -> String {
    let asked = |name: &str| {
        format!(
            "{{\"at\": [0.5, 0.5], \"move\": [9, 0], \"footprint\": \"circle:0.2\", \"rows\": [\"..#\"], \"id\": \"{name}\"}}\n"
        )
    };
    asked(&"x".repeat(bytes - asked("").len()))
}

#[test]
fn a_question_has_so_many_bytes_and_the_others_are_answered() {
    let most = 1 << 20;
    let asked = [question(most), question(most + 1), question(200)].concat();
    let desk = Desk::new();
    let answers = desk.ambulant_fed("probe --batch", &asked).code(1);
    let lines: Vec<serde_json::Value> = String::from_utf8_lossy(&answers.get_output().stdout)
        .lines()
        .map(|line| serde_json::from_str(line).expect("an answer"))
        .collect();
    let refused: Vec<bool> = lines.iter().map(|line| line.get("error").is_some()).collect();
    assert_eq!(refused, [false, true, false], "{:?}", lines[1]);
    assert_eq!(lines[1]["line"], 2);
    assert!(lines[1]["error"].as_str().expect("a text").contains("longer than 1048576 bytes"));
}
