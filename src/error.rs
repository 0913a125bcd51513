//! The error of a constructor: field, value, and what to do.

use core::fmt;

use glam::Vec2;

/// A number that a constructor refuses.
///
/// ```
/// use ambulant::drive::Gait;
///
/// let refused = Gait::new(60.0, -1.0, 500.0).unwrap_err();
/// assert_eq!(refused.field(), "acceleration");
/// assert_eq!(refused.to_string(), "acceleration is -1, but must be a finite number above 0 (units/s²)");
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct InvalidNumber {
    field: &'static str,
    value: f32,
    /// The vector that the value is a component of, if any.
    vector: Option<Vec2>,
    wanted: &'static str,
}

impl InvalidNumber {
    pub(crate) const fn new(field: &'static str, value: f32, wanted: &'static str) -> Self {
        Self { field, value, vector: None, wanted }
    }

    /// For a vector; `value` is its first component that is refused.
    pub(crate) const fn vector(field: &'static str, vector: Vec2, value: f32, wanted: &'static str) -> Self {
        Self { field, value, vector: Some(vector), wanted }
    }

    /// The name of the field.
    #[must_use]
    pub const fn field(&self) -> &'static str {
        self.field
    }

    /// The value that was refused; of a vector, the first component that is wrong.
    #[must_use]
    pub const fn value(&self) -> f32 {
        self.value
    }

    /// What the field accepts, with its unit.
    #[must_use]
    pub const fn wanted(&self) -> &'static str {
        self.wanted
    }
}

impl fmt::Display for InvalidNumber {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self.vector {
            None => write!(f, "{} is {}, but must be {}", self.field, self.value, self.wanted),
            Some(Vec2 { x, y }) => write!(f, "{} is ({x}, {y}), but must be {}", self.field, self.wanted),
        }
    }
}

impl core::error::Error for InvalidNumber {}

/// Accepts a finite number above zero.
pub(crate) fn above_zero(
    field: &'static str,
    value: f32,
    wanted: &'static str,
) -> Result<f32, InvalidNumber> {
    if value.is_finite() && value > 0.0 { Ok(value) } else { Err(InvalidNumber::new(field, value, wanted)) }
}

/// Accepts a finite number of at least zero.
pub(crate) fn at_least_zero(
    field: &'static str,
    value: f32,
    wanted: &'static str,
) -> Result<f32, InvalidNumber> {
    if value.is_finite() && value >= 0.0 { Ok(value) } else { Err(InvalidNumber::new(field, value, wanted)) }
}

/// Accepts any finite number.
pub(crate) fn finite(field: &'static str, value: f32, wanted: &'static str) -> Result<f32, InvalidNumber> {
    if value.is_finite() { Ok(value) } else { Err(InvalidNumber::new(field, value, wanted)) }
}

/// Accepts a vector of finite numbers.
pub(crate) fn finite_vector(
    field: &'static str,
    vector: Vec2,
    wanted: &'static str,
) -> Result<Vec2, InvalidNumber> {
    each_component(field, vector, wanted, f32::is_finite)
}

/// Accepts a vector whose components satisfy a condition.
pub(crate) fn each_component(
    field: &'static str,
    vector: Vec2,
    wanted: &'static str,
    is_fine: impl Fn(f32) -> bool,
) -> Result<Vec2, InvalidNumber> {
    match vector.to_array().into_iter().find(|component| !is_fine(*component)) {
        None => Ok(vector),
        Some(component) => Err(InvalidNumber::vector(field, vector, component, wanted)),
    }
}
