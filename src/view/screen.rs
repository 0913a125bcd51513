//! World to screen and back.

use glam::{IVec2, Vec2};

use crate::direction::{Angle, YAxis};
use crate::error::{InvalidNumber, above_zero, each_component, finite};
use crate::saved::restored;
use crate::shape::Aabb;
use crate::terrain::TileGrid;

/// A part of the world on a screen whose y grows downwards.
///
/// ```
/// use ambulant::direction::YAxis;
/// use ambulant::view::View;
/// use glam::vec2;
///
/// // 320 by 180 pixels, two for each unit, in a world whose y grows upwards.
/// let view = View::new(vec2(320.0, 180.0), 2.0)?.with_y_axis(YAxis::Up).at(vec2(100.0, 50.0));
/// assert_eq!(view.to_screen(vec2(100.0, 50.0)), vec2(160.0, 90.0)); // the middle
/// assert_eq!(view.to_screen(vec2(110.0, 60.0)), vec2(180.0, 70.0));
/// assert_eq!(view.to_world(vec2(180.0, 70.0)), vec2(110.0, 60.0)); // what the pointer is over
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct View {
    /// The position in the world at the middle of the screen.
    pub center: Vec2,
    size: Vec2,
    scale: f32,
    rotation: Angle,
    y_axis: YAxis,
}

restored!(
    View { center: Vec2, size: Vec2, scale: f32, rotation: Angle, y_axis: YAxis } as saved => {
        let view = View::new(saved.size, saved.scale)?.at(saved.center).with_y_axis(saved.y_axis);
        Ok(View { rotation: saved.rotation, ..view })
    }
);

impl View {
    /// A view of the world's origin on a screen of this size in pixels, with this many pixels per unit.
    ///
    /// # Errors
    /// The size and the scale must be finite and above 0.
    pub fn new(size: Vec2, scale: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a vector of finite numbers above 0 (pixels)";
        let size = each_component("size", size, wanted, |part| part.is_finite() && part > 0.0)?;
        let scale = above_zero("scale", scale, "a finite number above 0 (pixels per unit)")?;
        Ok(Self { center: Vec2::ZERO, size, scale, rotation: Angle::ZERO, y_axis: YAxis::Down })
    }

    /// Sets the centre.
    #[must_use]
    pub const fn at(mut self, center: Vec2) -> Self {
        self.center = center;
        self
    }

    /// Sets the direction in which y grows.
    #[must_use]
    pub const fn with_y_axis(mut self, y_axis: YAxis) -> Self {
        self.y_axis = y_axis;
        self
    }

    /// Sets the rotation against the world, in radians from +x toward +y: what lies in that direction from the centre
    /// is on the right of the screen.
    ///
    /// # Errors
    /// The angle must be finite.
    pub fn turned(mut self, radians: f32) -> Result<Self, InvalidNumber> {
        self.rotation = Angle::from_radians(finite("radians", radians, "a finite number (radians)")?);
        Ok(self)
    }

    /// Sets the zoom, in pixels per unit.
    ///
    /// # Errors
    /// The scale must be finite and above 0; otherwise it stays as it is.
    pub fn set_scale(&mut self, scale: f32) -> Result<(), InvalidNumber> {
        self.scale = above_zero("scale", scale, "a finite number above 0 (pixels per unit)")?;
        Ok(())
    }

    /// The rotation against the world.
    #[must_use]
    pub const fn rotation(&self) -> Angle {
        self.rotation
    }

    /// Pixels per unit.
    #[must_use]
    pub const fn scale(&self) -> f32 {
        self.scale
    }

    /// Width and height, in pixels.
    #[must_use]
    pub const fn size(&self) -> Vec2 {
        self.size
    }

    /// The pixel of a position, from the upper left corner of the screen.
    #[must_use]
    pub fn to_screen(&self, place: Vec2) -> Vec2 {
        let off = self.along(place - self.center) * self.scale;
        self.size * 0.5 + Vec2::new(off.x, off.y * self.y_axis.downward())
    }

    /// The position of a pixel.
    #[must_use]
    pub fn to_world(&self, pixel: Vec2) -> Vec2 {
        let off = (pixel - self.size * 0.5) / self.scale;
        self.center + self.rotation.vector().rotate(Vec2::new(off.x, off.y * self.y_axis.downward()))
    }

    /// The whole pixel at which to draw a position. The position itself is not rounded, so slow motion stays smooth.
    #[must_use]
    pub fn to_pixel(&self, place: Vec2) -> IVec2 {
        (self.to_screen(place) + 0.5).floor().as_ivec2()
    }

    /// The smallest box in the world that contains all that is shown.
    #[must_use]
    pub fn shows(&self) -> Aabb {
        let corners = [Vec2::ZERO, Vec2::new(self.size.x, 0.0), self.size, Vec2::new(0.0, self.size.y)];
        let corners = corners.map(|corner| self.to_world(corner));
        let first = Aabb { min: corners[0], max: corners[0] };
        corners
            .iter()
            .fold(first, |area, corner| Aabb { min: area.min.min(*corner), max: area.max.max(*corner) })
    }

    /// The tiles of a map that are visible, row by row, each with the pixel of its upper left corner.
    pub fn tiles<'a>(&'a self, grid: &'a TileGrid) -> impl Iterator<Item = (IVec2, Vec2)> + 'a {
        grid.tiles_in(self.shows()).map(move |tile| {
            let half = grid.tile_size() * 0.5;
            let corner = grid.center_of(tile) - half * Vec2::new(1.0, self.y_axis.downward());
            (tile, self.to_screen(corner))
        })
    }

    /// A direction of the world, as the view shows it.
    fn along(&self, direction: Vec2) -> Vec2 {
        let turn = self.rotation.vector();
        Vec2::new(turn.x, -turn.y).rotate(direction)
    }
}
