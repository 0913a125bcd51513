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

/// Whether a property with so many cases plays only some of them.
fn plays_some(number: u32) -> bool {
    number > 40 && !plays_all()
}

/// Of a number of random cases, as many as are played.
pub(crate) fn some_cases(number: u32) -> Config {
    cases(if plays_some(number) { (number / 5).max(40) } else { number })
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

    /// Prints how often it was reached, and fails if that is less than `least` asks of so many cases.
    pub(crate) fn check(&self, property: &str, what: &str, (least, cases): (u32, u32)) {
        let least = if plays_some(cases) { share(least).max(1) } else { least };
        let times = self.0.get();
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
            $($reached.check(stringify!($name), stringify!($reached), ($least, $cases));)+
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
