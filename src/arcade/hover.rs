//! Hovering: keeps a height above uneven ground.

use glam::Vec2;

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::restored;
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};
use crate::tolerance::LOOKS_DOWN;
use crate::travel::free_distance;

/// How a [walker](crate::walker::Walker::hover) hovers: its height above the ground, and how fast it rises and falls.
///
/// In each tick it sweeps down for the ground, and sinks or rises at one of its speeds until it has its height. Meanwhile
/// its drive moves it across; its velocity is that of both. Walls above, below and beside it stop it. It sinks into a
/// gap no faster than it falls, and climbs out again. Down is the direction in which the terrain's y grows, or the other
/// one where y grows upwards.
///
/// ```
/// use ambulant::arcade::Hover;
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bench")).with('.', TileKind::floor("air"));
/// let benches = TileGrid::from_rows(&["....", "....", "..##", "####"], &legend)?.with_tile_size(16.0)?;
/// let mut lamp = Walker::new(vec2(8.0, 20.0), Footprint::rect(8.0, 8.0)?, Pace::new(30.0)?);
/// lamp.hover = Some(Hover::new(10.0, 40.0, 60.0)?);
/// let _ = lamp.tick(Intent::NONE, 0.1, &benches);
/// assert_eq!(lamp.velocity, vec2(0.0, 60.0)); // it sinks
/// let _ = lamp.tick(Intent::NONE, 0.9, &benches);
/// assert!((lamp.position.y - 34.0).abs() < 1e-4); // its lower side 10 above the floor at 48
/// assert_eq!(lamp.velocity, Vec2::ZERO);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct Hover {
    height: f32,
    rise: f32,
    fall: f32,
    ahead: f32,
    step: f32,
}

restored!(
    Hover { height: f32, rise: f32, fall: f32, ahead: f32, step: f32 } as saved => {
        Ok(Hover::new(saved.height, saved.rise, saved.fall)?.with_ahead(saved.ahead, saved.step)?)
    }
);

impl Hover {
    /// Hovers at a height in units, with the greatest speeds up and down in units/s.
    ///
    /// # Errors
    /// The height must be finite and at least 0, the speeds finite and above 0.
    pub fn new(height: f32, rise: f32, fall: f32) -> Result<Self, InvalidNumber> {
        Ok(Self {
            height: at_least_zero("height", height, "a finite number of at least 0 (units)")?,
            rise: above_zero("rise", rise, "a finite number above 0 (units/s)")?,
            fall: above_zero("fall", fall, "a finite number above 0 (units/s)")?,
            ahead: 0.0,
            step: 0.0,
        })
    }

    /// Also feels for ground this far beside the footprint, in units, so that it rises before a step of up to this
    /// height instead of against it. What is higher is a wall.
    ///
    /// # Errors
    /// Both must be finite and at least 0.
    pub fn with_ahead(mut self, ahead: f32, step: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number of at least 0 (units)";
        self.ahead = at_least_zero("ahead", ahead, wanted)?;
        self.step = at_least_zero("step", step, wanted)?;
        Ok(self)
    }

    /// The greatest speed up, in units/s.
    #[must_use]
    pub const fn rise(&self) -> f32 {
        self.rise
    }

    /// The greatest speed down, in units/s.
    #[must_use]
    pub const fn fall(&self) -> f32 {
        self.fall
    }

    /// How far below its height it looks for the ground, in units.
    pub(crate) fn deepest(&self) -> f32 {
        self.fall * LOOKS_DOWN
    }

    /// How far to sink to its height, in units; below 0 to rise; at most [`deepest`](Self::deepest). `down` is the unit vector
    /// toward the ground.
    pub(crate) fn sink(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        down: Vec2,
        filter: &WallFilter<'_>,
    ) -> f32 {
        let reach = self.height + self.deepest();
        let narrow = || free_distance(terrain, footprint, at, down * reach, filter) - self.height;
        self.felt_ahead(terrain, footprint, at, down, reach, filter).unwrap_or_else(narrow)
    }

    /// How far to sink so that the height is kept on both sides of the footprint too; `None` if walls that are too
    /// high stand on both sides.
    fn felt_ahead(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        down: Vec2,
        reach: f32,
        filter: &WallFilter<'_>,
    ) -> Option<f32> {
        if self.ahead == 0.0 {
            return None;
        }
        // Swept from above, so that a step is found and not hit from the side.
        let lift = free_distance(terrain, footprint, at, down * -self.step, filter);
        let top = at - down * lift;
        let sides = [self.ahead, -self.ahead].into_iter().filter_map(|ahead| {
            let feeler = footprint.stretched(down.perp() * ahead);
            let feels = !terrain.overlaps(&feeler, top, filter);
            feels.then(|| {
                free_distance(terrain, &feeler, top, down * (reach + lift), filter) - lift - self.height
            })
        });
        sides.reduce(f32::min)
    }
}
