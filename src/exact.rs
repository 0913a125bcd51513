//! Numbers that come out the same on every machine.
//!
//! A square root is rounded correctly wherever it is computed, so with `std` it is the processor's own instruction
//! and without it that of `libm`, with the same bits. Everything that is not rounded correctly everywhere
//! (exponentials, angles) comes from `libm` or from products and sums.

use glam::{DVec2, IVec2, Vec2};

/// The square root.
#[inline]
fn root_f32(square: f32) -> f32 {
    #[cfg(feature = "std")]
    let root = square.sqrt();
    #[cfg(not(feature = "std"))]
    let root = libm::sqrtf(square);
    root
}

/// The square root.
#[inline]
pub(crate) fn root_f64(square: f64) -> f64 {
    #[cfg(feature = "std")]
    let root = square.sqrt();
    #[cfg(not(feature = "std"))]
    let root = libm::sqrt(square);
    root
}

/// The vector of length 1 that points the same way; zero for a vector too short to point anywhere.
#[inline]
pub(crate) fn unit(vector: DVec2) -> DVec2 {
    let per_length = 1.0 / root_f64(vector.length_squared());
    if per_length.is_finite() { vector * per_length } else { DVec2::ZERO }
}

/// The length of a vector.
#[inline]
pub(crate) fn length(vector: Vec2) -> f32 {
    root_f32(vector.length_squared())
}

/// The part of a vector along a wall: along the tangent, and a plain zero where it should be.
pub(crate) fn along(vector: Vec2, normal: Vec2) -> Vec2 {
    let tangent = normal.perp();
    // Adding zero removes the sign of a negative zero.
    tangent * tangent.dot(vector) + Vec2::ZERO
}

/// Whole numbers beyond this are as good as infinite; far inside what `i64` and `f64` hold exactly.
const FAR: f64 = 1e12;

/// The whole number at or below; `as` cuts toward zero and saturates, hence `FAR`.
#[expect(clippy::cast_possible_truncation, reason = "cut to a range that i64 holds exactly")]
pub(crate) fn floor(value: f64) -> i64 {
    let value = value.clamp(-FAR, FAR);
    let cut = value as i64;
    cut - i64::from(cut as f64 > value)
}

/// A column and a row as a tile; numbers out of range are cut.
pub(crate) fn tile(column: i64, row: i64) -> IVec2 {
    IVec2::new(narrow(column), narrow(row))
}

fn narrow(tile: i64) -> i32 {
    i32::try_from(tile).unwrap_or(if tile < 0 { i32::MIN } else { i32::MAX })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_tile_further_off_than_can_be_counted_is_the_last_one_there() {
        assert_eq!(tile(-1 << 40, 1 << 40), IVec2::new(i32::MIN, i32::MAX));
        assert_eq!(tile(-7, 5), IVec2::new(-7, 5));
    }
}
