//! A free-standing obstacle: its name and its one shape.

use ambulant::shape::{Polygon, Solid};
use ambulant::terrain::Layers;
use glam::Vec2;
use toml::Spanned;

use super::super::problem::Problem;
use super::super::standing::Move;
use super::super::{Course, LayerNames, file};
use super::{layers, refused};

/// Its name, its layers, its shape, how it moves, and how many hits it takes.
type Found = (String, Layers, Solid, Option<Course>, Option<u32>);

pub(super) fn resolve(written: Spanned<file::Obstacle>, known: &mut LayerNames) -> Result<Found, Problem> {
    let place = written.span();
    let written = written.into_inner();
    let on = layers(written.layers.as_ref(), Layers::FIRST, known)?;
    let course = course(&written)?;
    let written_breaks = written.breaks;
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
        (Some(solid), None) => Ok((name, on, solid?, course, written_breaks)),
        (Some(_), Some(_)) => Err(Problem::at(place, format!("the obstacle `{name}` has two shapes"), "")
            .help("keep one of box, circle, segment and polygon")),
        (None, _) => Err(Problem::at(place, format!("the obstacle `{name}` has no shape"), "")
            .help("add one of box, circle, segment and polygon")),
    }
}

/// How an obstacle moves; nothing where no moves are written.
fn course(written: &file::Obstacle) -> Result<Option<Course>, Problem> {
    let mut moves: Vec<Move> = Vec::new();
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
        if moves.last().is_some_and(|last| at < last.at + last.seconds) {
            let message = format!("the move of `{}` starts before the one before it has ended", written.name);
            return Err(Problem::at(leg.span(), message, "").help("put moves in order of time"));
        }
        moves.push(Move { at, by, seconds });
    }
    let (carries, waits) = (written.carries, written.waits);
    Ok((!moves.is_empty()).then_some(Course { moves, carries, waits }))
}
