//! One number of a scenario changed in its text, so that all checks and places stay as they are.

use std::ops::Range;

use toml::Spanned;
use toml::de::{DeTable, DeValue};

use super::problem::suggestion;

/// The tables of an actor in which a number's short name is looked for, after the actor itself.
const TABLES: [&str; 8] = ["steps", "pace", "gait", "glide", "helm", "falling", "stick", "flick"];

/// The tables whose numbers may change while an actor moves.
const LIVE_TABLES: [&str; 6] = ["steps", "pace", "gait", "glide", "helm", "falling"];

/// Numbers of the actor itself that may change while it moves.
const LIVE_KEYS: [&str; 2] = ["corner_help", "bounce"];

/// The scenario's text with another value for a number of an actor.
///
/// `key` is the number's name (`friction`), or the way to it (`gait.friction`).
///
/// # Errors
/// When there is no such actor or number; the message says which there are.
pub(super) fn with_number(source: &str, actor: &str, key: &str, value: f64) -> Result<String, String> {
    let Ok(table) = DeTable::parse(source) else {
        // The reader of the scenario says what is wrong with it.
        return Ok(source.to_owned());
    };
    let place = find(table.get_ref(), actor, key)?;
    Ok(format!("{}{value}{}", &source[..place.start], &source[place.end..]))
}

/// The numbers of an actor's movement with the way to each, in the order of the file: those that may change
/// while it moves.
pub(super) fn movement_numbers(source: &str, actor: &str) -> Vec<(String, f64)> {
    let Ok(table) = DeTable::parse(source) else { return Vec::new() };
    let Ok(found) = find_actor(table.get_ref(), actor) else { return Vec::new() };
    let mut numbers = numbers(found);
    numbers.sort_by_key(|(_, place)| place.start);
    let live = |way: &str| match way.split_once('.') {
        Some((table, key)) => LIVE_TABLES.contains(&table) && key != "frame_rate",
        None => LIVE_KEYS.contains(&way),
    };
    let read = |(way, place): (String, Range<usize>)| {
        let value = source[place].replace('_', "").parse().ok()?;
        live(&way).then_some((way, value))
    };
    numbers.into_iter().filter_map(read).collect()
}

fn find(table: &DeTable<'_>, actor: &str, key: &str) -> Result<Range<usize>, String> {
    let numbers = numbers(find_actor(table, actor)?);
    let fits = |way: &str| way == key || way.split_once('.').is_some_and(|(_, short)| short == key);
    if let Some((_, place)) = numbers.iter().find(|(way, _)| fits(way)) {
        return Ok(place.clone());
    }
    let known: Vec<&str> = numbers.iter().map(|(way, _)| way.as_str()).collect();
    let help = suggestion(key, &known, "its numbers are");
    Err(format!("`{actor}` has no number `{key}` in the file; {help}"))
}

fn find_actor<'a, 'b>(table: &'a DeTable<'b>, actor: &str) -> Result<&'a DeTable<'b>, String> {
    let actors: Vec<&DeTable<'_>> = match table.get("actor").map(Spanned::get_ref) {
        Some(DeValue::Array(list)) => list.iter().filter_map(|item| as_table(item.get_ref())).collect(),
        _ => Vec::new(),
    };
    let name = |table: &DeTable<'_>| match table.get("name").map(Spanned::get_ref) {
        Some(DeValue::String(name)) => name.to_string(),
        _ => String::new(),
    };
    if let Some(found) = actors.iter().copied().find(|table| name(table) == actor) {
        return Ok(found);
    }
    let known: Vec<String> = actors.iter().map(|table| name(table)).collect();
    let known: Vec<&str> = known.iter().map(String::as_str).collect();
    Err(format!("no actor is called `{actor}`; {}", suggestion(actor, &known, "the actors are")))
}

/// Every number of an actor with the way to it.
fn numbers(actor: &DeTable<'_>) -> Vec<(String, Range<usize>)> {
    let own = actor.iter().map(|(key, value)| (key.get_ref().to_string(), value));
    let inner = TABLES.iter().filter_map(|table| Some((*table, as_table(actor.get(*table)?.get_ref())?)));
    let inner = inner.flat_map(|(table, keys)| {
        keys.iter().map(move |(key, value)| (format!("{table}.{}", key.get_ref()), value))
    });
    own.chain(inner)
        .filter(|(_, value)| matches!(value.get_ref(), DeValue::Integer(_) | DeValue::Float(_)))
        .map(|(way, value)| (way, value.span()))
        .collect()
}

fn as_table<'a, 'b>(value: &'a DeValue<'b>) -> Option<&'a DeTable<'b>> {
    match value {
        DeValue::Table(table) => Some(table),
        _ => None,
    }
}
