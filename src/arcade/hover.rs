//! Hovering: a height kept over uneven ground.

use glam::Vec2;

use crate::error::{InvalidNumber, above_zero, at_least_zero};
use crate::shape::Footprint;
use crate::terrain::{Terrain, WallFilter};
use crate::time::seconds;
use crate::travel::free_distance;

/// How something hovers: its height over the ground, and how fast it may rise and fall.
///
/// It feels downwards for the ground and moves up or down by no more than its speeds allow; walls above and
/// below hold it. A gap does not throw it: it falls into one, no faster than its limit, and climbs out again.
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
///     at = lamp.tick(&benches, &feet, at, vec2(0.0, 1.0), 1.0 / 60.0);
/// }
/// assert_eq!(at, vec2(8.0, 34.0)); // its lower side 10 above the floor at 48
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub struct Hover {
    height: f32,
    rise: f32,
    fall: f32,
    ahead: f32,
    step: f32,
}

impl Hover {
    /// Hovers at a height in units, rising and falling no faster than so many units/s.
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

    /// The same, feeling for ground this far beside its footprint as well, in units: so it rises before a step
    /// of up to this height above its lower side, and not against it. What is higher is a wall.
    ///
    /// # Errors
    /// Both must be finite and at least 0.
    pub fn with_ahead(mut self, ahead: f32, step: f32) -> Result<Self, InvalidNumber> {
        let wanted = "a finite number of at least 0 (units)";
        self.ahead = at_least_zero("ahead", ahead, wanted)?;
        self.step = at_least_zero("step", step, wanted)?;
        Ok(self)
    }

    /// Where a footprint is after `dt` seconds of keeping its height; `down` is the unit vector that points to
    /// the ground.
    #[must_use]
    pub fn tick(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        down: Vec2,
        dt: f32,
    ) -> Vec2 {
        let dt = seconds(dt);
        // No further than it could fall: what lies deeper does not matter in this tick.
        let reach = self.height + self.fall * dt;
        let narrow = || free_distance(terrain, footprint, at, down * reach) - self.height;
        let wanted = self.felt_ahead(terrain, footprint, at, down, reach).unwrap_or_else(narrow);
        let step = down * wanted.clamp(-self.rise * dt, self.fall * dt);
        match terrain.sweep(footprint, at, step, &WallFilter::ALL) {
            Some(hit) => hit.position,
            None => at + step,
        }
    }

    /// How far to sink to keep the height over the ground on both sides of the footprint as well; `None` where
    /// walls that are too high to get over stand on both sides.
    fn felt_ahead(
        &self,
        terrain: &(impl Terrain + ?Sized),
        footprint: &Footprint,
        at: Vec2,
        down: Vec2,
        reach: f32,
    ) -> Option<f32> {
        if self.ahead == 0.0 {
            return None;
        }
        // Felt for from above, so that a step is felt and not run against.
        let lift = free_distance(terrain, footprint, at, down * -self.step);
        let top = at - down * lift;
        let sides = [self.ahead, -self.ahead].into_iter().filter_map(|ahead| {
            let feeler = footprint.stretched(down.perp() * ahead);
            let feels = !terrain.overlaps(&feeler, top, &WallFilter::ALL);
            feels.then(|| free_distance(terrain, &feeler, top, down * (reach + lift)) - lift - self.height)
        });
        sides.reduce(f32::min)
    }
}
