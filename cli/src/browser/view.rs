//! The play as its page reads it: what does not change, and how all is now.

use ambulant::drive::Feel;
use ambulant::intent::Direction;
use ambulant::terrain::{TileKind, Wall};
use glam::IVec2;
use serde_json::{Value, json};

use super::message::Wanted;
use crate::feel::FIGURES;
use crate::live::{Game, Session};
use crate::page::{actors, area, event_of, row_of, wall_number};
use crate::picture::PageMap;
use crate::record::Row;
use crate::scenario::{Actor, Moves, Scenario};

/// The most events that a page is sent at once.
const MOST_EVENTS: usize = 200;
/// For how long the way of a drag under way is shown, in seconds.
const AHEAD: f64 = 1.5;

/// What does not change.
pub(super) fn still(game: &Game<'_>, map: &PageMap, file: &str) -> Value {
    let scenario = game.session().scenario();
    let tile = scenario.map.tile_size();
    json!({
        "file": file,
        "actors": actors(scenario, map),
        "able": game.able(),
        "kinds": map.kinds,
        "origin": map.origin.to_array(),
        "scale": map.scale.to_array(),
        "tile": tile.to_array(),
        "tick_rate": game.session().tick_rate(),
    })
}

/// What breaks, looked up once: tiles of kinds that do, and obstacles.
pub(super) struct Breakable(Vec<(Wall, u32, [f32; 4])>);

impl Breakable {
    pub(super) fn new(scenario: &Scenario) -> Self {
        let map = &scenario.map;
        let hits = |tile: IVec2| {
            let name = map.kind(tile)?.name();
            Some(scenario.breaking.iter().find(|(known, _)| known == name)?.1)
        };
        let rows = 0..map.size().y;
        let tiles = rows.flat_map(|row| (0..map.size().x).map(move |column| IVec2::new(column, row)));
        let tiles =
            tiles.filter_map(|tile| Some((Wall::tile(tile), hits(tile)?, area(&map.tile_area(tile)))));
        let items = scenario.standing.iter();
        let items = items.filter_map(|item| Some((item.id, item.breaks?, area(&item.solid.bounds()))));
        Self(tiles.chain(items).filter(|(_, hits, _)| *hits > 1).collect())
    }

    /// The places of those that were hit and still stand, each with the part of its hits that is left.
    fn cracked(&self, session: &Session<'_>) -> Vec<Value> {
        let world = &session.stage().field().world;
        let hit = self.0.iter().filter_map(|(wall, hits, area)| {
            let left = world.hits_left(*wall).filter(|left| left < hits && *left > 0)?;
            Some(json!([area, f64::from(left) / f64::from(*hits)]))
        });
        hit.collect()
    }
}

/// How all is now.
pub(super) fn now(game: &Game<'_>, breakable: &Breakable, wanted: &Wanted) -> Value {
    let session = game.session();
    let scenario = session.scenario();
    let rows: Vec<Value> = (0..scenario.actors.len()).map(|actor| row(session, actor)).collect();
    let recording = session.recording();
    let broken: Vec<[f32; 4]> =
        recording.broken.iter().map(|(_, tile)| area(&scenario.map.tile_area(*tile))).collect();
    let shattered: Vec<Option<usize>> =
        recording.shattered.iter().map(|(_, wall)| wall_number(scenario, *wall)).collect();
    let crates = session.stage().crates().into_iter().map(|tile| area(&scenario.map.tile_area(tile)));
    let shots = session.stage().shots().map(|at| at.to_array());
    let mut found = json!({
        "version": game.version(),
        "tick": session.ticks(),
        "time": session.time(),
        "fraction": game.fraction(),
        "paused": game.is_paused(),
        "pace": game.pace(),
        "message": game.message(),
        "actor": session.actor(),
        "walls_off": session.goes_through_walls(),
        "rows": rows,
        "moved": moved(session),
        "broken": broken,
        "shattered": shattered,
        "cracked": breakable.cracked(session),
        "crates": crates.collect::<Vec<_>>(),
        "shots": shots.collect::<Vec<_>>(),
        "kind": scenario.map.kind(session.row().tile).map(TileKind::name),
        "stance": [session.stance().is_moving(), session.stance().lasts()],
        "hand": hand(session),
        "numbers": numbers(game),
    });
    news(&mut found, game, wanted.known);
    if let Some([before, now]) = session.ghost() {
        found["ghost"] = json!([now.position.x, now.position.y, before.position.x, before.position.y]);
    }
    if wanted.feelers {
        let feelers = session.feelers();
        found["feelers"] = json!([feelers.left, feelers.right, feelers.lower_y, feelers.higher_y]);
    }
    if let Some(drag) = wanted.drag {
        let launch = session.launch(&drag.into()).ok().flatten();
        found["launch"] = launch.map_or(Value::Null, |velocity| {
            let path: Vec<[f32; 2]> = session.path_after(velocity, AHEAD).map(|at| at.to_array()).collect();
            json!({ "velocity": velocity.to_array(), "path": path })
        });
    }
    found
}

/// An actor now, and where it was a tick before.
fn row(session: &Session<'_>, actor: usize) -> Value {
    let Some(now) = session.stage().row(actor, session.ticks(), session.time()) else { return Value::Null };
    let before = session.row_before(actor).map_or(now.position, |before| before.position);
    json!([row_of(&now, session.scenario()), before.to_array()])
}

/// The walls that move, from their starts, now and a tick before.
fn moved(session: &Session<'_>) -> Vec<Value> {
    let [now, before] = [session.stage(), session.stage_before()].map(|stage| stage.world().offsets());
    let both = now.iter().zip(&before);
    both.map(|((wall, at), (_, was))| {
        json!([wall_number(session.scenario(), *wall), at.x, at.y, was.x, was.y])
    })
    .collect()
}

/// What the page has not yet: the track of the actor, and events.
fn news(found: &mut Value, game: &Game<'_>, known: [u32; 3]) {
    let session = game.session();
    let [version, tick, events] = if known[0] == game.version() { known } else { [0, 0, 0] };
    let is_new = |row: &Row| version == 0 || row.tick > tick;
    let track = session.track_with_keys().filter(|(row, _)| is_new(row));
    let track = track.map(|(row, held)| {
        let keys = Direction::ALL.iter().rev().fold(0, |keys, key| keys * 2 + u8::from(held.is_held(*key)));
        let (at, intent) = (row.position, row.intent);
        json!([row.tick, at.x, at.y, row.velocity.length(), keys, intent.x, intent.y])
    });
    found["track"] = track.collect();
    let all = session.events();
    let first = (events as usize).max(all.len().saturating_sub(MOST_EVENTS)).min(all.len());
    found["events"] = json!({
        "all": version == 0,
        "count": all.len(),
        "new": all[first..].iter().map(event_of).collect::<Vec<_>>(),
    });
}

/// What the actor in the hand can do besides walking.
fn hand(session: &Session<'_>) -> Value {
    let actor = session.actor_in_hand();
    json!({
        "flicks": actor.flick.is_some() && actor.drive().is_some(),
        "shoots": !actor.shots.is_empty(),
        "holds_ball": session.stage().holds_ball(session.actor()),
    })
}

/// The numbers, what they feel like, and the drive as Rust.
fn numbers(game: &Game<'_>) -> Value {
    let session = game.session();
    let list = session.numbers().list().iter();
    json!({
        "actor": session.actor_in_hand().name,
        "list": list.map(|number| json!([number.way, number.value, number.written])).collect::<Vec<_>>(),
        "changed": session.numbers().changed(),
        "feel": figures(session.tuned_actor()),
        "feel_of_file": figures(session.actor_of_file()),
        "rust": game.as_rust(),
    })
}

/// What an actor feels like: names, numbers and units.
fn figures(actor: &Actor) -> Vec<(&'static str, Option<f32>, &'static str)> {
    match &actor.moves {
        Moves::Freely(drive) => {
            let feel = Feel::of(drive.kind());
            FIGURES.iter().map(|(name, figure, unit)| (*name, figure(&feel), *unit)).collect()
        }
        Moves::ByTiles(rules, _) => vec![("one tile", Some(1.0 / rules.speed()), "s")],
        Moves::Flying(_) => Vec::new(),
    }
}
