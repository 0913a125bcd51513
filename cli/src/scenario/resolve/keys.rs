//! What the keys of an actor do over time.

use ambulant::intent::{Direction, HeldKeys};
use toml::Spanned;

use super::super::problem::{Problem, suggestion};
use super::super::{KeyChange, file};

pub(super) fn keys(steps: &[Spanned<file::KeyStep>], seconds: f64) -> Result<Vec<KeyChange>, Problem> {
    let mut changes: Vec<KeyChange> = Vec::new();
    let mut held = HeldKeys::NONE;
    let mut before = 0.0;
    for step in steps {
        let file::KeyStep { at, press, release } = step.get_ref();
        let time = *at.get_ref();
        if !(0.0..=seconds).contains(&time) {
            let message = format!("{time} s is not within the run of {seconds} s");
            return Err(Problem::at(at.span(), message, "").help("change the time, or `seconds`"));
        }
        if time < before {
            let message = format!("{time} s comes after {before} s: the keys go back in time");
            return Err(Problem::at(at.span(), message, "").help("list the keys in order of time"));
        }
        if press.is_none() && release.is_none() {
            let message = "this step neither presses nor releases a key";
            return Err(
                Problem::at(step.span(), message, "").help("add press = \"right\" or release = \"all\"")
            );
        }
        before = time;
        for key in directions(release.as_ref())? {
            held.release(key);
        }
        for key in directions(press.as_ref())? {
            if held.is_held(key) {
                let place = press.as_ref().map_or_else(|| step.span(), Spanned::span);
                let name = direction_name(key);
                let message = format!("`{name}` is pressed at {time} s while it is still held");
                return Err(Problem::at(place, message, "").help("release it first"));
            }
            held.press(key);
        }
        changes.push(KeyChange { at: time, held });
    }
    Ok(changes)
}

fn direction_name(key: Direction) -> &'static str {
    match key {
        Direction::Left => "left",
        Direction::Right => "right",
        Direction::Up => "up",
        Direction::Down => "down",
    }
}

fn directions(names: Option<&Spanned<file::Keys>>) -> Result<Vec<Direction>, Problem> {
    let Some(names) = names else { return Ok(Vec::new()) };
    let mut keys = Vec::new();
    for name in &names.get_ref().0 {
        match Direction::ALL.into_iter().find(|key| direction_name(*key) == name) {
            Some(key) => keys.push(key),
            None if name == "all" => keys.extend(Direction::ALL),
            None => {
                let known = ["left", "right", "up", "down", "all"];
                return Err(Problem::at(names.span(), format!("unknown key name `{name}`"), "")
                    .help(suggestion(name, &known, "the names are")));
            }
        }
    }
    Ok(keys)
}
