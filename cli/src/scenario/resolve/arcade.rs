//! Balls, paddles, edges, things that break, shots, hovering, and what walls do to vehicles.

use ambulant::arcade::{AngleLimits, Hover, Paddle};
use ambulant::direction::{Side, YAxis};
use ambulant::shape::Footprint;
use ambulant::terrain::{EdgeRule, PlayArea, TileGrid};
use ambulant::walker::AtWalls;
use glam::Vec2;
use toml::Spanned;

use super::super::problem::{Problem, suggestion};
use super::super::{Flying, Shot, file};
use super::refused;

/// The smallest inward speed at which a vehicle bounces, in units/s.
const LEAST_BOUNCE: f32 = 2.0;

/// The rules of the four sides: left, right, top, bottom.
pub(super) fn rules(written: &file::PlayArea) -> [EdgeRule; 4] {
    [written.left, written.right, written.top, written.bottom].map(|rule| match rule {
        file::EdgeRule::Block => EdgeRule::Block,
        file::EdgeRule::Bounce => EdgeRule::Bounce,
        file::EdgeRule::Wrap => EdgeRule::Wrap,
        file::EdgeRule::Open => EdgeRule::Open,
    })
}

/// The edges of a map's ground.
pub(super) fn edges(rules: [EdgeRule; 4], map: &TileGrid) -> Option<PlayArea> {
    let area = map.area();
    let edges = PlayArea::new(area.min, area.max).ok()?.with_y_axis(map.y_axis());
    let sides = [Side::Left, Side::Right, Side::Top, Side::Bottom];
    Some(sides.into_iter().zip(rules).fold(edges, |edges, (side, rule)| edges.with(side, rule)))
}

/// The names of kinds of tiles that break, with their hits.
pub(super) fn breaking(map: &file::Map) -> Vec<(String, u32)> {
    let kinds = map.legend.get_ref().values();
    kinds.filter_map(|kind| Some((kind.name.clone(), kind.breaks?))).collect()
}

pub(super) fn paddle(actor: &file::Actor, y_axis: YAxis) -> Result<Option<Paddle>, Problem> {
    let Some(written) = &actor.paddle else { return Ok(None) };
    let file::Paddle { away, greatest_degrees, gain, limit, velocity_transfer } = written.get_ref();
    let down = Vec2::Y * y_axis.downward();
    let away = match away {
        file::Away::Left => Vec2::NEG_X,
        file::Away::Right => Vec2::X,
        file::Away::Up => -down,
        file::Away::Down => down,
    };
    let angle = greatest_degrees.get_ref().to_radians();
    let mut paddle = Paddle::facing(away, angle).map_err(refused(greatest_degrees.span()))?;
    if gain.is_some() || limit.is_some() {
        let number =
            |value: &Option<Spanned<f32>>, usual: f32| value.as_ref().map_or(usual, |value| *value.get_ref());
        let place = gain.as_ref().or(limit.as_ref()).map_or(0..0, Spanned::span);
        paddle = paddle.with_gain(number(gain, 1.0), number(limit, f32::MAX)).map_err(refused(place))?;
    }
    if let Some(share) = velocity_transfer {
        paddle = paddle.with_velocity_transfer(*share.get_ref()).map_err(refused(share.span()))?;
    }
    Ok(Some(paddle))
}

pub(super) fn flying(written: &file::Ball, names: &[String]) -> Result<Flying, Problem> {
    let velocity = Vec2::from(*written.velocity.get_ref());
    if !velocity.is_finite() || velocity == Vec2::ZERO {
        let message = "a ball's velocity must be two finite numbers, not both 0 (units/s)";
        return Err(Problem::at(written.velocity.span(), message, ""));
    }
    let angle = |degrees: &Option<Spanned<f32>>| {
        degrees.as_ref().map_or(0.0, |degrees| degrees.get_ref().to_radians())
    };
    let place =
        written.level_degrees.as_ref().or(written.upright_degrees.as_ref()).map_or(0..0, Spanned::span);
    let angle_limits = AngleLimits::new(angle(&written.level_degrees), angle(&written.upright_degrees));
    let angle_limits = angle_limits.map_err(refused(place))?;
    let held = match (&written.held_by, &written.serve_at) {
        (Some(by), Some(at)) => {
            let name = by.get_ref();
            let actor = names.iter().position(|known| known == name).ok_or_else(|| {
                let known: Vec<&str> = names.iter().map(String::as_str).collect();
                Problem::at(by.span(), format!("no actor before this one is called `{name}`"), "")
                    .help(suggestion(name, &known, "the actors are"))
            })?;
            Some((actor, *at.get_ref()))
        }
        (None, None) => None,
        (Some(one), None) => {
            return Err(
                Problem::at(one.span(), "a ball that is held is served", "").help("add serve_at = 1.0")
            );
        }
        (None, Some(one)) => {
            return Err(Problem::at(one.span(), "a ball that is served is held before", "")
                .help("add held_by = \"...\", an actor with a paddle"));
        }
    };
    Ok(Flying { velocity, angle_limits, held })
}

pub(super) fn hover(actor: &file::Actor) -> Result<Option<Hover>, Problem> {
    let Some(written) = &actor.hover else { return Ok(None) };
    let file::Hover { height, rise, fall, ahead, step } = written.get_ref();
    let hover = Hover::new(*height.get_ref(), *rise.get_ref(), *fall.get_ref());
    let hover = hover.map_err(refused(written.span()))?;
    let number = |value: &Option<Spanned<f32>>| value.as_ref().map_or(0.0, |value| *value.get_ref());
    Ok(Some(hover.with_ahead(number(ahead), number(step)).map_err(refused(written.span()))?))
}

pub(super) fn at_walls(actor: &file::Actor) -> Result<AtWalls, Problem> {
    let written = actor.at_walls.as_ref();
    let bounces = written.is_some_and(|written| *written.get_ref() == file::AtWalls::Bounce);
    match (&actor.bounce, written) {
        (Some(bounce), _) if !bounces => {
            Err(Problem::at(bounce.span(), "bounce is for at_walls = \"bounce\"", ""))
        }
        (Some(bounce), _) if !(0.0..=1.0).contains(bounce.get_ref()) => {
            Err(Problem::at(bounce.span(), "bounce is a part of the inward speed, from 0 to 1", ""))
        }
        (bounce, Some(written)) => match written.get_ref() {
            file::AtWalls::Slide => Ok(AtWalls::Slide),
            file::AtWalls::Stop => Ok(AtWalls::Stop),
            file::AtWalls::Bounce => {
                let restitution = bounce.as_ref().map_or(1.0, |bounce| *bounce.get_ref());
                AtWalls::bounce(restitution, LEAST_BOUNCE).map_err(refused(written.span()))
            }
        },
        (_, None) => Ok(AtWalls::Slide),
    }
}

pub(super) fn shots(actor: &file::Actor, seconds: f64) -> Result<Vec<Shot>, Problem> {
    let mut shots: Vec<Shot> = Vec::new();
    for written in actor.shots.iter().flatten() {
        let shot = written.get_ref();
        let at = *shot.at.get_ref();
        if !(0.0..=seconds).contains(&at) || shots.last().is_some_and(|last| at < last.at) {
            return Err(Problem::at(
                shot.at.span(),
                format!("{at} s is not within the run, in order of time"),
                "",
            ));
        }
        let footprint = Footprint::circle(*shot.radius.get_ref()).map_err(refused(shot.radius.span()))?;
        let toward = Vec2::from(*shot.toward.get_ref());
        let speed = *shot.speed.get_ref();
        if !toward.is_finite() || !speed.is_finite() || speed <= 0.0 {
            let message = "a shot goes toward a finite place at a finite speed above 0 (units/s)";
            return Err(Problem::at(written.span(), message, ""));
        }
        let limit = |value: &Option<Spanned<f32>>| value.as_ref().map(|value| *value.get_ref());
        let (range, seconds) = (limit(&shot.range), limit(&shot.seconds));
        if range.into_iter().chain(seconds).any(|limit| !limit.is_finite() || limit < 0.0) {
            return Err(Problem::at(written.span(), "range and seconds of a shot must be at least 0", ""));
        }
        shots.push(Shot { at, toward, speed, footprint, bounces: shot.bounces, range, seconds });
    }
    Ok(shots)
}
