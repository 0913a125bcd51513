//! Hovering: keeps a height above uneven ground.

use glam::Vec2;

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::saved::restored;
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};
use crate::time::seconds;
use crate::travel::free_distance;

/// How something hovers: its height above the ground, and how fast it rises and falls.
///
/// It sweeps down for the ground and moves up or down no faster than its limits. Walls above and below stop it. It
/// sinks into a gap no faster than it falls, and climbs out again.
///
/// ```
/// use ambulant::arcade::Hover;
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('#', TileKind::wall("bench")).with('.', TileKind::floor("air"));
/// let benches = TileGrid::from_rows(&["....", "....", "..##", "####"], &legend)?.with_tile_size(16.0)?;
/// let lamp = Hover::new(10.0, 40.0, 60.0)?;
/// let feet = Footprint::rect(8.0, 8.0)?;
/// let mut at = vec2(8.0, 20.0);
/// for _ in 0..60 {
///     at = lamp.tick(&benches, &feet, at, vec2(0.0, 1.0), 1.0 / 60.0, &WallFilter::ALL);
/// }
/// assert_eq!(at, vec2(8.0, 34.0)); // its lower side 10 above the floor at 48
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

    /// The position after `dt` seconds; `down` is the unit vector toward the ground.
    #[must_use]
    pub fn tick(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        down: Vec2,
        dt: f32,
        filter: &WallFilter<'_>,
    ) -> Vec2 {
        let dt = seconds(dt);
        // No deeper than it can fall in this tick.
        let reach = self.height + self.fall * dt;
        let narrow = || free_distance(terrain, footprint, at, down * reach, filter) - self.height;
        let wanted = self.felt_ahead(terrain, footprint, at, down, reach, filter).unwrap_or_else(narrow);
        let step = down * wanted.clamp(-self.rise * dt, self.fall * dt);
        match terrain.sweep(footprint, at, step, filter) {
            Some(hit) => hit.position,
            None => at + step,
        }
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
