//! Numbers that come out the same on every machine.
//!
//! A square root is rounded correctly wherever it is computed, so with `std` it is the processor's own instruction and
//! without it that of `libm`: a call less, the same bits. Everything that is not rounded correctly everywhere
//! (exponentials, angles) comes from `libm` alone or from products and sums.

use glam::Vec2;

/// The square root.
#[inline]
pub(crate) fn root(square: f32) -> f32 {
    #[cfg(feature = "std")]
    let root = square.sqrt();
    #[cfg(not(feature = "std"))]
    let root = libm::sqrtf(square);
    root
}

/// The length of a vector.
#[inline]
pub(crate) fn length(vector: Vec2) -> f32 {
    root(vector.length_squared())
}
