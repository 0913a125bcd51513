//! What was played, as a scenario: the same file with the played keys instead of the actor's script.

use toml_edit::{Array, ArrayOfTables, DocumentMut, InlineTable, Item, Table, Value, value};

use super::session::{Played, Session};
use crate::scenario::direction_name;

/// The scenario of a played run, its end expected to the last bit.
///
/// # Errors
/// When the text is no TOML document, or the actor is not in it.
pub(crate) fn kept_script(session: &Session<'_>) -> Result<String, String> {
    let mut document: DocumentMut = session
        .numbers()
        .text()
        .source()
        .parse()
        .map_err(|error| format!("cannot keep this run: {error}"))?;
    let name = &session.scenario().actors[session.actor()].name;
    let actors = document.get_mut("actor").and_then(Item::as_array_of_tables_mut);
    let actor = actors
        .into_iter()
        .flat_map(ArrayOfTables::iter_mut)
        .find(|table| table.get("name").and_then(Item::as_str) == Some(name))
        .ok_or("cannot keep this run: actors must be written as [[actor]] tables")?;
    for other in ["stick", "flick"] {
        actor.remove(other);
    }
    // The others may have more to do than was played.
    let seconds = session.time().max(session.scenario().seconds);
    let end = (seconds > session.time() && session.holds_any()).then(|| session.time());
    let keys = keys(session.played(), session.tick_rate(), end);
    actor.insert("keys", Item::Value(Value::Array(keys)));
    document.insert("seconds", value(seconds));
    document.insert("tick_rate", value(session.tick_rate()));
    document.insert("expect", Item::ArrayOfTables(ends(session)));
    let mut text = document.to_string();
    if let Some(at) = session.meddled_at() {
        text = format!(
            "# Played with numbers or walls changed at {at:.3} s: a run of this goes another way from there on.\n{text}"
        );
    }
    Ok(text)
}

/// The keys as a script, one line for each time; all are let go at the end, where there is more to come.
fn keys(played: &[Played], tick_rate: f64, end: Option<f64>) -> Array {
    let mut keys = Array::new();
    let mut steps: Vec<(u32, InlineTable)> = Vec::new();
    for Played { tick, change: (key, down) } in played {
        let what = if *down { "press" } else { "release" };
        // Released and pressed at one time is one step, and its release comes first; the rest is a step of its own.
        let fits = |step: &InlineTable| !step.contains_key(what) && (*down || !step.contains_key("press"));
        let same = steps.last_mut().filter(|(last, step)| last == tick && fits(step));
        let step = match same {
            Some((_, step)) => step,
            None => {
                let mut step = InlineTable::new();
                step.insert("at", (f64::from(*tick) / tick_rate).into());
                steps.push((*tick, step));
                &mut steps.last_mut().expect("just added").1
            }
        };
        step.insert(what, direction_name(*key).into());
    }
    let let_go = end.map(|end| {
        let mut step = InlineTable::new();
        step.insert("at", end.into());
        step.insert("release", "all".into());
        step
    });
    for step in steps.into_iter().map(|(_, step)| step).chain(let_go) {
        let mut step = Value::InlineTable(step);
        step.decor_mut().set_prefix("\n  ");
        keys.push_formatted(step);
    }
    if !keys.is_empty() {
        keys.set_trailing("\n");
        keys.set_trailing_comma(true);
    }
    keys
}

/// Where each actor ended, to the last bit.
fn ends(session: &Session<'_>) -> ArrayOfTables {
    let mut ends = ArrayOfTables::new();
    for (place, actor) in session.scenario().actors.iter().enumerate() {
        let Some(row) = session.stage().row(place, session.ticks(), session.time()) else { continue };
        let mut end = Table::new();
        let position: Array = row.position.to_array().into_iter().map(f64::from).collect();
        end.insert("at", value(session.time()));
        end.insert("actor", value(&actor.name));
        end.insert("position", value(position));
        end.insert("speed", value(f64::from(row.velocity.length())));
        end.insert("within", value(0.0));
        ends.push(end);
    }
    ends
}
