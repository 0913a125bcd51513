//! `probe` and `check`: one question, many questions, and what is suspicious.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;
use serde_json::{Value, json};

use crate::harness::{Desk, GARDENER, pair, project_file, scenario};

fn room() -> Desk {
    let desk = Desk::new();
    desk.write("room.toml", scenario(GARDENER));
    desk
}

fn json(assert: &assert_cmd::assert::Assert) -> Vec<Value> {
    let text = String::from_utf8(assert.get_output().stdout.clone()).unwrap();
    serde_json::Deserializer::from_str(&text).into_iter().map(Result::unwrap).collect()
}

/// The bed of the room is the tile 3,2: 48 to 64 across, 32 to 48 down.
#[rstest]
#[case::slide("slide", (43.0, 52.0), (0.0, 12.0))]
#[case::bounce("bounce", (32.0, 52.0), (-30.0, 12.0))]
#[case::half_a_bounce("bounce:0.5", (37.5, 52.0), (-15.0, 12.0))]
#[case::stop("stop", (43.0, 47.6), (0.0, 0.0))]
#[case::pass_through("pass-through", (54.0, 52.0), (30.0, 12.0))]
fn each_response_ends_where_it_should(#[case] word: &str, #[case] end: (f64, f64), #[case] left: (f64, f64)) {
    let desk = room();
    let words =
        format!("probe room.toml --at 24,40 --footprint box:10,8 --move 30,12 --response {word} --json");
    let answer = &json(&desk.ambulant(&words).success())[0];
    let found = &answer["ends"][0];
    for (found, wanted) in [(&found["position"], end), (&found["velocity"], left)] {
        let (x, y) = pair(found);
        assert!((x - wanted.0).abs() < 1e-3 && (y - wanted.1).abs() < 1e-3, "{found} {wanted:?}");
    }
    assert_eq!(answer["hit"]["wall"], "raised bed 3,2");
    assert_eq!(answer["hit"]["normal"], json!([-1.0, 0.0]));
    assert!((answer["hit"]["fraction"].as_f64().unwrap() - 19.0 / 30.0).abs() < 1e-6);
    assert_eq!(answer["feelers"][0]["right"], 19.0);
}

#[test]
fn inside_a_wall_the_way_out_is_told_and_a_picture_is_drawn() {
    let desk = room();
    let words = "probe room.toml --at 50,40 --footprint circle:4 --move 0,0 --out probe.png";
    let told = desk.ambulant(words).success();
    told.stdout(contains("inside     raised bed 3,2, 6 deep").and(contains("way out    -6, 0 to 44, 40")));
    assert!(desk.read("probe.png").starts_with(b"\x89PNG"));
}

#[test]
fn questions_bring_their_own_walls_and_a_bad_one_does_not_stop_the_rest() {
    let desk = room();
    let lines = [
        json!({ "id": 7, "at": [0, 0], "move": [10, 0], "footprint": "circle:1",
                "walls": [{ "name": "butt", "circle": { "center": [6, 0], "radius": 2 } }] }),
        json!({ "id": "two", "at": [0, 0], "footprint": "triangle:1" }),
        json!({ "rows": ["..#"], "at": [0.5, 0.5], "move": [5, 0], "footprint": "box:0.5,0.5", "response": "pass-through" }),
        json!({ "at": [24, 40], "move": [30, 0], "footprint": "box:10,8" }),
        json!({ "at": [0, 0], "move": [10, 0], "footprint": "circle:1", "layers": ["net"],
                "walls": [{ "segment": { "from": [6, -1], "to": [6, 1] } }] }),
    ];
    let mut input: Vec<String> = lines.iter().map(Value::to_string).collect();
    input.insert(1, "{ \"at\": [1, ".to_owned());
    input.insert(2, String::new());
    let mut command = assert_cmd::Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
    let call = command.current_dir(desk.path("")).args(["probe", "room.toml", "--batch"]);
    let answers = json(&call.write_stdin(input.join("\n")).assert().code(1));
    assert_eq!(answers.len(), 6);
    assert_eq!((&answers[0]["id"], &answers[0]["hit"]["wall"]), (&json!(7), &json!("butt")));
    assert_eq!(answers[0]["hit"]["position"], json!([3.0, 0.0]));
    assert_eq!(answers[1]["line"], 2);
    assert!(answers[1]["error"].as_str().unwrap().contains("column"));
    assert_eq!((&answers[2]["line"], &answers[2]["id"]), (&json!(4), &json!("two")));
    assert!(answers[2]["error"].as_str().unwrap().contains("write box:WIDTH,HEIGHT or circle:RADIUS"));
    assert_eq!(answers[3]["ends"][0]["position"], json!([5.5, 0.5]));
    assert_eq!(answers[4]["hit"]["wall"], "raised bed 3,2");
    assert_eq!(answers[5]["hit"], Value::Null);
}

#[rstest]
#[case::no_place("probe room.toml --footprint box:1,1", "--at")]
#[case::footprint("probe room.toml --at 1,1 --footprint box:1", "write box:WIDTH,HEIGHT or circle:RADIUS")]
#[case::negative("probe room.toml --at 1,1 --footprint circle:-1", "radius is -1")]
#[case::place("probe room.toml --at 1;1 --footprint circle:1", "not two finite numbers")]
#[case::response("probe room.toml --at 1,1 --footprint circle:1 --response fly", "is no response")]
#[case::layer("probe room.toml --at 1,1 --footprint circle:1 --layers nets", "the layers here are solid")]
#[case::file("probe none.toml --at 1,1 --footprint circle:1", "cannot read none.toml")]
#[case::both("probe room.toml --batch --at 1,1", "cannot be used with")]
#[case::folder("probe room.toml --at 40,40 --footprint circle:1 --out no/where.png", "no file can be made")]
#[case::ray("draw room.toml --ray 1,1 -o a.png", "is not two positions")]
#[case::check("check none.toml", "cannot read none.toml")]
fn a_wrong_call_says_what_would_do(#[case] words: &str, #[case] message: &str) {
    room().ambulant(words).code(2).stderr(contains(message));
}

#[rstest]
#[case::gardener("gardener.toml")]
#[case::glasshouse("glasshouse.toml")]
#[case::door_and_net("door_and_net.toml")]
fn nothing_is_suspicious_about_a_demo(#[case] name: &str) {
    let desk = Desk::new();
    desk.write(name, project_file(&format!("demo/{name}")));
    desk.ambulant(&format!("check {name}")).success().stdout(contains("nothing found"));
}

const TRAPS: &str = include_str!("traps.toml");

#[rstest]
#[case::sealed("unreachable floor no actor can reach 1 tile: path 1,1")]
#[case::narrow("narrow gap        `cart` (1.5 by 1.5 units) does not fit through to 2 tiles")]
#[case::trap("one-way trap      `cart` can reach")]
#[case::start("start at a wall   `cart` starts against wall 3,0 on its bottom")]
#[case::unused("unused entry      no tile is a `pond`")]
#[case::not_in_a_mask("layer in no mask  walls lie on `solid`, but no actor has it in its `mask`")]
#[case::empty("empty layer       an actor has `fog` in its `mask`")]
fn check_finds(#[case] finding: &str) {
    let desk = Desk::new();
    desk.write("traps.toml", TRAPS);
    desk.ambulant("check traps.toml").code(1).stdout(contains(finding));
}

#[test]
fn check_counts_the_same_in_json() {
    let desk = Desk::new();
    desk.write("traps.toml", TRAPS);
    let document = &json(&desk.ambulant("check traps.toml --json").code(1))[0];
    let text = desk.ambulant("check traps.toml").code(1);
    let lines = String::from_utf8(text.get_output().stdout.clone()).unwrap().lines().skip(2).count();
    assert_eq!(document["findings"].as_array().unwrap().len(), lines);
}
