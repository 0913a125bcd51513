//! `compare`: values side by side, in figures and in a picture.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, GARDENER, scenario};

fn desk() -> Desk {
    let desk = Desk::new();
    desk.write("walk.toml", scenario(GARDENER));
    desk
}

#[rstest]
#[case::short_name("gardener.friction=100,400")]
#[case::whole_way("gardener.gait.friction=100,400")]
fn each_value_has_its_figures(#[case] vary: &str) {
    let assert = desk().ambulant(&format!("compare walk.toml --vary {vary}")).success();
    let words = String::from_utf8(assert.get_output().stdout.clone()).unwrap();
    let rows: Vec<Vec<&str>> = words.lines().map(|line| line.split_whitespace().collect()).collect();
    // From 60 units/s: 60 / f seconds and 60² / 2f units to stop.
    assert_eq!(rows[1][..7], ["100", "60", "0.135", "s", "0.6", "s", "18"], "{words}");
    assert_eq!(rows[2][..7], ["400", "60", "0.135", "s", "0.15", "s", "4.5"], "{words}");
    assert!(
        String::from_utf8_lossy(&assert.get_output().stderr)
            .contains("warning: gardener: friction 100 is weaker than acceleration 400")
    );
}

#[test]
fn two_numbers_give_the_grid_of_both_and_a_picture() {
    let desk = desk();
    let call =
        "compare walk.toml --vary gardener.top_speed=40,60,80 --vary gardener.friction=200,400 -o feel.svg";
    desk.ambulant(call).success().stdout(contains("\n 80, 400 ")).stdout(contains("drew feel.svg"));
    let svg = String::from_utf8(desk.read("feel.svg")).unwrap();
    assert!(svg.contains("6 feels") && svg.contains("40, 200") && svg.contains("stop distance"));
    let again = "compare walk.toml --vary gardener.friction=100,900 --out feel.png --tick-rate 30";
    desk.ambulant(again).success();
    assert!(desk.read("feel.png").starts_with(b"\x89PNG"));
}

#[test]
fn a_long_grid_keeps_the_order_of_its_values() {
    let values: Vec<String> = (1..=40).map(|value| (value * 10).to_string()).collect();
    let call = format!("compare walk.toml --vary gardener.friction={}", values.join(","));
    let assert = desk().ambulant(&call).success();
    let words = String::from_utf8(assert.get_output().stdout.clone()).unwrap();
    let first: Vec<&str> = words.lines().skip(1).filter_map(|line| line.split_whitespace().next()).collect();
    assert_eq!(first, values);
}

#[rstest]
#[case::no_actor("gardner.friction=1", "no actor is called `gardner`; did you mean `gardener`?")]
#[case::no_number("gardener.frction=1", "`gardener` has no number `frction` in the file")]
#[case::not_in_the_file("gardener.turning=1", "its numbers are `gait.acceleration`")]
#[case::bad_value("gardener.friction=0", "walk.toml:23:57")]
#[case::no_values("gardener.friction=", "is not a number")]
#[case::no_shape("friction", "write it as ACTOR.KEY=V1,V2")]
#[case::infinite("gardener.friction=inf", "friction is inf")]
#[case::three(
    "gardener.friction=1 --vary gardener.top_speed=1 --vary gardener.acceleration=1",
    "once or twice"
)]
#[case::two_actors("gardener.friction=1 --vary moth.top_speed=1", "must name the same actor")]
fn a_comparison_that_cannot_be_meant_is_refused(#[case] vary: &str, #[case] message: &str) {
    let desk = desk();
    desk.ambulant(&format!("compare walk.toml --vary {vary} -o feel.png")).code(2).stderr(contains(message));
    assert_eq!(desk.names(), ["walk.toml"]);
}

#[test]
fn so_many_runs_are_too_many() {
    let values = "1,".repeat(401);
    let call = format!("compare walk.toml --vary gardener.friction={}", values.trim_end_matches(','));
    desk()
        .ambulant(&call)
        .code(2)
        .stderr(contains("401 runs are more than 400").and(contains("fewer values")));
}
