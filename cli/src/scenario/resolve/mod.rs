//! From the file as written to a checked scenario.
//!
//! Every check adds its problem and goes on, so that one run shows all that is wrong.

mod actor;
mod arcade;
mod drive;
mod expect;
mod map;
mod obstacle;
mod script;
mod steps;
mod tiles;

use std::ops::Range;
use std::path::Path;

use ambulant::InvalidNumber;
use ambulant::terrain::{Layers, TileGrid};
use toml::Spanned;

use super::problem::Problem;
use super::{Actor, LayerNames, MAX_TICK_RATE, MAX_TICKS, Scenario, Standing, file};
pub(crate) use script::direction_name;

/// The version of the format that this tool reads.
const FORMAT: i64 = 1;
/// Ticks a second where the file does not say.
const DEFAULT_TICK_RATE: f64 = 60.0;

/// What is found wrong on the way.
#[derive(Default)]
struct Findings(Vec<Problem>);

impl Findings {
    /// Keeps a good value, or notes the problem and goes on without.
    fn keep<T>(&mut self, found: Result<T, Problem>) -> Option<T> {
        found.map_err(|problem| self.0.push(problem)).ok()
    }
}

pub(super) fn resolve(file: file::File, folder: &Path) -> Result<Scenario, Vec<Problem>> {
    let mut findings = Findings::default();
    if *file.format.get_ref() != FORMAT {
        let message = format!("format {} is not known", file.format.get_ref());
        let problem = Problem::at(file.format.span(), message, "").help("this tool reads format = 1");
        return Err(vec![problem]);
    }
    let (seconds, tick_rate) = times(&file, &mut findings);
    let map_place = file.map.span();
    let mut layers = LayerNames::default();
    let edge = steps::edge(file.map.get_ref().edge);
    let edge_rules = file.map.get_ref().edges.as_ref().map(arcade::rules);
    let breaking = arcade::breaking(file.map.get_ref());
    let map = findings.keep(map::resolve(file.map.into_inner(), folder, &mut layers));
    let grid = map.as_ref().map(|(grid, _)| grid);
    let mut standing = Standing::default();
    for written in file.obstacle {
        let found = findings.keep(obstacle::resolve(written, &mut layers));
        if let Some(obstacle) = found {
            standing.add(obstacle);
        }
    }
    let walls = grid.map(|grid| (grid, &standing));
    let tracks = grid.and_then(|grid| findings.keep(steps::tracks(edge, file.portal, file.crates, grid)));
    if file.actor.is_empty() {
        let problem = Problem::at(map_place, "the scenario has no actors", "nothing moves on this map")
            .help("add an [[actor]] with name, start, footprint, a drive and keys");
        findings.0.push(problem);
    }
    let (names, places, actors) = actors(file.actor, walls, seconds, &mut layers, &mut findings);
    let mut expectations = Vec::new();
    for written in file.expect {
        let found = expect::resolve(written, &names, walls, seconds);
        expectations.extend(findings.keep(found));
    }
    let (Some((map, wind)), Some(tracks), true) = (map, tracks, findings.0.is_empty()) else {
        return Err(findings.0);
    };
    let scenario = Scenario {
        edges: edge_rules.and_then(|rules| arcade::edges(rules, &map)),
        breaking,
        title: file.title,
        seconds,
        tick_rate,
        map,
        wind,
        standing,
        layers,
        tracks,
        actors,
        expectations,
    };
    steps::check_tiles(&scenario, &places).map_or(Ok(scenario), |problem| Err(vec![problem]))
}

/// How long the run is and how often it ticks.
fn times(file: &file::File, findings: &mut Findings) -> (f64, f64) {
    let seconds = findings.keep(in_range("seconds", &file.seconds, 3_600.0 * 24.0)).unwrap_or(1.0);
    let rate = file.tick_rate.as_ref();
    let rate = rate.and_then(|rate| findings.keep(in_range("tick_rate", rate, MAX_TICK_RATE)));
    let tick_rate = rate.unwrap_or(DEFAULT_TICK_RATE);
    if let Err(message) = check_length(seconds, tick_rate, file.actor.len().max(1)) {
        findings.0.push(Problem::at(file.seconds.span(), message, "").help("shorten the run"));
    }
    (seconds, tick_rate)
}

/// The actors, their names, and where in the file each says where it starts.
fn actors(
    written: Vec<Spanned<file::Actor>>,
    walls: Option<(&TileGrid, &Standing)>,
    seconds: f64,
    layers: &mut LayerNames,
    findings: &mut Findings,
) -> (Vec<String>, Vec<Range<usize>>, Vec<Actor>) {
    let (mut names, mut places, mut actors) = (Vec::<String>::new(), Vec::new(), Vec::new());
    for written in written {
        let actor = written.into_inner();
        places.push(actor.tile.as_ref().map_or_else(|| actor.name.span(), Spanned::span));
        let name = actor.name.get_ref().clone();
        if names.contains(&name) {
            let message = format!("two actors are called `{name}`");
            findings.0.push(Problem::at(actor.name.span(), message, "").help("give each its own name"));
        }
        names.push(name);
        actors.extend(actor::resolve(actor, walls, seconds, (&names, &mut *layers), findings));
    }
    (names, places, actors)
}

/// Refuses a run with more ticks than memory should hold.
pub(crate) fn check_length(seconds: f64, tick_rate: f64, actors: usize) -> Result<(), String> {
    let ticks = seconds * tick_rate * actors as f64;
    if ticks <= MAX_TICKS {
        return Ok(());
    }
    Err(format!("{seconds} s at {tick_rate} ticks per second for {actors} actors is over {MAX_TICKS} ticks"))
}

/// The layers that a list of names asks for; none is the plain one.
fn layers(
    names: Option<&Vec<Spanned<String>>>,
    plain: Layers,
    known: &mut LayerNames,
) -> Result<Layers, Problem> {
    let Some(names) = names else { return Ok(plain) };
    names.iter().try_fold(Layers::NONE, |all, name| {
        let layer = known.layer(name.get_ref());
        layer.map(|layer| all | layer).map_err(|message| Problem::at(name.span(), message, ""))
    })
}

fn in_range(field: &str, value: &Spanned<f64>, most: f64) -> Result<f64, Problem> {
    let number = *value.get_ref();
    if number > 0.0 && number <= most {
        return Ok(number);
    }
    let message = format!("{field} is {number}, but must be above 0 and at most {most}");
    Err(Problem::at(value.span(), message, ""))
}

/// A library error about one number, at that number's place.
fn refused(place: Range<usize>) -> impl Fn(InvalidNumber) -> Problem {
    move |error| Problem::at(place.clone(), error.to_string(), format!("must be {}", error.wanted()))
}
