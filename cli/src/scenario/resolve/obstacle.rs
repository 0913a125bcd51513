//! A free-standing obstacle: its name, its one shape, what it does and how it moves.

use std::ops::Range;

use ambulant::drive::Surface;
use ambulant::shape::{Polygon, Solid};
use ambulant::terrain::{Course, Layers};
use glam::Vec2;
use toml::Spanned;

use super::super::problem::Problem;
use super::super::standing::{Kind, Moves, Obstacle};
use super::super::{LayerNames, file};
use super::{layers, refused};

pub(super) fn resolve(written: Spanned<file::Obstacle>, known: &mut LayerNames) -> Result<Obstacle, Problem> {
    let place = written.span();
    let written = written.into_inner();
    let on = layers(written.layers.as_ref(), Layers::FIRST, known)?;
    let moves = moves(&written, &place)?;
    let (kind, breaks) = (kind(&written)?, written.breaks);
    let file::Obstacle { name, boxed, circle, segment, polygon, .. } = written;
    let corners = |corners: &file::Corners| (Vec2::from(corners.from), Vec2::from(corners.to));
    let shapes = [
        boxed.map(|shape| {
            let (from, to) = corners(shape.get_ref());
            Solid::box_from_corners(from, to).map_err(refused(shape.span()))
        }),
        circle.map(|shape| {
            let file::Circle { center, radius } = *shape.get_ref();
            Solid::circle(Vec2::from(center), radius).map_err(refused(shape.span()))
        }),
        segment.map(|shape| {
            let (from, to) = corners(shape.get_ref());
            Solid::segment(from, to).map_err(refused(shape.span()))
        }),
        polygon.map(|shape| {
            let corners: Vec<Vec2> = shape.get_ref().iter().copied().map(Vec2::from).collect();
            let made = Polygon::new(&corners).map(Solid::from);
            made.map_err(|error| Problem::at(shape.span(), error.to_string(), ""))
        }),
    ];
    let mut shapes = shapes.into_iter().flatten();
    match (shapes.next(), shapes.next()) {
        (Some(solid), None) => Ok(Obstacle { name, layers: on, solid: solid?, kind, moves, breaks }),
        (Some(_), Some(_)) => Err(Problem::at(place, format!("the obstacle `{name}` has two shapes"), "")
            .help("keep one of box, circle, segment and polygon")),
        (None, _) => Err(Problem::at(place, format!("the obstacle `{name}` has no shape"), "")
            .help("add one of box, circle, segment and polygon")),
    }
}

/// Whether an obstacle blocks, and what it does as a floor.
fn kind(written: &file::Obstacle) -> Result<Kind, Problem> {
    let Some(floor) = &written.floor else { return Ok(Kind::Wall { carries: written.carries }) };
    let place = floor.span();
    let refuse = |message: String, help: &str| Err(Problem::at(place.clone(), message, "").help(help));
    if written.boxed.is_none() {
        let message = format!("the floor `{}` is not a box", written.name);
        return refuse(message, "give it a box: the sides of a floor lie along x and y");
    }
    if written.carries || written.layers.is_some() || written.breaks.is_some() {
        let message = format!("the floor `{}` has `carries`, `layers` or `breaks`", written.name);
        return refuse(message, "remove it: a floor always carries, and nothing collides with it");
    }
    let file::Floor { speed_factor, grip, belt } = floor.get_ref();
    let number =
        |factor: &Option<Spanned<f32>>| factor.as_ref().map(|factor| (*factor.get_ref(), factor.span()));
    let mut surface = Surface::PLAIN;
    if let Some((factor, span)) = number(speed_factor) {
        surface = surface.with_speed_factor(factor).map_err(refused(span))?;
    }
    if let Some((factor, span)) = number(grip) {
        surface = surface.with_grip(factor).map_err(refused(span))?;
    }
    if let Some(belt) = belt {
        surface = surface.with_belt(Vec2::from(*belt.get_ref())).map_err(refused(belt.span()))?;
    }
    Ok(Kind::Floor(surface))
}

/// How an obstacle moves; nothing where no moves are written.
fn moves(written: &file::Obstacle, place: &Range<usize>) -> Result<Option<Moves>, Problem> {
    let (mut course, mut legs, mut ended) = (Course::new(), Vec::new(), 0.0f64);
    for leg in &written.moves {
        let file::Move { at, by, seconds } = *leg.get_ref();
        let by = Vec2::from(by);
        if !(at >= 0.0 && seconds > 0.0 && (at + seconds).is_finite() && by.is_finite()) {
            let message =
                format!("the move of `{}` needs at >= 0, seconds > 0 and a finite way", written.name);
            return Err(
                Problem::at(leg.span(), message, "").help("write { at = 1.0, by = [0, -32], seconds = 0.5 }")
            );
        }
        if at < ended {
            let message = format!("the move of `{}` starts before the one before it has ended", written.name);
            return Err(Problem::at(leg.span(), message, "").help("put moves in order of time"));
        }
        // From the clock of the course, so that rounding does not add up.
        let wait = rounded(at - course.seconds());
        if wait >= SHORTEST_WAIT {
            course = course.waits(wait).map_err(refused(leg.span()))?;
        }
        course = course.moves(by, rounded(seconds)).map_err(refused(leg.span()))?;
        legs.push(by);
        ended = at + seconds;
    }
    if written.loops {
        let place = written.moves.first().map_or_else(|| place.clone(), Spanned::span);
        course = course.looping().map_err(refused(place))?;
    }
    Ok((!legs.is_empty()).then_some(Moves { legs, course, waits: written.waits }))
}

/// A shorter wait between two moves is none, in seconds.
const SHORTEST_WAIT: f32 = 1e-5;

#[expect(clippy::cast_possible_truncation, reason = "seconds of a move, rounded once")]
const fn rounded(seconds: f64) -> f32 {
    seconds as f32
}
