//! Instruction counts of the hot paths against the table in docs/performance.md.
//!
//! A count is the difference of two runs of `hot` under callgrind, so that setting up a scene is not in it; it is the same
//! number at every run with one compiler. With the compiler that the table names, a path that takes over 5 % more than the
//! table says fails the check; with another one the differences are only printed.

use std::path::Path;
use std::process::{Command, ExitCode};

/// How much more a path may take than the table says.
const MOST: f64 = 1.05;
/// The two numbers of times that each path is run.
const TIMES: [u64; 2] = [10_000, 110_000];

/// Counts every path of the table and compares; `hot` is the program, `table` the document.
#[must_use]
pub fn check(hot: &Path, table: &str) -> ExitCode {
    if Command::new("valgrind").arg("--version").output().is_err() {
        println!("valgrind is not installed: instruction counts are not compared with docs/performance.md");
        return ExitCode::SUCCESS;
    }
    let compiler = Command::new("rustc").arg("--version").output().ok();
    let compiler = compiler.map(|found| String::from_utf8_lossy(&found.stdout).trim().to_owned());
    let compiler = compiler.unwrap_or_default();
    let named = compiler_of(table);
    let fails = named.as_deref().is_some_and(|named| compiler.contains(named));
    let rows = rows_of(table);
    if rows.is_empty() {
        eprintln!("docs/performance.md has no rows \"| `path` | count |\" to compare with");
        return ExitCode::FAILURE;
    }
    println!("{:<20} {:>8} {:>8} {:>8}", "path", "table", "now", "change");
    let mut over = Vec::new();
    for (name, known) in rows {
        let Some(count) = count(hot, &name) else {
            eprintln!("{name} could not be counted: `hot {name}` under callgrind printed no count");
            return ExitCode::FAILURE;
        };
        let change = count as f64 / known as f64;
        println!("{name:<20} {known:>8} {count:>8} {:>+7.1} %", 100.0 * (change - 1.0));
        if change > MOST {
            over.push(name);
        }
    }
    if over.is_empty() {
        return ExitCode::SUCCESS;
    }
    let over = over.join(", ");
    if fails {
        eprintln!(
            "over 5 % more instructions than docs/performance.md says: {over}. Make it cheaper, or renew the table and say why"
        );
        return ExitCode::FAILURE;
    }
    println!(
        "over 5 % more: {over}; the table was counted with {}, this is {compiler}",
        named.unwrap_or_default()
    );
    ExitCode::SUCCESS
}

/// The compiler that a table names, as `rustc 1.2.3`.
fn compiler_of(table: &str) -> Option<String> {
    let from = table.find("`rustc ")? + 1;
    table[from..].split('`').next().map(str::to_owned)
}

/// The rows of the table: a path and its count.
fn rows_of(table: &str) -> Vec<(String, u64)> {
    let row = |line: &str| {
        let mut cells = line.strip_prefix("| `")?.split(" | ");
        let name = cells.next()?.strip_suffix('`')?;
        Some((name.to_owned(), cells.next()?.trim().parse().ok()?))
    };
    table.lines().filter_map(row).collect()
}

fn count(hot: &Path, name: &str) -> Option<u64> {
    let [few, many] = TIMES.map(|times| run(hot, name, times));
    Some((many? - few?) / (TIMES[1] - TIMES[0]))
}

/// The instructions of one run.
fn run(hot: &Path, name: &str, times: u64) -> Option<u64> {
    let counted = Command::new("valgrind")
        .args(["--tool=callgrind", "--callgrind-out-file=/dev/null"])
        .arg(hot)
        .args([name, &times.to_string()])
        .output()
        .ok()?;
    let text = String::from_utf8_lossy(&counted.stderr);
    let line = text.lines().find(|line| line.contains("Collected"))?;
    line.rsplit(' ').next()?.parse().ok()
}
