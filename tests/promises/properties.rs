//! Properties over random cases that also count how often they reach what they are about.

use std::cell::Cell;
use std::ops::Div;

use proptest::test_runner::{Config, RngSeed};

/// Whether all scenes are played, as `AMBULANT_ALL_SCENES` asks. Without it the properties that take longest play every fifth.
pub(crate) fn plays_all() -> bool {
    std::env::var_os("AMBULANT_ALL_SCENES").is_some()
}

/// How often the scenes that are played have to reach what all of them reach so often.
pub(crate) fn share<N: Div<Output = N> + From<u8>>(least: N) -> N {
    if plays_all() { least } else { least / N::from(7) }
}

/// A number of random cases, the same at every run; `PROPTEST_RNG_SEED` asks for others.
pub(crate) fn cases(number: u32) -> Config {
    let seed = std::env::var("PROPTEST_RNG_SEED").ok().and_then(|seed| seed.parse().ok()).unwrap_or(1);
    Config {
        cases: number,
        max_global_rejects: 100_000,
        failure_persistence: None,
        rng_seed: RngSeed::Fixed(seed),
        ..Config::default()
    }
}

/// The same for a property that [`Reached`] counts: of the number given, as many as are played.
pub(crate) fn some_cases(number: u32) -> Config {
    cases(if plays_all() { number } else { (number / 5).max(number.min(40)) })
}

/// How often a property has reached something.
#[derive(Debug, Default)]
pub(crate) struct Reached(Cell<u32>);

impl Reached {
    /// Counts once if `is_reached`.
    pub(crate) fn when(&self, is_reached: bool) {
        self.add(usize::from(is_reached));
    }

    /// Counts a number of times.
    pub(crate) fn add(&self, times: usize) {
        self.0.set(self.0.get() + u32::try_from(times).unwrap());
    }

    /// Prints how often it was reached, and fails if that is less than `least`.
    pub(crate) fn check(&self, property: &str, what: &str, least: u32) {
        let (times, least) = (self.0.get(), share(least));
        println!("{property}: {what} {times} times, at least {least} asked for");
        assert!(times >= least, "{property}: {what} only {times} times; at least {least} are asked for");
    }
}

/// Tests with a number of random cases each. In `fn name(hits >= 100; ...)`, `hits` is a [`Reached`] that the body counts with,
/// and the test fails if all its cases together reach less than 100 hits. A property without one reaches its case always.
macro_rules! properties {
    (@each $cases:expr;) => {};
    (@each $cases:expr;
        $(#[$meta:meta])*
        fn $name:ident($($reached:ident >= $least:literal),+; $($values:tt)*) $body:block
        $($rest:tt)*
    ) => {
        $(#[$meta])*
        fn $name() {
            $(let $reached = $crate::properties::Reached::default();)+
            proptest::proptest!($crate::properties::some_cases($cases), |($($values)*)| $body);
            $($reached.check(stringify!($name), stringify!($reached), $least);)+
        }
        properties!(@each $cases; $($rest)*);
    };
    (@each $cases:expr;
        $(#[$meta:meta])*
        fn $name:ident($($values:tt)*) $body:block
        $($rest:tt)*
    ) => {
        $(#[$meta])*
        fn $name() {
            proptest::proptest!($crate::properties::some_cases($cases), |($($values)*)| $body);
        }
        properties!(@each $cases; $($rest)*);
    };
    ($cases:expr; $($tests:tt)*) => { properties!(@each $cases; $($tests)*); };
}
