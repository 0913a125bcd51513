//! `draw` and `demo`: the pictures, and what must not happen to files.

use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, GARDENER, project, scenario};

#[track_caller]
fn assert_png(bytes: &[u8], width: u32, height: u32) {
    assert_eq!(&bytes[..8], b"\x89PNG\r\n\x1a\n");
    let number = |at: usize| u32::from_be_bytes(bytes[at..at + 4].try_into().unwrap());
    assert_eq!((number(16), number(20)), (width, height));
}

#[test]
fn a_picture_has_the_map_the_path_and_the_words() {
    let desk = Desk::new();
    desk.write("walk.toml", scenario(GARDENER));
    desk.ambulant("draw walk.toml -o walk.png").success().stdout("drew walk.png\n");
    assert_png(&desk.read("walk.png"), 1280, 800);
    desk.ambulant("draw walk.toml --out walk.svg").success();
    let svg = String::from_utf8(desk.read("walk.svg")).unwrap();
    for words in
        ["raised bed", "gardener: start to end", "0.89 s  raised bed, left", "speed in units/s", "20 units"]
    {
        assert!(svg.contains(words), "{words} is missing");
    }
    assert_eq!(desk.names(), ["walk.png", "walk.svg", "walk.toml"], "no drafts are left");
}

/// The words of an SVG picture that stand in its own frame, with the least room that each takes: left, top, right, bottom.
fn words(svg: &str) -> Vec<([f64; 4], String)> {
    let mut found = Vec::new();
    let mut shifted: Vec<bool> = Vec::new();
    for element in svg.split('<') {
        if element.starts_with("g ") {
            shifted.push(element.contains("transform="));
        } else if element.starts_with("/g>") {
            shifted.pop();
        }
        let Some((marks, text)) = element.strip_prefix("text ").and_then(|text| text.split_once('>')) else {
            continue;
        };
        if shifted.contains(&true) || marks.contains("transform=") {
            continue;
        }
        let marks = format!(" {marks}");
        let mark = |name: &str| marks.split_once(&format!(" {name}=\""))?.1.split('"').next();
        let number = |name: &str| mark(name).and_then(|text| text.parse::<f64>().ok()).expect(name);
        let size = number("font-size");
        let width = 0.45 * size * text.trim().chars().count() as f64;
        let before = match mark("text-anchor") {
            Some("middle") => 0.5,
            Some("end") => 1.0,
            _ => 0.0,
        };
        let left = number("x") - width * before;
        found.push(([left, number("y") - 0.7 * size, left + width, number("y")], text.trim().to_owned()));
    }
    found
}

#[track_caller]
fn assert_readable(svg: &[u8]) {
    let words = words(std::str::from_utf8(svg).unwrap());
    assert!(words.len() > 10, "{words:?}");
    for (place, (one, text)) in words.iter().enumerate() {
        assert!(one[0] >= 0.0 && one[1] >= 0.0 && one[2] <= 1280.0 && one[3] <= 800.0, "{text} is cut");
        for (other, beside) in &words[..place] {
            let over =
                [one[2].min(other[2]) - one[0].max(other[0]), one[3].min(other[3]) - one[1].max(other[1])];
            assert!(over[0] <= 1.0 || over[1] <= 1.0, "{text:?} lies on {beside:?}");
        }
    }
}

#[rstest]
fn no_words_of_a_picture_lie_on_others(#[files("../demo/*.toml")] scenario: std::path::PathBuf) {
    let desk = Desk::new();
    desk.ambulant(&format!("draw {} -o night.svg", scenario.display())).success();
    assert_readable(&desk.read("night.svg"));
}

#[rstest]
#[case::one_number("compare demo/gardener.toml --vary gardener.acceleration=150,300,600 -o out.svg")]
#[case::two_numbers(
    "compare demo/lawn_roller.toml --vary roller.grip=0,4,20 --vary roller.turn_degrees=60,120 -o out.svg"
)]
#[case::many(
    "compare demo/gardener.toml --vary gardener.top_speed=20,30,40,50,60,70,80,90,100,110,120,130 -o out.svg"
)]
#[case::question("probe demo/glasshouse.toml --at 190,90 --footprint circle:6 --move 60,20 -o out.svg")]
#[case::seams("probe demo/gardener.toml --at 40,40 --footprint box:10,8 --move 90,70 -o out.svg")]
#[case::claims("draw demo/rail_cart.toml --claims 5.4 -o out.svg")]
#[case::feelers("draw demo/glasshouse.toml --ray 40,100:300,180 --feelers 3 -o out.svg")]
fn no_words_of_other_pictures_lie_on_others(#[case] call: &str) {
    let desk = Desk::new();
    desk.ambulant(&call.replace("demo/", &format!("{}/demo/", project().display()))).success();
    assert_readable(&desk.read("out.svg"));
}

#[rstest]
#[case::draw("draw long.toml -o out.svg", true)]
#[case::compare("compare long.toml --vary NAME.gait.top_speed=20,40 -o out.svg", false)]
#[case::probe("probe long.toml --at 24,40 --footprint box:10,8 --move 90,0 -o out.svg", false)]
fn long_names_are_wrapped_or_cut_with_an_ellipsis_and_not_by_the_edge(#[case] call: &str, #[case] cut: bool) {
    let name = "gardener_with_the_long_handled_watering_can_and_a_lantern";
    let long = scenario(GARDENER)
        .replace("name = \"gardener\"", &format!("name = \"{name}\""))
        .replace("name = \"raised bed\"", "name = \"raised bed of bearded irises, dahlias and late lupins\"")
        .replace("seconds", "title = \"The evening round of a gardener who has never yet found an end to her watering, nor wished for one, in a house of glass\"\nseconds");
    let desk = Desk::new();
    desk.write("long.toml", long);
    desk.ambulant(&call.replace("NAME", name)).success();
    let svg = desk.read("out.svg");
    assert_readable(&svg);
    assert_eq!(String::from_utf8(svg).unwrap().contains('\u{2026}'), cut);
}

#[test]
fn a_title_cannot_break_the_picture() {
    let desk = Desk::new();
    let titled = scenario(GARDENER).replace("seconds", "title = \"<b> & \\\"c\\\" \\u0001\"\nseconds");
    desk.write("walk.toml", titled);
    desk.ambulant("draw walk.toml -o walk.png").success();
}

#[test]
fn the_demo_draws_every_scenario_and_says_where() {
    let desk = Desk::new();
    let assert =
        desk.ambulant("demo").success().stdout(contains("gardener.toml")).stdout(contains("in glasshouse"));
    let words = String::from_utf8(assert.get_output().stdout.clone()).unwrap();
    let pictures =
        words.split_whitespace().filter(|word| word.starts_with("glasshouse/") && word.ends_with(".png"));
    for picture in pictures {
        assert_png(&desk.read(picture), 1280, 800);
    }
    // What it wrote can be run and drawn again, as it says.
    desk.ambulant("run glasshouse/gardener.toml").success();
    desk.ambulant("draw glasshouse/gardener.toml -o glasshouse/gardener.png").success();
}

#[rstest]
#[case::draw("draw bad.toml -o old.png", "old.png")]
#[case::record("run bad.toml --record old.csv", "old.csv")]
fn a_refused_scenario_leaves_the_old_file_alone(#[case] call: &str, #[case] old: &str) {
    let desk = Desk::new();
    desk.write("bad.toml", scenario(""));
    desk.write(old, "what was there before");
    desk.ambulant(call).code(2);
    assert_eq!(desk.read(old), b"what was there before");
    assert_eq!(desk.names().len(), 2);
}

#[rstest]
#[case::no_folder("draw walk.toml -o nowhere/walk.png", "cannot write nowhere/walk.png")]
#[case::a_folder_in_its_place("run walk.toml --record folder.csv", "it is a folder")]
#[case::a_file_in_the_folders_place("demo --out walk.toml", "error: cannot create the folder walk.toml")]
fn an_output_that_cannot_be_written_is_named(#[case] call: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("walk.toml", scenario(GARDENER));
    std::fs::create_dir(desk.path("folder.csv")).unwrap();
    desk.ambulant(call).code(2).stderr(contains(message));
    assert_eq!(desk.names(), ["folder.csv", "walk.toml"]);
}
