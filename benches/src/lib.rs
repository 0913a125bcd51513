//! Scenes that the benchmarks and the soak share, and how two ways of doing something are compared.

mod check;
mod compare;
pub mod rates;
mod scenes;

pub use check::check;
pub use compare::{Ratio, Side, compare};
pub use scenes::{Dice, filled_grid, free_place, mixed_obstacles};
