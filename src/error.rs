//! The error of a constructor: field, value, and what to do.

use core::fmt;

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
    wanted: &'static str,
}

impl InvalidNumber {
    pub(crate) const fn new(field: &'static str, value: f32, wanted: &'static str) -> Self {
        Self { field, value, wanted }
    }

    /// The name of the field.
    #[must_use]
    pub const fn field(&self) -> &'static str {
        self.field
    }

    /// The value that was refused.
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
        write!(f, "{} is {}, but must be {}", self.field, self.value, self.wanted)
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
