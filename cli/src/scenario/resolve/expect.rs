//! What the scenario expects of its actors.

use ambulant::direction::Facing;
use ambulant::terrain::{TileGrid, TileKind};
use glam::{IVec2, Vec2};
use toml::Spanned;

use super::super::problem::{Problem, suggestion};
use super::super::{Claim, Expectation, Standing, file};

/// How far a position or speed may be off where an expectation does not say, in units or units/s.
const DEFAULT_WITHIN: f32 = 0.01;

pub(super) fn resolve(
    written: Spanned<file::Expect>,
    names: &[String],
    walls: Option<(&TileGrid, &Standing)>,
    seconds: f64,
) -> Result<Expectation, Problem> {
    let place = written.span();
    let expect = written.into_inner();
    let at = *expect.at.get_ref();
    if !(0.0..=seconds).contains(&at) {
        let message = format!("{at} s is not within the run of {seconds} s");
        return Err(Problem::at(expect.at.span(), message, "").help("change the time, or `seconds`"));
    }
    let name = expect.actor.get_ref();
    let Some(actor) = names.iter().position(|known| known == name) else {
        let known: Vec<&str> = names.iter().map(String::as_str).collect();
        return Err(Problem::at(expect.actor.span(), format!("no actor is called `{name}`"), "")
            .help(suggestion(name, &known, "the actors are")));
    };
    let claims = claims(&expect, names, walls)?;
    if claims.is_empty() {
        let help = "add position, speed, tile, at_rest, facing or touching";
        return Err(Problem::at(place, "this expectation says nothing", "").help(help));
    }
    Ok(Expectation { at, actor, claims })
}

fn claims(
    expect: &file::Expect,
    names: &[String],
    walls: Option<(&TileGrid, &Standing)>,
) -> Result<Vec<Claim>, Problem> {
    let mut claims = Vec::new();
    let within = match &expect.within {
        None => DEFAULT_WITHIN,
        Some(within) if within.get_ref().is_finite() && *within.get_ref() >= 0.0 => *within.get_ref(),
        Some(within) => {
            let message =
                format!("within is {}, but must be a finite number of at least 0", within.get_ref());
            return Err(Problem::at(within.span(), message, ""));
        }
    };
    if let Some(position) = &expect.position {
        let expected = Vec2::from(*position.get_ref());
        if !expected.is_finite() {
            return Err(Problem::at(position.span(), "position is not a finite place", ""));
        }
        claims.push(Claim::Position { expected, within });
    }
    if let Some(speed) = &expect.speed {
        let expected = *speed.get_ref();
        if !expected.is_finite() || expected < 0.0 {
            let message = format!("speed is {expected}, but must be a finite number of at least 0");
            return Err(Problem::at(speed.span(), message, ""));
        }
        claims.push(Claim::Speed { expected, within });
    }
    claims.extend(expect.tile.as_ref().map(|tile| Claim::Tile(IVec2::from(*tile.get_ref()))));
    claims.extend(expect.at_rest.map(Claim::AtRest));
    if let Some(facing) = &expect.facing {
        claims.push(Claim::Facing(facing_named(facing)?));
    }
    if let Some(touching) = &expect.touching {
        claims.push(Claim::Touching(kind_named(touching, names, walls)?));
    }
    Ok(claims)
}

fn facing_named(name: &Spanned<String>) -> Result<Facing, Problem> {
    let known = Facing::ALL.map(Facing::name);
    let found = Facing::ALL.into_iter().find(|facing| facing.name() == name.get_ref());
    found.ok_or_else(|| {
        Problem::at(name.span(), format!("unknown facing `{}`", name.get_ref()), "").help(suggestion(
            name.get_ref(),
            &known,
            "the ways to face are",
        ))
    })
}

fn kind_named(
    name: &Spanned<String>,
    names: &[String],
    walls: Option<(&TileGrid, &Standing)>,
) -> Result<Option<String>, Problem> {
    const NOTHING: &str = "nothing";
    if name.get_ref() == NOTHING {
        return Ok(None);
    }
    let Some((map, standing)) = walls else { return Ok(Some(name.get_ref().clone())) };
    let mut known: Vec<&str> = map.kinds().iter().map(TileKind::name).chain(standing.kinds()).collect();
    known.extend(names.iter().map(String::as_str));
    known.push(NOTHING);
    if known.contains(&name.get_ref().as_str()) {
        return Ok(Some(name.get_ref().clone()));
    }
    Err(Problem::at(name.span(), format!("no tile, obstacle or actor is called `{}`", name.get_ref()), "")
        .help(suggestion(name.get_ref(), &known, "the names are")))
}
