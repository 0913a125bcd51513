//! Maps from files, and what walls may do in a scenario.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, GARDENER, pair, scenario};

/// The room with its tiles taken from elsewhere.
fn room_from(source: &str, legend: &str) -> String {
    format!("format = 1\nseconds = 4\n[map]\ntile_size = 16\n{source}\n[map.legend]\n{legend}\n{GARDENER}")
}

const NUMBERS: &str = "0, 0, 0, 0, 0, 0\n0, 1, 1, 1, 1, 0\n0, 1, 1, 2, 1, 0\n0, 0, 0, 0, 0, 0\n";
const NUMBERED: &str = r#"0 = { name = "glass wall", blocks = true }
1 = { name = "brick path", blocks = false }
2 = { name = "raised bed", blocks = true }"#;
const COLOURED: &str = r##""#000000" = { name = "glass wall", blocks = true }
"#ffffff" = { name = "brick path", blocks = false }
"#00ff00" = { name = "raised bed", blocks = true }"##;

/// A picture of the same room, a pixel a tile.
fn picture(bed: [u8; 3]) -> Vec<u8> {
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, 6, 4);
    encoder.set_color(png::ColorType::Rgb);
    let mut writer = encoder.write_header().unwrap();
    let pixel = |number: u8| match number {
        b'0' => [0, 0, 0],
        b'1' => [255, 255, 255],
        _ => bed,
    };
    let pixels: Vec<u8> = NUMBERS.bytes().filter(u8::is_ascii_digit).flat_map(pixel).collect();
    writer.write_image_data(&pixels).unwrap();
    writer.finish().unwrap();
    bytes
}

#[rstest]
#[case::numbers("csv = \"room.csv\"", NUMBERED)]
#[case::colours("png = \"room.png\"", COLOURED)]
fn a_map_comes_from_a_file_beside_the_scenario(#[case] source: &str, #[case] legend: &str) {
    let desk = Desk::new();
    desk.write("room.toml", room_from(source, legend));
    desk.write("room.csv", NUMBERS);
    desk.write("room.png", picture([0, 255, 0]));
    let document = desk.run_json("room.toml");
    let touched = document["events"].as_array().unwrap().iter().find(|event| event["kind"] == "touched");
    assert_eq!(touched.unwrap()["wall"], "raised bed");
    assert_eq!(pair(&document["summary"][0]["position"]), (43.0, 40.0));
}

/// Tiles of 24 by 16: the bed is met at its left side, at three times 24, and drawn as wide as that.
#[test]
fn tiles_may_be_wider_than_high() {
    let desk = Desk::new();
    let wide = room_from("csv = \"room.csv\"", NUMBERED)
        .replace("tile_size = 16", "tile_size = [24, 16]")
        .replace("start = [24,", "start = [40,");
    desk.write("room.toml", wide);
    desk.write("room.csv", NUMBERS);
    let document = desk.run_json("room.toml");
    assert_eq!(pair(&document["summary"][0]["position"]), (67.0, 40.0));
    desk.ambulant("draw room.toml -o room.svg").success();
    assert!(String::from_utf8(desk.read("room.svg")).unwrap().contains("a tile is 24 x 16"));
}

#[rstest]
#[case::no_file("csv = \"none.csv\"", NUMBERED, "cannot read none.csv")]
#[case::no_entry("csv = \"odd.csv\"", NUMBERED, "\"7\" in line 1, value 2 is not in the legend")]
#[case::uneven("csv = \"uneven.csv\"", NUMBERED, "row 1 has 1 tiles, but row 0 has 2")]
#[case::huge("csv = \"huge.csv\"", NUMBERED, "cannot read huge.csv: it is larger than 64 MiB")]
#[case::no_number("csv = \"room.csv\"", COLOURED, "is not a number, as in the CSV")]
#[case::no_picture("png = \"room.csv\"", COLOURED, "cannot read room.csv")]
#[case::colour("png = \"room.png\"", COLOURED, "the colour #0000ff at pixel 3,2 is not in the legend")]
#[case::two("png = \"room.png\"\ncsv = \"room.csv\"", COLOURED, "a map has one source of tiles")]
#[case::none("", COLOURED, "a map has one source of tiles")]
fn a_bad_map_file_is_told(#[case] source: &str, #[case] legend: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("room.toml", room_from(source, legend));
    desk.write("room.csv", NUMBERS);
    desk.write("room.png", picture([0, 0, 255]));
    desk.write("odd.csv", "0,7\n");
    desk.write("uneven.csv", "0,0\n1\n");
    std::fs::File::create(desk.path("huge.csv")).and_then(|file| file.set_len((64 << 20) + 1)).expect("room");
    desk.ambulant("run room.toml").code(2).stderr(contains(message));
}

const DOOR: &str = r#"[[obstacle]]
name = "door"
box = { from = [60, 16], to = [64, 64] }
"#;

#[rstest]
#[case::pushed("moves = [{ at = 1, by = [-20, 0], seconds = 1 }]", "was moved by door", "35")]
#[case::squeezed(
    "moves = [{ at = 1, by = [-44, 0], seconds = 1 }]",
    "was squeezed between door and glass wall",
    // Out of the door again as soon as the way is free, and on to the right.
    "30"
)]
#[case::waits("moves = [{ at = 1, by = [-44, 0], seconds = 1 }]\nwaits = true", "was moved by door", "21")]
#[case::carried("carries = true\nmoves = [{ at = 2, by = [0, -8], seconds = 1 }]", "was moved by door", "55")]
fn walls_that_move_push_carry_squeeze_and_wait(#[case] moves: &str, #[case] told: &str, #[case] x: &str) {
    let desk = Desk::new();
    let empty = scenario("").replace("#..b...#", "#......#");
    let walks =
        GARDENER.replace("press = \"right\" }", "press = \"right\" }, { at = 1.6, release = \"all\" }");
    // Right to the door in the first three quarters of a second, unless it comes to meet her.
    let still = if x == "55" { walks } else { GARDENER.replace("at = 0.5, press", "at = 3.9, press") };
    let start = if x == "55" { "[30, 40]" } else { "[40, 40]" };
    desk.write("door.toml", empty + DOOR + moves + "\n" + &still.replace("[24, 40]", start));
    let document = desk.run_json("door.toml");
    let events = document["events"].to_string();
    assert!(events.contains(told), "{events}");
    assert_eq!(events.contains("squeezed"), told.contains("squeezed"));
    let end = document["summary"][0]["position"][0].as_f64().unwrap();
    // A step to the right begins in the last tenth of a second.
    assert!((end - x.parse::<f64>().unwrap()).abs() < 3.0, "{end}");
}

/// What is held to an axis is not pushed off it.
#[test]
fn a_door_across_the_axis_of_an_actor_passes_over_it() {
    let desk = Desk::new();
    let door = "[[obstacle]]\nname = \"door\"\nbox = { from = [30, 16], to = [44, 24] }\nmoves = [{ at = 1, by = [0, 20], seconds = 1 }]\n";
    let lamp = GARDENER.replace("start = [24, 40]", "start = [36, 40]\naxis = \"x\"");
    desk.write(
        "door.toml",
        scenario("").replace("#..b...#", "#......#")
            + door
            + &lamp.replace("at = 0.5, press", "at = 3.9, press"),
    );
    let document = desk.run_json("door.toml");
    let events = document["events"].to_string();
    assert!(events.contains("was passed over by door, since it is held to an axis"), "{events}");
    assert!(!events.contains("was moved by") && !events.contains("between door and door"), "{events}");
}

#[rstest]
#[case::closed("b", r#""b" = { name = "step", blocks = false, closed_from = ["left"] }"#, 43.0)]
#[case::open("b", r#""b" = { name = "step", blocks = false, closed_from = ["right"] }"#, 107.0)]
#[case::net("b", r#""b" = { name = "net", blocks = true, layers = ["net"] }"#, 107.0)]
#[case::half("b", r#""b" = { name = "frame", blocks = true, half = "top-right" }"#, 107.0)]
fn kinds_of_tiles_do_what_they_say(#[case] glyph: &str, #[case] kind: &str, #[case] end: f64) {
    let desk = Desk::new();
    let old = format!("\"{glyph}\" = {{ name = \"raised bed\", blocks = true }}");
    let mask = GARDENER.replace("start =", "mask = [\"solid\"]\nstart =");
    desk.write("kinds.toml", scenario(&mask).replace(&old, kind));
    let (x, _) = pair(&desk.run_json("kinds.toml")["summary"][0]["position"]);
    assert!((x - end).abs() < 0.01, "{x}");
}

#[rstest]
#[case::pace("speed_factor = 0.5", 30.0)]
#[case::grip("grip = 0.01", (2.0f64 * 4.0 * 19.0).sqrt())]
fn a_surface_slows_or_slips(#[case] surface: &str, #[case] fastest: f64) {
    let desk = Desk::new();
    let floor = "name = \"brick path\", blocks = false";
    desk.write("mud.toml", scenario(GARDENER).replace(floor, &format!("{floor}, {surface}")));
    let top = desk.run_json("mud.toml")["summary"][0]["top_speed"].as_f64().unwrap();
    assert!(top <= fastest + 0.01 && top > fastest * 0.5, "{top}");
}

#[rstest]
#[case::move_back(
    "moves = [{ at = 2, by = [1, 0], seconds = 2 }, { at = 3, by = [1, 0], seconds = 1 }]",
    "before the one before it"
)]
#[case::no_time("moves = [{ at = 2, by = [1, 0], seconds = 0 }]", "needs at >= 0, seconds > 0")]
#[case::too_fast(
    "moves = [{ at = 2, by = [30, 0], seconds = 0.00001 }]",
    "speed is 3000000, but must be at most"
)]
#[case::jumps("loops = true\nmoves = [{ at = 2, by = [3, 0], seconds = 1 }]", "must be zero in sum")]
#[case::nothing_to_loop("loops = true", "legs is 0, but must be at least one")]
#[case::floor_and_layers("floor = {}\nlayers = [\"net\"]", "the floor `door` has")]
#[case::no_grip("floor = { grip = 0 }", "grip is 0")]
fn a_bad_course_is_refused(#[case] moves: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("door.toml", scenario("") + DOOR + moves + "\n" + GARDENER);
    desk.ambulant("run door.toml").code(2).stderr(contains(message).and(contains("door.toml:")));
}
