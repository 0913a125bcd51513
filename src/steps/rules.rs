//! The rules of a stepper, as data.

use crate::error::{InvalidNumber, above_zero};
use crate::saved::restored;
use crate::terrain::Layers;

/// What keys do.
///
/// ```
/// use ambulant::prelude::*;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["...."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut tiles = |mode| {
///     let mut cart = Stepper::on(ivec2(0, 0), StepRules::new(2.0)?.with_mode(mode), &ground, &mut claims)?;
///     let right = Intent::new(vec2(1.0, 0.0));
///     for held in [right, right, Intent::NONE, Intent::NONE] {
///         let _ = cart.tick(held, 0.4, &ground, &mut claims);
///     }
///     cart.leave(&mut claims);
///     Ok::<i32, Box<dyn std::error::Error>>(cart.tile().x)
/// };
/// // One press is one tile; as long as the key is held; on and on.
/// assert_eq!([tiles(StepMode::Tap)?, tiles(StepMode::HOLD)?, tiles(StepMode::RunOn)?], [1, 2, 3]);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum StepMode {
    /// One press, one tile.
    Tap,
    /// One press is one tile; a key that stays held continues.
    Hold {
        /// How long a key must be held to continue, in seconds; 0 for at once.
        delay: f32,
        /// How long it stands between two steps while a key is held, in seconds.
        pause: f32,
    },
    /// It keeps going until blocked. Another direction is tried at every tile and taken at the first one where it is
    /// free.
    #[default]
    RunOn,
}

impl StepMode {
    /// A held key walks on without a pause.
    pub const HOLD: Self = Self::Hold { delay: 0.0, pause: 0.0 };
}

/// What a diagonal step may do at corners.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{CornerRule, Diagonals};
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&[".#", ".."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let mut cuts = |corners| {
///     let rules = StepRules::new(4.0)?.with_diagonals(Diagonals::On { corners, lasts: 1.5 })?;
///     let mut moth = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;
///     let _ = moth.tick(Intent::new(vec2(1.0, 1.0)), 0.1, &ground, &mut claims);
///     let moves = moth.stride_to().is_some();
///     moth.leave(&mut claims);
///     Ok::<bool, Box<dyn std::error::Error>>(moves)
/// };
/// assert!(!cuts(CornerRule::NeverCut)? && cuts(CornerRule::OneFree)? && cuts(CornerRule::AlwaysCut)?);
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum CornerRule {
    /// Both tiles beside the way must be free.
    #[default]
    NeverCut,
    /// One of them must be free.
    OneFree,
    /// It may pass between two blocking tiles.
    AlwaysCut,
}

/// Whether steps can be diagonal.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::{CornerRule, Diagonals};
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&["..", ".."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let diagonals = Diagonals::On { corners: CornerRule::NeverCut, lasts: 1.5 };
/// let rules = StepRules::new(4.0)?.with_diagonals(diagonals)?;
/// let mut moth = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;
/// let _ = moth.tick(Intent::new(vec2(1.0, 1.0)), 0.3, &ground, &mut claims);
/// assert_eq!(moth.fraction(), 0.8); // a diagonal step lasts 1.5 times as long as a straight one
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Diagonals {
    /// Four directions; the larger component of a diagonal intent counts, and of equal ones the horizontal one.
    #[default]
    Off,
    /// Eight directions.
    On {
        /// The rule at corners.
        corners: CornerRule,
        /// How long a diagonal step lasts, in straight steps: 1.414 for even speed, 1 for an even rhythm.
        lasts: f32,
    },
}

/// How the position moves along a stride; the timing is the same.
///
/// ```
/// use ambulant::prelude::*;
/// use ambulant::steps::Easing;
///
/// let legend = Legend::new().with('.', TileKind::floor("path")).with('#', TileKind::wall("bed"));
/// let map = TileGrid::from_rows(&[".."], &legend)?;
/// let (ground, mut claims) = (StepGround::new(&map), Claims::new());
/// let rules = StepRules::new(1.0)?.with_easing(Easing::Smooth);
/// let mut cart = Stepper::on(ivec2(0, 0), rules, &ground, &mut claims)?;
/// let _ = cart.tick(Intent::new(vec2(1.0, 0.0)), 0.25, &ground, &mut claims);
/// let part = cart.position(&map).x - 0.5;
/// assert!(part < 0.2 && cart.fraction() == 0.25); // it starts slowly
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
#[non_exhaustive]
pub enum Easing {
    /// Evenly.
    #[default]
    Linear,
    /// Slow at both ends: `3 t² - 2 t³`.
    Smooth,
}

impl Easing {
    pub(super) fn at(self, part: f64) -> f64 {
        match self {
            Self::Linear => part,
            Self::Smooth => part * part * (3.0 - 2.0 * part),
        }
    }
}

/// The rules of a stepper; several steppers can share them.
///
/// ```
/// use ambulant::steps::{StepMode, StepRules};
///
/// let cart = StepRules::new(4.0)?.with_mode(StepMode::RunOn).with_input_buffer(0.3)?;
/// assert_eq!(cart.speed(), 4.0);
/// assert!(StepRules::new(0.0).is_err());
/// # Ok::<(), ambulant::InvalidNumber>(())
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
#[cfg_attr(feature = "serde", derive(serde::Serialize))]
pub struct StepRules {
    speed: f32,
    pub(super) mode: StepMode,
    #[cfg_attr(feature = "serde", serde(serialize_with = "crate::saved::endless"))]
    pub(super) input_buffer: f32,
    pub(super) diagonals: Diagonals,
    pub(super) mask: Layers,
    pub(super) pushes: bool,
    pub(super) easing: Easing,
}

restored!(
    StepRules {
        speed: f32,
        mode: StepMode,
        input_buffer: Endless,
        diagonals: Diagonals,
        mask: Layers,
        pushes: bool,
        easing: Easing,
    } as saved => {
            let rules =
                StepRules::new(saved.speed)?.with_mode(saved.mode).with_input_buffer(saved.input_buffer.0)?;
            ensure(rules.mode == saved.mode, "mode must have finite times of at least 0 (seconds)")?;
            let rules =
                rules.with_diagonals(saved.diagonals)?.with_mask(saved.mask).with_easing(saved.easing);
            Ok(if saved.pushes { rules.pushing() } else { rules })
        }
);

/// The default time for which a press is remembered, in seconds.
const USUAL_INPUT_BUFFER: f32 = 0.2;

impl StepRules {
    /// Steps at a speed in tiles per second. It runs on, in four directions, and collides with all layers.
    ///
    /// # Errors
    /// The speed must be finite and above 0.
    pub fn new(speed: f32) -> Result<Self, InvalidNumber> {
        Ok(Self {
            speed: above_zero("speed", speed, "a finite number above 0 (tiles per second)")?,
            mode: StepMode::RunOn,
            input_buffer: USUAL_INPUT_BUFFER,
            diagonals: Diagonals::Off,
            mask: Layers::ALL,
            pushes: false,
            easing: Easing::Linear,
        })
    }

    /// Sets the step mode. Times that are not finite or below 0 count as 0.
    #[must_use]
    pub fn with_mode(mut self, mode: StepMode) -> Self {
        let time = |seconds: f32| if seconds.is_finite() { seconds.max(0.0) } else { 0.0 };
        self.mode = match mode {
            StepMode::Hold { delay, pause } => StepMode::Hold { delay: time(delay), pause: time(pause) },
            other => other,
        };
        self
    }

    /// Sets how long a press is remembered, in seconds; infinity for ever.
    ///
    /// # Errors
    /// The time must be at least 0.
    pub fn with_input_buffer(mut self, seconds: f32) -> Result<Self, InvalidNumber> {
        if seconds.is_nan() || seconds < 0.0 {
            return Err(InvalidNumber::new("input_buffer", seconds, "at least 0 (seconds), or infinity"));
        }
        self.input_buffer = seconds;
        Ok(self)
    }

    /// Sets whether steps can be diagonal.
    ///
    /// # Errors
    /// A diagonal step must last a finite time above 0.
    pub fn with_diagonals(mut self, diagonals: Diagonals) -> Result<Self, InvalidNumber> {
        if let Diagonals::On { lasts, .. } = diagonals {
            above_zero("lasts", lasts, "a finite number above 0 (straight steps)")?;
        }
        self.diagonals = diagonals;
        Ok(self)
    }

    /// Sets the mask.
    #[must_use]
    pub const fn with_mask(mut self, layers: Layers) -> Self {
        self.mask = layers;
        self
    }

    /// Sets that it pushes things ahead if there is room behind them.
    #[must_use]
    pub const fn pushing(mut self) -> Self {
        self.pushes = true;
        self
    }

    /// Sets the easing.
    #[must_use]
    pub const fn with_easing(mut self, easing: Easing) -> Self {
        self.easing = easing;
        self
    }

    /// Sets the speed, in tiles per second; a stride under way keeps its own.
    ///
    /// # Errors
    /// The speed must be finite and above 0.
    pub fn with_speed(mut self, speed: f32) -> Result<Self, InvalidNumber> {
        self.speed = above_zero("speed", speed, "a finite number above 0 (tiles per second)")?;
        Ok(self)
    }

    /// The speed, in tiles per second.
    #[must_use]
    pub const fn speed(&self) -> f32 {
        self.speed
    }

    /// The step mode.
    #[must_use]
    pub const fn mode(&self) -> StepMode {
        self.mode
    }

    /// How long a press is remembered, in seconds.
    #[must_use]
    pub const fn input_buffer(&self) -> f32 {
        self.input_buffer
    }

    /// Whether steps can be diagonal.
    #[must_use]
    pub const fn diagonals(&self) -> Diagonals {
        self.diagonals
    }

    /// Whether it pushes things.
    #[must_use]
    pub const fn pushes(&self) -> bool {
        self.pushes
    }

    /// How its position moves along a stride.
    #[must_use]
    pub const fn easing(&self) -> Easing {
        self.easing
    }

    /// How long a stride lasts, in seconds.
    pub(super) fn stride(&self, diagonal: bool) -> f64 {
        let straight = 1.0 / f64::from(self.speed);
        match self.diagonals {
            Diagonals::On { lasts, .. } if diagonal => straight * f64::from(lasts),
            _ => straight,
        }
    }
}
