//! The parts of the library depend on each other in one direction: no two files, and no two modules, import each other.

use std::collections::{BTreeMap, BTreeSet};
use std::fs;
use std::path::{Path, PathBuf};

use rstest::rstest;

type Imports = BTreeMap<String, BTreeSet<String>>;

/// All files below a folder.
fn files(folder: &Path) -> Vec<PathBuf> {
    let entries = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    entries.flat_map(|path| if path.is_dir() { files(&path) } else { vec![path] }).collect()
}

/// A file's path of modules: `terrain::tiles::grid`.
fn module(root: &Path, file: &Path) -> String {
    let path = file.strip_prefix(root).unwrap().with_extension("");
    let parts = path.iter().map(|part| part.to_str().unwrap());
    parts.filter(|part| !["mod", "lib", "main"].contains(part)).collect::<Vec<_>>().join("::")
}

/// What a `use` names, one path each, braces multiplied out.
fn paths(text: &str) -> Vec<String> {
    let Some((before, inner)) = text.split_once('{') else { return vec![text.trim().to_owned()] };
    let (mut depth, mut parts, mut part) = (0, Vec::new(), String::new());
    for letter in inner[..inner.rfind('}').unwrap()].chars() {
        depth += i32::from(letter == '{') - i32::from(letter == '}');
        if letter == ',' && depth == 0 { parts.push(std::mem::take(&mut part)) } else { part.push(letter) }
    }
    parts.push(part);
    let parts = parts.iter().filter(|part| !part.trim().is_empty());
    parts.flat_map(|part| paths(part)).map(|part| format!("{}{part}", before.trim())).collect()
}

/// The `use` statements of a file, from the root, each with whether it is passed on by `pub`.
fn uses(of: &str, text: &str) -> Vec<(bool, String)> {
    let lines: Vec<&str> = text.lines().map(str::trim).filter(|line| !line.starts_with("//")).collect();
    let statements = lines.iter().enumerate().filter_map(|(at, line)| {
        let (before, _) =
            line.split_once("use ").filter(|(before, _)| before.is_empty() || before.starts_with("pub"))?;
        let whole = lines[at..].join(" ");
        Some((!before.is_empty(), whole[before.len() + 4..].split(';').next()?.to_owned()))
    });
    let parent = |levels: usize| {
        let parts: Vec<&str> = of.split("::").collect();
        parts[..parts.len().saturating_sub(levels)].join("::")
    };
    let absolute = |path: String| match path.strip_prefix("crate::") {
        Some(rest) => rest.to_owned(),
        None => {
            let levels = path.matches("super::").count();
            let rest = path.trim_start_matches("super::");
            let base = parent(levels);
            if base.is_empty() { rest.to_owned() } else { format!("{base}::{rest}") }
        }
    };
    statements
        .flat_map(|(is_public, text)| paths(&text).into_iter().map(move |path| (is_public, path)))
        .map(|(is_public, path)| (is_public, absolute(path)))
        .collect()
}

/// Which file imports which, re-exports followed.
fn imports(root: &Path) -> Imports {
    let texts: BTreeMap<String, String> =
        files(root).iter().map(|file| (module(root, file), fs::read_to_string(file).unwrap())).collect();
    let all: BTreeMap<&String, Vec<(bool, String)>> =
        texts.iter().map(|(name, text)| (name, uses(name, text))).collect();
    let passed_on: BTreeMap<String, String> = all
        .iter()
        .flat_map(|(name, uses)| {
            uses.iter().filter(|(is_public, _)| *is_public).map(move |(_, path)| (name, path))
        })
        .map(|(name, path)| (format!("{name}::{}", path.rsplit("::").next().unwrap()), path.clone()))
        .collect();
    let target = |path: &String| {
        let mut path = path.clone();
        for _ in 0..8 {
            let Some(further) = passed_on.get(&path).filter(|further| **further != path) else { break };
            path.clone_from(further);
        }
        let longest = |name: &&String| path == **name || path.starts_with(&format!("{name}::"));
        texts.keys().filter(longest).max_by_key(|name| name.len()).cloned()
    };
    let of = |name: &String, uses: &Vec<(bool, String)>| {
        let private = uses.iter().filter(|(is_public, _)| !is_public);
        private.filter_map(|(_, path)| target(path)).filter(|other| other != name).collect()
    };
    all.iter().map(|(name, uses)| ((*name).clone(), of(name, uses))).collect()
}

/// What is left when all that imports nothing further is taken away again and again: the circles and what leads to them.
fn circles(mut imports: Imports) -> Imports {
    loop {
        let ends: BTreeSet<String> = imports
            .iter()
            .filter(|(_, to)| to.iter().all(|to| !imports.contains_key(to)))
            .map(|(name, _)| name.clone())
            .collect();
        if ends.is_empty() {
            return imports;
        }
        imports.retain(|name, _| !ends.contains(name));
    }
}

/// The same between folders.
fn folders(imports: &Imports) -> Imports {
    let folder = |name: &String| name.split("::").next().unwrap().to_owned();
    let mut all = Imports::new();
    for (name, to) in imports {
        let known = all.entry(folder(name)).or_default();
        known.extend(to.iter().map(folder).filter(|to| *to != folder(name)));
    }
    all
}

#[rstest]
#[case::library("src", 300)]
#[case::tool("cli/src", 200)]
fn no_two_files_import_each_other(#[case] root: &str, #[case] at_least: usize) {
    let imports = imports(&Path::new(env!("CARGO_MANIFEST_DIR")).join(root));
    assert!(imports.values().map(BTreeSet::len).sum::<usize>() > at_least, "imports are found: {imports:?}");
    assert_eq!(circles(imports), Imports::new());
}

#[test]
fn no_two_modules_of_the_library_import_each_other() {
    let folders = folders(&imports(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src")));
    assert!(folders["walker"].contains("travel") && folders["direction"].is_empty());
    assert_eq!(circles(folders), Imports::new());
}

#[test]
fn a_circle_is_found() {
    let import = |from: &str, to: &str| (from.to_owned(), BTreeSet::from([to.to_owned()]));
    let imports: Imports = [import("moth", "lamp"), import("lamp", "moth"), import("leaf", "stem")].into();
    assert_eq!(circles(imports).into_keys().collect::<Vec<_>>(), ["lamp", "moth"]);
}

/// Every public call that can refuse a number is in the table of bad numbers.
#[test]
fn every_call_that_refuses_a_number_is_in_the_table_of_numbers() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR"));
    let table = fs::read_to_string(root.join("tests/promises/drives/numbers.rs")).unwrap();
    let (mut known, mut missing) = (0, Vec::new());
    for file in files(&root.join("src")) {
        let text = fs::read_to_string(&file).unwrap();
        for part in text.split("pub fn ").chain(text.split("pub const fn ")).skip(1) {
            let (head, name) = (part.split('{').next().unwrap(), part.split(['(', '<']).next().unwrap());
            let refuses = head.split("->").nth(1).is_some_and(|result| result.contains("InvalidNumber"));
            if refuses && !table.contains(&format!("{name}(")) {
                missing.push(format!("{name} of {}", file.display()));
            }
            known += usize::from(refuses);
        }
    }
    assert!(known > 50 && missing.is_empty(), "{known} known, without {missing:?}");
}
