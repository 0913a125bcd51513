//! What the library promises, as tables of cases and as properties over random scenes.

mod agreement;
mod arcade;
mod contact;
mod crowds;
mod curves;
mod drives;
mod ends;
mod flights;
mod intent;
mod limits;
mod obstacles;
mod read_back;
mod responses;
mod rules;
mod scene;
mod seen;
mod shapes;
mod steps;
mod surfaces;
mod terrain;
mod texts;
mod timeline;
mod travel;
mod walker;
mod walls;
mod world;

/// A number of random cases, the same at every run; `PROPTEST_RNG_SEED` asks for others.
fn cases(number: u32) -> proptest::test_runner::Config {
    use proptest::test_runner::{Config, RngSeed};
    let seed = std::env::var("PROPTEST_RNG_SEED").ok().and_then(|seed| seed.parse().ok()).unwrap_or(1);
    Config {
        cases: number,
        max_global_rejects: 100_000,
        failure_persistence: None,
        rng_seed: RngSeed::Fixed(seed),
        ..Config::default()
    }
}
