//! What walls do to a walker.

use crate::error::{InvalidNumber, at_least_zero};
use crate::saved::restored;

/// What a walker does at walls that it presses on.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::walker::AlongWalls;
///
/// // A path as wide as the gardener and a little more, which she misses by a quarter of a unit.
/// let legend = Legend::new().with('#', TileKind::wall("bed")).with('.', TileKind::floor("path"));
/// let map = TileGrid::from_rows(&["...#", "....", "...#"], &legend)?;
/// let mut gardener = Walker::new(vec2(1.0, 1.25), Footprint::rect(0.9, 0.9)?, Gait::new(3.0, 20.0, 30.0)?);
/// gardener.along_walls = AlongWalls::PLAIN.with_corner_help(0.4)?;
/// for _ in 0..60 {
///     let _ = gardener.tick(Intent::new(vec2(1.0, 0.0)), 1.0 / 60.0, &map);
/// }
/// assert!(gardener.position.x > 3.0); // led into the path
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct AlongWalls {
    /// Whether it moves along a wall at full speed; otherwise with the part of its intent along the wall. Head-on, it
    /// stops.
    pub full_speed: bool,
    /// What else a wall does: nothing, stop the mover, or bounce it back.
    pub at_walls: AtWalls,
    corner_help: f32,
}

restored!(
    AlongWalls { full_speed: bool, at_walls: AtWalls, corner_help: f32 } as saved => {
        let AlongWalls { corner_help, .. } = AlongWalls::PLAIN.with_corner_help(saved.corner_help)?;
        Ok(AlongWalls { full_speed: saved.full_speed, at_walls: saved.at_walls, corner_help })
    }
);

impl AlongWalls {
    /// Only the part of the motion into the wall is removed.
    pub const PLAIN: Self = Self { full_speed: false, at_walls: AtWalls::Slide, corner_help: 0.0 };

    /// Sets corner help: if a wall that it presses on ends within this distance to the side, in units, it goes round the
    /// corner, no faster than before; 0 for no help. An intent that leads along the wall by at least half of what it
    /// leads into it is left alone; so is a drive that steers.
    ///
    /// # Errors
    /// The distance must be finite and at least 0.
    pub fn with_corner_help(mut self, reach: f32) -> Result<Self, InvalidNumber> {
        self.corner_help = at_least_zero("corner_help", reach, "a finite number of at least 0 (units)")?;
        Ok(self)
    }

    /// Sets whether it moves along a wall at full speed.
    #[must_use]
    pub const fn with_full_speed(mut self, full_speed: bool) -> Self {
        self.full_speed = full_speed;
        self
    }

    /// Sets what else a wall does.
    #[must_use]
    pub const fn with_at_walls(mut self, at_walls: AtWalls) -> Self {
        self.at_walls = at_walls;
        self
    }

    /// The distance of corner help, in units; 0 for none.
    #[must_use]
    pub const fn corner_help(&self) -> f32 {
        self.corner_help
    }
}

/// What a wall does to a walker or a vehicle; its heading stays as it is steered.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::drive::{Drag, Helm, Steering};
/// use ambulant::walker::{AlongWalls, AtWalls};
///
/// let legend = Legend::new().with('#', TileKind::wall("post")).with('.', TileKind::floor("lawn"));
/// let lawn = TileGrid::from_rows(&["......#"], &legend)?.with_tile_size(16.0)?;
/// let helm = Helm::new(2.0, 80.0, Drag::half_life(0.5)?, Steering::Wheel(YAxis::Down))?.on_rails();
/// let mut roller = Walker::new(vec2(80.0, 8.0), Footprint::rect(12.0, 8.0)?, helm);
/// roller.along_walls.at_walls = AtWalls::bounce(0.5, 2.0)?;
/// roller.velocity = vec2(60.0, 0.0);
/// let result = roller.tick(Intent::NONE, 0.25, &lawn);
/// assert!(roller.velocity.x < 0.0 && result.contacts.len() == 1);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
#[non_exhaustive]
pub enum AtWalls {
    /// The part into the wall is removed, the part along it stays.
    #[default]
    Slide,
    /// It stops for the rest of the tick, and for as long as it presses on the wall. A wall that moves pushes it on.
    Stop,
    /// The part into the wall is reversed; below the least speed it slides. Made by [`AtWalls::bounce`].
    #[non_exhaustive]
    Bounce {
        /// The restitution, usually 0 to 1.
        restitution: f32,
        /// The smallest speed into the wall that bounces, in units/s.
        least_speed: f32,
    },
}

#[cfg(feature = "serde")]
impl<'de> serde::Deserialize<'de> for AtWalls {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        #[derive(serde::Deserialize)]
        #[serde(rename = "AtWalls")]
        enum Saved {
            Slide,
            Stop,
            Bounce { restitution: f32, least_speed: f32 },
        }
        match Saved::deserialize(deserializer)? {
            Saved::Slide => Ok(Self::Slide),
            Saved::Stop => Ok(Self::Stop),
            Saved::Bounce { restitution, least_speed } => {
                Self::bounce(restitution, least_speed).map_err(serde::de::Error::custom)
            }
        }
    }
}

impl AtWalls {
    /// Bounces with a restitution, usually 0 to 1, off walls that are met faster than the least speed, in units/s.
    ///
    /// # Errors
    /// Both must be finite and at least 0.
    pub fn bounce(restitution: f32, least_speed: f32) -> Result<Self, InvalidNumber> {
        Ok(Self::Bounce {
            restitution: at_least_zero("restitution", restitution, "a finite number of at least 0")?,
            least_speed: at_least_zero(
                "least_speed",
                least_speed,
                "a finite number of at least 0 (units/s)",
            )?,
        })
    }
}
