//! One way to call the tool: in a temporary folder of its own, with a fixed environment.

use std::path::{Path, PathBuf};

use assert_cmd::Command;
use assert_cmd::assert::Assert;
use serde_json::Value;
use tempfile::TempDir;

/// The project's folder.
pub(crate) fn project() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).parent().expect("the tool lies in the project").to_owned()
}

/// The text of a file of the project.
pub(crate) fn project_file(name: &str) -> String {
    std::fs::read_to_string(project().join(name)).expect(name)
}

/// A temporary folder to call the tool in.
pub(crate) struct Desk(TempDir);

impl Desk {
    pub(crate) fn new() -> Self {
        Self(TempDir::new().expect("a temporary folder"))
    }

    pub(crate) fn path(&self, name: &str) -> PathBuf {
        self.0.path().join(name)
    }

    pub(crate) fn write(&self, name: &str, content: impl AsRef<[u8]>) {
        std::fs::write(self.path(name), content).expect(name);
    }

    pub(crate) fn read(&self, name: &str) -> Vec<u8> {
        std::fs::read(self.path(name)).expect(name)
    }

    pub(crate) fn names(&self) -> Vec<String> {
        let entries = std::fs::read_dir(self.0.path()).expect("the folder");
        let mut names: Vec<String> = entries
            .map(|entry| entry.expect("an entry").file_name().to_string_lossy().into_owned())
            .collect();
        names.sort();
        names
    }

    /// Calls the tool with words separated by spaces.
    pub(crate) fn ambulant(&self, words: &str) -> Assert {
        self.ambulant_fed(words, "")
    }

    /// The same with something on its standard input.
    pub(crate) fn ambulant_fed(&self, words: &str, input: &str) -> Assert {
        let mut command = Command::new(assert_cmd::cargo::cargo_bin!("ambulant"));
        let command = command.current_dir(self.0.path()).env_clear().args(words.split_whitespace());
        command.write_stdin(input).assert()
    }

    /// The JSON document that `run --json` prints.
    pub(crate) fn run_json(&self, words: &str) -> Value {
        let assert = self.ambulant(&format!("run {words} --json")).success();
        serde_json::from_slice(&assert.get_output().stdout).expect("one JSON document")
    }
}

/// A pair of numbers of a JSON document.
#[track_caller]
pub(crate) fn pair(value: &Value) -> (f64, f64) {
    (value[0].as_f64().expect("x"), value[1].as_f64().expect("y"))
}

/// A small scenario: a room with one bed, and whatever else is given.
pub(crate) fn scenario(rest: &str) -> String {
    format!("{}\n{rest}", include_str!("room.toml"))
}

/// A gardener who walks right along the middle row, into the bed.
pub(crate) const GARDENER: &str = r#"[[actor]]
name = "gardener"
start = [24, 40]
footprint = { box = [10, 8] }
gait = { top_speed = 60, acceleration = 400, friction = 500 }
keys = [
  { at = 0.5, press = "right" },
]
"#;
