//! Balls, paddles, edges, shots and hovering, in the tool.

use predicates::prelude::*;
use predicates::str::contains;
use rstest::rstest;

use crate::harness::{Desk, pair};

/// An empty field with these edges and actors.
fn field(edges: &str, actors: &str) -> String {
    let rows: String = (0..8).map(|_| "\"..........\",").collect();
    format!(
        "format = 1\nseconds = 3\n[map]\ntile_size = 10\nrows = [{rows}]\nedges = {{ {edges} }}\n\
         [map.legend]\n\".\" = {{ name = \"air\", blocks = false }}\n\
         \"o\" = {{ name = \"pane\", blocks = true, breaks = 2 }}\n{actors}"
    )
}

const DROP: &str = "[[actor]]\nname = \"drop\"\nstart = [50, 40]\nfootprint = { circle = 2 }\n\
                    ball = { velocity = [0, 60] }\n";

#[rstest]
#[case::bounce("bottom = \"bounce\"", "bounced off the bottom edge", true)]
#[case::hold("", "bounced off the bottom edge", true)]
#[case::wrap("bottom = \"wrap\", top = \"wrap\"", "left at the bottom and entered on the other side", true)]
#[case::open("bottom = \"open\"", "went out at the bottom", false)]
fn edges_do_what_they_say_to_a_ball(#[case] edges: &str, #[case] told: &str, #[case] moving: bool) {
    let desk = Desk::new();
    desk.write("field.toml", field(edges, DROP));
    desk.ambulant("run field.toml").success().stdout(contains(told));
    let velocity = pair(&desk.run_json("field.toml")["summary"][0]["velocity"]);
    assert_eq!(velocity.1.abs() > 0.0, moving);
}

#[test]
fn a_pane_breaks_after_its_hits_and_others_walk_over_it() {
    let desk = Desk::new();
    let walker = "[[actor]]\nname = \"moth\"\nstart = [45, 5]\nfootprint = { circle = 2 }\npace = { speed = 40 }\n\
                  keys = [{ at = 2.4, press = \"down\" }]\n";
    let text = field(
        "",
        &format!("{}{walker}", DROP.replace("[0, 60]", "[0, -60]").replace("[50, 40]", "[45, 40]")),
    );
    desk.write(
        "panes.toml",
        text.replacen("\"..........\",\"..........\",", "\"..........\",\"....oo....\",", 1),
    );
    let story = desk.ambulant("run panes.toml").success();
    let hit = contains("hit pane 4,1, 1 to go").and(contains("broke pane 4,1"));
    story.stdout(hit.and(contains("touched pane").not()));
    desk.ambulant("draw panes.toml -o panes.png").success();
}

#[test]
fn a_paddle_sends_a_ball_off_by_where_it_lands_and_serves_it() {
    let desk = Desk::new();
    let leaf = "[[actor]]\nname = \"leaf\"\nstart = [45, 72]\nfootprint = { box = [20, 4] }\npace = { speed = 1 }\n\
                paddle = { away = \"up\", greatest_degrees = 60 }\n";
    desk.write("leaf.toml", field("bottom = \"open\"", &format!("{leaf}{DROP}")));
    // Five units right of the middle of a paddle of twenty: half of the greatest angle.
    desk.ambulant("run leaf.toml").success().stdout(contains("was deflected by leaf at 30° and 60 units/s"));
    let held = DROP.replace("[0, 60] }", "[0, -60], held_by = \"leaf\", serve_at = 2.0 }");
    desk.write("serve.toml", field("bottom = \"open\"", &format!("{leaf}{held}")));
    desk.ambulant("run serve.toml").success().stdout(contains("2.000 s  drop  was served"));
}

#[rstest]
#[case::wall("", "the shot hit the map's edge at 50.0, 2.0")]
#[case::distance(", range = 20", "the shot is out of range at 50.0, 20.0")]
fn a_shot_reports_how_it_ended(#[case] limit: &str, #[case] told: &str) {
    let desk = Desk::new();
    let thrower = format!(
        "[[actor]]\nname = \"drone\"\nstart = [50, 40]\nfootprint = {{ circle = 2 }}\npace = {{ speed = 1 }}\n\
         shots = [{{ at = 0.5, toward = [50, 0], speed = 100, radius = 2{limit} }}]\n"
    );
    desk.write("shot.toml", field("", &thrower));
    desk.ambulant("run shot.toml").success().stdout(contains(told));
}

#[rstest]
#[case::no_velocity(
    "ball = { velocity = [0, 0] }",
    "a ball's velocity must be two finite numbers, not both 0"
)]
#[case::angle_limits("ball = { velocity = [1, 0], level_degrees = 60 }", "to_level is 1.047")]
#[case::holder(
    "ball = { velocity = [1, 0], held_by = \"leaf\", serve_at = 1 }",
    "no actor before this one is called `leaf`"
)]
#[case::serve("ball = { velocity = [1, 0], held_by = \"drop\" }", "a ball that is held is served")]
#[case::paddle(
    "pace = { speed = 1 }\npaddle = { away = \"up\", greatest_degrees = 120 }",
    "greatest_angle is 2.09"
)]
#[case::hover("pace = { speed = 1 }\nhover = { height = 1, rise = 0, fall = 1 }", "rise is 0")]
#[case::bounce("pace = { speed = 1 }\nbounce = 0.5", "bounce is for at_walls = \"bounce\"")]
#[case::shot(
    "pace = { speed = 1 }\nshots = [{ at = 9, toward = [1, 1], speed = 1, radius = 1 }]",
    "9 s is not within the run"
)]
fn what_cannot_be_is_refused(#[case] rules: &str, #[case] message: &str) {
    let desk = Desk::new();
    desk.write("field.toml", field("", &DROP.replace("ball = { velocity = [0, 60] }", rules)));
    desk.ambulant("run field.toml").code(2).stderr(contains(message).and(contains("field.toml:")));
}

/// A leaf that speeds up under a drop deflects it once and pushes it on: the drop has gone as far at any tick rate.
#[rstest]
fn a_leaf_that_pushes_a_drop_deflects_it_once(#[values(7, 60, 1000)] rate: u32) {
    let desk = Desk::new();
    let leaf = "[[actor]]\nname = \"leaf\"\nstart = [50, 70]\nfootprint = { box = [20, 4] }\n\
                gait = { top_speed = 90, acceleration = 100, friction = 100 }\npaddle = { away = \"up\", greatest_degrees = 60 }\n\
                keys = [{ at = 0.1, press = \"up\" }]\n";
    let drop = DROP.replace("[0, 60]", "[0, 5]").replace("[50, 40]", "[50, 60]");
    let world = field("", &format!("{leaf}{drop}")).replace("seconds = 3", "seconds = 1");
    desk.write("field.toml", world);
    let document = desk.run_json(&format!("field.toml --tick-rate {rate}"));
    let met = document["events"].as_array().unwrap().iter().filter(|event| event["kind"] == "deflected");
    assert_eq!(met.count(), 1, "{document}");
    // 6 units apart, 5 t + 50 (t - 0.1)^2 after t seconds: they meet after 0.3854 s, and the leaf goes 40.5 units in all.
    let drop = &document["summary"][1];
    let (_, y) = pair(&drop["position"]);
    assert!((y - 25.5).abs() < 1e-2, "{y}");
    let (down, up) = (5.0 * 0.3854, 60.0 + 5.0 * 0.3854 - 25.5);
    let distance = drop["distance"].as_f64().unwrap();
    assert!((distance - down - up).abs() < 2e-2, "{distance}, not {}", down + up);
}

/// Served, held, fired, lost and out of range: each at its own instant, whatever the tick.
#[rstest]
fn what_flies_does_so_at_its_own_instants(#[values(7, 30, 1000)] rate: u32) {
    let desk = Desk::new();
    let drop = DROP.replace("[0, 60] }", "[0, 60], held_by = \"drone\", serve_at = 0.31 }");
    let drone = "[[actor]]\nname = \"drone\"\nstart = [30, 40]\nfootprint = { circle = 1 }\npace = { speed = 30 }\n\
                 shots = [{ at = 0.23, toward = [90, 40], speed = 100, radius = 1, range = 20 }]\n\
                 keys = [{ at = 0.13, press = \"right\" }, { at = 0.53, release = \"all\" }]\n";
    desk.write("field.toml", field("bottom = \"open\"", &format!("{drone}{drop}")));
    let document = desk.run_json(&format!("field.toml --tick-rate {rate}"));
    let time = |kind: &str| {
        let event = document["events"].as_array().unwrap().iter().find(|event| event["kind"] == kind);
        event.unwrap_or_else(|| panic!("no {kind}: {document}"))["time"].as_f64().unwrap()
    };
    // From 40 to wholly below the edge at 80, with a radius of 2: 42 units at 60 units/s.
    let wanted = [("served", 0.31), ("shot", 0.23), ("shot-over", 0.43), ("lost", 0.31 + 42.0 / 60.0)];
    for (kind, at) in wanted {
        assert!((time(kind) - at).abs() < 1e-4, "{kind} at {}, not {at}", time(kind));
    }
}

/// What breaks is broken by shots, too.
#[test]
fn a_shot_breaks_a_pane() {
    let desk = Desk::new();
    let drone = "[[actor]]\nname = \"drone\"\nstart = [45, 70]\nfootprint = { circle = 1 }\npace = { speed = 30 }\n\
                 shots = [{ at = 0.5, toward = [45, 0], speed = 100, radius = 1 },\
                 { at = 1.0, toward = [45, 0], speed = 100, radius = 1 }]\n";
    let panes =
        field("", drone).replacen("\"..........\",\"..........\",", "\"..........\",\"....oo....\",", 1);
    desk.write("panes.toml", panes);
    let hit = contains("the shot hit pane 4,1, 1 to go").and(contains("the shot broke pane 4,1"));
    desk.ambulant("run panes.toml").success().stdout(hit);
}

#[test]
fn several_bounces_in_one_tick_are_told_in_order_and_balls_fly_side_by_side() {
    let desk = Desk::new();
    let fast = DROP.replace("[0, 60]", "[0, 3000]");
    let slow = DROP.replace("drop", "other").replace("[50, 40]", "[20, 40]");
    desk.write("fast.toml", field("top = \"bounce\", bottom = \"bounce\"", &format!("{fast}{slow}")));
    let document = desk.run_json("fast.toml --tick-rate 10");
    let events = document["events"].as_array().unwrap().iter();
    let of_fast: Vec<f64> = events
        .filter(|event| event["actor"] == "drop")
        .map(|event| event["time"].as_f64().unwrap())
        .collect();
    // 38 units to the bottom, then 76 from wall to wall: four in a tick of a tenth of a second.
    for (number, time) in of_fast.iter().take(8).enumerate() {
        let exact = (38.0 + 76.0 * number as f64) / 3000.0;
        assert!((time - exact).abs() < 1e-4, "rebound {number} at {time}, not {exact}");
    }
    assert_eq!(pair(&document["summary"][1]["velocity"]).1.abs(), 60.0);
}

/// Two actors that block each other meet and stand; each is named in the other's touch. Without `blocks` they pass.
#[rstest]
#[case::blocks("blocks = true\n", true)]
#[case::passes("", false)]
fn actors_that_block_meet(#[case] blocks: &str, #[case] meet: bool, #[values(7, 60)] rate: u32) {
    let desk = Desk::new();
    let actor = |name: &str, x: u8, key: &str| {
        format!(
            "[[actor]]\nname = \"{name}\"\nstart = [{x}, 40]\nfootprint = {{ circle = 4 }}\npace = {{ speed = 20 }}\n\
             {blocks}keys = [{{ at = 0.5, press = \"{key}\" }}]\n"
        )
    };
    let actors = actor("moth", 20, "right") + &actor("snail", 60, "left");
    let expected = "[[expect]]\nat = 1.0\nactor = \"moth\"\nposition = [30, 40]\nwithin = 0.01\n";
    desk.write("field.toml", field("", &format!("{actors}{expected}")));
    let document = desk.run_json(&format!("field.toml --tick-rate {rate}"));
    let touched = document["events"].as_array().unwrap().iter().find(|event| event["kind"] == "touched");
    assert_eq!(touched.is_some_and(|event| event["wall"] == "snail"), meet, "{document}");
    if let Some(event) = touched.filter(|_| meet) {
        // Each has 16 of the 32 units between them to go.
        assert!((event["time"].as_f64().unwrap() - 1.3).abs() < 1e-3, "{event}");
    }
    let (x, _) = pair(&document["summary"][0]["position"]);
    assert!((x - if meet { 36.0 } else { 70.0 }).abs() < 0.01, "{x}");
}

#[test]
fn what_does_not_walk_cannot_block() {
    let desk = Desk::new();
    desk.write("field.toml", field("", &format!("{DROP}blocks = true\n")));
    let problem = contains("`drop` cannot block others: it does not walk").and(contains("field.toml:"));
    desk.ambulant("run field.toml").code(2).stderr(problem);
}
