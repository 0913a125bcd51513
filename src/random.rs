//! What the properties beside the code share: random cases, the same ones each time.

use proptest::test_runner::{Config, RngSeed};

/// So many random cases.
pub(crate) fn random(cases: u32) -> Config {
    Config { rng_seed: RngSeed::Fixed(1), failure_persistence: None, ..Config::with_cases(cases) }
}
