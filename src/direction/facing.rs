//! The eight facings.

use core::fmt;

use glam::{IVec2, Vec2};

use crate::direction::YAxis;

/// The tangent of 22.5 degrees: the square root of two, less one.
const TANGENT_OF_HALF: f32 = 0.414_213_57;

/// One of eight directions, as the player sees the screen.
///
/// ```
/// use ambulant::prelude::*;
///
/// assert_eq!(Facing::toward(vec2(3.0, 2.5), YAxis::Down), Some(Facing::DownRight));
/// assert_eq!((Facing::Down.opposite(), Facing::Down.step()), (Facing::Up, ivec2(0, 1)));
/// assert!(Facing::UpLeft.is_diagonal() && !Facing::Left.is_diagonal());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
#[cfg_attr(feature = "serde", derive(serde::Serialize, serde::Deserialize))]
pub enum Facing {
    /// Toward larger x.
    Right,
    /// Toward larger x and down the screen.
    DownRight,
    /// Down the screen.
    Down,
    /// Toward smaller x and down the screen.
    DownLeft,
    /// Toward smaller x.
    Left,
    /// Toward smaller x and up the screen.
    UpLeft,
    /// Up the screen.
    Up,
    /// Toward larger x and up the screen.
    UpRight,
}

/// The facings by row and column of their steps, starting up and left.
const BY_STEP: [Option<Facing>; 9] = [
    Some(Facing::UpLeft),
    Some(Facing::Up),
    Some(Facing::UpRight),
    Some(Facing::Left),
    None,
    Some(Facing::Right),
    Some(Facing::DownLeft),
    Some(Facing::Down),
    Some(Facing::DownRight),
];

impl Facing {
    /// All eight, starting with [`Facing::Right`] and turning down.
    pub const ALL: [Self; 8] = [
        Self::Right,
        Self::DownRight,
        Self::Down,
        Self::DownLeft,
        Self::Left,
        Self::UpLeft,
        Self::Up,
        Self::UpRight,
    ];

    /// The four straight ones, starting with [`Facing::Right`] and turning down.
    pub const STRAIGHT: [Self; 4] = [Self::Right, Self::Down, Self::Left, Self::Up];

    /// The nearest facing to a direction of any length; `None` for a zero vector or one that is not finite. On a
    /// border, the straight facing is taken.
    ///
    /// ```
    /// use ambulant::direction::{Facing, YAxis};
    /// use glam::{Vec2, vec2};
    ///
    /// assert_eq!(Facing::toward(vec2(2.0, 0.1), YAxis::Down), Some(Facing::Right));
    /// assert_eq!(Facing::toward(vec2(1.0, 1.0), YAxis::Up), Some(Facing::UpRight));
    /// assert_eq!(Facing::toward(Vec2::ZERO, YAxis::Down), None);
    /// ```
    #[must_use]
    pub fn toward(direction: Vec2, y_axis: YAxis) -> Option<Self> {
        if !direction.is_finite() {
            return None;
        }
        let (x, y) = (direction.x, direction.y * y_axis.downward());
        // A straight facing covers 22.5 degrees on each side, whatever the sign.
        let border = TANGENT_OF_HALF;
        let column = if x.abs() <= y.abs() * border { 0 } else { sign(x) };
        let row = if y.abs() <= x.abs() * border { 0 } else { sign(y) };
        Self::of_step(column, row)
    }

    /// The straight facing along one axis of a finite direction, across the screen or down it; `None` if that
    /// component is zero.
    #[inline]
    pub(crate) fn along_axis(direction: Vec2, across: bool, y_axis: YAxis) -> Option<Self> {
        let (column, row) = (sign(direction.x), sign(direction.y * y_axis.downward()));
        if across { Self::of_step(column, 0) } else { Self::of_step(0, row) }
    }

    /// The facing of a step by -1, 0 or 1 columns and rows; `None` for no step.
    #[inline]
    fn of_step(column: i8, row: i8) -> Option<Self> {
        // A table without branches: many movers go in different directions.
        BY_STEP[usize::from((row * 3 + column + 4).unsigned_abs())]
    }

    /// The step to the next tile in this direction: columns to the right, rows down the screen.
    ///
    /// ```
    /// use ambulant::direction::Facing;
    /// use glam::ivec2;
    ///
    /// assert_eq!(Facing::UpLeft.step(), ivec2(-1, -1));
    /// ```
    #[must_use]
    pub const fn step(self) -> IVec2 {
        match self {
            Self::Right => IVec2::new(1, 0),
            Self::DownRight => IVec2::new(1, 1),
            Self::Down => IVec2::new(0, 1),
            Self::DownLeft => IVec2::new(-1, 1),
            Self::Left => IVec2::new(-1, 0),
            Self::UpLeft => IVec2::new(-1, -1),
            Self::Up => IVec2::new(0, -1),
            Self::UpRight => IVec2::new(1, -1),
        }
    }

    /// The facing on the other side.
    ///
    /// ```
    /// use ambulant::direction::Facing;
    ///
    /// assert_eq!(Facing::UpLeft.opposite(), Facing::DownRight);
    /// ```
    #[must_use]
    pub const fn opposite(self) -> Self {
        Self::ALL[(self as usize + 4) % 8]
    }

    /// Its direction in the world, of length 1; `y_axis` says which way y grows.
    #[must_use]
    pub fn vector(self, y_axis: YAxis) -> Vec2 {
        let part = if self.is_diagonal() { core::f32::consts::FRAC_1_SQRT_2 } else { 1.0 };
        self.step().as_vec2() * Vec2::new(part, part * y_axis.downward())
    }

    /// Whether it is one of the four diagonals.
    #[must_use]
    pub const fn is_diagonal(self) -> bool {
        matches!(self, Self::DownRight | Self::DownLeft | Self::UpLeft | Self::UpRight)
    }

    /// Its name: `"right"`, `"down-right"` and so on.
    #[must_use]
    pub const fn name(self) -> &'static str {
        match self {
            Self::Right => "right",
            Self::DownRight => "down-right",
            Self::Down => "down",
            Self::DownLeft => "down-left",
            Self::Left => "left",
            Self::UpLeft => "up-left",
            Self::Up => "up",
            Self::UpRight => "up-right",
        }
    }
}

impl fmt::Display for Facing {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.name())
    }
}

/// 1, 0 or -1.
fn sign(value: f32) -> i8 {
    i8::from(value > 0.0) - i8::from(value < 0.0)
}
