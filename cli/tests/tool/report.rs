//! `report`: one page that needs nothing but itself and holds the whole run.

use predicates::prelude::*;
use rstest::rstest;
use serde_json::Value;

use crate::harness::{Desk, project_file};

fn page_of(desk: &Desk, words: &str) -> String {
    desk.ambulant(&format!("report {words} -o page.html")).success();
    String::from_utf8(desk.read("page.html")).expect("text")
}

/// The run as the page's script reads it.
fn data_of(page: &str) -> Value {
    let start = page.split_once("type=\"application/json\">").expect("the data").1;
    serde_json::from_str(start.split_once("</script>").expect("its end").0).expect("JSON")
}

/// A number as the library has it.
#[expect(clippy::cast_possible_truncation, reason = "it was one of 32 bits")]
fn single(value: &Value) -> Option<f32> {
    value.as_f64().map(|number| number as f32)
}

#[rstest]
#[case("gardener")]
#[case("rail_cart")]
#[case("dewdrop")]
#[case("door_and_net")]
fn a_page_holds_the_run_and_asks_for_nothing_else(#[case] demo: &str) {
    let desk = Desk::new();
    desk.write("walk.toml", project_file(&format!("demo/{demo}.toml")));
    let page = page_of(&desk, "walk.toml");
    let outside = page.replace("http://www.w3.org/2000/svg", "");
    for asking in ["http:", "https:", "src=", "href=", "@import", "url(\""] {
        assert!(!outside.contains(asking), "the page asks for something: {asking}");
    }
    assert!(!page.contains("{{"), "a place is left empty");

    let data = data_of(&page);
    desk.ambulant("run walk.toml --record walk.csv").success();
    let rows = String::from_utf8(desk.read("walk.csv")).expect("text");
    let actors = data["actors"].as_array().expect("actors");
    let places = rows.lines().skip(1).map(|row| {
        let columns: Vec<&str> = row.split(',').collect();
        (columns[2].to_owned(), columns[3].parse::<f32>().expect("x"), columns[4].parse::<f32>().expect("y"))
    });
    for (number, (name, x, y)) in places.enumerate() {
        let actor = &actors[number % actors.len()];
        let row = &actor["rows"][number / actors.len()];
        assert_eq!(
            (actor["name"].as_str(), single(&row[0]), single(&row[1])),
            (Some(name.as_str()), Some(x), Some(y))
        );
    }
    assert_eq!(data["events"], {
        let mut told = desk.run_json("walk.toml")["events"].clone();
        let names: Vec<&str> = actors.iter().map(|actor| actor["name"].as_str().expect("a name")).collect();
        for event in told.as_array_mut().expect("events") {
            let place = names.iter().position(|name| event["actor"] == *name).expect("an actor");
            let found = event.as_object_mut().expect("an event");
            found.insert("actor".to_owned(), place.into());
            found.retain(|key, _| {
                ["time", "actor", "kind", "text", "point", "normal"].contains(&key.as_str())
            });
        }
        told
    });
}

#[test]
fn what_moves_besides_the_actors_is_there_at_each_time() {
    let desk = Desk::new();
    desk.write("walk.toml", project_file("demo/door_and_net.toml"));
    let data = data_of(&page_of(&desk, "walk.toml"));
    // The door goes down, waits for the hedgehog, and back up: no jump between two times.
    let ways: Vec<f64> = data["walls"]
        .as_array()
        .expect("walls")
        .iter()
        .map(|now| now[1][0][2].as_f64().expect("y"))
        .collect();
    assert!(ways.iter().any(|way| way.abs() > 10.0));
    assert!(ways.windows(2).all(|two| (two[1] - two[0]).abs() < 2.0));
    desk.write("panes.toml", project_file("demo/dewdrop.toml"));
    let data = data_of(&page_of(&desk, "panes.toml"));
    let broke = desk.run_json("panes.toml")["events"]
        .as_array()
        .expect("events")
        .iter()
        .filter(|event| event["kind"] == "broke")
        .count();
    assert_eq!(data["broken"].as_array().map(Vec::len), Some(broke));
}

#[test]
fn words_of_a_scenario_stay_words() {
    let desk = Desk::new();
    let title = "</script><script>document.title='x'</script> {{data}} & <b>";
    let text = project_file("demo/gardener.toml");
    desk.write(
        "walk.toml",
        text.replace("The gardener's evening round", title).replace("raised bed", "</script><i>bed"),
    );
    let page = page_of(&desk, "walk.toml");
    assert_eq!(page.matches("<script").count(), 2);
    assert_eq!(page.matches("</script>").count(), 2);
    assert!(page.contains("&lt;/script&gt;") && !page.contains("<i>bed"));
    assert!(data_of(&page)["events"].to_string().contains("</script><i>bed"));
}

#[test]
fn what_is_no_page_is_refused_and_the_old_one_stays() {
    let desk = Desk::new();
    desk.write("walk.toml", project_file("demo/gardener.toml").replace("seconds = 15.0", "seconds = 400.0"));
    desk.write("page.html", "old");
    desk.ambulant("report walk.toml --tick-rate 1000 -o page.html")
        .code(2)
        .stderr(predicate::str::contains("lower --tick-rate"));
    assert_eq!(desk.read("page.html"), b"old");
    desk.ambulant("report walk.toml -o page.pdf").code(2).stderr(predicate::str::contains(".html"));
    assert_eq!(desk.names(), ["page.html", "walk.toml"]);
}

/// The script of the page, where node is installed; `.ci/run` says where it is not.
#[rstest]
#[case("gardener")]
#[case("dewdrop")]
#[case("door_and_net")]
fn the_script_of_the_page_shows_what_the_data_says(#[case] name: &str) {
    let desk = Desk::new();
    desk.write("scenario.toml", project_file(&format!("demo/{name}.toml")));
    page_of(&desk, "scenario.toml");
    let checks = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/page.mjs");
    let checked = std::process::Command::new("node").arg(checks).arg(desk.path("page.html")).output();
    let Ok(checked) = checked else {
        println!("node is not installed: the page's script is not tested");
        return;
    };
    assert!(checked.status.success(), "{}", String::from_utf8_lossy(&checked.stderr));
    let said = String::from_utf8(checked.stdout).expect("text");
    let checks = said.split(' ').next().and_then(|count| count.parse::<u32>().ok());
    assert!(checks.is_some_and(|count| count > 20), "{said}");
}
