//! A free-standing obstacle: its name and its one shape.

use ambulant::shape::{Polygon, Solid};
use glam::Vec2;
use toml::Spanned;

use super::super::file;
use super::super::problem::Problem;
use super::refused;

pub(super) fn resolve(written: Spanned<file::Obstacle>) -> Result<(String, Solid), Problem> {
    let place = written.span();
    let file::Obstacle { name, boxed, circle, segment, polygon } = written.into_inner();
    let corners = |corners: &file::Corners| (Vec2::from(corners.from), Vec2::from(corners.to));
    let shapes = [
        boxed.map(|shape| {
            let (from, to) = corners(shape.get_ref());
            Solid::boxed(from, to).map_err(refused(shape.span()))
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
        (Some(solid), None) => Ok((name, solid?)),
        (Some(_), Some(_)) => Err(Problem::at(place, format!("the obstacle `{name}` has two shapes"), "")
            .help("keep one of box, circle, segment and polygon")),
        (None, _) => Err(Problem::at(place, format!("the obstacle `{name}` has no shape"), "")
            .help("add one of box, circle, segment and polygon")),
    }
}
