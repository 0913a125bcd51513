//! Everything that can be wrong with a scenario or a call: one message, with its place.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, GARDENER, scenario};

/// Changes one thing in the good scenario; the message must name it and its line and column.
#[rstest]
#[case::unknown_key(
    "top_speed = 60",
    "topspeed = 60",
    "unknown key `topspeed`",
    "23:10",
    "did you mean `top_speed`?"
)]
#[case::nothing_near(
    "start = [24, 40]",
    "at = [24, 40]",
    "unknown key `at`",
    "21:1",
    "the keys here are `name`, "
)]
#[case::unknown_value(
    "tile_size = 16",
    "tile_size = 16\noutside = \"blocked\"",
    "unknown value `blocked`",
    "6:11",
    "did you mean `block`?"
)]
#[case::missing_key("start = [24, 40]\n", "", "missing field `start`", "20:8", "")]
#[case::uneven(
    "\"#......#\",\n  \"#..b",
    "\"#.....#\",\n  \"#..b",
    "map row 2 has 7 tiles, but row 1 has 8",
    "8:3",
    "make all rows equally long"
)]
#[case::glyph(
    "#..b...#",
    "#..b.~.#",
    "'~' in map row 3, column 6 is not in the legend",
    "9:9",
    "to [map.legend]"
)]
#[case::long_glyph("\"b\" =", "\"bed\" =", "a legend key is one character, not \"bed\"", "16:1", "")]
#[case::no_rows(
    "  \"########\",\n  \"#......#\",\n  \"#..b...#\",\n  \"#......#\",\n  \"########\",\n",
    "",
    "the map has no tiles",
    "6:8",
    ""
)]
#[case::inside_a_wall(
    "start = [24, 40]",
    "start = [52, 40]",
    "`gardener` starts inside a wall",
    "21:9",
    "its footprint covers raised bed 3,2"
)]
#[case::outside(
    "start = [24, 40]",
    "start = [-24, 40]",
    "`gardener` starts outside the map",
    "21:9",
    "the map covers x 0 to 128, y 0 to 80"
)]
#[case::nan(
    "top_speed = 60",
    "top_speed = nan",
    "top_speed is NaN",
    "23:22",
    "a finite number above 0 (units/s)"
)]
#[case::infinite("friction = 500", "friction = inf", "friction is inf", "23:57", "(units/s²)")]
#[case::negative("acceleration = 400", "acceleration = -400", "acceleration is -400", "23:41", "above 0")]
#[case::zero("box = [10, 8]", "box = [0, 8]", "width is 0", "22:21", "above 0 (units)")]
#[case::tile_of_words("tile_size = 16", "tile_size = \"big\"", "a number or [width, height]", "5:13", "")]
#[case::tile_of_three("tile_size = 16", "tile_size = [1, 2, 3]", "[width, height]", "5:13", "")]
#[case::flat_tile("tile_size = 16", "tile_size = [16, 0]", "tile_height is 0", "5:13", "")]
#[case::zero_tile("tile_size = 16", "tile_size = 0", "tile_size is 0", "5:13", "")]
#[case::nan_origin("tile_size = 16", "tile_size = 16\norigin = [nan, 0]", "origin is (NaN, 0)", "6:10", "")]
#[case::nan_start(
    "start = [24, 40]",
    "start = [nan, 40]",
    "the start of `gardener` is not a finite place",
    "21:9",
    ""
)]
#[case::back_in_time(
    "press = \"right\" },",
    "press = \"right\" }, { at = 0.4, release = \"all\" },",
    "0.4 s comes after 0.5 s",
    "25:41",
    "in order of time"
)]
#[case::after_the_end("at = 0.5", "at = 4.5", "4.5 s is not within the run of 4 s", "25:10", "or `seconds`")]
#[case::key_name("\"right\"", "\"rihgt\"", "unknown key name `rihgt`", "25:23", "did you mean `right`?")]
#[case::held_twice(
    "press = \"right\" },",
    "press = \"right\" }, { at = 1, press = \"right\" },",
    "`right` is pressed at 1 s while it is still held",
    "25:52",
    "release it first"
)]
#[case::no_step("press = \"right\"", "", "neither presses nor releases", "25:3", "")]
#[case::no_time("seconds = 4", "seconds = 0", "seconds is 0", "2:11", "above 0")]
#[case::format("format = 1", "format = 7", "format 7 is not known", "1:10", "this tool reads format = 1")]
#[case::rate("seconds = 4", "seconds = 4\ntick_rate = -1", "tick_rate is -1", "3:13", "at most 10000")]
#[case::too_long("seconds = 4", "seconds = 80000", "is over 2000000 ticks", "2:11", "shorten the run")]
#[case::not_toml("seconds = 4", "seconds = = 4", "", "2:11", "")]
#[case::wrong_type("seconds = 4", "seconds = \"four\"", "invalid type", "2:11", "")]
fn a_wrong_scenario_is_explained_with_its_place(
    #[case] good: &str,
    #[case] bad: &str,
    #[case] message: &str,
    #[case] place: &str,
    #[case] help: &str,
) {
    let desk = Desk::new();
    let text = scenario(GARDENER);
    assert!(text.contains(good), "{good}");
    desk.write("bad.toml", text.replacen(good, bad, 1));
    desk.ambulant("run bad.toml")
        .code(2)
        .stdout("")
        .stderr(contains(message))
        .stderr(contains(format!("bad.toml:{place}\n")))
        .stderr(contains(help));
}

#[rstest]
#[case::unknown_actor(
    "actor = \"gardner\"\nat_rest = true",
    "no actor is called `gardner`",
    "did you mean `gardener`?"
)]
#[case::unknown_kind(
    "actor = \"gardener\"\ntouching = \"raised beds\"",
    "no tile, obstacle or actor is called `raised beds`",
    "did you mean `raised bed`?"
)]
#[case::unknown_facing(
    "actor = \"gardener\"\nfacing = \"northwards\"",
    "unknown facing `northwards`",
    "the ways to face are `right`, `down-right`"
)]
#[case::nothing_said("actor = \"gardener\"", "this expectation says nothing", "add position")]
#[case::bad_margin("actor = \"gardener\"\nspeed = 1\nwithin = -1", "within is -1", "")]
#[case::bad_speed("actor = \"gardener\"\nspeed = nan", "speed is NaN", "")]
fn a_wrong_expectation_is_explained(#[case] claims: &str, #[case] message: &str, #[case] help: &str) {
    let desk = Desk::new();
    desk.write("bad.toml", scenario(&format!("{GARDENER}\n[[expect]]\nat = 1\n{claims}\n")));
    desk.ambulant("run bad.toml").code(2).stderr(contains(message)).stderr(contains(help));
}

/// Puts another drive or script in the place of the good one.
#[rstest]
#[case::no_drive("", "", "`gardener` has no drive", "add one of pace, gait, glide and helm")]
#[case::two_drives(
    "pace = { speed = 1 }\ngait = { top_speed = 1, acceleration = 1, friction = 1 }",
    "",
    "`gardener` has two drives",
    "keep one"
)]
#[case::said_twice(
    "gait = { top_speed = 60, acceleration = 4, seconds_to_top = 1, friction = 1 }",
    "",
    "`seconds_to_top` says again what `acceleration` says",
    "keep one of acceleration, seconds_to_top"
)]
#[case::not_said(
    "gait = { top_speed = 60, acceleration = 4 }",
    "",
    "one of friction, stop_distance is missing",
    ""
)]
#[case::bad_wish(
    "gait = { top_speed = 60, seconds_to_top = -1, friction = 1 }",
    "",
    "acceleration is -60",
    ""
)]
#[case::no_drag(
    "glide = { thrust = 60 }",
    "",
    "one of drag, half_life, kept_per_second, kept_per_frame is missing",
    ""
)]
#[case::no_frames(
    "glide = { thrust = 60, kept_per_frame = 0.9 }",
    "",
    "kept_per_frame needs a frame_rate",
    ""
)]
#[case::frames_alone(
    "glide = { thrust = 60, drag = 1, frame_rate = 60 }",
    "",
    "frame_rate goes with kept_per_frame",
    ""
)]
#[case::kept_too_much(
    "glide = { thrust = 60, kept_per_second = 1.5 }",
    "",
    "kept_per_second is 1.5",
    "above 0 and at most 1"
)]
#[case::rails_and_grip(
    "helm = { steering = \"wheel\", turn_degrees = 90, thrust = 9, drag = 1, grip = 2, on_rails = true }",
    "",
    "a helm on rails has no other grip",
    ""
)]
#[case::bad_turn(
    "helm = { steering = \"wheel\", turn_degrees = -90, thrust = 9, drag = 1 }",
    "",
    "turn_rate is -1.57",
    ""
)]
#[case::steering(
    "helm = { steering = \"whel\", turn_degrees = 90, thrust = 9, drag = 1 }",
    "",
    "unknown value `whel`",
    "did you mean `wheel`?"
)]
#[case::no_pull("pace = { speed = 1 }\nfalling = { pull = [0, 0], limit = 9 }", "", "pull is (0, 0)", "")]
#[case::dead_zone("pace = { speed = 1 }", "stick = { dead_zone = 1.5, moves = [] }", "dead_zone is 1.5", "")]
#[case::stick_in_time(
    "pace = { speed = 1 }",
    "stick = { dead_zone = 0.1, moves = [{ at = 2, to = [1, 0] }, { at = 1, to = [0, 0] }] }",
    "1 s comes after 2 s",
    ""
)]
#[case::a_tap(
    "pace = { speed = 1 }",
    "flick = { gain = 1, limit = 9, min_drag = 5, drags = [{ at = 1, from = [0, 0], to = [3, 0], seconds = 0.1 }] }",
    "this drag is a tap",
    "further than min_drag"
)]
#[case::bad_gain(
    "pace = { speed = 1 }",
    "flick = { gain = 0, limit = 9, min_drag = 5, drags = [] }",
    "gain is 0",
    ""
)]
#[case::bad_view("pace = { speed = 1 }", "view_degrees = nan", "view_degrees is not a finite number", "")]
#[case::bad_heading(
    "pace = { speed = 1 }",
    "heading_degrees = inf",
    "heading_degrees is not a finite number",
    ""
)]
fn a_wrong_drive_or_script_is_explained(
    #[case] drive: &str,
    #[case] script: &str,
    #[case] message: &str,
    #[case] help: &str,
) {
    let desk = Desk::new();
    let actor = "[[actor]]\nname = \"gardener\"\nstart = [24, 40]\nfootprint = { box = [10, 8] }";
    desk.write("bad.toml", scenario(&format!("{actor}\n{drive}\n{script}\n")));
    let refused = desk.ambulant("run bad.toml").code(2).stdout("");
    refused.stderr(contains(message)).stderr(contains(help)).stderr(contains("bad.toml:"));
}

#[rstest]
#[case::no_shape("", "the obstacle `post` has no shape")]
#[case::two_shapes(
    "circle = { center = [0, 0], radius = 1 }\nbox = { from = [0, 0], to = [1, 1] }",
    "has two shapes"
)]
#[case::flat("box = { from = [0, 0], to = [0, 1] }", "width is 0")]
#[case::radius("circle = { center = [0, 0], radius = -2 }", "radius is -2")]
#[case::no_length("segment = { from = [1, 1], to = [1, 1] }", "length is 0")]
#[case::bent("polygon = [[0, 0], [9, 0], [2, 2], [0, 9]]", "does not turn outwards at corner 2")]
#[case::covers_the_start(
    "circle = { center = [27, 42], radius = 3 }",
    "`gardener` starts inside an obstacle"
)]
fn a_wrong_obstacle_is_explained(#[case] shape: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("bad.toml", scenario(&format!("{GARDENER}\n[[obstacle]]\nname = \"post\"\n{shape}\n")));
    desk.ambulant("run bad.toml").code(2).stderr(contains(message)).stderr(contains("bad.toml:"));
}

#[test]
fn all_problems_are_shown_at_once() {
    let desk = Desk::new();
    let text =
        scenario(GARDENER).replace("seconds = 4", "seconds = -4").replace("top_speed = 60", "top_speed = 0");
    desk.write("bad.toml", text);
    desk.ambulant("run bad.toml").code(2).stderr(contains("seconds is -4").and(contains("top_speed is 0")));
}

#[test]
fn a_scenario_without_actors_or_with_two_of_a_name_is_refused() {
    let desk = Desk::new();
    desk.write("none.toml", scenario(""));
    desk.ambulant("run none.toml").code(2).stderr(contains("the scenario has no actors"));
    desk.write("twins.toml", scenario(&format!("{GARDENER}{GARDENER}")));
    desk.ambulant("run twins.toml").code(2).stderr(contains("two actors are called `gardener`"));
}

#[test]
fn a_map_over_the_limit_is_refused() {
    let desk = Desk::new();
    let row = format!("\"{}\",\n", ".".repeat(4097));
    let rows = format!("rows = [\n{}]", row.repeat(4096));
    let text = scenario(GARDENER);
    let (start, end) = (text.find("rows = [").unwrap(), text.find("]\n\n[map.legend]").unwrap());
    desk.write("huge.toml", format!("{}{rows}{}", &text[..start], &text[end + 1..]));
    desk.ambulant("run huge.toml").code(2).stderr(contains("but may have at most 16777216"));
}

#[test]
fn a_file_that_is_not_text_or_not_there_is_named() {
    let desk = Desk::new();
    desk.write("bytes.toml", [b"format = 1\ntitle = \"".as_slice(), &[0xC3, 0x28, 0xFF], b"\"\n"].concat());
    desk.ambulant("run bytes.toml").code(2).stderr(
        contains("the file is not UTF-8").and(contains("bytes.toml:2:10")).and(contains("byte 0xC3")),
    );
    desk.ambulant("run missing.toml").code(2).stderr(contains("cannot read missing.toml: "));
    desk.write("empty.toml", "");
    desk.ambulant("run empty.toml").code(2).stderr(contains("missing field `format`"));
}

#[rstest]
#[case::zero("0")]
#[case::negative("-1")]
#[case::nan("nan")]
#[case::infinite("inf")]
#[case::largest("1e308")]
#[case::nothing("")]
#[case::words("fast")]
fn a_bad_tick_rate_is_refused(#[case] rate: &str) {
    let desk = Desk::new();
    desk.write("walk.toml", scenario(GARDENER));
    desk.ambulant(&format!("run walk.toml --tick-rate={rate}"))
        .code(2)
        .stdout("")
        .stderr(contains("--tick-rate"));
}

#[rstest]
#[case::record("run walk.toml --record out.txt", "must end in .csv or .jsonl")]
#[case::picture("draw walk.toml -o out.gif", "must end in .png or .svg")]
#[case::no_picture("draw walk.toml", "--out")]
fn a_call_that_cannot_be_meant_is_refused(#[case] call: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("walk.toml", scenario(GARDENER));
    desk.ambulant(call).code(2).stderr(contains(message));
    assert_eq!(desk.names(), ["walk.toml"]);
}
