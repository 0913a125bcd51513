//! Random scenes at six tick rates: where does a mover end up, and does the tick rate change that?
//!
//! `rates SCENES [FIRST_SEED] [CLASS]` plays so many scenes of each class for eight seconds at 7, 30, 60, 144, 240 and 1000
//! ticks per second, with the same random keys, and prints per class how many scenes end more than 0.02 units apart. Each
//! of those is assigned to a cause where the runs themselves show one; the rest is printed with its seed. Exit status 1 where a
//! scene among flat walls differs for no such cause.

use std::ops::Range;
use std::process::ExitCode;
use std::time::Instant;

use ambulant_benches::rates::{CLASSES, Cause, FLIGHTS, Verdict, compare_flights, compare_rates};
use rayon::prelude::*;

fn main() -> ExitCode {
    let words: Vec<String> = std::env::args().skip(1).collect();
    let number = |place: usize, otherwise: u64| {
        words.get(place).map_or(Some(otherwise), |word| word.parse::<u64>().ok())
    };
    let (Some(scenes), Some(first)) = (number(0, 200), number(1, 1)) else {
        eprintln!("usage: rates SCENES [FIRST_SEED] [CLASS]; both numbers are whole");
        return ExitCode::from(2);
    };
    let wanted = words.get(2).map_or("", String::as_str);
    println!(
        "{:<24} {:>6} {:>7} {:>7} {:>6} {:>9} {:>9} {:>10}",
        "class", "scenes", "differ", "30-240", "slow", "balanced", "squeezed", "unassigned"
    );
    let mut broken = false;
    for class in CLASSES.iter().filter(|class| class.name().contains(wanted)) {
        let unassigned = print_class(class.name(), first..first + scenes, |seed| compare_rates(*class, seed));
        broken |= class.must_agree() && unassigned > 0;
    }
    for flight in FLIGHTS.iter().filter(|flight| flight.name().contains(wanted)) {
        print_class(flight.name(), first..first + scenes, |seed| compare_flights(*flight, seed));
    }
    if broken { ExitCode::FAILURE } else { ExitCode::SUCCESS }
}

/// Plays the scenes of a class and prints its line; how many differ for no known cause.
fn print_class(name: &str, seeds: Range<u64>, compare: impl Fn(u64) -> Verdict + Sync) -> usize {
    let start = Instant::now();
    let scenes = seeds.end - seeds.start;
    let verdicts: Vec<(u64, Verdict)> = seeds.into_par_iter().map(|seed| (seed, compare(seed))).collect();
    let count = |cause: Cause| verdicts.iter().filter(|(_, verdict)| verdict.cause == Some(cause)).count();
    let unassigned: Vec<&(u64, Verdict)> =
        verdicts.iter().filter(|(_, verdict)| verdict.cause == Some(Cause::Unassigned)).collect();
    println!(
        "{name:<24} {scenes:>6} {:>7} {:>7} {:>6} {:>9} {:>9} {:>10}   ({:.1} s)",
        verdicts.iter().filter(|(_, verdict)| verdict.cause.is_some()).count(),
        verdicts.iter().filter(|(_, verdict)| verdict.differs_at_usual_rates).count(),
        count(Cause::SlowApproach),
        count(Cause::Balanced),
        count(Cause::Squeezed),
        unassigned.len(),
        start.elapsed().as_secs_f64(),
    );
    for (seed, verdict) in unassigned.iter().take(8) {
        println!("    seed {seed}: {verdict}");
    }
    unassigned.len()
}
