//! The same scene at several tick rates: random scenes by class, how one is played, and what makes two runs differ.

mod flights;
mod play;
mod scene;
mod verdict;

pub use flights::{FLIGHTS, Flight, compare_flights};
pub use play::{Run, play};
pub use scene::{CLASSES, Class, Scene};
pub use verdict::{Cause, Verdict, compare_rates};
