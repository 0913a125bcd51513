//! What the documents say is what the tool does.

use std::path::PathBuf;

use rstest::rstest;

use crate::harness::{Desk, project, project_file};

/// The fenced blocks of a document that start with this fence line.
fn blocks<'a>(text: &'a str, fence: &str) -> Vec<&'a str> {
    let opening = format!("```{fence}\n");
    text.split(opening.as_str()).skip(1).map(|rest| rest.split("\n```").next().unwrap()).collect()
}

#[test]
fn the_example_in_the_format_document_runs_and_holds() {
    let desk = Desk::new();
    let document = project_file("docs/scenario.md");
    let whole = blocks(&document, "toml").into_iter().find(|block| block.starts_with("format = 1")).unwrap();
    desk.write("example.toml", whole);
    desk.ambulant("run example.toml").success();
}

/// The values in quotes that a table of the format lists for a key.
fn listed_values(document: &str, key: &str) -> Vec<String> {
    let row = document.lines().find(|line| line.starts_with(&format!("| `{key}`"))).unwrap();
    row.split("`\"").skip(1).map(|rest| rest.split("\"`").next().unwrap().to_owned()).collect()
}

/// The reader takes every value that the format lists.
#[rstest]
#[case("outside", 2, "map", "outside = VALUE")]
#[case("edges", 4, "map", "edges = { left = VALUE, top = VALUE }")]
#[case("edge", 2, "map", "edge = VALUE")]
#[case("half", 4, "kind", ", half = VALUE")]
#[case("closed_from", 4, "kind", ", closed_from = [VALUE]")]
#[case("directions", 2, "walk", "directions = VALUE")]
#[case("opposites", 2, "walk", "opposites = VALUE")]
#[case("at_walls", 3, "walk", "at_walls = VALUE")]
#[case("axis", 2, "walk", "axis = VALUE")]
#[case("paddle", 4, "walk", "paddle = { away = VALUE, greatest_degrees = 60 }")]
#[case("mode", 3, "actor", "tile = [1, 1]\nsteps = { speed = 2, mode = VALUE }")]
#[case("diagonals", 3, "actor", "tile = [1, 1]\nsteps = { speed = 2, diagonals = VALUE }")]
#[case("easing", 2, "actor", "tile = [1, 1]\nsteps = { speed = 2, easing = VALUE }")]
fn a_listed_value_is_read(#[case] key: &str, #[case] number: usize, #[case] place: &str, #[case] line: &str) {
    let values = listed_values(&project_file("docs/scenario.md"), key);
    assert_eq!(values.len(), number, "{values:?}");
    let desk = Desk::new();
    for value in values {
        let line = line.replace("VALUE", &format!("{value:?}"));
        let at = |here: &str| if here == place { line.as_str() } else { "" };
        let blocks = if at("kind").contains("half") { "true" } else { "false" };
        let walk = "start = [1.5, 1.5]\nfootprint = { box = [0.2, 0.2] }\npace = { speed = 1 }\n";
        let actor = if place == "actor" { line.clone() } else { format!("{walk}{}", at("walk")) };
        desk.write(
            "listed.toml",
            format!(
                "format = 1\nseconds = 0.1\n[map]\nrows = [\"...\", \"..o\", \"...\"]\n{}\n[map.legend]\n\
                 \".\" = {{ name = \"path\", blocks = false }}\n\
                 \"o\" = {{ name = \"bed\", blocks = {blocks}{} }}\n[[actor]]\nname = \"gardener\"\n{actor}\n",
                at("map"),
                at("kind"),
            ),
        );
        desk.ambulant("run listed.toml").success();
    }
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

#[test]
fn the_change_log_starts_with_this_version() {
    let log = project_file("CHANGELOG.md");
    let newest = log.lines().find(|line| line.starts_with("## ")).unwrap();
    assert!(newest.contains(env!("CARGO_PKG_VERSION")), "{newest}");
}

#[test]
fn every_question_in_the_document_on_probe_gets_an_answer() {
    let document = project_file("docs/probe.md");
    let questions = blocks(&document, "jsonl").concat();
    let mut command = assert_cmd::Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
    let assert = command.args(["probe", "--batch"]).write_stdin(questions).assert().success();
    assert_eq!(String::from_utf8(assert.get_output().stdout.clone()).unwrap().lines().count(), 3);
}

/// The documents of the project, by name.
fn documents() -> Vec<(PathBuf, String)> {
    let in_docs = std::fs::read_dir(project().join("docs")).unwrap().map(|entry| entry.unwrap().path());
    let paths =
        in_docs.chain(["README.md", "CHANGELOG.md", "CONTRIBUTING.md"].map(|name| project().join(name)));
    let documents = paths.filter(|path| path.extension().is_some_and(|ending| ending == "md"));
    documents.map(|path| (path.clone(), std::fs::read_to_string(path).unwrap())).collect()
}

/// What the links of a document lead to, as they are written.
fn links(text: &str) -> impl Iterator<Item = &str> {
    text.split("](").skip(1).filter_map(|rest| rest.split(')').next())
}

#[test]
fn every_link_leads_to_a_file_and_every_picture_is_linked() {
    let mut led_to = Vec::new();
    for (path, text) in documents() {
        for link in links(&text).filter(|link| !link.contains("://") && !link.starts_with('#')) {
            let file = path.parent().unwrap().join(link.split('#').next().unwrap());
            led_to
                .push(file.canonicalize().unwrap_or_else(|why| panic!("{}: {link}: {why}", path.display())));
        }
    }
    assert!(led_to.len() > 30);
    let pictures = std::fs::read_dir(project().join("docs/screenshots")).unwrap();
    for picture in pictures.map(|entry| entry.unwrap().path().canonicalize().unwrap()) {
        assert!(led_to.contains(&picture), "nothing shows {}", picture.display());
    }
}

/// The first word in quotes after each of these openings.
fn quoted<'a>(text: &'a str, opening: &'a str) -> impl Iterator<Item = &'a str> {
    text.split(opening).skip(1).filter_map(|rest| rest.split('"').nth(1))
}

#[test]
fn the_document_on_cost_has_every_row_of_the_bench_and_every_counted_path() {
    let document = project_file("docs/performance.md");
    let table = blocks(&document, "text").concat();
    let bench = project_file("benches/benches/ratios.rs");
    let rows: Vec<&str> = quoted(&bench, "    row(").collect();
    assert!(rows.len() > 15, "{rows:?}");
    for row in &rows {
        assert!(table.lines().any(|line| line.starts_with(&format!("{row} "))), "{row} is not in the table");
    }
    assert_eq!(table.lines().count(), rows.len() + 1, "the table has a row of its own");
    let hot = project_file("benches/src/bin/hot.rs");
    let names = quoted(&hot, "const NAMES: &str =").next().unwrap();
    // A name may stand on a line of its own, behind a stroke.
    for name in names.split([',', '\\']).map(str::trim).filter(|name| !name.is_empty()) {
        assert!(document.contains(&format!("`{name}`")), "{name} is not counted");
    }
}

#[test]
fn every_demo_is_named_in_the_readme_or_the_documents() {
    let texts: String = documents().into_iter().map(|(_, text)| text).collect();
    for demo in std::fs::read_dir(project().join("demo")).unwrap().map(|entry| entry.unwrap().file_name()) {
        let name = demo.to_string_lossy().into_owned();
        assert!(texts.contains(&name), "nobody hears of {name}");
    }
}

/// All source text of the library.
fn library_source() -> String {
    let mut directories = vec![project().join("src")];
    let mut source = String::new();
    while let Some(directory) = directories.pop() {
        for entry in std::fs::read_dir(directory).unwrap().map(Result::unwrap) {
            if entry.path().is_dir() {
                directories.push(entry.path());
            } else {
                source += &std::fs::read_to_string(entry.path()).unwrap();
            }
        }
    }
    source
}

/// The glossary and the map of the code name only what there is: types, their items, and files.
#[rstest]
#[case::glossary("docs/glossary.md")]
#[case::architecture("docs/architecture.md")]
fn a_name_in_a_table_exists(#[case] name: &str) {
    let (document, source) = (project_file(name), library_source());
    let words: std::collections::HashSet<&str> =
        source.split(|c: char| !c.is_alphanumeric() && c != '_').collect();
    let mut seen = 0;
    for table_row in document.lines().filter(|line| line.starts_with("| ")) {
        for code in table_row.split('`').skip(1).step_by(2) {
            if code.ends_with(".rs") || code.ends_with('/') || code.ends_with(".md") {
                let known = [
                    "",
                    "src/",
                    "tests/",
                    "tests/promises/",
                    "cli/src/",
                    "cli/tests/tool/",
                    "src/steps/",
                    "src/terrain/tiles/",
                    "cli/src/picture/",
                    "cli/src/record/",
                ]
                .map(|base| project().join(format!("{base}{code}")));
                assert!(known.iter().any(|path| path.exists()), "{code} in {name}");
            } else if code.starts_with(char::is_uppercase) {
                let missing = code.split("::").find(|part| !words.contains(part));
                assert_eq!(missing, None, "{code} in {name}");
                seen += 1;
            }
        }
    }
    assert!(seen > 5, "{seen}");
}
