//! Entry points for fuzzing: where untrusted bytes come in.

use crate::probe::{Answer, asked_in_json};
use crate::scenario::{Scenario, ScenarioText};
use crate::sim::play;

/// Runs that last longer are only read, so that many can be tried.
const MOST_TICKS: f64 = 600.0;
/// Larger maps are only read.
const MOST_TILES: i32 = 4096;

/// Reads a scenario, and plays it where it is short.
pub fn scenario(text: &str) {
    match ScenarioText::new("fuzzed.toml", text).parse() {
        Ok(scenario) => play_if_short(&scenario),
        // The text of its errors must not panic either.
        Err(problems) => assert!(!problems.render(false).is_empty()),
    }
}

fn play_if_short(scenario: &Scenario) {
    let ticks = scenario.seconds * scenario.tick_rate * scenario.actors.len() as f64;
    if ticks <= MOST_TICKS && scenario.map.size().element_product() <= MOST_TILES {
        let recording = play(scenario, scenario.tick_rate);
        assert!(recording.rows.iter().all(|row| row.position.is_finite() && row.velocity.is_finite()));
    }
}

/// Answers one line of `probe --batch`.
pub fn question(line: &str) {
    match asked_in_json(line, None) {
        Ok(asked) => {
            if let Some(walls) = &asked.walls {
                let answer = Answer::find(&asked.question, walls);
                assert!(serde_json::to_string(&answer).is_ok());
            }
        }
        Err((_, why)) => assert!(!why.is_empty()),
    }
}

/// Reads a map of tiles, from numbers or from a picture.
pub fn tiles(bytes: &[u8], picture: bool) {
    let folder = tempfile::tempdir().expect("a temporary folder");
    let (name, key) = if picture { ("map.png", "png") } else { ("map.csv", "csv") };
    std::fs::write(folder.path().join(name), bytes).expect("a file");
    let legend = if picture { ["#000000", "#ffffff"] } else { ["0", "1"] };
    let text = format!(
        "format = 1\nseconds = 0.1\n[map]\n{key} = {name:?}\n[map.legend]\n\
         {:?} = {{ name = \"a\", blocks = false }}\n{:?} = {{ name = \"b\", blocks = true }}\n",
        legend[0], legend[1]
    );
    let place = folder.path().join("walk.toml");
    std::fs::write(&place, text).expect("a file");
    match Scenario::read(&place) {
        Ok(scenario) => play_if_short(&scenario),
        Err(problems) => assert!(!problems.render(false).is_empty()),
    }
}
