//! Numbers that come out the same on every machine.
//!
//! A square root is rounded correctly wherever it is computed, so with `std` it is the processor's own instruction and
//! without it that of `libm`: a call less, the same bits. Everything that is not rounded correctly everywhere
//! (exponentials, angles) comes from `libm` alone or from products and sums.

use glam::{DVec2, Vec2};

/// The square root.
#[inline]
pub(crate) fn root(square: f32) -> f32 {
    #[cfg(feature = "std")]
    let root = square.sqrt();
    #[cfg(not(feature = "std"))]
    let root = libm::sqrtf(square);
    root
}

/// The square root, of twice as many digits.
#[inline]
pub(crate) fn root_of(square: f64) -> f64 {
    #[cfg(feature = "std")]
    let root = square.sqrt();
    #[cfg(not(feature = "std"))]
    let root = libm::sqrt(square);
    root
}

/// The vector of length 1 that points the same way; zero for a vector too short to point anywhere.
#[inline]
pub(crate) fn unit(vector: DVec2) -> DVec2 {
    let per_length = 1.0 / root_of(vector.length_squared());
    if per_length.is_finite() { vector * per_length } else { DVec2::ZERO }
}

/// The length of a vector.
#[inline]
pub(crate) fn length(vector: Vec2) -> f32 {
    root(vector.length_squared())
}
