//! Two ways of doing something, measured in turn.

use std::fmt;
use std::time::{Duration, Instant};

/// How long one sample of one side lasts at least.
const SAMPLE: Duration = Duration::from_millis(8);
/// How many samples of each side are taken, in turn.
const SAMPLES: usize = 41;

/// One of two ways: something that does `work` units of work at each call.
pub struct Side<'a> {
    run: Box<dyn FnMut() + 'a>,
    work: usize,
}

impl fmt::Debug for Side<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.debug_struct("Side").field("work", &self.work).finish_non_exhaustive()
    }
}

impl<'a> Side<'a> {
    /// What to do, and how many units of work that is.
    pub fn new(work: usize, run: impl FnMut() + 'a) -> Self {
        Self { run: Box::new(run), work }
    }

    /// Calls until a sample lasts long enough.
    fn calls(&mut self) -> u32 {
        let mut calls = 1;
        loop {
            let start = Instant::now();
            (0..calls).for_each(|_| (self.run)());
            if start.elapsed() >= SAMPLE {
                return calls;
            }
            calls *= 2;
        }
    }

    /// Nanoseconds for each unit of work.
    fn sample(&mut self, calls: u32) -> f64 {
        let start = Instant::now();
        (0..calls).for_each(|_| (self.run)());
        start.elapsed().as_secs_f64() * 1e9 / (f64::from(calls) * self.work as f64)
    }
}

/// How many times as long the first side takes as the second.
#[derive(Debug, Clone, Copy)]
pub struct Ratio {
    /// The middle one of all samples' ratios, and a quarter of them below and above.
    pub middle: f64,
    /// A quarter of the samples' ratios is below this.
    pub low: f64,
    /// A quarter of the samples' ratios is above this.
    pub high: f64,
    /// Nanoseconds for each unit of work of the first side, and of the second.
    pub nanoseconds: [f64; 2],
}

/// Measures two sides in turn, so that what else the machine does falls on both.
pub fn compare(mut first: Side<'_>, mut second: Side<'_>) -> Ratio {
    let calls = [first.calls(), second.calls()];
    let pairs: Vec<[f64; 2]> =
        (0..SAMPLES).map(|_| [first.sample(calls[0]), second.sample(calls[1])]).collect();
    let mut ratios: Vec<f64> = pairs.iter().map(|[first, second]| first / second).collect();
    ratios.sort_by(f64::total_cmp);
    let middle_of = |side: usize| {
        let mut times: Vec<f64> = pairs.iter().map(|pair| pair[side]).collect();
        times.sort_by(f64::total_cmp);
        times[SAMPLES / 2]
    };
    Ratio {
        middle: ratios[SAMPLES / 2],
        low: ratios[SAMPLES / 4],
        high: ratios[SAMPLES * 3 / 4],
        nanoseconds: [middle_of(0), middle_of(1)],
    }
}
