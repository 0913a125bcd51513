//! What the documents say is what the tool does.

use rstest::rstest;

use crate::harness::{Desk, project, project_file};

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

/// Every call shown in a document prints what is shown. With `AMBULANT_RENEW_DOCUMENTS` set, the
/// documents are written anew instead.
#[rstest]
#[case::commands("docs/commands.md")]
#[case::feel("docs/feel.md")]
#[case::probe("docs/probe.md")]
#[case::reproducible("docs/reproducible.md")]
fn a_documented_call_prints_what_is_documented(#[case] name: &str) {
    let desk = Desk::new();
    std::fs::create_dir(desk.path("demo")).unwrap();
    for entry in std::fs::read_dir(project().join("demo")).unwrap().map(Result::unwrap) {
        std::fs::copy(entry.path(), desk.path("demo").join(entry.file_name())).unwrap();
    }
    let document = project_file(name);
    let mut renewed = document.clone();
    for block in blocks(&document, "text") {
        let Some(call) = block.lines().next().and_then(|line| line.strip_prefix("$ ambulant")) else {
            continue;
        };
        let output = desk.ambulant(call).success().get_output().stdout.clone();
        let shown = format!("$ ambulant{call}\n{}", String::from_utf8(output).unwrap().trim_end());
        renewed = renewed.replace(block, &shown);
    }
    if std::env::var_os("AMBULANT_RENEW_DOCUMENTS").is_some() {
        std::fs::write(project().join(name), renewed).unwrap();
    } else {
        assert!(document == renewed, "{name} is not up to date: see CONTRIBUTING.md");
    }
}

#[rstest]
fn the_change_log_starts_with_this_version() {
    let log = project_file("CHANGELOG.md");
    let newest = log.lines().find(|line| line.starts_with("## ")).unwrap();
    assert!(newest.contains(env!("CARGO_PKG_VERSION")), "{newest}");
}

#[rstest]
fn every_question_in_the_document_on_probe_gets_an_answer() {
    let document = project_file("docs/probe.md");
    let questions = blocks(&document, "jsonl").concat();
    let mut command = assert_cmd::Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
    let assert = command.args(["probe", "--batch"]).write_stdin(questions).assert().success();
    assert_eq!(String::from_utf8(assert.get_output().stdout.clone()).unwrap().lines().count(), 3);
}
