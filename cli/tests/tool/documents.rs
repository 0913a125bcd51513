//! What the documents say is what the tool does.

use rstest::rstest;

use crate::harness::{Desk, project_file};

/// The fenced blocks of a document that start with this fence line.
fn blocks<'a>(text: &'a str, fence: &str) -> Vec<&'a str> {
    let opening = format!("```{fence}\n");
    text.split(opening.as_str()).skip(1).map(|rest| rest.split("\n```").next().unwrap()).collect()
}

#[rstest]
fn the_example_in_the_format_document_runs_and_holds() {
    let desk = Desk::new();
    let document = project_file("docs/scenario.md");
    let whole = blocks(&document, "toml").into_iter().find(|block| block.starts_with("format = 1")).unwrap();
    desk.write("example.toml", whole);
    desk.ambulant("run example.toml").success();
}

#[rstest]
#[case::tool("")]
#[case::run("run")]
#[case::draw("draw")]
#[case::demo("demo")]
fn the_documented_help_is_the_help(#[case] command: &str) {
    let shown = Desk::new().ambulant(&format!("{command} --help")).success();
    let help = String::from_utf8(shown.get_output().stdout.clone()).unwrap();
    let call = format!("$ ambulant {command} --help").replace("  ", " ");
    let document = project_file("docs/commands.md");
    let documented = blocks(&document, "text").into_iter().find(|block| block.starts_with(&call)).unwrap();
    assert_eq!(documented.trim_start_matches(&call).trim(), help.trim());
}

#[rstest]
fn the_change_log_starts_with_this_version() {
    let log = project_file("CHANGELOG.md");
    let newest = log.lines().find(|line| line.starts_with("## ")).unwrap();
    assert!(newest.contains(env!("CARGO_PKG_VERSION")), "{newest}");
}
