//! What the hand of an actor does over time: keys or a stick, and flicks.

use ambulant::direction::YAxis;
use ambulant::intent::{Direction, Directions, Flick, KeyLayout, Opposites, PressOrder, Stick};
use glam::Vec2;
use toml::Spanned;

use super::super::problem::{Problem, suggestion};
use super::super::{Asked, Change, Script, file};
use super::refused;

/// What an actor's keys mean.
pub(super) fn key_layout(actor: &file::Actor, y_axis: YAxis) -> Result<KeyLayout, Problem> {
    let directions = match actor.directions {
        file::Directions::Four => Directions::Four,
        file::Directions::Eight => Directions::Eight,
    };
    let opposites = match actor.opposites {
        file::Opposites::Cancel => Opposites::Cancel,
        file::Opposites::Newest => Opposites::Newest,
    };
    let layout = KeyLayout::new(directions, y_axis).with_opposites(opposites);
    let Some(view) = &actor.view_degrees else { return Ok(layout) };
    let wrong = |_| Problem::at(view.span(), "view_degrees is not a finite number", "");
    layout.with_view_rotation(view.get_ref().to_radians()).map_err(wrong)
}

/// What a hand does, and the devices it has for that.
pub(super) struct Hand {
    /// In order of time; at one time keys come first, then the stick, then flicks.
    pub(super) script: Script,
    pub(super) stick: Option<Stick>,
    pub(super) flick: Option<Flick>,
}

/// What an actor's hand does.
pub(super) fn resolve(actor: &file::Actor, seconds: f64, layout: &KeyLayout) -> Result<Hand, Problem> {
    let mut script = keys(actor, seconds, layout)?;
    let (mut stick, mut flick) = (None, None);
    if let Some(written) = &actor.stick {
        let (found, moves) = stick_moves(written.get_ref(), seconds, layout.view_rotation())?;
        stick = Some(found);
        script.extend(moves);
    }
    if let Some(written) = &actor.flick {
        let (found, drags) = flicks(written.get_ref(), seconds)?;
        flick = Some(found);
        script.extend(drags);
    }
    script.sort_by(|a, b| a.at.total_cmp(&b.at));
    Ok(Hand { script, stick, flick })
}

/// Checks that a time lies within the run and not before the last one.
fn in_order(at: &Spanned<f64>, before: f64, seconds: f64) -> Result<f64, Problem> {
    let time = *at.get_ref();
    if !(0.0..=seconds).contains(&time) {
        let message = format!("{time} s is not within the run of {seconds} s");
        return Err(Problem::at(at.span(), message, "").help("change the time, or `seconds`"));
    }
    if time < before {
        let message = format!("{time} s comes after {before} s: the script goes back in time");
        return Err(Problem::at(at.span(), message, "").help("list the steps in order of time"));
    }
    Ok(time)
}

fn keys(actor: &file::Actor, seconds: f64, layout: &KeyLayout) -> Result<Script, Problem> {
    let (mut script, mut held, mut before) = (Script::new(), PressOrder::default(), 0.0);
    for step in &actor.keys {
        let file::KeyStep { at, press, release } = step.get_ref();
        let time = in_order(at, before, seconds)?;
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
            if held.held().is_held(key) {
                let place = press.as_ref().map_or_else(|| step.span(), Spanned::span);
                let name = direction_name(key);
                let message = format!("`{name}` is pressed at {time} s while it is still held");
                return Err(Problem::at(place, message, "").help("release it first"));
            }
            held.press(key);
        }
        let pressed = Direction::ALL.map(|key| if held.held().is_held(key) { 1.0 } else { 0.0 });
        script.push(Change { at: time, asked: Asked::Intent { intent: layout.intent(&held), pressed } });
    }
    Ok(script)
}

fn stick_moves(written: &file::Stick, seconds: f64, view: f32) -> Result<(Stick, Script), Problem> {
    let number = |value: &Option<Spanned<f32>>| value.as_ref().map_or(1.0, |value| *value.get_ref());
    let stick = Stick::new(*written.dead_zone.get_ref(), number(&written.limit), number(&written.curve));
    let stick = stick.map_err(|error| {
        let place = match error.field() {
            "limit" => written.limit.as_ref(),
            "curve" => written.curve.as_ref(),
            _ => Some(&written.dead_zone),
        };
        refused(place.unwrap_or(&written.dead_zone).span())(error)
    })?;
    let (mut script, mut before, mut last) = (Script::new(), 0.0, None);
    for step in &written.moves {
        let file::StickMove { at, to } = step.get_ref();
        before = in_order(at, before, seconds)?;
        let position = Vec2::from(*to.get_ref());
        if !position.is_finite() {
            return Err(Problem::at(to.span(), "a stick's position must be two finite numbers", ""));
        }
        let intent = stick.intent(position);
        // A stick that trembles in its dead zone takes nothing over from the keys.
        if last.replace(intent) == Some(intent) {
            continue;
        }
        let Vec2 { x, y } = intent.vector();
        let pressed = [-x, x, -y, y].map(|part| part.max(0.0));
        script.push(Change { at: before, asked: Asked::Intent { intent: intent.turned(view), pressed } });
    }
    Ok((stick, script))
}

fn flicks(written: &file::Flick, seconds: f64) -> Result<(Flick, Script), Problem> {
    let file::Flick { gain, limit, min_drag, drags } = written;
    let flick = Flick::new(*gain.get_ref(), *limit.get_ref(), *min_drag.get_ref()).map_err(|error| {
        let place = match error.field() {
            "gain" => gain,
            "limit" => limit,
            _ => min_drag,
        };
        refused(place.span())(error)
    })?;
    let (mut script, mut before) = (Script::new(), 0.0);
    for drag in drags {
        let file::FlickDrag { at, from, to, seconds: lasts } = drag.get_ref();
        before = in_order(at, before, seconds)?;
        let launch = flick.launch(Vec2::from(*from), Vec2::from(*to), *lasts);
        let Some(velocity) = launch else {
            let message = "this drag is a tap: nothing is launched";
            return Err(Problem::at(drag.span(), message, "").help("drag further than min_drag"));
        };
        script.push(Change { at: before, asked: Asked::Launch(velocity) });
    }
    Ok((flick, script))
}

/// What a script calls a key.
pub(crate) fn direction_name(key: Direction) -> &'static str {
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
